using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Reading;

/// <summary>A turn that goes on: what it names takes the place of what the turn before had of the same sort, all else
/// stays.</summary>
internal sealed partial class Filling
{
    /// <summary>Adding something beside what was shown is said; so is taking its place.</summary>
    private bool Adds => said.Has<BesideItem>();

    /// <returns>One question for each thing that may be pointed at; none where what was said changes nothing of such a question,
    /// or is no fragment.</returns>
    public IEnumerable<Filled> GoesOn(Talk talk)
    {
        var turn = talk.Turns[^1];
        var before = turn.Question;
        if (before.Kind is Kind.Records records)
        {
            if (RecordsGoOn(turn, records) is { } further)
                yield return further;
            yield break;
        }
        if (said.One<BackToItem>() is { Figure: var figure } && Earlier(talk, figure) is { } about)
            (turn, before) = (about, about.Question);
        if (!said.Fits(OfATurn) || before.Kind is Kind.Projected || Unfit(before))
            yield break;
        foreach (var (scoped, told) in Pointed(before.Asking(of => of with { Claim = null }), turn, talk).ToList())
        {
            _assumed.Clear();
            _assumed.AddRange(told);
            _price = said.Price;
            if (Changed(scoped, turn) is { } question && question != talk.Turns[^1].Question)
                yield return Done(question, Kept(before, question));
        }
    }

    /// <summary>The nearest turn that was about the figure itself.</summary>
    private static Turn? Earlier(Talk talk, FigureRef figure) =>
        talk.Turns.LastOrDefault(t =>
            t.Question.Scope.Figure == figure && t.Question.Kind is Kind.Values or Kind.Comparison or Kind.Why
        );

    private Question? Changed(Question question, Turn turn)
    {
        question = WithoutCleared(question);
        question = Stepped(question, turn);
        question = WithFigure(question);
        if (Divided(question) is not { } divided)
            return null;
        question = WithMembers(divided);
        question = WithPeriods(question);
        question = WithRows(question);
        question = WithSides(question);
        question = WithOrder(question);
        question = WithLimits(question);
        question = WithForm(question);
        if (said.Has<TimingItem>())
            return Late(question);
        if (IsJudged)
            return Judged(question);
        return Doubled(question) ?? AsList(WithKind(question));
    }

    /// <summary>What a turn can change of the one before.</summary>
    private static readonly FrozenDictionary<Type, int> OfATurn = new Dictionary<Type, int>
    {
        [typeof(UnknownItem)] = 2,
        [typeof(FigureItem)] = 1,
        [typeof(MembersItem)] = 3,
        [typeof(LeftOutItem)] = 2,
        [typeof(WholeItem)] = 1,
        [typeof(PeriodsItem)] = 1,
        [typeof(PeriodListItem)] = 1,
        [typeof(StepItem)] = 1,
        [typeof(SideItem)] = 2,
        [typeof(SidesItem)] = 1,
        [typeof(AgainstItem)] = 1,
        [typeof(InsteadItem)] = 1,
        [typeof(SplitItem)] = 2,
        [typeof(MadeUpItem)] = 1,
        [typeof(RankItem)] = 1,
        [typeof(OrderItem)] = 1,
        [typeof(LimitItem)] = 1,
        [typeof(PresenceItem)] = 1,
        [typeof(SharesItem)] = 1,
        [typeof(RatioToItem)] = 1,
        [typeof(GrowthItem)] = 1,
        [typeof(CumulativeItem)] = 1,
        [typeof(AskItem)] = 2,
        [typeof(FormItem)] = 2,
        [typeof(CurrencyItem)] = 1,
        [typeof(RatesItem)] = 1,
        [typeof(PointItem)] = 1,
        [typeof(PointedOutItem)] = 1,
        [typeof(EntriesItem)] = 1,
        [typeof(StateItem)] = 1,
        [typeof(BookedTwiceItem)] = 1,
        [typeof(TimingItem)] = 1,
        [typeof(JudgeItem)] = 1,
        [typeof(SoldWord)] = 1,
        [typeof(GapItem)] = 1,
        [typeof(FieldItem)] = 2,
        [typeof(FieldsItem)] = 1,
        [typeof(OldestItem)] = 1,
        [typeof(OrderByFieldItem)] = 1,
        [typeof(TextItem)] = 1,
        [typeof(GoesOnItem)] = 3,
        [typeof(BackToItem)] = 1,
        [typeof(TheirItem)] = 1,
        [typeof(CourseItem)] = 1,
        [typeof(BesideItem)] = 1,
        [typeof(OnlyItem)] = 1,
        [typeof(ClearItem)] = 1,
    }.ToFrozenDictionary();

    /// <summary>What only makes sense in a sentence of its own.</summary>
    private bool Unfit(Question before) =>
        HoldsMembersApart()
        || HoldsNamesakes()
        || said.One<RankItem>() is { Costs: true }
        || said.One<RankItem>() is { End: End.Unusual, Of: null } && before.Layout.Rows.IsEmpty && IsShort(before.Scope.Spans)
        || before.Of is { Part: not null }
        || said.All<AgainstItem>().Any(a => a.Claims is not null || a.Of is not null)
        || said.All<SplitItem>().Any(s => s.Which)
        || said.All<AskItem>()
            .Any(a =>
                a.What is not (Asked.Why or Asked.Bridge or Asked.Variance or Asked.Value)
                && !(a.What is Asked.Who or Asked.When && said.Has<FieldItem>())
            )
        || said.Has<GapItem>() && !said.Has<TimingItem>() && !IsJudged
        || said.All<StateItem>().Any(s => s is not { Of: RecordState.Twice, Not: false })
        || ListsOnly() && !said.Has<EntriesItem>() && before.Kind is not Kind.Entries
        || said.Has<FigureItem>() && said.Has<RatioToItem>()
        || said.Has<SharesItem>() && said.Has<MembersItem>()
        || (Adds && said.Has<FigureItem>());

    /// <summary>Too few months to tell what is usual among them.</summary>
    private static bool IsShort(IEnumerable<PeriodSpan> spans) => spans.Sum(s => s.Count) < FewestUsual;

    /// <summary>Whether only some of the rows were shown.</summary>
    private static bool IsLimited(Question question) =>
        question.Layout is { Ranking.Count: < Ranking.All } or { Conditions.IsEmpty: false };

    // ---- pointing

    /// <summary>What is pointed at becomes the scope, or is left out of it: one question for each thing that it may be.</summary>
    private IEnumerable<(Question Question, string[] Told)> Pointed(Question question, Turn turn, Talk talk)
    {
        // Why, and nothing else, after one was picked out asks about that one; so do its entries.
        if (
            (said.Asks(Asked.Why) || said.Has<EntriesItem>())
            && said.Parts.All(p => p.Item is AskItem or GoesOnItem or EntriesItem or TheirItem)
            && question.Layout is { Ranking: not null } or { Conditions.IsEmpty: false }
            && turn.Rows is [var only]
        )
            return [Into(question, only)];
        // "Its accounts", after an order, are those of the first; "theirs" of those that were shown.
        if (said.One<TheirItem>() is { } their && IsLimited(question))
            return turn.Rows.IsEmpty ? []
                : turn.Rows.Length == 1 || (!their.Many && question.Layout.Ranking is not null) ? [Into(question, turn.Rows[0])]
                : their.Many ? [OfThose(question, turn)]
                : [];
        if (said.One<PointedOutItem>() is { Point: var left })
            return Things(left, turn, talk)
                .Select(r => (LeftOut(question, r), (string[])[$"without {r.Label}, of what was shown"]));
        if (said.One<PointItem>() is not { } point)
            return [(question, [])];
        if (point.Of is not null)
            return Things(point, turn, talk).Select(r => (For(question, r), (string[])[$"{r.Label}, of what was shown"]));
        // Of lines that were shown the largest is one of them.
        if (question.Kind is Kind.Entries && (point.How is Pointing.Largest or Pointing.Smallest))
            return [(question.Laid(l => l with { Ranking = new Ranking(1, RankBy.Size, point.How is Pointing.Smallest) }), [])];
        if (point.How is Pointing.Those)
            return turn.Rows.Length > 0 && IsLimited(question) ? [OfThose(question, turn)] : [];
        return RowOf(point, turn) is { } row ? [Into(question, row)] : [];
    }

    /// <summary>What "that month" or "the second one" may be.</summary>
    private IEnumerable<Referent> Things(PointItem point, Turn turn, Talk talk)
    {
        if (point.Of is { } kind)
            return new Referents(book, talk).Of(kind);
        return RowOf(point, turn) is { Members: [.., var member] } row
            ?
            [
                member.Dimension == "period"
                    ? new Referent(null, null, row.Slice.Span, row.Label)
                    : new Referent(member.Dimension, member.Code, null, row.Label),
            ]
            : [];
    }

    private Question For(Question question, Referent thing)
    {
        if (thing.Span is { } span)
            return question.In(s => s with { Spans = [span] }).Laid(l => Unsplit(l, l.Rows.Where(b => b.Grain is not null)));
        if (thing.Dimension == book.Accounts.Code)
            return question
                .In(s => s with { Figure = new FigureRef(FigureKind.Account, thing.Code!) })
                .Laid(l => Unsplit(l, l.Rows.Where(b => b.Dimension == thing.Dimension)));
        return question
            .In(s => s with { Filters = Replaced(s.Filters, new Filter(thing.Dimension!, [thing.Code!])) })
            .Laid(l => Unsplit(l, l.Rows.Where(b => b.Dimension == thing.Dimension)));
    }

    private static Layout Unsplit(Layout layout, IEnumerable<Breakdown> gone) =>
        layout with
        {
            Rows = [.. layout.Rows.Except(gone)],
            Ranking = null,
            Conditions = [],
        };

    private Question LeftOut(Question question, Referent thing) =>
        thing.Dimension is null
            ? throw new CannotAnswerException("Months are not left out of a period here. Name those that are wanted.")
            : question.In(s => s with { Filters = Replaced(s.Filters, new Filter(thing.Dimension, [thing.Code!], true)) });

    /// <summary>Only the rows that were shown.</summary>
    private (Question, string[]) OfThose(Question question, Turn turn)
    {
        var members = turn.Rows.Select(r => r.Members[^1]).ToList();
        if (members.Exists(m => m.Dimension == "period" || m.Dimension != members[0].Dimension))
            throw new CannotAnswerException("Rows of time are pointed at one by one. Name the periods that are meant.");
        var filter = new Filter(members[0].Dimension, [.. members.Select(m => m.Code).Distinct()]);
        return (
            question
                .In(s => s with { Filters = Replaced(s.Filters, filter) })
                .Laid(l => l with { Ranking = null, Conditions = [] }),
            [$"{string.Join(", ", turn.Rows.Select(r => r.Label))}, of what was shown"]
        );
    }

    private static Row? RowOf(PointItem point, Turn turn)
    {
        var rows = turn.Rows;
        decimal Size(Row row) =>
            turn.Grid!.Value(row, ColumnKind.Variance).Number ?? turn.Grid.Value(row, ColumnKind.Subject).Number ?? 0m;
        decimal Magnitude(Row row) =>
            turn.Grid!.Value(row, ColumnKind.Variance).Number is { } variance ? Math.Abs(variance) : Size(row);
        return point.How switch
        {
            Pointing.Largest => rows.MaxBy(Magnitude),
            Pointing.Smallest => rows.MinBy(Magnitude),
            Pointing.Worst => rows.MinBy(Size),
            Pointing.Best => rows.MaxBy(Size),
            Pointing.Place => rows.ElementAtOrDefault(point.Place - 1),
            Pointing.That when rows is [var one] => one,
            _ => null,
        };
    }

    private static (Question, string[]) Into(Question question, Row row) =>
        (
            question
                .In(s => s with { Figure = row.Slice.Figure, Filters = row.Slice.Filters, Spans = [row.Slice.Span] })
                .Laid(l => l with { Rows = [], Ranking = null, Conditions = [] })
                .Asking(of => of with { Part = null, Shares = null }),
            [$"the row {row.Label} of the last answer"]
        );

    // ---- scope

    private Question WithoutCleared(Question question)
    {
        if (said.Has<WholeItem>())
            question = question.In(s =>
                s with
                {
                    Filters = [.. s.Filters.Where(f => f.Dimension != book.Entities.Code || f.Exclude)],
                }
            );
        return said.One<ClearItem>()?.What switch
        {
            Cleared.Filters => question.In(s => s with { Filters = [] }),
            Cleared.LeftOut => question.In(s => s with { Filters = [.. s.Filters.Where(f => !f.Exclude)] }),
            Cleared.Rows => question.Laid(l => l with { Ranking = null, Conditions = [] }),
            Cleared.Bases => question.In(s => s with { Bases = [] }).Laid(l => l with { Ranking = null, Conditions = [] }) with
            {
                Kind = new Kind.Values(question.Of with { Shares = question.Of.Shares is null ? null : new Shares(false) }, []),
            },
            _ => question,
        };
    }

    /// <summary>The period before, or behind, the one that the last answer put first or was about.</summary>
    private Question Stepped(Question question, Turn turn)
    {
        if (said.One<StepItem>() is not { Steps: var steps })
            return question;
        var from =
            question.Layout.Rows.Any(b => b.Grain is not null) && turn.Rows.Length > 0
                ? turn.Rows[0].Slice.Span
                : question.Scope.Spans[0];
        var to = from.AddMonths(steps * from.Count);
        _assumed.Add($"{book.Calendar.NameOf(to)}, {(steps < 0 ? "before" : "after")} {book.Calendar.NameOf(from)}");
        return question
            .In(s => s with { Spans = [to] })
            .Laid(l => l with { Rows = [.. l.Rows.Where(b => b.Grain is null)], Ranking = null });
    }

    private Question WithFigure(Question question)
    {
        if (Figures() is not [var figure] || figure == question.Scope.Figure)
            return question;
        if (!said.Has<BackToItem>())
            figure = InTheSameRatio(figure, question.Scope.Figure);
        if (book.Figure(figure)?.Unit != book.Figure(question.Scope.Figure)?.Unit)
            question = WithoutLimits(question, "it was one of another figure");
        var ofAccounts = question.Layout.Rows.Any(b => b.Dimension == book.Accounts.Code);
        if (question.Kind is Kind.Values values)
            question = question with { Kind = values with { Beside = [] } };
        return question
            .In(s => s with { Figure = figure, Filters = [.. s.Filters.Where(f => f.Dimension != book.Accounts.Code)] })
            .Laid(l =>
                ofAccounts && UsualRows(figure).Dimension != book.Accounts.Code
                    ? l with
                    {
                        Rows = [.. l.Rows.Where(b => b.Dimension != book.Accounts.Code)],
                    }
                    : l
            );
    }

    /// <summary>After something in percent of sales, or for each of something, what is named is divided like it.</summary>
    private FigureRef InTheSameRatio(FigureRef figure, FigureRef before)
    {
        if (
            book.Figure(before) is not PairFigure { Rule: not PairRule.Difference } made
            || book.Definition.Measures.Any(m => m.Code == before.Code)
            || book.Figure(figure) is not SumFigure sum
            || sum.Unit != made.Top.Unit
            || figure == made.Top.Ref
            || book.Divided(figure, made) is not { } divided
        )
            return figure;
        _assumed.Add($"{divided.Name}, divided as what was shown before");
        return divided.Ref;
    }

    /// <summary>What was shown, for each of another figure or in percent of it; null where the two make no such figure.</summary>
    private Question? Divided(Question question)
    {
        if (said.One<RatioToItem>() is not { } ratio)
            return question;
        var top =
            book.Figure(question.Scope.Figure) is PairFigure { Top: var of }
            && book.Definition.Measures.All(m => m.Code != question.Scope.Figure.Code)
                ? of.Ref
                : question.Scope.Figure;
        var (over, under) = (Book.Coded(top), Book.Coded(ratio.Figure));
        if (
            book.Figure(ratio.Percent ? Book.PercentOf(over, under) : Book.Per(over, under)) is not { } made
            || question.Scope.Filters.Any(f => f.Dimension == book.Accounts.Code)
        )
            return null;
        return WithoutLimits(question, "it was one of another figure")
            .In(s => s with { Figure = made.Ref })
            .Laid(l => l with { Rows = [.. l.Rows.OrderBy(b => b.Dimension == book.Accounts.Code)] })
            .Asking(of => of with { Shares = null });
    }

    private Question WithoutLimits(Question question, string because)
    {
        if (said.Has<LimitItem>() || question.Layout.Conditions.All(c => c.On != ConditionOn.Amount))
            return question;
        _assumed.Add($"the limit is left out: {because}");
        return question.Laid(l => l with { Conditions = [] });
    }

    private Question WithMembers(Question question)
    {
        foreach (var filter in Filters())
            question = question
                .In(s => s with { Filters = Replaced(s.Filters, filter) })
                .Laid(l => !filter.Exclude && l.Rows.Any(b => b.Dimension == filter.Dimension) ? l with { Ranking = null } : l);
        return question;
    }

    private ImmutableArray<Filter> Replaced(ImmutableArray<Filter> filters, Filter filter)
    {
        var same = filters.FirstOrDefault(f => f.Dimension == filter.Dimension && f.Exclude == filter.Exclude);
        var opposite = filters.FirstOrDefault(f => f.Dimension == filter.Dimension && f.Exclude != filter.Exclude);
        // What is taken in again was left out before.
        if (Adds && !filter.Exclude && opposite is not null && filter.Members.All(m => opposite.Members.Contains(m)))
            return opposite.Members.Length == filter.Members.Length
                ? filters.Remove(opposite)
                : filters.Replace(opposite, opposite with { Members = [.. opposite.Members.Except(filter.Members)] });
        // Something more that is left out comes beside what was left out before.
        if ((Adds || filter.Exclude) && same is not null)
            filter = filter with { Members = [.. same.Members.Concat(filter.Members).Distinct()] };
        var rest = opposite is null ? [] : opposite.Members.Except(filter.Members).ToList();
        return
        [
            .. filters.Where(f => f.Dimension != filter.Dimension),
            .. opposite is not null && rest.Count > 0 ? (Filter[])[opposite with { Members = [.. rest] }] : [],
            filter,
        ];
    }

    private Question WithPeriods(Question question)
    {
        var periods = PeriodsSaid();
        if (periods.IsEmpty)
            return question;
        var spans = periods
            .Select(p =>
                p.Open is { } open ? Anchored(open, p.Span, question.Scope.Spans)
                : p.IsLastMonth && question.Scope.Spans is [var shown] && shown == p.Span ? p.Span.AddMonths(-1)
                : p.Span
            )
            .Distinct();
        return question.In(s => s with { Spans = Adds ? [.. s.Spans.Concat(spans).Distinct()] : [.. spans] });
    }

    /// <summary>A month without a year is one of the year that was spoken of.</summary>
    private PeriodSpan Anchored(Item open, PeriodSpan latest, ValueList<PeriodSpan> before)
    {
        var year = before[^1].To.Year;
        var shifted = latest.AddMonths(12 * (year - latest.From.Year));
        var span = year < Times.Now(book).Year ? shifted : latest;
        _assumed.Add(
            span == latest ? Times.LatestOne(book, span) : $"{book.Calendar.NameOf(span)}, of the year that was spoken of"
        );
        return span;
    }

    // ---- layout

    private Question WithRows(Question question)
    {
        var splits = said.All<SplitItem>().SelectMany(s => s.By).Concat(RankedLevel(question)).Distinct().ToList();
        if (said.Has<CourseItem>() && splits.Count == 0)
            splits.Add(Breakdown.ByTime(TimeGrain.Month));
        if (said.All<SplitItem>().Any(s => s.Each) && said.Parts.Any(p => p.Item is SplitItem { Each: true }))
            foreach (var all in splits.Where(b => b.Dimension is not null))
                question = question.In(s => s with { Filters = [.. s.Filters.Where(f => f.Dimension != all.Dimension)] });
        if (splits.Count > 0)
            question = question
                .Laid(l => l with { Rows = Adds ? [.. l.Rows.Concat(splits).Distinct()] : [.. splits], Ranking = null })
                .Asking(of => of with { Statistic = null, Part = null });
        if (said.Has<MadeUpItem>() && splits.Count == 0)
            question = question.Laid(l => l with { Rows = [UsualRows(question.Scope.Figure)], Ranking = null });
        // Why one of the rows was asked about: it is no row of its own any more.
        if (said.Asks(Asked.Why) && splits.Count == 0)
            foreach (var one in said.All<MembersItem>().Where(m => m.Codes.Length == 1))
                question = question.Laid(l =>
                    l with
                    {
                        Rows = [.. l.Rows.Where(b => b.Dimension != one.Dimension)],
                        Ranking = null,
                        Conditions = [],
                    }
                );
        if (said.Has<CumulativeItem>())
            question = question
                .Laid(l =>
                    l.Rows.Any(b => b.Grain is not null) ? l : l with { Rows = [Breakdown.ByTime(TimeGrain.Month), .. l.Rows] }
                )
                .Asking(of => of with { Cumulative = true });
        if (said.Has<SharesItem>() && !question.Layout.Rows.IsEmpty)
            question = question.Asking(of => of with { Shares = new Shares(!said.Asks(Asked.Variance)) });
        return PeriodsSaid().IsEmpty && splits.Exists(b => b.Grain is not null) ? WithCourse(question) : question;
    }

    private IEnumerable<Breakdown> RankedLevel(Question question) =>
        said.One<RankItem>()?.Of is { } level && !question.Layout.Rows.Contains(level) ? [level] : [];

    /// <summary>One month has no course of its own: that of the year up to it is shown.</summary>
    private Question WithCourse(Question question)
    {
        if (
            question.Scope.Spans is not [var span]
            || question.Layout.Rows.FirstOrDefault(b => b.Grain is not null)?.Grain is not { } grain
            || grain.Cut(span).Take(2).Count() > 1
            || question.Scope.Bases.Any(b => b.Kind == SideKind.PriorPeriod)
            || FiscalCalendar.YearToDate(span.To) is var year && year == span
        )
            return question;
        _assumed.Add($"{book.Calendar.NameOf(year)}, since {book.Calendar.NameOf(span)} alone has no course");
        return question.In(s => s with { Spans = [year] });
    }

    private Question WithSides(Question question)
    {
        var span = question.Scope.Spans[0];
        var named = SidesNamed().Concat(SidesAgainst()).Distinct().Select(s => Resolve(s, span)).ToList();
        var growth = said.Has<GrowthItem>();
        // "Previous month" names a period sooner than what is held against it.
        if (SidesNamed().ToList() is [SideName.Prior] && !SidesAgainst().Any())
            _price += MissingSide;
        if (Both(question, named) is { } both)
            return both;
        if (said.One<InsteadItem>() is { } instead)
            return Exchanged(question, Resolve(instead.With, span), Resolve(instead.Of, span));
        if (named.Count == 0 && !growth && !AsksToCompare(question))
            return question;
        if (question.Scope.Bases.IsEmpty)
            question = WithoutLimits(question, "it was one of the figures themselves, and not of a variance");
        var (subject, bases) = SidesAfter(question, span, named, growth);
        if (growth)
            question = question with { Kind = new Kind.Comparison(question.Of, true) };
        return question.In(s => s with { Subject = subject, Bases = bases });
    }

    /// <summary>Last year, after one period was held against another of the same year: either against the same of last
    /// year.</summary>
    private Question? Both(Question question, List<Side> named)
    {
        if (
            named is not [{ Kind: SideKind.PriorYear } year]
            || question.Scope is not { Spans: [var span], Bases: [{ Kind: SideKind.PriorPeriod } earlier] }
            || !PeriodsSaid().IsEmpty
        )
            return null;
        var other = span.AddMonths(-(int.TryParse(earlier.Version, out var months) ? months : span.Count));
        _assumed.Add($"{book.Calendar.NameOf(other)} and {book.Calendar.NameOf(span)}, each against the year before");
        return question.In(s => s with { Spans = [other, span], Bases = [year] });
    }

    /// <summary>Who is held against whom after the sides that were said: they take the place of those before, or come beside
    /// them.</summary>
    private (Side Subject, ImmutableArray<Side> Bases) SidesAfter(
        Question question,
        PeriodSpan span,
        List<Side> named,
        bool growth
    )
    {
        var (subject, bases) = (question.Scope.Subject, (ImmutableArray<Side>)question.Scope.Bases);
        if (named.Count == 0)
            return (
                subject,
                !bases.IsEmpty ? bases
                : growth ? [Side.PriorYear]
                : Usual(span, subject)
            );
        var adds = Adds || said.All<GoesOnItem>().Any(g => g.Adds) && SidesAgainst().Any();
        if (adds && !bases.IsEmpty)
            return (subject, [.. bases.Concat(named).Where(b => b != subject).Distinct()]);
        // Months that are still to come have nothing but plans.
        if (named is [var plan] && plan.Kind == SideKind.Version && plan != Side.Actual && !SidesAgainst().Any())
        {
            if (!PeriodsSaid().IsEmpty && !bases.IsEmpty && span.To > book.CurrentPeriod && bases.Any(b => b != plan))
                return (plan, [.. bases.Where(b => b != plan)]);
            if (bases.IsEmpty && book.ActualSpan is { } past && span.From > past.To)
                return (plan, []);
        }
        return Ordered(
            named.Count > 1 && SidesNamed().Any() ? named : named.Prepend(named.Contains(subject) ? Side.Actual : subject)
        );
    }

    /// <exception cref="CannotAnswerException">When the side that is to go is not shown.</exception>
    private Question Exchanged(Question question, Side with, Side of)
    {
        if (question.Scope.Subject == of)
            return question.In(s => s with { Subject = with, Bases = [.. s.Bases.Where(b => b != with)] });
        if (!question.Scope.Bases.Contains(of))
            throw new CannotAnswerException($"The last answer does not show {book.NameOf(of)}.");
        return question.In(s => s with { Bases = [.. s.Bases.Select(b => b == of ? with : b).Distinct()] });
    }

    private bool AsksToCompare(Question question) =>
        question.Scope.Bases.IsEmpty
        && (
            said.Asks(Asked.Variance)
            || said.Asks(Asked.Why)
            || said.Asks(Asked.Bridge)
            || question.Kind is not Kind.Entries && LimitsVariance(question.Scope.Figure)
        );

    private ImmutableArray<Side> Usual(PeriodSpan span, Side subject)
    {
        if (book.UsualBase(span, subject) is not { } usual)
            return [];
        _assumed.Add($"compared with {book.NameOf(usual)}");
        return [usual];
    }

    private Question WithOrder(Question question)
    {
        if (question.Kind is Kind.Entries && said.One<RankItem>() is { } ofLines && !said.Has<SplitItem>())
            return question.Laid(l =>
                l with
                {
                    Ranking = new Ranking(
                        ofLines.Count ?? (ofLines.Some ? DefaultRanking : 1),
                        RankBy.Size,
                        ofLines.End is End.Smallest,
                        ofLines.Skip
                    ),
                }
            );
        var (figure, compares) = (question.Scope.Figure, !question.Scope.Bases.IsEmpty);
        if (said.One<OrderItem>() is { } order && !question.Layout.Rows.IsEmpty)
            return question.Laid(l => l with { Ranking = InOrder(order, figure, compares, question.Growth) });
        if (said.One<RankItem>() is not { } rank)
            return question;
        if (question.Layout.Rows.IsEmpty)
            question = question.Laid(l =>
                l with
                {
                    Rows = [rank.End == End.Unusual ? Breakdown.ByTime(TimeGrain.Month) : UsualRows(figure)],
                }
            );
        var ranking = Ranked(rank, figure, compares, question.Growth, null);
        // The worst, of rows that were shown, is one; after a ranking as many as it had.
        if (rank is { Count: null, BothEnds: false })
            ranking = ranking with
            {
                Count =
                    question.Layout.Ranking is { Count: < Ranking.All } like ? like.Count
                    : rank.End == End.Unusual ? ranking.Count
                    : rank.Some ? DefaultRanking
                    : 1,
            };
        // What sticks out does so among all of them.
        return question.Laid(l => l with { Ranking = ranking, Conditions = rank.End == End.Unusual ? [] : l.Conditions });
    }

    private Question WithLimits(Question question)
    {
        var lines = question.Kind is Kind.Entries && !said.Has<SplitItem>();
        var conditions = Limits(question.Scope.Figure, !lines && !question.Scope.Bases.IsEmpty, null);
        if (conditions.IsEmpty || said.Has<EntriesItem>())
            return question;
        if (lines)
            return question.Laid(l => l with { Conditions = conditions });
        if (question.Layout.Rows.IsEmpty)
            question = question.Laid(l => l with { Rows = [UsualRows(question.Scope.Figure)] });
        return question.Laid(l => l with { Conditions = conditions, Ranking = said.Has<RankItem>() ? l.Ranking : null });
    }

    private Question WithForm(Question question) =>
        question
            .In(s => s with { Currency = Currency(s.Currency), Rates = said.One<RatesItem>()?.Set ?? s.Rates })
            .Laid(l => l with { Display = Shown(l.Display) });

    private Question WithKind(Question question)
    {
        if (said.One<EntriesItem>() is { } entries)
            return Entries(question, entries);
        var compares = !question.Scope.Bases.IsEmpty;
        var lines = question.Kind as Kind.Entries;
        // What is counted has no causes: of another figure it is only told what it came to.
        if (question.Kind is Kind.Why && said.Has<FigureItem>() && Sum(question.Scope.Figure) is { IsProfit: false } && compares)
            return question with { Kind = new Kind.Comparison(OfRows.Nothing, question.Growth) };
        if (
            lines is not null
            && !said.Has<SplitItem>()
            && !said.Has<MadeUpItem>()
            && !said.All<AskItem>().Any(a => a.What is not (Asked.Value or Asked.Who or Asked.When))
            && !SidesAgainst().Any()
        )
            return question;
        Kind kind = !compares
            ? question.Kind is Kind.Values kept
                ? kept
                : new Kind.Values(question.Of, [])
            : said.Asks(Asked.Why)
                ? new Kind.Why(question.Growth, null)
                : said.Asks(Asked.Bridge)
                    ? new Kind.Bridge()
                    : said.Asks(Asked.Variance) || question.Kind is Kind.Values or Kind.Entries
                        ? new Kind.Comparison(question.Of, question.Growth)
                        : question.Kind;
        return question with { Kind = kind };
    }

    /// <summary>The lines behind the figure: limits and orders of rows are none of lines.</summary>
    private Question Entries(Question question, EntriesItem entries)
    {
        var conditions = said.One<LimitItem>() is { } limit ? (ValueList<Condition>)limit.Conditions : [];
        return (question with { Kind = question.Kind as Kind.Entries ?? new Kind.Entries(null, null, null) }).Laid(l =>
            l with
            {
                Rows = [],
                Ranking = entries.Rank is { } rank
                    ? new Ranking(rank.Count ?? DefaultRanking, RankBy.Size, rank.End is End.Smallest)
                    : null,
                Conditions = conditions,
                InEvery = false,
            }
        );
    }

    /// <summary>What stayed as it was, in words, so that a wrong keeping is seen at once.</summary>
    private IEnumerable<string> Kept(Question before, Question now)
    {
        if (now.Scope.Figure == before.Scope.Figure && !said.Has<FigureItem>())
            yield return NameOf(now.Scope.Figure);
        if (now.Scope.Spans == before.Scope.Spans && PeriodsSaid().IsEmpty)
            yield return string.Join(" and ", now.Scope.Spans.Select(book.Calendar.NameOf));
        foreach (var filter in now.Scope.Filters.Where(f => before.Scope.Filters.Contains(f)))
            yield return $"{(filter.Exclude ? "without " : "")}{string.Join(" and ", filter.Members.Select(c => MemberName(filter.Dimension, c)))}";
        if (now.Scope.Bases == before.Scope.Bases && !now.Scope.Bases.IsEmpty && now.Kind is not Kind.Entries)
            yield return $"against {string.Join(" and ", now.Scope.Bases.Select(book.NameOf))}";
        if (now.Layout.Rows == before.Layout.Rows && !now.Layout.Rows.IsEmpty)
            yield return $"by {string.Join(" and ", now.Layout.Rows.Select(b => (b.Grain?.ToString() ?? b.Level ?? b.Dimension!).ToLowerInvariant()))}";
    }

    private string MemberName(string dimension, string code) =>
        book.TryDimension(dimension, out var of) && book.TryMember(of.Id, code, out var member) ? member.Name : code;
}
