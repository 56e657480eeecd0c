using System.Collections.Immutable;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Bearing.Core.Loading;

/// <summary>The headings of journals by key, for the lines that belong to them.</summary>
public sealed class HeadingJoin
{
    private readonly Dictionary<string, string[]> _byKey = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<string> _used = new(StringComparer.OrdinalIgnoreCase);

    /// <param name="rows">The file of headings, with its heading row first among those that hold its columns.</param>
    /// <exception cref="LoadRefusedException">When a column is missing or a key stands there twice.</exception>
    public HeadingJoin(HeadingFile file, IEnumerable<RawRow> rows)
    {
        int[]? at = null;
        foreach (var row in rows)
        {
            if (at is null)
            {
                var found = file
                    .Columns.Prepend(file.Key)
                    .Select(h => Array.FindIndex(row.Fields, f => string.Equals(f.Trim(), h, StringComparison.OrdinalIgnoreCase)))
                    .ToArray();
                if (found.All(i => i >= 0))
                    at = found;
                continue;
            }
            if (at.Max() >= row.Fields.Length || row.Fields[at[0]].Trim() is not { Length: > 0 } key)
                continue;
            if (!_byKey.TryAdd(key, [.. at.Skip(1).Select(i => row.Fields[i].Trim())]))
                throw new LoadRefusedException(
                    new Refusal(
                        row.Number,
                        file.Key,
                        key,
                        $"The file of headings has “{key}” twice, so its lines could belong to either.",
                        "Keep one of the rows."
                    )
                );
        }
        if (at is null)
            throw LoadRefusedException.File(
                $"The file of headings has no row with the headings {string.Join(", ", file.Columns.Prepend(file.Key).Select(c => $"“{c}”"))}.",
                "Check that it is the right file, or correct the mapping."
            );
    }

    public long Lines { get; private set; }

    public int Count => _byKey.Count;

    /// <summary>Headings to which no line belongs.</summary>
    public int WithoutLines => _byKey.Count - _used.Count;

    internal string[]? Find(string key)
    {
        if (!_byKey.TryGetValue(key, out var fields))
            return null;
        Lines++;
        _used.Add(key);
        return fields;
    }
}

/// <summary>Completes rows by the columns of their headings and by columns made from others.</summary>
internal sealed partial class RowExtension(FileMapping mapping, TableLayout layout, HeadingJoin? join)
{
    private readonly int _key = mapping.Headings is { } file ? layout.IndexOfHeading(file.LineKey) : -1;
    private readonly ImmutableArray<(DerivedColumn Column, (int Index, int Sign)[] Parts)> _derived =
    [
        .. mapping.Derived.Select(d => (d, Parts(d, layout))),
    ];

    /// <summary>Null when the row belongs to no heading.</summary>
    public RawRow? Complete(RawRow row, bool decimalComma)
    {
        var whole = row;
        if (mapping.Headings is not null)
        {
            if (join?.Find(row.Fields[_key].Trim()) is not { } fields)
                return null;
            whole = whole.Extended(fields);
        }
        foreach (var (column, parts) in _derived)
            whole = whole.Extended([Value(column, parts, whole, decimalComma)]);
        return whole;
    }

    public Refusal NoHeading(RawRow row) =>
        new(
            row.Number,
            mapping.Headings!.LineKey,
            row.Fields[_key].Trim(),
            $"No heading has the key “{row.Fields[_key].Trim()}” of this line.",
            "Bring the file of headings that belongs to these lines, or take the line out."
        );

    private static (int, int)[] Parts(DerivedColumn column, TableLayout layout)
    {
        var headings = column.Text is { } text
            ? Braces().Matches(text).Select(m => m.Groups[1].Value)
            : column.Sum.Concat(column.Product);
        return [.. headings.Select(h => h.StartsWith('-') ? (Index(h[1..]), -1) : (Index(h), 1))];

        int Index(string heading) =>
            layout.IndexOfHeading(heading) is var at and >= 0
                ? at
                : throw LoadRefusedException.File(
                    $"The derived column “{column.Heading}” needs a column “{heading}”, which the file does not have.",
                    "Correct the mapping, or bring a file that has the column."
                );
    }

    private static string Value(DerivedColumn column, (int Index, int Sign)[] parts, RawRow row, bool decimalComma)
    {
        if (column.Text is { } text)
        {
            var next = 0;
            return Braces().Replace(text, _ => row.Fields[parts[next++].Index].Trim());
        }
        var result = column.Product.IsEmpty ? 0m : 1m;
        foreach (var (index, sign) in parts)
        {
            // What is no number is handed on, so that the row is refused with it.
            var field = row.Fields[index].Trim();
            if (
                row.Typed?[index] is not decimal number
                && !Numbers.TryRead(field.Length == 0 ? "0" : field, decimalComma, out number, out _)
            )
                return field;
            else if (row.Typed?[index] is decimal typed)
                number = typed;
            result = column.Product.IsEmpty ? result + (sign * number) : result * number;
        }
        var plain = decimal.Round(result, 4).ToString(CultureInfo.InvariantCulture);
        return decimalComma ? plain.Replace('.', ',') : plain;
    }

    [GeneratedRegex(@"\{([^{}]+)\}")]
    private static partial Regex Braces();
}
