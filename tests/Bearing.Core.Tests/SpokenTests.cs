using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Questions as they are spoken, mailed, or put by people whose first language is another. The current month is March
/// 2026.</summary>
public sealed class SpokenTests
{
    private static readonly Book Book = SmallBook.Filled().Book();

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static string Say(ReadResult result) =>
        result.Question is { } question
            ? new ReadingWriter(Book).Sentence(question)
            : $"{result.Outcome}: {result.Because}{string.Join(" / ", result.Choices.Select(c => c.Means))}";

    private const string FuelByYard = "Variance of Fuel: Actual against Budget 26, March 2026, by yard.";

    [Theory]
    [InlineData("okay so fuel for march against budget split by yard")]
    [InlineData("um can you give me fuel against budget for each yard in march")]
    [InlineData("Hi team, I am preparing the board pack. Could you send me fuel vs budget by yard for March? Thanks, Mara")]
    [InlineData("Hi, for tomorrow's meeting I need fuel vs budget by yard, March.")]
    [InlineData("Kind reminder: I still need fuel vs budget by yard for March.")]
    [InlineData("FYI we need fuel vs budget by yard in March")]
    [InlineData("For slide 4: fuel vs budget by yard, March. Best regards, Jo Vale")]
    [InlineData("Please to show the fuel of March against the budget for every yard")]
    [InlineData("How is situation of fuel versus budget in the yards in March?")]
    [InlineData("fuel after yard, budget and actual, March")]
    [InlineData("fuel in march by individual yard vs budget")]
    public void Manners_of_asking_change_nothing(string text) => Assert.Equal(FuelByYard, Say(FirstReader.Read(text)));

    [Fact]
    public void What_leads_to_a_request_is_told_as_not_read() =>
        Assert.Contains(FirstReader.Read("The auditors have come. Could you send me fuel by yard?").Reading!.Assumed, a =>
            a.Contains("The auditors have come", StringComparison.Ordinal)
        );

    [Theory]
    // What names something of the book is part of what is asked.
    [InlineData("Fares fell in March. Could you send me fuel by yard?", "fuel by yard")]
    [InlineData("If diesel doubles, could you show me fuel by yard?", "fuel by yard")]
    public void A_lead_that_may_matter_is_not_passed_over(string text, string without) =>
        Assert.NotEqual(Say(FirstReader.Read(without)), Say(FirstReader.Read(text)));

    [Theory]
    [InlineData("the same for fuel", "same")]
    [InlineData("what explains its shortfall", "its")]
    [InlineData("by yard instead", "instead")]
    [InlineData("only the ones over 5k", "ones")]
    [InlineData("how are they doing", "they")]
    public void What_points_to_an_answer_says_so_where_there_is_none(string text, string pointer) =>
        Assert.StartsWith(
            $"CannotAnswer: “{pointer}” speaks of an answer before",
            Say(FirstReader.Read(text)),
            StringComparison.Ordinal
        );

    [Theory]
    [InlineData("march only")]
    [InlineData("by yard")]
    [InlineData("Corrie Bay this year")]
    [InlineData("without Corrie Bay")]
    public void Where_no_figure_is_named_it_is_asked_for(string text)
    {
        var read = FirstReader.Read(text);
        Assert.Equal(ReadingOutcome.AsksBack, read.Outcome);
        Assert.Equal("No figure is named.", read.Because);
        Assert.Equal(
            ["Income", "Result", "Costs"],
            read.Choices.Select(c => Book.Figure(c.Question.Figure)!.Name)
                .Order(StringComparer.Ordinal)
                .OrderBy(n => n != "Income")
                .ThenBy(n => n != "Result")
        );
    }

    [Theory]
    [InlineData("march fuel versus")]
    [InlineData("fuel in march compared to")]
    public void A_comparison_with_nothing_asks_with_what(string text)
    {
        var read = FirstReader.Read(text);
        Assert.Equal((ReadingOutcome.AsksBack, "Nothing is named to compare with."), (read.Outcome, read.Because));
        Assert.Contains(read.Choices, c => c.Means.Contains("Budget 26", StringComparison.Ordinal));
        Assert.Contains(read.Choices, c => c.Means.Contains("Prior year", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("fuel by yard, cumulated until february", "Fuel: Actual, January 2026 to February 2026, by yard.")]
    [InlineData("cumulative fuel by yard in february", "Fuel: Actual, January 2026 to February 2026, by yard.")]
    [InlineData("cumulative fuel by month and yard", "Fuel: Actual, Q1 2026, by month, then yard, cumulative.")]
    [InlineData("fuel of february and of february of the last year", "Fuel: Actual, February 2026 and February 2025.")]
    [InlineData(
        "what happened to fuel between february and march",
        "What drives the variance of Fuel: Actual against February 2026, March 2026."
    )]
    [InlineData("fuel after rent", "Fuel less rent: Actual, Q1 2026.")]
    [InlineData("define fuel rate = fuel / trips, by yard, march", "Fuel per trip: Actual, March 2026, by yard.")]
    [InlineData(
        "if the last two months go on like that what would fuel be for a year",
        "Fuel, carried forward to a year at the pace of these months: Actual, February 2026 to March 2026."
    )]
    [InlineData("what is budgeted for fuel this year", "Fuel: Budget 26, 2026.")]
    [InlineData(
        "fuel by month for Corrie Bay and Dunlin Pier",
        "Fuel: Actual, Q1 2026, for Corrie Bay and Dunlin Pier, by month, then yard."
    )]
    [InlineData(
        "fuel: march, budget for march, march last year",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData(
        "fuel: march, march budget, march last year",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData("how did Corrie Bay do in march", "Result: Actual, March 2026, for Corrie Bay.")]
    [InlineData("adverts vs. bud. by yard, march", "CannotAnswer: “adverts” is not known in this book.")]
    [InlineData(
        "top 2 yards by income vs budget in march",
        "Variance of Income: Actual against Budget 26, March 2026, by yard, the 2 most favourable."
    )]
    [InlineData(
        "bottom 2 yards by income vs budget in march",
        "Variance of Income: Actual against Budget 26, March 2026, by yard, the 2 most unfavourable."
    )]
    [InlineData(
        "top 2 yards by income variance in march",
        "Variance of Income: Actual against Budget 26, March 2026, by yard, the 2 largest."
    )]
    [InlineData(
        "top 2 yards by fuel vs budget in march",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, the 2 largest."
    )]
    [InlineData(
        "how much of the fuel budget is not spent yet",
        "Fuel, what is left of the year's plan: Actual against Budget 26, Q1 2026."
    )]
    public void Is_read_as_meant(string text, string sentence) => Assert.Equal(sentence, Say(FirstReader.Read(text)));
}
