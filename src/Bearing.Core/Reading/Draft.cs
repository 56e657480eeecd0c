using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;

namespace Bearing.Core.Reading;

/// <summary>A mention, or several composed into something larger; keeps the words it came from.</summary>
internal abstract record Item(int Start, int End);

internal sealed record WordItem(Mention Mention) : Item(Mention.Start, Mention.End);

/// <param name="YearGiven">False when the year has still to be taken from the current period.</param>
internal sealed record PeriodItem(int Start, int End, PeriodSpan Span, bool YearGiven) : Item(Start, End)
{
    /// <summary>The month or part of a year that waits for its year, or the year that stands alone; null for anything else.</summary>
    public Mention? Said { get; init; }

    /// <summary>Said as last year.</summary>
    public bool IsLastYear { get; init; }

    /// <summary>So many of the last months.</summary>
    public bool Trailing { get; init; }

    /// <summary>From one period to another.</summary>
    public bool Range { get; init; }

    /// <summary>The two periods themselves, where both are longer than a month: from last year to this year.</summary>
    public (PeriodSpan From, PeriodSpan To)? Ends { get; init; }
}

/// <summary>by supplier, where supplier is a field of records.</summary>
internal sealed record ByFieldItem(int Start, int End, string Field) : Item(Start, End)
{
    /// <summary>Said as "for each" or "per".</summary>
    public bool Each { get; init; }

    /// <summary>Asked for by "who": the field is no split of figures.</summary>
    public bool Who { get; init; }
}

/// <param name="Scenario">Scenario word or code as mentioned.</param>
/// <param name="Adds">True when it comes beside the bases of the question before.</param>
internal sealed record BaseItem(int Start, int End, string Scenario, bool Adds = false) : Item(Start, End)
{
    /// <summary>What "over budget" or "below plan" claims; null where nothing is claimed.</summary>
    public Direction? Direction { get; init; }

    /// <summary>Whether the two are the same is the question.</summary>
    public bool Same { get; init; }

    /// <summary>Said by a word for spending.</summary>
    public bool OfCosts { get; init; }

    /// <summary>"Differs from": on either side.</summary>
    public bool Apart { get; init; }
}

/// <summary>actual, budget and prior year → all of them.</summary>
internal sealed record ScenariosItem(int Start, int End, ImmutableArray<string> Scenarios) : Item(Start, End);

internal sealed record BasePeriodItem(int Start, int End, PeriodSpan Span) : Item(Start, End);

internal sealed record BreakdownItem(int Start, int End, ImmutableArray<Breakdown> Breakdowns) : Item(Start, End)
{
    /// <summary>Said as "each": the row that a ranking stands within.</summary>
    public bool Each { get; init; }

    /// <summary>Said with "by" or the like.</summary>
    public bool Led { get; init; }

    /// <summary>Said as "any …" or "all …".</summary>
    public Quantifier? Of { get; init; }

    /// <summary>Said as "which …": what is claimed is claimed of each row.</summary>
    public bool Which { get; init; }

    /// <summary>Right before a figure, which it may be a part of.</summary>
    public bool Doubtful { get; init; }
}

/// <summary>months across → each of them in columns of its own.</summary>
internal sealed record AcrossItem(int Start, int End, TimeGrain Grain) : Item(Start, End);

/// <summary>forecast instead of actual → one side takes the place of another; an empty one lets it go.</summary>
internal sealed record InsteadItem(int Start, int End, string With, string Of) : Item(Start, End);

/// <summary>that shop · those three accounts → rows of the last answer, by what they are rows of.</summary>
internal sealed record PointedItem(int Start, int End, Breakdown Of, bool Plural) : Item(Start, End);

/// <summary>both years, of what was shown of one → this year and the year before.</summary>
internal sealed record BothYearsItem(int Start, int End) : Item(Start, End);

/// <summary>date, text and supplier → columns of a list.</summary>
internal sealed record ColumnsItem(int Start, int End, ImmutableArray<string> Codes) : Item(Start, End)
{
    /// <summary>Said with "with": beside those that a list has anyway.</summary>
    public bool Beside { get; init; }
}

/// <summary>how many entities → the rows of a split are counted.</summary>
internal sealed record CountItem(int Start, int End) : Item(Start, End);

/// <summary>as a percentage of sales · per visit, with no figure before it → the figure shown in percent of that, or for each of it.</summary>
internal sealed record RatioToItem(int Start, int End, FigureRef Figure, bool Percent) : Item(Start, End);

/// <summary>the difference between two members → the first row less the second.</summary>
/// <param name="Claims">What is claimed of the first, where one was said to be better or more than the other.</param>
internal sealed record DifferenceItem(int Start, int End, Direction? Claims) : Item(Start, End);

/// <summary>mentioning retainer → words that the text of an entry holds.</summary>
internal sealed record TextItem(int Start, int End, string Text) : Item(Start, End);

internal sealed record FilterItem(int Start, int End, string Dimension, ImmutableArray<string> Codes, bool Exclude) : Item(Start, End)
{
    /// <summary>Named by a word that they only share.</summary>
    public bool Guessed { get; init; }
}

/// <param name="Number">Null when no number was said.</param>
internal sealed record RankItem(int Start, int End, string Order, int? Number) : Item(Start, End)
{
    /// <summary>The rows after those that the last answer ranked.</summary>
    public bool Further { get; init; }

    /// <summary>Rows before it: the third largest has two.</summary>
    public int Skip { get; init; }

    /// <summary>Said of one level: the top five accounts, whatever they are split by.</summary>
    public bool OfLevel { get; init; }

    /// <summary>Of variances: the most adverse.</summary>
    public bool Compares { get; init; }

    /// <summary>Said by a word that may count: the most.</summary>
    public bool Many { get; init; }

    /// <summary>By how many there are: most often.</summary>
    public bool Often { get; init; }

    /// <summary>Said of one: the worst route per region.</summary>
    public bool One { get; init; }

    /// <summary>Of one record: the largest invoice.</summary>
    public bool Single { get; init; }

    /// <summary>Both ends: top and bottom.</summary>
    public bool BothEnds { get; init; }
}

/// <summary>more than 10% and 20k over → rows that are kept.</summary>
/// <param name="SideSaid">False where only a size was said: "more than 5%" of what fell or was missed.</param>
internal sealed record ConditionItem(int Start, int End, ImmutableArray<Condition> Conditions, bool SideSaid) : Item(Start, End);

/// <summary>without approver · prepared and approved by the same person · more than 5 days after → a test of one record.</summary>
internal sealed record FieldTestItem(int Start, int End, RecordTestKind Kind, string? Field, string? Other, decimal Number) : Item(Start, End);

/// <summary>newest first · sorted by due date → the order of rows.</summary>
/// <param name="By">size, worst, best, day, name, or field.</param>
/// <param name="Field">Role or code of the field, or dimension code; null where By says it all.</param>
internal sealed record OrderItem(int Start, int End, string By, string? Field, bool Descending) : Item(Start, End);

/// <summary>1-30, 31-60, over 60 → upper bounds of age.</summary>
internal sealed record BucketsItem(int Start, int End, ImmutableArray<int> Bounds) : Item(Start, End);

/// <summary>What one covering of the words says, before defaults and before a previous question is brought in.</summary>
internal sealed class Draft
{
    public Intent? Intent { get; set; }
    public bool Compares { get; set; }
    public List<FigureRef> Figures { get; } = [];
    public bool ResultNamed { get; set; }
    public List<string> Scenarios { get; } = [];
    public List<string> Bases { get; } = [];
    public List<PeriodItem> Periods { get; } = [];
    public List<PeriodSpan> BasePeriods { get; } = [];

    /// <summary>The one period that another is held against; of several each has columns of its own.</summary>
    public PeriodSpan? BasePeriod { get; set; }
    public List<Filter> Filters { get; } = [];
    public List<Breakdown> Breakdowns { get; } = [];
    public RankItem? Rank { get; set; }
    public string? Row { get; set; }
    public bool Edits { get; set; }
    public bool Adds { get; set; }
    public bool Which { get; set; }

    /// <summary>"Did any harbour": of how many rows something is claimed.</summary>
    public Quantifier? Quantifier { get; set; }

    /// <summary>"Which harbours": the rows of a split, and of those the ones of which it is so.</summary>
    public bool WhichRows { get; set; }

    /// <summary>"Unfavourable variances": the rows of a split that lie on that side, and the usual split where none was said.</summary>
    public bool SidedRows { get; set; }

    /// <summary>"The breakdown of overheads": the usual rows, where none were said.</summary>
    public bool Parts { get; set; }

    /// <summary>"Who": one of the entities, where nothing else is said.</summary>
    public bool Who { get; set; }

    /// <summary>"Who spent": whoever it was booked for, not those who were paid.</summary>
    public bool WhoItself { get; set; }

    /// <summary>Overspent: costs are meant where no figure is named.</summary>
    public bool OfCosts { get; set; }

    /// <summary>The statement was asked for, line by line.</summary>
    public bool Statement { get; set; }

    /// <summary>"Where": in which entities, where something is claimed or ranked and nothing else is said.</summary>
    public Mention? Where { get; set; }

    /// <summary>Figures said as a list, each of which is meant: fuel and operating profit.</summary>
    public bool ListsFigures { get; set; }

    /// <summary>Scenarios said as a list: budget and forecast.</summary>
    public bool ListsScenarios { get; set; }

    /// <summary>A split was said with "by" or the like, and is no kind of what is listed.</summary>
    public bool SplitLed { get; set; }

    /// <summary>"Any area every month": those of which it is so in every month.</summary>
    public bool EveryOfAny { get; set; }

    /// <summary>"Which invoices": the records themselves.</summary>
    public bool WhichRecords { get; set; }
    public bool Share { get; set; }

    /// <summary>The member whose share is asked for: leisure's share of.</summary>
    public Mention? ShareOf { get; set; }

    /// <summary>No word for a variance says what the shares are of.</summary>
    public bool Mix { get; set; }
    public bool Growth { get; set; }

    /// <summary>What grew or shrank did so since a year ago, unless something else is said.</summary>
    public bool OverTime { get; set; }

    /// <summary>A margin was asked for, and not of what.</summary>
    public bool MarginOf { get; set; }

    /// <summary>What moved from one month to another.</summary>
    public bool Shift { get; set; }
    public bool Chart { get; set; }

    /// <summary>Periods to go on, or back, from the one that the last answer put first.</summary>
    public int Step { get; set; }

    /// <summary>What kind of figure is meant: percent, income or balance; null where nothing says it.</summary>
    public string? Unit { get; set; }

    /// <summary>Whether two sides are the same was asked.</summary>
    public bool Same { get; set; }

    /// <summary>Average or median of the rows, or how many there are.</summary>
    public RowStatistic? Statistic { get; set; }
    /// <summary>ISO code, or local.</summary>
    public string? Currency { get; set; }
    /// <summary>Only what is below (−1) or above (+1) zero, or lies on that side of its base; 0 for all.</summary>
    public int Sign { get; set; }
    public View? View { get; set; }
    public int? Scale { get; set; }
    public int? Decimals { get; set; }

    public OrderItem? Order { get; set; }

    /// <summary>Roles or codes of fields, or dimension codes, as columns of a list.</summary>
    public ImmutableArray<string> Columns { get; set; } = [];

    /// <summary>The columns come beside the usual ones.</summary>
    public bool ColumnsBeside { get; set; }

    /// <summary>Words that the text of an entry holds.</summary>
    public string? Text { get; set; }

    /// <summary>A field that was named beside records, and tells which of them are meant.</summary>
    public Mention? Field { get; set; }

    /// <summary>A limit of which no side was said.</summary>
    public bool Unsided { get; set; }

    /// <summary>"Between premises and marketing": of what stands before, these parts.</summary>
    public bool Between { get; set; }

    /// <summary>What is claimed of the difference between two members.</summary>
    public Direction? DifferenceClaim { get; set; }

    /// <summary>Members taken together.</summary>
    public bool Combined { get; set; }

    /// <summary>A word in the plural was taken for a part of a figure's name.</summary>
    public Mention? OtherNumber { get; set; }

    /// <summary>Records are ranked within each of what they are split by: the largest invoice of each supplier.</summary>
    public bool RankEach { get; set; }

    /// <summary>What is ranked is ranked within each of another split.</summary>
    public bool RankWithin { get; set; }
    public Projection? Projection { get; set; }

    /// <summary>"Which of our vets": what is asked for one by one, and is one account or member.</summary>
    public Mention? WhichOf { get; set; }

    /// <summary>A comparison without what is new or ended was asked for.</summary>
    public bool OtherBasis { get; set; }
    public bool Cumulative { get; set; }

    /// <summary>The parts of the period that have columns of their own.</summary>
    public TimeGrain? Across { get; set; }

    /// <summary>"As columns", of the months that were shown.</summary>
    public bool SideBySide { get; set; }

    /// <summary>Number of a document, as typed.</summary>
    public string? Document { get; set; }

    /// <summary>A comparison was asked for and not with what.</summary>
    public bool OpenCompare { get; set; }
    public List<Condition> Conditions { get; } = [];

    /// <summary>What "over" or "missed" claims, for a question that wants a yes or a no.</summary>
    public Direction? Direction { get; set; }

    /// <summary>Kind of records that was named: payables, receivables, or the code of a table.</summary>
    public string? Records { get; set; }

    /// <summary>What records are to be held against, by the words' values.</summary>
    public List<string> Checks { get; } = [];
    public List<FieldTestItem> FieldTests { get; } = [];

    /// <summary>Values that a field has to have: the value alone, or table/field=value.</summary>
    public List<string> Values { get; } = [];
    public ImmutableArray<int> Buckets { get; set; } = [];
    public bool HowMany { get; set; }

    /// <summary>Days or weeks were said, which are finer than what figures are kept by.</summary>
    public string? Finer { get; set; }

    /// <summary>A limit stands right behind the records: it is one of each record, not of what they are gathered to.</summary>
    public bool LimitsRecords { get; set; }

    /// <summary>The word right before a period, which says the day of what: paid in May.</summary>
    public Mention? DayOf { get; set; }

    /// <summary>Who did it was asked.</summary>
    public bool WhoDid { get; set; }

    /// <summary>Field by which records are gathered.</summary>
    public string? ByField { get; set; }

    /// <summary>A change, which runs from the first to the last of the periods said.</summary>
    public bool Change { get; set; }

    /// <summary>Whether records or journals are asked for, and not sums.</summary>
    public bool OfRecords => Checks.Count + FieldTests.Count > 0 || Buckets.Length > 0 || Records is not null || ByField is not null || (Values.Count > 0 && Intent == Answering.Intent.Entries);

    /// <summary>"Journals": whole ones, where no figure is named whose entries they would be.</summary>
    public bool Journals { get; set; }

    /// <summary>Price of words that were recognised and found no place.</summary>
    public double Cost { get; set; }

    /// <summary>Tokens of words that were recognised, carry meaning and found no place: they are named like words that nobody knows.</summary>
    public List<int> Unplaced { get; } = [];

    /// <summary>"Only": a part of what was shown, and nothing beside it.</summary>
    public bool Only { get; set; }

    /// <summary>"Of these": of what was shown.</summary>
    public bool OfThese { get; set; }

    public bool ClearsFilters { get; set; }

    /// <summary>Limits and ranking of the question before are to go.</summary>
    public bool ClearsRows { get; set; }

    /// <summary>"Just the total": what was shown, without its rows.</summary>
    public bool TotalOnly { get; set; }

    /// <summary>"Put it back": what the question before left out.</summary>
    public bool PutsBack { get; set; }

    /// <summary>"Both years", of what was shown of one.</summary>
    public bool BothYears { get; set; }

    /// <summary>"Forecast instead of actual": which side takes the place of which; empty where it only goes.</summary>
    public (string With, string Of)? Instead { get; set; }

    /// <summary>"One by one": the records themselves, no longer gathered.</summary>
    public bool OneByOne { get; set; }

    /// <summary>"That shop", "those accounts": rows of the last answer.</summary>
    public PointedItem? Pointed { get; set; }

    /// <summary>"Their", "its": of several rows of the last answer, or of one; null where no such word stands.</summary>
    public string? Pronoun { get; set; }

    /// <summary>"Which is the worst": one of them.</summary>
    public bool WhichOne { get; set; }

    /// <summary>"Last year" was taken for a period.</summary>
    public bool LastYear { get; set; }

    /// <summary>"As a percentage of sales", said of the figure of the question before.</summary>
    public RatioToItem? RatioTo { get; set; }

    /// <summary>Where each part was said: part name → token range.</summary>
    public List<(string Part, int Start, int End)> Sources { get; } = [];

    /// <summary>Only the question why, of what was shown before.</summary>
    public bool IsBareWhy => Figures.Count == 0 && Filters.Count == 0 && Periods.Count == 0 && Breakdowns.Count == 0 && Bases.Count == 0;

    public bool IsBare => Intent is null && !Compares && Scenarios.Count == 0 && Bases.Count == 0 && Periods.Count == 0 && Breakdowns.Count == 0 && Rank is null && Order is null && Columns.IsEmpty;
}
