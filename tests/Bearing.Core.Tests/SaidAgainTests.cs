using Bearing.Core.FirstReading;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Xunit;
using static Bearing.Core.Tests.Conversation;

namespace Bearing.Core.Tests;

/// <summary>What goes on from an answer: sides that come, go and change places, totals, what is put back, and what is looked
/// into.</summary>
public sealed class SaidAgainTests
{
    [Theory]
    [InlineData(
        "fares by yard in march vs budget > and vs last year",
        "Variance of Fares: Actual against Budget 26 and Prior year, March 2026, by yard."
    )]
    [InlineData(
        "fares by yard in march vs budget > and vs last year > without budget",
        "Variance of Fares: Actual against Prior year, March 2026, by yard."
    )]
    [InlineData(
        "fares in march vs budget > forecast instead of budget",
        "Variance of Fares: Actual against Forecast 3+9, March 2026."
    )]
    [InlineData(
        "fares in march vs budget > forecast instead of actual",
        "Variance of Fares: Forecast 3+9 against Budget 26, March 2026."
    )]
    [InlineData("fares by yard in march > with budget", "Variance of Fares: Actual against Budget 26, March 2026, by yard.")]
    [InlineData("fares by yard in march > total only", "Fares: Actual, March 2026.")]
    [InlineData("fares by yard in march > just the total", "Fares: Actual, March 2026.")]
    [InlineData("fares by yard in march > leave out Birkhaven > put it back", "Fares: Actual, March 2026, by yard.")]
    [InlineData(
        "fares by yard in march > in percent",
        "Fares: Actual, March 2026, by yard, with each part's share of the total."
    )]
    [InlineData("fares in march > by month", "Fares: Actual, Q1 2026, by month.")]
    [InlineData("fares in march > back to february", "Fares: Actual, February 2026.")]
    [InlineData("direct costs in march > break it down", "Direct costs: Actual, March 2026, by account.")]
    [InlineData(
        "fares by yard in march > which is the highest > and the lowest?",
        "Fares: Actual, March 2026, by yard, the smallest."
    )]
    [InlineData("fares by yard in march > top 2 > only Corrie Bay", "Fares: Actual, March 2026, for Corrie Bay, by yard.")]
    [InlineData(
        "fuel in percent of income by yard in march > same for rent",
        "Rent in % of income: Actual, March 2026, by yard."
    )]
    [InlineData(
        "fuel in percent of fares by yard in march > in percent of freight",
        "Fuel in % of freight: Actual, March 2026, by yard."
    )]
    [InlineData(
        "direct costs by account in march > as % of income",
        "Direct costs in % of income: Actual, March 2026, by account."
    )]
    [InlineData("direct costs by account in march, the largest > drill into it", "Fuel: Actual, March 2026, by yard.")]
    [InlineData("fares in march by yard > both years", "Variance of Fares: Actual against Prior year, March 2026, by yard.")]
    [InlineData("fares by yard in march > sort from best to worst", "Fares: Actual, March 2026, by yard, the largest first.")]
    public void Changes_what_was_said_and_keeps_the_rest(string texts, string sentence) => Says(texts, sentence);

    [Theory]
    [InlineData("fares by yard in march > top 2 > how much in total", "those that a limit or a ranking keeps are not added up")]
    [InlineData("fares in march > and the other one?", "speaks of one thing only")]
    [InlineData("fares in march > without last year", "does not show prior year")]
    [InlineData("fuel and rent by yard in march > as % of income", "Several accounts taken out of a whole")]
    [InlineData("fares by yard in march > without fares", "Nothing is left of Fares")]
    public void What_cannot_go_on_is_said(string texts, string because) => Refuses(texts, because);

    /// <summary>The sum of entries is that of what was asked for, and its headline says so: ten a month of each account at each
    /// of four yards.</summary>
    [Theory]
    [InlineData("entries of fares in march for North", "2 Actual entries for Fares in March 2026 for North, EUR 20")]
    [InlineData("entries of fares in march without North", "2 Actual entries for Fares in March 2026 without North, EUR 20")]
    [InlineData(
        "entries of fares and freight in march",
        "8 Actual entries for Income in March 2026 for Fares and Freight, EUR 80"
    )]
    [InlineData(
        "fares and freight in march > show the entries",
        "8 Actual entries for Income in March 2026 for Fares and Freight, EUR 80"
    )]
    public void The_headline_of_entries_says_what_they_are_of(string texts, string headline) =>
        Assert.StartsWith(headline, Answered(Walk(texts).Question!.ToKinds()).Headline, StringComparison.Ordinal);

    [Fact]
    public void Of_two_the_other_one_is_meant_and_of_several_it_is_asked_which()
    {
        var two = Small.Read("and the other one?", After("fares of North in march"));
        Assert.Equal("Fares: Actual, March 2026, for South.", two.Reading!.Sentence);
        var several = Small.Read("and the other one?", After("fares by yard in march"));
        Assert.Equal((ReadingOutcome.AsksBack, 4), (several.Outcome, several.Choices.Length));
    }

    [Theory]
    [InlineData(
        "which yard contributes most to fares, in percent",
        "Fares: Actual, Q1 2026, by yard, with each part's share of the total."
    )]
    [InlineData("breakdown of direct costs in march", "Direct costs: Actual, March 2026, by account.")]
    [InlineData("what are direct costs made up of in march", "Direct costs: Actual, March 2026, by account.")]
    [InlineData(
        "accounts within one percent of budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, only rows within 1% of the base."
    )]
    [InlineData("sum of fuel and rent by yard in march", "Costs: Actual, March 2026, for Fuel and Rent, by yard.")]
    [InlineData("fares yoy by yard in march", "Variance of Fares: Actual against Prior year, March 2026, by yard.")]
    [InlineData("ytd february fares", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData("2 month rolling fares", "Fares: Actual, February 2026 to March 2026.")]
    [InlineData("march forecast vs march budget fares", "Variance of Fares: Forecast 3+9 against Budget 26, March 2026.")]
    [InlineData(
        "compare forecast and budget for fares in march",
        "Variance of Fares: Forecast 3+9 against Budget 26, March 2026."
    )]
    [InlineData("fares by yard for the month", "Fares: Actual, March 2026, by yard.")]
    [InlineData("fares by yard for the month of february", "Fares: Actual, February 2026, by yard.")]
    [InlineData("fares by yard for the quarter", "Fares: Actual, Q1 2026, by yard.")]
    [InlineData("how much fuel do we use per trip in march", "Fuel per trip: Actual, March 2026.")]
    [InlineData("budget for fuel, first quarter against second quarter", "Fuel: Budget 26, Q1 2026 and Q2 2026.")]
    [InlineData("fuel february and march, change", "Growth of Fuel: Actual against February 2026, March 2026.")]
    [InlineData("direct costs of North in march, and on what", "Direct costs: Actual, March 2026, for North, by account.")]
    [InlineData(
        "how far are we through the fuel budget",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, Q1 2026."
    )]
    [InlineData(
        "percentage of direct costs that is fuel in march",
        "Direct costs: Actual, March 2026, by account, with each part's share of the total, and what of it is Fuel."
    )]
    public void Is_read_as_meant(string text, string sentence)
    {
        var read = Small.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    [Theory]
    [InlineData("growth in march compared with growth in february, fares", "One growth is not held against another")]
    [InlineData("fares in euro and kronor", "one currency at a time")]
    [InlineData("yards with falling fares and rising fuel", "a limit on one figure at a time")]
    public void What_cannot_be_held_together_is_said(string text, string because)
    {
        var read = Small.Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }

    [Fact]
    public void Of_what_would_be_a_percentage_is_named_where_it_was_not_said() =>
        Assert.Equal(["%"], Small.Read("fares in march in %").Reading!.Unused);

    [Fact]
    public void Both_of_what_is_not_two_is_named() =>
        Assert.Equal(["both"], Small.Read("both", After("fares of Birkhaven in march")).Reading!.Unused);
}
