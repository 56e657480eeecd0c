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

/// <summary>Rows over and under thresholds, shares, growth, cumulative months, yes and no: worked by hand.</summary>
public sealed class ConditionTests
{
    private static readonly Period Jan = new(2026, 1),
        Feb = new(2026, 2);

    private static readonly Side Budget = Side.Parse("budget-26");

    private static SmallBook Book() =>
        new SmallBook()
            .Add(1, Jan, "FUEL", "N1", -130m)
            .Add(1, Jan, "FUEL", "N2", -90m)
            .Add(1, Feb, "FUEL", "N1", -70m)
            .Add(1, Jan, "FARES", "N1", 300m)
            .Add(1, Feb, "FARES", "N1", 100m)
            .Add(2, Jan, "FUEL", "N1", -100m)
            .Add(2, Jan, "FUEL", "N2", -100m)
            .Add(2, Feb, "FUEL", "N1", -100m)
            .Add(2, Jan, "FARES", "N1", 280m)
            .Add(2, Feb, "FARES", "N1", 150m);

    private static Question On(string figure, Period from, Period to, params Side[] bases)
    {
        var plain = Question.About(
            figure[0] == '~' ? new FigureRef(FigureKind.Measure, figure) : new FigureRef(FigureKind.Account, figure),
            new PeriodSpan(from, to)
        );
        return bases.Length > 0 ? plain.Against(bases) : plain;
    }

    private static Tabulation Tabulate(Question question)
    {
        var book = Book();
        return Now(new Tabulator(book.Book(), book.Facts()).Tabulate(question, TestContext.Current.CancellationToken));
    }

    [Theory]
    [InlineData(ConditionOn.Percent, Direction.Over, 20, "Aldermouth")]
    [InlineData(ConditionOn.Percent, Direction.Under, 10, "Birkhaven")]
    [InlineData(ConditionOn.Amount, Direction.Against, 30, "Aldermouth")]
    [InlineData(ConditionOn.Amount, Direction.For, 1, "Birkhaven")]
    [InlineData(ConditionOn.Amount, Direction.Either, 10, "Aldermouth|Birkhaven")]
    [InlineData(ConditionOn.Amount, Direction.Over, 31, "")]
    public void Only_rows_that_meet_the_condition_are_shown_and_the_total_is_that_of_all(
        ConditionOn on,
        Direction direction,
        int limit,
        string rows
    )
    {
        var table = Tabulate(
            On("FUEL", Jan, Jan, Budget)
                .Laid(l => l with { Rows = [Breakdown.By("entity", "Yard")], Conditions = [new Condition(on, direction, limit)] })
        );
        Assert.Equal(rows, string.Join('|', table.Grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => r.Label)));
        Assert.Equal(220m, table.Grid.Value(table.Grid.Total, ColumnKind.Subject).Number);
        Assert.Contains("of 2 rows", table.Notes[0], StringComparison.Ordinal);
    }

    /// <summary>February: Aldermouth 120, Birkhaven 80, Corrie Bay 110, each against a budget of 100; in January 130, 70 and
    /// 100.</summary>
    [Theory]
    [InlineData(Direction.Over, 0, Direction.Under, 0, "Aldermouth")]
    [InlineData(Direction.Under, 0, Direction.Over, 0, "Birkhaven")]
    [InlineData(Direction.Over, 0, Direction.Over, 0, "Corrie Bay")]
    [InlineData(Direction.Over, 15, Direction.Either, 0, "Aldermouth")]
    [InlineData(Direction.Either, 0, Direction.Either, 11, "")]
    public void Each_of_two_bases_has_limits_of_its_own(
        Direction toBudget,
        int least,
        Direction toMonthBefore,
        int leastBefore,
        string rows
    )
    {
        var small = new SmallBook()
            .Add(1, Feb, "FUEL", "N1", -120m)
            .Add(1, Feb, "FUEL", "N2", -80m)
            .Add(1, Feb, "FUEL", "S1", -110m)
            .Add(1, Jan, "FUEL", "N1", -130m)
            .Add(1, Jan, "FUEL", "N2", -70m)
            .Add(1, Jan, "FUEL", "S1", -100m)
            .Add(2, Feb, "FUEL", "N1", -100m)
            .Add(2, Feb, "FUEL", "N2", -100m)
            .Add(2, Feb, "FUEL", "S1", -100m);
        var before = Side.PriorPeriod with { Version = "1" };
        var question = On("FUEL", Feb, Feb, Budget, before)
            .Laid(l =>
                l with
                {
                    Rows = [Breakdown.By("entity", "Yard")],
                    Conditions =
                    [
                        new Condition(ConditionOn.Amount, toBudget, Math.Max(least, 0.01m)) { Of = Budget },
                        new Condition(ConditionOn.Amount, toMonthBefore, Math.Max(leastBefore, 0.01m)) { Of = before },
                    ],
                }
            );
        var grid = Now(new Tabulator(small.Book(), small.Facts()).Tabulate(question, TestContext.Current.CancellationToken)).Grid;
        Assert.Equal(rows, string.Join('|', grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => r.Label)));
    }

    /// <summary>January: fuel of Aldermouth 130 against 100, so 30 and 30 %; of Corrie Bay 4 against 2, so 2 and 100 %; of
    /// Birkhaven 90 against 100.</summary>
    [Theory]
    [InlineData(RankBy.Size, false, "Aldermouth|Birkhaven|Corrie Bay")]
    [InlineData(RankBy.Size, true, "Corrie Bay|Aldermouth|Birkhaven")]
    [InlineData(RankBy.Unfavourable, true, "Corrie Bay|Aldermouth|Birkhaven")]
    [InlineData(RankBy.Favourable, true, "Birkhaven|Aldermouth|Corrie Bay")]
    public void Variances_are_ranked_by_amount_or_in_percent(RankBy by, bool inPercent, string rows)
    {
        var small = Book().Add(1, Jan, "FUEL", "S1", -4m).Add(2, Jan, "FUEL", "S1", -2m);
        var grid = Now(
            new Tabulator(small.Book(), small.Facts()).Tabulate(
                On("FUEL", Jan, Jan, Budget)
                    .Laid(l =>
                        l with
                        {
                            Rows = [Breakdown.By("entity", "Yard")],
                            Ranking = new Ranking(Ranking.All, by) { InPercent = inPercent },
                        }
                    ),
                TestContext.Current.CancellationToken
            )
        ).Grid;
        Assert.Equal(rows, string.Join('|', grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => r.Label)));
    }

    [Fact]
    public void Shares_of_the_total_add_up_to_a_hundred_also_with_offsets()
    {
        var grid = Tabulate(
            On("FUEL", Jan, Jan, Budget)
                .Laid(l => l with { Rows = [Breakdown.By("entity", "Yard")] })
                .Asking(of => of with { Shares = new Shares(false) })
        ).Grid;
        // Variance -30 and +10 of -20 in all.
        Assert.Equal(
            [150m, -50m],
            grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => grid.Value(r, ColumnKind.Share).Number!.Value)
        );
        Assert.Equal(100m, grid.Value(grid.Total, ColumnKind.Share).Number);
    }

    /// <summary>January: fares 300 and fuel 220, of which Aldermouth 130 and Birkhaven 90; the budget has fares 280 and fuel
    /// 200.</summary>
    [Theory]
    [InlineData("fares less fuel in January 2026", "Fares less fuel", 80)]
    [InlineData("gap between fuel and fares in January 2026", "Fuel less fares", -80)]
    [InlineData("the difference between fares and fuel in January 2026 versus budget", "Fares less fuel", 80)]
    [InlineData("costs minus fuel in January 2026", "Costs", 0)]
    public void One_figure_less_another_is_a_figure(string text, string name, int value)
    {
        var table = Ask(text);
        Assert.Equal(
            (name, (decimal)value),
            (table.Figure.Name, table.Grid.Value(table.Grid.Total, ColumnKind.Subject).Number!.Value)
        );
    }

    [Fact]
    public void The_gap_has_variance_growth_and_rows_like_any_figure()
    {
        var gap = Ask("gap between fares and fuel in January 2026 versus budget by yard").Grid;
        Assert.Equal(
            [170m, -90m],
            gap.Rows.Where(r => r.Kind == RowKind.Member).Select(r => gap.Value(r, ColumnKind.Subject).Number!.Value)
        );
        Assert.Equal(
            (80m, 80m, 0m),
            (
                gap.Value(gap.Total, ColumnKind.Subject).Number,
                gap.Value(gap.Total, ColumnKind.Base).Number,
                gap.Value(gap.Total, ColumnKind.Variance).Number
            )
        );
    }

    [Fact]
    public void The_difference_between_members_or_months_is_that_and_no_variance()
    {
        var yards = Ask("difference between Birkhaven and Aldermouth fuel in January 2026").Grid;
        var row = yards.Rows.Single(r => r.Kind == RowKind.Summary);
        Assert.Equal(("Birkhaven less Aldermouth", -40m), (row.Label, yards.Value(row, ColumnKind.Subject).Number));
        var months = Ask("difference between February and January 2026 fuel").Grid;
        Assert.Equal(
            (70m, 220m),
            (months.Value(months.Total, ColumnKind.Subject).Number, months.Value(months.Total, ColumnKind.Base).Number)
        );
    }

    private static Tabulation Ask(string text)
    {
        var book = Book().Book();
        var read = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(text);
        Assert.True(read.Question is not null, read.Because ?? read.Reading?.Sentence);
        return Tabulate(read.Question!.ToKinds());
    }

    [Fact]
    public void Growth_of_a_cost_is_positive_and_still_unfavourable()
    {
        var grid = Tabulate(On("FUEL", Jan, Jan, Budget) with { Kind = new Kind.Comparison(OfRows.Nothing, true) }).Grid;
        Assert.Equal(
            (20m, 10m, "U"),
            (
                grid.Value(grid.Total, ColumnKind.Variance).Number,
                grid.Value(grid.Total, ColumnKind.Percent).Number,
                grid.Value(grid.Total, ColumnKind.Mark).Mark
            )
        );
    }

    [Fact]
    public void Cumulative_months_end_at_the_total()
    {
        var grid = Tabulate(
            On("FARES", Jan, Feb, Budget)
                .Laid(l => l with { Rows = [Breakdown.ByTime(TimeGrain.Month)] })
                .Asking(of => of with { Cumulative = true })
        ).Grid;
        Assert.Equal(
            [300m, 400m],
            grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => grid.Value(r, ColumnKind.Subject).Number!.Value)
        );
        Assert.Equal(
            [20m, -30m],
            grid.Rows.Where(r => r.Kind == RowKind.Member).Select(r => grid.Value(r, ColumnKind.Variance).Number!.Value)
        );
        Assert.Equal(-30m, grid.Value(grid.Total, ColumnKind.Variance).Number);
    }

    [Fact]
    public void All_costs_are_a_figure_of_their_own()
    {
        var grid = Tabulate(On(Books.Book.AllCosts, Jan, Jan, Budget)).Grid;
        Assert.Equal(
            (220m, -20m),
            (grid.Value(grid.Total, ColumnKind.Subject).Number, grid.Value(grid.Total, ColumnKind.Variance).Number)
        );
    }

    [Theory]
    [InlineData("fuel in USD in January 2026", "USD")]
    [InlineData("like-for-like fares January 2026", "also what is new or ended")]
    [InlineData("fuel in EUR in January 2026", "")]
    public void Another_currency_or_basis_is_never_passed_over_in_silence(string text, string named)
    {
        var book = Book().Book();
        var result = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(text);
        var said = result.Reading is { } reading
            ? string.Join(' ', reading.Unused.Concat(reading.Assumed.Where(a => a.Contains("new", StringComparison.Ordinal))))
            : result.Because!;
        if (named.Length == 0)
            Assert.Equal("", said);
        else
            Assert.Contains(named, said, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("did we miss budget in January?", Direction.Against)]
    [InlineData("is fuel over budget in January 2026?", Direction.Over)]
    [InlineData("are fares below plan in every month of 2026", Direction.Under)]
    [InlineData("fuel over budget in January 2026", null)]
    public void Questions_that_want_a_yes_or_no_carry_their_claim(string text, Direction? claim)
    {
        var book = Book().Book();
        Assert.Equal(claim, new FirstReader(book, new BookWords(book), Vocabulary.English).Read(text).Question?.Claim);
    }

    [Theory]
    [InlineData("is fuel over budget in January 2026?", "Yes. ")]
    [InlineData("is fuel below budget in January 2026?", "No. ")]
    [InlineData("are fares below budget in every month, January to February 2026", "No, in 1 of 2 months; not January 2026. ")]
    [InlineData("was fuel over budget in any month, January to February 2026", "Yes, 1 of 2: January 2026. ")]
    [InlineData("did any yard go over budget on fuel in January 2026", "Yes, 1 of 2: Aldermouth. ")]
    [InlineData("are there any yards that are more than 20% over budget on fuel in January 2026", "Yes, 1 of 2: Aldermouth. ")]
    [InlineData("is any yard more than 50% over budget on fuel in January 2026", "No, none of 2. ")]
    [InlineData("was fuel over budget in all yards in January 2026", "No, 1 of 2; not Birkhaven. ")]
    [InlineData("was fuel over budget at any yard in February 2026", "No, none of 1. ")]
    [InlineData("which yards were over budget on fuel in January 2026", "1 of 2: Aldermouth. ")]
    [InlineData("which yards beat budget on fuel in February 2026", "1 of 1: Aldermouth. ")]
    [InlineData(
        "is the fuel overspend in January 2026 mostly Aldermouth?",
        "Yes. Aldermouth alone: EUR 30, 150.0 % of the EUR 20, since others go the other way. "
    )]
    [InlineData("is the fuel overspend in January 2026 only Aldermouth?", "Yes. Aldermouth alone: EUR 30, 150.0 %")]
    [InlineData("was it due to Birkhaven that fuel was over budget in January 2026?", "No. Birkhaven: EUR 10 the other way. ")]
    [InlineData("is fuel in January 2026 all Birkhaven", "No. Birkhaven: EUR 90 of EUR 220, 40.9 %. On that side: Aldermouth. ")]
    [InlineData(
        "how much of the fares shortfall January to February 2026 was in February",
        "February 2026 alone: EUR 50, 166.7 % of the EUR 30"
    )]
    [InlineData(
        "fuel in January 2026 vs budget, mainly because of Aldermouth",
        "Aldermouth alone: EUR 30, 150.0 % of the EUR 20"
    )]
    public void The_headline_says_yes_or_no_first(string text, string begins)
    {
        var small = Book();
        var book = small.Book();
        var question = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(text).Question!;
        Assert.StartsWith(
            begins,
            Now(new Answerer(book, small.Facts()).Answer(question.ToKinds(), TestContext.Current.CancellationToken)).Headline,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void The_part_that_is_said_first_leads_to_its_cells()
    {
        var small = Book();
        var book = small.Book();
        var read = new FirstReader(book, new BookWords(book), Vocabulary.English).Read(
            "is the fuel overspend in January 2026 mostly Aldermouth?"
        );
        var figures = Now(
            new Answerer(book, small.Facts()).Answer(read.Question!.ToKinds(), TestContext.Current.CancellationToken)
        )
            .Commentary[0]
            .Segments.Where(s => s.Slice is not null)
            .Take(2)
            .ToList();
        Assert.Equal([-30m, -20m], figures.Select(f => f.Exact));
        Assert.Equal("variance", figures[0].Column);
        Assert.Contains(figures[0].Slice!.Filters, f => f.Members.Contains("N1"));
        Assert.Equal("mostly … Aldermouth", Assert.Single(read.Reading!.Parts, p => p.Part == "share").Words);
    }
}
