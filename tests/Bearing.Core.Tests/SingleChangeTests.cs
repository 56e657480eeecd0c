using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>A book in which actual equals budget except for one thing: only that thing may show.</summary>
public sealed class SingleChangeTests
{
    private static readonly Period Mar = new(2026, 3);
    private static readonly Side Budget = new(SideKind.Version, "budget-26");
    private static readonly string[] Accounts = ["FARES", "FREIGHT", "FUEL", "CREW", "RENT"];
    private static readonly string[] Yards = ["N1", "N2", "S1", "S2"];

    private static readonly Gen<(string Account, string Yard, int Change)> Changes = Gen.Select(
        Pick.One(Accounts),
        Pick.One(Yards),
        Gen.OneOf(Gen.Int[-500, -50], Gen.Int[50, 500])
    );

    private static SmallBook Make(string account, string yard, int change)
    {
        var small = new SmallBook();
        foreach (var month in Enumerable.Range(1, 3))
        foreach (var a in Accounts)
        foreach (var y in Yards)
        {
            var amount = a is "FARES" or "FREIGHT" ? 1000m : -400m;
            small.Add(2, new(2026, month), a, y, amount, "R1");
            small.Add(1, new(2026, month), a, y, amount + (month == 3 && a == account && y == yard ? change : 0m), "R1", "V1");
        }
        return small;
    }

    private static Question Ask(params Breakdown[] by) =>
        Question.About(new FigureRef(FigureKind.Measure, "result"), new PeriodSpan(new(2026, 1), Mar)).Against(Budget).By(by);

    [Fact]
    public void The_table_shows_it_in_its_own_rows_and_in_no_other() =>
        Changes.Sample(
            (account, yard, change) =>
            {
                var small = Make(account, yard, change);
                var grid = SmallBook
                    .Now(
                        new Tabulator(small.Book(), small.Facts()).Tabulate(
                            Ask(
                                Breakdown.By("entity", "Yard"),
                                Breakdown.By("account", "Account"),
                                Breakdown.ByTime(TimeGrain.Month)
                            ),
                            CancellationToken.None
                        )
                    )
                    .Grid;
                foreach (var row in grid.Rows.Where(r => r.Kind is RowKind.Member or RowKind.Subtotal))
                {
                    var path = row.Members.Select(m => m.Code).ToList();
                    var onPath = row.Members.All(m =>
                        m.Dimension switch
                        {
                            "entity" => m.Code == yard || m.Code == yard[..1],
                            "account" => m.Code == account
                                || SmallBook
                                    .Members.Single(x => x.DimensionId == SmallBook.AccountDim && x.Code == account)
                                    .ParentId == SmallBook.Id(SmallBook.AccountDim, m.Code),
                            _ => m.Code.EndsWith("P03", StringComparison.Ordinal),
                        }
                    );
                    Assert.True((onPath ? change : 0m) == grid.Value(row, ColumnKind.Variance).Number, string.Join('/', path));
                }
                Assert.Equal(change, grid.Value(grid.Total, ColumnKind.Variance).Number);
            },
            iter: 40
        );

    [Fact]
    public void The_drivers_name_it_and_nothing_else() =>
        Changes.Sample(
            (account, yard, change) =>
            {
                var small = Make(account, yard, change);
                var report = SmallBook.Now(
                    new DriverSearch(small.Book(), small.Facts()).Find(
                        Ask().In(s => s with { Spans = [PeriodSpan.Of(Mar)] }),
                        CancellationToken.None
                    )
                )!;
                var driver = Assert.Single(report.Drivers);
                Assert.Empty(report.Offsets);
                Assert.Equal((0m, change), (report.Rest, driver.Variance));
                var named = driver.Below.Append(driver).Select(d => d.Member.Code).ToList();
                Assert.Contains(account, named);
                Assert.Contains(yard, named);
            },
            iter: 60
        );

    [Fact]
    public void Over_several_months_the_one_month_is_named_too() =>
        Changes.Sample(
            (account, yard, change) =>
            {
                var small = Make(account, yard, change);
                var question = Ask()
                    .In(s => s with { Figure = new(FigureKind.Account, account), Filters = [new Filter("entity", [yard])] });
                var report = SmallBook.Now(new DriverSearch(small.Book(), small.Facts()).Find(question, CancellationToken.None))!;
                var driver = Assert.Single(report.Drivers);
                Assert.Equal(("2026-P03", change, 0m), (driver.Member.Code, driver.Variance, report.Rest));
                Assert.Equal(PeriodSpan.Of(Mar), driver.Slice.Span);
            },
            iter: 30
        );

    [Fact]
    public void A_month_without_the_change_has_no_variance_and_no_drivers() =>
        Changes.Sample(
            (account, yard, change) =>
            {
                var small = Make(account, yard, change);
                var report = SmallBook.Now(
                    new DriverSearch(small.Book(), small.Facts()).Find(
                        Ask().In(s => s with { Spans = [PeriodSpan.Of(new(2026, 2))] }),
                        CancellationToken.None
                    )
                )!;
                Assert.Equal(0m, report.Total);
                Assert.Empty(report.Drivers);
                Assert.Empty(report.Offsets);
            },
            iter: 20
        );
}
