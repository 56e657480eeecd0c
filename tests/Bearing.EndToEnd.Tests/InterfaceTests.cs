using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>The interface as its document describes it: operations, problems, lists, trails.</summary>
public sealed class InterfaceTests(DemoService demo)
{
    private HttpClient Http => demo.Service.Http;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

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
}
