using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Several figures in one table: what is read as such, and that every column says what its figure says alone.</summary>
public sealed class SideBySideTests
{
    [Theory]
    [InlineData("fares and trips by yard in march", "Fares and Trips: Actual, March 2026, by yard.")]
    [InlineData("fares, fuel per trip and trips by yard", "Fares, Fuel per trip and Trips: Actual, Q1 2026, by yard.")]
    [InlineData("top 2 yards by fares with trips", "Fares and Trips: Actual, Q1 2026, by yard, the 2 largest by Fares.")]
    [InlineData(
        "yards with trips and fares, top 2 by fares",
        "Fares and Trips: Actual, Q1 2026, by yard, the 2 largest by Fares."
    )]
    [InlineData(
        "trips, result and fares by yard sorted by fares ascending",
        "Fares, Trips and Result: Actual, Q1 2026, by yard, the smallest first by Fares."
    )]
    [InlineData(
        "which yard earned most and how much per trip",
        "Income and Income per trip: Actual, Q1 2026, by yard, the 10 largest by Income."
    )]
    [InlineData(
        "margin percent by yard and its share of the result",
        "Result and Margin percent: Actual, Q1 2026, by yard, with each part's share of the total."
    )]
    [InlineData("fares and trips by month > add fuel per trip", "Fares, Trips and Fuel per trip: Actual, Q1 2026, by month.")]
    [InlineData("fares, trips and fuel per trip by month > drop trips", "Fares and Fuel per trip: Actual, Q1 2026, by month.")]
    [InlineData("fares and trips by month > by yard", "Fares and Trips: Actual, Q1 2026, by yard.")]
    [InlineData(
        "fares and trips by yard > sort by trips",
        "Trips and Fares: Actual, Q1 2026, by yard, the largest first by Trips."
    )]
    [InlineData("trips by yard > sort by fares", "Fares and Trips: Actual, Q1 2026, by yard, the largest first by Fares.")]
    [InlineData("fares by yard > top 2 > and the others?", "Fares: Actual, Q1 2026, by yard, those after the first 2.")]
    [InlineData("fares for Aldermouth > and the others?", "Fares: Actual, Q1 2026, without Aldermouth, by yard.")]
    [InlineData(
        "result in march vs budget by yard > the worst one > show the fuel entries there",
        "Actual entries for Fuel, March 2026, for Aldermouth."
    )]
    [InlineData("entries of fuel in march over 5 > by yard", "Fuel: Actual, March 2026, by yard.")]
    [InlineData(
        "accounts over budget by 1k to 5k in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows at least 1,000 higher than the base and higher than the base and within 5,000 of the base."
    )]
    [InlineData(
        "fuel between 10 and 12k by yard",
        "Fuel: Actual, Q1 2026, by yard, only rows of at least 10,000 and of at most 12,000."
    )]
    [InlineData("fares and trips by month > only fuel", "Fuel: Actual, Q1 2026, by month.")]
    [InlineData(
        "fares by yard > which has the highest fuel per trip",
        "Fuel per trip: Actual, Q1 2026, by yard, the 10 largest."
    )]
    public void Is_read_as_meant(string texts, string sentence) => Conversation.Says(texts, sentence);

    private static readonly SmallBook Moving = Varied();

    private static readonly Book Book = Moving.Book();

    /// <summary>Amounts and trips that differ from yard to yard and from month to month; one yard makes no trips.</summary>
    private static SmallBook Varied()
    {
        var small = new SmallBook();
        var yards = new[] { "N1", "N2", "S1", "S2" };
        for (var month = 0; month < 15; month++)
        for (var y = 0; y < yards.Length; y++)
        {
            var at = new Period(2025, 1).AddMonths(month);
            small
                .Add(SmallBook.ActualVersion, at, "FARES", yards[y], 100m + (17m * y) + month)
                .Add(SmallBook.ActualVersion, at, "FUEL", yards[y], -(31m + (3m * y) + (month % 5)));
            if (y < 3)
                small.Add(SmallBook.ActualVersion, at, "TRIPS", yards[y], 4m + y + (month % 3));
        }
        return small;
    }

    private static Tabulation Answered(Question question) =>
        SmallBook.Now(new Answerer(Book, Moving.Facts()).Answer(question, TestContext.Current.CancellationToken)).Table!;

    [Theory]
    [InlineData("fares, trips and fuel per trip by yard")]
    [InlineData("fares, trips and fuel per trip by month")]
    [InlineData("trips, fuel per trip and fares by region and yard in march")]
    [InlineData("top 2 yards by fares with trips and fuel per trip")]
    public void Every_column_says_what_its_figure_says_alone(string text)
    {
        var question = Conversation.Small.Read(text).Question!;
        Assert.NotEmpty(question.Beside);
        var grid = Answered(question.ToKinds()).Grid;
        var columns = Enumerable.Range(0, grid.Columns.Length).Where(c => grid.Columns[c].Kind == ColumnKind.Beside).ToList();
        Assert.Equal(question.Beside, columns.Select(c => grid.Columns[c].Figure!.Ref));
        foreach (var column in columns)
        {
            var figure = grid.Columns[column].Figure!.Ref;
            foreach (var row in grid.Rows)
            {
                // The row's own address is that of the first figure; of the rest of a ranking too.
                var alone = Answered(
                    (
                        question with
                        {
                            Figure = figure,
                            Beside = [],
                            Breakdowns = [],
                            Ranking = null,
                            Spans = [row.Slice.Span],
                            Filters = row.Slice.Filters,
                        }
                    ).ToKinds()
                ).Grid;
                var said = alone.Value(alone.Total, ColumnKind.Subject);
                Assert.Equal(said.Number ?? 0m, row.Values[column].Number ?? 0m);
            }
        }
    }

    [Fact]
    public void What_is_left_of_a_ranking_is_worked_out_anew()
    {
        var grid = Answered(
            (Conversation.Small.Read("top 2 yards by fares in march with trips and fuel per trip").Question!).ToKinds()
        ).Grid;
        // March 2026 is month 14 of the run: fares 114, 131, 148 and 165; trips 6, 7, 8 and none; fuel 35, 38, 41 and 44.
        Assert.Equal(
            [
                ("Dunlin Pier", 165m, 0m, null),
                ("Corrie Bay", 148m, 8m, 5.125m),
                ("Other (2)", 245m, 13m, 5.615385m),
                ("Total", 558m, 21m, 7.523810m),
            ],
            grid.Rows.Select(r => (r.Label, r.Values[0].Number!.Value, r.Values[1].Number!.Value, r.Values[2].Number))
        );
    }

    [Theory]
    [InlineData("fares and trips by yard versus budget")]
    [InlineData("fares and trips by account")]
    public void What_one_table_cannot_hold_has_answers_of_its_own(string text)
    {
        var read = Conversation.Small.Read(text);
        Assert.Empty(read.Question!.Beside);
        Assert.NotEmpty(read.Also);
    }

    [Theory]
    [InlineData(
        "compare forecast 3+9 with budget by yard",
        "Variance of Result: Forecast 3+9 against Budget 26, Q1 2026, by yard."
    )]
    [InlineData(
        "result vs budget, forecast and prior year",
        "Variance of Result: Actual against Forecast 3+9 and Budget 26 and Prior year, Q1 2026."
    )]
    [InlineData("last year's fares in march", "Fares: Actual, March 2025.")]
    [InlineData("prior year fares march by yard", "Fares: Actual, March 2025, by yard.")]
    [InlineData("fares and what we budgeted for it", "Variance of Fares: Actual against Budget 26, Q1 2026.")]
    [InlineData(
        "fares month by month 2025 and 2026 side by side",
        "Variance of Fares: Actual against Prior year, 2026, by month."
    )]
    [InlineData("fuel by yard with last month", "Variance of Fuel: Actual against February 2026, March 2026, by yard.")]
    [InlineData("compare Aldermouth with the north on fares", "Fares: Actual, Q1 2026, for North, by yard.")]
    [InlineData(
        "best yard by fares within each region",
        "Fares: Actual, Q1 2026, by region, then yard, the largest within each."
    )]
    [InlineData("what changed since February", "What drives the variance of Result: Actual against February 2026, March 2026.")]
    [InlineData("fares trend over the last 4 quarters", "Fares: Actual, April 2025 to March 2026, by quarter.")]
    [InlineData("what are the top 2 costs as % of income", "Costs in % of income: Actual, Q1 2026, by account, the 2 largest.")]
    [InlineData(
        "which budget lines have no actuals",
        "Variance of Result: Actual against Budget 26, Q1 2026, by account, only rows that have ended: nothing any more."
    )]
    [InlineData(
        "where are we saving money against budget",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by yard, the most favourable first, only rows lower than the base."
    )]
    [InlineData("is 2026 better than 2025 so far", "Variance of Result: Actual against Prior year, Q1 2026.")]
    public void Comparisons_and_times_as_people_say_them(string texts, string sentence) => Conversation.Says(texts, sentence);

    [Theory]
    [InlineData("what will the weather do to the result", "weather")]
    [InlineData("what would fuel have cost at last year's price", "does not try out changes")]
    [InlineData("is the fuel overspend one-off", "what happens once")]
    [InlineData("what is our break-even number of trips", "From where on a profit")]
    [InlineData("which accounts explain 80% of the overspend", "How few of them")]
    [InlineData("which costs grew faster than fares", "not held against another figure")]
    [InlineData("are there yards with trips but no fares", "lack another")]
    [InlineData("share of margin percent by yard", "no parts of a whole")]
    public void What_no_table_tells_is_said(string texts, string because) => Conversation.Refuses(texts, because);
}
