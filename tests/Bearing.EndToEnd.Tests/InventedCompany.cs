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
    /// <param name="forecast">File of the forecast and its name.</param>
    public async Task Load(string entities, IReadOnlyList<(string File, string Dimension)> dimensions, (string File, string Name) forecast)
    {
        await client.Create(JsonSerializer.Deserialize<NewBook>(await System.IO.File.ReadAllTextAsync(File("book.json"), Cancel), JsonSerializerOptions.Web)!, Cancel);
        foreach (var file in new[] { "accounts.csv", entities }) await Load(file);
        foreach (var (file, dimension) in dimensions) await Load(file, dimension: dimension);
        foreach (var file in new[] { "rates.csv", "ledger-fy25.csv.gz", "ledger-fy26.csv.gz" }) await Load(file);
        await Load("budget-fy26.csv.gz", scenario: "budget-fy26");
        await Load("statistics.csv");
        await Load("statistics-budget.csv", scenario: "budget-fy26");
        await Load("payables.csv", table: "payables");
        await Load(forecast.File, scenario: forecast.Name);
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
