using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>A bakery whose names are words for other things: months, years, totals, a level, a question word.</summary>
public sealed class NamesakesTests
{
    private const int Accounts = 1,
        Shops = 2,
        Departments = 3,
        Channels = 4;

    private static readonly Book Book = Build();

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book), Vocabulary.English);

    private static Book Build()
    {
        var members = ImmutableArray.CreateBuilder<Member>();
        void Add(int dimension, string code, string name, string? parent = null, AccountTraits? traits = null) =>
            members.Add(
                new Member(
                    Member.FirstOwnId + members.Count,
                    dimension,
                    code,
                    name,
                    parent is null ? null : members.Single(m => m.DimensionId == dimension && m.Code == parent).Id,
                    members.Count,
                    [],
                    traits
                )
            );
        void Account(string code, string name, string? parent, AccountType type) =>
            Add(Accounts, code, name, parent, AccountTraits.Default(type));
        Account("SAL", "Net sales", null, AccountType.Income);
        Account("CTS", "Counter sales", "SAL", AccountType.Income);
        Account("CFS", "Café sales", "SAL", AccountType.Income);
        Account("CAT", "Catering orders", "SAL", AccountType.Income);
        Account("PEO", "People", null, AccountType.Cost);
        Account("BAK", "Bakers’ wages", "PEO", AccountType.Cost);
        Account("SHW", "Shop wages", "PEO", AccountType.Cost);
        Account("BNK", "Bank charges", null, AccountType.Cost);
        Add(
            Accounts,
            "LOA",
            "Loaves baked",
            null,
            new AccountTraits(AccountType.Statistic, OverTime.Sum, GoodDirection.Up, "loaves")
        );
        foreach (
            var (code, name) in new[]
            {
                ("S1", "May Street"),
                ("S2", "Station 1984"),
                ("S3", "Total Bread Hall"),
                ("S4", "Quay Corner"),
            }
        )
            Add(Shops, code, name);
        foreach (var (code, name) in new[] { ("SHP", "Shops"), ("PRD", "Production") })
            Add(Departments, code, name);
        foreach (var (code, name) in new[] { ("CTR", "Counter"), ("CAF", "Café"), ("WHO", "Wholesale customers") })
            Add(Channels, code, name);
        Scenario Kept(int version, string code, ScenarioKind kind, Period from, Period to) =>
            new(
                code,
                code == "actual" ? "Actual" : "Budget 27",
                kind,
                [
                    new ScenarioVersion(
                        version,
                        "v1",
                        new Coverage(
                            new PeriodSpan(from, to),
                            [.. members.Where(m => m.DimensionId == Shops).Select(m => m.Id)],
                            [Accounts, Shops, Departments, Channels]
                        ),
                        null
                    ),
                ]
            );
        return new Book(
            new BookDefinition
            {
                Id = "bakery",
                Name = "Bakery",
                Currency = "EUR",
                FiscalYearStartMonth = 4,
                ResultLine = "ebit",
                Dimensions =
                [
                    new(Accounts, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(Shops, "entity", "Shop", DimensionRole.Entity, ["Shop"], ["store"]),
                    new(Departments, "department", "Department", DimensionRole.Other, ["Department"], []),
                    new(Channels, "channel", "Channel", DimensionRole.Other, ["Channel"], []),
                ],
                // Fiscal 2027 began in April 2026; August is its fifth month.
                Scenarios =
                [
                    Kept(1, "actual", ScenarioKind.Actual, new Period(2025, 1), new Period(2027, 5)),
                    Kept(2, "budget-27", ScenarioKind.Budget, new Period(2027, 1), new Period(2027, 12)),
                ],
                Statement =
                [
                    new("gross", "Gross profit", ["SAL", "PEO"], []),
                    new("ebit", "Operating profit", ["gross", "BNK"], ["profit"]),
                ],
                Measures = [],
                MonthMateriality = new Materiality(0m, 0m),
                YearMateriality = new Materiality(0m, 0m),
            },
            1,
            members.ToImmutable()
        );
    }

    [Theory]
    [InlineData("sales 2025/26", "Net sales: Actual, FY26.")]
    [InlineData("sales by shop FY26/27", "Net sales: Actual, FY27, by shop.")]
    [InlineData("profit by shop", "Operating profit: Actual, April 2026 to August 2026, by shop.")]
    [InlineData(
        "biggest overspends in July",
        "Variance of Costs: Actual against Budget 27, July 2026, by account, the 10 most unfavourable."
    )]
    [InlineData(
        "where are we overspending",
        "Variance of Costs: Actual against Budget 27, April 2026 to August 2026, by shop, the most unfavourable first, only rows higher than the base."
    )]
    [InlineData("sales first half vs second half of last year", "Variance of Net sales: Actual against H2 FY26, H1 FY26.")]
    [InlineData("compare Q1 this year with Q1 last year for sales", "Variance of Net sales: Actual against Prior year, Q1 FY27.")]
    [InlineData("sales July last year", "Net sales: Actual, July 2025.")]
    [InlineData("sales in last year's second half", "Net sales: Actual, H2 FY26.")]
    [InlineData("sales ytd 2026", "Net sales: Actual, April 2025 to August 2025.")]
    [InlineData("sales July ytd", "Net sales: Actual, April 2026 to July 2026.")]
    [InlineData("sales excl catering", "Net sales: Actual, April 2026 to August 2026, without Catering orders.")]
    [InlineData(
        "who spent the most on bank charges",
        "Bank charges: Actual, April 2026 to August 2026, by shop, the 10 largest."
    )]
    [InlineData(
        "the three largest costs after shop wages",
        "Costs: Actual, April 2026 to August 2026, without Shop wages, by account, the 3 largest."
    )]
    [InlineData(
        "cost accounts that went up the most on last year",
        "Variance of Costs: Actual against Prior year, April 2026 to August 2026, by account, the 10 most unfavourable."
    )]
    [InlineData("p&l in August", "Operating profit: Actual, August 2026, by account.")]
    [InlineData(
        "compare counter and café sales by shop",
        "Net sales: Actual, April 2026 to August 2026, for Counter sales and Café sales, by shop, then account."
    )]
    [InlineData(
        "which months had a loss",
        "Operating profit: Actual, April 2026 to August 2026, by month, only rows below zero."
    )]
    [InlineData("where did the bank charges go", "Bank charges: Actual, April 2026 to August 2026, by shop.")]
    [InlineData(
        "how much less counter sales than last year",
        "Variance of Counter sales: Actual against Prior year, April 2026 to August 2026."
    )]
    [InlineData(
        "percent of budget used by department",
        "Costs, the part of the year's plan that is used: Actual against Budget 27, April 2026 to August 2026, by department."
    )]
    [InlineData("loaves baked at month end", "Loaves baked: Actual, April 2026 to August 2026.")]
    [InlineData(
        "sales for the month and the year to date by shop",
        "Net sales: Actual, August 2026 and April 2026 to August 2026, by shop."
    )]
    [InlineData("what did May Street spend on bank charges in Q1", "Bank charges: Actual, Q1 FY27, for May Street.")]
    [InlineData("bank charges this quarter vs last", "Variance of Bank charges: Actual against Q1 FY27, Q2 FY27.")]
    [InlineData(
        "sales this year against last by shop",
        "Variance of Net sales: Actual against Prior year, April 2026 to August 2026, by shop."
    )]
    [InlineData(
        "the two shops with the steepest fall in sales since last year",
        "Variance of Net sales: Actual against Prior year, April 2026 to August 2026, by shop, the 2 most unfavourable."
    )]
    [InlineData(
        "departments that spent less than planned in July",
        "Variance of Costs: Actual against Budget 27, July 2026, by department, the most favourable first, only rows lower than the base."
    )]
    [InlineData(
        "what share of the overspend is bank charges",
        "Variance of Costs: Actual against Budget 27, April 2026 to August 2026, by account, with each part's share of the variance, and what of it is Bank charges."
    )]
    [InlineData(
        "sales for all shops but Quay Corner",
        "Net sales: Actual, April 2026 to August 2026, without Quay Corner, by shop."
    )]
    [InlineData("but sales in July", "Net sales: Actual, July 2026.")]
    [InlineData(
        "which cost went up most between July and August",
        "Variance of Costs: Actual against July 2026, August 2026, by account, the 10 most unfavourable."
    )]
    [InlineData(
        "did any shop miss its sales budget every month",
        "Variance of Net sales: Actual against Budget 27, April 2026 to August 2026, by shop, then month, the most unfavourable first, only rows unfavourable."
    )]
    [InlineData(
        "average monthly sales by shop",
        "Net sales: Actual, April 2026 to August 2026, by shop, then month, with the average of its months."
    )]
    [InlineData(
        "accounts that differ from budget by more than 5% in July",
        "Variance of Operating profit: Actual against Budget 27, July 2026, by account, only rows that differ by at least 5%."
    )]
    [InlineData("catering orders per loaf in August", "Catering orders per loaf baked: Actual, August 2026.")]
    [InlineData(
        "sales growth by shop, worst first",
        "Growth of Net sales: Actual against Prior year, April 2026 to August 2026, by shop, the slowest first, in percent."
    )]
    [InlineData("sales by shop", "Net sales: Actual, April 2026 to August 2026, by shop.")]
    [InlineData("bottom 3 shops by sales in August", "Net sales: Actual, August 2026, by shop, the 3 smallest.")]
    [InlineData("sales by shop in Shops", "Net sales: Actual, April 2026 to August 2026, for Shops, by shop.")]
    [InlineData("costs in Shops by account", "Costs: Actual, April 2026 to August 2026, for Shops, by account.")]
    [InlineData("sales in May", "Net sales: Actual, May 2026.")]
    [InlineData("sales at May Street in May", "Net sales: Actual, May 2026, for May Street.")]
    [InlineData("sales in May vs last May", "Variance of Net sales: Actual against Prior year, May 2026.")]
    [InlineData("Station 1984 sales in July", "Net sales: Actual, July 2026, for Station 1984.")]
    [InlineData("total sales ytd", "Net sales: Actual, April 2026 to August 2026.")]
    [InlineData("Total Bread Hall sales ytd", "Net sales: Actual, April 2026 to August 2026, for Total Bread Hall.")]
    [InlineData("sales for WHO in August", "Net sales: Actual, August 2026, for Wholesale customers.")]
    [InlineData("who has the highest sales in August", "Net sales: Actual, August 2026, by shop, the 10 largest.")]
    [InlineData(
        "counter, café and catering by month",
        "Net sales: Actual, April 2026 to August 2026, for Counter sales, Café sales and Catering orders, by month, then account."
    )]
    [InlineData(
        "counter vs café sales in August",
        "Net sales: Actual, August 2026, for Counter sales and Café sales, by account."
    )]
    [InlineData(
        "rank shops by sales growth",
        "Growth of Net sales: Actual against Prior year, April 2026 to August 2026, by shop, the fastest growing first, in percent."
    )]
    [InlineData("people per loaf in August", "People per loaf baked: Actual, August 2026.")]
    [InlineData("gross margin by shop", "Gross profit in % of net sales: Actual, April 2026 to August 2026, by shop.")]
    [InlineData(
        "shops with gross margin below 20%",
        "Gross profit in % of net sales: Actual, April 2026 to August 2026, by shop, only rows of at most 20%."
    )]
    [InlineData(
        "catering share of net sales by shop in August",
        "Catering orders in % of net sales: Actual, August 2026, by shop."
    )]
    [InlineData(
        "bakers' wages divided by shop wages by month",
        "Bakers’ wages in % of shop wages: Actual, April 2026 to August 2026, by month."
    )]
    [InlineData("who earns most per loaf in August", "Net sales per loaf baked: Actual, August 2026, by shop, the 10 largest.")]
    [InlineData("sales in calendar 2025", "Net sales: Actual, January 2025 to December 2025.")]
    [InlineData("sales in financial year 2026", "Net sales: Actual, FY26.")]
    [InlineData("FY26 Q1 vs FY25 Q1 sales", "Variance of Net sales: Actual against Prior year, Q1 FY26.")]
    [InlineData("sales in the first 2 months", "Net sales: Actual, April 2026 to May 2026.")]
    [InlineData(
        "what changed in August in shop wages",
        "What drives the variance of Shop wages: Actual against July 2026, August 2026."
    )]
    public void Words_that_are_names_too_are_told_apart_by_what_stands_around_them(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    /// <summary>The book has no net profit: its last line is said to take the place, and net sales do not.</summary>
    [Fact]
    public void A_usual_name_of_a_line_that_the_book_calls_otherwise_is_said()
    {
        var read = FirstReader.Read("net profit in August");
        Assert.Equal("Operating profit", Book.Figure(read.Question!.Figure)!.Name);
        Assert.Contains("“net profit” read as Operating profit", read.Reading!.Assumed);
    }

    /// <summary>What follows the last of a list is said once for all of it, and then the first is no shop, channel or
    /// level.</summary>
    [Theory]
    [InlineData(
        "café and counter sales in August",
        "Net sales: Actual, August 2026, for Café sales and Counter sales, by account."
    )]
    [InlineData("shop and bakers' wages in August", "People: Actual, August 2026, for Shop wages and Bakers’ wages, by account.")]
    public void The_end_of_a_list_holds_for_all_of_it(string text, string sentence) =>
        Assert.Equal(sentence, FirstReader.Read(text).Reading!.Sentence);

    /// <summary>A plan whose name has the word is meant by it; where none has, it is the budget.</summary>
    [Theory]
    [InlineData("sales vs target in August", "Stretch target")]
    [InlineData("did sales hit target in August", "Stretch target")]
    [InlineData("sales vs plan in August", "Budget 27")]
    [InlineData("sales vs budget in August", "Budget 27")]
    public void A_plan_is_known_by_its_own_word(string text, string plan)
    {
        var target = Book.Definition.Scenarios[1] with { Code = "stretch", Name = "Stretch target" };
        var book = new Book(Book.Definition with { Scenarios = Book.Definition.Scenarios.Add(target) }, 1, Book.Members);
        Assert.Contains(
            $"against {plan}",
            new FirstReader(book, new BookWords(book), Vocabulary.English).Read(text).Reading!.Sentence,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_margin_of_nothing_said_is_asked_back_line_by_line() =>
        Assert.Equal(
            ["Gross profit in % of net sales", "Operating profit in % of net sales"],
            FirstReader.Read("show me the margin").Choices.Select(c => Book.Figure(c.Question.Figure)!.Name)
        );

    [Theory]
    [InlineData("sales last week", "kept by month")]
    [InlineData("sales by day in August", "kept by month")]
    [InlineData("what if sales rise by 5%", "does not try out")]
    [InlineData("shops with sales over 100k and people over budget", "one figure at a time")]
    [InlineData("sales not by shop", "cannot be turned round")]
    [InlineData("load factor by shop", "factor")]
    [InlineData("top 2 shops for counter sales, bottom 2 for café sales", "ranks by one thing")]
    [InlineData("accounts with no postings in July", "leaves something out")]
    [InlineData("shops that missed budget three months in a row", "in every month")]
    [InlineData("balance sheet in August", "by its name")]
    [InlineData("sales up, profit down: which shops", "one figure at a time")]
    public void What_cannot_be_said_of_the_figures_is_refused_with_the_reason(string text, string because)
    {
        var read = FirstReader.Read(text);
        Assert.True(read.Outcome == ReadingOutcome.CannotAnswer, read.Reading?.Sentence);
        Assert.Contains(because, read.Because, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("go back", ReadingOutcome.GoesBack)]
    [InlineData("back please", ReadingOutcome.GoesBack)]
    [InlineData("start afresh", ReadingOutcome.StartsAfresh)]
    public void Steps_of_the_trail_may_be_said(string text, ReadingOutcome outcome) =>
        Assert.Equal(outcome, FirstReader.Read(text).Outcome);
}
