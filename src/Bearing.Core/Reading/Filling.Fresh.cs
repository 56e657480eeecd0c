using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>A question of its own: nothing is kept from the talk.</summary>
internal sealed partial class Filling
{
    private const int MissingSide = 40;
    private const int UnnamedFigure = 40;

    /// <summary>What a table, a cause or a bridge of its own has room for.</summary>
    private static readonly FrozenDictionary<Type, int> OfItsOwn = new Dictionary<Type, int>
    {
        [typeof(UnknownItem)] = 2,
        [typeof(FigureItem)] = 1,
        [typeof(FiguresItem)] = 1,
        [typeof(MembersItem)] = 4,
        [typeof(LeftOutItem)] = 2,
        [typeof(WholeItem)] = 1,
        [typeof(PeriodsItem)] = 1,
        [typeof(PeriodListItem)] = 1,
        [typeof(SideItem)] = 2,
        [typeof(SidesItem)] = 1,
        [typeof(AgainstItem)] = 1,
        [typeof(AgainstPeriodItem)] = 1,
        [typeof(SplitItem)] = 2,
        [typeof(MadeUpItem)] = 1,
        [typeof(CourseItem)] = 1,
        [typeof(RankItem)] = 1,
        [typeof(OrderItem)] = 1,
        [typeof(LimitItem)] = 1,
        [typeof(GapItem)] = 1,
        [typeof(PresenceItem)] = 1,
        [typeof(StatisticItem)] = 1,
        [typeof(SharesItem)] = 1,
        [typeof(GrowthItem)] = 1,
        [typeof(CumulativeItem)] = 1,
        [typeof(AskItem)] = 2,
        [typeof(FormItem)] = 2,
        [typeof(SpendItem)] = 1,
        [typeof(CurrencyItem)] = 1,
        [typeof(RatesItem)] = 1,
        [typeof(TimingItem)] = 1,
        [typeof(InPlanItem)] = 1,
        [typeof(SoldWord)] = 1,
        [typeof(PercentWord)] = 1,
        [typeof(ShiftItem)] = 1,
    }.ToFrozenDictionary();

    /// <param name="yesNo">Whether a yes or a no is asked for.</param>
    /// <returns>Null where what was said makes no table, bridge or cause of its own.</returns>
    public Filled? Fresh(bool yesNo)
    {
        if (
            !said.Fits(OfItsOwn)
            || HoldsMembersApart()
            || HoldsNamesakes()
            || said.Has<SharesItem>() && said.Has<MembersItem>()
            || said.One<StatisticItem>()?.Of == RowStatistic.Count
            || said.One<RankItem>() is { Costs: true }
            || said.Asks(Asked.Which)
            || said.Asks(Asked.Where) && (PicksRows() || !SidesAgainst().Any())
            || said.Asks(Asked.Compare) && !SidesNamed().Any() && !SidesAgainst().Any()
        )
            return null;
        if (said.Has<SpendItem>() && Figures().Length > 0)
            return null;

        if (Figures() is not [var figure])
        {
            if (said.Has<FiguresItem>() || Unnamed() is not { } unnamed)
                return null;
            figure = unnamed;
        }
        if (said.Has<PercentWord>() && !IsPercentage(figure))
            return null;
        // Behind "the labour shortfall" stands what was earned by it sooner than what it cost.
        if (said.Asks(Asked.Why) && said.One<GapItem>() is { Sense.OfProfit: true } && IsCost(figure))
            return null;
        if (said.Has<ShiftItem>() && PeriodsSaid() is not [{ FromTo: true }])
            return null;
        if (said.Has<InPlanItem>() || said.Has<SoldWord>() && !said.Has<FigureItem>() || !CanMove(out var moved))
            return null;
        if (said.Has<TimingItem>())
            return
                PeriodsSaid() is [var when]
                && Late(Question.About(figure, when.Span).In(s => s with { Filters = [.. Filters()] })) is { } late
                ? Done(late)
                : null;
        var spans = Spans(figure, moved);
        if (spans.IsEmpty || said.All<AgainstItem>().Any(a => a.Of is { } of && of != spans[0]))
            return null;
        if (said.One<RankItem>() is { End: End.Unusual, Of: null } && !said.Has<SplitItem>() && IsShort(spans))
            return null;
        var claim = Claimed() ?? Supposed();
        // What changed in one account is told as it moved, what changed in a result by what it did to it.
        var growth =
            said.Has<GrowthItem>()
            || GrewByAccount()
            || moved is not null && figure.Kind == FigureKind.Account && !said.Has<GapItem>();
        if (Sided(figure, spans[0], claim, growth, moved) is not var (subject, bases))
            return null;
        var compares = bases.Length > 0;
        if (Rows(figure, compares) is not { } rows)
            return null;
        var which = said.All<SplitItem>().Any(s => s.Which);
        if (claim is not null && !compares)
            return null;
        var better = yesNo || which ? null : Better(claim, subject, bases, spans[0]);
        if (better is { } usual)
            bases = [.. bases, usual];
        // A claim says which rows are meant, or is what is asked; beside a cause it is said along.
        var asked =
            claim is not { } direction ? null
            : better is not null ? new Claim(direction, Quantifier.Better, null)
            : yesNo || said.Asks(Asked.Why)
                ? new Claim(direction, said.All<SplitItem>().Any(s => s.Each) ? Quantifier.Every : null, null)
            : null;
        if (claim is not null && asked is null && !which && !said.Has<LimitItem>())
            return null;
        if (yesNo && claim is null && said.One<RankItem>() is not { End: End.Unusual })
            return null;
        var conditions = Limits(figure, compares, claim);
        if (which && claim is { } side && !said.Has<LimitItem>() && !said.Has<RankItem>())
            conditions = [new Condition(ConditionOn.Amount, side, Cent), .. conditions];
        var ranking =
            said.One<RankItem>() is { } rank ? Ranked(rank, figure, compares, growth, which ? null : claim)
            : said.One<OrderItem>() is { } order ? InOrder(order, figure, compares, growth)
            : which && claim is { } by && !said.Has<LimitItem>() ? new Ranking(Ranking.All, SideOf(by, figure))
            : null;
        if (which && ranking is null && conditions.IsEmpty)
            return null;
        var statistic = Statistic(figure);
        if (statistic is not null && !IsStock(figure))
            rows = rows.IsEmpty ? [Breakdown.ByTime(TimeGrain.Month)] : [.. rows.OrderBy(b => b.Grain is not null)];
        var of = new OfRows(
            statistic,
            said.Has<SharesItem>() ? new Shares(!said.Asks(Asked.Variance)) : null,
            null,
            asked,
            said.Has<CumulativeItem>()
        );
        var kind = KindOf(of, compares, growth);
        if (kind is null)
            return null;
        return Done(
            new Question(
                new Scope(figure, [.. spans], [.. Filters()], subject, [.. bases], Currency(null), said.One<RatesItem>()?.Set),
                new Layout(rows, ranking, conditions, false, Shown(null)),
                kind
            )
        );
    }

    /// <summary>Members of one dimension that nothing joins are held against each other, or one is a part of the other.</summary>
    private bool HoldsNamesakes() => said.All<MembersItem>().Any(m => m.Namesakes);

    private bool HoldsMembersApart() => said.All<MembersItem>().GroupBy(m => m.Dimension).Any(g => g.Count() > 1);

    private Kind? KindOf(OfRows of, bool compares, bool growth) =>
        said.Asks(Asked.Why) || said.Has<ShiftItem>()
            ? compares
                ? new Kind.Why(growth, of.Claim)
                : null
            : said.Asks(Asked.Bridge)
                ? compares
                    ? new Kind.Bridge()
                    : null
                : compares
                    ? new Kind.Comparison(of, growth)
                    : new Kind.Values(of, []);

    /// <summary>What "over budget" or "grew" claims; null where nothing is claimed.</summary>
    private Direction? Claimed() =>
        (said.All<AgainstItem>().Select(a => a.Claims).FirstOrDefault(c => c is not null) ?? said.One<GapItem>()?.Sense)?.Side;

    /// <summary>"Why is it 38k over": who asks for the cause takes the amount for granted, which is no limit of rows.</summary>
    private Direction? Supposed() =>
        said.Asks(Asked.Why)
        && !said.Has<SplitItem>()
        && said.One<LimitItem>() is { Conditions: [{ On: ConditionOn.Amount }] } limit
            ? limit.Sense?.Side
            : null;

    /// <summary>What "does it look better" holds a comparison with another plan against: the usual one.</summary>
    /// <returns>Null where nothing of the kind is asked.</returns>
    private Side? Better(Direction? claim, Side subject, ImmutableArray<Side> bases, PeriodSpan span) =>
        claim is Direction.For or Direction.Against
        && said.Has<GapItem>()
        && !said.Has<LimitItem>()
        && !said.Asks(Asked.Why)
        && SidesAgainst().Any()
        && bases is [{ Kind: SideKind.Version } other]
        && book.UsualBase(span, subject) is { } usual
        && usual != other
            ? usual
            : null;

    private GapSense? Sense() =>
        said.All<AgainstItem>().Select(a => a.Claims).FirstOrDefault(c => c is not null)
        ?? said.One<GapItem>()?.Sense
        ?? said.One<LimitItem>()?.Sense;

    private ImmutableArray<PeriodsItem> PeriodsSaid() =>
        said.One<PeriodListItem>() is { } list ? list.Periods
        : said.One<PeriodsItem>() is { } one ? [one]
        : [];

    private bool IsStock(FigureRef figure) => Sum(figure) is { OverTime: OverTime.Stock };

    /// <summary>What is an average already is recomputed as ever.</summary>
    private RowStatistic? Statistic(FigureRef figure)
    {
        if (said.One<StatisticItem>()?.Of is not { } statistic)
            return null;
        if (book.Figure(figure) is not PairFigure and not SumFigure { OverTime: OverTime.Average })
            return statistic;
        _assumed.Add($"{NameOf(figure)} as it is: it is an average over members or months already");
        return null;
    }

    /// <summary>"Which accounts grew by more than 10 %": each as it moved, whatever it did to the result.</summary>
    private bool GrewByAccount() =>
        Figures().Length == 0
        && said.All<SplitItem>().Any(s => s.Which && s.By.All(b => b.Dimension == book.Accounts.Code))
        && said.One<LimitItem>() is { Sense.OverTime: true };

    /// <summary>"Where are we over budget" asks for rows; "where did we land" for what it came to.</summary>
    private bool PicksRows() =>
        Claimed() is not null
        || said.Has<RankItem>()
        || said.Has<LimitItem>()
        || said.Has<PresenceItem>()
        || said.Has<OrderItem>();

    /// <summary>The result, where how it went is asked and no figure is named; null where none is meant.</summary>
    private FigureRef? Unnamed()
    {
        if (said.Has<SpendItem>())
        {
            if (!said.Has<MembersItem>())
                return null;
            _assumed.Add("the costs booked with them, since no invoices of suppliers are loaded");
            return new FigureRef(FigureKind.Measure, Book.AllCosts);
        }
        if (
            !(
                said.Asks(Asked.Variance)
                || said.Asks(Asked.Why)
                || said.Asks(Asked.Bridge)
                || said.Asks(Asked.Where)
                || GrewByAccount()
                || SidesNamed().Contains(new SideName.Actual()) && SidesAgainst().Any()
            )
            || said.Has<RankItem>()
            || said.Has<LimitItem>() && !GrewByAccount()
            || said.Has<GapItem>() && !said.Asks(Asked.Why) && !SidesAgainst().Any()
            || book.Result is not { } result
        )
            return null;
        _price += UnnamedFigure;
        _assumed.Add($"{NameOf(result)}, since no figure was named");
        return result;
    }

    /// <param name="moved">The two ends of a range, where what moved from the one to the other is asked for; null where it is
    /// not.</param>
    /// <returns>False where the two cannot be held against each other.</returns>
    private bool CanMove(out (PeriodSpan From, PeriodSpan To)? moved)
    {
        moved = null;
        // The difference between two periods is one of them less the other.
        if (said.Asks(Asked.Variance) && said.One<PeriodsItem>() is { Between: true })
            return false;
        if (
            said.One<PeriodsItem>() is not { Ends: { } ends, FromTo: true }
            || SidesNamed().Any()
            || SidesAgainst().Any()
            || said.All<SplitItem>().Any(s => s.By.Any(b => b.Grain is not null))
        )
            return true;
        var moves =
            said.Has<GrowthItem>()
            || said.Has<ShiftItem>()
            || said.Asks(Asked.Bridge)
            || said.Asks(Asked.Why) && ends.From.To.AddMonths(1) == ends.To.From
            || said.One<GapItem>()?.Sense.Moves == true;
        if (!moves)
            return true;
        // From last year to this one: as far as this one has come.
        if (ends.To.AddMonths(-12) is var before && ends.From.Intersect(before) == before)
            ends.From = before;
        moved = ends;
        return ends.From.Count == ends.To.Count;
    }

    private ImmutableArray<PeriodSpan> Spans(FigureRef figure, (PeriodSpan From, PeriodSpan To)? moved)
    {
        if (moved is { } ends)
            return [ends.To];
        var periods = PeriodsSaid();
        var sides = SidesNamed().Concat(SidesAgainst()).Distinct().ToList();
        // This year and last year stand beside each other.
        if (
            periods.Length > 1
            && periods.Any(p =>
                p.IsLastYear || periods.Any(o => o.Span.Count == p.Span.Count && o.Span.From.Ordinal - p.Span.From.Ordinal == 12)
            )
        )
            return [];
        if (periods.Length > 0)
        {
            if (Planned(periods, sides) is { } planned)
                return planned;
            foreach (var period in periods.Where(p => p.Open is not null))
                _assumed.Add(Times.LatestOne(book, period.Span));
            foreach (var period in periods.Where(p => p.IsLastMonth))
                _assumed.Add($"{book.Calendar.NameOf(period.Span)}, the last month that is closed");
            return
            [
                .. periods
                    .Select(p =>
                        p is { AsAt: true } && Sum(figure) is { OverTime: OverTime.Sum }
                            ? FiscalCalendar.YearToDate(p.Span.To)
                            : p.Span
                    )
                    .Distinct(),
            ];
        }
        if (book.CurrentPeriod is not { } now)
            return [];
        // Years stand beside each other: all of them, as far as they have come.
        if (
            sides.Count == 0
            && book.ActualSpan is { } all
            && said.All<SplitItem>().Any(s => s.By.Any(b => b.Grain == TimeGrain.Year))
        )
        {
            var years = new PeriodSpan(all.From, Period.Min(all.To, now));
            _assumed.Add($"{book.Calendar.NameOf(years)}, all that there is, since no period was named");
            return [years];
        }
        if (said.One<AgainstPeriodItem>() is { Period.Span: var other })
            return [Beside(other, now)];
        if (sides.Exists(s => s is SideName.Prior { Months: null }))
        {
            _assumed.Add($"{book.Calendar.NameOf(now)}, the latest closed month");
            return [PeriodSpan.Of(now)];
        }
        // A plan alone, or beside last year, is asked about as a whole.
        var onLastYear =
            SidesNamed().ToList() is [SideName.Plan { Kind: ScenarioKind.Forecast } or SideName.ForecastBefore]
            && SidesAgainst().ToList() is [SideName.PriorYear];
        if (
            (OnlyPlans(sides) || onLastYear)
            && book.Version(Resolve(sides[0], PeriodSpan.Of(now)))?.Coverage is { } coverage
            && coverage.Span.To > now
        )
        {
            var whole = FiscalCalendar.Year(coverage.Span.To.Year);
            _assumed.Add($"{book.Calendar.NameOf(whole)}, all of the plan's year, since no period was named");
            return [whole];
        }
        var toDate = FiscalCalendar.YearToDate(now);
        _assumed.Add($"{book.Calendar.NameOf(toDate)}, the year to date, since no period was named");
        return [toDate];
    }

    /// <summary>What is held against a period that was named, where its own was not: the same months a year later where these are
    /// over, otherwise those that follow.</summary>
    private PeriodSpan Beside(PeriodSpan other, Period now)
    {
        var again = other.AddMonths(12);
        var after = other.From.Year < now.Year && again.To <= now ? again : other.AddMonths(other.Count);
        _assumed.Add(
            after == again
                ? $"{book.Calendar.NameOf(after)}, a year after {book.Calendar.NameOf(other)}"
                : $"{book.Calendar.NameOf(after)}, which follows {book.Calendar.NameOf(other)}"
        );
        return after;
    }

    /// <summary>A plan alone, or plans against each other.</summary>
    private bool OnlyPlans(List<SideName> sides) =>
        sides.Count > 0
        && (SidesNamed().Any() || SidesAgainst().Count() < 2)
        && (sides.Count > 1 || !SidesAgainst().Any())
        && !said.Asks(Asked.Variance)
        && !said.Has<AgainstPeriodItem>()
        && sides.TrueForAll(s => s.IsPlan);

    /// <summary>Months without a year are those that the plan covers.</summary>
    private ImmutableArray<PeriodSpan>? Planned(ImmutableArray<PeriodsItem> periods, List<SideName> sides)
    {
        if (
            sides.Find(s => s.IsPlan) is not { } plan
            || sides.Exists(s => s is SideName.Actual)
            || periods.Any(p => p.Open is null)
            || (!OnlyPlans(sides) && !SidesNamed().Any(s => s.IsPlan))
            || book.Version(Resolve(plan, periods[0].Span))?.Coverage is not { } coverage
        )
            return null;
        var later = periods.Select(p => p.Span.AddMonths(12)).ToImmutableArray();
        if (periods.All(p => coverage.Span.Intersect(p.Span) is not null) || !later.All(p => coverage.Span.Intersect(p) == p))
            return null;
        foreach (var span in later)
            _assumed.Add($"{book.Calendar.NameOf(span)}, which the plan covers");
        return later;
    }

    /// <summary>Who is held against whom; null where a comparison has nothing to be made with.</summary>
    private (Side Subject, ImmutableArray<Side> Bases)? Sided(
        FigureRef figure,
        PeriodSpan span,
        Direction? claim,
        bool growth,
        (PeriodSpan From, PeriodSpan To)? moved
    )
    {
        if (moved is { } ends)
            return (Side.Actual, [Earlier(span, ends.From)]);
        var named = SidesNamed().Select(s => Resolve(s, span)).ToList();
        var against = SidesAgainst().Select(s => Resolve(s, span)).ToList();
        if (said.One<AgainstPeriodItem>() is { Period.Span: var other })
        {
            if (other.Count != span.Count || other == span)
                return null;
            against.Add(Earlier(span, other));
        }
        var asks =
            said.Asks(Asked.Variance)
            || said.Asks(Asked.Why)
            || said.Asks(Asked.Bridge)
            || said.One<LimitItem>()?.Sense?.Side == Direction.Within
            || LimitsVariance(figure);
        if (named is [{ Kind: not SideKind.Version }] && against.Count == 0)
            _price += MissingSide;
        if (named.Count == 0 && against.Count == 0)
        {
            if (growth || (Sense() is { OverTime: true } sense && !(sense.PlanWhereWhy && said.Asks(Asked.Why))))
                return (Side.Actual, [Side.PriorYear]);
            if (!asks && claim is null)
                return (Side.Actual, []);
            if (book.UsualBase(span, Side.Actual) is not { } usual)
            {
                if (claim is not null || said.Asks(Asked.Why) || said.Asks(Asked.Bridge))
                    return null;
                _assumed.Add(
                    $"nothing to compare with, since the book has no budget and no year before {book.Calendar.NameOf(span)}"
                );
                return (Side.Actual, []);
            }
            _assumed.Add($"compared with {book.NameOf(usual)}");
            return (Side.Actual, [usual]);
        }
        if (against.Count > 0 && named.Count == 0)
            return Ordered([Side.Actual, .. against]);
        if (against.Count == 0 && named is [var only])
            return asks || claim is not null ? Ordered([Side.Actual, only]) : (only, []);
        // What happened is seen beside the past, and plans beside it where it has been.
        // Of a year that is not over the plans are what is asked for.
        if (
            against.Count == 0
            && named.Exists(n => n.Kind != SideKind.Version)
            && !(span.To > book.CurrentPeriod && named.Exists(n => n.Kind == SideKind.Version))
        )
            named.Add(Side.Actual);
        return Ordered(named.Concat(against));
    }

    private static Side Earlier(PeriodSpan span, PeriodSpan other) =>
        span.From.Ordinal - other.From.Ordinal is 12
            ? Side.PriorYear
            : Side.PriorPeriod with
            {
                Version = Plain(span.From.Ordinal - other.From.Ordinal),
            };

    /// <summary>What rows are split by; null where what was said makes no rows of one table.</summary>
    private ValueList<Breakdown>? Rows(FigureRef figure, bool compares)
    {
        var splits = said.All<SplitItem>().SelectMany(s => s.By).Distinct().ToList();
        if (said.One<RankItem>()?.Of is { } ranked)
        {
            if (splits.Count > 0)
                return null;
            splits.Add(ranked);
        }
        if (said.One<RankItem>() is not null && splits.Count > 1)
            return null;
        if (splits.Count > 0)
            return [.. splits];
        if (said.Has<SharesItem>() || said.Has<OrderItem>() || said.Has<PresenceItem>())
            return null;
        if (
            said.All<FormItem>().Any(f => f.Display.View is View.Chart or View.Line or View.Bars)
            || said.Has<CumulativeItem>()
            || said.Has<CourseItem>() && !compares
        )
            return [Breakdown.ByTime(TimeGrain.Month)];
        if (said.Has<StatisticItem>())
            return [];
        if (said.Has<MadeUpItem>())
            return Listed() is { IsEmpty: false } listed ? listed : [UsualRows(figure)];
        if (said.One<RankItem>() is { End: End.Unusual })
            return [Breakdown.ByTime(TimeGrain.Month)];
        if (said.Has<LimitItem>() && Supposed() is null || said.Has<RankItem>())
            return [UsualRows(figure)];
        if (
            said.Asks(Asked.Why)
            || said.Has<ShiftItem>()
            || said.Asks(Asked.Bridge)
            || said.Has<GrowthItem>()
            || said.Has<GapItem>()
        )
            return [];
        return Listed();
    }

    /// <summary>The level of members that were named one by one.</summary>
    private ValueList<Breakdown> Listed() =>
        said.All<MembersItem>().FirstOrDefault(m => m is { Together: false, Codes.Length: > 1 and <= MostListed }) is { } listed
        && listed.Codes.Select(c => Breakdown.OfMember(book, listed.Dimension, c)).Distinct().ToList() is [{ } level]
            ? [level]
            : [];

    /// <summary>Limits of rows: of a variance a size holds on either side, unless a side was claimed.</summary>
    private ImmutableArray<Condition> Limits(FigureRef figure, bool compares, Direction? claim)
    {
        var presence = said.All<PresenceItem>()
            .Select(p =>
                !compares ? p.Of
                : p.Of.Direction == Direction.Under ? new Condition(ConditionOn.Amount, Direction.Against, Cent)
                : new Condition(ConditionOn.Amount, Direction.For, Cent)
            );
        if (said.One<LimitItem>() is not { } limit || Supposed() is not null)
            return [.. presence];
        Direction Of(Direction said) =>
            !compares || limit.SideSaid ? said
            : claim is { } side && said == Direction.Over ? side
            : said switch
            {
                Direction.Over => Direction.Either,
                Direction.Under => Direction.Within,
                var other => other,
            };
        ConditionOn On(ConditionOn said) => said == ConditionOn.Percent && IsPercentage(figure) ? ConditionOn.Amount : said;
        return [.. limit.Conditions.Select(c => c with { On = On(c.On), Direction = Of(c.Direction) }), .. presence];
    }

    /// <summary>Of a percentage "under 80%" is its amount, or its points.</summary>
    private bool IsPercentage(FigureRef figure) => book.Figure(figure) is PairFigure { Rule: PairRule.Percent };

    /// <summary>A limit in percent of what is none itself is one of a variance.</summary>
    private bool LimitsVariance(FigureRef figure) =>
        !IsPercentage(figure) && said.One<LimitItem>() is { } limit && limit.Conditions.Any(c => c.On == ConditionOn.Percent);

    private IEnumerable<Filter> Filters() =>
        said.All<MembersItem>()
            .GroupBy(m => m.Dimension)
            .Select(g => new Filter(g.Key, [.. g.SelectMany(m => m.Codes).Distinct()]))
            .Concat(
                said.All<LeftOutItem>()
                    .GroupBy(m => m.Dimension)
                    .Select(g => new Filter(g.Key, [.. g.SelectMany(m => m.Codes).Distinct()], true))
            );

    /// <exception cref="CannotAnswerException">When nothing of the book is in the currency.</exception>
    private string? Currency(string? before)
    {
        if (said.One<CurrencyItem>() is not { } item)
            return before;
        var code = item.Code ?? LocalCurrency();
        if (code == book.Definition.Currency)
            return null;
        return book.Currencies.Contains(code)
            ? code
            : throw new CannotAnswerException(
                $"The book has nothing in {code}.{(book.Currencies.Count > 0 ? $" It knows {string.Join(", ", book.Currencies.Order())}." : "")}"
            );
    }

    private string LocalCurrency()
    {
        var currencies = said.All<MembersItem>()
            .Where(m => m.Dimension == book.Entities.Code)
            .SelectMany(m => m.Codes)
            .Select(c => book.TryMember(book.Entities.Id, c, out var m) ? m : null)
            .OfType<Member>()
            .SelectMany(m => book.SelfAndBelow(m))
            .Where(m => !book.HasChildren(m))
            .Select(book.CurrencyOf)
            .Distinct()
            .ToList();
        return currencies is [var one]
            ? one
            : throw new CannotAnswerException(
                $"Several currencies are local in this scope. Say which {book.Entities.Name.ToLowerInvariant()}, or which currency: {string.Join(", ", book.Currencies.Order())}."
            );
    }
}
