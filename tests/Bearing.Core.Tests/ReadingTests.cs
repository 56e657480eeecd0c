using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Texts and what they are read as, said back in one sentence. The current period is March 2026.</summary>
public sealed class ReadingTests
{
    private static readonly SmallBook Small = Fill();
    private static readonly Book Book = Small.Book();
    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static SmallBook Fill()
    {
        var small = new SmallBook();
        for (var i = 0; i < 15; i++)
            foreach (var entity in new[] { "N1", "N2", "S1", "S2" })
            foreach (
                var (account, amount) in new[]
                {
                    ("FARES", 1000m),
                    ("FREIGHT", 400m),
                    ("FUEL", -300m),
                    ("CREW", -200m),
                    ("RENT", -100m),
                    ("TRIPS", 20m),
                }
            )
                small.Add(1, new Period(2025, 1).AddMonths(i), account, entity, amount + (i * 10m), "R1", "V1");
        for (var month = 1; month <= 12; month++)
            foreach (var entity in new[] { "N1", "N2", "S1", "S2" })
            {
                small
                    .Add(2, new(2026, month), "FARES", entity, 1100m, "R1")
                    .Add(2, new(2026, month), "FUEL", entity, -310m, "R1")
                    .Add(2, new(2026, month), "RENT", entity, -100m);
                small
                    .Add(3, new(2026, month), "FARES", entity, 1150m, "R1")
                    .Add(3, new(2026, month), "FUEL", entity, -330m, "R1");
            }
        return small;
    }

    private static ReadResult Read(string text, string? before = null) =>
        FirstReader.Read(text, before is null ? null : Before(before));

    private static Previous Before(string text)
    {
        var question = FirstReader.Read(text).Question!;
        var answer = SmallBook.Now(new Answerer(Book, Small.Facts()).Answer(question.ToKinds(), CancellationToken.None));
        return new Previous(FormOne.FromKinds(answer.Question), answer.Table?.Grid ?? new Grid([], [], "", 2));
    }

    [Theory]
    // Figures: name, other name, code, part, plural, typing error, the result.
    [InlineData("fuel in March", "Fuel: Actual, March 2026.")]
    [InlineData("bunkers in march 2026", "Fuel: Actual, March 2026.")]
    [InlineData("CREW for feb 2026", "Crew wages: Actual, February 2026.")]
    [InlineData("crew costs in Jan", "Crew wages: Actual, January 2026.")]
    [InlineData("crwe wages in january", "Crew wages: Actual, January 2026.")]
    [InlineData("how much did we earn from freights in Q1?", "Freight: Actual, Q1 2026.")]
    [InlineData("profit in march", "Result: Actual, March 2026.")]
    [InlineData("margin percent last quarter", "Margin percent: Actual, Q4 2025.")]
    // Periods.
    [InlineData("fares ytd", "Fares: Actual, Q1 2026.")]
    [InlineData("fares in 2025", "Fares: Actual, 2025.")]
    [InlineData("fares last month", "Fares: Actual, March 2026.")]
    [InlineData("fares november", "Fares: Actual, November 2025.")]
    [InlineData("fares from november 2025 to february 2026", "Fares: Actual, November 2025 to February 2026.")]
    [InlineData("fares between november 2025 and february 2026", "Fares: Actual, November 2025 to February 2026.")]
    [InlineData("fares january to march", "Fares: Actual, Q1 2026.")]
    [InlineData("fares first half 2025", "Fares: Actual, H1 2025.")]
    [InlineData("fares 2026-02", "Fares: Actual, February 2026.")]
    [InlineData("fares feb-26", "Fares: Actual, February 2026.")]
    [InlineData("fares since november 2025", "Fares: Actual, November 2025 to March 2026.")]
    [InlineData("cash at the end of march", "Cash: Actual, March 2026.")]
    // Scenarios and comparisons.
    [InlineData("why is the result below last year?", "What drives the variance of Result: Actual against Prior year, Q1 2026.")]
    [InlineData("fuel more expensive than planned in march", "Variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData(
        "bridge from budget to forecast for the result in june 2026",
        "Bridge of Result from Budget 26 to Forecast 3+9, June 2026."
    )]
    [InlineData("fares vs budget in march", "Variance of Fares: Actual against Budget 26, March 2026.")]
    [InlineData(
        "fares against plan and last year for march",
        "Variance of Fares: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData("did fuel exceed budget in february", "Variance of Fuel: Actual against Budget 26, February 2026.")]
    [InlineData("forecast versus budget for fares in june 2026", "Variance of Fares: Forecast 3+9 against Budget 26, June 2026.")]
    [InlineData("budget for rent in april 2026", "Rent: Budget 26, April 2026.")]
    [InlineData("fares in march compared with february", "Variance of Fares: Actual against February 2026, March 2026.")]
    [InlineData("fares in march 2026 versus march 2025", "Variance of Fares: Actual against Prior year, March 2026.")]
    // Splits, filters, rankings, intents.
    [InlineData(
        "fares vs budget by region and account in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by region, then account."
    )]
    [InlineData("monthly fares at Corrie Bay in 2025", "Fares: Actual, 2025, for Corrie Bay, by month.")]
    [InlineData(
        "fares for Aldermouth and Birkhaven in march",
        "Fares: Actual, March 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData("fares by yard excluding Dunlin in march", "Fares: Actual, March 2026, without Dunlin Pier, by yard.")]
    [InlineData("top 3 yards by fares in march", "Fares: Actual, March 2026, by yard, the 3 largest.")]
    [InlineData(
        "top 2 unfavourable variances by account in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, the 2 most unfavourable."
    )]
    [InlineData("why did fuel miss budget in march?", "What drives the variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData(
        "what drove the change in rent vs last year in march",
        "What drives the variance of Rent: Actual against Prior year, March 2026."
    )]
    [InlineData(
        "bridge of the result from budget by yard in march",
        "Bridge of Result from Budget 26 to Actual, March 2026, by yard."
    )]
    [InlineData("list the entries for rent at Birkhaven in march", "Actual entries for Rent, March 2026, for Birkhaven.")]
    [InlineData("fuel and rent in march", "Costs: Actual, March 2026, for Fuel and Rent, by account.")]
    public void Texts_are_read_as_meant(string text, string expected)
    {
        var result = Read(text);
        Assert.True(
            result.Outcome == ReadingOutcome.Understood,
            $"{result.Outcome}: {result.Because} {string.Join(" / ", result.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(expected, result.Reading!.Sentence);
        Assert.Empty(result.Reading.Unused);
    }

    [Theory]
    [InlineData(
        "why did fuel miss budget in march?",
        "and in february?",
        "What drives the variance of Fuel: Actual against Budget 26, February 2026."
    )]
    [InlineData(
        "fuel vs budget by yard in march",
        "by route instead",
        "Variance of Fuel: Actual against Budget 26, March 2026, by route."
    )]
    [InlineData(
        "fuel vs budget in march",
        "add last year",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData("fuel vs budget in march", "what about rent?", "Variance of Rent: Actual against Budget 26, March 2026.")]
    [InlineData(
        "fuel vs budget in march",
        "only Corrie Bay",
        "Variance of Fuel: Actual against Budget 26, March 2026, for Corrie Bay."
    )]
    [InlineData(
        "fuel vs budget in march",
        "without Corrie Bay",
        "Variance of Fuel: Actual against Budget 26, March 2026, without Corrie Bay."
    )]
    [InlineData("fuel vs budget in march", "why?", "What drives the variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("fuel vs budget in march", "versus the forecast", "Variance of Fuel: Actual against Forecast 3+9, March 2026.")]
    [InlineData("fuel vs budget by yard in march", "show the entries", "Actual entries for Fuel, March 2026, by yard.")]
    [InlineData("fuel by yard in march", "the second one", "Fuel: Actual, March 2026, for Birkhaven.")]
    [InlineData("fuel vs budget in march", "year to date", "Variance of Fuel: Actual against Budget 26, Q1 2026.")]
    public void Follow_ups_change_one_thing_and_keep_the_rest(string before, string text, string expected) =>
        Assert.Equal(expected, Read(text, before).Reading?.Sentence);

    [Fact]
    public void A_whole_question_does_not_inherit_the_one_before() =>
        Assert.Equal(
            "Rent: Actual, February 2026.",
            Read("how much was rent in february?", "fuel vs budget at Corrie Bay in march").Reading!.Sentence
        );

    [Fact]
    public void A_name_that_fits_two_members_is_asked_back_with_both()
    {
        var result = Read("fares on Reach in march");
        Assert.Equal(ReadingOutcome.AsksBack, result.Outcome);
        Assert.Equal(
            ["R1", "R2"],
            result.Choices.SelectMany(c => c.Question.Filters).SelectMany(f => f.Members).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void An_unknown_name_after_a_place_word_is_named_with_the_nearest_known()
    {
        var result = Read("fares at Corriebrae in march");
        Assert.Equal(ReadingOutcome.CannotAnswer, result.Outcome);
        Assert.Contains("Corriebrae", result.Because, StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_without_use_is_named() => Assert.Equal(["splendid"], Read("the fares in march splendid").Reading!.Unused);

    [Theory]
    [InlineData("")]
    [InlineData("?!,")]
    [InlineData("please show me the")]
    [InlineData("flibber glorp wizzle")]
    public void Nonsense_is_not_answered(string text)
    {
        var result = Read(text);
        Assert.Equal(ReadingOutcome.CannotAnswer, result.Outcome);
        Assert.NotEmpty(result.Because!);
    }

    [Fact]
    public void A_question_of_ten_thousand_characters_is_turned_away_with_the_limit() =>
        Assert.Contains("1,000", Read(new string('x', 10_000)).Because, StringComparison.Ordinal);

    [Fact]
    public void Politeness_changes_nothing() =>
        Assert.Equal(
            Read("fuel vs budget in march").Question,
            Read("could you please show me the fuel vs budget in march, thanks").Question
        );

    [Fact]
    public void Assumptions_are_listed()
    {
        var assumed = Read("why did we miss?").Reading!.Assumed;
        Assert.Contains(assumed, a => a.Contains("year to date", StringComparison.Ordinal));
        Assert.Contains(assumed, a => a.Contains("Budget 26", StringComparison.Ordinal));
    }

    [Fact]
    public void Parts_are_tied_to_the_words_that_caused_them()
    {
        var parts = Read("crew wages vs budget at Corrie in march").Reading!.Parts;
        Assert.Equal(
            ["crew wages", "march", "vs budget", "Corrie"],
            new[] { "figure", "period", "base", "filter" }.Select(p => parts.Single(x => x.Part == p).Words)
        );
    }

    private static readonly string[] Known =
    [
        .. Vocabulary
            .English.Phrases.Concat(SmallBook.Members.Select(m => m.Name))
            .Concat(["2026", "7", "q2", ",", "%", "(", "6+6", "ß", "\u202e", "=1+1"]),
    ];

    [Fact, Trait("Search", "long")]
    public void Reading_never_throws_and_is_the_same_twice() =>
        Gen.OneOf(Gen.Int[0, Known.Length - 1].Select(i => Known[i]), Gen.String[0, 12])
            .Array[0, 14]
            .Sample(
                words =>
                {
                    var text = string.Join(' ', words);
                    var (first, second) = (Read(text), Read(text));
                    Assert.Equal(first.Outcome, second.Outcome);
                    Assert.Equal(first.Question, second.Question);
                    Assert.Equal(first.Outcome == ReadingOutcome.Understood, first.Question is not null);
                    // Asking back may say what is missing.
                    if (first.Outcome != ReadingOutcome.AsksBack)
                        Assert.Equal(
                            first.Outcome is ReadingOutcome.CannotAnswer or ReadingOutcome.Help,
                            first.Because is not null
                        );
                },
                iter: 400
            );

    [Fact, Trait("Search", "long")]
    public void Whatever_is_understood_is_answered_or_refused_with_a_cause() =>
        Gen.Int[0, Known.Length - 1]
            .Select(i => Known[i])
            .Array[1, 8]
            .Sample(
                words =>
                {
                    if (Read(string.Join(' ', words)).Question is not { } question)
                        return;
                    try
                    {
                        Assert.NotEmpty(
                            SmallBook
                                .Now(new Answerer(Book, Small.Facts()).Answer(question.ToKinds(), CancellationToken.None))
                                .Headline
                        );
                    }
                    catch (CannotAnswerException e)
                    {
                        Assert.NotEmpty(e.Message);
                    }
                },
                iter: 300
            );

    [Theory]
    [InlineData("fu", "Fuel")]
    [InlineData("why did fares miss at cor", "Corrie Bay")]
    [InlineData("fares versus bud", "Budget 26")]
    [InlineData("crew wa", "Crew wages")]
    public void Typing_is_completed_with_the_books_own_words(string text, string expected)
    {
        var completions = new Completer(Book, new BookWords(Book), Vocabulary.English).Complete(text);
        Assert.Contains(completions.Items, i => i.Insert == expected);
        Assert.StartsWith(text[..completions.From], text, StringComparison.Ordinal);
    }
}
