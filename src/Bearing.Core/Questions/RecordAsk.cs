using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>What one record, or one journal, is held against.</summary>
public enum RecordTestKind
{
    /// <summary>The field says the value.</summary>
    Is,

    /// <summary>The field ends in the value.</summary>
    EndsIn,

    /// <summary>Some field holds the value, wherever it stands and whatever its case.</summary>
    Contains,

    /// <summary>The field says nothing.</summary>
    Empty,

    /// <summary>Two fields say the same, and both say something.</summary>
    SameAs,

    /// <summary>The day of the field is a Saturday or a Sunday; of a number, only the day of the week that it counts from
    /// Monday.</summary>
    Weekend,

    /// <summary>The day of the field is the last of its month.</summary>
    MonthEnd,

    /// <summary>A journal's day lies in another month than the one to which it was posted.</summary>
    OutOfPeriod,

    /// <summary>The amount is a whole multiple of the number.</summary>
    Round,

    /// <summary>The day of the field lies more than so many days after that of the other.</summary>
    DaysAfter,

    /// <summary>The day of the field lies not after that of the other.</summary>
    NotAfter,

    /// <summary>The day of the field lies more than so many days before the day in question.</summary>
    OlderThan,

    /// <summary>The day of the field lies at most so many days before the day in question.</summary>
    NotOlder,

    /// <summary>The day of the field lies ahead of the day in question, at most so many days.</summary>
    Ahead,

    /// <summary>Both fields hold a day.</summary>
    BothDays,

    /// <summary>The day of the field lies in the fiscal periods of the value; the other is their name.</summary>
    During,

    /// <summary>The day of the field is one of the days of the value; the other is their name.</summary>
    Days,

    /// <summary>Something of the amount is still open.</summary>
    Open,

    /// <summary>Nothing of the amount is open any more.</summary>
    Settled,

    /// <summary>Open, and due before the day in question.</summary>
    Overdue,

    /// <summary>Open, and not due before the day in question.</summary>
    NotDue,

    /// <summary>Another record of the same party, amount and day or number.</summary>
    Twice,

    /// <summary>The lines of a document do not add up to nothing.</summary>
    Unbalanced,

    /// <summary>A number that is left out in the run of document numbers.</summary>
    MissingNumber,
}

/// <param name="Field">Code of the field; null where the test speaks of the amount or of the whole.</param>
/// <param name="Other">Code of a second field.</param>
/// <param name="Value">Text for <see cref="RecordTestKind.Is"/>; several, of which any will do, stand on lines of their
/// own.</param>
/// <param name="Number">Days, or the multiple.</param>
public sealed record RecordTest(
    RecordTestKind Kind,
    string? Field = null,
    string? Other = null,
    string? Value = null,
    decimal Number = 0
)
{
    /// <summary>Between values of which any will do.</summary>
    public const char Or = '\n';

    /// <summary>What does not meet it is meant: not paid online.</summary>
    public bool Not { get; init; }
}

/// <summary>What records are gathered by.</summary>
/// <param name="Field">Code of the field.</param>
/// <param name="Level">Level of the tree up to which members are gathered: regions of the entities; of a date the
/// <see cref="TimeGrain"/>. Null for the members or the days themselves.</param>
public sealed record Gathering(string Field, string? Level = null);

/// <summary>
/// Asks for records, or for journals, instead of sums of cells. The question around it says the period (its last day is the day
/// in question), members, threshold and rank.
/// </summary>
/// <param name="Table">Code of the table; the ledger's own journals under <see cref="Books.Table.Ledger"/>.</param>
/// <param name="Tests">All of them hold.</param>
public sealed record RecordAsk(string Table, ImmutableArray<RecordTest> Tests)
{
    /// <summary>The ledger's own fields, beside those that its files brought.</summary>
    public const string Date = "date",
        Document = "document",
        Amount = "amount",
        Text = "text";

    /// <summary>What records are gathered by, the outermost first; empty to list them.</summary>
    public ImmutableArray<Gathering> By { get; init; } = [];

    /// <summary>Field whose amounts are shown and summed.</summary>
    public string? Sum { get; init; }

    /// <summary>Field of the day from which age counts; set where ageing is asked for.</summary>
    public string? Due { get; init; }

    /// <summary>Field of the day on which a record was paid, so that what was open on an earlier day is known; null where the
    /// table has none.</summary>
    public string? PaidOn { get; init; }

    /// <summary>The day in question; null for the last day of the question's period.</summary>
    public DateOnly? AsAt { get; init; }

    /// <summary>Upper bounds of the age in days, rising: 30, 60, 90.</summary>
    public ImmutableArray<int> Buckets { get; init; } = [];

    /// <summary>Only how many there are, and their averages.</summary>
    public bool CountOnly { get; init; }

    /// <summary>Average or median amount, or how many different ones there are of what they are gathered by.</summary>
    public RowStatistic? Statistic { get; init; }

    /// <summary>The question's limits are held against what is gathered, not against each record.</summary>
    public bool LimitsGroups { get; init; }

    /// <summary>For journals: only lines of the question's figure count.</summary>
    public bool OfFigure { get; init; }

    /// <summary>A second amount beside the first: of the records that meet this as well.</summary>
    public RecordTest? Also { get; init; }

    /// <summary>Fields of further amounts that stand beside the first, summed like it: what was paid and what is still
    /// open.</summary>
    public ImmutableArray<string> Beside { get; init; } = [];

    public bool Equals(RecordAsk? other) =>
        other is not null
        && Table == other.Table
        && Tests.ToHashSet().SetEquals(other.Tests)
        && By.SequenceEqual(other.By)
        && Sum == other.Sum
        && Due == other.Due
        && PaidOn == other.PaidOn
        && AsAt == other.AsAt
        && Buckets.SequenceEqual(other.Buckets)
        && CountOnly == other.CountOnly
        && Statistic == other.Statistic
        && OfFigure == other.OfFigure
        && LimitsGroups == other.LimitsGroups
        && Also == other.Also
        && Beside.SequenceEqual(other.Beside);

    public override int GetHashCode() => HashCode.Combine(Table, Tests.Length, By.Length, Sum, Due);
}

/// <param name="Id">Code of the field, or what was computed: count, days, bucket.</param>
public sealed record RecordColumn(string Id, string Title, FieldType Type);

/// <param name="Values">In the order of the columns; numbers in plain decimal notation, days as yyyy-MM-dd; null for
/// nothing.</param>
/// <param name="Load">Load and row that brought it; 0 for a row that gathers several.</param>
public sealed record RecordTableRow(ImmutableArray<string?> Values, int Load, int Row);

/// <summary>Records or journals that were asked for.</summary>
/// <param name="Totals">By title: what holds for all of them, also for those not shown.</param>
/// <param name="Count">How many there are, also those not shown.</param>
public sealed record RecordTable(
    ImmutableArray<RecordColumn> Columns,
    ImmutableArray<RecordTableRow> Rows,
    ImmutableArray<(string Title, decimal Value)> Totals,
    long Count
)
{
    /// <summary>What was done to amounts in several currencies, in words.</summary>
    public ImmutableArray<string> Notes { get; init; } = [];
}
