using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>The charts of a table: the bridge where it adds up, the months, the largest rows.</summary>
internal sealed class ChartWriter(Book book, Tabulator tabulator, Question question, Tabulation table)
{
    private const int RankedBars = 12;

    public async ValueTask<ImmutableArray<Chart>> Write(CancellationToken cancel)
    {
        var charts = ImmutableArray.CreateBuilder<Chart>();
        if (question.Scope.Bases.Length > 0 && question.Layout.Rows.Length > 0 && Bridge.From(book, table) is { } bridge)
            charts.Add(
                new Chart(
                    ChartKind.Bridge,
                    $"{table.Figure.Name}: {book.NameOf(question.Scope.Bases[0])} to {book.NameOf(question.Scope.Subject)}",
                    [.. bridge.Steps.Select(s => new ChartPoint(s.Label, s.Amount, null, null, s.Mark, s.Slice, s.Kind))]
                )
            );
        charts.Add(await Months(cancel));
        var ranked = Ranked();
        if (ranked.Points.Length > 1)
            charts.Add(ranked);
        return charts.ToImmutable();
    }

    /// <summary>Subject, base and gap month by month.</summary>
    public async ValueTask<Chart> Months(CancellationToken cancel)
    {
        var span = table.Spans[0];
        var shown =
            span.Count > 3 ? span
            : FiscalCalendar.YearToDate(span.To).Count >= 3 ? FiscalCalendar.YearToDate(span.To)
            : new PeriodSpan(span.To.AddMonths(-11), span.To);
        var byMonth = await tabulator.Tabulate(
            question
                .In(s => s with { Spans = [shown], Bases = [.. s.Bases.Take(1)] })
                .Laid(l => l with { Rows = [Breakdown.ByTime(TimeGrain.Month)], Ranking = null }),
            cancel
        );
        var grid = byMonth.Grid;
        return new Chart(
            ChartKind.Months,
            $"{table.Figure.Name} by month",
            [
                .. grid
                    .Rows.Where(r => r.Kind == RowKind.Member)
                    .Select(r => new ChartPoint(
                        book.Calendar.ShortNameOf(r.Slice.Span.From),
                        grid.Value(r, ColumnKind.Subject).Number,
                        grid.Value(r, ColumnKind.Base).Number,
                        grid.Value(r, ColumnKind.Variance).Number,
                        grid.Value(r, ColumnKind.Mark).Mark ?? "",
                        r.Slice
                    )),
            ]
        );
    }

    private Chart Ranked()
    {
        var grid = table.Grid;
        var kind = question.Scope.Bases.Length > 0 ? ColumnKind.Variance : ColumnKind.Subject;
        var rows = grid.Parts()
            .Where(r => r.Kind != RowKind.Other)
            .Select(r => (Row: r, Size: grid.Value(r, kind).Number))
            .Where(r => r.Size is not null)
            .OrderByDescending(r => Math.Abs(r.Size!.Value))
            .Take(RankedBars);
        return new Chart(
            ChartKind.Ranked,
            question.Scope.Bases.Length > 0 ? "Largest variances" : "Largest first",
            [
                .. rows.Select(r => new ChartPoint(
                    r.Row.Label,
                    grid.Value(r.Row, ColumnKind.Subject).Number,
                    grid.Value(r.Row, ColumnKind.Base).Number,
                    grid.Value(r.Row, ColumnKind.Variance).Number,
                    grid.Value(r.Row, ColumnKind.Mark).Mark ?? "",
                    r.Row.Slice
                )),
            ]
        );
    }
}
