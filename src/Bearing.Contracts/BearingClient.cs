using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;

namespace Bearing.Contracts;

/// <summary>The service said no; the problem tells what, where and what to do.</summary>
public sealed class BearingProblemException(ProblemDto problem) : Exception(problem.Detail)
{
    public ProblemDto Problem { get; } = problem;
    public HttpStatusCode Status => (HttpStatusCode)Problem.Status;
}

/// <summary>The service over HTTP, for the command line and for tools. Throws <see cref="BearingProblemException"/> for every
/// refusal.</summary>
public sealed class BearingClient(HttpClient http)
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        AllowOutOfOrderMetadataProperties = true,
    };

    public Task<HealthDto> Health(CancellationToken cancel) => Get<HealthDto>("health", cancel);

    public Task<IReadOnlyList<BookSummary>> Books(CancellationToken cancel) => All<BookSummary>("api/books", cancel);

    public Task<BookDto> Book(string book, CancellationToken cancel) => Get<BookDto>($"api/books/{Seg(book)}", cancel);

    public Task<BookDto> Create(NewBook book, CancellationToken cancel) => Post<BookDto>("api/books", book, cancel);

    /// <param name="confirm">The book's name again; of a damaged one its id.</param>
    public async Task Erase(string book, string confirm, CancellationToken cancel)
    {
        using var response = await http.DeleteAsync(
            new Uri($"api/books/{Seg(book)}?confirm={Esc(confirm)}", UriKind.Relative),
            cancel
        );
        await Check(response, cancel);
    }

    /// <summary>Brings back the book of this id that was erased last.</summary>
    public Task<BookDto> Restore(string book, CancellationToken cancel) =>
        Post<BookDto>($"api/books/{Seg(book)}/restore", new { }, cancel);

    public Task<AnswerSet> Ask(string book, AskRequest request, CancellationToken cancel) =>
        Post<AnswerSet>($"api/books/{Seg(book)}/ask", request, cancel);

    public Task<ReadingStagesDto> Reading(string book, AskRequest request, CancellationToken cancel) =>
        Post<ReadingStagesDto>($"api/books/{Seg(book)}/ask/reading", request, cancel);

    public Task<AnswerSet> Answer(string book, AnswerRequest request, CancellationToken cancel) =>
        Post<AnswerSet>($"api/books/{Seg(book)}/answers", request, cancel);

    public Task<QuestionDto> Compose(string book, ComposeRequest request, CancellationToken cancel) =>
        Post<QuestionDto>($"api/books/{Seg(book)}/compose", request, cancel);

    public Task<AnswerSet> Drill(string book, DrillRequest request, CancellationToken cancel) =>
        Post<AnswerSet>($"api/books/{Seg(book)}/drill", request, cancel);

    /// <summary>Keeps the steps of a talk under a short id.</summary>
    public Task<TrailDto> KeepTrail(string book, NewTrail trail, CancellationToken cancel) =>
        Post<TrailDto>($"api/books/{Seg(book)}/trails", trail, cancel);

    public Task<TrailDto> Trail(string book, string trail, CancellationToken cancel) =>
        Get<TrailDto>($"api/books/{Seg(book)}/trails/{Seg(trail)}", cancel);

    public Task<LinePageDto> Lines(string book, string slice, int limit, string? cursor, bool bySize, CancellationToken cancel) =>
        Get<LinePageDto>(
            $"api/books/{Seg(book)}/lines?slice={Esc(slice)}&limit={limit}&order={(bySize ? "size" : "loaded")}{(cursor is null ? "" : $"&cursor={Esc(cursor)}")}",
            cancel
        );

    public Task<SourceRowDto> SourceRow(string book, int load, int row, CancellationToken cancel) =>
        Get<SourceRowDto>($"api/books/{Seg(book)}/loads/{load}/rows/{row}", cancel);

    public Task<IReadOnlyList<LoadDto>> Loads(string book, CancellationToken cancel) =>
        All<LoadDto>($"api/books/{Seg(book)}/loads", cancel);

    public Task<UndoDto> Undo(string book, int load, CancellationToken cancel) =>
        Post<UndoDto>($"api/books/{Seg(book)}/loads/{load}/undo", new { }, cancel);

    /// <summary>Removes for good what was taken back. <paramref name="confirm"/> is the book's name.</summary>
    public Task<PurgeDto> Purge(string book, string confirm, CancellationToken cancel) =>
        Post<PurgeDto>($"api/books/{Seg(book)}/purge?confirm={Esc(confirm)}", new { }, cancel);

    /// <summary>Streams a file as it is; nothing is read into memory.</summary>
    public async Task<UploadDto> Upload(string book, string fileName, Stream content, CancellationToken cancel)
    {
        using var body = new StreamContent(content);
        body.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var response = await http.PostAsync(
            new Uri($"api/books/{Seg(book)}/uploads?name={Esc(fileName)}", UriKind.Relative),
            body,
            cancel
        );
        return await Read<UploadDto>(response, cancel);
    }

    public Task<IReadOnlyList<MappingFile>> Mappings(string book, CancellationToken cancel) =>
        All<MappingFile>($"api/books/{Seg(book)}/mappings", cancel);

    public Task<MappingFile> Mapping(string book, string name, CancellationToken cancel) =>
        Get<MappingFile>($"api/books/{Seg(book)}/mappings/{Seg(name)}", cancel);

    public async Task<MappingFile> KeepMapping(string book, string name, MappingFile mapping, CancellationToken cancel)
    {
        using var response = await http.PutAsJsonAsync($"api/books/{Seg(book)}/mappings/{Seg(name)}", mapping, cancel);
        return await Read<MappingFile>(response, cancel);
    }

    public async Task RemoveMapping(string book, string name, CancellationToken cancel)
    {
        using var response = await http.DeleteAsync(
            new Uri($"api/books/{Seg(book)}/mappings/{Seg(name)}", UriKind.Relative),
            cancel
        );
        await Check(response, cancel);
    }

    public Task<LoadPreview> Preview(string book, LoadRequest request, CancellationToken cancel) => Shown(book, request, cancel);

    private async Task<LoadPreview> Shown(string book, LoadRequest request, CancellationToken cancel)
    {
        var job = await Post<JobDto>($"api/books/{Seg(book)}/loads/preview", request, cancel);
        await foreach (var state in Follow(book, job.Id, cancel))
            job = state;
        return job.Preview
            ?? throw new BearingProblemException(
                job.Problem
                    ?? OfClient(
                        HttpStatusCode.UnprocessableEntity,
                        "Not shown",
                        "The preview was cancelled.",
                        "Ask for it again."
                    )
            );
    }

    /// <param name="idempotencyKey">The same key starts the same load once, however often it is sent.</param>
    public async Task<JobDto> Load(string book, LoadRequest request, string idempotencyKey, CancellationToken cancel)
    {
        using var message = new HttpRequestMessage(HttpMethod.Post, new Uri($"api/books/{Seg(book)}/loads", UriKind.Relative))
        {
            Content = JsonContent.Create(request, options: Json),
        };
        message.Headers.Add("Idempotency-Key", idempotencyKey);
        using var response = await http.SendAsync(message, cancel);
        return await Read<JobDto>(response, cancel);
    }

    public Task<JobDto> Job(string book, string job, CancellationToken cancel) =>
        Get<JobDto>($"api/books/{Seg(book)}/jobs/{Seg(job)}", cancel);

    /// <summary>Follows a job until it ends; each element is its state then.</summary>
    public async IAsyncEnumerable<JobDto> Follow(string book, string job, [EnumeratorCancellation] CancellationToken cancel)
    {
        using var stream = await http.GetStreamAsync(
            new Uri($"api/books/{Seg(book)}/jobs/{Seg(job)}/events", UriKind.Relative),
            cancel
        );
        using var reader = new StreamReader(stream, Encoding.UTF8);
        while (await reader.ReadLineAsync(cancel) is { } line)
            if (line.StartsWith("data:", StringComparison.Ordinal))
                yield return JsonSerializer.Deserialize<JobDto>(line[5..], Json)!;
    }

    public Task<IReadOnlyList<TableDto>> Tables(string book, CancellationToken cancel) =>
        All<TableDto>($"api/books/{Seg(book)}/tables", cancel);

    /// <param name="where">Conditions such as “status is open”; all of them hold.</param>
    /// <param name="order">Code of a field; with a minus in front, largest first. Null for the order of loading.</param>
    public Task<RecordPageDto> Records(
        string book,
        string table,
        IEnumerable<string> where,
        string? order,
        int limit,
        string? cursor,
        CancellationToken cancel
    ) =>
        Get<RecordPageDto>(
            $"api/books/{Seg(book)}/tables/{Seg(table)}/records?limit={limit}{(order is null ? "" : $"&order={Esc(order)}")}{(cursor is null ? "" : $"&cursor={Esc(cursor)}")}{string.Concat(where.Select(w => $"&where={Esc(w)}"))}",
            cancel
        );

    public Task<IReadOnlyList<RateDto>> Rates(string book, CancellationToken cancel) =>
        All<RateDto>($"api/books/{Seg(book)}/rates", cancel);

    public Task<ClosedDto> Closed(string book, CancellationToken cancel) =>
        Get<ClosedDto>($"api/books/{Seg(book)}/closed", cancel);

    public Task<ClosedDto> Close(string book, CloseRequest request, CancellationToken cancel) =>
        Post<ClosedDto>($"api/books/{Seg(book)}/closed", request, cancel);

    /// <param name="from">Edition to compare with; null for the one before the latest change.</param>
    public Task<ChangesDto> Changes(string book, int? from, int? to, int limit, CancellationToken cancel) =>
        Get<ChangesDto>(
            $"api/books/{Seg(book)}/changes?limit={limit}{(from is null ? "" : $"&from={from}")}{(to is null ? "" : $"&to={to}")}",
            cancel
        );

    public Task<ReconciliationDto> Reconcile(string book, ReconcileRequest request, CancellationToken cancel) =>
        Post<ReconciliationDto>($"api/books/{Seg(book)}/reconciliations", request, cancel);

    public Task<IReadOnlyList<SourceDto>> Sources(string book, CancellationToken cancel) =>
        All<SourceDto>($"api/books/{Seg(book)}/sources", cancel);

    public async Task<SourceDto> KeepSource(string book, string name, NewSource source, CancellationToken cancel)
    {
        using var response = await http.PutAsJsonAsync($"api/books/{Seg(book)}/sources/{Seg(name)}", source, cancel);
        return await Read<SourceDto>(response, cancel);
    }

    public async Task RemoveSource(string book, string name, CancellationToken cancel)
    {
        using var response = await http.DeleteAsync(
            new Uri($"api/books/{Seg(book)}/sources/{Seg(name)}", UriKind.Relative),
            cancel
        );
        await Check(response, cancel);
    }

    public Task<IReadOnlyList<string>> SourceTables(string book, string name, CancellationToken cancel) =>
        All<string>($"api/books/{Seg(book)}/sources/{Seg(name)}/tables", cancel);

    /// <summary>A job whose upload, when done, loads like any other.</summary>
    public Task<JobDto> Fetch(string book, string source, FetchRequest what, CancellationToken cancel) =>
        Post<JobDto>($"api/books/{Seg(book)}/sources/{Seg(source)}/fetch", what, cancel);

    public Task<IReadOnlyList<WordDto>> Words(string book, CancellationToken cancel) =>
        All<WordDto>($"api/books/{Seg(book)}/words", cancel);

    public Task<IReadOnlyList<UnknownWordDto>> UnknownWords(string book, CancellationToken cancel) =>
        All<UnknownWordDto>($"api/books/{Seg(book)}/words/unknown", cancel);

    public Task<WordDto> Teach(string book, TeachRequest word, CancellationToken cancel) =>
        Post<WordDto>($"api/books/{Seg(book)}/words", word, cancel);

    public async Task Forget(string book, int word, CancellationToken cancel)
    {
        using var response = await http.DeleteAsync(new Uri($"api/books/{Seg(book)}/words/{word}", UriKind.Relative), cancel);
        await Check(response, cancel);
    }

    public Task<IReadOnlyList<SavedQuestion>> Questions(string book, CancellationToken cancel) =>
        All<SavedQuestion>($"api/books/{Seg(book)}/questions", cancel);

    public async Task<SavedQuestion> KeepQuestion(string book, string name, string text, CancellationToken cancel)
    {
        using var response = await http.PutAsJsonAsync(
            $"api/books/{Seg(book)}/questions/{Seg(name)}",
            new SavedQuestion(name, text),
            cancel
        );
        return await Read<SavedQuestion>(response, cancel);
    }

    public async Task RemoveQuestion(string book, string name, CancellationToken cancel)
    {
        using var response = await http.DeleteAsync(
            new Uri($"api/books/{Seg(book)}/questions/{Seg(name)}", UriKind.Relative),
            cancel
        );
        await Check(response, cancel);
    }

    public Task<IReadOnlyList<RunDto>> RunQuestions(string book, RunRequest run, CancellationToken cancel) =>
        Post<IReadOnlyList<RunDto>>($"api/books/{Seg(book)}/questions/run", run, cancel);

    public Task<IReadOnlyList<SelectionList>> Selections(string book, CancellationToken cancel) =>
        All<SelectionList>($"api/books/{Seg(book)}/selections", cancel);

    public async Task<SelectionList> KeepSelection(string book, SelectionList list, CancellationToken cancel)
    {
        using var response = await http.PutAsJsonAsync($"api/books/{Seg(book)}/selections/{Seg(list.Name)}", list, cancel);
        return await Read<SelectionList>(response, cancel);
    }

    /// <summary>The table of an answer as CSV.</summary>
    public async Task<string> AnswerCsv(string book, AnswerRequest request, CancellationToken cancel)
    {
        using var message = new HttpRequestMessage(HttpMethod.Post, new Uri($"api/books/{Seg(book)}/answers", UriKind.Relative))
        {
            Content = JsonContent.Create(request, options: Json),
        };
        message.Headers.Accept.ParseAdd("text/csv");
        using var response = await http.SendAsync(message, cancel);
        await Check(response, cancel);
        return await response.Content.ReadAsStringAsync(cancel);
    }

    /// <summary>Refused rows of a failed job as CSV.</summary>
    public async Task<string> RefusedRows(string book, string job, CancellationToken cancel)
    {
        using var response = await http.GetAsync(
            new Uri($"api/books/{Seg(book)}/jobs/{Seg(job)}/refused", UriKind.Relative),
            cancel
        );
        await Check(response, cancel);
        return await response.Content.ReadAsStringAsync(cancel);
    }

    /// <summary>The whole list, page by page.</summary>
    private async Task<IReadOnlyList<T>> All<T>(string path, CancellationToken cancel)
    {
        var all = new List<T>();
        string? cursor = null;
        do
        {
            var page = await Get<Page<T>>($"{path}?limit=1000{(cursor is null ? "" : $"&cursor={Esc(cursor)}")}", cancel);
            all.AddRange(page.Items);
            cursor = page.Next;
        } while (cursor is not null);
        return all;
    }

    private async Task<T> Get<T>(string path, CancellationToken cancel)
    {
        using var response = await http.GetAsync(new Uri(path, UriKind.Relative), cancel);
        return await Read<T>(response, cancel);
    }

    private async Task<T> Post<T>(string path, object body, CancellationToken cancel)
    {
        using var response = await http.PostAsync(
            new Uri(path, UriKind.Relative),
            JsonContent.Create(body, options: Json),
            cancel
        );
        return await Read<T>(response, cancel);
    }

    private static async Task<T> Read<T>(HttpResponseMessage response, CancellationToken cancel)
    {
        await Check(response, cancel);
        return (await response.Content.ReadFromJsonAsync<T>(Json, cancel))!;
    }

    private static async Task Check(HttpResponseMessage response, CancellationToken cancel)
    {
        if (response.IsSuccessStatusCode)
            return;
        ProblemDto? problem = null;
        try
        {
            problem = await response.Content.ReadFromJsonAsync<ProblemDto>(Json, cancel);
        }
        catch (JsonException)
        {
            // Not from the service itself; the status has to do.
        }
        throw new BearingProblemException(
            problem is { Detail: not null }
                ? problem
                : OfClient(
                    response.StatusCode,
                    "Unexpected answer",
                    $"The address answered with status {(int)response.StatusCode} and no explanation.",
                    "Check that BEARING_URL is the address of a Bearing service."
                )
        );
    }

    /// <summary>What goes wrong before or behind the service has no page of its own.</summary>
    private static ProblemDto OfClient(HttpStatusCode status, string title, string detail, string remedy) =>
        new("about:blank", title, (int)status, detail, remedy);

    private static string Esc(string text) => Uri.EscapeDataString(text);

    /// <summary>A name as one step of a path. Dots alone would be taken for the step above, escaped or not, so they name
    /// nothing.</summary>
    /// <exception cref="BearingProblemException">When the name cannot stand in an address.</exception>
    private static string Seg(string name) =>
        name.Trim('.').Length > 0
            ? Esc(name)
            : throw new BearingProblemException(
                OfClient(
                    HttpStatusCode.UnprocessableEntity,
                    "The name is not usable",
                    $"“{name}” names nothing.",
                    "Use the name as the list shows it: lower-case letters, digits and dashes."
                )
            );
}
