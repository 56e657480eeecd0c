using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

internal static partial class Rules
{
    /// <summary>What saying "over budget" takes less than naming the side and the gap apart.</summary>
    private const int FarClaim = 5;

    private static IEnumerable<Rule> OfSides =>
        [
            Rule.Of<PlaceWord, SideItem>(
                "in a plan",
                (_, s, _) => s.Name is SideName.Plan plan ? new InPlanItem(plan) : null,
                "in the budget",
                "the budget"
            ),
            Rule.Of<SideItem, AndWord, SideItem>(
                "two sides",
                (one, _, two, _) => one.Name == two.Name ? null : new SidesItem([one.Name, two.Name]),
                "budget and last year",
                "last year and last year"
            ),
            Rule.Of<SidesItem, AndWord, SideItem>(
                "a further side",
                (list, _, next, _) => list.Names.Contains(next.Name) ? null : new SidesItem([.. list.Names, next.Name]),
                "actual, budget and last year",
                "budget and last year"
            ),
            Rule.Of<VersusWord, SideItem>("against a side", (_, s, _) => new AgainstItem([s.Name]), "versus budget", "budget"),
            Rule.Of<VersusWord, SidesItem>(
                "against several sides",
                (_, s, _) => new AgainstItem(s.Names),
                "versus budget and last year",
                "budget and last year"
            ),
            Rule.Of<AgainstItem, AndWord, AgainstItem>(
                "against one side and against another",
                (one, _, two, _) =>
                    one.Claims is null && two.Claims is null && !one.Names.Any(n => two.Names.Contains(n))
                        ? new AgainstItem([.. one.Names, .. two.Names])
                        : null,
                "versus budget and versus last year",
                "versus last year and versus last year"
            ),
            Rule.Of<VersusWord, PeriodsItem>(
                "against a period",
                (_, p, _) => p.IsLastYear ? null : new AgainstPeriodItem(p),
                "versus July",
                "July"
            ),
            Rule.Of<OnWord, SideItem>(
                "on the past",
                (_, s, _) => s.Name.IsPast ? new AgainstItem([s.Name]) : null,
                "on last year",
                "on budget"
            ),
            Rule.Of<VersusWord, PeriodsItem, SideItem>(
                "against a side of a period",
                (_, p, s, _) => new AgainstItem([s.Name]) { Of = p.Span },
                "versus August budget",
                "versus August"
            ),
            Rule.Of<VersusWord, SideItem, PeriodsItem>(
                "against a side, of a period",
                (_, s, p, _) => new AgainstItem([s.Name]) { Of = p.Span },
                "versus budget August",
                "versus August",
                FarClaim
            ),
            Rule.Of<FromWord, SideItem, ToWord, SideItem>(
                "from one side to another",
                (_, from, _, to, _) => from.Name == to.Name ? null : new SidesItem([to.Name, from.Name]),
                "from budget to actual",
                "from last year to last year"
            ),
            Rule.Of<ThanWord, SideItem>("than a side", (_, s, _) => new AgainstItem([s.Name]), "than budget", "budget"),
            Rule.Of<GapItem, SideItem>(
                "on one side of it",
                (gap, s, _) => s.Name is SideName.Actual ? null : new AgainstItem([s.Name]) { Claims = gap.Sense },
                "over budget",
                "over actual",
                FarClaim
            ),
            Rule.Of<GapItem, AgainstItem>(
                "on one side of what it is held against",
                (gap, against, _) => against.Claims is null ? against with { Claims = gap.Sense } : null,
                "higher versus budget",
                "versus budget",
                FarClaim
            ),
            Rule.Of<AgainstItem, InsteadWord, SideItem>(
                "against one side in place of another",
                (with, _, of, _) =>
                    with is { Names: [var one], Claims: null } && one != of.Name ? new InsteadItem(one, of.Name) : null,
                "versus last year instead of budget",
                "versus last year instead of last year"
            ),
            Rule.Of<SideItem, InsteadWord, SideItem>(
                "one side in place of another",
                (with, _, of, _) => with.Name == of.Name ? null : new InsteadItem(with.Name, of.Name),
                "forecast instead of budget",
                "last year instead of last year"
            ),
        ];
}
