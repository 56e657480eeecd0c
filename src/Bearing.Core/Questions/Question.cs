using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What is wanted of a figure.</summary>
public enum Intent
{
    /// <summary>The figure itself.</summary>
    Value,

    /// <summary>The figure against one or more bases.</summary>
    Variance,

    /// <summary>Where a variance comes from: drivers first.</summary>
    Why,

    /// <summary>Steps from the base to the subject.</summary>
    Bridge,

    /// <summary>The ledger lines behind the figure.</summary>
    Entries,

    /// <summary>Records, or journals, that meet tests: listed, counted, gathered or aged.</summary>
    Records,
}

public enum TimeGrain
{
    Month,
    Quarter,
    Half,
    Year,
}

/// <summary>The buckets that a grain cuts time into.</summary>
public static class TimeGrains
{
    /// <summary>The whole bucket that a period falls into.</summary>
    public static PeriodSpan BucketOf(this TimeGrain grain, Period period) =>
        grain switch
        {
            TimeGrain.Quarter => FiscalCalendar.QuarterOf(period),
            TimeGrain.Half => FiscalCalendar.Half(period.Year, ((period.Number - 1) / 6) + 1),
            TimeGrain.Year => FiscalCalendar.Year(period.Year),
            _ => PeriodSpan.Of(period),
        };

    /// <summary>The span cut into buckets, oldest first; the first and the last go no further than the span does.</summary>
    public static IEnumerable<PeriodSpan> Cut(this TimeGrain grain, PeriodSpan span) =>
        span.Periods().Select(p => grain.BucketOf(p)).Distinct().Select(b => b.Intersect(span)).OfType<PeriodSpan>();
}

/// <summary>Keeps or excludes members (by code, with all below them) of one dimension.</summary>
public sealed record Filter(string Dimension, ImmutableArray<string> Members, bool Exclude = false)
{
    public bool Equals(Filter? other) =>
        other is not null && Dimension == other.Dimension && Exclude == other.Exclude && Members.SequenceEqual(other.Members);

    public override int GetHashCode() => HashCode.Combine(Dimension, Exclude, Members.Length);
}

/// <summary>How an answer's rows are split: by a dimension down to a level, or by time.</summary>
/// <param name="Dimension">Dimension code, or null for time.</param>
/// <param name="Level">Name of a level; null for the first level below what is asked about.</param>
/// <param name="Grain">Set for time only.</param>
public sealed record Breakdown(string? Dimension, string? Level, TimeGrain? Grain)
{
    public static Breakdown ByTime(TimeGrain grain) => new(null, null, grain);

    public static Breakdown By(string dimension, string? level = null) => new(dimension, level, null);

    /// <summary>The level at which a member stands, as a split; null for what the book has not.</summary>
    public static Breakdown? OfMember(Book book, string dimension, string code) =>
        book.TryDimension(dimension, out var kept) && book.TryMember(kept.Id, code, out var member)
            ? By(kept.Code, kept.Levels[book.HasChildren(member) ? Math.Min(book.DepthOf(member), kept.Levels.Length - 1) : ^1])
            : null;
}

/// <summary>What rows are ordered by.</summary>
public enum RankBy
{
    Value,
    Size,
    Favourable,
    Unfavourable,

    /// <summary>By the movement in percent, up first.</summary>
    Percent,

    /// <summary>By name, months by their place in time.</summary>
    Name,
}

/// <param name="Count">Rows kept, 1 or more; the rest is shown as one row.</param>
/// <param name="Ascending">Smallest first.</param>
/// <param name="Skip">Rows passed over first: the next five after the first five.</param>
public sealed record Ranking(int Count, RankBy By, bool Ascending = false, int Skip = 0)
{
    /// <summary>The count that keeps every row: only their order was asked for.</summary>
    public const int All = 1000;

    /// <summary>As many from the other end as well.</summary>
    public bool BothEnds { get; init; }

    /// <summary>Ranks the second split within each row of the first: the three largest accounts of each entity.</summary>
    public bool Within { get; init; }

    /// <summary>By what the variance is of its base, where it is ranked by size, favourable or unfavourable.</summary>
    public bool InPercent { get; init; }

    /// <summary>Ranks the innermost rows of all splits against each other: the ten worst pairs of an entity and an
    /// account.</summary>
    public bool Pairs { get; init; }
}

/// <summary>Of how many rows something is claimed; Gap claims of the gap between the two sides that it is larger, or smaller, in
/// the last row than in the one before.</summary>
public enum Quantifier
{
    Any,
    Every,
    Gap,
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

/// <summary>How an answer is to be put on the page or the terminal.</summary>
public enum View
{
    Table,
    Chart,
    Line,
    Bars,
    Csv,
    Json,
}

/// <summary>How an answer is to be shown. Changes no figure.</summary>
/// <param name="Scale">1, 1,000 or 1,000,000; null for the usual one.</param>
/// <param name="Decimals">0–4; null for the usual ones.</param>
public sealed record Display(View? View = null, int? Scale = null, int? Decimals = null);

/// <summary>How a list of entries or records is laid out.</summary>
/// <param name="Columns">Codes of fields or dimensions in the order in which they are shown; empty for the usual ones.</param>
/// <param name="OrderBy">Code of the field by which the list goes; null for the order of the files.</param>
public sealed record Listing(ImmutableArray<string> Columns, string? OrderBy = null, bool Descending = false)
{
    public bool Equals(Listing? other) =>
        other is not null && Columns.SequenceEqual(other.Columns) && OrderBy == other.OrderBy && Descending == other.Descending;

    public override int GetHashCode() => HashCode.Combine(Columns.Length, OrderBy, Descending);
}

/// <summary>What the months so far are carried forward to, held against the plan of the whole year.</summary>
public enum Projection
{
    /// <summary>Actual at the pace of its months, times twelve.</summary>
    RunRate,

    /// <summary>The plan of the year less Actual so far.</summary>
    Remaining,

    /// <summary>Actual so far as a part of the plan of the year.</summary>
    Used,

    /// <summary>Live Actual to the current period plus the latest forecast after it.</summary>
    Outlook,
}

public enum ConditionOn
{
    Amount,
    Percent,

    /// <summary>The size of the base itself.</summary>
    Base,

    /// <summary>How many records there are in a group.</summary>
    Count,

    /// <summary>Something now, and nothing in the base; the limit does not matter.</summary>
    New,

    /// <summary>Nothing any more, and something in the base; the limit does not matter.</summary>
    Ended,
}

/// <summary>On which side of its base a figure lies.</summary>
public enum Direction
{
    /// <summary>Larger, as people read the figure: a cost over budget.</summary>
    Over,

    /// <summary>Smaller, as people read the figure.</summary>
    Under,

    /// <summary>Lowers profit.</summary>
    Against,

    /// <summary>Raises profit, or leaves it as it is.</summary>
    For,
    Either,

    /// <summary>Not further away than this, on either side.</summary>
    Within,
}

/// <summary>Keeps rows whose figure, or whose variance where something is compared, is at least so large on one side.</summary>
/// <param name="Value">Zero or more: in the figure's unit, or in percent of the base.</param>
public sealed record Condition(ConditionOn On, Direction Direction, decimal Value)
{
    /// <summary>The one of the question's bases that the limit speaks of; null for the first.</summary>
    public Side? Of { get; init; }

    /// <summary>For single lines and records, which are held against nothing: whether the limit is an upper one.</summary>
    public bool IsUpper => Direction is Direction.Under or Direction.Against or Direction.Within;
}

/// <summary>
/// A question in its typed form: the whole meaning, nothing of the words. Kept by links, follow-ups and papers,
/// therefore written in codes and numbered by form.
/// </summary>
public sealed record Question
{
    public const int CurrentForm = 1;

    public int Form { get; init; } = CurrentForm;
    public Intent Intent { get; init; }
    public required FigureRef Figure { get; init; }

    /// <summary>Further figures of the same rows, in columns of their own; rows are ranked and kept by the first one.</summary>
    public ImmutableArray<FigureRef> Beside { get; init; } = [];

    /// <summary>Whether other figures can stand beside the first: nothing is compared, summarised or carried forward.</summary>
    [JsonIgnore]
    public bool CanHoldBeside =>
        Beside.IsEmpty
        || (
            Intent == Intent.Value
            && Bases.IsEmpty
            && Spans.Length == 1
            && Statistic is null
            && Projection is null
            && Records is null
            && Currency is null
            && Rates is null
            && Claim is null
            && Than is null
            && !Cumulative
        );
    public Side Subject { get; init; } = Side.Actual;
    public ImmutableArray<Side> Bases { get; init; } = [];

    /// <summary>One block of columns each; at least one.</summary>
    public ImmutableArray<PeriodSpan> Spans { get; init; } = [];
    public ImmutableArray<Filter> Filters { get; init; } = [];
    public ImmutableArray<Breakdown> Breakdowns { get; init; } = [];
    public Ranking? Ranking { get; init; }

    /// <summary>Only rows that meet all of these are shown.</summary>
    public ImmutableArray<Condition> Conditions { get; init; } = [];

    /// <summary>Whether each row's part of the total is asked for.</summary>
    public bool Share { get; init; }

    /// <summary>Whether parts of the totals are meant as well, where a share beside a base would be one of the variance
    /// only.</summary>
    public bool Mix { get; init; }

    /// <summary>The row whose share is wanted, which the answer then says first; null where those of all rows are.</summary>
    public PartAsked? Part { get; init; }

    /// <summary>By what the innermost split stands within, where shares are asked for; null where all of it is one
    /// dimension.</summary>
    [JsonIgnore]
    public string? SharesWithin =>
        Share
        && Bases.IsEmpty
        && Breakdowns.Length > 1
        && Breakdowns.LastOrDefault(b => b.Dimension != Breakdowns[^1].Dimension) is { } outer
            ? (outer.Level ?? outer.Dimension ?? outer.Grain!.Value.ToString()).ToLowerInvariant()
            : null;

    /// <summary>Whether either side's mix stands beside its amounts; of several bases or periods the table would outgrow the
    /// page.</summary>
    [JsonIgnore]
    public bool SharesOfSides => Share && Mix && Bases.Length == 1 && Spans.Length == 1;

    /// <summary>Whether movement is asked for and not effect on profit: a cost that rose has grown.</summary>
    public bool Growth { get; init; }

    /// <summary>Whether months carry on the sum of those before.</summary>
    public bool Cumulative { get; init; }

    /// <summary>Stands before the end of a document's number when only that was said.</summary>
    public const char EndOfNumber = '*';

    /// <summary>For entries: the document that they belong to, or its end behind <see cref="EndOfNumber"/>; null for
    /// any.</summary>
    public string? Document { get; init; }

    /// <summary>For entries: words that the text of a line holds, whatever their case; null for any.</summary>
    public string? Text { get; init; }

    /// <summary>ISO 4217 code of the currency in which amounts are shown: as posted where they were posted in it, converted where
    /// not; null for the book's own.</summary>
    public string? Currency { get; init; }

    /// <summary>The set of rates (actual, budget, forecast …, or <see cref="PriorYearRates"/>) at which amounts posted in other
    /// currencies are translated; null for the rates by which they were.</summary>
    public string? Rates { get; init; }

    /// <summary>Stands for the actual rates of the same months a year before.</summary>
    public const string PriorYearRates = "prior-year";

    public static string NameOfRates(string rates) => rates == PriorYearRates ? "the rates of a year before" : $"{rates} rates";

    /// <summary>Taken over the rows of the outermost split; null for none.</summary>
    public RowStatistic? Statistic { get; init; }

    /// <summary>How the answer is to be shown; null for the usual way.</summary>
    public Display? Display { get; init; }

    /// <summary>For entries and records: columns and order that were asked for; null for the usual ones.</summary>
    public Listing? Listing { get; init; }

    /// <summary>What the months so far are carried forward to; null where figures stand as they are.</summary>
    public Projection? Projection { get; init; }

    /// <summary>Records or journals that are asked for instead of sums; null otherwise.</summary>
    public RecordAsk? Records { get; init; }

    /// <summary>What is to be answered by yes or no; null for other questions.</summary>
    public Direction? Claim { get; init; }

    /// <summary>Of how many rows it is claimed; null where it is claimed of the total, or of each month shown.</summary>
    public Quantifier? ClaimOf { get; init; }

    /// <summary>The figure that the claim holds this one against, by growth where that is asked for and by size otherwise; null
    /// where sides or rows are.</summary>
    public FigureRef? Than { get; init; }

    public bool Equals(Question? other) =>
        other is not null
        && Intent == other.Intent
        && Figure == other.Figure
        && Beside.SequenceEqual(other.Beside)
        && Subject == other.Subject
        && Bases.SequenceEqual(other.Bases)
        && Spans.SequenceEqual(other.Spans)
        && Filters.SequenceEqual(other.Filters)
        && Breakdowns.SequenceEqual(other.Breakdowns)
        && Ranking == other.Ranking
        && Conditions.SequenceEqual(other.Conditions)
        && Share == other.Share
        && Mix == other.Mix
        && Part == other.Part
        && Claim == other.Claim
        && ClaimOf == other.ClaimOf
        && Than == other.Than
        && Growth == other.Growth
        && Cumulative == other.Cumulative
        && Document == other.Document
        && Text == other.Text
        && Currency == other.Currency
        && Rates == other.Rates
        && Statistic == other.Statistic
        && Display == other.Display
        && Listing == other.Listing
        && Projection == other.Projection
        && Records == other.Records;

    public override int GetHashCode() =>
        HashCode.Combine(Intent, Figure, Subject, Bases.Length, Spans.Length, Filters.Length, Breakdowns.Length);
}
