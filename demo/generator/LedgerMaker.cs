namespace Bearing.Demo;

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
    public SortedDictionary<(int Year, int Month, string Entity, string Statistic, string Route), double> Statistics { get; } =
    [];

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
