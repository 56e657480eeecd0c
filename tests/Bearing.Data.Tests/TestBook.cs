using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using Bearing.Data.Formats;

namespace Bearing.Data.Tests;

/// <summary>A book on disk in a folder of its own, with accounts and entities loaded, that takes CSV text as loads.</summary>
internal sealed class TestBook : IDisposable
{
    private static readonly LoadTarget Actual = new("actual", "Actual", ScenarioKind.Actual, "v1", null);
    private static readonly LoadTarget Budget = new("budget-26", "Budget 26", ScenarioKind.Budget, "v1", null);

    private BookShelf _shelf;
    private int _job;

    /// <param name="foreign">Currency in which Birkhaven keeps its books; the book's own when left out.</param>
    public TestBook(string? foreign = null)
    {
        Folder = Directory.CreateTempSubdirectory("bearing-test-").FullName;
        _shelf = new BookShelf(Folder, new DuckEngine(TimeProvider.System), TimeProvider.System);
        _shelf.TryCreate(
            new BookDefinition
            {
                Id = "test",
                Name = "Test",
                Currency = "EUR",
                ResultLine = "result",
                Dimensions =
                [
                    new(1, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(2, "entity", "Entity", DimensionRole.Entity, ["Region", "Yard"], []),
                    new(3, "route", "Route", DimensionRole.Other, ["Route"], []),
                ],
                Statement = [new StatementLine("result", "Result", ["INC", "COS"], [])],
            },
            Asker.Local
        );
        Load(
            "Code,Name,Parent,Type\nINC,Income,,income\nFARES,Fares,INC,income\nCOS,Costs,,cost\nFUEL,Fuel,COS,cost\nCASH,Cash,,asset\n",
            TableKind.Accounts
        );
        Load($"Code,Name,Parent,Currency\nN,North,,\nN1,Aldermouth,N,\nN2,Birkhaven,N,{foreign}\n", TableKind.Entities);
    }

    public string Folder { get; }

    public OpenBook Open => _shelf.Find("test")!;

    /// <summary>As after a new start of the service.</summary>
    public void Reopen()
    {
        _shelf.Dispose();
        _shelf = new BookShelf(Folder, new DuckEngine(TimeProvider.System), TimeProvider.System);
    }

    /// <summary>The engine below the door, for what tests have to see of the file itself.</summary>
    internal DuckStore Engine => ((DuckBook)Open.Store).Store;

    /// <summary>The figures in SQL, whatever would fit into memory.</summary>
    internal DuckFacts Sql(Book book, Sight? sight = null) =>
        new(Engine, book.Definition, new BookView(book.Edition, sight ?? Sight.All));

    public IBookWriter Writer => Open.Store.Writer(Asker.Local);

    public static string Ledger(params (string Document, string Date, string Account, string Entity, decimal Amount)[] lines) =>
        Rows(
            "Document,Date,Account,Entity,Route,Amount,Text",
            lines.Select(l =>
                $"{l.Document},{l.Date},{l.Account},{l.Entity},R1,{l.Amount.ToString(CultureInfo.InvariantCulture)},x"
            )
        );

    public static string Plan(params (string Period, string Account, string Entity, decimal Amount)[] lines) =>
        Rows(
            "Period,Account,Entity,Amount",
            lines.Select(l => $"{l.Period},{l.Account},{l.Entity},{l.Amount.ToString(CultureInfo.InvariantCulture)}")
        );

    /// <summary>Whether somebody agrees with the warnings of the next loads.</summary>
    public bool Agreed { get; set; } = true;

    public LoadReceipt Load(string csv, TableKind kind, LoadMode mode = LoadMode.Add, bool dry = false)
    {
        var path = Path.Combine(Folder, $"file-{_job}.csv");
        File.WriteAllText(path, csv);
        return LoadFile(path, kind, mode, dry);
    }

    public LoadReceipt LoadFile(
        string path,
        TableKind kind,
        LoadMode mode = LoadMode.Add,
        bool dry = false,
        CancellationToken cancel = default
    )
    {
        var source = SourceFile.Open(path);
        var head = SourceFile.Head(source.Sheets[0], 200);
        var mapping = new Detection(Open.Store.Read()).Propose(head[0], [], head[1..], kind, null);
        if (kind == TableKind.Ledger)
            mapping = mapping with { Sign = SignConvention.CreditPositive };
        var target =
            !mapping.HasFigures ? null
            : kind == TableKind.Plan ? Budget
            : Actual;
        return Run(
            new LoadCommand(
                $"job-{_job++}",
                Path.GetFileName(path),
                Guid.NewGuid().ToString("n"),
                source.Sheets,
                mapping,
                target,
                mode
            )
            {
                Agreed = Agreed,
            },
            dry,
            cancel
        );
    }

    /// <summary>By heading and role; dates as 2026-09-15, amounts credit-positive, records into a table of invoices.</summary>
    public static FileMapping Mapping(TableKind kind, params (string Heading, string? Role)[] columns) =>
        new(
            kind,
            [.. columns.Select(c => new ColumnMapping(c.Heading, c.Role, ""))],
            SignConvention.CreditPositive,
            "yyyy-MM-dd",
            false,
            null
        )
        {
            Table = kind == TableKind.Records ? "invoices" : null,
        };

    /// <summary>Loads bytes by a mapping of the test's own.</summary>
    /// <param name="headings">Text of the file of journal headings.</param>
    /// <param name="dry">Show and change nothing.</param>
    public LoadReceipt LoadBy(
        FileMapping mapping,
        byte[] bytes,
        LoadMode mode = LoadMode.Add,
        string? content = null,
        string? headings = null,
        string? refusedFile = null,
        bool dry = false
    )
    {
        var path = Path.Combine(Folder, $"given-{_job}");
        File.WriteAllBytes(path, bytes);
        if (headings is not null)
            File.WriteAllText(path + "-headings", headings);
        var target =
            !mapping.HasFigures ? null
            : mapping.Kind == TableKind.Plan ? Budget
            : Actual;
        var command = new LoadCommand(
            $"job-{_job++}",
            "given",
            content ?? Guid.NewGuid().ToString("n"),
            SourceFile.Open(path).Sheets,
            mapping,
            target,
            mode
        )
        {
            Targets = new Dictionary<string, LoadTarget> { [Budget.Scenario] = Budget },
            Headings = headings is null ? null : SourceFile.Open(path + "-headings").Sheets,
            Agreed = Agreed,
            RefusedFile = refusedFile,
        };
        return Run(command, dry, default);
    }

    private LoadReceipt Run(LoadCommand command, bool dry, CancellationToken cancel) =>
        dry ? Writer.Preview(command, null, cancel) : Writer.Load(command, null, cancel);

    /// <summary>Everything that an edition holds, in a form that can be compared.</summary>
    public string Contents(int? edition = null)
    {
        var at = Open.Store.Read(edition);
        using var connection = Engine.Open();
        var cells = Sql(at)
            .ReadCells(connection)
            .Select(c =>
                $"{at.Definition.Scenarios.Single(s => s.Versions.Any(v => v.Id == c.Version)).Code} {c.Period} {string.Join(',', c.Members.Select(m => at.Label(m).Code))} {c.Units} {c.Lines}"
            )
            .Order(StringComparer.Ordinal);
        var members = at
            .Members.Select(m => $"{m.DimensionId} {m.Code} {m.Name} {(m.ParentId is { } p ? at.Member(p).Code : "")}")
            .Order(StringComparer.Ordinal);
        return string.Join('\n', cells.Concat(members));
    }

    public void Dispose()
    {
        _shelf.Dispose();
        Directory.Delete(Folder, true);
    }

    private static string Rows(string heading, IEnumerable<string> rows) => string.Join('\n', rows.Prepend(heading)) + "\n";
}
