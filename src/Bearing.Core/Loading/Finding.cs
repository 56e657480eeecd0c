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
