using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What the second reader makes of turns of a talk, asked of the small book. The current period is March 2026.</summary>
public sealed class TalkTests
{
    private static readonly SmallBook Small = SmallBook.Filled();
    private static readonly Book Book = Small.Book();
    private static readonly Reader Reader = new(Book, new BookWords(Book), Vocabulary.English);
    private static readonly ReadingWriter Writer = new(Book);

    private static ReadResult? Walk(params string[] texts)
    {
        var talk = Talk.New;
        foreach (var text in texts[..^1])
            talk = After(talk, text);
        return Reader.Read(texts[^1], talk);
    }

    private static Talk After(Talk talk, string text)
    {
        var read = Reader.Read(text, talk);
        Assert.True(
            read?.Question is not null,
            $"“{text}” is not read: {string.Join('\n', Reader.How(text, talk).TakeLast(3).SelectMany(s => s.Lines.Take(6)))}"
        );
        var answer = SmallBook.Now(
            new Answerer(Book, Small.Facts()).Answer(read.Question.ToKinds(), TestContext.Current.CancellationToken)
        );
        return new Talk(
            talk.Turns.Add(new Turn(answer.Question, answer.Table?.Grid, answer.Records) { Drivers = answer.Drivers })
        );
    }

    [Theory]
    [InlineData("fuel", "Fuel: Actual, Q1 2026.")]
    [InlineData("fuel in march versus budget by yard", "Variance of Fuel: Actual against Budget 26, March 2026, by yard.")]
    [InlineData("fuel from january to february", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("fuel since february by month", "Fuel: Actual, February 2026 to March 2026, by month.")]
    [InlineData("fuel costs without Aldermouth", "Fuel: Actual, Q1 2026, without Aldermouth.")]
    [InlineData(
        "which yards are over budget on fuel",
        "Variance of Fuel: Actual against Budget 26, Q1 2026, by yard, the most unfavourable first, only rows higher than the base."
    )]
    [InlineData("fuel per trip in march", "Fuel per trip: Actual, March 2026.")]
    [InlineData("top 2 yards by fuel", null)]
    [InlineData("how much of fuel is Aldermouth", null)]
    [InlineData("frobbed fuel", null)]
    [InlineData("fuel by frob", null)]
    public void A_question_of_its_own(string text, string? sentence) => Assert.Equal(sentence, Walk(text)?.Reading?.Sentence);

    [Theory]
    [InlineData("and in february?", "Variance of Fuel: Actual against Budget 26, February 2026, for North, by yard.")]
    [InlineData("rent", "Variance of Rent: Actual against Budget 26, March 2026, for North, by yard.")]
    [InlineData("by month", "Variance of Fuel: Actual against Budget 26, Q1 2026, for North, by month.")]
    [InlineData("vs last year", "Variance of Fuel: Actual against Prior year, March 2026, for North, by yard.")]
    [InlineData("and vs last year", "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026, for North, by yard.")]
    [InlineData("only the South", "Variance of Fuel: Actual against Budget 26, March 2026, for South, by yard.")]
    [InlineData(
        "without Aldermouth",
        "Variance of Fuel: Actual against Budget 26, March 2026, for North, without Aldermouth, by yard."
    )]
    [InlineData("the worst one", "Variance of Fuel: Actual against Budget 26, March 2026, for Aldermouth.")]
    [InlineData("the second one", "Variance of Fuel: Actual against Budget 26, March 2026, for Birkhaven.")]
    [InlineData("why", "What drives the variance of Fuel: Actual against Budget 26, March 2026, for North, by yard.")]
    [InlineData("show the entries", "Actual entries for Fuel, March 2026, for North.")]
    [InlineData("per trip", "Variance of Fuel per trip: Actual against Budget 26, March 2026, for North, by yard.")]
    [InlineData("drop the comparison", "Fuel: Actual, March 2026, for North, by yard.")]
    public void A_turn_changes_what_it_names_and_keeps_the_rest(string turn, string sentence) =>
        Assert.Equal(sentence, Walk("fuel in march at North versus budget by yard", turn)?.Reading?.Sentence);

    [Theory]
    [InlineData("show the entries for that month", "Actual entries for Fuel, January 2026.")]
    [InlineData("show the entries behind that month", "Actual entries for Fuel, January 2026.")]
    [InlineData("why that month", "What drives the variance of Fuel: Actual against Budget 26, January 2026.")]
    public void That_month_is_the_one_that_was_picked_out(string turn, string sentence) =>
        Assert.Equal(sentence, Walk("fuel by month, the largest", turn)?.Reading?.Sentence);

    [Fact]
    public void What_was_picked_out_is_left_out() =>
        Assert.Equal(
            "Fuel: Actual, Q1 2026, without Aldermouth, by yard.",
            Walk("fuel by yard, the largest", "without that yard", "all rows")?.Reading?.Sentence
        );

    [Theory]
    [InlineData("is it real")]
    [InlineData("is that actual")]
    public void A_yes_or_a_no_is_no_change_of_what_was_shown(string turn) =>
        Assert.Null(Walk("fuel in march versus budget by yard", turn));

    [Fact]
    public void What_was_kept_is_told()
    {
        var assumed = Walk("fuel in march at North versus budget by yard", "rent")!.Reading!.Assumed;
        Assert.Contains("kept from the turn before: March 2026; North; against Budget 26; by yard", assumed);
    }

    private static readonly string[] Openings =
    [
        "fuel by yard",
        "fuel in march versus budget",
        "income by month versus budget",
        "crew wages at North, the 2 largest yards",
    ];

    private static readonly string[] Turns = ["in february", "rent", "versus last year", "in thousands"];

    [Fact]
    public void A_turn_changes_nothing_that_it_does_not_name() =>
        Gen.Select(Pick.One(Openings), Pick.One(Turns))
            .Sample(
                (opening, turn) =>
                {
                    var talk = After(Talk.New, opening);
                    var before = talk.Last!.Question;
                    var read = Reader.Read(turn, talk);
                    if (read?.Question is null)
                        return;
                    var after = read.Question.ToKinds();
                    if (turn != "in february")
                        Assert.Equal(before.Scope.Spans, after.Scope.Spans);
                    if (turn != "rent")
                        Assert.Equal(before.Scope.Figure, after.Scope.Figure);
                    if (turn != "versus last year")
                        Assert.Equal(before.Scope.Bases, after.Scope.Bases);
                    Assert.Equal(before.Scope.Filters, after.Scope.Filters);
                    if (turn is not "rent")
                        Assert.Equal(before.Layout.Rows, after.Layout.Rows);
                },
                iter: 60
            );

    private static readonly string[] Restricting =
    [
        "fuel by yard without Aldermouth",
        "fuel versus budget by yard over 20",
        "top 2 yards versus budget on fuel",
        "fuel at North in february",
        "fuel per trip by yard",
        "fuel by yard, largest first",
        "which yards are over budget on fuel",
    ];

    /// <summary>Every word of these says something; taken out, it leaves another question or none.</summary>
    [Fact]
    public void Taking_a_word_out_changes_the_question()
    {
        foreach (var text in Restricting)
        {
            var whole = Reader.Read(text, Talk.New)?.Question;
            if (whole is null)
                continue;
            var words = text.Split(' ');
            for (var i = 0; i < words.Length; i++)
                if (
                    words[i]
                    is "without"
                        or "Aldermouth"
                        or "over"
                        or "20"
                        or "2"
                        or "North"
                        or "february"
                        or "per"
                        or "largest"
                        or "which"
                )
                    Assert.NotEqual(whole, Reader.Read(string.Join(' ', words.Where((_, at) => at != i)), Talk.New)?.Question);
        }
    }

    [Fact]
    public void Garbage_is_no_question_and_breaks_nothing() =>
        Gen.String[Gen.Char[" abcdefgh,.?%-0123456789éß\u0301\u200d"], 0, 120]
            .Sample(text => Reader.Read(text, After(Talk.New, "fuel by yard")) is null or { Reading: not null }, iter: 100);

    [Fact]
    public void The_same_talk_gives_the_same_question_each_time()
    {
        string[] talk = ["fuel versus budget by yard", "and in february", "the worst one", "why"];
        Assert.Equal(Walk(talk)?.Question, Walk(talk)?.Question);
    }
}
