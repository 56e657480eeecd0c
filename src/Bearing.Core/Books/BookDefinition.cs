using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>
/// A line of the income statement that is calculated: the sum of accounts and of earlier lines in profit sign.
/// It can be shown, asked for and bridged, and never enters a sum.
/// </summary>
/// <param name="Sums">Codes of accounts (with all below them) and of other calculated lines.</param>
public sealed record StatementLine(string Code, string Name, ImmutableArray<string> Sums, ImmutableArray<string> OtherNames);

/// <summary>
/// A named ratio, recomputed from its two parts at every level and over every span (gross margin %, fuel per sailing).
/// </summary>
/// <param name="Numerator">Code of an account or of a calculated line, or several with “ + ” between them; taken as shown, so a
/// cost is positive.</param>
/// <param name="Denominator">Likewise.</param>
/// <param name="Percent">True: shown times 100, differences in points. False: shown per unit.</param>
/// <param name="Decimals">Digits behind the point when shown.</param>
public sealed record RatioMeasure(
    string Code,
    string Name,
    string Numerator,
    string Denominator,
    bool Percent,
    int Decimals,
    string Unit,
    GoodDirection Good,
    ImmutableArray<string> OtherNames
);

/// <summary>A variance is commented when it passes both limits; without a base, the money limit alone decides.</summary>
/// <param name="Amount">In the book's currency, absolute.</param>
/// <param name="Percent">Of the base, absolute.</param>
public sealed record Materiality(decimal Amount, decimal Percent)
{
    /// <param name="variance">In the book's currency.</param>
    /// <param name="percent">Null where there is no meaningful base.</param>
    public bool IsMaterial(decimal variance, decimal? percent) =>
        Math.Abs(variance) >= Amount && (percent is null || Math.Abs(percent.Value) >= Percent);
}

/// <summary>Where the figures come from; shown on every surface so that practice data is never taken for real.</summary>
public enum Provenance
{
    Real,
    Test,
    Invented,
}

/// <summary>Everything about a book but its members and facts. Immutable; each change makes a new edition.</summary>
public sealed record BookDefinition
{
    public required string Id { get; init; }
    public required string Name { get; init; }

    /// <summary>ISO 4217 code of the reporting currency.</summary>
    public required string Currency { get; init; }

    /// <summary>Calendar month (1–12) in which the fiscal year begins.</summary>
    public int FiscalYearStartMonth { get; init; } = 1;
    public Provenance Provenance { get; init; } = Provenance.Real;

    /// <summary>The last closed period; null means the latest period of Actual.</summary>
    public Period? ClosedThrough { get; init; }

    /// <summary>By entity code: entities that closed later or earlier than the rest.</summary>
    public ImmutableDictionary<string, Period> ClosedThroughOf { get; init; } = ImmutableDictionary<string, Period>.Empty;
    public required ImmutableArray<Dimension> Dimensions { get; init; }
    public ImmutableArray<Scenario> Scenarios { get; init; } = [];
    public ImmutableArray<StatementLine> Statement { get; init; } = [];
    public ImmutableArray<RatioMeasure> Measures { get; init; } = [];
    public Materiality MonthMateriality { get; init; } = new(10_000m, 5m);

    public Materiality MaterialityOf(PeriodSpan span) => span.Count == 1 ? MonthMateriality : YearMateriality;

    public Materiality YearMateriality { get; init; } = new(50_000m, 3m);

    /// <summary>Measure or statement line that stands for the result when a question names none.</summary>
    public string? ResultLine { get; init; }
}
