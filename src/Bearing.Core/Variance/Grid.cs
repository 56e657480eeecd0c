using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

public enum ColumnKind
{
    Subject,
    Base,
    Variance,
    Percent,
    Mark,
    Share,

    /// <summary>What the months so far are carried forward to: run rate, outlook, what is left.</summary>
    Projected,

    /// <summary>A further figure of the same rows.</summary>
    Beside,
}

/// <summary>One column of a grid.</summary>
/// <param name="Id">Kind in lower case, with the number of the base from the second on; with several spans the span stands in
/// front.</param>
/// <param name="Side">Whose figures these are; null for what is computed from two sides.</param>
/// <param name="Span">The periods that the figures are taken from, seen from the subject.</param>
/// <param name="Block">Index of the span among the question's spans.</param>
public sealed record Column(string Id, ColumnKind Kind, string Title, Side? Side, PeriodSpan Span, int Block, int Base)
{
    /// <summary>The further figure that the column shows, with its own unit; null for the question's own.</summary>
    public Figure? Figure { get; init; }
}

public enum RowKind
{
    Member,
    Subtotal,
    Total,
    Calculated,
    Other,

    /// <summary>An average or median over other rows; no part of the total.</summary>
    Summary,
}

/// <summary>Why a figure is not there.</summary>
public enum Absence
{
    /// <summary>Outside what the scenario covers.</summary>
    Missing,

    /// <summary>The scenario does not keep the dimension by which the row is split.</summary>
    NotKept,

    /// <summary>A percentage of nothing, or of a base with the opposite sign.</summary>
    NotMeaningful,
}

/// <summary>A figure, a mark (F or U), or the cause of its absence.</summary>
/// <param name="Number">Shown amount; a variance carries the profit sign; percent and share are in percent.</param>
public readonly record struct GridValue(decimal? Number, string? Mark = null, Absence? Absence = null)
{
    public static GridValue Absent(Absence absence) => new(null, null, absence);
}

/// <param name="Dimension">Dimension code, or <c>period</c>.</param>
public sealed record RowMember(string Dimension, string Code, string Name);

/// <param name="Id">Path of dimension and code, stable for the same question.</param>
/// <param name="Level">Depth of indentation; the total has 0.</param>
/// <param name="Members">From the outermost split to the row's own member, which is last.</param>
/// <param name="Values">In the order of the grid's columns.</param>
/// <param name="CanOpen">Whether there is a level below in the row's own dimension.</param>
public sealed record Row(
    string Id,
    int Level,
    RowKind Kind,
    string Label,
    ImmutableArray<RowMember> Members,
    ImmutableArray<GridValue> Values,
    Slice Slice,
    bool CanOpen
)
{
    /// <summary>A row of several splits at once, such as an entity with an account, in a ranking of such pairs.</summary>
    public bool IsPair => Level == 0 && Kind == RowKind.Member && Members.Any(m => m.Dimension != Members[0].Dimension);
}

/// <summary>A table of figures. The total stands last; a parent stands before its parts, which add up to it exactly.</summary>
public sealed record Grid(ImmutableArray<Column> Columns, ImmutableArray<Row> Rows, string Unit, int Decimals)
{
    public Row Total => Rows[^1];

    /// <summary>Members that open no further: every split at its finest.</summary>
    public IEnumerable<Row> Innermost() =>
        Rows.Where((r, i) => r.Kind == RowKind.Member && (i + 1 == Rows.Length || Rows[i + 1].Level <= r.Level));

    /// <summary>
    /// The rows of the outermost split at its finest level, with the rest row of a ranking: they add up to the total and are
    /// what bridges, rankings and "the largest one" speak of.
    /// </summary>
    public IEnumerable<Row> Parts()
    {
        var first = Rows.FirstOrDefault(r => r.Members.Length > 0)?.Members[0].Dimension;
        for (var i = 0; i < Rows.Length; i++)
        {
            var row = Rows[i];
            if (row is { Kind: RowKind.Other, Level: 0 } || row.IsPair)
                yield return row;
            if (row.Kind is not (RowKind.Member or RowKind.Subtotal) || row.Members.Any(m => m.Dimension != first))
                continue;
            var opensFurther =
                i + 1 < Rows.Length
                && Rows[i + 1].Members.Length > row.Members.Length
                && Rows[i + 1].Members[^1].Dimension == first;
            if (!opensFurther)
                yield return row;
        }
    }

    public GridValue Value(Row row, ColumnKind kind, int block = 0, int baseIndex = 0)
    {
        for (var i = 0; i < Columns.Length; i++)
        {
            var column = Columns[i];
            if (column.Kind == kind && column.Block == block && (column.Base == baseIndex || kind == ColumnKind.Subject))
                return row.Values[i];
        }
        return default;
    }
}

/// <summary>A grid with what has to be said about it.</summary>
/// <param name="Spans">The periods actually compared, one for each span asked for.</param>
public sealed record Tabulation(Figure Figure, Grid Grid, ImmutableArray<PeriodSpan> Spans, ImmutableArray<string> Notes)
{
    /// <summary>Rows of the outermost split that meet the conditions, and all that were held against them; null where nobody
    /// counts.</summary>
    public (int Met, int Of)? Counted { get; init; }

    /// <summary>Of what is carried forward, all the periods that there are figures for; null where nothing is.</summary>
    public PeriodSpan? Reach { get; init; }
}
