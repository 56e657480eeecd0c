using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Answering;

/// <summary>Says in plain words, and in addresses of cells, how the figures of a table come about.</summary>
internal sealed class CalculationWriter(Book book, Question question, Tabulation table)
{
    private const int MostNamed = 12;

    public Calculation Write()
    {
        var words = ImmutableArray.CreateBuilder<string>();
        words.Add(Figure(table.Figure));
        if (table.Figure is PairFigure pair)
            words.AddRange(Figure(pair.Top), Figure(pair.Bottom));
        foreach (var further in table.Grid.Columns.Select(c => c.Figure).OfType<Figure>())
            words.Add(Figure(further));
        var slices = ImmutableArray.CreateBuilder<(string, Slice)>();
        foreach (var column in table.Grid.Columns.Where(c => c.Side is not null))
        {
            var stored = Scoping.Stored(book, column.Side!, column.Span)?.Span ?? column.Span;
            words.Add(
                $"{column.Title}: {book.Calendar.NameOf(stored)}{(question.Scope.Filters.IsEmpty ? ", all of the book" : string.Concat(question.Scope.Filters.Select(Filter)))}."
            );
            slices.Add(
                (
                    $"{column.Title} {book.Calendar.NameOf(column.Span)}",
                    table.Grid.Total.Slice with
                    {
                        Side = column.Side!,
                        Span = column.Span,
                        Figure = column.Figure?.Ref ?? table.Grid.Total.Slice.Figure,
                    }
                )
            );
        }
        if (table.Grid.Columns.Any(c => c.Kind == ColumnKind.Variance))
            words.Add(
                question.Growth
                    ? "The change is the first less the second, as people read the figure; its percentage is of the absolute second."
                    : "A variance is the first less the second as effect on profit: more income and less cost are favourable (F). Percentages are of the absolute second."
            );
        if (question.Kind is Kind.Projected { By: var projection })
            words.Add(
                projection switch
                {
                    Projection.RunRate => $"Run rate: the months so far times 12 over their number ({table.Spans[0].Count}).",
                    Projection.Outlook => "Outlook: actuals so far and the forecast of the months after them.",
                    Projection.Remaining => "Remaining: the plan of the whole year less actuals so far.",
                    _ => "Used: actuals so far over the plan of the whole year.",
                }
            );
        words.Add(
            table.Grid.Columns.Any(c => c.Figure is not null)
                ? "Each column is in its own unit; figures are rounded once, from their exact values."
                : $"Figures are in {table.Figure.Unit}{(table.Figure.Unit == book.Definition.Currency ? ", as posted" : "")}; each is rounded once, from its exact value."
        );
        return new Calculation(words.ToImmutable(), slices.ToImmutable());
    }

    private string Figure(Figure figure) =>
        figure switch
        {
            PairFigure p =>
                $"{p.Name} is {p.Top.Name} {(p.Rule == PairRule.Difference ? "less" : "over")} {p.Bottom.Name}{(p.Rule == PairRule.Percent ? ", in percent" : "")}, worked out anew on every row.",
            SumFigure s when s.Accounts is [var only] && !book.HasChildren(book.Member(only)) =>
                $"{s.Name} is account {book.Member(only).Code}.",
            SumFigure s =>
                $"{s.Name} {(s.OverTime switch { OverTime.Closing => "is the balance at the end", OverTime.Average => "is the mean over the months with figures", OverTime.Stock => "is what the last month says, not added over months,", _ => "is the sum" })} of {Accounts(s)}.",
            _ => figure.Name,
        };

    private string Accounts(SumFigure sum)
    {
        var names = sum.Accounts.Select(a => book.Member(a).Title).ToList();
        return string.Join(", ", names.Take(MostNamed))
            + (names.Count > MostNamed ? $" and {names.Count - MostNamed} more" : "")
            + (sum.Accounts.Any(a => book.HasChildren(book.Member(a))) ? ", with all accounts below" : "");
    }

    private string Filter(Filter filter) =>
        $", {(filter.Exclude ? "without" : "for")} {string.Join(" and ", book.TryDimension(filter.Dimension, out var dimension) ? filter.Members.Select(c => book.TryMember(dimension.Id, c, out var m) ? m.Name : c) : filter.Members)}";
}
