using System.Text.Json;
using System.Text.Json.Nodes;
using Bearing.Contracts;
using Bearing.Service.Hosting;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.Options;

namespace Bearing.Service.Asking;

/// <summary>Questions that were kept in the first form, in links and by scripts, are rewritten in the present one before anything
/// reads them.</summary>
internal sealed class FormOneJson(RequestDelegate next, IOptions<JsonOptions> json)
{
    private const int MostBytes = 1_000_000;
    private static readonly string[] Readers = ["/ask", "/answers", "/drill", "/trails"];

    public async Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        if (
            HttpMethods.IsPost(request.Method)
            && request.HasJsonContentType()
            && request.Path.Value is { } path
            && Readers.Any(r => path.EndsWith(r, StringComparison.Ordinal))
        )
        {
            if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
                size.MaxRequestBodySize = MostBytes;
            using var body = new MemoryStream();
            await request.Body.CopyToAsync(body, context.RequestAborted);
            request.Body = new MemoryStream(Rewritten(body.ToArray()));
            request.ContentLength = request.Body.Length;
        }
        await next(context);
    }

    /// <summary>As it came where nothing is of the first form, or it is no JSON: then whoever reads it says so.</summary>
    private byte[] Rewritten(byte[] body)
    {
        JsonNode? root;
        try
        {
            root = JsonNode.Parse(body, documentOptions: new JsonDocumentOptions { AllowDuplicateProperties = false });
        }
        catch (JsonException)
        {
            return body;
        }
        var changed = false;
        foreach (var holder in Holders(root))
        foreach (var name in (string[])["question", "previous"])
            if (holder[name] is JsonObject old && IsOfFormOne(old))
            {
                holder[name] = JsonSerializer.SerializeToNode(Upgrade(old), json.Value.SerializerOptions);
                changed = true;
            }
        return changed ? JsonSerializer.SerializeToUtf8Bytes(root, json.Value.SerializerOptions) : body;
    }

    private static IEnumerable<JsonObject> Holders(JsonNode? root)
    {
        if (root is not JsonObject request)
            yield break;
        yield return request;
        foreach (var list in (string[])["choices", "steps"])
            if (request[list] is JsonArray items)
                foreach (var item in items.OfType<JsonObject>())
                    yield return item;
    }

    private static bool IsOfFormOne(JsonObject question) =>
        question["form"] is JsonValue form && form.TryGetValue<int>(out var number) && number == 1;

    private QuestionDto Upgrade(JsonObject old)
    {
        FormOneDto? q;
        try
        {
            q = old.Deserialize<FormOneDto>(json.Value.SerializerOptions);
        }
        catch (JsonException e)
        {
            throw new BadHttpRequestException(e.Message, e);
        }
        return q!.Upgraded();
    }

    /// <summary>The first form: every part of every sort side by side.</summary>
    private sealed record FormOneDto(
        int Form,
        string Intent,
        string Figure,
        string Subject,
        IReadOnlyList<string> Bases,
        IReadOnlyList<string> Spans,
        IReadOnlyList<FilterDto> Filters,
        IReadOnlyList<BreakdownDto> Breakdowns,
        RankingDto? Ranking,
        IReadOnlyList<ConditionDto>? Conditions = null,
        bool? Share = null,
        string? Claim = null,
        bool? Growth = null,
        string? Document = null,
        bool? Cumulative = null,
        string? Projection = null,
        RecordAskDto? Records = null,
        string? Statistic = null,
        string? Text = null,
        DisplayDto? Display = null,
        string? Currency = null,
        ListingDto? Listing = null,
        string? ClaimOf = null,
        bool? Mix = null,
        string? Than = null,
        PartDto? Part = null,
        IReadOnlyList<string>? Beside = null,
        string? Rates = null
    )
    {
        public QuestionDto Upgraded()
        {
            var claim = Claim is null ? null : new ClaimDto(Claim, ClaimOf, Than);
            var of = new OfRowsDto(Statistic, Share == true ? new SharesDto(Mix) : null, Part, claim, Cumulative);
            KindDto kind =
                Intent == "entries" ? new EntriesDto(Document, Text, Listing)
                : Records is not null ? new RecordsDto(Records, Listing)
                : Projection is not null ? new ProjectedDto(Projection, claim)
                : Intent == "why" ? new WhyDto(Growth, claim)
                : Intent == "bridge" ? new BridgeDto()
                : Bases is not { Count: > 0 } ? new ValuesDto(of, Beside)
                : new ComparisonDto(of, Growth);
            if (Present().Except(Held(kind)).FirstOrDefault() is { } lost)
                throw new ProblemException(
                    ProblemKinds.QuestionUnreadable,
                    $"{lost}: a question of this kind cannot hold it.",
                    "Leave it out, or ask for another kind."
                );
            var inEvery = Claim is null && ClaimOf == "every" ? true : (bool?)null;
            return new QuestionDto(
                QuestionDto.CurrentForm,
                new ScopeDto(Figure, Spans, Filters, Subject, Bases, Currency, Rates),
                kind,
                new LayoutDto(Breakdowns, Ranking, Conditions, inEvery, Display)
            );
        }

        private IEnumerable<string> Present() =>
            new (string Name, bool Is)[]
            {
                ("beside", Beside is { Count: > 0 }),
                ("claim", Claim is not null),
                ("cumulative", Cumulative == true),
                ("document", !string.IsNullOrEmpty(Document)),
                ("growth", Growth == true),
                ("listing", Listing is not null),
                ("part", Part is not null),
                ("share", Share == true),
                ("statistic", Statistic is not null),
                ("text", !string.IsNullOrEmpty(Text)),
            }
                .Where(p => p.Is)
                .Select(p => p.Name);

        private static string[] Held(KindDto kind) =>
            kind switch
            {
                ValuesDto => ["beside", "claim", "cumulative", "part", "share", "statistic"],
                ComparisonDto => ["claim", "cumulative", "growth", "part", "share", "statistic"],
                WhyDto => ["claim", "growth"],
                EntriesDto => ["document", "listing", "text"],
                RecordsDto => ["listing"],
                ProjectedDto => ["claim"],
                _ => [],
            };
    }
}
