namespace Bearing.Contracts;

/// <summary>A part of a list.</summary>
/// <param name="Next">Cursor of the page behind this one; null on the last.</param>
public sealed record Page<T>(IReadOnlyList<T> Items, string? Next);

/// <param name="Problem">Why the book cannot be opened; null for one that can.</param>
public sealed record BookSummary(
    string Id,
    string Name,
    string Currency,
    string Provenance,
    int Edition,
    string? CurrentPeriod,
    string? CurrentPeriodName,
    int Loads,
    string? Problem = null
);

/// <param name="CurrentPeriod">From which relative words count: the latest closed month of Actual, or its latest while none is
/// closed.</param>
/// <param name="ClosedThroughName">Null while no month is closed.</param>
/// <param name="Suggestions">Opening questions from the book's own data.</param>
/// <param name="Notices">What whoever opens the book has to know before relying on its figures.</param>
public sealed record BookDto(
    string Id,
    string Name,
    string Currency,
    int FiscalYearStartMonth,
    string Provenance,
    int Edition,
    string? CurrentPeriod,
    string? CurrentPeriodName,
    string? ClosedThroughName,
    IReadOnlyList<DimensionDto> Dimensions,
    IReadOnlyList<ScenarioDto> Scenarios,
    IReadOnlyList<FigureDto> Figures,
    IReadOnlyList<PeriodDto> Periods,
    IReadOnlyList<string> Suggestions,
    IReadOnlyList<string> Notices
);

public sealed record DimensionDto(string Code, string Name, string Role, IReadOnlyList<string> Levels, int Members);

/// <param name="Kind">actual, budget or forecast.</param>
public sealed record ScenarioDto(string Code, string Name, string Kind, IReadOnlyList<VersionDto> Versions);

/// <param name="Keeps">Dimensions that the version keeps apart.</param>
/// <param name="CutOff">Last period taken over from actuals, for a forecast.</param>
public sealed record VersionDto(string Code, string? From, string? To, IReadOnlyList<string> Keeps, string? CutOff);

/// <param name="Ref">As questions name it.</param>
public sealed record FigureDto(string Ref, string Name, string Unit);

public sealed record PeriodDto(string Code, string Name);

public sealed record MemberDetail(
    string Code,
    string Name,
    string? Parent,
    string Level,
    IReadOnlyList<string> OtherNames,
    string? AccountType,
    string? Unit,
    string? Currency,
    string? OwnedPercent
);

/// <summary>What a new book is made of; the same form as demo/data/book.json.</summary>
public sealed record NewBook(
    string Id,
    string Name,
    string Currency,
    int? FiscalYearStartMonth,
    string? Provenance,
    string? ResultLine,
    string? ClosedThrough,
    IReadOnlyList<NewDimension> Dimensions,
    IReadOnlyList<NewLine>? Statement,
    IReadOnlyList<NewMeasure>? Measures,
    NewMateriality? MonthMateriality,
    NewMateriality? YearMateriality
);

/// <param name="Role">account, entity or other; exactly one of each of the first two.</param>
public sealed record NewDimension(
    string Code,
    string Name,
    string Role,
    IReadOnlyList<string>? Levels,
    IReadOnlyList<string>? OtherNames
);

public sealed record NewLine(string Code, string Name, IReadOnlyList<string> Sums, IReadOnlyList<string>? OtherNames);

public sealed record NewMeasure(
    string Code,
    string Name,
    string Numerator,
    string Denominator,
    bool Percent,
    int? Decimals,
    string? Unit,
    string? Good,
    IReadOnlyList<string>? OtherNames
);

public sealed record NewMateriality(decimal Amount, decimal Percent);
