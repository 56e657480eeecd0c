using System.Globalization;
using Bearing.Core.Language;

namespace Bearing.Core.Reading;

/// <summary>Signs between words that stand for a word themselves.</summary>
internal static class Signs
{
    /// <summary>Jan–Mar: a dash between two periods says "to". Anywhere else it belongs to a name.</summary>
    public static void Between(string text, List<Token> tokens, Vocabulary vocabulary, BookWords words)
    {
        bool IsPeriod(Token token) =>
            vocabulary.Find(token.Stem).Any(e => e.Kind is MentionKind.Month or MentionKind.Part)
            || (token.Text.Length == 4 && token.Text.All(char.IsAsciiDigit));
        tokens.RemoveAll(t =>
            t.Text is "-" or "–"
            && tokens.IndexOf(t) is > 0 and var at
            && at + 1 < tokens.Count
            && IsPeriod(tokens[at - 1])
            && IsPeriod(tokens[at + 1])
        );
        // "P01-P03" is a range of months.
        for (var i = tokens.Count - 1; i >= 0; i--)
        {
            if (tokens[i].Text.Split('-') is not [var from, var until] || !IsMonthNumber(from) || !IsMonthNumber(until))
                continue;
            var start = tokens[i].Start;
            tokens[i] = new Token(from, from.ToLowerInvariant(), start);
            tokens.InsertRange(
                i + 1,
                [new Token("to", "to", start + from.Length), new Token(until, until.ToLowerInvariant(), start + from.Length + 1)]
            );
        }
        // "Q1+Q2" is both of them together.
        for (var i = tokens.Count - 1; i >= 0; i--)
        {
            if (tokens[i].Text.Split('+') is not [{ Length: > 0 } one, { Length: > 0 } other])
                continue;
            var (first, second) = (
                tokens[i] with
                {
                    Text = one,
                    Stem = Words.Stem(one),
                },
                tokens[i] with
                {
                    Text = other,
                    Stem = Words.Stem(other),
                    Start = tokens[i].Start + one.Length + 1,
                }
            );
            if (!IsPeriod(first) || !IsPeriod(second))
                continue;
            tokens.RemoveAt(i);
            tokens.InsertRange(i, [first, new Token("to", "to", first.Start + one.Length), second]);
        }
        // "Ageing 15/30/60": bounds, where nothing is aged a date.
        if (tokens.Exists(t => vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Check, Value: "ageing" or "overdue" })))
            for (var i = tokens.Count - 1; i >= 0; i--)
                if (
                    tokens[i].Text.Split('/') is { Length: > 1 } bounds
                    && bounds.All(b => b.Length is > 0 and <= 3 && b.All(char.IsAsciiDigit))
                )
                {
                    var at = tokens[i].Start;
                    tokens.RemoveAt(i);
                    tokens.InsertRange(
                        i,
                        bounds
                            .Select(b => (b, Start: (at += b.Length + 1) - b.Length - 1))
                            .Select(b => new Token(b.b, b.b, b.Start))
                            .ToList()
                    );
                }
        for (var i = tokens.Count - 2; i >= 0; i--)
        {
            var end = tokens[i].Start + tokens[i].Text.Length;
            var between = end <= tokens[i + 1].Start ? text[end..tokens[i + 1].Start].Trim() : "";
            if (IsPeriod(tokens[i]) && IsPeriod(tokens[i + 1]) && between is "-" or "–" or "—" or "+")
                tokens.Insert(i + 1, new Token("to", "to", end));
            // "Actual + forecast" adds the one to the other.
            else if (between == "+")
                tokens.Insert(i + 1, new Token("+", "plus", end));
            // "Pax/sailing", unless a name has both.
            else if (
                between == "/"
                && tokens[i + 1].Start == end + 1
                && words.Knows(tokens[i].Stem)
                && words.Knows(tokens[i + 1].Stem)
                && !words.GoesOn(tokens[i].Stem, tokens[i + 1].Stem)
            )
                tokens.Insert(i + 1, new Token("/", "slash", end));
        }
    }

    private static bool IsMonthNumber(string text) =>
        text.Length is 2 or 3
        && text[0] is 'p' or 'P'
        && int.TryParse(text.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        && number is >= 1 and <= 12;
}
