using System.CommandLine;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>Tables of records, rates, selection lists.</summary>
internal static class TableCommands
{
    public static IEnumerable<Command> All()
    {
        yield return TablesCommand();
        yield return Records();
        yield return Rates();
        yield return Selections();
    }

    private static Command TablesCommand()
    {
        var tables = new Command(
            "tables",
            "List the tables of records and the further fields of ledger lines.\n\nExample:\n  bearing tables"
        )
        {
            Session.JsonOption,
        };
        tables.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Tables(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine(
                            "There are no tables of records yet. Load one with “bearing load FILE --kind records --table NAME”."
                        );
                    else
                        Tables.Print(
                            ["Table", "Name", "Records", "Fields"],
                            list.Select(t =>
                                new[]
                                {
                                    t.Code,
                                    t.Name,
                                    t.Code == "ledger" ? "—" : $"{t.Rows:N0}",
                                    string.Join(", ", t.Fields.Select(f => $"{f.Code} ({f.Type})")),
                                }
                            ),
                            2
                        );
                    return 0;
                }));
        return tables;
    }

    private static Command Records()
    {
        var table = new Argument<string>("TABLE") { Description = "Code of the table, as “bearing tables” shows it" };
        var where = new Option<string[]>("--where")
        {
            Description = "A condition: FIELD is|has|from|to VALUE, FIELD is empty, FIELD is not VALUE; may be repeated",
            AllowMultipleArgumentsPerToken = false,
        };
        var order = new Option<string?>("--order") { Description = "Field to order by; with a minus in front, largest first" };
        var limit = new Option<int>("--limit") { Description = "How many records", DefaultValueFactory = _ => 20 };
        var records = new Command(
            "records",
            "List records of a table by conditions, with their number and sums.\n\nExamples:\n  bearing records payables --where \"status is open\" --order -amount\n  bearing records payables --where \"due-date to 2026-02-28\" --where \"paid-date is empty\""
        )
        {
            table,
            where,
            order,
            limit,
            Session.JsonOption,
        };
        records.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var page = await session.Client.Records(
                        await session.Book(cancel),
                        parsed.GetValue(table)!,
                        parsed.GetValue(where) ?? [],
                        parsed.GetValue(order),
                        parsed.GetValue(limit),
                        null,
                        cancel
                    );
                    if (session.AsJson)
                    {
                        Session.Print(page);
                        return 0;
                    }
                    var fields = page.Table.Fields;
                    var numeric = fields
                        .Select((f, i) => (f, i))
                        .Where(f => f.f.Type is "amount" or "quantity" or "rate")
                        .Select(f => f.i)
                        .ToArray();
                    if (page.Records.Count > 0)
                        Tables.Print(
                            [.. fields.Select(f => f.Name)],
                            page.Records.Select(r =>
                                fields
                                    .Select(f =>
                                        r.Fields.TryGetValue(f.Code, out var v)
                                            ? f.Type == "amount"
                                                ? Figures.Cents(v)
                                                : v
                                            : ""
                                    )
                                    .ToArray()
                            ),
                            numeric
                        );
                    Console.WriteLine(
                        $"{page.Count:N0} record{(page.Count == 1 ? "" : "s")}{(page.Records.Count < page.Count ? $", {page.Records.Count:N0} shown" : "")}{string.Concat(page.Sums.Select(s => $"; {fields.First(f => f.Code == s.Field).Name}{(string.IsNullOrEmpty(s.Currency) ? "" : $" {s.Currency}")} {Figures.Cents(s.Sum).Trim()}"))}."
                    );
                    return 0;
                }));
        return records;
    }

    private static Command Rates()
    {
        var currency = new Option<string?>("--currency") { Description = "Only this currency" };
        var rates = new Command(
            "rates",
            "List the rates of exchange and which way round they are quoted.\n\nExample:\n  bearing rates --currency CHF"
        )
        {
            currency,
            Session.JsonOption,
        };
        rates.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = (await session.Client.Rates(await session.Book(cancel), cancel))
                        .Where(r =>
                            parsed.GetValue(currency) is not { } only
                            || string.Equals(r.Currency, only, StringComparison.OrdinalIgnoreCase)
                        )
                        .ToList();
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine("There are no such rates. Load them with “bearing load FILE --kind rates”.");
                    else
                        Tables.Print(
                            ["Month", "Currency", "Kind", "For", "Rate", "Quoted"],
                            list.Select(r =>
                                new[]
                                {
                                    r.PeriodName,
                                    r.Currency,
                                    r.Kind,
                                    r.Set,
                                    r.Value,
                                    r.Quotation == "foreign-per-home" ? "foreign for one home" : "home for one foreign",
                                }
                            ),
                            4
                        );
                    return 0;
                }));
        return rates;
    }

    private static Command Selections()
    {
        var name = new Argument<string>("NAME") { Description = "Name of the list" };
        var values = new Argument<string[]>("VALUE")
        {
            Description = "Values that rows may have",
            Arity = ArgumentArity.OneOrMore,
        };
        var keep = new Command("keep", "Keep a list, or replace the one of that name.") { name, values };
        keep.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var kept = await session.Client.KeepSelection(
                        await session.Book(cancel),
                        new SelectionList(parsed.GetValue(name)!, parsed.GetValue(values)!),
                        cancel
                    );
                    Console.WriteLine(
                        $"{kept.Name} holds {kept.Values.Count:N0} values. Mappings that name it take rows by them from now on."
                    );
                    return 0;
                }));
        var selections = new Command(
            "selections",
            "List the selection lists: values that mappings take rows by, chosen apart from the mapping.\n\nExamples:\n  bearing selections\n  bearing selections keep closing-companies C01 C02 C03"
        )
        {
            keep,
            Session.JsonOption,
        };
        selections.SetAction((parsed, cancel) => Session.Run(parsed, async session =>
                {
                    var list = await session.Client.Selections(await session.Book(cancel), cancel);
                    if (session.AsJson)
                        Session.Print(list);
                    else if (list.Count == 0)
                        Console.WriteLine(
                            "There are no selection lists yet. Keep one with “bearing selections keep NAME VALUE…”."
                        );
                    else
                        Tables.Print(["List", "Values"], list.Select(s => new[] { s.Name, string.Join(", ", s.Values) }));
                    return 0;
                }));
        return selections;
    }
}
