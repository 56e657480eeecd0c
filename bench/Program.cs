using System.Diagnostics;
using System.Globalization;
using Bearing.Bench;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Core.Reading;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using DuckDB.NET.Data;

// Every figure is a ratio of two things done side by side; each side runs in a process of its own, so that peaks of memory are
// its own.
CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;
switch (args)
{
    case ["bare", var ledger, var folder]:
        Bare(ledger, folder);
        return 0;
    case ["load", var ledger, var folder]:
        Load(ledger, folder);
        return 0;
    case ["retranslate", var ledger, var folder]:
        Retranslate(ledger, folder);
        return 0;
    case ["read", var folder]:
        Read(folder);
        return 0;
    case ["all", .. var sizes] when sizes.All(s => long.TryParse(s, out _)):
        foreach (var size in sizes)
            Compare(long.Parse(size, CultureInfo.InvariantCulture));
        Alone("read", Directory.CreateTempSubdirectory("bearing-bench-").FullName);
        return 0;
    default:
        Console.Error.WriteLine(
            "bearing-bench all LINES...   (or one side alone: bare|load|retranslate LEDGER FOLDER, read FOLDER)"
        );
        return 2;
}

static void Compare(long lines)
{
    var folder = Directory.CreateTempSubdirectory("bearing-bench-").FullName;
    var ledger = Path.Combine(folder, "ledger.csv");
    Company.WriteLedger(ledger, lines);
    // Each side twice, in turn; the faster of the two counts.
    var bare = double.MaxValue;
    var load = double.MaxValue;
    for (var round = 0; round < 2; round++)
    {
        bare = Math.Min(bare, Alone("bare", ledger, Path.Combine(folder, $"bare{round}")));
        load = Math.Min(load, Alone("load", ledger, Path.Combine(folder, $"load{round}")));
    }
    Console.WriteLine(
        $"load of {lines:N0} lines: {load / bare:F2} times the engine's bare import ({load:F1} s against {bare:F1} s)"
    );
    var anew = Alone("retranslate", ledger, Path.Combine(folder, "anew"));
    Console.WriteLine(
        $"retranslation of {lines:N0} lines: {anew / bare:F2} times the engine's bare import ({anew:F1} s against {bare:F1} s)"
    );
    Directory.Delete(folder, true);
}

static double Alone(params string[] arguments)
{
    using var process = Process.Start(
        new ProcessStartInfo(
            Environment.ProcessPath!,
            arguments
                .Prepend(Environment.GetCommandLineArgs()[0])
                .Where(a => !a.EndsWith("bearing-bench", StringComparison.Ordinal))
        )
        {
            RedirectStandardOutput = true,
        }
    )!;
    var output = process.StandardOutput.ReadToEnd();
    process.WaitForExit();
    Console.Write(output);
    if (process.ExitCode != 0)
        throw new InvalidOperationException($"{string.Join(' ', arguments)} ended with {process.ExitCode}.");
    // A side that measures time ends its line with it: "…, 3.57 s".
    return output.TrimEnd().Split(' ') is [.., var seconds, "s"] ? double.Parse(seconds, CultureInfo.InvariantCulture) : 0;
}

static void Report(string what, TimeSpan took)
{
    var peak = File.ReadLines("/proc/self/status")
        .First(l => l.StartsWith("VmHWM", StringComparison.Ordinal))
        .Split(':')[1]
        .Trim();
    Console.WriteLine($"  {what}: peak {peak}, {took.TotalSeconds:F2} s");
}

static void Bare(string ledger, string folder)
{
    Directory.CreateDirectory(folder);
    var watch = Stopwatch.StartNew();
    using var connection = new DuckDBConnection($"Data Source={Path.Combine(folder, "bare.duckdb")}");
    connection.Open();
    using var command = connection.CreateCommand();
    command.CommandText =
        "SET memory_limit = '512MB'; CREATE TABLE lines AS SELECT * FROM read_csv($path, types = {'Debit': 'DECIMAL(18,4)', 'Credit': 'DECIMAL(18,4)', 'Account': 'VARCHAR'})".Replace(
            "$path",
            $"'{ledger}'",
            StringComparison.Ordinal
        );
    command.ExecuteNonQuery();
    connection.Close();
    Report("bare import", watch.Elapsed);
}

static void Load(string ledger, string folder)
{
    Directory.CreateDirectory(folder);
    using var shelf = new BookShelf(folder, new DuckEngine(TimeProvider.System), TimeProvider.System);
    var book = Company.NewBook(shelf, folder);
    var watch = Stopwatch.StartNew();
    var receipt = Company.Load(book, ledger, TableKind.Ledger);
    Report($"load with checks, cells and receipt ({receipt.Cells:N0} cells)", watch.Elapsed);
}

// All of a year's lines in another currency, whose rates change.
static void Retranslate(string ledger, string folder)
{
    Directory.CreateDirectory(folder);
    using var shelf = new BookShelf(folder, new DuckEngine(TimeProvider.System), TimeProvider.System);
    var book = Company.NewBook(shelf, folder, currency: "SEK");
    Company.LoadRates(book, folder, 11.2m);
    Company.Load(book, ledger, TableKind.Ledger, currency: FileMapping.LocalCurrency);
    var watch = Stopwatch.StartNew();
    var receipt = Company.LoadRates(book, folder, 11.5m);
    Report($"rates of twelve months for lines that were loaded ({string.Join("; ", receipt.Translated)})", watch.Elapsed);
}

static void Read(string folder)
{
    const int members = 20_000;
    using var shelf = new BookShelf(folder, new DuckEngine(TimeProvider.System), TimeProvider.System);
    var edition = Company.NewBook(shelf, folder, members);
    Company.WriteLedger(Path.Combine(folder, "ledger.csv"), 20_000);
    Company.Load(edition, Path.Combine(folder, "ledger.csv"), TableKind.Ledger);
    var open = edition.Edition();
    var first = new FirstReader(open.Book, open.Words, Vocabulary.English);
    var second = new Reader(open.Book, open.Words, Vocabulary.English);
    var completer = new Completer(open.Book, open.Words, Vocabulary.English);
    foreach (
        var question in (string[])
            [
                "account 12 by entity and month in Q3 2026",
                "why did costs of Harbourline 12345 rise in August versus last year",
                "acount 12 by enttiy and montth in Q3 2026",
            ]
    )
    {
        Time($"reading “{question}”, {open.Book.Members.Count():N0} members, first reader", () => first.Read(question));
        Time("the same, second reader with its guard", () => second.Read(question, Talk.New));
    }
    foreach (var typed in (string[])["costs of harb", "why did acc", "q"])
        Time($"completing “{typed}”", () => completer.Complete(typed));
}

static void Time(string what, Action action)
{
    const int rounds = 200;
    // Until the runtime has compiled for good what is called often, as in a service that has been up for a while.
    for (var warm = Stopwatch.StartNew(); warm.Elapsed < TimeSpan.FromSeconds(8); )
        action();
    var watch = Stopwatch.StartNew();
    for (var i = 0; i < rounds; i++)
        action();
    Console.WriteLine($"{what}: {watch.Elapsed.TotalMilliseconds / rounds:F2} ms");
}
