using System.Collections.Immutable;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;
using static Bearing.Core.Tests.SmallBook;

namespace Bearing.Core.Tests;

/// <summary>Ratios whose rows are accounts: each line in percent of income or for each of something, and what it is divided by
/// counted once.</summary>
public sealed class DividedTests
{
    private static readonly Period March = new(2026, 3);

    /// <summary>March: income 1,000 of Aldermouth and 600 of Birkhaven; fuel 300 and 60, crew 200 and 240, rent 50 and 30; trips
    /// 10 and 20.</summary>
    private static readonly SmallBook Small = new SmallBook()
        .Add(ActualVersion, March, "FARES", "N1", 700m)
        .Add(ActualVersion, March, "FREIGHT", "N1", 300m)
        .Add(ActualVersion, March, "FARES", "N2", 600m)
        .Add(ActualVersion, March, "FUEL", "N1", -300m)
        .Add(ActualVersion, March, "FUEL", "N2", -60m)
        .Add(ActualVersion, March, "CREW", "N1", -200m)
        .Add(ActualVersion, March, "CREW", "N2", -240m)
        .Add(ActualVersion, March, "RENT", "N1", -50m)
        .Add(ActualVersion, March, "RENT", "N2", -30m)
        .Add(ActualVersion, March, "TRIPS", "N1", 10m)
        .Add(ActualVersion, March, "TRIPS", "N2", 20m);

    private static readonly string[] Accounts = ["FARES", "FUEL", "CREW", "RENT"],
        Yards = ["N1", "N2", "S1"];
    private static readonly Book Book = Small.Book();
    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static Answer Ask(string text)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood && read.Reading!.Unused.IsEmpty,
            $"{text}: {read.Because} {read.Reading?.Sentence} {string.Join(',', read.Reading?.Unused ?? [])}"
        );
        return Now(new Answerer(Book, Small.Facts()).Answer(read.Question!.ToKinds(), TestContext.Current.CancellationToken));
    }

    private static IEnumerable<string> Shown(Grid grid) =>
        grid.Rows.Select(r => FormattableString.Invariant($"{r.Label} {grid.Value(r, ColumnKind.Subject).Number:0.##}"));

    [Theory]
    // Of an income of 1,600: fuel 360, crew 440, and all direct costs 800.
    [InlineData(
        "direct costs by account in percent of income in march",
        "Fuel 22.5|Crew wages 27.5|Direct costs in % of income 50"
    )]
    // Of 30 trips.
    [InlineData("direct costs per trip by account in march", "Fuel 12|Crew wages 14.67|Direct costs per trip 26.67")]
    // Each yard is divided by its own income.
    [InlineData(
        "direct costs by yard and account as % of income in march",
        "North 50|Aldermouth 50|Fuel 30|Crew wages 20|Birkhaven 50|Fuel 10|Crew wages 40|Direct costs in % of income 50"
    )]
    // Rows that are not shown are divided by the same once, and not once for each.
    [InlineData(
        "costs in percent of income by account in march, top 1",
        "Crew wages 27.5|Other (2) 27.5|Costs in % of income 55"
    )]
    [InlineData("fuel / income by yard in march", "North 22.5|Aldermouth 30|Birkhaven 10|Fuel in % of income 22.5")]
    [InlineData("fuel to income ratio by yard in march", "North 22.5|Aldermouth 30|Birkhaven 10|Fuel in % of income 22.5")]
    [InlineData("income by yard in percent in march", "North 1600|Aldermouth 1000|Birkhaven 600|Income 1600")]
    // Figures made of three, by words, by signs and in parentheses: 1,600 less 360 less 440.
    [InlineData("income less fuel less crew wages in march", "Income less fuel less crew wages 800")]
    [InlineData(
        "income - fuel - crew wages by yard in march",
        "North 800|Aldermouth 500|Birkhaven 300|Income less fuel less crew wages 800"
    )]
    [InlineData(
        "(income - fuel) / income by yard in march",
        "North 77.5|Aldermouth 70|Birkhaven 90|Income less fuel in % of income 77.5"
    )]
    [InlineData("income less fuel and crew wages as % of income in march", "Income less fuel less crew wages in % of income 50")]
    [InlineData("fuel plus crew wages per trip in march", "Fuel plus crew wages per trip 26.67")]
    [InlineData("what is left of income after fuel in march", "Income less fuel 1240")]
    public void Every_line_is_divided(string text, string rows) => Assert.Equal(rows.Split('|'), Shown(Ask(text).Table!.Grid));

    /// <summary>The number of trips is good up, so more of them for each head is favourable, and few of them show their
    /// decimals.</summary>
    [Fact]
    public void A_ratio_of_counts_is_good_as_its_count_is()
    {
        var book = new SmallBook()
            .Add(ActualVersion, March.AddMonths(-12), "TRIPS", "N1", 10m)
            .Add(ActualVersion, March, "TRIPS", "N1", 20m)
            .Add(ActualVersion, March.AddMonths(-12), "HEADS", "N1", 1_000m)
            .Add(ActualVersion, March, "HEADS", "N1", 1_000m);
        var read = new FirstReader(book.Book(), new BookWords(book.Book()), Vocabulary.English).Read(
            "trips per head in march versus last year"
        );
        var grid = Now(
            new Answerer(book.Book(), book.Facts()).Answer(read.Question!.ToKinds(), TestContext.Current.CancellationToken)
        ).Table!.Grid;
        Assert.Equal(
            (0.02m, "F", 4),
            (grid.Value(grid.Total, ColumnKind.Subject).Number, grid.Value(grid.Total, ColumnKind.Mark).Mark, grid.Decimals)
        );
    }

    /// <summary>Codes come from outside too: one that names no two sums names nothing, however it is nested.</summary>
    [Theory]
    [InlineData("~less:a:INC/(a:FUEL")]
    [InlineData("~less:m:(~less:a:INC/a:FUEL)/a:FUEL/a:CREW")]
    [InlineData("~less:a:INC")]
    [InlineData("~less:a:INC/a:FUEL)(")]
    [InlineData("~plus:a:FUEL/a:FUEL")]
    [InlineData("~plus:a:INC/a:FUEL")]
    [InlineData("~before:result|")]
    [InlineData("~before:result|NONE")]
    [InlineData("~before:result|INC,DIR,OVH")]
    public void A_code_that_makes_no_figure_makes_none(string code) =>
        Assert.Null(Book.Figure(new FigureRef(FigureKind.Measure, code)));

    /// <summary>A code that nests without end is refused by its length before anything is worked out.</summary>
    [Fact]
    public void A_code_that_nests_without_end_makes_no_figure() =>
        Assert.Null(Book.Figure(new FigureRef(FigureKind.Measure, string.Concat(Enumerable.Repeat("~less:m:(", 5_000)))));

    [Fact]
    public void A_statement_in_percent_shows_income_as_the_whole_and_costs_by_size()
    {
        var grid = Ask("p&l in percent of income in march").Table!.Grid;
        Assert.Equal(["Income 100", "Direct costs 50", "Overheads 5", "Result in % of income 45"], Shown(grid));
        // Each row leads to what it shows, and income in percent of itself to income.
        Assert.Equal("INC", grid.Rows[0].Slice.Figure.Code);
        Assert.Equal("Direct costs in % of income", Book.Figure(grid.Rows[1].Slice.Figure)!.Name);
    }

    [Fact]
    public void Less_cost_for_each_trip_is_better_whichever_account_it_is()
    {
        var small = new SmallBook();
        foreach (var (version, fuel) in new[] { (ActualVersion, 90m), (BudgetVersion, 100m) })
            small
                .Add(version, March, "FUEL", "N1", -fuel)
                .Add(version, March, "CREW", "N1", -100m - fuel)
                .Add(version, March, "TRIPS", "N1", 10m);
        var book = small.Book();
        var read = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(
            "direct costs per trip by account in march versus budget"
        );
        var grid = Now(
            new Answerer(book, small.Facts()).Answer(read.Question!.ToKinds(), TestContext.Current.CancellationToken)
        ).Table!.Grid;
        Assert.Equal(["F", "F", "F"], grid.Rows.Select(r => grid.Value(r, ColumnKind.Mark).Mark));
    }

    [Fact]
    public void Accounts_stand_within_other_rows_and_not_around_them()
    {
        var refused = Assert.Throws<CannotAnswerException>(() =>
            Ask("direct costs in percent of income by account and yard in march")
        );
        Assert.Contains("Name the accounts last", refused.Message, StringComparison.Ordinal);
    }

    /// <summary>Lines of one kind in percent of one whole add up to the ratio of all, within every row they stand in.</summary>
    [Fact]
    public void The_lines_add_up_to_the_ratio_of_all() =>
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 2], Gen.Int[1, 900])
            .Array[4, 40]
            .Sample(draws =>
            {
                var small = new SmallBook()
                    .Add(ActualVersion, March, "FARES", "N1", 500m)
                    .Add(ActualVersion, March, "FARES", "N2", 500m)
                    .Add(ActualVersion, March, "FARES", "S1", 500m)
                    .Add(ActualVersion, March, Accounts[1], "N1", -100m);
                foreach (var (account, yard, amount) in draws)
                    small.Add(ActualVersion, March, Accounts[account], Yards[yard], account == 0 ? amount : -amount);
                var question = Question
                    .About(Book.PercentOf("m:" + Book.AllCosts, "a:INC"), PeriodSpan.Of(March))
                    .By(Breakdown.By("entity", "Yard"), Breakdown.By("account", "Account"))
                    .Laid(l => l with { Ranking = new Ranking(Ranking.All, RankBy.Name) });
                var grid = Now(new Tabulator(small.Book(), small.Facts()).Tabulate(question, CancellationToken.None)).Grid;
                decimal? Of(Row row) => grid.Value(row, ColumnKind.Subject).Number;
                foreach (var yard in grid.Rows.Where(r => r is { Level: 0, Kind: RowKind.Subtotal }))
                    Assert.InRange(
                        grid.Rows.Where(r => r.Level == 1 && r.Members[0].Code == yard.Members[0].Code).Sum(r => Of(r) ?? 0m)
                            - (Of(yard) ?? 0m),
                        -0.001m,
                        0.001m
                    );
            });
}
