using System.CommandLine;
using System.Globalization;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Questions in words, the same put together from options, and the lines behind a figure.</summary>
internal static class AskCommands
{
    private static readonly Option<string[]> By = new("--by")
    {
        Description = "What to split by, in this order: entity, account, route, month …",
    };
    private static readonly Option<string?> In = new("--in") { Description = "Period: \"September 2026\", Q3, \"year to date\"" };
    private static readonly Option<string[]> Against = new("--against")
    {
        Description = "What to compare with: budget (usual), forecast, \"last year\"",
    };
    private static readonly Option<string[]> For = new("--for") { Description = "Members to keep, by name or code" };
    private static readonly Option<int?> Top = new("--top") { Description = "Only the largest rows" };

    public static IEnumerable<Command> All()
    {
        yield return Ask();
        yield return Composed(
            "variance",
            "comparison",
            "Variance table: account × entity × period, any dimension, any level.\n\nExamples:\n  bearing variance \"operating profit\" --by entity --in \"September 2026\"\n  bearing variance fuel --by route --by month --against \"last year\"",
            PrintTable
        );
        yield return Composed(
            "bridge",
            "bridge",
            "Steps from the base to the actual, which add up exactly.\n\nExample:\n  bearing bridge \"operating profit\" --by entity --in \"September 2026\"",
            PrintBridge
        );
        yield return Composed(
            "comment",
            "why",
            "The written commentary alone, ready to paste.\n\nExample:\n  bearing comment \"operating profit\" --in \"September 2026\"",
            PrintCommentary
        );
        yield return Entries();
    }

    private static Command Ask()
    {
        var words = new Argument<string[]>("QUESTION")
        {
            Description = "The question in plain words",
            Arity = ArgumentArity.OneOrMore,
        };
        var after = new Option<string[]>("--after")
        {
            Description = "A question before, when this one follows up on it; given several times, the whole talk, oldest first",
        };
        var pick = new Option<int?>("--pick") { Description = "Which of the choices, when Bearing asked back" };
        var how = new Option<bool>("--how") { Description = "Say how the figures were worked out, from which loads" };
        var reading = new Option<bool>("--reading")
        {
            Description = "Say what each stage of reading makes of the words, instead of an answer",
        };
        var ask = new Command(
            "ask",
            "Ask a question in plain words.\n\nExamples:\n  bearing ask \"why did operating profit miss budget in September?\"\n  bearing ask \"by route instead\" --after \"fuel versus budget in August\"\n  bearing ask \"passenger revenue at Skelmar\" --pick 1"
        )
        {
            words,
            after,
            pick,
            how,
            reading,
            Session.JsonOption,
        };
        // A question takes any number of words, so a mistyped option would be read as part of it.
        words.Validators.Add(result =>
        {
            foreach (var token in result.Tokens.Where(t => t.Value.StartsWith("--", StringComparison.Ordinal)))
                result.AddError($"Unrecognized option “{token.Value}”.");
        });
        ask.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    string? trail = null;
                    foreach (var before in parsed.GetValue(after) ?? [])
                        trail = (await session.Client.Ask(book, new AskRequest(before, Trail: trail), cancel)).Trail
                            ?? throw new CannotException(
                                $"The question before, “{before}”, has no answer of its own to follow up on.",
                                "Ask it alone first to see why."
                            );
                    var request = new AskRequest(string.Join(' ', parsed.GetValue(words)!), Trail: trail);
                    if (parsed.GetValue(reading))
                    {
                        PrintStages(await session.Client.Reading(book, request, cancel));
                        return 0;
                    }
                    var answers = await session.Client.Ask(book, request, cancel);
                    if (parsed.GetValue(pick) is { } number && answers.Choices.Count > 0)
                    {
                        if (number < 1 || number > answers.Choices.Count)
                            throw new CannotException(
                                $"There are {answers.Choices.Count} choices.",
                                "Pick one of them by its number."
                            );
                        answers = await session.Client.Answer(
                            book,
                            new AnswerRequest(answers.Choices[number - 1].Question),
                            cancel
                        );
                    }
                    // "… as csv" is said in the question itself; then nothing but the file is printed.
                    if (
                        answers is
                        { Further: null, Answers: [{ Entries: null, Question.Layout.Display.View: "csv" or "json" } file] }
                    )
                    {
                        if (file.Question.Layout!.Display!.View == "json")
                            Session.Print(file);
                        else
                            Console.Out.Write(await session.Client.AnswerCsv(book, new AnswerRequest(file.Question), cancel));
                        return 0;
                    }
                    return Print(session, answers, answer =>
                    {
                        PrintPaper(answer);
                        if (parsed.GetValue(how))
                            PrintHow(answer);
                    });
                }));
        return ask;
    }

    private static void PrintStages(ReadingStagesDto reading)
    {
        foreach (var stage in reading.Stages)
        {
            Console.WriteLine(stage.Name);
            foreach (var line in stage.Lines)
                Console.WriteLine($"  {line}");
        }
    }

    /// <summary>A command whose options each name one part of the question.</summary>
    private static Command Composed(string name, string kind, string description, Action<AnswerDto> print)
    {
        var figure = new Argument<string?>("FIGURE")
        {
            Description = "Account or measure, by name or code; the result when left out",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var command = new Command(name, description) { figure, By, In, Against, For, Top, Session.JsonOption };
        command.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    var question = await session.Client.Compose(
                        book,
                        new ComposeRequest(
                            kind,
                            parsed.GetValue(figure),
                            parsed.GetValue(By),
                            parsed.GetValue(In),
                            parsed.GetValue(Against),
                            parsed.GetValue(For),
                            parsed.GetValue(Top)
                        ),
                        cancel
                    );
                    return Print(session, await session.Client.Answer(book, new AnswerRequest(question), cancel), print);
                }));
        return command;
    }

    private static Command Entries()
    {
        var slice = new Argument<string>("SLICE")
        {
            Description = "Address of the cells, as answers show it, or a question in words",
        };
        var limit = new Option<int>("--limit") { Description = "How many lines", DefaultValueFactory = _ => 50 };
        var largest = new Option<bool>("--largest") { Description = "Largest amounts first" };
        var cursor = new Option<string?>("--cursor") { Description = "Where the page before ended" };
        var entries = new Command(
            "entries",
            "The ledger lines behind a figure, with the file and row of each.\n\nExamples:\n  bearing entries \"actual@2026-P09;figure=a:4910;entity=SKF\"\n  bearing entries \"consulting at head office in September 2026\" --largest"
        )
        {
            slice,
            limit,
            largest,
            cursor,
            Session.JsonOption,
        };
        entries.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    var address = parsed.GetValue(slice)!;
                    if (!address.Contains('@'))
                    {
                        var answers = await session.Client.Ask(book, new AskRequest(address), cancel);
                        // Records have no entries: what was asked for is the list itself.
                        if (answers.Answers is not [{ Records: null } first])
                            return Print(session, answers, PrintPaper);
                        address = SliceOf(first.Question);
                    }
                    var page = await session.Client.Lines(
                        book,
                        address,
                        parsed.GetValue(limit),
                        parsed.GetValue(cursor),
                        parsed.GetValue(largest),
                        cancel
                    );
                    if (session.AsJson)
                        Session.Print(page);
                    else
                        PrintLines(page, []);
                    return 0;
                }));
        return entries;
    }

    private static string SliceOf(QuestionDto q) =>
        $"{q.Scope.Subject}@{q.Scope.Periods[0]};figure={q.Scope.Figure}"
        + string.Concat(
            (q.Scope.Filters ?? []).Select(f =>
                $";{f.Dimension}{(f.Exclude ? "!=" : "=")}{string.Join(',', f.Members.Select(Uri.EscapeDataString))}"
            )
        );

    /// <summary>Every demand of the text in turn; 0 only when all of them were answered.</summary>
    public static int Print(Session session, AnswerSet answers, Action<AnswerDto> print)
    {
        var all = (IEnumerable<AnswerSet>)[answers, .. answers.Further ?? []];
        if (session.AsJson)
            Session.Print(answers);
        else
        {
            foreach (var one in all)
            {
                if (one != answers)
                    Console.WriteLine();
                if (one.Asked is { } asked)
                    Tables.Wrapped("Asked", asked);
                PrintOne(one, print);
            }
        }
        return all.All(a => a.Outcome is "answered" or "help") ? 0 : 1;
    }

    private static void PrintOne(AnswerSet answers, Action<AnswerDto> print)
    {
        if (answers.Outcome == "help")
        {
            Tables.Wrapped(null, answers.Because!);
            foreach (var question in answers.Nearest)
                Console.WriteLine($"  {question}");
        }
        else if (answers.Outcome is "goes-back" or "starts-afresh")
            Console.Error.WriteLine(
                "Each question of the command line stands by itself, so there is nothing to go back to. Name the one before with --after."
            );
        else if (answers.Outcome == "cannot-answer")
        {
            Console.Error.WriteLine($"Cannot answer: {answers.Because}");
            if (answers.Reading?.Unused is { Count: > 0 } passedOver)
                Console.Error.WriteLine($"Not used: {string.Join(", ", passedOver)}");
            if (answers.Nearest.Count > 0)
                Console.Error.WriteLine($"Try: {string.Join(" · ", answers.Nearest)}");
            foreach (var word in answers.Unknown ?? [])
                Console.Error.WriteLine($"Teach: bearing words teach \"{word}\" MEANING");
        }
        else if (answers.Outcome == "asks-back")
        {
            if (answers.Reading?.Unused is { Count: > 0 } unused)
                Console.WriteLine($"Not used: {string.Join(", ", unused)}");
            if (answers.Because is { } missing)
                Console.WriteLine(missing);
            Console.WriteLine("Which of these is meant? Ask again with --pick and its number.");
            for (var i = 0; i < answers.Choices.Count; i++)
                Console.WriteLine($"  {i + 1}. {answers.Choices[i].Means}");
        }
        else
        {
            PrintReading(answers);
            foreach (var answer in answers.Answers)
                print(answer);
        }
    }

    private static void PrintReading(AnswerSet answers)
    {
        if (answers.Provenance != "real")
            Tables.Faint($"These are {answers.Provenance} figures.");
        if (answers.Reading is not { } reading)
            return;
        Tables.Wrapped("Read as", reading.Sentence);
        if (reading.Assumed.Count > 0)
            Tables.Wrapped("Assumed", string.Join("; ", reading.Assumed) + ".");
        if (reading.Unused.Count > 0)
            Tables.Wrapped("Not used", string.Join(", ", reading.Unused));
        Console.WriteLine();
    }

    public static void PrintPaper(AnswerDto answer)
    {
        PrintCommentary(answer);
        Console.WriteLine();
        if (answer.Entries is { Count: > 0 } entries)
            PrintLines(entries, (answer.Question.Kind as EntriesDto)?.Listing?.Columns ?? []);
        if (answer.Records is { } records)
            PrintRecords(records);
        PrintTable(answer);
        if (answer.Next.Count > 0)
            Tables.Wrapped("Next", string.Join(" · ", answer.Next));
    }

    private static void PrintCommentary(AnswerDto answer) =>
        Tables.Wrapped(null, string.Join(' ', answer.Commentary.Select(s => s.Text)));

    private static void PrintTable(AnswerDto answer)
    {
        if (answer.Grid is { } grid)
            Tables.Print(grid, answer.Question.Layout?.Display);
        foreach (var note in answer.Notes)
            Tables.Wrapped("Note", note);
        // Records are listed as they came; nothing is summed that could differ.
        if (answer.Records is null)
            Tables.Wrapped("Tie-out", answer.TieOut.Text);
    }

    private static void PrintBridge(AnswerDto answer)
    {
        if (answer.Charts.FirstOrDefault(c => c.Kind == "bridge") is not { } bridge)
        {
            Console.WriteLine(
                "There is no bridge for this figure: its parts do not add up to it, or there is nothing to compare."
            );
            return;
        }
        Tables.Bridge(bridge, answer.Grid!.Unit);
        Tables.Wrapped("Tie-out", answer.TieOut.Text);
    }

    private static void PrintHow(AnswerDto answer)
    {
        if (answer.Calculation is not { } how)
            return;
        Console.WriteLine();
        foreach (var word in how.Words)
            Tables.Wrapped("How", word);
        foreach (var slice in how.Slices)
            Tables.Wrapped("Cells", $"{slice.Column}: {slice.Slice}");
        if (how.Loads.Count > 0)
            Tables.Wrapped(
                "Loads",
                string.Join(
                    ", ",
                    how.Loads.Select(l => $"{l.Load} {l.File} ({l.Lines.ToString("N0", CultureInfo.InvariantCulture)} lines)")
                )
            );
    }

    private static void PrintRecords(RecordTableDto table)
    {
        bool IsNumber(int column) => table.Columns[column].Type is "amount" or "quantity" or "rate";
        string Cell(string? value, int column) =>
            value is null ? ""
            : table.Columns[column].Type == "amount" && decimal.TryParse(value, CultureInfo.InvariantCulture, out _)
                ? Figures.Cents(value)
            : table.Columns[column].Type == "date" && value.Length > 10 ? value[..16].Replace('T', ' ')
            : value;
        if (table.Rows.Count > 0)
            Tables.Print(
                [.. table.Columns.Select(c => c.Title)],
                table.Rows.Select(r => r.Values.Select(Cell).ToArray()),
                [.. Enumerable.Range(0, table.Columns.Count).Where(IsNumber)]
            );
    }

    /// <param name="columns">Those that were asked for; empty for the usual ones.</param>
    private static void PrintLines(LinePageDto page, IReadOnlyList<string> columns)
    {
        IReadOnlyList<string> shown =
            columns.Count > 0
                ? columns
                :
                [
                    "date",
                    "document",
                    "entity",
                    "account",
                    "amount",
                    .. page.Lines.Any(l => l.Rate is not null) ? (string[])["posted", "rate"] : [],
                    "text",
                ];
        string Title(string code) =>
            page.Fields.FirstOrDefault(f => f.Code == code)?.Name ?? char.ToUpperInvariant(code[0]) + code[1..];
        static string Cell(LineDto l, string code) =>
            code switch
            {
                "date" => l.Date ?? l.Period,
                "document" => l.Document,
                "amount" => Figures.Cents(l.Amount),
                "text" => l.Text,
                "posted" => l.LocalAmount is { } local ? $"{l.Currency} {Figures.Cents(local).Trim()}" : "",
                "rate" => l.Rate is { } rate ? $"{rate.Value} ({rate.Set}, load {rate.Load})" : "",
                _ => l.Members.TryGetValue(code, out var member) ? member.Name : l.Fields.GetValueOrDefault(code, ""),
            };
        Tables.Print(
            [.. shown.Select(Title), "Load:row"],
            page.Lines.Select(l => shown.Select(c => Cell(l, c)).Append($"{l.Load}:{l.Row}").ToArray()),
            [.. Enumerable.Range(0, shown.Count).Where(i => shown[i] is "amount" or "posted")]
        );
        Console.WriteLine(
            $"{page.Lines.Count.ToString("N0", CultureInfo.InvariantCulture)} of {page.Count.ToString("N0", CultureInfo.InvariantCulture)} lines, {Figures.Cents(page.Sum)} in all.{(page.Next is null ? "" : $" Next page: --cursor {page.Next}")}"
        );
    }
}
