using System.CommandLine;
using System.Globalization;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Names that people teach, words that nobody understood, and questions kept to be run again.</summary>
internal static class WordCommands
{
    public static IEnumerable<Command> All()
    {
        yield return Words();
        yield return Questions();
    }

    private static Command Words()
    {
        var words = new Command(
            "words",
            "List the names that were taught, teach and forget some, or see which words nobody understood.\n\nExamples:\n  bearing words\n  bearing words unknown\n  bearing words teach bunkers \"Marine fuel\"\n  bearing words teach \"fuel per crossing\" \"fuel divided by sailings\"\n  bearing words forget 3"
        )
        {
            Session.JsonOption,
            Teach(),
            Forget(),
            Unknown(),
        };
        words.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Words(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine(
                            "No names were taught yet. “bearing words unknown” lists words that nobody understood."
                        );
                    else
                        Tables.Print(
                            ["No", "Word", "Means", "Taught by", "On"],
                            list.Select(w =>
                                new[] { $"{w.Id}", w.Word, w.Means ?? $"{w.Target} (no longer in the book)", w.By, Day(w.At) }
                            ),
                            0
                        );
                    return 0;
                }));
        return words;
    }

    private static Command Teach()
    {
        var word = new Argument<string>("WORD") { Description = "The word or words to teach" };
        var means = new Argument<string>("MEANS") { Description = "A name or code of the book, or \"X divided by Y\"" };
        var teach = new Command("teach", "Give something another name.") { word, means };
        teach.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var taught = await session.Client.Teach(
                        await session.Book(cancel),
                        new TeachRequest(parsed.GetValue(word)!, parsed.GetValue(means)!, Environment.UserName),
                        cancel
                    );
                    Console.WriteLine(
                        $"“{taught.Word}” means {taught.Means} from now on. Take it back with “bearing words forget {taught.Id}”."
                    );
                    return 0;
                }));
        return teach;
    }

    private static Command Forget()
    {
        var number = new Argument<int>("NO") { Description = "Number of the word, as the list shows it" };
        var forget = new Command("forget", "Take a taught name back.") { number };
        forget.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    await session.Client.Forget(await session.Book(cancel), parsed.GetValue(number), cancel);
                    Console.WriteLine("Taken back.");
                    return 0;
                }));
        return forget;
    }

    private static Command Unknown()
    {
        var unknown = new Command("unknown", "Words that questions held and that nobody understood, most frequent first.")
        {
            Session.JsonOption,
        };
        unknown.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.UnknownWords(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine("Every word of every question was understood.");
                    else
                        Tables.Print(
                            ["Word", "Times", "Last", "In the question"],
                            list.Select(w =>
                                new[]
                                {
                                    w.Word,
                                    w.Times.ToString("N0", CultureInfo.InvariantCulture),
                                    Day(w.LastAsked),
                                    w.Example,
                                }
                            ),
                            1
                        );
                    return 0;
                }));
        return unknown;
    }

    private static Command Questions()
    {
        var questions = new Command(
            "questions",
            "List the kept questions, keep, run and remove some. Words in braces are asked for when a question is run.\n\nExamples:\n  bearing questions\n  bearing questions keep fuel-month \"fuel versus budget by route in {period}\"\n  bearing questions run --with period=\"September 2026\"\n  bearing questions run fuel-month --with period=Q3\n  bearing questions remove fuel-month"
        )
        {
            Session.JsonOption,
            Keep(),
            Run(),
            Remove(),
        };
        questions.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Questions(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine("No questions are kept yet. Keep one with “bearing questions keep NAME \"QUESTION\"”.");
                    else
                        Tables.Print(
                            ["Name", "Question", "Needs"],
                            list.Select(q => new[] { q.Name, q.Text, string.Join(", ", q.Parameters ?? []) })
                        );
                    return 0;
                }));
        return questions;
    }

    private static Command Keep()
    {
        var name = new Argument<string>("NAME") { Description = "Lower-case letters, digits and dashes" };
        var text = new Argument<string>("QUESTION") { Description = "In plain words, with words in braces for what changes" };
        var keep = new Command("keep", "Keep a question under a name; one of the same name is replaced.") { name, text };
        keep.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var kept = await session.Client.KeepQuestion(
                        await session.Book(cancel),
                        parsed.GetValue(name)!,
                        parsed.GetValue(text)!,
                        cancel
                    );
                    Console.WriteLine(
                        $"Kept as {kept.Name}{(kept.Parameters is { Count: > 0 } needs ? $"; running it needs {string.Join(", ", needs)}" : "")}."
                    );
                    return 0;
                }));
        return keep;
    }

    private static Command Run()
    {
        var names = new Argument<string[]>("NAME")
        {
            Description = "Which ones, in this order; all when left out",
            Arity = ArgumentArity.ZeroOrMore,
        };
        var with = new Option<string[]>("--with")
        {
            Description = "WORD=TEXT for a word in braces; may be repeated",
            AllowMultipleArgumentsPerToken = false,
        };
        var run = new Command("run", "Run kept questions one after another.") { names, with, Session.JsonOption };
        run.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var given = (parsed.GetValue(with) ?? []).Select(w => w.Split('=', 2)).ToList();
                    if (given.Find(g => g.Length < 2) is { } wrong)
                        throw new CannotException(
                            $"“{wrong[0]}” does not say what stands in its place.",
                            "Write WORD=TEXT, for example period=\"September 2026\"."
                        );
                    var results = await session.Client.RunQuestions(
                        await session.Book(cancel),
                        new RunRequest(parsed.GetValue(names), given.ToDictionary(g => g[0], g => g[1])),
                        cancel
                    );
                    if (session.AsJson)
                    {
                        Session.Print(results);
                        return results.All(r => r.Result.Outcome == "answered") ? 0 : 1;
                    }
                    var code = 0;
                    foreach (var result in results)
                    {
                        Console.WriteLine($"── {result.Name}: {result.Text}\n");
                        code = Math.Max(code, AskCommands.Print(session, result.Result, AskCommands.PrintPaper));
                        Console.WriteLine();
                    }
                    return code;
                }));
        return run;
    }

    private static Command Remove()
    {
        var name = new Argument<string>("NAME") { Description = "Name of the question" };
        var remove = new Command("remove", "Remove a kept question.") { name };
        remove.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    await session.Client.RemoveQuestion(await session.Book(cancel), parsed.GetValue(name)!, cancel);
                    Console.WriteLine($"{parsed.GetValue(name)} is removed.");
                    return 0;
                }));
        return remove;
    }

    private static string Day(DateTimeOffset at) => at.ToLocalTime().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
