using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using Bearing.Data.Facts.Duck;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>Tables of records, rates, and the steps that shape rows before they land.</summary>
public sealed class RecordTests : IDisposable
{
    private const string Invoices =
        "Invoice no,Supplier,Yard,Due date,Amount,Hours,Hourly rate,Paid on\nI-1,Rope & Co,Aldermouth,2026-01-31,100.50,2,50.25,\nI-2,Rope & Co,N2,2026-02-15,80,1,80,2026-02-20\nI-3,Tar Ltd,N1,2026-03-01,-20,,,\n";

    private readonly TestBook _test = new();

    public void Dispose() => _test.Dispose();

    private static FileMapping InvoiceMapping =>
        TestBook.Mapping(
            TableKind.Records,
            ("Invoice no", "field:key"),
            ("Supplier", "field:text"),
            ("Yard", "entity"),
            ("Due date", "field:date"),
            ("Amount", "field:amount"),
            ("Hours", "field:quantity"),
            ("Hourly rate", "field:rate"),
            ("Paid on", "field:date")
        );

    private LoadReceipt Load(FileMapping mapping, string csv, LoadMode mode = LoadMode.Add) =>
        _test.LoadBy(mapping, Encoding.UTF8.GetBytes(csv), mode);

    private RecordPage Records(params FieldTest[] tests)
    {
        var at = _test.Open.Edition();
        return Wait(
            at.Facts.Records(
                new RecordQuery(at.Book.Table("invoices")!, [.. tests], null, false, 100, 0),
                TestContext.Current.CancellationToken
            )
        );
    }

    private Field Field(string code) => _test.Open.Edition().Book.Table("invoices")!.Field(code)!;

    [Fact]
    public void Types_of_fields_are_proposed_from_their_cells()
    {
        var rows = Invoices.TrimEnd().Split('\n').Select((l, i) => new RawRow(i + 1, l.Split(','))).ToList();
        var mapping = new Detection(_test.Open.Store.Read()).Propose(rows[0], [], rows[1..], TableKind.Records, null);
        Assert.Equal(
            ["field:key", "field:text", "dimension", "field:date", "field:amount", "field:quantity", "field:rate", "field:date"],
            mapping.Columns.Select(c => c.Heading == "Yard" ? "dimension" : c.Role)
        );
    }

    [Fact]
    public void Amounts_and_quantities_are_summed_and_rates_never()
    {
        var receipt = Load(InvoiceMapping, Invoices);
        Assert.Equal([("Amount", 160.50m), ("Hours", 3m)], receipt.Periods.Select(p => (p.Name, p.Net)));
        Assert.Equal(["amount", "hour"], Records().Sums.Select(s => s.Field));
    }

    [Fact]
    public void Members_are_known_by_code_or_name_and_conditions_are_typed()
    {
        Load(InvoiceMapping, Invoices);
        Assert.Equal(["N1", "N2", "N1"], Records().Records.Select(r => r.Fields["yard"]));
        Assert.Equal(
            ["I-1", "I-3"],
            Records(new FieldTest(Field("paid-on"), TestKind.Empty, "")).Records.Select(r => r.Fields["invoice-no"])
        );
        Assert.Equal(
            ["I-1"],
            Records(new FieldTest(Field("amount"), TestKind.AtLeast, "100")).Records.Select(r => r.Fields["invoice-no"])
        );
        Assert.Equal(
            ["I-2", "I-3"],
            Records(new FieldTest(Field("due-date"), TestKind.AtLeast, "2026-02-01")).Records.Select(r => r.Fields["invoice-no"])
        );
        Assert.Equal(2, Records(new FieldTest(Field("supplier"), TestKind.Contains, "ROPE")).Count);
    }

    [Fact]
    public void A_key_stands_once_and_the_table_is_replaced_as_a_whole()
    {
        Assert.Contains(
            "stands in the file twice",
            Assert
                .Throws<LoadRefusedException>(() => Load(InvoiceMapping, Invoices + "I-1,Tar Ltd,N1,2026-03-01,5,,,\n"))
                .Message,
            StringComparison.Ordinal
        );
        var first = Load(InvoiceMapping, Invoices).Load;
        var again = Invoices.Split('\n')[0] + "\nI-3,Tar Ltd,N1,2026-03-01,-20,,,\nI-4,Tar Ltd,N1,2026-03-02,7,,,\n";
        Assert.Contains(
            "in the table already",
            Assert.Throws<LoadRefusedException>(() => Load(InvoiceMapping, again)).Message,
            StringComparison.Ordinal
        );
        var second = Load(InvoiceMapping, again, LoadMode.Replace);
        Assert.Equal([$"load {first}: 3 records"], second.Supersedes);
        Assert.Equal(["I-3", "I-4"], Records().Records.Select(r => r.Fields["invoice-no"]));
        _test.Writer.Undo(second.Load);
        Assert.Equal(3, Records().Count);
    }

    [Fact]
    public void Random_conditions_give_the_same_from_memory_and_from_the_fact_file() =>
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 4], Gen.Bool, Gen.Bool, Gen.Int[0, 3], Gen.Int[-50, 120])
            .Array[1, 30]
            .Sample(
                draws =>
                {
                    using var test = new TestBook();
                    string[] suppliers = ["Rope & Co", "Tår Ltd", "", "rope"];
                    test.LoadBy(
                        InvoiceMapping,
                        Encoding.UTF8.GetBytes(
                            Invoices.Split('\n')[0]
                                + "\n"
                                + string.Concat(
                                    draws.Select(
                                        (d, i) =>
                                            $"K{i},{suppliers[d.Item1]},N{1 + (i % 2)},2026-0{d.Item5 + 1}-1{d.Item2},{d.Item6},,,\n"
                                    )
                                )
                        )
                    );
                    var at = test.Open.Edition();
                    var table = at.Book.Table("invoices")!;
                    var entity = table.Fields.Single(f => f.Dimension == "entity");
                    // To an asker who may see one entity only.
                    var sight = Sight.Of(at.Book, [new Filter("entity", ["N1"])]);
                    var file = test.Sql(at.Book, sight);
                    var all = Wait(
                        at.Facts.Records(new RecordQuery(table, [], null, false, 1000, 0), TestContext.Current.CancellationToken)
                    );
                    var memory = new MemoryFacts(
                        new BookView(at.Book.Edition, sight),
                        [1, 2, 3],
                        [],
                        null,
                        all.Records.Select(r => (table.Code, r))
                    );
                    foreach (var (kind, value, not, descending, field, _) in draws.Take(8))
                    {
                        var by = new[] { "amount", "due-date", "supplier", "invoice-no" }[field];
                        var wanted =
                            by == "amount" ? $"{value * 20}"
                            : by == "due-date" ? "2026-02-12"
                            : "rop";
                        var query = new RecordQuery(
                            table,
                            [new FieldTest(table.Field(by)!, (TestKind)(kind == 3 ? 4 : kind), wanted, not)],
                            table.Field("amount"),
                            descending,
                            7,
                            0
                        );
                        var (one, other) = (
                            Wait(file.Records(query, TestContext.Current.CancellationToken)),
                            Wait(memory.Records(query, TestContext.Current.CancellationToken))
                        );
                        Assert.Equal(one.Records.Select(r => r.Row), other.Records.Select(r => r.Row));
                        Assert.All(one.Records, r => Assert.Equal("N1", r.Fields[entity.Code]));
                        Assert.Equal(
                            (one.Count, one.Sums.Where(s => s.Field == "amount").Sum(s => s.Sum), one.Next),
                            (other.Count, other.Sums.Where(s => s.Field == "amount").Sum(s => s.Sum), other.Next)
                        );
                    }
                },
                iter: 15
            );

    [Fact]
    public void Rates_keep_the_way_round_in_which_they_are_quoted_and_the_latest_counts()
    {
        var mapping = new FileMapping(
            TableKind.Rates,
            [
                new("Month", "period", ""),
                new("Ccy", "currency", ""),
                Rate("Avg", "average", "actual"),
                Rate("Plan", "average", "budget"),
            ],
            SignConvention.AsShown,
            null,
            false,
            null
        );
        Load(mapping, "Month,Ccy,Avg,Plan\n2026-01,SEK,11.7201,\n2026-02,SEK,11.5,11.2\n");
        var later = Load(mapping, "Month,Ccy,Avg,Plan\n2026-01,SEK,11.72015,\n");
        var book = _test.Open.Store.Read();
        Assert.Equal(11.72015m, book.Rate(new(2026, 1), "sek", RateKind.Average, "actual")!.Value);
        Assert.Equal(100m, book.Rate(new(2026, 2), "SEK", RateKind.Average, "budget")!.ToHome(1120m));
        Assert.Null(book.Rate(new(2026, 1), "SEK", RateKind.Average, "budget"));
        _test.Writer.Undo(later.Load);
        Assert.Equal(11.7201m, _test.Open.Store.Read().Rate(new(2026, 1), "SEK", RateKind.Average, "actual")!.Value);
        Assert.Equal(
            100m,
            new Rate(new(2026, 1), "USD", RateKind.Closing, "actual", 0.8m, Quotation.HomePerForeign).ToHome(125m)
        );

        static ColumnMapping Rate(string heading, string kind, string scenario) =>
            new(heading, "rate", "")
            {
                Sets = ImmutableDictionary<string, string>.Empty.Add("rate", kind).Add("scenario", scenario),
            };
    }

    [Fact]
    public void Lines_take_over_what_their_heading_says_and_both_ways_of_not_matching_are_counted()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Journal", "document"),
            ("Account", "account"),
            ("Amount", "amount"),
            ("Posted", "date"),
            ("Yard", "entity")
        ) with
        {
            Headings = new HeadingFile("Journal", "No", ["Posted", "Yard"]),
        };
        const string headings = "No,Posted,Yard,Total\nJ1,2026-01-10,N1,100\nJ2,2026-01-11,N2,50\nJ9,2026-01-12,N2,70\n";
        var receipt = _test.LoadBy(
            mapping,
            "Journal,Account,Amount\nJ1,FARES,60\nJ1,FUEL,-40\nJ2,FARES,5\n"u8.ToArray(),
            headings: headings
        );
        Assert.Equal("3 lines have their heading among 3; 1 headings have no lines.", receipt.Joined);
        Assert.Equal(25m, receipt.Periods.Single().Net);
        var refused = Assert.Throws<RowsRefusedException>(() =>
            _test.LoadBy(mapping, "Journal,Account,Amount\nJ7,FARES,60\n"u8.ToArray(), headings: headings)
        );
        Assert.Equal("Journal", refused.Receipt.Refused[0].First.Column);
        Assert.Throws<LoadRefusedException>(() => _test.LoadBy(mapping, "Journal,Account,Amount\nJ1,FARES,60\n"u8.ToArray()));
    }

    [Fact]
    public void Derived_columns_filters_and_steps_are_counted_row_by_row()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("Date", "date"),
            ("Account", "account"),
            ("Place", "entity"),
            ("Cost", "amount")
        ) with
        {
            Derived =
            [
                new DerivedColumn("Place", "{Region}{No}", [], []),
                new DerivedColumn("Cost", null, [], ["Hours", "Rate"]),
            ],
            Keep = [new KeepRule("Status", ["posted", "closed"], false)],
        };
        var receipt = Load(
            mapping,
            "Doc,Date,Account,Region,No,Hours,Rate,Status\nA,2026-01-01,FARES,N,1,3,12.5,posted\nB,2026-01-01,FARES,N,2,2,10,draft\n\nC,2026-01-02,FARES,N,2,1,4.25,CLOSED\n"
        );
        Assert.Equal(41.75m, receipt.Periods.Single().Net);
        Assert.Equal("only rows where Status is posted or closed", receipt.Filter);
        Assert.Equal([(4, 3), (3, 2), (2, 2)], receipt.Steps.Select(s => ((int)s.Before, (int)s.After)));
        Assert.Contains(_test.Open.Store.Read().Remarks, r =>
            r.Text.EndsWith("holds only rows where Status is posted or closed", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Refused_rows_are_kept_as_they_stand_with_why()
    {
        var file = Path.Combine(_test.Folder, "refused", "job.csv");
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("Date", "date"),
            ("Account", "account"),
            ("Yard", "entity"),
            ("Amount", "amount")
        );
        Assert.Throws<RowsRefusedException>(() =>
            _test.LoadBy(
                mapping,
                "Doc,Date,Account,Yard,Amount,Note\nA,2026-01-01,FARES,N1,5,fine\nB,2026-01-33,FARES,N1,6,\"why, oh\"\n"u8.ToArray(),
                refusedFile: file
            )
        );
        var lines = File.ReadAllLines(file);
        Assert.Equal("Doc,Date,Account,Yard,Amount,Note,Row,Because,What to do", lines[0]);
        Assert.StartsWith("B,2026-01-33,FARES,N1,6,\"why, oh\",3,", Assert.Single(lines[1..]), StringComparison.Ordinal);
    }

    [Fact]
    public void Period_13_counts_in_the_twelfth_month_and_is_marked()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("Period", "period"),
            ("Account", "account"),
            ("Yard", "entity"),
            ("Amount", "amount")
        ) with
        {
            FiscalPeriods = true,
        };
        var receipt = Load(
            mapping,
            "Doc,Period,Account,Yard,Amount\nA,2026/12,FARES,N1,5\nB,2026/13,FARES,N1,2\nC,2026-P13,FUEL,N1,-1\n"
        );
        Assert.Equal(("2026-P12", 6m), (receipt.Periods.Single().Period, receipt.Periods.Single().Net));
        var book = _test.Open.Store.Read();
        var lines = Wait(
            _test
                .Sql(book)
                .Lines(
                    new LineQuery(1, PeriodSpan.Of(new(2026, 12)), [], LineOrder.AsLoaded, 10),
                    TestContext.Current.CancellationToken
                )
        ).Lines;
        Assert.Equal(["", "period 13", "period 13"], lines.Select(l => l.Fields.GetValueOrDefault("adjustment", "")));
        Assert.Equal("Adjustment", book.Table(Table.Ledger)!.Field("adjustment")!.Name);
    }

    [Fact]
    public void Budget_accounts_of_another_chart_are_mapped_many_to_one()
    {
        var look = new Dictionary<string, string>
        {
            ["B-10"] = "FARES",
            ["B-11"] = "FARES",
            ["B-20"] = "FUEL",
        }.ToImmutableDictionary();
        var mapping = TestBook.Mapping(
            TableKind.Plan,
            ("Month", "period"),
            ("Acct", "account"),
            ("Yard", "entity"),
            ("Amount", "amount")
        ) with
        {
            Sign = SignConvention.AsShown,
            LookUps = ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty.Add("account", look),
        };
        var receipt = Load(mapping, "Month,Acct,Yard,Amount\n2026-01,B-10,N1,70\n2026-01,B-11,N1,30\n2026-01,B-20,N1,40\n");
        Assert.Equal((60m, 2L), (receipt.Periods.Single().Net, receipt.Cells));
        Assert.StartsWith(
            "covers January 2026 and 1 entities; keeps account, entity",
            receipt.Coverage,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Rules_for_rows_warn_where_they_are_broken()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("Date", "date"),
            ("Account", "account"),
            ("Yard", "entity"),
            ("Amount", "amount")
        ) with
        {
            Checks = [new RowCheck("Size", "large", "Amount", 1000m, null)],
        };
        var warning = Assert.Single(
            _test
                .LoadBy(
                    mapping,
                    "Doc,Date,Account,Yard,Amount,Size\nA,2026-01-01,FARES,N1,5,large\nB,2026-01-01,FARES,N1,5000,large\nC,2026-01-01,FARES,N1,5,small\n"u8.ToArray()
                )
                .Warnings
        );
        Assert.Equal(("rule", 1L, "first on line 2"), (warning.Check, warning.Count, warning.Where));
    }

    [Fact]
    public void Accounts_come_from_names_that_are_set_in_below_each_other()
    {
        _test.Load(
            "Code,Name,Type\nOPS,Operations,cost\nYRD,  Yard,cost\n71,    Ropes,cost\n72,    Paint,cost\nOFF,  Office,cost\n",
            TableKind.Accounts
        );
        var book = _test.Open.Store.Read();
        Assert.Equal(
            ["OPS", "YRD", "72"],
            book.TryMember(1, "72", out var paint) ? book.PathTo(paint.Id).Select(id => book.Member(id).Code) : []
        );
        Assert.Equal(
            ["OPS", "OFF"],
            book.TryMember(1, "OFF", out var office) ? book.PathTo(office.Id).Select(id => book.Member(id).Code) : []
        );
        Assert.Equal("Paint", paint!.Name);
    }

    [Fact]
    public void Sums_are_told_by_type_of_account_and_columns_without_a_heading_are_told()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("Date", "date"),
            ("Account", "account"),
            ("Yard", "entity"),
            ("Amount", "amount")
        );
        var receipt = Load(
            mapping,
            "Doc,Date,Account,Yard,Amount,\nA,2026-01-01,FARES,N1,5,\nA,2026-01-01,CASH,N1,-3,seen\nA,2026-01-01,FUEL,N1,-2,\n"
        );
        Assert.Equal(
            [(AccountType.Income, 5m), (AccountType.Cost, -2m), (AccountType.Asset, -3m)],
            receipt.Types.Select(t => (t.Type, t.Net))
        );
        Assert.Equal(
            ("columns with values and no heading", 1L, 3),
            receipt.LeftOut.Select(l => (l.What, l.Count, l.Rows[0])).Single()
        );
    }

    [Fact]
    public void Day_and_month_are_told_apart_by_the_whole_column()
    {
        var head = new RawRow(1, ["Date", "Account", "Entity", "Amount", "Document"]);
        var sample = Enumerable.Range(1, 5).Select(i => new RawRow(i + 1, [$"0{i}/02/2026", "FARES", "N1", "1", "A"])).ToList();
        var mapping = new Detection(_test.Open.Store.Read()).Propose(head, [], sample, TableKind.Ledger, null);
        Assert.Null(mapping.DateFormat);
        Assert.NotNull(CellForms.DecideDates(mapping, sample).Open);
        Assert.Equal(
            ("dd/MM/yyyy", null),
            (
                CellForms.DecideDates(mapping, [.. sample, new RawRow(9, ["28/02/2026", "FARES", "N1", "1", "B"])]).DateFormat,
                CellForms.DecideDates(mapping, [.. sample, new RawRow(9, ["02/28/2026", "FARES", "N1", "1", "B"])]).Open
            )
        );
        Assert.Equal(
            "MM/dd/yyyy",
            CellForms.DecideDates(mapping, [.. sample, new RawRow(9, ["02/28/2026", "FARES", "N1", "1", "B"])]).DateFormat
        );
    }

    [Fact]
    public void Entities_keep_their_currency_and_ownership()
    {
        _test.Load("Entity code,Name,Parent,Currency,Ownership\nN3,Cragside,N,sek,60%\nN4,Dunhead,N,EUR,\n", TableKind.Entities);
        var book = _test.Open.Store.Read();
        Assert.Equal(
            [new EntityTraits("SEK", 60m), EntityTraits.Whole],
            new[] { "N3", "N4" }.Select(c => book.TryMember(2, c, out var m) ? m.Entity : null)
        );
        Assert.Contains(
            "no part of ownership",
            Assert
                .Throws<RowsRefusedException>(() =>
                    _test.Load("Entity code,Name,Ownership\nN5,Elmouth,140\n", TableKind.Entities)
                )
                .Receipt.Refused[0]
                .First.Because,
            StringComparison.Ordinal
        );
    }

    private static T Wait<T>(ValueTask<T> task) => task.AsTask().GetAwaiter().GetResult();
}
