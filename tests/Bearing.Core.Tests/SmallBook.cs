using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Store;

namespace Bearing.Core.Tests;

/// <summary>
/// A book small enough to check by hand: two regions with two yards each, a tree of accounts, a route dimension that the
/// budget keeps and a vessel dimension that it does not.
/// </summary>
internal sealed class SmallBook
{
    public const int AccountDim = 1,
        EntityDim = 2,
        RouteDim = 3,
        VesselDim = 4;
    public const int ActualVersion = 1,
        BudgetVersion = 2,
        ForecastVersion = 3;

    public static readonly ImmutableArray<int> Dimensions = [AccountDim, EntityDim, RouteDim, VesselDim];

    private readonly List<Line> _lines = [];
    private readonly int _startMonth;
    private int _row;

    public SmallBook(int startMonth = 1) => _startMonth = startMonth;

    public static ImmutableArray<Member> Members { get; } = Build();

    public IReadOnlyList<Line> Lines => _lines;

    public static int Id(int dimension, string code) => Members.Single(m => m.DimensionId == dimension && m.Code == code).Id;

    /// <summary>Adds a line in profit sign.</summary>
    public SmallBook Add(
        int version,
        Period period,
        string account,
        string entity,
        decimal amount,
        string route = "",
        string vessel = ""
    )
    {
        int Of(int dimension, string code) => code.Length > 0 ? Id(dimension, code) : Member.Unassigned;
        var vesselId = version == ActualVersion ? Of(VesselDim, vessel) : Member.NotKept;
        _lines.Add(
            new Line(
                version,
                1,
                ++_row,
                $"D{_row}",
                null,
                period.Ordinal,
                [Of(AccountDim, account), Of(EntityDim, entity), Of(RouteDim, route), vesselId],
                amount,
                null,
                null,
                $"line {_row}"
            )
        );
        return this;
    }

    public Book Book(Materiality? materiality = null)
    {
        Scenario Scenario(int version, string code, string name, ScenarioKind kind, params int[] kept)
        {
            var lines = _lines.Where(l => l.Version == version).ToList();
            var coverage =
                lines.Count == 0
                    ? null
                    : new Coverage(
                        new PeriodSpan(
                            Period.FromOrdinal(lines.Min(l => l.Period)),
                            Period.FromOrdinal(lines.Max(l => l.Period))
                        ),
                        [.. lines.Select(l => l.Members[1]).Distinct().Order()],
                        [.. kept]
                    );
            return new Scenario(code, name, kind, [new ScenarioVersion(version, "v1", coverage, null)]);
        }

        var all = new[]
        {
            Scenario(ActualVersion, "actual", "Actual", ScenarioKind.Actual, AccountDim, EntityDim, RouteDim, VesselDim),
            Scenario(BudgetVersion, "budget-26", "Budget 26", ScenarioKind.Budget, AccountDim, EntityDim, RouteDim),
            Scenario(ForecastVersion, "forecast-3-9", "Forecast 3+9", ScenarioKind.Forecast, AccountDim, EntityDim, RouteDim),
        };
        return new Book(
            new BookDefinition
            {
                Id = "small",
                Name = "Small Yards",
                Currency = "EUR",
                FiscalYearStartMonth = _startMonth,
                ResultLine = "result",
                Dimensions =
                [
                    new(AccountDim, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(EntityDim, "entity", "Entity", DimensionRole.Entity, ["Region", "Yard"], ["company"]),
                    new(RouteDim, "route", "Route", DimensionRole.Other, ["Route"], []),
                    new(VesselDim, "vessel", "Vessel", DimensionRole.Other, ["Vessel"], ["ship"]),
                ],
                Scenarios = [.. all.Where(s => s.Current.Coverage is not null)],
                Statement =
                [
                    new("margin", "Margin", ["INC", "DIR"], ["gross profit"]),
                    new("result", "Result", ["margin", "OVH"], ["profit"]),
                ],
                Measures =
                [
                    new("margin-percent", "Margin percent", "margin", "INC", true, 1, "%", GoodDirection.Up, []),
                    new("fuel-each", "Fuel per trip", "FUEL", "TRIPS", false, 2, "EUR a trip", GoodDirection.Down, []),
                ],
                MonthMateriality = materiality ?? new Materiality(0m, 0m),
                YearMateriality = materiality ?? new Materiality(0m, 0m),
            },
            1,
            Members
        )
        {
            Tables = [Bills],
        };
    }

    /// <summary>Bills of suppliers, one row each; what they are for is one of a few words.</summary>
    public static Table Bills { get; } =
        new(
            "payables",
            "Supplier bills",
            [
                new Field("bill", "Bill", FieldType.Key),
                new Field("yard", "Yard", FieldType.Member, "entity"),
                new Field("supplier", "Supplier", FieldType.Text),
                new Field("service", "Service", FieldType.Text) { Values = ["Berthing", "Crane"] },
                new Field("bill-date", "Bill date", FieldType.Date),
                new Field("due-date", "Due date", FieldType.Date),
                new Field("gross-value", "Gross value", FieldType.Amount),
                new Field("net-value", "Net value", FieldType.Amount),
                new Field("open", "Open", FieldType.Amount),
            ]
        );

    /// <summary>Facts in memory complete at once, so properties can ask without waiting.</summary>
    public static T Now<T>(ValueTask<T> task) =>
        task.IsCompleted ? task.Result : throw new InvalidOperationException("Facts in memory do not wait.");

    public MemoryFacts Facts() => MemoryFacts.FromLines(new BookView(1), Dimensions, _lines, "EUR");

    private static ImmutableArray<Member> Build()
    {
        var members = ImmutableArray.CreateBuilder<Member>();
        var order = 0;
        void Add(
            int dimension,
            string code,
            string name,
            string? parent = null,
            AccountTraits? traits = null,
            params string[] others
        ) =>
            members.Add(
                new Member(
                    Member.FirstOwnId + order,
                    dimension,
                    code,
                    name,
                    parent is null ? null : members.Single(m => m.DimensionId == dimension && m.Code == parent).Id,
                    order++,
                    [.. others],
                    traits
                )
            );

        void Account(string code, string name, string? parent, AccountType type, params string[] others) =>
            Add(AccountDim, code, name, parent, AccountTraits.Default(type), others);
        Account("INC", "Income", null, AccountType.Income, "revenue", "sales");
        Account("FARES", "Fares", "INC", AccountType.Income);
        Account("FREIGHT", "Freight", "INC", AccountType.Income);
        Account("DIR", "Direct costs", null, AccountType.Cost);
        Account("FUEL", "Fuel", "DIR", AccountType.Cost, "bunkers");
        Account("CREW", "Crew wages", "DIR", AccountType.Cost);
        Account("OVH", "Overheads", null, AccountType.Cost);
        Account("RENT", "Rent", "OVH", AccountType.Cost);
        Account("CASH", "Cash", null, AccountType.Asset);
        Add(
            AccountDim,
            "TRIPS",
            "Trips",
            null,
            new AccountTraits(AccountType.Statistic, OverTime.Sum, GoodDirection.Up, "trips")
        );
        Add(
            AccountDim,
            "HEADS",
            "Heads",
            null,
            new AccountTraits(AccountType.Statistic, OverTime.Stock, GoodDirection.None, "heads"),
            "headcount"
        );
        Add(EntityDim, "N", "North");
        Add(EntityDim, "N1", "Aldermouth", "N");
        Add(EntityDim, "N2", "Birkhaven", "N");
        Add(EntityDim, "S", "South");
        Add(EntityDim, "S1", "Corrie Bay", "S");
        Add(EntityDim, "S2", "Dunlin Pier", "S");
        Add(RouteDim, "R1", "Long Reach");
        Add(RouteDim, "R2", "Short Reach");
        Add(VesselDim, "V1", "MV Petrel");
        Add(VesselDim, "V2", "MV Tern");
        return members.ToImmutable();
    }

    /// <summary>Fifteen months of every yard and account, with a budget and a forecast of the last three.</summary>
    public static SmallBook Filled()
    {
        var small = new SmallBook();
        foreach (var month in Enumerable.Range(0, 15))
        foreach (var entity in new[] { "N1", "N2", "S1", "S2" })
        foreach (var account in new[] { "FARES", "FREIGHT", "FUEL", "CREW", "RENT" })
        {
            small.Add(1, new Period(2025, 1).AddMonths(month), account, entity, 10m, "R1", "V1");
            if (month >= 12)
                small
                    .Add(2, new Period(2025, 1).AddMonths(month), account, entity, 9m, "R1")
                    .Add(3, new Period(2025, 1).AddMonths(month), account, entity, 8m, "R1");
        }
        return small;
    }
}
