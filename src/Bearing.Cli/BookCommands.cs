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
        var books = new Command("books", "List the books, or make, show and erase one.\n\nExamples:\n  bearing books\n  bearing books show tarrow\n  bearing books create company.json") { Session.JsonOption };
        books.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
        {
            var list = await session.Client.Books(cancel);
            if (session.AsJson) Session.Print(list);
            else if (list.Count == 0) Console.WriteLine("There are no books yet. Make one with “bearing books create FILE”.");
            else Tables.Print(["Book", "Name", "Currency", "Current period", "Loads", "Data"], list.Select(b => new[] { b.Id, b.Name, b.Currency, b.CurrentPeriodName ?? "—", $"{b.Loads}", b.Provenance }), 4);
            return 0;
        }));
        books.Subcommands.Add(Show());
        books.Subcommands.Add(Create());
        books.Subcommands.Add(Erase());
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
            Console.WriteLine($"{book.Name} ({book.Id}), {book.Currency}, {book.Provenance} data, edition {book.Edition}");
            Console.WriteLine($"Current period: {book.CurrentPeriodName ?? "none yet"}");
            Tables.Print(["Dimension", "Name", "Members", "Levels"], book.Dimensions.Select(d => new[] { d.Code, d.Name, $"{d.Members}", string.Join(" › ", d.Levels) }), 2);
            Tables.Print(["Scenario", "Name", "Version", "From", "To", "Keeps"], book.Scenarios.SelectMany(s => s.Versions.Select(v => new[] { s.Code, s.Name, v.Code, v.From ?? "—", v.To ?? "—", string.Join(", ", v.Keeps) })));
            return 0;
        }));
        return show;
    }

    private static Command Create()
    {
        var file = new Argument<FileInfo>("FILE") { Description = "JSON file with the definition; demo/data/book.json is an example" };
        var create = new Command("create", "Make a book from a definition.") { file, Session.JsonOption };
        create.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
        {
            var path = parsed.GetValue(file)!;
            if (!path.Exists) throw new CannotException($"There is no file {path.FullName}.", "Give the path of a book definition in JSON.");
            NewBook definition;
            try
            {
                definition = JsonSerializer.Deserialize<NewBook>(await File.ReadAllTextAsync(path.FullName, cancel), JsonSerializerOptions.Web) ?? throw new JsonException("it is empty");
            }
            catch (JsonException e)
            {
                throw new CannotException($"{path.Name} is not a book definition: {e.Message}", "Compare it with demo/data/book.json.");
            }
            var book = await session.Client.Create(definition, cancel);
            if (session.AsJson) Session.Print(book);
            else Console.WriteLine($"Made the book {book.Id}. Next: load the accounts with “bearing load FILE --book {book.Id}”.");
            return 0;
        }));
        return create;
    }

    private static Command Erase()
    {
        var id = new Argument<string>("BOOK") { Description = "Id of the book" };
        var yes = new Option<bool>("--yes") { Description = "Do not ask" };
        var erase = new Command("erase", "Erase a book with everything in it. This cannot be taken back.") { id, yes };
        erase.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
        {
            var name = parsed.GetValue(id)!;
            if (!parsed.GetValue(yes) && (!Session.IsTerminal || !await AnsiConsole.ConfirmAsync($"Erase the book {name} with all its loads?", false, cancel)))
                throw new CannotException("Nothing was erased.", "Confirm with --yes.");
            await session.Client.Erase(name, cancel);
            Console.WriteLine($"Erased {name}.");
            return 0;
        }));
        return erase;
    }
}
