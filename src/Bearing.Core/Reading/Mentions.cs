using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Reading;

/// <summary>One thing that a span of words could mean.</summary>
/// <param name="Start">Index of the first token.</param>
/// <param name="Cost">0 for a name as it stands; more for every liberty taken with the words.</param>
/// <param name="Title">The meaning in words.</param>
public sealed record Mention(MentionKind Kind, string Value, string? Dimension, int Start, int Length, double Cost, string Title)
{
    public int End => Start + Length;

    /// <summary>True when a word was taken for a misspelling.</summary>
    public bool Corrected { get; init; }

    /// <summary>True for EBIT where the book calls it otherwise.</summary>
    public bool IsUsualName { get; init; }

    /// <summary>True for "cars" as a part of a name that has a car in it: not the fares but what pays them may be
    /// meant.</summary>
    public bool OtherNumber { get; init; }

    /// <summary>True for "people" and the like, who may be whoever is counted.</summary>
    public bool IsAnybody { get; init; }

    /// <summary>True for "invoice", "entry" or "route", of which one is meant.</summary>
    public bool Singular { get; init; }

    /// <summary>True when only a part of a name was said, or of a word that several names share only the singular.</summary>
    public bool Partial { get; init; }
}

/// <summary>Finds every meaning of every span of up to six words. Nothing is decided here.</summary>
public sealed partial class MentionFinder(Vocabulary vocabulary, Book book, BookWords words)
{
    private const int LongestSpan = 6;
    private const int MostCorrections = 4;
    private const int MostPartials = 12;

    /// <summary>Letters that the beginning of a word has at least.</summary>
    private const int LeastClipped = 4;

    /// <summary>Letters up to which a beginning is one whatever is left of the word, and the most that an ending has.</summary>
    private const int LongestClipped = 5,
        LongestEnding = 3;

    private static readonly char[] Vowels = [.. "aeiouy"];

    /// <summary>Edits beyond which a known word is not near to an unknown one, however long.</summary>
    private const int FarthestNear = 3;

    /// <summary>Each mention has a price, so that one long name beats two short ones.</summary>
    internal const double PerMention = 0.15;
    private const double WholeName = 0.02;
    private const double PartOfName = 0.3;
    private const double SaidOtherwise = 0.12;

    /// <summary>As much as a part of a name that it does not begin with, or nearly.</summary>
    private const double Contested = 0.35;
    private const double PerEdit = 0.6;
    private const double Abbreviated = 0.03;

    /// <summary>A slip of the pen is sooner one in a name of the book.</summary>
    private const double OfLanguage = 0.05;
    private const double SpeltOtherwise = 0.01;

    /// <summary>Letters before an ending that may be spelt otherwise: "our" is no "or".</summary>
    private const int LeastBase = 3;

    /// <summary>People shorten a name from its beginning: a word from the middle is the weaker hint.</summary>
    private const double NotFromStart = 0.15;

    /// <summary>Of two accounts that share a word the one that ends in it may be meant as well: that is asked back.</summary>
    private const double FigureNotFromStart = 0.1;
    private const double OnlyDenominator = 0.3;

    /// <summary>"Will" looks ahead before it only sounds well.</summary>
    private const double PassedOver = 0.1;

    /// <summary>"Tickets" are tickets sold before they are ticket sales.</summary>
    private const double AsWritten = 0.15;

    /// <summary>A name in quotation marks is that name before it is a text.</summary>
    private const double QuotedWithoutLead = 0.4;

    /// <summary>"Invoices" are the records sooner than the field that numbers them.</summary>
    private const double FieldOrRecord = 0.2;

    /// <summary>"Open" is a test of what is owed sooner than the word that stands in a column.</summary>
    private const double ValueOrCheck = 0.2;

    /// <summary>"Cost per visit" is not the drug cost per visit: the word left out was the figure.</summary>
    internal const double OtherRatio = 0.7;
    internal const double TakesApart = 0.8;

    public List<Mention> Find(IReadOnlyList<Token> tokens)
    {
        var forms = tokens.Select(Forms).ToList();
        var mentions = new List<Mention>();
        for (var start = 0; start < tokens.Count; start++)
        {
            if (Quoted(tokens, start) is { } quote)
                mentions.Add(quote);
            mentions.AddRange(Shapes(tokens[start], start));
            mentions.AddRange(Initials(tokens[start], start));
            mentions.AddRange(CodeRanges(tokens, start));
            for (var length = 1; length <= LongestSpan && start + length <= tokens.Count; length++)
                foreach (var (stems, cost) in Combine(forms, start, length))
                    mentions.AddRange(
                        Lookup(
                                stems,
                                start,
                                length,
                                cost,
                                length > 1 && tokens.Skip(start + 1).Take(length - 1).All(t => t.Hyphened)
                            )
                            .Where(m =>
                                !IsOtherCase(m, tokens, start)
                                && !IsWordAndCode(m, tokens[start])
                                && !IsOtherNoun(m, tokens[start])
                                && !IsOnePeriod(m, tokens[start + length - 1])
                                && !(start > 0 && IsSoManyPercent(m, tokens[start - 1], tokens[start]))
                            )
                            .Select(m => cost >= PerEdit ? m with { Corrected = true } : m)
                            .Select(m =>
                                m.Kind == MentionKind.Class ? m with { Partial = IsSingular(tokens[start]) }
                                : IsPronoun(m, tokens[start]) ? m with { Kind = MentionKind.Filler }
                                : m.Kind is MentionKind.Records or MentionKind.Intent or MentionKind.Level or MentionKind.Grain
                                    ? m with
                                    {
                                        Singular = IsSingular(tokens[start + length - 1]),
                                    }
                                : m.Kind is MentionKind.Scenario
                                    ? m with
                                    {
                                        Singular = tokens.Skip(start).Take(length).All(IsSingular),
                                    }
                                : m
                            )
                    );
        }
        mentions =
        [
            .. mentions.Select(m =>
                m is not { Kind: MentionKind.Figure, Partial: true, Length: 1 } || IsSingular(tokens[m.Start]) ? m
                : IsAsWritten(m, tokens[m.Start])
                    ? EndsOther(mentions, m, tokens[m.Start]) ? m
                        : m with { Cost = m.Cost - AsWritten }
                : m with { OtherNumber = m.Title.StartsWith(tokens[m.Start].Stem + " ", StringComparison.OrdinalIgnoreCase) }
            ),
        ];
        mentions.AddRange(Scattered(tokens));
        for (var at = 0; at < tokens.Count; at++)
            mentions.AddRange(Heads(tokens[at], at));
        for (var at = 1; at < tokens.Count; at++)
            mentions.AddRange(LevelEnds(tokens, at));
        foreach (var elided in SharedEndings(tokens, mentions).ToList())
            mentions =
            [
                .. mentions.Select(m =>
                    m.Kind is MentionKind.Figure or MentionKind.Member
                    && (m.Start, m.Length) == (elided.Start, elided.Length)
                    && m.Value != elided.Value
                        ? m with
                        {
                            Cost = m.Cost + TakesApart,
                        }
                        : m
                ),
                elided,
            ];
        return mentions;
    }

    /// <summary>"IT" is IT and phones: two capitals are a part of a name that has them as a word of its own.</summary>
    private IEnumerable<Mention> Initials(Token token, int at) =>
        token.Text.Length != 2 || !token.Text.All(char.IsUpper)
            ? []
            : words
                .Partial([token.Stem])
                .Where(n => n.Target.Kind is MentionKind.Figure or MentionKind.Member && n.Text.Split(' ').Contains(token.Text))
                .Take(MostPartials)
                .Select(n => Named(n, at, 1, PerMention + PartOfName) with { Partial = true });

    /// <summary>"Runs" are short runs and long runs, though "run" only stands about: a word in the plural in which names
    /// end.</summary>
    private IEnumerable<Mention> Heads(Token token, int at) =>
        IsSingular(token) || vocabulary.Find(token.Stem).All(e => e.Kind != MentionKind.Filler)
            ? []
            : words
                .Partial([token.Stem])
                .Where(n =>
                    n.Target.Kind is MentionKind.Figure && n.Text.EndsWith(" " + token.Text, StringComparison.OrdinalIgnoreCase)
                )
                .Take(MostPartials)
                .Select(n => Named(n, at, 1, PerMention + PartOfName + FigureNotFromStart) with { Partial = true });

    /// <summary>"By plan" is by member plan, where what figures are split by is called so: the word that it ends in, right behind
    /// "by".</summary>
    private IEnumerable<Mention> LevelEnds(IReadOnlyList<Token> tokens, int at) =>
        !vocabulary.Find(tokens[at - 1].Stem).Any(e => e is { Kind: MentionKind.By, Value: "by" })
        || words.Whole(tokens[at].Stem).Any(n => n.Target.Kind is MentionKind.Level or MentionKind.Figure)
            ? []
            : words
                .Levels.Where(n => n.Stems.Length > 1 && n.Stems[^1] == tokens[at].Stem)
                .DistinctBy(n => n.Target)
                .Select(n => Named(n, at, 1, PerMention + PartOfName) with { Partial = true });

    /// <summary>"Who sold the most tickets" speaks of tickets sold: what is done stands apart from what it is done to.</summary>
    private IEnumerable<Mention> Scattered(IReadOnlyList<Token> tokens)
    {
        // Most questions have no such verb, and names of one word may be many.
        for (var at = 0; at < tokens.Count && tokens.Any(t => vocabulary.Verbs.ContainsKey(t.Stem)); at++)
        {
            if (!words.Knows(tokens[at].Stem))
                continue;
            foreach (
                var name in words
                    .Partial([tokens[at].Stem])
                    .Where(n => n.Target.Kind is MentionKind.Figure && n.Stems.Length == 2)
            )
            {
                var done = name.Stems[name.Stems[0] == tokens[at].Stem ? 1 : 0];
                // Works that bricks are made at do no work.
                if (
                    !vocabulary.Verbs.TryGetValue(done, out var forms)
                    || words.Whole(done).Any(n => n.Target.Kind == MentionKind.Level)
                )
                    continue;
                var verb = Enumerable
                    .Range(0, tokens.Count)
                    .FirstOrDefault(i => Math.Abs(i - at) > 1 && forms.Contains(tokens[i].Stem), -1);
                if (verb < 0)
                    continue;
                yield return Named(name, at, 1, PerMention + WholeName);
                yield return new Mention(MentionKind.Filler, done, null, verb, 1, WholeName, tokens[verb].Stem);
            }
        }
    }

    /// <summary>"Passenger and freight revenue" speaks of passenger revenue: what follows the last of a list is said once for all
    /// of it.</summary>
    private IEnumerable<Mention> SharedEndings(IReadOnlyList<Token> tokens, List<Mention> mentions)
    {
        bool Lists(Token token) => token.Text == "," || vocabulary.Find(token.Stem).Any(e => e.Kind is MentionKind.And);
        foreach (
            var last in mentions.Where(m =>
                m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Corrected: false, Length: > 1, Start: > 1 }
                && Lists(tokens[m.Start - 1])
            )
        )
            for (var length = 1; length < last.Length; length++)
            {
                var ending = string.Join(' ', tokens.Skip(last.End - length).Take(length).Select(t => t.Stem));
                // "Revenue and revenue per passenger": said of the first as well, it would be the last again.
                for (var at = last.Start; Before(at, ending) is { } named && named.Value != last.Value; at = named.Start)
                    yield return named;
            }

        Mention? Before(int at, string ending)
        {
            var end = at;
            while (end > 0 && Lists(tokens[end - 1]))
                end--;
            if (end == at || end == 0 || !IsSingular(tokens[end - 1]))
                return null;
            return Enumerable
                .Range(1, Math.Min(LongestSpan / 2, end))
                .Select(n => (Start: end - n, Length: n))
                .Select(a =>
                    (
                        a.Start,
                        a.Length,
                        Name: words
                            .Whole($"{string.Join(' ', tokens.Skip(a.Start).Take(a.Length).Select(t => t.Stem))} {ending}")
                            .FirstOrDefault(n => n.Target.Kind is MentionKind.Figure or MentionKind.Member)
                    )
                )
                .Where(a => a.Name is not null)
                .Select(a => Named(a.Name!, a.Start, a.Length, PerMention))
                .FirstOrDefault();
        }
    }

    /// <summary>"On Reach" is one of them, "on the Reaches" all.</summary>
    private static bool IsSingular(Token token) => string.Equals(token.Text, token.Stem, StringComparison.OrdinalIgnoreCase);

    /// <summary>"Tickets" begins "Tickets sold", and so does "ticets".</summary>
    private static bool IsAsWritten(Mention mention, Token token) =>
        mention.Title.StartsWith(token.Text + " ", StringComparison.OrdinalIgnoreCase)
        || (
            mention.Corrected
            && mention.Title.Split(' ')[0] is var first
            && !string.Equals(Words.Stem(first), first, StringComparison.OrdinalIgnoreCase)
        );

    /// <summary>"Teachers" begins Teachers employed, and freelance teachers are some as well.</summary>
    private static bool EndsOther(List<Mention> mentions, Mention first, Token token) =>
        mentions.Exists(m =>
            m is { Kind: MentionKind.Figure, Partial: true }
            && (m.Start, m.Length) == (first.Start, first.Length)
            && m.Value != first.Value
            && m.Title.EndsWith(" " + token.Text, StringComparison.OrdinalIgnoreCase)
        );

    /// <summary>All words of one quotation, as typed.</summary>
    private static Mention? Quoted(IReadOnlyList<Token> tokens, int start)
    {
        if (tokens[start].Quotation is not (> 0 and var number) || (start > 0 && tokens[start - 1].Quotation == number))
            return null;
        var length = tokens.Skip(start).TakeWhile(t => t.Quotation == number).Count();
        var text = string.Join(' ', tokens.Skip(start).Take(length).Select(t => t.Text));
        return new Mention(MentionKind.Quote, text, null, start, length, PerMention + QuotedWithoutLead, text);
    }

    /// <summary>Known words close to one that is not, nearest first.</summary>
    public IReadOnlyList<string> Nearest(string stem, int most) =>
        [
            .. words
                .Names.Select(n =>
                    (
                        n.Text,
                        Distance: n.Stems.Min(s =>
                            s == stem ? 0
                            : s.StartsWith(stem, StringComparison.Ordinal)
                            || stem.StartsWith(s, StringComparison.Ordinal) && s.Length > 3
                                ? 1
                            : Words.Distance(s, stem, FarthestNear)
                        )
                    )
                )
                .Where(n => n.Distance <= Math.Clamp(stem.Length / 3, 1, FarthestNear))
                .OrderBy(n => n.Distance)
                .ThenBy(n => n.Text, StringComparer.Ordinal)
                .Select(n => n.Text)
                .Distinct()
                .Take(most),
        ];

    /// <summary>The word itself when it is known, otherwise the known words nearest to it: an existing word is never turned into
    /// another.</summary>
    private List<(string Stem, double Cost)> Forms(Token token)
    {
        // A name that holds the short form is one of the two that it may stand for.
        if (vocabulary.Abbreviations.TryGetValue(token.Stem, out var full))
            return words.Knows(token.Stem)
                ? [(string.Join(' ', full), Abbreviated), (token.Stem, 0)]
                : [(string.Join(' ', full), Abbreviated)];
        var spelt = vocabulary
            .Spellings.Where(s =>
                token.Stem.Length >= s.Typed.Length + LeastBase && token.Stem.EndsWith(s.Typed, StringComparison.Ordinal)
            )
            .Select(s => token.Stem[..^s.Typed.Length] + s.Other)
            .FirstOrDefault(s => words.Knows(s) || vocabulary.Stems.Contains(s));
        if (
            vocabulary.Stems.Contains(token.Stem)
            || words.Knows(token.Stem)
            || words.IsOfValue(token.Stem)
            || token.Stem.Any(char.IsDigit)
        )
            return spelt is null ? [(token.Stem, 0)] : [(token.Stem, 0), (spelt, SpeltOtherwise)];
        if (spelt is not null)
            return [(spelt, SpeltOtherwise)];
        // "Reversed" is no revised, and promotions are no proportion.
        if (vocabulary.IsCommon(token.Stem))
            return [IsSingular(token) || token.Stem.Length > LongestClipped ? Clipped(token.Stem) : (token.Stem, 0)];
        var tolerance = Words.Tolerance(token.Stem.Length);
        if (tolerance == 0)
            return [(token.Stem, 0)];
        var near = Near(token.Stem, tolerance);
        // A slip of the pen in a plural: "entris", "surpuls", "peple".
        if (near.Count == 0)
            near =
            [
                .. Words
                    .SlippedPlurals(token.Text)
                    .SelectMany(s => Near(s, Words.Tolerance(s.Length)))
                    .Concat(
                        Words
                            .IrregularNear(token.Stem, tolerance)
                            .Where(n => words.Knows(n.Stem) || vocabulary.Stems.Contains(n.Stem))
                    )
                    .Select(n => (n.Stem, Math.Max(n.Distance, 1))),
            ];
        // A slip of the pen seldom hits the first letter.
        near.RemoveAll(n =>
            n.Stem[0] != token.Stem[0]
            && !(n.Stem.Length > 1 && token.Stem.Length > 1 && n.Stem[0] == token.Stem[1] && n.Stem[1] == token.Stem[0])
        );
        // Butter is not "better": a word of the language is misspelt by a key that lies beside, or by a letter that sounds alike.
        near.RemoveAll(n => n.Distance == 1 && !words.Knows(n.Stem) && IsFarKey(n.Stem, token.Stem));
        // What goes on behind a word is another one, and no slip: foresters are no forest.
        near.RemoveAll(n => n.Distance > 1 && token.Stem.StartsWith(n.Stem, StringComparison.Ordinal));
        // Two letters that are other ones make another word: "tracking" is no training.
        near.RemoveAll(n =>
            n.Distance > 1
            && n.Stem.Length == token.Stem.Length
            && !Words.AreButForDoubles(n.Stem, token.Stem)
            && n.Stem.Where((c, i) => c != token.Stem[i]).Count() == n.Distance
        );
        // A short word is one letter away from too many: only a whole name, or the same letters in another order, are meant by
        // it.
        if (token.Stem.Length <= LeastClipped)
            near.RemoveAll(n =>
                words.Whole(n.Stem).Count == 0
                && vocabulary.Find(n.Stem).All(e => e.Kind is MentionKind.Filler or MentionKind.Place)
                && !n.Stem.Order().SequenceEqual(token.Stem.Order())
            );
        // What would be passed over is not guessed at: "punctures" are no pictures.
        near.RemoveAll(n => n.Distance > 1 && OnlyStandsAbout(n.Stem));
        // Nothing is written by mistake for an abbreviation.
        near.RemoveAll(n => n.Stem.IndexOfAny(Vowels) < 0);
        // Nobody shortens a word to a few letters and puts it in the plural: "plays" are no playhouse.
        if (near.Count == 0)
            return [IsSingular(token) || token.Stem.Length > LongestClipped ? Clipped(token.Stem) : (token.Stem, 0)];
        var least = near.Min(n => n.Distance);
        near.RemoveAll(n => n.Distance > least);
        // Of several the one that a finger may have slipped to, and what means something.
        if (near.Exists(n => !IsFarKey(n.Stem, token.Stem)))
            near.RemoveAll(n => IsFarKey(n.Stem, token.Stem));
        if (near.Exists(n => !OnlyStandsAbout(n.Stem)))
            near.RemoveAll(n => OnlyStandsAbout(n.Stem));
        return
        [
            .. near.Select(n => n.Stem)
                .Distinct()
                .Order(StringComparer.Ordinal)
                .Take(MostCorrections)
                .Select(s => (s, (least * PerEdit) + (words.Knows(s) ? 0 : OfLanguage))),
        ];
    }

    private List<(string Stem, int Distance)> Near(string stem, int tolerance) =>
        [.. vocabulary.Near(stem, tolerance).Concat(words.Near(stem, tolerance)).Where(s => s.Stem.Length > 3)];

    /// <summary>One letter is another that neither lies beside it nor sounds like it.</summary>
    private bool IsFarKey(string meant, string typed) =>
        Words.Swapped(meant, typed) is var (one, other)
        && !Words.AreNeighbours(one, other)
        && !vocabulary.Confused.Contains(one < other ? (one, other) : (other, one));

    private bool OnlyStandsAbout(string stem) =>
        !words.Knows(stem)
        && vocabulary.Find(stem) is { Count: > 0 } found
        && found.All(e => e.Kind is MentionKind.Filler or MentionKind.Place);

    /// <summary>"Rehab" is the beginning of one word of the book, and of no other: it is that word.</summary>
    private (string Stem, double Cost) Clipped(string stem)
    {
        if (stem.Length < LeastClipped || vocabulary.Stems.Any(s => s.StartsWith(stem, StringComparison.Ordinal)))
            return (stem, 0);
        var whole = words.Stems.Where(s => s.StartsWith(stem, StringComparison.Ordinal)).Take(2).ToList();
        // "Product" is no production cut short: what is left of it is only an ending.
        return whole is [var only] && (stem.Length <= LongestClipped || only.Length - stem.Length > LongestEnding)
            ? (only, PerEdit)
            : (stem, 0);
    }

    private static IEnumerable<(string[] Stems, double Cost)> Combine(
        List<List<(string Stem, double Cost)>> forms,
        int start,
        int length
    )
    {
        IEnumerable<(string[] Stems, double Cost)> combined = [([], 0)];
        for (var i = start; i < start + length; i++)
        {
            var options = forms[i];
            combined = combined.SelectMany(c =>
                options.Select(o => ((string[])[.. c.Stems, .. o.Stem.Split(' ')], c.Cost + o.Cost))
            );
        }
        return combined.Take(MostCorrections * 2);
    }

    /// <param name="joined">Small words that hyphens join are none: a stand-in.</param>
    private IEnumerable<Mention> Lookup(string[] stems, int start, int length, double cost, bool joined)
    {
        var phrase = string.Join(' ', stems);
        foreach (var (kind, value) in vocabulary.Find(phrase))
            yield return new Mention(
                kind,
                value,
                null,
                start,
                length,
                cost
                    + PerMention
                    + LanguageCost(kind)
                    + (
                        kind == MentionKind.Filler && vocabulary.Find(phrase).Any(e => e.Kind == MentionKind.Projection)
                            ? PassedOver
                            : 0
                    ),
                phrase
            );
        var anybody = stems.Length == 1 && vocabulary.Anybody.Contains(phrase);
        foreach (var name in words.Whole(phrase))
            yield return Named(
                name,
                start,
                length,
                cost
                    + PerMention
                    + WholeName
                    + (
                        name.Target.Kind == MentionKind.Value && vocabulary.Find(phrase).Any(e => e.Kind == MentionKind.Check)
                            ? ValueOrCheck
                            : 0
                    )
                    + (name.IsSynonym || name.IsUsualName ? SaidOtherwise : 0)
                    + (name.IsContested ? Contested : 0)
                    + (name.IsSynonym && stems.Length == 1 && BeginsContrary(name, stems[0]) ? PartOfName : 0)
                    + (
                        name.Target.Kind == MentionKind.Field && vocabulary.Find(phrase).Any(e => e.Kind == MentionKind.Records)
                            ? FieldOrRecord
                            : 0
                    )
            ) with
            {
                IsAnybody = anybody,
            };
        if (
            !joined
            && stems.All(s =>
                s.Length < 3
                || vocabulary
                    .Find(s)
                    .Any(e =>
                        e.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.By or MentionKind.To
                    )
            )
        )
            yield break;
        // "Before" is no beginning of profit before tax.
        if (stems is [var only] && vocabulary.Find(only).Any(e => e.Kind == MentionKind.Exclude))
            yield break;
        // "Income per depot" begins no name of income per parcel, and "with text and depot" speaks of no vans and depots.
        if (stems.Length > 1 && (IsPer(stems[^1]) || IsAnd(stems[0]) || IsAnd(stems[^1])))
            yield break;
        // "The margin" is no more the gross one than any other, nor the one that is called a margin of something.
        var margin = vocabulary.Find(phrase).Any(e => e is { Kind: MentionKind.Margin, Value: "margin" });
        foreach (
            var name in words
                .Partial(stems)
                .Where(n =>
                    n.Target.Kind is MentionKind.Member or MentionKind.Figure or MentionKind.Scenario
                    && !(
                        margin
                        && n.Target.Kind == MentionKind.Figure
                        && (n.Stems[0] != stems[0] || words.Whole(phrase).Count == 0)
                    )
                )
                .Take(MostPartials)
        )
            yield return Named(
                name,
                start,
                length,
                cost
                    + PerMention
                    + PartOfName
                    + (PartOfName * (1 - ((double)stems.Length / name.Stems.Length)))
                    + (
                        name.Stems[0] == stems[0] ? 0
                        : name.Stems.Any(IsPer) ? OtherRatio
                        : name.Target.Kind == MentionKind.Figure ? FigureNotFromStart
                        : NotFromStart
                    )
                    + (IsDenominator(name.Stems, stems) ? OnlyDenominator : 0)
                    + (
                        stems.Length == 1
                        && name.Target.Kind == MentionKind.Figure
                        && name.Stems[0] != stems[0]
                        && vocabulary.Find(phrase).Any(e => e.Kind == MentionKind.Unit)
                            ? PartOfName
                            : 0
                    )
            ) with
            {
                Partial = true,
            };
    }

    /// <summary>"Labour" stands for payroll, and begins labour sold as well: which of the two is meant is asked.</summary>
    private bool BeginsContrary(BookName synonym, string stem) =>
        synonym.Target.Kind == MentionKind.Figure
        && vocabulary.Find(stem).All(e => e.Kind != MentionKind.Figure)
        && book.Figure(
            new FigureRef(synonym.Target.Value[0] == 'a' ? FigureKind.Account : FigureKind.Measure, synonym.Target.Value[2..])
        )
            is SumFigure { IsProfit: true, ShownSign: < 0 }
        && words
            .Partial([stem])
            .Any(n =>
                n.Stems[0] == stem
                && n.Target is { Kind: MentionKind.Figure } other
                && other.Value[0] == 'a'
                && book.Figure(new FigureRef(FigureKind.Account, other.Value[2..]))
                    is SumFigure { IsProfit: true, ShownSign: > 0 }
            );

    /// <summary>"It" is not IT: a name in capitals, or a part of one, that is a small word as well is meant only where it is
    /// typed in capitals, or as what something is held per: tickets per show. Pay is.</summary>
    private bool IsOtherCase(Mention mention, IReadOnlyList<Token> tokens, int at) =>
        !(mention.Length > 1 && tokens[at + 1].Hyphened)
        && (
            mention.Partial
            || !mention.Title.Equals(tokens[at].Text, StringComparison.OrdinalIgnoreCase)
            || mention.Title.All(char.IsUpper)
        )
        && mention.Kind is MentionKind.Figure or MentionKind.Member
        && (mention.Length == 1 || mention.Partial)
        && tokens[at].Text.Any(char.IsLower)
        && IsSingular(tokens[at])
        && vocabulary.Find(tokens[at].Stem).Any(e => e.Kind is MentionKind.Filler or MentionKind.Place)
        && !(
            at > 0
            && !mention.Partial
            && vocabulary.Find(tokens[at - 1].Stem).Any(e => e is { Kind: MentionKind.By, Value: "per" or "each" })
        );

    /// <summary>Letters that a code of letters has at most before it reads as a word.</summary>
    private const int LongestAbbreviated = 4;

    /// <summary>"Who" is not the channel WHO, and fees are not the product FEE: a code that is a word as well is meant only where
    /// it is typed in capitals.</summary>
    private bool IsWordAndCode(Mention mention, Token first) =>
        mention is { Kind: MentionKind.Figure or MentionKind.Member, Length: 1, Partial: false }
        && first.Text.Any(char.IsLower)
        && first.Stem.All(char.IsLetter)
        && mention.Value[(mention.Value.IndexOf(':', StringComparison.Ordinal) + 1)..] is var code
        && (
            string.Equals(code, first.Text, StringComparison.OrdinalIgnoreCase)
            || string.Equals(code, first.Stem, StringComparison.OrdinalIgnoreCase)
        )
        && !string.Equals(mention.Title, first.Text, StringComparison.OrdinalIgnoreCase)
        && (
            vocabulary.Find(first.Stem).Count > 0
            || (
                code.Length <= LongestAbbreviated
                && !Words.Tokens(mention.Title).Exists(t => t.Stem == first.Stem)
                && (vocabulary.IsCommon(first.Stem) || !IsSingular(first))
            )
        );

    /// <summary>"Dues" are no invoices that are due, where the book has dues; contracts do not shrink, and breakdowns are no
    /// split.</summary>
    private bool IsOtherNoun(Mention mention, Token token) =>
        mention.Length == 1
        && !IsSingular(token)
        && (
            mention.Kind is MentionKind.Gap or MentionKind.By or MentionKind.Filler
                ? vocabulary.PluralNouns.Contains(token.Stem)
                : mention.Kind == MentionKind.Check && words.Knows(token.Stem)
        );

    /// <summary>"The months" are not this month, and "over the month" is no split by months.</summary>
    private static bool IsOnePeriod(Mention mention, Token last) =>
        (
            mention is { Kind: MentionKind.Grain, Length: > 2 }
            && IsSingular(last)
            && mention.Title.Contains(" the ", StringComparison.Ordinal)
            && Words.Stem(last.Text) == mention.Value
        )
        || mention.Kind == MentionKind.Period
            && !IsSingular(last)
            && last.Text.IndexOfAny(['\'', '’']) < 0
            && mention.Value.Split(':')[0] is "month" or "quarter" or "half" or "year"
            && !PeriodSpan.TryParse(mention.Value, out _);

    /// <summary>"Within one percent of budget" and "variance % of advertising" ask for no share.</summary>
    private bool IsSoManyPercent(Mention mention, Token before, Token first) =>
        mention.Kind is MentionKind.Share or MentionKind.By
        && (
            before.Text.All(char.IsDigit)
            || vocabulary
                .Find(before.Stem)
                .Any(e => e is { Kind: MentionKind.Number } or { Kind: MentionKind.Intent, Value: "variance" })
        )
        && (first.Text == "%" || vocabulary.Find(first.Stem).Any(e => e.Kind == MentionKind.Percent));

    /// <summary>"The small ones" count nothing.</summary>
    private static bool IsPronoun(Mention mention, Token token) =>
        mention is { Kind: MentionKind.Number, Length: 1 } && !IsSingular(token);

    private bool IsAnd(string stem) => vocabulary.Find(stem).Any(e => e.Kind == MentionKind.And);

    private bool IsPer(string stem) => vocabulary.Find(stem).Any(e => e is { Kind: MentionKind.By, Value: "per" });

    /// <summary>"Visits" alone does not mean revenue per visit.</summary>
    private bool IsDenominator(string[] name, string[] stems) =>
        Array.FindIndex(name, IsPer) is var per and >= 0 && Array.IndexOf(name, stems[0]) > per;

    /// <summary>A word that can carry meaning is preferred to the same word as filler.</summary>
    private static double LanguageCost(MentionKind kind) =>
        kind is MentionKind.Filler ? 0.1
        : kind is MentionKind.Records ? 0.1
        : kind is MentionKind.Level ? 0.2
        : kind is MentionKind.Figure or MentionKind.Trailing or MentionKind.Share ? 0.04
        : kind is MentionKind.Place ? 0.05
        : 0;

    private static Mention Named(BookName name, int start, int length, double cost) =>
        new(name.Target.Kind, name.Target.Value, name.Target.Dimension, start, length, cost, name.Target.Title)
        {
            IsUsualName = name.IsUsualName,
        };
}
