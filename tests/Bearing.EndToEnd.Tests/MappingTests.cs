using System.Diagnostics;
using System.Net;
using System.Text;
using System.Text.Json;
using Bearing.Contracts;
using Microsoft.Playwright;
using Xunit;
using static Microsoft.Playwright.Assertions;

namespace Bearing.EndToEnd.Tests;

/// <summary>Saved mappings over HTTP, on the command line and in the console: proposed, kept, recognised next month, taken
/// along.</summary>
public sealed class MappingTests(DemoService demo) : InBrowser(demo)
{
    private const string Export =
        "Small export, printed today\nBeleg;Tag;Firma;Konto;Betrag\nXMM1;05.MM.2026;SKF;4010;-1.200,50\nXMM1;05.MM.2026;SKF;1110;1.200,50\nTotal;;;;0,00\n";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static readonly MappingFile Own = new(
        "bearing-mapping/1",
        "own-words",
        "ledger",
        [new("Beleg", "document"), new("Tag", "date"), new("Firma", "entity"), new("Konto", "account"), new("Betrag", "amount")],
        "debit-positive",
        "dd.MM.yyyy",
        "comma",
        Balanced: true
    );

    private static byte[] Month(int month) =>
        Encoding.UTF8.GetBytes(
            Export.Replace(
                "MM",
                month.ToString("00", System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            )
        );

    [Fact]
    public async Task A_kept_mapping_is_recognised_by_the_headings_of_the_next_file()
    {
        var book = await DemoService.NewBook(Demo.Client, "mapped");
        var job = await DemoService.Load(Demo.Client, book, "oct.csv", Month(10));
        Assert.Equal("failed", job.State);
        await Demo.Client.KeepMapping(book, "own-words", Own, Cancel);
        job = await DemoService.Load(Demo.Client, book, "oct.csv", Month(10));
        Assert.True(job.State == "done", job.Problem?.Detail);
        Assert.Equal(
            ("0.00", "1200.50", 2L),
            (job.Receipt!.Periods[0].Net, job.Receipt.Periods[0].Credit, job.Receipt.RowsTaken)
        );
        Assert.Equal(["titles", "totals"], job.Receipt.LeftOut.Select(l => l.What));
        Assert.Equal("done", (await DemoService.Load(Demo.Client, book, "nov.csv", Month(11))).State);
        using var content = new MemoryStream(Month(12));
        var upload = await Demo.Client.Upload(book, "dec.csv", content, Cancel);
        Assert.Equal("own-words", (await Demo.Client.Preview(book, new LoadRequest(upload.Id), Cancel)).Mapping.Name);
    }

    [Fact]
    public async Task A_separator_that_nobody_would_guess_is_said_once_and_kept_with_the_mapping()
    {
        var book = await DemoService.NewBook(Demo.Client, "caret");
        byte[] Caret(int month) => Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Month(month)).Replace(';', '^'));
        await Demo.Client.KeepMapping(book, "caret", Own with { Name = "caret", Separator = "^", Decimals = "point" }, Cancel);
        using var content = new MemoryStream(Caret(10));
        var upload = await Demo.Client.Upload(book, "oct.txt", content, Cancel);
        var preview = await Demo.Client.Preview(book, new LoadRequest(upload.Id, Decimals: "comma"), Cancel);
        Assert.True(preview.Lands, preview.Problem);
        Assert.StartsWith("text, separator “^” (as said)", preview.Form, StringComparison.Ordinal);
        Assert.Equal(
            ("^", "comma", "1200.50"),
            (preview.Mapping.Separator, preview.Mapping.Decimals, preview.Receipt!.Periods[0].Credit)
        );
        var done = await Demo.Client.Load(book, new LoadRequest(upload.Id, Decimals: "comma", Scale: 1000), "caret-oct", Cancel);
        await foreach (var state in Demo.Client.Follow(book, done.Id, Cancel))
            done = state;
        Assert.Equal("1200500.00", done.Receipt!.Periods[0].Credit);
        Assert.Equal("-1.200,50", (await Demo.Client.SourceRow(book, done.Receipt.Load, 3, Cancel)).Fields[4]);
        foreach (
            var wrong in (LoadRequest[])
                [
                    new(upload.Id, Separator: "ab"),
                    new(upload.Id, Encoding: "klingon"),
                    new(upload.Id, Decimals: "dash"),
                    new(upload.Id, Scale: 0),
                ]
        )
            Assert.Equal(
                HttpStatusCode.UnprocessableEntity,
                (await Assert.ThrowsAsync<BearingProblemException>(() => Demo.Client.Preview(book, wrong, Cancel))).Status
            );
    }

    [Fact]
    public async Task What_was_recognised_can_be_kept_and_read_back_as_the_same_mapping()
    {
        var book = await DemoService.NewBook(Demo.Client, "kept-reading");
        using var content = new MemoryStream(await File.ReadAllBytesAsync(Repository.Demo("ledger-2026-h2.csv"), Cancel));
        var upload = await Demo.Client.Upload(book, "q3.csv", content, Cancel);
        var proposed = (await Demo.Client.Preview(book, new LoadRequest(upload.Id), Cancel)).Mapping;
        var kept = await Demo.Client.KeepMapping(book, "demo-ledger", proposed, Cancel);
        Assert.Equal(
            JsonSerializer.Serialize(kept),
            JsonSerializer.Serialize(await Demo.Client.Mapping(book, "demo-ledger", Cancel))
        );
        var preview = await Demo.Client.Preview(book, new LoadRequest(upload.Id), Cancel);
        Assert.Equal(("demo-ledger", true), (preview.Mapping.Name, preview.Lands));
        await Demo.Client.RemoveMapping(book, "demo-ledger", Cancel);
        Assert.Empty(await Demo.Client.Mappings(book, Cancel));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Assert.ThrowsAsync<BearingProblemException>(() => Demo.Client.Mapping(book, "demo-ledger", Cancel))).Status
        );
    }

    public static TheoryData<MappingFile, string> Unusable() =>
        new()
        {
            { Own with { Form = "bearing-mapping/9" }, "form" },
            { Own with { Kind = "poem" }, "kind" },
            { Own with { Columns = [] }, "columns" },
            { Own with { Sign = "sideways" }, "sign" },
            { Own with { Decimals = "star" }, "decimals" },
            { Own with { Periods = "lunar" }, "periods" },
        };

    [Theory]
    [MemberData(nameof(Unusable))]
    public async Task A_mapping_that_cannot_be_used_is_refused_naming_its_part(MappingFile mapping, string part)
    {
        var e = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Demo.Client.KeepMapping(DemoService.Book, "bad", mapping, Cancel)
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, e.Status);
        Assert.Contains(part, e.Problem.Detail, StringComparison.Ordinal);
        Assert.Empty(await Demo.Client.Mappings(DemoService.Book, Cancel));
    }

    [Theory]
    [InlineData("..%2f..%2fstate")]
    [InlineData("UPPER")]
    [InlineData("a%20b")]
    public async Task Names_that_could_be_paths_are_no_names(string name)
    {
        using var body = new StringContent(
            JsonSerializer.Serialize(Own, JsonSerializerOptions.Web),
            Encoding.UTF8,
            "application/json"
        );
        using var response = await Demo.Service.Http.PutAsync(
            new Uri($"api/books/tarrow/mappings/{name}", UriKind.Relative),
            body,
            Cancel
        );
        Assert.True((int)response.StatusCode is >= 400 and < 500);
        Assert.Empty(await Demo.Client.Mappings(DemoService.Book, Cancel));
    }

    [Fact]
    public async Task A_file_for_another_mapping_says_which_headings_are_missing()
    {
        var book = await DemoService.NewBook(Demo.Client, "other-mapping");
        await Demo.Client.KeepMapping(book, "own-words", Own, Cancel);
        using var content = new MemoryStream(await File.ReadAllBytesAsync(Repository.Demo("budget-2026.csv"), Cancel));
        var upload = await Demo.Client.Upload(book, "b.csv", content, Cancel);
        var e = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Demo.Client.Preview(book, new LoadRequest(upload.Id, Mapping: "own-words"), Cancel)
        );
        Assert.Contains("“Beleg” (document)", e.Problem.Detail, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_command_line_keeps_shows_uses_and_removes_them()
    {
        var book = await DemoService.NewBook(Demo.Client, "typed-mapping");
        var (file, month) = (Path.Combine(Path.GetTempPath(), $"{book}.json"), Path.Combine(Path.GetTempPath(), $"{book}.csv"));
        await File.WriteAllTextAsync(file, JsonSerializer.Serialize(Own, JsonSerializerOptions.Web), Cancel);
        await File.WriteAllBytesAsync(month, Month(10), Cancel);
        Assert.Contains(
            "would land",
            (await Run($"load {month} --mapping {file} --preview", book)).Out,
            StringComparison.Ordinal
        );
        Assert.Equal(0, (await Run($"load {month} --mapping {file} --preview --save-mapping from-file", book)).Code);
        Assert.Contains("from-file", (await Run("mappings", book)).Out, StringComparison.Ordinal);
        Assert.Contains("\"Beleg\"", (await Run("mappings show from-file", book)).Out, StringComparison.Ordinal);
        var (code, output) = await Run($"load {month}", book);
        Assert.Equal(0, code);
        Assert.Contains("left out: 1 titles (line 1), 1 totals (line 5)", output, StringComparison.Ordinal);
        Assert.Equal(0, (await Run("mappings remove from-file", book)).Code);
        Assert.Equal(1, (await Run("mappings remove from-file", book)).Code);
        Assert.Equal(1, (await Run($"mappings keep {month}", book)).Code);
    }

    [Fact]
    public async Task The_console_keeps_a_corrected_reading_and_uses_it_on_the_next_file()
    {
        var book = await DemoService.NewBook(Demo.Client, "kept-by-click");
        var page = await Open($"{book}/loads");
        FilePayload File(int month) =>
            new()
            {
                Name = $"m{month}.csv",
                MimeType = "text/csv",
                Buffer = Month(month),
            };
        await page.Locator("input[type=file]").SetInputFilesAsync(File(10));
        foreach (
            var (heading, role) in new[]
            {
                ("Beleg", "document"),
                ("Tag", "date"),
                ("Firma", "entity"),
                ("Konto", "account"),
                ("Betrag", "amount"),
            }
        )
            await page.GetByLabel($"{heading} is read as").SelectOptionAsync(role);
        await page.GetByLabel("Signs").SelectOptionAsync("debit-positive");
        await Expect(page.GetByText("It would land as it is")).ToBeVisibleAsync();
        await page.GetByLabel("Read files like this one so again").FillAsync("by-click");
        await page.GetByRole(AriaRole.Button, new() { Name = "Keep the mapping" }).ClickAsync();
        await Expect(page.GetByText("Kept as by-click")).ToBeVisibleAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Leave it" }).ClickAsync();
        await page.Locator("input[type=file]").SetInputFilesAsync(File(11));
        await Expect(page.GetByText("read by the mapping by-click")).ToBeVisibleAsync();
        await Expect(page.GetByText("It would land as it is")).ToBeVisibleAsync();
        await HasNoViolations(page);
        await page.GetByRole(AriaRole.Button, new() { Name = "Remove the mapping by-click" }).ClickAsync();
        await Expect(page.GetByText("Kept mappings")).ToHaveCountAsync(0);
    }

    private async Task<(int Code, string Out)> Run(string arguments, string book)
    {
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing"), $"{arguments} --book {book}")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["BEARING_URL"] = Demo.Service.Address.ToString();
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync(Cancel);
        await process.WaitForExitAsync(Cancel);
        return (process.ExitCode, output);
    }
}
