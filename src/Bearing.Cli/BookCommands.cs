using System.CommandLine;
using System.Text.Json;
using Bearing.Contracts;
using Spectre.Console;

namespace Bearing.Cli;

/// <summary>Books: list, show, make, erase.</summary>
internal static class BookCommands
{
    public static IEnumerable<Command> All()
    {
        var books = new Command(
            "books",
            "List the books, or make, show, erase and restore one.\n\nExamples:\n  bearing books\n  bearing books show tarrow\n  bearing books create company.json"
        )
        {
            Session.JsonOption,
        };
        books.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Books(cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine("There are no books yet. Make one with “bearing books create FILE”.");
                    else
                        Tables.Print(
                            ["Book", "Name", "Currency", "Current period", "Loads", "Data"],
                            list.Select(b =>
                                new[]
                                {
                                    b.Id,
                                    b.Name,
                                    b.Currency,
                                    b.CurrentPeriodName ?? "—",
                                    $"{b.Loads}",
                                    b.Problem is null ? b.Provenance : "damaged",
                                }
                            ),
                            4
                        );
                    foreach (var damaged in list.Where(b => b.Problem is not null))
                        Console.WriteLine(
                            $"{damaged.Id} cannot be opened: {damaged.Problem} Put its folder back from a backup and start the service again."
                        );
                    return 0;
                }));
        books.Subcommands.Add(Show());
        books.Subcommands.Add(Create());
        books.Subcommands.Add(Erase());
        books.Subcommands.Add(Restore());
        yield return books;
    }

    private static Command Show()
    {
        var id = new Argument<string>("BOOK") { Description = "Id of the book" };
        var show = new Command("show", "What is in a book: dimensions, scenarios, current period.") { id, Session.JsonOption };
        show.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Client.Book(parsed.GetValue(id)!, cancel);
                    if (session.AsJson)
                    {
                        Session.Print(book);
                        return 0;
                    }
                    Console.WriteLine(
                        $"{book.Name} ({book.Id}), {book.Currency}, {book.Provenance} data, edition {book.Edition}"
                    );
                    Console.WriteLine($"Current period: {book.CurrentPeriodName ?? "none yet"}");
                    foreach (var notice in book.Notices)
                        Console.WriteLine($"To know: {notice}");
                    Tables.Print(
                        ["Dimension", "Name", "Members", "Levels"],
                        book.Dimensions.Select(d => new[] { d.Code, d.Name, $"{d.Members}", string.Join(" › ", d.Levels) }),
                        2
                    );
                    Tables.Print(
                        ["Scenario", "Name", "Version", "From", "To", "Keeps"],
                        book.Scenarios.SelectMany(s =>
                            s.Versions.Select(v =>
                                new[] { s.Code, s.Name, v.Code, v.From ?? "—", v.To ?? "—", string.Join(", ", v.Keeps) }
                            )
                        )
                    );
                    return 0;
                }));
        return show;
    }

    private static Command Create()
    {
        var file = new Argument<FileInfo>("FILE")
        {
            Description = "JSON file with the definition; demo/data/book.json is an example",
        };
        var create = new Command("create", "Make a book from a definition.") { file, Session.JsonOption };
        create.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var path = parsed.GetValue(file)!;
                    if (!path.Exists)
                        throw new CannotException(
                            $"There is no file {path.FullName}.",
                            "Give the path of a book definition in JSON."
                        );
                    NewBook definition;
                    try
                    {
                        definition = JsonSerializer.Deserialize<NewBook>(
                            await File.ReadAllTextAsync(path.FullName, cancel),
                            JsonSerializerOptions.Web
                        ) ?? throw new JsonException("it is empty");
                    }
                    catch (JsonException e)
                    {
                        throw new CannotException(
                            $"{path.Name} is not a book definition: {e.Message}",
                            "Compare it with demo/data/book.json."
                        );
                    }
                    var book = await session.Client.Create(definition, cancel);
                    if (session.AsJson)
                        Session.Print(book);
                    else
                        Console.WriteLine(
                            $"Made the book {book.Id}. Next: load the accounts with “bearing load FILE --book {book.Id}”."
                        );
                    return 0;
                }));
        return create;
    }

    private static Command Erase()
    {
        var id = new Argument<string>("BOOK") { Description = "Id of the book" };
        var confirm = new Option<string?>("--confirm")
        {
            Description = "The book's name, said again (of a damaged book its id); asked for on a terminal when left out",
        };
        var erase = new Command(
            "erase",
            "Erase a book with everything in it. It lies in the recycle folder for a week.\n\nExample:\n  bearing books erase tarrow --confirm \"Tarrow Sound Group\""
        )
        {
            id,
            confirm,
        };
        erase.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = parsed.GetValue(id)!;
                    if ((await session.Client.Books(cancel)).FirstOrDefault(b => b.Id == book) is not { } found)
                        throw new CannotException($"There is no book {book}.", "“bearing books” lists them.");
                    var said = parsed.GetValue(confirm)
                        ?? (
                            Session.IsTerminal
                                ? await AnsiConsole.AskAsync<string>(
                                    $"This erases {Markup.Escape(found.Name)} with its {found.Loads} loads. Type its name to go on:",
                                    cancel
                                )
                                : null
                        );
                    if (said != found.Name)
                        throw new CannotException("Nothing was erased.", $"Confirm with --confirm \"{found.Name}\".");
                    await session.Client.Erase(book, said, cancel);
                    Console.WriteLine($"Erased {found.Name}. For a week “bearing books restore {book}” brings it back.");
                    return 0;
                }));
        return erase;
    }

    private static Command Restore()
    {
        var id = new Argument<string>("BOOK") { Description = "Id that the book had" };
        var restore = new Command(
            "restore",
            "Bring back a book that was erased within the last week.\n\nExample:\n  bearing books restore tarrow"
        )
        {
            id,
        };
        restore.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Client.Restore(parsed.GetValue(id)!, cancel);
                    Console.WriteLine($"{book.Name} is back, at edition {book.Edition}.");
                    return 0;
                }));
        return restore;
    }
}
