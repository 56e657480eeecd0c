using System.Collections.Frozen;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Bearing.Core.Language;

namespace Bearing.Core.Language;

/// <summary>One word or number of a text.</summary>
/// <param name="Text">As typed.</param>
/// <param name="Stem">Lower case, without accents, possessive and plural ending.</param>
/// <param name="Start">Offset in the text.</param>
public sealed record Token(string Text, string Stem, int Start)
{
    /// <summary>Whether a hyphen joins it to the word before.</summary>
    public bool Hyphened { get; init; }

    /// <summary>Number of the quotation in which it stands; 0 outside of any.</summary>
    public int Quotation { get; init; }
}

/// <summary>
/// Stems by length and letters, so that those near to a misspelt one are found without comparing all: an edit changes the length
/// by one at most and the set of letters by two.
/// </summary>
public sealed class NearStems
{
    private readonly Dictionary<int, (string Stem, uint Letters)[]> _byLength;

    public NearStems(IEnumerable<string> stems) =>
        _byLength = stems
            .GroupBy(s => s.Length)
            .ToDictionary(g => g.Key, g => g.Order(StringComparer.Ordinal).Select(s => (s, Letters(s))).ToArray());

    /// <summary>In the order of length, then of letters.</summary>
    public IEnumerable<(string Stem, int Distance)> Find(string stem, int tolerance)
    {
        var letters = Letters(stem);
        for (var length = stem.Length - tolerance; length <= stem.Length + tolerance; length++)
        {
            if (!_byLength.TryGetValue(length, out var group))
                continue;
            foreach (var (candidate, has) in group)
                if (
                    System.Numerics.BitOperations.PopCount(letters ^ has) <= 2 * tolerance
                    && Words.Distance(stem, candidate, tolerance) is var distance
                    && distance <= tolerance
                )
                    yield return (candidate, distance);
        }
    }

    private static uint Letters(string stem) => stem.Aggregate(0u, (set, c) => set | (1u << (c % 32)));
}

/// <summary>Cuts text into words and brings them into the form in which they are compared.</summary>
public static partial class Words
{
    /// <summary>Plurals that no ending shows.</summary>
    private static readonly FrozenDictionary<string, string> Irregular = LoadIrregular("en");

    /// <summary>Words, numbers (with inner marks such as 6+6 or 2026-09) and commas; other punctuation separates.</summary>
    public static List<Token> Tokens(string text)
    {
        var tokens = new List<Token>();
        // 'Annual licence' is a quotation as well; an apostrophe behind a word is none, nor that of '26.
        text = SingleQuoted().Replace(text, q => $"\"{q.Groups[1].Value}\"");
        var at = 0;
        var (quotations, within) = (0, false);
        while (at < text.Length)
        {
            if (IsWord(text[at]) || IsSign(text, at))
            {
                var end = at + 1;
                while (end < text.Length && (IsWord(text[end]) || IsInner(text, end)))
                    end++;
                // "90+".
                if (
                    end < text.Length
                    && text[end] == '+'
                    && text[at..end].All(char.IsAsciiDigit)
                    && (end + 1 == text.Length || !IsWord(text[end + 1]))
                )
                    end++;
                // "3%" and "3 %" are one.
                var sign = end + 1 < text.Length && text[end] == ' ' ? end + 1 : end;
                var percent =
                    char.IsDigit(text[end - 1])
                    && sign < text.Length
                    && text[sign] == '%'
                    && (sign == end || sign + 1 == text.Length || !IsWord(text[sign + 1]));
                tokens.Add(
                    new Token(text[at..(percent ? sign + 1 : end)], Stem(text[at..end]) + (percent ? "%" : ""), at)
                    {
                        Quotation = within ? quotations : 0,
                        Hyphened = at > 1 && text[at - 1] == '-' && IsWord(text[at - 2]),
                    }
                );
                if (percent)
                    end = sign + 1;
                at = end;
            }
            else
            {
                if (text[at] is '"' or '“' or '”' or '„' or '«' or '»' && (within = !within))
                    quotations++;
                if (
                    text[at] is ',' or '÷' or '&' or '>' or '<' or '%'
                    || (
                        text[at] is '-' or '–' or '/'
                        && at > 0
                        && at + 1 < text.Length
                        && text[at - 1] == ' '
                        && text[at + 1] == ' '
                    )
                )
                    tokens.Add(
                        new Token(
                            text[at].ToString(),
                            text[at] switch
                            {
                                '–' => "-",
                                '÷' or '/' => "slash",
                                '&' => "and",
                                var mark => mark.ToString(),
                            },
                            at
                        )
                    );
                at++;
            }
        }
        return tokens;
    }

    [GeneratedRegex(@"(?<=^|[\s(:,])['‘](\p{L}[^'’]*[^\s'’])['’](?=$|[\s),.;:?!])")]
    private static partial Regex SingleQuoted();

    /// <summary>"Entity" → "entities"; for nouns that books name their dimensions and fields by.</summary>
    public static string Plural(string noun) =>
        noun.Length > 1 && noun[^1] == 'y' && !"aeiou".Contains(noun[^2], StringComparison.Ordinal) ? noun[..^1] + "ies"
        : Hissing.Any(e => noun.EndsWith(e, StringComparison.Ordinal)) ? noun + "es"
        : noun + "s";

    private static readonly string[] Hissing = ["s", "x", "z", "ch", "sh"];

    /// <summary>The minus of -5k, which stands free and right before a digit.</summary>
    private static bool IsSign(string text, int at) =>
        text[at] is '-' or '−'
        && at + 1 < text.Length
        && char.IsDigit(text[at + 1])
        && (at == 0 || char.IsWhiteSpace(text[at - 1]));

    public static string Phrase(string text) => string.Join(' ', Tokens(text).Select(t => t.Stem));

    /// <summary>"Ferries" → "ferry", "Harbour's" → "harbour", "Ørsa" → "orsa".</summary>
    public static string Stem(string word)
    {
        var plain = Plain(word);
        foreach (var ending in (string[])["'s", "’s", "'", "’"])
            if (plain.Length > ending.Length && plain.EndsWith(ending, StringComparison.Ordinal))
                plain = plain[..^ending.Length];
        if (Irregular.TryGetValue(plain, out var singular))
            return singular;
        if (plain.Length > 4 && plain.EndsWith("ies", StringComparison.Ordinal))
            return plain[..^3] + "y";
        if (
            plain.Length > 4
            && (
                plain.EndsWith("sses", StringComparison.Ordinal)
                || plain.EndsWith("xes", StringComparison.Ordinal)
                || plain.EndsWith("ches", StringComparison.Ordinal)
            )
        )
            return plain[..^2];
        return plain.Length > 3 && plain[^1] == 's' && plain[^2] is not ('s' or 'u' or 'i') && !char.IsDigit(plain[^2])
            ? plain[..^1]
            : plain;
    }

    /// <summary>What a word in -s may be one of where its ending is misspelt as well: "entris" of "entry", "surpuls" of
    /// none.</summary>
    internal static IEnumerable<string> SlippedPlurals(string word)
    {
        var plain = Plain(word);
        if (plain.Length < 5 || plain[^1] != 's')
            yield break;
        yield return plain;
        yield return plain[..^1];
        var bare = plain.TrimEnd('s').TrimEnd('e');
        if (bare.Length > 2)
            yield return bare[^1] == 'i' ? bare[..^1] + "y" : bare;
    }

    /// <summary>Singulars of plurals without an ending, a few edits away: "peple".</summary>
    internal static IEnumerable<(string Stem, int Distance)> IrregularNear(string stem, int tolerance) =>
        Irregular.Select(i => (i.Value, Distance(i.Key, stem, tolerance))).Where(n => n.Item2 <= tolerance);

    /// <summary>Edits (one letter more, less, other, or two swapped) that turn one word into the other, up to
    /// <paramref name="most"/> + 1.</summary>
    public static int Distance(string a, string b, int most)
    {
        if (Math.Abs(a.Length - b.Length) > most)
            return most + 1;
        var (before, previous, current) = (new int[b.Length + 1], new int[b.Length + 1], new int[b.Length + 1]);
        for (var j = 0; j <= b.Length; j++)
            previous[j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            current[0] = i;
            var least = i;
            for (var j = 1; j <= b.Length; j++)
            {
                var cost = a[i - 1] == b[j - 1] ? 0 : 1;
                current[j] = Math.Min(Math.Min(current[j - 1] + 1, previous[j] + 1), previous[j - 1] + cost);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    current[j] = Math.Min(current[j], before[j - 2] + 1);
                least = Math.Min(least, current[j]);
            }
            if (least > most)
                return most + 1;
            (before, previous, current) = (previous, current, before);
        }
        return previous[b.Length];
    }

    /// <summary>Whether two words are one but for letters that are doubled in the one and not in the other:
    /// "personell".</summary>
    public static bool AreButForDoubles(string one, string other) => Undoubled(one).SequenceEqual(Undoubled(other));

    private static IEnumerable<char> Undoubled(string word) => word.Where((c, i) => i == 0 || c != word[i - 1]);

    /// <summary>The one letter in which two words of the same length differ; null where they differ otherwise.</summary>
    public static (char One, char Other)? Swapped(string a, string b) =>
        a.Length == b.Length && Enumerable.Range(0, a.Length).Where(i => a[i] != b[i]).ToList() is [var at]
            ? (a[at], b[at])
            : null;

    /// <summary>Whether two letters lie beside each other on a keyboard.</summary>
    public static bool AreNeighbours(char one, char other)
    {
        static (int Row, int At) Key(char letter) =>
            Array.FindIndex(Keys, k => k.Contains(letter, StringComparison.Ordinal)) is var row and >= 0
                ? (row, Keys[row].IndexOf(letter, StringComparison.Ordinal))
                : (-9, -9);
        var (a, b) = (Key(one), Key(other));
        return Math.Abs(a.Row - b.Row) <= 1 && Math.Abs(a.At - b.At) <= 1;
    }

    private static readonly string[] Keys = ["qwertyuiop", "asdfghjkl", "zxcvbnm"];

    /// <summary>How many edits a word of this length may have and still be taken for another.</summary>
    public static int Tolerance(int length) =>
        length < 4 ? 0
        : length < 8 ? 1
        : 2;

    private static FrozenDictionary<string, string> LoadIrregular(string language)
    {
        using var stream = typeof(Words).Assembly.GetManifestResourceStream($"language.{language}.plurals.json")!;
        return JsonSerializer.Deserialize<Dictionary<string, string>>(stream)!.ToFrozenDictionary();
    }

    private static bool IsWord(char c) => char.IsLetterOrDigit(c) || c is '%' or '\'' or '’' or '~';

    /// <summary>5,000 is one number: a comma with up to three digits before it and three behind.</summary>
    private static bool IsThousandsMark(string text, int at)
    {
        if (text[at] != ',' || at + 3 >= text.Length)
            return false;
        var before = 0;
        while (before < 4 && at - before - 1 >= 0 && char.IsAsciiDigit(text[at - before - 1]))
            before++;
        return before is >= 1 and <= 3
            && Enumerable.Range(at + 1, 3).All(i => char.IsAsciiDigit(text[i]))
            && (at + 4 >= text.Length || !char.IsAsciiDigit(text[at + 4]));
    }

    private static bool IsInner(string text, int at) =>
        IsThousandsMark(text, at)
        || text[at] is '+' or '-' or '.' or '/' or ':' or '_'
            && at + 1 < text.Length
            && IsWord(text[at + 1])
            && (char.IsDigit(text[at - 1]) || char.IsDigit(text[at + 1]) || IsShort(text, at));

    /// <summary>w/o, n/a: single letters on both sides of a slash are one word.</summary>
    private static bool IsShort(string text, int at) =>
        text[at] == '/' && (at < 2 || !IsWord(text[at - 2])) && (at + 2 >= text.Length || !IsWord(text[at + 2]));

    private static string Plain(string word)
    {
        var letters = new StringBuilder(word.Length);
        foreach (var c in word)
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark)
                continue;
            letters.Append(
                char.ToLowerInvariant(UnicodeForm.Bare(c)) switch
                {
                    'ø' => 'o',
                    'æ' => 'a',
                    'ß' => 's',
                    'ł' => 'l',
                    'đ' => 'd',
                    '’' => '\'',
                    var other => other,
                }
            );
        }
        return letters.ToString();
    }
}
