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

/// <summary>Constructions that carry on from the last answer, or that say in one sentence what the rows have to keep. The current
/// month is March 2026.</summary>
public sealed class ConstructionTests
{
    private static readonly SmallBook Small = Fill();

    private static readonly Book Book = Small.Book();

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static SmallBook Fill()
    {
        var small = new SmallBook();
        foreach (var month in Enumerable.Range(0, 15))
        foreach (var (entity, size) in new[] { ("N1", 4m), ("N2", 3m), ("S1", 2m), ("S2", 1m) })
        foreach (var (account, sign) in new[] { ("FARES", 1m), ("FREIGHT", 1m), ("FUEL", -1m), ("RENT", -1m) })
        {
            var period = new Period(2025, 1).AddMonths(month);
            small.Add(1, period, account, entity, sign * (size * 10m + month), "R1", "V1");
            if (month >= 12)
                small
                    .Add(2, period, account, entity, sign * size * 11m, "R1")
                    .Add(3, period, account, entity, sign * size * 12m, "R1");
        }
        return small;
    }

    private static ReadResult Read(string text, Previous? previous = null) => FirstReader.Read(text, previous);

    private static Previous After(string text, Previous? previous = null)
    {
        var read = Read(text, previous);
        Assert.True(read.Question is not null, $"{text}: {read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}");
        var answer = Now(
            new Answerer(Book, Small.Facts()).Answer(read.Question.ToKinds(), TestContext.Current.CancellationToken)
        );
        return new Previous(FormOne.FromKinds(answer.Question), answer.Table!.Grid);
    }

    [Theory]
    [InlineData("fuel because the tanks leaked", "Fuel: Actual, Q1 2026.")]
    [InlineData("fuel, because the tanks leaked, by yard", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData(
        "fuel: actual, budget and last year in march",
        "Variance of Fuel: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData(
        "accounts within 5% of budget",
        "Variance of Result: Actual against Budget 26, Q1 2026, by account, only rows within 5% of the base."
    )]
    [InlineData(
        "accounts within 5% of budget ignoring anything with a budget below 1,000",
        "Variance of Result: Actual against Budget 26, Q1 2026, by account, only rows within 5% of the base and with a base of at least 1,000."
    )]
    [InlineData(
        "is march fuel the same as in the forecast",
        "Variance of Fuel: Actual against Forecast 3+9, March 2026, by yard, then account, only rows that differ."
    )]
    [InlineData("fuel change from january to march", "Growth of Fuel: Actual against January 2026, March 2026.")]
    [InlineData("fares in march with february next to it", "Variance of Fares: Actual against February 2026, March 2026.")]
    [InlineData("fuel mar 25", "Fuel: Actual, March 2025.")]
    [InlineData("first quarter fuel 2025", "Fuel: Actual, Q1 2025.")]
    [InlineData("fuel of the Aldermouth yard", "Fuel: Actual, Q1 2026, for Aldermouth.")]
    [InlineData("fares Jan-Mar 2026", "Fares: Actual, Q1 2026.")]
    [InlineData("fares Jan – Feb 2026", "Fares: Actual, January 2026 to February 2026.")]
    [InlineData("fares Q1–Q2 2025", "Fares: Actual, H1 2025.")]
    [InlineData("fuel divided by trips in march", "Fuel per trip: Actual, March 2026.")]
    [InlineData("margin in % by yard", "Margin percent: Actual, Q1 2026, by yard.")]
    [InlineData(
        "how much of the rent budget is left",
        "Rent, what is left of the year's plan: Actual against Budget 26, Q1 2026."
    )]
    [InlineData(
        "fuel run rate of the last 2 months",
        "Fuel, carried forward to a year at the pace of these months: Actual, February 2026 to March 2026."
    )]
    [InlineData("what is our fuel headroom", "Fuel, what is left of the year's plan: Actual against Budget 26, Q1 2026.")]
    [InlineData("fuel vs rent by month", "Costs: Actual, Q1 2026, for Fuel and Rent, by month, then account.")]
    [InlineData("fuel and fares by yard in march", "Result: Actual, March 2026, for Fuel and Fares, by yard, then account.")]
    [InlineData(
        "yards that did not beat budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData(
        "yards not over budget on fuel in march",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, the most favourable first, only rows lower than the base."
    )]
    [InlineData("fuel not on budget by yard", "Variance of Fuel: Actual against Budget 26, Q1 2026, by yard.")]
    [InlineData(
        "yards where fuel doubled",
        "Variance of Fuel: Actual against Prior year, Q1 2026, by yard, only rows at least 100% higher than the base."
    )]
    [InlineData(
        "top 5 yard and account variances in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, then account, the 5 largest of all pairs."
    )]
    [InlineData(
        "worst variances in march by yard and account, 4 of them",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, then account, the 4 most unfavourable of all pairs."
    )]
    [InlineData(
        "top 2 cost accounts per yard in march",
        "Costs: Actual, March 2026, by yard, then account, the 2 largest within each."
    )]
    [InlineData(
        "fastest growing yards by fares",
        "Variance of Fares: Actual against Prior year, Q1 2026, by yard, the 10 fastest growing, in percent."
    )]
    [InlineData("is fuel getting worse", "Variance of Fuel: Actual against Prior year, Q1 2026.")]
    [InlineData(
        "which accounts have no budget",
        "Variance of Result: Actual against Budget 26, Q1 2026, by account, only rows that are new: nothing in the base."
    )]
    [InlineData(
        "which yards were profitable in every month",
        "Result: Actual, Q1 2026, by yard, then month, only rows above zero."
    )]
    [InlineData(
        "accounts that moved by more than 50% against last year",
        "What drives the variance of Result: Actual against Prior year, Q1 2026, by account, only rows that differ by at least 50%."
    )]
    [InlineData("where are we losing money", "Result: Actual, Q1 2026, by yard, only rows below zero.")]
    [InlineData("result walk from last year to this year ytd", "Bridge of Result from Prior year to Actual, Q1 2026.")]
    [InlineData(
        "can we still make the result budget",
        "Result, outlook for the year: actuals so far and the latest forecast after them: Actual against Budget 26, Q1 2026."
    )]
    [InlineData(
        "result outlook by region",
        "Result, outlook for the year: actuals so far and the latest forecast after them: Actual, Q1 2026, by region."
    )]
    [InlineData("fuel by yard, months across", "Fuel: Actual, Q1 2026 and its months side by side, by yard.")]
    [InlineData("quarters side by side: fuel in 2025 by yard", "Fuel: Actual, 2025 and its quarters side by side, by yard.")]
    [InlineData("fuel by month across yards", "Fuel: Actual, Q1 2026, by month, then yard.")]
    [InlineData(
        "accounts between 5 and 10% over budget in march",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows at least 5% higher than the base and within 10% of the base."
    )]
    [InlineData(
        "fares by yard between 30 and 50 in march",
        "Fares: Actual, March 2026, by yard, only rows of at least 30 and of at most 50."
    )]
    [InlineData(
        "yards with a fuel variance of more than 5 in march",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, only rows that differ by at least 5."
    )]
    [InlineData(
        "unfavourable variances of more than 5 in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, only rows at least 5 unfavourable."
    )]
    [InlineData(
        "variances against us of more than 5 in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, only rows at least 5 unfavourable."
    )]
    [InlineData(
        "adverse variances in march by yard",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData(
        "the 2 most adverse accounts in march",
        "Variance of Result: Actual against Budget 26, March 2026, by account, the 2 most unfavourable."
    )]
    [InlineData(
        "result variance by yard below -10 in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, only rows at least 10 unfavourable."
    )]
    [InlineData("yards with a result below -10 in march", "Result: Actual, March 2026, by yard, only rows of at most -10.")]
    [InlineData(
        "which fare lines grew by more than 5% on last year",
        "Variance of Fares: Actual against Prior year, Q1 2026, by account, only rows at least 5% higher than the base."
    )]
    [InlineData("fuel Q1 to date vs Q1 last year", "Variance of Fuel: Actual against Prior year, Q1 2026.")]
    [InlineData("fuel february to date", "Fuel: Actual, February 2026 to March 2026.")]
    [InlineData("year to february fuel", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("6 months to february 2026 fuel", "Fuel: Actual, September 2025 to February 2026.")]
    [InlineData("rolling 12 fuel", "Fuel: Actual, April 2025 to March 2026.")]
    [InlineData("fuel in period 2", "Fuel: Actual, February 2026.")]
    [InlineData("fuel periods 1 to 2", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("result before rent", "Result: Actual, Q1 2026, without Rent.")]
    [InlineData("result after rent", "Result: Actual, Q1 2026.")]
    [InlineData("fares after fuel", "Fares less fuel: Actual, Q1 2026.")]
    [InlineData("fuel ytd, budget, forecast", "Variance of Fuel: Actual against Forecast 3+9 and Budget 26, Q1 2026.")]
    [InlineData(
        "fuel ytd vs full year budget",
        "Fuel, the part of the year's plan that is used: Actual against Budget 26, Q1 2026."
    )]
    [InlineData("difference in fuel between january and march", "Variance of Fuel: Actual against January 2026, March 2026.")]
    [InlineData(
        "difference in fuel between Aldermouth and Birkhaven",
        "Fuel: Actual, Q1 2026, for Aldermouth and Birkhaven, by yard, and the first less the second."
    )]
    [InlineData(
        "how much of the cost is fuel",
        "Costs: Actual, Q1 2026, by account, with each part's share of the total, and what of it is Fuel."
    )]
    [InlineData(
        "what share is fuel",
        "Costs: Actual, Q1 2026, by account, with each part's share of the total, and what of it is Fuel."
    )]
    [InlineData(
        "share of fuel in costs by yard vs last year",
        "Variance of Fuel in % of costs: Actual against Prior year, Q1 2026, by yard."
    )]
    [InlineData(
        "mix of fares by yard vs last year",
        "Variance of Fares: Actual against Prior year, Q1 2026, by yard, with each part's share of both totals and of the variance."
    )]
    [InlineData(
        "share of the fares variance by yard",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by yard, with each part's share of the variance."
    )]
    [InlineData(
        "any costs without a budget",
        "Variance of Costs: Actual against Budget 26, Q1 2026, by account, only rows that are new: nothing in the base."
    )]
    [InlineData(
        "which accounts were not budgeted",
        "Variance of Result: Actual against Budget 26, Q1 2026, by account, only rows that are new: nothing in the base."
    )]
    [InlineData(
        "how many yards made budget in march",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, only rows favourable, counted."
    )]
    [InlineData("how fast are fares growing", "Growth of Fares: Actual against Prior year, Q1 2026.")]
    [InlineData("fuel if we go on like this", "Fuel, carried forward to a year at the pace of these months: Actual, Q1 2026.")]
    [InlineData(
        "which yards are behind their fares budget in march",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData("walk from last year's result to this year's", "Bridge of Result from Prior year to Actual, Q1 2026.")]
    [InlineData(
        "Aldermouth's share of fares by month",
        "Fares: Actual, Q1 2026, by month, then yard, with each part's share of the total and within its month."
    )]
    [InlineData(
        "yards where fuel is more than 45% of fares",
        "Fuel in % of fares: Actual, Q1 2026, by yard, only rows of at least 45%."
    )]
    [InlineData("compare Q1 2026 with Q1 2025 fuel", "Variance of Fuel: Actual against Prior year, Q1 2026.")]
    [InlineData("compare january and february fuel", "Variance of Fuel: Actual against January 2026, February 2026.")]
    [InlineData("2025 full year fuel by yard", "Fuel: Actual, 2025, by yard.")]
    [InlineData("jan+feb fuel", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData(
        "Aldermouth vs Birkhaven vs Corrie Bay fuel",
        "Fuel: Actual, Q1 2026, for Aldermouth, Birkhaven and Corrie Bay, by yard."
    )]
    [InlineData("fuel at Alder by month", "Fuel: Actual, Q1 2026, for Aldermouth, by month.")]
    [InlineData(
        "was any yard below budget on fares in all months",
        "Variance of Fares: Actual against Budget 26, Q1 2026, by yard, then month, the most unfavourable first, only rows lower than the base."
    )]
    [InlineData("fuel until february", "Fuel: Actual, January 2026 to February 2026.")]
    [InlineData("fuelcost by yard", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData("call fuel divided by trips fuel each", "Fuel per trip: Actual, Q1 2026.")]
    [InlineData("top yards by fuel costs", "Fuel: Actual, Q1 2026, by yard, the 10 largest.")]
    [InlineData(
        "fuel by month for the 2 largest yards",
        "Fuel: Actual, Q1 2026, by yard, then month, the 2 largest of the yards."
    )]
    [InlineData("fuel by month of the largest yard", "Fuel: Actual, Q1 2026, by yard, then month, the largest of the yards.")]
    [InlineData(
        "for each month the 2 largest yards by fuel",
        "Fuel: Actual, Q1 2026, by month, then yard, the 2 largest within each."
    )]
    [InlineData("best and worst month for fares", "Fares: Actual, Q1 2026, by month, the first and the last.")]
    [InlineData("best and worst yards for fares", "Fares: Actual, Q1 2026, by yard, the 3 first and the 3 last.")]
    public void Constructions_are_read_as_meant(string text, string sentence)
    {
        var read = Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    [Fact]
    public void A_remark_is_told_as_one() =>
        Assert.Contains("“because the tanks leaked” is a remark", Read("fuel because the tanks leaked").Reading!.Assumed);

    [Theory]
    [InlineData(
        "top 2 yards by fares in march",
        "and the next two",
        "Fares: Actual, March 2026, by yard, the 2 largest after the first 2."
    )]
    [InlineData(
        "top 2 yards by fares in march",
        "the next",
        "Fares: Actual, March 2026, by yard, the 2 largest after the first 2."
    )]
    [InlineData("fares in march", "and the month before that?", "Fares: Actual, February 2026.")]
    [InlineData("best month for fares in 2025", "and the month after that one", "Fares: Actual, January 2026.")]
    [InlineData(
        "fuel vs budget by yard in march",
        "the same in february",
        "Variance of Fuel: Actual against Budget 26, February 2026, by yard."
    )]
    [InlineData("fares by yard in Q1 2026", "and fuel on the same basis", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData(
        "fuel in march by yard versus budget",
        "which ones missed it",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData("fares in march", "nice, by yard", "Fares: Actual, March 2026, by yard.")]
    [InlineData(
        "fares in march versus budget",
        "what about last year?",
        "Variance of Fares: Actual against Prior year, March 2026."
    )]
    [InlineData(
        "fares in march versus budget",
        "and the prior year too",
        "Variance of Fares: Actual against Budget 26 and Prior year, March 2026."
    )]
    [InlineData(
        "fares in march versus budget",
        "and the month before",
        "Variance of Fares: Actual against Budget 26, February 2026."
    )]
    [InlineData(
        "fares in march by yard versus budget",
        "which is the worst",
        "Variance of Fares: Actual against Budget 26, March 2026, by yard, the most unfavourable."
    )]
    [InlineData("fares by yard without Aldermouth in march", "all yards", "Fares: Actual, March 2026, by yard.")]
    [InlineData("fares by month at Aldermouth", "drop the filter", "Fares: Actual, Q1 2026, by month.")]
    [InlineData("top 2 yards by fares in march", "all rows", "Fares: Actual, March 2026, by yard.")]
    [InlineData("fuel by month", "as a percentage of fares", "Fuel in % of fares: Actual, Q1 2026, by month.")]
    [InlineData("fuel by month", "add rent", "Costs: Actual, Q1 2026, for Fuel and Rent, by month, then account.")]
    [InlineData("fares in march", "new question: fuel by yard", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData("fares in march", "ok then the budget for it", "Fares: Budget 26, March 2026.")]
    [InlineData(
        "fuel in march by yard versus budget",
        "only the favourable ones",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, the most favourable first, only rows favourable."
    )]
    [InlineData("fuel by yard", "months side by side", "Fuel: Actual, Q1 2026 and its months side by side, by yard.")]
    [InlineData(
        "fuel in march by yard",
        "only those over budget",
        "Variance of Fuel: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows higher than the base."
    )]
    [InlineData("fuel by yard without Aldermouth", "add Aldermouth", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData("fuel by yard without Aldermouth", "bring Aldermouth back", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData("fuel by yard without Aldermouth", "with Aldermouth again", "Fuel: Actual, Q1 2026, by yard.")]
    [InlineData("costs by yard without fuel", "put fuel back", "Costs: Actual, Q1 2026, by yard.")]
    [InlineData("fuel by month", "plus rent", "Costs: Actual, Q1 2026, for Fuel and Rent, by month, then account.")]
    [InlineData(
        "costs in march by account versus budget, more than 1 over",
        "in both directions",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, only rows that differ by at least 1."
    )]
    [InlineData("fares in march by yard versus budget", "drop the comparison", "Fares: Actual, March 2026, by yard.")]
    [InlineData("fares in march", "and february next to it", "Variance of Fares: Actual against February 2026, March 2026.")]
    [InlineData(
        "costs by account in march",
        "show me the biggest entries",
        "Actual entries for Costs, March 2026, by account, the 10 largest."
    )]
    [InlineData(
        "costs in march by account versus budget",
        "hide the favourable ones",
        "Variance of Costs: Actual against Budget 26, March 2026, by account, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData(
        "fuel by yard without Aldermouth and Birkhaven",
        "add Aldermouth",
        "Fuel: Actual, Q1 2026, without Birkhaven, by yard."
    )]
    [InlineData(
        "result by yard in march versus budget",
        "only the bad ones",
        "Variance of Result: Actual against Budget 26, March 2026, by yard, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData(
        "fuel by yard in march versus budget, the 1 worst",
        "show the entries",
        "Actual entries for Fuel, March 2026, for Dunlin Pier."
    )]
    [InlineData("fuel by yard", "per trip", "Fuel per trip: Actual, Q1 2026, by yard.")]
    [InlineData(
        "fuel by yard versus last year",
        "sort by growth",
        "Variance of Fuel: Actual against Prior year, Q1 2026, by yard, the fastest growing first, in percent."
    )]
    public void A_follow_up_goes_on_from_the_last_answer(string first, string next, string sentence)
    {
        var read = Read(next, After(first));
        Assert.True(read.Outcome == ReadingOutcome.Understood, read.Because);
        Assert.Equal(sentence, read.Reading!.Sentence);
    }

    [Fact]
    public void Rows_passed_over_and_the_rest_still_add_up()
    {
        var grid = After("and the next", After("top 1 yards by fares in march")).Grid;
        Assert.Equal("Birkhaven", grid.Rows[0].Label);
        Assert.Equal(
            grid.Value(grid.Total, Variance.ColumnKind.Subject).Number,
            grid.Parts().Sum(r => grid.Value(r, Variance.ColumnKind.Subject).Number)
        );
    }

    /// <summary>March: fuel of the yards 54, 44, 34, 24 against 44, 33, 22, 11; rent alike; fares and freight alike, so that all
    /// gain.</summary>
    [Fact]
    public void Pairs_are_ranked_against_each_other_and_the_rest_adds_up()
    {
        var grid = After("top 3 yard and account variances in march").Grid;
        Assert.Equal(
            ["Dunlin Pier · Fares", "Dunlin Pier · Freight", "Dunlin Pier · Fuel", "Other (13)"],
            grid.Rows.SkipLast(1).Select(r => r.Label)
        );
        Assert.Equal(
            grid.Value(grid.Total, Variance.ColumnKind.Variance).Number,
            grid.Parts().Sum(r => grid.Value(r, Variance.ColumnKind.Variance).Number)
        );
        Assert.Equal(
            [("entity", "S2"), ("account", "FARES")],
            grid.Rows[0].Members.Where(m => m.Code is "S2" or "FARES").Select(m => (m.Dimension, m.Code))
        );
    }

    /// <summary>The costs of two accounts against the income of two others: the result is nothing in every month.</summary>
    [Theory]
    [InlineData("which yards had fares over 50 in every month", "Aldermouth", "1 of 4")]
    [InlineData("which yards had fares over 41 in every month", "Aldermouth|Birkhaven", "2 of 4")]
    [InlineData("which yards had fares over 60 in every month", "", "None of 4")]
    public void A_row_counts_where_all_of_its_months_do(string text, string yards, string counted)
    {
        var answer = Now(
            new Answerer(Book, Small.Facts()).Answer(Read(text).Question!.ToKinds(), TestContext.Current.CancellationToken)
        );
        Assert.Equal(
            yards,
            string.Join(
                '|',
                answer.Table!.Grid.Rows.Where(r => r.Level == 0 && r.Kind == Variance.RowKind.Subtotal).Select(r => r.Label)
            )
        );
        Assert.StartsWith(counted, answer.Headline, StringComparison.Ordinal);
    }

    /// <summary>Fares of March grew from 42, 32, 22, 12 to 54, 44, 34, 24: in money alike, in percent most at the
    /// smallest.</summary>
    [Fact]
    public void What_grew_fastest_did_so_in_percent() =>
        Assert.Equal(
            ["Dunlin Pier", "Corrie Bay", "Birkhaven", "Aldermouth"],
            After("fastest growing yards by fares in march").Grid.Parts().Select(r => r.Label)
        );

    [Theory]
    [InlineData("are we in the black at Aldermouth", "No. Result for Aldermouth")]
    [InlineData("are we making a loss on fares", "No. Fares")]
    public void Whether_it_is_above_zero_is_told_by_yes_or_no(string text, string headline)
    {
        var read = Read(text);
        Assert.True(read.Question is not null, read.Because);
        Assert.StartsWith(
            headline,
            Now(
                new Answerer(Book, Small.Facts()).Answer(read.Question.ToKinds(), TestContext.Current.CancellationToken)
            ).Headline,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("and the next five", "fares in march", "ranked nothing")]
    [InlineData("zanzel mood by yard", "fares in march", "“zanzel”")]
    [InlineData("which of our fuel", null, "kept as one account")]
    [InlineData("which Aldermouth", null, "kept as one entity")]
    public void What_leads_nowhere_says_so(string text, string? first, string because) =>
        Assert.Contains(
            because,
            Read(text, first is null ? null : After(first)) is { Because: { } said } ? said : Read(text).Reading!.Sentence,
            StringComparison.Ordinal
        );

    [Theory]
    [InlineData("zanzel in march", "zanzel")]
    [InlineData("versus budget by yard zanzel", "zanzel")]
    [InlineData("wages satisfaction", "satisfaction")]
    public void A_word_that_nobody_knows_is_never_replaced_by_the_result(string text, string word)
    {
        var read = Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(word, read.Because, StringComparison.Ordinal);
        Assert.Contains(word, read.Unknown);
    }

    [Fact]
    public void Rows_that_cannot_stand_side_by_side_are_told()
    {
        var reading = Read("yards across, months down: fuel").Reading!;
        Assert.Equal(
            ("Fuel: Actual, Q1 2026, by yard, then month.", "across"),
            (reading.Sentence, string.Join(' ', reading.Unused))
        );
    }

    /// <summary>Fuel of a yard of size 4 in 2026 is 40 and 12, 13, 14: 52, 53, 54; of all four, 100 and four times as
    /// much.</summary>
    [Fact]
    public void An_average_by_month_is_one_of_each_row_and_of_the_whole()
    {
        var rows = After("average monthly fuel by yard").Grid.Rows.Where(r => r.Kind == RowKind.Summary).ToList();
        Assert.Equal(5, rows.Count);
        Assert.All(rows, r => Assert.Equal("Average of 3 months", r.Label));
        Assert.Equal(
            (53m, 152m),
            (rows.Single(r => r.Members.Any(m => m.Name == "Aldermouth")).Values[0].Number, rows[^1].Values[0].Number)
        );
        Assert.Equal(rows.Count, rows.Select(r => r.Id).Distinct().Count());
    }

    [Fact]
    public void Months_side_by_side_add_up_to_their_whole()
    {
        var grid = After("fuel by yard versus budget, months across").Grid;
        Assert.Equal(
            4 * 4,
            grid.Columns.Count(c => c.Kind is ColumnKind.Subject or ColumnKind.Base or ColumnKind.Variance or ColumnKind.Percent)
        );
        foreach (var row in grid.Rows)
        foreach (var kind in new[] { ColumnKind.Subject, ColumnKind.Base, ColumnKind.Variance })
        {
            var values = Enumerable
                .Range(0, grid.Columns.Length)
                .Where(i => grid.Columns[i].Kind == kind)
                .Select(i => row.Values[i].Number)
                .ToList();
            Assert.Equal(values[0], values.Skip(1).Sum());
        }
    }

    [Theory]
    [InlineData("fuel 2025/26", "Fuel: Actual, January 2025 to December 2026.")]
    [InlineData("fuel FY25/26", "Fuel: Actual, January 2025 to December 2026.")]
    public void Years_over_two_are_both_where_a_year_is_a_calendar_year(string text, string sentence) =>
        Assert.Equal(sentence, Read(text).Reading!.Sentence);

    [Fact]
    public void A_recognised_word_without_a_place_is_named() =>
        Assert.Contains("50,000", Read("fuel in march 50,000").Reading!.Unused);

    [Fact]
    public void A_book_without_figures_says_so()
    {
        var empty = new SmallBook().Book();
        var reader = new FirstReader(empty, new BookWords(empty), Vocabulary.English);
        foreach (
            var text in new[]
            {
                "fuel",
                "why",
                "result versus budget",
                "top 3 yards by fuel",
                "overdue invoices",
                "journals on a weekend",
                "fuel run rate",
            }
        )
            Assert.Equal(ReadingOutcome.CannotAnswer, reader.Read(text).Outcome);
    }

    [Theory]
    [InlineData("5,000", "5,000")]
    [InlineData("above 12,345,678 eur", "above|12,345,678|eur")]
    [InlineData("1,2 and 3", "1|,|2|and|3")]
    [InlineData("2025,2026", "2025|,|2026")]
    [InlineData("10,0000", "10|,|0000")]
    public void Thousands_are_one_number_and_lists_are_not(string text, string words) =>
        Assert.Equal(words, string.Join('|', Words.Tokens(text).Select(t => t.Text)));

    /// <summary>The index leaves out nothing that comparing with all would find.</summary>
    [Fact]
    public void Near_stems_are_those_within_the_distance() =>
        Gen.Select(Gen.Char["abcdef"].Array[1, 8].Array[1, 30], Gen.Char["abcdef"].Array[1, 8], Gen.Int[1, 2])
            .Sample(
                (stems, typed, tolerance) =>
                {
                    var all = stems.Select(s => new string(s)).Distinct().ToList();
                    var word = new string(typed);
                    Assert.Equal(
                        all.Where(s => Words.Distance(word, s, tolerance) <= tolerance).Order(StringComparer.Ordinal),
                        new NearStems(all).Find(word, tolerance).Select(n => n.Stem).Order(StringComparer.Ordinal)
                    );
                },
                iter: 400
            );

    [Theory]
    [InlineData("bunkering", "Fuel", "a:FUEL")]
    [InlineData("oil", "FUEL", "a:FUEL")]
    [InlineData("the quay", "Aldermouth", "entity=N1")]
    [InlineData("fuel a trip", "fuel divided by trips", "m:~per:a:FUEL/a:TRIPS")]
    [InlineData("gross", "gross profit", "m:margin")]
    public void Words_can_be_taught_for_figures_members_and_ratios(string word, string means, string target)
    {
        Assert.Equal(target, new Teaching(Book, new BookWords(Book), Vocabulary.English).Target(word, means));
        var taught = new Book(Book.Definition, 2, Book.Members)
        {
            Words = [new TaughtWord(1, word, target, "Ann", new DateTime(2026, 3, 31, 0, 0, 0, DateTimeKind.Utc))],
        };
        var read = new FirstReader(taught, new BookWords(taught), Vocabulary.English).Read($"fares and {word} in march");
        Assert.True(read.Reading is { } reading && reading.Unused.IsEmpty, $"{read.Because} {read.Reading?.Sentence}");
        Assert.Equal(Teaching.Means(taught, target), Teaching.Means(Book, target));
    }

    [Fact]
    public void A_taught_word_whose_member_is_gone_means_nothing()
    {
        var taught = new Book(Book.Definition, 2, Book.Members)
        {
            Words = [new TaughtWord(1, "old yard", "entity=GONE", "Ann", default)],
        };
        Assert.Null(Teaching.Means(taught, "entity=GONE"));
        Assert.Equal(
            ReadingOutcome.CannotAnswer,
            new FirstReader(taught, new BookWords(taught), Vocabulary.English).Read("old yard").Outcome
        );
    }
}
