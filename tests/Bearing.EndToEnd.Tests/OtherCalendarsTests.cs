using System.Globalization;
using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>Books whose year does not begin in January, from file to answer.</summary>
public sealed class OtherCalendarsTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>Each calendar month from January 2025 to June 2026 sells its own number of thousands: January 2025 has 1,
    /// February 2025 has 2, …</summary>
    private async Task<string> Book(int start)
    {
        var id = $"year-from-{start}";
        await demo.Client.Create(
            new NewBook(
                id,
                id,
                "EUR",
                start,
                "test",
                "result",
                null,
                [
                    new("account", "Account", "account", ["Group", "Account"], null),
                    new("entity", "Entity", "entity", ["Entity"], null),
                ],
                [new("result", "Result", ["INC", "COS"], null)],
                null,
                null,
                null
            ),
            Cancel
        );
        await Load(
            id,
            "accounts.csv",
            "Code,Name,Parent,Type\nINC,Income,,income\nSALES,Sales,INC,income\nCOS,Costs,,cost\nRENT,Rent,COS,cost\n"
        );
        await Load(id, "entities.csv", "Entity,Name\nYARD,The Yard\n");
        var lines = new StringBuilder("Document,Date,Entity,Account,Credit,Debit\n");
        for (var i = 0; i < 18; i++)
        {
            var date = new DateOnly(2025, 1, 15).AddMonths(i).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
            lines.Append(CultureInfo.InvariantCulture, $"D{i},{date},YARD,SALES,{1000 * (i + 1)},\nR{i},{date},YARD,RENT,,100\n");
        }
        await Load(id, "ledger.csv", lines.ToString());
        return id;
    }

    private async Task Load(string book, string name, string csv)
    {
        var job = await DemoService.Load(demo.Client, book, name, Encoding.UTF8.GetBytes(csv));
        Assert.True(
            job.State == "done",
            $"{name}: {job.Problem?.Detail} {string.Join(' ', job.Problem?.Refused?.Select(r => r.Because) ?? [])}"
        );
    }

    private async Task<AnswerDto> Ask(string book, string text)
    {
        var set = await demo.Client.Ask(book, new AskRequest(text), Cancel);
        Assert.True(set.Outcome == "answered", $"{text}: {set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}");
        return Assert.Single(set.Answers);
    }

    private static decimal Total(AnswerDto answer, string column = "subject") =>
        decimal.Parse(answer.Grid!.Rows[^1].Values[column]!, CultureInfo.InvariantCulture);

    [Theory]
    // Begins in January: the year to June 2026 holds months 13–18; its first quarter 13–15.
    [InlineData(1, 93_000, 42_000, 21_000, 51_000)]
    // Begins in April: the year 2026/27 has April to June 2026 so far, months 16–18, which are its first quarter.
    [InlineData(4, 51_000, 51_000, 15_000, 51_000)]
    // Begins in July: the year 2025/26 holds months 7–18; its first quarter is July to September 2025, months 7–9.
    [InlineData(7, 150_000, 24_000, 0, 51_000)]
    public async Task Years_quarters_and_prior_years_follow_the_fiscal_calendar(
        int start,
        int yearToDate,
        int firstQuarter,
        int priorYearToDate,
        int june
    )
    {
        var book = await Book(start);
        Assert.Equal(yearToDate, Total(await Ask(book, "sales year to date")));
        Assert.Equal(firstQuarter, Total(await Ask(book, "sales in Q1")));
        Assert.Equal(june, Total(await Ask(book, "sales in april 2026 to june 2026")));
        Assert.Equal(18_000, Total(await Ask(book, "sales in june 2026")));
        Assert.Equal(-100, -Total(await Ask(book, "rent in june 2026")));
        if (priorYearToDate > 0)
            Assert.Equal(priorYearToDate, Total(await Ask(book, "sales year to date versus last year"), "base"));
    }

    [Fact]
    public async Task Months_are_listed_in_fiscal_order_and_add_up()
    {
        var book = await Book(10);
        var answer = await Ask(book, "sales by month year to date");
        var months = answer.Grid!.Rows.Where(r => r.Kind == "member").ToList();
        Assert.Equal("October 2025", months[0].Label);
        Assert.Equal(9, months.Count);
        Assert.Equal(Total(answer), months.Sum(m => decimal.Parse(m.Values["subject"]!, CultureInfo.InvariantCulture)));
    }
}
