using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>What answers have to say of a load whose figures they use.</summary>
/// <param name="Version">Scenario version id.</param>
/// <param name="Periods">In which it brought figures.</param>
/// <param name="Entities">Ids of the entities that it is of.</param>
/// <param name="IsNotice">Whether whoever opens the book has to see it.</param>
/// <param name="OfStatistics">Whether the load brought quantities and no money.</param>
public sealed record Remark(
    int Load,
    int Version,
    PeriodSpan Periods,
    string Text,
    ImmutableArray<int> Entities,
    bool IsNotice,
    bool OfStatistics
);
