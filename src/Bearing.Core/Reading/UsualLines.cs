using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Reading;

/// <summary>
/// Finds turnover, EBITDA, EBIT, profit before tax and net profit in a book, whatever it calls them and whether it has such a
/// line or not. What the book itself calls by one of the names goes by the others too. Otherwise a line of profit is the last
/// line of the statement without the accounts that it stands before: a line of the book that comes to the same accounts, or the
/// shortest that holds them.
/// </summary>
internal sealed class UsualLines
{
    private readonly Book _book;
    private readonly Vocabulary _vocabulary;
    private readonly ILookup<string, BookTarget> _own;
    private readonly List<(FigureRef Line, HashSet<int> Leaves)> _lines;

    private Dictionary<int, List<string>>? _kinds;

    /// <param name="own">The names that the book has.</param>
    public UsualLines(Book book, Vocabulary vocabulary, IEnumerable<BookName> own)
    {
        (_book, _vocabulary) = (book, vocabulary);
        _own = own.Where(n => n.Target.Kind == MentionKind.Figure).ToLookup(n => string.Join(' ', n.Stems), n => n.Target);
        _lines =
        [
            .. book
                .Definition.Statement.Select(l => book.Figure(new FigureRef(FigureKind.Measure, l.Code)))
                .OfType<SumFigure>()
                .Select(f => (f.Ref, Leaves(f))),
        ];
    }

    /// <summary>The names of those that the book has or can compute, its own names left out.</summary>
    public IEnumerable<BookName> Names() =>
        _vocabulary
            .UsualLines.Select(l => (l.Words, Target: Of(l)))
            .Where(l => l.Target is not null)
            .SelectMany(l =>
                l.Words.Select(w => (Text: w, Phrase: Words.Phrase(w)))
                    .Where(w => !_own.Contains(w.Phrase))
                    .DistinctBy(w => w.Phrase)
                    .Select(w => new BookName(l.Target!, w.Text, w.Phrase.Split(' ')) { IsUsualName = true })
            );

    private BookTarget? Of(UsualLine line)
    {
        if (
            line.Before is null
            && _book.Roots(_book.Accounts.Id).Where(a => a.Account?.Type == AccountType.Income).Take(2).ToList() is [var income]
        )
            return new BookTarget(MentionKind.Figure, "a:" + income.Code, _book.Accounts.Code, income.Name);
        if (!line.Literal && line.Words.SelectMany(w => _own[Words.Phrase(w)]).FirstOrDefault() is { } named)
            return named;
        return line.Before is { } before && Profit(before) is { } profit
            ? new BookTarget(MentionKind.Figure, Book.Coded(profit.Ref), null, profit.Name)
            : null;
    }

    /// <summary>Null in a book without a statement, and where one account holds both what the line is before and what it is
    /// not.</summary>
    private Figure? Profit(ImmutableArray<string> before)
    {
        if (_lines.Count == 0)
            return null;
        // All of the last line, each account with its kinds: found once for all lines, since a book may have many accounts.
        var kinds = _kinds ??= _lines.MaxBy(l => l.Leaves.Count).Leaves.ToDictionary(l => l, Kinds);
        if (kinds.Values.Any(k => k.Any(before.Contains) && !k.All(before.Contains)))
            return null;
        var left = kinds.Where(k => !k.Value.Any(before.Contains)).Select(k => k.Key).ToHashSet();
        var line = _lines.Where(l => left.IsSubsetOf(l.Leaves)).MinBy(l => l.Leaves.Count);
        var without = line.Leaves.Except(left).ToHashSet();
        return _book.Figure(
            without.Count == 0
                ? line.Line
                : Book.Before(
                    line.Line.Code,
                    _book.Roots(_book.Accounts.Id).SelectMany(r => Tops(r, without)).Select(m => m.Code)
                )
        );
    }

    /// <summary>The highest accounts of which all that is posted to is left out.</summary>
    private IEnumerable<Member> Tops(Member at, HashSet<int> without) =>
        _book.SelfAndBelow(at).Where(m => !_book.HasChildren(m)).All(m => without.Contains(m.Id))
            ? [at]
            : _book.Children(at.DimensionId, at.Id).SelectMany(c => Tops(c, without));

    private HashSet<int> Leaves(SumFigure figure) =>
        [
            .. figure
                .Accounts.SelectMany(a => _book.SelfAndBelow(_book.Member(a)))
                .Where(m => !_book.HasChildren(m))
                .Select(m => m.Id),
        ];

    /// <summary>By the nearest name on the way up that tells: "Bank charges" below "Finance result" are of finance, and an
    /// account below "Depreciation &amp; interest" is what its own name says.</summary>
    private List<string> Kinds(int leaf) =>
        _book
            .PathTo(leaf)
            .AsEnumerable()
            .Reverse()
            .Select(at => Words.Phrase(_book.Member(at).Name))
            .Select(name =>
                _vocabulary
                    .Below.Where(b =>
                        b.Value.Whole.Contains(name)
                        || b.Value.Names.Any(n => $" {name} ".Contains($" {n} ", StringComparison.Ordinal))
                    )
                    .Select(b => b.Key)
                    .ToList()
            )
            .FirstOrDefault(k => k.Count > 0, []);
}
