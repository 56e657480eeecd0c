using System.Collections.Immutable;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

public enum ChartKind
{
    /// <summary>Steps from the base to the subject.</summary>
    Bridge,

    /// <summary>Subject, base and gap month by month, up to the end of the span asked for.</summary>
    Months,

    /// <summary>Rows by size of their variance, or of their value when nothing is compared.</summary>
    Ranked,
}

/// <summary>One bar or step; figures as shown, the variance in profit sign.</summary>
public sealed record ChartPoint(
    string Label,
    decimal? Subject,
    decimal? Base,
    decimal? Variance,
    string Mark,
    Slice? Slice,
    BridgeStepKind? Step = null
);

public sealed record Chart(ChartKind Kind, string Title, ImmutableArray<ChartPoint> Points);

public enum TieOutState
{
    /// <summary>The shown total equals the sum of the lines to the last digit.</summary>
    Ties,

    /// <summary>It does not; the difference is shown.</summary>
    Differs,

    /// <summary>The figure is not a sum of lines (a ratio, a closing balance, an average).</summary>
    NotASum,
}

/// <param name="Shown">The total as stored (credit-positive).</param>
/// <param name="Lines">Sum of the ledger lines behind it, taken from the lines themselves.</param>
public sealed record TieOut(TieOutState State, decimal Shown, decimal Lines, long Count)
{
    /// <summary>Loads that brought the lines, with the number of their lines.</summary>
    public ImmutableArray<(int Load, long Lines)> Loads { get; init; } = [];
}

/// <summary>How the figures of an answer come about.</summary>
/// <param name="Words">One step each, in plain words.</param>
/// <param name="Slices">By column: the address of the total's cells, from which the same figure can be asked for again.</param>
public sealed record Calculation(ImmutableArray<string> Words, ImmutableArray<(string Column, Slice Slice)> Slices);

/// <summary>One answer to one question.</summary>
/// <param name="Id">Same question and edition, same id.</param>
/// <param name="Table">Null for a list of entries.</param>
/// <param name="Entries">Set for a list of entries.</param>
/// <param name="Next">Follow-up questions in words that the reading understands.</param>
public sealed record Answer(
    string Id,
    Question Question,
    string Headline,
    Tabulation? Table,
    LinePage? Entries,
    ImmutableArray<Chart> Charts,
    ImmutableArray<Sentence> Commentary,
    DriverReport? Drivers,
    TieOut TieOut,
    ImmutableArray<string> Notes,
    ImmutableArray<string> Next
)
{
    /// <summary>Null for lists of entries and records, which are shown as they were loaded.</summary>
    public Calculation? Calculation { get; init; }

    /// <summary>Set where records or journals were asked for.</summary>
    public RecordTable? Records { get; init; }
}
