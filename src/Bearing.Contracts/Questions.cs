using System.Text.Json.Serialization;

namespace Bearing.Contracts;

/// <summary>A question in its typed form: what it is about, how its rows are laid out, and of which kind it is.</summary>
/// <param name="Form">Version of this form; 2. Questions that were kept in form 1 are still taken.</param>
/// <param name="Layout">Left out for the usual rows in the usual order.</param>
public sealed record QuestionDto(int Form, ScopeDto Scope, KindDto Kind, LayoutDto? Layout = null)
{
    public const int CurrentForm = 2;
}

/// <summary>Which figure, when, of which members, whose figures.</summary>
/// <param name="Figure"><c>a:</c> and an account code, or <c>m:</c> and the code of a measure or statement line.</param>
/// <param name="Periods">Fiscal periods, one block of columns each: <c>2026-P09</c> or <c>2026-P01..2026-P09</c>.</param>
/// <param name="Subject">Scenario code, optionally with a version: <c>actual</c>, <c>budget-2026:v1</c>; left out for
/// Actual.</param>
/// <param name="Bases">What is compared with; <c>prior-year</c> and <c>prior-period</c> besides scenarios.</param>
/// <param name="Currency">ISO 4217 code in which amounts are shown: as posted where they were posted in it, else converted; null
/// for the book's own.</param>
/// <param name="Rates">Set of rates (actual, budget, forecast, prior-year …) at which amounts posted in other currencies are
/// translated; null for the rates by which they were.</param>
public sealed record ScopeDto(
    string Figure,
    IReadOnlyList<string> Periods,
    IReadOnlyList<FilterDto>? Filters = null,
    string? Subject = null,
    IReadOnlyList<string>? Bases = null,
    string? Currency = null,
    string? Rates = null
);

/// <summary>Which rows come back, in which order and shown how.</summary>
/// <param name="Rows">What rows are split by, the outermost first.</param>
/// <param name="Conditions">Only rows that meet all of these are shown.</param>
/// <param name="InEvery">Whether a row counts only where all of the months below it meet them.</param>
/// <param name="Display">How the answer is to be shown; changes no figure.</param>
public sealed record LayoutDto(
    IReadOnlyList<BreakdownDto>? Rows = null,
    RankingDto? Ranking = null,
    IReadOnlyList<ConditionDto>? Conditions = null,
    bool? InEvery = null,
    DisplayDto? Display = null
);

/// <summary>The sort of a question; each carries what only it can mean.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "is")]
[JsonDerivedType(typeof(ValuesDto), "values")]
[JsonDerivedType(typeof(ComparisonDto), "comparison")]
[JsonDerivedType(typeof(WhyDto), "why")]
[JsonDerivedType(typeof(BridgeDto), "bridge")]
[JsonDerivedType(typeof(EntriesDto), "entries")]
[JsonDerivedType(typeof(RecordsDto), "records")]
[JsonDerivedType(typeof(ProjectedDto), "projected")]
public abstract record KindDto;

/// <summary>Figures as they stand.</summary>
/// <param name="Beside">Further figures of the same rows, each in a column of its own.</param>
public sealed record ValuesDto(OfRowsDto? Of = null, IReadOnlyList<string>? Beside = null) : KindDto;

/// <summary>Figures against one or more bases.</summary>
/// <param name="Growth">Whether differences are movements and not effects on profit.</param>
public sealed record ComparisonDto(OfRowsDto? Of = null, bool? Growth = null) : KindDto;

/// <summary>Where a variance comes from.</summary>
/// <param name="Growth">Whether differences are movements and not effects on profit.</param>
public sealed record WhyDto(bool? Growth = null, ClaimDto? Claim = null) : KindDto;

/// <summary>Steps from the base to the subject.</summary>
public sealed record BridgeDto : KindDto;

/// <summary>The ledger lines behind the figure.</summary>
/// <param name="Document">The document that they belong to, or its end behind an asterisk.</param>
/// <param name="Text">Words that the text of a line holds.</param>
public sealed record EntriesDto(string? Document = null, string? Text = null, ListingDto? Listing = null) : KindDto;

/// <summary>Records or journals that meet tests.</summary>
public sealed record RecordsDto(RecordAskDto Ask, ListingDto? Listing = null) : KindDto;

/// <summary>The months so far carried forward, held against the plan of the year.</summary>
/// <param name="By">run-rate, remaining, used or outlook.</param>
public sealed record ProjectedDto(string By, ClaimDto? Claim = null) : KindDto;

/// <summary>What is asked of the rows of a table beside their figures.</summary>
/// <param name="Statistic">average, median, count, or difference of two members: taken over the rows of the outermost
/// split.</param>
/// <param name="Shares">Each row's part of the total.</param>
/// <param name="Part">With shares: the row whose share the answer says first; without: the row whose place it says first.</param>
/// <param name="Claim">What is answered by yes or no.</param>
/// <param name="Cumulative">Whether months carry on the sum of those before.</param>
public sealed record OfRowsDto(
    string? Statistic = null,
    SharesDto? Shares = null,
    PartDto? Part = null,
    ClaimDto? Claim = null,
    bool? Cumulative = null
);

/// <param name="OfSides">Beside a base: parts of both totals, and not of the variance alone.</param>
public sealed record SharesDto(bool? OfSides = null);

/// <param name="Direction">over, under (by size), against, for (by profit), either or within.</param>
/// <param name="Of">any or every: of how many rows it is claimed; gap: of the gap in the last row, held against the row before;
/// null for the total.</param>
/// <param name="Than">The figure that this one is held against, by growth or by size.</param>
public sealed record ClaimDto(string Direction, string? Of = null, string? Than = null);

/// <param name="Dimension">Dimension code, or period for months.</param>
/// <param name="Claim">most or whole of the sum, or first in the order of the rows: to be answered by yes or no; null where only
/// the share, or the place, is wanted.</param>
public sealed record PartDto(string Dimension, string Code, string? Claim = null);

/// <param name="Columns">Codes of fields (date, document, amount, text for entries) or dimensions, in order; null for the usual
/// ones.</param>
/// <param name="OrderBy">Code of the field by which the list goes: for entries date or amount.</param>
public sealed record ListingDto(IReadOnlyList<string>? Columns = null, string? OrderBy = null, bool? Descending = null);

/// <param name="View">table, chart, line, bars, csv or json.</param>
/// <param name="Scale">1, 1000 or 1000000.</param>
/// <param name="Decimals">0–4.</param>
public sealed record DisplayDto(string? View = null, int? Scale = null, int? Decimals = null);

/// <summary>Records or journals that are asked for instead of sums.</summary>
/// <param name="Table">Code of the table; ledger for journals.</param>
/// <param name="By">What they are gathered by, the outermost first.</param>
/// <param name="Sum">Field whose amounts are summed.</param>
/// <param name="Due">Field of the day from which age counts.</param>
/// <param name="Buckets">Upper bounds of age in days.</param>
/// <param name="Statistic">average or median of the amount, or count of what they are gathered by.</param>
/// <param name="Also">A second amount beside the first: of those that meet this test as well.</param>
/// <param name="LimitsGroups">The question's limits hold for what is gathered, not for each record.</param>
/// <param name="PaidOn">Field of the day on which a record was paid, so that what was open on an earlier day is known.</param>
/// <param name="AsAt">The day in question (yyyy-MM-dd); without it the last day of the question's period.</param>
/// <param name="Beside">Fields of further amounts that stand beside the first, such as what was paid and what is still
/// open.</param>
public sealed record RecordAskDto(
    string Table,
    IReadOnlyList<RecordTestDto> Tests,
    IReadOnlyList<GatheringDto>? By = null,
    string? Sum = null,
    string? Due = null,
    IReadOnlyList<int>? Buckets = null,
    bool? CountOnly = null,
    bool? OfFigure = null,
    RecordTestDto? Also = null,
    string? Statistic = null,
    bool? LimitsGroups = null,
    string? PaidOn = null,
    string? AsAt = null,
    IReadOnlyList<string>? Beside = null
);

/// <param name="Field">Code of the field.</param>
/// <param name="Level">Level of the tree up to which members are gathered, or month, quarter, half or year of a date; null for
/// the members or days themselves.</param>
public sealed record GatheringDto(string Field, string? Level = null);

/// <param name="Kind">is, contains, ends-in, empty, same-as, weekend, month-end, round, days-after, not-after, older-than,
/// not-older, ahead, both-days, during, open, settled, overdue, twice, unbalanced or missing-number.</param>
/// <param name="Not">Whether what does not meet it is meant.</param>
public sealed record RecordTestDto(
    string Kind,
    string? Field = null,
    string? Other = null,
    string? Value = null,
    decimal? Number = null,
    bool? Not = null
);

/// <summary>Keeps rows whose figure, or variance, is at least so large on one side.</summary>
/// <param name="On">amount or percent.</param>
/// <param name="Direction">over, under (by size), against, for (by profit) or either.</param>
/// <param name="Of">The one of the question's bases that the limit speaks of; left out for the first.</param>
public sealed record ConditionDto(string On, string Direction, string Value, string? Of = null);

public sealed record FilterDto(string Dimension, IReadOnlyList<string> Members, bool Exclude);

/// <param name="By">Dimension code, or month, quarter, half, year.</param>
/// <param name="Level">Name of a level of the dimension; null for the first level below.</param>
public sealed record BreakdownDto(string By, string? Level);

/// <param name="By">value, size, favourable, unfavourable, percent or name.</param>
/// <param name="Skip">Rows passed over first.</param>
/// <param name="BothEnds">As many from the other end as well.</param>
/// <param name="Within">Ranks the second split within each row of the first.</param>
/// <param name="Pairs">Ranks the innermost rows of all splits against each other.</param>
/// <param name="InPercent">By what the variance is of its base.</param>
public sealed record RankingDto(
    int Count,
    string By,
    bool Ascending,
    int? Skip = null,
    bool? BothEnds = null,
    bool? Within = null,
    bool? Pairs = null,
    bool? InPercent = null
);

/// <summary>One step of a trail: a question and how one came to it.</summary>
/// <param name="Label">The words when it was typed; else what was opened.</param>
/// <param name="With">Asked in one text with the step before it.</param>
public sealed record TrailStep(QuestionDto Question, string Label, bool? With = null);

/// <param name="Steps">From the first question on.</param>
public sealed record NewTrail(IReadOnlyList<TrailStep> Steps);

/// <summary>Steps of a talk, as the service keeps them.</summary>
/// <param name="Id">Short enough for an address; the same steps have the same.</param>
public sealed record TrailDto(string Id, IReadOnlyList<TrailStep> Steps);
