using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

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

    /// <summary>"Unfavourable variances": the rows of a split that lie on that side, and the usual split where none was
    /// said.</summary>
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

    /// <summary>One figure stands right behind another, with nothing that lists them: the margin of a thing.</summary>
    public bool FiguresJoined { get; set; }

    /// <summary>Scenarios said as a list: budget and forecast.</summary>
    public bool ListsScenarios { get; set; }

    /// <summary>A split was said with "by" or the like, and is no kind of what is listed.</summary>
    public bool SplitLed { get; set; }

    /// <summary>"Any area every month": those of which it is so in every month.</summary>
    public bool EveryOfAny { get; set; }

    /// <summary>"Which invoices": the records themselves.</summary>
    public bool WhichRecords { get; set; }
    public bool Share { get; set; }

    /// <summary>An amount, and beside it what part it is of another.</summary>
    public bool AmountAndShare { get; set; }

    /// <summary>The figure that stands behind "how much of" is no part of another.</summary>
    public bool WholeSaid { get; set; }

    /// <summary>The member whose share is asked for: leisure's share of.</summary>
    public Mention? ShareOf { get; set; }

    /// <summary>What is claimed of a part, where a yes or a no is wanted: mostly, only.</summary>
    public PartClaim? PartClaim { get; set; }

    /// <summary>Not the share of the part but its place in the order of the rows is asked for.</summary>
    public bool PlaceAsked { get; set; }

    /// <summary>The row whose share is asked for.</summary>
    public PartAsked? Part { get; set; }

    /// <summary>No word for a variance says what the shares are of.</summary>
    public bool Mix { get; set; }
    public bool Growth { get; set; }

    /// <summary>What grew or shrank did so since a year ago, unless something else is said.</summary>
    public bool OverTime { get; set; }

    /// <summary>"The same quarter last year": what is held against it is one as well, where no period is said.</summary>
    public TimeGrain? SameGrain { get; set; }

    /// <summary>All entities, said as such.</summary>
    public bool WholeGroup { get; set; }

    /// <summary>Rose or fell, which is so over time unless the cause is asked for.</summary>
    public bool Moved { get; set; }

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

    /// <summary>The set of rates at which amounts are to be translated.</summary>
    public string? Rates { get; set; }

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

    /// <summary>Another month was asked for beside the first: what is ranked is the first.</summary>
    public bool BesideOnly { get; set; }

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

    /// <summary>How the gap between two sides grows from month to month is asked for.</summary>
    public bool GapGrows { get; set; }

    /// <summary>What is claimed of that gap: over that it grew, under that it shrank.</summary>
    public Direction? GapClaim { get; set; }

    /// <summary>Members taken together.</summary>
    public bool Combined { get; set; }

    /// <summary>A word in the plural was taken for a part of a figure's name.</summary>
    public Mention? OtherNumber { get; set; }

    /// <summary>The figure by which rows go, where it was named as such.</summary>
    public FigureRef? RanksBy { get; set; }

    /// <summary>"Sorted by passengers", "top 3 by revenue", and nothing else: of the rows that were shown.</summary>
    public bool SortsShown =>
        RanksBy is not null
        && (Order is not null || Rank is not null)
        && Figures.Count == 1
        && Breakdowns.Count + Periods.Count + Filters.Count == 0;

    /// <summary>Where more than one base was said, each with a side or limits of its own: over budget but under last
    /// year.</summary>
    public List<(string Scenario, Direction? Side, ImmutableArray<Condition> Limits)> OwnLimits { get; } = [];

    /// <summary>What was paid of the records and what is open stand beside what they are of.</summary>
    public bool AmountsApart { get; set; }

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

    /// <summary>"How did the harbour do": what is asked is how it went.</summary>
    public bool AsksHow { get; init; }

    /// <summary>Ends in versus, and nothing behind it.</summary>
    public bool EndsOpen { get; init; }
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

    /// <summary>Days were named, which records and journals have.</summary>
    public bool OfDays => Periods.Exists(p => p.Days is not null);

    /// <summary>"And on 14 March": nothing but the days, of the figure that was shown.</summary>
    public bool AsksDaysOnly =>
        OfDays
        && !ResultNamed
        && Records is null
        && ByField is null
        && Figures.Count + Checks.Count + FieldTests.Count + Values.Count == 0;

    /// <summary>Days or weeks were said, which are finer than what figures are kept by.</summary>
    public string? Finer { get; set; }

    /// <summary>A limit stands right behind the records: it is one of each record, not of what they are gathered to.</summary>
    public bool LimitsRecords { get; set; }

    /// <summary>The word right before a period, which says the day of what: paid in May.</summary>
    public Mention? DayOf { get; set; }

    /// <summary>Who did it was asked.</summary>
    public bool WhoDid { get; set; }

    /// <summary>"Of it": a part of what was shown.</summary>
    public bool PartOfIt { get; set; }

    /// <summary>"Who approved them": nothing is said but who did it.</summary>
    public bool AsksWhoDid =>
        WhoDid
        && !ResultNamed
        && Records is null
        && Figures.Count + Filters.Count + Periods.Count + Checks.Count + FieldTests.Count + Values.Count == 0;

    /// <summary>Fields by which records are gathered, and how many splits by members or time were said before each.</summary>
    public List<(string Field, int Behind)> ByFields { get; } = [];

    /// <summary>The rank is one of the field behind it: top 3 suppliers.</summary>
    public bool RanksField { get; set; }

    public string? ByField => ByFields.Count > 0 ? ByFields[0].Field : null;

    /// <summary>A change, which runs from the first to the last of the periods said.</summary>
    public bool Change { get; set; }

    /// <summary>Whether records or journals are asked for, and not sums.</summary>
    public bool OfRecords =>
        Checks.Count + FieldTests.Count > 0
        || OfDays
        || Buckets.Length > 0
        || Records is not null
        || ByField is not null
        || AmountsApart
        || (Values.Count > 0 && Intent == Questions.Intent.Entries);

    /// <summary>"Journals": whole ones, where no figure is named whose entries they would be.</summary>
    public bool Journals { get; set; }

    /// <summary>Price of words that were recognised and found no place.</summary>
    public double Cost { get; set; }

    /// <summary>Tokens of words that were recognised, carry meaning and found no place: they are named like words that nobody
    /// knows.</summary>
    public List<int> Unplaced { get; } = [];

    /// <summary>"Only": a part of what was shown, and nothing beside it.</summary>
    public bool Only { get; set; }

    /// <summary>"Of these": of what was shown.</summary>
    public bool OfThese { get; set; }

    public bool ClearsFilters { get; set; }

    /// <summary>What is held against it goes.</summary>
    public bool ClearsBases { get; set; }

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

    /// <summary>"Which region is the worst", of the regions that were shown: one of them.</summary>
    public bool WhichSingle { get; set; }

    /// <summary>"Which is the worst": one of them.</summary>
    public bool WhichOne { get; set; }

    /// <summary>"Last year" was taken for a period.</summary>
    public bool LastYear { get; set; }

    /// <summary>"As a percentage of sales", said of the figure of the question before.</summary>
    public RatioToItem? RatioTo { get; set; }

    /// <summary>Where each part was said: part name → token range.</summary>
    public List<(string Part, int Start, int End)> Sources { get; } = [];

    /// <summary>Only the question why, of what was shown before.</summary>
    public bool IsBareWhy =>
        Figures.Count == 0 && Filters.Count == 0 && Periods.Count == 0 && Breakdowns.Count == 0 && Bases.Count == 0;

    public bool IsBare =>
        Intent is null
        && !Compares
        && Scenarios.Count == 0
        && Bases.Count == 0
        && Periods.Count == 0
        && Breakdowns.Count == 0
        && Rank is null
        && Order is null
        && Columns.IsEmpty;
}
