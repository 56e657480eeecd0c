using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

public enum BridgeStepKind
{
    Start,
    Step,
    Other,
    End,
}

/// <param name="Amount">Start and end: the total as shown. Steps: the shown amount's change; they run from start to end
/// exactly.</param>
/// <param name="Mark">F, U or empty; a rising cost is a positive step marked U.</param>
/// <param name="Slice">Null for the gathered rest.</param>
public sealed record BridgeStep(string Label, decimal Amount, string Mark, BridgeStepKind Kind, Slice? Slice);

/// <summary>Ordered steps from the base's total to the subject's.</summary>
public sealed record Bridge(ImmutableArray<BridgeStep> Steps)
{
    /// <summary>More steps than this are gathered, smallest first, into one.</summary>
    public const int MostSteps = 8;

    /// <summary>Steps under this part of the largest one cannot be seen and are gathered too.</summary>
    private const decimal LeastPart = 0.005m;

    /// <summary>Null where parts do not add to the total (ratios) or a side is missing.</summary>
    public static Bridge? From(Book book, Tabulation table, int block = 0, int baseIndex = 0)
    {
        if (table.Figure is not SumFigure figure)
            return null;
        var grid = table.Grid;
        if (grid.Value(grid.Total, ColumnKind.Base, block, baseIndex).Number is not { } start)
            return null;
        var end = grid.Value(grid.Total, ColumnKind.Subject, block).Number!.Value;
        var sign = figure.IsProfit ? figure.ShownSign : 1;
        var rows = grid.Parts()
            .Select(r => (Row: r, Variance: grid.Value(r, ColumnKind.Variance, block, baseIndex).Number ?? 0m))
            .ToList();
        // A balance's months are levels, not parts: no steps can be made of them.
        if (figure.OverTime != OverTime.Sum && rows.Any(r => r.Row.Members.Any(m => m.Dimension == "period")))
            return null;
        var least = rows.Select(r => Math.Abs(r.Variance)).DefaultIfEmpty().Max() * LeastPart;
        var kept = rows.Where(r => r.Row.Kind != RowKind.Other)
            .OrderByDescending(r => Math.Abs(r.Variance))
            .Take(MostSteps)
            .Where(r => r.Variance != 0m && Math.Abs(r.Variance) >= least)
            .Select(r => r.Row.Id)
            .ToHashSet();
        var baseColumn = grid.Columns.First(c => c.Kind == ColumnKind.Base && c.Block == block && c.Base == baseIndex);
        var total = grid.Total.Slice with { Span = table.Spans[block] };
        var steps = ImmutableArray.CreateBuilder<BridgeStep>();
        steps.Add(new(book.NameOf(baseColumn.Side!), start, "", BridgeStepKind.Start, total with { Side = baseColumn.Side! }));
        steps.AddRange(
            rows.Where(r => kept.Contains(r.Row.Id))
                .Select(r => new BridgeStep(
                    r.Row.Label,
                    r.Variance * sign,
                    Mark(grid, r.Row, block, baseIndex),
                    BridgeStepKind.Step,
                    r.Row.Slice with
                    {
                        Span = SpanOf(r.Row, total),
                    }
                ))
        );
        var rest = end - start - steps.Skip(1).Sum(s => s.Amount);
        var gathered = rows.Count(r => !kept.Contains(r.Row.Id) && r.Variance != 0m);
        if (rest != 0m || gathered > 0)
            steps.Add(new($"Other ({gathered})", rest, "", BridgeStepKind.Other, null));
        steps.Add(new(book.NameOf(total.Side), end, "", BridgeStepKind.End, total));
        return new Bridge(steps.ToImmutable());
    }

    private static PeriodSpan SpanOf(Row row, Slice total) =>
        row.Members.Any(m => m.Dimension == "period") ? row.Slice.Span : total.Span;

    private static string Mark(Grid grid, Row row, int block, int baseIndex) =>
        grid.Value(row, ColumnKind.Mark, block, baseIndex).Mark ?? "";
}
