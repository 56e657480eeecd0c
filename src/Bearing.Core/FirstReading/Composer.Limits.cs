using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that speak of limits: amounts and percentages that rows have to reach.</summary>
internal sealed partial class Composer
{
    /// <summary>more than 10% · over 20k · 5k against us · less than 2 percent, and again with “and” → condition.</summary>
    private bool Threshold(List<Item> items, int at)
    {
        // "Make it 20k" says no side.
        var made = Word(items, at) is { Kind: MentionKind.Gap, Value: GapSense.Attained };
        var lead = !made && Word(items, at)?.Kind is MentionKind.Gap or MentionKind.Since ? Word(items, at) : null;
        // "Over budget by 10% and 5k": the side was said before.
        var sided =
            made
            || lead is null
                && Word(items, at) is { Kind: MentionKind.By, Value: "by" }
                && (at == 0 || items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Gap }));
        var next = lead is null && !sided ? at : at + 1;
        if (LimitAt(items, next, sided || lead is { Kind: MentionKind.Gap }).Length == 0)
            return false;
        var conditions = ImmutableArray.CreateBuilder<(ConditionOn On, decimal Value)>();
        while (LimitAt(items, next, sided || lead is { Kind: MentionKind.Gap }) is var (on, value, length) && length > 0)
        {
            conditions.Add((on, value));
            next += length;
            // "and 20k", "and at least 10k": the second limit holds as well.
            // "By 5% or 5k": rows have to meet all limits.
            if (
                Word(items, next) is { Kind: MentionKind.And, Value: "or" }
                && LimitAt(items, next + 1, lead is { Kind: MentionKind.Gap }).Length > 0
            )
                throw new CannotAnswerException(
                    "Rows are kept where all limits hold together, not where one of them does. Ask for the one limit first and for the other after it."
                );
            var further =
                Word(items, next)?.Kind is MentionKind.And
                    ? Word(items, next + 1)?.Kind is MentionKind.Gap
                        ? next + 2
                        : next + 1
                    : next;
            if (further == next || LimitAt(items, further, lead is { Kind: MentionKind.Gap }).Length == 0)
                break;
            // "over 100 and under 1,000": a limit on the other side is a condition of its own.
            if (
                lead is { Kind: MentionKind.Gap }
                && further == next + 2
                && DirectionOf(Word(items, next + 1)!) != DirectionOf(lead)
            )
                break;
            next = further;
        }
        // What is said behind decides: "5k against us", "more than 10% over budget", "missed by 3%".
        // "Over budget by 10k but under last year": what follows is the side of another base.
        var said = Word(items, at - 1)?.Kind is MentionKind.By ? at - 2 : at - 1;
        var ofOther =
            (
                At<BaseItem>(items, said) is { Direction: not null }
                || (Word(items, said)?.Kind is MentionKind.Scenario && Word(items, said - 1)?.Kind is MentionKind.Gap)
            )
            && (
                items.ElementAtOrDefault(next + 1) is PeriodItem { IsLastYear: true }
                || Word(items, next + 1)?.Kind is MentionKind.Scenario or MentionKind.Comparator
            );
        var behind = !ofOther && Word(items, next) is { Kind: MentionKind.Gap } gap ? gap : null;
        if (lead is null && behind is null && !sided)
            return false;
        if (sided && behind is null)
            return Replace(items, at, next - at, (s, e) =>
                new ConditionItem(s, e, [.. conditions.Select(c => new Condition(c.On, Direction.Over, c.Value))], false)
            );
        // "More than 50k off" is off on either side, "less than 5% off" within that.
        var direction =
            behind is { Value: "gap" } && lead is not null and not { Value: "gap" }
                ? DirectionOf(lead) switch
                {
                    Direction.Over => Direction.Either,
                    Direction.Under => Direction.Within,
                    var other => other,
                }
                : DirectionOf(behind ?? lead!);
        // "Off by 3k or more": off was said before.
        if (lead is { Value: "gap" } && behind is { Value: "more" })
            direction = Direction.Either;
        // A variance has two sides: one of more than 20k is so on either, unless it was said to be against us.
        // So is "a variance of 3k or more".
        var size = behind ?? lead;
        var either = (behind is null || (lead is null && IsTrailing(behind))) && items.Take(at).Any(IsVariance);
        var leaning = items.Take(at).OfType<WordItem>().Select(w => w.Mention).LastOrDefault(m => GapSense.Of(m).OfProfit);
        if (either)
            direction =
                leaning is not null && DirectionOf(size!) == Direction.Over
                    ? DirectionOf(leaning)
                    : DirectionOf(size!) switch
                    {
                        Direction.Over => Direction.Either,
                        Direction.Under => Direction.Within,
                        var other => other,
                    };
        // "Less than 5k over budget" is over, and by so much at most.
        var upTo =
            lead is { Value: "less" }
            && behind is not null
            && direction is Direction.Over or Direction.Under or Direction.For or Direction.Against;
        // "less than 10%" without a side is a narrow band; "less than" before a base is a shortfall.
        if (behind is not null && Word(items, next + 1)?.Kind is not MentionKind.Scenario)
            next++;
        return Replace(items, at, next - at, (s, e) =>
            new ConditionItem(
                s,
                e,
                [
                    .. conditions.SelectMany(c =>
                        upTo
                            ? OnSide(new Condition(c.On, Direction.Under, c.Value), direction)
                            : [new Condition(c.On, direction, c.Value)]
                    ),
                ],
                either || direction == Direction.Either || (behind ?? lead!).Value is not ("more" or "less" or "within")
            )
            {
                Side = GapSense.Of(behind ?? lead),
                OfGap = lead is { Value: "more" or "less" } && behind is { Value: not ("more" or "less") },
            }
        );
    }

    /// <summary>more than 1.5k out in November, over or under → on either side, said behind.</summary>
    private static bool EitherSide(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Gap, Value: "gap" }
            || items.FindLastIndex(at, i => i is ConditionItem) is not (>= 0 and var limit)
            || Word(items, at + 1)?.Kind is MentionKind.Scenario
        )
            return false;
        var said = (ConditionItem)items[limit];
        items[limit] = said with
        {
            SideSaid = true,
            Conditions =
            [
                .. said.Conditions.Select(c =>
                    c.Direction is Direction.Over or Direction.Under && c.On != ConditionOn.Base
                        ? c with
                        {
                            Direction = c.Direction == Direction.Over ? Direction.Either : Direction.Within,
                        }
                        : c
                ),
            ],
        };
        return Remove(items, at, 1);
    }

    /// <summary>10% or more down on last year → at least 10%, and down.</summary>
    private bool TrailingMore(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Gap, Value: "more" or "less" } more
        && IsTrailing(more)
        && Word(items, at + 1)?.Kind is MentionKind.Gap
        && Word(items, at - 1)?.Kind is MentionKind.Percent or MentionKind.Amount or MentionKind.Number
        && Remove(items, at, 1);

    /// <summary>"Or more", "and above": it stands behind its limit.</summary>
    private bool IsTrailing(Mention word) => vocabulary.Find(word.Title.Split(' ')[0]).Any(e => e.Kind == MentionKind.And);

    /// <summary>make our surplus budget · reach the revenue target → better than the plan.</summary>
    private static bool Attained(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Gap, Value: GapSense.Attained } verb)
            return false;
        var plan = items
            .Skip(at + 1)
            .SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.Figure or MentionKind.Result or MentionKind.Member })
            .FirstOrDefault();
        // "Was the revenue target reached", "the revenue target: did we reach it".
        var said = items.FindLastIndex(Math.Max(0, at - 1), i =>
            i is not (PeriodItem or WordItem { Mention.Kind: MentionKind.Result })
        );
        if (
            plan is null or PeriodItem
            && said >= 0
            && said < at
            && Word(items, said) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } before
            && !items.Exists(i => i is BaseItem || i is WordItem { Mention.Kind: MentionKind.Comparator })
        )
            return Replace(items, said, 1, (s, e) => new BaseItem(s, e, before.Value) { Direction = Direction.For })
                && Remove(items, at, 1);
        return plan is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } }
            && Replace(items, at, 1, (s, e) => new WordItem(verb with { Value = "good" }));
    }

    /// <summary>ignore anything with a budget below 50k → only rows whose base is at least so large.</summary>
    private bool BaseThreshold(List<Item> items, int at)
    {
        // "Over budget by 5%, budget at least 20k": said a second time, or with "with", it is how large it is.
        if (
            Word(items, at) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } plan
            && Word(items, at - 1)?.Kind
                is not (MentionKind.Comparator or MentionKind.Gap or MentionKind.To or MentionKind.Compare or MentionKind.Exclude)
            && Word(items, at + 1) is { Kind: MentionKind.Gap } side
            && LimitAt(items, at + 2, true) is (ConditionOn.Amount, var size, var words)
            && (
                items
                    .Take(at)
                    .Any(i =>
                        i is BaseItem || i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } }
                    )
                || (
                    IsWith(plan)
                    && items.Skip(at + 2 + words).Any(i => i is BaseItem || i is WordItem { Mention.Kind: MentionKind.Scenario })
                )
            )
        )
            return Replace(items, at, 2 + words, (s, e) =>
                new ConditionItem(
                    s,
                    e,
                    [
                        new Condition(
                            ConditionOn.Base,
                            DirectionOf(side) is Direction.Over ? Direction.Over : Direction.Under,
                            size
                        ),
                    ],
                    true
                )
            );
        // "… and have at least 50k budget", of what is held against it already.
        if (
            Word(items, at) is { Kind: MentionKind.Gap } least
            && GapSense.Of(least).Side is Direction.Over or Direction.Under
            && LimitAt(items, at + 1, true) is (ConditionOn.Amount, var sizeOf, > 0 and var its)
            && Word(items, at + 1 + its) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode }
            && items
                .Take(at)
                .Any(i =>
                    i is BaseItem or ConditionItem
                    || i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } }
                )
        )
            return Replace(items, at, 2 + its, (s, e) =>
                new ConditionItem(
                    s,
                    e,
                    [
                        new Condition(
                            ConditionOn.Base,
                            DirectionOf(least) is Direction.Over ? Direction.Over : Direction.Under,
                            sizeOf
                        ),
                    ],
                    true
                )
            );
        // "Ignore those with less than 30k budget".
        if (
            Word(items, at)?.Kind is MentionKind.Exclude
            && Word(items, at + 1) is { Kind: MentionKind.Gap } small
            && LimitAt(items, at + 2, true) is (ConditionOn.Amount, var floor, > 0 and var said)
            && Word(items, at + 2 + said) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode }
        )
            return Replace(items, at, 3 + said, (s, e) =>
                new ConditionItem(
                    s,
                    e,
                    [
                        new Condition(
                            ConditionOn.Base,
                            DirectionOf(small) is Direction.Over ? Direction.Under : Direction.Over,
                            floor
                        ),
                    ],
                    true
                )
            );
        if (
            Word(items, at)?.Kind is not MentionKind.Exclude
            || Word(items, at + 1) is not { Kind: MentionKind.Scenario }
            || Word(items, at + 2) is not { Kind: MentionKind.Gap } gap
            || LimitAt(items, at + 3, true) is not (ConditionOn.Amount, var limit, var length)
        )
            return false;
        var direction = DirectionOf(gap) is Direction.Over ? Direction.Under : Direction.Over;
        return Replace(items, at, 3 + length, (s, e) =>
            new ConditionItem(s, e, [new Condition(ConditionOn.Base, direction, limit)], true)
        );
    }

    /// <summary>within 1% of budget, budgets of 40k and more → the plan said again beside an amount is how large it is.</summary>
    private static bool BaseLimit(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode }
        && At<ConditionItem>(items, at + 1)
            is { Conditions: [{ On: ConditionOn.Amount, Direction: Direction.Over or Direction.Under } limit] }
        && items
            .Take(at)
            .Any(i => i is BaseItem || i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } })
        && items.Take(at).Any(i => i is ConditionItem)
        && Replace(items, at, 2, (s, e) => new ConditionItem(s, e, [limit with { On = ConditionOn.Base }], true));

    /// <summary>"With a budget of more than …".</summary>
    private bool IsWith(Mention plan) =>
        _said.Any(m =>
            m is { Kind: MentionKind.Place, Value: "with" }
            && m.Start < plan.Start
            && !_said.Any(o => o.Start >= m.End && o.End <= plan.Start && o.Kind != MentionKind.Filler)
        );

    /// <summary>doubled · halved → by so much against what is compared with; last year unless something else is said.</summary>
    private static bool Multiple(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Multiple } word)
            return false;
        var percent = decimal.Parse(word.Value, CultureInfo.InvariantCulture);
        // "Twice the budget".
        if (Word(items, at + 1) is { Kind: MentionKind.Scenario } of)
            items[at + 1] = new BaseItem(of.Start, of.End, of.Value);
        if (!items.Exists(i => i is BaseItem or BasePeriodItem || i is WordItem { Mention.Kind: MentionKind.Scenario }))
            items.Add(new BaseItem(word.Start, word.End, "prior-year"));
        return Replace(items, at, 1, (s, e) =>
            new ConditionItem(
                s,
                e,
                [new Condition(ConditionOn.Percent, percent > 0 ? Direction.Over : Direction.Under, Math.Abs(percent))],
                true
            )
        );
    }

    /// <summary>between 5,000 and 10,000 · between 10 and 20% over budget → at least the one and at most the other, on the side
    /// that is said.</summary>
    private bool BetweenAmounts(List<Item> items, int at)
    {
        // "Over budget by 5k to 50k".
        var led = Word(items, at)?.Kind is MentionKind.Between;
        if (
            !(led || Word(items, at) is { Kind: MentionKind.By, Value: "by" })
            || LimitAt(items, at + 1, true) is not (var on, var low, var first and > 0)
        )
            return false;
        var and = at + 1 + first;
        if (
            !(Word(items, and)?.Kind is MentionKind.To || (led && Word(items, and)?.Kind is MentionKind.And))
            || LimitAt(items, and + 1, true) is not (var other, var high, var second and > 0)
        )
            return false;
        // "Between 5 and 10%": the sign is said once.
        if (other == ConditionOn.Percent)
            on = other;
        // "Between 10 and 12k": the thousands are said once.
        if (
            on == other
            && Word(items, at + 1)?.Kind is MentionKind.Number
            && Word(items, and + 1) is { Kind: MentionKind.Amount } scaled
            && decimal.TryParse(
                new string([.. scaled.Title.TakeWhile(c => char.IsDigit(c) || c == '.')]),
                NumberStyles.Number,
                CultureInfo.InvariantCulture,
                out var digits
            )
            && digits > 0m
            && low * (high / digits) <= high
        )
            low *= high / digits;
        if (on != other || low > high)
            return false;
        var end = and + 1 + second;
        var behind = Word(items, end) is { Kind: MentionKind.Gap } gap ? gap : null;
        var ahead = behind is null && Word(items, at - 1) is { Kind: MentionKind.Gap } before ? before : null;
        var direction =
            (behind ?? ahead) is { } side ? DirectionOf(side)
            : items.Take(at).Any(IsVariance) ? Direction.Either
            : Direction.Over;
        // A side before a scenario is that of the base as well.
        if (behind is not null && Word(items, end + 1)?.Kind is not MentionKind.Scenario)
            end++;
        var start = ahead is null ? at : at - 1;
        return Replace(items, start, end - start, (s, e) =>
            new ConditionItem(
                s,
                e,
                [new Condition(on, direction, low), new Condition(on, Direction.Within, high)],
                direction != Direction.Over || (behind ?? ahead) is not null
            )
        );
    }

    /// <summary>more than 110% of budget → more than 10% over it; within 2k of budget → no farther from it.</summary>
    /// <exception cref="CannotAnswerException">Of “more than 80% of budget”: rows are kept by how far they are over or
    /// under.</exception>
    private bool PercentOfPlan(List<Item> items, int at)
    {
        // "Within 2k of budget".
        if (
            Word(items, at) is { Kind: MentionKind.Gap } near
            && DirectionOf(near) == Direction.Within
            && LimitAt(items, at + 1, true) is (ConditionOn.Amount, var apartBy, var words and > 0)
            && Word(items, at + 1 + words) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } held
        )
        {
            items[at + 1 + words] = new BaseItem(held.Start, held.End, held.Value);
            return Replace(items, at, 1 + words, (s, e) =>
                new ConditionItem(s, e, [new Condition(ConditionOn.Amount, Direction.Within, apartBy)], true)
            );
        }
        if (
            Word(items, at) is not { Kind: MentionKind.Gap } lead
            || LimitAt(items, at + 1, true) is not (ConditionOn.Percent, var percent, var length and > 0)
            || Word(items, at + 1 + length) is not { Kind: MentionKind.Scenario, Value: not Book.ActualCode } plan
        )
            return false;
        if (
            Word(items, at - 1)?.Kind is MentionKind.By or MentionKind.Gap
            || DirectionOf(lead) is not (Direction.Over or Direction.Under)
            || !_said.Any(m =>
                m is { Kind: MentionKind.Place, Value: "of" } && m.Start == items[at + length].End && m.End <= plan.Start
            )
        )
            return false;
        var side = DirectionOf(lead);
        var apart = side == Direction.Over ? percent - 100m : 100m - percent;
        if (apart < 0m)
            throw new CannotAnswerException(
                $"Rows are kept by how far they are over or under {plan.Title}, not by how much of it there is so far. Ask for what is used of it, or for a limit of the variance, as in “more than 5% over {plan.Title}”.",
                $"how much of the {plan.Title} is used"
            );
        items[at + 1 + length] = new BaseItem(plan.Start, plan.End, plan.Value);
        return Replace(items, at, 1 + length, (s, e) =>
            new ConditionItem(
                s,
                e,
                [
                    apart == 0m
                        ? new Condition(ConditionOn.Amount, side, Resolver.Cent)
                        : new Condition(ConditionOn.Percent, side, apart),
                ],
                true
            )
        );
    }

    /// <param name="led">Behind over, under or the like a small number is an amount as well, unless it counts something.</param>
    private (ConditionOn On, decimal Value, int Length) LimitAt(List<Item> items, int at, bool led) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Percent, Value: not "percent" } p => (
                ConditionOn.Percent,
                decimal.Parse(p.Value, CultureInfo.InvariantCulture),
                1
            ),
            // "Better than 2025" is no limit of two thousand.
            { Kind: MentionKind.Amount } a when IsYear(a) => default,
            { Kind: MentionKind.Amount } a => (ConditionOn.Amount, decimal.Parse(a.Value, CultureInfo.InvariantCulture), 1),
            { Kind: MentionKind.Number } n when Word(items, at + 1) is { Kind: MentionKind.Percent } => (
                ConditionOn.Percent,
                decimal.Parse(n.Value, CultureInfo.InvariantCulture),
                2
            ),
            { Kind: MentionKind.Number } n
                when led
                    && Word(items, at + 1)?.Kind
                        is not (
                            MentionKind.Level
                            or MentionKind.Grain
                            or MentionKind.Days
                            or MentionKind.Rank
                            or MentionKind.Figure
                            or MentionKind.Member
                            or MentionKind.Field
                        )
                    && !(IsVariance(items.ElementAtOrDefault(at + 1)) && items[at + 1].Start == items[at].End) => (
                ConditionOn.Amount,
                decimal.Parse(n.Value, CultureInfo.InvariantCulture),
                1
            ),
            _ => default,
        };

    private bool IsYear(Mention amount) =>
        amount.Title.Length == 4
        && int.TryParse(amount.Title, NumberStyles.None, CultureInfo.InvariantCulture, out var year)
        && (book.ActualSpan is { } all && year >= all.From.Year && year <= all.To.Year + 1);

    /// <summary>suppliers with more than 10 open invoices → a limit of how many there are, not of what they come to; shops with
    /// fewer than 10 heads → one of the heads.</summary>
    private bool LimitOfCount(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Gap } lead
            || Word(items, at + 1) is not { Kind: MentionKind.Number } number
        )
            return false;
        if (
            Word(items, at + 2) is { Kind: MentionKind.Figure } of
            && of.Start == number.End
            && book.Figure(FigureOf(of)) is SumFigure { IsProfit: false }
            && DirectionOf(lead) is (Direction.Over or Direction.Under) and var than
        )
            return Replace(items, at, 2, (s, e) =>
                new ConditionItem(
                    s,
                    e,
                    [new Condition(ConditionOn.Amount, than, int.Parse(number.Value, CultureInfo.InvariantCulture))],
                    true
                )
            );
        var counted = items
            .Skip(at + 2)
            .SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.Check or MentionKind.Value })
            .FirstOrDefault();
        if (counted is null || !IsList(counted) || DirectionOf(lead) is not ({ } side and (Direction.Over or Direction.Under)))
            return false;
        // More than ten are eleven at least, "at least ten" are ten.
        var beyond =
            vocabulary.Inclusive.Contains(lead.Title) ? 0
            : side == Direction.Over ? 1
            : -1;
        return Replace(items, at, 2, (s, e) =>
            new ConditionItem(
                s,
                e,
                [new Condition(ConditionOn.Count, side, int.Parse(number.Value, CultureInfo.InvariantCulture) + beyond)],
                true
            )
        );
    }

    /// <summary>over budget by 10k but under last year → a side, and limits, of each of the bases.</summary>
    private static void OwnLimits(Draft draft, List<Item> items)
    {
        var bases = Enumerable.Range(0, items.Count).Where(i => items[i] is BaseItem).ToList();
        if (bases.Count < 2)
            return;
        var owned = bases.ToDictionary(b => b, _ => new List<ConditionItem>());
        for (var i = 0; i < items.Count; i++)
            if (items[i] is ConditionItem limit)
                // What stands right before a base is its own, unless it stands right behind another.
                if (
                    (
                        At<BaseItem>(items, i - 1) is not null ? i - 1
                        : At<BaseItem>(items, i + 1) is not null ? i + 1
                        : -1
                    )
                    is >= 0
                        and var owner
                )
                    owned[owner].Add(limit);
        // "More than last year": the side was said before what compares.
        var own = bases
            .Select(b =>
                (
                    Base: (BaseItem)items[b] is { Direction: null } open && Word(items, b - 1) is { Kind: MentionKind.Gap } side
                        ? open with
                        {
                            Direction = DirectionOf(side),
                        }
                        : (BaseItem)items[b],
                    Limits: owned[b]
                )
            )
            .ToList();
        if (own.Exists(o => o.Base.Direction is null && o.Limits.Count == 0))
            return;
        draft.OwnLimits.AddRange(
            own.Select(o =>
                (
                    o.Base.Scenario,
                    o.Base.Direction,
                    o.Limits.SelectMany(l =>
                            l.SideSaid || o.Base.Direction is not { } side
                                ? l.Conditions
                                : l.Conditions.SelectMany(c => OnSide(c, side))
                        )
                        .ToImmutableArray()
                )
            )
        );
    }
}
