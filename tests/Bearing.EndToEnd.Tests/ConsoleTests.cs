using System.Text.RegularExpressions;
using Deque.AxeCore.Commons;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>The console in headless Chromium, as a person uses it.</summary>
public sealed partial class ConsoleTests(DemoService demo) : InBrowser(demo)
{
    [Fact]
    public async Task The_first_question_shown_leads_to_a_whole_paper()
    {
        var page = await Open();
        await page.GetByRole(AriaRole.Button, new() { Name = "why did operating profit miss budget in September 2026?" })
            .ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 }))
            .ToContainTextAsync("Operating profit in September 2026");
        await Expect(page.GetByRole(AriaRole.Region, new() { Name = "How the question was read" }))
            .ToContainTextAsync("Budget 2026");
        await Expect(page.GetByRole(AriaRole.Region, new() { Name = "Table" }).GetByRole(AriaRole.Row)).ToHaveCountAsync(21);
        await Expect(page.Locator(".canvas svg")).ToBeVisibleAsync();
        await Expect(page.GetByText("equals the sum of its")).ToBeVisibleAsync();
        await Expect(page.GetByText("invented data", new() { Exact = true })).ToBeVisibleAsync();
    }

    [Fact]
    public async Task Each_line_of_a_statement_in_percent_opens_and_its_entries_come_into_view_below_the_table()
    {
        var page = await Asked(
            await Open(),
            "p&l in percent of revenue by account group, september, versus budget",
            "Profit before tax in % of revenue"
        );
        await page.GetByRole(AriaRole.Button, new() { Name = "Freight revenue: step into" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "ledger entries" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Name = "Entries: Freight revenue" })).ToBeInViewportAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Freight revenue: step into" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "one level down" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 }))
            .ToContainTextAsync("Freight revenue in % of revenue in September 2026 came to");
        await Expect(page.GetByRole(AriaRole.Region, new() { Name = "Table" })).ToContainTextAsync("Lorry freight");
    }

    [Fact]
    public async Task One_gap_is_walked_from_the_total_to_the_row_of_the_file_and_back()
    {
        var page = await Asked(await Open(), "operating profit versus budget by entity in September 2026", "Operating profit");
        await page.GetByRole(AriaRole.Button, new() { Name = "Skelmar Ferries: step into" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "by account" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("for Skelmar Ferries");
        await page.GetByRole(AriaRole.Button, new() { Name = "Insurance recoveries: step into" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "by month" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Insurance recoveries");
        await page.GetByRole(AriaRole.Button, new() { NameRegex = ActualCell() }).First.ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { NameRegex = SourceOf() }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Dialog)).ToContainTextAsync("ledger-2026-h2.csv");
        await Expect(page.GetByRole(AriaRole.Dialog)).ToContainTextAsync("Insurance recovery quay collision 2025");
        await page.Keyboard.PressAsync("Escape");
        await Expect(page.GetByRole(AriaRole.Complementary, new() { Name = "Trail" }).GetByRole(AriaRole.Listitem))
            .ToHaveCountAsync(3);
        await page.GetByRole(AriaRole.Button, new() { Name = "One step back" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("for Skelmar Ferries");
        await page.GoBackAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Insurance recoveries");
    }

    [Fact]
    public async Task A_figure_beside_another_says_its_unit_and_opens_its_own_entries()
    {
        var page = await Asked(await Open(), "revenue, sailings and passengers by route in September 2026", "Sailings to");
        var table = page.GetByRole(AriaRole.Region, new() { Name = "Table" });
        await Expect(table.GetByRole(AriaRole.Columnheader, new() { Name = "Passengers" })).ToContainTextAsync("passengers");
        await Expect(table.GetByRole(AriaRole.Columnheader, new() { Name = "Revenue" })).ToContainTextAsync("EUR thousand");
        await table.GetByRole(AriaRole.Button, new() { NameRegex = PassengersCell() }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Name = "Entries: Calder–Pellow, Passengers" }))
            .ToBeInViewportAsync();
        await Expect(page.Locator(".entries")).ToContainTextAsync("Passengers");
        await page.GetByRole(AriaRole.Region, new() { Name = "How the question was read" })
            .GetByRole(AriaRole.Button, new() { Name = "Remove figure Passengers" })
            .ClickAsync();
        await Expect(table.GetByRole(AriaRole.Columnheader, new() { Name = "Passengers" })).ToHaveCountAsync(0);
    }

    [Fact]
    public async Task A_row_opens_in_place_and_closes_again()
    {
        var page = await Asked(await Open(), "operating profit versus budget in September 2026", "Operating profit");
        await page.GetByRole(AriaRole.Button, new() { Name = "Open Direct costs" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Rowheader, new() { Name = "Fuel and energy" })).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Close Direct costs" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Rowheader, new() { Name = "Fuel and energy" })).ToHaveCountAsync(0);
    }

    [Fact]
    public async Task A_figure_of_the_commentary_lights_its_row_and_leads_to_its_cells()
    {
        var page = await Asked(await Open(), "why was consulting over budget in September 2026?", "Consulting");
        var figure = page.Locator("h1 .figure").First;
        await figure.HoverAsync();
        await Expect(page.Locator("tr.lit")).ToHaveCountAsync(1);
        await figure.ClickAsync();
        await Expect(page.GetByRole(AriaRole.Complementary, new() { Name = "Trail" }).GetByRole(AriaRole.Listitem))
            .ToHaveCountAsync(2);
    }

    [Fact]
    public async Task Parts_of_the_reading_are_changed_in_place()
    {
        var page = await Asked(await Open(), "fuel versus budget in August 2026", "August 2026");
        await page.GetByRole(AriaRole.Button, new() { NameRegex = PeriodPart() }).ClickAsync();
        await page.GetByLabel("Search for another period").FillAsync("July 2026");
        await page.Keyboard.PressAsync("Enter");
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("July 2026");
        await page.GetByRole(AriaRole.Button, new() { NameRegex = BasePart() }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "Prior year" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Prior year");
    }

    [Fact]
    public async Task Charts_can_be_switched_and_a_bar_is_stepped_into()
    {
        var page = await Asked(await Open(), "operating profit versus budget by entity in September 2026", "Operating profit");
        await page.GetByRole(AriaRole.Tab, new() { Name = "By month" }).ClickAsync();
        await Expect(page.Locator(".canvas.months svg")).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Tab, new() { Name = "Largest" }).ClickAsync();
        await Expect(page.Locator(".canvas.ranked svg")).ToBeVisibleAsync();
        await page.Locator(".canvas.ranked svg path[fill='#ab4a12']").First.ClickAsync();
        await Expect(page.GetByRole(AriaRole.Complementary, new() { Name = "Trail" }).GetByRole(AriaRole.Listitem))
            .ToHaveCountAsync(2);
    }

    [Fact]
    public async Task Questions_without_an_answer_say_why_and_choices_can_be_taken()
    {
        var page = await Open();
        await Ask(page, "flibber glorp");
        await Expect(page.GetByText("This cannot be answered")).ToBeVisibleAsync();
        await Ask(page, "passenger revenue in Skelmar in August 2026");
        await page.GetByRole(AriaRole.Button, new() { NameRegex = SkelmarChoice() }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Skelmar Ferries");
    }

    [Fact]
    public async Task Everything_is_reached_by_keyboard()
    {
        var page = await Open();
        await Expect(page.GetByLabel("Your question")).ToBeVisibleAsync();
        await page.Keyboard.PressAsync("/");
        await Expect(page.GetByLabel("Your question")).ToBeFocusedAsync();
        await page.Keyboard.TypeAsync("marine fu");
        await Expect(page.GetByRole(AriaRole.Option, new() { Name = "Marine fuel" })).ToBeVisibleAsync();
        await page.Keyboard.PressAsync("Tab");
        await Expect(page.GetByLabel("Your question")).ToHaveValueAsync("Marine fuel ");
        await page.Keyboard.TypeAsync("in August 2026");
        await page.Keyboard.PressAsync("Escape");
        await page.Keyboard.PressAsync("Enter");
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Marine fuel in August 2026");
    }

    [Fact]
    public async Task A_link_holds_the_whole_trail()
    {
        var page = await Asked(await Open(), "fuel versus budget by entity in August 2026", "Fuel and energy");
        await page.GetByRole(AriaRole.Button, new() { Name = "Calder Ferries: step into" }).ClickAsync();
        await page.GetByRole(AriaRole.Menuitem, new() { Name = "by route" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("Calder Ferries");
        Assert.InRange(page.Url.Length, 1, 100);
        var copy = await Open(new Uri(page.Url).PathAndQuery[1..]);
        await Expect(copy.GetByRole(AriaRole.Heading, new() { Level = 1 })).ToContainTextAsync("for Calder Ferries");
        await Expect(copy.GetByRole(AriaRole.Complementary, new() { Name = "Trail" }).GetByRole(AriaRole.Listitem))
            .ToHaveCountAsync(2);
    }

    [Fact]
    public async Task A_file_is_dropped_read_loaded_and_taken_back()
    {
        var book = await DemoService.NewBook(Demo.Client, "dropped");
        var page = await Open($"{book}/loads");
        await page.Locator("input[type=file]").SetInputFilesAsync(Repository.Demo("ledger-2026-h2.csv"));
        await Expect(page.GetByText("It would land as it is")).ToBeVisibleAsync(new() { Timeout = 30_000 });
        await HasNoViolations(page);
        await page.GetByRole(AriaRole.Button, new() { Name = "Load", Exact = true }).ClickAsync();
        await Expect(page.GetByText("Ready to ask.")).ToBeVisibleAsync(new() { Timeout = 30_000 });
        await page.GetByRole(AriaRole.Button, new() { Name = "Take back load 3" }).ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Yes, take load 3 back" }).ClickAsync();
        await Expect(page.GetByText("taken back in edition")).ToBeVisibleAsync();
    }

    [Fact]
    public async Task A_bad_file_shows_its_rows_with_what_to_do()
    {
        var book = await DemoService.NewBook(Demo.Client, "spoilt");
        var page = await Open($"{book}/loads");
        await page.Locator("input[type=file]")
            .SetInputFilesAsync(
                new FilePayload
                {
                    Name = "bad.csv",
                    MimeType = "text/csv",
                    Buffer = "Date,Entity,Account,Amount\n2026-01-05,SKF,40l0,1\n"u8.ToArray(),
                }
            );
        await Expect(page.GetByText("It would not land")).ToBeVisibleAsync();
        await Expect(page.GetByText("line 2, Account")).ToBeVisibleAsync();
        await Expect(page.GetByRole(AriaRole.Button, new() { Name = "Load", Exact = true })).ToBeDisabledAsync();
    }

    [Theory]
    [InlineData(ColorScheme.Light)]
    [InlineData(ColorScheme.Dark)]
    public async Task Pages_pass_an_accessibility_scan(ColorScheme scheme)
    {
        // What the dark colours can break is the contrast; everything else is as in the light.
        var scan = scheme == ColorScheme.Dark ? new AxeRunOptions { RunOnly = RunOnlyOptions.Rules("color-contrast") } : null;
        var page = await Open(scheme: scheme);
        await HasNoViolations(page, scan);
        await Asked(page, "why did operating profit miss budget in September 2026?", "Operating profit");
        await Expect(page.Locator(".canvas svg")).ToBeVisibleAsync();
        await HasNoViolations(page, scan);
        await page.GetByRole(AriaRole.Button, new() { NameRegex = ActualCell() }).First.ClickAsync();
        await Expect(page.GetByRole(AriaRole.Region, new() { Name = "Lines" })).ToBeVisibleAsync();
        await HasNoViolations(page, scan);
        await page.GotoAsync(Demo.Service.Address + "tarrow/loads");
        await Expect(page.GetByText("Loaded so far")).ToBeVisibleAsync();
        await HasNoViolations(page, scan);
    }

    [Fact]
    public async Task The_service_calls_nothing_outside()
    {
        var page = await NewPage();
        var foreign = new List<string>();
        page.Request += (_, r) =>
        {
            if (
                !r.Url.StartsWith(Demo.Service.Address.ToString(), StringComparison.Ordinal)
                && !r.Url.StartsWith("data:", StringComparison.Ordinal)
            )
                foreign.Add(r.Url);
        };
        await page.GotoAsync(Demo.Service.Address + "tarrow/ask");
        await Asked(page, "fuel versus budget in August 2026", "Fuel");
        Assert.Empty(foreign);
    }

    [GeneratedRegex("Actual: .*Show entries")]
    private static partial Regex ActualCell();

    [GeneratedRegex("^Calder–Pellow, Passengers: .*Show entries")]
    private static partial Regex PassengersCell();

    [GeneratedRegex("^Source of")]
    private static partial Regex SourceOf();

    [GeneratedRegex("^period: ")]
    private static partial Regex PeriodPart();

    [GeneratedRegex("^base: ")]
    private static partial Regex BasePart();

    [GeneratedRegex("for Skelmar Ferries")]
    private static partial Regex SkelmarChoice();
}
