using System.Globalization;
using System.Text;
using System.Text.Json;

namespace Bearing.Demo;

/// <summary>Writes the files that a user would load, and the list of planted causes.</summary>
internal sealed class FileMaker(string folder, LedgerMaker ledger)
{
    private static readonly CultureInfo Plain = CultureInfo.InvariantCulture;

    public void WriteReference()
    {
        File.WriteAllText(Path.Combine(folder, "book.json"), Company.Book + "\n");
        File.WriteAllText(Path.Combine(folder, "loads.json"), Company.Loads + "\n");
        Write(
            "accounts.csv",
            "Code,Name,Parent,Type,Other names,Unit,Over time,Good",
            Company.Accounts.Select(a => Row(a.Code, a.Name, a.Parent, a.Type, a.OtherNames, a.Unit, a.OverTime, a.Good))
        );
        Write(
            "entities.csv",
            "Entity code,Name,Parent,Other names,Currency",
            Company.Entities.Select(e => Row(e.Code, e.Name, e.Parent, e.OtherNames, e.Currency))
        );
        Write("departments.csv", "Code,Name", Company.Departments.Select(d => Row(d.Code, d.Name)));
        Write("routes.csv", "Code,Name", Company.Routes.Select(r => Row(r.Code, r.Name)));
        Write("vessels.csv", "Code,Name", Company.Vessels.Select(v => Row(v.Code, v.Name)));
    }

    public void WriteLedger()
    {
        foreach (var half in ledger.Lines.GroupBy(l => $"ledger-{l.Date.Year}-h{((l.Date.Month - 1) / 6) + 1}.csv"))
            Write(
                half.Key,
                "Document,Line,Date,Entity,Account,Department,Route,Vessel,Debit,Credit,Currency,Local amount,Text",
                half.OrderBy(l => l.Date)
                    .ThenBy(l => l.Document, StringComparer.Ordinal)
                    .ThenBy(l => l.Line)
                    .Select(l =>
                        Row(
                            l.Document,
                            l.Line.ToString(Plain),
                            l.Date.ToString("yyyy-MM-dd", Plain),
                            l.Place.Entity,
                            l.Place.Account,
                            l.Place.Department,
                            l.Place.Route,
                            l.Place.Vessel,
                            l.Cents > 0 ? Money(l.Cents) : "",
                            l.Cents < 0 ? Money(-l.Cents) : "",
                            l.Currency,
                            Money(l.LocalCents),
                            l.Text
                        )
                    )
            );
        Write(
            "statistics-actual.csv",
            "Period,Entity,Statistic,Route,Value",
            ledger.Statistics.Select(s =>
                Row($"{s.Key.Year}-{s.Key.Month:D2}", s.Key.Entity, s.Key.Statistic, s.Key.Route, s.Value.ToString(Plain))
            )
        );
    }

    public void WriteRates() =>
        Write(
            "rates.csv",
            "Month,Currency,Average actual,Closing actual,Average budget,Closing budget",
            Enumerable
                .Range(0, 36)
                .Select(i => (Year: 2024 + (i / 12), Month: (i % 12) + 1))
                .Select(m =>
                    Row(
                        $"{m.Year}-{m.Month:D2}",
                        "SEK",
                        Known(m) ? Quote(Causes.Krona(m.Year, m.Month)) : "",
                        Known(m) ? Quote(Causes.Krona(m.Year, m.Month)) : "",
                        m.Year == 2026 ? "11.2000" : "",
                        m.Year == 2026 ? "11.2000" : ""
                    )
                )
        );

    private static bool Known((int Year, int Month) month) => month.Year < 2026 || month.Month <= 9;

    private static string Quote(double homePerForeign) => (1 / homePerForeign).ToString("0.0000", Plain);

    /// <summary>Supplier invoices as the ledger system keeps them, at the end of September 2026.</summary>
    public void WriteOpenItems()
    {
        var random = new Random(611);
        var (asAt, entities) = (
            new DateOnly(2026, 9, 30),
            Company
                .Entities.Where(e => Company.Routes.Any(r => r.Entity == e.Code) || e.Code is "BRH" or "PEH")
                .Select(e => e.Code)
                .Distinct()
                .ToList()
        );
        string[] suppliers =
        [
            "Norrvik Bunkers",
            "Hallin Ship Chandlers",
            "Fathom Rope & Rigging",
            "Ostray Dockyard",
            "Quayline Energy",
            "Brightwake Cleaning",
            "Meridian Galley Foods",
            "Tarn Office Supply",
            "Larkholm Crewing",
            "Seven Lanterns Media",
        ];
        var items = Enumerable
            .Range(1, 640)
            .Select(i =>
            {
                var invoiced = asAt.AddDays(-random.Next(0, 190));
                var due = invoiced.AddDays(
                    random.Next(4) switch
                    {
                        0 => 14,
                        1 => 45,
                        _ => 30,
                    }
                );
                var amount = Math.Round((decimal)(80 + (Math.Pow(random.NextDouble(), 3) * 42_000)), 2) * (i % 97 == 0 ? -1 : 1);
                var settled = due < asAt && random.NextDouble() < 0.86 ? due.AddDays(random.Next(-6, 24)) : (DateOnly?)null;
                if (settled > asAt)
                    settled = null;
                var paid =
                    settled is null ? 0m
                    : i % 31 == 0 ? Math.Round(amount / 2, 2)
                    : amount;
                var status = settled is null
                    ? i % 29 == 0
                        ? "disputed"
                        : "open"
                    : paid == amount
                        ? "paid"
                        : "part paid";
                return (
                    Number: $"SI-26-{i:D5}",
                    Supplier: suppliers[random.Next(suppliers.Length)],
                    Entity: entities[random.Next(entities.Count)],
                    invoiced,
                    due,
                    amount,
                    paid,
                    settled,
                    status
                );
            })
            .ToList();
        Write(
            "open-items.csv",
            "ItemNo,Supplier,Entity,InvoiceDate,DueDate,Amount,Paid,PaidDate,Status",
            items
                .OrderBy(i => i.invoiced)
                .ThenBy(i => i.Number, StringComparer.Ordinal)
                .Select(i =>
                    Row(
                        i.Number,
                        i.Supplier,
                        i.Entity,
                        i.invoiced.ToString("yyyy-MM-dd", Plain),
                        i.due.ToString("yyyy-MM-dd", Plain),
                        i.amount.ToString("0.00", Plain),
                        i.paid.ToString("0.00", Plain),
                        i.settled?.ToString("yyyy-MM-dd", Plain) ?? "",
                        i.status
                    )
                )
        );
    }

    public void WritePlans()
    {
        var budget = Enumerable
            .Range(1, 12)
            .SelectMany(month => Budget(month).Select(a => (Month: month, Place: a.Key, Amount: a.Value)))
            .ToList();
        Write(
            "budget-2026.csv",
            "Period,Entity,Account,Department,Route,Amount EUR",
            budget.Select(b => PlanRow(b.Month, b.Place, b.Amount))
        );
        Write(
            "statistics-budget-2026.csv",
            "Period,Entity,Statistic,Route,Value",
            Enumerable.Range(1, 12).SelectMany(BudgetStatistics)
        );
        Write(
            "forecast-6-6.csv",
            "Period,Entity,Account,Department,Route,Amount EUR",
            Forecast().Select(f => PlanRow(f.Month, f.Place, f.Amount))
        );
    }

    public void WriteCauses()
    {
        var causes = ledger
            .Causes.All.Select(c => new
            {
                c.Id,
                c.Title,
                c.Where,
                Effects = c.Effects.ToDictionary(e => e.Key, e => Math.Round(e.Value)),
            })
            .ToList();
        File.WriteAllText(
            Path.Combine(folder, "causes.json"),
            JsonSerializer.Serialize(causes, new JsonSerializerOptions(JsonSerializerDefaults.Web) { WriteIndented = true })
                + "\n"
        );
        var table = new StringBuilder("| cause | where it shows | effect on profit in EUR |\n|---|---|---|\n");
        foreach (var cause in ledger.Causes.All)
            table.AppendLine(
                Plain,
                $"| {cause.Title} | {cause.Where} | {string.Join(", ", cause.Effects.Select(e => $"{e.Key}: {e.Value.ToString("N0", Plain)}"))} |"
            );
        // The list for people stands in the README beside the folder, between two marks.
        var readme = Path.Combine(folder, "..", "README.md");
        var parts = File.ReadAllText(readme).Split("<!-- causes -->");
        File.WriteAllText(readme, $"{parts[0]}<!-- causes -->\n{table}<!-- causes -->{parts[2]}");
    }

    private static Dictionary<Place, double> Budget(int month)
    {
        var amounts = Plan.Month(2026, month, r => r.Code == "R07" ? 0 : Plan.Sailings(r, 2026, month), Plan.FuelPrice);
        if (month == 6)
            amounts[new("CAF", "5220", "ENG", "R05", "V05")] = 420_000;
        if (month == 2)
            amounts[new("HOF", "6310", "COM", "", "")] += 150_000;
        return amounts;
    }

    private static IEnumerable<string> BudgetStatistics(int month)
    {
        foreach (var route in Company.Routes.Where(r => r.Code != "R07"))
        {
            var sailings = Plan.Sailings(route, 2026, month);
            foreach (
                var (statistic, value) in new[]
                {
                    ("S10", sailings),
                    ("S20", sailings * Plan.Passengers(route, month)),
                    ("S30", sailings * (route.Vehicles + route.Lorries)),
                    ("S40", sailings * route.Litres),
                    ("S50", route.Sailings / 6),
                }
            )
                yield return Row($"2026-{month:D2}", route.Entity, statistic, route.Code, Math.Round(value).ToString(Plain));
        }
    }

    /// <summary>Six months as posted, six as estimated in July: the new route, the lost haulier and dearer fuel are known by
    /// then.</summary>
    private IEnumerable<(int Month, Place Place, double Amount)> Forecast()
    {
        var posted = ledger
            .Lines.Where(l => l.Date.Year == 2026 && l.Date.Month <= 6 && l.Place.Account[0] is '4' or '5' or '6' or '7')
            .GroupBy(l => (l.Date.Month, Place: l.Place with { Vessel = "" }))
            .OrderBy(g => g.Key.Month)
            .ThenBy(g => g.Key.Place.ToString(), StringComparer.Ordinal)
            .Select(g => (g.Key.Month, g.Key.Place, g.Sum(l => l.Cents) / 100.0 * -Causes.Sign(g.Key.Place.Account)));
        var estimated = Enumerable
            .Range(7, 6)
            .SelectMany(month =>
                Plan.Month(
                        2026,
                        month,
                        r => r.Code == "R07" ? r.Sailings * 0.9 : Plan.Sailings(r, 2026, month),
                        Plan.FuelPrice * 1.08
                    )
                    .Select(a => (month, a.Key, a.Value * (a.Key is { Account: "4110", Route: "R05" } ? 0.8 : 1)))
            );
        return posted.Concat(estimated);
    }

    private static string PlanRow(int month, Place place, double amount) =>
        Row(
            $"2026-{month:D2}",
            place.Entity,
            place.Account,
            place.Department,
            place.Route,
            Math.Round(amount, 2).ToString("0.00", Plain)
        );

    private void Write(string name, string heading, IEnumerable<string> rows) =>
        File.WriteAllText(Path.Combine(folder, name), string.Join('\n', rows.Prepend(heading)) + "\n", new UTF8Encoding(false));

    private static string Money(long cents) => (cents / 100m).ToString("0.00", Plain);

    private static string Row(params string[] fields) =>
        string.Join(
            ',',
            fields.Select(f =>
                f.AsSpan().IndexOfAny(",\"\n") >= 0 ? $"\"{f.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : f
            )
        );
}
