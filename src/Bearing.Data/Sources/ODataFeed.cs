using System.Net;
using System.Net.Http.Headers;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Bearing.Data.Sources;

/// <summary>An OData v4 feed. Follows the server's own pages; a page's next link is where another run goes on.</summary>
/// <param name="root">Address of the service document, ending in a slash.</param>
/// <param name="http">Does not follow redirections, so that no answer leads to another host.</param>
/// <param name="secret">A bearer token, or the password of <paramref name="user"/>; null for an open feed.</param>
public sealed class ODataFeed(Uri root, HttpClient http, string? user, string? secret) : Source
{
    private const int MostPageBytes = 64 << 20;

    public override async IAsyncEnumerable<SourcePage> Pages(
        Fetch fetch,
        string? resumeFrom,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        if (fetch.Query is not null)
            throw new SourceException("A feed has entity sets and no SQL.", "Name the entity set, with columns and a filter.");
        var next = resumeFrom is not null ? Inside(resumeFrom) : First(fetch);
        var seen = new HashSet<string>();
        while (next is not null)
        {
            if (!seen.Add(next.ToString()))
                throw new SourceException(
                    $"The feed's pages lead in a circle: {next.AbsolutePath} comes again.",
                    "Ask whoever runs the feed; a next link must lead on."
                );
            var page = await Get(next, cancel);
            var rows =
                page["value"] as JsonArray
                ?? throw new SourceException(
                    $"{next.AbsolutePath} answered with something that is no OData page.",
                    "Check the address of the source and the name of the entity set."
                );
            next = page["@odata.nextLink"]?.GetValue<string>() is { } link ? Inside(link) : null;
            yield return new SourcePage([.. rows.OfType<JsonObject>().Select(Plain)], next?.ToString());
        }
    }

    public override async Task<IReadOnlyList<string>> Tables(CancellationToken cancel) =>
        [
            .. ((await Get(root, cancel))["value"] as JsonArray ?? [])
                .OfType<JsonObject>()
                .Where(s => s["kind"]?.GetValue<string>() is null or "EntitySet")
                .Select(s => s["name"]?.GetValue<string>())
                .OfType<string>(),
        ];

    private Uri First(Fetch fetch)
    {
        if (string.IsNullOrWhiteSpace(fetch.From))
            throw new SourceException("Nothing was named that could be fetched.", "Name an entity set of the feed.");
        // A name holds no slash, encoded or not: it would lead out of the feed, and the secret along.
        if (!fetch.From.All(c => char.IsLetterOrDigit(c) || c is '_' or '.' or '-') || fetch.From.Trim('.').Length == 0)
            throw new SourceException(
                $"“{fetch.From}” is no name of an entity set.",
                "Use a name as the feed lists it: letters, digits, dots and underscores."
            );
        var options = new List<string>();
        if (fetch.Columns.Count > 0)
            options.Add($"$select={Uri.EscapeDataString(string.Join(',', fetch.Columns))}");
        if (fetch.Filter is not null)
            options.Add($"$filter={Uri.EscapeDataString(fetch.Filter)}");
        return Inside(Uri.EscapeDataString(fetch.From) + (options.Count > 0 ? $"?{string.Join('&', options)}" : ""));
    }

    /// <summary>A link of the feed must stay inside the feed.</summary>
    private Uri Inside(string link) =>
        Uri.TryCreate(root, link, out var uri)
        && uri.GetLeftPart(UriPartial.Authority) == root.GetLeftPart(UriPartial.Authority)
        && uri.AbsolutePath.StartsWith(root.AbsolutePath, StringComparison.Ordinal)
        && !Uri.UnescapeDataString(uri.AbsolutePath).Split('/', '\\').Contains("..")
            ? uri
            : throw new SourceException(
                $"The feed leads to another address ({link}), which is not followed.",
                "Ask whoever runs the feed; its next links must stay below its own address."
            );

    private async Task<JsonObject> Get(Uri address, CancellationToken cancel)
    {
        try
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, address);
            request.Headers.Accept.Add(new MediaTypeWithQualityHeaderValue("application/json"));
            request.Headers.Add("OData-MaxVersion", "4.0");
            if (secret is not null)
                request.Headers.Authorization = user is null
                    ? new AuthenticationHeaderValue("Bearer", secret)
                    : new AuthenticationHeaderValue("Basic", Convert.ToBase64String(Encoding.UTF8.GetBytes($"{user}:{secret}")));
            using var response = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancel);
            if (response.StatusCode is HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden)
                throw new SourceException("The feed does not let Bearing in.", "Check the user and the secret of the source.");
            if (!response.IsSuccessStatusCode)
                throw new SourceException(
                    $"The feed answered with status {(int)response.StatusCode}{await Message(response, cancel)}.",
                    "Check the entity set, the columns and the filter."
                )
                {
                    MayPass = (int)response.StatusCode >= 500,
                };
            await using var stream = await response.Content.ReadAsStreamAsync(cancel);
            using var bounded = new MemoryStream();
            var buffer = new byte[1 << 16];
            for (int read; (read = await stream.ReadAsync(buffer, cancel)) > 0; bounded.Write(buffer, 0, read))
                if (bounded.Length + read > MostPageBytes)
                    throw new SourceException(
                        "A page of the feed is larger than 64 MB.",
                        "Have the feed send smaller pages, or choose fewer columns."
                    );
            bounded.Position = 0;
            return await JsonNode.ParseAsync(bounded, cancellationToken: cancel) as JsonObject ?? throw new JsonException();
        }
        catch (JsonException e)
        {
            throw new SourceException(
                $"{address.AbsolutePath} answered with something that is no JSON.",
                "Check that the address of the source is that of an OData v4 feed.",
                e
            );
        }
        catch (Exception e)
            when (e is HttpRequestException or IOException || (e is TaskCanceledException && !cancel.IsCancellationRequested))
        {
            throw new SourceException(
                $"The connection to {address.Authority} was lost or never came about.",
                "Check that the source runs and can be reached; what was fetched so far is kept, and the next try goes on from there.",
                e
            )
            {
                MayPass = true,
            };
        }
    }

    private static async Task<string> Message(HttpResponseMessage response, CancellationToken cancel)
    {
        try
        {
            var text = await response.Content.ReadAsStringAsync(cancel);
            var said = JsonNode.Parse(text)?["error"]?["message"]?.GetValue<string>();
            return said is null ? "" : $": {(said.Length > 200 ? said[..200] : said).TrimEnd('.')}";
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return "";
        }
    }

    /// <summary>Without annotations and nested entities.</summary>
    private static JsonObject Plain(JsonObject row) =>
        new(
            row.Where(f => !f.Key.Contains('@', StringComparison.Ordinal) && f.Value is not (JsonObject or JsonArray))
                .Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone()))
        );
}
