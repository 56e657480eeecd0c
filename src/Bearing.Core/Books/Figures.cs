using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>Whether a question's figure is an account (with all below it) or a measure, a calculated line included.</summary>
public enum FigureKind
{
    Account,
    Measure,
}

/// <summary>Names a figure by code.</summary>
public sealed record FigureRef(FigureKind Kind, string Code);

/// <summary>
/// Something that can be computed for any set of cells. Its value over members is a sum, or a ratio of two sums;
/// over time it follows its rule.
/// </summary>
/// <param name="Good">For money of the income statement the profit sign decides and this stays None.</param>
/// <param name="Unit">Currency code or unit of a statistic; "%" for percentages.</param>
public abstract record Figure(FigureRef Ref, string Name, string Unit, int Decimals, GoodDirection Good);

/// <summary>The sum of account subtrees.</summary>
/// <param name="Accounts">The accounts at the top of each subtree, none below another.</param>
/// <param name="ShownSign">Stored amount times this is the amount as people read it.</param>
/// <param name="IsProfit">True when the stored amount carries the profit sign (income and costs).</param>
public sealed record SumFigure(
    FigureRef Ref,
    string Name,
    string Unit,
    int Decimals,
    GoodDirection Good,
    ImmutableArray<int> Accounts,
    OverTime OverTime,
    int ShownSign,
    bool IsProfit
) : Figure(Ref, Name, Unit, Decimals, Good);

/// <summary>How two sums make one figure.</summary>
public enum PairRule
{
    /// <summary>Top over bottom.</summary>
    Quotient,

    /// <summary>Top in percent of bottom.</summary>
    Percent,

    /// <summary>Top less bottom.</summary>
    Difference,
}

/// <summary>Two sums, each as shown, put together on every row anew.</summary>
public sealed record PairFigure(
    FigureRef Ref,
    string Name,
    string Unit,
    int Decimals,
    GoodDirection Good,
    SumFigure Top,
    SumFigure Bottom,
    PairRule Rule
) : Figure(Ref, Name, Unit, Decimals, Good)
{
    /// <summary>What its entries are: those of the top, and of a difference those of both.</summary>
    public SumFigure Posted => Rule == PairRule.Difference ? Top with { Accounts = Top.Accounts.AddRange(Bottom.Accounts) } : Top;

    /// <summary>Null where the two do not make one: nothing is divided by zero, and a part that is missing is no zero.</summary>
    public decimal? Of(decimal? top, decimal? bottom) =>
        Rule == PairRule.Difference ? top - bottom
        : top is null || bottom is null or 0m ? null
        : decimal.Round(top.Value / bottom.Value * (Rule == PairRule.Percent ? 100m : 1m), 6);
}
