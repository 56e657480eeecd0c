using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>A load as it is to be made, with what a person wants to see of it before.</summary>
/// <param name="Heading">The heading row by which the file was read.</param>
/// <param name="FirstRows">Rows below it.</param>
/// <param name="File">The mapping in the form in which it can be kept.</param>
internal sealed record LoadPlan(
    LoadCommand Command,
    SourceFile Source,
    RawRow Heading,
    IReadOnlyList<RawRow> FirstRows,
    MappingFile File
);

/// <summary>Turns a request to load into a plan: by a mapping that was named, given or recognised, or else by what the file
/// itself shows.</summary>
internal sealed partial class LoadPlanner(OpenBook open, LoadRequest request)
{
    private const int SampleRows = 1_000;
    private readonly Book _book = open.Store.Read();

    /// <exception cref="ProblemException">422, naming the option that is wrong.</exception>
    /// <exception cref="LoadRefusedException">When the file cannot be read as a table.</exception>
    /// <param name="headings">The file of journal headings, where one came along.</param>
    /// <param name="job">Of the load, or null for a preview.</param>
    public LoadPlan Plan(UploadRow upload, UploadRow? headings, string? job)
    {
        var (source, heads, text) = Open(upload);
        if (heads.All(h => h.Count == 0))
            throw LoadRefusedException.File("The file is empty.", "Export it again with its heading row and its rows.");
        var saved = Saved(heads);
        var (mapping, heading, rows) = saved is not null ? ByMapping(saved, heads) : ByDetection(source.Sheets, heads);
        mapping = Completed(MappingForm.WithSelections(mapping, saved, open)) with { Text = text };
        var scenario = Scenario(saved);
        if (mapping.Kind == TableKind.Plan && (scenario is null || scenario.Code == Book.ActualCode))
            mapping = mapping with
            {
                Open = mapping.Open
                    ?? new Refusal(
                        0,
                        null,
                        null,
                        "The file holds plan amounts, but not for which scenario.",
                        "Say the scenario, for example budget-2027, and whether it is a budget or a forecast."
                    ),
            };
        var target = mapping.HasFigures ? Target(scenario, mapping.RateSet) : null;
        var command = new LoadCommand(
            job ?? "preview",
            upload.FileName,
            upload.Sha256,
            source.Sheets,
            mapping,
            target,
            Parse<LoadMode>(request.Mode, "mode")
        )
        {
            Targets = Targets(mapping, saved),
            Headings = headings is null ? null : SourceFile.Open(open.Incoming(headings.Sha256)).Sheets,
            Agreed = request.Agreed,
            RefusedFile = open.Refused(job ?? PreviewOf(upload.Id)),
            Added = [.. (request.Add ?? []).Select(Added)],
            Assumed = [.. Assumed(scenario, target)],
        };
        var file = MappingForm.ToFile(mapping, scenario, saved?.Scenarios);
        return new LoadPlan(command, source, heading, rows, saved?.Keep is null ? file : file with { Keep = saved.Keep });
    }

    /// <summary>The file, cut as the request says, or else as the mapping that is named says, or else as it seems to be
    /// itself.</summary>
    private (SourceFile Source, List<List<RawRow>> Heads, TextForm? Text) Open(UploadRow upload)
    {
        var named = request.Given ?? (request.Mapping is not null ? MappingForm.Read(open, request.Mapping) : null);
        var text = MappingForm.Text(request.Separator ?? named?.Separator, request.Encoding ?? named?.Encoding)
            ?? (named is null && request.Columns is null ? TextOfKept(upload) : null);
        var source = SourceFile.Open(open.Incoming(upload.Sha256), text);
        return (source, Heads(source), text);
    }

    /// <summary>Of a kept mapping that says how its text is cut, and whose headings stand in the file when it is cut
    /// so.</summary>
    private TextForm? TextOfKept(UploadRow upload)
    {
        foreach (
            var kept in open
                .Mappings.Names()
                .Select(n => MappingForm.Read(open, n))
                .Where(m => request.Kind is null || m.Kind == request.Kind)
        )
        {
            if (MappingForm.Text(kept.Separator, kept.Encoding) is not { } text)
                continue;
            try
            {
                if (Find(MappingForm.ToCore(kept), Heads(SourceFile.Open(open.Incoming(upload.Sha256), text))) is not null)
                    return text;
            }
            catch (LoadRefusedException)
            {
                // Cut like this it is no table, so it is not of this kind.
            }
        }
        return null;
    }

    private static List<List<RawRow>> Heads(SourceFile source) =>
        [.. source.Sheets.Select(s => SourceFile.Head(s, SampleRows + TableReader.HeadingReach))];

    /// <summary>Name under which a preview keeps the rows that it would refuse.</summary>
    public static string PreviewOf(string upload) => $"preview-{upload}";

    /// <summary>What the request says beside the mapping: look-ups, sheets, the table of records, the month of opening
    /// balances.</summary>
    private FileMapping Completed(FileMapping mapping)
    {
        var lookUps = mapping.LookUps;
        foreach (var (role, texts) in request.LookUps ?? new Dictionary<string, IReadOnlyDictionary<string, string>>())
            lookUps = lookUps.SetItem(
                role,
                lookUps.GetValueOrDefault(role, ImmutableDictionary<string, string>.Empty).SetItems(texts)
            );
        mapping = mapping with
        {
            LookUps = lookUps,
            Sheets = request.Sheets is null ? mapping.Sheets : [.. request.Sheets],
            Table = request.Table ?? mapping.Table,
        };
        if (
            mapping.Kind == TableKind.Records
            && (mapping.Table is null || !CodePattern().IsMatch(mapping.Table) || mapping.Table == Table.Ledger)
        )
            mapping = mapping with
            {
                Open = new Refusal(
                    0,
                    null,
                    null,
                    mapping.Table is null
                        ? "The file is to be loaded as records, but not into which table."
                        : $"“{mapping.Table}” cannot be the code of a table.",
                    "Say the table in lower-case letters, digits and dashes, for example payables."
                ),
            };
        if (mapping.Kind == TableKind.Records && mapping.TableName is null && mapping.Table is not null)
            mapping = mapping with { TableName = Title(mapping.Table) };
        if (mapping.Kind == TableKind.Opening && !mapping.Has("period") && !mapping.Has("date"))
            mapping = _book.ActualSpan is { } span
                ? mapping with
                {
                    FixedPeriod = span.From.AddMonths(-1),
                }
                : mapping with
                {
                    Open = new Refusal(
                        0,
                        null,
                        null,
                        "Opening balances stand before the first month of Actual, and the book has no ledger yet.",
                        "Load the ledger first, or give the file a column with the period."
                    ),
                };
        return mapping;
    }

    private Member Added(AddedMember added)
    {
        if (!_book.TryDimension(added.Dimension, out var dimension))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                $"The book has no dimension “{added.Dimension}”.",
                $"Use one of {string.Join(", ", _book.Definition.Dimensions.Select(d => d.Code))}."
            );
        if (string.IsNullOrWhiteSpace(added.Code) || added.Code.StartsWith('~'))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                "It has no usable code.",
                "Give it a code that does not begin with “~”."
            );
        Member? parent = null;
        if (added.Parent is not null && !_book.TryMember(dimension.Id, added.Parent, out parent))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                $"The parent “{added.Parent}” is not in the book.",
                $"Name a {dimension.Name.ToLowerInvariant()} that the book has, or leave the parent out."
            );
        var traits =
            dimension.Role != DimensionRole.Account ? null
            : added.Type is not null ? AccountTraits.Default(Parse<AccountType>(added.Type, "type"))
            : parent?.Account
                ?? throw new ProblemException(
                    ProblemKinds.MemberUnusable,
                    $"Account {added.Code} has neither a type nor a parent that tells it.",
                    "Say income, cost, asset, liability, equity or statistic, or name a parent."
                );
        var (code, name) = (UnicodeForm.Compose(added.Code.Trim()), UnicodeForm.Compose((added.Name ?? "").Trim()));
        return new Member(0, dimension.Id, code, name.Length == 0 ? code : name, parent?.Id, 0, [], traits);
    }

    /// <summary>A forecast "5+7" took five months from actuals, when nobody says otherwise.</summary>
    private IEnumerable<Finding> Assumed(MappingScenario? scenario, LoadTarget? target)
    {
        if (
            target is { Kind: ScenarioKind.Forecast, CutOff: { } cutOff }
            && scenario?.CutOff is null
            && _book.Scenario(target.Scenario) is null
        )
            yield return new Finding(
                "cut-off",
                target.Name,
                $"The cut-off of {target.Name} was not said; by its name it is taken to be {_book.Calendar.NameOf(cutOff)}.",
                "Agree, or say the last month that the forecast took from actuals.",
                1
            );
    }

    private Period? CutOffByName(string code, string name) =>
        _book.CurrentPeriod is { } now
        && MonthsPattern().Match($"{name} {code}") is { Success: true } match
        && int.Parse(match.Groups[1].ValueSpan, System.Globalization.CultureInfo.InvariantCulture)
            is >= 1
                and <= 11
                and var months
            ? new Period(now.Year, months)
            : null;

    /// <summary>The rows of a trial balance as facts of its month. Without a column of entities, all stand for the
    /// group.</summary>
    /// <exception cref="LoadRefusedException">With the first row that cannot be read or placed.</exception>
    public (List<FactRow> Rows, bool ByEntity) TrialBalance(UploadRow upload, Period through)
    {
        var (source, heads, _) = Open(upload);
        var saved = Saved(heads);
        var mapping = (saved is not null ? ByMapping(saved, heads) : ByDetection(source.Sheets, heads)).Item1;
        var byEntity = mapping.Has("entity");
        var first = _book.Roots(_book.Entities.Id).FirstOrDefault()
            ?? throw LoadRefusedException.File("The book has no entities yet.", "Load them first.");
        // The month is said; an entity is only needed to place the row.
        mapping = mapping with { Kind = TableKind.Opening, FixedPeriod = through, Open = null };
        if (!mapping.Has("account") || !(mapping.Has("amount") || mapping.Has("debit") || mapping.Has("credit")))
            throw new LoadRefusedException(new MissingParts(_book).Of(mapping));
        var table = new TableReader(mapping, _book.Calendar, new RefusalLog());
        var rows = new List<FactRow>();
        RowMapper? mapper = null;
        foreach (var sheet in source.Sheets)
        foreach (var row in table.Data(sheet.Rows().Select(r => r.Row)))
        {
            mapper ??= new RowMapper(_book, mapping, table.Layout!, Member.FirstOwnId)
            {
                EntityWhereNone = byEntity ? null : first.Id,
            };
            if (mapper.Map(row, rows) is { } refusal)
                throw new LoadRefusedException(refusal);
        }
        return (rows, byEntity);
    }

    public static T Parse<T>(string text, string where)
        where T : struct, Enum =>
        text.Length > 0
        && Enum.TryParse<T>(text.Replace("-", "", StringComparison.Ordinal), true, out var value)
        && !char.IsDigit(text[0])
            ? value
            : throw new ProblemException(
                ProblemKinds.OptionUnknown,
                $"{where}: “{text}” is not known.",
                $"Use one of {string.Join(", ", Enum.GetValues<T>().Select(v => WireText.Name(v)))}."
            );

    /// <summary>The mapping that was given or named, or the one whose headings the file has; of several the one with most
    /// columns.</summary>
    private MappingFile? Saved(List<List<RawRow>> heads)
    {
        if (request.Given is not null)
            return request.Given;
        if (request.Mapping is not null)
            return MappingForm.Read(open, request.Mapping);
        if (request.Columns is not null)
            return null;
        return open
            .Mappings.Names()
            .Select(n => MappingForm.Read(open, n))
            .Where(m => request.Kind is null || m.Kind == request.Kind)
            .OrderByDescending(m => m.Columns.Count)
            .FirstOrDefault(m => Find(MappingForm.ToCore(m), heads) is not null);
    }

    private (FileMapping, RawRow, IReadOnlyList<RawRow>) ByMapping(MappingFile file, List<List<RawRow>> heads)
    {
        var mapping = MappingForm.ToCore(file);
        if (Find(mapping, heads) is { } found)
            return (Corrected(mapping), found.Heading, found.Below);
        // The nearest heading row tells what is missing.
        var head = heads.MaxBy(h => new Detection(_book).FindHeading(h).Known)!;
        var heading = head[new Detection(_book).FindHeading(head).Index];
        var missing = mapping
            .Columns.Where(c =>
                c.Role is not (null or "skip") && !heading.Fields.Any(f => Words.Phrase(f) == Words.Phrase(c.Heading))
            )
            .ToList();
        throw new LoadRefusedException(
            new Refusal(
                heading.Number,
                null,
                null,
                $"The headings on line {RowPlace.Of(heading.Number).Row} lack {string.Join(", ", missing.Select(c => $"“{c.Heading}” ({c.Role})"))}, which the mapping {file.Name} needs.",
                "Check that this is the right file for the mapping, or load it without one."
            )
        );
    }

    private (FileMapping, RawRow, IReadOnlyList<RawRow>) ByDetection(IReadOnlyList<SourceSheet> sheets, List<List<RawRow>> heads)
    {
        var detection = new Detection(_book);
        var head = heads.Where(h => h.Count > 0).MaxBy(h => detection.FindHeading(h).Known)!;
        var at = request.HeadingLine is { } line
            ? head.FindIndex(r => RowPlace.Of(r.Number).Row == line)
            : detection.FindHeading(head).Index;
        if (at < 0)
            throw LoadRefusedException.File(
                $"Line {request.HeadingLine} cannot hold the headings: it is empty or lies below the first {TableReader.HeadingReach} rows.",
                "Say another line."
            );
        if (head.Count == at + 1)
            throw LoadRefusedException.File(
                "The file has a heading row and no rows below it: nothing to load.",
                "Check the filter of the export; it may have matched nothing."
            );
        TableKind? kind = request.Kind is null ? null : Parse<TableKind>(request.Kind, "kind");
        var mapping = detection.Propose(
            head[at],
            head[..at],
            head[(at + 1)..],
            kind,
            request.Dimension,
            request.DateFormat,
            request.Columns
        );
        if (mapping.Open is not null)
            mapping = CellForms.DecideDates(mapping, sheets[heads.IndexOf(head)].Rows().Select(r => r.Row));
        return (Corrected(mapping), head[at], head[(at + 1)..]);
    }

    private (RawRow Heading, IReadOnlyList<RawRow> Below)? Find(FileMapping mapping, List<List<RawRow>> heads)
    {
        foreach (var head in heads)
            for (var i = 0; i < Math.Min(head.Count, TableReader.HeadingReach); i++)
                if (TableLayout.Find(mapping, head[i], _book.Calendar) is not null)
                    return (head[i], head[(i + 1)..]);
        return null;
    }

    private FileMapping Corrected(FileMapping mapping)
    {
        if (request.Sign is not null)
            mapping = mapping with { Sign = Parse<SignConvention>(request.Sign, "sign") };
        if (request.DateFormat is not null)
            mapping = mapping with { DateFormat = request.DateFormat };
        if (request.Decimals is not null)
            mapping = mapping with { DecimalComma = MappingForm.DecimalComma(request.Decimals) };
        if (request.Scale is { } scale)
            mapping = mapping with
            {
                Scale =
                    scale != 0
                        ? scale
                        : throw new ProblemException(
                            ProblemKinds.ValueUnusable,
                            "Amounts cannot be multiplied by zero.",
                            "Say 1000 for a file in thousands."
                        ),
            };
        if (request.Currency is not null)
            mapping = mapping with { Currency = MappingForm.Currency(request.Currency) };
        if (request.Rates is not null)
            mapping = mapping with { RateSet = MappingForm.RateSet(request.Rates) };
        return request.Dimension is not null ? mapping with { Dimension = request.Dimension } : mapping;
    }

    /// <summary>What the request says goes before what the mapping says.</summary>
    private MappingScenario? Scenario(MappingFile? saved)
    {
        if (request.Scenario is null)
            return saved?.Scenario;
        return saved?.Scenario is { } known && known.Code == request.Scenario
                ? known with
                {
                    Version = request.Version ?? known.Version,
                    CutOff = request.CutOff ?? known.CutOff,
                }
            : CodePattern().IsMatch(request.Scenario)
                ? new MappingScenario(
                    request.Scenario,
                    request.ScenarioName,
                    request.ScenarioKind,
                    request.Version,
                    request.CutOff
                )
            : new MappingScenario(
                Coded(request.Scenario),
                request.ScenarioName ?? Title(request.Scenario),
                request.ScenarioKind,
                request.Version,
                request.CutOff
            );
    }

    /// <summary>"Forecast 4+8" → "forecast-4-8"; as it stands where no code can be made of it.</summary>
    private static string Coded(string name) =>
        OtherThanCode().Replace(name.Trim().ToLowerInvariant(), "-").Trim('-') is { Length: > 0 and <= 40 } code ? code : name;

    private Dictionary<string, LoadTarget> Targets(FileMapping mapping, MappingFile? saved)
    {
        var codes = mapping.Columns.Select(c => c.Sets.GetValueOrDefault("scenario")).OfType<string>().Distinct();
        return codes.ToDictionary(
            c => c,
            c => Target(saved?.Scenarios?.GetValueOrDefault(c) ?? new MappingScenario(c), mapping.RateSet)
        );
    }

    /// <param name="rates">The set of rates that is named for its amounts, if one is.</param>
    private LoadTarget Target(MappingScenario? scenario, string? rates)
    {
        var code = scenario?.Code ?? Book.ActualCode;
        if (!CodePattern().IsMatch(code) || code.StartsWith("prior", StringComparison.Ordinal))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{code}” cannot be a scenario code.",
                "Use lower-case letters, digits and dashes, for example budget-2027."
            );
        var version = scenario?.Version ?? "v1";
        if (!CodePattern().IsMatch(version))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{version}” cannot be a version code.",
                "Use lower-case letters, digits and dashes, for example v2."
            );
        Period? cutOff =
            scenario?.CutOff is null ? null
            : Period.TryParse(scenario.CutOff, out var p) ? p
            : throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{scenario.CutOff}” is not a period.",
                "Write it as 2026-P06 (fiscal year and period)."
            );
        if (_book.Scenario(code) is { } known)
        {
            var into = known.Versions.FirstOrDefault(v => v.Code == (scenario?.Version ?? known.Current.Code));
            return new LoadTarget(
                known.Code,
                known.Name,
                known.Kind,
                scenario?.Version ?? known.Current.Code,
                cutOff ?? known.Current.CutOff
            )
            {
                RateSet = into is null ? rates : into.RateSet ?? rates,
            };
        }
        if (code == Book.ActualCode)
            return new LoadTarget(code, "Actual", ScenarioKind.Actual, version, null);
        var kind = scenario!.Kind is null
            ? IsForecast($"{scenario.Name} {code}")
                ? ScenarioKind.Forecast
                : ScenarioKind.Budget
            : Parse<ScenarioKind>(scenario.Kind, "scenarioKind");
        var name = string.IsNullOrWhiteSpace(scenario.Name) ? Title(code) : scenario.Name.Trim();
        return new LoadTarget(
            code,
            name,
            kind,
            version,
            cutOff ?? (kind == ScenarioKind.Forecast ? CutOffByName(code, name) : null)
        )
        {
            RateSet = rates,
        };
    }

    /// <summary>"Autumn forecast", "latest-estimate": a plan that is called by one of the words for forecasts.</summary>
    private static bool IsForecast(string name) =>
        Words
            .Tokens(name)
            .Exists(t =>
                Vocabulary
                    .English.Find(t.Stem)
                    .Any(e =>
                        e
                            is { Kind: MentionKind.Scenario, Value: "forecast" }
                                or { Kind: MentionKind.Projection, Value: "outlook" }
                    )
            );

    /// <summary>"budget-2027" → "Budget 2027".</summary>
    private static string Title(string code) => char.ToUpperInvariant(code[0]) + code[1..].Replace('-', ' ');

    [GeneratedRegex(@"\b(\d{1,2})[+-](\d{1,2})\b")]
    private static partial Regex MonthsPattern();

    [GeneratedRegex("[^a-z0-9]+")]
    private static partial Regex OtherThanCode();

    [GeneratedRegex("^[a-z][a-z0-9-]{0,39}$")]
    private static partial Regex CodePattern();
}
