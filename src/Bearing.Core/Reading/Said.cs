using System.Collections.Frozen;
using System.Collections.Immutable;

namespace Bearing.Core.Reading;

/// <summary>What a text says: parts over disjoint words, in the order said. Each kind of item fills one slot of the question, so
/// often as the slot holds.</summary>
internal sealed record Said(ImmutableArray<Part> Parts, int Price)
{
    /// <summary>What an item costs that stands alone, so that neighbours are sooner joined.</summary>
    private const int Alone = 10;

    /// <summary>What one costs for which no question has room: it is sooner a part of something else.</summary>
    private const int Slotless = 30;

    public static Said Nothing { get; } = new([], 0);

    /// <summary>The same with a further part; null where the very same was said already.</summary>
    public Said? With(Part part) =>
        Parts.Any(p => p.Item == part.Item)
            ? null
            : new Said(
                Parts.Add(part),
                Price + part.Price + (part.Item is INoRoom || Filling.HasSlot(part.Item) ? Alone : Slotless)
            );

    /// <summary>Whether every item finds a slot of a kind of question, and no slot has more than it holds.</summary>
    public bool Fits(FrozenDictionary<Type, int> slots) =>
        Parts.GroupBy(p => p.Item.GetType()).All(g => g.Count() <= slots.GetValueOrDefault(g.Key));

    public Said Without(Part part) => this with { Parts = Parts.Remove(part) };

    public T? One<T>()
        where T : Item => Parts.Select(p => p.Item).OfType<T>().FirstOrDefault();

    public IEnumerable<T> All<T>()
        where T : Item => Parts.Select(p => p.Item).OfType<T>();

    public bool Has<T>()
        where T : Item => One<T>() is not null;

    public bool Asks(Asked what) => All<AskItem>().Any(a => a.What == what);

    /// <summary>The items as a whole, whichever words said them.</summary>
    public bool SaysTheSame(Said other) => Parts.Select(p => p.Item).SequenceEqual(other.Parts.Select(p => p.Item));
}

/// <summary>The cheapest ways to read a whole text as parts that all find slots.</summary>
internal static class Covers
{
    /// <summary>Ways that are kept up to each word.</summary>
    private const int Kept = 40;

    /// <summary>What a small word costs that no rule had a use for.</summary>
    private const int Passed = 1;

    /// <summary>Ways that are gone on with in the end.</summary>
    private const int Most = 16;

    public static ImmutableArray<Said> Of(Chart chart)
    {
        var upTo = Enumerable.Range(0, chart.Tokens + 1).Select(_ => new List<Said>()).ToArray();
        upTo[0].Add(Said.Nothing);
        for (var at = 0; at < chart.Tokens; at++)
        {
            var ways = Cheapest(upTo[at], Kept);
            if (ways.IsEmpty)
                continue;
            foreach (var part in chart.From(at))
            {
                if (part.Item is IPassed)
                    upTo[part.End].AddRange(ways.Select(w => w with { Price = w.Price + part.Price + Passed }));
                else
                    upTo[part.End].AddRange(ways.Select(w => w.With(part)).OfType<Said>());
            }
        }
        return Cheapest(upTo[^1], Most);
    }

    private static ImmutableArray<Said> Cheapest(List<Said> ways, int most)
    {
        var kept = ImmutableArray.CreateBuilder<Said>();
        foreach (var way in ways.OrderBy(w => w.Price).ThenBy(w => w.Parts.Length))
        {
            if (kept.Count == most)
                break;
            if (!kept.Any(k => k.SaysTheSame(way)))
                kept.Add(way);
        }
        return kept.ToImmutable();
    }
}
