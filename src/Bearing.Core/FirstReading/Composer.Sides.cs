using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Rules of what is shown and what it is held against: actuals, plans and other years.</summary>
internal sealed partial class Composer
{
    /// <summary>which accounts have no budget · budget but no actuals → what is only there on the other side.</summary>
    private static bool WithoutPlan(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Exclude } lead
            || Word(items, at + 1) is not { Kind: MentionKind.Scenario } scenario
            || Word(items, at + 2)?.Kind is MentionKind.Gap
            || !(
                items
                    .Take(at)
                    .Any(i => i is BreakdownItem || i is WordItem { Mention.Kind: MentionKind.Which or MentionKind.Level })
                || Word(items, at - 1)?.Kind is MentionKind.Figure
            )
        )
            return false;
        items[at] = new WordItem(
            lead with
            {
                Kind = MentionKind.Presence,
                Value = scenario.Value == Book.ActualCode ? "ended" : "new",
            }
        );
        if (scenario.Value != Book.ActualCode)
            items[at + 1] = new BaseItem(scenario.Start, scenario.End, scenario.Value);
        return true;
    }

    /// <summary>forecast instead of actual → the one side in the place of the other; of anything else the first is meant, and
    /// takes the place by itself.</summary>
    private static bool InsteadOf(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Edit, Value: "instead" } || Word(items, at - 1) is not { } with)
            return false;
        // "By account rather than by region".
        var other = Word(items, at + 1)?.Kind is MentionKind.By ? at + 2 : at + 1;
        if (Word(items, other) is not { } of)
            return false;
        // "Compare with last year instead of budget".
        if (of.Kind == MentionKind.Scenario && with is { Kind: MentionKind.Period, Value: "year:-1" })
            with = with with { Kind = MentionKind.Scenario, Value = "prior-year" };
        if (with.Kind != of.Kind)
            return false;
        if (with.Kind == MentionKind.Scenario && Word(items, at - 2)?.Kind is MentionKind.Comparator)
            return Remove(items, at - 2, 1);
        return with.Kind == MentionKind.Scenario
            ? Replace(items, at - 1, other - at + 2, (s, e) => new InsteadItem(s, e, with.Value, of.Value))
            : Remove(items, at + 1, other - at);
    }

    /// <summary>against both budgets · both budgets → each of the two that the book has.</summary>
    private bool BothPlans(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Quantifier, Value: Both }
            || Word(items, at + 1) is not { Kind: MentionKind.Scenario } plans
            || book
                .Definition.Scenarios.Where(s =>
                    s.Kind is not ScenarioKind.Actual && s.Kind.ToString().Equals(plans.Value, StringComparison.OrdinalIgnoreCase)
                )
                .ToList()
                is not [var one, var other]
        )
            return false;
        // "Both budgets for December" are what is asked for; "against both budgets" holds something against them.
        if (Word(items, at - 1)?.Kind is not (MentionKind.Comparator or MentionKind.Add or MentionKind.Gap))
            return Replace(items, at, 2, (s, e) => new ScenariosItem(s, e, [one.Code, other.Code]));
        items[at + 1] = new BaseItem(plans.Start, plans.End, other.Code);
        items[at] = new BaseItem(plans.Start, plans.End, one.Code);
        return Word(items, at - 1)?.Kind is not MentionKind.Comparator || Remove(items, at - 1, 1);
    }

    /// <summary>without the budget, with nothing else said → that side goes.</summary>
    private static bool WithoutSide(List<Item> items, int at) =>
        items.Count == 2
        && Word(items, at)?.Kind is MentionKind.Exclude
        && Word(items, at + 1) is { Kind: MentionKind.Scenario } side
        && Replace(items, at, 2, (s, e) => new InsteadItem(s, e, "", side.Value));

    private static Direction DirectionOf(Mention gap) => GapSense.Of(gap).Side;

    /// <summary>from budget to actual → base and subject.</summary>
    private bool ScenarioToScenario(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Scenario } from
            && Word(items, at + 1)?.Kind is MentionKind.To
            && Word(items, at + 2)?.Kind is MentionKind.Scenario
            && Replace(items, at, 2, (s, e) => new BaseItem(s, e, from.Value))
        // "Forecast minus actual": the first, held against the second.
        || Word(items, at)?.Kind is MentionKind.Scenario
            && Word(items, at + 1) is { Kind: MentionKind.Exclude, Value: "less" }
            && Word(items, at + 2) is { Kind: MentionKind.Scenario } less
            && Replace(items, at + 1, 2, (s, e) => new BaseItem(s, e, less.Value));

    /// <summary>than last year's actual · versus actual last year → last year, of which nothing else is kept.</summary>
    private static bool ActualOfLastYear(List<Item> items, int at)
    {
        if (Word(items, at)?.Kind is not (MentionKind.Comparator or MentionKind.Gap))
            return false;
        bool IsActual(int index) => Word(items, index) is { Kind: MentionKind.Scenario, Value: Book.ActualCode };
        bool IsLastYear(int index) =>
            Word(items, index) is { Kind: MentionKind.Scenario, Value: "prior-year" }
            || At<PeriodItem>(items, index) is { IsLastYear: true };
        return IsActual(at + 1) && IsLastYear(at + 2)
            ? Remove(items, at + 1, 1)
            : IsLastYear(at + 1) && IsActual(at + 2) && Remove(items, at + 2, 1);
    }

    /// <summary>actuals to November plus forecast → the outlook that the two make together.</summary>
    private bool ActualPlusForecast(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Scenario, Value: Book.ActualCode } actual)
            return false;
        var ahead = items.FindIndex(at + 1, i =>
            i is WordItem { Mention: { Kind: MentionKind.Projection, Value: "outlook" } or { Kind: MentionKind.Scenario } } w
            && (
                w.Mention.Kind == MentionKind.Projection
                || w.Mention.Value == "forecast"
                || book.Scenario(w.Mention.Value.Split(':')[0])?.Kind == ScenarioKind.Forecast
            )
        );
        if (ahead < 0)
            return false;
        var between = items.Skip(at + 1).Take(ahead - at - 1).ToList();
        if (
            between.Exists(i =>
                i is not PeriodItem
                && i
                    is not WordItem
                    {
                        Mention.Kind: MentionKind.To
                            or MentionKind.Month
                            or MentionKind.Year
                            or MentionKind.Period
                            or MentionKind.And
                            or MentionKind.Then
                    }
            ) || (between.Count == 0 && Word(items, ahead)!.Kind == MentionKind.Projection)
        )
            return false;
        // "Actual to October, then forecast", where the year is spoken of, is the same without a plus.
        var upTo = between.Exists(i => _said.Any(m => m.Kind == MentionKind.To && m.Start == i.Start));
        var ofYear = items.Exists(i =>
            i is PeriodItem { Span.Count: 12 } or WordItem { Mention: { Kind: MentionKind.Projection, Value: "outlook" } }
        );
        if (
            between.LastOrDefault() is not WordItem { Mention: { Kind: MentionKind.And, Value: Plus } }
            && Word(items, ahead)!.Kind != MentionKind.Projection
            && !(upTo && ofYear)
        )
            return false;
        // "… plus forecast for the last quarter", which is what is left of it; "… to March", where the year ends then; "… for the
        // rest", "… from November".
        var end =
            Word(items, ahead + 1)?.Kind is MentionKind.To && At<PeriodItem>(items, ahead + 2)?.Span.To.Number == 12 ? ahead + 3
            : At<PeriodItem>(items, ahead + 1) is { } rest && (rest.Span.From > _now || rest.Span.Count == 12 - _now.Number)
            || Word(items, ahead + 1)?.Kind is MentionKind.Others
                ? ahead + 2
            : ahead + 1;
        return Replace(items, at, end - at, (s, e) =>
            new WordItem(actual with { Kind = MentionKind.Projection, Value = "outlook", Start = s, Length = e - s })
        );
    }

    /// <summary>actual, budget and prior year → a comparison of all of them.</summary>
    private bool SeveralScenarios(List<Item> items, int at)
    {
        var first = At<ScenariosItem>(items, at)?.Scenarios
            ?? (Word(items, at) is { Kind: MentionKind.Scenario } s ? [s.Value] : ImmutableArray<string>.Empty);
        // "Actual, budget, variance and last year": the variance of them is shown anyway.
        if (
            !first.IsEmpty
            && items.Skip(at + 1).SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.And }).FirstOrDefault() is { } between
            && IsVariance(between)
            && Word(items, items.IndexOf(between) + 1)?.Kind is MentionKind.And
            && Word(items, items.IndexOf(between) + 2)?.Kind is MentionKind.Scenario
        )
            items.Remove(between);
        while (!first.IsEmpty && Word(items, at + 1)?.Kind is MentionKind.And && Word(items, at + 2)?.Kind is MentionKind.And)
            items.RemoveAt(at + 1);
        var skip = Word(items, at + 1)?.Kind is MentionKind.And ? at + 2 : at + 1;
        return !first.IsEmpty
            && Word(items, skip) is { Kind: MentionKind.Scenario } next
            && (skip > at + 1 || IsComma(items[at].End, next.Start))
            && Replace(items, at, skip - at + 1, (start, end) => new ScenariosItem(start, end, first.Add(next.Value)));
    }

    /// <summary>versus budget · over plan · than last year · add last year → base.</summary>
    /// <summary>growth of the gap · is the gap to budget growing → how it adds up from month to month.</summary>
    private bool GrowingGap(List<Item> items, int at)
    {
        if (Word(items, at) is { Kind: MentionKind.Growth } growth && IsVariance(items.ElementAtOrDefault(at + 1)))
        {
            items[at] = new GrowingGapItem(growth.Start, growth.End, null);
            return true;
        }
        if (
            Word(items, at) is not { Kind: MentionKind.Gap } moves
            || GapSense.Of(moves) is not { OverTime: true, Side: Direction.Over or Direction.Under } sense
            || items.Exists(i =>
                i
                    is RankItem
                        or BreakdownItem
                        or WordItem
                        {
                            Mention.Kind: MentionKind.Amount or MentionKind.Percent or MentionKind.Which or MentionKind.Rank
                        }
            )
        )
            return false;
        // "Is the shortfall growing".
        var noun = items.FindIndex(i =>
            i is WordItem { Mention: { Kind: MentionKind.Gap } word }
            && word != moves
            && vocabulary.GapNouns.Contains(Words.Phrase(word.Title))
        );
        if (noun < 0 && !items.Exists(IsVariance))
            return false;
        if (noun >= 0)
            items[noun] = new WordItem(Word(items, noun)! with { Kind = MentionKind.Intent, Value = "variance" });
        items[at] = new GrowingGapItem(moves.Start, moves.End, sense.Side);
        return true;
    }

    /// <summary>forecast to overspend → the forecast, held against what was budgeted; no plan else is named.</summary>
    private bool ForecastTo(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Scenario }
            || Word(items, at + 1)?.Kind is not MentionKind.To
            || Word(items, at + 2) is not { Kind: MentionKind.Gap } gap
            || GapSense.Of(gap).OverTime
            || items.Count(i => i is BaseItem or WordItem { Mention.Kind: MentionKind.Scenario or MentionKind.OnPlan }) > 1
        )
            return false;
        items[at + 1] = new BaseItem(items[at + 1].Start, items[at + 1].End, "budget");
        return true;
    }

    private bool ScenarioAsBase(List<Item> items, int at)
    {
        // "Compared to what we planned".
        if (
            Word(items, at)?.Kind is MentionKind.Comparator
            && Word(items, at + 1)?.Kind is MentionKind.Result
            && Word(items, at + 2)?.Kind is MentionKind.Scenario
        )
            items.RemoveAt(at + 1);
        if (
            Word(items, at)
                is not { Kind: MentionKind.Comparator or MentionKind.Gap or MentionKind.Add or MentionKind.Compare } lead
            || Word(items, at + 1) is not { Kind: MentionKind.Scenario } scenario
        )
            return false;
        // "How much worse is the forecast than the budget": the one is held against the other.
        if (
            lead.Kind == MentionKind.Gap
            && items.FindIndex(at + 2, i => i is WordItem { Mention: { Kind: MentionKind.Comparator, Value: "than" } })
                is > 0
                    and var than
            && Word(items, than + 1)?.Kind is MentionKind.Scenario
        )
            return false;
        // "Compare forecast and budget", "forecast with budget" hold the two against each other, "compare with" against what was
        // shown.
        if (
            lead is { Kind: MentionKind.Compare, Value: "compare" }
            && items
                .Skip(at + 2)
                .Any(i => i is BaseItem or WordItem { Mention.Kind: MentionKind.Scenario } or PeriodItem { IsLastYear: true })
            && !_said.Any(m => m.Kind == MentionKind.Place && m.Start >= lead.End && m.End <= scenario.Start)
        )
            return false;
        return Replace(items, at, 2, (s, e) => new BaseItem(s, e, scenario.Value, lead.Kind == MentionKind.Add)
            {
                Direction = lead.Kind == MentionKind.Gap ? DirectionOf(lead) : null,
                OfCosts = GapSense.Of(lead).OfCosts,
                Apart = lead.Value == "apart",
                Same = lead is { Kind: MentionKind.Compare, Value: "same" },
            });
    }

    /// <summary>by month with budget · as a chart with last year · budget too → what stands beside.</summary>
    private bool WithScenario(List<Item> items, int at)
    {
        var scenario =
            Word(items, at) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } said
            && Word(items, at + 1)?.Kind is not (MentionKind.And or MentionKind.To or MentionKind.Gap)
                ? said.Value
            : At<PeriodItem>(items, at) is { IsLastYear: true } ? "prior-year"
            : null;
        // "Fuel by vessel with last month": this month beside it.
        if (
            At<PeriodItem>(items, at) is { } before
            && items.OfType<PeriodItem>().Count() == 1
            && IsLed(before, "with")
            && !items.Exists(i =>
                i is BaseItem or WordItem { Mention.Kind: MentionKind.Records or MentionKind.Check or MentionKind.Scenario }
            )
            && _said.FirstOrDefault(m =>
                m is { Kind: MentionKind.Period, Value: "month:-1" or "last:1" or "quarter:-1" } && m.Start == before.Start
            )
                is { } last
        )
            return Replace(items, at, 1, (s, e) =>
                new BaseItem(s, e, last.Value is "month:-1" or "last:1" ? "prior-period" : "prior-quarter")
            );
        // "October, last year too".
        if (
            scenario is not null
            && (At<PeriodItem>(items, at) is null || items.Exists(i => i is PeriodItem { IsLastYear: false }))
            && Word(items, at + 1) is { Kind: MentionKind.Add }
        )
            return Replace(items, at, 2, (s, e) =>
                new BaseItem(
                    s,
                    e,
                    scenario,
                    !items.Exists(i => i is PeriodItem or WordItem { Mention.Kind: MentionKind.Figure or MentionKind.Result })
                )
            );
        return scenario is not null && IsWith(items[at].Start) && Replace(items, at, 1, (s, e) => new BaseItem(s, e, scenario));
    }

    /// <summary>compare fuel with budget and last year → with either of them, and not the one with the other.</summary>
    private bool ComparedWithBoth(List<Item> items, int at)
    {
        if (At<ScenariosItem>(items, at) is not { Scenarios: var several } named || !IsWith(named.Start))
            return false;
        if (
            !items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
            || items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } })
        )
            return false;
        items.RemoveAt(at);
        items.InsertRange(at, several.Select(s => new BaseItem(named.Start, named.End, s)));
        return true;
    }

    /// <summary>Right behind "with", and small words.</summary>
    private bool IsWith(int start) =>
        _said.LastOrDefault(m => m.End <= start && m.Kind != MentionKind.Filler) is { Kind: MentionKind.Place, Value: "with" };

    /// <summary>how much of the fuel budget was spent · how much of the forecast is actual already → the part of the plan that is
    /// used, and no share of costs.</summary>
    private bool SpentOfPlan(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Share
            || items.FindIndex(at, i =>
                i
                    is WordItem
                    {
                        Mention: { Kind: MentionKind.Scenario, Value: not (Book.ActualCode or "prior-year" or "prior-period") }
                    }
            )
                is not (>= 0 and var plan)
        )
            return false;
        // The mix of the forecast versus actual is none: "actual" says what has come only where it is asked how much of a plan
        // has.
        var come =
            Word(items, at) is { Value: "of-whole" }
            && items
                .Skip(plan)
                .All(i => i is not WordItem { Mention.Kind: MentionKind.Comparator or MentionKind.And or MentionKind.To });
        if (
            items.FindIndex(plan, i =>
                i is WordItem { Mention: { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts } }
                || (come && i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: Book.ActualCode } })
            )
            is not (>= 0 and var spent)
        )
            return false;
        var said = Word(items, spent)!;
        items[spent] = new WordItem(said with { Kind = MentionKind.Projection, Value = "used" });
        // "Was spent by June" is until June.
        if (vocabulary.Find(said.Title.Split(' ')[^1]).Any(e => e is { Kind: MentionKind.By, Value: "by" }))
            items.Insert(
                spent + 1,
                new WordItem(said with { Kind = MentionKind.By, Value = "by", Start = said.End, Length = 0 })
            );
        items.RemoveAt(at);
        return true;
    }

    /// <summary>base and scenario · against budget, forecast and last year → so many bases.</summary>
    private bool FurtherBase(List<Item> items, int at) =>
        At<BaseItem>(items, at) is not null
            && Word(items, at + 1) is { Kind: MentionKind.Scenario } listed
            && IsComma(items[at].End, listed.Start)
            && items.Skip(at + 2).SkipWhile(i => i is WordItem { Mention.Kind: MentionKind.Scenario }).FirstOrDefault()
                is WordItem { Mention.Kind: MentionKind.And }
            && Replace(items, at + 1, 1, (s, e) => new BaseItem(s, e, listed.Value))
        || At<BaseItem>(items, at) is not null
            && Word(items, at + 1)?.Kind is MentionKind.And
            && Word(items, at + 2) is { Kind: MentionKind.Scenario } scenario
            && Replace(items, at + 1, 2, (s, e) => new BaseItem(s, e, scenario.Value));

    /// <summary>marketing, what we planned and what we spent · what did we plan for marketing and what did we spend → against the
    /// plan.</summary>
    private bool PlanAndSpent(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Scenario, Value: not Book.ActualCode } plan)
            return false;
        var of = Word(items, at + 1)?.Kind is MentionKind.Figure ? at + 2 : at + 1;
        if (Word(items, of)?.Kind is not (MentionKind.And or MentionKind.Comparator))
            return false;
        var we = Word(items, of + 1)?.Kind is MentionKind.Result;
        var spent = we ? of + 2 : of + 1;
        // "Revenue, budget and costs" is a list.
        if (!we && Word(items, of)?.Kind is not MentionKind.Comparator)
            return false;
        if (
            Word(items, spent) is not { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts }
            || !items.Exists(i =>
                i is WordItem { Mention: { Kind: MentionKind.Figure, Value: not ("m:" + Book.AllCosts) } figure }
                && book.Figure(FigureOf(figure)) is SumFigure { ShownSign: < 0 }
            )
        )
            return false;
        items.RemoveRange(of, spent + 1 - of);
        items[at] = new BaseItem(plan.Start, plan.End, plan.Value);
        return true;
    }

    /// <summary>revenue to budget → against it.</summary>
    private static bool ToSide(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.To, Value: "to" } to
            || at == 0
            || Word(items, at + 1) is not { Kind: MentionKind.Scenario, Value: not Book.ActualCode }
            || Word(items, at - 1)?.Kind is MentionKind.Scenario
        )
            return false;
        items[at] = new WordItem(to with { Kind = MentionKind.Comparator, Value = "versus" });
        return true;
    }

    /// <summary>budget comparison → against it; put the budget beside it → beside what was shown.</summary>
    private static bool ComparedBehind(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } added
            && Word(items, at + 1) is { Kind: MentionKind.Comparator, Value: "beside" }
            && at + 2 == items.Count
            && !items.Take(at).Any(i => i is PeriodItem or BaseItem)
            && Replace(items, at, 2, (s, e) => new BaseItem(s, e, added.Value, true))
        || Word(items, at) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } side
            && Word(items, at + 1) is { Kind: MentionKind.Compare, Value: "behind" }
            && Replace(items, at, 2, (s, e) => new BaseItem(s, e, side.Value));

    /// <summary>revenue in October and budget · October and last year · October and the month before → what stands beside, and no
    /// figure of its own.</summary>
    private bool AndSide(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.And, Value: "and" or Plus }
            || at == 0
            || items[at - 1]
                is not (
                    PeriodItem
                    or FilterItem
                    or BreakdownItem
                    or WordItem
                    {
                        Mention.Kind: MentionKind.Figure
                            or MentionKind.Member
                            or MentionKind.Result
                            or MentionKind.Level
                            or MentionKind.Grain
                            or MentionKind.Unit
                    }
                )
        )
            return false;
        // "And what was budgeted", "and what we planned for it".
        var planned = at + 1;
        if (Word(items, planned) is { Kind: MentionKind.Intent, Value: "value" or "value:much" })
            planned++;
        if (Word(items, planned)?.Kind is MentionKind.Result)
            planned++;
        if (Word(items, planned + 1)?.Kind is MentionKind.Edit && planned + 2 == items.Count)
            items.RemoveAt(planned + 1);
        if (planned + 1 == items.Count && Word(items, planned) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode })
            items.RemoveRange(at + 1, planned - at - 1);
        // "And budget and forecast": both.
        if (At<ScenariosItem>(items, at + 1) is { } several && !several.Scenarios.Contains(Book.ActualCode))
        {
            items.RemoveRange(at, 2);
            items.InsertRange(at, several.Scenarios.Select(code => new BaseItem(several.Start, several.End, code)));
            return true;
        }
        var side =
            Word(items, at + 1) is { Kind: MentionKind.Scenario, Value: not Book.ActualCode } scenario
            && Word(items, at + 2)?.Kind is not (MentionKind.Figure or MentionKind.Member)
            && !(IsQuarter(scenario) && At<PeriodItem>(items, at - 1) is { Span.Count: not 3 })
                ? scenario.Value
            : At<PeriodItem>(items, at - 1) is { IsLastYear: false, Span.Count: < 12 } own
            && At<PeriodItem>(items, at + 1) is { } other
                ? other.IsLastYear ? "prior-year"
                    : own.Span.Count == 1
                    && _said.Any(m => m is { Kind: MentionKind.Period, Value: "month:-1" or "last:1" } && m.Start == other.Start)
                        ? "prior-period"
                    : null
            : null;
        return side is not null && Replace(items, at, 2, (s, e) => new BaseItem(s, e, side));

        bool IsQuarter(Mention said) =>
            vocabulary.Find(Words.Phrase(said.Title)).Any(e => e is { Kind: MentionKind.Period, Value: "quarter:-1" });
    }
}
