using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What stands beside what: plans said with “with”, members and periods against each other, one of each, limits that
/// keep their side.</summary>
public sealed class BesideTests
{
    private static readonly Book Book = SmallBook.Filled().Book();
    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    [Theory]
    [InlineData("fares by month with budget", "Variance of Fares: Actual against Budget 26, Q1 2026, by month.")]
    [InlineData("fares ytd by yard with last year", "Variance of Fares: Actual against Prior year, Q1 2026, by yard.")]
    [InlineData("fares ytd vs last year ytd", "Variance of Fares: Actual against Prior year, Q1 2026.")]
    [InlineData("fares this year and last year", "Variance of Fares: Actual against Prior year, Q1 2026.")]
    [InlineData("fares for january and february combined", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData(
        "combined fares of Aldermouth and Birkhaven in march",
        "Fares: Actual, March 2026, for Aldermouth and Birkhaven."
    )]
    [InlineData("fares march over february", "Variance of Fares: Actual against February 2026, March 2026.")]
    [InlineData("was fuel in march above february", "Variance of Fuel: Actual against February 2026, March 2026.")]
    [InlineData(
        "fares last 2 months vs the 2 months before",
        "Variance of Fares: Actual against December 2025 to January 2026, February 2026 to March 2026."
    )]
    [InlineData(
        "compare Aldermouth to Birkhaven on fuel in march",
        "Fuel: Actual, March 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData("compare Aldermouth with the other yards on fuel in march", "Fuel: Actual, March 2026, by yard.")]
    [InlineData("compare the other yards with Aldermouth on fuel in march", "Fuel: Actual, March 2026, by yard.")]
    [InlineData("fuel in march, Aldermouth excluded, by yard", "Fuel: Actual, March 2026, without Aldermouth, by yard.")]
    [InlineData(
        "is the Aldermouth fuel higher than Birkhaven in march",
        "Fuel: Actual, March 2026, for Aldermouth and Birkhaven, by yard, and the first less the second."
    )]
    [InlineData(
        "accounts over budget by 5% and 1k or more in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows at least 5% higher than the base and at least 1,000 higher than the base."
    )]
    [InlineData(
        "largest variance of each yard in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, then account, the largest within each."
    )]
    [InlineData(
        "top 2 and bottom 2 accounts by variance in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, the 2 first and the 2 last."
    )]
    [InlineData("cheapest yard for fuel in march", "Fuel: Actual, March 2026, by yard, the 10 smallest.")]
    [InlineData("the most profitable yard in march", "Result: Actual, March 2026, by yard, the 10 largest.")]
    [InlineData("did we make our fares budget in march", "Variance of Fares: Actual against Budget 26, March 2026.")]
    [InlineData("P01-P03 fares", "Fares: Actual, Q1 2026.")]
    [InlineData("march fares by year", "Fares: Actual, March 2026 and March 2025.")]
    [InlineData("best month ever for fares", "Fares: Actual, January 2025 to March 2026, by month, the 10 largest.")]
    [InlineData("fares quarter on quarter growth in q1", "Growth of Fares: Actual against Q4 2025, Q1 2026.")]
    [InlineData("the ratio of fuel to fares in march", "Fuel in % of fares: Actual, March 2026.")]
    [InlineData("structure of income in march", "Income: Actual, March 2026, by account, with each part's share of the total.")]
    [InlineData(
        "yards with more than 10 entries in march",
        "Journals of March 2026, by entity, only those of at least 11 records in all."
    )]
    [InlineData(
        "yards with at least 10 entries in march",
        "Journals of March 2026, by entity, only those of at least 10 records in all."
    )]
    [InlineData(
        "was crew higher than fuel in march",
        "Direct costs: Actual, March 2026, for Crew wages and Fuel, by account, and the first less the second."
    )]
    [InlineData("cost per trip by yard in march, fuel only", "Fuel per trip: Actual, March 2026, by yard.")]
    [InlineData("only fuel: cost per trip by yard in march", "Fuel per trip: Actual, March 2026, by yard.")]
    [InlineData("fuel a trip by yard in march", "Fuel per trip: Actual, March 2026, by yard.")]
    [InlineData("budget minus actual of fuel in march", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("how far is fuel from its budget in march", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("fares by yard in march, with last year", "Variance of Fares: Actual against Prior year, March 2026, by yard.")]
    [InlineData("fares in march without Aldermouth (opened May 2024)", "Fares: Actual, March 2026, without Aldermouth.")]
    [InlineData(
        "fares by yard in march in percent of the total",
        "Fares: Actual, March 2026, by yard, with each part's share of the total."
    )]
    [InlineData("did fuel get more expensive in march", "Variance of Fuel: Actual against Prior year, March 2026.")]
    public void Is_read_as_meant(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    [Theory]
    [InlineData("march against the average of the last 3 months", "not held against the average")]
    [InlineData("fares for january and march combined", "Only months that follow each other")]
    [InlineData("outlook for fares next year", "has not begun")]
    [InlineData("best-selling captain in march", "captain")]
    [InlineData("how much is a trip worth", "worth")]
    [InlineData("fuel per kraken per kraken", "kraken")]
    [InlineData("which zanzel has the highest fuel", "zanzel")]
    [InlineData("zanzel as a percentage of fares", "zanzel")]
    public void What_cannot_be_said_is_named(string text, string because)
    {
        var read = FirstReader.Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }
}
