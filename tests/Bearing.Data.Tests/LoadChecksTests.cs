using System.Collections.Immutable;
using System.Text;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Core.Variance;
using Bearing.Data.Facts.Duck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>What is worth a look before a load lands: it waits until somebody agrees, and stays attached.</summary>
public sealed class LoadChecksTests : IDisposable
{
    private readonly TestBook _test = new();

    public void Dispose() => _test.Dispose();

    private static string Month(int month, decimal scale = 1m, string entity = "N1", string prefix = "M") =>
        TestBook.Ledger([
            .. Enumerable
                .Range(1, 10)
                .Select(i =>
                    (
                        $"{prefix}{entity}{month}-{i}",
                        $"2026-{month:D2}-{i:D2}",
                        i % 2 == 0 ? "FUEL" : "FARES",
                        entity,
                        (i % 2 == 0 ? -1 : 1) * (100m + i) * scale
                    )
                ),
        ]);

    private ImmutableArray<Finding> Warnings(string csv)
    {
        _test.Agreed = false;
        var before = _test.Contents();
        var warnings = Assert.Throws<WarningsException>(() => _test.Load(csv, TableKind.Ledger)).Receipt.Warnings;
        Assert.Equal(before, _test.Contents());
        _test.Agreed = true;
        return warnings;
    }

    private void Months(int from, int to)
    {
        for (var month = from; month <= to; month++)
            _test.Load(Month(month), TableKind.Ledger);
    }

    [Fact]
    public void An_ordinary_next_month_needs_no_agreement()
    {
        Months(1, 3);
        _test.Agreed = false;
        Assert.Empty(_test.Load(Month(4), TableKind.Ledger).Warnings);
    }

    [Fact]
    public void A_month_left_out_is_a_gap()
    {
        Months(1, 2);
        Assert.Contains(Warnings(Month(4)), w => w.Check == "gap" && w.Because.Contains("March 2026", StringComparison.Ordinal));
    }

    [Fact]
    public void An_entity_that_is_missing_from_the_newest_month_is_named()
    {
        Months(1, 2);
        _test.Load(Month(2, entity: "N2"), TableKind.Ledger);
        Assert.Contains(Warnings(Month(3)), w => w.Check == "entity-missing" && w.Where == "Birkhaven");
    }

    [Fact]
    public void A_newest_month_far_below_the_others_is_probably_incomplete()
    {
        Months(1, 4);
        var part = string.Join('\n', Month(5).Split('\n').Take(4)) + "\n";
        Assert.Contains(Warnings(part), w => w.Check == "off-level" && w.Because.Contains("3 lines", StringComparison.Ordinal));
    }

    [Fact]
    public void A_lost_decimal_mark_is_far_away()
    {
        Months(1, 4);
        var slip = TestBook.Ledger(("S1", "2026-05-03", "FUEL", "N1", -10_400_000m));
        Assert.Contains(Warnings(slip), w => w.Check == "far-away" && w.Where == "line 2");
    }

    [Fact]
    public void An_entity_month_that_equals_its_plan_to_the_cent_is_doubted_and_a_single_account_is_not()
    {
        _test.Load("Code,Name,Parent,Type\nRENT,Rent,COS,cost\n", TableKind.Accounts);
        _test.Load(
            TestBook.Plan(("2026-01", "FARES", "N1", 500m), ("2026-01", "FUEL", "N1", 200m), ("2026-01", "RENT", "N1", 50m)),
            TableKind.Plan
        );
        Assert.DoesNotContain(
            _test.Load(TestBook.Ledger(("R1", "2026-01-02", "RENT", "N1", -50m)), TableKind.Ledger).Warnings,
            w => w.Check == "equals-plan"
        );
        Assert.Contains(
            Warnings(TestBook.Ledger(("P1", "2026-01-05", "FARES", "N1", 500m), ("P2", "2026-01-06", "FUEL", "N1", -200m))),
            w => w.Check == "equals-plan" && w.Where == "Aldermouth January 2026"
        );
    }

    [Fact]
    public void Rows_without_documents_that_repeat_each_other_are_told()
    {
        var row = "2026-01-10,FARES,N1,R1,10,ticket\n";
        Assert.Contains(
            Warnings("Date,Account,Entity,Route,Amount,Text\n" + row + row + "2026-01-11,FARES,N1,R1,10,ticket\n"),
            w => w is { Check: "same-rows", Count: 1 }
        );
    }

    [Fact]
    public void Late_postings_are_agreed_with_marked_and_taken_back_with_their_mark()
    {
        Months(1, 3);
        _test.Writer.Define(_test.Open.Store.Read().Definition with { ClosedThrough = new Period(2026, 2) });
        var late = TestBook.Ledger(("L1", "2026-02-20", "FUEL", "N1", -7m));
        Assert.Contains(Warnings(late), w => w is { Check: "closed-period", Count: 1 });
        var load = _test.Load(late, TableKind.Ledger).Load;
        Assert.Equal("after close", Assert.Single(Lines(), l => l.Load == load).Fields["late"]);
        Assert.All(Lines().Where(l => l.Load != load), l => Assert.Empty(l.Fields));
        _test.Writer.Undo(load);
        Assert.DoesNotContain(Lines(), l => l.Load == load);
    }

    [Fact]
    public void An_entity_that_closed_later_than_the_rest_is_still_open()
    {
        Months(1, 3);
        var definition = _test.Open.Store.Read().Definition;
        _test.Writer.Define(
            definition with
            {
                ClosedThrough = new Period(2026, 2),
                ClosedThroughOf = ImmutableDictionary<string, Period>.Empty.Add("N1", new Period(2026, 1)),
            }
        );
        _test.Agreed = false;
        Assert.Empty(_test.Load(TestBook.Ledger(("L1", "2026-02-20", "FUEL", "N1", -7m)), TableKind.Ledger).Warnings);
    }

    [Fact]
    public void Warnings_stay_attached_to_answers_that_use_the_load()
    {
        Months(1, 2);
        _test.Load(Month(4), TableKind.Ledger);
        var book = _test.Open.Store.Read();
        Assert.Contains(book.Remarks, r =>
            r.Text.Contains("none in between", StringComparison.Ordinal) && r.Periods == PeriodSpan.Of(new Period(2026, 4))
        );
    }

    [Fact]
    public void What_changed_is_told_by_account_entity_and_month_and_late_ones_are_marked()
    {
        Months(1, 2);
        _test.Writer.Define(_test.Open.Store.Read().Definition with { ClosedThrough = new Period(2026, 1) });
        var before = _test.Open.Edition();
        _test.Load(
            TestBook.Ledger(("L1", "2026-01-20", "FUEL", "N1", -7m), ("L2", "2026-02-20", "FARES", "N1", 5m)),
            TableKind.Ledger
        );
        var after = _test.Open.Edition();
        var changes = Wait(
            new ChangeFinder(before.Book, before.Facts, after.Book, after.Facts).Find(TestContext.Current.CancellationToken)
        );
        Assert.Equal([(-7m, true, 1), (5m, false, 2)], changes.Select(c => (c.Difference, c.Late, c.Period.Number)));
        Assert.Empty(
            Wait(new ChangeFinder(after.Book, after.Facts, after.Book, after.Facts).Find(TestContext.Current.CancellationToken))
        );
    }

    [Fact]
    public void Opening_balances_stand_before_the_first_month_and_take_no_income()
    {
        Months(1, 2);
        var mapping = new FileMapping(
            TableKind.Opening,
            [new("Account", "account", ""), new("Entity", "entity", ""), new("Amount", "amount", "")],
            SignConvention.DebitPositive,
            null,
            false,
            null
        )
        {
            FixedPeriod = new Period(2025, 12),
        };
        Assert.Throws<RowsRefusedException>(() =>
            _test.LoadBy(mapping, Encoding.UTF8.GetBytes("Account,Entity,Amount\nFUEL,N1,10\n"))
        );
        var receipt = _test.LoadBy(mapping, Encoding.UTF8.GetBytes("Account,Entity,Amount\nCASH,N1,2500\n"));
        Assert.Contains(receipt.Warnings, w => w.Check == "opening-off");
        // The span of Actual does not grow by it, and the balance is carried on.
        Assert.Equal(new PeriodSpan(new(2026, 1), new(2026, 2)), _test.Open.Store.Read().ActualSpan);
        var rows = new[] { new FactRow(2, "", new(2026, 2), null, "", "", Members("CASH", "N1"), -2500m, null, null, "") };
        var at = _test.Open.Edition();
        var compared = Wait(
            new Reconciliation(at.Book, at.Facts).Compare(rows, new Period(2026, 2), true, TestContext.Current.CancellationToken)
        );
        Assert.Equal(0m, compared.Single(c => at.Book.Label(c.Account).Code == "CASH").Difference);
        Assert.Equal(
            ["FARES", "FUEL"],
            compared.Where(c => c.Difference != 0).Select(c => at.Book.Label(c.Account).Code).Order(StringComparer.Ordinal)
        );
    }

    private int[] Members(string account, string entity)
    {
        var book = _test.Open.Store.Read();
        return
        [
            book.TryMember(1, account, out var a) ? a.Id : 0,
            book.TryMember(2, entity, out var e) ? e.Id : 0,
            Member.Unassigned,
        ];
    }

    private ImmutableArray<Line> Lines()
    {
        var book = _test.Open.Store.Read();
        return Wait(
            _test
                .Sql(book)
                .Lines(
                    new LineQuery(1, new PeriodSpan(new(2026, 1), new(2026, 12)), [], LineOrder.AsLoaded, 1000),
                    TestContext.Current.CancellationToken
                )
        ).Lines;
    }

    private static T Wait<T>(ValueTask<T> task) => task.AsTask().GetAwaiter().GetResult();
}
