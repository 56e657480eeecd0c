using System.Collections.Immutable;
using System.Text;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Facts.Duck;
using Bearing.Data.Formats;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>Loads of files as people receive them, down to the cells that they leave in the book.</summary>
public sealed class ReceivedFilesTests : IDisposable
{
    private readonly TestBook _test = new();

    public void Dispose() => _test.Dispose();

    private static byte[] Text(params string[] lines) => Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n");

    private static readonly FileMapping Ledger = TestBook.Mapping(
        TableKind.Ledger,
        ("Doc", "document"),
        ("Date", "date"),
        ("Acc", "account"),
        ("Ent", "entity"),
        ("Amt", "amount")
    );

    [Fact]
    public void A_document_that_does_not_balance_is_named_with_its_difference_and_lines_where_the_others_do()
    {
        var e = Assert.Throws<RowsRefusedException>(() =>
            _test.LoadBy(
                Ledger,
                Text(
                    "Doc;Date;Acc;Ent;Amt",
                    "J1;2026-01-05;FARES;N1;100",
                    "J1;2026-01-05;CASH;N1;-100",
                    "J2;2026-01-05;FARES;N1;50",
                    "J2;2026-01-05;CASH;N1;-49.90",
                    "J3;2026-01-05;FUEL;N1;-7",
                    "J3;2026-01-05;CASH;N1;7"
                )
            )
        );
        var cause = Assert.Single(e.Receipt.Refused);
        Assert.Equal([4, 5], cause.Rows);
        Assert.Contains(
            "J2 does not balance: its credits exceed its debits by 0.10",
            cause.First.Because,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData(true, false)]
    [InlineData(false, true)]
    [InlineData(null, true)]
    public void A_ledger_of_one_side_lands_unless_its_mapping_wants_whole_journals(bool? balanced, bool lands)
    {
        void Load() =>
            _test.LoadBy(
                Ledger with
                {
                    Balanced = balanced,
                },
                Text("Doc;Date;Acc;Ent;Amt", "J1;2026-01-05;FARES;N1;100", "J2;2026-01-06;FUEL;N1;-50")
            );
        if (lands)
            Load();
        else
            Assert.Throws<RowsRefusedException>(Load);
    }

    [Fact]
    public void The_same_content_is_refused_naming_the_load_and_lands_again_once_that_is_taken_back()
    {
        var bytes = Text("Doc;Date;Acc;Ent;Amt", "J1;2026-01-05;FARES;N1;100");
        var first = _test.LoadBy(Ledger, bytes, content: "same");
        var e = Assert.Throws<LoadRefusedException>(() => _test.LoadBy(Ledger, bytes, content: "same"));
        Assert.Contains($"already loaded: it came in as load {first.Load}", e.Message, StringComparison.Ordinal);
        _test.LoadBy(Ledger, bytes, LoadMode.Replace, "same");
        _test.Writer.Undo(first.Load + 1);
        _test.Writer.Undo(first.Load);
        _test.LoadBy(Ledger, bytes, content: "same");
    }

    [Fact]
    public void Other_names_reach_members_and_results_and_go_again_with_their_load()
    {
        var names = TestBook.Mapping(TableKind.Names, ("What", "code"), ("Also", "other names"));
        var before = Definition();
        var load = _test.LoadBy(names, Text("What;Also", "Fares;tickets", "FUEL;bunkers", "Result;bottom line"));
        Assert.Equal((3L, 0L), (load.RowsTaken, load.RefusedRows));
        Assert.Equal(["tickets"], Member("FARES").OtherNames);
        Assert.Equal(["bottom line"], Definition().Statement.Single().OtherNames);
        Assert.Throws<RowsRefusedException>(() => _test.LoadBy(names, Text("What;Also", "Nobody;x")));
        _test.Writer.Undo(load.Load);
        Assert.Empty(Member("FARES").OtherNames);
        Assert.Equal(before.Statement.Single().OtherNames, Definition().Statement.Single().OtherNames);

        BookDefinition Definition() => _test.Open.Store.Read().Definition;
        Member Member(string code) => _test.Open.Store.Read().Members.Single(m => m.Code == code);
    }

    [Fact]
    public void Columns_of_two_scenarios_land_in_both_and_go_together()
    {
        _test.LoadBy(
            TestBook.Mapping(TableKind.Accounts, ("Code", "code"), ("Name", "name"), ("Type", "type")),
            Text("Code;Name;Type", "TRIPS;Trips;statistic")
        );
        var before = _test.Contents();
        var mapping = TestBook.Mapping(TableKind.Statistics, ("Month", "period"), ("Ent", "entity"));
        mapping = mapping with
        {
            Columns = mapping.Columns.AddRange(
                new[] { ("Done", "actual"), ("Planned", "budget-26") }.Select(c => new ColumnMapping(c.Item1, "amount", "")
                {
                    Sets =
                        c.Item2 == "actual"
                            ? ImmutableDictionary<string, string>.Empty.Add("account", "TRIPS")
                            : ImmutableDictionary<string, string>.Empty.Add("account", "TRIPS").Add("scenario", c.Item2),
                })
            ),
        };
        var receipt = _test.LoadBy(mapping, Text("Month;Ent;Done;Planned", "2026-01;N1;12;10", "2026-02;N1;;11"));
        Assert.Equal([("Trips, Actual", 12m), ("Trips, Budget 26", 21m)], receipt.Periods.Select(p => (p.Name, p.Net)));
        Assert.Contains(
            $"budget-26 {new Period(2026, 2).Ordinal} TRIPS,N1,~not-kept 110000 1",
            _test.Contents(),
            StringComparison.Ordinal
        );
        _test.Writer.Undo(receipt.Load);
        Assert.Equal(before, _test.Contents());
    }

    [Fact]
    public void An_amount_that_its_scale_makes_too_large_is_refused_with_its_row()
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Date", "date"),
            ("Acc", "account"),
            ("Ent", "entity"),
            ("Amt", "amount")
        ) with
        {
            Scale = 1000m,
            Balanced = false,
        };
        var refused = Assert
            .Throws<RowsRefusedException>(() =>
                _test.LoadBy(
                    mapping,
                    Text("Date;Acc;Ent;Amt", "2026-01-05;FARES;N1;99999999999.99", "2026-01-05;FARES;N1;100000000000")
                )
            )
            .Receipt;
        Assert.Equal((1L, 3), (refused.RefusedRows, Assert.Single(refused.Refused).Rows[0]));
        Assert.Equal(
            99_999_999_999_990m,
            Math.Abs(_test.LoadBy(mapping, Text("Date;Acc;Ent;Amt", "2026-01-05;FARES;N1;99999999999.99")).Periods.Single().Net)
        );
    }

    [Fact]
    public void Sheets_of_one_shape_are_stacked_and_others_left_out()
    {
        static string Cells(params string[] texts) =>
            string.Concat(
                texts.Select(
                    (t, i) =>
                        decimal.TryParse(t, out _)
                            ? $"""<c r="{(char)('A' + i)}1"><v>{t}</v></c>"""
                            : $"""<c r="{(char)('A' + i)}1" t="inlineStr"><is><t>{t}</t></is></c>"""
                )
            );
        static string Row(int row, params string[] texts) => Cells(texts).Replace("1\"", $"{row}\"", StringComparison.Ordinal);
        var workbook = Workbooks.Make(
            ("Cover", [Row(1, "Approved")]),
            (
                "North",
                [
                    Row(1, "Title"),
                    Row(2, "Ent", "Acc", "Jan 26", "Feb 26"),
                    Row(3, "N1", "FARES", "1.5", "2.5"),
                    Row(4, "Total", "", "1.5", "2.5"),
                ]
            ),
            ("South", [Row(1, "Acc", "Ent", "2026-01", "2026-02"), Row(2, "FUEL", "N2", "3", "4")])
        );
        var receipt = _test.LoadBy(
            TestBook.Mapping(TableKind.Plan, ("Ent", "entity"), ("Acc", "account")) with
            {
                MonthsAcross = true,
                Scale = 1000m,
                Sign = SignConvention.AsShown,
            },
            workbook
        );
        Assert.Equal((2L, 4L), (receipt.RowsTaken, receipt.Cells));
        Assert.Equal([(-1500m, "2026-P01"), (-1500m, "2026-P02")], receipt.Periods.Select(p => (p.Net, p.Period)));
        Assert.Equal("1 of the file's own totals agree with its rows.", receipt.Totals);
        Assert.Contains("FUEL,N2,~not-kept -30000000 1", _test.Contents(), StringComparison.Ordinal);
    }

    [Fact]
    public void The_same_table_lands_the_same_from_text_json_and_a_workbook()
    {
        var mapping = Ledger with { Balanced = false };
        var contents = new[]
        {
            Text("Doc;Date;Acc;Ent;Amt", "J1;2026-01-05;FARES;N1;100.25", "J2;2026-02-05;FUEL;N2;-3"),
            Encoding.UTF8.GetBytes(
                """[{"Doc":"J1","Date":"2026-01-05","Acc":"FARES","Ent":"N1","Amt":100.25},{"Doc":"J2","Date":"2026-02-05","Acc":"FUEL","Ent":"N2","Amt":-3}]"""
            ),
            Text("Amt,Ent,Acc,Date,Doc", "100.25,N1,FARES,2026-01-05,J1", "-3,N2,FUEL,2026-02-05,J2"),
        }
            .Select(bytes =>
            {
                using var test = new TestBook();
                test.LoadBy(mapping, bytes);
                return test.Contents();
            })
            .Distinct();
        Assert.Single(contents);
    }

    /// <summary>Files in order are checked as they go by, others in the engine: both have to find the same.</summary>
    [Fact]
    public void Whether_documents_balance_does_not_depend_on_the_order_of_their_lines() =>
        Gen.Select(Gen.Int[1, 4].Array[2, 6], Gen.Int[0, 5], Gen.Int[0, 1000])
            .Sample(
                (sizes, broken, seed) =>
                {
                    using var test = new TestBook();
                    var mapping = Ledger with { Balanced = true };
                    var lines = sizes
                        .SelectMany(
                            (size, d) =>
                                Enumerable
                                    .Range(1, size)
                                    .SelectMany(i =>
                                        new[]
                                        {
                                            $"J{d:D2};2026-01-05;FARES;N1;{i}",
                                            $"J{d:D2};2026-01-05;CASH;N1;{(d == broken && i == 1 ? -i - 1 : -i)}",
                                        }
                                    )
                        )
                        .ToList();
                    var shuffled = lines.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    foreach (var order in (IEnumerable<string>[])[lines, Enumerable.Reverse(lines), shuffled])
                    {
                        string[] rows = ["Doc;Date;Acc;Ent;Amt", .. order];
                        if (broken < sizes.Length)
                            Assert.Contains(
                                $"J{broken:D2} does not balance",
                                Assert
                                    .Throws<RowsRefusedException>(() => test.LoadBy(mapping, Text(rows), dry: true))
                                    .Receipt.Refused.Single()
                                    .First.Because,
                                StringComparison.Ordinal
                            );
                        else
                            Assert.Equal(lines.Count, test.LoadBy(mapping, Text(rows), dry: true).RowsTaken);
                    }
                },
                iter: 12
            );

    /// <summary>A line number that comes twice is found wherever the second one stands.</summary>
    [Theory]
    [InlineData("J1;1", "J1;2", "J1;2")]
    [InlineData("J1;2", "J1;1", "J1;2")]
    [InlineData("J1;1", "J2;1", "J1;1")]
    [InlineData("J2;1", "J1;1", "J2;1")]
    public void A_line_that_is_there_twice_is_found_in_any_order(params string[] keys)
    {
        var mapping = TestBook.Mapping(
            TableKind.Ledger,
            ("Doc", "document"),
            ("No", "line"),
            ("Date", "date"),
            ("Acc", "account"),
            ("Ent", "entity"),
            ("Amt", "amount")
        ) with
        {
            Balanced = false,
        };
        var e = Assert.Throws<LoadRefusedException>(() =>
            _test.LoadBy(mapping, Text(["Doc;No;Date;Acc;Ent;Amt", .. keys.Select(k => $"{k};2026-01-05;FARES;N1;5")]))
        );
        Assert.Contains("stands in the file twice", e.Message, StringComparison.Ordinal);
        Assert.Equal(
            3,
            _test
                .LoadBy(
                    mapping,
                    Text(
                        "Doc;No;Date;Acc;Ent;Amt",
                        "J1;1;2026-01-05;FARES;N1;5",
                        "J1;2;2026-01-05;FARES;N1;5",
                        "J2;1;2026-01-05;FARES;N1;5"
                    ),
                    dry: true
                )
                .RowsTaken
        );
    }

    [Fact]
    public void Reading_ahead_hands_everything_on_in_order_and_ends_with_the_first_fault()
    {
        var taken = new List<int>();
        ReadAhead.Run(Enumerable.Range(0, 10_000), batches => taken.AddRange(batches.SelectMany(b => b)));
        Assert.Equal(Enumerable.Range(0, 10_000), taken);
        static IEnumerable<int> Faulty()
        {
            yield return 1;
            throw new InvalidDataException("line 2");
        }

        Assert.Equal(
            "line 2",
            Assert
                .Throws<InvalidDataException>(() =>
                    ReadAhead.Run(Faulty(), batches => taken.AddRange(batches.SelectMany(b => b)))
                )
                .Message
        );
        Assert.Equal(
            "full",
            Assert
                .Throws<IOException>(() => ReadAhead.Run(Enumerable.Range(0, int.MaxValue), _ => throw new IOException("full")))
                .Message
        );
    }

    [Fact]
    public void Any_text_under_good_headings_lands_or_is_refused_and_a_refusal_changes_nothing() =>
        Gen.Int[0, 7]
            .Select(i => new[] { "FARES", "N1", "2026-01-05", "1.5", "Total", "", "x\"y", "=1+1" }[i])
            .Array[5]
            .Array[1, 6]
            .Sample(
                rows =>
                {
                    using var test = new TestBook();
                    var before = test.Contents();
                    try
                    {
                        var receipt = test.LoadBy(
                            Ledger,
                            Text([
                                .. rows.Select(r =>
                                        string.Join(
                                            ';',
                                            r.Select(c => $"\"{c.Replace("\"", "\"\"", StringComparison.Ordinal)}\"")
                                        )
                                    )
                                    .Prepend("Doc;Date;Acc;Ent;Amt"),
                            ])
                        );
                        Assert.Equal(receipt.RowsRead, receipt.RowsTaken);
                    }
                    catch (Exception e) when (e is LoadRefusedException or RowsRefusedException)
                    {
                        Assert.Equal(before, test.Contents());
                    }
                },
                iter: 15
            );
}
