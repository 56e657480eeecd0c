using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

internal static partial class Rules
{
    /// <summary>A level that stands alone is sooner a part of something else.</summary>
    private const int LevelAlone = 30;

    private static IEnumerable<Rule> OfRows =>
        [
            Rule.Of<ByWord, LevelItem>("split by a level", (by, l, _) => new SplitItem([l.Of], by.Each), "by yard", "yard"),
            Rule.Of<LevelItem, ByWord, LevelItem>(
                "one by one",
                (one, _, other, _) => one.Of == other.Of ? new SplitItem([one.Of]) : null,
                "yard by yard",
                "yard by month"
            ),
            Rule.Of<SplitItem, AndWord, LevelItem>(
                "split by a further level",
                (split, _, l, _) => split.By.Contains(l.Of) ? null : split with { By = [.. split.By, l.Of] },
                "by yard and month",
                "by yard and yard"
            ),
            Rule.Of<SplitItem, AndWord, SplitItem>(
                "split by one and by another",
                (one, _, two, _) => one.By.Any(b => two.By.Contains(b)) ? null : one with { By = [.. one.By, .. two.By] },
                "by yard and by month",
                "by yard and by yard"
            ),
            Rule.Of<SplitItem, InsteadWord, SplitItem>(
                "one split in place of another",
                (with, _, of, _) => with.By == of.By ? null : with,
                "by yard instead of by month",
                "by yard instead of by yard"
            ),
            Rule.Of<SplitItem, SplitItem>(
                "split by one, then by another",
                (one, two, _) => one.By.Any(b => two.By.Contains(b)) ? null : one with { By = [.. one.By, .. two.By] },
                "by yard by month",
                "by yard"
            ),
            Rule.Of<AskItem, LevelItem>(
                "which of a level",
                (ask, l, _) => ask.What == Asked.Which ? new SplitItem([l.Of], Which: true, Several: l.Plural) : null,
                "which yards",
                "why yards"
            ),
            Rule.Of<LevelItem>(
                "a level alone is what rows are split by",
                (l, _) => l.Plural ? new SplitItem([l.Of]) : null,
                "yards",
                "yard",
                LevelAlone
            ),
            Rule.Of<LevelItem, AcrossWord>(
                "parts of time side by side",
                (l, _, _) => l.Of.Grain is { } grain ? new AcrossItem(grain) : null,
                "months side by side",
                "yards side by side"
            ),
            Rule.Of<EndItem>("an end of the order", (e, _) => e.Rank(e.One ? 1 : null, null, e.Some), "largest", "larger"),
            Rule.Of<EndItem, LevelItem>(
                "an end, and what is ranked",
                (e, l, _) => e.Rank(l.Plural ? null : 1, l.Of, e.Some || l.Plural),
                "largest yard",
                "yard"
            ),
            Rule.Of<SplitItem, EndItem>(
                "which of a level is out of line",
                (which, e, _) =>
                    which is { Which: true, By: [var of] } && e.End == End.Unusual
                        ? e.Rank(which.Several ? null : 1, of, which.Several)
                        : null,
                "which yard sticks out",
                "which yard is largest"
            ),
            Rule.Of<EndItem, NumberItem>("so many of an end", (e, n, _) => e.Rank(n.Value), "top 3", "3"),
            Rule.Of<NumberItem, EndItem>("so many of an end, the number first", (n, e, _) => e.Rank(n.Value), "3 largest", "3"),
            Rule.Of<EndItem, NumberItem, LevelItem>(
                "so many of an end of a level",
                (e, n, l, _) => e.Rank(n.Value, l.Of),
                "top 3 yards",
                "3 yards"
            ),
            Rule.Of<NumberItem, EndItem, LevelItem>(
                "so many of an end of a level, the number first",
                (n, e, l, _) => e.Rank(n.Value, l.Of),
                "3 largest yards",
                "3 yards"
            ),
            Rule.Of<OrdinalItem, EndItem>(
                "the one at a place",
                (o, e, _) => e.Rank(1, null, false, o.Place - 1),
                "second largest",
                "second"
            ),
            Rule.Of<OrdinalItem, EndItem, LevelItem>(
                "the one of a level at a place",
                (o, e, l, _) => e.Rank(1, l.Of, false, o.Place - 1),
                "second largest yard",
                "second yard"
            ),
            Rule.Of<EndItem, EntriesItem>(
                "entries at an end",
                (e, entries, _) =>
                    entries.Rank is null
                        ? entries with
                        {
                            Rank = new RankItem(e.End, entries.Plural ? null : 1, 0, false, null),
                        }
                        : null,
                "largest entries",
                "entries"
            ),
            Rule.Of<EndItem, NumberItem, EntriesItem>(
                "so many entries of an end",
                (e, n, entries, _) =>
                    entries.Rank is null ? entries with { Rank = new RankItem(e.End, n.Value, 0, false, null) } : null,
                "top 5 entries",
                "5 entries"
            ),
            Rule.Of<NumberItem, EndItem, EntriesItem>(
                "so many entries of an end, the number first",
                (n, e, entries, _) =>
                    entries.Rank is null ? entries with { Rank = new RankItem(e.End, n.Value, 0, false, null) } : null,
                "5 largest entries",
                "5 entries"
            ),
            Rule.Of<EveryWord, EntriesItem>("every entry", (_, e, _) => e, "all entries", "entries"),
            Rule.Of<AnyWord, EntriesItem>("any entries", (_, e, _) => e, "any entries", "entries"),
            Rule.Of<RankItem, AndWord, RankItem>(
                "both ends",
                (one, _, two, _) =>
                    Opposite(one.End, two.End) && (one.Count is null || two.Count is null || one.Count == two.Count)
                        ? (one.Of is null ? two : one) with
                        {
                            Count = one.Count ?? two.Count,
                            BothEnds = true,
                            End = End.Largest,
                        }
                        : null,
                "best and worst",
                "best and largest"
            ),
        ];

    private static bool Opposite(End one, End other) =>
        (one, other)
            is
                (End.Largest, End.Smallest)
                or
                (End.Smallest, End.Largest)
                or
                (End.Best, End.Worst)
                or
                (End.Worst, End.Best)
                or
                (End.Fastest, End.Slowest)
                or
                (End.Slowest, End.Fastest);
}
