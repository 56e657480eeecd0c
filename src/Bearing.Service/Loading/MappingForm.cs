using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>Mappings between the form that people keep and review, and the one that the core reads files by.</summary>
internal static class MappingForm
{
    public const string Current = "bearing-mapping/1";

    public static JsonSerializerOptions Json { get; } =
        new(JsonSerializerDefaults.Web)
        {
            WriteIndented = true,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
            UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        };

    /// <exception cref="ProblemException">404 when there is none of this name.</exception>
    public static MappingFile Read(OpenBook book, string name) =>
        book.Mappings.Read(name) is { } json
            ? JsonSerializer.Deserialize<MappingFile>(json, Json)!
            : throw new ProblemException(
                ProblemKinds.NoSuchMapping,
                $"There is no mapping “{name}” in this book.",
                "List the mappings for their names."
            );

    /// <exception cref="ProblemException">422, saying which part cannot be used.</exception>
    public static FileMapping ToCore(MappingFile file)
    {
        if (file.Form != Current)
            throw Unusable("form", file.Form, $"“{Current}”");
        if (file.Columns.Count == 0)
            throw Unusable("columns", "none", "at least one column with its heading and role");
        if (
            file.Headings?.Columns.FirstOrDefault(h =>
                file.Columns.Any(c => c.Heading == h && c.Role is "amount" or "debit" or "credit" or "local")
            ) is
            { } multiplied
        )
            throw Unusable(
                "headings",
                multiplied,
                "columns that are no amounts: every line of a journal would repeat its heading's amount"
            );
        return new FileMapping(
            LoadPlanner.Parse<TableKind>(file.Kind, "kind"),
            [.. file.Columns.Select(ToCore)],
            file.Sign is null ? SignConvention.AsShown : LoadPlanner.Parse<SignConvention>(file.Sign, "sign"),
            file.Dates,
            DecimalComma(file.Decimals),
            file.Dimension
        )
        {
            Name = file.Name,
            Scale = file.Scale ?? 1m,
            MonthsAcross = file.MonthsAcross ?? false,
            FiscalPeriods = file.Periods switch
            {
                null or "calendar" => false,
                "fiscal" => true,
                var other => throw Unusable("periods", other, "“calendar” or “fiscal”"),
            },
            FiscalYear = file.FiscalYear,
            Blanks = file.Blanks is null
                ? FileMapping.UsualBlanks
                : file.Blanks.ToImmutableHashSet(StringComparer.OrdinalIgnoreCase),
            LookUps = file.LookUps?.ToImmutableDictionary(l => l.Key, l => l.Value.ToImmutableDictionary())
                ?? ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty,
            Rules = [.. file.Rules?.Select(r => new RoleRule(r.When, r.Is, r.Role, r.Value)) ?? []],
            Sheets = [.. file.Sheets ?? []],
            Text = Text(file.Separator, file.Encoding),
            Balanced = file.Balanced,
            Table = file.Table ?? (file.Kind == "records" ? file.Name : null),
            TableName = file.TableName,
            Quotation = file.Quotation is null
                ? Quotation.ForeignPerHome
                : LoadPlanner.Parse<Quotation>(file.Quotation, "quotation"),
            Currency = Currency(file.Currency),
            RateSet = RateSet(file.Rates),
            Keep = [.. file.Keep?.Select(k => new KeepRule(k.Heading, [.. k.Is ?? []], k.Not ?? false)) ?? []],
            Derived = [.. file.Derived?.Select(ToCore) ?? []],
            Headings = file.Headings is { } h ? new HeadingFile(h.LineKey, h.Key, [.. h.Columns]) : null,
            Checks = [.. file.Checks?.Select(c => new RowCheck(c.Heading, c.Is, c.Number, c.AtLeast, c.AtMost)) ?? []],
        };
    }

    /// <summary>A code in capitals, or local; null for what the file says.</summary>
    public static string? Currency(string? said) =>
        string.IsNullOrEmpty(said) ? null
        : string.Equals(said, FileMapping.LocalCurrency, StringComparison.OrdinalIgnoreCase) ? FileMapping.LocalCurrency
        : said.Length == 3 && said.All(char.IsAsciiLetter) ? said.ToUpperInvariant()
        : throw Unusable("currency", said, "a code of ISO 4217, or “local” for that of each row's entity");

    public static string? RateSet(string? said) =>
        string.IsNullOrEmpty(said) ? null
        : said.Length <= 40 && said.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-') ? said
        : throw Unusable("rates", said, "actual, budget, forecast, or the code of the version whose rates they are");

    public static bool DecimalComma(string? decimals) =>
        decimals switch
        {
            null or "point" => false,
            "comma" => true,
            var other => throw Unusable("decimals", other, "“point” or “comma”"),
        };

    /// <summary>Null when neither is said.</summary>
    public static TextForm? Text(string? separator, string? encoding)
    {
        if (string.IsNullOrEmpty(separator) && string.IsNullOrEmpty(encoding))
            return null;
        char? cut = separator switch
        {
            null or "" => null,
            "tab" or "\\t" => '\t',
            [var one] when !char.IsLetterOrDigit(one) && one is not ('"' or '\r' or '\n') => one,
            var other => throw Unusable("separator", other, "one character that is no letter, digit or quote, or “tab”"),
        };
        if (!string.IsNullOrEmpty(encoding) && !SourceFile.KnowsEncoding(encoding))
            throw Unusable("encoding", encoding, "a registered name, such as utf-8, utf-16, windows-1252 or iso-8859-15");
        return new TextForm(cut, string.IsNullOrEmpty(encoding) ? null : encoding);
    }

    private static DerivedColumn ToCore(MappingDerived d) =>
        new[] { d.Text is not null, d.Sum is { Count: > 0 }, d.Product is { Count: > 0 } }.Count(given => given) == 1
            ? new DerivedColumn(d.Heading, d.Text, [.. d.Sum ?? []], [.. d.Product ?? []])
            : throw Unusable("derived", d.Heading, "exactly one of text, sum or product");

    /// <summary>Puts the values of the selection lists that the mapping names into its rules.</summary>
    public static FileMapping WithSelections(FileMapping mapping, MappingFile? file, OpenBook book) =>
        file?.Keep is null
            ? mapping
            : mapping with
            {
                Keep =
                [
                    .. mapping.Keep.Zip(file.Keep, (rule, kept) =>
                        kept.List is null ? rule : rule with { Values = [.. rule.Values, .. Selection(book, kept.List).Values] }
                    ),
                ],
            };

    /// <exception cref="ProblemException">404 when there is none of this name.</exception>
    public static SelectionList Selection(OpenBook book, string name) =>
        book.Selections.Read(name) is { } json
            ? JsonSerializer.Deserialize<SelectionList>(json, Json)!
            : throw new ProblemException(
                ProblemKinds.NoSuchSelection,
                $"There is no selection list “{name}” in this book.",
                "Keep it first, or list those that are there."
            );

    public static MappingFile ToFile(
        FileMapping mapping,
        MappingScenario? scenario,
        IReadOnlyDictionary<string, MappingScenario>? scenarios
    ) =>
        new(
            Current,
            mapping.Name,
            WireText.Name(mapping.Kind),
            [
                .. mapping
                    .Columns.Where(c => c.Role != "month")
                    .Select(c => new MappingColumn(
                        c.Heading,
                        c.Role,
                        c.FillDown ? true : null,
                        c.Sets.IsEmpty ? null : c.Sets,
                        c.Name,
                        c.DateFormat
                    )),
            ],
            mapping.IsReference ? null : WireText.Name(mapping.Sign),
            mapping.DateFormat,
            mapping.IsReference ? null
                : mapping.DecimalComma ? "comma"
                : "point",
            mapping.Dimension,
            mapping.Scale == 1m ? null : mapping.Scale,
            mapping.MonthsAcross ? true : null,
            mapping.FiscalPeriods ? "fiscal" : null,
            mapping.FiscalYear,
            null,
            mapping.LookUps.IsEmpty
                ? null
                : mapping.LookUps.ToDictionary(l => l.Key, l => (IReadOnlyDictionary<string, string>)l.Value),
            mapping.Rules.IsEmpty ? null : [.. mapping.Rules.Select(r => new MappingRule(r.When, r.Is, r.Role, r.Value))],
            mapping.Sheets.IsEmpty ? null : mapping.Sheets,
            mapping.Balanced,
            scenario,
            scenarios,
            mapping.Table,
            mapping.TableName,
            mapping.Kind == TableKind.Rates ? WireText.Name(mapping.Quotation) : null,
            mapping.Keep.IsEmpty
                ? null
                : [.. mapping.Keep.Select(k => new MappingKeep(k.Heading, k.Values, null, k.Not ? true : null))],
            mapping.Derived.IsEmpty
                ? null
                :
                [
                    .. mapping.Derived.Select(d => new MappingDerived(
                        d.Heading,
                        d.Text,
                        d.Sum.IsEmpty ? null : d.Sum,
                        d.Product.IsEmpty ? null : d.Product
                    )),
                ],
            mapping.Headings is { } h ? new MappingHeadings(h.LineKey, h.Key, h.Columns) : null,
            mapping.Checks.IsEmpty
                ? null
                : [.. mapping.Checks.Select(c => new MappingCheck(c.Heading, c.Is, c.Number, c.AtLeast, c.AtMost))],
            mapping.Text?.Separator is { } cut
                ? cut == '\t'
                    ? "tab"
                    : cut.ToString()
                : null,
            mapping.Text?.Encoding,
            mapping.Currency,
            mapping.RateSet
        );

    private static ColumnMapping ToCore(MappingColumn column) =>
        new(column.Heading, string.IsNullOrEmpty(column.Role) ? null : column.Role, "the mapping says so")
        {
            FillDown = column.FillDown ?? false,
            Sets = column.Sets?.ToImmutableDictionary() ?? ImmutableDictionary<string, string>.Empty,
            Name = column.Name,
            DateFormat = column.Dates,
        };

    private static ProblemException Unusable(string part, string value, string usable) =>
        new(
            ProblemKinds.MappingUnusable,
            $"Its {part} is “{value}”.",
            $"Use {usable}; docs/mapping.schema.json describes the form."
        );
}
