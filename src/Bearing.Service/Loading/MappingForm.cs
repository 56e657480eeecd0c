using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Bearing.Contracts;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>Mappings between the form that people keep and review, and the one that the core reads files by.</summary>
internal static class MappingForm
{
    public const string Current = "bearing-mapping/1";

    public static JsonSerializerOptions Json { get; } = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <exception cref="ProblemException">404 when there is none of this name.</exception>
    public static MappingFile Read(OpenBook book, string name) => book.Mappings.Read(name) is { } json ? JsonSerializer.Deserialize<MappingFile>(json, Json)!
        : throw new ProblemException(404, "No such mapping", $"There is no mapping “{name}” in this book.", "List the mappings for their names.");

    /// <exception cref="ProblemException">422, saying which part cannot be used.</exception>
    public static FileMapping ToCore(MappingFile file)
    {
        if (file.Form != Current) throw Unusable("form", file.Form, $"“{Current}”");
        if (file.Columns.Count == 0) throw Unusable("columns", "none", "at least one column with its heading and role");
        return new FileMapping(LoadPlanner.Parse<TableKind>(file.Kind, "kind"), [.. file.Columns.Select(ToCore)], file.Sign is null ? SignConvention.AsShown : LoadPlanner.Parse<SignConvention>(file.Sign, "sign"),
            file.Dates, file.Decimals switch { null or "point" => false, "comma" => true, var other => throw Unusable("decimals", other, "“point” or “comma”") }, file.Dimension)
        {
            Name = file.Name,
            Scale = file.Scale ?? 1m,
            MonthsAcross = file.MonthsAcross ?? false,
            FiscalPeriods = file.Periods switch { null or "calendar" => false, "fiscal" => true, var other => throw Unusable("periods", other, "“calendar” or “fiscal”") },
            FiscalYear = file.FiscalYear,
            Blanks = file.Blanks is null ? FileMapping.UsualBlanks : file.Blanks.ToImmutableHashSet(StringComparer.OrdinalIgnoreCase),
            LookUps = file.LookUps?.ToImmutableDictionary(l => l.Key, l => l.Value.ToImmutableDictionary()) ?? ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty,
            Rules = [.. file.Rules?.Select(r => new RoleRule(r.When, r.Is, r.Role, r.Value)) ?? []],
            Sheets = [.. file.Sheets ?? []],
            Balanced = file.Balanced,
        };
    }

    public static MappingFile ToFile(FileMapping mapping, MappingScenario? scenario, IReadOnlyDictionary<string, MappingScenario>? scenarios) => new(
        Current, mapping.Name, LoadMapping.Name(mapping.Kind),
        [.. mapping.Columns.Where(c => c.Role != "month").Select(c => new MappingColumn(c.Heading, c.Role, c.FillDown ? true : null, c.Sets.IsEmpty ? null : c.Sets))],
        mapping.IsReference ? null : LoadMapping.Name(mapping.Sign), mapping.DateFormat, mapping.IsReference ? null : mapping.DecimalComma ? "comma" : "point", mapping.Dimension,
        mapping.Scale == 1m ? null : mapping.Scale, mapping.MonthsAcross ? true : null, mapping.FiscalPeriods ? "fiscal" : null, mapping.FiscalYear, null,
        mapping.LookUps.IsEmpty ? null : mapping.LookUps.ToDictionary(l => l.Key, l => (IReadOnlyDictionary<string, string>)l.Value),
        mapping.Rules.IsEmpty ? null : [.. mapping.Rules.Select(r => new MappingRule(r.When, r.Is, r.Role, r.Value))], mapping.Sheets.IsEmpty ? null : mapping.Sheets, mapping.Balanced, scenario, scenarios);

    private static ColumnMapping ToCore(MappingColumn column) => new(column.Heading, string.IsNullOrEmpty(column.Role) ? null : column.Role, "the mapping says so")
    {
        FillDown = column.FillDown ?? false,
        Sets = column.Sets?.ToImmutableDictionary() ?? ImmutableDictionary<string, string>.Empty,
    };

    private static ProblemException Unusable(string part, string value, string usable) =>
        new(422, "The mapping cannot be used", $"Its {part} is “{value}”.", $"Use {usable}; docs/mapping.schema.json describes the form.");
}
