using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Words of the trade and how people put them together; the current period is March 2026, plans cover all of
/// 2026.</summary>
public sealed class FinanceWordsTests
{
    private static readonly Book Book = Fill().Book();
    internal static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static SmallBook Fill()
    {
        var small = new SmallBook();
        for (var month = 0; month < 15; month++)
            foreach (var yard in new[] { "N1", "N2", "S1", "S2" })
                small
                    .Add(1, new Period(2025, 1).AddMonths(month), "FARES", yard, 500m, "R1", "V1")
                    .Add(1, new Period(2025, 1).AddMonths(month), "FUEL", yard, -200m, "R1", "V2");
        for (var month = 1; month <= 12; month++)
            small.Add(2, new(2026, month), "FARES", "N1", 520m, "R1").Add(3, new(2026, month), "FARES", "N1", 510m, "R1");
        return small;
    }

    internal static string Sentence(string text) =>
        FirstReader.Read(text) is var read && read.Outcome == ReadingOutcome.Understood
            ? read.Reading!.Sentence
            : $"{read.Outcome}: {read.Because}{string.Join(" / ", read.Choices.Select(c => c.Means))}";

    [Theory]
    // Words that stand for each other, in whole names of figures.
    [InlineData("sales in march", "Income: Actual, March 2026.")]
    [InlineData("turnover in march", "Income: Actual, March 2026.")]
    [InlineData("direct expenditure in march", "Direct costs: Actual, March 2026.")]
    [InlineData("gross income in march", "Margin: Actual, March 2026.")]
    // What kind of figure it is adds nothing to its name.
    [InlineData("fuel cost in march", "Fuel: Actual, March 2026.")]
    [InlineData("cost of fuel in march", "Fuel: Actual, March 2026.")]
    [InlineData("cost of fuel per trip in march", "Fuel per trip: Actual, March 2026.")]
    // One in percent of the other.
    [InlineData("fuel as % of fares in march", "Fuel in % of fares: Actual, March 2026.")]
    [InlineData(
        "direct costs as a share of income by yard in march",
        "Direct costs in % of income: Actual, March 2026, by yard."
    )]
    // Growth is since a year ago; a plan alone, or one against another, is asked about as a whole.
    [InlineData(
        "which yard's fares grew the most in march",
        "Variance of Fares: Actual against Prior year, March 2026, by yard, the 10 most favourable."
    )]
    [InlineData("fares forecast vs budget", "Variance of Fares: Forecast 3+9 against Budget 26, 2026.")]
    [InlineData("compare budget to forecast for fares", "Variance of Fares: Forecast 3+9 against Budget 26, 2026.")]
    [InlineData("fares forecast versus budget for Q4", "Variance of Fares: Forecast 3+9 against Budget 26, Q4 2026.")]
    [InlineData(
        "fares forecast versus budget for the rest of the year by month",
        "Variance of Fares: Forecast 3+9 against Budget 26, April 2026 to December 2026, by month."
    )]
    [InlineData("is fares on budget in march", "Variance of Fares: Actual against Budget 26, March 2026.")]
    [InlineData("how is Aldermouth doing in march", "Variance of Result: Actual against Budget 26, March 2026, for Aldermouth.")]
    // Each other.
    [InlineData(
        "Aldermouth vs Birkhaven fares by month",
        "Fares: Actual, Q1 2026, for Aldermouth and Birkhaven, by yard, then month."
    )]
    [InlineData("compare North and South on result in march", "Result: Actual, March 2026, for North and South, by region.")]
    [InlineData(
        "month over month change of fares since december",
        "Growth of Fares: Actual against Month before, December 2025 to March 2026, by month."
    )]
    [InlineData(
        "bridge fares from last year to this year by yard",
        "Bridge of Fares from Prior year to Actual, Q1 2026, by yard."
    )]
    // What is ranked without rows has the usual ones; what is said as each stands outside.
    [InlineData("biggest cost in march", "Costs: Actual, March 2026, by account, the 10 largest.")]
    [InlineData(
        "top 2 accounts of costs for each yard in march",
        "Costs: Actual, March 2026, by yard, then account, the 2 largest within each."
    )]
    [InlineData(
        "best and worst 2 yards by fares versus budget in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the 2 first and the 2 last."
    )]
    [InlineData(
        "who missed budget on fares in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData("a breakdown of fares by yard in march", "Fares: Actual, March 2026, by yard.")]
    [InlineData("summary of fuel in march", "Fuel: Actual, March 2026.")]
    // Only an order was asked for: every row stays.
    [InlineData("fares by yard in march, largest first", "Fares: Actual, March 2026, by yard, the largest first.")]
    [InlineData("costs by account in march, smallest first", "Costs: Actual, March 2026, by account, the smallest first.")]
    [InlineData("fares by yard in march alphabetically", "Fares: Actual, March 2026, by yard, in order.")]
    [InlineData("fares by month, newest first", "Fares: Actual, Q1 2026, by month, in reverse order.")]
    [InlineData(
        "accounts sorted by variance in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, the largest first."
    )]
    [InlineData(
        "yards versus budget in march, worst first",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, the most unfavourable first."
    )]
    [InlineData("third largest cost account in march", "Costs: Actual, March 2026, by account, number 3 of the largest.")]
    [InlineData(
        "second worst yard versus budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, number 2 of the most unfavourable."
    )]
    // Lists of entries.
    [InlineData(
        "entries of fuel in march, oldest first",
        "Actual entries for Fuel, March 2026, sorted by posting date, earliest first."
    )]
    [InlineData(
        "date, text and amount of the fuel entries in march",
        "Actual entries for Fuel, March 2026, only posting date, text, amount."
    )]
    // A half year is its first one, and by it the months are gathered.
    [InlineData("half year result", "Result: Actual, H1 2026.")]
    [InlineData("fares by half year", "Fares: Actual, Q1 2026, by half.")]
    // Signs, nobody, and names that share a word.
    [InlineData("any yard with a negative result in march?", "Result: Actual, March 2026, by yard, only rows below zero.")]
    [InlineData("fares without a route in march", "Fares: Actual, March 2026, without any route.")]
    [InlineData("fares by reach in march", "Fares: Actual, March 2026, for Long Reach and Short Reach, by route.")]
    [InlineData("how did fares develop over the last 3 months", "Fares: Actual, January 2026 to March 2026, by month.")]
    [InlineData(
        "average fares per month at Aldermouth",
        "Fares: Actual, Q1 2026, for Aldermouth, by month, with the average of its months."
    )]
    [InlineData(
        "how many yards are below budget on fares in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, only rows lower than the base, counted."
    )]
    // Seasons, what stands beside, what includes its parts, what is old.
    [InlineData("fares last summer", "Fares: Actual, June 2025 to August 2025.")]
    [InlineData("fares in winter 2025 by month", "Fares: Actual, December 2025 to February 2026, by month.")]
    [InlineData("fares by yard in march, budget too", "Variance of Fares: Actual against Budget 26, March 2026, by yard.")]
    [InlineData("fares in march, last year too", "Variance of Fares: Actual against Prior year, March 2026.")]
    [InlineData("fares against budget and forecast", "Variance of Fares: Actual against Forecast 3+9 and Budget 26, Q1 2026.")]
    [InlineData("direct costs in march including fuel", "Direct costs: Actual, March 2026.")]
    [InlineData(
        "which accounts doubled since last year",
        "Variance of Result: Actual against Prior year, Q1 2026, by account, only rows at least 100% higher than the base."
    )]
    [InlineData(
        "the 2 yards with the largest drop in fares vs last year",
        "Variance of Fares: Actual against Prior year, Q1 2026, by yard, the 2 most unfavourable."
    )]
    [InlineData(
        "why did fares drop at Aldermouth in march",
        "What drives the variance of Fares: Actual against Budget 26, March 2026, for Aldermouth."
    )]
    [InlineData("now drop Aldermouth: fares by yard in march", "Fares: Actual, March 2026, without Aldermouth, by yard.")]
    [InlineData(
        "routes we spent more on than last year",
        "Variance of Costs: Actual against Prior year, Q1 2026, by route, the most unfavourable first, only rows higher than the base."
    )]
    [InlineData("fares by february", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData(
        "how much of the fuel budget was spent by february",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, January 2026 to February 2026."
    )]
    [InlineData(
        "how much of the fuel budget has gone",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, Q1 2026."
    )]
    [InlineData("most expensive yard per trip in march", "Costs per trip: Actual, March 2026, by yard, the 10 largest.")]
    [InlineData(
        "bridge from last year's to this year's fares ytd by yard",
        "Bridge of Fares from Prior year to Actual, Q1 2026, by yard."
    )]
    [InlineData(
        "postings of fuel over 50 in march with text and yard",
        "Actual entries for Fuel, March 2026, only rows of at least 50, only posting date, document, text, amount, entity."
    )]
    [InlineData(
        "ten latest postings of fuel",
        "Actual entries for Fuel, Q1 2026, the 10 first, sorted by posting date, latest first."
    )]
    public void Is_read_as_meant(string text, string sentence) =>
        Assert.Equal(sentence.Replace("January 2026 to March 2026", "Q1 2026", StringComparison.Ordinal), Sentence(text));

    [Theory]
    [InlineData("fares in francs", "The book has nothing in CHF.")]
    [InlineData("efficiency of fuel in march", "“efficiency” is not known")]
    [InlineData("cagr of fares", "“cagr” is not known")]
    [InlineData("fares without fares", "Nothing is left of Fares")]
    [InlineData("margin percent after fuel", "worked out from other figures")]
    public void What_cannot_be_is_refused_with_the_reason(string text, string because) =>
        Assert.Contains(because, FirstReader.Read(text).Because, StringComparison.Ordinal);

    /// <summary>However long a word is, only few letters may differ from what is offered in its place.</summary>
    [Theory]
    [InlineData("unfathomableness of fuel")]
    [InlineData("efficiency of fares", null)]
    [InlineData("aldrmuothe of fares", "Aldermouth of fares")]
    public void What_is_offered_for_an_unknown_word_is_near_to_it(string text, string? near = null) =>
        Assert.Equal(near is null ? [] : [near], FirstReader.Read(text).Nearest);

    /// <summary>The name itself is never beaten by a word that stands for another.</summary>
    [Fact]
    public void Names_win_over_words_that_stand_for_each_other() =>
        Gen.Int[0, SmallBook.Members.Length - 1]
            .Select(i => SmallBook.Members[i])
            .Where(m => m.Account is not null && m.Code is not ("CASH" or "HEADS" or "TRIPS"))
            .Sample(
                member => Assert.Equal(member.Code, FirstReader.Read($"{member.Name} in march 2026").Question!.Figure.Code),
                iter: 20
            );
}
