using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Each rule makes one item of its example, and none of what looks like it; their order means nothing.</summary>
public sealed class RuleTests
{
    private static readonly Book Book = SmallBook.Filled().Book();
    private static readonly BookWords BookWords = new(Book);

    public static TheoryData<string> Names() => [.. Rules.All.Select(r => $"{r.Name} | {r.Example}")];

    private static Rule Named(string name) => Rules.All.Single(r => $"{r.Name} | {r.Example}" == name);

    /// <summary>What the rules make of all words of a text together.</summary>
    private static HashSet<Item> Wholes(string text, IEnumerable<Rule> rules)
    {
        var tokens = Words.Tokens(text);
        var found = new MentionFinder(Vocabulary.English, Book, BookWords).Find(tokens);
        var chart = Chart.Of(Book, tokens.Count, Terminals.Of(Book, BookWords, tokens, found), rules);
        return [.. chart.From(0).Where(p => p.End == tokens.Count).Select(p => p.Item)];
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_rule_makes_an_item_of_its_example(string name)
    {
        var rule = Named(name);
        var with = Wholes(rule.Example, Rules.All);
        with.ExceptWith(Wholes(rule.Example, Rules.All.Remove(rule)));
        Assert.NotEmpty(with);
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_rule_makes_nothing_of_what_only_looks_like_it(string name)
    {
        var rule = Named(name);
        Assert.Equal(Wholes(rule.Counter, Rules.All.Remove(rule)), Wholes(rule.Counter, Rules.All));
    }

    [Fact]
    public void The_order_of_rules_means_nothing()
    {
        var texts = Rules
            .All.Select(r => r.Example)
            .Append("fuel versus budget by yard in q1 2026, top 3 without Aldermouth")
            .ToList();
        foreach (var seed in new[] { 1, 2, 3 })
        {
            var shuffled = Rules.All.ToArray();
            new Random(seed).Shuffle(shuffled);
            foreach (var text in texts)
                Assert.Equal(Read(text, Rules.All), Read(text, shuffled));
        }

        static List<string> Read(string text, IReadOnlyList<Rule> rules)
        {
            var tokens = Words.Tokens(text);
            var found = new MentionFinder(Vocabulary.English, Book, BookWords).Find(tokens);
            var chart = Chart.Of(Book, tokens.Count, Terminals.Of(Book, BookWords, tokens, found), rules);
            return
            [
                .. Enumerable.Range(0, tokens.Count).SelectMany(chart.From).Select(p => p.ToString()),
                .. Covers.Of(chart).Select(c => $"{c.Price} {string.Join(" + ", c.Parts.Select(p => p.Item))}"),
            ];
        }
    }

    [Fact]
    public void Names_of_rules_are_unlike_each_other() =>
        Assert.Equal(Rules.All.Length, Rules.All.Select(r => (r.Name, r.Example)).Distinct().Count());
}
