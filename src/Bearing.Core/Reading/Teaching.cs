using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>Decides what a word that somebody teaches is to mean: a figure, a member, or one figure divided by another.</summary>
public sealed class Teaching(Book book, BookWords words, Vocabulary vocabulary)
{
    public const int LongestWord = 60;

    /// <param name="means">A name or code of the book, or "X divided by Y".</param>
    /// <returns>What it stands for: <c>a:6110</c>, <c>m:gross-profit</c> or <c>entity=SKF</c>.</returns>
    /// <exception cref="CannotAnswerException">When the word means something already, or what it is to mean is not known or not
    /// one thing.</exception>
    public string Target(string word, string means)
    {
        var phrase = Words.Phrase(word);
        if (phrase.Length == 0 || word.Length > LongestWord)
            throw new CannotAnswerException($"A word has one to {LongestWord} characters, with at least one letter or digit.");
        var target = Named(means)
            ?? Ratio(means)
            ?? throw new CannotAnswerException(
                $"“{means}” is no name in this book.",
                [.. new MentionFinder(vocabulary, book, words).Nearest(Words.Stem(means), 5)]
            );
        if (vocabulary.Find(phrase).Count > 0)
            throw new CannotAnswerException($"“{word}” is a word that questions are made of, so it cannot become a name.");
        // One that names another thing already would turn questions that were right before.
        if (words.Whole(phrase).FirstOrDefault(n => TextOf(n.Target) is { } known && known != target) is { } other)
            throw new CannotAnswerException($"“{word}” means {other.Target.Title} already.");
        if (words.Whole(phrase).Any(n => TextOf(n.Target) == target))
            throw new CannotAnswerException($"“{word}” means that already.");
        return target;
    }

    /// <summary>What a taught word stands for, in words; null when the book has it no more.</summary>
    public static string? Means(Book book, string target) => Of(book, target)?.Title;

    /// <summary>Null when the book has no such figure or member (any more).</summary>
    internal static BookTarget? Of(Book book, string target)
    {
        if (target.Length > 2 && target[1] == ':' && target[0] is 'a' or 'm')
            return
                book.Figure(new FigureRef(target[0] == 'a' ? FigureKind.Account : FigureKind.Measure, target[2..])) is { } figure
                ? new BookTarget(MentionKind.Figure, target, target[0] == 'a' ? book.Accounts.Code : null, figure.Name)
                : null;
        var parts = target.Split('=', 2);
        return
            parts.Length == 2
            && book.TryDimension(parts[0], out var dimension)
            && book.TryMember(dimension.Id, parts[1], out var member)
            ? new BookTarget(MentionKind.Member, member.Code, dimension.Code, member.Name)
            : null;
    }

    private static string? TextOf(BookTarget target) =>
        target.Kind switch
        {
            MentionKind.Figure => target.Value,
            MentionKind.Member => $"{target.Dimension}={target.Value}",
            _ => null,
        };

    private string? Named(string means)
    {
        var found = words
            .Whole(Words.Phrase(means))
            .Select(n => (Text: TextOf(n.Target), n.Target.Title))
            .Where(n => n.Text is not null)
            .DistinctBy(n => n.Text)
            .ToList();
        return found.Count <= 1
            ? found.FirstOrDefault().Text
            : throw new CannotAnswerException(
                $"“{means}” may mean {string.Join(" or ", found.Select(f => $"{f.Title} ({f.Text![(f.Text!.IndexOfAny([':', '=']) + 1)..]})"))}. Say its code."
            );
    }

    private string? Ratio(string means)
    {
        foreach (
            var divider in vocabulary.Phrases.Where(p =>
                vocabulary.Find(p).Any(e => e is { Kind: MentionKind.By, Value: "ratio" or "per" })
            )
        )
        {
            if (Words.Phrase(means).Split($" {divider} ") is not [var top, var bottom])
                continue;
            if (
                Named(top) is { } over
                && Named(bottom) is { } under
                && Book.Per(over, under) is var reference
                && book.Figure(reference) is not null
            )
                return "m:" + reference.Code;
            throw new CannotAnswerException(
                $"“{means}” cannot be worked out: an amount is divided by what the book counts, such as {words.Names.FirstOrDefault(n => n.Target.Kind == MentionKind.Figure && n.Target.Value.StartsWith("a:", StringComparison.Ordinal) && book.TryMember(book.Accounts.Id, n.Target.Value[2..], out var m) && m.Account?.Type == AccountType.Statistic)?.Text ?? "a statistic"}."
            );
        }
        return null;
    }
}
