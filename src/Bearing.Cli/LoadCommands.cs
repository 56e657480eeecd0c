using System.CommandLine;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Loading, the list of loads, taking back.</summary>
internal static class LoadCommands
{
    private static readonly Option<FileInfo?> Headings = new("--headings")
    {
        Description = "The file of journal headings that belongs to a file of lines",
    };

    public static IEnumerable<Command> All()
    {
        yield return Load();
        yield return Loads();
        yield return Undo();
        yield return Refused();
        yield return MappingCommands.All();
    }

    private static Command Load()
    {
        var files = new Argument<FileInfo[]>("FILE")
        {
            Description = "CSV or XLSX files, also packed by gzip, loaded in this order",
            Arity = ArgumentArity.OneOrMore,
        };
        var load = new Command(
            "load",
            "Load files: all of a file's rows come in, or none.\n\nExamples:\n  bearing load accounts.csv\n  bearing load ledger-2026-09.csv --preview\n  bearing load budget.csv --scenario budget-2027 --name \"Budget 2027\"\n  bearing load ledger-2026-09.csv --replace\n  bearing load export.xlsx --mapping budget-by-region --preview\n  bearing load invoices.csv --kind records --table payables\n  bearing load lines.csv --headings journals.csv --mapping journals"
        )
        {
            files,
            Headings,
            Session.JsonOption,
        };
        foreach (var option in ReadingOptions.All)
            load.Options.Add(option);
        load.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    foreach (var file in parsed.GetValue(files)!)
                    {
                        if (!file.Exists)
                            throw new CannotException(
                                $"There is no file {file.FullName}.",
                                "Check the path; nothing was loaded from it."
                            );
                        await using var content = file.OpenRead();
                        var upload = await session.Client.Upload(book, file.Name, content, cancel);
                        var code = await LoadUpload(
                            session,
                            book,
                            parsed,
                            upload,
                            await UploadHeadings(session, book, parsed.GetValue(Headings), cancel),
                            cancel
                        );
                        if (code != 0)
                            return code;
                    }
                    return 0;
                }));
        return load;
    }

    /// <summary>Loads, or previews, what was uploaded or fetched, as the options say.</summary>
    /// <param name="headings">Upload of the file of journal headings; null for none.</param>
    public static async Task<int> LoadUpload(
        Session session,
        string book,
        ParseResult parsed,
        UploadDto upload,
        string? headings,
        CancellationToken cancel
    ) => await LoadOne(session, book, await ReadingOptions.Request(parsed, upload, headings, cancel), parsed, cancel);

    private static async Task<string?> UploadHeadings(Session session, string book, FileInfo? file, CancellationToken cancel)
    {
        if (file is null)
            return null;
        if (!file.Exists)
            throw new CannotException($"There is no file {file.FullName}.", "Check the path of the file of headings.");
        await using var content = file.OpenRead();
        return (await session.Client.Upload(book, file.Name, content, cancel)).Id;
    }

    private static async Task<int> LoadOne(
        Session session,
        string book,
        LoadRequest request,
        ParseResult parsed,
        CancellationToken cancel
    )
    {
        var previewOnly = parsed.GetValue(ReadingOptions.Preview);
        if (parsed.GetValue(ReadingOptions.SaveMapping) is { } name)
        {
            var read = await session.Client.Preview(book, request, cancel);
            await session.Client.KeepMapping(book, name, read.Mapping, cancel);
            if (!session.AsJson)
                Console.WriteLine($"The way to read {read.FileName} is kept as {name}.");
        }
        if (previewOnly)
        {
            var preview = await session.Client.Preview(book, request, cancel);
            if (session.AsJson)
                Session.Print(preview);
            else
                Receipts.Print(preview);
            return preview.Lands ? 0 : 1;
        }
        var job = await session.Client.Load(book, request, Guid.NewGuid().ToString("n"), cancel);
        job = await Following.Job(session, book, job, cancel);
        if (session.AsJson)
            Session.Print(job);
        if (job.Problem is { Warnings: { Count: > 0 } warnings } doubtful && !session.AsJson)
        {
            foreach (var warning in warnings)
                await Console.Error.WriteLineAsync($"  {Receipts.Describe(warning)}");
            return await Session.Fail(
                $"{job.File}: {doubtful.Detail}",
                "Look at each; load again with --agree to take the file in as it is, or correct it.",
                null
            );
        }
        if (job.Problem is { } problem)
        {
            if (session.AsJson)
                return 1;
            return await Session.Fail(
                $"{job.File}: {problem.Detail}",
                problem.Refused is null
                    ? problem.Remedy
                    : $"{problem.Remedy} “bearing refused {job.Id} > rows.csv” writes them with their reasons.",
                problem.Refused
            );
        }
        if (job.Receipt is not { } receipt)
            return await Session.Fail($"{job.File}: the load was {job.State}; nothing was changed.", null, null);
        if (!session.AsJson)
            Receipts.Print(receipt);
        return 0;
    }

    private static Command Refused()
    {
        var job = new Argument<string>("JOB") { Description = "The job, as the failed load named it" };
        var refused = new Command(
            "refused",
            "Print the refused rows of a load as CSV, with their reasons: correct them and load them again.\n\nExample:\n  bearing refused 3f2a… > rows.csv"
        )
        {
            job,
        };
        refused.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    Console.Write(await session.Client.RefusedRows(await session.Book(cancel), parsed.GetValue(job)!, cancel));
                    return 0;
                }));
        return refused;
    }

    private static Command Loads()
    {
        var loads = new Command("loads", "List what was loaded, newest first.\n\nExample:\n  bearing loads")
        {
            Session.JsonOption,
        };
        loads.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Loads(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else
                        Tables.Print(
                            ["Load", "File", "Kind", "Scenario", "Rows", "Edition", "State"],
                            list.Select(l =>
                                new[]
                                {
                                    $"{l.Load}",
                                    l.File,
                                    l.Kind,
                                    l.Scenario ?? "—",
                                    $"{l.Rows:N0}",
                                    $"{l.Edition}",
                                    l.UndoneIn is { } e ? $"taken back in {e}{(l.PurgedIn is null ? "" : ", purged")}" : "counts",
                                }
                            ),
                            0,
                            4,
                            5
                        );
                    return 0;
                }));
        loads.Subcommands.Add(Purge());
        return loads;
    }

    private static Command Purge()
    {
        var confirm = new Option<string?>("--confirm") { Description = "The book's name, said again" };
        var purge = new Command(
            "purge",
            "Remove for good what was taken back. It happens by itself 90 days after; the editions in which it counted can then no longer be read.\n\nExample:\n  bearing loads purge --confirm \"Tarrow Sound Group\""
        )
        {
            confirm,
            Session.JsonOption,
        };
        purge.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var purged = await session.Client.Purge(await session.Book(cancel), parsed.GetValue(confirm) ?? "", cancel);
                    if (session.AsJson)
                        Session.Print(purged);
                    else
                        Console.WriteLine(
                            purged.Loads.Count == 0
                                ? "Nothing that was taken back is left to remove."
                                : FormattableString.Invariant(
                                    $"Removed what {(purged.Loads.Count == 1 ? "load" : "loads")} {string.Join(", ", purged.Loads)} had brought; {purged.Freed / 1024.0 / 1024.0:0.0} MB are free again."
                                )
                        );
                    return 0;
                }));
        return purge;
    }

    private static Command Undo()
    {
        var number = new Argument<int>("LOAD") { Description = "Number of the load, as “bearing loads” shows it" };
        var undo = new Command("undo", "Take a load back: the book is as it was before it.\n\nExample:\n  bearing undo 12")
        {
            number,
            Session.JsonOption,
        };
        undo.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var result = await session.Client.Undo(await session.Book(cancel), parsed.GetValue(number), cancel);
                    if (session.AsJson)
                        Session.Print(result);
                    else
                        Console.WriteLine($"Load {result.Load} was taken back; the book is now at edition {result.Edition}.");
                    return 0;
                }));
        return undo;
    }
}
