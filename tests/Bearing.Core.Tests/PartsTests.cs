using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Parts of parts, what is ranked beside something else, and words that stand where another meaning would be passed
/// over.</summary>
public sealed class PartsTests
{
    [Theory]
    [InlineData(
        "share of Aldermouth in north, fares, march",
        "Fares: Actual, March 2026, for North, by yard, with each part's share of the total, and what of it is Aldermouth."
    )]
    [InlineData(
        "share of Aldermouth in north fares by month",
        "Fares: Actual, Q1 2026, for North, by month, then yard, with each part's share of the total and within its month."
    )]
    [InlineData(
        "fares by month > share of Aldermouth",
        "Fares: Actual, Q1 2026, by month, then yard, with each part's share of the total and within its month."
    )]
    [InlineData(
        "fares by month > share of Aldermouth in north",
        "Fares: Actual, Q1 2026, for North, by month, then yard, with each part's share of the total and within its month."
    )]
    [InlineData("fuel to fares by yard", "Fuel in % of fares: Actual, Q1 2026, by yard.")]
    [InlineData("heads trips ratio", "Heads per trip: Actual, Q1 2026.")]
    [InlineData("fuel of a trip by yard", "Fuel per trip: Actual, Q1 2026, by yard.")]
    [InlineData("north fares vs south in march", "Fares: Actual, March 2026, for North and South, by region.")]
    [InlineData("fares feb this year and last", "Variance of Fares: Actual against Prior year, February 2026.")]
    [InlineData("fares this year and last by yard", "Variance of Fares: Actual against Prior year, Q1 2026, by yard.")]
    [InlineData(
        "cost accounts over budget, budget at least 50",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by account, the most unfavourable first, only rows higher than the base and with a base of at least 50."
    )]
    [InlineData(
        "cost accounts over budget by 5%, budget at least 50",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by account, only rows at least 5% higher than the base and with a base of at least 50."
    )]
    [InlineData(
        "fares vs budget by yard > the first two",
        "Variance of Fares: Actual against Budget 26, Q1 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData("fares by yard > worst first > the first two", "Fares: Actual, Q1 2026, by yard, the 2 smallest.")]
    [InlineData("margin percentage by yard", "Margin in % of income: Actual, Q1 2026, by yard.")]
    [InlineData(
        "fuel in q1 vs budget > biggest cost in it",
        "Variance of Costs: Actual against Budget 26, Q1 2026, the 10 largest."
    )]
    [InlineData(
        "fuel vs budget > is it mainly in february",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, by month, with each part's share of both totals and of the variance, and what of it is February 2026."
    )]
    [InlineData(
        "costs vs budget > is it down to fuel",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by account, with each part's share of both totals and of the variance, and what of it is Fuel."
    )]
    [InlineData(
        "what share of fares is Aldermouth > and Birkhaven",
        "Fares: Actual, Q1 2026, by yard, with each part's share of the total, and what of it is Birkhaven."
    )]
    [InlineData(
        "fares vs budget by yard > by account rather than by yard",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by account."
    )]
    [InlineData(
        "fares vs budget by yard > which yard is worst",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by yard, the most unfavourable."
    )]
    [InlineData("fuel as a percentage of march fares", "Fuel in % of fares: Actual, March 2026.")]
    [InlineData(
        "yards that missed or beat the fares budget by more than 50",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by yard, only rows that differ by at least 50."
    )]
    [InlineData(
        "months where fares were more than 0.5 percent below budget",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by month, only rows at least 0.5% lower than the base."
    )]
    [InlineData(
        "cost accounts within 5% of budget, budgets of 50k and more",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by account, only rows within 5% of the base and with a base of at least 50,000."
    )]
    [InlineData("may I see fares in march", "Fares: Actual, March 2026.")]
    [InlineData("3-month rolling fares", "Fares: Actual, Q1 2026.")]
    [InlineData("was the fares budget met in march", "Variance of Fares: Actual against Budget 26, March 2026.")]
    public void Parts_are_those_of_what_was_said(string texts, string sentence) => Conversation.Says(texts, sentence);

    [Theory]
    [InlineData("fares vs budget > how much of it is trips", "no part of")]
    [InlineData("fares vs budget > how much of it is the margin percent", "no part of")]
    [InlineData("return on sales by yard", "margin")]
    [InlineData("fuel rate by yard", "“rate”")]
    [InlineData("north pay vs plan", "“pay”")]
    [InlineData("march vs the average month, fuel", "average")]
    public void What_would_be_another_thing_is_refused(string texts, string because)
    {
        var read = Conversation.Walk(texts);
        Assert.Equal(ReadingOutcome.CannotAnswer, read.Outcome);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("fuel in march 2031", "March 2026", "fuel in March 2026")]
    [InlineData("fuel by cabin", "by yard", "fuel by yard")]
    [InlineData("fuel for atlantis", "by yard", "fuel by yard")]
    [InlineData("fuel", "by yard", "fuel by yard")]
    [InlineData("fuel by cabin class in march", "by yard", "fuel by yard in march")]
    [InlineData("fuel per trip by week", "by month", "fuel per trip by month")]
    [InlineData("fuel by cabin", "fares by yard", "fares by yard")]
    public void What_would_have_to_be_said_otherwise_is_put_into_the_question(string text, string suggested, string whole)
    {
        var (said, question) = Assert.Single(Conversation.Small.Nearest(text, [suggested], ["cabin", "atlantis"]));
        Assert.Equal(whole, said);
        Assert.Equal(Conversation.Small.Read(whole).Question, question);
    }
}
