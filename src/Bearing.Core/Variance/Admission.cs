using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

/// <summary>What a table can be made of: figures whose parts add up, in a currency that the book has.</summary>
internal sealed class Admission(Book book)
{
    /// <returns>The question, and the figure as it is computed for it.</returns>
    /// <exception cref="CannotAnswerException">When the book lacks what is asked for; the message says what.</exception>
    public (Question Question, Figure Figure) Of(Question asked)
    {
        var (question, figure) = Averaged(asked, Known(asked.Scope.Figure));
        if (question.Of.Statistic is not null && question.Layout.Rows.IsEmpty)
            throw new CannotAnswerException(
                "An average, a median, a count or a difference is one of rows, and nothing makes rows here. Say by what, as in “by month”.",
                $"{figure.Name} by month"
            );
        if (IsWithoutOpening(figure) && book.ActualSpan is { } loaded)
            throw new CannotAnswerException(
                $"{figure.Name} is a balance, and the book has no opening balances: only what was posted since {book.Calendar.NameOf(loaded.From)} is known. Load the opening balances, or ask for its entries.",
                $"entries of {figure.Name}"
            );
        if (question.Scope.Currency is not null || question.Scope.Rates is not null)
            CheckMoney(figure);
        return (question, figure);
    }

    private Figure Known(FigureRef reference)
    {
        var figure = book.Figure(reference) ?? throw new CannotAnswerException($"The book has no figure \"{reference.Code}\".");
        CheckUnits(figure);
        return figure;
    }

    private bool IsWithoutOpening(Figure figure) => figure is SumFigure { OverTime: OverTime.Closing } && !book.OpeningsKnown;

    /// <summary>The average of a stock is that of its months, on every row; other averages are of rows, and taken of
    /// them.</summary>
    private static (Question Question, Figure Figure) Averaged(Question question, Figure figure) =>
        question.Of.Statistic == RowStatistic.Average
        && figure is SumFigure { OverTime: OverTime.Stock } stock
        && question.Layout.Rows.All(b => b.Grain is null)
            ? (
                question.Asking(of => of with { Statistic = null }),
                stock with
                {
                    OverTime = OverTime.Average,
                    Name = $"Average {stock.Name}",
                }
            )
            : (question, figure);

    /// <summary>The figures that stand beside the first.</summary>
    /// <param name="slot">Where the first of them keeps its sums.</param>
    /// <exception cref="CannotAnswerException">When the figures are no columns of one table.</exception>
    public ImmutableArray<BesideFigure> Beside(Question question, int slot, ImmutableArray<Splitter> splitters)
    {
        var beside = ImmutableArray.CreateBuilder<BesideFigure>();
        if (
            !question.CanHoldBeside
            || (question.Beside.Length > 0 && splitters.Any(s => s.Dimension?.Role == DimensionRole.Account))
        )
            throw new CannotAnswerException(
                "Several figures stand beside each other in a plain table of one side and one period, which is not split by account. Ask for one figure after the other."
            );
        foreach (var reference in question.Beside)
        {
            var figure = Known(reference);
            if (IsWithoutOpening(figure))
                throw new CannotAnswerException(
                    $"{figure.Name} is a balance, and the book has no opening balances. Ask for its entries.",
                    $"entries of {figure.Name}"
                );
            beside.Add(new BesideFigure(figure, new ComparisonPlan(book, question.In(s => s with { Figure = reference })), slot));
            slot += beside[^1].Parts.Length;
        }
        return beside.ToImmutable();
    }

    /// <summary>Litres and passengers do not add: a heading over several units has no total.</summary>
    private void CheckUnits(Figure figure)
    {
        if (figure is not SumFigure sum)
            return;
        var units = sum
            .Accounts.SelectMany(a => book.SelfAndBelow(book.Member(a)))
            .Where(m => !book.HasChildren(m))
            .Select(m => (Unit: m.Account?.Unit ?? "money", m.Name))
            .DistinctBy(u => u.Unit)
            .ToList();
        if (units.Count > 1)
            throw new CannotAnswerException(
                $"{figure.Name} gathers figures in different units ({string.Join(", ", units.Select(u => u.Unit))}), which do not add up. Ask for one of them.",
                [.. units.Select(u => u.Name)]
            );
    }

    private void CheckMoney(Figure figure)
    {
        var part = figure as SumFigure ?? ((PairFigure)figure).Top;
        if (part.Unit != book.Definition.Currency)
            throw new CannotAnswerException($"{part.Name} is not money, so it has no currency.");
        if (book.Currencies.IsEmpty)
            throw new CannotAnswerException(
                $"The book has amounts in {book.Definition.Currency} only, and no rates of exchange."
            );
    }
}
