using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <param name="Insert">Takes the place of the text from <see cref="Completions.From"/> on.</param>
public sealed record Completion(MentionKind Kind, string Text, string Insert, string Detail);

public sealed record Completions(int From, IReadOnlyList<Completion> Items);

/// <summary>Proposes the book's own words, and the words that questions are made of, for the word being typed.</summary>
public sealed class Completer(Book book, BookWords words, Vocabulary vocabulary)
{
    private const int Shown = 10;

    private static readonly MentionKind[] Offered =
    [
        MentionKind.Intent,
        MentionKind.Scenario,
        MentionKind.Period,
        MentionKind.Comparator,
        MentionKind.Rank,
        MentionKind.Grain,
        MentionKind.Month,
        MentionKind.Exclude,
    ];

    /// <summary>Tries the last three words, then two, then one, so that names of several words complete as a whole.</summary>
    public Completions Complete(string text)
    {
        var tokens = Words.Tokens(text);
        if (tokens.Count == 0 || (text.Length > 0 && !char.IsLetterOrDigit(text[^1])))
            return new Completions(text.Length, []);
        for (var count = Math.Min(3, tokens.Count); count >= 1; count--)
        {
            var from = tokens[^count].Start;
            var typed = text[from..];
            var items = Matches(typed).ToList();
            if (items.Count > 0)
                return new Completions(from, items);
        }
        return new Completions(tokens[^1].Start, []);
    }

    private IEnumerable<Completion> Matches(string typed)
    {
        var stem = Plain(typed);
        var named = words
            .Names.Where(n => n is { HasLetter: true, IsSynonym: false })
            .Select(n => (Name: n, Rank: RankOf(n.Lower, stem)))
            .Where(n => n.Rank < 3)
            .OrderBy(n => n.Rank)
            .ThenBy(n => n.Name.Text.Length)
            .ThenBy(n => n.Name.Text, StringComparer.Ordinal)
            .DistinctBy(n => n.Name.Target)
            .Select(n => new Completion(n.Name.Target.Kind, n.Name.Text, n.Name.Text, Detail(n.Name)));
        var language = vocabulary
            .Phrases.Where(p => p.StartsWith(stem, StringComparison.Ordinal) && p.Length > 2)
            .Select(p => (Phrase: p, Entry: vocabulary.Find(p)[0]))
            .Where(p => Offered.Contains(p.Entry.Kind))
            .OrderBy(p => p.Phrase.Length)
            .ThenBy(p => p.Phrase, StringComparer.Ordinal)
            .Take(3)
            .Select(p => new Completion(p.Entry.Kind, p.Phrase, p.Phrase, p.Entry.Kind.ToString().ToLowerInvariant()));
        return named.Take(Shown - 3).Concat(language);
    }

    /// <summary>0: begins so; 1: a later word begins so; 3: neither.</summary>
    private static int RankOf(string name, string typed) =>
        name.StartsWith(typed, StringComparison.Ordinal) ? 0
        : name.Contains(" " + typed, StringComparison.Ordinal) ? 1
        : 3;

    private string Detail(BookName name) =>
        name.Target.Kind switch
        {
            MentionKind.Figure => name.Target.Dimension is null ? "measure" : $"account, {name.Target.Title}",
            MentionKind.Member => book.TryDimension(name.Target.Dimension!, out var d) ? d.Name.ToLowerInvariant() : "",
            _ => name.Target.Kind.ToString().ToLowerInvariant(),
        };

    private static string Plain(string text) => text.ToLowerInvariant();
}
