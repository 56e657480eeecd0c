using System.Globalization;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>
/// Composes the mentions of one covering by a small set of typed rules. Each rule looks for a pattern of kinds and puts
/// something larger in its place; rules run in order, each as often as it fits. What is left is taken up word by word.
/// To add a construction, add a rule to <see cref="Rules"/> (Composer.Rules.cs; Composer.Sides.cs for plans and comparisons,
/// Composer.Figures.cs for figures of figures, Composer.Periods.cs and Composer.Days.cs for time, Composer.Limits.cs for limits,
/// Composer.Records.cs for lists).
/// </summary>
/// <param name="vocabulary">The language's words, for rules that look at a part of a phrase or at the roles of fields.</param>
internal sealed partial class Composer(Book book, Vocabulary vocabulary)
{
    /// <summary>"Last year" by itself is a year sooner than a base.</summary>
    private const double PriorAlone = 0.4;

    /// <summary>A word that several names share is a name by accident often enough.</summary>
    private const double SharedWord = 0.4;
    private const double DoubtfulLevel = 0.35;
    private const double AllAndOne = 0.5;
    private const double ThanWithoutSide = 1;

    /// <summary>"Which vessel costs" asks for vessels sooner than for what vessel costs are made of.</summary>
    private const double WhichOfWhole = 0.3;
    private const double MixedList = 1;
    private const double SlashAsList = 0.3;

    /// <summary>What was paid and what is open, said together, are two amounts sooner than one of them and a word that says
    /// nothing.</summary>
    private const double ApartRebate = 0.4;

    /// <summary>"Within", with no limit behind it, says where.</summary>
    private const double WithinNothing = 0.6;

    /// <summary>Items that rules may make of one word at most.</summary>
    private const int Growth = 4;
    private const double OnLastYear = 0.3;
    private const double ValueAlone = 0.5;

    /// <summary>An outlook holds no forecast against a plan; where both are named, the months ahead are meant.</summary>
    private const double OutlookOfTwoPlans = 0.4;

    private IReadOnlyList<Mention> _said = [];

    /// <summary>Whether what was called by a new name was found.</summary>
    private bool _defined;
    private Func<List<Item>, int, bool>[]? _rules;
    private readonly Period _now = book.CurrentPeriod ?? new Period(2000, 1);

    /// <summary>In the order in which they run: what takes words out of the reach of others comes first, what takes what is left
    /// comes last.</summary>
    private Func<List<Item>, int, bool>[] Rules =>
        _rules ??= [
            RecordsOfParty,
            NamedDay,
            DayRange,
            OpenDays,
            WholeMonths,
            LastDayOfMonth,
            OwedTo,
            EitherDay,
            BrokenDown,
            LevelBehind,
            RowBySide,
            Pointed,
            PlanAndSpent,
            SpentOfPlan,
            InsteadOf,
            WithoutSide,
            BothPlans,
            BothSides,
            Negated,
            OverPeriod,
            Ordering,
            LatestRecord,
            NextDue,
            DaysBetween,
            DifferenceIn,
            SamePerson,
            FurtherField,
            PaidAndOpen,
            ColumnList,
            PartyFirst,
            RankedField,
            LevelOfCodes,
            ClassOfMembers,
            ResultInList,
            HowOften,
            When,
            CountOf,
            TextHolds,
            EndingIn,
            AnybodyCounted,
            EachOfCount,
            CostOf,
            OrderByFigure,
            PartIncluded,
            ResultOfMember,
            RowsAsShares,
            MixBehindRows,
            MemberAsShare,
            BeforeOrAfter,
            OverPercentOf,
            FigureLessFigure,
            FigurePlusFigure,
            EachPer,
            MemberLessMember,
            FigurePercentOfFigure,
            EarnedPer,
            RatioOf,
            OnlyOfCosts,
            FigurePerFigure,
            DefinedName,
            MarginOf,
            FigureThanFigure,
            FigureAgainstFigure,
            WhoOfLargest,
            WhoAlso,
            NumberedRecord,
            WhoField,
            MemberAgainstOthers,
            MemberAgainstMember,
            Buckets,
            FieldIsValue,
            EitherValue,
            ByValue,
            SameFields,
            MissingField,
            DaysOfSpan,
            DaysFrom,
            DaysAfter,
            ByField,
            Across,
            PeriodOf,
            PeriodNumber,
            TrailingPeriod,
            LeadingMonths,
            CalendarPeriod,
            NamedPeriod,
            SameMonthTwice,
            WholeYear,
            FigureInRange,
            StrayYear,
            PartInTime,
            LastNamed,
            YearTo,
            ToDateOf,
            MonthsOfFigure,
            UntilPeriod,
            BeyondPeriod,
            MonthsTo,
            LastAlone,
            AgainstAverage,
            AsLongBefore,
            AgainstWholeYear,
            ThisAndLastYear,
            EachOfPeriod,
            Combined,
            ComparedPeriods,
            PeriodLessPeriod,
            PeriodRange,
            AsAtPeriod,
            FromPeriod,
            GrowingGap,
            Attained,
            BaseThreshold,
            WithoutPlan,
            Multiple,
            TrailingMore,
            BetweenAmounts,
            LimitOfCount,
            PercentOfPlan,
            Threshold,
            EitherSide,
            BaseLimit,
            SincePeriod,
            PlanOfSamePeriod,
            SamePeriodAgain,
            SameFigureAgain,
            ActualOfLastYear,
            ActualPlusForecast,
            ScenarioToScenario,
            ForecastTo,
            ToSide,
            ComparedBehind,
            ScenarioAsBase,
            WithScenario,
            PeriodAsBase,
            FurtherBase,
            SeveralScenarios,
            ComparedWithBoth,
            AndSide,
            RankBehind,
            Apposition,
            LeftOutRows,
            WithoutMember,
            Split,
            LeftOut,
            Without,
            FurtherRows,
            NumberOfRows,
            OneRecord,
            Rank,
            TwoEnds,
            WhichLevel,
            SeveralMembers,
            CompareMembers,
            RankedBy,
            NumberBehind,
            StrayBy,
        ];

    public Draft Compose(Covering covering)
    {
        _said = covering.Mentions;
        (_defined, _ofDays) = (false, 0);
        RefuseFigureOfFigure();
        var said = _said.Where(m => m.Kind is not (MentionKind.Filler or MentionKind.Place)).ToList();
        // "Both" stays where no two are said that it speaks of: it is the only word that tells of the other.
        var items = said.Where(
                (m, i) => m.Kind != MentionKind.Quantifier || IsOfRows(said, i) || (m.Value == Both && !IsOfTwo(said))
            )
            .Select(m => (Item)new WordItem(m))
            .ToList();
        Expand(items);
        // "On" compares before a plan or a period; anywhere else it only says where.
        items.RemoveAll(i =>
            i is WordItem { Mention: { Kind: MentionKind.Comparator, Value: "on" } }
            && Word(items, items.IndexOf(i) + 1)?.Kind
                is not (
                    MentionKind.Scenario
                    or MentionKind.Period
                    or MentionKind.Month
                    or MentionKind.Part
                    or MentionKind.Year
                    or MentionKind.Trailing
                )
        );
        if (items.Count > 1)
            for (var i = 0; i < items.Count; i++)
                if (IsTop(items, i))
                    items[i] = new WordItem(Word(items, i)! with { Kind = MentionKind.Result, Value = Scope });
        // Every rule makes the list shorter or turns a word into something else, so this ends.
        var most = Growth * (items.Count + 1);
        foreach (var rule in Rules)
            for (var at = 0; at < items.Count; at++)
            {
                while (rule(items, at) && items.Count <= most) { }
                // A rule that only adds would not end; one question shall not take the service down.
                if (items.Count > most)
                    throw new CannotAnswerException("These words cannot be put together. Ask for one thing at a time.");
            }
        RefuseTwoLimits(items);
        RefuseLostDays(items);
        // "June versus": with what is left open.
        var draft = new Draft
        {
            EndsOpen = items.LastOrDefault() is WordItem { Mention: { Kind: MentionKind.Comparator, Value: not "on" } },
            AsksHow = _said.Any(m => m is { Kind: MentionKind.Filler, Value: "how" }),
        };
        // Nobody says "on last year" of what happened in it.
        if (
            _said.Any(p =>
                p is { Kind: MentionKind.Period, Value: "year:-1" }
                && _said.Any(o =>
                    o.End == p.Start
                    && o.Kind is MentionKind.Filler or MentionKind.Place
                    && vocabulary.Find(o.Title).Any(e => e is { Kind: MentionKind.Comparator, Value: "on" })
                )
            )
        )
            draft.Cost += OnLastYear;
        NarrowKinds(items);
        LookAround(draft, items);
        // What moved by more than a limit did so on either side.
        var moved = items.Exists(i =>
            i is WordItem { Mention: { Kind: MentionKind.Shift } or { Kind: MentionKind.Growth, Value: "change" } }
        );
        foreach (var item in items)
            Take(draft, item, moved);
        LookBack(draft, items);
        return draft;
    }

    /// <summary>Any and all matter before what rows are made of; anywhere else they only sound well.</summary>
    private static bool IsOfRows(List<Mention> said, int at) =>
        said.ElementAtOrDefault(at + 1)?.Kind is MentionKind.Level or MentionKind.Grain or MentionKind.Class
        && said.ElementAtOrDefault(at - 1)?.Kind is not (MentionKind.By or MentionKind.Then or MentionKind.Which);

    private const string Both = "both";

    /// <summary>What stands behind it is what a ranking stands within.</summary>
    public const string Inside = "within";

    /// <summary>"Both October and November": the two are said.</summary>
    private static bool IsOfTwo(List<Mention> said) =>
        said.Where(m =>
                m.Kind != MentionKind.Year
                || !said.Exists(o => o.Kind is MentionKind.Month or MentionKind.Part && o.End == m.Start)
            )
            .GroupBy(m =>
                m.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Year or MentionKind.Period
                    ? MentionKind.Period
                    : m.Kind
            )
            .Any(g =>
                g.Key
                    is MentionKind.Member
                        or MentionKind.Figure
                        or MentionKind.Scenario
                        or MentionKind.Period
                        or MentionKind.Level
                && g.Count() > 1
            );

    /// <summary>The profit that is meant where nothing says which.</summary>
    private const string AnyProfit = "m:~result";

    /// <summary>The same, or what some figure came to.</summary>
    private const string Outcome = "m:~outcome";

    /// <summary>Before a side that is compared with by its word: yoy.</summary>
    public const string AgainstIt = "against:";

    /// <summary>All there is: nothing is left out and nothing is split.</summary>
    private const string Scope = "scope";

    /// <summary>The group, as one.</summary>
    private const string WholeOfIt = "whole";

    /// <summary>How something went over time, with no word for what time is cut into.</summary>
    public const string Course = "course";

    /// <summary>Accounts, as lines of a statement.</summary>
    public const string AnyLines = "~lines";

    /// <summary>Takes up what an item says; a word without a place has its price.</summary>
    private void Take(Draft draft, Item item, bool moved)
    {
        switch (item)
        {
            case PeriodItem period:
                draft.Periods.Add(period);
                draft.LastYear |= period.IsLastYear;
                Say("period");
                break;
            case BaseItem b:
                TakeBase(draft, b);
                Say("base");
                break;
            case FieldTestItem t:
                draft.FieldTests.Add(t);
                Say("test");
                break;
            case ByFieldItem f:
                draft.ByFields.Insert(f.Ranked ? 0 : draft.ByFields.Count, (f.Field, f.Ranked ? 0 : draft.Breakdowns.Count));
                (draft.WhoDid, draft.RanksField) = (draft.WhoDid || f.Who, draft.RanksField || f.Ranked);
                Say("breakdown");
                break;
            case PointedItem p:
                draft.Pointed = p;
                Say("filter");
                break;
            case BothYearsItem:
                draft.Edits = draft.BothYears = true;
                Say("base");
                break;
            case InsteadItem i:
                draft.Edits = true;
                draft.Instead = (i.With, i.Of);
                Say("scenario");
                break;
            case AcrossItem a:
                draft.Across = a.Grain;
                Say("period");
                break;
            case BucketsItem b:
                draft.Buckets = b.Bounds;
                Say("test");
                break;
            case ScenariosItem s:
                draft.Scenarios.AddRange(s.Scenarios);
                draft.Compares = draft.ListsScenarios = true;
                Say("base");
                break;
            case BasePeriodItem b:
                draft.BasePeriods.Add(b.Span);
                draft.Compares = true;
                draft.BesideOnly |= b.Beside;
                Say("base");
                break;
            case BreakdownItem b:
                TakeSplit(draft, b);
                Say("breakdown");
                break;
            case RatioToItem r:
                draft.RatioTo = r;
                draft.Edits = true;
                Say("figure");
                break;
            case DifferenceItem d:
                (draft.Statistic, draft.DifferenceClaim) = (RowStatistic.Difference, d.Claims);
                break;
            case GrowingGapItem g:
                (draft.Compares, draft.Cumulative, draft.GapGrows, draft.GapClaim) = (true, true, true, g.Claims);
                Say("cumulative");
                break;
            case RankedByItem r:
                draft.RanksBy = r.Figure;
                draft.Figures.Insert(0, r.Figure);
                Say("figure");
                break;
            case AmountsItem:
                draft.AmountsApart = true;
                draft.Cost -= ApartRebate;
                Say("test");
                break;
            case CountItem:
                draft.Statistic = RowStatistic.Count;
                Say("statistic");
                break;
            case OrderItem o:
                draft.Order = o;
                draft.Compares |= o.By == "gap";
                Say("listing");
                Say("ranking");
                break;
            case ColumnsItem c:
                draft.Cost += draft.Columns.IsEmpty ? 0.0 : 0.3;
                draft.Columns = [.. draft.Columns, .. c.Codes];
                draft.ColumnsBeside |= c.Beside;
                Say("listing");
                break;
            case TextItem t:
                draft.Text = t.Text;
                Say("test");
                break;
            case FilterItem f:
                draft.Cost += f.Guessed ? SharedWord : 0;
                draft.Filters.Add(new Filter(f.Dimension, f.Codes, f.Exclude));
                Say("filter");
                break;
            case ConditionItem c:
                var said = moved ? Direction.Either : draft.Direction;
                draft.Conditions.AddRange(
                    c.SideSaid || said is not { } side ? c.Conditions : c.Conditions.SelectMany(x => OnSide(x, side))
                );
                draft.Unsided |= !c.SideSaid && said is null;
                draft.OverTime |= c.Side is { OverTime: true, PlanWhereWhy: false };
                draft.Moved |= c.Side is { PlanWhereWhy: true };
                draft.Compares |=
                    c.OfGap || c.Conditions.Any(x => x.Direction is Direction.Either or Direction.For or Direction.Against);
                Say("condition");
                break;
            case RankItem { Order: "fastest" or "slowest" } when !draft.OverTime:
                draft.Compares = draft.OverTime = true;
                Take(draft, item, moved);
                break;
            case RankItem r
                when draft.Rank is { Further: false, Order.Length: > 0 } other
                    && r.Order.Length > 0
                    && r.Order != other.Order
                    && (r.Number is not null && other.Number is not null || draft.Figures.Count > 1):
                throw new CannotAnswerException(
                    "A question ranks by one thing. Ask for the one order first and for the other after it, or for both ends of one figure, as in “top 3 and bottom 3”."
                );
            case RankItem r:
                draft.Compares |= r.Compares;
                draft.HowMany |= r.Often;
                draft.Cost += draft.Rank is null || (draft.Rank.Number is null != r.Number is null) ? 0.0 : 1.0;
                draft.Rank = r with
                {
                    Order =
                        r.Order.Length > 0 && !(r.Some && draft.Rank is { Order: "best" or "worst" })
                            ? r.Order
                            : draft.Rank?.Order ?? "largest",
                    Number = r.Number ?? draft.Rank?.Number,
                    Skip = Math.Max(r.Skip, draft.Rank?.Skip ?? 0),
                };
                Say("ranking");
                break;
            case WordItem w:
                TakeWord(draft, w.Mention);
                break;
        }

        void Say(string part) => draft.Sources.Add((part, item.Start, item.End));
    }

    /// <summary>A limit on the side that was said before: "over budget by less than 5k" is over, and by so much at
    /// most.</summary>
    private static IEnumerable<Condition> OnSide(Condition limit, Direction side) =>
        limit.Direction switch
        {
            Direction.Within => side is Direction.Over or Direction.Under or Direction.For or Direction.Against
                ? [new Condition(ConditionOn.Amount, side, Resolver.Cent), limit]
                : [limit],
            Direction.Under =>
            [
                new Condition(ConditionOn.Amount, side, Resolver.Cent),
                limit with
                {
                    Direction = Direction.Within,
                },
            ],
            _ => [limit with { Direction = side }],
        };

    /// <summary>"Top 3 accounts in each entity": what is said as each stands outside, and the ranking within it.</summary>
    private static void TakeSplit(Draft draft, BreakdownItem item)
    {
        var within = item.Each && draft.Rank is not null && draft.Breakdowns.Count > 0;
        draft.RankWithin |= within;
        draft.WhichRows |= item.Which;
        draft.WhichSingle |= item is { Which: true, One: true };
        draft.SplitLed |= item.Led;
        draft.EveryOfAny |=
            (item.Each || item.Of == Quantifier.Every)
            && draft.Quantifier == Quantifier.Any
            && item.Breakdowns is [{ Grain: not null }];
        draft.Quantifier ??= item.Of ?? (item.Each ? Quantifier.Every : null);
        draft.Part ??= item.Part;
        if (item.Doubtful)
            draft.Cost += DoubtfulLevel;
        draft.Breakdowns.InsertRange(within ? 0 : draft.Breakdowns.Count, item.Breakdowns);
    }

    /// <summary>"Mostly" and "down to" claim more than half of it, "only" and "all" the whole.</summary>
    private static void TakeClaimOfPart(Draft draft, string word)
    {
        if (!MentionContext.SaysPart(word))
            return;
        draft.PartOfIt = true;
        draft.PartClaim = word == MentionContext.Cause ? PartClaim.Most : PartClaim.Whole;
    }

    private static void TakeBase(Draft draft, BaseItem item)
    {
        draft.Bases.Add(item.Scenario);
        draft.Direction ??= item.Direction;
        draft.OfCosts |= item.OfCosts;
        draft.Same |= item.Same;
        draft.Compares = true;
        draft.Edits |= item.Adds;
        draft.Adds |= item.Adds;
    }

    private void TakeWord(Draft draft, Mention word)
    {
        switch (word.Kind)
        {
            case MentionKind.Intent:
                var intent = Enum.Parse<Intent>(word.Value.Split(':')[0], true);
                draft.Intent = draft.Intent is { } known && known > intent ? known : intent;
                draft.HowMany |= word.Value == "value:many";
                draft.Journals |= word.Value == "entries:journal";
                draft.TotalOnly |=
                    word.Value == "value:total"
                    && _said.All(m =>
                        m == word
                        || m.Kind is MentionKind.Filler or MentionKind.Place or MentionKind.Edit or MentionKind.And
                        || m is { Kind: MentionKind.Intent, Value: "value" or "value:much" }
                    );
                // Behind columns "amount" is one of them.
                if (word.Value == "value" && !draft.Columns.IsEmpty)
                    draft.Cost += 0.1;
                draft.Compares |= intent is Intent.Variance or Intent.Why or Intent.Bridge;
                Say("intent");
                break;
            // Of no plan, "make" says nothing.
            case MentionKind.Gap when word.Value == GapSense.Attained:
                draft.Cost += 1;
                break;
            // Above, below or missed wants something to be above: a reading that has it is cheaper.
            case MentionKind.Gap:
                draft.Compares = true;
                draft.Cost += word.Value == "within" ? WithinNothing : 0.15;
                draft.Direction ??= GapSense.Of(word).Side;
                draft.OfCosts |= GapSense.Of(word).OfCosts;
                draft.OverTime |= GapSense.Of(word) is { OverTime: true, PlanWhereWhy: false };
                draft.Moved |= GapSense.Of(word).PlanWhereWhy;
                Say("intent");
                break;
            case MentionKind.Compare:
                draft.Compares = true;
                draft.OpenCompare |= word.Value == "compare";
                draft.Same |= word.Value == "same";
                Say("intent");
                break;
            case MentionKind.Share:
                draft.Share = true;
                TakeClaimOfPart(draft, word.Value);
                Say("share");
                break;
            case MentionKind.Growth:
                draft.Compares = draft.Growth = true;
                draft.Change |= word.Value == "change";
                Say("growth");
                break;
            case MentionKind.Shift:
                draft.Intent ??= Intent.Why;
                draft.Compares = draft.Shift = true;
                Say("intent");
                break;
            case MentionKind.Document:
                draft.Document = word.Value;
                draft.Intent = Intent.Entries;
                Say("document");
                break;
            case MentionKind.Comparator when word.Value == "on":
                draft.Cost += 0.15;
                break;
            case MentionKind.Statement when book.Definition.Statement.LastOrDefault() is { } last:
                draft.Statement = true;
                draft.Figures.Add(new FigureRef(FigureKind.Measure, last.Code));
                Say("figure");
                break;
            case MentionKind.Form:
                draft.OtherBasis |= word.Value == "basis";
                draft.View = Enum.TryParse<View>(word.Value, true, out var view) ? view : draft.View;
                draft.Chart |= view is View.Chart or View.Line or View.Bars;
                Say("display");
                break;
            case MentionKind.Numbers:
                var (unit, number) = Pair(word.Value);
                if (unit == "scale")
                    draft.Scale = number;
                if (unit == "decimals" || number == 1)
                    draft.Decimals = unit == "decimals" ? number : 2;
                Say("display");
                break;
            case MentionKind.OnPlan:
                draft.Bases.Add(word.Value);
                draft.Compares = true;
                draft.Direction ??= Direction.For;
                Say("base");
                break;
            case MentionKind.Presence when word.Value is "negative" or "positive":
                draft.Sign = word.Value == "negative" ? -1 : 1;
                Say("condition");
                break;
            case MentionKind.Presence:
                if (word.Value == "unplanned")
                    draft.Bases.Add("budget");
                draft.Conditions.Add(
                    new Condition(word.Value is "new" or "unplanned" ? ConditionOn.New : ConditionOn.Ended, Direction.Either, 0m)
                );
                draft.Compares = true;
                Say("condition");
                break;
            case MentionKind.Currency when draft.Currency is { } other && other != word.Value:
                throw new CannotAnswerException(
                    "Amounts are shown in one currency at a time. Ask for the one, and for the other after it."
                );
            case MentionKind.Currency:
                draft.Currency = word.Value;
                Say("currency");
                break;
            case MentionKind.Rates:
                draft.Rates = word.Value;
                Say("rates");
                break;
            case MentionKind.Quote:
                draft.Text = word.Value;
                Say("test");
                break;
            case MentionKind.Cumulative:
                draft.Cumulative = true;
                Say("cumulative");
                break;
            case MentionKind.Amount or MentionKind.Percent:
                Unplaced(2);
                break;
            case MentionKind.Figure:
                draft.Figures.Add(FigureOf(word));
                if (word.OtherNumber)
                    draft.OtherNumber = word;
                Say("figure");
                break;
            case MentionKind.Codes:
                TakeCodes(draft, word);
                Say("filter");
                break;
            case MentionKind.Member:
                draft.Filters.Add(new Filter(word.Dimension!, [word.Value]));
                Say("filter");
                break;
            case MentionKind.Scenario:
                draft.Scenarios.Add(word.Value);
                draft.Cost +=
                    word.Value.StartsWith("prior", StringComparison.Ordinal)
                    && vocabulary.Find(word.Title).Any(e => e.Kind == MentionKind.Period)
                        ? PriorAlone
                        : 0.0;
                Say("scenario");
                break;
            case MentionKind.Result when word.Value == Scope:
                draft.WholeGroup = true;
                Say("filter");
                break;
            case MentionKind.Result:
                draft.ResultNamed = true;
                Say("figure");
                break;
            case MentionKind.Step:
                draft.Step = int.Parse(word.Value, CultureInfo.InvariantCulture);
                draft.Edits = true;
                Say("period");
                break;
            case MentionKind.Unit:
                draft.Unit = word.Value.Split(':')[0];
                draft.Compares |= word.Value == "percent:variance";
                Say("figure");
                break;
            case MentionKind.Records:
                draft.Records = word.Value;
                Say("records");
                break;
            case MentionKind.Check when word.Value is "owed-to-us" or "owed-by-us":
                draft.Records ??= word.Value == "owed-to-us" ? "receivables" : "payables";
                draft.Checks.Add("open");
                Say("test");
                break;
            case MentionKind.Check:
                draft.Checks.Add(word.Value);
                Say("test");
                break;
            case MentionKind.Value:
                draft.Values.Add(word.Value);
                Say("test");
                break;
            case MentionKind.Days:
                Unplaced(0.3);
                break;
            case MentionKind.Statistic when word.Value == "count":
                draft.HowMany = true;
                break;
            case MentionKind.Statistic:
                draft.Statistic = Enum.Parse<RowStatistic>(word.Value, true);
                Say("statistic");
                break;
            case MentionKind.Projection:
                draft.Compares |= word.Value.EndsWith(":held", StringComparison.Ordinal);
                draft.Projection =
                    Enum.Parse<Projection>(word.Value.Split(':')[0], true) is var p
                    && draft.Projection is { } said
                    && (said == Projection.RunRate || (said > p && p != Projection.RunRate))
                        ? said
                        : p;
                Say("projection");
                break;
            case MentionKind.Edit:
                draft.Edits = true;
                draft.Only |= word.Value == "only";
                draft.OfThese |= word.Value == "these";
                draft.PartOfIt |= word.Value == "part";
                break;
            case MentionKind.Clear:
                draft.Edits = true;
                draft.ClearsFilters |= word.Value == "filters";
                draft.ClearsRows |= word.Value == "rows";
                draft.OneByOne |= word.Value == "groups";
                draft.PutsBack |= word.Value == "left-out";
                draft.ClearsBases |= word.Value == "bases";
                break;
            case MentionKind.Walk when word is { Value: "afresh", Start: 0 }:
                break;
            case MentionKind.Walk:
                Unplaced(1);
                break;
            case MentionKind.Add:
                draft.Edits = draft.Adds = true;
                draft.Cost += 0.15;
                break;
            case MentionKind.Row:
                draft.Row = word.Value;
                Say("filter");
                break;
            case MentionKind.Which:
                draft.Which |= word.Value is not ("where" or "when");
                draft.Where ??= word.Value == "where" ? word : null;
                draft.Who |= word.Value is "who" or "who:one" or "who:itself";
                draft.WhoItself |= word.Value == "who:itself";
                draft.WhichOne |= word.Value is "in:one" or "who:one";
                break;
            case MentionKind.Between:
                draft.Between = true;
                break;
            case MentionKind.Quantifier:
                Unplaced(1);
                break;
            case MentionKind.And:
                draft.Edits |= word.Start == 0;
                draft.Adds |= word is { Start: 0, Value: Plus };
                draft.Cost += word.Start == 0 ? 0.0 : 0.25;
                break;
            case MentionKind.Level:
                Unplaced(0.8);
                break;
            // Held against nothing: what was meant is not known, and is said so.
            case MentionKind.Comparator when draft.EndsOpen:
                draft.Compares = true;
                Say("intent");
                break;
            case MentionKind.Comparator:
                draft.Compares = true;
                Unplaced(0.5);
                break;
            case MentionKind.Margin:
                draft.MarginOf = true;
                Unplaced(0.8);
                break;
            // By what is no level and no field.
            case MentionKind.By when word.Value is "ratio" or "percent":
                Unplaced(1);
                break;
            case MentionKind.By:
                Unplaced(0.6);
                break;
            case MentionKind.Beyond:
                throw new CannotAnswerException(word.Value);
            case MentionKind.Leading:
                Unplaced(0.4);
                break;
            case MentionKind.Trailing:
                Unplaced(0.3);
                break;
            case MentionKind.Finer:
                draft.Finer = word.Value;
                break;
            case MentionKind.Calendar:
                Unplaced(1);
                break;
            // Left out, it would turn the answer round.
            case MentionKind.Exclude
                when word.Value is "exclude" or "drop"
                    && _said.Any(m => m.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Year && m.Start == word.End):
                throw new CannotAnswerException(
                    "Months are not left out of a period here. Name those that are wanted, as in “January, February and April”."
                );
            case MentionKind.Exclude when word.Value == "exclude" && word.Start > 0:
                throw new CannotAnswerException(
                    $"“{word.Title}” leaves something out that is no member, account or limit here. Name what is to be left out, as in “without” and a name."
                );
            case MentionKind.Not:
                throw new CannotAnswerException(
                    $"“{word.Title}” was said of something that cannot be turned round here. Say what is meant without it, such as “below budget” for “not above budget”."
                );
            case MentionKind.Number or MentionKind.Exclude or MentionKind.Rank or MentionKind.Ordinal:
                Unplaced(2);
                break;
            // Said of one thing only it has no use.
            // "Add up the profit month by month".
            case MentionKind.Combined when word.Value == "sum" && _said.Any(m => m.Kind == MentionKind.Grain):
                draft.Cumulative = true;
                Say("cumulative");
                break;
            case MentionKind.Combined:
                draft.Combined =
                    _said.Count(m => m.Kind == MentionKind.Member) > 1 || _said.Count(m => m.Kind == MentionKind.Figure) > 1;
                if (!draft.Combined)
                    Unplaced(2);
                break;
            case MentionKind.Class
            or MentionKind.Contains
            or MentionKind.Overview
            or MentionKind.Outlier
            or MentionKind.Timing
            or MentionKind.Help
            or MentionKind.Order
            or MentionKind.Columns
            or MentionKind.Ahead
            or MentionKind.Multiple
            or MentionKind.Others:
                Unplaced(1);
                break;
            case MentionKind.Field when draft.DayOf == word:
                Say("test");
                break;
            case MentionKind.Field or MentionKind.SameField or MentionKind.Bucket:
                if (word.Kind == MentionKind.Field)
                    draft.Field ??= word;
                // Suppliers that are left out make another question of it.
                Unplaced(word.Value == "party" ? 1 : 0.3);
                break;
            // Columns that are no periods: the page is laid out as ever.
            case MentionKind.Across:
                draft.SideBySide |= word.Value != "down";
                draft.Cost += word.Value == "down" ? 1 : 0.05;
                break;
            default:
                draft.Cost += 0.3;
                break;
        }

        void Say(string part) => draft.Sources.Add((part, word.Start, word.End));

        void Unplaced(double cost)
        {
            draft.Cost += cost;
            draft.Unplaced.AddRange(Enumerable.Range(word.Start, word.Length));
        }
    }

    /// <summary>The figure that a word names.</summary>
    public static FigureRef FigureOf(Mention word) =>
        new(word.Value[0] == 'a' ? FigureKind.Account : FigureKind.Measure, word.Value[2..]);

    private static Breakdown? LevelAt(List<Item> items, int at) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Level } level => Breakdown.By(level.Dimension!, level.Value),
            { Kind: MentionKind.Grain } grain => Breakdown.ByTime(Enum.Parse<TimeGrain>(grain.Value, true)),
            _ => null,
        };

    private (string Dimension, string Code)? MemberAt(List<Item> items, int at) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Member } member => (member.Dimension!, member.Value),
            { Kind: MentionKind.Figure } figure when figure.Value[0] == 'a' => (book.Accounts.Code, figure.Value[2..]),
            _ => null,
        };

    /// <summary>Asked by every rule at every place: not by way of a generic, which would look its type up each time.</summary>
    private static Mention? Word(List<Item> items, int at) =>
        at >= 0 && at < items.Count && items[at] is WordItem word ? word.Mention : null;

    private static T? At<T>(List<Item> items, int at)
        where T : Item => at >= 0 && at < items.Count ? items[at] as T : null;

    private static bool Replace(List<Item> items, int at, int length, Func<int, int, Item> build)
    {
        var whole = build(items[at].Start, items[at + length - 1].End);
        items.RemoveRange(at, length);
        items.Insert(at, whole);
        return true;
    }
}
