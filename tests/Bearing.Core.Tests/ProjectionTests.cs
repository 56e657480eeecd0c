using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using Xunit;
using static Bearing.Core.Tests.SmallBook;

namespace Bearing.Core.Tests;

/// <summary>What the months so far are carried forward to, worked by hand: fuel of 290 in two months, 2,160 budgeted for the
/// year.</summary>
public sealed class ProjectionTests
{
    private static readonly Period Jan = new(2026, 1);

    private static readonly SmallBook Small = Fill();

    private static SmallBook Fill()
    {
        var book = new SmallBook()
            .Add(1, Jan, "FUEL", "N1", -100m)
            .Add(1, Jan, "FUEL", "N2", -50m)
            .Add(1, Jan.AddMonths(1), "FUEL", "N1", -140m)
            .Add(1, Jan, "TRIPS", "N1", 4m);
        for (var month = 0; month < 12; month++)
        {
            book.Add(2, Jan.AddMonths(month), "FUEL", "N1", -120m).Add(2, Jan.AddMonths(month), "FUEL", "N2", -60m);
            if (month >= 2)
                book.Add(3, Jan.AddMonths(month), "FUEL", "N1", -130m);
        }
        return book;
    }

    private static Tabulation Project(Projection projection, bool held, params Breakdown[] by) =>
        Now(
            new Projector(Small.Book(), Small.Facts()).Project(
                Question
                    .About(new FigureRef(FigureKind.Account, "FUEL"), new PeriodSpan(Jan, Jan.AddMonths(1)))
                    .In(s => s with { Bases = held ? [Side.Parse("budget-26")] : [] })
                    .By(by),
                projection,
                TestContext.Current.CancellationToken
            )
        );

    private static string Row(Tabulation table, int row) =>
        $"{table.Grid.Rows[row].Label}: {string.Join(' ', table.Grid.Rows[row].Values.Select(v => v.Mark ?? v.Number?.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture) ?? "-"))}";

    [Theory]
    [InlineData(Projection.RunRate, false, "Fuel: 290 1740")]
    [InlineData(Projection.RunRate, true, "Fuel: 290 1740 2160 420 19.44 F")]
    [InlineData(Projection.Remaining, true, "Fuel: 290 2160 1870")]
    [InlineData(Projection.Used, true, "Fuel: 290 2160 13.43")]
    [InlineData(Projection.Outlook, true, "Fuel: 290 1300 1590 2160 570 26.39 F")]
    public void The_year_follows_from_the_months_so_far(Projection projection, bool held, string total) =>
        Assert.Equal(total, Row(Project(projection, held), 0));

    /// <summary>290 so far and 1,300 to come are 1,590, 570 below the budget.</summary>
    [Theory]
    [InlineData(
        "will fuel exceed budget",
        "No. Fuel: with the latest forecast for the months to come the year comes to EUR 1.6k"
    )]
    [InlineData("can we still make the fuel budget", "Yes. Fuel: with")]
    [InlineData("are we on course for the fuel budget", "Yes. Fuel: with")]
    [InlineData("how much of the fuel budget have we used", "Fuel: 13.4 % of EUR 2.2k in Budget 26 for the year is used")]
    public void What_is_ahead_is_the_headline(string text, string headline)
    {
        var book = Small.Book();
        var read = new FirstReading.FirstReader(book, new Reading.BookWords(book), Language.Vocabulary.English).Read(text);
        Assert.True(read.Question is not null, read.Because);
        Assert.StartsWith(
            headline,
            Now(
                new Answerer(book, Small.Facts()).Answer(read.Question.ToKinds(), TestContext.Current.CancellationToken)
            ).Headline,
            StringComparison.Ordinal
        );
    }

    private static string Outlook(SmallBook small, PeriodSpan span) =>
        Now(
            new Answerer(small.Book(), small.Facts()).Answer(
                Question.About(new FigureRef(FigureKind.Measure, "result"), span) with
                {
                    Kind = new Kind.Projected(Projection.Outlook, null),
                },
                TestContext.Current.CancellationToken
            )
        ).Headline;

    [Fact]
    public void A_loss_to_come_keeps_its_minus()
    {
        var small = new SmallBook().Add(1, Jan, "FUEL", "N1", -100m);
        for (var month = 1; month < 12; month++)
            small.Add(3, Jan.AddMonths(month), "FUEL", "N1", -10m);
        Assert.Contains("the year comes to minus EUR 210.", Outlook(small, PeriodSpan.Of(Jan)), StringComparison.Ordinal);
    }

    [Fact]
    public void All_months_so_far_count_towards_the_year_whichever_one_was_named()
    {
        var small = new SmallBook().Add(1, Jan, "FARES", "N1", 100m).Add(1, Jan.AddMonths(1), "FARES", "N1", 100m);
        for (var month = 2; month < 12; month++)
            small.Add(3, Jan.AddMonths(month), "FARES", "N1", 10m);
        Assert.Contains("the year comes to EUR 300.", Outlook(small, PeriodSpan.Of(Jan.AddMonths(1))), StringComparison.Ordinal);
    }

    [Fact]
    public void Months_that_are_no_year_are_not_called_one()
    {
        var small = new SmallBook().Add(1, Jan.AddMonths(6), "FARES", "N1", 100m);
        for (var month = 7; month < 12; month++)
            small.Add(3, Jan.AddMonths(month), "FARES", "N1", 10m);
        Assert.Contains("H2 2026 comes to EUR 150.", Outlook(small, PeriodSpan.Of(Jan.AddMonths(6))), StringComparison.Ordinal);
    }

    [Fact]
    public void Rows_add_up_and_a_yard_without_actuals_keeps_its_budget()
    {
        var table = Project(Projection.Remaining, true, Breakdown.By("entity", "Yard"));
        Assert.Equal(
            ["Aldermouth: 240 1440 1200", "Birkhaven: 50 720 670", "Fuel: 290 2160 1870"],
            table.Grid.Rows.Where(r => r.Kind != RowKind.Subtotal).Select(r => Row(table, table.Grid.Rows.IndexOf(r)))
        );
    }

    [Fact]
    public void What_does_not_add_up_over_months_is_refused() =>
        Assert.Contains(
            "does not add up over months",
            Assert
                .Throws<CannotAnswerException>(() =>
                    Now(
                        new Projector(Small.Book(), Small.Facts()).Project(
                            Question.About(new FigureRef(FigureKind.Measure, "fuel-each"), PeriodSpan.Of(Jan)),
                            Projection.RunRate,
                            TestContext.Current.CancellationToken
                        )
                    )
                )
                .Message,
            StringComparison.Ordinal
        );
}
