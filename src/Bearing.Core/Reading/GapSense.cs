using System.Collections.Frozen;
using Bearing.Core.Language;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>What a word such as “over”, “missed” or “grew” says of two sides. The words themselves stand in the language's data;
/// this is what their values mean.</summary>
/// <param name="Side">Which side is claimed: by size (over, under) or by effect on profit (for, against).</param>
/// <param name="Opposite">Value that says the contrary, for “not”; null where there is none.</param>
internal sealed record GapSense(Direction Side, string? Opposite)
{
    /// <summary>“Make”, “meet”, “reach”: of a plan further on, that it was beaten.</summary>
    public const string Attained = "attained";

    private static readonly FrozenDictionary<string, GapSense> All = new Dictionary<string, GapSense>
    {
        ["over"] = new(Direction.Over, "under") { Moves = true },
        ["under"] = new(Direction.Under, "over") { Moves = true },
        ["more"] = new(Direction.Over, "less"),
        ["less"] = new(Direction.Under, "more"),
        ["good"] = new(Direction.For, "bad") { OfProfit = true },
        ["bad"] = new(Direction.Against, "good") { OfProfit = true },
        ["favoured"] = new(Direction.For, "adverse") { OfProfit = true, OfRows = true },
        ["adverse"] = new(Direction.Against, "favoured") { OfProfit = true, OfRows = true },
        ["overspent"] = new(Direction.Over, "underspent") { OfCosts = true },
        ["underspent"] = new(Direction.Under, "overspent") { OfCosts = true },
        ["rose"] = new(Direction.Over, "sank")
        {
            OverTime = true,
            Moves = true,
            PlanWhereWhy = true,
        },
        ["sank"] = new(Direction.Under, "rose")
        {
            OverTime = true,
            Moves = true,
            PlanWhereWhy = true,
        },
        ["grew"] = new(Direction.Over, "shrank") { OverTime = true, Moves = true },
        ["shrank"] = new(Direction.Under, "grew") { OverTime = true, Moves = true },
        ["improved"] = new(Direction.For, "worsened")
        {
            OverTime = true,
            Moves = true,
            PlanWhereWhy = true,
        },
        ["worsened"] = new(Direction.Against, "improved")
        {
            OverTime = true,
            Moves = true,
            PlanWhereWhy = true,
        },
        ["within"] = new(Direction.Within, null),
    }.ToFrozenDictionary();

    private static readonly GapSense Apart = new(Direction.Either, null);

    /// <summary>Spending is meant where no figure is named.</summary>
    public bool OfCosts { get; init; }

    /// <summary>“Since July” says from when it moved, and not only when it was so.</summary>
    public bool Moves { get; init; }

    /// <summary>Held against last year, where nothing else is said.</summary>
    public bool OverTime { get; init; }

    /// <summary>Where the cause is asked for, what rose or fell did so against the plan as often as against last year: the usual
    /// comparison holds.</summary>
    public bool PlanWhereWhy { get; init; }

    /// <summary>Speaks of profit: a limit of a variance further on lies on that side.</summary>
    public bool OfProfit { get; init; }

    /// <summary>Says which rows: the unfavourable ones.</summary>
    public bool OfRows { get; init; }

    /// <summary>What a value of the language's gap words says; the contrary of it, where it was negated, by its own
    /// <see cref="Opposite"/>.</summary>
    public static GapSense OfValue(string value) => All.GetValueOrDefault(value, Apart);

    /// <summary>What a gap word says; of any other word, and of “off by”, that the two sides are apart.</summary>
    public static GapSense Of(Mention? word) => word is { Kind: MentionKind.Gap } ? OfValue(word.Value) : Apart;
}
