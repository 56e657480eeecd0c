using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;

namespace Bearing.Core.FirstReading;

/// <summary>What becomes of the cheapest reading: it is answered, asked back or refused.</summary>
public sealed partial class FirstReader
{
    private ReadResult Decide(Asked asked, List<Candidate> candidates)
    {
        var best = candidates[0];
        // A yes or a no is told of one figure at a time.
        if (asked.YesOrNo && !best.Question.Beside.IsEmpty)
            best = best with
            {
                Resolved = best.Resolved with { Question = best.Question with { Beside = [] }, Also = best.Question.Beside },
            };
        if ((Outside(best) ?? NotUnderstood(asked, best)) is { } ended)
            return ended;
        var reading = Written(asked, best);
        if ((AskedBack(best, candidates, reading) ?? TooMuch(asked, best)) is { } stopped)
            return stopped;
        if (asked.YesOrNo && Claimed(best) is { } claimed)
            return new ReadResult(ReadingOutcome.Understood, reading, claimed.Question, [], null, [])
            {
                Unknown = Unused(asked, best),
                Also = claimed.Also,
            };
        if (asked.YesOrNo && IsPlain(best))
        {
            // Whoever asks for a yes or a no has to see that there is none; where a word of the claim is not known, it cannot be
            // told.
            if (best.Covering.Unused.Count > 0)
                return NotTold(asked, best);
            reading = reading with
            {
                Assumed = reading.Assumed.Add(
                    best.Question.Share
                        ? "neither yes nor no is told: the share of each shows how far it is so"
                        : "neither yes nor no is told: only the figures, since what is claimed of them was not made out"
                ),
            };
        }
        return new ReadResult(ReadingOutcome.Understood, reading, best.Question, [], null, [])
        {
            Unknown = Unused(asked, best),
            Also = Further(best.Resolved),
        };
    }

    private static ImmutableArray<string> Unused(Asked asked, Candidate best) =>
        [.. best.Covering.Unused.Select(i => asked.Tokens[i].Text)];

    /// <summary>Help, and steps back: no question at all.</summary>
    private ReadResult? Outside(Candidate best)
    {
        var mentions = best.Covering.Mentions;
        if (best.Covering.Unused.Count > 0)
            return null;
        if (
            mentions.Any(m => m.Kind == MentionKind.Help)
            && mentions.All(m => m.Kind is MentionKind.Help or MentionKind.Filler or MentionKind.Place or MentionKind.And)
        )
            return new ReadResult(ReadingOutcome.Help, null, null, [], vocabulary.Help, [.. Openings.Of(book)]);
        if (
            mentions.FirstOrDefault(m => m.Kind == MentionKind.Walk) is { } walk
            && mentions.All(m =>
                m == walk
                || m.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.And or MentionKind.To or MentionKind.Edit
            )
        )
            return new ReadResult(
                walk.Value == "back" ? ReadingOutcome.GoesBack : ReadingOutcome.StartsAfresh,
                null,
                null,
                [],
                null,
                []
            );
        return null;
    }

    /// <summary>Refused, since something that was said is not known, or is held against nothing.</summary>
    private ReadResult? NotUnderstood(Asked asked, Candidate best)
    {
        var (covering, draft, resolved) = (best.Covering, best.Draft, best.Resolved);
        // "Harbour dues per call": without what each of is meant, the amount alone would answer something else.
        if (
            best.Question.Records is null
            && covering.Mentions.FirstOrDefault(m =>
                m is { Kind: MentionKind.By, Value: "per" } && draft.Unplaced.Contains(m.Start)
            )
                is { } per
        )
            return PerNothing(asked, per, covering.Unused.Contains(per.End));
        // "Reclass entries" may be those that say so.
        if (
            Unknown(
                covering,
                asked.Tokens,
                asked.Finder,
                NamesNothing(draft, resolved),
                resolved.FollowsUp,
                draft.OfRecords || draft.Intent == Intent.Entries
            ) is
            { } unknown
        )
            return unknown with
            {
                Nearest =
                [
                    .. InPlace(asked, unknown, covering),
                    .. draft.Intent == Intent.Entries && unknown.Unknown is [var said]
                        ? (string[])[$"entries mentioning {said}"]
                        : [],
                    .. Splits(asked.Tokens, unknown.Unknown),
                ],
            };
        if (Offers && asked.Previous is null && Pointer(covering, draft, asked.Tokens) is { } pointer)
            return Cannot(
                $"“{pointer}” speaks of an answer before, and there is none. Name the figure that is meant.",
                [.. Openings.Of(book).Take(MostOpenings)]
            );
        // A word that nobody knows is named first; where none is left over, nothing was said that could be counted.
        if (
            draft
                is {
                    HowMany: true,
                    Currency: null,
                    Figures.Count: 0,
                    OfRecords: false,
                    Breakdowns.Count: 0,
                    Intent: null or Intent.Value
                }
            && !resolved.FollowsUp
            && best.Question is { Records: null, Statistic: null }
            && draft.Filters.TrueForAll(f => f.Dimension == book.Entities.Code)
        )
            return Cannot(
                "What is to be counted was not made out. The book counts what its statistics are of.",
                [.. Counted().Take(4)]
            );
        return draft.BasePeriod is { } against ? NotAsLong(best.Question, against) : null;
    }

    /// <summary>Seven months are not compared with twelve.</summary>
    private ReadResult? NotAsLong(FormOneQuestion question, PeriodSpan against)
    {
        if (
            question is not { Spans: [var span, ..], Projection: null, Intent: not Intent.Entries }
            || !question.Bases.Any(b => b.Kind == SideKind.PriorPeriod)
            || question.Spans.Contains(against)
        )
            return null;
        var asLong =
            against.Count == span.Count
            && (
                question.Subject != Side.Actual
                || Elapsed(against) == Elapsed(span)
                || (against.From.Ordinal - span.From.Ordinal) % 12 == 0
            );
        return asLong
            ? null
            : Cannot(
                $"{book.Calendar.NameOf(span)} has {Elapsed(span)} months{(book.CurrentPeriod < span.To ? " so far" : "")} and {book.Calendar.NameOf(against)} {Elapsed(against)}{(book.CurrentPeriod < against.To ? " so far" : "")}: periods that are not as long as each other are not compared. Ask for both beside each other, or for as many months of each.",
                $"{book.Figure(question.Figure)?.Name} {book.Calendar.NameOf(span)} and {book.Calendar.NameOf(against)}"
            );
    }

    /// <summary>The reading in words, with what was assumed and what had no use.</summary>
    private Reading.Reading Written(Asked asked, Candidate best)
    {
        var tokens = asked.Tokens;
        var unused = best
            .Covering.Unused.Concat(best.Draft.Unplaced)
            .Concat(IdlePercents(best.Covering, best.Question, tokens))
            .Where(i => !IsSlight(tokens[i]))
            .Concat(Lost(best.Covering, best.Draft, best.Resolved))
            .Distinct()
            .Order();
        var reading = new ReadingWriter(book).Write(
            best.Question,
            best.Resolved.Assumed,
            best.Resolved.FollowsUp,
            part => Said(best.Draft, tokens, part),
            [.. unused.Select(i => tokens[i].Text)]
        );
        var otherwise = best
            .Covering.Mentions.Where(m =>
                IsLoose(m, tokens)
                || (
                    m.Corrected
                    && m.Kind
                        is not (
                            MentionKind.Filler
                            or MentionKind.Place
                            or MentionKind.And
                            or MentionKind.By
                            or MentionKind.To
                            or MentionKind.Edit
                        )
                )
            )
            .Select(m => $"“{string.Join(' ', tokens.Skip(m.Start).Take(m.Length).Select(t => t.Text))}” read as {m.Title}");
        return reading with { Assumed = [.. reading.Assumed, .. otherwise, .. asked.Asides] };
    }

    private static string Said(Draft draft, List<Token> tokens, string part) =>
        string.Join(
            " … ",
            draft
                .Sources.Where(s => s.Part == part)
                .Select(s =>
                    string.Concat(
                        tokens
                            .Skip(s.Start)
                            .Take(s.End - s.Start)
                            .Select(
                                (t, i) =>
                                    (
                                        i > 0 && t.Start > tokens[s.Start + i - 1].Start + tokens[s.Start + i - 1].Text.Length
                                            ? " "
                                            : ""
                                    ) + t.Text
                            )
                    )
                )
        );

    /// <summary>Asked back where something was left open, or where several readings are as likely as each other.</summary>
    private ReadResult? AskedBack(Candidate best, List<Candidate> candidates, Reading.Reading reading)
    {
        var open = Open(best.Draft, best.Resolved);
        if (open.Count > 1 && open.FindAll(CanBeShown) is { Count: > 1 } shownOf)
            open = shownOf;
        if (open.Count > 1)
            return Choices(open, Missing(best.Draft, best.Resolved));
        var rivals = Rivals(
            candidates
                .Where(r => r.Cost <= best.Cost + Margin || IsOtherName(r.Covering, best.Covering))
                .Where(r => !ShortensAName(r.Covering, best.Covering))
                .Select(r => r.Question)
                .Distinct()
                .ToList()
        );
        // What would be refused once it is picked is no choice; what is left alone has to be what was read first.
        if (
            rivals.Count > 1
            && rivals.FindAll(CanBeShown) is { } shown
            && (shown.Count > 1 || shown.SequenceEqual([best.Question]))
        )
            rivals = shown;
        return rivals.Count > 1 ? Choices(rivals, null) : null;

        ReadResult Choices(List<FormOneQuestion> questions, string? missing) =>
            new(
                ReadingOutcome.AsksBack,
                reading,
                null,
                [.. questions.Take(MostChoices).Select(q => new ReadingChoice(new ReadingWriter(book).Sentence(q), q))],
                missing,
                []
            );
    }

    /// <summary>Refused, since it asks for more than one thing where one is told at a time, or claims what is not
    /// known.</summary>
    private ReadResult? TooMuch(Asked asked, Candidate best)
    {
        var (covering, question) = (best.Covering, best.Question);
        if (
            best.Resolved.Also.Length > 0
            && question is { Bases.IsEmpty: false, Breakdowns.IsEmpty: false, Conditions.IsEmpty: false }
        )
            return Cannot("Rows can be kept by a limit on one figure at a time. Ask for one after the other.");
        // "Why is it over here and under there".
        if (
            question.Intent == Intent.Why
            && covering.Mentions.Where(m => m.Kind == MentionKind.Gap).Select(m => GapSense.Of(m)).ToList()
                is [var one, .., var two]
            && (one.Side, two.Side)
                is
                    (Direction.Over, Direction.Under)
                    or
                    (Direction.Under, Direction.Over)
                    or
                    (Direction.For, Direction.Against)
                    or
                    (Direction.Against, Direction.For)
        )
            return Cannot(
                "Two causes are asked for at once, of what goes one way and of what goes the other. Ask for the one first, and for the other after it."
            );
        if (!asked.YesOrNo)
            return null;
        if (best.Draft.OwnLimits.Select(o => o.Side).Distinct().Count() > 1 && question.Breakdowns.IsEmpty)
            return Cannot(
                "A yes or a no is told of one comparison at a time. Ask for the one, and for the other after it; or for both beside each other.",
                [
                    new ReadingWriter(book).NameOf(question.Figure)
                        + " versus "
                        + string.Join(" and ", question.Bases.Select(book.NameOf)),
                ]
            );
        // "Is swimmer satisfaction up" claims nothing of swimmers, and "are repairs under control" holds them against nothing.
        return
            question.Records is null
            && covering.Unused.Any(i =>
                covering.Mentions.Any(m =>
                    (m.Kind == MentionKind.Figure && (m.End == i || m.Start == i + 1))
                    || (m.Kind == MentionKind.Gap && m.End == i)
                )
            )
            ? NotTold(asked, best)
            : null;
    }

    /// <summary>The same of the other figures; what is worked out on every row has no shares.</summary>
    private ImmutableArray<FormOneQuestion> Further(Resolved resolved) =>
        [
            .. resolved.Also.Select(f =>
                resolved.Question with
                {
                    Figure = f,
                    Than = null,
                    Share =
                        resolved.Question.Share
                        && !(
                            resolved.Question.Intent == Intent.Value
                            && book.Figure(f) is PairFigure { Rule: not PairRule.Difference }
                        ),
                }
            ),
        ];

    /// <summary>Months of a period that have been; all of one that is still to come.</summary>
    private int Elapsed(PeriodSpan span) =>
        book.CurrentPeriod is { } now && span.Intersect(new PeriodSpan(Period.Min(span.From, now), now)) is { } been
            ? been.Count
            : span.Count;

    /// <summary>"Energy" for Tindle Energy, "heads" for Head Office: a name known by a word that it does not begin with, or in
    /// another number, is said; and so is what the book calls otherwise.</summary>
    private static bool IsLoose(Mention mention, List<Token> tokens) =>
        (
            mention.IsUsualName
            && !mention.Title.Contains(
                string.Join(' ', tokens.Skip(mention.Start).Take(mention.Length).Select(t => t.Text)),
                StringComparison.OrdinalIgnoreCase
            )
        )
        || mention is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true, Length: 1 }
            && Words.Tokens(mention.Title) is [var first, ..]
            && !first.Text.Equals(tokens[mention.Start].Text, StringComparison.OrdinalIgnoreCase);

    /// <summary>The question without its clause that says "not", where it can be answered then.</summary>
    private IEnumerable<string> WithoutNot(Asked asked)
    {
        var at = asked.Tokens.FindIndex(t => vocabulary.Find(t.Stem).Any(e => e.Kind == MentionKind.Not));
        var from = at <= 0 ? -1 : asked.Tokens.FindLastIndex(at, t => t.Text == ",");
        if (from < 0)
            return [];
        var to = asked.Tokens.FindIndex(at, t => t.Text == ",");
        var rest = string.Concat(
                asked.Text.AsSpan(0, asked.Tokens[from].Start),
                to < 0 ? "" : asked.Text.AsSpan(asked.Tokens[to].Start)
            )
            .Trim();
        return rest.Length > 0 && CanOffer(rest, asked) ? [rest] : [];
    }

    /// <summary>What was left open and cannot be guessed: a ranking of nothing said, a comparison with nothing said.</summary>
    private List<FormOneQuestion> Open(Draft draft, Resolved resolved)
    {
        var question = resolved.Question;
        if (resolved.Otherwise.Length > 0)
            return [question, .. resolved.Otherwise];
        if (draft is { EndsOpen: true, BasePeriod: null } && draft.Bases.Count + draft.Scenarios.Count == 0)
            return WithBases(question);
        // "Are we over": income over its plan is good, and costs are bad.
        if (
            draft
                is {
                    Figures.Count: 0,
                    MarginOf: false,
                    Direction: Direction.Over or Direction.Under,
                    Filters.Count: 0,
                    Breakdowns.Count: 0,
                    Conditions.Count: 0
                }
            && draft.Bases.Count + draft.Scenarios.Count + draft.Periods.Count == 0
            && question.Records is null
            && !resolved.FollowsUp
            && question.Figure == book.Result
        )
            return OfFigures(question);
        if (
            draft.Figures.Count > 0
            || draft.ResultNamed
            || (resolved.FollowsUp && (!draft.MarginOf || book.Figure(question.Figure) is PairFigure))
        )
            return [];
        if (draft.MarginOf && book.Sales is { } income)
            return
            [
                .. book
                    .Definition.Statement.Select(l => book.MarginOf(l.Code, income))
                    .Where(f => book.Figure(f) is not null)
                    .Select(f => question with { Figure = f }),
            ];
        if (
            (draft.Rank is not null || IsFragment(draft))
            && draft.Unit is not ("income" or "sales")
            && !draft.Compares
            && draft.Scenarios.Count == 0
            && question.Intent == Intent.Value
            && question.Figure == book.Result
        )
            return OfFigures(question);
        // "Best show": by income, or by how many came.
        if (
            draft is { Rank: not null, Unit: null, Breakdowns: [{ Dimension: { } ranked }], Filters.Count: 0 }
            && question.Intent == Intent.Value
            && question.Figure == book.Sales
            && draft.Bases.Count + draft.Scenarios.Count + draft.Conditions.Count == 0
        )
            return [question, .. Counts(ranked).Select(f => question with { Figure = f })];
        // "Compare December and January": of what, nothing says.
        if (
            draft.OpenCompare
            && draft.Bases.Count + draft.Scenarios.Count == 0
            && draft.BasePeriod is not null
            && question.Figure == book.Result
        )
            return OfFigures(question);
        if (!draft.OpenCompare || draft.Bases.Count + draft.Scenarios.Count > 0 || draft.BasePeriod is not null)
            return [];
        return WithBases(question);
    }

    /// <summary>What is counted of members of a dimension.</summary>
    private IEnumerable<FigureRef> Counts(string dimension) =>
        book.MembersOf(book.Accounts.Id)
            .Where(a =>
                a.Account?.Type == AccountType.Statistic
                && book.TryDimension(dimension, out var of)
                && Scoping.Keeps(book, Side.Actual, of, book.Figure(new FigureRef(FigureKind.Account, a.Code)))
            )
            .Take(MostChoices - 1)
            .Select(a => new FigureRef(FigureKind.Account, a.Code));

    /// <summary>Of income, of the result and of costs.</summary>
    private List<FormOneQuestion> OfFigures(FormOneQuestion question) =>
        [
            .. new[] { book.Sales, question.Figure, new FigureRef(FigureKind.Measure, Book.AllCosts) }
                .OfType<FigureRef>()
                .Where(f => book.Figure(f) is not null)
                .Distinct()
                .Select(f => question with { Figure = f }),
        ];

    /// <summary>What was left unsaid, where that is why it asks back.</summary>
    private static string? Missing(Draft draft, Resolved resolved) =>
        resolved.Otherwise.Length > 0 ? null
        : draft.EndsOpen || (draft.OpenCompare && draft.BasePeriod is null) ? "Nothing is named to compare with."
        : draft.Figures.Count == 0 && !draft.MarginOf ? "No figure is named."
        : null;

    /// <summary>Held against each of what a question is usually held against.</summary>
    private List<FormOneQuestion> WithBases(FormOneQuestion question)
    {
        var bases = new[] { book.Latest(ScenarioKind.Budget), book.Latest(ScenarioKind.Forecast) }
            .OfType<Scenario>()
            .Select(s => new Side(SideKind.Version, s.Code))
            .Append(Side.PriorYear)
            .Append(
                Side.PriorPeriod with
                {
                    Version = question.Spans[0].Count.ToString(System.Globalization.CultureInfo.InvariantCulture),
                }
            );
        return [.. bases.Select(b => question with { Bases = [b] })];
    }

    /// <summary>"August only", "by region": where, when and how, and nothing of what.</summary>
    private static bool IsFragment(Draft draft) =>
        draft.Intent is null or Intent.Value
        && draft is { Statistic: null, Projection: null, Sign: 0, AsksHow: false }
        && draft.Conditions.Count + draft.Bases.Count == 0
        && draft.Breakdowns.Count + draft.Periods.Count + draft.Filters.Count > 0;

    /// <summary>Readings that differ in what they speak of; one that contains another speaks for both.</summary>
    private List<FormOneQuestion> Rivals(List<FormOneQuestion> questions)
    {
        var distinct = questions
            .DistinctBy(q =>
                (
                    q.Figure,
                    Filters: string.Join(';', q.Filters.Select(f => $"{f.Dimension}{f.Exclude}{string.Join(',', f.Members)}")),
                    string.Join(',', q.Spans),
                    string.Join(',', q.Bases),
                    q.Subject,
                    q.Records
                )
            )
            .ToList();
        // A ratio that the book has by a name of its own, and the same worked out from its parts, are one.
        distinct =
        [
            .. distinct.DistinctBy(q =>
                book.Figure(q.Figure) is PairFigure pair
                    ? (
                        pair.Rule.ToString(),
                        string.Join(',', pair.Top.Accounts),
                        string.Join(',', pair.Bottom.Accounts),
                        q with
                        {
                            Figure = new FigureRef(FigureKind.Measure, ""),
                        }
                    )
                    : (q.Figure.ToString(), "", "", q)
            ),
        ];
        // "For the group" leaves nothing out: it is the same as not to say it.
        distinct =
        [
            .. distinct.Where(q =>
                !distinct.Any(other =>
                    other != q
                    && other with { Filters = q.Filters } == q
                    && other.Filters.SequenceEqual(q.Filters.Where(f => !IsWhole(f)))
                )
            ),
        ];
        var writer = new ReadingWriter(book);
        return
        [
            .. distinct
                .Where(q => !distinct.Any(other => other != q && (Contains(other, q) || TestsMore(other, q))))
                .DistinctBy(writer.Sentence),
        ];
    }

    private bool CanBeShown(FormOneQuestion question)
    {
        if (question.Records is not null || question.Projection is not null || question.Intent == Intent.Entries)
            return true;
        try
        {
            return new ComparisonPlan(book, FormOne.ToKinds(question)).Blocks.Length > 0;
        }
        catch (CannotAnswerException)
        {
            return false;
        }
    }

    /// <summary>What a name costs at least that is not said as the book has it.</summary>
    private const double SaidOtherwise = 0.25;

    /// <summary>Takes words that the best reading knows whole, a month or a name, for a part of a longer name.</summary>
    private static bool ShortensAName(Covering other, Covering best) =>
        other.Mentions.Any(o =>
            o is { Partial: true, Kind: MentionKind.Figure or MentionKind.Member }
            && best.Mentions.Any(m =>
                m is { Partial: false, Corrected: false, Cost: < SaidOtherwise } && m.Start == o.Start && m.Length == o.Length
            )
        );

    /// <summary>"Sequencing", of an account that ends in it and a department that begins with it: which of the two is meant
    /// nothing tells, though only the one is a figure.</summary>
    private bool IsOtherName(Covering other, Covering best) =>
        best.Mentions.Where(m => m.Kind == MentionKind.Figure).ToList() is [{ Partial: true, Length: 1 } figure]
        && other.Unused.SequenceEqual(best.Unused)
        && other.Mentions.FirstOrDefault(m =>
            m is { Kind: MentionKind.Member, Partial: true, Corrected: false, Length: 1 } && m.Start == figure.Start
        )
            is { } member
        && !vocabulary.Fields["party"].Contains(Words.Phrase(member.Dimension!))
        && other.Mentions.Where(m => m != member).SequenceEqual(best.Mentions.Where(m => m != figure));

    /// <summary>Of two readings of records the one that passes over a test, or a split, is no rival of the one that makes
    /// it.</summary>
    private static bool TestsMore(FormOneQuestion more, FormOneQuestion less)
    {
        // Which day the months are of follows from what is tested.
        static List<RecordTest> Tests(RecordAsk ask) => [.. ask.Tests.Where(t => t.Kind != RecordTestKind.During)];
        if (
            more.Records is not { } all
            || less.Records is not { } few
            || all.Table != few.Table
            || !Tests(few).TrueForAll(Tests(all).Contains)
        )
            return false;
        return Tests(few).Count < Tests(all).Count || all.By.Length > few.By.Length;
    }

    private bool Contains(FormOneQuestion wide, FormOneQuestion narrow)
    {
        var sameFigure = wide.Figure == narrow.Figure;
        var figureContains =
            sameFigure
            || (book.Figure(wide.Figure) is SumFigure w && book.Figure(narrow.Figure) is SumFigure n && book.IsWithin(n, w));
        if (!figureContains || wide.Filters.Length != narrow.Filters.Length)
            return false;
        var differs = !sameFigure;
        for (var i = 0; i < wide.Filters.Length; i++)
        {
            if (wide.Filters[i] == narrow.Filters[i])
                continue;
            if (!Contains(wide.Filters[i], narrow.Filters[i]))
                return false;
            differs = true;
        }
        return differs && wide.Spans.SequenceEqual(narrow.Spans) && wide.Bases.SequenceEqual(narrow.Bases);
    }

    private bool IsWhole(Filter filter) =>
        !filter.Exclude
        && filter.Members.Length == 1
        && book.TryDimension(filter.Dimension, out var dimension)
        && book.TryMember(dimension.Id, filter.Members[0], out var member)
        && book.Roots(dimension.Id).SequenceEqual([member]);

    private bool Contains(Filter wide, Filter narrow)
    {
        // What stands on top holds everything: naming it is not naming one of its parts less closely.
        if (
            IsWhole(wide)
            || wide.Dimension != narrow.Dimension
            || wide.Exclude != narrow.Exclude
            || !book.TryDimension(wide.Dimension, out var dimension)
        )
            return false;
        var within = wide.Members.Select(c => book.TryMember(dimension.Id, c, out var m) ? m.Id : 0).ToHashSet();
        return narrow.Members.All(c => book.TryMember(dimension.Id, c, out var m) && book.PathTo(m.Id).Any(within.Contains));
    }
}
