using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>
/// Carries the months so far forward to the year, and holds them against the plan of the whole year. Each side is tabulated by
/// itself over its own months; rows of the same members stand in one line.
/// </summary>
public sealed class Projector(Book book, IFacts facts)
{
    private const int MonthsOfYear = 12;
    private readonly Tabulator _tabulator = new(book, facts);

    /// <exception cref="CannotAnswerException">For ratios and balances, where nothing is used up, and where the book has no plan
    /// or forecast to hold against.</exception>
    public async ValueTask<Tabulation> Project(Question question, Projection projection, CancellationToken cancel)
    {
        var figure = book.Figure(question.Scope.Figure)
            ?? throw new CannotAnswerException($"The book has no figure \"{question.Scope.Figure.Code}\".");
        if (figure is not SumFigure { OverTime: OverTime.Sum } sum)
            throw new CannotAnswerException(
                $"{figure.Name} does not add up over months, so it cannot be carried forward to a year.",
                $"{figure.Name} year to date"
            );
        var span = question.Scope.Spans[0];
        var year = FiscalCalendar.Year(span.To.Year);
        // A pace is that of the months that were named; everything else is of the year, whose months so far all count.
        if (projection != Projection.RunRate)
            span = FiscalCalendar.YearToDate(span.To);
        var plain = new Question(
            question.Scope with
            {
                Spans = [span],
                Bases = [],
            },
            question.Layout with
            {
                Ranking = null,
                Conditions = [],
            },
            new Kind.Values(OfRows.Nothing with { Claim = question.Of.Claim }, [])
        );
        var actual = await _tabulator.Tabulate(plain, cancel);
        span = actual.Spans[0];
        var (rest, restSide) = projection == Projection.Outlook ? await Rest(plain, span, year, cancel) : (null, null);
        var plan =
            question.Scope.Bases.Length > 0
                ? await _tabulator.Tabulate(plain.In(s => s with { Subject = question.Scope.Bases[0], Spans = [year] }), cancel)
                : null;
        var shape = new Shape(projection, sum, (decimal)MonthsOfYear / span.Count, rest is not null, plan is not null);
        var columns = Columns(question, shape, span, year, restSide);
        var rows = Merge([actual, .. new[] { rest, plan }.OfType<Tabulation>()])
            .Select(template =>
                Fill(template, shape, At(actual, template), At(rest, template), At(plan, template), columns.Length)
            )
            .ToList();
        if (question.Layout.Ranking is { } ranking && rows.TrueForAll(r => r.Level == 0))
            rows = Ranked(rows, ranking, columns.Select(c => c.Kind).ToList().IndexOf(ColumnKind.Projected));
        var notes = new[] { actual, rest, plan }.OfType<Tabulation>().SelectMany(t => t.Notes).Distinct().ToList();
        if (projection == Projection.RunRate)
            notes.Insert(
                0,
                $"The pace of {book.Calendar.NameOf(span)} times {shape.Factor:0.####}; seasons and one-off amounts are carried on with it."
            );
        if (plan is not null)
            notes.Insert(
                0,
                $"{book.NameOf(question.Scope.Bases[0])} is that of all of {book.Calendar.NameOf(plan.Spans[0])}; {book.NameOf(Side.Actual)} goes to {book.Calendar.NameOf(span.To)}."
            );
        return new Tabulation(figure, new Grid(columns, [.. rows], figure.Unit, figure.Decimals), [span], [.. notes])
        {
            Reach = rest is null ? span : new PeriodSpan(span.From, rest.Spans[0].To),
        };
    }

    /// <summary>What decides the columns.</summary>
    private sealed record Shape(Projection Projection, SumFigure Figure, decimal Factor, bool HasRest, bool HasPlan);

    private async ValueTask<(Tabulation, Side)> Rest(Question plain, PeriodSpan span, PeriodSpan year, CancellationToken cancel)
    {
        var forecast = book.Latest(ScenarioKind.Forecast, year.To)
            ?? throw new CannotAnswerException("The book has no forecast, so the months to come are not known.", "run rate");
        var side = new Side(SideKind.Version, forecast.Code);
        if (span.To == year.To)
            throw new CannotAnswerException($"{book.Calendar.NameOf(year)} is over; there are no months left to forecast.");
        return (
            await _tabulator.Tabulate(
                plain.In(s => s with { Subject = side, Spans = [new PeriodSpan(span.To.AddMonths(1), year.To)] }),
                cancel
            ),
            side
        );
    }

    private ImmutableArray<Column> Columns(Question question, Shape shape, PeriodSpan span, PeriodSpan year, Side? rest)
    {
        var columns = ImmutableArray.CreateBuilder<Column>();
        void Add(ColumnKind kind, string title, Side? side, PeriodSpan at, int index = 0) =>
            columns.Add(
                new Column(kind.ToString().ToLowerInvariant() + (index > 0 ? index + 1 : ""), kind, title, side, at, 0, index)
            );
        Add(ColumnKind.Subject, book.NameOf(Side.Actual), Side.Actual, span);
        if (shape.HasRest)
            Add(ColumnKind.Base, book.NameOf(rest!), rest, new PeriodSpan(span.To.AddMonths(1), year.To), 1);
        if (shape.Projection is Projection.RunRate or Projection.Outlook)
            Add(ColumnKind.Projected, shape.Projection == Projection.RunRate ? "Run rate" : "Outlook", null, year);
        if (shape.HasPlan)
            Add(ColumnKind.Base, book.NameOf(question.Scope.Bases[0]), question.Scope.Bases[0], year);
        if (shape.Projection == Projection.Remaining)
            Add(ColumnKind.Projected, "Remaining", null, year);
        else if (shape.Projection == Projection.Used)
            Add(ColumnKind.Share, "Used %", null, year);
        else if (shape.HasPlan)
        {
            Add(ColumnKind.Variance, "Variance", null, year);
            Add(ColumnKind.Percent, "%", null, year);
            Add(ColumnKind.Mark, "F/U", null, year);
        }
        return columns.ToImmutable();
    }

    private Row Fill(Row template, Shape shape, decimal? actual, decimal? rest, decimal? plan, int width)
    {
        var values = ImmutableArray.CreateBuilder<GridValue>(width);
        void Number(decimal? number) => values.Add(number is null ? GridValue.Absent(Absence.Missing) : new GridValue(number));
        Number(actual);
        if (shape.HasRest)
            Number(rest);
        decimal? projected = shape.Projection switch
        {
            Projection.RunRate => actual is { } so ? decimal.Round(so * shape.Factor, 6) : null,
            Projection.Outlook => actual is null && rest is null ? null : (actual ?? 0m) + (rest ?? 0m),
            Projection.Remaining => plan is null ? null : plan - (actual ?? 0m),
            _ => null,
        };
        if (shape.Projection is Projection.RunRate or Projection.Outlook)
            Number(projected);
        if (shape.HasPlan)
            Number(plan);
        if (shape.Projection == Projection.Remaining)
            Number(projected);
        else if (shape.Projection == Projection.Used)
            values.Add(
                plan is { } all && all != 0m && actual is { } part
                    ? new GridValue(decimal.Round(100m * part / all, 4))
                    : GridValue.Absent(Absence.NotMeaningful)
            );
        else if (shape.HasPlan)
        {
            var sign = RowSign(template, shape.Figure);
            var variance = projected is { } to && plan is { } from ? (to - from) * sign : (decimal?)null;
            Number(variance);
            values.Add(variance is { } v ? GridWriter.Percent(v, projected, plan) : GridValue.Absent(Absence.Missing));
            values.Add(
                new GridValue(
                    null,
                    !shape.Figure.IsProfit ? ""
                        : variance > 0 ? "F"
                        : variance < 0 ? "U"
                        : ""
                )
            );
        }
        return template with { Values = values.MoveToImmutable() };
    }

    /// <summary>A cost over plan lowers profit, on the rows of accounts as on the total.</summary>
    private int RowSign(Row row, SumFigure figure) =>
        row.Members.LastOrDefault(m => m.Dimension == book.Accounts.Code) is { } account
        && book.TryMember(book.Accounts.Id, account.Code, out var member)
            ? book.AccountFigure(member).ShownSign
            : figure.ShownSign;

    /// <summary>The rows of all sides, each once: those that a later side adds stand behind their neighbours, the total
    /// last.</summary>
    private static List<Row> Merge(IReadOnlyList<Tabulation> sides)
    {
        var rows = sides[0].Grid.Rows.ToList();
        foreach (var row in sides.Skip(1).SelectMany(s => s.Grid.Rows).Where(r => r.Kind is RowKind.Member or RowKind.Subtotal))
        {
            if (rows.Exists(r => r.Id == row.Id))
                continue;
            var parent = row.Id.Contains('/', StringComparison.Ordinal) ? row.Id[..row.Id.LastIndexOf('/')] : "";
            var near =
                parent.Length == 0
                    ? -1
                    : rows.FindLastIndex(r => r.Id == parent || r.Id.StartsWith(parent + "/", StringComparison.Ordinal));
            rows.Insert(near < 0 ? rows.Count - 1 : near + 1, row);
        }
        return rows;
    }

    private static decimal? At(Tabulation? side, Row row) =>
        side is null ? null
        : side.Grid.Rows.FirstOrDefault(r => r.Id == row.Id) is { } found ? side.Grid.Value(found, ColumnKind.Subject).Number
        : row.Kind == RowKind.Calculated ? null
        : 0m;

    private static List<Row> Ranked(List<Row> rows, Ranking ranking, int column)
    {
        var parts = rows.Where(r => r.Kind != RowKind.Total)
            .OrderByDescending(r => column < 0 ? 0m : r.Values[column].Number ?? decimal.MinValue)
            .ToList();
        if (ranking.Ascending)
            parts.Reverse();
        return [.. parts.Skip(ranking.Skip).Take(ranking.Count), .. rows.Where(r => r.Kind == RowKind.Total)];
    }
}
