using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>What goes over the wire: who may ask, negotiation, loads, changes as they come.</summary>
public sealed class HttpTests(DemoService demo)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;
    private HttpClient Http => demo.Service.Http;

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
