using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Small books with figures worked out by hand.</summary>
public sealed class WorkedExamples
{
    private static readonly Period Jan = new(2026, 1),
        Feb = new(2026, 2),
        Mar = new(2026, 3);
    private static readonly Side Budget = new(SideKind.Version, "budget-26");

    private static Question On(FigureKind kind, string code, Period from, Period to, params Side[] bases)
    {
        var plain = Question.About(new FigureRef(kind, code), new PeriodSpan(from, to));
        return bases.Length > 0 ? plain.Against(bases) : plain;
    }

    private static Tabulation Tabulate(SmallBook small, Question question) =>
        SmallBook.Now(new Tabulator(small.Book(), small.Facts()).Tabulate(question, CancellationToken.None));

    private static Answer Answer(SmallBook small, Question question, Materiality? limits = null) =>
        SmallBook.Now(new Answerer(small.Book(limits), small.Facts()).Answer(question, CancellationToken.None));

    private static GridValue Total(Tabulation table, ColumnKind kind) => table.Grid.Value(table.Grid.Total, kind);

    private static SmallBook TwoMonths() =>
        new SmallBook()
            .Add(1, Jan, "FARES", "N1", 1000m, "R1")
            .Add(1, Feb, "FARES", "N1", 1200m, "R1")
            .Add(1, Jan, "FUEL", "N1", -300m, "R1")
            .Add(1, Feb, "FUEL", "N1", -500m, "R1")
            .Add(2, Jan, "FARES", "N1", 1100m, "R1")
            .Add(2, Feb, "FARES", "N1", 1100m, "R1")
            .Add(2, Jan, "FUEL", "N1", -320m, "R1")
            .Add(2, Feb, "FUEL", "N1", -320m, "R1");

    [Fact]
    public void A_cost_is_shown_positive_and_its_overrun_is_unfavourable()
    {
        var table = Tabulate(TwoMonths(), On(FigureKind.Account, "FUEL", Jan, Feb, Budget));
        Assert.Equal(
            (800m, 640m, -160m, -25m, "U"),
            (
                Total(table, ColumnKind.Subject).Number,
                Total(table, ColumnKind.Base).Number,
                Total(table, ColumnKind.Variance).Number,
                Total(table, ColumnKind.Percent).Number,
                Total(table, ColumnKind.Mark).Mark
            )
        );
    }

    [Fact]
    public void A_result_takes_income_and_costs_together()
    {
        var table = Tabulate(TwoMonths(), On(FigureKind.Measure, "result", Jan, Feb, Budget));
        Assert.Equal(
            (1400m, 1560m, -160m),
            (
                Total(table, ColumnKind.Subject).Number,
                Total(table, ColumnKind.Base).Number,
                Total(table, ColumnKind.Variance).Number
            )
        );
    }

    [Fact]
    public void A_margin_is_recomputed_and_differs_in_points()
    {
        var table = Tabulate(TwoMonths(), On(FigureKind.Measure, "margin-percent", Jan, Feb, Budget));
        // 1,400 of 2,200 against 1,560 of 2,200.
        Assert.Equal(63.636364m, Total(table, ColumnKind.Subject).Number);
        Assert.Equal(-7.272727m, Total(table, ColumnKind.Variance).Number);
        Assert.Equal("U", Total(table, ColumnKind.Mark).Mark);
        Assert.DoesNotContain(table.Grid.Columns, c => c.Kind == ColumnKind.Percent);
    }

    [Fact]
    public void A_balance_is_the_sum_of_all_movements_so_far_and_never_of_balances()
    {
        var small = new SmallBook()
            .Add(1, Jan, "CASH", "N1", -100m)
            .Add(1, Feb, "CASH", "N1", -50m)
            .Add(1, Mar, "CASH", "S1", 30m);
        Assert.Equal(120m, Total(Tabulate(small, On(FigureKind.Account, "CASH", Mar, Mar)), ColumnKind.Subject).Number);
        var byMonth = Tabulate(
            small,
            On(FigureKind.Account, "CASH", Jan, Mar).Laid(l => l with { Rows = [Breakdown.ByTime(TimeGrain.Month)] })
        );
        Assert.Equal([100m, 150m, 120m], byMonth.Grid.Parts().Select(r => byMonth.Grid.Value(r, ColumnKind.Subject).Number));
        Assert.Equal(120m, Total(byMonth, ColumnKind.Subject).Number);
    }

    private static SmallBook TwoMonthsOfHeads() =>
        new SmallBook()
            .Add(1, Jan, "HEADS", "N1", 10m)
            .Add(1, Jan, "HEADS", "S1", 4m)
            .Add(1, Feb, "HEADS", "N1", 14m)
            .Add(1, Feb, "HEADS", "S1", 4m);

    [Theory]
    [InlineData(null, 18, 14, 4)]
    [InlineData(RowStatistic.Average, 16, 12, 4)]
    public void Heads_add_over_entities_and_never_over_months(RowStatistic? named, int total, int north, int south)
    {
        var table = Tabulate(
            TwoMonthsOfHeads(),
            On(FigureKind.Account, "HEADS", Jan, Feb)
                .Laid(l => l with { Rows = [Breakdown.By("entity", "Yard")] })
                .Asking(of => of with { Statistic = named })
        );
        Assert.Equal(total, Total(table, ColumnKind.Subject).Number);
        Assert.Equal([north, south], table.Grid.Parts().Select(r => table.Grid.Value(r, ColumnKind.Subject).Number));
    }

    [Fact]
    public void Heads_stand_at_each_month_end_and_a_month_without_them_takes_the_one_before()
    {
        var small = TwoMonthsOfHeads().Add(1, Mar, "FARES", "N1", 1m);
        var byMonth = Tabulate(
            small,
            On(FigureKind.Account, "HEADS", Jan, Feb).Laid(l => l with { Rows = [Breakdown.ByTime(TimeGrain.Month)] })
        );
        Assert.Equal([14m, 18m], byMonth.Grid.Parts().Select(r => byMonth.Grid.Value(r, ColumnKind.Subject).Number));
        var late = Tabulate(small, On(FigureKind.Account, "HEADS", Jan, Mar));
        Assert.Equal(18m, Total(late, ColumnKind.Subject).Number);
        Assert.Contains("Heads of Actual is known up to February 2026, which is shown.", late.Notes);
    }

    /// <summary>320 of wages in two months over 16 heads on average are 20, and not 320 over the 18 of the last month.</summary>
    [Fact]
    public void What_is_spent_on_a_head_is_spent_on_those_of_the_average_month()
    {
        var small = TwoMonthsOfHeads().Add(1, Jan, "CREW", "N1", -100m).Add(1, Feb, "CREW", "N1", -220m);
        Assert.Equal(
            20m,
            Total(
                Tabulate(small, On(FigureKind.Measure, Bearing.Core.Books.Book.Per("a:CREW", "a:HEADS").Code, Jan, Feb)),
                ColumnKind.Subject
            ).Number
        );
    }

    [Fact]
    public void A_ratio_whose_parts_stand_in_different_companies_is_refused_and_no_zero()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FUEL", "N1", -100m)
            .Add(2, Jan, "FUEL", "N1", -90m)
            .Add(1, Jan, "TRIPS", "S1", 4m)
            .Add(2, Jan, "TRIPS", "S1", 5m);
        var question = On(FigureKind.Measure, "fuel-each", Jan, Jan, Budget)
            .In(s => s with { Filters = [new Filter("entity", ["S1"])] });
        Assert.StartsWith(
            "Nothing of Fuel is kept for Corrie Bay",
            Assert.Throws<CannotAnswerException>(() => Tabulate(small, question)).Message,
            StringComparison.Ordinal
        );
        Assert.Equal(25m, Total(Tabulate(small, question.In(s => s with { Filters = [] })), ColumnKind.Subject).Number);
    }

    [Fact]
    public void A_calculated_line_is_shown_between_its_rows_and_enters_no_sum()
    {
        var small = TwoMonths().Add(1, Jan, "RENT", "N1", -100m).Add(2, Jan, "RENT", "N1", -90m);
        var grid = Tabulate(
            small,
            On(FigureKind.Measure, "result", Jan, Feb, Budget).Laid(l => l with { Rows = [Breakdown.By("account")] })
        ).Grid;
        Assert.Equal(["Income", "Direct costs", "Margin", "Overheads", "Result"], grid.Rows.Select(r => r.Label));
        Assert.Equal(RowKind.Calculated, grid.Rows[2].Kind);
        Assert.Equal(1400m, grid.Value(grid.Rows[2], ColumnKind.Subject).Number);
        Assert.Equal(1300m, grid.Value(grid.Total, ColumnKind.Subject).Number);
    }

    [Fact]
    public void Percent_against_zero_or_an_opposite_base_is_not_meaningful()
    {
        var small = new SmallBook()
            .Add(1, Jan, "RENT", "N1", -50m)
            .Add(2, Jan, "RENT", "N1", 0m)
            .Add(1, Jan, "FARES", "N1", 10m)
            .Add(2, Jan, "FARES", "N1", -10m);
        foreach (var account in new[] { "RENT", "FARES" })
            Assert.Equal(
                Absence.NotMeaningful,
                Total(Tabulate(small, On(FigureKind.Account, account, Jan, Jan, Budget)), ColumnKind.Percent).Absence
            );
    }

    [Fact]
    public void Inside_coverage_a_blank_is_zero_and_a_full_variance()
    {
        var table = Tabulate(TwoMonths().Add(1, Feb, "RENT", "N1", -70m), On(FigureKind.Account, "RENT", Jan, Feb, Budget));
        Assert.Equal(
            (70m, 0m, -70m),
            (
                Total(table, ColumnKind.Subject).Number,
                Total(table, ColumnKind.Base).Number,
                Total(table, ColumnKind.Variance).Number
            )
        );
    }

    [Fact]
    public void Only_periods_that_both_sides_cover_are_compared_and_that_is_said()
    {
        var small = TwoMonths().Add(1, Mar, "FARES", "N1", 5000m, "R1");
        var table = Tabulate(small, On(FigureKind.Account, "FARES", Jan, Mar, Budget));
        Assert.Equal(2200m, Total(table, ColumnKind.Subject).Number);
        Assert.Contains("Budget 26", Assert.Single(table.Notes), StringComparison.Ordinal);
    }

    [Fact]
    public void A_dimension_that_the_budget_does_not_keep_shows_no_variance_below_the_total_and_none_at_all_by_itself()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FUEL", "N1", -60m, "R1", "V1")
            .Add(1, Jan, "FUEL", "N1", -40m, "R1", "V2")
            .Add(2, Jan, "FUEL", "N1", -80m, "R1");
        var grid = Tabulate(
            small,
            On(FigureKind.Account, "FUEL", Jan, Jan, Budget)
                .Laid(l => l with { Rows = [Breakdown.By("entity", "Yard"), Breakdown.By("vessel")] })
        ).Grid;
        var alone = Assert.Throws<CannotAnswerException>(() =>
            Tabulate(
                small,
                On(FigureKind.Account, "FUEL", Jan, Jan, Budget).Laid(l => l with { Rows = [Breakdown.By("vessel")] })
            )
        );
        Assert.Contains("does not keep vessels apart", alone.Message, StringComparison.Ordinal);
        Assert.Equal(-20m, grid.Value(grid.Total, ColumnKind.Variance).Number);
        Assert.All(grid.Rows.Where(r => r.Members.Any(m => m.Dimension == "vessel")), r =>
            Assert.Equal(Absence.NotKept, grid.Value(r, ColumnKind.Variance).Absence)
        );
    }

    [Fact]
    public void Prior_year_is_actual_of_the_same_fiscal_months_a_year_before()
    {
        var small = new SmallBook(7).Add(1, new(2025, 3), "FARES", "N1", 100m).Add(1, new(2026, 3), "FARES", "N1", 130m);
        var table = Tabulate(small, On(FigureKind.Account, "FARES", new(2026, 3), new(2026, 3), Side.PriorYear));
        Assert.Equal(
            (130m, 100m, 30m, "F"),
            (
                Total(table, ColumnKind.Subject).Number,
                Total(table, ColumnKind.Base).Number,
                Total(table, ColumnKind.Variance).Number,
                Total(table, ColumnKind.Mark).Mark
            )
        );
    }

    [Fact]
    public void A_ranking_keeps_the_largest_and_gathers_the_rest()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 10m)
            .Add(1, Jan, "FARES", "N2", 40m)
            .Add(1, Jan, "FARES", "S1", 30m)
            .Add(1, Jan, "FARES", "S2", 20m);
        var grid = Tabulate(
            small,
            On(FigureKind.Account, "FARES", Jan, Jan)
                .Laid(l => l with { Rows = [Breakdown.By("entity", "Yard")], Ranking = new(2, RankBy.Value) })
        ).Grid;
        Assert.Equal(["Birkhaven", "Corrie Bay", "Other (2)", "Fares"], grid.Rows.Select(r => r.Label));
        Assert.Equal(30m, grid.Value(grid.Rows[2], ColumnKind.Subject).Number);
    }

    [Fact]
    public void Different_units_have_no_total() =>
        Assert.Throws<CannotAnswerException>(() =>
        {
            var small = TwoMonths();
            var book = new Book(
                small.Book().Definition,
                1,
                SmallBook.Members.Select(m =>
                    m.Code == "FARES"
                        ? m with
                        {
                            Account = new(AccountType.Statistic, OverTime.Sum, GoodDirection.None, "boxes"),
                        }
                        : m
                )
            );
            SmallBook.Now(
                new Tabulator(book, small.Facts()).Tabulate(On(FigureKind.Account, "INC", Jan, Jan), CancellationToken.None)
            );
        });

    [Fact]
    public void Drivers_find_the_one_account_at_the_one_place()
    {
        var small = new SmallBook();
        foreach (var entity in new[] { "N1", "N2", "S1", "S2" })
        foreach (var (account, amount) in new[] { ("FARES", 1000m), ("FREIGHT", 500m), ("FUEL", -300m), ("CREW", -400m) })
            small
                .Add(1, Jan, account, entity, amount - (account == "FUEL" && entity == "S1" ? 150m : 0m), "R1")
                .Add(2, Jan, account, entity, amount, "R1");
        var report = SmallBook.Now(
            new DriverSearch(small.Book(), small.Facts()).Find(
                On(FigureKind.Measure, "result", Jan, Jan, Budget),
                CancellationToken.None
            )
        )!;
        var driver = Assert.Single(report.Drivers);
        Assert.Equal(-150m, driver.Variance);
        Assert.Equal(
            ["FUEL", "S1"],
            driver.Below.Select(b => b.Member.Code).Append(driver.Member.Code).Order(StringComparer.Ordinal)
        );
        Assert.Equal(0m, report.Rest);
    }

    [Fact]
    public void A_cost_that_came_a_month_early_is_told_as_timing()
    {
        var small = TwoMonths().Add(1, Jan, "RENT", "N1", -90m).Add(2, Feb, "RENT", "N1", -90m);
        var answer = Answer(small, On(FigureKind.Account, "RENT", Jan, Jan, Budget) with { Kind = new Kind.Why(false, null) });
        Assert.Contains(answer.Commentary, s =>
            s.Role == SentenceRole.Timing && s.Text.Contains("February 2026", StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("FARES", 1200, 1000, "above", "favourable")]
    [InlineData("FARES", 800, 1000, "below", "unfavourable")]
    [InlineData("FUEL", -1200, -1000, "above", "unfavourable")]
    [InlineData("FUEL", -800, -1000, "below", ", favourable")]
    public void Direction_words_follow_from_sign_and_account_type(
        string account,
        int actual,
        int budget,
        string direction,
        string effect
    )
    {
        var small = new SmallBook().Add(1, Jan, account, "N1", actual).Add(2, Jan, account, "N1", budget);
        var headline = Answer(small, On(FigureKind.Account, account, Jan, Jan, Budget)).Headline;
        Assert.Contains($"{direction} Budget 26", headline, StringComparison.Ordinal);
        Assert.EndsWith($"{effect}.", headline, StringComparison.Ordinal);
    }

    [Fact]
    public void Every_figure_of_the_commentary_stands_in_its_cells()
    {
        var small = TwoMonths();
        var answer = Answer(small, On(FigureKind.Measure, "result", Feb, Feb, Budget) with { Kind = new Kind.Why(false, null) });
        foreach (
            var figure in answer
                .Commentary.SelectMany(s => s.Segments)
                .Where(s => s is { Slice: not null, Column: "subject" or "variance" })
        )
        {
            var slice = figure.Slice!;
            var table = Tabulate(
                small,
                Question.About(slice.Figure, slice.Span).Against(Budget).In(s => s with { Filters = slice.Filters })
            );
            var shown = Total(table, figure.Column == "subject" ? ColumnKind.Subject : ColumnKind.Variance).Number;
            Assert.Equal(figure.Exact, shown);
        }
    }

    [Fact]
    public void Under_the_threshold_no_comment_is_due()
    {
        var answer = Answer(TwoMonths(), On(FigureKind.Account, "FARES", Feb, Feb, Budget), new Materiality(1_000m, 5m));
        Assert.Contains(answer.Commentary, s => s.Role == SentenceRole.Threshold);
    }

    [Fact]
    public void Offsetting_parts_are_pointed_out()
    {
        var small = new SmallBook()
            .Add(1, Jan, "FARES", "N1", 1500m)
            .Add(1, Jan, "FARES", "S1", 500m)
            .Add(2, Jan, "FARES", "N1", 1000m)
            .Add(2, Jan, "FARES", "S1", 1000m);
        var answer = Answer(
            small,
            On(FigureKind.Account, "FARES", Jan, Jan, Budget).Laid(l => l with { Rows = [Breakdown.By("entity", "Yard")] })
        );
        Assert.Contains(answer.Notes, n => n.Contains("opposite directions", StringComparison.Ordinal));
    }

    [Fact]
    public void The_total_ties_out_to_its_lines()
    {
        var answer = Answer(TwoMonths(), On(FigureKind.Measure, "result", Jan, Feb, Budget));
        Assert.Equal((TieOutState.Ties, 1400m, 4L), (answer.TieOut.State, answer.TieOut.Lines, answer.TieOut.Count));
    }

    [Fact]
    public void Slices_read_back_as_what_was_written()
    {
        var slice = new Slice(
            Side.PriorPeriod with
            {
                Version = "3",
            },
            new PeriodSpan(Jan, Mar),
            new(FigureKind.Account, "A;1,2=3"),
            [new("entity", ["N 1", "ö@x"]), new("route", ["R1"], true)]
        );
        Assert.Equal(slice.ToString(), Slice.Parse(slice.ToString()).ToString());
        Assert.Throws<FormatException>(() => Slice.Parse("nonsense"));
    }
}
