using System.Diagnostics;
using System.Security.Cryptography;
using System.Text.Json;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.State;
using Bearing.EndToEnd.Tests;
using Bearing.Service.Asking;
using Bearing.Service.Books;
using Bearing.Service.Loading;

namespace Bearing.Questions.Tests;

/// <summary>An invented company: one script says what it is and one what is asked of it; its files are made when they are
/// needed.</summary>
/// <param name="Folder">Of tests/fixtures, with make.py and questions.py.</param>
/// <param name="Id">Of its book.</param>
/// <param name="Members">File and the dimension whose members it lists.</param>
/// <param name="Plans">File of a further plan and its name.</param>
/// <param name="FirstMonth">Month in which its fiscal year begins.</param>
/// <param name="Least">Questions answered as expected so far; to be raised with every mechanism.</param>
public sealed record InventedCompany(
    string Folder,
    string Id,
    string Entities,
    (string File, string Dimension)[] Members,
    (string File, string Name)[] Plans,
    int FirstMonth,
    int Least
)
{
    public override string ToString() => Folder;

    /// <summary>Where its files lie: made by "make companies", or here where nobody did.</summary>
    public string File(string name) => Path.Combine(Repository.Root, "out", "companies", Folder, name);

    public string Source(string name) => Path.Combine(Repository.Root, "tests", "fixtures", Folder, name);

    /// <summary>Loads it in process, as the service would, and gives its book ready to be asked.</summary>
    public async Task<OpenBook> Open(BookShelf shelf, CancellationToken cancel)
    {
        await Make(cancel);
        var definition = BookDefinitionReader.Read(
            JsonSerializer.Deserialize<NewBook>(
                await System.IO.File.ReadAllTextAsync(File("book.json"), cancel),
                JsonSerializerOptions.Web
            )!
        );
        shelf.TryCreate(definition, Asker.Local);
        var open = shelf.Find(Id)!;
        foreach (var file in new[] { "accounts.csv", Entities })
            Load(open, file, definition.Currency);
        foreach (var (file, dimension) in Members)
            Load(open, file, definition.Currency, dimension: dimension);
        foreach (var file in Present("rates.csv", "ledger-fy25.csv.gz", "ledger-fy26.csv.gz"))
            Load(open, file, definition.Currency);
        foreach (var file in Present("budget-fy26.csv.gz", "statistics.csv", "statistics-budget.csv"))
            Load(open, file, definition.Currency, scenario: file == "statistics.csv" ? null : "budget-fy26");
        foreach (var file in Present("payables.csv", "receivables.csv"))
            Load(open, file, definition.Currency, table: Path.GetFileNameWithoutExtension(file));
        foreach (var (file, name) in Plans)
            Load(open, file, definition.Currency, scenario: name);
        return open;
    }

    private IEnumerable<string> Present(params string[] files) => files.Where(f => System.IO.File.Exists(File(f)));

    /// <param name="home">Its files hold amounts in the group's currency, also of those who keep their books in another.</param>
    private void Load(
        OpenBook open,
        string file,
        string home,
        string? dimension = null,
        string? scenario = null,
        string? table = null
    )
    {
        var bytes = System.IO.File.ReadAllBytes(File(file));
        var sha = Convert.ToHexStringLower(SHA256.HashData(bytes));
        System.IO.File.WriteAllBytes(open.Incoming(sha), bytes);
        var request = new LoadRequest(
            "",
            dimension is not null ? "members"
                : table is not null ? "records"
                : null,
            Dimension: dimension,
            Scenario: scenario,
            Table: table,
            Agreed: true,
            Currency: home
        );
        var plan = new LoadPlanner(open, request).Plan(
            new UploadRow
            {
                Id = file,
                Book = Id,
                FileName = file,
                Sha256 = sha,
            },
            null,
            file
        );
        open.Store.Writer(Asker.Local).Load(plan.Command, null, default);
    }

    private async Task Make(CancellationToken cancel)
    {
        if (System.IO.File.Exists(File("questions.jsonl")))
            return;
        Directory.CreateDirectory(File(""));
        using var make = Process.Start(
            new ProcessStartInfo("python3", [Source("make.py"), File("")]) { RedirectStandardError = true }
        )!;
        var said = await make.StandardError.ReadToEndAsync(cancel);
        await make.WaitForExitAsync(cancel);
        if (make.ExitCode != 0)
            throw new InvalidOperationException($"{Source("make.py")}: {said}");
    }
}
