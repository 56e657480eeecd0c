using System.CommandLine;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>The month-end: closing months, what changed, the trial balance.</summary>
internal static class PeriodCommands
{
    public static IEnumerable<Command> All()
    {
        yield return Close();
        yield return Changes();
        yield return Reconcile();
    }

    private static Command Close()
    {
        var through = new Argument<string?>("PERIOD")
        {
            Description = "Last closed month, for example 2026-P09, or “none”; shows what is closed when left out",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var entity = new Option<string?>("--entity") { Description = "Only this entity" };
        var close = new Command(
            "close",
            "Close months, for all or for one entity, or show what is closed. Postings that come later are marked.\n\nExamples:\n  bearing close\n  bearing close 2026-P09\n  bearing close 2026-P08 --entity C07"
        )
        {
            through,
            entity,
            Session.JsonOption,
        };
        close.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    var closed = parsed.GetValue(through) is { } period
                        ? await session.Client.Close(
                            book,
                            new CloseRequest(period == "none" ? null : period, parsed.GetValue(entity)),
                            cancel
                        )
                        : await session.Client.Closed(book, cancel);
                    if (session.AsJson)
                        Session.Print(closed);
                    else
                        Console.WriteLine(
                            $"{(closed.Through is null ? "No month is closed" : $"Closed through {closed.ThroughName} ({closed.Through})")}{string.Concat(closed.Entities.Select(e => $"; {e.Key} through {e.Value}"))}."
                        );
                    return 0;
                }));
        return close;
    }

    private static Command Changes()
    {
        var since = new Option<int?>("--since")
        {
            Description = "Edition to compare with, as “bearing loads” shows it; the one before the latest change when left out",
        };
        var limit = new Option<int>("--limit") { Description = "How many figures", DefaultValueFactory = _ => 20 };
        var changes = new Command(
            "changes",
            "Show which figures are not what they were: since the last load, or since an earlier edition.\n\nExamples:\n  bearing changes\n  bearing changes --since 12"
        )
        {
            since,
            limit,
            Session.JsonOption,
        };
        changes.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var found = await session.Client.Changes(
                        await session.Book(cancel),
                        parsed.GetValue(since),
                        null,
                        parsed.GetValue(limit),
                        cancel
                    );
                    if (session.AsJson)
                    {
                        Session.Print(found);
                        return 0;
                    }
                    Console.WriteLine($"From edition {found.From} to {found.To}:");
                    foreach (var load in found.Loads)
                        Console.WriteLine($"  {load}");
                    if (found.Changes.Count > 0)
                        Tables.Print(
                            ["Scenario", "Month", "Account", "Entity", "Before", "After", "Change (income +)", ""],
                            found.Changes.Select(c =>
                                new[]
                                {
                                    c.Scenario,
                                    c.PeriodName,
                                    $"{c.Account} {c.AccountName}",
                                    c.EntityName,
                                    c.Before is null ? "—" : Figures.Cents(c.Before),
                                    c.After is null ? "—" : Figures.Cents(c.After),
                                    Figures.Cents(c.Difference),
                                    c.Late ? "late" : "",
                                }
                            ),
                            4,
                            5,
                            6
                        );
                    Console.WriteLine(
                        found.Total == 0
                            ? "No figure changed."
                            : $"{found.Total:N0} figures changed{(found.Changes.Count < found.Total ? $"; the {found.Changes.Count} largest are shown" : "")}."
                    );
                    return 0;
                }));
        return changes;
    }

    private static Command Reconcile()
    {
        var file = new Argument<FileInfo>("FILE")
        {
            Description = "The trial balance: account and amount, or debit and credit; with a column of entities also by entity",
        };
        var period = new Option<string>("--period")
        {
            Description = "Month at whose end it was drawn, for example 2026-P09",
            Required = true,
        };
        var mapping = new Option<string?>("--mapping") { Description = "Name of a saved mapping" };
        var sign = new Option<string?>("--sign")
        {
            Description = "debit-positive, credit-positive or as-shown; recognised when left out",
        };
        var reconcile = new Command(
            "reconcile",
            "Hold the loaded ledger against a trial balance. Nothing is loaded.\n\nExample:\n  bearing reconcile trial-balance.csv --period 2026-P09"
        )
        {
            file,
            period,
            mapping,
            sign,
            Session.JsonOption,
        };
        reconcile.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var book = await session.Book(cancel);
                    if (parsed.GetValue(file) is not { Exists: true } trial)
                        throw new CannotException($"There is no file {parsed.GetValue(file)}.", "Check the path.");
                    await using var content = trial.OpenRead();
                    var upload = await session.Client.Upload(book, trial.Name, content, cancel);
                    var result = await session.Client.Reconcile(
                        book,
                        new ReconcileRequest(
                            upload.Id,
                            parsed.GetValue(period)!,
                            parsed.GetValue(mapping),
                            parsed.GetValue(sign)
                        ),
                        cancel
                    );
                    if (session.AsJson)
                        Session.Print(result);
                    else
                    {
                        if (result.Differing.Count > 0)
                            Tables.Print(
                                ["Account", "Entity", "Trial balance", "Book", "Difference"],
                                result.Differing.Select(d =>
                                    new[]
                                    {
                                        $"{d.Account} {d.AccountName}",
                                        d.Entity ?? "all",
                                        d.Trial is null ? "—" : Figures.Cents(d.Trial),
                                        Figures.Cents(d.Book),
                                        Figures.Cents(d.Difference),
                                    }
                                ),
                                2,
                                3,
                                4
                            );
                        Console.WriteLine(
                            result.Differing.Count == 0
                                ? $"All {result.Agreeing:N0} accounts of {result.File} agree with the book at the end of {result.ThroughName}."
                                : $"{result.Agreeing:N0} accounts agree, {result.Differing.Count:N0} differ by {Figures.Cents(result.Difference).Trim()} in sum (credits positive)."
                        );
                    }
                    return result.Differing.Count == 0 ? 0 : 1;
                }));
        return reconcile;
    }
}
