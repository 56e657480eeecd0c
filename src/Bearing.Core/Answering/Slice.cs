using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Facts;

namespace Bearing.Core.Answering;

/// <summary>
/// A set of cells by canonical address. The text form is
/// <c>actual@2026-P09;figure=a:6110;entity=SKF,ORM;route!=R3</c>: the side, the periods, then the figure
/// (<c>a:</c> an account, <c>m:</c> a measure) and the filters, each code escaped as in a URL.
/// </summary>
public sealed record Slice(Side Side, PeriodSpan Span, FigureRef Figure, ImmutableArray<Filter> Filters)
{
    public override string ToString()
    {
        var kind = Figure.Kind == FigureKind.Account ? 'a' : 'm';
        var filters = Filters.Select(f =>
            $";{f.Dimension}{(f.Exclude ? "!=" : "=")}{string.Join(',', f.Members.Select(Uri.EscapeDataString))}"
        );
        return $"{Side}@{Span};figure={kind}:{Uri.EscapeDataString(Figure.Code)}{string.Concat(filters)}";
    }

    /// <exception cref="FormatException">Says which part of the address cannot be read.</exception>
    public static Slice Parse(string? text)
    {
        if (string.IsNullOrEmpty(text))
            throw new FormatException(
                "No slice was given; one is scenario@period;figure=..., such as actual@2026-P09;figure=a:6110."
            );
        var parts = text.Split(';');
        var head = parts[0].Split('@');
        if (head.Length != 2)
            throw new FormatException($"\"{parts[0]}\" is not of the form scenario@period.");
        if (!PeriodSpan.TryParse(head[1], out var span))
            throw new FormatException($"\"{head[1]}\" is not a period such as 2026-P09 or 2026-P01..2026-P09.");
        FigureRef? figure = null;
        var filters = ImmutableArray.CreateBuilder<Filter>();
        foreach (var part in parts.Skip(1))
        {
            var at = part.IndexOf('=', StringComparison.Ordinal);
            if (at <= 0)
                throw new FormatException($"\"{part}\" is not of the form dimension=code.");
            var exclude = part[at - 1] == '!';
            var name = part[..(exclude ? at - 1 : at)];
            var codes = part[(at + 1)..].Split(',').Select(Uri.UnescapeDataString).ToImmutableArray();
            if (name == "figure")
                figure = ParseFigure(codes[0]);
            else
                filters.Add(new Filter(name, codes, exclude));
        }
        return new Slice(
            Side.Parse(head[0]),
            span,
            figure ?? throw new FormatException("The address names no figure (figure=a:code or figure=m:code)."),
            filters.ToImmutable()
        );
    }

    private static FigureRef ParseFigure(string text) =>
        text.Length > 2 && text[1] == ':' && text[0] is 'a' or 'm'
            ? new(text[0] == 'a' ? FigureKind.Account : FigureKind.Measure, text[2..])
            : throw new FormatException($"\"{text}\" is not a figure such as a:6110 or m:gross-profit.");
}

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
        var kept = question.Filters.Where(f => !f.Exclude).Select(Names).ToList();
        var without = question.Filters.Where(f => f.Exclude).Select(Names).ToList();
        return (kept.Count > 0 ? " for " + string.Join(", ", kept) : "")
            + (without.Count > 0 ? " without " + string.Join(", ", without) : "");
    }
}

/// <summary>A question was understood and the book cannot answer it; the message says why, for people.</summary>
public sealed class CannotAnswerException(string because, params string[] nearest) : Exception(because)
{
    /// <summary>Questions close by that the book can answer.</summary>
    public ImmutableArray<string> Nearest { get; } = [.. nearest];
}
