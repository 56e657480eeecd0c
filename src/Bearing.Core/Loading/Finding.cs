using System.Collections.Immutable;

namespace Bearing.Core.Loading;

/// <summary>Something about a load that a person should see before it lands: it lands when they agree, and stays attached to
/// it.</summary>
/// <param name="Check">Short name of the check: gap, far-away, equals-plan …</param>
/// <param name="Where">Rows, periods or members.</param>
/// <param name="Count">How often.</param>
public sealed record Finding(string Check, string Where, string Because, string Remedy, long Count)
{
    /// <summary>Id of the one entity that it is of; null where it is of all that the load brought.</summary>
    public int? Entity { get; init; }
}

/// <summary>One step from the file to the book: how many rows it was given and how many it handed on.</summary>
public sealed record LoadStep(string What, long Before, long After);

/// <summary>What answers have to say of a load whose figures they use.</summary>
/// <param name="Version">Scenario version id.</param>
/// <param name="Periods">In which it brought figures.</param>
/// <param name="Entities">Ids of the entities that it is of.</param>
/// <param name="IsNotice">Whether whoever opens the book has to see it.</param>
/// <param name="OfStatistics">Whether the load brought quantities and no money.</param>
public sealed record Remark(
    int Load,
    int Version,
    Books.PeriodSpan Periods,
    string Text,
    ImmutableArray<int> Entities,
    bool IsNotice,
    bool OfStatistics
);
