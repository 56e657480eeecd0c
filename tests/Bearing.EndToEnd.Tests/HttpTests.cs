using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>The interface itself: shapes, errors, negotiation, loads.</summary>
public sealed class HttpTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;
    private HttpClient Http => demo.Service.Http;

    [Fact]
    public async Task The_served_document_is_the_one_in_docs_from_which_the_console_is_typed()
    {
        using var served = JsonDocument.Parse(await Http.GetStringAsync("openapi/v1.json", Cancel));
        using var kept = JsonDocument.Parse(
            await File.ReadAllTextAsync(Path.Combine(Repository.Root, "docs", "openapi.json"), Cancel)
        );
        Assert.StartsWith("3.1", served.RootElement.GetProperty("openapi").GetString(), StringComparison.Ordinal);
        Assert.True(
            JsonElement.DeepEquals(kept.RootElement, served.RootElement),
            "Run “make openapi” and commit what it writes."
        );
    }

    [Theory]
    [InlineData("GET", "api/books/nowhere", null, 404)]
    [InlineData("GET", "api/nowhere", null, 404)]
    [InlineData("POST", "api/books/tarrow/nowhere", "{}", 404)]
    [InlineData("POST", "api/books/nowhere/ask", """{"text":"revenue"}""", 404)]
    [InlineData("POST", "api/books/tarrow/ask", "not json", 400)]
    [InlineData("POST", "api/books/tarrow/ask", """{"text":"revenue","colour":"red"}""", 400)]
    [InlineData("POST", "api/books/tarrow/ask", """{"text":"revenue","edition":9999}""", 404)]
    [InlineData(
        "POST",
        "api/books/tarrow/answers",
        """{"question":{"form":7,"intent":"value","figure":"a:4010","subject":"actual","bases":[],"spans":["2026-P09"],"filters":[],"breakdowns":[],"ranking":null}}""",
        400
    )]
    [InlineData("GET", "api/books/tarrow/lines?slice=nonsense", null, 400)]
    [InlineData("GET", "api/books/tarrow/lines?slice=actual@2026-P09;figure=a:4010&cursor=x", null, 400)]
    [InlineData("GET", "api/books/tarrow/members?dimension=colour", null, 404)]
    [InlineData("GET", "api/books/tarrow/jobs/none", null, 404)]
    [InlineData("GET", "api/books/tarrow/trails/none", null, 404)]
    [InlineData("POST", "api/books/tarrow/trails", """{"steps":[]}""", 422)]
    [InlineData("POST", "api/books/tarrow/loads/999/undo", "{}", 422)]
    [InlineData("POST", "api/books", """{"id":"../x","name":"x","currency":"EUR","dimensions":[]}""", 422)]
    [InlineData(
        "POST",
        "api/books",
        """{"id":"tarrow","name":"x","currency":"EUR","dimensions":[{"code":"account","name":"A","role":"account"},{"code":"entity","name":"E","role":"entity"}]}""",
        409
    )]
    public async Task Every_error_is_a_problem_document_with_what_and_what_to_do(
        string method,
        string path,
        string? body,
        int status
    )
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path)
        {
            Content = body is null ? null : new StringContent(body, Encoding.UTF8, "application/json"),
        };
        using var response = await Http.SendAsync(request, Cancel);
        Assert.Equal(status, (int)response.StatusCode);
        Assert.Equal("application/problem+json", response.Content.Headers.ContentType?.MediaType);
        var problem = await response.Content.ReadFromJsonAsync<JsonElement>(Cancel);
        Assert.NotEmpty(problem.GetProperty("title").GetString()!);
        Assert.NotEmpty(problem.GetProperty("detail").GetString()!);
        Assert.NotEmpty(problem.GetProperty("remedy").GetString()!);
        Assert.Equal(status, problem.GetProperty("status").GetInt32());

        var type = problem.GetProperty("type").GetString()!;
        var page = await Http.GetStringAsync(new Uri(type, UriKind.Relative), Cancel);
        Assert.Contains($"<h1>{problem.GetProperty("title").GetString()}</h1>", page, StringComparison.Ordinal);
        if (Described(await Document(), method, path) is { } operation)
            Assert.Contains(
                $"`{type.Split('/')[^1]}`",
                operation["responses"]![$"{status}"]!["description"]!.ToString(),
                StringComparison.Ordinal
            );
    }

    private async Task<JsonNode> Document() =>
        JsonNode.Parse(await Http.GetStringAsync(new Uri("openapi/v1.json", UriKind.Relative), Cancel))!;

    /// <summary>What the document has of the operation at an address; null where there is none.</summary>
    private static JsonNode? Described(JsonNode document, string method, string address)
    {
        var steps = $"/{address}".Split('?')[0].Split('/');
        return document["paths"]!
            .AsObject()
            .FirstOrDefault(p =>
                p.Key.TrimEnd('/').Split('/') is var template
                && template.Length == steps.Length
                && template.Zip(steps).All(s => s.First.StartsWith('{') || s.First == s.Second)
            )
            .Value?[method.ToLowerInvariant()];
    }

    [Fact]
    public async Task A_long_trail_has_a_short_id_and_comes_back_whole()
    {
        var first = (await demo.Client.Ask(DemoService.Book, new AskRequest("fuel by entity in August 2026"), Cancel)).Answers[0];
        var steps = Enumerable
            .Range(0, 40)
            .Select(i => new TrailStep(first.Question, $"step {i}", i % 2 == 0 ? true : null))
            .ToList();
        var kept = await demo.Client.KeepTrail(DemoService.Book, new NewTrail(steps), Cancel);
        Assert.InRange(kept.Id.Length, 1, 20);
        var opened = await demo.Client.Trail(DemoService.Book, kept.Id, Cancel);
        Assert.Equal(JsonSerializer.Serialize(steps), JsonSerializer.Serialize(opened.Steps));
        Assert.Equal(kept.Id, (await demo.Client.KeepTrail(DemoService.Book, new NewTrail(opened.Steps), Cancel)).Id);
        // A trail that begins alike is another one, and each is of its book.
        var shorter = await demo.Client.KeepTrail(DemoService.Book, new NewTrail(steps[..20]), Cancel);
        Assert.Equal(20, (await demo.Client.Trail(DemoService.Book, shorter.Id, Cancel)).Steps.Count);
        var other = await DemoService.NewBook(demo.Client, "other-trails");
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await Assert.ThrowsAsync<BearingProblemException>(() => demo.Client.Trail(other, kept.Id, Cancel))).Status
        );
    }

    [Fact]
    public async Task Steps_of_the_first_form_come_back_in_the_second()
    {
        const string Old =
            """{"steps":[{"label":"fuel","question":{"form":1,"intent":"value","figure":"a:4010","subject":"actual","bases":[],"spans":["2026-P09"],"filters":[],"breakdowns":[],"ranking":null}}]}""";
        using var response = await Http.PostAsync(
            new Uri("api/books/tarrow/trails", UriKind.Relative),
            new StringContent(Old, Encoding.UTF8, "application/json"),
            Cancel
        );
        var step = (await response.Content.ReadFromJsonAsync<JsonElement>(Cancel)).GetProperty("steps")[0];
        Assert.Equal(2, step.GetProperty("question").GetProperty("form").GetInt32());
    }

    [Fact]
    public async Task The_list_of_problems_leads_to_a_page_for_each()
    {
        var list = await Http.GetStringAsync(new Uri("problems", UriKind.Relative), Cancel);
        var types = (await Document())["components"]!["schemas"]!["ProblemDto"]!["properties"]!["type"]!["enum"]!.AsArray();
        foreach (var type in types.Select(t => t!.ToString()).Where(t => t != "about:blank"))
        {
            Assert.Contains($"href=\"{type}\"", list, StringComparison.Ordinal);
            Assert.Contains(
                "<main>",
                await Http.GetStringAsync(new Uri(type, UriKind.Relative), Cancel),
                StringComparison.Ordinal
            );
        }
        using var none = await Http.GetAsync(new Uri("problems/none", UriKind.Relative), Cancel);
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
    }

    [Fact]
    public async Task Every_list_comes_page_by_page_to_the_last_and_says_what_it_does_not_know()
    {
        // Its own book: what others ask of theirs comes and goes.
        var book = await DemoService.NewBook(demo.Client, "paged", "statistics-actual.csv", "rates.csv");
        foreach (var word in (string[])["propellants", "wharfage", "skippers", "stevedoring"])
        {
            await demo.Client.Teach(book, new TeachRequest(word, "marine fuel"), Cancel);
            await demo.Client.KeepQuestion(book, word, $"{word} by month", Cancel);
        }
        var document = await Document();
        var walked = 0;
        foreach (var (path, operations) in document["paths"]!.AsObject())
        {
            if (
                operations!["get"] is not { } list
                || !list["operationId"]!.ToString().StartsWith("List", StringComparison.Ordinal)
            )
                continue;
            var answer = list["responses"]!["200"]!["content"]!["application/json"]!["schema"]!["$ref"]!.ToString().Split('/')[
                ^1
            ];
            Assert.True(document["components"]!["schemas"]![answer]!["properties"]!["next"] is not null, path);
            var needed = list["parameters"]!.AsArray().Where(p => p!["required"]?.GetValue<bool>() == true);
            if (path is "/api/books" or "/api/books/{book}/changes" || needed.Any(p => p!["name"]!.ToString() != "book"))
                continue;
            var address = path.Replace("{book}", book, StringComparison.Ordinal)[1..];
            var whole = (await Page(address, 1_000, null)).Items;
            var pieces = new List<string>();
            string? cursor = null;
            do
            {
                var (items, next) = await Page(address, 3, cursor);
                Assert.True(items.Count <= 3, path);
                pieces.AddRange(items);
                cursor = next;
            } while (cursor is not null);
            Assert.Equal(whole, pieces);
            using var lost = await Http.GetAsync(new Uri($"{address}?cursor=no%20such", UriKind.Relative), Cancel);
            Assert.Equal(HttpStatusCode.BadRequest, lost.StatusCode);
            walked++;
        }
        Assert.InRange(walked, 8, 20);

        async Task<(List<string> Items, string? Next)> Page(string address, int limit, string? cursor)
        {
            var query = $"?limit={limit}{(cursor is null ? "" : $"&cursor={Uri.EscapeDataString(cursor)}")}";
            var page = JsonNode.Parse(await Http.GetStringAsync(new Uri(address + query, UriKind.Relative), Cancel))!;
            return ([.. page["items"]!.AsArray().Select(i => i!.ToJsonString())], page["next"]?.ToString());
        }
    }

    [Fact]
    public async Task Pages_of_other_origins_and_foreign_host_names_are_turned_away()
    {
        using var foreign = new HttpRequestMessage(HttpMethod.Post, "api/books/tarrow/ask")
        {
            Content = JsonContent.Create(new AskRequest("revenue")),
        };
        foreign.Headers.Add("Origin", "http://elsewhere.example");
        Assert.Equal(HttpStatusCode.Forbidden, (await Http.SendAsync(foreign, Cancel)).StatusCode);
        using var renamed = new HttpRequestMessage(HttpMethod.Get, "api/books");
        renamed.Headers.Host = "elsewhere.example";
        Assert.Equal(HttpStatusCode.Forbidden, (await Http.SendAsync(renamed, Cancel)).StatusCode);
    }

    [Fact]
    public async Task Tables_and_lines_come_as_csv_too()
    {
        var answer = (await demo.Ask("fuel versus budget by entity in August 2026")).Answers[0];
        using var request = new HttpRequestMessage(HttpMethod.Post, "api/books/tarrow/answers")
        {
            Content = JsonContent.Create(new AnswerRequest(answer.Question)),
        };
        request.Headers.Accept.Add(new MediaTypeWithQualityHeaderValue("text/csv"));
        var csv = await (await Http.SendAsync(request, Cancel)).Content.ReadAsStringAsync(Cancel);
        Assert.Equal(answer.Grid!.Rows.Count + 1, csv.TrimEnd().Split('\n').Length);
        Assert.Contains(answer.Grid.Rows[^1].Values["variance"]!, csv, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Lines_are_paged_to_the_last_without_gap_or_double()
    {
        const string slice = "actual@2026-P08;figure=a:5010";
        var whole = await demo.Client.Lines(DemoService.Book, slice, 10_000, null, false, Cancel);
        var (seen, cursor) = (new List<LineDto>(), (string?)null);
        do
        {
            var page = await demo.Client.Lines(DemoService.Book, slice, 37, cursor, true, Cancel);
            seen.AddRange(page.Lines);
            cursor = page.Next;
            Assert.Equal(whole.Count, page.Count);
        } while (cursor is not null);
        Assert.Equal(whole.Lines.Select(l => (l.Load, l.Row)).Order(), seen.Select(l => (l.Load, l.Row)).Order());
        Assert.Equal(
            decimal.Parse(whole.Sum, System.Globalization.CultureInfo.InvariantCulture),
            seen.Sum(l => decimal.Parse(l.Amount, System.Globalization.CultureInfo.InvariantCulture))
        );
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("just some words\nand more\n", "headings")]
    [InlineData("Date,Account,Amount\n2026-01-05,4010,1\n", "entity")]
    [InlineData("Date,Entity,Account,Amount\n2026-01-05,SKF,4010,ten\n", "not a number")]
    [InlineData("Date,Entity,Account,Amount\n2026-01-05,SKF,40l0,1\n", "not in the book")]
    [InlineData("Date,Entity,Account,Amount\n2026-02-30,SKF,4010,1\n", "not a date")]
    [InlineData("\0\0\0\0", "not text")]
    public async Task A_bad_file_says_what_is_wrong_and_changes_nothing(string text, string because)
    {
        var book = await DemoService.NewBook(demo.Client, $"bad-{Guid.NewGuid().ToString("n")[..8]}");
        var before = (await demo.Client.Book(book, Cancel)).Edition;
        var job = await DemoService.Load(demo.Client, book, "bad.csv", Encoding.UTF8.GetBytes(text));
        Assert.Equal("failed", job.State);
        Assert.Contains(
            because,
            job.Problem!.Detail + string.Concat(job.Problem.Refused?.Select(r => r.Because) ?? []),
            StringComparison.Ordinal
        );
        Assert.NotNull(job.Problem.Remedy);
        Assert.Equal(before, (await demo.Client.Book(book, Cancel)).Edition);
    }

    [Fact]
    public async Task A_load_is_previewed_loaded_refused_the_second_time_replaced_and_taken_back()
    {
        var book = await DemoService.NewBook(demo.Client, "cycle");
        var bytes = await File.ReadAllBytesAsync(Repository.Demo("ledger-2026-h2.csv"), Cancel);
        using var content = new MemoryStream(bytes);
        var upload = await demo.Client.Upload(book, "q3.csv", content, Cancel);
        var preview = await demo.Client.Preview(book, new LoadRequest(upload.Id), Cancel);
        Assert.True(preview.Lands);
        Assert.Equal("ledger", preview.Kind);
        Assert.All(preview.Columns, c => Assert.NotNull(c.Role));
        var first = await DemoService.Load(demo.Client, book, "q3.csv", bytes);
        Assert.Equal("done", first.State);
        Assert.Equal(preview.Receipt!.Periods, first.Receipt!.Periods);
        Assert.All(first.Receipt.Periods, p => Assert.Equal("0.00", p.Net));
        var question = new AskRequest("operating profit in September 2026");
        var answer = (await demo.Client.Ask(book, question, Cancel)).Answers[0].Headline;
        Assert.Contains(
            "already",
            (await DemoService.Load(demo.Client, book, "again.csv", bytes)).Problem!.Detail,
            StringComparison.Ordinal
        );
        var replaced = await DemoService.Load(demo.Client, book, "again.csv", bytes, "replace");
        Assert.NotEmpty(replaced.Receipt!.Supersedes);
        Assert.Equal(answer, (await demo.Client.Ask(book, question, Cancel)).Answers[0].Headline);
        await demo.Client.Undo(book, replaced.Receipt.Load, Cancel);
        await demo.Client.Undo(book, first.Receipt.Load, Cancel);
        Assert.Equal("cannot-answer", (await demo.Client.Ask(book, question, Cancel)).Outcome);
        Assert.Equal(
            answer,
            (await demo.Client.Ask(book, question with { Edition = first.Receipt.Edition }, Cancel)).Answers[0].Headline
        );
        await demo.Client.Erase(book, book, Cancel);
        Assert.DoesNotContain(await demo.Client.Books(Cancel), b => b.Id == book);
    }

    [Fact]
    public async Task The_same_key_starts_one_load_however_often_it_is_sent()
    {
        var book = await DemoService.NewBook(demo.Client, "once");
        using var content = new MemoryStream(await File.ReadAllBytesAsync(Repository.Demo("statistics-actual.csv"), Cancel));
        var upload = await demo.Client.Upload(book, "s.csv", content, Cancel);
        var jobs = await Task.WhenAll(
            Enumerable.Range(0, 5).Select(_ => demo.Client.Load(book, new LoadRequest(upload.Id), "k1", Cancel))
        );
        var again = await demo.Client.Load(book, new LoadRequest(upload.Id), "k1", Cancel);
        Assert.All(jobs, job => Assert.Equal(again.Id, job.Id));
        await foreach (var state in demo.Client.Follow(book, again.Id, Cancel))
            again = state;
        Assert.Equal("done", again.State);
        Assert.Single(await demo.Client.Loads(book, Cancel), l => l.File == "s.csv");
    }

    [Fact]
    public async Task A_book_made_again_after_it_was_erased_begins_afresh()
    {
        for (var i = 0; i < 2; i++)
        {
            var book = await DemoService.NewBook(demo.Client, "again");
            using var content = new MemoryStream(await File.ReadAllBytesAsync(Repository.Demo("statistics-actual.csv"), Cancel));
            var upload = await demo.Client.Upload(book, "s.csv", content, Cancel);
            var job = await demo.Client.Load(book, new LoadRequest(upload.Id), "the-same-key", Cancel);
            await foreach (var state in demo.Client.Follow(book, job.Id, Cancel))
                job = state;
            Assert.Single(await demo.Client.Loads(book, Cancel), l => l.File == "s.csv");
            await demo.Client.Ask(book, new AskRequest("splendid zorvanes"), Cancel);
            await demo.Client.Erase(book, book, Cancel);
        }
        var fresh = await DemoService.NewBook(demo.Client, "again");
        Assert.Empty(await demo.Client.UnknownWords(fresh, Cancel));
    }

    [Fact]
    public async Task Two_loads_of_one_scope_at_once_end_with_one_of_them()
    {
        var book = await DemoService.NewBook(demo.Client, "race");
        var bytes = await File.ReadAllBytesAsync(Repository.Demo("statistics-actual.csv"), Cancel);
        var jobs = await Task.WhenAll(
            Enumerable.Range(0, 3).Select(i => DemoService.Load(demo.Client, book, $"s{i}.csv", bytes))
        );
        Assert.Equal(["done", "failed", "failed"], jobs.Select(j => j.State).Order());
    }

    [Fact]
    public async Task Every_operation_says_what_it_is_for_and_shows_what_it_takes()
    {
        var document = await Document();
        foreach (var (path, operations) in document["paths"]!.AsObject())
        foreach (var (method, operation) in operations!.AsObject())
        {
            Assert.True(operation!["summary"] is not null && operation["description"] is not null, $"{method} {path}");
            if (operation["requestBody"]?["content"]?["application/json"] is { } body)
                Assert.True(body["example"] is not null, $"{method} {path} has no example");
        }
    }

    [Fact]
    public async Task The_examples_of_questions_are_answered()
    {
        var document = await Document();
        foreach (var name in (string[])["ask", "answers", "compose", "drill"])
        {
            var example = document["paths"]![$"/api/books/{{book}}/{name}"]!["post"]!["requestBody"]!["content"]![
                "application/json"
            ]!["example"]!;
            using var response = await Http.PostAsync(
                new Uri($"api/books/{DemoService.Book}/{name}", UriKind.Relative),
                new StringContent(example.ToJsonString(), Encoding.UTF8, "application/json"),
                Cancel
            );
            var text = await response.Content.ReadAsStringAsync(Cancel);
            Assert.True(response.IsSuccessStatusCode, text);
            Assert.True(name == "compose" || JsonNode.Parse(text)!["outcome"]!.ToString() == "answered", text);
        }
    }

    [Fact]
    public async Task It_is_ready_once_the_demo_is_loaded()
    {
        using var response = await Http.GetAsync(new Uri("ready", UriKind.Relative), Cancel);
        Assert.Equal(HttpStatusCode.OK, response.StatusCode);
        Assert.Equal("""{"ready":true,"waits":[]}""", await response.Content.ReadAsStringAsync(Cancel));
    }

    [Fact]
    public async Task What_did_not_change_since_the_edition_is_not_sent_again()
    {
        var address = new Uri($"api/books/{DemoService.Book}/members?dimension=entity", UriKind.Relative);
        using var first = await Http.GetAsync(address, Cancel);
        using var request = new HttpRequestMessage(HttpMethod.Get, address);
        request.Headers.IfNoneMatch.Add(first.Headers.ETag!);
        using var again = await Http.SendAsync(request, Cancel);
        Assert.Equal(HttpStatusCode.NotModified, again.StatusCode);
        using var other = new HttpRequestMessage(HttpMethod.Get, new Uri($"{address}&edition=3", UriKind.Relative));
        other.Headers.IfNoneMatch.Add(first.Headers.ETag!);
        using var earlier = await Http.SendAsync(other, Cancel);
        Assert.Equal(HttpStatusCode.OK, earlier.StatusCode);
    }

    [Fact]
    public async Task Answers_come_packed_to_whoever_asks_for_it()
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, $"api/books/{DemoService.Book}");
        request.Headers.AcceptEncoding.ParseAdd("br");
        using var response = await Http.SendAsync(request, Cancel);
        Assert.Equal("br", Assert.Single(response.Content.Headers.ContentEncoding));
    }

    [Fact]
    public async Task Changes_of_a_book_are_listed_by_page_and_told_as_they_come()
    {
        var book = await DemoService.NewBook(demo.Client, "told");
        var page = await Http.GetFromJsonAsync<Page<EditionDto>>($"api/books/{book}/editions?limit=2", Cancel);
        Assert.Equal((1, "book created", "person:local"), (page!.Items[0].Edition, page.Items[0].What, page.Items[0].By));
        var latest = (await demo.Client.Book(book, Cancel)).Edition;
        Assert.Equal(latest > 2 ? "2" : null, page.Next);
        using var events = await Http.GetStreamAsync(new Uri($"api/books/{book}/editions/events", UriKind.Relative), Cancel);
        using var reader = new StreamReader(events);
        async Task<string> Next()
        {
            var lines = new List<string>();
            while (await reader.ReadLineAsync(Cancel) is { Length: > 0 } line)
                lines.Add(line);
            return string.Join('\n', lines);
        }
        Assert.Contains($"id: {latest}", await Next(), StringComparison.Ordinal);
        await demo.Client.Close(book, new CloseRequest("2026-P01"), Cancel);
        var told = await Next();
        Assert.Contains($"id: {latest + 1}", told, StringComparison.Ordinal);
        Assert.Contains("closed through 2026-P01", told, StringComparison.Ordinal);
    }
}
