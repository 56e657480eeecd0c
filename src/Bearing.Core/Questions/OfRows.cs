using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What is asked of the rows of a table beside their figures.</summary>
/// <param name="Statistic">Taken over the rows of the outermost split; null for none.</param>
/// <param name="Shares">Each row's part of the total; null where it is not asked for.</param>
/// <param name="Part">With shares, the row whose share is said first; without, the row whose place is; null for neither.</param>
/// <param name="Claim">To be answered by yes or no; null for other questions.</param>
/// <param name="Cumulative">Whether months carry on the sum of those before.</param>
public sealed record OfRows(RowStatistic? Statistic, Shares? Shares, PartAsked? Part, Claim? Claim, bool Cumulative)
{
    public static OfRows Nothing { get; } = new(null, null, null, null, false);
}

/// <summary>Each row's part of the total.</summary>
/// <param name="OfSides">Whether parts of either side's total are meant as well, where a share beside a base would be one of the
/// variance only.</param>
public sealed record Shares(bool OfSides);

/// <summary>What is to be answered by yes or no.</summary>
/// <param name="Of">Of how many rows it is claimed; null where it is claimed of the total, or of each month shown.</param>
/// <param name="Than">The figure that the claim holds this one against, by growth where that is asked for and by size otherwise;
/// null where sides or rows are.</param>
public sealed record Claim(Direction Direction, Quantifier? Of, FigureRef? Than);

/// <summary>What is taken over the rows of the outermost split.</summary>
public enum RowStatistic
{
    /// <summary>Sum over number: of months all that the period has, of members those that have figures.</summary>
    Average,

    /// <summary>The middle one; of two middle ones half their sum.</summary>
    Median,

    /// <summary>The first row that was named less the second.</summary>
    Difference,

    /// <summary>How many rows there are, or meet the conditions.</summary>
    Count,
}

/// <summary>What is claimed of one part of a whole.</summary>
public enum PartClaim
{
    /// <summary>It is more than half of it.</summary>
    Most,

    /// <summary>Nothing beside it goes the same way.</summary>
    Whole,

    /// <summary>It comes first in the order of the rows.</summary>
    First,
}

/// <summary>The row whose part of the whole is asked for; without shares its place in the order of the rows.</summary>
/// <param name="Dimension">Dimension code, or <c>period</c> for months.</param>
/// <param name="Claim">To be answered by yes or no; null where only its share, or its place, is wanted.</param>
public sealed record PartAsked(string Dimension, string Code, PartClaim? Claim = null)
{
    public static PartAsked Of(PeriodSpan span) => new("period", span.ToString());
}

/// <summary>Of how many rows something is claimed; Gap claims of the gap between the two sides that it is larger, or smaller, in
/// the last row than in the one before.</summary>
public enum Quantifier
{
    Any,
    Every,
    Gap,

    /// <summary>Whether what was missing in one month came in a later one.</summary>
    Late,

    /// <summary>Whether it looks better against the first base than against the second.</summary>
    Better,

    /// <summary>Whether it is good or bad: which of the two.</summary>
    Judged,

    /// <summary>Whether any of the sides has figures at all: is it in the budget.</summary>
    Planned,
}
