using System.Globalization;
using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Microsoft.Data.Sqlite;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A service that tests may kill and start again.</summary>
public sealed class ReliableService : IAsyncLifetime
{
    internal string Data { get; } = Directory.CreateTempSubdirectory("bearing-reliable-").FullName;

    internal string Allowed { get; } = Directory.CreateTempSubdirectory("bearing-allowed-").FullName;

    internal ServiceProcess Process { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Process = await ServiceProcess.Start(Data, allow: [$"sqlite://{Allowed}"]);

    public async ValueTask DisposeAsync()
    {
        await Process.DisposeAsync();
        Directory.Delete(Data, true);
        Directory.Delete(Allowed, true);
    }

    internal async Task Restart(Action? between = null)
    {
        Process.Kill();
        between?.Invoke();
        await Process.DisposeAsync();
        await InitializeAsync();
    }
}

/// <summary>Nothing is lost, and nothing that is asked or sent brings a book or the service down.</summary>
public sealed class ReliabilityTests(ReliableService reliable) : IClassFixture<ReliableService>
{
    private readonly string _data = reliable.Data;
    private readonly string _allowed = reliable.Allowed;

    private ServiceProcess Service => reliable.Process;

    private BearingClient Client => Service.Client;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private Task Restart(Action? between = null) => reliable.Restart(between);

    [Fact]
    public async Task Jobs_that_ended_long_ago_and_trails_that_nobody_opens_are_swept_and_all_others_stay()
    {
        var book = await DemoService.NewBook(Client, "swept", "ledger-2026-h2.csv");
        var question = (await Client.Ask(book, new AskRequest("marine fuel in July 2026"), Cancel)).Answers[0].Question;
        var old = await Client.KeepTrail(book, new NewTrail([new TrailStep(question, "old")]), Cancel);
        var opened = await Client.KeepTrail(
            book,
            new NewTrail([new TrailStep(question, "opened"), new TrailStep(question, "too")]),
            Cancel
        );
        var (month, year) = (DateTime.UtcNow.AddDays(-40).Ticks, DateTime.UtcNow.AddDays(-400).Ticks);
        await Audit($"UPDATE Trails SET UsedTicks = {year} WHERE Book = '{book}'");
        await Audit(
            $"UPDATE Jobs SET ChangedTicks = {month} WHERE Id = (SELECT Id FROM Jobs WHERE Book = '{book}' ORDER BY CreatedTicks LIMIT 1)"
        );
        var jobs = int.Parse(await Audit($"SELECT count(*) FROM Jobs WHERE Book = '{book}'"), CultureInfo.InvariantCulture);
        await Client.Trail(book, opened.Id, Cancel);

        await Client.Purge(book, (await Client.Book(book, Cancel)).Name, Cancel);

        Assert.Equal(2, (await Client.Trail(book, opened.Id, Cancel)).Steps.Count);
        await Assert.ThrowsAsync<BearingProblemException>(() => Client.Trail(book, old.Id, Cancel));
        Assert.Equal($"{jobs - 1}", await Audit($"SELECT count(*) FROM Jobs WHERE Book = '{book}'"));
    }

    [Theory]
    [InlineData("..")]
    [InlineData(".")]
    [InlineData("...")]
    public async Task A_name_of_dots_names_nothing_and_removes_nothing(string name)
    {
        var book = await Shared("dots");
        foreach (
            var remove in (Func<Task>[])
                [
                    () => Client.RemoveMapping(book, name, Cancel),
                    () => Client.RemoveQuestion(book, name, Cancel),
                    () => Client.RemoveSource(book, name, Cancel),
                ]
        )
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Assert.ThrowsAsync<BearingProblemException>(remove)).Status);
        // The way in which a client of another hand would do it: the address of the book itself.
        using var deleted = await Service.Http.DeleteAsync(new Uri($"api/books/{book}/mappings/..", UriKind.Relative), Cancel);
        Assert.False(deleted.IsSuccessStatusCode);
        Assert.Contains(await Client.Books(Cancel), b => b.Id == book);
    }

    [Fact]
    public async Task Erasing_wants_the_name_again_and_can_be_taken_back_for_a_week()
    {
        var book = await DemoService.NewBook(Client, "erased", "statistics-actual.csv");
        var loads = (await Client.Loads(book, Cancel)).Count;
        foreach (var confirm in (string[])["", "Erased", "tarrow"])
            Assert.Equal(
                HttpStatusCode.Conflict,
                (await Assert.ThrowsAsync<BearingProblemException>(() => Client.Erase(book, confirm, Cancel))).Status
            );
        await Client.Erase(book, book, Cancel);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Assert.ThrowsAsync<BearingProblemException>(() => Client.Book(book, Cancel))).Status
        );
        await Client.Restore(book, Cancel);
        Assert.Equal(loads, (await Client.Loads(book, Cancel)).Count);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await Assert.ThrowsAsync<BearingProblemException>(async () =>
                {
                    await Client.Erase(book, book, Cancel);
                    await DemoService.NewBook(Client, book);
                    await Client.Restore(book, Cancel);
                })
            ).Status
        );
        Assert.Contains(
            "book erased",
            await Audit($"SELECT group_concat(What) FROM Audit WHERE Book LIKE '{book}~%'"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Erasing_waits_for_the_load_that_is_under_way()
    {
        var book = await DemoService.NewBook(Client, "busy");
        await using var content = File.OpenRead(Repository.Demo("ledger-2026-h1.csv"));
        var upload = await Client.Upload(book, "h1.csv", content, Cancel);
        var job = await Client.Load(book, new LoadRequest(upload.Id), "k", Cancel);
        await Client.Erase(book, book, Cancel);
        // Either it had landed before, or it was told that the book is gone; nothing is half there.
        for (
            var i = 0;
            i < 100
                && (
                    await Audit(
                        $"SELECT count(*) FROM Jobs WHERE Id = '{job.Id}' AND State IN ('Queued', 'Running', 'Committing')"
                    )
                ) != "0";
            i++
        )
            await Task.Delay(100, Cancel);
        Assert.Equal(
            "0",
            await Audit($"SELECT count(*) FROM Jobs WHERE Id = '{job.Id}' AND State IN ('Queued', 'Running', 'Committing')")
        );
        await DemoService.NewBook(Client, book);
        Assert.Equal(2, (await Client.Loads(book, Cancel)).Count);
    }

    /// <summary>The row of a change is copied from the book's own account, also after a crash between the two.</summary>
    [Fact]
    public async Task An_audit_row_that_a_crash_kept_back_is_there_after_the_next_start()
    {
        var book = await DemoService.NewBook(Client, "audited", "statistics-actual.csv");
        var before = await Audit(
            $"SELECT group_concat(Edition || ' ' || What) FROM (SELECT * FROM Audit WHERE Book = '{book}' ORDER BY Edition)"
        );
        Assert.Contains("load 3 of statistics-actual.csv", before, StringComparison.Ordinal);
        await Audit($"DELETE FROM Audit WHERE Book = '{book}' AND Edition > 2");
        await Restart();
        Assert.Equal(
            before,
            await Audit(
                $"SELECT group_concat(Edition || ' ' || What) FROM (SELECT * FROM Audit WHERE Book = '{book}' ORDER BY Edition)"
            )
        );
    }

    [Fact]
    public async Task A_book_whose_file_is_spoilt_stands_apart_and_the_others_work()
    {
        var (good, spoilt) = (await DemoService.NewBook(Client, "good"), await DemoService.NewBook(Client, "spoilt"));
        await Restart(() => File.WriteAllText(Path.Combine(_data, "books", spoilt, "facts.duckdb"), "not a database"));
        await OnlyApart(good, spoilt);
    }

    /// <summary>A load that was committed and whose write-ahead file vanished is told, not lost without a word.</summary>
    [Fact]
    public async Task A_book_that_lacks_an_edition_that_was_committed_stands_apart()
    {
        var (good, lacking) = (await DemoService.NewBook(Client, "whole"), await DemoService.NewBook(Client, "lacking"));
        await Restart();
        await DemoService.Load(Client, lacking, "statistics-actual.csv");
        var wal = Path.Combine(_data, "books", lacking, "facts.duckdb.wal");
        Assert.True(File.Exists(wal));
        await Restart(() => File.Delete(wal));
        Assert.Contains(
            "edition 4 was committed (load 3 of statistics-actual.csv)",
            (await Client.Books(Cancel)).Single(b => b.Id == lacking).Problem,
            StringComparison.Ordinal
        );
        await OnlyApart(good, lacking);
    }

    private async Task OnlyApart(string good, string apart)
    {
        var books = await Client.Books(Cancel);
        Assert.Null(books.Single(b => b.Id == good).Problem);
        Assert.NotNull(books.Single(b => b.Id == apart).Problem);
        Assert.Equal(2, (await Client.Loads(good, Cancel)).Count);
        Assert.Equal(
            HttpStatusCode.ServiceUnavailable,
            (await Assert.ThrowsAsync<BearingProblemException>(() => Client.Book(apart, Cancel))).Status
        );
        var health = await Client.Health(Cancel);
        Assert.Equal(("degraded", apart), (health.Status, Assert.Single(health.Damaged)));
        // Erasing it is still possible, by its id.
        await Client.Erase(apart, apart, Cancel);
        Assert.Equal("ok", (await Client.Health(Cancel)).Status);
    }

    /// <summary>A download that was cut off in the middle of a line.</summary>
    [Theory]
    [InlineData(null, null, "Document,Date,Entity,Account,Amount\nA1,2026-09-01,SKF,4010,5\nA2,2026-09-01,SKF\n", "line 3")]
    [InlineData("rates", null, "Month,Currency,Average\n2026-09,SEK,11\n2026-10,SEK\n", "line 3")]
    [InlineData("records", "claims", "Claim,Amount\nC1,5\nC2\n", "line 3")]
    [InlineData("rates", null, "Month,Average\n2026-09,11\n", "currency")]
    [InlineData("records", null, "Claim,Amount\nC1,5\n", "which table")]
    public async Task A_row_with_fewer_fields_is_refused_with_its_number_and_what_is_missing_is_said(
        string? kind,
        string? table,
        string csv,
        string said
    )
    {
        var book = await Shared("short");
        using var content = new MemoryStream(Encoding.UTF8.GetBytes(csv));
        var upload = await Client.Upload(book, "short.csv", content, Cancel);
        var job = await Client.Load(book, new LoadRequest(upload.Id, kind, Table: table), Guid.NewGuid().ToString(), Cancel);
        await foreach (var state in Client.Follow(book, job.Id, Cancel))
            job = state;
        Assert.Equal("failed", job.State);
        Assert.Contains(
            said,
            $"{job.Problem!.Detail} {string.Join(' ', job.Problem.Refused?.SelectMany(r => r.Places) ?? [])}",
            StringComparison.Ordinal
        );
        Assert.DoesNotContain("unexpected", job.Problem.Detail, StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>Every body of the interface with a null in every place, and with none: an error that says what is wrong, never
    /// one of ours.</summary>
    [Fact]
    public async Task Nothing_sent_as_null_is_an_error_of_the_service()
    {
        await DemoService.NewBook(Client, "nulls", "statistics-actual.csv");
        var document = JsonNode.Parse(await Service.Http.GetStringAsync(new Uri("openapi/v1.json", UriKind.Relative), Cancel))!;
        var failures = new List<string>();
        foreach (var (path, operations) in document["paths"]!.AsObject())
        foreach (var (method, operation) in operations!.AsObject().Where(o => o.Key is "post" or "put"))
        {
            if (operation!["requestBody"]?["content"]?["application/json"]?["schema"] is not { } schema)
                continue;
            var address = path.Replace("{book}", "nulls", StringComparison.Ordinal)
                .Replace("{name}", "x", StringComparison.Ordinal)
                .Replace("{load}", "1", StringComparison.Ordinal)[1..];
            // Each kind of question has places of its own.
            var samples = Enumerable
                .Range(0, 7)
                .Select(kind => Sample(document, schema, 0, kind))
                .DistinctBy(s => s?.ToJsonString())
                .ToList();
            foreach (
                var body in samples
                    .SelectMany(s => Nulls(s).Prepend(s))
                    .Prepend(null)
                    .Prepend(new JsonObject())
                    .Prepend(new JsonArray())
            )
            {
                using var request = new HttpRequestMessage(
                    new HttpMethod(method.ToUpperInvariant()),
                    new Uri(address, UriKind.Relative)
                )
                {
                    Content = new StringContent(body?.ToJsonString() ?? "null", Encoding.UTF8, "application/json"),
                };
                using var response = await Service.Http.SendAsync(request, Cancel);
                if ((int)response.StatusCode == 500)
                    failures.Add($"{method} {path} {body?.ToJsonString()}");
            }
        }
        Assert.Empty(failures);
    }

    private static readonly Dictionary<string, string> Plausible = new()
    {
        ["figure"] = "m:operating-profit",
        ["subject"] = "actual",
        ["slice"] = "actual@2026-P08;figure=m:operating-profit",
        ["kind"] = "ledger",
        ["form"] = "bearing-mapping/1",
    };

    private static JsonNode? Sample(JsonNode document, JsonNode schema, int depth, int kind)
    {
        if (schema["oneOf"] is JsonArray either)
            schema = either.First(s => s!["type"]?.ToString() != "null")!;
        while (schema["$ref"]?.ToString() is { } reference)
            schema = document["components"]!["schemas"]![reference.Split('/')[^1]]!;
        if (schema["anyOf"] is JsonArray kinds)
            return Sample(document, kinds[kind % kinds.Count]!, depth, kind);
        if (schema["enum"] is JsonArray { Count: > 0 } names)
            return names[0]!.DeepClone();
        if (schema["properties"] is JsonObject properties)
            return new JsonObject(
                properties
                    .Where(_ => depth < 5)
                    .Select(p =>
                        KeyValuePair.Create(
                            p.Key,
                            p.Key == "periods" ? new JsonArray("2026-P08")
                                : p.Key == "form" && p.Value!["type"]?.ToString() == "integer" ? 2
                                : Plausible.TryGetValue(p.Key, out var plausible)
                                && p.Value!["type"]?.ToJsonString().Contains("string", StringComparison.Ordinal) == true
                                    ? plausible
                                : Sample(document, p.Value!, depth + 1, kind)
                        )
                    )
            );
        var type = schema["type"]?.ToJsonString() ?? "";
        return type.Contains("array", StringComparison.Ordinal)
                ? new JsonArray(depth < 4 && schema["items"] is { } items ? Sample(document, items, depth + 1, kind) : null)
            : type.Contains("integer", StringComparison.Ordinal) || type.Contains("number", StringComparison.Ordinal) ? 1
            : type.Contains("boolean", StringComparison.Ordinal) ? true
            : type.Contains("object", StringComparison.Ordinal) ? new JsonObject()
            : "x";
    }

    private static IEnumerable<JsonNode?> Nulls(JsonNode? node)
    {
        if (node is JsonObject fields)
            foreach (var (name, value) in fields.ToList())
            foreach (var inner in Nulls(value).Prepend(null))
            {
                var copy = fields.DeepClone().AsObject();
                copy[name] = inner?.DeepClone();
                yield return copy;
            }
        else if (node is JsonArray { Count: > 0 } list)
            foreach (var inner in Nulls(list[0]).Prepend(null))
                yield return new JsonArray(inner?.DeepClone());
    }

    [Fact]
    public async Task What_unpacks_to_hundreds_of_times_its_size_is_refused_and_leaves_nothing_behind()
    {
        var book = await DemoService.NewBook(Client, "bombs");
        using var packed = new MemoryStream();
        await using (var gzip = new GZipStream(packed, CompressionLevel.SmallestSize, leaveOpen: true))
            for (var i = 0; i < 200; i++)
                await gzip.WriteAsync(
                    new byte[1 << 20]
                        .Select(_ => (byte)',')
                        .ToArray(),
                    Cancel
                );
        packed.Position = 0;
        var upload = await Client.Upload(book, "bomb.csv.gz", packed, Cancel);
        var refused = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Client.Preview(book, new LoadRequest(upload.Id), Cancel)
        );
        Assert.Contains("200 times its size", refused.Problem.Detail, StringComparison.Ordinal);
        Assert.InRange(
            new DirectoryInfo(Path.Combine(_data, "books", book, "incoming")).EnumerateFiles().Sum(f => f.Length),
            0,
            4 << 20
        );
    }

    /// <summary>One endless query holds up no load, of its book or another, and can be cancelled.</summary>
    [Fact]
    public async Task An_endless_query_holds_up_no_load_and_can_be_cancelled()
    {
        var path = Path.Combine(_allowed, "gl.db");
        await using (var connection = new SqliteConnection($"Data Source={path};Pooling=False"))
        {
            await connection.OpenAsync(Cancel);
            await using var command = connection.CreateCommand();
            command.CommandText = "CREATE TABLE gl (document TEXT)";
            await command.ExecuteNonQueryAsync(Cancel);
        }
        var book = await DemoService.NewBook(Client, "endless");
        await Client.KeepSource(book, "lite", new NewSource("sqlite", $"sqlite://{path}"), Cancel);
        var fetch = await Client.Fetch(
            book,
            "lite",
            new FetchRequest(Query: "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"),
            Cancel
        );
        Assert.Equal("done", (await DemoService.Load(Client, book, "statistics-actual.csv")).State);
        using (
            var cancelled = await Service.Http.DeleteAsync(new Uri($"api/books/{book}/jobs/{fetch.Id}", UriKind.Relative), Cancel)
        )
            Assert.True(cancelled.IsSuccessStatusCode);
        await foreach (var state in Client.Follow(book, fetch.Id, Cancel))
            fetch = state;
        Assert.Equal("cancelled", fetch.State);
    }

    [Theory]
    [InlineData("%2e%2e/outside.db")]
    [InlineData("..%2foutside.db")]
    [InlineData("link.db")]
    public async Task No_address_leads_out_of_what_the_owner_allowed(string below)
    {
        var book = await Shared("inside");
        var link = Path.Combine(_allowed, "link.db");
        if (!File.Exists(link))
            File.CreateSymbolicLink(link, Path.Combine(_data, "state.db"));
        var refused = await Assert.ThrowsAsync<BearingProblemException>(() =>
            Client.KeepSource(book, "x", new NewSource("sqlite", $"sqlite://{_allowed}/{below}"), Cancel)
        );
        Assert.Equal(HttpStatusCode.Forbidden, refused.Status);
    }

    /// <summary>A book for all cases of a test.</summary>
    private async Task<string> Shared(string book) =>
        (await Client.Books(Cancel)).FirstOrDefault(b => b.Id == book)?.Id ?? await DemoService.NewBook(Client, book);

    private async Task<string> Audit(string sql)
    {
        await using var connection = new SqliteConnection($"Data Source={Path.Combine(_data, "state.db")};Pooling=False");
        await connection.OpenAsync(Cancel);
        await using var command = connection.CreateCommand();
#pragma warning disable CA2100 // The test's own statements.
        command.CommandText = sql;
#pragma warning restore CA2100
        return (await command.ExecuteScalarAsync(Cancel))?.ToString() ?? "";
    }
}
