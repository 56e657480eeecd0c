using System.Text.Json;
using Bearing.Contracts;
using Bearing.Service.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Bearing.Service.Demo;

/// <summary>Makes the demo book and loads its files through the same doors that users have: HTTP, on the service's own
/// address.</summary>
public sealed class DemoLoader(
    IServer server,
    ServiceSettings settings,
    Readiness readiness,
    IHostApplicationLifetime lifetime,
    ILogger<DemoLoader> log
) : BackgroundService
{
    private sealed record DemoFile(
        string File,
        string Kind,
        string? Dimension,
        string? Scenario,
        string? Name,
        string? ScenarioKind,
        string? CutOff
    );

    /// <summary>What readiness waits for.</summary>
    public const string Waited = "the demo company is loaded";

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var started = new TaskCompletionSource();
        using var _ = lifetime.ApplicationStarted.Register(started.SetResult);
        await started.Task.WaitAsync(stoppingToken);
        var address = server
            .Features.Get<IServerAddressesFeature>()!
            .Addresses.First()
            .Replace("0.0.0.0", "127.0.0.1", StringComparison.Ordinal)
            .Replace("[::]", "127.0.0.1", StringComparison.Ordinal);
        using var http = new HttpClient { BaseAddress = new Uri(address + "/") };
        try
        {
            var book = await LoadAll(new BearingClient(http), stoppingToken);
            await FetchOpenItems(new BearingClient(http), book, stoppingToken);
            readiness.Done(Waited);
            log.LogInformation("Bearing is ready with the demo book: {Address}", address);
        }
        catch (Exception e) when (e is BearingProblemException or HttpRequestException or IOException)
        {
            log.LogError("The demo could not be loaded: {Why}", e.Message);
        }
    }

    /// <summary>The supplier invoices come from the simulated ledger system, where one is allowed and answers.</summary>
    private async Task FetchOpenItems(BearingClient client, string book, CancellationToken cancel)
    {
        const string source = "ledger-system",
            table = "open-items";
        if (
            settings.Allowed.FirstOrDefault(a => a.Scheme == "http") is not { } feed
            || (await client.Tables(book, cancel)).Any(t => t.Code == table)
        )
            return;
        await client.KeepSource(book, source, new NewSource("odata", feed.ToString()), cancel);
        var fetched = await End(client, book, await client.Fetch(book, source, new FetchRequest("OpenItems"), cancel), cancel);
        var mapping = JsonSerializer.Deserialize<MappingFile>(
            await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "demo", "open-items.mapping.json"), cancel),
            JsonSerializerOptions.Web
        );
        await client.KeepMapping(book, table, mapping!, cancel);
        await End(
            client,
            book,
            await client.Load(book, new LoadRequest(fetched.Upload!.Id, Mapping: table), $"demo-{fetched.Upload.Sha256}", cancel),
            cancel
        );
    }

    private static async Task<JobDto> End(BearingClient client, string book, JobDto job, CancellationToken cancel)
    {
        await foreach (var state in client.Follow(book, job.Id, cancel))
            job = state;
        return job.Problem is { } problem ? throw new BearingProblemException(problem) : job;
    }

    /// <returns>Id of the demo book.</returns>
    private async Task<string> LoadAll(BearingClient client, CancellationToken cancel)
    {
        var folder = Path.Combine(AppContext.BaseDirectory, "demo");
        var book = JsonSerializer.Deserialize<NewBook>(
            await File.ReadAllTextAsync(Path.Combine(folder, "book.json"), cancel),
            JsonSerializerOptions.Web
        )!;
        var files = JsonSerializer.Deserialize<List<DemoFile>>(
            await File.ReadAllTextAsync(Path.Combine(folder, "loads.json"), cancel),
            JsonSerializerOptions.Web
        )!;
        if ((await client.Books(cancel)).All(b => b.Id != book.Id))
            await client.Create(book, cancel);
        var loaded = (await client.Loads(book.Id, cancel)).Select(l => l.File).ToHashSet();
        foreach (var file in files.Where(f => !loaded.Contains(f.File)))
        {
            await using var content = File.OpenRead(Path.Combine(folder, file.File));
            var upload = await client.Upload(book.Id, file.File, content, cancel);
            var request = new LoadRequest(
                upload.Id,
                file.Kind,
                file.Dimension,
                file.Scenario,
                file.Name,
                file.ScenarioKind,
                CutOff: file.CutOff
            );
            await End(client, book.Id, await client.Load(book.Id, request, $"demo-{upload.Sha256}", cancel), cancel);
        }
        return book.Id;
    }
}
