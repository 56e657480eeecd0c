using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Words that mean one thing alone and another beside what they stand with. The current month is March 2026.</summary>
public sealed class SenseTests
{
    private static readonly Book Book = SmallBook.Filled().Book();

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static string Say(ReadResult result) =>
        result.Question is { } question
            ? new ReadingWriter(Book).Sentence(question)
            : $"{result.Outcome}: {result.Because}{string.Join(" / ", result.Choices.Select(c => c.Means))}";

    [Theory]
    // What was used is what it came to; of a plan it is a part.
    [InlineData(
        "how much fuel have we used against budget this year by yard",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, by yard."
    )]
    [InlineData(
        "how much of the fuel budget have we used",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, Q1 2026."
    )]
    // In percent, what is up on the past is told as it moved.
    [InlineData("fuel up by how many percent on last year in march", "Growth of Fuel: Actual against Prior year, March 2026.")]
    [InlineData("how much has fuel increased on last year, % ytd", "Growth of Fuel: Actual against Prior year, Q1 2026.")]
    [InlineData(
        "by what percentage did fuel rise on last year in march",
        "Growth of Fuel: Actual against Prior year, March 2026."
    )]
    [InlineData("fuel up on last year in march by yard", "Variance of Fuel: Actual against Prior year, March 2026, by yard.")]
    // A month that is a verb.
    [InlineData("fuel by yard in march, this may be wrong", "Fuel: Actual, March 2026, by yard.")]
    [InlineData(
        "were we over budget on fuel in any month before march",
        "Variance of Fuel: Actual against Budget 26, January 2026 to February 2026, by month, the most unfavourable first, only rows higher than the base."
    )]
    [InlineData(
        "annualised fuel on the year to date vs the full-year budget",
        "Fuel, carried forward to a year at the pace of these months: Actual against Budget 26, Q1 2026."
    )]
    [InlineData(
        "fuel year to date vs the full-year budget",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, Q1 2026."
    )]
    // Compared with either of two.
    [InlineData(
        "compare fuel in march with budget and last year by yard",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026, by yard."
    )]
    [InlineData(
        "compare actual fuel in march with budget and last year",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData(
        "compare the forecast of fuel with budget for march",
        "Variance of Fuel: Forecast 3+9 against Budget 26, March 2026."
    )]
    [InlineData("cost per trip of fuel in march", "Fuel per trip: Actual, March 2026.")]
    // Time runs one way.
    [InlineData(
        "fuel: february against march, what moved",
        "What drives the variance of Fuel: Actual against February 2026, March 2026."
    )]
    [InlineData(
        "fuel: march against february, what moved",
        "What drives the variance of Fuel: Actual against February 2026, March 2026."
    )]
    [InlineData(
        "what happened to fuel from february to march",
        "What drives the variance of Fuel: Actual against February 2026, March 2026."
    )]
    [InlineData(
        "what happened to fuel from february to march against budget",
        "What drives the variance of Fuel: Actual against Budget 26, February 2026 to March 2026."
    )]
    // What stands behind a comparator is what is held against, unless two years are named.
    [InlineData("fuel in march versus last year", "Variance of Fuel: Actual against Prior year, March 2026.")]
    [InlineData(
        "income: how much of it is fares, in percent, march",
        "Income: Actual, March 2026, by account, with each part's share of the total, and what of it is Fares."
    )]
    [InlineData(
        "income by yard in march, budget in the next column",
        "Variance of Income: Actual against Budget 26, March 2026, by yard."
    )]
    [InlineData(
        "overheads at least 5k higher than last year by account, march",
        "Variance of Overheads: Actual against Prior year, March 2026, by account, only rows at least 5,000 higher than the base."
    )]
    [InlineData(
        "where will fuel land against budget",
        "Fuel, outlook for the year: actuals so far and the latest forecast after them: Actual against Budget 26, Q1 2026."
    )]
    public void Is_read_as_meant(string text, string sentence) => Assert.Equal(sentence, Say(FirstReader.Read(text)));

    [Theory]
    [InlineData("sick days of crew", "sick")]
    public void What_is_asked_of_has_to_be_known(string text, string unknown) =>
        Assert.StartsWith($"CannotAnswer: “{unknown}”", Say(FirstReader.Read(text)), StringComparison.Ordinal);

    [Fact]
    public void Two_months_of_nothing_ask_of_what()
    {
        var read = FirstReader.Read("compare february and march");
        Assert.Equal((ReadingOutcome.AsksBack, "No figure is named."), (read.Outcome, read.Because));
        Assert.Equal(["Income", "Result", "Costs"], read.Choices.Select(c => Book.Figure(c.Question.Figure)!.Name));
    }

    [Theory]
    [InlineData("trips of the freight", "Trips and Freight are figures of their own")]
    [InlineData("fares costs by yard", "Fares and Costs are figures of their own")]
    public void A_figure_is_not_kept_of_another(string text, string because)
    {
        var read = FirstReader.Read(text);
        Assert.Equal(ReadingOutcome.CannotAnswer, read.Outcome);
        Assert.StartsWith(because, read.Because, StringComparison.Ordinal);
    }

    [Theory]
    // Nobody is fastest at what the book does not time.
    [InlineData("who is the fastest crew")]
    [InlineData("fastest yard in march")]
    public void What_is_fastest_grows(string text) => Assert.NotEqual(ReadingOutcome.Understood, FirstReader.Read(text).Outcome);
}
