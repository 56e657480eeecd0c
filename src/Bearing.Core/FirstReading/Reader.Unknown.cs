using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Words that nobody knows: when they only stand about, and when answering without them would answer another
/// question.</summary>
public sealed partial class FirstReader
{
    /// <summary>
    /// Nothing recognised at all, or an unknown word where a name is expected: answering would silently widen the question.
    /// </summary>
    private ReadResult? Unknown(
        Covering covering,
        List<Token> tokens,
        SettledMentions finder,
        bool namesNothing,
        bool followsUp,
        bool ofRecords
    )
    {
        if (covering.Unused.Count == 0)
            return covering.Mentions.All(m =>
                m
                    is { Kind: MentionKind.Filler, Value: not Composer.PartsWord }
                        or { Kind: MentionKind.Place or MentionKind.And or MentionKind.To }
            )
                ? Cannot("The words name no figure, period or comparison. Try “operating profit versus budget by entity”.")
                : null;
        var meaningful = covering.Mentions.Count(m =>
            m.Kind is not (MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.To)
        );
        var blocking = covering
            .Unused.Where(i =>
                meaningful == 0
                || namesNothing
                || FollowsPlace(covering, tokens, i)
                || BesidePartOfName(covering, i)
                || IsOfFigure(covering, tokens, i)
                || IsPartOfRatio(covering, i)
                || SaysWhichFigure(covering, tokens, i)
                || IsSubject(covering, tokens, i)
                || IsRanked(covering, tokens, i)
                || IsSaved(covering, i)
                || LeadsPeriod(covering, i)
                || IsDoneByUs(covering, i)
                || ((followsUp || ofRecords) && Leads(covering, tokens, i))
            )
            .ToList();
        if (blocking.Count == 0 && covering.Unused.Count <= meaningful)
            return null;
        var named = (blocking.Count > 0 ? blocking : covering.Unused).Select(i => tokens[i]).ToList();
        var counted = covering.Mentions.Any(m => m is { Kind: MentionKind.Intent, Value: "value:many" });
        var nearest = named
            .SelectMany(t =>
                finder
                    .Nearest(t.Stem, 3)
                    .Where(n => t.Stem.Length >= LeastReplaced && (!vocabulary.IsCommon(t.Stem) || LeavesLetterOut(t.Stem, n)))
            )
            .Concat(counted ? Counted() : [])
            .Distinct()
            .Take(5)
            .ToArray();
        var list = string.Join(", ", named.Take(5).Select(t => $"“{t.Text}”"));
        var because =
            $"{list} {(named.Count == 1 ? "is" : "are")} not known in this book"
            + (nearest.Length > 0 ? $"; the nearest known: {string.Join(", ", nearest)}." : ".");
        return Cannot(because, nearest) with { Unknown = [.. named.Select(t => t.Text)] };
    }

    /// <summary>A word that everybody knows may be a name less a letter, as fright is of freight; save is no sale.</summary>
    private static bool LeavesLetterOut(string stem, string name) =>
        Words.Tokens(name).Exists(t => t.Stem.Length == stem.Length + 1 && Words.Distance(t.Stem, stem, 1) == 1);

    /// <summary>By what figures can be split, for a word behind "by" or "at" that nobody knows: the last level of each dimension
    /// but the accounts.</summary>
    private IEnumerable<string> Splits(List<Token> tokens, ImmutableArray<string> unknown) =>
        tokens
            .TakeWhile(t => !unknown.Contains(t.Text))
            .Any(t => vocabulary.Find(t.Stem).Any(e => e.Kind is MentionKind.By or MentionKind.Place))
            ? book
                .Definition.Dimensions.Where(d => d.Role != DimensionRole.Account)
                .Select(d => $"by {d.Levels[^1].ToLowerInvariant()}")
            : [];

    /// <summary>"Revenue in %" of nothing said shows no percentage; anywhere else the sign only says again what is
    /// shown.</summary>
    private IEnumerable<int> IdlePercents(Covering covering, FormOneQuestion question, List<Token> tokens) =>
        question.Records is null
        && (
            question.Share
            || question.Bases.Length > 0
            || question.Conditions.Any(c => c.On == ConditionOn.Percent)
            || book.Figure(question.Figure) is PairFigure { Rule: PairRule.Percent }
        )
            ? []
            : Enumerable
                .Range(0, tokens.Count)
                .Where(i => tokens[i].Text == "%" && !covering.Mentions.Any(m => m.Start <= i && i < m.End));

    /// <summary>"To", "the": nothing is lost where they are.</summary>
    private bool IsSlight(Token token) =>
        vocabulary.Find(token.Stem) is { Count: > 0 } kinds
        && kinds.All(k => k.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.To);

    /// <summary>Letters that a word has at least to have nearest ones: an initial has none.</summary>
    private const int LeastReplaced = 3;

    /// <summary>The question with the nearest known words where the unknown one stands, as far as it can be answered then; the
    /// words alone where there are several unknown.</summary>
    private IEnumerable<string> InPlace(Asked asked, ReadResult unknown, Covering covering)
    {
        var (text, tokens) = (asked.Text, asked.Tokens);
        if (
            unknown.Unknown is not [var only]
            || unknown.Nearest.Any(n => tokens.Exists(t => t.Stem == Words.Phrase(n)))
            || tokens.Count == 1
            || only.Length < LeastReplaced
            || tokens.FirstOrDefault(t => t.Text == only) is not { } word
        )
            return unknown.Nearest;
        // "Bunker surcharge" is no bunker bank charges.
        var at = tokens.IndexOf(word);
        if (covering.Mentions.Any(m => m.Kind == MentionKind.Figure && (m.End == at || m.Start == at + 1)))
            return [];
        return unknown
            .Nearest.Select(n => string.Concat(text.AsSpan(0, word.Start), n, text.AsSpan(word.Start + only.Length)))
            .Where(q => CanOffer(q, asked));
    }

    /// <summary>"Profit per unicorn", "dues per call": what figures cannot be divided by, and the question with what is counted
    /// in its place.</summary>
    private ReadResult PerNothing(Asked asked, Mention per, bool unknown)
    {
        var (text, tokens) = (asked.Text, asked.Tokens);
        if (per.End >= tokens.Count)
            return Cannot(
                $"“{tokens[per.Start].Text}” wants something that is counted behind it, and nothing stands there.",
                [.. Counted().Take(MostCounted)]
            );
        var word = tokens[per.End];
        var because = unknown
            ? $"“{word.Text}” is not known in this book; what figures are divided by is something that is counted."
            : $"“{tokens[per.Start].Text}” wants something that is counted or kept apart behind it, and “{word.Text}” is neither.";
        var instead = Counted()
            .Take(MostCountedTried)
            .Select(Words.Tokens)
            .Where(c => c.Count > 0)
            .Select(c => string.Join(' ', c.SkipLast(1).Select(t => t.Text).Append(c[^1].Stem)).ToLowerInvariant())
            .Select(c => string.Concat(text.AsSpan(0, word.Start), c, text.AsSpan(word.Start + word.Text.Length)));
        return Cannot(because, [.. instead.Where(q => CanOffer(q, asked)).Take(MostCounted)]) with
        {
            Unknown = unknown ? [word.Text] : [],
        };
    }

    private const int MostCounted = 4;

    /// <summary>Each is a reading of its own: a book that counts thousands of things shall not keep the service busy.</summary>
    private const int MostCountedTried = 12;

    /// <summary>Where no figure was named, a word that nobody knows is likely to be its name.</summary>
    private static bool NamesNothing(Draft draft, Resolved resolved) =>
        draft.Figures.Count == 0
        && !draft.ResultNamed
        && !draft.OfRecords
        && !resolved.FollowsUp
        && draft.Intent != Intent.Entries;

    private const int MostOpenings = 3;

    /// <summary>The word by which a question that says little else speaks of an answer before it; null where it does not:
    /// “entities that beat their budget” are meant themselves.</summary>
    private string? Pointer(Covering covering, Draft draft, List<Token> tokens) =>
        draft.OfRecords || draft.Intent == Intent.Entries || draft.ResultNamed || (draft.Figures.Count > 0 && !draft.IsBare)
            ? null
            : covering
                .Mentions.Where(m =>
                    m is { Kind: MentionKind.Edit, Value: Composer.EditWord }
                    || (
                        draft.Figures.Count + draft.Breakdowns.Count + draft.Filters.Count == 0
                        && m
                            is { Kind: MentionKind.Row or MentionKind.Edit }
                                or { Kind: MentionKind.Filler, Value: Composer.ItsWord or Composer.TheirWord }
                    )
                )
                .SelectMany(m => tokens.Skip(m.Start).Take(m.Length))
                .FirstOrDefault(t => vocabulary.Pointers.Contains(t.Stem))
                ?.Text;

    /// <summary>What the book counts, for a question how many.</summary>
    private IEnumerable<string> Counted() =>
        book.MembersOf(book.Accounts.Id)
            .Where(m => m.Account?.Type == AccountType.Statistic && !book.HasChildren(m))
            .Select(m => m.Name);

    /// <summary>"Guest satisfaction" is not guests, and "cash margin" is not the margin: a word that nobody knows right behind a
    /// figure, or before one known only by a part of its name or by a misspelling, makes another thing of it; nor is "customer
    /// satisfaction" the customer service.</summary>
    private static bool BesidePartOfName(Covering covering, int index) =>
        covering.Mentions.Any(m => m is { Kind: MentionKind.Member, Partial: true } && m.End == index)
        || covering.Mentions.Any(m =>
            m is { Kind: MentionKind.Figure }
            && m.End == index
            && covering.Mentions.Any(o => o.Kind == MentionKind.By && o.End == m.Start)
        )
        || covering.Mentions.Any(m =>
            m is { Kind: MentionKind.Figure }
            && (m.Partial || m.Corrected || covering.Mentions.Count(o => o.Kind == MentionKind.Figure) == 1)
            && (m.End == index || ((m.Partial || m.Corrected) && m.Start == index + 1))
        );

    /// <summary>"Cash margin" is not the margin, and "fixed costs" are not all costs: the word right before a ratio or before
    /// costs says which.</summary>
    private bool SaysWhichFigure(Covering covering, List<Token> tokens, int index) =>
        covering.Mentions.Any(m => m.Kind == MentionKind.Figure && m.Start == index + 1)
        && index + 1 < tokens.Count
        && tokens[index + 1].Start == tokens[index].Start + tokens[index].Text.Length + 1;

    /// <summary>As a follow-up, or before records, "crew mood by vessel" is not "by vessel": what it begins with names what is
    /// asked for. "Nice, by vessel" begins behind the comma.</summary>
    private static bool Leads(Covering covering, List<Token> tokens, int index)
    {
        var end = Enumerable
            .Range(0, tokens.Count)
            .First(i => i > index && !covering.Unused.Contains(i) || i == tokens.Count - 1);
        return Enumerable.Range(0, index + 1).All(covering.Unused.Contains) && tokens[end].Text != ",";
    }

    /// <summary>"Our best paid winemaker": the last word, behind a rank or a state, is what is ranked.</summary>
    private static bool IsRanked(Covering covering, List<Token> tokens, int index) =>
        (index == tokens.Count - 1 || covering.Mentions.Any(m => m.Kind == MentionKind.Place && m.Start == index + 1))
        && covering.Mentions.Any(m => m.End == index && m.Kind is MentionKind.Rank or MentionKind.Check or MentionKind.Unit)
        && covering.Mentions.Any(m => m.Kind == MentionKind.Rank);

    /// <summary>"Cost saving opportunities" are none that were saved: what stands right behind such a word is what is asked
    /// for.</summary>
    private static bool IsSaved(Covering covering, int index) =>
        covering.Mentions.Any(m => m.Kind == MentionKind.Gap && m.End == index && GapSense.Of(m).OfCosts);

    /// <summary>"Without the north shop, refitted June 2025": of two periods, the one behind a word that nobody knows belongs to
    /// that word.</summary>
    private static bool LeadsPeriod(Covering covering, int index) =>
        covering.Mentions.Any(IsPeriod)
        && covering.Mentions.Where(IsPeriod).Min(m => m.Start) < index
        && covering.Mentions.Any(m =>
            IsPeriod(m)
            && (
                m.Start == index + 1
                || (m.Start == index + 2 && covering.Mentions.Any(p => p.Kind == MentionKind.Place && p.Start == index + 1))
            )
        );

    private static bool IsPeriod(Mention mention) =>
        mention.Kind is MentionKind.Month or MentionKind.Year or MentionKind.Part or MentionKind.Period;

    /// <summary>"Did dust complaints fall": of what something is claimed has to be known.</summary>
    private bool IsSubject(Covering covering, List<Token> tokens, int index) =>
        vocabulary.ClaimsAt(tokens, 0)
        && Enumerable
            .Range(1, index)
            .All(i =>
                covering.Unused.Contains(i)
                || covering.Mentions.Any(m => m.Start <= i && i < m.End && m.Kind == MentionKind.Filler)
            );

    /// <summary>"Satisfaction of passengers" is not passengers: what is asked for is the word before of, and so it is in "sick
    /// days of drivers".</summary>
    private bool IsOfFigure(Covering covering, List<Token> tokens, int index)
    {
        var of = tokens.FindIndex(index + 1, t => !vocabulary.MeasureNouns.Contains(t.Stem));
        return covering.Mentions.Any(m => m is { Kind: MentionKind.Place, Value: "of" } && m.Start == of)
            && covering.Mentions.FirstOrDefault(m => m.Start > of && m.Kind is not MentionKind.Filler)?.Kind
                is MentionKind.Figure;
    }

    /// <summary>"Wastage as percent of sales": what is divided has to be known.</summary>
    private static bool IsPartOfRatio(Covering covering, int index)
    {
        var next = covering.Mentions.FirstOrDefault(m => m.Start > index && m.Kind is not MentionKind.Filler);
        return next is { Kind: MentionKind.By, Value: "percent" or "ratio" } or { Kind: MentionKind.Share }
            && covering.Mentions.All(m => m.Start > index || m.Kind is MentionKind.Filler)
            && Enumerable.Range(index + 1, next.Start - index - 1).All(i => !covering.Unused.Contains(i));
    }

    private bool FollowsPlace(Covering covering, List<Token> tokens, int index)
    {
        // "How many dental procedures": what is counted has to be known.
        if (
            covering.Mentions.FirstOrDefault(m =>
                m is { Kind: MentionKind.Intent, Value: "value:many" } or { Kind: MentionKind.Statistic, Value: "count" }
            )
                is { } count
            && count.End <= index
            && Enumerable
                .Range(count.End, index - count.End)
                .All(i =>
                    covering.Mentions.Any(m => m.Start <= i && i < m.End && m.Kind is MentionKind.Member or MentionKind.Filler)
                )
        )
            return true;
        // Steps over further unknown words and articles: "at the old mill".
        for (var at = index - 1; at >= 0; at--)
        {
            if (covering.Unused.Contains(at))
                continue;
            var mention = covering.Mentions.FirstOrDefault(m => m.Start <= at && at < m.End);
            if (at == index - 1 && vocabulary.Find(tokens[at].Stem).Any(e => e.Kind == MentionKind.By))
                return true;
            // "The age of the fleet": within a phrase "of" still says of what.
            if (vocabulary.Find(tokens[at].Stem).Any(e => e is { Kind: MentionKind.Place, Value: "of" }))
                return true;
            // "Which actor", "how cold": what is asked for has to be known; "do we owe Fenlock", to whom as well.
            if (
                mention
                is {
                        Kind: MentionKind.Place
                            or MentionKind.By
                            or MentionKind.To
                            or MentionKind.Exclude
                            or MentionKind.And
                            or MentionKind.Edit
                            or MentionKind.Comparator
                    }
                    or { Kind: MentionKind.Which, Value: "which" }
                    or { Kind: MentionKind.Statistic, Value: "count" }
                    or { Kind: MentionKind.Filler, Value: "what" or "how" }
                    or { Kind: MentionKind.Projection }
                    or { Kind: MentionKind.Intent, Value: "value:much" }
                    or { Kind: MentionKind.Check, Value: "owed-by-us" or "owed-to-us" }
            )
                return true;
            if (mention is not { Kind: MentionKind.Filler })
                return false;
        }
        return false;
    }

    /// <summary>"What did we accrue": what was done says what is asked for, where nothing else does.</summary>
    private static bool IsDoneByUs(Covering covering, int index) =>
        covering.Mentions.Any(m => m.Kind == MentionKind.Result && m.End == index)
        && !covering.Mentions.Any(m => m.Kind is MentionKind.Figure or MentionKind.Statement or MentionKind.Records);
}
