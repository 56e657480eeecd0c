using System.Globalization;
using System.Text;
using System.Text.Json;
using Bearing.Demo;

// Makes the demo company's files. The same seed makes the same bytes.
// Usage: dotnet run --project demo/generator -- OUT_FOLDER
var folder = args.Length > 0 ? args[0] : "demo/data";
Directory.CreateDirectory(folder);
var ledger = new LedgerMaker(20260925);
ledger.Make();
var files = new FileMaker(folder, ledger);
files.WriteReference();
files.WriteLedger();
files.WritePlans();
files.WriteRates();
files.WriteOpenItems();
files.WriteCauses();
Console.WriteLine($"{ledger.Lines.Count:N0} ledger lines in {folder}");

namespace Bearing.Demo
{
    internal sealed record LedgerLine(
        string Document,
        int Line,
        DateOnly Date,
        Place Place,
        long Cents,
        long LocalCents,
        string Currency,
        string Text
    );

    /// <summary>Posts every month's amounts as balanced documents in cents.</summary>
    internal sealed class LedgerMaker(int seed)
    {
        private static readonly Dictionary<string, string> Names = Company.Accounts.ToDictionary(a => a.Code, a => a.Name);
        private readonly Random _random = new(seed);
        private int _number;
        private int _line;

        public Causes Causes { get; } = new();
        public List<LedgerLine> Lines { get; } = [];

        /// <summary>Posted statistics: entity, statistic, route, year, month → quantity.</summary>
        public SortedDictionary<
            (int Year, int Month, string Entity, string Statistic, string Route),
            double
        > Statistics { get; } = [];

        public void Make()
        {
            foreach (var (year, month) in Months())
                MakeMonth(year, month);
        }

        public static IEnumerable<(int Year, int Month)> Months()
        {
            for (var i = 0; i < 33; i++)
                yield return (2024 + (i / 12), (i % 12) + 1);
        }

        private void MakeMonth(int year, int month)
        {
            _number = 0;
            if ((year, month) == (2024, 1))
                PostOpening();
            var amounts = Plan.Month(year, month, r => Causes.Sailings(r, year, month), Causes.FuelPrice(year, month));
            Causes.Apply(year, month, amounts);
            foreach (var route in Company.Routes)
                AddStatistics(route, year, month);
            foreach (var (place, amount) in amounts.OrderBy(a => a.Key.ToString(), StringComparer.Ordinal))
            {
                var noisy = amount * (1 + ((_random.NextDouble() - 0.5) * Noise(place.Account)));
                Post(
                    year,
                    month,
                    place,
                    noisy - Causes.Invoiced.GetValueOrDefault((year, month, place)),
                    Pieces(place.Account),
                    null
                );
            }
            foreach (var (y, m, place, amount, text) in Causes.Documents.Where(d => d.Year == year && d.Month == month))
                Post(y, m, place, amount, 1, text);
            foreach (var (y, m, day, lines, text) in Causes.Invoices.Where(i => i.Year == year && i.Month == month))
                PostDocument(new DateOnly(y, m, day), [.. lines.Select(l => (l.Place, (long)Math.Round(l.Amount * 100)))], text);
        }

        private void Post(int year, int month, Place place, double amount, int pieces, string? text)
        {
            var total = (long)Math.Round(amount * 100);
            var weights = Enumerable.Range(0, pieces).Select(_ => 0.4 + _random.NextDouble()).ToArray();
            var left = total;
            for (var i = 0; i < pieces; i++)
            {
                var cents = i == pieces - 1 ? left : (long)Math.Round(total * weights[i] / weights.Sum());
                left -= cents;
                var day = Math.Min(DateTime.DaysInMonth(year, month), 1 + (int)((i + _random.NextDouble()) * 28 / pieces));
                PostDocument(
                    new DateOnly(year, month, day),
                    place,
                    cents,
                    text ?? $"{Names[place.Account]} {Describe(place, i, pieces)}"
                );
            }
        }

        private void PostDocument(DateOnly date, Place place, long cents, string text)
        {
            if (cents != 0)
                PostDocument(date, [(place, cents)], text);
        }

        /// <summary>Debit positive. The other side goes to cash, receivables, payables or payroll, in one line.</summary>
        /// <param name="lines">All of one entity.</param>
        private void PostDocument(DateOnly date, IReadOnlyList<(Place Place, long Cents)> lines, string text)
        {
            var first = lines[0].Place;
            var document = $"{first.Entity}-{date:yyMM}-{++_number:D5}";
            var isKrona = first.Entity == "VIL";
            var rate = isKrona ? Causes.Krona(date.Year, date.Month) / Causes.Krona(2025, 1) : 1;
            var currency = isKrona ? "SEK" : "EUR";
            var (euros, locals) = (0L, 0L);
            foreach (var (place, cents) in lines)
            {
                var signed = Causes.Sign(place.Account) > 0 ? -cents : cents;
                var (euro, local) = ((long)Math.Round(signed * rate), isKrona ? (long)Math.Round(signed * 11.20) : signed);
                Lines.Add(new(document, ++_line, date, place, euro, local, currency, text));
                (euros, locals) = (euros + euro, locals + local);
            }
            Lines.Add(
                new(
                    document,
                    ++_line,
                    date,
                    first with
                    {
                        Account = Counter(first.Account),
                        Department = "ADM",
                        Route = "",
                        Vessel = "",
                    },
                    -euros,
                    -locals,
                    currency,
                    text
                )
            );
            _line = 0;
        }

        private void PostOpening()
        {
            foreach (var entity in Company.Ferries.Concat(Company.Harbours).Append("HOF"))
            foreach (
                var (account, amount) in new[]
                {
                    ("1010", 1_850_000L),
                    ("1210", 21_400_000L),
                    ("2110", -9_200_000L),
                    ("3010", -14_050_000L),
                }
            )
            {
                var rate = entity == "VIL" ? 11.20 : 1;
                Lines.Add(
                    new(
                        $"{entity}-2401-OPEN",
                        Lines.Count(l => l.Document == $"{entity}-2401-OPEN") + 1,
                        new DateOnly(2024, 1, 1),
                        new Place(entity, account, "ADM", "", ""),
                        amount * 100,
                        (long)(amount * 100 * rate),
                        entity == "VIL" ? "SEK" : "EUR",
                        "Opening balance"
                    )
                );
            }
        }

        private void AddStatistics(Company.Route route, int year, int month)
        {
            var sailings = Causes.Sailings(route, year, month);
            if (sailings == 0)
                return;
            Statistics[(year, month, route.Entity, "S10", route.Code)] = sailings;
            Statistics[(year, month, route.Entity, "S20", route.Code)] = Math.Round(sailings * Plan.Passengers(route, month));
            Statistics[(year, month, route.Entity, "S30", route.Code)] = Math.Round(sailings * (route.Vehicles + route.Lorries));
            Statistics[(year, month, route.Entity, "S40", route.Code)] = Math.Round(sailings * route.Litres);
            Statistics[(year, month, route.Entity, "S50", route.Code)] = Math.Round(route.Sailings / 6);
        }

        private static double Noise(string account) =>
            account switch
            {
                "5010" or "5110" or "5130" or "6010" or "6020" => 0.008,
                "6410" or "6420" or "6110" or "5230" => 0,
                _ => 0.03,
            };

        private static int Pieces(string account) =>
            account switch
            {
                "4010" or "4020" => 18,
                "4110" or "4120" or "4210" or "4220" => 13,
                "5010" => 14,
                "5110" or "6010" => 5,
                "5210" or "5310" or "5410" or "5420" => 10,
                "6410" or "6420" or "6110" or "5230" or "7110" or "7010" or "6040" => 1,
                "4310" or "4330" => 20,
                _ => 4,
            };

        private static string Counter(string account) =>
            account[0] == '4'
                ? "1110"
                : account switch
                {
                    "5110" or "5120" or "5130" or "6010" or "6020" => "2210",
                    "6410" or "6420" => "1210",
                    "7010" or "7110" or "7120" => "1010",
                    _ => "2010",
                };

        private static string Describe(Place place, int piece, int pieces)
        {
            var on =
                place.Route.Length > 0
                    ? Company.Routes.First(r => r.Code == place.Route).Name
                    : Company.Entities.First(e => e.Code == place.Entity).Name;
            return pieces == 1 ? on : $"{on}, part {piece + 1} of {pieces}";
        }
    }

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
                    var amount =
                        Math.Round((decimal)(80 + (Math.Pow(random.NextDouble(), 3) * 42_000)), 2) * (i % 97 == 0 ? -1 : 1);
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
            File.WriteAllText(
                Path.Combine(folder, name),
                string.Join('\n', rows.Prepend(heading)) + "\n",
                new UTF8Encoding(false)
            );

        private static string Money(long cents) => (cents / 100m).ToString("0.00", Plain);

        private static string Row(params string[] fields) =>
            string.Join(
                ',',
                fields.Select(f =>
                    f.AsSpan().IndexOfAny(",\"\n") >= 0 ? $"\"{f.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : f
                )
            );
    }
}
