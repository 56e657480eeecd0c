using System.Text.RegularExpressions;
using Bearing.Contracts;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>Working on a paper in the console: figures, rows, trail, themes, small windows, states.</summary>
public sealed partial class PaperTests(DemoService demo) : InBrowser(demo)
{
    private static ILocator Headline(IPage page) => page.GetByRole(AriaRole.Heading, new() { Level = 1 });

    [Fact]
    public async Task A_figure_of_the_commentary_says_its_exact_amount_lights_its_cells_and_opens_them()
    {
        var page = await Asked(await Open(), "why did operating profit miss budget in September 2026?", "Operating profit");
        var figure = Headline(page).GetByRole(AriaRole.Button).Nth(1);
        await Expect(figure).ToHaveAttributeAsync("title", Exactly());
        await figure.HoverAsync();
        await Expect(page.Locator("table.grid .lit").First).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Region, new() { Name = "Commentary" })
            .GetByRole(AriaRole.Button, new() { Name = "EUR 240k" })
            .ClickAsync();
        await Expect(Headline(page)).ToContainTextAsync("Marine fuel");
        await Expect(Trail(page)).ToHaveCountAsync(2);
    }

    [Fact]
    public async Task Rows_open_and_close_in_place_without_a_new_step()
    {
        var page = await Asked(await Open(), "operating profit versus budget in September 2026", "Operating profit");
        await page.GetByRole(AriaRole.Button, new() { Name = "Open Direct costs" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Close Direct costs" })).ToBeVisibleAsync();
        await Expect(page.GetByText("Fuel and energy").First).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Close Direct costs" }).ClickAsync();
        await Expect(page.GetByText("Fuel and energy")).ToHaveCountAsync(0);
        await Expect(Trail(page)).ToHaveCountAsync(1);
    }

    [Fact]
    public async Task The_trail_walks_back_by_click_by_key_by_words_and_by_the_browser()
    {
        var page = await Asked(await Open(), "fuel versus budget by entity in August 2026", "Fuel and energy");
        await Asked(page, "by route instead", "Fuel and energy");
        await Asked(page, "and in July?", "July 2026");
        await Expect(Trail(page)).ToHaveCountAsync(3);
        await page.Keyboard.PressAsync("Escape");
        await page.Locator("body").PressAsync("Alt+ArrowLeft");
        await Expect(Headline(page)).ToContainTextAsync("August 2026");
        await Trail(page).First.GetByRole(AriaRole.Button).ClickAsync();
        await Expect(Trail(page)).ToHaveCountAsync(1);
        await page.ReloadAsync();
        await Expect(Headline(page)).ToContainTextAsync("August 2026");
        await Asked(page, "by account instead", "Fuel and energy");
        await Expect(Trail(page)).ToHaveCountAsync(2);
        await Ask(page, "go back");
        await Expect(Trail(page)).ToHaveCountAsync(1);
        await page.GetByRole(AriaRole.Button, new() { Name = "Start afresh" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Region, new() { Name = "Questions to begin with" })).ToBeVisibleAsync();
    }

    [Fact]
    public async Task Papers_of_one_text_stand_under_each_other_also_by_their_link()
    {
        var page = await Open();
        await page.GetByLabel("Your question")
            .FillAsync("show fuel by entity in August 2026 and explain consulting in September 2026");
        await page.Keyboard.PressAsync("Enter");
        await Expect(page.Locator("article.paper")).ToHaveCountAsync(2);
        await Expect(page.Locator("article.paper").Nth(1)).ToContainTextAsync("Adviser fee");
        await page.ReloadAsync();
        await Expect(page.Locator("article.paper")).ToHaveCountAsync(2);
        await Asked(page, "by entity instead", "Consulting");
        await Expect(page.Locator("article.paper")).ToHaveCountAsync(1);
        await Expect(Trail(page)).ToHaveCountAsync(3);
    }

    [Fact]
    public async Task Scale_and_chart_are_as_asked_until_they_are_taken_off()
    {
        var page = await Asked(await Open(), "fuel versus last year by month in millions as a line chart", "Fuel and energy");
        await Expect(page.GetByRole(AriaRole.Columnheader, new() { Name = "EUR million" })).ToBeVisibleAsync();
        await Expect(page.GetByRole(AriaRole.Tab, new() { Name = "By month" })).ToHaveAttributeAsync("aria-selected", "true");
        await page.Locator(".part[data-part=display]").GetByRole(AriaRole.Button).Last.ClickAsync();
        await Expect(page.GetByRole(AriaRole.Columnheader, new() { Name = "EUR thousand" })).ToBeVisibleAsync();
    }

    [Fact]
    public async Task Help_and_the_questions_to_begin_with_are_at_hand_on_every_paper()
    {
        var page = await Asked(await Open(), "fuel in August 2026", "Fuel and energy");
        await page.GetByRole(AriaRole.Button, new() { Name = "Questions to begin with" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "what can I ask?" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Name = "What can be asked" })).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Status)
            .GetByRole(AriaRole.Button, new() { Name = "top 10 accounts by variance" })
            .ClickAsync();
        await Expect(Headline(page)).ToContainTextAsync("Operating profit");
    }

    [Fact]
    public async Task A_new_paper_is_read_from_its_top()
    {
        var page = await Asked(await Open(), "operating profit versus budget by account in September 2026", "Operating profit");
        await page.EvaluateAsync("window.scrollTo(0, document.body.scrollHeight)");
        await page.GetByRole(AriaRole.Button, new() { Name = "by entity", Exact = true }).ClickAsync();
        await Expect(Trail(page)).ToHaveCountAsync(2);
        await Expect(page.GetByLabel("Your question")).ToBeInViewportAsync();
    }

    [Theory]
    [InlineData(640)]
    [InlineData(1280)]
    public async Task No_page_is_wider_than_its_window(int width)
    {
        var page = await Open(width: width);
        await Asked(page, "revenue versus budget and last year by entity and month in Q3 2026", "Revenue");
        Assert.True(await page.EvaluateAsync<bool>("document.documentElement.scrollWidth <= window.innerWidth"));
        await page.GotoAsync(Demo.Service.Address + "tarrow/loads");
        await Expect(page.GetByText("Loaded so far")).ToBeVisibleAsync();
        Assert.True(await page.EvaluateAsync<bool>("document.documentElement.scrollWidth <= window.innerWidth"));
    }

    [Fact]
    public async Task The_dark_page_is_kept_over_a_reload()
    {
        var page = await Open();
        await page.GetByRole(AriaRole.Button, new() { Name = "Use the dark page" }).ClickAsync();
        await page.ReloadAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Use the light page" })).ToBeVisibleAsync();
        await Expect(page.Locator("html")).ToHaveAttributeAsync("data-mantine-color-scheme", "dark");
    }

    [Fact]
    public async Task What_was_assumed_and_not_used_is_shown()
    {
        var page = await Asked(await Open(), "revenue versus budget, splendid", "Revenue");
        await Expect(page.GetByText("Assumed:")).ToContainTextAsync("year to date");
        await Expect(page.GetByText("Not used:")).ToContainTextAsync("splendid");
    }

    [Fact]
    public async Task Positive_and_negative_amounts_are_told_apart_without_colour()
    {
        var page = await Asked(await Open(), "operating profit versus budget in September 2026", "Operating profit");
        var total = page.Locator("table.grid tr.total");
        await Expect(total).ToContainTextAsync("(338.1)");
        await Expect(total).ToContainTextAsync("U");
        await Expect(page.Locator("table.grid thead")).ToContainTextAsync("EUR thousand");
    }

    [Fact]
    public async Task An_empty_book_says_what_to_load_and_an_unknown_book_that_there_is_none()
    {
        var book = await DemoService.NewBook(Demo.Client, "blank");
        var page = await Open($"{book}/ask");
        await Expect(page.GetByText("Nothing to ask about yet")).ToBeVisibleAsync();
        await page.GotoAsync(Demo.Service.Address + "nowhere/ask");
        await Expect(page.GetByText("This book cannot be opened")).ToBeVisibleAsync();
        await Expect(page.GetByText("There is no book “nowhere”.")).ToBeVisibleAsync();
    }

    [Fact]
    public async Task A_service_that_goes_away_is_told_and_comes_back_by_asking_again()
    {
        var page = await Asked(await Open(), "fuel in August 2026", "Fuel");
        await page.RouteAsync("**/ask", route => route.AbortAsync());
        await Ask(page, "revenue in August 2026");
        await Expect(page.GetByRole(AriaRole.Alert)).ToContainTextAsync("did not work");
        await Expect(Headline(page)).ToContainTextAsync("Fuel");
        await page.UnrouteAsync("**/ask");
        await Asked(page, "revenue in August 2026", "Revenue");
        await Expect(page.GetByRole(AriaRole.Alert)).ToHaveCountAsync(0);
    }

    [Fact]
    public async Task A_role_is_corrected_above_its_column_and_the_file_is_read_anew()
    {
        var book = await DemoService.NewBook(Demo.Client, "corrected");
        var page = await Open($"{book}/loads");
        await page.Locator("input[type=file]")
            .SetInputFilesAsync(
                new FilePayload
                {
                    Name = "own-words.csv",
                    MimeType = "text/csv",
                    Buffer =
                        "Document,Date,Entity,Konto,Credit,Debit\nX1,2026-10-05,SKF,4010,5.00,\nX1,2026-10-05,SKF,1110,,5.00\n"u8.ToArray(),
                }
            );
        await Expect(page.GetByText("no column for the account")).ToBeVisibleAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Load", Exact = true })).ToBeDisabledAsync();
        await page.GetByLabel("Konto is read as").SelectOptionAsync("account");
        await Expect(page.GetByText("It would land as it is")).ToBeVisibleAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Load", Exact = true })).ToBeEnabledAsync();
    }

    [Fact]
    public async Task The_book_looked_at_last_is_opened_next_time()
    {
        var book = await DemoService.NewBook(Demo.Client, "zuletzt");
        var page = await Open($"{book}/ask");
        await Expect(page.GetByText("Nothing to ask about yet")).ToBeVisibleAsync();
        await page.GotoAsync(Demo.Service.Address.ToString());
        await page.WaitForURLAsync($"**/{book}/ask");
        await page.GetByLabel("Book", new() { Exact = true }).SelectOptionAsync("tarrow");
        await page.WaitForURLAsync("**/tarrow/ask");
    }

    [GeneratedRegex(@"^-?[\d,.]+ exactly")]
    private static partial Regex Exactly();
}
