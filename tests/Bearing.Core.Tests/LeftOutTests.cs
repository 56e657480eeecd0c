using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What is left out and what is kept: members beside words that leave them out, rows by limits on either side, places
/// among their like, periods before and after.</summary>
public sealed class LeftOutTests
{
    private static readonly Book Book = SmallBook.Filled().Book();
    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    [Theory]
    [InlineData("fares in march bar Birkhaven")]
    [InlineData("fares in march save Birkhaven")]
    [InlineData("fares in march, Birkhaven out")]
    [InlineData("fares in march, Birkhaven aside")]
    [InlineData("fares in march, Birkhaven not counted")]
    [InlineData("fares in march, Birkhaven stripped out")]
    [InlineData("fares in march with Birkhaven taken off")]
    [InlineData("fares in march, Birkhaven excl")]
    [InlineData("fares in march; do not count Birkhaven")]
    [InlineData("fares in march for everything but Birkhaven")]
    [InlineData("fares in march with the exception of Birkhaven")]
    [InlineData("fares in march for everything except the Birkhaven")]
    public void A_name_beside_a_word_that_leaves_it_out_is_left_out(string text) =>
        Says(text, "Fares: Actual, March 2026, without Birkhaven.");

    [Theory]
    [InlineData(
        "cost accounts over budget by less than 1k in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows higher than the base and within 1,000 of the base."
    )]
    [InlineData(
        "cost accounts less than 1k over budget in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows higher than the base and within 1,000 of the base."
    )]
    [InlineData(
        "yards that missed the fares budget by less than 3% in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, only rows unfavourable and within 3% of the base."
    )]
    [InlineData(
        "cost accounts over budget by at least 2% but no more than 5% in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows at least 2% higher than the base and within 5% of the base."
    )]
    [InlineData(
        "costs march vs budget by account, hide variances under 500",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows that differ by at least 500."
    )]
    [InlineData(
        "largest favourable variances in march, top 2 accounts",
        "Variance of Result: Actual against Budget 26, March 2026, by account, the 2 most favourable."
    )]
    [InlineData(
        "which yard is closest to its fares budget in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the 10 smallest."
    )]
    public void A_limit_keeps_the_side_that_was_said(string text, string sentence) => Says(text, sentence);

    [Theory]
    [InlineData(
        "is Birkhaven the largest yard by fares in march",
        "Fares: Actual, March 2026, by yard, the largest first, and the place of Birkhaven."
    )]
    [InlineData(
        "how does Birkhaven rank on fares in march",
        "Fares: Actual, March 2026, by yard, the largest first, and the place of Birkhaven."
    )]
    [InlineData(
        "was march the best month for fares",
        "Fares: Actual, Q1 2026, by month, the largest first, and the place of March 2026."
    )]
    public void The_place_of_one_is_told_among_its_like(string text, string sentence) => Says(text, sentence);

    /// <summary>Fares fall from yard to yard: Aldermouth comes first and Birkhaven second; the amount is that of the
    /// row.</summary>
    [Theory]
    [InlineData("is Aldermouth the largest yard by fares in march", "Yes: Aldermouth is number 1 of 4, with EUR ")]
    [InlineData("is Birkhaven the largest yard by fares in march", "No: Birkhaven is number 2 of 4, with EUR ")]
    [InlineData("how does Birkhaven rank on fares in march", "Birkhaven is number 2 of 4, with EUR ")]
    public void The_place_comes_first_with_yes_or_no(string text, string begins)
    {
        var answer = Conversation.Answered(FirstReader.Read(text).Question!.ToKinds());
        Assert.StartsWith(begins, answer.Headline, StringComparison.Ordinal);
        var row = answer.Table!.Grid.Parts().First(r => r.Members[^1].Code == answer.Question.Of.Part!.Code);
        Assert.Equal(answer.Table.Grid.Value(row, Variance.ColumnKind.Subject).Number, answer.Commentary[0].Segments[1].Exact);
    }

    [Theory]
    [InlineData("fares before march", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData("fares after january", "Fares: Actual, February 2026 to March 2026.")]
    [InlineData("fares to end of february", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData("fares in the first two months of the year", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData("fares of the last full quarter", "Fares: Actual, Q1 2026.")]
    [InlineData("fares in month 2", "Fares: Actual, February 2026.")]
    [InlineData("fares 202602", "Fares: Actual, February 2026.")]
    [InlineData("fares this month last year", "Fares: Actual, March 2025.")]
    [InlineData("fares last fiscal year by quarter", "Fares: Actual, 2025, by quarter.")]
    [InlineData("fares growth from february to march", "Growth of Fares: Actual against February 2026, March 2026.")]
    [InlineData("compare q1 to q4 last year, fares", "Variance of Fares: Actual against Q4 2025, Q1 2026.")]
    [InlineData("march minus february, fares by yard", "Variance of Fares: Actual against February 2026, March 2026, by yard.")]
    [InlineData("has fuel gone up on last year in march", "Variance of Fuel: Actual against Prior year, March 2026.")]
    [InlineData("actual verses budget fares in march", "Variance of Fares: Actual against Budget 26, March 2026.")]
    public void A_time_is_the_one_that_was_said(string text, string sentence) => Says(text, sentence);

    [Theory]
    [InlineData("fares by month without february", "Months are not left out")]
    [InlineData("yards below average on fares in march", "not held against their average")]
    [InlineData("fares march vs q4", "not as long as each other")]
    [InlineData("reversed entries in march", "reversed")]
    [InlineData("fares from promotions in march", "promotion")]
    [InlineData("competitor fares in march", "competitor")]
    [InlineData("fares profit in march", "has none of its own")]
    [InlineData("stock turnover", "turned over")]
    public void What_would_answer_something_else_is_refused(string text, string because)
    {
        var read = FirstReader.Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.OrdinalIgnoreCase);
    }

    private static void Says(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }
}
