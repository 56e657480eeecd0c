using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data.Facts.Duck;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>One contract for every implementation of IFacts: on the same random lines all give the same cells and lines, to an
/// asker who may see one entity only.</summary>
public sealed class FactsContractTests
{
    private static readonly string[] Accounts = ["FARES", "FUEL", "CASH"];
    private static readonly string[] Entities = ["N1", "N2"];

    private static readonly Gen<(string, string, string, string, decimal)[]> Ledgers = Gen.Select(
        Gen.Int[1, 28],
        Gen.Int[1, 9],
        Gen.Int[0, 2],
        Gen.Int[0, 1],
        Gen.Int[-5_000_000, 5_000_000],
        (day, month, account, entity, units) =>
            ("D", $"2026-{month:D2}-{day:D2}", Accounts[account], Entities[entity], units / 10_000m)
    ).Array[1, 60];

    [Fact]
    public void Memory_and_the_fact_file_agree_on_cells_and_lines() =>
        Gen.Select(Ledgers, Gen.Int[0, 7], Gen.Int[1, 9], Gen.Int[0, 8], Gen.Bool, Gen.Bool)
            .Sample(
                (lines, groups, from, length, byPeriod, exclude) =>
                {
                    using var test = new TestBook();
                    test.Load(TestBook.Ledger([.. lines.Select((l, i) => l with { Item1 = $"D{i}" })]), TableKind.Ledger);
                    var book = test.Open.Store.Read();
                    var duck = test.Sql(book, OneEntity(book));
                    var view = new BookView(book.Edition, OneEntity(book));
                    var all = Wait(
                        test.Sql(book)
                            .Lines(
                                new LineQuery(1, new PeriodSpan(new(2026, 1), new(2026, 12)), [], LineOrder.AsLoaded, 1000),
                                default
                            )
                    );
                    var memory = MemoryFacts.FromLines(view, [1, 2, 3], all.Lines, "EUR");

                    var span = new PeriodSpan(new(2026, from), new Period(2026, from).AddMonths(length));
                    ImmutableArray<int> groupBy = [.. new[] { 1, 2, 3 }.Where(d => (groups & (1 << (d - 1))) != 0)];
                    var fares = new[] { "FARES", "CASH" }
                        .Select(c => book.TryMember(1, c, out var m) ? m.Id : 0)
                        .ToImmutableHashSet();
                    var cells = new CellQuery(1, span, [new MemberFilter(1, fares, exclude)], groupBy, byPeriod);
                    Assert.Equal(Wait(duck.Cells(cells, default)).Select(Text), Wait(memory.Cells(cells, default)).Select(Text));
                    Assert.Equal(
                        Wait(
                                test.Sql(book)
                                    .Cells(cells with { Filters = [.. cells.Filters, .. OneEntity(book).Filters] }, default)
                            )
                            .Select(Text),
                        Wait(memory.Cells(cells, default)).Select(Text)
                    );

                    foreach (var order in Enum.GetValues<LineOrder>())
                    {
                        string? cursor = null;
                        do
                        {
                            var query = new LineQuery(1, span, cells.Filters, order, 7, cursor) { WithLoads = true };
                            var (one, other) = (Wait(duck.Lines(query, default)), Wait(memory.Lines(query, default)));
                            Assert.Equal(
                                one.Lines.Select(l => (l.Load, l.Row, l.Amount)),
                                other.Lines.Select(l => (l.Load, l.Row, l.Amount))
                            );
                            Assert.Equal((one.Count, one.Sum), (other.Count, other.Sum));
                            Assert.Equal(one.Loads.AsEnumerable(), other.Loads);
                            cursor = one.Next;
                        } while (cursor is not null);
                    }
                },
                iter: 12
            );

    /// <summary>Limits on either side, words of the text, whole and ended numbers, and local amounts: alone and
    /// together.</summary>
    [Fact]
    public void Memory_and_the_fact_file_agree_on_what_narrows_lines_and_on_local_amounts() =>
        Gen.Select(Ledgers, Gen.Int[0, 31], Gen.Int[0, 7], Gen.Int[0, 59])
            .Sample(
                (lines, options, groups, document) =>
                {
                    using var test = new TestBook();
                    test.Load(
                        "Document,Date,Account,Entity,Route,Amount,Currency,Local amount,Text\n"
                            + string.Concat(
                                lines.Select(
                                    (l, i) =>
                                        FormattableString.Invariant(
                                            $"Doc-{i:D3},{l.Item2},{l.Item3},{l.Item4},R1,{l.Item5},{(i % 3 == 0 ? "CHF" : i % 3 == 1 ? "chf" : "EUR")},{(i % 4 == 3 ? "" : (l.Item5 * 2).ToString(System.Globalization.CultureInfo.InvariantCulture))},{Texts[i % Texts.Length]}\n"
                                        )
                                )
                            ),
                        TableKind.Ledger
                    );
                    var book = test.Open.Store.Read();
                    var duck = test.Sql(book, OneEntity(book));
                    var view = new BookView(book.Edition, OneEntity(book));
                    var year = new PeriodSpan(new(2026, 1), new(2026, 12));
                    var memory = MemoryFacts.FromLines(
                        view,
                        [1, 2, 3],
                        Wait(test.Sql(book).Lines(new LineQuery(1, year, [], LineOrder.AsLoaded, 1000), default)).Lines,
                        "EUR"
                    );

                    bool Has(int option) => (options & (1 << option)) != 0;
                    var query = new LineQuery(1, year, [], LineOrder.BySize, 1000)
                    {
                        AtLeast = Has(0) ? 100m : 0m,
                        AtMost = Has(1) ? 300m : null,
                        Text = Has(2) ? "DIESEL" : null,
                        Document =
                            Has(3) ? $"doc-{document:D3}"
                            : Has(4) ? "1"
                            : null,
                        DocumentEnds = !Has(3) && Has(4),
                    };
                    var (one, other) = (Wait(duck.Lines(query, default)), Wait(memory.Lines(query, default)));
                    Assert.Equal(
                        one.Lines.Select(l => (l.Row, l.Amount, l.Text)),
                        other.Lines.Select(l => (l.Row, l.Amount, l.Text))
                    );
                    Assert.Equal((one.Count, one.Sum), (other.Count, other.Sum));
                    Assert.All(one.Lines, l =>
                        Assert.True(
                            Math.Abs(l.Amount) >= query.AtLeast
                                && Math.Abs(l.Amount) <= (query.AtMost ?? decimal.MaxValue)
                                && (!Has(2) || l.Text.Contains("diesel", StringComparison.OrdinalIgnoreCase))
                        )
                    );

                    var local = new CellQuery(
                        1,
                        year,
                        [],
                        [.. new[] { 1, 2, 3 }.Where(d => (groups & (1 << (d - 1))) != 0)],
                        true
                    )
                    {
                        ByCurrency = true,
                    };
                    Assert.Equal(Wait(duck.Cells(local, default)).Select(Text), Wait(memory.Cells(local, default)).Select(Text));
                },
                iter: 12
            );

    private static Sight OneEntity(Book book) => Sight.Of(book, [new Filter("entity", ["N1"])]);

    private static readonly string[] Texts = ["Diesel MV Petrel", "annual licence", "100% \u201cdiesel\u201d", ""];

    private static string Text(CellSum c) =>
        FormattableString.Invariant(
            $"{string.Join(',', c.Members)} {c.Period} {c.Amount:0.0000} {c.Lines} {c.Currency} {c.Local:0.0000} {c.Translated}"
        );

    private static T Wait<T>(ValueTask<T> task) => task.AsTask().GetAwaiter().GetResult();
}
