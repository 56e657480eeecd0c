using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using Bearing.Data.Formats;

namespace Bearing.Bench;

/// <summary>A made-up company of any size: 60 accounts, 12 entities, 20 routes, 12 months of balanced journals.</summary>
internal static class Company
{
    private const int Accounts = 60;
    private const int Entities = 12;

    public static LoadTarget Actual { get; } = new("actual", "Actual", ScenarioKind.Actual, "v1", null);

    /// <param name="suppliers">Members of a dimension with names of their own.</param>
    /// <param name="currency">In which all entities keep their books; the book's own when left out.</param>
    public static OpenBook NewBook(BookShelf shelf, string folder, int suppliers = 0, string currency = "")
    {
        shelf.TryCreate(
            new BookDefinition
            {
                Id = "bench",
                Name = "Bench",
                Currency = "EUR",
                ResultLine = "result",
                Dimensions =
                [
                    new(1, "account", "Account", DimensionRole.Account, ["Group", "Account"], []),
                    new(2, "entity", "Entity", DimensionRole.Entity, ["Entity"], []),
                    new(3, "route", "Route", DimensionRole.Other, ["Route"], []),
                    new(4, "supplier", "Supplier", DimensionRole.Other, ["Supplier"], []),
                ],
                Statement = [new StatementLine("result", "Result", ["INC", "COS"], [])],
            },
            Asker.Local
        );
        var book = shelf.Find("bench")!;
        LoadText(
            book,
            folder,
            TableKind.Accounts,
            "Code,Name,Parent,Type\nINC,Income,,income\nCOS,Costs,,cost\n"
                + string.Concat(
                    Enumerable
                        .Range(0, Accounts)
                        .Select(i => $"{Account(i)},Account {i},{(i < Accounts / 3 ? "INC,income" : "COS,cost")}\n")
                )
        );
        LoadText(
            book,
            folder,
            TableKind.Entities,
            "Code,Name,Currency\n" + string.Concat(Enumerable.Range(0, Entities).Select(i => $"E{i:D2},Entity {i},{currency}\n"))
        );
        string[] kinds =
        [
            "Harbourline",
            "Quaystone",
            "Millbrook",
            "Sandvale",
            "Oxtarn",
            "Fernhithe",
            "Greywater",
            "Larkmoor",
            "Pinewharf",
            "Coldbeck",
        ];
        if (suppliers > 0)
            LoadText(
                book,
                folder,
                TableKind.Members,
                "Code,Name\n"
                    + string.Concat(
                        Enumerable.Range(0, suppliers).Select(i => $"S{i:D5},{kinds[i % 10]} {i} {kinds[i / 10 % 10]} Trading\n")
                    ),
                "supplier"
            );
        return book;
    }

    public static void WriteLedger(string path, long lines)
    {
        using var file = new StreamWriter(path);
        file.WriteLine("Document,Line,Date,Entity,Account,Route,Debit,Credit,Text");
        var random = new Random(7);
        for (var i = 0L; i < lines; i += 2)
        {
            var amount = (random.Next(100, 900_000) / 100m).ToString(CultureInfo.InvariantCulture);
            var (date, entity, route) = (
                new DateOnly(2026, 1, 1).AddDays(random.Next(365)),
                random.Next(Entities),
                random.Next(20)
            );
            file.WriteLine(
                $"D{i / 2},1,{date:yyyy-MM-dd},E{entity:D2},{Account(random.Next(Accounts))},R{route:D2},{amount},,posting {i}"
            );
            file.WriteLine(
                $"D{i / 2},2,{date:yyyy-MM-dd},E{entity:D2},{Account(random.Next(Accounts))},R{route:D2},,{amount},posting {i + 1}"
            );
        }
    }

    /// <param name="currency">As <see cref="FileMapping.Currency"/>.</param>
    public static LoadReceipt Load(OpenBook book, string path, TableKind kind, string? dimension = null, string? currency = null)
    {
        var source = SourceFile.Open(path);
        var head = SourceFile.Head(source.Sheets[0], 200);
        var mapping = new Detection(book.Store.Read()).Propose(head[0], [], head[1..], kind, dimension) with
        {
            Currency = currency,
        };
        return book
            .Store.Writer(Asker.Local)
            .Load(
                new LoadCommand(
                    path,
                    Path.GetFileName(path),
                    path,
                    source.Sheets,
                    mapping,
                    mapping.IsReference ? null : Actual,
                    LoadMode.Add
                )
                {
                    Agreed = true,
                },
                null,
                default
            );
    }

    public static LoadReceipt LoadRates(OpenBook book, string folder, decimal rate) =>
        LoadText(
            book,
            folder,
            TableKind.Rates,
            "Month,Currency,Average\n"
                + string.Concat(Enumerable.Range(1, 12).Select(m => FormattableString.Invariant($"2026-{m:D2},SEK,{rate}\n")))
        );

    private static LoadReceipt LoadText(OpenBook book, string folder, TableKind kind, string csv, string? dimension = null)
    {
        var path = Path.Combine(folder, $"{kind}-{Path.GetRandomFileName()}.csv");
        File.WriteAllText(path, csv);
        return Load(book, path, kind, dimension);
    }

    private static string Account(int i) => (4000 + (i * 10)).ToString(CultureInfo.InvariantCulture);
}
