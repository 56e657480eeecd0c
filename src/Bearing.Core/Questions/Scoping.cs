using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>Keeps, or with <paramref name="Exclude"/> drops, the facts whose member is one of these; the ids are complete, no
/// tree is walked.</summary>
public sealed record MemberFilter(int Dimension, ImmutableHashSet<int> Members, bool Exclude);

/// <summary>Turns filters in codes into complete sets of member ids.</summary>
public static class Scoping
{
    /// <summary>The filters of a question or slice, trees walked.</summary>
    /// <exception cref="CannotAnswerException">When a dimension or a member is not in the book.</exception>
    public static ImmutableArray<MemberFilter> Filters(Book book, IEnumerable<Filter> filters)
    {
        var result = ImmutableArray.CreateBuilder<MemberFilter>();
        foreach (var filter in filters)
        {
            if (!book.TryDimension(filter.Dimension, out var dimension))
                throw new CannotAnswerException($"The book has no dimension \"{filter.Dimension}\".");
            var ids = filter.Members.SelectMany(code => Ids(book, dimension, code)).ToImmutableHashSet();
            result.Add(new MemberFilter(dimension.Id, ids, filter.Exclude));
        }
        return result.ToImmutable();
    }

    /// <summary>The accounts of a sum with everything below them, as a filter.</summary>
    public static MemberFilter Accounts(Book book, SumFigure figure) =>
        new(
            book.Accounts.Id,
            figure.Accounts.SelectMany(a => book.SelfAndBelow(book.Member(a))).Select(m => m.Id).ToImmutableHashSet(),
            false
        );

    /// <summary>Whether a side keeps a dimension apart of any part of a figure.</summary>
    public static bool Keeps(Book book, Side side, Dimension dimension, Figure? figure) =>
        book.Version(side) is { Coverage: { } coverage } version
        && coverage.KeptDimensions.Contains(dimension.Id)
        && (
            dimension.Role != DimensionRole.Other
            || (
                figure switch
                {
                    SumFigure sum => [sum],
                    PairFigure pair => new[] { pair.Top, pair.Bottom },
                    _ => [],
                }
            ).All(p => book.Keeps(version.Id, dimension.Id, Accounts(book, p).Members) != Keeping.Not)
        );

    /// <summary>Where a side's facts are stored for a span, or null when the book has no such side.</summary>
    public static (ScenarioVersion Version, PeriodSpan Span)? Stored(Book book, Side side, PeriodSpan span)
    {
        if (book.Version(side) is not { } version)
            return null;
        return (version, span.AddMonths(-Shift(side, span)));
    }

    /// <summary>How many months a side lies before the subject.</summary>
    public static int Shift(Side side, PeriodSpan span) =>
        side.Kind switch
        {
            SideKind.PriorYear => 12,
            SideKind.PriorPeriod => int.TryParse(side.Version, out var months) ? months : span.Count,
            _ => 0,
        };

    private static IEnumerable<int> Ids(Book book, Dimension dimension, string code)
    {
        if (code == book.Label(Member.Unassigned).Code)
            return [Member.Unassigned];
        if (code == book.Label(Member.NotKept).Code)
            return [Member.NotKept];
        return book.TryMember(dimension.Id, code, out var member)
            ? book.SelfAndBelow(member).Select(m => m.Id)
            : throw new CannotAnswerException($"{dimension.Name} has no member \"{code}\".");
    }

    /// <summary>" for Calder Ferries", " without Fuel": what a question keeps and leaves out, to follow the name of its figure;
    /// empty where it takes in everything.</summary>
    public static string Named(Book book, Question question)
    {
        string Names(Filter filter) =>
            book.TryDimension(filter.Dimension, out var d)
                ? string.Join(" and ", filter.Members.Select(c => book.TryMember(d.Id, c, out var m) ? m.Name : "Unassigned"))
                : filter.Dimension;
        var kept = question.Scope.Filters.Where(f => !f.Exclude).Select(Names).ToList();
        var without = question.Scope.Filters.Where(f => f.Exclude).Select(Names).ToList();
        return (kept.Count > 0 ? " for " + string.Join(", ", kept) : "")
            + (without.Count > 0 ? " without " + string.Join(", ", without) : "");
    }
}
