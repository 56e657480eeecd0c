using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Variance;

namespace Bearing.Core.Commentary;

/// <summary>Says in two sentences how far the months so far have come and what that makes of the year.</summary>
internal sealed class ProjectionWriter(Book book, Question question, Tabulation table)
{
    public ImmutableArray<Sentence> Write(Projection projection)
    {
        var (grid, total) = (table.Grid, table.Grid.Total);
        var sofar = new Sentence(SentenceRole.Headline, [new($"{table.Figure.Name} in {book.Calendar.NameOf(table.Spans[0])} was "), Figure(grid, total, ColumnKind.Subject, 0, "subject"), new(".")]);
        var plan = question.Bases.Length > 0 ? book.NameOf(question.Bases[0]) : "";
        ImmutableArray<Segment> segments = projection switch
        {
            Projection.Remaining => [new("Of "), Figure(grid, total, ColumnKind.Base, 0, "base"), new($" in {plan} for the year, "), Figure(grid, total, ColumnKind.Projected, 0, "projected"), new(grid.Value(total, ColumnKind.Projected).Number < 0 ? " are overspent." : " are left.")],
            Projection.Used => [new($"That is {(grid.Value(total, ColumnKind.Share).Number is { } used ? Amounts.Percent(used) : "n/m")} of "), Figure(grid, total, ColumnKind.Base, 0, "base"), new($" in {plan} for the year, of which {table.Spans[0].To.Number} of 12 months are over.")],
            _ => [new(projection == Projection.RunRate ? "At that pace the year comes to " : "With the latest forecast for the months to come, the year comes to "), Figure(grid, total, ColumnKind.Projected, 0, "projected"), .. Against(grid, total, plan), new(".")],
        };
        return [sofar, new Sentence(SentenceRole.Driver, segments)];
    }

    private IEnumerable<Segment> Against(Grid grid, Row total, string plan)
    {
        if (question.Bases.Length == 0 || grid.Value(total, ColumnKind.Variance).Number is not { } variance) yield break;
        yield return new(", ");
        yield return new(Amounts.Short(Math.Abs(variance), table.Figure), variance, "variance", total.Slice);
        var above = grid.Value(total, ColumnKind.Projected).Number > grid.Value(total, ColumnKind.Base).Number;
        yield return new($" {(above ? "above" : "below")} {plan}{grid.Value(total, ColumnKind.Mark).Mark switch { "F" => ", favourable", "U" => ", unfavourable", _ => "" }}");
    }

    private Segment Figure(Grid grid, Row total, ColumnKind kind, int index, string column) =>
        // What is overspent is said in words, so its figure needs no sign.
        grid.Value(total, kind, 0, index).Number is { } number ? new(Amounts.Short(kind == ColumnKind.Projected && question.Projection == Projection.Remaining ? Math.Abs(number) : number, table.Figure), number, column, total.Slice) : new("nothing");
}
