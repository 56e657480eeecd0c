using System.Globalization;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What is done to the words before they are looked up: ranges, joined words, remarks.</summary>
public sealed partial class FirstReader
{
    /// <summary>Letters that either part of a joined word has at least.</summary>
    private const int LeastPart = 4;

    /// <summary>"Hi team, …", "… thanks a lot": what is only polite, before and behind, is no part of the question.</summary>
    private void LeaveOutPoliteness(List<Token> tokens)
    {
        int Longest(Func<int, bool> says) =>
            Enumerable.Range(1, Math.Min(LongestPoliteness, tokens.Count - 1)).LastOrDefault(says);
        while (
            tokens.Count > 1
            && (tokens[0].Text == "," ? 1 : Longest(n => vocabulary.PoliteFirst.Contains(PhraseOf(tokens, 0, n))))
                is > 0
                    and var first
        )
            tokens.RemoveRange(0, first);
        while (
            tokens.Count > 1
            && (tokens[^1].Text == "," ? 1 : Longest(n => vocabulary.PoliteLast.Contains(PhraseOf(tokens, tokens.Count - n, n))))
                is > 0
                    and var last
        )
            tokens.RemoveRange(tokens.Count - last, last);
    }

    private const int LongestPoliteness = 6;

    /// <summary>Letters of a word that a full stop may shorten.</summary>
    private const int LongestShort = 3;

    /// <summary>Words that a name below a letter has at most.</summary>
    private const int LongestSignature = 3;

    /// <summary>"… thanks, Mara": whoever signs is not asked for.</summary>
    private void LeaveOutSignature(List<Token> tokens, SettledMentions finder)
    {
        var at = Enumerable
            .Range(1, Math.Max(0, tokens.Count - 1))
            .FirstOrDefault(i =>
                Enumerable
                    .Range(1, Math.Min(LongestPoliteness, tokens.Count - i))
                    .Any(n =>
                        vocabulary.PoliteLast.Contains(PhraseOf(tokens, i, n))
                        && tokens.Skip(i + n).Where(t => t.Text != ",").ToList() is { Count: > 0 and <= LongestSignature } behind
                        && behind.TrueForAll(t => char.IsUpper(t.Text[0]))
                        && !finder.Find(behind).Exists(IsContent)
                    )
            );
        if (at > 0)
            tokens.RemoveRange(at, tokens.Count - at);
    }

    /// <summary>
    /// "I am preparing the board pack. Could you send me …", "kind reminder: …": what leads to a request and names nothing of the
    /// book tells why somebody asks. It is taken out of the words to read. Null where there is none, or where it may be part of
    /// what is asked.
    /// </summary>
    private string? LeadIn(string text, List<Token> tokens, SettledMentions finder)
    {
        // Behind a short word or an abbreviation a full stop ends nothing: "adverts vs. bud. by venue".
        bool Ends(int i) =>
            tokens[i - 1] is var before
            && text[(before.Start + before.Text.Length)..Math.Max(tokens[i].Start, before.Start + before.Text.Length)]
                .TrimStart() switch
            {
                [':' or '!' or '–' or '—', ..] => true,
                ['.', ..] => before.Text.Length > LongestShort
                    && !vocabulary.Abbreviations.ContainsKey(before.Stem)
                    && char.IsUpper(tokens[i].Text[0]),
                _ => false,
            };
        int Request(int i) =>
            Enumerable
                .Range(1, Math.Min(LongestPoliteness, tokens.Count - i - 1))
                .LastOrDefault(n => vocabulary.Requests.Contains(PhraseOf(tokens, i, n)));
        for (var at = tokens.Count - 1; at > 0; at--)
        {
            var (request, lead) = (Request(at), tokens.Take(at).ToList());
            if (
                (request == 0 && !Ends(at))
                || !finder.Find(tokens.Skip(at + request).ToList()).Exists(IsContent)
                || finder.Find(lead).Exists(m => IsContent(m) || IsShortName(m, lead))
                || lead.Exists(t =>
                    vocabulary
                        .Find(t.Stem)
                        .Any(e => e is { Kind: MentionKind.Beyond } or { Kind: MentionKind.Filler, Value: "if" })
                )
            )
                continue;
            var said = string.Join(' ', lead.Select(t => t.Text));
            var remark = lead.Exists(t => vocabulary.Find(t.Stem).Count == 0);
            tokens.RemoveRange(0, at + request);
            return remark ? said : null;
        }
        return null;
    }

    /// <summary>Part of a name of the book, in several words or written as a name: "Skelmar" for Skelmar Ferries.</summary>
    private static bool IsShortName(Mention mention, List<Token> tokens) =>
        mention is { Partial: true, Corrected: false, Kind: MentionKind.Figure or MentionKind.Member }
        && (mention.Length > 1 || (mention.Start > 0 && char.IsUpper(tokens[mention.Start].Text[0])));

    /// <summary>What a question can be made of.</summary>
    private static bool IsContent(Mention mention) =>
        mention is { Partial: false, Corrected: false } and not { Kind: MentionKind.Exclude, Value: "before" or "after" }
        && mention.Kind
            is MentionKind.Figure
                or MentionKind.Member
                or MentionKind.Statement
                or MentionKind.Records
                or MentionKind.Check
                or MentionKind.Level
                or MentionKind.Scenario
                or MentionKind.Month
                or MentionKind.Year
                or MentionKind.Part
                or MentionKind.Period
                or MentionKind.Grain
                or MentionKind.Rank
                or MentionKind.Row
                or MentionKind.Growth
                or MentionKind.Share
                or MentionKind.Exclude
                or MentionKind.Result
                or MentionKind.Margin
                or MentionKind.Combined
                or MentionKind.Projection
                or MentionKind.Document
                or MentionKind.Define
                or MentionKind.Overview
                or MentionKind.Walk;

    private static string PhraseOf(List<Token> tokens, int from, int length) =>
        string.Join(' ', tokens.Skip(from).Take(length).Select(t => t.Stem));

    /// <summary>Words of a text that is all in capitals: none of them is typed as a code.</summary>
    private static void Lower(List<Token> tokens)
    {
        if (
            tokens.Count(t => t.Text.Length > 1 && t.Text.All(char.IsUpper)) < LeastShouted
            || tokens.Exists(t => t.Text.Any(char.IsLower))
        )
            return;
        for (var i = 0; i < tokens.Count; i++)
            if (tokens[i].Text.All(char.IsUpper))
                tokens[i] = tokens[i] with { Text = tokens[i].Text.ToLowerInvariant() };
    }

    /// <summary>"Per head", of a headcount; "per head office" is none.</summary>
    private void Heads(List<Token> tokens)
    {
        for (var i = 1; i < tokens.Count; i++)
            if (
                vocabulary.PerWords.TryGetValue(tokens[i].Stem, out var counted)
                && words.Whole(tokens[i].Stem).Count == 0
                && !GoesOn(tokens[i - 1].Stem, tokens[i].Stem)
                && !(i + 1 < tokens.Count && GoesOn(tokens[i].Stem, tokens[i + 1].Stem))
                && words.Knows(counted)
                && vocabulary.Find(tokens[i - 1].Stem).Any(e => e is { Kind: MentionKind.By, Value: "per" })
            )
                tokens[i] = tokens[i] with { Stem = counted };
            // "How many people do we have": staff are counted as heads, whatever their costs are called.
            else if (
                i > 1
                && vocabulary.Anybody.Contains(tokens[i].Stem)
                && vocabulary
                    .Find($"{tokens[i - 2].Stem} {tokens[i - 1].Stem}")
                    .Any(e => e is { Kind: MentionKind.Intent, Value: "value:many" })
                && vocabulary.PerWords.Values.FirstOrDefault(words.Knows) is { } heads
                && !(i + 1 < tokens.Count && GoesOn(tokens[i].Stem, tokens[i + 1].Stem))
            )
                tokens[i] = tokens[i] with { Stem = heads };
    }

    /// <summary>"Income: how much of it is contracts": what stands in front is what "of it" speaks of.</summary>
    private void Topic(string text, List<Token> tokens, SettledMentions finder)
    {
        var colon = text.IndexOf(':', StringComparison.Ordinal);
        if (colon < 0 || tokens.FindIndex(t => t.Start > colon) is not (> 0 and var at))
            return;
        var of = tokens.FindIndex(at, t => vocabulary.Find(t.Stem).Any(e => e is { Kind: MentionKind.Place, Value: "of" }));
        if (of < 0 || of + 1 == tokens.Count || !vocabulary.Pointers.Contains(tokens[of + 1].Stem))
            return;
        var topic = tokens.GetRange(0, at);
        if (!finder.Find(topic).Exists(m => m is { Kind: MentionKind.Figure, Start: 0 } && m.End == at))
            return;
        tokens.RemoveAt(of + 1);
        tokens.InsertRange(of + 1, topic);
        tokens.RemoveRange(0, at);
    }

    private bool GoesOn(string word, string next) => words.GoesOn(word, next);

    /// <summary>Words in capitals that are more than a list of codes.</summary>
    private const int LeastShouted = 4;

    /// <summary>"20 thousand", "two hundred thousand", "a million", "half a million", "2.5 lakh": one amount each.</summary>
    private void Scaled(string text, List<Token> tokens)
    {
        for (var at = tokens.Count - 1; at > 0; at--)
        {
            // "0.5 percent".
            if (
                vocabulary.Find(tokens[at].Stem).Any(e => e.Kind == MentionKind.Percent)
                && tokens[at - 1].Text.Contains('.', StringComparison.Ordinal)
                && decimal.TryParse(
                    tokens[at - 1].Text,
                    NumberStyles.AllowDecimalPoint,
                    CultureInfo.InvariantCulture,
                    out var percent
                )
            )
            {
                tokens[at - 1] = tokens[at - 1] with
                {
                    Text = text[tokens[at - 1].Start..(tokens[at].Start + tokens[at].Text.Length)],
                    Stem = percent.ToString(CultureInfo.InvariantCulture) + "%",
                };
                tokens.RemoveAt(at);
                continue;
            }
            if (!vocabulary.Scales.TryGetValue(tokens[at].Stem, out var scale))
                continue;
            var first = at;
            while (first > 1 && scale < MostAmount && vocabulary.Scales.TryGetValue(tokens[first - 1].Stem, out var further))
                (scale, first) = (scale * further, first - 1);
            var (factor, words) = Factor(tokens, first);
            if (
                words == 0
                || Math.Abs(factor) >= MostAmount
                || scale >= MostAmount
                || Math.Abs(factor * scale) >= MostAmount
                || tokens[first - words].Quotation > 0
            )
                continue;
            first -= words;
            var said = text[tokens[first].Start..(tokens[at].Start + tokens[at].Text.Length)];
            tokens[first] = tokens[first] with
            {
                Text = said,
                Stem = (factor * scale / 1000m).ToString("0.######", CultureInfo.InvariantCulture) + "k",
            };
            tokens.RemoveRange(first + 1, at - first);
            at = first;
        }
    }

    /// <summary>Beyond what any book holds.</summary>
    private const decimal MostAmount = 1e12m;

    private const int LongestFraction = 3;

    /// <summary>What stands right before a scale: digits, a number in words, "a", "half a"; and how many words that is, 0 where
    /// it is none of them.</summary>
    private (decimal Factor, int Words) Factor(List<Token> tokens, int end)
    {
        for (var length = Math.Min(LongestFraction, end); length > 0; length--)
            if (
                vocabulary.Fractions.TryGetValue(
                    string.Join(' ', tokens.Skip(end - length).Take(length).Select(t => t.Stem)),
                    out var fraction
                )
            )
                return (fraction, length);
        if (
            decimal.TryParse(
                tokens[end - 1].Stem,
                NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands | NumberStyles.AllowLeadingSign,
                CultureInfo.InvariantCulture,
                out var digits
            )
        )
            return (digits, 1);
        return vocabulary.Find(tokens[end - 1].Stem).FirstOrDefault(e => e.Kind == MentionKind.Number) is { Value: { } word }
            ? (decimal.Parse(word, CultureInfo.InvariantCulture), 1)
            : (0m, 0);
    }

    /// <summary>"Fuelcost" is two words of which each is known; as one it is not, and no slip of the pen.</summary>
    private void Split(List<Token> tokens)
    {
        bool Knows(string stem) =>
            words.Knows(stem) || vocabulary.Stems.Contains(stem) || vocabulary.Abbreviations.ContainsKey(stem);
        for (var i = 0; i < tokens.Count; i++)
        {
            var token = tokens[i];
            // "12-month".
            if (
                token.Quotation == 0
                && token.Text.IndexOf('-', StringComparison.Ordinal) is > 0 and var dash
                && token.Text[..dash].All(char.IsAsciiDigit)
                && vocabulary.Find(Words.Stem(token.Text[(dash + 1)..])).Any(e => e.Kind == MentionKind.Grain)
            )
            {
                tokens[i] = token with { Text = token.Text[..dash], Stem = token.Text[..dash] };
                tokens.Insert(
                    i + 1,
                    token with
                    {
                        Text = token.Text[(dash + 1)..],
                        Stem = Words.Stem(token.Text[(dash + 1)..]),
                        Start = token.Start + dash + 1,
                    }
                );
                continue;
            }
            if (token.Quotation == 0 && Abridged(token, i == 0 ? null : tokens[i - 1]) is { } parts)
            {
                tokens.RemoveAt(i);
                tokens.InsertRange(i, parts);
                continue;
            }
            if (
                token.Quotation > 0
                || token.Text.Length < 2 * LeastPart
                || !token.Text.All(char.IsLetter)
                || Knows(token.Stem)
                || words.IsOfValue(token.Stem)
                || words.Near(token.Stem, 1).Any()
                || vocabulary.Near(token.Stem, 1).Any()
            )
                continue;
            var at = Enumerable
                .Range(LeastPart, token.Text.Length - (2 * LeastPart) + 1)
                .FirstOrDefault(n => Knows(Words.Stem(token.Text[..n])) && Knows(Words.Stem(token.Text[n..])));
            if (at == 0)
                continue;
            tokens[i] = token with { Text = token.Text[..at], Stem = Words.Stem(token.Text[..at]) };
            tokens.Insert(
                i + 1,
                token with
                {
                    Text = token.Text[at..],
                    Stem = Words.Stem(token.Text[at..]),
                    Start = token.Start + at,
                }
            );
        }
    }

    /// <summary>"Top5", "last 12m", "gm%", "90+": two words in one; null for anything else.</summary>
    private Token[]? Abridged(Token token, Token? before)
    {
        var text = token.Text;
        var digits = text.TakeWhile(char.IsAsciiDigit).Count();
        var letters = text.TakeWhile(char.IsAsciiLetter).Count();
        bool Leads(string stem) => vocabulary.Find(stem).Any(e => e.Kind is MentionKind.Rank or MentionKind.Trailing);
        Token Part(int from, int length, string? stem = null) =>
            token with
            {
                Text = text.Substring(from, length),
                Stem = stem ?? Words.Stem(text.Substring(from, length)),
                Start = token.Start + from,
            };
        if (letters > 1 && letters < text.Length && text[letters..].All(char.IsAsciiDigit) && Leads(Words.Stem(text[..letters])))
            return [Part(0, letters), Part(letters, text.Length - letters)];
        if (
            digits is > 0 and <= 2
            && text.Length == digits + 1
            && before is not null
            && Leads(before.Stem)
            && vocabulary.Phrases.FirstOrDefault(p =>
                p.StartsWith(token.Stem[^1])
                && !p.Contains(' ', StringComparison.Ordinal)
                && vocabulary.Find(p).Any(e => e is { Kind: MentionKind.Grain, Value: "month" })
            )
                is { } month
        )
            return [Part(0, digits), Part(digits, 1, month)];
        if (text.Length > 1 && text[^1] == '%' && letters == text.Length - 1 && !words.Knows(token.Stem))
            return [Part(0, letters), Part(letters, 1, "%")];
        if (
            digits is > 0 and <= 3
            && text[digits..] == "+"
            && vocabulary.Phrases.FirstOrDefault(p =>
                !p.Contains(' ', StringComparison.Ordinal)
                && vocabulary.Find(p).Any(e => e is { Kind: MentionKind.Gap, Value: "over" })
            )
                is { } over
        )
            return [Part(digits, 1, over), Part(0, digits)];
        return null;
    }

    /// <summary>"Define net freight as freight revenue less port costs": the words up to "as", or to the sign, are the name of
    /// what is defined, and none that are asked for.</summary>
    private string? DefinedName(string text, List<Token> tokens)
    {
        var (sign, at) = (text.IndexOf('='), tokens.FindIndex(t => vocabulary.DefinedAs.Contains(t.Stem)));
        var end = at + 1;
        if (sign > 0 && tokens.FindIndex(t => t.Start > sign) is var behind && (at < 0 || behind < at))
            (at, end) = (behind, behind);
        if (at <= 1 || !vocabulary.Find(tokens[0].Stem).Any(e => e.Kind == MentionKind.Define))
            return null;
        var name = string.Join(' ', tokens.Take(at).Skip(1).Select(t => t.Text));
        tokens.RemoveRange(0, end);
        return name;
    }

    /// <summary>Words that lead to a remark at most.</summary>
    private const int LongestAside = 4;

    /// <summary>What follows "because", or "which opened", up to a comma, tells why somebody asks and not what; it is taken out
    /// of the words to read.</summary>
    private string? Remark(string text, List<Token> tokens)
    {
        // What stands in brackets is as apart as what stands behind a comma.
        bool Opens(int i) => tokens[i].Start > 0 && text[tokens[i].Start - 1] == '(';
        string Phrase(int i, int n) => (Opens(i) ? ", " : "") + string.Join(' ', tokens.Skip(i).Take(n).Select(t => t.Stem));
        var at = Enumerable
            .Range(1, Math.Max(0, tokens.Count - 1))
            .FirstOrDefault(i =>
                Enumerable
                    .Range(1, Math.Min(LongestAside, tokens.Count - i))
                    .Any(n => vocabulary.Find(Phrase(i, n)).Any(e => e.Kind == MentionKind.Aside))
            );
        // "Because of overtime" is what was asked, and no remark.
        if (
            at == 0
            || (
                at + 1 < tokens.Count
                && vocabulary.Find($"{tokens[at].Stem} {tokens[at + 1].Stem}").Any(e => e.Kind != MentionKind.Aside)
            )
        )
            return null;
        var closes = Opens(at) ? text.IndexOf(')', tokens[at].Start) : -1;
        var end = closes < 0 ? tokens.FindIndex(at + 1, t => t.Text == ",") : tokens.FindIndex(at, t => t.Start > closes);
        if (end < 0)
            end = tokens.Count;
        var said = string.Join(' ', tokens.Skip(at).Take(end - at).Select(t => t.Text));
        tokens.RemoveRange(at, end - at);
        return said;
    }
}
