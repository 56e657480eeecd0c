using System.Collections.Frozen;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;
using Xunit;
using static Bearing.Core.Tests.SmallBook;

namespace Bearing.Core.Tests;

/// <summary>What stands in an answer beside its figures: what comes first, either side's mix, a verdict, and what a plan did not
/// plan.</summary>
public sealed class PlainAnswerTests
{
    private static readonly SmallBook Small = Fill();

    private static readonly Book Book = Small.Book();

    /// <summary>Fares of March in thousands: 30, 50, 10 and 10 for the four yards, 20 each a year before and in the budget;
    /// January has a loss. Trips are counted and not planned.</summary>
    private static SmallBook Fill()
    {
        var small = new SmallBook();
        var (january, march) = (new Period(2026, 1), new Period(2026, 3));
        foreach (var (entity, fares) in new[] { ("N1", 30m), ("N2", 50m), ("S1", 10m), ("S2", 10m) })
        {
            small
                .Add(ActualVersion, march, "FARES", entity, fares * 1000m)
                .Add(ActualVersion, march.AddMonths(-12), "FARES", entity, 20_000m)
                .Add(BudgetVersion, march, "FARES", entity, 20_000m);
            small.Add(ActualVersion, january, "RENT", entity, -5000m).Add(ActualVersion, march, "TRIPS", entity, 7m);
        }
        return small;
    }

    private static Answer Ask(string text, Book? book = null)
    {
        var read = new FirstReader(book ?? Book, new BookWords(book ?? Book), Vocabulary.English).Read(text);
        Assert.True(read.Question is not null, $"{text}: {read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}");
        return Now(
            new Answerer(book ?? Book, Small.Facts()).Answer(read.Question.ToKinds(), TestContext.Current.CancellationToken)
        );
    }

    [Theory]
    [InlineData(
        "which yard has the highest fares in march",
        "First comes Birkhaven with EUR 50k. Fares in March 2026 came to EUR 100k."
    )]
    [InlineData("budget fares in march", "Fares in March 2026 came to EUR 80k in Budget 26.")]
    [InlineData(
        "second largest yard by fares in march",
        "Number 2 is Aldermouth with EUR 30k. Fares in March 2026 came to EUR 100k."
    )]
    [InlineData("best yard by fares in march versus budget", "First comes Birkhaven with EUR 50k, EUR 30k above Budget 26. ")]
    [InlineData("was the result positive in every month", "No, in 1 of 2 months; not January 2026.")]
    [InlineData("was the result negative in any month", "Yes, 1 of 2: January 2026.")]
    public void The_headline_answers_what_was_asked(string text, string headline) =>
        Assert.StartsWith(headline, Ask(text).Headline, StringComparison.Ordinal);

    [Fact]
    public void A_mix_beside_last_year_shows_the_parts_of_both_totals()
    {
        var grid = Ask("mix of fares by yard in march versus last year").Table!.Grid;
        var shares = grid.Columns.Select((c, i) => (c, i)).Where(c => c.c.Kind == ColumnKind.Share).Select(c => c.i).ToList();
        var row = grid.Rows.Single(r => r.Label == "Birkhaven");
        // 50 of 100, 20 of 80, and 30 of the 20 that the total grew by.
        Assert.Equal([50m, 25m, 150m], shares.Select(i => row.Values[i].Number!.Value));
        Assert.Equal([100m, 100m, 100m], shares.Select(i => grid.Total.Values[i].Number!.Value));
    }

    [Fact]
    public void A_part_of_each_row_of_another_split_is_shown_within_it()
    {
        var grid = Ask("Birkhaven's share of fares by month in Q1 2026").Table!.Grid;
        var column = grid.Columns.Select((c, i) => (c, i)).Single(c => c.c.Title == "Share within month %").i;
        Assert.Equal(
            50m,
            grid.Rows.Single(r => r.Label == "Birkhaven" && r.Members.Any(m => m.Name == "March 2026")).Values[column].Number
        );
        Assert.Null(grid.Rows.Single(r => r.Label == "March 2026").Values[column].Number);
    }

    [Fact]
    public void What_a_plan_did_not_plan_is_not_held_against_nothing()
    {
        var refused = Assert.Throws<CannotAnswerException>(() => Ask("trips in march versus budget"));
        Assert.Contains("Budget 26 has no Trips for March 2026", refused.Message, StringComparison.Ordinal);
        Assert.Contains("versus last year", refused.Nearest);
    }

    [Fact]
    public void Where_a_plan_keeps_none_of_it_beside_one_that_does_the_one_is_told()
    {
        var small = SmallBook.Filled().Add(1, new Period(2026, 3), "TRIPS", "N1", 12m);
        var book = small.Book();
        book = new Book(book.Definition, 1, Members)
        {
            KeptAccounts = small
                .Lines.Select(l => (l.Version, RouteDim, l.Members[0]))
                .Distinct()
                .ToFrozenDictionary(k => k, _ => true),
        };
        var question = new FirstReader(book, new BookWords(book), Vocabulary.English)
            .Read("trips in march versus budget")
            .Question!;
        Assert.Contains(
            "Budget 26 keeps no trips",
            Assert
                .Throws<CannotAnswerException>(() =>
                    Now(new Answerer(book, small.Facts()).Answer(question.ToKinds(), TestContext.Current.CancellationToken))
                )
                .Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_revised_budget_is_meant_where_it_is_named_and_not_before()
    {
        var budget = Book.Scenario("budget-26")!;
        var both = new Book(
            Book.Definition with
            {
                Scenarios =
                [
                    .. Book.Definition.Scenarios,
                    budget with
                    {
                        Code = "revised-budget-26",
                        Name = "Revised budget 26",
                        Versions = [budget.Current with { Id = 9 }],
                    },
                ],
            },
            1,
            Members
        );
        Assert.Contains("Budget 26", Ask("fares in march versus budget", both).Headline, StringComparison.Ordinal);
        Assert.DoesNotContain("Revised", Ask("fares in march versus budget", both).Headline, StringComparison.Ordinal);
        Assert.Contains(
            "Revised budget 26",
            Ask("fares in march versus revised budget", both).Headline,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("how many fares did we have in march", "Fares is kept as an amount")]
    [InlineData("who entries in march", "who prepared")]
    [InlineData("fares per rent in march", "cannot be divided")]
    public void What_is_no_count_and_names_nobody_is_refused(string text, string because)
    {
        var read = new FirstReader(Book, new BookWords(Book), Vocabulary.English).Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }

    [Fact]
    public void A_word_that_was_corrected_is_said()
    {
        var read = new FirstReader(Book, new BookWords(Book), Vocabulary.English).Read("fraes in march");
        Assert.Contains("“fraes” read as Fares", read.Reading!.Assumed);
    }

    /// <summary>Wages are crew wages here, which is said; crew begins the name and needs no word.</summary>
    [Fact]
    public void A_name_known_by_a_word_that_it_does_not_begin_with_is_said()
    {
        var reader = new FirstReader(Book, new BookWords(Book), Vocabulary.English);
        Assert.Contains("“wages” read as Crew wages", reader.Read("wages in march").Reading!.Assumed);
        Assert.DoesNotContain(reader.Read("crew in march").Reading!.Assumed, a =>
            a.Contains("read as", StringComparison.Ordinal)
        );
    }

    /// <summary>What a figure cannot be divided by is named, can be taught where nobody knows it, and is replaced by what is
    /// counted.</summary>
    [Fact]
    public void What_stands_behind_per_is_named_and_replaced_by_what_is_counted()
    {
        var read = new FirstReader(Book, new BookWords(Book), Vocabulary.English).Read("fares per unicorn in march");
        Assert.Contains("unicorn", read.Because!, StringComparison.Ordinal);
        Assert.Equal(["unicorn"], read.Unknown);
        Assert.NotEmpty(read.Nearest);
        Assert.All(read.Nearest, n => Assert.StartsWith("fares per ", n, StringComparison.Ordinal));
    }

    /// <summary>A letter left out of a name changes no question, and is said.</summary>
    [Theory]
    [InlineData("Aldermouth")]
    [InlineData("Birkhaven")]
    [InlineData("Freight")]
    public void A_letter_left_out_is_read_as_the_name_and_said(string name)
    {
        var reader = new FirstReader(Book, new BookWords(Book), Vocabulary.English);
        var plain = reader.Read($"fares at {name} in march").Reading!.Sentence;
        for (var at = 1; at < name.Length; at++)
        {
            var typed = name.Remove(at, 1);
            // What is left may be a word of its own: "fright" is none other, and the name is offered.
            if (typed == "Fright")
            {
                Assert.Contains("fares at Freight in march", reader.Read($"fares at {typed} in march").Nearest);
                continue;
            }
            var read = reader.Read($"fares at {typed} in march").Reading!;
            Assert.Equal(plain, read.Sentence);
            Assert.Contains($"“{typed}” read as {name}", read.Assumed);
        }
    }

    [Theory]
    [InlineData("marchfares", "march fares")]
    [InlineData("aldermouthfares in march", "aldermouth fares in march")]
    public void Joined_words_are_read_like_two(string joined, string apart)
    {
        var reader = new FirstReader(Book, new BookWords(Book), Vocabulary.English);
        Assert.Equal(reader.Read(apart).Reading!.Sentence, reader.Read(joined).Reading?.Sentence);
    }

    [Theory]
    [InlineData("fares happiness in march", "happiness")]
    [InlineData("happiness of fares in march", "happiness")]
    public void A_word_that_nobody_knows_beside_a_figure_is_not_passed_over(string text, string word)
    {
        var read = new FirstReader(Book, new BookWords(Book), Vocabulary.English).Read(text);
        Assert.Equal(ReadingOutcome.CannotAnswer, read.Outcome);
        Assert.Contains(word, read.Unknown);
    }

    [Fact]
    public void Another_first_letter_makes_another_word_that_is_only_offered()
    {
        var read = new FirstReader(Book, new BookWords(Book), Vocabulary.English).Read("gares in march");
        Assert.Equal(ReadingOutcome.CannotAnswer, read.Outcome);
        Assert.Contains("Fares", string.Join(' ', read.Nearest) + read.Because, StringComparison.OrdinalIgnoreCase);
    }
}
