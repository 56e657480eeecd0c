namespace Bearing.Demo;

/// <summary>One planted cause: what it is, where it shows and by how much profit it moved, month by month.</summary>
internal sealed class Cause(string id, string title, string where)
{
    public string Id { get; } = id;
    public string Title { get; } = title;
    public string Where { get; } = where;

    /// <summary>Effect on profit in EUR by month, worked out from the amounts as they were posted.</summary>
    public SortedDictionary<string, double> Effects { get; } = [];

    public void Add(int year, int month, double effect) =>
        Effects[$"{year}-{month:D2}"] = Effects.GetValueOrDefault($"{year}-{month:D2}") + effect;
}

/// <summary>What happened in 2026 that the budget did not know.</summary>
internal sealed class Causes
{
    private readonly Dictionary<string, Cause> _all = [];

    public IEnumerable<Cause> All => _all.Values;

    /// <summary>Single documents that a cause brings, with their text.</summary>
    public List<(int Year, int Month, Place Place, double Amount, string Text)> Documents { get; } = [];

    /// <summary>Documents of several lines on a day of their own.</summary>
    public List<(int Year, int Month, int Day, (Place Place, double Amount)[] Lines, string Text)> Invoices { get; } = [];

    /// <summary>What of a month's amount is posted by one of <see cref="Invoices"/> and not in pieces.</summary>
    public Dictionary<(int Year, int Month, Place Place), double> Invoiced { get; } = [];

    public double FuelPrice(int year, int month) => Plan.FuelPrice * (year == 2026 && month is >= 7 and <= 9 ? 1.14 : 1.0);

    public double Sailings(Company.Route route, int year, int month)
    {
        if (route.Code == "R07")
            return year == 2026 && month >= 6 ? route.Sailings : 0;
        var planned = Plan.Sailings(route, year, month);
        return year == 2026 && month == 3
            ? route.Code switch
            {
                "R03" => planned - 52,
                "R04" => planned - 16,
                _ => planned,
            }
            : planned;
    }

    /// <summary>Euro for one krona, as budgeted and as it came.</summary>
    public static double Krona(int year, int month) => year == 2026 && month >= 4 ? 1 / 11.72 : 1 / 11.20;

    /// <summary>Changes the month's amounts by what happened and notes the effect of each cause.</summary>
    public void Apply(int year, int month, Dictionary<Place, double> amounts)
    {
        if (year == 2026)
            NoteVolumes(month, amounts);
        if (year != 2026)
            return;
        if (month >= 4)
            Scale(
                "lost-haulier",
                "A large haulier left Calder–Pellow in April",
                "Lorry freight, Calder Ferries, route Calder–Pellow, April to September 2026",
                month,
                amounts,
                p => p is { Account: "4110", Route: "R05" },
                0.78
            );
        Scale(
            "solar-roof",
            "The solar roof at Pellow Harbour cut terminal energy",
            "Terminal energy, Pellow Harbour, all of 2026",
            month,
            amounts,
            p => p is { Account: "6120", Entity: "PEH" },
            0.62
        );
        if (month is >= 6 and <= 8)
            Scale(
                "new-menu",
                "The new restaurant menu on Skelmar's vessels sold well",
                "Restaurant sales, Skelmar Ferries, June to August 2026",
                month,
                amounts,
                p => p is { Account: "4210", Entity: "SKF" },
                1.21
            );
        if (month == 8)
            Scale(
                "sickness-overtime",
                "Crew sickness at Venn Island Line was covered by overtime",
                "Crew overtime, Venn Island Line, August 2026",
                month,
                amounts,
                p => p is { Account: "5120", Entity: "VIL" },
                6.4
            );
        Single(
            "dry-dock-early",
            "MV Halcyra went into dry-dock in May; the budget had June",
            "Dry-dock, Calder Ferries, May against June 2026",
            month,
            5,
            new("CAF", "5220", "ENG", "R05", "V05"),
            426_300,
            -1,
            "Dry-dock MV Halcyra, yard invoice"
        );
        Single(
            "insurance-recovery",
            "The insurer paid for the 2025 quay collision (once only)",
            "Insurance recoveries, Skelmar Ferries, September 2026",
            month,
            9,
            new("SKF", "4910", "ADM", "R01", "V01"),
            265_000,
            1,
            "Insurance recovery quay collision 2025"
        );
        Single(
            "charter-hire",
            "MV Brindra's engine failed; a vessel was chartered",
            "Charter hire, Ormsay Line, July 2026",
            month,
            7,
            new("ORL", "5240", "NAV", "R03", "V03"),
            192_400,
            -1,
            "Charter hire replacing MV Brindra"
        );
        Single("charter-hire", "", "", month, 7, new("ORL", "5210", "ENG", "R03", "V03"), 84_900, -1, "Engine repair MV Brindra");
        Single(
            "campaign-late",
            "The spring campaign planned for February ran in April",
            "Advertising, Head Office, February against April 2026",
            month,
            4,
            new("HOF", "6310", "COM", "", ""),
            151_200,
            -1,
            "Spring campaign media cost"
        );
        Single(
            "system-selection",
            "Advisers for the ticket system were not in the budget",
            "Consulting, Head Office, September 2026",
            month,
            9,
            new("HOF", "6240", "ADM", "", ""),
            96_500,
            -1,
            "Adviser fee ticket system selection"
        );
        if (month == 6)
            Note("dry-dock-early", "", "", month, 420_000);
        if (month == 2)
            Note(
                "campaign-late",
                "The spring campaign planned for February ran in April",
                "Advertising, Head Office, February against April 2026",
                month,
                150_000
            );
        if (month == 9)
            Misposted(amounts);
        if (month == 9)
            BookTwice();
    }

    /// <summary>The invoice is part of what was planned for the month; its copy, five days later, is not.</summary>
    private void BookTwice()
    {
        Place[] places = [new("SKF", "5310", "NAV", "R01", "V01"), new("SKF", "5310", "NAV", "R02", "V02")];
        const double amount = 24_100;
        foreach (var day in (int[])[17, 22])
            Invoices.Add(
                (2026, 9, day, [.. places.Select(p => (p, amount))], "Brackness Port Office, port dues, invoice 88-2041")
            );
        foreach (var place in places)
            Invoiced[(2026, 9, place)] = amount;
        Note(
            "double-invoice",
            "One port dues invoice was booked twice",
            "Port dues paid, Skelmar Ferries, September 2026",
            9,
            -places.Length * amount
        );
    }

    private void NoteVolumes(int month, Dictionary<Place, double> amounts)
    {
        if (month == 3)
            NoteStorm(month);
        if (month >= 6)
            Note(
                "new-route",
                "The Pellow–Skarn Express began in June and is not in the budget",
                "Route Pellow–Skarn Express, Calder Ferries, June to September 2026",
                month,
                amounts.Where(a => a.Key.Route == "R07").Sum(a => Sign(a.Key.Account) * a.Value)
            );
        if (month is >= 7 and <= 9)
            Note(
                "fuel-price",
                "Marine fuel cost 14 % more a litre than budgeted",
                "Marine fuel, all ferry entities, July to September 2026",
                month,
                -amounts.Where(a => a.Key.Account == "5010" && a.Key.Route != "R07").Sum(a => a.Value * (1 - (1 / 1.14)))
            );
        if (month >= 4)
            Note(
                "weak-krona",
                "The krona bought 4.4 % less euro than budgeted",
                "Everything at Venn Island Line, April to September 2026",
                month,
                amounts.Where(a => a.Key.Entity == "VIL").Sum(a => Sign(a.Key.Account) * a.Value) * ((11.20 / 11.72) - 1)
            );
    }

    /// <summary>A storm cancels sailings: what the cancelled ones would have brought less what they would have cost.</summary>
    private void NoteStorm(int month)
    {
        var price = FuelPrice(2026, month);
        var with = Plan.Month(2026, month, r => r.Code == "R07" ? 0 : Plan.Sailings(r, 2026, month), price);
        var without = Plan.Month(2026, month, r => Sailings(r, 2026, month), price);
        Note(
            "storm",
            "Storm Yrsa cancelled 68 sailings of Ormsay Line",
            "Ormsay Line, routes Ormsay–Hallin and Ormsay Night Link, March 2026",
            month,
            with.Where(a => a.Key.Entity == "ORL").Sum(a => Sign(a.Key.Account) * (without[a.Key] - a.Value))
        );
    }

    private void Misposted(Dictionary<Place, double> amounts)
    {
        const double rent = 74_400;
        amounts[new Place("BRH", "6110", "TER", "", "")] -= rent;
        Documents.Add((2026, 9, new Place("BRH", "6210", "ADM", "", ""), rent, "Terminal rent quay 4, September"));
        Note(
            "misposted-rent",
            $"Terminal rent of Brackness Harbour ({rent:N0}) was booked under IT licences; no net effect",
            "IT licences against Terminal rent, Brackness Harbour, September 2026",
            9,
            0
        );
    }

    private void Scale(
        string id,
        string title,
        string where,
        int month,
        Dictionary<Place, double> amounts,
        Func<Place, bool> which,
        double factor
    )
    {
        foreach (var place in amounts.Keys.Where(which).ToList())
        {
            Note(id, title, where, month, Sign(place.Account) * amounts[place] * (factor - 1));
            amounts[place] *= factor;
        }
    }

    private void Single(
        string id,
        string title,
        string where,
        int month,
        int inMonth,
        Place place,
        double amount,
        int sign,
        string text
    )
    {
        if (month != inMonth || amount == 0)
            return;
        Documents.Add((2026, month, place, amount, text));
        Note(id, title, where, month, sign * amount);
    }

    private void Note(string id, string title, string where, int month, double effect)
    {
        if (!_all.TryGetValue(id, out var cause))
            _all[id] = cause = new Cause(id, title, where);
        cause.Add(2026, month, effect);
    }

    public static int Sign(string account) => account[0] == '4' || account == "7010" ? 1 : -1;
}
