using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

internal static partial class Rules
{
    private static IEnumerable<Rule> OfLimits =>
        [
            Rule.Of<GapItem, AmountItem>(
                "on one side of an amount",
                (gap, a, _) => Limit(ConditionOn.Amount, a.Value, gap.Sense),
                "over 20k",
                "20k"
            ),
            Rule.Of<GapItem, PercentItem>(
                "on one side of a percentage",
                (gap, p, _) => Limit(ConditionOn.Percent, p.Value, gap.Sense),
                "over 10%",
                "10%"
            ),
            Rule.Of<GapItem, NumberItem, PercentWord>(
                "on one side of a percentage in words",
                (gap, n, _, _) => Limit(ConditionOn.Percent, n.Value, gap.Sense),
                "over 10 percent",
                "10 percent"
            ),
            Rule.Of<AmountItem, GapItem>(
                "an amount on one side",
                (a, gap, _) => IsSize(gap.Sense) ? null : Behind(ConditionOn.Amount, a.Value, gap.Sense),
                "20k under",
                "20k more"
            ),
            Rule.Of<PercentItem, GapItem>(
                "a percentage on one side",
                (p, gap, _) => IsSize(gap.Sense) ? null : Behind(ConditionOn.Percent, p.Value, gap.Sense),
                "10% under",
                "10% more"
            ),
            Rule.Of<LimitItem, GapItem>(
                "a limit, and on which side",
                (limit, gap, _) => limit.SideSaid || IsSize(gap.Sense) ? null : OnSide(limit, gap.Sense),
                "more than 20k under",
                "under 20k under"
            ),
            Rule.Of<LimitItem, AndWord, LimitItem>(
                "two limits that both hold",
                (one, _, two, _) =>
                    one.Conditions.Any(c => two.Conditions.Any(o => o.On == c.On))
                        ? null
                        : new LimitItem([.. one.Conditions, .. two.Conditions], one.SideSaid || two.SideSaid)
                        {
                            Sense = one.SideSaid ? one.Sense : two.Sense,
                        },
                "over 20k and over 10%",
                "over 20k and over 30k"
            ),
            Rule.Of<LimitItem, AndWord, AmountItem>(
                "a limit in percent, and an amount",
                (one, _, a, _) =>
                    one.Conditions is [{ On: ConditionOn.Percent } c]
                        ? one with
                        {
                            Conditions = [c, new Condition(ConditionOn.Amount, c.Direction, a.Value)],
                        }
                        : null,
                "more than 10% and 20k",
                "more than 10k and 20k"
            ),
            Rule.Of<LimitItem, AndWord, PercentItem>(
                "a limit in money, and a percentage",
                (one, _, p, _) =>
                    one.Conditions is [{ On: ConditionOn.Amount } c]
                        ? one with
                        {
                            Conditions = [c, new Condition(ConditionOn.Percent, c.Direction, p.Value)],
                        }
                        : null,
                "more than 20k and 10%",
                "more than 20% and 10%"
            ),
        ];

    /// <summary>More and less say how large, and not on which side.</summary>
    private static bool IsSize(GapSense sense) =>
        sense is { Side: Direction.Over or Direction.Under, Moves: false, OfCosts: false };

    /// <summary>Over and under before an amount say how large it is as well.</summary>
    private static bool IsLoose(GapSense sense) =>
        sense is { Side: Direction.Over or Direction.Under, OverTime: false, OfCosts: false };

    private static LimitItem Limit(ConditionOn on, decimal value, GapSense sense) =>
        new([new Condition(on, sense.Side, value)], !IsLoose(sense)) { Sense = sense };

    private static LimitItem Behind(ConditionOn on, decimal value, GapSense sense) =>
        new([new Condition(on, sense.Side, value)], true) { Sense = sense };

    private static LimitItem? OnSide(LimitItem limit, GapSense sense) =>
        limit.Sense?.Side == Direction.Over
            ? new LimitItem([.. limit.Conditions.Select(c => c with { Direction = sense.Side })], true) { Sense = sense }
            : null;
}
