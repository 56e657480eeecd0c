using System.CommandLine;
using Bearing.Contracts;
using Spectre.Console;

namespace Bearing.Cli;

/// <summary>Loading, the list of loads, taking back.</summary>
internal static class LoadCommands
{
    private static readonly Option<string?> Kind = new("--kind")
    {
        Description =
            "ledger, plan, statistics, opening, accounts, entities, members, names, rates or records; recognised when left out, but for opening and records",
    };
    private static readonly Option<string?> Dimension = new("--dimension")
    {
        Description = "For members: which dimension they belong to",
    };
    private static readonly Option<string?> Scenario = new("--scenario")
    {
        Description = "Scenario the figures belong to, for example budget-2027; actual when left out",
    };
    private static readonly Option<string?> Name = new("--name")
    {
        Description = "Name of a new scenario, for example \"Budget 2027\"",
    };
    private static readonly Option<string?> Version = new("--version-code")
    {
        Description = "Version of the scenario; the current one when left out",
    };
    private static readonly Option<string?> CutOff = new("--cut-off")
    {
        Description = "For a forecast: last period taken from actuals, for example 2026-P06",
    };
    private static readonly Option<string?> Sign = new("--sign")
    {
        Description = "debit-positive, credit-positive or as-shown; recognised when left out",
    };
    private static readonly Option<string?> DateFormat = new("--date-format")
    {
        Description = "For example dd/MM/yyyy; recognised when left out",
    };
    private static readonly Option<string?> Decimals = new("--decimals")
    {
        Description = "point or comma; recognised when left out",
    };
    private static readonly Option<decimal?> Scale = new("--scale")
    {
        Description = "Amounts are multiplied by it: 1000 for a file in thousands",
    };
    private static readonly Option<string?> Currency = new("--currency")
    {
        Description =
            "In which currency the amounts are: a code such as EUR, or local for that of each entity; as the file says when left out",
    };
    private static readonly Option<string?> Rates = new("--rates")
    {
        Description = "For a plan: the set of rates by which it is translated; that of its kind when left out",
    };
    private static readonly Option<string?> Separator = new("--separator")
    {
        Description = "Between the fields of a text file: one character, or tab; recognised when left out",
    };
    private static readonly Option<string?> EncodingName = new("--encoding")
    {
        Description = "Of a text file, for example windows-1252; recognised when left out",
    };
    private static readonly Option<string[]> Column = new("--column")
    {
        Description = "HEADING=ROLE, for a column that is read otherwise; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    private static readonly Option<bool> Replace = new("--replace")
    {
        Description = "Supersede what is there for the file's scenario, periods and entities",
    };
    private static readonly Option<string?> Mapping = new("--mapping")
    {
        Description = "Name of a saved mapping, or a mapping file; recognised by the headings when left out",
    };
    private static readonly Option<string?> SaveMapping = new("--save-mapping")
    {
        Description = "Keep the way in which the file was read under this name",
    };
    private static readonly Option<bool> Agree = new("--agree")
    {
        Description = "Land in spite of warnings, which stay attached to the load",
    };
    private static readonly Option<FileInfo?> Headings = new("--headings")
    {
        Description = "The file of journal headings that belongs to a file of lines",
    };
    private static readonly Option<string?> Table = new("--table")
    {
        Description = "For records: code of the table, for example payables",
    };
    private static readonly Option<int?> HeadingLine = new("--heading-line")
    {
        Description = "Line in which the headings stand; found when left out",
    };
    private static readonly Option<string[]> Sheet = new("--sheet")
    {
        Description = "Sheet of a workbook to read; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    private static readonly Option<string[]> Means = new("--means")
    {
        Description = "ROLE:TEXT=CODE, what a text of the file stands for, as in entity:Elverhold=C05; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    private static readonly Option<bool> Preview = new("--preview") { Description = "Show what would happen and change nothing" };

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
        foreach (var option in HowToLoad)
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

    /// <summary>How a file is read and where it goes; the same for files and for what is fetched.</summary>
    public static IReadOnlyList<Option> HowToLoad =>
        [
            Kind,
            Dimension,
            Scenario,
            Name,
            Version,
            CutOff,
            Sign,
            DateFormat,
            Decimals,
            Scale,
            Currency,
            Rates,
            Separator,
            EncodingName,
            Column,
            Mapping,
            SaveMapping,
            Table,
            HeadingLine,
            Sheet,
            Means,
            Replace,
            Agree,
            Preview,
        ];

    /// <summary>Loads, or previews, what was uploaded or fetched, as the options say.</summary>
    /// <param name="headings">Upload of the file of journal headings; null for none.</param>
    public static async Task<int> LoadUpload(
        Session session,
        string book,
        ParseResult parsed,
        UploadDto upload,
        string? headings,
        CancellationToken cancel
    ) => await LoadOne(session, book, await Request(parsed, upload, headings, cancel), parsed, cancel);

    /// <summary>Follows a job to its end, with a bar where someone watches.</summary>
    public static Task<JobDto> FollowJob(Session session, string book, JobDto job, CancellationToken cancel) =>
        Session.IsTerminal && !session.AsJson ? Watch(session, book, job, cancel) : Last(session, book, job, cancel);

    private static async Task<LoadRequest> Request(
        ParseResult parsed,
        UploadDto upload,
        string? headings,
        CancellationToken cancel
    )
    {
        var columns = (parsed.GetValue(Column) ?? [])
            .Select(c => c.Split('=', 2))
            .ToDictionary(c => c[0], c => c.Length > 1 ? c[1] : "");
        var named = parsed.GetValue(Mapping);
        var given = named is not null && File.Exists(named) ? await MappingCommands.Read(new FileInfo(named), cancel) : null;
        if (given is not null)
            named = null;
        return new LoadRequest(
            upload.Id,
            parsed.GetValue(Kind),
            parsed.GetValue(Dimension),
            parsed.GetValue(Scenario),
            parsed.GetValue(Name),
            null,
            parsed.GetValue(Version),
            parsed.GetValue(CutOff),
            parsed.GetValue(Sign),
            parsed.GetValue(DateFormat),
            columns.Count > 0 ? columns : null,
            parsed.GetValue(Replace) ? "replace" : "add",
            named,
            given,
            parsed.GetValue(Agree),
            headings,
            parsed.GetValue(Table),
            parsed.GetValue(HeadingLine),
            parsed.GetValue(Sheet) is { Length: > 0 } sheets ? sheets : null,
            LookUps(parsed.GetValue(Means) ?? []),
            null,
            parsed.GetValue(Separator),
            parsed.GetValue(EncodingName),
            parsed.GetValue(Decimals),
            parsed.GetValue(Scale),
            parsed.GetValue(Currency),
            parsed.GetValue(Rates)
        );
    }

    private static async Task<string?> UploadHeadings(Session session, string book, FileInfo? file, CancellationToken cancel)
    {
        if (file is null)
            return null;
        if (!file.Exists)
            throw new CannotException($"There is no file {file.FullName}.", "Check the path of the file of headings.");
        await using var content = file.OpenRead();
        return (await session.Client.Upload(book, file.Name, content, cancel)).Id;
    }

    private static Dictionary<string, IReadOnlyDictionary<string, string>>? LookUps(string[] means)
    {
        var read = means
            .Select(m => (Text: m, Colon: m.IndexOf(':', StringComparison.Ordinal), Equal: m.LastIndexOf('=')))
            .ToList();
        if (read.Find(m => m.Colon < 1 || m.Equal < m.Colon) is { Text: { } wrong })
            throw new CannotException(
                $"“{wrong}” does not say what a text means.",
                "Write ROLE:TEXT=CODE, for example entity:Elverhold=C05."
            );
        return read.Count == 0
            ? null
            : read.GroupBy(m => m.Text[..m.Colon])
                .ToDictionary(
                    g => g.Key,
                    g =>
                        (IReadOnlyDictionary<string, string>)
                            g.ToDictionary(m => m.Text[(m.Colon + 1)..m.Equal], m => m.Text[(m.Equal + 1)..])
                );
    }

    private static async Task<int> LoadOne(
        Session session,
        string book,
        LoadRequest request,
        ParseResult parsed,
        CancellationToken cancel
    )
    {
        var previewOnly = parsed.GetValue(Preview);
        if (parsed.GetValue(SaveMapping) is { } name)
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
                Print(preview);
            return preview.Lands ? 0 : 1;
        }
        var job = await session.Client.Load(book, request, Guid.NewGuid().ToString("n"), cancel);
        job = await FollowJob(session, book, job, cancel);
        if (session.AsJson)
            Session.Print(job);
        if (job.Problem is { Warnings: { Count: > 0 } warnings } doubtful && !session.AsJson)
        {
            foreach (var warning in warnings)
                await Console.Error.WriteLineAsync($"  {Describe(warning)}");
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
            Print(receipt);
        return 0;
    }

    private static Task<JobDto> Watch(Session session, string book, JobDto job, CancellationToken cancel) =>
        AnsiConsole
            .Progress()
            .HideCompleted(true)
            .Columns(new TaskDescriptionColumn(), new ProgressBarColumn(), new PercentageColumn(), new ElapsedTimeColumn())
            .StartAsync(async progress =>
            {
                var bar = progress.AddTask(Markup.Escape(job.File), maxValue: 1);
                await foreach (var state in session.Client.Follow(book, job.Id, cancel))
                {
                    (job, bar.Value) = (state, state.Progress);
                    bar.Description = $"{Markup.Escape(state.File)} {state.State}, {state.Rows:N0} rows";
                }
                return job;
            });

    private static async Task<JobDto> Last(Session session, string book, JobDto job, CancellationToken cancel)
    {
        await foreach (var state in session.Client.Follow(book, job.Id, cancel))
            job = state;
        return job;
    }

    private static void Print(LoadPreview preview)
    {
        Console.WriteLine(
            $"{preview.FileName}: recognised as {preview.Kind}{(preview.Scenario is null ? "" : $" for {preview.Scenario}")}{(preview.Mapping.Name.Length > 0 ? $" by the mapping {preview.Mapping.Name}" : "")}; {preview.Form}, signs {preview.Sign}{(preview.DateFormat is null ? "" : $", dates {preview.DateFormat}")}."
        );
        Tables.Print(
            ["Column", "Read as", "Because", "First rows"],
            preview.Columns.Select(
                (c, i) =>
                    new[]
                    {
                        c.Heading,
                        c.Role ?? "not used",
                        c.Evidence,
                        string.Join(" · ", preview.FirstRows.Take(3).Select(r => i < r.Count ? r[i] : "")),
                    }
            )
        );
        if (preview.Receipt is { } receipt)
            Print(receipt);
        Console.WriteLine(
            preview.Lands ? "It would land as it is. Nothing was changed." : $"It would not land: {preview.Problem}"
        );
    }

    private static void Print(ReceiptDto receipt)
    {
        var landed = receipt.Load > 0 ? $"Load {receipt.Load}: " : "";
        Console.WriteLine(
            $"{landed}{receipt.File}, {receipt.Kind}{(receipt.Scenario is null ? "" : $" of {receipt.Scenario}")}: {receipt.RowsRead:N0} rows read, {receipt.RowsTaken:N0} taken, {receipt.RefusedRows:N0} refused{(receipt.Cells > 0 ? $", {receipt.Cells:N0} cells" : "")}."
        );
        var isReference = receipt.Kind is "accounts" or "entities" or "members" or "names" or "rates";
        foreach (var note in receipt.Supersedes)
            Console.WriteLine(isReference ? $"  {note}" : $"  in place of {note}");
        foreach (var note in receipt.NewMembers)
            Console.WriteLine($"  new members, {note}");
        foreach (var refusal in receipt.Refused.Take(10))
            Console.WriteLine($"  {Session.Describe(refusal)}");
        if (receipt.LeftOut.Count > 0)
            Console.WriteLine(
                $"  left out: {string.Join(", ", receipt.LeftOut.Select(l => $"{l.Count:N0} {l.What} ({string.Join(", ", l.Places.Take(3))}{(l.Count > 3 ? " …" : "")})"))}."
            );
        if (receipt.Totals is not null)
            Console.WriteLine($"  {receipt.Totals}");
        foreach (
            var note in (string?[])
                [
                    receipt.Filter is null ? null : $"took {receipt.Filter}",
                    receipt.Joined,
                    receipt.Coverage,
                    .. receipt.Translated.Select(t => $"translated, {t}"),
                ]
        )
            if (note is not null)
                Console.WriteLine($"  {note}");
        if (receipt.Load == 0)
            foreach (var step in receipt.Steps)
                Console.WriteLine($"  {step.Before:N0} → {step.After:N0} rows: {step.What}");
        foreach (var warning in receipt.Warnings)
            Console.WriteLine($"  {Describe(warning)}");
        if (receipt.Kind == "records")
            Tables.Print(
                ["Field", "Filled", "Sum"],
                receipt.Periods.Select(p =>
                    new[]
                    {
                        string.IsNullOrEmpty(p.Currency) ? p.Name : $"{p.Name}, {p.Currency}",
                        $"{p.Lines:N0}",
                        Figures.Cents(p.Net),
                    }
                ),
                1,
                2
            );
        else if (receipt.Kind == "statistics")
            Tables.Print(
                ["Statistic", "Rows", "Sum"],
                receipt.Periods.Select(p => new[] { p.Name, $"{p.Lines:N0}", Figures.Cents(p.Net) }),
                1,
                2
            );
        else if (receipt.Periods.Count > 0)
            Tables.Print(
                ["Period", "Lines", "Debit", "Credit", "Net (income +)"],
                receipt.Periods.Select(p =>
                    new[]
                    {
                        p.Currency is null ? p.Name : $"{p.Name}, {p.Currency}",
                        $"{p.Lines:N0}",
                        Figures.Cents(p.Debit),
                        Figures.Cents(p.Credit),
                        Figures.Cents(p.Net),
                    }
                ),
                1,
                2,
                3,
                4
            );
        if (receipt.Types.Count > 0)
            Console.WriteLine(
                $"  by type of account (income +): {string.Join(", ", receipt.Types.Select(t => $"{t.Type} {Figures.Cents(t.Net).Trim()}"))}"
            );
        if (receipt.Load > 0)
            Console.WriteLine("Ready to ask. Take it back with “bearing undo " + receipt.Load + "”.");
    }

    private static string Describe(WarningDto warning) =>
        $"warning, {warning.Check}{(warning.Where.Length > 0 ? $" ({warning.Where})" : "")}: {warning.Because} {warning.Remedy}";

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
