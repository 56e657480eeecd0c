using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Facts.Duck;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>Turns a request to load into a command: recognises what was not said, and checks what was.</summary>
internal static partial class LoadPlanner
{
    /// <exception cref="ProblemException">422, naming the option that is wrong.</exception>
    /// <exception cref="LoadRefusedException">When the file cannot be read as a table.</exception>
    public static (LoadCommand Command, CsvTable Table) Plan(LoadRequest request, UploadRow upload, OpenBook open, string job)
    {
        var book = open.Store.Read();
        var table = CsvTable.Open(open.Incoming(upload.Sha256));
        TableKind? kind = request.Kind is null ? null : Parse<TableKind>(request.Kind, "kind");
        var headings = table.Headings.Select(h => Renamed(h, request.Columns)).ToList();
        var mapping = new Detection(book).Propose(headings, table.Sample, kind, request.Dimension, request.DateFormat);
        mapping = Corrected(mapping, request, table);
        var target = mapping.IsReference ? null : Target(request, book);
        if (mapping.Kind == TableKind.Plan && target!.Kind == ScenarioKind.Actual)
            mapping = mapping with { Open = mapping.Open ?? new Refusal(0, null, null, "The file holds plan amounts, but not for which scenario.", "Say the scenario, for example budget-2027, and whether it is a budget or a forecast.") };
        return (new LoadCommand(job, upload.FileName, upload.Sha256, mapping, target, Parse<LoadMode>(request.Mode, "mode")), table);
    }

    /// <summary>A column that is to play another role is recognised under the role's own word.</summary>
    private static string Renamed(string heading, IReadOnlyDictionary<string, string>? columns)
    {
        if (columns is null || !columns.TryGetValue(heading, out var role)) return heading;
        return role.Length == 0 ? $"not used: {heading}" : role.StartsWith("dimension:", StringComparison.Ordinal) ? role[10..] : role;
    }

    private static FileMapping Corrected(FileMapping mapping, LoadRequest request, CsvTable table)
    {
        var columns = mapping.Columns.Select((c, i) => c.Heading == table.Headings[i] ? c : c with { Heading = table.Headings[i], Evidence = "as you said" });
        mapping = mapping with { Columns = [.. columns] };
        if (request.Sign is not null) mapping = mapping with { Sign = Parse<SignConvention>(request.Sign, "sign") };
        return mapping;
    }

    private static LoadTarget Target(LoadRequest request, Book book)
    {
        var code = request.Scenario ?? Book.ActualCode;
        if (!CodePattern().IsMatch(code) || code.StartsWith("prior", StringComparison.Ordinal))
            throw new ProblemException(422, "The scenario is not usable", $"“{code}” cannot be a scenario code.", "Use lower-case letters, digits and dashes, for example budget-2027.");
        var version = request.Version ?? "v1";
        if (!CodePattern().IsMatch(version)) throw new ProblemException(422, "The version is not usable", $"“{version}” cannot be a version code.", "Use lower-case letters, digits and dashes, for example v2.");
        Period? cutOff = request.CutOff is null ? null : Period.TryParse(request.CutOff, out var p) ? p
            : throw new ProblemException(422, "The cut-off is not a period", $"“{request.CutOff}” is not a period.", "Write it as 2026-P06 (fiscal year and period).");
        if (book.Scenario(code) is { } known) return new LoadTarget(known.Code, known.Name, known.Kind, request.Version ?? known.Current.Code, cutOff ?? known.Current.CutOff);
        if (code == Book.ActualCode) return new LoadTarget(code, "Actual", ScenarioKind.Actual, version, null);
        var kind = request.ScenarioKind is null ? code.StartsWith("forecast", StringComparison.Ordinal) ? ScenarioKind.Forecast : ScenarioKind.Budget
            : Parse<ScenarioKind>(request.ScenarioKind, "scenarioKind");
        return new LoadTarget(code, string.IsNullOrWhiteSpace(request.ScenarioName) ? Title(code) : request.ScenarioName.Trim(), kind, version, cutOff);
    }

    /// <summary>"budget-2027" → "Budget 2027".</summary>
    private static string Title(string code) => char.ToUpperInvariant(code[0]) + code[1..].Replace('-', ' ');

    private static T Parse<T>(string text, string where) where T : struct, Enum =>
        Enum.TryParse<T>(text.Replace("-", "", StringComparison.Ordinal), true, out var value) && !char.IsDigit(text[0]) ? value
        : throw new ProblemException(422, "An option is not known", $"{where}: “{text}” is not known.", $"Use one of {string.Join(", ", Enum.GetValues<T>().Select(v => LoadMapping.Name(v)))}.");

    [GeneratedRegex("^[a-z][a-z0-9-]{0,39}$")]
    private static partial Regex CodePattern();
}
