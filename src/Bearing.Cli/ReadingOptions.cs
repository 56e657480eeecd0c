using System.CommandLine;
using Bearing.Contracts;

namespace Bearing.Cli;

/// <summary>How a file is read and where it goes: the same options for files and for what is fetched.</summary>
internal static class ReadingOptions
{
    private static readonly Option<string?> Kind = new("--kind")
    {
        Description =
            "ledger, plan, statistics, opening, accounts, entities, members, names, rates or records; recognised when left out, but for opening and records",
    };
    private static readonly Option<string?> Dimension = new("--dimension")
    {
        Description = "For members: which dimension they belong to",
    };
    private static readonly Option<string?> Scenario = new("--scenario")
    {
        Description = "Scenario the figures belong to, for example budget-2027; actual when left out",
    };
    private static readonly Option<string?> Name = new("--name")
    {
        Description = "Name of a new scenario, for example \"Budget 2027\"",
    };
    private static readonly Option<string?> Version = new("--version-code")
    {
        Description = "Version of the scenario; the current one when left out",
    };
    private static readonly Option<string?> CutOff = new("--cut-off")
    {
        Description = "For a forecast: last period taken from actuals, for example 2026-P06",
    };
    private static readonly Option<string?> Sign = new("--sign")
    {
        Description = "debit-positive, credit-positive or as-shown; recognised when left out",
    };
    private static readonly Option<string?> DateFormat = new("--date-format")
    {
        Description = "For example dd/MM/yyyy; recognised when left out",
    };
    private static readonly Option<string?> Decimals = new("--decimals")
    {
        Description = "point or comma; recognised when left out",
    };
    private static readonly Option<decimal?> Scale = new("--scale")
    {
        Description = "Amounts are multiplied by it: 1000 for a file in thousands",
    };
    private static readonly Option<string?> Currency = new("--currency")
    {
        Description =
            "In which currency the amounts are: a code such as EUR, or local for that of each entity; as the file says when left out",
    };
    private static readonly Option<string?> Rates = new("--rates")
    {
        Description = "For a plan: the set of rates by which it is translated; that of its kind when left out",
    };
    private static readonly Option<string?> Separator = new("--separator")
    {
        Description = "Between the fields of a text file: one character, or tab; recognised when left out",
    };
    private static readonly Option<string?> EncodingName = new("--encoding")
    {
        Description = "Of a text file, for example windows-1252; recognised when left out",
    };
    private static readonly Option<string[]> Column = new("--column")
    {
        Description = "HEADING=ROLE, for a column that is read otherwise; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    private static readonly Option<bool> Replace = new("--replace")
    {
        Description = "Supersede what is there for the file's scenario, periods and entities",
    };
    private static readonly Option<string?> Mapping = new("--mapping")
    {
        Description = "Name of a saved mapping, or a mapping file; recognised by the headings when left out",
    };
    public static readonly Option<string?> SaveMapping = new("--save-mapping")
    {
        Description = "Keep the way in which the file was read under this name",
    };
    private static readonly Option<bool> Agree = new("--agree")
    {
        Description = "Land in spite of warnings, which stay attached to the load",
    };
    private static readonly Option<string?> Table = new("--table")
    {
        Description = "For records: code of the table, for example payables",
    };
    private static readonly Option<int?> HeadingLine = new("--heading-line")
    {
        Description = "Line in which the headings stand; found when left out",
    };
    private static readonly Option<string[]> Sheet = new("--sheet")
    {
        Description = "Sheet of a workbook to read; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    private static readonly Option<string[]> Means = new("--means")
    {
        Description = "ROLE:TEXT=CODE, what a text of the file stands for, as in entity:Elverhold=C05; may be repeated",
        AllowMultipleArgumentsPerToken = false,
    };
    public static readonly Option<bool> Preview = new("--preview") { Description = "Show what would happen and change nothing" };

    /// <summary>How a file is read and where it goes; the same for files and for what is fetched.</summary>
    public static IReadOnlyList<Option> All =>
        [
            Kind,
            Dimension,
            Scenario,
            Name,
            Version,
            CutOff,
            Sign,
            DateFormat,
            Decimals,
            Scale,
            Currency,
            Rates,
            Separator,
            EncodingName,
            Column,
            Mapping,
            SaveMapping,
            Table,
            HeadingLine,
            Sheet,
            Means,
            Replace,
            Agree,
            Preview,
        ];

    /// <summary>What the options say.</summary>
    /// <param name="headings">Upload of the file of journal headings; null for none.</param>
    public static async Task<LoadRequest> Request(
        ParseResult parsed,
        UploadDto upload,
        string? headings,
        CancellationToken cancel
    )
    {
        var columns = (parsed.GetValue(Column) ?? [])
            .Select(c => c.Split('=', 2))
            .ToDictionary(c => c[0], c => c.Length > 1 ? c[1] : "");
        var named = parsed.GetValue(Mapping);
        var given = named is not null && File.Exists(named) ? await MappingCommands.Read(new FileInfo(named), cancel) : null;
        if (given is not null)
            named = null;
        return new LoadRequest(
            upload.Id,
            parsed.GetValue(Kind),
            parsed.GetValue(Dimension),
            parsed.GetValue(Scenario),
            parsed.GetValue(Name),
            null,
            parsed.GetValue(Version),
            parsed.GetValue(CutOff),
            parsed.GetValue(Sign),
            parsed.GetValue(DateFormat),
            columns.Count > 0 ? columns : null,
            parsed.GetValue(Replace) ? "replace" : "add",
            named,
            given,
            parsed.GetValue(Agree),
            headings,
            parsed.GetValue(Table),
            parsed.GetValue(HeadingLine),
            parsed.GetValue(Sheet) is { Length: > 0 } sheets ? sheets : null,
            LookUps(parsed.GetValue(Means) ?? []),
            null,
            parsed.GetValue(Separator),
            parsed.GetValue(EncodingName),
            parsed.GetValue(Decimals),
            parsed.GetValue(Scale),
            parsed.GetValue(Currency),
            parsed.GetValue(Rates)
        );
    }

    private static Dictionary<string, IReadOnlyDictionary<string, string>>? LookUps(string[] means)
    {
        var read = means
            .Select(m => (Text: m, Colon: m.IndexOf(':', StringComparison.Ordinal), Equal: m.LastIndexOf('=')))
            .ToList();
        if (read.Find(m => m.Colon < 1 || m.Equal < m.Colon) is { Text: { } wrong })
            throw new CannotException(
                $"“{wrong}” does not say what a text means.",
                "Write ROLE:TEXT=CODE, for example entity:Elverhold=C05."
            );
        return read.Count == 0
            ? null
            : read.GroupBy(m => m.Text[..m.Colon])
                .ToDictionary(
                    g => g.Key,
                    g =>
                        (IReadOnlyDictionary<string, string>)
                            g.ToDictionary(m => m.Text[(m.Colon + 1)..m.Equal], m => m.Text[(m.Equal + 1)..])
                );
    }
}
