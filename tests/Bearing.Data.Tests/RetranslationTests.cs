using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data.Facts.Duck;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>Rates that come later or change make an edition in which open months are translated anew; what was reported
/// stays.</summary>
public sealed class RetranslationTests : IDisposable
{
    private const string First = "Month,Currency,Average,Closing\n2026-01,SEK,10,10\n2026-02,SEK,10,10\n2026-03,SEK,10,12\n";
    private readonly TestBook _test = new(foreign: "SEK");

    public void Dispose() => _test.Dispose();

    private static string Ledger(params (string Document, string Date, string Account, decimal Amount)[] lines) =>
        TestBook.Ledger([.. lines.Select(l => (l.Document, l.Date, l.Account, "N2", l.Amount))]);

    private static readonly string Kronor = Ledger(
        ("A1", "2026-01-10", "FARES", 100m),
        ("A1", "2026-01-10", "CASH", -100m),
        ("A2", "2026-02-10", "FARES", 50m),
        ("A2", "2026-02-10", "CASH", -50m)
    );

    private decimal Fares(int? edition = null)
    {
        var book = _test.Open.Store.Read(edition);
        book.TryMember(1, "FARES", out var fares);
        return Cells(book, new MemberFilter(1, [fares!.Id], false)).Sum(c => c.Amount);
    }

    private IReadOnlyList<CellSum> Cells(Book book, params MemberFilter[] filters) =>
        _test
            .Sql(book)
            .Cells(
                new CellQuery(1, new PeriodSpan(new(2026, 1), new(2026, 12)), [.. filters], [], true) { ByCurrency = true },
                default
            )
            .AsTask()
            .GetAwaiter()
            .GetResult();

    [Fact]
    public void Amounts_without_a_rate_are_refused_and_land_once_it_is_there()
    {
        var refused = Assert.Throws<RowsRefusedException>(() => _test.Load(Kronor, TableKind.Ledger)).Receipt.Refused;
        Assert.Equal(
            ["There is no average rate of SEK for January 2026.", "There is no average rate of SEK for February 2026."],
            refused.Select(r => r.First.Because)
        );
        _test.Load(First, TableKind.Rates);
        var receipt = _test.Load(Kronor, TableKind.Ledger);
        Assert.Equal(15m, Fares());
        // Control totals are held against the source, which is in kronor.
        Assert.Equal(("SEK", 100m, 100m), (receipt.Periods[0].Currency, receipt.Periods[0].Debit, receipt.Periods[0].Credit));
        Assert.Contains(receipt.Warnings, w => w.Check == "currency" && w.Where == "Birkhaven");
    }

    [Fact]
    public void A_document_balances_as_it_was_posted_though_its_translated_lines_are_rounded()
    {
        _test.Load(First.Replace("10,10", "3,3", StringComparison.Ordinal), TableKind.Rates);
        _test.Load(
            Ledger(("A1", "2026-01-10", "FARES", 1m), ("A1", "2026-01-10", "FARES", 1m), ("A1", "2026-01-10", "CASH", -2m)),
            TableKind.Ledger
        );
        Assert.Equal(0.6666m, Fares());
        var off = Assert.Throws<RowsRefusedException>(() =>
            _test.Load(
                Ledger(
                    ("B1", "2026-01-10", "FARES", 1m),
                    ("B1", "2026-01-10", "CASH", -2m),
                    ("B2", "2026-01-10", "FARES", 1m),
                    ("B2", "2026-01-10", "CASH", -1m),
                    ("B3", "2026-01-10", "FARES", 1m),
                    ("B3", "2026-01-10", "CASH", -1m)
                ),
                TableKind.Ledger
            )
        );
        Assert.Contains(
            "Document B1 does not balance: its debits exceed its credits by SEK 1.00.",
            off.Receipt.Refused[0].First.Because,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Other_rates_translate_open_months_anew_and_can_be_taken_back()
    {
        _test.Load(First, TableKind.Rates);
        _test.Load(Kronor, TableKind.Ledger);
        var (before, contents) = (_test.Open.Store.Read().Edition, _test.Contents());
        var rates = _test.Load("Month,Currency,Average\n2026-02,SEK,5\n", TableKind.Rates);
        Assert.Equal(["SEK: translated anew for February 2026"], rates.Translated);
        Assert.Equal((20m, 15m), (Fares(), Fares(before)));
        _test.Writer.Undo(rates.Load);
        Assert.Equal((15m, contents), (Fares(), _test.Contents()));
    }

    [Fact]
    public void A_closed_month_keeps_the_rate_by_which_it_was_reported_until_it_is_opened_again()
    {
        _test.Load(First, TableKind.Rates);
        _test.Load(Kronor, TableKind.Ledger);
        var definition = _test.Open.Store.Read().Definition;
        _test.Writer.Define(definition with { ClosedThrough = new Period(2026, 1) });
        var receipt = _test.Load("Month,Currency,Average\n2026-01,SEK,5\n2026-02,SEK,5\n", TableKind.Rates);
        Assert.Equal((20m, 10m), (Fares(), _test.Open.Store.Read().Rate(new(2026, 1), "SEK", RateKind.Average, "actual")!.Value));
        Assert.Contains(receipt.Translated, t =>
            t.Contains("closed keep the rates by which they were reported", StringComparison.Ordinal)
            && t.Contains("SEK January 2026", StringComparison.Ordinal)
        );
        _test.Writer.Define(definition with { ClosedThrough = null });
        Assert.Equal(30m, Fares());
    }

    [Fact]
    public void Rates_stay_while_amounts_need_them()
    {
        var rates = _test.Load(First, TableKind.Rates);
        var ledger = _test.Load(Kronor, TableKind.Ledger);
        Assert.Contains(
            "nothing would be left for SEK February 2026, SEK January 2026",
            Assert.Throws<LoadRefusedException>(() => _test.Writer.Undo(rates.Load)).Message,
            StringComparison.Ordinal
        );
        _test.Writer.Undo(ledger.Load);
        _test.Writer.Undo(rates.Load);
        Assert.Empty(_test.Open.Store.Read().Rates);
    }

    /// <summary>A load that was superseded, and comes on again after rates changed, comes translated by those that count
    /// now.</summary>
    [Fact]
    public void What_comes_on_again_is_translated_by_the_rates_of_now()
    {
        _test.Load(First, TableKind.Rates);
        _test.Load(Kronor, TableKind.Ledger);
        var replaced = _test.Load(
            Ledger(("A9", "2026-01-10", "FARES", 1m), ("A9", "2026-01-10", "CASH", -1m)),
            TableKind.Ledger,
            LoadMode.Replace
        );
        _test.Load("Month,Currency,Average\n2026-01,SEK,20\n", TableKind.Rates);
        _test.Writer.Undo(replaced.Load);
        Assert.Equal(10m, Fares());
    }

    /// <summary>The engine's whole numbers round as the core's decimals do, to the last place.</summary>
    [Fact]
    public void The_engine_translates_each_line_as_the_core_does() =>
        Gen.Select(Gen.Int[-2_000_000_000, 2_000_000_000].Array[1, 40], Gen.Int[1, 2_000_000_000], Gen.Bool)
            .Sample(
                (cents, rate, inverse) =>
                {
                    using var test = new TestBook(foreign: "SEK");
                    var quoted = (rate / 100_000_000m).ToString("0.########", System.Globalization.CultureInfo.InvariantCulture);
                    var mapping = new FileMapping(
                        TableKind.Rates,
                        [new("Month", "period", ""), new("Currency", "currency", ""), new("Average", "rate", "")],
                        SignConvention.AsShown,
                        null,
                        false,
                        null
                    )
                    {
                        Quotation = inverse ? Quotation.HomePerForeign : Quotation.ForeignPerHome,
                    };
                    byte[] Rates(string value) =>
                        System.Text.Encoding.UTF8.GetBytes($"Month,Currency,Average\n2026-01,SEK,{value}\n");
                    test.LoadBy(mapping, Rates("1"));
                    test.Load(
                        TestBook.Ledger([.. cents.Select((c, i) => ($"D{i}", "2026-01-10", "FARES", "N2", c / 10_000m))]),
                        TableKind.Ledger
                    );
                    test.LoadBy(mapping, Rates(quoted));
                    var book = test.Open.Store.Read();
                    var now = book.Rate(new(2026, 1), "SEK", RateKind.Average, "actual")!;
                    var page = test.Sql(book)
                        .Lines(new LineQuery(1, new PeriodSpan(new(2026, 1), new(2026, 1)), [], LineOrder.AsLoaded, 100), default)
                        .AsTask()
                        .GetAwaiter()
                        .GetResult();
                    Assert.All(page.Lines, l =>
                        Assert.Equal(
                            (now.Translate(l.LocalAmount!.Value), now.Value, now.Load),
                            (l.Amount, l.Rate!.Value, l.Rate.Load)
                        )
                    );
                },
                iter: 15
            );
}
