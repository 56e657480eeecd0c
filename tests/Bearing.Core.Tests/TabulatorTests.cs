using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>Random books: what the grid says against sums written independently of it.</summary>
public sealed class TabulatorTests
{
    private static readonly Period First = new(2026, 1);
    private static readonly string[] Accounts = ["FARES", "FREIGHT", "FUEL", "CREW", "RENT"];
    private static readonly string[] Entities = ["N1", "N2", "S1", "S2"];
    private static readonly string[] Routes = ["", "R1", "R2"];

    private readonly record struct Draw(int Version, int Month, int Account, int Entity, int Route, int Cents);

    private static readonly Gen<Draw[]> Draws = Gen.Select(
        Gen.Int[1, 2],
        Gen.Int[0, 5],
        Gen.Int[0, 4],
        Gen.Int[0, 3],
        Gen.Int[0, 2],
        Gen.Int[-900_000, 900_000],
        (v, m, a, e, r, c) => new Draw(v, m, a, e, r, c)
    ).Array[1, 120];

    private static SmallBook Make(IEnumerable<Draw> draws, int startMonth = 1)
    {
        var book = new SmallBook(startMonth);
        // Both sides cover every month and entity, so that nothing is left out of the comparison.
        foreach (var version in new[] { 1, 2 })
        foreach (var entity in Entities)
            for (var month = 0; month < 6; month++)
                book.Add(version, First.AddMonths(month), "RENT", entity, 0m);
        foreach (var d in draws)
            book.Add(
                d.Version,
                First.AddMonths(d.Month),
                Accounts[d.Account],
                Entities[d.Entity],
                d.Cents / 100m,
                Routes[d.Route]
            );
        return book;
    }

    private static Question Ask(params Breakdown[] by) =>
        Question
            .About(new FigureRef(FigureKind.Measure, "result"), new PeriodSpan(First, First.AddMonths(5)))
            .Against(new Side(SideKind.Version, "budget-26"))
            .By(by);

    private static Grid Tabulate(SmallBook small, Question question) =>
        SmallBook.Now(new Tabulator(small.Book(), small.Facts()).Tabulate(question, CancellationToken.None)).Grid;

    private static readonly Breakdown[] Offered =
    [
        Breakdown.By("account", "Account"),
        Breakdown.By("account"),
        Breakdown.By("entity", "Yard"),
        Breakdown.By("entity", "Region"),
        Breakdown.By("route", "Route"),
        Breakdown.ByTime(TimeGrain.Month),
        Breakdown.ByTime(TimeGrain.Quarter),
    ];

    /// <summary>One to three splits, no dimension twice.</summary>
    private static readonly Gen<Breakdown[]> Splits = Gen.Int[0, Offered.Length - 1]
        .Select(i => Offered[i])
        .Array[1, 3]
        .Where(s => s.Select(b => b.Dimension).Distinct().Count() == s.Length);

    [Fact]
    public void Parts_add_up_to_their_parents_at_every_level_in_every_split() =>
        Gen.Select(Draws, Splits)
            .Sample(
                (draws, by) =>
                {
                    var grid = Tabulate(Make(draws), Ask(by));
                    foreach (var (parent, children) in Families(grid))
                    foreach (var kind in new[] { ColumnKind.Subject, ColumnKind.Base, ColumnKind.Variance })
                        Assert.Equal(InProfitSign(grid, parent, kind), children.Sum(c => InProfitSign(grid, c, kind)));
                },
                iter: 60
            );

    [Fact]
    public void Totals_equal_sums_written_by_hand() =>
        Draws.Sample(
            draws =>
            {
                var grid = Tabulate(Make(draws), Ask(Breakdown.By("entity", "Yard")));
                Assert.Equal(
                    draws.Where(d => d.Version == 1).Sum(d => d.Cents / 100m),
                    grid.Value(grid.Total, ColumnKind.Subject).Number
                );
                foreach (var row in grid.Rows.Where(r => r.Members.Length > 0))
                {
                    var below =
                        row.Members[^1].Code.Length == 1
                            ? Entities.Where(e => e.StartsWith(row.Members[^1].Code, StringComparison.Ordinal))
                            : [row.Members[^1].Code];
                    var expected = draws
                        .Where(d => d.Version == 2 && below.Contains(Entities[d.Entity]))
                        .Sum(d => d.Cents / 100m);
                    Assert.Equal(expected, grid.Value(row, ColumnKind.Base).Number);
                }
            },
            iter: 60
        );

    [Fact]
    public void Where_one_thing_changes_only_that_shows() =>
        Gen.Select(Draws, Gen.Int[0, 3], Gen.Int[0, 4], Gen.Int[1, 900_000])
            .Sample(
                (draws, entity, account, cents) =>
                {
                    var same = draws.Where(d => d.Version == 1).ToList();
                    var book = Make(
                        same.Concat(same.Select(d => d with { Version = 2 })).Append(new Draw(1, 2, account, entity, 1, cents))
                    );
                    var grid = Tabulate(
                        book,
                        Ask(Breakdown.By("entity", "Yard"), Breakdown.By("account", "Account"), Breakdown.ByTime(TimeGrain.Month))
                    );
                    foreach (var row in grid.Rows.Where(r => r.Kind is RowKind.Member or RowKind.Subtotal))
                    {
                        var codes = row.Members.Select(m => m.Code).ToList();
                        var touched = codes.All(c =>
                            c == Entities[entity]
                            || c == Entities[entity][..1]
                            || c == Accounts[account]
                            || SmallBook.Members.First(m => m.Code == Accounts[account]).ParentId
                                == SmallBook.Members.FirstOrDefault(m => m.Code == c)?.Id
                            || c == First.AddMonths(2).ToString()
                        );
                        Assert.Equal(touched ? cents / 100m : 0m, grid.Value(row, ColumnKind.Variance).Number);
                    }
                },
                iter: 40
            );

    [Fact]
    public void Order_of_lines_is_irrelevant() =>
        Gen.Select(Draws, Splits)
            .Sample(
                (draws, by) =>
                {
                    var (one, other) = (Tabulate(Make(draws), Ask(by)), Tabulate(Make(draws.Reverse()), Ask(by)));
                    Assert.Equal(
                        one.Rows.Select(r => (r.Id, string.Join('|', r.Values))),
                        other.Rows.Select(r => (r.Id, string.Join('|', r.Values)))
                    );
                },
                iter: 40
            );

    [Fact]
    public void Bridges_run_from_base_to_subject_exactly() =>
        Gen.Select(Draws, Splits)
            .Sample(
                (draws, by) =>
                {
                    var small = Make(draws);
                    var table = SmallBook.Now(
                        new Tabulator(small.Book(), small.Facts()).Tabulate(Ask(by), CancellationToken.None)
                    );
                    var bridge = Bridge.From(small.Book(), table)!;
                    Assert.Equal(bridge.Steps[^1].Amount, bridge.Steps.SkipLast(1).Sum(s => s.Amount));
                    Assert.InRange(bridge.Steps.Length, 2, Bridge.MostSteps + 3);
                },
                iter: 60
            );

    [Fact]
    public void Drivers_offsets_and_the_rest_add_up_to_the_variance() =>
        Draws.Sample(
            draws =>
            {
                var small = Make(draws);
                var report = SmallBook.Now(new DriverSearch(small.Book(), small.Facts()).Find(Ask(), CancellationToken.None))!;
                Assert.Equal(report.Total, report.Drivers.Concat(report.Offsets).Sum(d => d.Variance) + report.Rest);
                Assert.All(report.Drivers, d => Assert.Equal(Math.Sign(report.Total), Math.Sign(d.Variance)));
            },
            iter: 60
        );

    [Theory]
    [InlineData(1)]
    [InlineData(4)]
    [InlineData(7)]
    public void Months_make_quarters_whatever_month_the_year_begins_in(int start) =>
        Draws.Sample(
            draws =>
            {
                var small = Make(draws, start);
                var (months, quarters) = (
                    Tabulate(small, Ask(Breakdown.ByTime(TimeGrain.Month))),
                    Tabulate(small, Ask(Breakdown.ByTime(TimeGrain.Quarter)))
                );
                var byQuarter = months
                    .Parts()
                    .GroupBy(r => (r.Slice.Span.From.Number - 1) / 3)
                    .Select(g => g.Sum(r => months.Value(r, ColumnKind.Subject).Number));
                Assert.Equal(quarters.Parts().Select(r => quarters.Value(r, ColumnKind.Subject).Number), byQuarter);
            },
            iter: 30
        );

    /// <summary>Each row with the rows right below it, in the same nesting.</summary>
    private static IEnumerable<(Row Parent, List<Row> Children)> Families(Grid grid)
    {
        var rows = grid.Rows.Where(r => r.Kind is RowKind.Member or RowKind.Subtotal).ToList();
        yield return (grid.Total, rows.Where(r => r.Level == 0).ToList());
        for (var i = 0; i < rows.Count; i++)
        {
            var children = rows.Skip(i + 1)
                .TakeWhile(r => r.Level > rows[i].Level)
                .Where(r => r.Level == rows[i].Level + 1)
                .ToList();
            if (children.Count > 0)
                yield return (rows[i], children);
        }
    }

    /// <summary>Rows of costs are shown positive; in profit sign everything adds.</summary>
    private static decimal InProfitSign(Grid grid, Row row, ColumnKind kind)
    {
        var number = grid.Value(row, kind).Number!.Value;
        if (kind == ColumnKind.Variance)
            return number;
        var account = row.Members.LastOrDefault(m => m.Dimension == "account");
        return account is null
            ? number
            : number
                * SmallBook
                    .Members.First(m => m.DimensionId == SmallBook.AccountDim && m.Code == account.Code)
                    .Account!.ShownSign;
    }
}
