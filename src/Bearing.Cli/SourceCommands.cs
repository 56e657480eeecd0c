using System.CommandLine;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Sources beside files: databases and feeds from which tables are fetched.</summary>
internal static class SourceCommands
{
    private static readonly Argument<string> Source = new("SOURCE") { Description = "Name of the source" };

    public static IEnumerable<Command> All()
    {
        yield return Sources();
        yield return Fetch();
    }

    private static Command Sources()
    {
        var sources = new Command(
            "sources",
            "List the databases and feeds that tables can be fetched from, or keep, look into and remove one. The service's owner allows their addresses.\n\nExamples:\n  bearing sources\n  bearing sources keep ledger-system --kind odata --address http://127.0.0.1:5190/feed/\n  bearing sources keep warehouse --kind postgres --address postgres://db.example:5432/finance --user reader --secret-file secret.txt\n  bearing sources tables warehouse"
        )
        {
            Keep(),
            TablesOf(),
            Remove(),
            Session.JsonOption,
        };
        sources.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Sources(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine(
                            "There are no sources yet. Keep one with “bearing sources keep NAME --kind odata --address URL”."
                        );
                    else
                        Tables.Print(
                            ["Source", "Kind", "Address", "User", "Secret"],
                            list.Select(s => new[] { s.Name, s.Kind, s.Address, s.User ?? "—", s.HasSecret ? "kept" : "none" })
                        );
                    return 0;
                }));
        return sources;
    }

    private static Command Keep()
    {
        var kind = new Option<string>("--kind") { Description = "odata, postgres or sqlite", Required = true };
        var address = new Option<string>("--address")
        {
            Description = "https://host/feed/, postgres://host:5432/database or sqlite:///path/file.db",
            Required = true,
        };
        var user = new Option<string?>("--user") { Description = "User; for a feed with a bearer token leave it out" };
        var secret = new Option<string?>("--secret-file")
        {
            Description = "File that holds the password or token, “-” for standard input; never shown again",
        };
        var keep = new Command("keep", "Keep a source, or replace the one of that name.") { Source, kind, address, user, secret };
        keep.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var given = parsed.GetValue(secret) switch
                    {
                        null => null,
                        "-" => await Console.In.ReadToEndAsync(cancel),
                        var path => await File.ReadAllTextAsync(path, cancel),
                    };
                    var kept = await session.Client.KeepSource(
                        await session.Book(cancel),
                        parsed.GetValue(Source)!,
                        new NewSource(parsed.GetValue(kind)!, parsed.GetValue(address)!, parsed.GetValue(user), given?.Trim()),
                        cancel
                    );
                    Console.WriteLine($"{kept.Name} is kept. Look into it with “bearing sources tables {kept.Name}”.");
                    return 0;
                }));
        return keep;
    }

    private static Command TablesOf()
    {
        var tables = new Command("tables", "List what can be fetched from a source.") { Source, Session.JsonOption };
        tables.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.SourceTables(await session.Book(cancel), parsed.GetValue(Source)!, cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else
                        foreach (var table in list)
                            Console.WriteLine(table);
                    return 0;
                }));
        return tables;
    }

    private static Command Remove()
    {
        var remove = new Command("remove", "Forget a source and its secret; what was fetched from it stays.") { Source };
        remove.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    await session.Client.RemoveSource(await session.Book(cancel), parsed.GetValue(Source)!, cancel);
                    Console.WriteLine($"The source {parsed.GetValue(Source)} is removed.");
                    return 0;
                }));
        return remove;
    }

    private static Command Fetch()
    {
        var from = new Option<string?>("--from") { Description = "Table or entity set" };
        var query = new Option<string?>("--query") { Description = "A SELECT instead; databases only" };
        var columns = new Option<string?>("--columns") { Description = "Columns, with commas between them; all when left out" };
        var filter = new Option<string?>("--filter")
        {
            Description = "In the source's own language: an OData filter, or an SQL condition",
        };
        var headings = new Option<string?>("--headings-from")
        {
            Description = "Table or entity set with the journal headings that belong to these lines",
        };
        var fetch = new Command(
            "fetch",
            "Fetch rows from a source and load them like a file. A lost connection goes on where it broke off.\n\nExamples:\n  bearing fetch ledger-system --from OpenItems --kind records --table open-items --preview\n  bearing fetch ledger-system --from JournalLines --headings-from JournalHeadings --mapping journals --replace\n  bearing fetch warehouse --query \"SELECT * FROM gl WHERE month = '2026-09'\" --mapping gl"
        )
        {
            Source,
            from,
            query,
            columns,
            filter,
            headings,
            Session.JsonOption,
        };
        foreach (var option in ReadingOptions.All)
            fetch.Options.Add(option);
        fetch.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var (book, source) = (await session.Book(cancel), parsed.GetValue(Source)!);
                    var lines = await Fetched(
                        session,
                        book,
                        source,
                        new FetchRequest(
                            parsed.GetValue(from),
                            parsed.GetValue(query),
                            parsed
                                .GetValue(columns)
                                ?.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries),
                            parsed.GetValue(filter)
                        ),
                        cancel
                    );
                    var heads = parsed.GetValue(headings) is { } set
                        ? (await Fetched(session, book, source, new FetchRequest(set), cancel)).Id
                        : null;
                    return await LoadCommands.LoadUpload(session, book, parsed, lines, heads, cancel);
                }));
        return fetch;
    }

    private static async Task<UploadDto> Fetched(
        Session session,
        string book,
        string source,
        FetchRequest what,
        CancellationToken cancel
    )
    {
        var job = await Following.Job(session, book, await session.Client.Fetch(book, source, what, cancel), cancel);
        if (job.Problem is { } problem)
            throw new CannotException(problem.Detail, problem.Remedy ?? "");
        if (job.Upload is not { } upload)
            throw new CannotException($"The fetch was {job.State}.", "Start it again.");
        if (!session.AsJson)
            Console.WriteLine($"{upload.FileName}: {job.Rows:N0} rows fetched, {upload.Bytes:N0} bytes.");
        return upload;
    }
}
