using System.ComponentModel.DataAnnotations;
using System.Globalization;
using CsvHelper;

namespace Bearing.DemoLedger;

/// <summary>An account as the ledger system numbers it.</summary>
public sealed record Account([property: Key] string AccountNo, string Name, string Type);

/// <summary>What all lines of a journal have in common. The amount is that of one side.</summary>
public sealed record JournalHeading(
    [property: Key] string JournalNo,
    DateOnly PostingDate,
    string Entity,
    int Lines,
    decimal Amount
);

public sealed record JournalLine(
    [property: Key] string LineId,
    string JournalNo,
    int LineNo,
    string AccountNo,
    string Department,
    string Route,
    string Vessel,
    decimal Debit,
    decimal Credit,
    string Currency,
    decimal LocalAmount,
    string Text
);

/// <summary>A supplier's invoice, open or settled.</summary>
public sealed record OpenItem(
    [property: Key] string ItemNo,
    string Supplier,
    string Entity,
    DateOnly InvoiceDate,
    DateOnly DueDate,
    decimal Amount,
    decimal Paid,
    DateOnly? PaidDate,
    string Status
);

/// <summary>The simulated system's books, read once from the demo company's files.</summary>
public sealed class Books
{
    /// <param name="folder">With accounts.csv, ledger-*.csv and open-items.csv.</param>
    public Books(string folder)
    {
        Accounts =
        [
            .. Read(folder, "accounts.csv")
                .Where(r => r["Type"].Length > 0)
                .Select(r => new Account(r["Code"], r["Name"], r["Type"])),
        ];
        var lines = Directory
            .GetFiles(folder, "ledger-*.csv")
            .Order(StringComparer.Ordinal)
            .SelectMany(f => Read(folder, Path.GetFileName(f)))
            .ToList();
        Lines =
        [
            .. lines.Select(r => new JournalLine(
                $"{r["Document"]}/{r["Line"]}",
                r["Document"],
                int.Parse(r["Line"], CultureInfo.InvariantCulture),
                r["Account"],
                r["Department"],
                r["Route"],
                r["Vessel"],
                Number(r["Debit"]),
                Number(r["Credit"]),
                r["Currency"],
                Number(r["Local amount"]),
                r["Text"]
            )),
        ];
        Headings =
        [
            .. lines
                .GroupBy(r => r["Document"])
                .Select(g => new JournalHeading(
                    g.Key,
                    Day(g.First()["Date"])!.Value,
                    g.First()["Entity"],
                    g.Count(),
                    g.Sum(r => Number(r["Debit"]))
                )),
        ];
        OpenItems =
        [
            .. Read(folder, "open-items.csv")
                .Select(r => new OpenItem(
                    r["ItemNo"],
                    r["Supplier"],
                    r["Entity"],
                    Day(r["InvoiceDate"])!.Value,
                    Day(r["DueDate"])!.Value,
                    Number(r["Amount"]),
                    Number(r["Paid"]),
                    Day(r["PaidDate"]),
                    r["Status"]
                )),
        ];
    }

    public IReadOnlyList<Account> Accounts { get; }
    public IReadOnlyList<JournalHeading> Headings { get; }
    public IReadOnlyList<JournalLine> Lines { get; }
    public IReadOnlyList<OpenItem> OpenItems { get; }

    private static decimal Number(string text) => text.Length == 0 ? 0m : decimal.Parse(text, CultureInfo.InvariantCulture);

    private static DateOnly? Day(string text) =>
        text.Length == 0 ? null : DateOnly.ParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static List<Dictionary<string, string>> Read(string folder, string file)
    {
        using var reader = CsvReader.FromFile(Path.Combine(folder, file), new CsvReaderOptions { HasHeader = false });
        var rows = new List<string[]>();
        while (reader.Read())
            rows.Add([.. Enumerable.Range(0, reader.FieldCount).Select(i => reader.GetString(i))]);
        return [.. rows.Skip(1).Select(r => rows[0].Zip(r).ToDictionary(p => p.First, p => p.Second))];
    }
}
