using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Answering;

/// <summary>Follow-ups that work as they stand, in words that the reading understands.</summary>
internal sealed class NextQuestions(Book book)
{
    public ImmutableArray<string> After(Question question, Figure figure)
    {
        var next = new List<string>();
        if (question.Scope.Bases.Length == 0 && book.Latest(ScenarioKind.Budget) is not null)
            next.Add("versus budget");
        if (question.Scope.Bases.Length > 0 && question.Kind is not Kind.Why && figure is SumFigure)
            next.Add("why?");
        foreach (var dimension in book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account))
            if (
                question.Layout.Rows.All(b => b.Dimension != dimension.Code)
                && question.Scope.Bases.Prepend(question.Scope.Subject).All(b => Scoping.Keeps(book, b, dimension, figure))
                && book.Roots(dimension.Id).Any()
                && next.Count < 4
            )
                next.Add($"by {dimension.Levels[^1].ToLowerInvariant()}");
        if (question.Scope.Spans is [{ Count: 1 }])
            next.Add("year to date");
        if (question.Scope.Bases.All(b => b.Kind != SideKind.PriorYear))
            next.Add("versus last year");
        next.Add("show the entries");
        return [.. next];
    }

    /// <summary>Where something may be, after a question of which there is nothing.</summary>
    public ImmutableArray<string> Elsewhere(Question question)
    {
        var next = new List<string>();
        foreach (var filter in question.Scope.Filters.Where(f => f.Dimension != book.Accounts.Code))
            if (book.TryDimension(filter.Dimension, out var dimension))
                next.Add($"drop the filter, by {dimension.Levels[^1].ToLowerInvariant()}");
        if (question.Scope.Spans is [{ Count: 1 }])
            next.Add("year to date");
        return [.. next];
    }
}
