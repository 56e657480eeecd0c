using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>Whether a question's figure is an account (with all below it) or a measure, a calculated line included.</summary>
public enum FigureKind { Account, Measure }

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
    FigureRef Ref, string Name, string Unit, int Decimals, GoodDirection Good,
    ImmutableArray<int> Accounts, OverTime OverTime, int ShownSign, bool IsProfit) : Figure(Ref, Name, Unit, Decimals, Good);

/// <summary>Numerator over denominator, each as shown.</summary>
public sealed record RatioFigure(
    FigureRef Ref, string Name, string Unit, int Decimals, GoodDirection Good,
    SumFigure Numerator, SumFigure Denominator, bool Percent) : Figure(Ref, Name, Unit, Decimals, Good);
