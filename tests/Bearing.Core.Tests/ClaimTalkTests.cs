using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What is claimed, judged or taken for granted in a turn, and entries in a talk, asked of the small book.</summary>
public sealed class ClaimTalkTests
{
    private static readonly SmallBook Small = SmallBook.Filled();
    private static readonly Book Book = Small.Book();
    private static readonly Reader Reader = new(Book, new BookWords(Book), Vocabulary.English);

    private static (string? Sentence, string? Headline) Last(params string[] texts)
    {
        var talk = Talk.New;
        (string?, string?) last = (null, null);
        foreach (var text in texts)
        {
            if (Reader.Read(text, talk) is not { Question: { } question } read)
                return (null, null);
            var answer = SmallBook.Now(
                new Answerer(Book, Small.Facts()).Answer(question.ToKinds(), TestContext.Current.CancellationToken)
            );
            last = (read.Reading?.Sentence, answer.Headline);
            talk = new Talk(
                talk.Turns.Add(new Turn(answer.Question, answer.Table?.Grid, answer.Records) { Drivers = answer.Drivers })
            );
        }
        return last;
    }

    [Theory]
    [InlineData("is that good or bad")]
    [InlineData("good or bad?")]
    public void Good_or_bad_says_which_of_the_two(string text)
    {
        var (sentence, headline) = Last("fuel versus budget", text);
        Assert.Equal("Variance of Fuel: Actual against Budget 26, Q1 2026.", sentence);
        Assert.Matches("^(Good|Bad)\\. Fuel ", headline);
    }

    [Theory]
    [InlineData("is that only late")]
    [InlineData("or is it just timing")]
    [InlineData("is it real or just a late booking")]
    public void Only_late_shows_the_year_by_month_and_says_whether_it_came_back(string text)
    {
        var (sentence, headline) = Last("fuel in february versus budget", text);
        Assert.Equal("Variance of Fuel: Actual against Budget 26, Q1 2026, by month.", sentence);
        Assert.Matches("^(Only late|Not made up so far|In part|Nothing is missing)", headline);
    }

    [Fact]
    public void Which_month_sticks_out_is_the_furthest_from_the_middle_one_and_why_asks_about_it()
    {
        var (sentence, headline) = Last("fuel by month", "which month sticks out");
        Assert.Equal("Fuel: Actual, Q1 2026, by month, the most unusual.", sentence);
        Assert.Matches("^Furthest from the usual is .+ 2026 with ", headline);
        var month = (headline ?? "").Split(" with ")[0].Replace("Furthest from the usual is ", "", StringComparison.Ordinal);
        Assert.Equal(
            $"What drives the variance of Fuel: Actual against Budget 26, {month}.",
            Last("fuel by month", "which month sticks out", "why").Sentence
        );
    }

    [Fact]
    public void What_sticks_out_does_so_among_all_of_them() =>
        Assert.Equal(
            "Variance of Fuel: Actual against Budget 26, Q1 2026, by month, the most unusual.",
            Last("fuel by month more than 1% over budget", "which month sticks out").Sentence
        );

    [Fact]
    public void Its_worst_month_is_that_of_the_row_that_came_first()
    {
        const string worst = "fuel versus budget, the 2 worst yards";
        var first = Last(worst).Headline!.Split("First comes ")[1].Split(' ')[0];
        Assert.Equal(
            $"Variance of Fuel: Actual against Budget 26, Q1 2026, for {first}, by month, the most unfavourable.",
            Last(worst, "its worst month").Sentence
        );
    }

    [Fact]
    public void Booked_twice_asks_for_the_journals_behind_what_was_shown() =>
        Assert.Equal(
            "Journals of February 2026 on Fuel: there more than once.",
            Last("fuel in february versus budget", "was anything in there booked twice?").Sentence
        );

    [Fact]
    public void Back_to_a_figure_takes_up_the_turn_that_was_about_it() =>
        Assert.Equal(
            "Fuel: Actual, February 2026, by yard.",
            Last("fuel by yard", "rent in percent of fares", "back to fuel, in february").Sentence
        );

    [Fact]
    public void The_figure_that_a_ratio_is_made_of_is_no_longer_divided() =>
        Assert.Equal("Fuel: Actual, Q1 2026, by yard.", Last("fuel in percent of fares by yard", "now just fuel").Sentence);

    [Fact]
    public void Who_asks_why_it_is_so_is_told_where_it_is_not()
    {
        var (over, under) = (Last("why is fuel over budget").Headline, Last("why is fuel under budget").Headline);
        Assert.True(
            over!.StartsWith("That is not so", StringComparison.Ordinal)
                ^ under!.StartsWith("That is not so", StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("fuel entries in march", "Actual entries for Fuel, March 2026.")]
    [InlineData("the 3 largest fuel entries in march", "Actual entries for Fuel, March 2026, the 3 largest.")]
    [InlineData(
        "fuel entries in march for Aldermouth, newest first",
        "Actual entries for Fuel, March 2026, for Aldermouth, sorted by posting date, latest first."
    )]
    public void Entries_are_a_question_of_their_own(string text, string sentence) => Assert.Equal(sentence, Last(text).Sentence);

    [Fact]
    public void The_largest_of_entries_that_were_shown_is_one() =>
        Assert.Equal(
            "Actual entries for Fuel, March 2026, the largest.",
            Last("fuel entries in march", "the biggest one").Sentence
        );

    [Fact]
    public void Duplicates_among_entries_are_looked_for_in_their_journals() =>
        Assert.Equal(
            "Journals of March 2026 on Fuel: there more than once.",
            Last("fuel entries in march", "any duplicates in there").Sentence
        );

    [Fact]
    public void Years_beside_each_other_are_all_that_there_are() =>
        Assert.EndsWith("by year.", Last("fuel by year").Sentence!, StringComparison.Ordinal);
}
