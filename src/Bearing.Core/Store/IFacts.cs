using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Store;

/// <summary>Sums of cells.</summary>
/// <param name="Version">Scenario version id.</param>
/// <param name="GroupBy">Dimension ids; one result row for each combination of their members that has facts.</param>
/// <param name="ByPeriod">Whether periods are kept apart too.</param>
public sealed record CellQuery(
    int Version,
    PeriodSpan Span,
    ImmutableArray<MemberFilter> Filters,
    ImmutableArray<int> GroupBy,
    bool ByPeriod
)
{
    /// <summary>Whether amounts posted in different currencies are kept apart, and those that were translated from those that
    /// came translated.</summary>
    public bool ByCurrency { get; init; }
}

/// <param name="Members">Member ids in the order of the query's GroupBy.</param>
/// <param name="Period">Ordinal of the period, or 0 when periods are not kept apart.</param>
/// <param name="Amount">Sum in the book's currency, credit-positive; statistics in their unit.</param>
/// <param name="Lines">Number of lines behind the sum.</param>
public sealed record CellSum(ImmutableArray<int> Members, int Period, decimal Amount, long Lines)
{
    /// <summary>Where currencies are kept apart: the one in which the lines were posted; null for the book's own.</summary>
    public string? Currency { get; init; }

    /// <summary>Sum in <see cref="Currency"/>, credit-positive; equals the amount in the book's own.</summary>
    public decimal Local { get; init; }

    /// <summary>Whether Bearing translated the lines; false where their file brought both amounts.</summary>
    public bool Translated { get; init; }
}

public enum LineOrder
{
    /// <summary>By load, then row: as the files had them.</summary>
    AsLoaded,

    /// <summary>Largest absolute amount first.</summary>
    BySize,

    /// <summary>Smallest absolute amount first.</summary>
    Smallest,

    /// <summary>Latest date first; what has no date comes last.</summary>
    Newest,

    /// <summary>Earliest date first; what has no date comes first.</summary>
    Oldest,
}

/// <param name="Limit">Up to <see cref="MostLines"/>; 0 where only their number and sum are wanted.</param>
/// <param name="Cursor">What the previous page gave, or null for the first.</param>
public sealed record LineQuery(
    int Version,
    PeriodSpan Span,
    ImmutableArray<MemberFilter> Filters,
    LineOrder Order,
    int Limit,
    string? Cursor = null
)
{
    public const int MostLines = 10_000;

    /// <summary>Only lines of at least this absolute amount.</summary>
    public decimal AtLeast { get; init; }

    /// <summary>Only lines of at most this absolute amount; null for all.</summary>
    public decimal? AtMost { get; init; }

    /// <summary>Only lines of this document; null for all.</summary>
    public string? Document { get; init; }

    /// <summary>Whether only the end of the document's number is given.</summary>
    public bool DocumentEnds { get; init; }

    /// <summary>Only lines whose text holds this, whatever the case; null for all.</summary>
    public string? Text { get; init; }

    /// <summary>Whether the loads that brought the lines are told.</summary>
    public bool WithLoads { get; init; }
}

/// <summary>One row of a loaded table.</summary>
/// <param name="Load">Number of the load that brought it.</param>
/// <param name="Row">Row in the file, the heading being row 1.</param>
/// <param name="Period">Ordinal of the fiscal period.</param>
/// <param name="Members">Member ids in the order of the book's dimensions.</param>
/// <param name="Amount">Book currency, credit-positive.</param>
/// <param name="LocalAmount">In <paramref name="Currency"/>; null where the file has none.</param>
public sealed record Line(
    int Version,
    int Load,
    int Row,
    string Document,
    DateOnly? Date,
    int Period,
    ImmutableArray<int> Members,
    decimal Amount,
    decimal? LocalAmount,
    string? Currency,
    string Text
)
{
    /// <summary>The rate at which Bearing translated the line; null where nothing was translated.</summary>
    public Rate? Rate { get; init; }

    /// <summary>Further fields of the line: field code → text.</summary>
    public ImmutableSortedDictionary<string, string> Fields { get; init; } = ImmutableSortedDictionary<string, string>.Empty;
}

/// <param name="Count">Lines that the query matches, on all pages.</param>
/// <param name="Sum">Their sum.</param>
/// <param name="Next">Cursor of the next page; null on the last.</param>
public sealed record LinePage(ImmutableArray<Line> Lines, long Count, decimal Sum, string? Next)
{
    /// <summary>Loads with the number of their lines, on all pages, where the query asks for them.</summary>
    public ImmutableArray<(int Load, long Lines)> Loads { get; init; } = [];
}

/// <summary>
/// The figures of one <see cref="BookView"/>: one state of a book, as far as an asker sees it. Results are exact and come in a fixed order:
/// cells by members, then period, then currency (the book's own first), lines as the query says.
/// </summary>
public interface IFacts
{
    ValueTask<IReadOnlyList<CellSum>> Cells(CellQuery query, CancellationToken cancel);

    ValueTask<LinePage> Lines(LineQuery query, CancellationToken cancel);

    ValueTask<RecordPage> Records(RecordQuery query, CancellationToken cancel);
}

/// <summary>Position after a line in a given order, as text that only the fact stores read.</summary>
/// <param name="Key">What the order goes by first: size, or day as a number; 0 as loaded.</param>
public readonly record struct LineCursor(decimal Key, int Load, int Row)
{
    public static LineCursor At(Line line, LineOrder order) =>
        new(
            order switch
            {
                LineOrder.BySize or LineOrder.Smallest => Math.Abs(line.Amount),
                LineOrder.Newest or LineOrder.Oldest => line.Date?.DayNumber ?? 0,
                _ => 0m,
            },
            line.Load,
            line.Row
        );

    public static bool Falls(LineOrder order) => order is LineOrder.BySize or LineOrder.Newest;

    public override string ToString() => FormattableString.Invariant($"{Key}_{Load}_{Row}");

    /// <exception cref="FormatException">When the text is not a cursor.</exception>
    public static LineCursor? Parse(string? text)
    {
        if (text is null)
            return null;
        var parts = text.Split('_');
        var culture = System.Globalization.CultureInfo.InvariantCulture;
        return
            parts.Length == 3
            && decimal.TryParse(parts[0], culture, out var size)
            && int.TryParse(parts[1], culture, out var load)
            && int.TryParse(parts[2], culture, out var row)
            ? new(size, load, row)
            : throw new FormatException("This is not a cursor.");
    }
}
