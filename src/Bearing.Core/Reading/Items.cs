using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>What a span of words says, typed; nothing of the words themselves.</summary>
internal abstract record Item;

/// <summary>A small word: rules may use it, and every reading may pass over it.</summary>
internal interface IPassed;

/// <summary>A part of a reading: an item, the words that it stands over, and what it costs.</summary>
/// <param name="Start">Index of its first token.</param>
/// <param name="End">Index behind its last token, small words behind it included.</param>
/// <param name="Words">The tokens that say it, one bit each; small words between them are not among them.</param>
/// <param name="Price">Hundredths; never negative.</param>
internal sealed record Part(Item Item, int Start, int End, UInt128 Words, int Price)
{
    public static UInt128 Span(int start, int end) =>
        end - start >= 128 ? UInt128.MaxValue : ((UInt128.One << (end - start)) - 1) << start;
}

/// <summary>Words that carry no meaning of their own.</summary>
internal sealed record SmallWord : Item, IPassed;

/// <summary>A meaning that no question read here has room for: what is said so is not what some other words would make of
/// it.</summary>
internal interface INoRoom;

/// <summary>A meaning that has no item of its own yet.</summary>
internal sealed record OtherItem(Bearing.Core.Language.MentionKind Kind, string Value) : Item, INoRoom;

/// <summary>A word that nobody knows here, and that leaves the rest of the question as it is.</summary>
internal sealed record UnknownItem(string Word) : Item;

// ---- names of the book

/// <param name="Partial">Whether only a part of its name was said.</param>
internal sealed record FigureItem(FigureRef Figure, bool Partial = false) : Item;

/// <summary>Several figures, each of which is meant.</summary>
internal sealed record FiguresItem(ValueList<FigureRef> Figures) : Item;

/// <summary>Members of one dimension, by code.</summary>
/// <param name="Together">Whether they are added up and not told apart.</param>
internal sealed record MembersItem(string Dimension, ValueList<string> Codes, bool Together = false) : Item
{
    /// <summary>Several of one and the same name, of which one may be meant or all: a customer that is a supplier as
    /// well.</summary>
    public bool Namesakes { get; init; }
}

/// <summary>What is left out: members, or accounts, of one dimension.</summary>
internal sealed record LeftOutItem(string Dimension, ValueList<string> Codes) : Item;

/// <summary>A level of a dimension, or a length of time, as a noun.</summary>
/// <param name="Plural">Harbours, not harbour.</param>
internal sealed record LevelItem(Breakdown Of, bool Plural) : Item;

/// <summary>All of the company, said as such.</summary>
internal sealed record WholeItem : Item;

/// <summary>We, us: whoever asks.</summary>
internal sealed record OursItem : Item, IPassed;

// ---- numbers

internal sealed record NumberItem(int Value) : Item;

internal sealed record AmountItem(decimal Value) : Item;

internal sealed record PercentItem(decimal Value) : Item;

internal sealed record PercentWord : Item;

internal sealed record OrdinalItem(int Place) : Item;

// ---- time

internal sealed record MonthItem(int Month) : Item;

internal sealed record YearItem(int Year) : Item;

/// <summary>A quarter or a half of a fiscal year, by its number; a season by its first calendar month.</summary>
internal sealed record PartOfYearItem(TimeGrain Grain, int Number, bool Season = false) : Item;

/// <summary>This month, last quarter, next year: so many steps of a grain from the current period.</summary>
/// <param name="Whole">The whole of a year that is not over, and not only as far as it has come.</param>
internal sealed record RelativeItem(TimeGrain Grain, int Steps, bool Whole) : Item;

/// <summary>The last quarter, half or year that is over, by its months.</summary>
internal sealed record ClosedItem(int Months) : Item;

/// <summary>The last month that is closed; after an answer about that one, the month before it.</summary>
internal sealed record LastMonthItem : Item;

/// <summary>So many months up to the current one, by default.</summary>
internal sealed record TrailingItem(int Months) : Item;

/// <summary>To date, so far.</summary>
internal sealed record ToDateItem : Item;

/// <summary>Year to date.</summary>
internal sealed record YearToDateItem : Item;

/// <summary>The months that are still to come in this year.</summary>
internal sealed record RestOfYearItem : Item;

/// <summary>All that there is.</summary>
internal sealed record AllTimeItem : Item;

/// <summary>One run of periods.</summary>
/// <param name="Open">The part of a year that waits for its year: the span is the one that is meant when nothing says another.</param>
/// <param name="IsLastYear">Said as last year, which may as well be what is compared with.</param>
/// <param name="Ends">Of a range said as from one to another, its two ends.</param>
internal sealed record PeriodsItem(
    PeriodSpan Span,
    Item? Open = null,
    bool IsLastYear = false,
    (PeriodSpan From, PeriodSpan To)? Ends = null
) : Item
{
    /// <summary>Said as between two, or from one to another: what moved did so from the one to the other.</summary>
    public bool FromTo { get; init; }

    /// <summary>Said as between two, which a difference is one of.</summary>
    public bool Between { get; init; }

    /// <summary>Said as last month: the last one that is closed, or the one before it where that was spoken of.</summary>
    public bool IsLastMonth { get; init; }

    /// <summary>Said as at its end: of what adds up, all of its year until then.</summary>
    public bool AsAt { get; init; }
}

/// <summary>Several runs of periods, each of which is meant.</summary>
internal sealed record PeriodListItem(ValueList<PeriodsItem> Periods) : Item;

/// <summary>The period before, or behind, the one that was shown.</summary>
internal sealed record StepItem(int Steps) : Item;

// ---- sides

/// <summary>The name of one side of a comparison.</summary>
internal abstract record SideName
{
    public sealed record Actual : SideName;

    public sealed record Plan(ScenarioKind Kind) : SideName;

    public sealed record ForecastBefore : SideName;

    public sealed record PriorYear : SideName;

    /// <param name="Months">How far back; null for as many as are shown.</param>
    public sealed record Prior(int? Months) : SideName;

    public sealed record Version(Side Side) : SideName;

    public bool IsPast => this is PriorYear or Prior;

    public bool IsPlan => this is Plan or ForecastBefore or Version;
}

internal sealed record SideItem(SideName Name) : Item;

internal sealed record SidesItem(ValueList<SideName> Names) : Item;

/// <summary>What is compared with.</summary>
internal sealed record AgainstItem(ValueList<SideName> Names) : Item
{
    /// <summary>What is claimed by saying so: over budget.</summary>
    public GapSense? Claims { get; init; }

    /// <summary>The period that was said with it; null where none was.</summary>
    public PeriodSpan? Of { get; init; }
}

/// <summary>A period that is compared with.</summary>
internal sealed record AgainstPeriodItem(PeriodsItem Period) : Item;

/// <summary>One side takes the place of another.</summary>
internal sealed record InsteadItem(SideName With, SideName Of) : Item;

// ---- rows

/// <param name="Several">Which harbours, and not which harbour.</param>
internal sealed record SplitItem(ValueList<Breakdown> By, bool Each = false, bool Which = false, bool Several = false) : Item;

/// <summary>Each part of the period in columns of its own.</summary>
internal sealed record AcrossItem(TimeGrain Grain) : Item, INoRoom;

/// <summary>Which end of an order.</summary>
internal enum End
{
    Largest,
    Smallest,
    Worst,
    Best,
    Fastest,
    Slowest,

    /// <summary>Out of line: on neither end, but far from what is usual.</summary>
    Unusual,
}

/// <param name="Some">Said of several: top, culprits.</param>
/// <param name="One">Said of one: the one that came first.</param>
/// <param name="OfGap">Of how far they are from what they are compared with.</param>
internal sealed record EndItem(End End, bool Some, bool One, bool OfGap) : Item
{
    /// <summary>Said of how many there are: the most, the fewest.</summary>
    public bool Many { get; init; }

    /// <summary>Said of what something costs: the dearest.</summary>
    public bool Costs { get; init; }

    /// <summary>So many rows from this end.</summary>
    public RankItem Rank(int? count, Breakdown? of = null, bool some = true, int skip = 0) =>
        new(End, count, skip, false, of)
        {
            OfGap = OfGap,
            Some = some,
            Many = Many,
            Costs = Costs,
        };
}

/// <param name="Count">Null where no number was said.</param>
/// <param name="Of">What is ranked, where it was said beside it.</param>
internal sealed record RankItem(End End, int? Count, int Skip, bool BothEnds, Breakdown? Of) : Item
{
    /// <summary>Of how far they are from what they are compared with.</summary>
    public bool OfGap { get; init; }

    public bool Some { get; init; }

    public bool Many { get; init; }

    public bool Costs { get; init; }
}

/// <summary>The ledger's entries, or so many of them at one end.</summary>
internal sealed record EntriesItem(RankItem? Rank, bool Plural) : Item;

internal sealed record OrderItem(End? End, bool ByGap, bool ByName) : Item;

internal sealed record LimitItem(ValueList<Condition> Conditions, bool SideSaid) : Item
{
    public GapSense? Sense { get; init; }
}

/// <summary>Words of a limit that hold for what lies on one side of a number.</summary>
internal sealed record GapItem(GapSense Sense) : Item;

/// <summary>Only what is below, or above, zero; or what is new, or has ended.</summary>
internal sealed record PresenceItem(Condition Of) : Item;

internal sealed record StatisticItem(RowStatistic Of) : Item;

internal sealed record SharesItem : Item;

/// <summary>How much of a whole something is.</summary>
internal sealed record PartOfItem : Item, INoRoom;

/// <summary>How something went over time: its months, where nothing else splits it.</summary>
internal sealed record CourseItem : Item;

/// <summary>What something is made up of.</summary>
internal sealed record MadeUpItem : Item;

/// <summary>What was shown, for each of another figure or in percent of it.</summary>
internal sealed record RatioToItem(FigureRef Figure, bool Percent) : Item;

internal sealed record GrowthItem(bool Change) : Item;

/// <summary>What changed, from one period to another.</summary>
internal sealed record ShiftItem : Item;

internal sealed record CumulativeItem : Item;

/// <summary>Percentages beside amounts.</summary>
internal sealed record InPercentItem : Item, INoRoom;

// ---- what is asked

internal enum Asked
{
    Value,
    Variance,
    Why,
    Bridge,
    Which,
    Where,
    Who,
    When,
    Compare,
}

internal sealed record AskItem(Asked What) : Item;

/// <summary>Whether what is missing is lost or only late.</summary>
internal sealed record TimingItem : Item;

/// <summary>Good or bad: which of the two.</summary>
internal sealed record JudgeItem : Item;

/// <summary>Total, said before a figure.</summary>
internal sealed record TotalWord : Item;

/// <summary>In the budget, in the forecast: whether it has something.</summary>
internal sealed record InPlanItem(SideName.Plan Plan) : Item;

/// <summary>Sold, said of what is counted.</summary>
internal sealed record SoldWord : Item;

internal sealed record FormItem(Display Display) : Item;

internal sealed record CurrencyItem(string? Code) : Item;

internal sealed record RatesItem(string Set) : Item;

// ---- the talk

/// <summary>Which row of an earlier answer, or which thing of it, is pointed at.</summary>
internal enum Pointing
{
    That,
    Those,
    Other,
    Largest,
    Smallest,
    Worst,
    Best,
    Place,
}

/// <param name="Place">From 1, for <see cref="Pointing.Place"/>.</param>
/// <param name="Of">What kind of thing it is: that month; null for any.</param>
internal sealed record PointItem(Pointing How, int Place, Breakdown? Of) : Item;

/// <summary>"That supplier": what the field says of the records that were shown.</summary>
internal sealed record PointedFieldItem(string Role) : Item;

/// <summary>What is pointed at is left out.</summary>
internal sealed record PointedOutItem(PointItem Point) : Item;

/// <summary>The talk returns to the nearest turn that was about the figure.</summary>
internal sealed record BackToItem(FigureRef Figure) : Item;

/// <summary>What the words say goes on with the turn before: and, now, same for.</summary>
/// <param name="Adds">Said as and: what is held against it comes beside what was.</param>
internal sealed record GoesOnItem(bool Adds) : Item;

/// <summary>Their, its: of what was shown.</summary>
/// <param name="Many">Of several things that were shown, and not of the first of them.</param>
internal sealed record TheirItem(bool Many) : Item;

/// <summary>What is named comes beside what was shown.</summary>
internal sealed record BesideItem : Item;

/// <summary>Only what is named.</summary>
internal sealed record OnlyItem : Item;

internal enum Cleared
{
    Filters,
    Bases,
    Rows,
    LeftOut,
    Groups,
}

internal sealed record ClearItem(Cleared What) : Item;

// ---- records

/// <summary>Records, by the name of their table or by what they are.</summary>
/// <param name="Tables">Codes of those that may be meant.</param>
/// <param name="Plural">Said of several of them.</param>
internal sealed record TableItem(ValueList<string> Tables, bool Plural) : Item;

/// <summary>Whoever owes, or is owed: debtors are the open receivables, by customer.</summary>
internal sealed record OwersItem(ValueList<string> Tables) : Item;

/// <summary>How a record stands, or how it came to be settled.</summary>
internal enum RecordState
{
    Open,
    Settled,
    Due,
    NotDue,
    Overdue,
    Late,
    OnTime,
    Early,
    Twice,
    Aged,
    DaysLate,
    DaysToPay,
}

/// <summary>Whether something of what was shown was posted more than once.</summary>
internal sealed record BookedTwiceItem : Item;

/// <param name="Tables">Codes of those that may be meant, where the words tell it: owed to us; empty where they do not.</param>
internal sealed record StateItem(RecordState Of, ValueList<string> Tables, bool Not = false) : Item;

/// <summary>A field, by its code or by the role that it plays.</summary>
internal sealed record FieldItem(string Role) : Item;

/// <summary>Several fields, as columns or as amounts.</summary>
/// <param name="Beside">Said as with: beside what a list shows anyway.</param>
internal sealed record FieldsItem(ValueList<string> Roles, bool Beside = false) : Item;

/// <summary>What a field says; any of the texts will do.</summary>
internal sealed record FieldSaysItem(string Table, string Field, ValueList<string> Texts, bool Not = false) : Item;

/// <summary>Records gathered by a field.</summary>
internal sealed record ByFieldItem(ValueList<string> Roles) : Item;

/// <summary>The day of a field lies in the period.</summary>
internal sealed record DuringItem(string Role, PeriodsItem Period) : Item;

/// <summary>What was paid to somebody, or invoiced by them, in a book without records of it: the costs booked with them.</summary>
internal sealed record SpendItem : Item;

/// <summary>How many days old, past due or ahead something is.</summary>
internal sealed record AgeItem(bool Over, int Days) : Item;

/// <summary>Days of age up to which each group goes, rising.</summary>
internal sealed record BucketsItem(ValueList<int> Upper) : Item;

/// <summary>One group of days of age, by its upper end.</summary>
internal sealed record BucketItem(int Upper) : Item;

/// <summary>By day: the oldest, or the newest, so many of them; all in that order where no number was said.</summary>
internal sealed record OldestItem(bool Newest, int? Count) : Item;

internal sealed record OrderByFieldItem(string Role) : Item;

internal sealed record DocumentItem(string Number) : Item;

internal sealed record QuoteItem(string Text) : Item;

/// <summary>Words that a text holds.</summary>
internal sealed record TextItem(string Text) : Item;

/// <summary>How many different ones there are.</summary>
internal sealed record CountOfItem(SplitItem Of) : Item;

internal sealed record DaysWord : Item;

internal sealed record ColumnsWord : Item;

internal sealed record HoldsWord : Item;

internal sealed record AboutWord : Item;

internal sealed record BucketWord : Item;

/// <summary>The last of the groups of ages, which has no upper end.</summary>
internal sealed record OldestBucketItem : Item;

internal sealed record OrderByWord : Item;

internal sealed record OrWord : Item;

internal sealed record WithWord : Item;

// ---- words that only join others

internal sealed record ByWord(bool Each) : Item;

internal sealed record PerWord(bool Percent) : Item;

internal sealed record VersusWord : Item;

internal sealed record ThanWord : Item;

/// <summary>On last year, which is held against it; on Monday, which is not.</summary>
internal sealed record OnWord : Item, IPassed;

internal sealed record AndWord : Item;

/// <summary>A comma, which may join as and does.</summary>
internal sealed record Comma : Item, IPassed;

internal sealed record ToWord : Item, INoRoom;

internal sealed record FromWord : Item;

internal sealed record BetweenWord : Item;

internal sealed record SinceWord : Item;

/// <summary>From then on, said behind it.</summary>
internal sealed record OnwardWord : Item;

/// <summary>At the end of.</summary>
internal sealed record AsAtWord : Item;

internal sealed record OfWord : Item, IPassed;

/// <summary>In, at, for, on.</summary>
internal sealed record PlaceWord : Item, IPassed;

internal sealed record LastWord : Item;

internal sealed record WithoutWord : Item;

/// <summary>Left out, said behind it.</summary>
internal sealed record LeftOutWord : Item;

internal sealed record NotWord : Item;

/// <summary>Back to what was spoken of before.</summary>
internal sealed record BackWord : Item, INoRoom;

internal sealed record LessWord : Item;

internal sealed record TogetherWord : Item;

internal sealed record EveryWord : Item;

internal sealed record AnyWord : Item, INoRoom;

internal sealed record BothWord : Item;

internal sealed record OthersWord : Item;

internal sealed record CalendarWord : Item;

internal sealed record FiscalWord : Item;

internal sealed record PeriodWord : Item;

internal sealed record AcrossWord : Item;

internal sealed record InsteadWord : Item;

/// <summary>A, an: one of what follows.</summary>
internal sealed record OneWord : Item, IPassed;
