using System.Diagnostics;
using System.Formats.Tar;
using System.IO.Compression;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>
/// A data folder of an earlier Bearing is opened by this one: everything in it is there, and what was asked then is answered
/// alike, save for the mends that are named. <c>tests/fixtures/upgrade/make.py</c> makes such a folder.
/// </summary>
public sealed class UpgradeTests : IDisposable
{
    private const string Book = "tarrow";
    private static readonly string Fixture = Path.Combine(Repository.Root, "tests", "fixtures", "upgrade");
    private readonly string _folder = Directory.CreateTempSubdirectory("bearing-upgrade-").FullName;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private string Data => Path.Combine(_folder, "data");

    public UpgradeTests()
    {
        using var packed = new GZipStream(File.OpenRead(Path.Combine(Fixture, "data.tar.gz")), CompressionMode.Decompress);
        TarFile.ExtractToDirectory(packed, _folder, overwriteFiles: false);
    }

    public void Dispose() => Directory.Delete(_folder, true);

    [Fact]
    public async Task A_folder_of_an_earlier_Bearing_opens_with_everything_in_it_and_answers_as_then()
    {
        await using var service = await ServiceProcess.Start(Data);
        await HoldsEverything(service);
    }

    /// <summary>Killed at several moments of its first start, and started again.</summary>
    [Fact]
    public async Task An_upgrade_that_is_killed_midway_goes_on_at_the_next_start()
    {
        foreach (var after in (int[])[300, 700, 1200])
        {
            var start = new ProcessStartInfo(Path.Combine(Repository.Root, "bin", "bearing-service"))
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            foreach (var argument in (string[])["--data", Data, "--urls", $"http://127.0.0.1:{ServiceProcess.FreePort()}"])
                start.ArgumentList.Add(argument);
            using var process = Process.Start(start)!;
            await Task.Delay(after, Cancel);
            process.Kill();
            await process.WaitForExitAsync(Cancel);
        }
        await using var service = await ServiceProcess.Start(Data);
        await HoldsEverything(service);
    }

    private static async Task HoldsEverything(ServiceProcess service)
    {
        var client = service.Client;
        Assert.Equal("ok", (await client.Health(Cancel)).Status);
        var loads = await client.Loads(Book, Cancel);
        Assert.Equal((15, 7), (loads.Count, loads.Single(l => l.UndoneIn is not null).Load));
        Assert.Equal("open-items", Assert.Single(await client.Mappings(Book, Cancel)).Name);
        Assert.Equal("month-end", Assert.Single(await client.Questions(Book, Cancel)).Name);
        Assert.Equal("general-ledger", Assert.Single(await client.Sources(Book, Cancel)).Name);
        Assert.Equal("nectar", Assert.Single(await client.Words(Book, Cancel)).Word);
        Assert.Equal("2026-P09", (await client.Closed(Book, Cancel)).Through);
        var mends = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(Fixture, "mends.json"), Cancel))!.AsObject();
        foreach (var line in await File.ReadAllLinesAsync(Path.Combine(Fixture, "answers.jsonl"), Cancel))
        {
            var then = JsonNode.Parse(line)!.AsObject();
            var text = then["text"]!.ToString();
            // Questions of the first form, as links and scripts have kept them.
            using var response = await service.Http.PostAsJsonAsync(
                $"api/books/{Book}/answers",
                new JsonObject { ["question"] = then["question"]!.DeepClone() },
                Cancel
            );
            var set = (await response.Content.ReadFromJsonAsync<AnswerSet>(Cancel))!;
            var now = Content(Assert.Single(set.Answers));
            if (mends[text] is { } mend)
                Assert.Equal(mend["now"]!.ToJsonString(), now.ToJsonString());
            else
                Assert.True(
                    JsonNode.DeepEquals(then["rows"] ?? then["sum"] ?? then["records"], now),
                    $"{text}: {now.ToJsonString()}"
                );
        }
    }

    /// <summary>As the fixture keeps it: the rows of a table without its marks, the sum of entries, the totals of
    /// records.</summary>
    private static JsonNode Content(AnswerDto answer) =>
        answer switch
        {
            { Grid: { } grid } => new JsonArray([
                .. grid.Rows.Select(r =>
                    (JsonNode)
                        new JsonArray([
                            JsonValue.Create(r.Label),
                            .. grid
                                .Columns.Where(c => c.Kind != "mark")
                                .Select(c =>
                                    (JsonNode?)(r.Values.GetValueOrDefault(c.Id) is { } value ? JsonValue.Create(value) : null)
                                ),
                        ])
                ),
            ]),
            { Entries: { } entries } => JsonValue.Create(entries.Sum)!,
            _ => new JsonArray([
                .. answer.Records!.Totals.Select(t =>
                    (JsonNode)new JsonArray(JsonValue.Create(t.Title), JsonValue.Create(t.Value))
                ),
            ]),
        };
}
