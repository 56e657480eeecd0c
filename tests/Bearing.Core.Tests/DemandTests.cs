using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Store;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>
/// Texts that ask for several things, and what is taken over rows: averages, medians, counts, both ends, ranks within rows, what
/// is new. January to March 2026 are loaded for two yards, and January for a year before.
/// </summary>
public sealed class DemandTests
{
    private static readonly Period Jan = new(2026, 1);

    // Fuel by month: 30, 60, 0 at N1 and 10, 20, 90 at N2; crew 5 a month at N1; rent began in March; freight ended with 2025.
    private static readonly SmallBook Small = new SmallBook()
        .Add(1, Jan.AddMonths(-12), "FUEL", "N1", -20m)
        .Add(1, Jan.AddMonths(-12), "FREIGHT", "N1", 50m)
        .Add(1, Jan, "FUEL", "N1", -30m)
        .Add(1, Jan.AddMonths(1), "FUEL", "N1", -60m)
        .Add(1, Jan, "FUEL", "N2", -10m)
        .Add(1, Jan.AddMonths(1), "FUEL", "N2", -20m)
        .Add(1, Jan.AddMonths(2), "FUEL", "N2", -90m)
        .Add(1, Jan, "CREW", "N1", -5m)
        .Add(1, Jan.AddMonths(1), "CREW", "N1", -5m)
        .Add(1, Jan.AddMonths(2), "CREW", "N1", -5m)
        .Add(1, Jan.AddMonths(2), "RENT", "N2", -7m)
        .Add(1, Jan, "FARES", "N1", 400m)
        .Add(1, Jan, "FARES", "N2", 100m)
        .Add(2, Jan, "FUEL", "N1", -25m)
        .Add(2, Jan.AddMonths(1), "FUEL", "N1", -25m)
        .Add(2, Jan.AddMonths(2), "FUEL", "N1", -25m)
        .Add(2, Jan, "FUEL", "N2", -40m)
        .Add(2, Jan.AddMonths(1), "FUEL", "N2", -40m)
        .Add(2, Jan.AddMonths(2), "FUEL", "N2", -40m);

    private static readonly Book Book = Small.Book();
    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static Answer Ask(string text)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        return SmallBook.Now(new Answerer(Book, Small.Facts()).Answer(read.Question!.ToKinds(), CancellationToken.None));
    }

    private static decimal? Of(Answer answer, string label, ColumnKind column = ColumnKind.Subject) =>
        answer.Table!.Grid.Rows.Single(r => r.Label == label) is var row ? answer.Table.Grid.Value(row, column).Number : null;

    private static string[] Labels(Answer answer) => [.. answer.Table!.Grid.Rows.Select(r => r.Label)];

    [Theory]
    [InlineData("fuel by month and why", "fuel by month", "why")]
    [InlineData(
        "show fares by yard and list the 5 largest entries on fuel",
        "show fares by yard",
        "list the 5 largest entries on fuel"
    )]
    [InlineData("What was fuel in March? Why did it rise?", "What was fuel in March?", "Why did it rise?")]
    [InlineData(
        "list entries on fuel and how does fuel compare with budget",
        "list entries on fuel",
        "how does fuel compare with budget"
    )]
    // One demand, however it is said.
    [InlineData("fares and fuel by month", "fares and fuel by month")]
    [InlineData("please show and explain fuel versus budget", "please show and explain fuel versus budget")]
    [InlineData("who spent the most on fuel? top 2", "who spent the most on fuel? top 2")]
    [InlineData("Fuel by month. Why did it rise in February?", "Fuel by month.", "Why did it rise in February?")]
    [InlineData(
        "fuel outlook = actuals plus forecast. what fuel does that give",
        "fuel outlook = actuals plus forecast. what fuel does that give"
    )]
    [InlineData("fuel of the ops dept. in March", "fuel of the ops dept. in March")]
    [InlineData("Hello! Fuel in March. Thanks!", "Fuel in March.")]
    public void A_text_is_cut_into_what_it_demands(string text, params string[] demands) =>
        Assert.Equal(demands, FirstReader.Demands(text).Select(d => d.Text.Trim()));

    [Fact]
    public void A_period_said_once_holds_for_the_whole_sentence()
    {
        var demands = FirstReader.Demands("show fares by yard and list the entries on fuel in February 2026");
        Assert.Equal(
            ["Fares: Actual, February 2026, by yard.", "Actual entries for Fuel, February 2026."],
            demands.Select(d => FirstReader.Read(d.Text, null, d.Shared).Reading!.Sentence)
        );
    }

    [Fact]
    public void An_overview_is_made_of_demands_that_follow_up_on_each_other()
    {
        var demands = FirstReader.Demands("everything about fuel in 2026?");
        Assert.Equal(Vocabulary.English.Overview["overview"].Count, demands.Length);
        Assert.Equal("fuel in 2026 versus budget", demands[0].Text);
    }

    [Fact]
    public void An_overview_of_one_month_is_not_split_by_months() =>
        Assert.Equal(
            ["fuel in February 2026 versus budget", "why", "versus last year", "the 5 largest entries"],
            FirstReader.Demands("everything about fuel in February 2026?").Select(d => d.Text)
        );

    [Fact]
    public void What_is_unusual_is_told_against_budget_and_last_year_and_by_what_is_new() =>
        Assert.Equal(
            [
                "Variance of Result: Actual against Budget 26, March 2026, by account, the 3 first and the 3 last.",
                "Variance of Result: Actual against Prior year, March 2026, by account, the 3 first and the 3 last.",
                "Variance of Result: Actual against Prior year, March 2026, by account, only rows that are new: nothing in the base.",
            ],
            FirstReader.Demands("anything unusual in March?").Select(d => FirstReader.Read(d.Text).Reading!.Sentence)
        );

    [Fact]
    public void Cutting_never_throws_and_loses_no_word_that_carries_meaning() =>
        Gen.Int[0, Phrases.Length - 1]
            .Select(i => Phrases[i])
            .Array[1, 10]
            .Sample(
                words =>
                {
                    var text = string.Join(' ', words);
                    var whole = Words.Tokens(text).Select(t => t.Stem).Where(Carries).ToList();
                    Assert.Equal(
                        whole,
                        FirstReader.Demands(text).SelectMany(d => Words.Tokens(d.Text)).Select(t => t.Stem).Where(Carries)
                    );
                },
                iter: 300
            );

    private static readonly string[] Phrases =
    [
        "show",
        "fuel",
        "and",
        "why",
        "?",
        ".",
        "list",
        "entries",
        "by month",
        "versus budget",
        "march",
        "then",
        ";",
        "which yard",
        "fares",
        "!",
        "crew",
    ];

    private static bool Carries(string stem) =>
        Vocabulary
            .English.Find(stem)
            .All(e => e.Kind is not (MentionKind.And or MentionKind.Then or MentionKind.Filler or MentionKind.Place));

    [Theory]
    [InlineData("what can I ask?")]
    [InlineData("help")]
    public void Help_offers_questions_that_work(string text)
    {
        var help = FirstReader.Read(text);
        Assert.Equal(ReadingOutcome.Help, help.Outcome);
        Assert.NotEmpty(help.Nearest);
        Assert.All(help.Nearest, n => Assert.NotEqual(ReadingOutcome.CannotAnswer, FirstReader.Read(n).Outcome));
    }

    [Fact]
    public void Figures_that_fit_into_no_table_have_answers_of_their_own()
    {
        var read = FirstReader.Read("fares, fuel and result versus budget in January 2026");
        Assert.Equal(
            ["a:FARES", "a:FUEL", "m:result"],
            read.Also.Prepend(read.Question!).Select(q => (q.Figure.Kind == FigureKind.Account ? "a:" : "m:") + q.Figure.Code)
        );
    }

    [Fact]
    public void An_average_counts_every_month_of_the_period_and_the_median_too()
    {
        // N1: 30, 60 and nothing in March.
        Assert.Equal(30m, Of(Ask("average monthly fuel at Aldermouth"), "Average of 3 months"));
        Assert.Equal(30m, Of(Ask("median fuel per month at Aldermouth"), "Median of 3 months"));
        // All: 40, 80, 90 against 65 a month; the average falls 5 short, which costs profit.
        var against = Ask("average fuel per month versus budget");
        Assert.Equal(
            (70m, 65m, -5m),
            (
                Of(against, "Average of 3 months"),
                Of(against, "Average of 3 months", ColumnKind.Base),
                Of(against, "Average of 3 months", ColumnKind.Variance)
            )
        );
        Assert.Null(Of(Ask("median fuel per month versus budget"), "Median of 3 months", ColumnKind.Variance));
    }

    [Fact]
    public void Rows_are_counted_with_their_condition_and_the_first_are_named()
    {
        var missed = Ask("how many yards missed budget on fuel");
        Assert.Equal((1, 2), missed.Table!.Counted);
        Assert.StartsWith("1 of 2: Aldermouth.", missed.Headline, StringComparison.Ordinal);
        Assert.Equal((2, 2), Ask("number of yards with fuel above 80").Table!.Counted);
    }

    [Fact]
    public void Both_ends_of_a_ranking_are_kept_and_the_rest_adds_up()
    {
        var ends = Ask("top 1 and bottom 1 accounts by cost");
        Assert.Equal(["Fuel", "Rent", "Other (1)"], Labels(ends)[..3]);
        Assert.Equal(Of(ends, Labels(ends)[^1]), Of(ends, "Fuel") + Of(ends, "Rent") + Of(ends, "Other (1)"));
    }

    [Fact]
    public void A_ranking_within_each_row_keeps_every_row_and_adds_up_within_it()
    {
        var within = Ask("largest 1 account of costs in each yard").Table!.Grid;
        Assert.Equal(
            ["Aldermouth", "Fuel", "Other (1)", "Birkhaven", "Fuel", "Other (1)"],
            within.Rows[..^1].Select(r => r.Label).Where(l => l is not ("North" or "South"))
        );
        foreach (var yard in within.Rows.Where(r => r.Level == 0 && r.Kind == RowKind.Subtotal))
            Assert.Equal(
                within.Value(yard, ColumnKind.Subject).Number,
                within
                    .Rows.Where(r => r.Level == 1 && r.Members[0].Code == yard.Members[0].Code)
                    .Sum(r => within.Value(r, ColumnKind.Subject).Number)
            );
    }

    [Fact]
    public void New_and_ended_are_told_against_last_year()
    {
        Assert.Equal(["Rent"], Labels(Ask("which accounts of costs are new in march 2026 versus last month"))[..^1]);
        Assert.Equal(["Freight"], Labels(Ask("which accounts of revenue ended in january 2026 versus last year"))[..^1]);
    }

    [Theory]
    [InlineData("fuel as a percentage of fares in january 2026", 8)]
    [InlineData("cost of fuel as % of revenue in january 2026", 8)]
    public void One_sum_in_percent_of_another(string text, int percent) =>
        Assert.Equal(percent, Of(Ask(text), Ask(text).Table!.Figure.Name));

    [Theory]
    [InlineData("fuel in thousands", null, 1000, null)]
    [InlineData("fuel by month as a line chart", View.Line, null, null)]
    [InlineData("fuel as csv with one decimal", View.Csv, null, 1)]
    public void How_an_answer_is_shown_changes_no_figure(string text, View? view, int? scale, int? decimals)
    {
        var question = FirstReader.Read(text).Question!;
        Assert.Equal(new Display(view, scale, decimals), question.Display);
        var answerer = new Answerer(Book, Small.Facts());
        var plain = SmallBook.Now(answerer.Answer((question with { Display = null }).ToKinds(), CancellationToken.None));
        var shown = SmallBook.Now(answerer.Answer(question.ToKinds(), CancellationToken.None));
        Assert.Equal(plain.Table!.Grid.Rows.SelectMany(r => r.Values), shown.Table!.Grid.Rows.SelectMany(r => r.Values));
    }

    [Theory]
    [InlineData("entries with \"line 4\" in the text on fuel", "line 4")]
    [InlineData("entries on fuel mentioning diesel", "diesel")]
    public void Entries_are_found_by_their_text(string text, string held)
    {
        var answer = Ask(text);
        Assert.Equal(held, ((Kind.Entries)answer.Question.Kind).Text);
        Assert.All(answer.Entries!.Lines, l => Assert.Contains(held, l.Text, StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public void A_document_is_found_by_the_end_of_its_number() =>
        Assert.All(Ask("the document ending in 12").Entries!.Lines, l =>
            Assert.EndsWith("12", l.Document, StringComparison.Ordinal)
        );

    [Theory]
    [InlineData("entries on fuel versus budget", "a comparison")]
    [InlineData("average entries on fuel", "an average or a count")]
    public void What_a_list_of_entries_cannot_hold_is_refused(string text, string beside) =>
        Assert.Contains(beside, FirstReader.Read(text).Because, StringComparison.Ordinal);

    [Theory]
    [InlineData(
        "Aldermouth versus Birkhaven fuel in february 2026",
        "Fuel: Actual, February 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData(
        "compare fuel of Aldermouth and Birkhaven in february 2026",
        "Fuel: Actual, February 2026, for Aldermouth and Birkhaven, by yard."
    )]
    [InlineData(
        "month on month change in fuel since january 2026",
        "Growth of Fuel: Actual against Month before, Q1 2026, by month."
    )]
    [InlineData("turnover in march 2026", "Income: Actual, March 2026.")]
    [InlineData("direct expenses in march 2026", "Direct costs: Actual, March 2026.")]
    [InlineData("is the result on budget in february 2026", "Variance of Result: Actual against Budget 26, February 2026.")]
    public void Constructions_are_read_as_meant(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.Equal(sentence, read.Reading?.Sentence ?? read.Because);
    }

    [Fact]
    public void Local_amounts_are_summed_as_posted_and_others_are_refused_without_a_rate()
    {
        var lines = Small
            .Lines.Select(l =>
                l.Members[1] == SmallBook.Id(SmallBook.EntityDim, "N2")
                    ? l with
                    {
                        LocalAmount = l.Amount * 10m,
                        Currency = "CHF",
                    }
                    : l
            )
            .ToList();
        var facts = MemoryFacts.FromLines(new BookView(1), SmallBook.Dimensions, lines, "EUR");
        var francs = new Book(
            Book.Definition,
            Book.Edition,
            Book.Members.Select(m => m.Code == "N2" ? m with { Entity = new EntityTraits("CHF", 100m) } : m)
        );
        Question Fuel(string yard) =>
            FirstReader.Read($"fuel at {yard} in february 2026").Question!.ToKinds().In(s => s with { Currency = "CHF" });
        var answer = SmallBook.Now(new Answerer(francs, facts).Answer(Fuel("Birkhaven"), CancellationToken.None));
        Assert.Equal(
            (200m, "CHF"),
            (answer.Table!.Grid.Value(answer.Table.Grid.Total, ColumnKind.Subject).Number, answer.Table.Grid.Unit)
        );
        Assert.Throws<CannotAnswerException>(() =>
            SmallBook.Now(new Answerer(francs, facts).Answer(Fuel("Aldermouth"), CancellationToken.None))
        );
    }
}
