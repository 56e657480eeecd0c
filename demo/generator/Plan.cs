namespace Bearing.Demo;

/// <summary>Where an amount stands. Blank means that the dimension does not apply.</summary>
internal readonly record struct Place(string Entity, string Account, string Department, string Route, string Vessel);

/// <summary>Amounts as people read them (costs positive) of one month, before causes.</summary>
internal static class Plan
{
    /// <summary>The yearly growth of volumes and of prices, from 2024 on.</summary>
    private const double VolumeGrowth = 0.015,
        PriceGrowth = 0.02;

    public const double FuelPrice = 0.64;

    private static readonly double[] Season = [-0.9, -0.8, -0.45, 0.0, 0.25, 0.7, 1.1, 1.15, 0.4, -0.1, -0.75, -0.5];

    public static double Sailings(Company.Route route, int year, int month) =>
        Math.Round(route.Sailings * (1 + (route.Season * 0.5 * Season[month - 1])) * Math.Pow(1 + VolumeGrowth, year - 2024));

    public static double Passengers(Company.Route route, int month) =>
        route.Passengers * (1 + (route.Season * 0.6 * Season[month - 1]));

    /// <summary>All amounts of a month for the given sailings of each route.</summary>
    public static Dictionary<Place, double> Month(int year, int month, Func<Company.Route, double> sailings, double fuelPrice)
    {
        var price = Math.Pow(1 + PriceGrowth, year - 2024);
        var amounts = new Dictionary<Place, double>();
        foreach (var route in Company.Routes)
        {
            var count = sailings(route);
            if (count > 0)
                AddRoute(amounts, route, month, count, price, fuelPrice);
        }
        foreach (var harbour in Company.Harbours)
            AddHarbour(amounts, harbour, month, price);
        AddOffice(amounts, price);
        return amounts;
    }

    private static void AddRoute(
        Dictionary<Place, double> to,
        Company.Route route,
        int month,
        double sailings,
        double price,
        double fuelPrice
    )
    {
        var passengers = sailings * Passengers(route, month);
        void Add(string account, string department, double amount) =>
            to[new Place(route.Entity, account, department, route.Code, route.Vessel)] = amount;
        Add("4010", "COM", passengers * 0.72 * 9.8 * price);
        Add("4020", "COM", sailings * route.Vehicles * 31 * price * (1 + (0.2 * route.Season * Season[month - 1])));
        Add("4030", "COM", sailings * route.Passengers * 0.06 * 14 * price);
        if (route.Code == "R04")
            Add("4040", "HTL", passengers * 0.4 * 26 * price);
        if (route.Lorries > 0)
        {
            Add("4110", "COM", sailings * route.Lorries * 96 * price);
            Add("4120", "COM", sailings * route.Lorries * 0.4 * 74 * price);
        }
        Add("4130", "COM", sailings * 38 * price);
        Add("4210", "HTL", passengers * 2.9 * price);
        Add("4220", "HTL", passengers * 1.3 * price);
        Add("4230", "HTL", passengers * 0.12 * price);
        Add("5010", "NAV", sailings * route.Litres * fuelPrice);
        Add("5020", "ENG", sailings * 21 * price);
        Add("5030", "ENG", sailings * route.Litres * 0.018);
        var crew = 46_000 + (route.Sailings * 610);
        Add("5110", "NAV", crew * price);
        Add("5120", "NAV", crew * 0.06 * (1 + (0.5 * Season[month - 1])) * price);
        Add("5130", "NAV", crew * 0.21 * price);
        Add("5140", "NAV", crew * 0.02 * price);
        Add("5210", "ENG", 24_000 + (sailings * 95 * price));
        Add("5230", "ADM", 11_500 * price);
        Add("5310", "NAV", sailings * 148 * price);
        Add("5320", "NAV", sailings * 27 * price);
        Add("5410", "HTL", passengers * 1.05 * price);
        Add("5420", "HTL", passengers * 0.71 * price);
        Add("6320", "COM", passengers * 0.31 * price);
        Add("6410", "ENG", 38_000);
        if (route.Code is "R01" or "R03" or "R05" or "R08")
            AddShore(to, route.Entity, price, 1.0);
    }

    private static void AddHarbour(Dictionary<Place, double> to, string entity, int month, double price)
    {
        var size = entity == "BRH" ? 1.0 : 0.8;
        var season = 1 + (0.2 * Season[month - 1]);
        void Add(string account, string department, double amount) =>
            to[new Place(entity, account, department, "", "")] = amount * size * price;
        Add("4310", "TER", 268_000 * season);
        Add("4320", "TER", 91_000);
        Add("4330", "TER", 142_000 * season);
        Add("4340", "TER", 54_000 * season);
        AddShore(to, entity, price, 1.6 * size);
    }

    private static void AddShore(Dictionary<Place, double> to, string entity, double price, double size)
    {
        void Add(string account, string department, double amount) =>
            to[new Place(entity, account, department, "", "")] = amount * size * price;
        Add("6010", "TER", 78_000);
        Add("6020", "TER", 16_400);
        Add("6030", "ADM", 2_600);
        Add("6040", "TER", 6_100);
        Add("6110", "TER", 46_500);
        Add("6120", "TER", 18_900);
        Add("6130", "TER", 7_400);
        Add("6210", "ADM", 6_800);
        Add("6220", "ADM", 3_100);
        Add("6310", "COM", 12_500);
        Add("6420", "TER", 15_600);
        Add("7120", "ADM", 1_400);
    }

    private static void AddOffice(Dictionary<Place, double> to, double price)
    {
        void Add(string account, string department, double amount) =>
            to[new Place("HOF", account, department, "", "")] = amount * price;
        Add("6010", "ADM", 168_000);
        Add("6020", "ADM", 35_200);
        Add("6030", "ADM", 7_500);
        Add("6110", "ADM", 21_000);
        Add("6210", "ADM", 42_000);
        Add("6220", "ADM", 9_400);
        Add("6230", "ADM", 26_000);
        Add("6240", "ADM", 18_500);
        Add("6310", "COM", 31_000);
        Add("4920", "ADM", 22_000);
        Add("7010", "ADM", 4_200);
        Add("7110", "ADM", 88_000);
    }
}
