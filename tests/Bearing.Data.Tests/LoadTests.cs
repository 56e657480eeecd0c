using System.Globalization;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Facts.Duck;
using CsCheck;
using Xunit;

namespace Bearing.Data.Tests;

/// <summary>A load lands whole or not at all, can be taken back, and never doubles what is there.</summary>
public sealed class LoadTests : IDisposable
{
    private static readonly string January = TestBook.Ledger(
        ("A1", "2026-01-10", "FARES", "N1", 100m),
        ("A2", "2026-01-11", "FUEL", "N1", -40m),
        ("A3", "2026-01-12", "FARES", "N2", 60m)
    );
    private static readonly string Corrected = TestBook.Ledger(
        ("A1", "2026-01-10", "FARES", "N1", 110m),
        ("A4", "2026-01-15", "FUEL", "N1", -45m)
    );

    private readonly TestBook _test = new();

    public void Dispose() => _test.Dispose();

    [Fact]
    public void A_receipt_counts_rows_and_gives_control_totals()
    {
        var receipt = _test.Load(January, TableKind.Ledger);
        Assert.Equal((3L, 3L, 0L, 3L), (receipt.RowsRead, receipt.RowsTaken, receipt.RefusedRows, receipt.Cells));
        var january = Assert.Single(receipt.Periods);
        Assert.Equal(
            ("2026-P01", 3L, 40m, 160m, 120m),
            (january.Period, january.Lines, january.Debit, january.Credit, january.Net)
        );
    }

    /// <summary>One statement a member once filled the engine's memory.</summary>
    [Fact]
    public void Twenty_thousand_members_and_a_plan_for_many_places_come_in_whole()
    {
        const int members = 20_000;
        var receipt = _test.Load(
            "Code,Name\n" + string.Concat(Enumerable.Range(0, members).Select(i => $"Y{i:D5},Yard {i}\n")),
            TableKind.Entities
        );
        Assert.Equal(members, receipt.RowsTaken);
        var ledger = TestBook.Ledger([
            .. Enumerable.Range(0, members).Select(i => ($"Q{i}", "2026-01-10", "FARES", $"Y{i:D5}", 1m)),
        ]);
        Assert.Equal((long)members, _test.Load(ledger, TableKind.Ledger).Cells);
        Assert.Equal(
            members,
            _test.Open.Store.Read().MembersOf(2).Count(m => m.Name.StartsWith("Yard ", StringComparison.Ordinal))
        );
    }

    [Fact]
    public void One_refused_row_means_that_nothing_lands()
    {
        var before = _test.Contents();
        var e = Assert.Throws<RowsRefusedException>(() =>
            _test.Load(January + "A9,2026-01-33,FARES,N1,R1,1,x\n", TableKind.Ledger)
        );
        Assert.Equal((1L, 5), (e.Receipt.RefusedRows, e.Receipt.Refused[0].Rows[0]));
        Assert.Equal(before, _test.Contents());
    }

    [Fact]
    public void A_preview_tells_all_and_changes_nothing()
    {
        var (before, edition) = (_test.Contents(), _test.Open.Store.Read().Edition);
        Assert.Equal(
            (0, 3L),
            (_test.Load(January, TableKind.Ledger, dry: true).Load, _test.Load(January, TableKind.Ledger, dry: true).RowsTaken)
        );
        Assert.Equal((before, edition), (_test.Contents(), _test.Open.Store.Read().Edition));
    }

    [Fact]
    public void Documents_already_there_are_refused_whatever_the_order_of_rows()
    {
        _test.Load(January, TableKind.Ledger);
        var before = _test.Contents();
        var shuffled = string.Join('\n', January.TrimEnd().Split('\n').Skip(1).Reverse().Prepend(January.Split('\n')[0])) + "\n";
        Assert.Contains(
            "3 documents",
            Assert.Throws<LoadRefusedException>(() => _test.Load(shuffled, TableKind.Ledger)).Message,
            StringComparison.Ordinal
        );
        Assert.Equal(before, _test.Contents());
    }

    [Fact]
    public void New_documents_of_the_same_month_are_added()
    {
        _test.Load(January, TableKind.Ledger);
        _test.Load(TestBook.Ledger(("B1", "2026-01-20", "FARES", "N1", 5m)), TableKind.Ledger);
        Assert.Contains("FARES,N1,R1 1050000 2", Merged(_test.Contents()), StringComparison.Ordinal);
    }

    [Fact]
    public void Replacing_supersedes_exactly_the_periods_and_entities_of_the_file()
    {
        _test.Load(January, TableKind.Ledger);
        var receipt = _test.Load(Corrected, TableKind.Ledger, LoadMode.Replace);
        Assert.Single(receipt.Supersedes);
        var contents = _test.Contents();
        Assert.Contains("FARES,N1,R1 1100000", contents, StringComparison.Ordinal);
        Assert.Contains("FARES,N2,R1 600000", contents, StringComparison.Ordinal);
        Assert.DoesNotContain("1000000", contents, StringComparison.Ordinal);
    }

    [Fact]
    public void A_plan_without_documents_is_not_loaded_twice()
    {
        var plan = TestBook.Plan(("2026-01", "FARES", "N1", 90m), ("2026-01", "FUEL", "N1", 30m));
        _test.Load(plan, TableKind.Plan);
        Assert.Throws<LoadRefusedException>(() => _test.Load(plan, TableKind.Plan));
        _test.Load(plan, TableKind.Plan, LoadMode.Replace);
        Assert.Contains("FUEL,N1,~not-kept -300000 1", _test.Contents(), StringComparison.Ordinal);
    }

    [Fact]
    public void Undo_brings_back_what_was_superseded_and_earlier_editions_stay_readable()
    {
        _test.Load(January, TableKind.Ledger);
        var (before, edition) = (_test.Contents(), _test.Open.Store.Read().Edition);
        var replaced = _test.Load(Corrected, TableKind.Ledger, LoadMode.Replace);
        var after = _test.Contents();
        _test.Writer.Undo(replaced.Load);
        Assert.Equal(before, _test.Contents());
        Assert.Equal((before, after), (_test.Contents(edition), _test.Contents(edition + 1)));
        Assert.Throws<LoadRefusedException>(() => _test.Writer.Undo(replaced.Load));
    }

    [Fact]
    public void A_load_that_a_later_one_builds_on_cannot_be_taken_back_first()
    {
        var first = _test.Load(January, TableKind.Ledger);
        var second = _test.Load(Corrected, TableKind.Ledger, LoadMode.Replace);
        Assert.Contains(
            $"{second.Load}",
            Assert.Throws<LoadRefusedException>(() => _test.Writer.Undo(first.Load)).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "FUEL",
            Assert.Throws<LoadRefusedException>(() => _test.Writer.Undo(1)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_changed_tree_is_an_edition_that_can_be_taken_back()
    {
        var before = _test.Contents();
        var moved = _test.Load("Code,Name,Parent\nN2,Birkhaven Yard,\n", TableKind.Entities);
        Assert.Contains("2 N2 Birkhaven Yard ", _test.Contents(), StringComparison.Ordinal);
        _test.Writer.Undo(moved.Load);
        Assert.Equal(before, _test.Contents());
    }

    [Fact]
    public void A_line_that_stands_twice_in_a_file_is_refused()
    {
        var csv = "Document,Line,Date,Account,Entity,Amount\nA1,1,2026-01-10,FARES,N1,1\nA1,1,2026-01-10,FUEL,N1,-1\n";
        Assert.Contains(
            "twice",
            Assert.Throws<LoadRefusedException>(() => _test.Load(csv, TableKind.Ledger)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Random_loads_and_undos_leave_what_a_fresh_book_would_hold() =>
        Gen.Select(Gen.Int[1, 3], Gen.Int[0, 1], Gen.Int[1, 9_999], Gen.Int[0, 3])
            .Array[2, 7]
            .Sample(
                steps =>
                {
                    using var test = new TestBook();
                    var kept = new Dictionary<(int Month, int Entity), Stack<(int Load, int Amount)>>();
                    foreach (var (month, entity, amount, action) in steps)
                    {
                        var stack = kept.TryGetValue((month, entity), out var known) ? known : kept[(month, entity)] = new();
                        if (action == 0 && stack.TryPop(out var last))
                            test.Writer.Undo(last.Load);
                        else
                            stack.Push(
                                (
                                    test.Load(
                                        TestBook.Ledger(
                                            ($"D{month}{entity}", $"2026-0{month}-10", "FARES", entity == 0 ? "N1" : "N2", amount)
                                        ),
                                        TableKind.Ledger,
                                        LoadMode.Replace
                                    ).Load,
                                    amount
                                )
                            );
                    }
                    using var fresh = new TestBook();
                    foreach (var (scope, stack) in kept.Where(k => k.Value.Count > 0))
                        fresh.Load(
                            TestBook.Ledger(
                                (
                                    $"D{scope.Month}{scope.Entity}",
                                    $"2026-0{scope.Month}-10",
                                    "FARES",
                                    scope.Entity == 0 ? "N1" : "N2",
                                    stack.Peek().Amount
                                )
                            ),
                            TableKind.Ledger
                        );
                    Assert.Equal(fresh.Contents(), test.Contents());
                },
                iter: 8
            );

    /// <summary>An earlier Bearing kept load, version and period with each line.</summary>
    [Fact]
    public void A_book_of_an_earlier_form_opens_with_all_it_held_and_takes_further_loads()
    {
        _test.Load(
            TestBook.Ledger(("J1", "2026-01-05", "FARES", "N1", 100m), ("J1", "2026-01-05", "CASH", "N1", -100m)),
            TableKind.Ledger
        );
        var before = _test.Contents();
        using (var connection = _test.Engine.Open())
            foreach (
                var sql in (string[])
                    [
                        "CREATE TABLE earlier AS SELECT * EXCLUDE (translated_from, rate, quotation, rate_set, rate_load) FROM lines",
                        "DROP VIEW lines",
                        "DROP TABLE postings",
                        "ALTER TABLE earlier RENAME TO lines",
                        "ALTER TABLE lines DROP COLUMN fields",
                        "ALTER TABLE cells DROP COLUMN local_amount",
                        "ALTER TABLE cells DROP COLUMN currency",
                        "ALTER TABLE cells DROP COLUMN translated",
                    ]
            )
                DuckStore.Execute(connection, sql);
        _test.Reopen();
        _test.Reopen();
        Assert.Equal(before, _test.Contents());
        Assert.Contains(
            "in the book already",
            Assert
                .Throws<LoadRefusedException>(() =>
                    _test.Load(
                        TestBook.Ledger(("J1", "2026-01-05", "FARES", "N1", 1m), ("J1", "2026-01-05", "CASH", "N1", -1m)),
                        TableKind.Ledger
                    )
                )
                .Message,
            StringComparison.Ordinal
        );
        Assert.Equal(
            2,
            _test
                .Load(
                    TestBook.Ledger(("J2", "2026-02-05", "FARES", "N1", 7m), ("J2", "2026-02-05", "CASH", "N1", -7m)),
                    TableKind.Ledger
                )
                .RowsTaken
        );
        using var after = _test.Engine.Open();
        Assert.Equal(4, DuckStore.Scalar<int>(after, "SELECT count(*) FROM lines JOIN loads USING (load)"));
    }

    [Fact]
    public void A_cancelled_load_leaves_nothing()
    {
        var before = _test.Contents();
        var path = Path.Combine(_test.Folder, "long.csv");
        File.WriteAllText(
            path,
            TestBook.Ledger([.. Enumerable.Range(0, 5_000).Select(i => ($"D{i}", "2026-01-10", "FARES", "N1", 1m))])
        );
        Assert.Throws<OperationCanceledException>(() =>
            _test.LoadFile(path, TableKind.Ledger, cancel: new CancellationToken(true))
        );
        Assert.Equal(before, _test.Contents());
    }

    /// <summary>Adds up cells of the same key, which two loads of one scope keep apart.</summary>
    private static string Merged(string contents) =>
        string.Join(
            '\n',
            contents
                .Split('\n')
                .Where(l => l.StartsWith("actual", StringComparison.Ordinal))
                .Select(l => l.Split(' '))
                .GroupBy(p => (p[1], p[2]))
                .Select(g =>
                    $"{g.Key.Item2} {g.Sum(p => long.Parse(p[3], System.Globalization.CultureInfo.InvariantCulture))} {g.Sum(p => int.Parse(p[4], System.Globalization.CultureInfo.InvariantCulture))}"
                )
        );

    /// <summary>What was taken back is kept, so that its editions can be read, until it is purged; then its room is used
    /// again.</summary>
    [Fact]
    public void What_was_taken_back_can_be_purged_and_the_file_stops_growing()
    {
        using var book = new TestBook();
        book.Load(
            TestBook.Ledger(("D1", "2026-01-05", "FARES", "N1", 100m), ("D1", "2026-01-05", "CASH", "N1", -100m)),
            TableKind.Ledger
        );
        var before = book.Contents();
        void Churn(int times)
        {
            for (var i = 0; i < times; i++)
                book.Writer.Undo(
                    book.Load(
                        TestBook.Ledger([
                            .. Enumerable
                                .Range(0, 1500)
                                .SelectMany(d =>
                                    new[]
                                    {
                                        ($"E{d}", "2026-02-05", "FARES", "N1", 1m + d),
                                        ($"E{d}", "2026-02-05", "CASH", "N1", -1m - d),
                                    }
                                ),
                        ]),
                        TableKind.Ledger
                    ).Load
                );
        }
        long Size()
        {
            book.Engine.Compact();
            return new DirectoryInfo(
                Path.GetDirectoryName(Directory.GetFiles(book.Folder, "facts.duckdb", SearchOption.AllDirectories).Single())!
            )
                .EnumerateFiles("facts.duckdb*")
                .Sum(f => f.Length);
        }
        Churn(4);
        var undone = book.Open.Store.Loads().Where(l => l.UndoneIn is not null).ToList();
        Assert.NotEqual(before, book.Contents(undone[0].Edition));
        Assert.Null(book.Writer.Purge(DateTime.UtcNow.AddDays(-1)));
        var full = Size();
        Assert.Equal(undone.Select(l => l.Load).Order(), book.Writer.Purge(DateTime.UtcNow)!.Loads);
        Assert.Equal(before, book.Contents());
        Assert.Equal(
            undone[0].Load,
            int.Parse(
                Assert.Throws<EditionPurgedException>(() => book.Contents(undone[0].Edition)).Message.Split(' ')[1],
                CultureInfo.InvariantCulture
            )
        );
        Assert.Equal(before, book.Contents(undone[^1].Edition - 1));
        Assert.Null(book.Writer.Purge(DateTime.UtcNow));
        Churn(4);
        book.Writer.Purge(DateTime.UtcNow);
        Churn(4);
        Assert.InRange(Size(), 1, full * 3 / 2);
    }
}
