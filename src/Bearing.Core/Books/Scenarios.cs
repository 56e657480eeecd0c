using System.Collections.Immutable;

namespace Bearing.Core.Books;

public enum ScenarioKind
{
    Actual,
    Budget,
    Forecast,
}

/// <summary>What a version speaks about. Inside it a blank is zero; outside it is missing.</summary>
/// <param name="Span">First to last period with figures.</param>
/// <param name="Entities">Entities with figures.</param>
/// <param name="KeptDimensions">Dimensions (ids) that the version keeps apart; figures of other dimensions cannot be asked of
/// it.</param>
public sealed record Coverage(PeriodSpan Span, ImmutableArray<int> Entities, ImmutableArray<int> KeptDimensions);

/// <summary>One version of a scenario: budget v2, forecast 6+6 v1.</summary>
/// <param name="Id">The key under which its facts are stored; never reused.</param>
/// <param name="Coverage">Null until figures are loaded.</param>
/// <param name="CutOff">The last period that a forecast took over from actuals; null for others.</param>
public sealed record ScenarioVersion(int Id, string Code, Coverage? Coverage, Period? CutOff)
{
    /// <summary>The set of rates that its mapping named; null for the usual one.</summary>
    public string? RateSet { get; init; }
}

/// <summary>Actual, Budget 2026, Forecast 6+6 …</summary>
/// <param name="Versions">Oldest first; the last one is the default.</param>
public sealed record Scenario(string Code, string Name, ScenarioKind Kind, ImmutableArray<ScenarioVersion> Versions)
{
    public ScenarioVersion Current => Versions[^1];
}

/// <summary>How a side of a comparison takes its figures.</summary>
public enum SideKind
{
    /// <summary>A version as it stands.</summary>
    Version,

    /// <summary>Actual, moved by one fiscal year.</summary>
    PriorYear,

    /// <summary>Actual, moved back by the length of the span, or by as many months as the side's version says.</summary>
    PriorPeriod,
}

/// <summary>
/// One side of a comparison: a scenario version, or Actual of an earlier time.
/// </summary>
/// <param name="Scenario">Scenario code.</param>
/// <param name="Version">Version code, or null for the default; for a prior period the number of months to go back.</param>
public sealed record Side(SideKind Kind, string Scenario, string? Version = null)
{
    /// <summary>Text form: <c>actual</c>, <c>budget-2026:v1</c>, <c>prior-year</c>, <c>prior-period</c>.</summary>
    public override string ToString() =>
        Kind switch
        {
            SideKind.PriorYear => "prior-year",
            SideKind.PriorPeriod => Version is null ? "prior-period" : $"prior-period:{Version}",
            _ => Version is null ? Scenario : $"{Scenario}:{Version}",
        };

    public static Side PriorYear { get; } = new(SideKind.PriorYear, Book.ActualCode);
    public static Side PriorPeriod { get; } = new(SideKind.PriorPeriod, Book.ActualCode);
    public static Side Actual { get; } = new(SideKind.Version, Book.ActualCode);

    public static Side Parse(string text)
    {
        if (text == "prior-year")
            return PriorYear;
        if (text == "prior-period")
            return PriorPeriod;
        if (text.StartsWith("prior-period:", StringComparison.Ordinal))
            return PriorPeriod with { Version = text[13..] };
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        return colon < 0 ? new(SideKind.Version, text) : new(SideKind.Version, text[..colon], text[(colon + 1)..]);
    }
}

/// <summary>How a version keeps a dimension of a figure.</summary>
public enum Keeping
{
    Whole,

    /// <summary>The figure holds costs as well, which are not kept apart.</summary>
    IncomeOnly,

    /// <summary>The figure holds income as well, which is not kept apart.</summary>
    CostsOnly,
    Not,
}
