using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace Bearing.Core.Language;

/// <summary>
/// Letters with marks in one form. The runtime leaves text as it is where it has no tables of its own (globalization-invariant
/// mode), so the canonical compositions are data here: compositions.txt.
/// </summary>
public static class UnicodeForm
{
    private static readonly FrozenDictionary<(char Base, char Mark), char> Composed = Load()
        .ToFrozenDictionary(c => (c.Base, c.Mark), c => c.Composed);
    private static readonly FrozenDictionary<char, (char Base, char Mark)> Apart = Load()
        .ToFrozenDictionary(c => c.Composed, c => (c.Base, c.Mark));

    /// <summary>A letter followed by its marks becomes one letter: é written as two becomes é.</summary>
    public static string Compose(string text)
    {
        if (
            !text.AsSpan().ContainsAnyInRange('\u0300', '\u036f')
            && text.All(c => CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark)
        )
            return text;
        var result = new StringBuilder(text.Length);
        foreach (var c in text)
        {
            if (result.Length > 0 && Composed.TryGetValue((result[^1], c), out var composed))
                result[^1] = composed;
            else
                result.Append(c);
        }
        return result.ToString();
    }

    /// <summary>The letter without its marks: é → e.</summary>
    public static char Bare(char letter)
    {
        while (Apart.TryGetValue(letter, out var parts))
            letter = parts.Base;
        return letter;
    }

    private static IEnumerable<(char Composed, char Base, char Mark)> Load()
    {
        using var stream = typeof(UnicodeForm).Assembly.GetManifestResourceStream("language.compositions.txt")!;
        using var reader = new StreamReader(stream);
        while (reader.ReadLine() is { } line)
        {
            if (line.StartsWith('#') || line.Split(' ') is not [var composed, var of, var mark])
                continue;
            yield return (Char(composed), Char(of), Char(mark));
        }

        static char Char(string hex) => (char)int.Parse(hex, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
    }
}
