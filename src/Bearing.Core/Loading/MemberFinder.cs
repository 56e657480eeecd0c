using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>Finds the member that a text of a file means. Each text is looked for once.</summary>
/// <param name="role">The mapping's role whose look-ups hold.</param>
internal sealed class MemberFinder(Book book, FileMapping mapping, Dimension dimension, string role)
{
    private readonly Dictionary<string, int> _found = [];

    /// <summary>By look-up, code, name or other name, or code and name in one cell.</summary>
    public bool TryFind(string text, out int id)
    {
        if (_found.TryGetValue(text, out id))
            return id != 0;
        if (mapping.LookUps.TryGetValue(role, out var lookUp) && lookUp.TryGetValue(text, out var meant) && meant != text)
            return TryFind(meant, out id);
        _found[text] = id = Find(text);
        return id != 0;
    }

    /// <summary>The text means this member from now on.</summary>
    public void Learn(string text, int id) => _found[text] = id;

    /// <summary>" Nearest: …" with up to three members, or nothing.</summary>
    public string Nearest(string text)
    {
        var stem = Words.Stem(text);
        // One digit off in a short code, two letters off in a long name.
        var most = Math.Max(1, Words.Tolerance(stem.Length));
        var near = book.MembersOf(dimension.Id)
            .Select(m =>
                (
                    m.Title,
                    Distance: Math.Min(
                        Words.Distance(Words.Stem(m.Code), stem, most),
                        Words.Distance(Words.Stem(m.Name), stem, most)
                    )
                )
            )
            .Where(m => m.Distance <= most)
            .OrderBy(m => m.Distance)
            .ThenBy(m => m.Title, StringComparer.Ordinal)
            .Select(m => m.Title)
            .Take(3)
            .ToList();
        return near.Count == 0 ? "" : $" Nearest: {string.Join(", ", near)}.";
    }

    private int Find(string text)
    {
        if (book.TryMember(dimension.Id, text, out var coded))
            return coded.Id;
        var (phrase, marked) = (Words.Phrase(text), Marked(text));
        // Café may be Cafe, and may be another: who loads it says so.
        bool IsCalled(string name) => Words.Phrase(name) == phrase && Marked(name) == marked;
        var named = book.MembersOf(dimension.Id).Where(m => IsCalled(m.Name) || m.OtherNames.Any(IsCalled)).Take(2).ToList();
        if (named.Count == 1)
            return named[0].Id;
        // "5010 Marine fuel": only where the rest is the name of the code's member.
        var space = text.IndexOf(' ', StringComparison.Ordinal);
        return
            space > 0
            && book.TryMember(dimension.Id, text[..space], out var both)
            && Words.Phrase(both.Name) == Words.Phrase(text[space..])
            ? both.Id
            : 0;
    }

    /// <summary>The letters with marks, and those of other alphabets, in their order.</summary>
    private static string Marked(string text) =>
        new([.. text.Where(c => !char.IsAscii(c) && char.IsLetter(c)).Select(char.ToLowerInvariant)]);
}
