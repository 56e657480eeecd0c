using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>A mention, or several composed into something larger; keeps the words it came from.</summary>
internal abstract record Item(int Start, int End);

internal sealed record WordItem(Mention Mention) : Item(Mention.Start, Mention.End);

/// <param name="YearGiven">False when the year has still to be taken from the current period.</param>
internal sealed record PeriodItem(int Start, int End, PeriodSpan Span, bool YearGiven) : Item(Start, End)
{
    /// <summary>The month or part of a year that waits for its year, or the year that stands alone; null for anything
    /// else.</summary>
    public Mention? Said { get; init; }

    /// <summary>Said as last year.</summary>
    public bool IsLastYear { get; init; }

    /// <summary>Said as this year.</summary>
    public bool IsThisYear { get; init; }

    /// <summary>A month said as that of last year.</summary>
    public bool OfLastYear { get; init; }

    /// <summary>Said as from one period to another.</summary>
    public bool FromTo { get; init; }

    /// <summary>The days that were said, of which the span has the months; null where months were.</summary>
    public DaySpan? Days { get; init; }

    /// <summary>So many of the last months.</summary>
    public bool Trailing { get; init; }

    /// <summary>From a period up to now.</summary>
    public bool Since { get; init; }

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

    /// <summary>Said right behind a rank, which is one of it alone.</summary>
    public bool Ranked { get; init; }
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

internal sealed record BasePeriodItem(int Start, int End, PeriodSpan Span) : Item(Start, End)
{
    /// <summary>Said to stand beside the other, not that the one is held against the other.</summary>
    public bool Beside { get; init; }
}

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

    /// <summary>The one row whose share is asked for.</summary>
    public PartAsked? Part { get; init; }

    /// <summary>Said of one: which region.</summary>
    public bool One { get; init; }

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

/// <summary>paid and still open → no test of the records, but what was paid of them and what is open, beside what they are
/// of.</summary>
internal sealed record AmountsItem(int Start, int End) : Item(Start, End);

/// <summary>how many entities → the rows of a split are counted.</summary>
internal sealed record CountItem(int Start, int End) : Item(Start, End);

/// <summary>as a percentage of sales · per visit, with no figure before it → the figure shown in percent of that, or for each of
/// it.</summary>
internal sealed record RatioToItem(int Start, int End, FigureRef Figure, bool Percent) : Item(Start, End);

/// <summary>the difference between two members → the first row less the second.</summary>
/// <param name="Claims">What is claimed of the first, where one was said to be better or more than the other.</param>
internal sealed record DifferenceItem(int Start, int End, Direction? Claims) : Item(Start, End);

/// <summary>growth of the gap · is the gap growing → the variance of the months, added up.</summary>
/// <param name="Claims">That it grew or shrank, where that is claimed.</param>
internal sealed record GrowingGapItem(int Start, int End, Direction? Claims) : Item(Start, End);

/// <summary>mentioning retainer → words that the text of an entry holds.</summary>
internal sealed record TextItem(int Start, int End, string Text) : Item(Start, End);

internal sealed record FilterItem(int Start, int End, string Dimension, ImmutableArray<string> Codes, bool Exclude)
    : Item(Start, End)
{
    /// <summary>Named by a word that they only share.</summary>
    public bool Guessed { get; init; }

    /// <summary>Says of what kind the rows are.</summary>
    public bool OfKind { get; init; }
}

/// <param name="Number">Null when no number was said.</param>
internal sealed record RankItem(int Start, int End, string Order, int? Number) : Item(Start, End)
{
    /// <summary>The rows after those that the last answer ranked.</summary>
    public bool Further { get; init; }

    /// <summary>All those that the last answer did not show.</summary>
    public bool Rest { get; init; }

    /// <summary>Rows before it: the third largest has two.</summary>
    public int Skip { get; init; }

    /// <summary>What was named right beside it and is ranked: the three largest routes; null where nothing was.</summary>
    public Breakdown? Ranked { get; init; }

    public bool OfLevel => Ranked is not null;

    /// <summary>"Top", "culprits": more than one; "the worst" may be the one.</summary>
    public bool Some { get; init; }

    /// <summary>The rows of the last answer in the order in which they stand.</summary>
    public bool AsShown { get; init; }

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

/// <summary>by revenue, behind other figures → the figure that ranks.</summary>
internal sealed record RankedByItem(int Start, int End, FigureRef Figure) : Item(Start, End);

/// <summary>more than 10% and 20k over → rows that are kept.</summary>
/// <param name="SideSaid">False where only a size was said: "more than 5%" of what fell or was missed.</param>
internal sealed record ConditionItem(int Start, int End, ImmutableArray<Condition> Conditions, bool SideSaid) : Item(Start, End)
{
    /// <summary>The word that says on which side: grew faster than 10%.</summary>
    public GapSense? Side { get; init; }

    /// <summary>"More than 5k over": over something, though what it is was not said.</summary>
    public bool OfGap { get; init; }
}

/// <summary>without approver · prepared and approved by the same person · more than 5 days after → a test of one
/// record.</summary>
internal sealed record FieldTestItem(int Start, int End, RecordTestKind Kind, string? Field, string? Other, decimal Number)
    : Item(Start, End);

/// <summary>newest first · sorted by due date → the order of rows.</summary>
/// <param name="By">size, worst, best, day, name, or field.</param>
/// <param name="Field">Role or code of the field, or dimension code; null where By says it all.</param>
internal sealed record OrderItem(int Start, int End, string By, string? Field, bool Descending) : Item(Start, End);

/// <summary>1-30, 31-60, over 60 → upper bounds of age.</summary>
internal sealed record BucketsItem(int Start, int End, ImmutableArray<int> Bounds) : Item(Start, End);
