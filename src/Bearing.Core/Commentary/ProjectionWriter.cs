using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Commentary;

/// <summary>Says in two sentences what the months so far make of the year, and how far they have come.</summary>
internal sealed class ProjectionWriter(Book book, Question question, Tabulation table)
{
    public ImmutableArray<Sentence> Write(Projection projection)
    {
        var (grid, total) = (table.Grid, table.Grid.Total);
        var sofar = new Sentence(
            SentenceRole.Driver,
            [
                new($"{book.Calendar.NameOf(table.Spans[0])} brought "),
                Figure(grid, total, ColumnKind.Subject, 0, "subject"),
                new("."),
            ]
        );
        var name = table.Figure.Name;
        var plan = question.Scope.Bases.Length > 0 ? book.NameOf(question.Scope.Bases[0]) : "";
        ImmutableArray<Segment> segments = projection switch
        {
            Projection.Remaining =>
            [
                new($"{name}: of "),
                Figure(grid, total, ColumnKind.Base, 0, "base"),
                new($" in {plan} for the year, "),
                Figure(grid, total, ColumnKind.Projected, 0, "projected"),
                new(grid.Value(total, ColumnKind.Projected).Number < 0 ? " are overspent." : " are left."),
            ],
            Projection.Used =>
            [
                new($"{name}: {(grid.Value(total, ColumnKind.Share).Number is { } used ? Amounts.Percent(used) : "n/m")} of "),
                Figure(grid, total, ColumnKind.Base, 0, "base"),
                new($" in {plan} for the year is used, and {table.Spans[0].To.Number} of its 12 months are over."),
            ],
            _ =>
            [
                .. Verdict(grid, total),
                new(
                    $"{name}: {(projection == Projection.RunRate ? $"at the pace of {book.Calendar.NameOf(table.Spans[0])}" : "with the latest forecast for the months to come")} {Reaches(projection)} to "
                ),
                Figure(grid, total, ColumnKind.Projected, 0, "projected"),
                .. Against(grid, total, plan),
                new("."),
            ],
        };
        return
        [
            new Sentence(SentenceRole.Headline, segments),
            .. projection == Projection.Remaining && AMonth(grid, total) is { } each ? [each] : ImmutableArray<Sentence>.Empty,
            sofar,
        ];
    }

    /// <summary>"The year comes", or the months that there are figures for, where that is less than the year.</summary>
    private string Reaches(Projection projection)
    {
        var reach = table.Reach ?? table.Spans[0];
        return projection == Projection.RunRate || reach == FiscalCalendar.Year(reach.To.Year)
            ? "the year comes"
            : $"{book.Calendar.NameOf(reach)} comes";
    }

    /// <summary>What is left, for each of the months to come; null when the year is over, when nothing is left, and for what does
    /// not add up over months.</summary>
    private Sentence? AMonth(Grid grid, Row total)
    {
        var months = 12 - table.Spans[0].To.Number;
        return
            months > 0
            && table.Figure is SumFigure { OverTime: OverTime.Sum }
            && grid.Value(total, ColumnKind.Projected).Number is > 0 and var left
            ? new Sentence(
                SentenceRole.Driver,
                [
                    new(
                        $"That is {Amounts.Short(left / months, table.Figure)} a month for the {months} {(months == 1 ? "month" : "months")} to come."
                    ),
                ]
            )
            : null;
    }

    /// <summary>Whether the year comes out where it was planned: yes or no first.</summary>
    private IEnumerable<Segment> Verdict(Grid grid, Row total)
    {
        if (
            question.Of.Claim is not { Direction: var claim }
            || grid.Value(total, ColumnKind.Projected).Number is not { } year
            || grid.Value(total, ColumnKind.Base).Number is not { } reference
        )
            yield break;
        var effect = grid.Value(total, ColumnKind.Mark).Mark switch
        {
            "F" => 1m,
            "U" => -1m,
            _ => 0m,
        };
        yield return new(GridWriter.Holds(claim, year - reference, effect) ? "Yes. " : "No. ");
    }

    private IEnumerable<Segment> Against(Grid grid, Row total, string plan)
    {
        if (question.Scope.Bases.Length == 0 || grid.Value(total, ColumnKind.Variance).Number is not { } variance)
            yield break;
        yield return new(", ");
        yield return new(Amounts.Short(Math.Abs(variance), table.Figure), variance, "variance", total.Slice);
        var above = grid.Value(total, ColumnKind.Projected).Number > grid.Value(total, ColumnKind.Base).Number;
        yield return new(
            $" {(above ? "above" : "below")} {plan}{grid.Value(total, ColumnKind.Mark).Mark switch { "F" => ", favourable", "U" => ", unfavourable", _ => "" }}"
        );
    }

    private Segment Figure(Grid grid, Row total, ColumnKind kind, int index, string column) =>
        // What is overspent is said in words, so its figure needs no sign.
        grid.Value(total, kind, 0, index).Number
            is { } number
            ? new(
                (
                    number < 0m && !(kind == ColumnKind.Projected && question.Kind is Kind.Projected { By: Projection.Remaining })
                        ? "minus "
                        : ""
                ) + Amounts.Short(number, table.Figure),
                number,
                column,
                total.Slice
            )
            : new("nothing");
}
