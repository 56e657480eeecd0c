using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What rows are sorted by: one of the figures that are shown, or a further one that then stands beside them.</summary>
public sealed class OrderTests
{
    [Theory]
    [InlineData("trips, fuel and fuel per trip by yard in march", "Trips, Fuel and Fuel per trip: Actual, March 2026, by yard.")]
    [InlineData(
        "trips, fuel and fuel per trip by yard in march > sorted by fuel",
        "Fuel, Trips and Fuel per trip: Actual, March 2026, by yard, the largest first by Fuel."
    )]
    [InlineData(
        "trips, fuel and fuel per trip by yard in march > by trips, highest first",
        "Trips, Fuel and Fuel per trip: Actual, March 2026, by yard, the largest first by Trips."
    )]
    [InlineData(
        "fuel by yard in march > sort by fares income",
        "Fares and Fuel: Actual, March 2026, by yard, the largest first by Fares."
    )]
    [InlineData(
        "fuel by yard in march > biggest fares first",
        "Fares and Fuel: Actual, March 2026, by yard, the largest first by Fares."
    )]
    [InlineData(
        "fuel by yard in march > put the highest trips on top",
        "Trips and Fuel: Actual, March 2026, by yard, the largest first by Trips."
    )]
    [InlineData("fuel by yard in march > top 2 by trips", "Trips and Fuel: Actual, March 2026, by yard, the 2 largest by Trips.")]
    [InlineData(
        "fuel vs budget by yard in march > by month for the yard with the biggest overspend",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, for Aldermouth, by month."
    )]
    [InlineData("smallest fuel first, by yard, in march", "Fuel: Actual, March 2026, by yard, the smallest first.")]
    [InlineData(
        "yard with the smallest increase of fuel in march",
        "Variance of Fuel: Actual against Prior year, March 2026, by yard, the 10 least unfavourable."
    )]
    public void Rows_are_sorted_by_what_was_named(string texts, string sentence) => Conversation.Says(texts, sentence);

    [Theory]
    [InlineData("fuel vs budget by yard in march > sort by trips", "sorted by what is compared")]
    [InlineData("trips at weekends", "no journal is posted on it")]
    public void What_rows_cannot_be_sorted_by_is_said(string texts, string because)
    {
        var read = Conversation.Walk(texts);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }
}
