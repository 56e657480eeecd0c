using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Questions that come nearest to one that has no answer, each whole, so that it can be asked as it stands.</summary>
public sealed partial class FirstReader
{
    /// <summary>Words behind "by" that a split may take.</summary>
    private const int LongestSplit = 3;

    /// <summary>Splits of one question that are tried with others: a text of nothing but "by" shall not keep the service
    /// busy.</summary>
    private const int MostSplitsTried = 3;

    /// <param name="text">The question that has no answer.</param>
    /// <param name="suggested">Questions, or what would have to stand in this one instead: "by route", "September 2026".</param>
    /// <param name="unknown">Words of it that nobody knows; what they are said of is left out.</param>
    /// <returns>Those that can be read without a rest; whether the book has figures for them only an answer shows.</returns>
    public IEnumerable<(string Text, FormOneQuestion Question)> Nearest(
        string text,
        IEnumerable<string> suggested,
        ImmutableArray<string> unknown,
        Previous? previous = null,
        ImmutableArray<PeriodSpan> shared = default
    )
    {
        var finder = new SettledMentions(vocabulary, book, words);
        foreach (var suggestion in suggested.Distinct())
        foreach (var whole in Placed(text, suggestion, unknown, finder))
            if (
                Read(whole, previous, shared) is
                {
                    Outcome: ReadingOutcome.Understood,
                    Question: { } question,
                    Reading.Unused.IsEmpty: true,
                    Unknown.IsEmpty: true
                }
            )
            {
                yield return (whole, question);
                break;
            }
    }

    /// <summary>The question with the suggestion in place of what it speaks of; the suggestion alone where it is a whole
    /// question.</summary>
    private IEnumerable<string> Placed(string text, string suggestion, ImmutableArray<string> unknown, SettledMentions finder)
    {
        var said = finder.Find(Words.Tokens(suggestion));
        if (said.Exists(m => m is { Kind: MentionKind.By, Start: 0 }))
            return InSplit(text, suggestion, unknown, finder);
        return IsPeriod(said, 0) && Words.Tokens(suggestion).Select((_, i) => i).All(i => IsPeriod(said, i))
            ? InPeriod(text, suggestion, finder)
            : [suggestion];
    }

    private IEnumerable<string> InSplit(string text, string split, ImmutableArray<string> unknown, SettledMentions finder)
    {
        var tokens = Words.Tokens(text);
        var mentions = finder.Find(tokens);
        // What is split like that already is not split like that once more.
        if (
            finder
                .Find(Words.Tokens(split))
                .Exists(m =>
                    m.Kind == MentionKind.Level
                    && mentions.Exists(o => o.Kind == MentionKind.Level && o.Dimension == m.Dimension && o.Value == m.Value)
                )
        )
            yield break;
        var led = mentions
            .Where(m => m.Kind == MentionKind.By && m.End < tokens.Count)
            .Select(m => (m.Start, m.End))
            .Distinct()
            .OrderByDescending(m => m.Start)
            .Take(MostSplitsTried)
            .ToList();
        foreach (var by in led)
        {
            // "By cabin class" is one thing, up to the next small word; where that leads nowhere, fewer words of it are.
            var next = tokens.FindIndex(by.End, t =>
                t.Text == ","
                || vocabulary
                    .Find(t.Stem)
                    .Any(e =>
                        e.Kind
                            is MentionKind.By
                                or MentionKind.Place
                                or MentionKind.And
                                or MentionKind.Then
                                or MentionKind.To
                                or MentionKind.Comparator
                                or MentionKind.Exclude
                                or MentionKind.Gap
                                or MentionKind.Month
                                or MentionKind.Part
                    )
            );
            for (var end = Math.Min(next < 0 ? tokens.Count : next, by.End + LongestSplit); end > by.End; end--)
                yield return Replaced(text, tokens, by.Start, end, split);
        }
        if (led.Count > 0)
            yield break;
        // "For Atlantis", where there is no such place: all of them.
        var from = tokens.FindIndex(t => unknown.Contains(t.Text));
        var to = tokens.FindLastIndex(t => unknown.Contains(t.Text)) + 1;
        if (from < 0)
            yield return $"{text.TrimEnd('?', '!', '.', ' ')} {split}";
        else if (mentions.Find(m => m.Kind == MentionKind.Place && m.End == from) is { } place)
            yield return Replaced(text, tokens, place.Start, to, split);
    }

    private static IEnumerable<string> InPeriod(string text, string period, SettledMentions finder)
    {
        var tokens = Words.Tokens(text);
        var mentions = finder.Find(tokens);
        var from = tokens.FindIndex(t => IsPeriod(mentions, tokens.IndexOf(t)));
        if (from < 0)
            yield break;
        var to = from;
        while (to < tokens.Count && IsPeriod(mentions, to))
            to++;
        yield return Replaced(text, tokens, from, to, period);
    }

    private static bool IsPeriod(List<Mention> mentions, int at) =>
        mentions.Exists(m =>
            m.Start <= at
            && at < m.End
            && m.Kind is MentionKind.Month or MentionKind.Year or MentionKind.Part or MentionKind.Period
        );

    private static string Replaced(string text, List<Token> tokens, int from, int to, string with) =>
        string.Concat(text.AsSpan(0, tokens[from].Start), with, text.AsSpan(tokens[to - 1].Start + tokens[to - 1].Text.Length));
}
