using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Questions as a controller of the demo group would type them, and how each is to be read. The current period is
/// September 2026.</summary>
public sealed class DemoQuestionsTests(DemoService demo)
{
    /// <summary>Question and reading, one pair on each line, written before they were tried.</summary>
    public static TheoryData<string, string> Written()
    {
        var data = new TheoryData<string, string>();
        foreach (var line in File.ReadAllLines(Path.Combine(Repository.Root, "tests", "fixtures", "demo", "questions.tsv")))
            data.Add(line.Split('\t')[0], line.Split('\t')[1]);
        return data;
    }

    [Theory]
    [InlineData("operating profit in September", "Operating profit: Actual, September 2026.")]
    [InlineData("what was our revenue last month", "Revenue: Actual, September 2026.")]
    [InlineData("revenue ytd vs budget", "Variance of Revenue: Actual against Budget 2026, January 2026 to September 2026.")]
    [InlineData("EBIT against plan for Q3", "Variance of Operating profit: Actual against Budget 2026, Q3 2026.")]
    [InlineData("how much did we spend on marine fuel in August 2026", "Marine fuel: Actual, August 2026.")]
    [InlineData("fuel costs by vessel in August 2026", "Fuel and energy: Actual, August 2026, by vessel.")]
    [InlineData("sailings by route in July 2026", "Sailings: Actual, July 2026, by route.")]
    [InlineData(
        "passengers versus last year by month in 2026",
        "Variance of Passengers: Actual against Prior year, 2026, by month."
    )]
    [InlineData("fuel per sailing by route in Q3 2026", "Fuel per sailing: Actual, Q3 2026, by route.")]
    [InlineData(
        "contribution margin by entity year to date",
        "Contribution margin: Actual, January 2026 to September 2026, by entity."
    )]
    [InlineData(
        "overheads of head office by account in September",
        "Overheads: Actual, September 2026, for Head Office, by account."
    )]
    [InlineData(
        "did crew overtime exceed budget in August?",
        "Variance of Crew overtime: Actual against Budget 2026, August 2026."
    )]
    [InlineData(
        "which entities beat budget in September?",
        "Variance of Operating profit: Actual against Budget 2026, September 2026, by entity, the most favourable first, only rows favourable."
    )]
    [InlineData("top 3 routes by revenue in August", "Revenue: Actual, August 2026, by route, the 3 largest.")]
    [InlineData(
        "worst 5 accounts against budget in September",
        "Variance of Operating profit: Actual against Budget 2026, September 2026, by account, the 5 most unfavourable."
    )]
    [InlineData(
        "bottom 3 entities by operating profit ytd",
        "Operating profit: Actual, January 2026 to September 2026, by entity, the 3 smallest."
    )]
    [InlineData(
        "revenue for Ormsay Line and Skelmar Ferries in H1",
        "Revenue: Actual, H1 2026, for Ormsay Line and Skelmar Ferries, by entity."
    )]
    [InlineData(
        "dry-dock May to June 2026 by month versus budget",
        "Variance of Dry-dock: Actual against Budget 2026, May 2026 to June 2026, by month."
    )]
    [InlineData(
        "why is consulting so high in september",
        "What drives the variance of Consulting: Actual against Budget 2026, September 2026."
    )]
    [InlineData(
        "what changed in terminal rent versus last month",
        "What drives the variance of Terminal rent: Actual against August 2026, September 2026."
    )]
    [InlineData(
        "show me the postings for consulting in September at head office",
        "Actual entries for Consulting, September 2026, for Head Office."
    )]
    [InlineData("entries for insurance recoveries in September 2026", "Actual entries for Insurance recoveries, September 2026.")]
    [InlineData(
        "forecast vs budget operating profit full year",
        "Variance of Operating profit: Forecast 6+6 against Budget 2026, 2026."
    )]
    [InlineData("forecast for revenue in december 2026", "Revenue: Forecast 6+6, December 2026.")]
    [InlineData("budget 2026 revenue by quarter", "Revenue: Budget 2026, 2026, by quarter.")]
    [InlineData("revenue by region and month in Q2 2026", "Revenue: Actual, Q2 2026, by region, then month.")]
    [InlineData(
        "operating profit bridge from last year to actual by entity, ytd",
        "Bridge of Operating profit from Prior year to Actual, January 2026 to September 2026, by entity."
    )]
    [InlineData("headcount in September", "Crew heads: Actual, September 2026.")]
    [InlineData("crew by route in August 2026", "Crew: Actual, August 2026, by route.")]
    [InlineData("fuel price in Q3 vs budget", "Variance of Fuel price per litre: Actual against Budget 2026, Q3 2026.")]
    [InlineData("freight revenue per month in 2025", "Freight revenue: Actual, 2025, by month.")]
    [InlineData("revenue 2025 versus 2024", "Variance of Revenue: Actual against Prior year, 2025.")]
    [InlineData("profit before tax in 2025", "Profit before tax: Actual, 2025.")]
    [InlineData("how did Venn Island Line do in August", "Operating profit: Actual, August 2026, for Venn Island Line.")]
    [InlineData("cash at the end of September", "Cash: Actual, September 2026.")]
    [InlineData("trade receivables by entity in September 2026", "Trade receivables: Actual, September 2026, by entity.")]
    [InlineData("revenue per passenger by route in July 2026", "Revenue per passenger: Actual, July 2026, by route.")]
    [InlineData(
        "bridge from budget to forecast for operating profit 2026",
        "Bridge of Operating profit from Budget 2026 to Forecast 6+6, 2026."
    )]
    [MemberData(nameof(Written))]
    public async Task Questions_are_read_as_meant_and_answered(string question, string reading)
    {
        var set = await demo.Ask(question);
        Assert.True(set.Outcome == "answered", $"{set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}");
        Assert.Equal(reading, set.Reading!.Sentence);
        Assert.Empty(set.Reading.Unused);
        Assert.NotEqual("differs", Assert.Single(set.Answers).TieOut.State);
    }
}
