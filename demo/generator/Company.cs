namespace Bearing.Demo;

/// <summary>The made-up ferry and harbour group: who is in it and what it keeps. Plain data.</summary>
internal static class Company
{
    public sealed record Account(
        string Code,
        string Name,
        string Parent,
        string Type,
        string OtherNames = "",
        string Unit = "",
        string OverTime = "",
        string Good = ""
    );

    public sealed record Entity(string Code, string Name, string Parent, string OtherNames, string Currency);

    public sealed record Route(
        string Code,
        string Name,
        string Entity,
        string Vessel,
        double Sailings,
        double Passengers,
        double Vehicles,
        double Lorries,
        double Litres,
        double Season
    );

    public static readonly Entity[] Entities =
    [
        new("TSG", "Tarrow Sound Group", "", "the group;group total", "EUR"),
        new("NOR", "North Sound", "TSG", "north region;northern region;north", "EUR"),
        new("SKF", "Skelmar Ferries", "NOR", "", "EUR"),
        new("ORL", "Ormsay Line", "NOR", "", "EUR"),
        new("BRH", "Brackness Harbour", "NOR", "", "EUR"),
        new("SOU", "South Sound", "TSG", "south region;southern region;south", "EUR"),
        new("CAF", "Calder Ferries", "SOU", "", "EUR"),
        new("PEH", "Pellow Harbour", "SOU", "", "EUR"),
        new("VIL", "Venn Island Line", "SOU", "", "SEK"),
        new("HOF", "Head Office", "TSG", "HQ;headquarters;central", "EUR"),
    ];

    public static readonly string[] Ferries = ["SKF", "ORL", "CAF", "VIL"];
    public static readonly string[] Harbours = ["BRH", "PEH"];

    /// <summary>Sailings a month in an average month; passengers, vehicles, lorries and litres for each sailing.</summary>
    public static readonly Route[] Routes =
    [
        new("R01", "Skelmar–Ormsay", "SKF", "V01", 210, 148, 41, 9, 1450, 0.35),
        new("R02", "Skelmar–Brackness", "SKF", "V02", 180, 122, 36, 11, 1320, 0.25),
        new("R03", "Ormsay–Hallin", "ORL", "V03", 165, 131, 33, 8, 1610, 0.30),
        new("R04", "Ormsay Night Link", "ORL", "V04", 60, 205, 52, 21, 4300, 0.20),
        new("R05", "Calder–Pellow", "CAF", "V05", 240, 139, 44, 18, 1380, 0.30),
        new("R06", "Calder–Marrick", "CAF", "V06", 150, 118, 31, 7, 1240, 0.40),
        new("R07", "Pellow–Skarn Express", "CAF", "V09", 90, 96, 18, 0, 980, 0.20),
        new("R08", "Venn–Pellow", "VIL", "V07", 170, 190, 45, 14, 1290, 0.45),
        new("R09", "Venn Islands Loop", "VIL", "V08", 130, 120, 24, 8, 720, 0.50),
    ];

    public static readonly (string Code, string Name)[] Vessels =
    [
        ("V01", "MV Torvane"),
        ("V02", "MV Kelvana"),
        ("V03", "MV Brindra"),
        ("V04", "MV Osprene"),
        ("V05", "MV Halcyra"),
        ("V06", "MV Lunda Star"),
        ("V07", "MV Vennholm"),
        ("V08", "MV Pellorin"),
        ("V09", "MV Skarnet"),
    ];

    public static readonly (string Code, string Name)[] Departments =
    [
        ("NAV", "Navigation"),
        ("HTL", "Onboard Services"),
        ("ENG", "Engineering"),
        ("TER", "Terminals"),
        ("COM", "Commercial"),
        ("ADM", "Administration"),
    ];

    public static readonly Account[] Accounts =
    [
        new("REV", "Revenue", "", "income", "sales;turnover;total revenue;revenues"),
        new("PAX", "Passenger revenue", "REV", "income", "passenger income;passenger sales"),
        new("4010", "Foot passenger fares", "PAX", "income"),
        new("4020", "Car fares", "PAX", "income"),
        new("4030", "Coach fares", "PAX", "income"),
        new("4040", "Cabin supplements", "PAX", "income"),
        new("FRT", "Freight revenue", "REV", "income", "freight;cargo revenue"),
        new("4110", "Lorry freight", "FRT", "income", "truck freight"),
        new("4120", "Trailer freight", "FRT", "income"),
        new("4130", "Parcel freight", "FRT", "income"),
        new("ONB", "Onboard revenue", "REV", "income", "onboard sales"),
        new("4210", "Restaurant sales", "ONB", "income", "restaurant revenue"),
        new("4220", "Shop sales", "ONB", "income"),
        new("4230", "Media and Wi-Fi", "ONB", "income"),
        new("HRB", "Harbour revenue", "REV", "income", "harbor revenue;port revenue"),
        new("4310", "Harbour dues", "HRB", "income"),
        new("4320", "Berth rental", "HRB", "income"),
        new("4330", "Stevedoring fees", "HRB", "income"),
        new("4340", "Parking", "HRB", "income"),
        new("OIN", "Other income", "REV", "income"),
        new("4910", "Insurance recoveries", "OIN", "income", "insurance recovery;claims recovered"),
        new("4920", "Grants", "OIN", "income"),
        new("4930", "Charter income", "OIN", "income"),
        new("DIR", "Direct costs", "", "cost", "direct expenses;cost of sales"),
        new("FUE", "Fuel and energy", "DIR", "cost", "fuel;fuel cost;bunkers"),
        new("5010", "Marine fuel", "FUE", "cost", "bunker fuel"),
        new("5020", "Shore power", "FUE", "cost"),
        new("5030", "Lubricants", "FUE", "cost"),
        new("CRW", "Crew", "DIR", "cost", "crew cost;crewing"),
        new("5110", "Crew wages", "CRW", "cost"),
        new("5120", "Crew overtime", "CRW", "cost", "overtime"),
        new("5130", "Crew social charges", "CRW", "cost"),
        new("5140", "Crew travel", "CRW", "cost"),
        new("VES", "Vessel upkeep", "DIR", "cost", "vessel costs;ship costs"),
        new("5210", "Vessel maintenance", "VES", "cost", "maintenance;repairs"),
        new("5220", "Dry-dock", "VES", "cost", "drydock;dry docking;docking"),
        new("5230", "Vessel insurance", "VES", "cost"),
        new("5240", "Charter hire", "VES", "cost", "chartered vessels"),
        new("PRT", "Port costs", "DIR", "cost"),
        new("5310", "Port dues paid", "PRT", "cost", "port dues"),
        new("5320", "Pilotage and towage", "PRT", "cost"),
        new("SUP", "Onboard supplies", "DIR", "cost"),
        new("5410", "Food and drink purchases", "SUP", "cost", "catering purchases"),
        new("5420", "Shop purchases", "SUP", "cost"),
        new("OVH", "Overheads", "", "cost", "overhead;operating expenses;opex"),
        new("STF", "Staff costs", "OVH", "cost", "personnel;payroll;shore staff"),
        new("6010", "Salaries", "STF", "cost"),
        new("6020", "Staff social charges", "STF", "cost"),
        new("6030", "Training", "STF", "cost"),
        new("6040", "Temporary staff", "STF", "cost", "temps;agency staff"),
        new("PRM", "Premises", "OVH", "cost"),
        new("6110", "Terminal rent", "PRM", "cost", "rent"),
        new("6120", "Terminal energy", "PRM", "cost", "electricity"),
        new("6130", "Terminal cleaning", "PRM", "cost"),
        new("ADC", "IT and administration", "OVH", "cost"),
        new("6210", "IT licences", "ADC", "cost", "software;it licenses"),
        new("6220", "Telephone and data", "ADC", "cost"),
        new("6230", "Audit and legal", "ADC", "cost"),
        new("6240", "Consulting", "ADC", "cost", "consultants;advisory"),
        new("MKT", "Marketing", "OVH", "cost"),
        new("6310", "Advertising", "MKT", "cost", "adverts;campaigns"),
        new("6320", "Agents' commission", "MKT", "cost", "commission"),
        new("DEP", "Depreciation", "OVH", "cost"),
        new("6410", "Depreciation of vessels", "DEP", "cost"),
        new("6420", "Depreciation of terminals", "DEP", "cost"),
        new("FIN", "Finance result", "", "cost", "net finance cost"),
        new("7010", "Interest income", "FIN", "income"),
        new("7110", "Interest expense", "FIN", "cost"),
        new("7120", "Bank charges", "FIN", "cost"),
        new("AST", "Assets", "", "asset"),
        new("1010", "Cash", "AST", "asset", "bank;cash at bank"),
        new("1110", "Trade receivables", "AST", "asset", "receivables;debtors"),
        new("1210", "Vessels and terminals", "AST", "asset", "fixed assets"),
        new("LIA", "Liabilities", "", "liability"),
        new("2010", "Trade payables", "LIA", "liability", "payables;creditors"),
        new("2110", "Loans", "LIA", "liability"),
        new("2210", "Payroll liabilities", "LIA", "liability"),
        new("3010", "Equity", "", "equity"),
        new("STA", "Statistics", "", "statistic", "operating statistics"),
        new("S10", "Sailings", "STA", "statistic", "crossings;departures", "sailings", "sum", "up"),
        new("S20", "Passengers", "STA", "statistic", "passenger numbers;pax", "passengers", "sum", "up"),
        new("S30", "Vehicles", "STA", "statistic", "vehicle numbers", "vehicles", "sum", "up"),
        new("S40", "Fuel litres", "STA", "statistic", "litres of fuel;fuel used;litres", "litres", "sum", "none"),
        new("S50", "Crew heads", "STA", "statistic", "heads;headcount;crew numbers", "heads", "stock", "none"),
    ];

    public const string Book = """
        {
          "id": "tarrow",
          "name": "Tarrow Sound Group",
          "currency": "EUR",
          "fiscalYearStartMonth": 1,
          "provenance": "invented",
          "resultLine": "operating-profit",
          "dimensions": [
            { "code": "account", "name": "Account", "role": "account", "levels": ["Statement group", "Account group", "Account"] },
            { "code": "entity", "name": "Entity", "role": "entity", "levels": ["Group", "Region", "Entity"], "otherNames": ["company", "unit"] },
            { "code": "department", "name": "Department", "role": "other", "levels": ["Department"] },
            { "code": "route", "name": "Route", "role": "other", "levels": ["Route"], "otherNames": ["line of service", "crossing route"] },
            { "code": "vessel", "name": "Vessel", "role": "other", "levels": ["Vessel"], "otherNames": ["ship", "ferry"] }
          ],
          "statement": [
            { "code": "contribution", "name": "Contribution", "sums": ["REV", "DIR"], "otherNames": ["gross profit", "contribution after direct costs"] },
            { "code": "operating-profit", "name": "Operating profit", "sums": ["contribution", "OVH"], "otherNames": ["operating result", "EBIT", "profit", "op profit", "operating income"] },
            { "code": "profit-before-tax", "name": "Profit before tax", "sums": ["operating-profit", "FIN"], "otherNames": ["PBT", "net result", "pre-tax profit"] }
          ],
          "measures": [
            { "code": "contribution-margin", "name": "Contribution margin", "numerator": "contribution", "denominator": "REV", "percent": true, "decimals": 1, "unit": "%", "good": "up", "otherNames": ["gross margin", "gross margin %"] },
            { "code": "operating-margin", "name": "Operating margin", "numerator": "operating-profit", "denominator": "REV", "percent": true, "decimals": 1, "unit": "%", "good": "up", "otherNames": ["profit margin", "EBIT margin", "margin"] },
            { "code": "fuel-per-sailing", "name": "Fuel per sailing", "numerator": "5010", "denominator": "S10", "percent": false, "decimals": 2, "unit": "EUR a sailing", "good": "down", "otherNames": ["fuel cost per sailing"] },
            { "code": "fuel-price", "name": "Fuel price per litre", "numerator": "5010", "denominator": "S40", "percent": false, "decimals": 4, "unit": "EUR a litre", "good": "down", "otherNames": ["price of fuel", "fuel price", "price per litre"] },
            { "code": "revenue-per-passenger", "name": "Revenue per passenger", "numerator": "PAX", "denominator": "S20", "percent": false, "decimals": 2, "unit": "EUR a passenger", "good": "up", "otherNames": ["yield per passenger"] },
            { "code": "crew-per-sailing", "name": "Crew cost per sailing", "numerator": "CRW", "denominator": "S10", "percent": false, "decimals": 2, "unit": "EUR a sailing", "good": "down" }
          ],
          "monthMateriality": { "amount": 10000, "percent": 5 },
          "yearMateriality": { "amount": 50000, "percent": 3 }
        }
        """;

    public const string Loads = """
        [
          { "file": "accounts.csv", "kind": "accounts" },
          { "file": "entities.csv", "kind": "entities" },
          { "file": "departments.csv", "kind": "members", "dimension": "department" },
          { "file": "routes.csv", "kind": "members", "dimension": "route" },
          { "file": "vessels.csv", "kind": "members", "dimension": "vessel" },
          { "file": "ledger-2024-h1.csv", "kind": "ledger" },
          { "file": "ledger-2024-h2.csv", "kind": "ledger" },
          { "file": "ledger-2025-h1.csv", "kind": "ledger" },
          { "file": "ledger-2025-h2.csv", "kind": "ledger" },
          { "file": "ledger-2026-h1.csv", "kind": "ledger" },
          { "file": "ledger-2026-h2.csv", "kind": "ledger" },
          { "file": "statistics-actual.csv", "kind": "statistics" },
          { "file": "budget-2026.csv", "kind": "plan", "scenario": "budget-2026", "name": "Budget 2026", "scenarioKind": "budget" },
          { "file": "statistics-budget-2026.csv", "kind": "statistics", "scenario": "budget-2026", "name": "Budget 2026", "scenarioKind": "budget" },
          { "file": "forecast-6-6.csv", "kind": "plan", "scenario": "forecast-6-6", "name": "Forecast 6+6", "scenarioKind": "forecast", "cutOff": "2026-P06" },
          { "file": "rates.csv", "kind": "rates" }
        ]
        """;
}
