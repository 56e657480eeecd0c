namespace Bearing.Core.Questions;

/// <summary>What rows are ordered by.</summary>
public enum RankBy
{
    Value,
    Size,
    Favourable,
    Unfavourable,

    /// <summary>By the movement in percent, up first.</summary>
    Percent,

    /// <summary>By name, months by their place in time.</summary>
    Name,

    /// <summary>By how far a row lies from the middle one of its rows, on either side.</summary>
    Unusual,
}

/// <param name="Count">Rows kept, 1 or more; the rest is shown as one row.</param>
/// <param name="Ascending">Smallest first.</param>
/// <param name="Skip">Rows passed over first: the next five after the first five.</param>
public sealed record Ranking(int Count, RankBy By, bool Ascending = false, int Skip = 0)
{
    /// <summary>The count that keeps every row: only their order was asked for.</summary>
    public const int All = 1000;

    /// <summary>As many from the other end as well.</summary>
    public bool BothEnds { get; init; }

    /// <summary>Ranks the second split within each row of the first: the three largest accounts of each entity.</summary>
    public bool Within { get; init; }

    /// <summary>By what the variance is of its base, where it is ranked by size, favourable or unfavourable.</summary>
    public bool InPercent { get; init; }

    /// <summary>Ranks the innermost rows of all splits against each other: the ten worst pairs of an entity and an
    /// account.</summary>
    public bool Pairs { get; init; }
}
