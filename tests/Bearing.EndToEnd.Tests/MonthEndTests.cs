using System.Diagnostics;
using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>The command line at month end: warnings, records, selection lists, closing, late postings, changes, the trial
/// balance, a full disk.</summary>
public sealed class MonthEndTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<(int Code, string Out, string Error)> Bearing(string book, params string[] arguments)
    {
        var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing"))
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["BEARING_URL"] = demo.Service.Address.ToString();
        start.Environment["COLUMNS"] = "200";
        foreach (var argument in arguments.Concat(["--book", book]))
            start.ArgumentList.Add(argument);
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync(Cancel);
        var output = await process.StandardOutput.ReadToEndAsync(Cancel);
        await process.WaitForExitAsync(Cancel);
        return (process.ExitCode, output, await error);
    }

    private static async Task<string> Write(string name, string text)
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("bearing-cli-").FullName, name);
        await File.WriteAllTextAsync(path, text, Cancel);
        return path;
    }

    private const string Late =
        "Document,Date,Entity,Account,Debit,Credit,Text\nLT1,2026-08-20,SKF,6110,75.50,,late invoice\nLT1,2026-08-20,SKF,1110,,75.50,late invoice\n";

    [Fact]
    public async Task Late_postings_need_agreement_and_show_as_changes_until_taken_back()
    {
        var book = await DemoService.NewBook(demo.Client, "month-end", "ledger-2026-h2.csv");
        Assert.Contains("Closed through August 2026", (await Bearing(book, "close", "2026-P08")).Out, StringComparison.Ordinal);
        var file = await Write("late.csv", Late);
        var (code, _, error) = await Bearing(book, "load", file);
        Assert.Equal(1, code);
        Assert.Contains("closed-period (Skelmar Ferries August 2026)", error, StringComparison.Ordinal);
        Assert.Contains("--agree", error, StringComparison.Ordinal);
        Assert.Equal(0, (await Bearing(book, "load", file, "--agree")).Code);
        var changes = (await Bearing(book, "changes")).Out;
        Assert.Contains("2 figures changed", changes, StringComparison.Ordinal);
        Assert.Contains("(75.50)   late", changes, StringComparison.Ordinal);
        var lines = await demo.Client.Lines(book, "actual@2026-P08;figure=a:6110;entity=SKF", 100, null, false, Cancel);
        Assert.Equal("after close", Assert.Single(lines.Lines, l => l.Document == "LT1").Fields["late"]);
        Assert.Equal("Late posting", Assert.Single(lines.Fields).Name);
        var answer = (await demo.Client.Ask(book, new AskRequest("revenue in August 2026"), Cancel)).Answers[0];
        Assert.Contains(answer.Notes, n => n.Contains("landed with a warning", StringComparison.Ordinal));
        var load = (await demo.Client.Loads(book, Cancel))[0].Load;
        await Bearing(book, "undo", $"{load}");
        var edition = (await demo.Client.Book(book, Cancel)).Edition;
        Assert.Contains(
            "No figure changed",
            (await Bearing(book, "changes", "--since", $"{edition - 2}")).Out,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Open_items_load_as_records_and_are_listed_by_conditions()
    {
        var book = await DemoService.NewBook(demo.Client, "records");
        var loaded = await Bearing(book, "load", Repository.Demo("open-items.csv"), "--kind", "records", "--table", "open-items");
        Assert.True(loaded.Code == 0, loaded.Error);
        var rows = (await File.ReadAllLinesAsync(Repository.Demo("open-items.csv"), Cancel))
            .Skip(1)
            .Select(l => l.Split(','))
            .ToList();
        var open = rows.Where(r => r[8] != "paid" && string.CompareOrdinal(r[4], "2026-08-31") <= 0).ToList();
        var page = await demo.Client.Records(
            book,
            "open-items",
            ["status is not paid", "due-date to 2026-08-31"],
            "-amount",
            5,
            null,
            Cancel
        );
        Assert.Equal(
            (open.Count, open.Sum(r => decimal.Parse(r[5], System.Globalization.CultureInfo.InvariantCulture))),
            (
                (int)page.Count,
                decimal.Parse(page.Sums.Single(s => s.Field == "amount").Sum, System.Globalization.CultureInfo.InvariantCulture)
            )
        );
        Assert.Equal(5, page.Records.Count);
        Assert.Contains(
            $"{open.Count} records, 20 shown",
            (
                await Bearing(book, "records", "open-items", "--where", "status is not paid", "--where", "due-date to 2026-08-31")
            ).Out,
            StringComparison.Ordinal
        );
        var (code, _, error) = await Bearing(book, "records", "open-items", "--where", "colour is red");
        Assert.Equal(1, code);
        Assert.Contains("has no field “colour”; it has item-no", error, StringComparison.Ordinal);
        Assert.Contains("open-items", (await Bearing(book, "tables")).Out, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_selection_list_steers_what_a_mapping_takes_and_answers_say_so()
    {
        var book = await DemoService.NewBook(demo.Client, "selected");
        await Bearing(book, "selections", "keep", "closing-companies", "SKF", "ORL");
        var mapping = await Write(
            "picked.json",
            """{"form":"bearing-mapping/1","name":"picked","kind":"ledger","dates":"yyyy-MM-dd","columns":[{"heading":"Document","role":"document"},{"heading":"Line","role":"line"},{"heading":"Date","role":"date"},{"heading":"Entity","role":"entity"},{"heading":"Account","role":"account"},{"heading":"Debit","role":"debit"},{"heading":"Credit","role":"credit"}],"keep":[{"heading":"Entity","list":"closing-companies"}]}"""
        );
        await Bearing(book, "mappings", "keep", mapping);
        var (code, output, error) = await Bearing(book, "load", Repository.Demo("ledger-2026-h2.csv"), "--preview");
        Assert.True(code == 0, error);
        Assert.Contains("12,346 → 5,", output, StringComparison.Ordinal);
        Assert.Contains("took only rows where Entity is SKF or ORL", output, StringComparison.Ordinal);
        Assert.Equal(0, (await Bearing(book, "load", Repository.Demo("ledger-2026-h2.csv"))).Code);
        var note = Assert.Single(
            (await demo.Client.Ask(book, new AskRequest("revenue in August 2026"), Cancel)).Answers[0].Notes,
            n => n.Contains("only rows where", StringComparison.Ordinal)
        );
        Assert.EndsWith("holds only rows where Entity is SKF or ORL", note, StringComparison.Ordinal);
        await Bearing(book, "selections", "keep", "closing-companies", "CAF");
        Assert.Contains(
            "took only rows where Entity is CAF",
            (await Bearing(book, "load", Repository.Demo("ledger-2026-h2.csv"), "--preview", "--replace")).Out,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_trial_balance_agrees_or_its_differences_are_listed_by_account()
    {
        var book = await DemoService.NewBook(demo.Client, "trial", "ledger-2026-h2.csv");
        var sums = (await File.ReadAllLinesAsync(Repository.Demo("ledger-2026-h2.csv"), Cancel))
            .Skip(1)
            .Select(l => l.Split(','))
            .GroupBy(f => f[4])
            .ToDictionary(g => g.Key, g => g.Sum(f => Number(f[8]) - Number(f[9])));
        string Trial(string account, decimal more) =>
            "Account,Debit,Credit\n"
            + string.Concat(
                sums.OrderBy(s => s.Key, StringComparer.Ordinal)
                    .Select(s => s.Key == account ? (s.Key, Value: s.Value + more) : (s.Key, s.Value))
                    .Select(s =>
                        string.Create(
                            System.Globalization.CultureInfo.InvariantCulture,
                            $"{s.Key},{(s.Value > 0 ? s.Value : 0m):0.00},{(s.Value < 0 ? -s.Value : 0m):0.00}\n"
                        )
                    )
            );
        var (code, output, error) = await Bearing(
            book,
            "reconcile",
            await Write("tb.csv", Trial("6110", 0m)),
            "--period",
            "2026-P09"
        );
        Assert.True(code == 0, error + output);
        Assert.Contains($"All {sums.Count} accounts", output, StringComparison.Ordinal);
        (code, output, _) = await Bearing(
            book,
            "reconcile",
            await Write("tb.csv", Trial("6110", 12.34m)),
            "--period",
            "2026-P09"
        );
        Assert.Equal(1, code);
        Assert.Contains("(12.34)", output, StringComparison.Ordinal);
        Assert.Contains($"{sums.Count - 1} accounts agree, 1 differ by 12.34", output, StringComparison.Ordinal);

        static decimal Number(string text) =>
            text.Length == 0 ? 0m : decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public async Task Refused_rows_are_written_out_corrected_and_load()
    {
        var book = await DemoService.NewBook(demo.Client, "refused");
        var job = await DemoService.Load(
            demo.Client,
            book,
            "slip.csv",
            Encoding.UTF8.GetBytes(Late.Replace("6110,75.50", "6II0,75.50", StringComparison.Ordinal))
        );
        Assert.Equal("account", Assert.Single(job.Problem!.Refused!).Unknown);
        var rows = await demo.Client.RefusedRows(book, job.Id, Cancel);
        Assert.Contains("LT1,2026-08-20,SKF,6II0,75.50", rows, StringComparison.Ordinal);
        Assert.Equal(rows, (await Bearing(book, "refused", job.Id)).Out);
        // The whole file again, with what the text stands for.
        var file = await Write("slip.csv", Late.Replace("6110,75.50", "6II0,75.50", StringComparison.Ordinal));
        Assert.Equal(0, (await Bearing(book, "load", file, "--means", "account:6II0=6110")).Code);
    }

    [Fact]
    public async Task An_unknown_account_can_be_added_in_place_and_goes_with_the_load()
    {
        var book = await DemoService.NewBook(demo.Client, "added");
        using var content = new MemoryStream(Encoding.UTF8.GetBytes(Late.Replace("6110", "6119", StringComparison.Ordinal)));
        var upload = await demo.Client.Upload(book, "new.csv", content, Cancel);
        var job = await demo.Client.Load(
            book,
            new LoadRequest(upload.Id, Add: [new AddedMember("account", "6119", "Agency seamen", "PRM")]),
            "added",
            Cancel
        );
        await foreach (var state in demo.Client.Follow(book, job.Id, Cancel))
            job = state;
        Assert.True(job.State == "done", job.Problem?.Detail);
        Assert.Contains(
            "Agency seamen",
            (await demo.Client.Ask(book, new AskRequest("agency seamen in August 2026"), Cancel)).Answers[0].Headline,
            StringComparison.Ordinal
        );
        await demo.Client.Undo(book, job.Receipt!.Load, Cancel);
        Assert.DoesNotContain((await demo.Client.Book(book, Cancel)).Figures, f => f.Name == "Agency seamen");
    }

    [Fact]
    public async Task On_a_full_disk_a_load_fails_whole_and_says_so_and_later_lands()
    {
        var folder = Directory.CreateTempSubdirectory("bearing-full-").FullName;
        using (
            var mount = Process.Start(
                new ProcessStartInfo("mount", ["-t", "tmpfs", "-o", "size=40m", "tmpfs", folder]) { RedirectStandardError = true }
            )!
        )
        {
            await mount.WaitForExitAsync(Cancel);
            if (mount.ExitCode != 0)
                Assert.Skip("A small disk can only be made by root.");
        }
        try
        {
            await using var service = await ServiceProcess.Start(Path.Combine(folder, "data"));
            var book = await DemoService.NewBook(service.Client, "full", "ledger-2026-h1.csv");
            using var content = new MemoryStream(await File.ReadAllBytesAsync(Repository.Demo("ledger-2026-h2.csv"), Cancel));
            var upload = await service.Client.Upload(book, "h2.csv", content, Cancel);
            var before = await service.Client.Book(book, Cancel);
            var job = await service.Client.Load(book, new LoadRequest(upload.Id), "h2", Cancel);
            try
            {
                await using (var filler = File.Create(Path.Combine(folder, "filler")))
                    while (true)
                        await filler.WriteAsync(new byte[1 << 16], Cancel);
            }
            catch (IOException)
            {
                // Full now, while the load may still be under way.
            }
            await foreach (var state in service.Client.Follow(book, job.Id, Cancel))
                job = state;
            var after = await service.Client.Book(book, Cancel);
            if (job.State == "failed")
                Assert.Equal(before.Edition, after.Edition);
            var again = await Assert.ThrowsAsync<BearingProblemException>(() =>
                DemoService.Load(service.Client, book, "statistics-actual.csv")
            );
            Assert.Equal("The disk is full", again.Problem.Title);
            File.Delete(Path.Combine(folder, "filler"));
            if (job.State == "failed")
                Assert.Equal("done", (await DemoService.Load(service.Client, book, "ledger-2026-h2.csv")).State);
            Assert.Contains(
                "September 2026",
                (await service.Client.Ask(book, new AskRequest("revenue in September 2026"), Cancel)).Answers[0].Headline,
                StringComparison.Ordinal
            );
        }
        finally
        {
            using var unmount = Process.Start("umount", [folder]);
            await unmount.WaitForExitAsync(Cancel);
            Directory.Delete(folder);
        }
    }

    [Fact]
    public async Task An_upload_that_breaks_off_leaves_nothing_behind()
    {
        var book = await DemoService.NewBook(demo.Client, "broken-off");
        var incoming = Path.Combine(demo.Service.Data, "books", book, "incoming");
        var before = Directory.GetFiles(incoming).Length;
        using (var client = new System.Net.Sockets.TcpClient(demo.Service.Address.Host, demo.Service.Address.Port))
        {
            await client
                .GetStream()
                .WriteAsync(
                    Encoding.ASCII.GetBytes(
                        $"POST /api/books/{book}/uploads?name=half.csv HTTP/1.1\r\nHost: {demo.Service.Address.Authority}\r\nContent-Type: application/octet-stream\r\nContent-Length: 100000\r\n\r\n{Late}"
                    ),
                    Cancel
                );
            await demo.Service.Until(() => Task.FromResult(Directory.GetFiles(incoming).Length > before));
            client.Client.Close(0);
        }
        await demo.Service.Until(() => Task.FromResult(Directory.GetFiles(incoming).Length == before));
        Assert.DoesNotContain(await demo.Client.Loads(book, Cancel), l => l.File == "half.csv");
    }

    [Fact]
    public async Task Two_loads_of_the_same_month_at_once_land_once()
    {
        var book = await DemoService.NewBook(demo.Client, "at-once");
        var jobs = await Task.WhenAll(
            Enumerable.Range(0, 3).Select(_ => DemoService.Load(demo.Client, book, "ledger-2026-h2.csv"))
        );
        Assert.Equal(["done", "failed", "failed"], jobs.Select(j => j.State).Order(StringComparer.Ordinal));
        Assert.All(jobs.Where(j => j.Problem is not null), j =>
            Assert.Contains("already loaded", j.Problem!.Detail, StringComparison.Ordinal)
        );
    }
}
