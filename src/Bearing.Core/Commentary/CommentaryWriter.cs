using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Core.Variance;

namespace Bearing.Core.Commentary;

/// <summary>A single line that makes up most of what a driver came to.</summary>
public sealed record StandoutEntry(Driver Driver, SumFigure Figure, Line Line);

/// <summary>
/// Writes one paragraph from computed figures only: headline, the drivers, what went against them, what is left, and the
/// largest entries as evidence. Direction words follow from the sign and the account's type. It never names a cause.
/// </summary>
public sealed partial class CommentaryWriter(Book book, Question question, Tabulation table)
{
    private const int MostNamed = 3;
    private readonly Figure _figure = table.Figure;
    private readonly Grid _grid = table.Grid;

    public ImmutableArray<Sentence> Write(DriverReport? drivers, ImmutableArray<StandoutEntry> standouts)
    {
        var sentences = ImmutableArray.CreateBuilder<Sentence>();
        sentences.Add(Headline());
        if (question.Scope.Bases.Length == 0)
        {
            if (question.Layout.Ranking is null && LargestRow() is { } largest)
                sentences.Add(largest);
            return [.. sentences, .. standouts.Select(Standout)];
        }
        if (Threshold() is { } threshold)
            sentences.Add(threshold);
        // What needs no comment gets one only when somebody asks why.
        if (drivers is null || (sentences.Count > 1 && question.Kind is not Kind.Why))
            return [.. sentences, .. standouts.Select(Standout)];
        for (var i = 0; i < drivers.Drivers.Length; i++)
        {
            sentences.Add(DriverSentence(drivers.Drivers[i], i, drivers));
            if (drivers.Drivers[i].Timing is { } timing && drivers.Timing is null)
                sentences.Add(TimingSentence(drivers.Drivers[i].Slice, drivers.Drivers[i].Member.Name, timing));
        }
        if (drivers.Timing is { } whole)
            sentences.Add(TimingSentence(_grid.Total.Slice, _figure.Name, whole));
        if (drivers.Offsets.Length > 0)
            sentences.Add(Offsets(drivers));
        if (drivers.Rest != 0m && drivers.Drivers.Length + drivers.Offsets.Length > 0)
            sentences.Add(Rest(drivers));
        sentences.AddRange(standouts.Select(Standout));
        return sentences.ToImmutable();
    }

    /// <summary>"Actual has nothing of Port costs for Brackness Harbour in September 2026, and neither has Budget
    /// 2026."</summary>
    public Sentence Nothing()
    {
        var others = question.Scope.Bases.Select(b => book.NameOf(b, table.Spans[0])).ToList();
        return new(
            SentenceRole.Headline,
            [
                new(
                    $"{book.NameOf(question.Scope.Subject, table.Spans[0])} has nothing of {_figure.Name}{Scoping.Named(book, question)} {When}{(others.Count > 0 ? $", and neither has {string.Join(" or ", others)}" : "")}."
                ),
            ]
        );
    }

    private string When =>
        table.Spans[0] is { Count: > 1 and < 12, From.Number: 1 } span && span == FiscalCalendar.YearToDate(span.To)
            ? $"in the year to {book.Calendar.NameOf(table.Spans[0].To)}"
            : $"in {book.Calendar.NameOf(table.Spans[0])}";

    private Sentence Headline()
    {
        var total = _grid.Total;
        var subject = _grid.Value(total, ColumnKind.Subject).Number;
        var segments = ImmutableArray.CreateBuilder<Segment>();
        segments.AddRange(First());
        segments.Add(new($"{_figure.Name}{Scoping.Named(book, question)} {When} "));
        if (subject is null)
        {
            segments.Add(new("cannot be computed: there is nothing to divide by."));
            return new(SentenceRole.Headline, segments.ToImmutable());
        }
        segments.Add(new(IsOrWere()));
        segments.Add(Fig(subject.Value, "subject", total.Slice));
        // A plan or another year is never read out as what was booked.
        if (question.Scope.Subject != Side.Actual)
            segments.Add(new($" in {book.NameOf(question.Scope.Subject, table.Spans[0])}"));
        segments.AddRange(Beside(total));
        if (question.Scope.Bases.Length == 0)
            segments.Add(new("."));
        for (var i = 0; i < question.Scope.Bases.Length; i++)
            segments.AddRange(Against(total, i, subject.Value));
        return new(SentenceRole.Headline, segments.ToImmutable());
    }

    /// <summary>", Sailings to 12,731 and Passengers to 1,894,870".</summary>
    private IEnumerable<Segment> Beside(Row total)
    {
        var further = _grid
            .Columns.Select((c, i) => (Column: c, total.Values[i].Number))
            .Where(c => c.Column.Figure is not null && c.Number is not null)
            .ToList();
        for (var i = 0; i < further.Count; i++)
        {
            yield return new($"{(i + 1 < further.Count ? "," : " and")} {further[i].Column.Figure!.Name} to ");
            yield return new(
                Amounts.Short(further[i].Number!.Value, further[i].Column.Figure!),
                further[i].Number,
                further[i].Column.Id,
                total.Slice with
                {
                    Figure = further[i].Column.Figure!.Ref,
                }
            );
        }
    }

    /// <summary>", EUR 88k (17.6 %) below Budget 2026, which is unfavourable".</summary>
    private IEnumerable<Segment> Against(Row total, int index, decimal subject)
    {
        var name = book.NameOf(question.Scope.Bases[index], table.Spans[0]);
        var last = index == question.Scope.Bases.Length - 1;
        // What the side before was judged to be is closed by a comma of its own.
        var lead =
            index == 0 ? ", "
            : _grid.Value(total, ColumnKind.Mark, 0, index - 1).Mark is "F" or "U" ? ", and "
            : " and ";
        if (_grid.Value(total, ColumnKind.Base, 0, index).Number is not { } reference)
        {
            yield return new($"{lead}with nothing to compare in {name}{(last ? "." : "")}");
            yield break;
        }
        var variance = _grid.Value(total, ColumnKind.Variance, 0, index).Number!.Value;
        if (variance == 0m)
        {
            yield return new($"{lead}exactly as in {name}{(last ? "." : "")}");
            yield break;
        }
        yield return new(lead);
        yield return Fig(
            variance,
            index == 0 ? "variance" : $"variance{index + 1}",
            total.Slice,
            points: _figure is PairFigure { Rule: PairRule.Percent }
        );
        var percent = _grid.Value(total, ColumnKind.Percent, 0, index).Number;
        var mark = _grid.Value(total, ColumnKind.Mark, 0, index).Mark;
        var word = mark switch
        {
            "F" => ", favourable",
            "U" => ", unfavourable",
            _ => "",
        };
        yield return new(
            $"{(percent is { } p ? $" ({Amounts.Percent(p)})" : "")} {(subject > reference ? "above" : "below")} {name}{word}{(last ? "." : "")}"
        );
    }

    /// <summary>None is due where neither the total nor any part of it is over the limits, whichever of the bases it is held
    /// against; null where the total is.</summary>
    private Sentence? Threshold()
    {
        if (
            question.Scope.Currency is not null
            || question.Scope.Rates is not null
            || _figure is not SumFigure { IsProfit: true }
            || !_grid.Rows.Any(Moved)
            || IsMaterial(_grid.Total)
        )
            return null;
        var parts = _grid.Innermost().Where(r => IsMaterial(r)).ToList();
        var limits = book.Definition.MaterialityOf(table.Spans[0]);
        var both = $"{Amounts.Short(limits.Amount, _figure)} and {Amounts.Percent(limits.Percent)}";
        if (parts.Count == 0)
            return new(SentenceRole.Threshold, [new($"No comment is due: that takes both {both}.")]);
        var segments = ImmutableArray.CreateBuilder<Segment>();
        segments.Add(new($"The total needs no comment, which takes both {both}, but "));
        foreach (var (row, i) in parts.Take(MostNamed).Select((r, i) => (r, i)))
        {
            var at = Enumerable.Range(0, question.Scope.Bases.Length).First(b => IsMaterial(row, b));
            segments.Add(new($"{(i == 0 ? "" : i + 1 == parts.Count ? " and " : ", ")}{row.Label} ("));
            segments.Add(
                Fig(
                    _grid.Value(row, ColumnKind.Variance, 0, at).Number!.Value,
                    at == 0 ? "variance" : $"variance{at + 1}",
                    row.Slice,
                    FigureOf(row.Slice)
                )
            );
            segments.Add(
                new(
                    _grid.Value(row, ColumnKind.Mark, 0, at).Mark switch
                    {
                        "F" => " favourable)",
                        "U" => " unfavourable)",
                        _ => ")",
                    }
                )
            );
        }
        segments.Add(
            new(
                $"{(parts.Count > MostNamed ? $" and {parts.Count - MostNamed} more" : "")} {(parts.Count == 1 ? "does" : "do")}."
            )
        );
        return new(SentenceRole.Threshold, segments.ToImmutable());
    }

    private bool Moved(Row row) =>
        Enumerable
            .Range(0, question.Scope.Bases.Length)
            .Any(b => _grid.Value(row, ColumnKind.Variance, 0, b).Number is not (null or 0m));

    /// <summary>Over the limits against any of the bases.</summary>
    private bool IsMaterial(Row row) => Enumerable.Range(0, question.Scope.Bases.Length).Any(b => IsMaterial(row, b));

    /// <summary>By the limits of the periods that the row stands for.</summary>
    private bool IsMaterial(Row row, int basis) =>
        _grid.Value(row, ColumnKind.Variance, 0, basis).Number is { } variance
        && book.Definition.MaterialityOf(row.Slice.Span)
            .IsMaterial(variance, _grid.Value(row, ColumnKind.Percent, 0, basis).Number);

    private int GoodSign =>
        _figure is SumFigure { IsProfit: true }
            ? 1
            : _figure.Good switch
            {
                GoodDirection.Up => 1,
                GoodDirection.Down => -1,
                _ => 0,
            };

    private string Direction(decimal variance) =>
        (variance * GoodSign) switch
        {
            > 0 => "favourable by ",
            < 0 => "unfavourable by ",
            _ => variance > 0 ? "up by " : "down by ",
        };

    private string IsOrWere() =>
        _figure is SumFigure { IsProfit: false, OverTime: OverTime.Closing or OverTime.Stock } ? "stood at " : "came to ";

    private static string Titled(Driver driver) => driver.Member.Name;

    private Figure FigureOf(Driver driver) => FigureOf(driver.Slice);

    private Figure FigureOf(Slice slice) =>
        book.Figure(slice.Figure) is not { } figure ? _figure
        : question.Scope.Currency is { } currency && figure.Unit == book.Definition.Currency ? figure with { Unit = currency }
        : figure;

    private Segment Fig(decimal amount, string column, Slice slice, Figure? figure = null, bool points = false)
    {
        var text = Amounts.Short(amount, figure ?? _figure);
        if (points)
            text = text.Replace(" %", " points", StringComparison.Ordinal);
        // A negative total (a loss) must not lose its sign; a variance's direction is said in words.
        if (amount < 0m && column != "variance" && !column.StartsWith("variance", StringComparison.Ordinal))
            text = $"minus {text}";
        return new(text, amount, column, slice);
    }
}
