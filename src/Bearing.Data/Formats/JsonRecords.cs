using System.Text.Json;
using Bearing.Core.Loading;

namespace Bearing.Data.Formats;

/// <summary>
/// JSON records: an array of objects, or one object on each line. The names of the first records' values are the headings;
/// objects within become "outer.inner". Records are numbered from 1, which for one on each line is the line.
/// </summary>
internal sealed record JsonRecords : SourceSheet
{
    private const int HeadingsFrom = 1_000;
    private const int MostColumns = 500;
    private const int Deepest = 4;

    private readonly string _path;
    private readonly bool _array;

    private JsonRecords(string path, bool array)
        : base("") => (_path, _array) = (path, array);

    public string Form => _array ? "JSON array" : "JSON, a record on each line";

    /// <summary>Null when the file does not begin like JSON.</summary>
    public static JsonRecords? TryOpen(string path)
    {
        using var stream = File.OpenRead(path);
        for (int b; (b = stream.ReadByte()) >= 0; )
            if (b is not (' ' or '\t' or '\r' or '\n' or 0xef or 0xbb or 0xbf))
                return b is '{' or '[' ? new JsonRecords(path, b == '[') : null;
        return null;
    }

    public override IEnumerable<(RawRow Row, double Part)> Rows()
    {
        var headings = Headings();
        if (headings.Length == 0)
            yield break;
        yield return (new RawRow(0, headings, new object?[headings.Length]), 0);
        var length = Math.Max(1, new FileInfo(_path).Length);
        foreach (var (number, record, position) in Records())
        {
            var values = new Dictionary<string, object?>();
            Flatten(record, "", 0, values);
            var cells = headings.Select(h => CellValue.Of(values.GetValueOrDefault(h))).ToArray();
            yield return (
                new RawRow(number, [.. cells.Select(c => c.Text)], [.. cells.Select(c => c.Typed)]),
                (double)position / length
            );
        }
    }

    private string[] Headings()
    {
        var names = new Dictionary<string, object?>();
        foreach (var (_, record, _) in Records().Take(HeadingsFrom))
            Flatten(record, "", 0, names);
        return names.Count <= MostColumns
            ? [.. names.Keys]
            : throw LoadRefusedException.File(
                $"The records have more than {MostColumns} values each.",
                "Take out the values that are not needed."
            );
    }

    private IEnumerable<(int Number, JsonElement Record, long Position)> Records()
    {
        using var stream = File.OpenRead(_path);
        var number = 0;
        if (_array)
        {
            using var elements = JsonSerializer
                .DeserializeAsyncEnumerable<JsonElement>(stream)
                .ToBlockingEnumerable()
                .GetEnumerator();
            while (Guarded(elements.MoveNext, number + 1))
                yield return (++number, elements.Current, stream.Position);
            yield break;
        }
        using var reader = new StreamReader(stream);
        for (string? line; (line = reader.ReadLine()) is not null; )
        {
            number++;
            if (!string.IsNullOrWhiteSpace(line))
                yield return (
                    number,
                    Guarded(() => JsonDocument.Parse(line, new JsonDocumentOptions { MaxDepth = 16 }).RootElement, number),
                    stream.Position
                );
        }
    }

    private static void Flatten(JsonElement element, string name, int depth, Dictionary<string, object?> into)
    {
        if (element.ValueKind == JsonValueKind.Object && depth < Deepest)
            foreach (var property in element.EnumerateObject())
                Flatten(property.Value, name.Length == 0 ? property.Name : $"{name}.{property.Name}", depth + 1, into);
        else if (name.Length > 0)
            into[name] = element.ValueKind switch
            {
                JsonValueKind.Number => element.TryGetDecimal(out var number) ? number : element.GetRawText(),
                JsonValueKind.String => element.GetString(),
                JsonValueKind.Null => null,
                _ => element.GetRawText(),
            };
    }

    private static T Guarded<T>(Func<T> read, int record)
    {
        try
        {
            return read();
        }
        catch (JsonException)
        {
            throw new LoadRefusedException(
                new Refusal(
                    record,
                    null,
                    null,
                    $"The JSON cannot be read at record {record}.",
                    "Send an array of objects, or one object on each line."
                )
            );
        }
    }
}
