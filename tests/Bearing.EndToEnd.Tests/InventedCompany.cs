using System.Text.Json;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A company of tests/fixtures, loaded from its files as a person would.</summary>
/// <param name="folder">Folder of the fixture: book.json, and files as make.py writes them.</param>
internal sealed class InventedCompany(BearingClient client, string folder, string id)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public string File(string file) => Path.Combine(Repository.Root, "tests", "fixtures", folder, file);

    /// <param name="dimensions">File and the dimension whose members it lists.</param>
    /// <param name="scenarios">File of a further plan and its name.</param>
    public async Task Load(string entities, IReadOnlyList<(string File, string Dimension)> dimensions, IReadOnlyList<(string File, string Name)> scenarios)
    {
        await client.Create(JsonSerializer.Deserialize<NewBook>(await System.IO.File.ReadAllTextAsync(File("book.json"), Cancel), JsonSerializerOptions.Web)!, Cancel);
        foreach (var file in new[] { "accounts.csv", entities }) await Load(file);
        foreach (var (file, dimension) in dimensions) await Load(file, dimension: dimension);
        foreach (var file in new[] { "rates.csv", "ledger-fy25.csv.gz", "ledger-fy26.csv.gz" }.Where(f => System.IO.File.Exists(File(f)))) await Load(file);
        // One company counts nothing and has no budget.
        foreach (var (file, scenario) in new[] { ("budget-fy26.csv.gz", "budget-fy26"), ("statistics.csv", null), ("statistics-budget.csv", "budget-fy26") }.Where(f => System.IO.File.Exists(File(f.Item1)))) await Load(file, scenario: scenario);
        foreach (var table in new[] { "payables", "receivables" }.Where(t => System.IO.File.Exists(File($"{t}.csv")))) await Load($"{table}.csv", table: table);
        foreach (var (file, name) in scenarios) await Load(file, scenario: name);
    }

    /// <summary>Holds the answers against the expected ones, and keeps the report beside the others.</summary>
    /// <param name="least">As expected so far; to be raised with every mechanism.</param>
    public async Task Score(int firstMonth, int least)
    {
        var scored = await new QuestionScore(firstMonth).Score(client, id, File("questions.jsonl"), Cancel);
        var report = QuestionScore.Report(scored);
        await System.IO.File.WriteAllTextAsync(Path.Combine(Repository.Root, "out", $"questions-{folder}.txt"), report, Cancel);
        Assert.True(scored.Count(s => s.Verdict == Verdict.AsExpected) >= least, report);
        Assert.False(scored.Exists(s => s.Verdict == Verdict.SilentlyWrong), report);
    }

    private async Task Load(string file, string? dimension = null, string? scenario = null, string? table = null)
    {
        await using var content = System.IO.File.OpenRead(File(file));
        var upload = await client.Upload(id, file, content, Cancel);
        var job = await client.Load(id, new LoadRequest(upload.Id, dimension is not null ? "members" : table is not null ? "records" : null, Dimension: dimension, Scenario: scenario, Table: table, Agreed: true), file, Cancel);
        await foreach (var state in client.Follow(id, job.Id, Cancel)) job = state;
        Assert.True(job.Receipt is not null, $"{file}: {job.Problem?.Detail}");
    }
}
