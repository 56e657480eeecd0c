using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Bearing.Service.Hosting;

/// <summary>What the OpenAPI document says beyond the shapes: operations.json tells what each operation is for, with an example of
/// what it takes; the shapes themselves are described by their own comments.</summary>
internal static partial class ApiDescription
{
    private static readonly IReadOnlyDictionary<string, Operation> Operations = Load();

    /// <param name="Fails">Codes of the failures that are this operation's own.</param>
    private sealed record Operation(
        string Summary,
        string Description,
        IReadOnlyList<string>? Fails = null,
        JsonNode? Example = null
    );

    public static void Describe(OpenApiOptions options)
    {
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info.Title = "Bearing";
                document.Info.Description =
                    "Questions about actual versus plan, answered with proof. Amounts are JSON strings in plain decimal notation. Every error is a problem document (RFC 9457) that says what was wrong and what to do.";
                document.Servers = [];
                return Task.CompletedTask;
            }
        );
        options.AddOperationTransformer(
            (operation, context, _) =>
            {
                Describe(operation, context);
                return Task.CompletedTask;
            }
        );
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                Describe(schema, context);
                return Task.CompletedTask;
            }
        );
    }

    private static void Describe(OpenApiOperation operation, OpenApiOperationTransformerContext context)
    {
        if (operation.OperationId is not { } id || !Operations.TryGetValue(id, out var known))
            return;
        (operation.Summary, operation.Description) = (known.Summary, known.Description);
        if (
            known.Example is { } example
            && operation.RequestBody?.Content is { } content
            && content.TryGetValue("application/json", out var body)
        )
            body.Example = example.DeepClone();
        foreach (var parameter in operation.Parameters ?? [])
            if (ApiValues.OfParameter(id, parameter.Name!) is { } values && parameter.Schema is OpenApiSchema schema)
                schema.Enum = [.. values.Select(v => (JsonNode)v)];
        if (context.Description.RelativePath?.StartsWith("api/", StringComparison.Ordinal) != true)
            return;
        foreach (var failures in Failures(operation, context, known).GroupBy(k => k.Status))
            Add(operation, context, $"{failures.Key}", failures);
        Add(operation, context, "default", Anywhere);
    }

    private static void Add(
        OpenApiOperation operation,
        OpenApiOperationTransformerContext context,
        string status,
        IEnumerable<ProblemKind> failures
    ) =>
        (operation.Responses ??= [])[status] = new OpenApiResponse
        {
            Description = string.Join(" ", failures.Select(k => $"`{k.Code}`: {k.Title}.")),
            Content = new Dictionary<string, OpenApiMediaType>
            {
                ["application/problem+json"] = new()
                {
                    Schema = new OpenApiSchemaReference(nameof(ProblemDto), context.Document),
                },
            },
        };

    /// <summary>What any operation can fail with, whatever it does.</summary>
    private static IEnumerable<ProblemKind> Anywhere =>
        [ProblemKinds.OtherOrigin, ProblemKinds.BookDamaged, ProblemKinds.Busy, ProblemKinds.DiskFull, ProblemKinds.Unexpected];

    /// <summary>What an operation can fail with: what comes with its address and what it takes, and what is its own.</summary>
    private static IEnumerable<ProblemKind> Failures(
        OpenApiOperation operation,
        OpenApiOperationTransformerContext context,
        Operation known
    )
    {
        bool Takes(string name) => operation.Parameters?.Any(p => p.Name == name) == true;
        if (operation.RequestBody is not null || operation.Parameters?.Any(p => p.In == ParameterLocation.Query) == true)
            yield return ProblemKinds.RequestUnreadable;
        if (context.Description.RelativePath!.Contains("{book}", StringComparison.Ordinal))
            yield return ProblemKinds.NoSuchBook;
        if (Takes("edition") || operation.OperationId is "Ask" or "Answer" or "Drill")
        {
            yield return ProblemKinds.NoSuchEdition;
            yield return ProblemKinds.EditionPurged;
        }
        foreach (var code in known.Fails ?? [])
            yield return ProblemKinds.Find(code)
                ?? throw new InvalidOperationException($"operations.json: {operation.OperationId} fails with “{code}”.");
    }

    private static void Describe(OpenApiSchema schema, OpenApiSchemaTransformerContext context)
    {
        // Comments are wrapped where the source ends a line.
        if (schema.Description is { } text)
            schema.Description = Space().Replace(text, " ");
        if (
            context.JsonPropertyInfo is { AttributeProvider: MemberInfo member }
            && ApiValues.Of(member.DeclaringType!, member.Name) is { } values
        )
            schema.Enum =
            [
                .. values.Select(v => (JsonNode)v),
                .. schema.Type?.HasFlag(JsonSchemaType.Null) == true ? [JsonNullSentinel.JsonNull] : Array.Empty<JsonNode>(),
            ];
        // The generator does not see that the values of a dictionary may be null.
        if (
            context.JsonTypeInfo.Type == typeof(RowDto)
            && schema.Properties?["values"] is OpenApiSchema { AdditionalProperties: OpenApiSchema value }
        )
            value.Type |= JsonSchemaType.Null;
        // What tells kinds apart is always there.
        if (
            context.JsonTypeInfo.Type.BaseType?.GetCustomAttribute<JsonPolymorphicAttribute>()?.TypeDiscriminatorPropertyName is
            { } name
        )
            schema.Required = new HashSet<string>(schema.Required ?? new HashSet<string>()) { name };
    }

    private static Dictionary<string, Operation> Load()
    {
        using var stream = typeof(ApiDescription).Assembly.GetManifestResourceStream("hosting.operations.json")!;
        return JsonSerializer.Deserialize<Dictionary<string, Operation>>(stream, JsonSerializerOptions.Web)!;
    }

    [GeneratedRegex("\\s+")]
    private static partial Regex Space();
}
