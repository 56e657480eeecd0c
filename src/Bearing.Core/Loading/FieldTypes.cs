using System.Collections.Immutable;
using System.Globalization;

namespace Bearing.Core.Loading;

/// <summary>Columns that are kept as fields, of the type that their cells in the first rows have.</summary>
internal static class FieldTypes
{
    /// <summary>Every column of a table of records becomes a field, of the type that all its cells in the first rows
    /// have.</summary>
    public static FileMapping WithFields(
        FileMapping mapping,
        IReadOnlyList<RawRow> sample,
        IReadOnlyDictionary<string, string>? said
    )
    {
        var comma = CellForms.HasDecimalComma(
            mapping with
            {
                Columns = [.. mapping.Columns.Select(c => c with { Role = "amount" })],
            },
            sample
        );
        var columns = mapping
            .Columns.Select(
                (c, i) =>
                    said?.ContainsKey(c.Heading) == true
                    || c.Role is "account" or "entity"
                    || c.Role?.StartsWith("dimension:", StringComparison.Ordinal) == true
                        ? c
                        : c with
                        {
                            Role =
                                ColumnMapping.FieldRole + TypeOf(i, c.Heading, sample, comma, out var format, out var evidence),
                            DateFormat = format,
                            Evidence = evidence,
                        }
            )
            .ToImmutableArray();
        return WithOpen(
            mapping with
            {
                Columns = columns,
                DecimalComma = comma,
                DateFormat = columns.Select(c => c.DateFormat).FirstOrDefault(f => f is not null),
            }
        );
    }

    /// <summary>Records that tell what was paid of an amount leave open what is left of it.</summary>
    private static FileMapping WithOpen(FileMapping mapping)
    {
        var amounts = mapping.Columns.Where(c => c.Role == ColumnMapping.FieldRole + "amount").ToList();
        string? Playing(string role) => amounts.Find(c => HeadingWords.FieldOf(c.Heading, role))?.Heading;
        if (
            Playing("open") is not null
            || Playing("paid") is not { } paid
            || amounts.Find(c => c.Heading != paid && HeadingWords.FieldOf(c.Heading, "whole"))?.Heading is not { } whole
        )
            return mapping;
        const string open = "Open";
        return mapping with
        {
            Columns = mapping.Columns.Add(new ColumnMapping(open, ColumnMapping.FieldRole + "amount", $"{whole} less {paid}")),
            Derived = [new DerivedColumn(open, null, [whole, "-" + paid], [])],
        };
    }

    /// <summary>Who prepared and approved a line, whence and when it came: kept with each line, so that journals can be asked for
    /// by it.</summary>
    public static FileMapping WithLineFields(FileMapping mapping, IReadOnlyList<RawRow> sample) =>
        mapping.Kind != TableKind.Ledger
            ? mapping
            : mapping with
            {
                Columns =
                [
                    .. mapping.Columns.Select(
                        (c, i) =>
                            c.Role is not null || !HeadingWords.FieldOf(c.Heading, "line")
                                ? c
                                : c with
                                {
                                    Role =
                                        ColumnMapping.FieldRole
                                        + (
                                            TypeOf(i, c.Heading, sample, mapping.DecimalComma, out var format, out var evidence)
                                                is "date"
                                                ? "date"
                                                : "text"
                                        ),
                                    DateFormat = format,
                                    Evidence = $"kept with each line; {evidence}",
                                }
                    ),
                ],
            };

    private static string TypeOf(
        int index,
        string heading,
        IReadOnlyList<RawRow> sample,
        bool comma,
        out string? format,
        out string evidence
    )
    {
        (format, evidence) = (null, "its cells are text");
        var cells = sample
            .Where(r =>
                r.Fields.Length > index
                && !FileMapping.UsualBlanks.Contains(r.Fields[index].Trim())
                && r.Fields[index].Trim().Length > 0
            )
            .ToList();
        if (cells.Count == 0)
            return "text";
        if (cells.All(r => r.Typed?[index] is DateOnly))
            return Because("date", "its cells are dates", out evidence);
        var texts = cells.ConvertAll(r => r.Fields[index].Trim());
        format = CellForms.DateFormats.FirstOrDefault(f =>
            texts.All(t =>
                DateOnly.TryParseExact(t.Split(' ', 'T')[0], f, CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
            )
        );
        if (format is not null && !(format == "yyyyMMdd" && HeadingWords.RoleOf(heading) != "date"))
            return Because("date", $"its cells are dates of the form {format}", out evidence);
        format = null;
        var kind = HeadingWords.FieldOf(heading);
        if (kind == "key" && texts.Distinct().Count() == texts.Count && index == 0)
            return Because("key", "a number or code that no two rows share", out evidence);
        if (!cells.All(r => r.Typed?[index] is decimal || Numbers.TryRead(r.Fields[index], comma, out _, out _)))
            return "text";
        return kind is "rate" or "quantity" ? Because(kind, $"numbers under a usual heading for a {kind}", out evidence)
            : kind == "key" ? Because("text", "a number that names something", out evidence)
            : Because("amount", "its cells are numbers", out evidence);

        static string Because(string type, string why, out string evidence)
        {
            evidence = why;
            return type;
        }
    }
}
