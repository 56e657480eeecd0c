using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Variance;

namespace Bearing.Core.Reading;

/// <summary>What came of reading a text.</summary>
public enum ReadingOutcome
{
    Understood, AsksBack, CannotAnswer,
    /// <summary>What can be asked was asked.</summary>
    Help,
    /// <summary>Back to the answer before.</summary>
    GoesBack,
    /// <summary>The trail is to be left.</summary>
    StartsAfresh,
}

/// <param name="Words">The words that caused it; empty when it was assumed.</param>
/// <param name="Means">In words.</param>
/// <param name="Value">In codes, as the question holds it.</param>
/// <param name="Part">figure, period, subject, base, filter, breakdown, ranking or intent.</param>
public sealed record ReadingPart(string Part, string Words, string Means, string Value);

/// <param name="Sentence">The whole question in one plain sentence.</param>
/// <param name="Unused">Words that carry meaning and had no use.</param>
public sealed record Reading(string Sentence, ImmutableArray<ReadingPart> Parts, ImmutableArray<string> Assumed, ImmutableArray<string> Unused);

/// <param name="Means">What choosing it would give, in words.</param>
public sealed record ReadingChoice(string Means, Question Question);

/// <param name="Question">Set when understood.</param>
/// <param name="Choices">Set when asking back: two to five.</param>
/// <param name="Because">Set when it cannot be answered; what is missing where it asks back for that.</param>
/// <param name="Nearest">Known words or questions nearest to what was not understood.</param>
public sealed record ReadResult(ReadingOutcome Outcome, Reading? Reading, Question? Question, ImmutableArray<ReadingChoice> Choices,
    string? Because, ImmutableArray<string> Nearest)
{
    /// <summary>The same of further figures that were asked for and do not fit into one table.</summary>
    public ImmutableArray<Question> Also { get; init; } = [];

    /// <summary>Words that nobody taught yet; empty when all were understood.</summary>
    public ImmutableArray<string> Unknown { get; init; } = [];
}

/// <summary>
/// Reads plain language: text → tokens → mentions (all candidate meanings) → coverings → drafts → the cheapest question.
/// A pure function of text, book and previous question.
/// </summary>
public sealed partial class Reader(Book book, BookWords words, Vocabulary vocabulary)
{
    public const int LongestText = 1_000;
    private const int MostTokens = 80;
    private const int MostChoices = 5;

    /// <summary>A runner-up within this price of the winner that means something else leads to asking back.</summary>
    private const double Margin = 0.12;

    /// <summary>What composing a covering can take off its price at most.</summary>
    private const double MostRebate = 0.6;

    /// <summary>A reading dearer by this than one that the book cannot answer is not what was meant.</summary>
    private const double MuchDearer = 0.3;

    /// <summary>What is to be offered is read first, by a reader that offers nothing: offers of offers would have no end.</summary>
    private bool Offers { get; init; } = true;

    private Reader WithoutOffers => new(book, words, vocabulary) { Offers = false };

    private bool CanOffer(string text, Previous? previous, ImmutableArray<PeriodSpan> shared) =>
        Offers && WithoutOffers.Read(text, previous, shared) is { Outcome: ReadingOutcome.Understood, Also.IsEmpty: true };

    /// <summary>The demands of a text, in the order said; each is read and answered after the one before.</summary>
    public ImmutableArray<Demand> Demands(string text)
    {
        if (text.Length > LongestText) return [new Demand(text, [])];
        if (Overview(text) is { } overview) return overview;
        var sentences = new DemandSplitter(vocabulary, new MentionFinder(vocabulary, book, words)).Split(text);
        return sentences is [[var only]] ? [new Demand(only, [])] : Sharing(sentences);
    }

    /// <summary>A period said once holds for what follows, and within one sentence for what stands before it.</summary>
    private ImmutableArray<Demand> Sharing(List<List<string>> sentences)
    {
        var demands = ImmutableArray.CreateBuilder<Demand>();
        ImmutableArray<PeriodSpan> before = [];
        foreach (var parts in sentences)
        {
            var said = parts.ConvertAll(SaidPeriods);
            for (var i = 0; i < parts.Count; i++)
            {
                var own = said[i].Length > 0;
                // By month wants the months that are usual, not one that was said of something else.
                demands.Add(new Demand(parts[i], own || SplitsTime(parts[i]) ? [] : before.Length > 0 ? before : said.Find(s => s.Length > 0) is { IsDefault: false } later ? later : []));
                if (own) before = said[i];
            }
        }
        return demands.ToImmutable();
    }

    /// <summary>"Everything about fuel in August": the demands that make an overview, each following up on the one before.</summary>
    private ImmutableArray<Demand>? Overview(string text)
    {
        var tokens = Words.Tokens(text);
        if (new MentionFinder(vocabulary, book, words).Find(tokens).Where(m => m.Kind == MentionKind.Overview).MaxBy(m => m.Length) is not { } lead) return null;
        var end = lead.End < tokens.Count ? tokens[lead.End].Start : text.Length;
        var about = string.Concat(text.AsSpan(0, tokens[lead.Start].Start), text.AsSpan(end)).Trim().TrimEnd('?', '!', '.');
        // One month has no course of its own.
        var single = SaidPeriods(about) is [{ Count: 1 }];
        return [.. vocabulary.Overview[lead.Value].Where(o => !single || !SplitsTime(o)).Select(o => new Demand(string.Format(CultureInfo.InvariantCulture, o, about).Trim(), []))];
    }

    /// <summary>"By month", which "last year" is not.</summary>
    private bool SplitsTime(string text)
    {
        var mentions = new MentionFinder(vocabulary, book, words).Find(Words.Tokens(text));
        return mentions.Exists(m => m.Kind == MentionKind.Grain && !mentions.Exists(o => o.Kind is MentionKind.Period or MentionKind.Scenario && o.Start <= m.Start && o.End >= m.End));
    }

    private ImmutableArray<PeriodSpan> SaidPeriods(string text)
    {
        var read = WithoutOffers.Read(text);
        var says = read.Reading?.Parts.Any(p => p.Part == "period" && p.Words.Length > 0) == true;
        return says && (read.Question ?? read.Choices.FirstOrDefault()?.Question) is { } question ? question.Spans : [];
    }

    /// <param name="shared">Periods to take where the text names none; empty for the usual ones.</param>
    public ReadResult Read(string text, Previous? previous = null, ImmutableArray<PeriodSpan> shared = default)
    {
        if (text.Length > LongestText) return Cannot($"The question has {text.Length:N0} characters; up to {LongestText:N0} can be read. Ask for one thing at a time.");
        var tokens = Words.Tokens(text);
        if (tokens.Count == 0) return Cannot("There are no words in the question. Try “operating profit versus budget by entity”.");
        if (tokens.Count > MostTokens) return Cannot($"The question has {tokens.Count} words; up to {MostTokens} can be read. Ask for one thing at a time.");
        var finder = new MentionFinder(vocabulary, book, words);
        LeaveOutPoliteness(tokens);
        LeaveOutSignature(tokens, finder);
        var leadIn = LeadIn(text, tokens, finder);
        LeaveOutPoliteness(tokens);
        Lower(tokens);
        Heads(tokens);
        Topic(text, tokens, finder);
        var remark = Remark(text, tokens);
        var defined = DefinedName(text, tokens);
        Scaled(text, tokens);
        Ranges(text, tokens);
        Split(tokens);
        var mentions = finder.Find(tokens);
        // "New question: revenue by month" follows up on nothing.
        if (mentions.Exists(m => m is { Kind: MentionKind.Walk, Value: "afresh", Start: 0 })) previous = null;
        var coverings = Coverings.Best(tokens, mentions);
        var readings = new List<(Covering Covering, Draft Draft, Resolved Resolved, double Cost)>();
        (CannotAnswerException Why, double Cost, bool Beyond)? because = null;
        var composer = new Composer(book, vocabulary);
        foreach (var covering in coverings)
        {
            // Coverings come cheapest first, and nothing that follows makes one cheaper than this allows.
            if (readings.Count > 0 && covering.Cost - MostRebate > readings.Min(r => r.Cost) + Margin) break;
            var price = covering.Cost;
            try
            {
                var draft = composer.Compose(covering);
                price += draft.Cost;
                if (draft.Periods.Count == 0 && draft.BasePeriod is null && !shared.IsDefaultOrEmpty) draft.Periods.AddRange(shared.Select(s => new PeriodItem(0, 0, s, true)));
                var content = covering.Mentions.Count(m => m.Kind is not (MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.Quantifier));
                var resolved = new Resolver(book, vocabulary, previous).Resolve(draft, content);
                readings.Add((covering, draft, covering.Mentions.Any(m => m.Value == "m:" + Book.AllCosts + "#lines") ? resolved : resolved with { Question = InOwnCosts(resolved.Question) }, covering.Cost + resolved.Cost));
            }
            catch (CannotAnswerException e)
            {
                if (because is null || price < because.Value.Cost) because = (e, price, covering.Mentions.Any(m => m.Kind == MentionKind.Beyond));
            }
        }
        var ordered = readings.OrderBy(r => r.Cost).ToList();
        // Dropping words is no way round what the book lacks, and what is known to be beyond it is not read as something else.
        if (because is { } lacks && (ordered.Count == 0 || lacks.Cost + (lacks.Beyond ? 0 : MuchDearer) < ordered[0].Cost)) return Cannot(lacks.Why.Message, [.. lacks.Why.Nearest.Concat(WithoutNot(text, tokens, previous, shared))]);
        var best = ordered[0];
        // "Harbour dues per call": without what each of is meant, the amount alone would answer something else.
        if (best.Resolved.Question.Records is null && best.Covering.Mentions.FirstOrDefault(m => m is { Kind: MentionKind.By, Value: "per" } && best.Draft.Unplaced.Contains(m.Start)) is { } per)
            return PerNothing(text, tokens, per, best.Covering.Unused.Contains(per.End), previous, shared);
        // A yes or a no is told of one figure at a time.
        if (!best.Resolved.Question.Beside.IsEmpty && AsksYesOrNo(text, tokens)) best = best with { Resolved = best.Resolved with { Question = best.Resolved.Question with { Beside = [] }, Also = best.Resolved.Question.Beside } };
        if (best.Covering.Mentions.Any(m => m.Kind == MentionKind.Help) && best.Covering.Mentions.All(m => m.Kind is MentionKind.Help or MentionKind.Filler or MentionKind.Place or MentionKind.And) && best.Covering.Unused.Count == 0)
            return new ReadResult(ReadingOutcome.Help, null, null, [], vocabulary.Help, [.. Openings.Of(book)]);
        if (best.Covering.Mentions.FirstOrDefault(m => m.Kind == MentionKind.Walk) is { } walk && best.Covering.Unused.Count == 0 && best.Covering.Mentions.All(m => m == walk || m.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.To or MentionKind.Edit))
            return new ReadResult(walk.Value == "back" ? ReadingOutcome.GoesBack : ReadingOutcome.StartsAfresh, null, null, [], null, []);
        // "Reclass entries" may be those that say so.
        if (Unknown(best.Covering, tokens, finder, NamesNothing(best.Draft, best.Resolved), best.Resolved.FollowsUp, best.Draft.OfRecords || best.Draft.Intent == Intent.Entries) is { } unknown)
            return unknown with { Nearest = [.. InPlace(text, unknown, best.Covering, tokens, previous, shared), .. best.Draft.Intent == Intent.Entries && unknown.Unknown is [var said] ? (string[])[$"entries mentioning {said}"] : [], .. Splits(tokens, unknown.Unknown)] };
        if (Offers && previous is null && Pointer(best.Covering, best.Draft, tokens) is { } pointer)
            return Cannot($"“{pointer}” speaks of an answer before, and there is none. Name the figure that is meant.", [.. Openings.Of(book).Take(MostOpenings)]);
        // A word that nobody knows is named first; where none is left over, nothing was said that could be counted.
        if (best.Draft is { HowMany: true, Currency: null, Figures.Count: 0, OfRecords: false, Breakdowns.Count: 0, Intent: null or Intent.Value } && !best.Resolved.FollowsUp && best.Resolved.Question is { Records: null, Statistic: null } && best.Draft.Filters.TrueForAll(f => f.Dimension == book.Entities.Code))
            return Cannot("What is to be counted was not made out. The book counts what its statistics are of.", [.. Counted().Take(4)]);
        if (best.Draft.BasePeriod is { } against && best.Resolved.Question is { Spans: [var span, ..], Projection: null, Intent: not Intent.Entries } unlike && unlike.Bases.Any(b => b.Kind == SideKind.PriorPeriod) && (against.Count != span.Count || (unlike.Subject == Side.Actual && Elapsed(against) != Elapsed(span) && (against.From.Ordinal - span.From.Ordinal) % 12 != 0)) && !unlike.Spans.Contains(against))
            return Cannot($"{book.Calendar.NameOf(span)} has {Elapsed(span)} months{(book.CurrentPeriod < span.To ? " so far" : "")} and {book.Calendar.NameOf(against)} {Elapsed(against)}{(book.CurrentPeriod < against.To ? " so far" : "")}: periods that are not as long as each other are not compared. Ask for both beside each other, or for as many months of each.", $"{book.Figure(unlike.Figure)?.Name} {book.Calendar.NameOf(span)} and {book.Calendar.NameOf(against)}");
        var reading = new ReadingWriter(book).Write(best.Resolved, best.Draft, tokens, [.. best.Covering.Unused.Concat(best.Draft.Unplaced).Concat(IdlePercents(best.Covering, best.Resolved.Question, tokens)).Where(i => !IsSlight(tokens[i])).Concat(Lost(best.Covering, best.Draft, best.Resolved)).Distinct().Order().Select(i => tokens[i].Text)]);
        reading = reading with { Assumed = reading.Assumed.AddRange(best.Covering.Mentions.Where(m => IsLoose(m, tokens) || (m.Corrected && m.Kind is not (MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.By or MentionKind.To or MentionKind.Edit))).Select(m => $"“{string.Join(' ', tokens.Skip(m.Start).Take(m.Length).Select(t => t.Text))}” read as {m.Title}")) };
        if (defined is not null) reading = reading with { Assumed = reading.Assumed.Add($"“{defined}” is what this is to be called") };
        if (leadIn is not null) reading = reading with { Assumed = reading.Assumed.Add($"“{leadIn}” leads to the question and is no part of it") };
        if (remark is not null) reading = reading with { Assumed = reading.Assumed.Add($"“{remark}” is a remark") };
        var open = Open(best.Draft, best.Resolved);
        if (open.Count > 1 && open.FindAll(CanBeShown) is { Count: > 1 } shownOf) open = shownOf;
        if (open.Count > 1)
            return new ReadResult(ReadingOutcome.AsksBack, reading, null, [.. open.Take(MostChoices).Select(q => new ReadingChoice(new ReadingWriter(book).Sentence(q), q))], Missing(best.Draft, best.Resolved), []);
        var rivals = Rivals(ordered.Where(r => r.Cost <= best.Cost + Margin || IsOtherName(r.Covering, best.Covering)).Select(r => r.Resolved.Question).Distinct().ToList());
        // What would be refused once it is picked is no choice; what is left alone has to be what was read first.
        if (rivals.Count > 1 && rivals.FindAll(CanBeShown) is { } shown && (shown.Count > 1 || shown.SequenceEqual([best.Resolved.Question]))) rivals = shown;
        if (rivals.Count > 1)
            return new ReadResult(ReadingOutcome.AsksBack, reading, null,
                [.. rivals.Take(MostChoices).Select(q => new ReadingChoice(new ReadingWriter(book).Sentence(q), q))], null, []);
        if (best.Resolved.Also.Length > 0 && best.Resolved.Question is { Bases.IsEmpty: false, Breakdowns.IsEmpty: false, Conditions.IsEmpty: false })
            return Cannot("Rows can be kept by a limit on one figure at a time. Ask for one after the other.");
        if (best.Draft.OwnLimits.Select(o => o.Side).Distinct().Count() > 1 && best.Resolved.Question.Breakdowns.IsEmpty && AsksYesOrNo(text, tokens))
            return Cannot("A yes or a no is told of one comparison at a time. Ask for the one, and for the other after it; or for both beside each other.", [new ReadingWriter(book).NameOf(best.Resolved.Question.Figure) + " versus " + string.Join(" and ", best.Resolved.Question.Bases.Select(book.NameOf))]);
        // "Is swimmer satisfaction up" claims nothing of swimmers.
        // "Are repairs under control" holds them against nothing.
        if (best.Resolved.Question.Records is null && AsksYesOrNo(text, tokens) && best.Covering.Unused.Any(i => best.Covering.Mentions.Any(m => (m.Kind == MentionKind.Figure && (m.End == i || m.Start == i + 1)) || (m.Kind == MentionKind.Gap && m.End == i)))) return NotTold(best.Covering, best.Resolved.Question, tokens);
        if (best.Resolved.Question.Part is { } part && best.Draft.PartClaim is { } most && AsksYesOrNo(text, tokens))
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Part = part with { Claim = most } }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)] };
        if (best.Resolved.Question is { Part: { } place, Share: false } && AsksYesOrNo(text, tokens))
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Part = place with { Claim = PartClaim.First } }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)] };
        if (AsksYesOrNo(text, tokens) && best.Draft.Sign != 0 && best.Resolved.Question is { Bases.Length: 0, Breakdowns.IsEmpty: true })
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Claim = best.Draft.Sign > 0 ? Direction.Over : Direction.Under }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)] };
        if (AsksYesOrNo(text, tokens) && best.Draft.Sign != 0 && best.Draft.Quantifier is { } of && best.Resolved.Question is { Bases.Length: 0 } signed)
            return new ReadResult(ReadingOutcome.Understood, reading, signed with { Claim = best.Draft.Sign > 0 ? Direction.Over : Direction.Under, ClaimOf = of, Conditions = of == Quantifier.Every ? [] : signed.Conditions }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)] };
        if (AsksYesOrNo(text, tokens) && best.Draft.DifferenceClaim is { } better && best.Resolved.Question is { Statistic: RowStatistic.Difference } or { Than: not null } && best.Resolved.Question is { Bases.Length: 0 } or { Growth: true })
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Claim = better }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)], Also = Further(best.Resolved) };
        if (best.Draft.GapClaim is { } grows && AsksYesOrNo(text, tokens) && best.Resolved.Question is { Bases.Length: 1, Cumulative: true })
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Claim = grows, ClaimOf = Quantifier.Gap }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)] };
        // Any of which it is so in every month are named: they are the answer.
        if (AsksYesOrNo(text, tokens) && best.Resolved.Question is { Bases.Length: > 0, ClaimOf: null, Part: null } && (best.Draft.Direction ?? OfAny(best.Draft, best.Resolved.Question)) is { } claim && (claim != Direction.Either || best.Draft.Direction is null))
            return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question with { Claim = claim, ClaimOf = best.Draft.Quantifier }, [], null, []) { Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)], Also = [.. Further(best.Resolved).Select(q => q with { Claim = claim, ClaimOf = best.Draft.Quantifier })] };
        // Whoever asks for a yes or a no has to see that there is none; where a word of the claim is not known, it cannot be told.
        var presence = best.Resolved.Question.Conditions.All(c => c.On is ConditionOn.New or ConditionOn.Ended);
        if (best.Resolved.Question is { Intent: Intent.Value or Intent.Variance, Records: null, Document: null, Projection: null, Statistic: null } && presence && (best.Resolved.Question.Conditions.IsEmpty || best.Covering.Unused.Count > 0) && AsksYesOrNo(text, tokens))
        {
            if (best.Covering.Unused.Count > 0) return NotTold(best.Covering, best.Resolved.Question, tokens);
            reading = reading with { Assumed = reading.Assumed.Add(best.Resolved.Question.Share ? "neither yes nor no is told: the share of each shows how far it is so" : "neither yes nor no is told: only the figures, since what is claimed of them was not made out") };
        }
        return new ReadResult(ReadingOutcome.Understood, reading, best.Resolved.Question, [], null, [])
        {
            Unknown = [.. best.Covering.Unused.Select(i => tokens[i].Text)],
            Also = Further(best.Resolved),
        };
    }

    /// <summary>The same of the other figures; what is worked out on every row has no shares.</summary>
    private ImmutableArray<Question> Further(Resolved resolved) => [.. resolved.Also.Select(f => resolved.Question with { Figure = f, Than = null, Share = resolved.Question.Share && !(resolved.Question.Intent == Intent.Value && book.Figure(f) is PairFigure { Rule: not PairRule.Difference }) })];

    /// <summary>Months of a period that have been; all of one that is still to come.</summary>
    private int Elapsed(PeriodSpan span) => book.CurrentPeriod is { } now && span.Intersect(new PeriodSpan(Period.Min(span.From, now), now)) is { } been ? been.Count : span.Count;

    /// <summary>"Are guests happier": what is claimed is not known, so that the figures alone would answer something else.</summary>
    private ReadResult NotTold(Covering covering, Question question, List<Token> tokens)
    {
        var words = covering.Unused.Select(i => tokens[i].Text).ToList();
        return Cannot($"{string.Join(", ", words.Take(5).Select(w => $"“{w}”"))} {(words.Count == 1 ? "is" : "are")} not known in this book, so neither yes nor no can be told.", [.. book.Figure(question.Figure) is { } figure ? (string[])[figure.Name] : []]) with { Unknown = [.. words] };
    }

    /// <summary>"Energy" for Tindle Energy, "heads" for Head Office: a name known by a word that it does not begin with, or in another number, is said; and so is what the book calls otherwise.</summary>
    private static bool IsLoose(Mention mention, List<Token> tokens) => (mention.IsUsualName && !mention.Title.Contains(string.Join(' ', tokens.Skip(mention.Start).Take(mention.Length).Select(t => t.Text)), StringComparison.OrdinalIgnoreCase)) || mention is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true, Length: 1 }
        && Words.Tokens(mention.Title) is [var first, ..] && !first.Text.Equals(tokens[mention.Start].Text, StringComparison.OrdinalIgnoreCase);

    /// <summary>"Did it …", "cleaning: was it …".</summary>
    private bool AsksYesOrNo(string text, List<Token> tokens)
    {
        var behind = text.IndexOfAny([':', '–', '—']);
        return vocabulary.ClaimsAt(tokens, 0) || (behind > 0 && tokens.FindIndex(t => t.Start > behind) is > 0 and var from && vocabulary.ClaimsAt(tokens, from));
    }

    /// <summary>"Is any account more than 10% over budget?": what the limit claims of the rows; "can we still make the budget?": that the year beats it. Null where nothing is claimed.</summary>
    private static Direction? OfAny(Draft draft, Question question) => question.Projection is Projection.Outlook or Projection.RunRate ? Direction.For : draft.Quantifier == Quantifier.Any && !question.Conditions.IsEmpty ? question.Conditions[0].Direction : null;

    /// <summary>The question without its clause that says "not", where it can be answered then.</summary>
    private IEnumerable<string> WithoutNot(string text, List<Token> tokens, Previous? previous, ImmutableArray<PeriodSpan> shared)
    {
        var at = tokens.FindIndex(t => vocabulary.Find(t.Stem).Any(e => e.Kind == MentionKind.Not));
        var from = at <= 0 ? -1 : tokens.FindLastIndex(at, t => t.Text == ",");
        if (from < 0) return [];
        var to = tokens.FindIndex(at, t => t.Text == ",");
        var rest = string.Concat(text.AsSpan(0, tokens[from].Start), to < 0 ? "" : text.AsSpan(tokens[to].Start)).Trim();
        return rest.Length > 0 && CanOffer(rest, previous, shared) ? [rest] : [];
    }

    /// <summary>What was left open and cannot be guessed: a ranking of nothing said, a comparison with nothing said.</summary>
    private List<Question> Open(Draft draft, Resolved resolved)
    {
        var question = resolved.Question;
        if (resolved.Otherwise.Length > 0) return [question, .. resolved.Otherwise];
        if (draft is { EndsOpen: true, BasePeriod: null } && draft.Bases.Count + draft.Scenarios.Count == 0) return WithBases(question);
        if (draft.Figures.Count > 0 || draft.ResultNamed || (resolved.FollowsUp && (!draft.MarginOf || book.Figure(question.Figure) is PairFigure))) return [];
        if (draft.MarginOf && book.Sales is { } income)
            return [.. book.Definition.Statement.Select(l => book.MarginOf(l.Code, income)).Where(f => book.Figure(f) is not null).Select(f => question with { Figure = f })];
        if ((draft.Rank is not null || IsFragment(draft)) && draft.Unit is not ("income" or "sales") && !draft.Compares && draft.Scenarios.Count == 0 && question.Intent == Intent.Value && question.Figure == book.Result)
            return OfFigures(question);
        // "Compare December and January": of what, nothing says.
        if (draft.OpenCompare && draft.Bases.Count + draft.Scenarios.Count == 0 && draft.BasePeriod is not null && question.Figure == book.Result) return OfFigures(question);
        if (!draft.OpenCompare || draft.Bases.Count + draft.Scenarios.Count > 0 || draft.BasePeriod is not null) return [];
        return WithBases(question);
    }

    /// <summary>Of income, of the result and of costs.</summary>
    private List<Question> OfFigures(Question question) => [.. new[] { book.Sales, question.Figure, new FigureRef(FigureKind.Measure, Book.AllCosts) }.OfType<FigureRef>().Where(f => book.Figure(f) is not null).Distinct().Select(f => question with { Figure = f })];

    /// <summary>What was left unsaid, where that is why it asks back.</summary>
    private static string? Missing(Draft draft, Resolved resolved) => resolved.Otherwise.Length > 0 ? null : draft.EndsOpen || (draft.OpenCompare && draft.BasePeriod is null) ? "Nothing is named to compare with." : draft.Figures.Count == 0 && !draft.MarginOf ? "No figure is named." : null;

    /// <summary>Held against each of what a question is usually held against.</summary>
    private List<Question> WithBases(Question question)
    {
        var bases = new[] { book.Latest(ScenarioKind.Budget), book.Latest(ScenarioKind.Forecast) }.OfType<Scenario>().Select(s => new Side(SideKind.Version, s.Code))
            .Append(Side.PriorYear).Append(Side.PriorPeriod with { Version = question.Spans[0].Count.ToString(System.Globalization.CultureInfo.InvariantCulture) });
        return [.. bases.Select(b => question with { Bases = [b] })];
    }

    /// <summary>"August only", "by region": where, when and how, and nothing of what.</summary>
    private static bool IsFragment(Draft draft) => draft.Intent is null or Intent.Value && draft is { Statistic: null, Projection: null, Sign: 0, AsksHow: false } && draft.Conditions.Count + draft.Bases.Count == 0 && draft.Breakdowns.Count + draft.Periods.Count + draft.Filters.Count > 0;

    /// <summary>Readings that differ in what they speak of; one that contains another speaks for both.</summary>
    private List<Question> Rivals(List<Question> questions)
    {
        var distinct = questions.DistinctBy(q => (q.Figure, Filters: string.Join(';', q.Filters.Select(f => $"{f.Dimension}{f.Exclude}{string.Join(',', f.Members)}")),
            string.Join(',', q.Spans), string.Join(',', q.Bases), q.Subject, q.Records)).ToList();
        // A ratio that the book has by a name of its own, and the same worked out from its parts, are one.
        distinct = [.. distinct.DistinctBy(q => book.Figure(q.Figure) is PairFigure pair ? (pair.Rule.ToString(), string.Join(',', pair.Top.Accounts), string.Join(',', pair.Bottom.Accounts), q with { Figure = new FigureRef(FigureKind.Measure, "") }) : (q.Figure.ToString(), "", "", q))];
        // "For the group" leaves nothing out: it is the same as not to say it.
        distinct = [.. distinct.Where(q => !distinct.Any(other => other != q && other with { Filters = q.Filters } == q && other.Filters.SequenceEqual(q.Filters.Where(f => !IsWhole(f)))))];
        var writer = new ReadingWriter(book);
        return [.. distinct.Where(q => !distinct.Any(other => other != q && (Contains(other, q) || TestsMore(other, q)))).DistinctBy(writer.Sentence)];
    }

    private bool CanBeShown(Question question)
    {
        if (question.Records is not null || question.Projection is not null || question.Intent == Intent.Entries) return true;
        try
        {
            return new ComparisonPlan(book, question).Blocks.Length > 0;
        }
        catch (CannotAnswerException)
        {
            return false;
        }
    }

    /// <summary>"Sequencing", of an account that ends in it and a department that begins with it: which of the two is meant nothing tells, though only the one is a figure.</summary>
    private bool IsOtherName(Covering other, Covering best) => best.Mentions.Where(m => m.Kind == MentionKind.Figure).ToList() is [{ Partial: true, Length: 1 } figure] && other.Unused.SequenceEqual(best.Unused)
        && other.Mentions.FirstOrDefault(m => m is { Kind: MentionKind.Member, Partial: true, Corrected: false, Length: 1 } && m.Start == figure.Start) is { } member && !vocabulary.Fields["party"].Contains(Words.Phrase(member.Dimension!))
        && other.Mentions.Where(m => m != member).SequenceEqual(best.Mentions.Where(m => m != figure));

    /// <summary>All costs are those that the book itself calls so, where it has a heading for them.</summary>
    private Question InOwnCosts(Question question) => words.OwnCosts is { } own && question.Figure is { Kind: FigureKind.Measure } figure && (figure.Code == Book.AllCosts ? new FigureRef(FigureKind.Account, own[2..]) : figure with { Code = figure.Code.Replace("m:" + Book.AllCosts, own, StringComparison.Ordinal) }) is var called && book.Figure(called) is not null
        ? question with { Figure = called } : question;

    /// <summary>Of two readings of records the one that passes over a test, or a split, is no rival of the one that makes it.</summary>
    private static bool TestsMore(Question more, Question less)
    {
        // Which day the months are of follows from what is tested.
        static List<RecordTest> Tests(RecordAsk ask) => [.. ask.Tests.Where(t => t.Kind != RecordTestKind.During)];
        if (more.Records is not { } all || less.Records is not { } few || all.Table != few.Table || !Tests(few).TrueForAll(Tests(all).Contains)) return false;
        return Tests(few).Count < Tests(all).Count || all.By.Length > few.By.Length;
    }

    private bool Contains(Question wide, Question narrow)
    {
        var sameFigure = wide.Figure == narrow.Figure;
        var figureContains = sameFigure || (book.Figure(wide.Figure) is SumFigure w && book.Figure(narrow.Figure) is SumFigure n
            && book.IsWithin(n, w));
        if (!figureContains || wide.Filters.Length != narrow.Filters.Length) return false;
        var differs = !sameFigure;
        for (var i = 0; i < wide.Filters.Length; i++)
        {
            if (wide.Filters[i] == narrow.Filters[i]) continue;
            if (!Contains(wide.Filters[i], narrow.Filters[i])) return false;
            differs = true;
        }
        return differs && wide.Spans.SequenceEqual(narrow.Spans) && wide.Bases.SequenceEqual(narrow.Bases);
    }

    private bool IsWhole(Filter filter) => !filter.Exclude && filter.Members.Length == 1 && book.TryDimension(filter.Dimension, out var dimension) && book.TryMember(dimension.Id, filter.Members[0], out var member) && book.Roots(dimension.Id).SequenceEqual([member]);

    private bool Contains(Filter wide, Filter narrow)
    {
        // What stands on top holds everything: naming it is not naming one of its parts less closely.
        if (IsWhole(wide) || wide.Dimension != narrow.Dimension || wide.Exclude != narrow.Exclude || !book.TryDimension(wide.Dimension, out var dimension)) return false;
        var within = wide.Members.Select(c => book.TryMember(dimension.Id, c, out var m) ? m.Id : 0).ToHashSet();
        return narrow.Members.All(c => book.TryMember(dimension.Id, c, out var m) && book.PathTo(m.Id).Any(within.Contains));
    }

    private static ReadResult Cannot(string because, params string[] nearest) => new(ReadingOutcome.CannotAnswer, null, null, [], because, [.. nearest]);
}
