using System.Text;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>The pages Loads and Tables: putting right what was not understood, agreeing to warnings, looking at
/// records.</summary>
public sealed partial class LoadPageTests(DemoService demo) : InBrowser(demo)
{
    private const string Slip =
        "Document,Date,Entity,Account,Debit,Credit,Text\nLT1,2026-08-20,SKF,6II0,75.50,,late invoice\nLT1,2026-08-20,SKF,1110,,75.50,late invoice\n";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Task Drop(IPage page, string name, string text) =>
        page.Locator("input[type=file]")
            .First.SetInputFilesAsync(
                new FilePayload
                {
                    Name = name,
                    MimeType = "text/csv",
                    Buffer = Encoding.UTF8.GetBytes(text),
                }
            );

    [Fact]
    public async Task An_unknown_account_is_given_a_meaning_and_the_warning_is_agreed_with()
    {
        var book = await DemoService.NewBook(Demo.Client, "put-right", "ledger-2026-h2.csv");
        await Demo.Client.Close(book, new CloseRequest("2026-P08"), Cancel);
        var page = await Open($"{book}/loads");
        await Drop(page, "slip.csv", Slip);
        var stands = page.GetByRole(AriaRole.Combobox, new() { Name = "What 6II0 stands for" });
        await Expect(stands).ToBeVisibleAsync();
        await HasNoViolations(page);
        await stands.FillAsync("6110");
        await page.GetByRole(AriaRole.Option, new() { Name = "6110 Terminal rent" }).ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "It stands for this" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.List, new() { Name = "Warnings" }).First)
            .ToContainTextAsync("closed and loaded already");
        var load = page.GetByRole(AriaRole.Button, new() { Name = "Load", Exact = true });
        await Expect(load).ToBeDisabledAsync();
        await page.GetByLabel("I have seen the warnings").CheckAsync();
        await load.ClickAsync();
        await Expect(page.GetByText("Ready to ask.")).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Show what the latest change did to the figures" }).ClickAsync();
        await Expect(page.GetByLabel("Changed figures").GetByRole(AriaRole.Row)).ToHaveCountAsync(3);
        await Expect(page.GetByLabel("Changed figures").GetByRole(AriaRole.Cell, new() { Name = "late" })).ToHaveCountAsync(2);
    }

    [Fact]
    public async Task Refused_rows_can_be_taken_away_with_their_reasons()
    {
        var book = await DemoService.NewBook(Demo.Client, "taken-away");
        var page = await Open($"{book}/loads");
        await Drop(page, "slip.csv", Slip);
        var waiting = page.WaitForDownloadAsync();
        await page.GetByRole(AriaRole.Link, new() { Name = "Refused rows with their reasons" }).ClickAsync();
        var download = await waiting;
        Assert.Equal("refused-slip.csv", download.SuggestedFilename);
        var rows = await File.ReadAllLinesAsync(await download.PathAsync(), Cancel);
        Assert.StartsWith("LT1,2026-08-20,SKF,6II0,75.50,,late invoice,2,", Assert.Single(rows[1..]), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Records_are_filtered_ordered_and_paged()
    {
        var book = await DemoService.NewBook(Demo.Client, "record-page");
        await using var content = File.OpenRead(Repository.Demo("open-items.csv"));
        var upload = await Demo.Client.Upload(book, "open-items.csv", content, Cancel);
        var job = await Demo.Client.Load(book, new LoadRequest(upload.Id, "records", Table: "open-items"), "records", Cancel);
        await foreach (var state in Demo.Client.Follow(book, job.Id, Cancel))
            job = state;
        var page = await Open($"{book}/tables");
        await Expect(page.GetByText("640 records")).ToBeVisibleAsync();
        await HasNoViolations(page);
        await page.GetByLabel("Only where").FillAsync("status is disputed");
        await page.GetByRole(AriaRole.Button, new() { Name = "Show" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Status)).Not.ToContainTextAsync("640");
        await page.GetByRole(AriaRole.Button, new() { Name = "Amount" }).ClickAsync();
        await Expect(page.GetByRole(AriaRole.Columnheader, new() { Name = "Amount" }))
            .ToHaveAttributeAsync("aria-sort", "descending");
        await page.GetByLabel("Only where").FillAsync("colour is red");
        await page.GetByRole(AriaRole.Button, new() { Name = "Show" }).ClickAsync();
        await Expect(page.GetByText(NoField())).ToBeVisibleAsync();
    }

    [GeneratedRegex("has no field “colour”")]
    private static partial Regex NoField();
}
