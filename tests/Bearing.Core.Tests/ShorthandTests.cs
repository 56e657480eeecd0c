using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What people write at month end when they are in a hurry, and how it is to be read. The current month is March 2026,
/// the budget and the forecast are of its quarter.</summary>
public sealed class ShorthandTests
{
    private static readonly Book Book = SmallBook.Filled().Book();

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static string Say(ReadResult result) =>
        result.Question is { } question ? new ReadingWriter(Book).Sentence(question) : $"{result.Outcome}: {result.Because}";

    [Theory]
    [InlineData("AvB fuel march by yard", "Variance of Fuel: Actual against Budget 26, March 2026, by yard.")]
    [InlineData("fuel march bva", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("fuel march AvF", "Variance of Fuel: Actual against Forecast 3+9, March 2026.")]
    [InlineData("fuel MoM, march vs february, by yard", "Variance of Fuel: Actual against February 2026, March 2026, by yard.")]
    [InlineData(
        "accounts within 2k of budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, only rows within 2,000 of the base."
    )]
    [InlineData(
        "cost accounts more than 5 over in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows at least 5 higher than the base."
    )]
    [InlineData(
        "march: every yard and account with a variance of 3k or more",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, then account, only rows that differ by at least 3,000."
    )]
    [InlineData(
        "rank the yards by how far their result is from budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, the largest first."
    )]
    [InlineData(
        "is Corrie Bay inside its rent budget in march",
        "Variance of Rent: Actual against Budget 26, March 2026, for Corrie Bay."
    )]
    [InlineData(
        "is Corrie Bay within its rent budget in march",
        "Variance of Rent: Actual against Budget 26, March 2026, for Corrie Bay."
    )]
    [InlineData("what is fuel in march and what should it be", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("fuel in march, where it should be?", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("add up the result month by month", "Result: Actual, Q1 2026, by month, cumulative.")]
    [InlineData(
        "fuel by month, Corrie Bay and Dunlin Pier together",
        "Fuel: Actual, Q1 2026, for Corrie Bay and Dunlin Pier, by month."
    )]
    [InlineData("fuel by yard, march, this year vs last", "Variance of Fuel: Actual against Prior year, March 2026, by yard.")]
    [InlineData("fuel this march and last, by yard", "Variance of Fuel: Actual against Prior year, March 2026, by yard.")]
    [InlineData(
        "growth of fares by route against the first quarter of last year",
        "Growth of Fares: Actual against Prior year, Q1 2026, by route."
    )]
    [InlineData(
        "fuel by yard ytd: actual, budget, last year",
        "Variance of Fuel: Actual against Budget 26 and Prior year, Q1 2026, by yard."
    )]
    [InlineData("what do we expect for fares from february on", "Fares: Forecast 3+9, February 2026 to March 2026.")]
    [InlineData(
        "how are the four yards doing on income in march vs plan",
        "Variance of Income: Actual against Budget 26, March 2026, by yard."
    )]
    [InlineData("income trend by month with budget line", "Variance of Income: Actual against Budget 26, Q1 2026, by month.")]
    [InlineData("gl detail for rent at Corrie Bay in march", "Actual entries for Rent, March 2026, for Corrie Bay.")]
    [InlineData("which postings make up rent at Corrie Bay in march", "Actual entries for Rent, March 2026, for Corrie Bay.")]
    [InlineData("open D0012", "Actual entries of document D0012.")]
    [InlineData(
        "Corrie Bay as % of group trips",
        "Trips: Actual, Q1 2026, by yard, with each part's share of the total, and what of it is Corrie Bay."
    )]
    [InlineData(
        "compare fares at Corrie Bay with budget from january to march",
        "Variance of Fares: Actual against Budget 26, Q1 2026, for Corrie Bay."
    )]
    [InlineData(
        "contribution of Corrie Bay to the february fuel variance",
        "Variance of Fuel: Actual against Budget 26, February 2026, by yard, with each part's share of the variance, and what of it is Corrie Bay."
    )]
    [InlineData(
        "projected fuel at the year-to-date run rate compared with budget",
        "Fuel, carried forward to a year at the pace of these months: Actual against Budget 26, Q1 2026."
    )]
    public void Shorthand_is_read_as_meant(string text, string sentence) => Assert.Equal(sentence, Say(FirstReader.Read(text)));

    [Theory]
    [InlineData("staff turnover")]
    [InlineData("breakdowns by yard")]
    public void What_only_sounds_like_a_figure_is_refused(string text) =>
        Assert.Equal(ReadingOutcome.CannotAnswer, FirstReader.Read(text).Outcome);
}
