using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Xunit;
using static Bearing.Core.Tests.Conversation;

namespace Bearing.Core.Tests;

/// <summary>"That yard", "those accounts", "their", "its", "how much is that": words that point at what was shown, and what is
/// held against what in a question that wants a yes or a no.</summary>
public sealed class PointedTests
{
    [Theory]
    // One row.
    [InlineData("best month for fares this year > what was the result in that month", "Result: Actual, January 2026.")]
    [InlineData("which yard has the highest fuel in march > fares of that yard", "Fares: Actual, March 2026, for Aldermouth.")]
    [InlineData(
        "which region has the highest fares in march > break that region down by yard",
        "Fares: Actual, March 2026, for North, by yard."
    )]
    [InlineData("largest cost account in march > by yard for that account", "Fuel: Actual, March 2026, by yard.")]
    [InlineData("which yard has the highest fuel in march > its fares", "Fares: Actual, March 2026, for Aldermouth.")]
    [InlineData("fuel at Birkhaven in march > its fares", "Fares: Actual, March 2026, for Birkhaven.")]
    // Several.
    [InlineData(
        "top 2 yards by fuel in march > and their fares",
        "Fares: Actual, March 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData(
        "top 2 yards by fuel in march > by month for those yards",
        "Fuel: Actual, Q1 2026, for Aldermouth and Birkhaven, by month, then yard."
    )]
    [InlineData(
        "top 2 yards by fuel in march > fares by month for these",
        "Fares: Actual, Q1 2026, for Aldermouth and Birkhaven, by month, then yard."
    )]
    // All rows were shown: nothing is left out.
    [InlineData("fares by yard in march > and their fuel", "Fuel: Actual, March 2026, by yard.")]
    // What was shown.
    [InlineData("fares of North in march > how much fuel is that", "Fuel: Actual, March 2026, for North.")]
    [InlineData("fares in march vs budget > where", "Variance of Fares: Actual against Budget 26, March 2026, by yard.")]
    [InlineData(
        "fares by yard vs last year in march > the two that fell most",
        "Variance of Fares: Actual against Prior year, March 2026, by yard, the 2 most unfavourable."
    )]
    [InlineData(
        "top 2 accounts of costs by variance vs budget in march > only direct costs",
        "Variance of Direct costs: Actual against Budget 26, March 2026, by account, the 2 largest."
    )]
    [InlineData("best month for fares this year > what was the result then", "Result: Actual, January 2026.")]
    [InlineData("fares by month > as columns", "Fares: Actual, Q1 2026 and its months side by side.")]
    // "This" and "that" that point at nothing say nothing.
    [InlineData(
        "those yards that missed budget on fares in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    public void Points_at_what_was_shown(string texts, string sentence) => Says(texts, sentence);

    [Theory]
    [InlineData("fares of that yard in march", "there is none")]
    [InlineData("fares by yard in march > fuel of that yard", "more than one yard")]
    [InlineData("fares by region in march > fuel in that month > fares of that route", "not of one route")]
    // A limit of the figures is none of their variance, so it cannot stay and is said to go.
    [InlineData("which yards missed budget on fares and on the result in march", "one figure at a time")]
    [InlineData("any yards without fares in march", "none that are shown")]
    [InlineData("yards that went from favourable in february to unfavourable in march", "one side at a time")]
    [InlineData("call freight fares less fuel by yard", "the name behind")]
    public void What_points_at_nothing_is_said(string texts, string because) => Refuses(texts, because);

    [Fact]
    public void A_limit_of_the_figures_is_dropped_with_a_word_when_they_are_compared()
    {
        var read = Walk("yards with fares over 100 in march > and last year");
        Assert.Equal("Variance of Fares: Actual against Prior year, March 2026, by yard.", read.Reading!.Sentence);
        Assert.Contains(read.Reading.Assumed, a => a.Contains("the limit is left out", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("is fares higher than fuel in march", true)]
    [InlineData("is fuel higher than fares in march", false)]
    [InlineData("is income higher than costs in march", true)]
    [InlineData("did fares grow faster than fuel in march", null)]
    [InlineData("did North grow faster than South in march", null)]
    [InlineData("are fares growing slower than fuel in march", null)]
    public void One_is_held_against_the_other_by_yes_or_no(string text, bool? yes)
    {
        var read = Small.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        var headline = Answered(read.Question!.ToKinds()).Headline;
        Assert.Matches(
            yes switch
            {
                true => "^Yes[.:] ",
                false => "^No[.:] ",
                null => "^(Yes|No)[.:] ",
            },
            headline
        );
    }

    /// <summary>What grows faster does not grow slower, and one of the two grows at least as fast as the other.</summary>
    [Fact]
    public void Faster_and_slower_are_contraries()
    {
        bool Yes(string text) =>
            Answered(Small.Read(text).Question!.ToKinds()).Headline.StartsWith("Yes", StringComparison.Ordinal);
        foreach (
            var (one, other) in new[] { ("fares", "fuel"), ("fuel", "rent"), ("North", "South"), ("Aldermouth", "Birkhaven") }
        )
        {
            Assert.False(
                Yes($"did {one} grow faster than {other} in march") && Yes($"did {one} grow slower than {other} in march")
            );
            Assert.Equal(
                Yes($"did {one} grow faster than {other} in march"),
                Yes($"did {other} grow slower than {one} in march")
            );
        }
    }

    [Fact]
    public void The_figure_of_what_was_ranked_is_a_demand_of_its_own()
    {
        Assert.Equal(
            ["worst two yards on the result in march", "their fares"],
            Small.Demands("worst two yards on the result in march, with their fares").Select(d => d.Text)
        );
        Assert.Equal(
            ["which yards missed budget in march", "what were their fares"],
            Small.Demands("which yards missed budget in march, and what were their fares").Select(d => d.Text)
        );
        Assert.Single(Small.Demands("fares by yard and their fuel in march"));
    }

    [Fact]
    public void Figures_with_periods_of_their_own_are_demands_of_their_own()
    {
        Assert.Equal(
            ["fares in march", "fuel in february vs budget"],
            Small.Demands("fares in march, fuel in february vs budget").Select(d => d.Text)
        );
        Assert.Single(Small.Demands("fares and fuel in march"));
        Assert.Single(Small.Demands("compare fares in march and fares in february"));
    }

    [Theory]
    [InlineData(
        "is the gap of fares to budget growing",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by month, cumulative."
    )]
    [InlineData(
        "growth of the variance of fares to budget",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by month, cumulative."
    )]
    [InlineData(
        "is the shortfall of fares to budget narrowing",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by month, cumulative."
    )]
    [InlineData("best yard per month by fares", "Fares: Actual, Q1 2026, by month, then yard, the largest within each.")]
    public void A_gap_grows_month_by_month(string text, string sentence) => Says(text, sentence);

    /// <summary>Whether it grew is told by the last two months added up.</summary>
    [Fact]
    public void A_gap_that_grows_does_not_shrink()
    {
        bool Yes(string text) =>
            Answered(Small.Read(text).Question!.ToKinds()).Headline.StartsWith("Yes", StringComparison.Ordinal);
        foreach (var figure in new[] { "fares", "fuel", "rent" })
            Assert.False(Yes($"is the gap of {figure} to budget growing") && Yes($"is the gap of {figure} to budget shrinking"));
        var grid = Answered(Small.Read("is the gap of fuel to budget growing").Question!.ToKinds()).Table!.Grid;
        var months = grid.Innermost()
            .Select(r => Math.Abs(grid.Value(r, Core.Variance.ColumnKind.Variance).Number ?? 0m))
            .ToList();
        Assert.Equal(months[^1] > months[^2], Yes("is the gap of fuel to budget growing"));
    }

    [Theory]
    [InlineData("fares for Aldermouth in march > not Aldermouth", "Fares: Actual, March 2026, without Aldermouth.")]
    [InlineData("fares without Aldermouth in march > only Aldermouth", "Fares: Actual, March 2026, for Aldermouth.")]
    [InlineData(
        "fares for Aldermouth and Birkhaven in march > without Aldermouth",
        "Fares: Actual, March 2026, for Birkhaven, without Aldermouth, by yard."
    )]
    public void Nothing_is_both_kept_and_left_out(string texts, string sentence) => Says(texts, sentence);

    [Theory]
    [InlineData("fuel we sold in march", "sold")]
    [InlineData("rent earned by yard", "earned")]
    public void Costs_are_not_sold(string text, string unused) => Assert.Equal([unused], Small.Read(text).Reading!.Unused);
}
