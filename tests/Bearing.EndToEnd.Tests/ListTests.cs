using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using Bearing.Contracts;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>Lists of entries: the columns and the order that were asked for, by every door.</summary>
public sealed class ListTests(DemoService demo) : InBrowser(demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private const string Fuel = "actual@2026-P08;figure=a:FUEL";

    private static decimal Of(string text) => decimal.Parse(text, CultureInfo.InvariantCulture);

    /// <summary>The slice of the fuel accounts, as an answer gives it.</summary>
    private async Task<string> Slice() => (await Demo.Ask("fuel in August 2026")).Answers[0].Grid!.Rows[^1].Slice;

    [Theory]
    [InlineData("size")]
    [InlineData("smallest")]
    [InlineData("newest")]
    [InlineData("oldest")]
    [InlineData("loaded")]
    public async Task Lines_come_page_by_page_in_the_order_asked_for_and_none_twice(string order)
    {
        var (slice, lines, cursor) = (await Slice(), new List<LineDto>(), (string?)null);
        do
        {
            var page = await Demo.Service.Http.GetFromJsonAsync<LinePageDto>(
                $"api/books/{DemoService.Book}/lines?slice={Uri.EscapeDataString(slice)}&order={order}&limit=37{(cursor is null ? "" : $"&cursor={Uri.EscapeDataString(cursor)}")}",
                Cancel
            );
            lines.AddRange(page!.Lines);
            Assert.True(lines.Count <= page.Count);
            cursor = page.Next;
        } while (cursor is not null);
        Assert.Equal(lines.Count, lines.Select(l => (l.Load, l.Row)).Distinct().Count());
        Func<LineDto, decimal> key = order switch
        {
            "size" => l => -Math.Abs(Of(l.Amount)),
            "smallest" => l => Math.Abs(Of(l.Amount)),
            "newest" => l => -DateOnly.ParseExact(l.Date!, "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber,
            "oldest" => l => DateOnly.ParseExact(l.Date!, "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber,
            _ => l => l.Load,
        };
        Assert.Equal(lines.OrderBy(key).ThenBy(l => l.Load).ThenBy(l => l.Row).Select(l => l.Row), lines.Select(l => l.Row));
    }

    [Fact]
    public async Task An_order_that_is_none_and_too_many_columns_are_refused_with_what_can_be_done()
    {
        using var order = await Demo.Service.Http.GetAsync(
            $"api/books/{DemoService.Book}/lines?slice={Uri.EscapeDataString(Fuel)}&order=sideways",
            Cancel
        );
        Assert.Equal(HttpStatusCode.BadRequest, order.StatusCode);
        Assert.Contains("smallest, newest or oldest", await order.Content.ReadAsStringAsync(Cancel), StringComparison.Ordinal);
        var question = (await Demo.Ask("entries of fuel in August 2026, newest first")).Answers[0].Question;
        var kind = (EntriesDto)question.Kind;
        Assert.Equal(("date", true), (kind.Listing!.OrderBy, kind.Listing.Descending));
        using var columns = await Demo.Service.Http.PostAsJsonAsync(
            $"api/books/{DemoService.Book}/answers",
            new AnswerRequest(
                question with
                {
                    Kind = kind with { Listing = new ListingDto([.. Enumerable.Repeat("date", 41)]) },
                }
            ),
            Cancel
        );
        Assert.Equal(HttpStatusCode.BadRequest, columns.StatusCode);
        Assert.Contains("listing.columns", await columns.Content.ReadAsStringAsync(Cancel), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_follow_up_changes_the_order_and_keeps_the_columns()
    {
        var first = (await Demo.Ask("entries of fuel in August 2026 with the columns date, route and amount")).Answers[0];
        Assert.Equal(["date", "route", "amount"], ((EntriesDto)first.Question.Kind).Listing!.Columns);
        var then = (await Demo.Ask("newest first", first.Question)).Answers[0];
        Assert.Equal(["date", "route", "amount"], ((EntriesDto)then.Question.Kind).Listing!.Columns);
        Assert.Equal(then.Entries!.Lines.Select(l => l.Date).OrderDescending(), then.Entries.Lines.Select(l => l.Date));
        Assert.Equal((first.Entries!.Count, first.Entries.Sum), (then.Entries.Count, then.Entries.Sum));
        // What the book can group is no longer a list: the columns are gone with it.
        Assert.IsNotType<EntriesDto>((await Demo.Ask("by route instead", then.Question)).Answers[0].Question.Kind);
    }

    [Fact]
    public async Task In_the_console_the_list_has_these_columns_and_its_order_can_be_changed()
    {
        var page = await Asked(
            await Open(),
            "entries of fuel in August 2026 with the columns date, route and amount, newest first",
            "entries for Fuel and energy"
        );
        var list = page.GetByRole(AriaRole.Region, new() { Name = "Lines" });
        await Expect(list.GetByRole(AriaRole.Columnheader)).ToHaveTextAsync(["Date", "Route", "Amount", "From"]);
        await Expect(page.GetByLabel("Order of the lines")).ToHaveValueAsync("newest");
        await Expect(list.GetByRole(AriaRole.Row).Nth(1)).ToContainTextAsync("2026-08-28");
        await page.GetByLabel("Order of the lines").SelectOptionAsync("oldest");
        await Expect(list.GetByRole(AriaRole.Row).Nth(1)).ToContainTextAsync("2026-08-01");
        await HasNoViolations(page);
    }
}
