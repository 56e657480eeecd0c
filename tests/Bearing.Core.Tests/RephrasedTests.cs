using Bearing.Core.FirstReading;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What is said in other words is the same question, asked of the book of <see cref="FinanceWordsTests"/>.</summary>
public sealed class RephrasedTests
{
    private static readonly FirstReader FirstReader = FinanceWordsTests.FirstReader;

    private static string Sentence(string text) => FinanceWordsTests.Sentence(text);

    [Theory]
    // Amounts in words.
    [InlineData("fares by yard over 20k", "fares by yard over 20 thousand")]
    [InlineData("fares by yard over 500k", "fares by yard over half a million")]
    [InlineData("fares by yard over 200k", "fares by yard over 2 lakh")]
    [InlineData("fares by yard over 1000k", "fares by yard of more than a million")]
    [InlineData("fares 3% over budget by yard", "fares 3 % over budget by yard")]
    [InlineData("yards at least 10% below last year in fares", "yards 10% or more below last year in fares")]
    [InlineData("fares by yard over 20k", "fares by yard in excess of 20k")]
    // What stands beside.
    [InlineData("fares versus budget in march", "fares to budget in march")]
    [InlineData("fares versus budget in march", "fares in march and budget")]
    [InlineData("fares versus budget in march", "march fares, budget comparison")]
    [InlineData("fares versus budget in march", "fares in march beside the budget")]
    [InlineData("fares versus last year in march", "fares in march and the year before")]
    [InlineData("fares versus last year in march", "fares march and last year")]
    [InlineData("fares versus budget and forecast", "fares plus budget and forecast")]
    [InlineData("fuel versus budget by yard", "fuel: what did we plan and what did we spend, by yard")]
    [InlineData("fares against forecast", "fares against the projection")]
    // When.
    [InlineData("fares until february", "fares as of february")]
    [InlineData("fares until february by yard", "fares by yard up to february")]
    [InlineData("fares since january by month", "fares by month, from january")]
    [InlineData("fares in february", "fares over february")]
    [InlineData("fares of the last 2 months", "fares of the most recent 2 months")]
    [InlineData("fares in march 2026", "fares in march '26")]
    [InlineData("fares year to date", "fares for the year so far")]
    [InlineData("fares of march versus last year", "fares versus the same month last year")]
    // By what.
    [InlineData("fares by region", "fares on region level")]
    [InlineData("fares by region", "fares region wise")]
    [InlineData("fares by region", "fares, region split")]
    [InlineData("fares by region", "fares by territory")]
    [InlineData("fares per trip by yard", "fares for each trip by yard")]
    [InlineData("fares per trip", "fares by trip")]
    [InlineData("fuel as % of fares", "fuel % of fares")]
    [InlineData("journals in multiples of a thousand", "round journals")]
    // What moved.
    [InlineData("which yards grew in fares", "which yards increased in fares")]
    [InlineData("did fares grow in march", "did fares rise in march")]
    // What is only polite.
    [InlineData("fares by yard", "Hi team, fares by yard please, thanks a lot")]
    [InlineData("fares by yard", "quick question: fares by yard")]
    [InlineData("fares by yard in march", "FARES BY YARD IN MARCH")]
    public void Other_words_ask_the_same(string text, string otherwise) => Assert.Equal(Sentence(text), Sentence(otherwise));

    [Theory]
    // A slip of the pen in a plural, and one that would make two known words of one.
    [InlineData("entris of fuel in march", "Actual entries for Fuel, March 2026.")]
    [InlineData("overhads in march", "Overheads: Actual, March 2026.")]
    // The outlook of a part of the year, or against last year, is what the forecast holds.
    [InlineData("outlook for fares in the second half", "Fares: Forecast 3+9, H2 2026.")]
    [InlineData(
        "how much of the february budget is left for fares",
        "Variance of Fares: Actual against Budget 26, February 2026."
    )]
    // A mix is one of the parts of what is named.
    [InlineData(
        "mix of direct costs in march",
        "Direct costs: Actual, March 2026, by account, with each part's share of the total."
    )]
    [InlineData("did more trips run in march than in february", "Variance of Trips: Actual against February 2026, March 2026.")]
    public void Is_read_as_meant(string text, string sentence) => Assert.Equal(sentence, Sentence(text));

    [Fact]
    public void Whoever_asks_for_yes_or_no_sees_that_neither_is_told() =>
        Assert.Contains(FirstReader.Read("is it fares in march").Reading?.Assumed ?? [], a =>
            a.StartsWith("neither yes nor no", StringComparison.Ordinal)
        );

    [Fact]
    public void What_is_claimed_by_a_word_that_nobody_knows_is_not_answered_with_figures()
    {
        var read = FirstReader.Read("has every yard reported fares in march");
        Assert.Equal((ReadingOutcome.CannotAnswer, "reported"), (read.Outcome, Assert.Single(read.Unknown)));
    }

    [Theory]
    [InlineData("fares over 9999999999999999999999999999 billion by yard")]
    [InlineData("fares over 5 billion billion billion billion billion by yard")]
    [InlineData("fares over 99999999999999999999999999999999999999 thousand by yard")]
    [InlineData("fares over thousand million by yard")]
    [InlineData("fares, a grand total by yard")]
    public void Amounts_that_no_book_holds_end_in_an_answer(string text) =>
        Assert.True(Enum.IsDefined(FirstReader.Read(text).Outcome));

    [Fact]
    public void A_small_word_typed_as_a_name_is_one_that_the_book_lacks() =>
        Assert.Equal(["IT"], FirstReader.Read("IT costs in march").Unknown);
}
