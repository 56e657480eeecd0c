using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Reading;

/// <summary>
/// Every part that the rules make of a text, bottom-up from its end to its beginning. Of equal item and span only the cheapest
/// stays, so the chart is the same whatever the order of rules and mentions.
/// </summary>
internal sealed class Chart
{
    /// <summary>Parts that are kept for one beginning; what is beyond it is dearer than any reading that is taken.</summary>
    private const int MostParts = 200;

    private readonly Dictionary<Type, List<Part>>[] _from;
    private readonly List<(int To, int Price)>[] _skips;
    private readonly List<Part>?[] _ordered;

    private Chart(int tokens)
    {
        _from = [.. Enumerable.Range(0, tokens + 1).Select(_ => new Dictionary<Type, List<Part>>())];
        _skips = new List<(int, int)>[tokens + 1];
        _ordered = new List<Part>?[tokens + 1];
    }

    public int Tokens => _from.Length - 1;

    /// <summary>The parts that begin at a token, cheapest first, and always in the same order.</summary>
    public IReadOnlyList<Part> From(int at) => _ordered[at] ??= Ordered(_from[at].Values.SelectMany(p => p));

    private static List<Part> Ordered(IEnumerable<Part> parts)
    {
        var ordered = parts.ToList();
        ordered.Sort(
            (a, b) =>
                a.Price != b.Price ? a.Price.CompareTo(b.Price)
                : a.End != b.End ? a.End.CompareTo(b.End)
                : string.CompareOrdinal(a.Item.ToString(), b.Item.ToString())
        );
        return ordered;
    }

    public static Chart Of(Book book, int tokens, IEnumerable<Part> terminals, IEnumerable<Rule> rules)
    {
        var chart = new Chart(tokens);
        var leading = rules.GroupBy(r => r.Parts[0]).ToFrozenDictionary(g => g.Key, g => g.ToImmutableArray());
        var starting = terminals.ToLookup(t => t.Start);
        chart._skips[tokens] = [(tokens, 0)];
        for (var at = tokens - 1; at >= 0; at--)
            chart.Fill(at, starting[at], leading, book);
        return chart;
    }

    private void Fill(int at, IEnumerable<Part> terminals, FrozenDictionary<Type, ImmutableArray<Rule>> rules, Book book)
    {
        var best = new Dictionary<(Item, int), Part>();
        var agenda = new PriorityQueue<Part, int>();
        foreach (var terminal in terminals)
            agenda.Enqueue(terminal, terminal.Price);
        var items = new List<Item>();
        while (agenda.TryDequeue(out var part, out _) && best.Count < MostParts)
        {
            // Cheapest first: an equal one that came before it is no dearer.
            if (!best.TryAdd((part.Item, part.End), part))
                continue;
            if (!_from[at].TryGetValue(part.Item.GetType(), out var alike))
                _from[at][part.Item.GetType()] = alike = [];
            alike.Add(part);
            foreach (var rule in rules.GetValueOrDefault(part.Item.GetType(), []))
                Extend(rule, part, [part.Item], part.Words, part.Price + rule.Price, part.End);
        }
        _skips[at] = Skips(at);

        void Extend(Rule rule, Part first, ImmutableArray<Item> matched, UInt128 words, int price, int end)
        {
            if (matched.Length == rule.Parts.Length)
            {
                if (rule.Make(matched, book) is { } made)
                    agenda.Enqueue(new Part(made, first.Start, end, words, price), price);
                return;
            }
            foreach (var (to, skip) in _skips[end])
            foreach (var next in Next(to, rule.Parts[matched.Length]))
                Extend(rule, first, matched.Add(next.Item), words | next.Words, price + skip + next.Price, next.End);
        }
    }

    private List<Part> Next(int at, Type type) => _from[at].GetValueOrDefault(type, []);

    /// <summary>Where the next item may begin, small words passed over.</summary>
    private List<(int To, int Price)> Skips(int at)
    {
        var reached = new SortedDictionary<int, int> { [at] = 0 };
        foreach (var filler in _from[at].Values.SelectMany(p => p).Where(p => p.Item is IPassed))
        foreach (var (to, price) in _skips[filler.End])
            if (!reached.TryGetValue(to, out var known) || known > price + filler.Price)
                reached[to] = price + filler.Price;
        return [.. reached.Select(r => (r.Key, r.Value))];
    }
}
