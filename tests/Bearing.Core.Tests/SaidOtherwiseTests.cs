using Xunit;
using static Bearing.Core.Tests.Conversation;

namespace Bearing.Core.Tests;

/// <summary>Words that once were read as something else, or left out in silence; each shows one mechanism.</summary>
public sealed class SaidOtherwiseTests
{
    [Theory]
    [InlineData(
        "fuel by yard vs budget > take Aldermouth out",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, without Aldermouth, by yard."
    )]
    [InlineData(
        "fuel by yard vs budget > leave off Aldermouth",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, without Aldermouth, by yard."
    )]
    [InlineData(
        "what explains the drop in fuel at Aldermouth",
        "What drives the variance of Fuel: Actual against Budget 26, Q1 2026, for Aldermouth."
    )]
    [InlineData(
        "strip out Aldermouth and tell me fuel growth",
        "Growth of Fuel: Actual against Prior year, Q1 2026, without Aldermouth."
    )]
    public void What_is_left_out_is_said_from_both_sides(string texts, string sentence) => Says(texts, sentence);

    [Theory]
    [InlineData(
        "yards more than 1k out in fuel against budget, over or under",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, by yard, only rows that differ by at least 1,000."
    )]
    [InlineData("what does one trip cost us", "Costs per trip: Actual, Q1 2026.")]
    [InlineData("fuel for a trip by yard", "Fuel per trip: Actual, Q1 2026, by yard.")]
    [InlineData("fuel vs fuel last year by yard", "Variance of Fuel: Actual against Prior year, Q1 2026, by yard.")]
    [InlineData("yards as shares of fuel", "Fuel: Actual, Q1 2026, by yard, with each part's share of the total.")]
    [InlineData("fuel split between the yards, percent", "Fuel: Actual, Q1 2026, by yard, with each part's share of the total.")]
    [InlineData("march fuel budget, did we get there", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("top2 yards by fuel", "Fuel: Actual, Q1 2026, by yard, the 2 largest.")]
    [InlineData("fuel last 2m", "Fuel: Actual, February 2026 to March 2026.")]
    [InlineData("fuel by yard whole thousands", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData(
        "what lies behind the fuel shortfall: fewer trips",
        "What drives the variance of Fuel: Actual against Budget 26, Q1 2026."
    )]
    [InlineData("fuel by yard > put the budget beside it", "Variance of Fuel: Actual against Budget 26, Q1 2026, by yard.")]
    [InlineData("fuel by yard in march > go back a month", "Fuel: Actual, February 2026, by yard.")]
    public void Each_is_read_as_it_is_meant(string texts, string sentence) => Says(texts, sentence);

    [Theory]
    [InlineData("how many punctures in march", "“punctures” is not known in this book")]
    [InlineData("how many whales in march", "“whales” is not known in this book")]
    [InlineData("how many in march", "What is to be counted was not made out.")]
    [InlineData("which yard missed its budget most often", "How often is counted over the months of one row at a time.")]
    [InlineData("is trip satisfaction up in fuel", "so neither yes nor no can be told.")]
    public void What_would_be_passed_over_is_refused(string texts, string because) => Refuses(texts, because);
}
