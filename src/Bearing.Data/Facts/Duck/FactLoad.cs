using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>One load of ledger, plan or statistics rows inside a transaction: lines, checks, cells, parts.</summary>
internal sealed partial class FactLoad(
    DuckDBConnection connection,
    IncomingRows incoming,
    Book before,
    LoadCommand command,
    int load,
    int edition
)
{
    private const int ReportEvery = 2_000;
    private const int MostDocumentsTold = 20;
    private const int MostRatesTold = 3;
    private readonly Dictionary<PartKey, int> _parts = [];
    private readonly Dictionary<int, Rate> _rates = [];
    private readonly Dictionary<string, int> _versions = [];
    private readonly Dictionary<(string Scenario, string Code), int> _known = DuckStore
        .Rows(connection, "SELECT scenario, code, version FROM versions", r => ((r.GetString(0), r.GetString(1)), r.GetInt32(2)))
        .ToDictionary();
    private readonly int _entity = before.Definition.Dimensions.IndexOf(before.Entities);
    private readonly LoadTable _table = new(command, before.Calendar);
    private (PartKey Key, int Part) _lastPart;
    private RowMapper? _mapper;
    private readonly DocumentOrder _order = new(before.Definition.Currency);
    private long _appended;
    private long? _documents;
    private readonly int _firstPart = DuckStore.Scalar<int>(connection, "SELECT coalesce(max(part), 0) + 1 FROM parts");

    /// <param name="Currency">From which its lines were translated; null for amounts that stand as they came.</param>
    private readonly record struct PartKey(int Version, int Period, int Entity, string? Currency);

    public (LoadReceipt Receipt, ImmutableArray<int> Kept) Run(
        int nextMember,
        IProgress<(long Rows, double Part)>? progress,
        CancellationToken cancel
    )
    {
        var mapper = Append(nextMember, progress, cancel);
        if (_table.Refusals.Count > 0)
            RefuseUnbalancedToo();
        if (mapper is null)
            throw _table.Refusals.Count == 0 ? _table.Nothing() : new RowsRefusedException(_table.Receipt(Begin([], []), null));
        AddParts();
        if (_table.Refusals.Count == 0)
            RefuseUnbalanced();
        if (command.Mapping.Kind == TableKind.Opening)
            RefuseProfitInOpening();
        var receipt = _table.Receipt(Begin(Totals(), [.. NewMembers(mapper)]), _appended) with { Types = Types() };
        if (!_order.RulesOutDoubledLines(_documents))
            RefuseDoubledLines();
        var supersedes = command.Mode == LoadMode.Replace ? Supersede() : RefuseWhatIsThere();
        DuckWriter.Insert(
            connection,
            mapper.NewMembers.Select(m => new Member(m.Id, m.DimensionId, m.Code, m.Code, null, m.Id, [])),
            edition
        );
        receipt = receipt with
        {
            Cells = RollUp(),
            Supersedes = supersedes,
            Coverage = Coverage(mapper),
            Translated = TranslatedText(),
        };
        var checks = new LoadChecks(connection, before, command, load, edition, _order.AnyWithoutDocument, _order.AnyCurrency);
        receipt = receipt with { Warnings = [.. checks.Run(_table.Reader, mapper)] };
        Remark(receipt);
        var fields = MarkLate(checks.Late) ? mapper.Fields.Add(new Field("late", "Late posting", FieldType.Text)) : mapper.Fields;
        RecordLoad.SaveFields(connection, load, Table.Ledger, "Ledger", fields);
        return (receipt, mapper.KeptDimensions);
    }

    private void AddParts()
    {
        using (var parts = connection.CreateAppender("parts"))
            foreach (var ((version, period, entity, currency), part) in _parts)
            {
                var rate = _rates.GetValueOrDefault(part);
                parts
                    .CreateRow()
                    .AppendValue(part)
                    .AppendValue(load)
                    .AppendValue(command.Mapping.Kind.ToString())
                    .AppendValue(version)
                    .AppendValue(period)
                    .AppendValue(entity)
                    .AppendValue(currency)
                    .AppendValue(rate?.Value)
                    .AppendValue(rate?.Quotation.ToString())
                    .AppendValue(rate?.Set)
                    .AppendValue(rate?.Load)
                    .AppendValue((int?)null)
                    .EndRow();
            }
        using var spans = connection.CreateAppender("part_spans");
        foreach (var part in _parts.Values)
            spans.CreateRow().AppendValue(part).AppendValue(edition).AppendValue((int?)null).AppendValue((int?)null).EndRow();
    }

    private LoadReceipt Begin(ImmutableArray<PeriodTotal> totals, ImmutableArray<string> newMembers) =>
        new(
            load,
            edition,
            command.FileName,
            command.Mapping.Kind,
            command.Target!.Name,
            0,
            0,
            0,
            [],
            totals,
            Entities(),
            0,
            [],
            newMembers
        );

    /// <summary>Lines that came after the close keep the mark, whoever looks at them later. False when there are none.</summary>
    private bool MarkLate(IReadOnlyCollection<int> parts)
    {
        if (parts.Count == 0)
            return false;
        DuckStore.Execute(
            connection,
            $$"""UPDATE postings SET fields = json_merge_patch(coalesce(fields, '{}'), '{"late":"after close"}') WHERE part IN ({{string.Join(',', parts)}})"""
        );
        return true;
    }

    /// <summary>Answers tell what was left out of a load and what was agreed with.</summary>
    private void Remark(LoadReceipt receipt)
    {
        (string Text, int? Entity)[] texts =
        [
            .. receipt.Filter is { } filter ? ((string, int?)[])[($"holds {filter}", null)] : [],
            .. receipt.Warnings.Select(w => ($"landed with a warning: {w.Because}", w.Entity)),
        ];
        foreach (var version in _parts.Keys.GroupBy(k => k.Version))
        foreach (var (text, entity) in texts)
            DuckStore.Execute(
                connection,
                """
                INSERT INTO remarks (load, version, from_period, to_period, text, entity, notice)
                  VALUES ($1, $2, $3, $4, $5, $6, false)
                """,
                load,
                version.Key,
                version.Min(k => k.Period),
                version.Max(k => k.Period),
                $"Load {load} ({command.FileName}) {text}",
                entity
            );
    }

    /// <summary>Null when no sheet has the headings and a row below them. Reading and mapping run ahead of the engine, which
    /// fetches the lines.</summary>
    private RowMapper? Append(int nextMember, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel)
    {
        ReadAhead.Run(Facts(nextMember, progress, cancel), facts =>
            incoming.Insert(
                connection,
                "postings",
                PostingLine.Columns(before.Definition),
                PostingLine.Select,
                PostingLine.All(facts)
            )
        );
        foreach (var target in _versions.Keys.Select(TargetOf))
            DuckWriter.VersionId(connection, target);
        progress?.Report((_table.Reader.DataRows, 1));
        return _mapper;
    }

    /// <summary>After the first refusal no facts come any more, only further refusals: the load will not land.</summary>
    private IEnumerable<(FactRow Fact, int Part)> Facts(
        int nextMember,
        IProgress<(long Rows, double Part)>? progress,
        CancellationToken cancel
    )
    {
        var facts = new List<FactRow>();
        var translation = new Translation(before, command.Mapping.Kind == TableKind.Opening, scenario =>
            TargetOf(scenario).Basis
        );
        TableLayout? layout = null;
        foreach (var (raw, at, part) in _table.Rows())
        {
            if (layout != at)
                (_mapper ??= new RowMapper(before, command.Mapping, at, nextMember) { Translation = translation }).Use(
                    layout = at
                );
            if (_table.Reader.DataRows % ReportEvery == 0)
                cancel.ThrowIfCancellationRequested();
            facts.Clear();
            if (_mapper!.Map(raw, facts) is { } refusal)
                _table.Refuse(refusal, raw);
            if (_table.Refusals.Count > 0)
            {
                Watch(
                    raw.Number,
                    at.IndexOf("document") is >= 0 and var document && document < raw.Fields.Length
                        ? raw.Fields[document].Trim()
                        : "",
                    facts
                );
                continue;
            }
            foreach (var fact in facts)
            {
                _order.Add(fact);
                var version = VersionOf(fact.Scenario);
                if (++_appended % ReportEvery == 0)
                    progress?.Report((_appended, part));
                yield return (
                    fact,
                    PartOf(new PartKey(version, fact.Period.Ordinal, fact.Members[_entity], fact.Rate?.Currency), fact.Rate)
                );
            }
        }
    }

    /// <summary>
    /// Columns of one file may belong to several scenarios. While lines come in the connection is the engine's: versions that are
    /// new get the numbers that they will have, and are stored afterwards.
    /// </summary>
    private int VersionOf(string scenario)
    {
        if (_versions.TryGetValue(scenario, out var version))
            return version;
        var target = TargetOf(scenario);
        if (!_known.TryGetValue((target.Scenario, target.Version), out version))
            _known.Add((target.Scenario, target.Version), version = _known.Values.DefaultIfEmpty(0).Max() + 1);
        return _versions[scenario] = version;
    }

    private LoadTarget TargetOf(string scenario) =>
        scenario.Length == 0
            ? command.Target!
            : command.Targets.GetValueOrDefault(scenario)
                ?? throw LoadRefusedException.File(
                    $"A column belongs to the scenario “{scenario}”, which neither the book nor the mapping describes.",
                    "Add it to the scenarios of the mapping, with its name and kind."
                );

    private int PartOf(PartKey key, Rate? rate)
    {
        if (_lastPart.Key == key && _lastPart.Part > 0)
            return _lastPart.Part;
        if (!_parts.TryGetValue(key, out var part))
            _parts[key] = part = _firstPart + _parts.Count;
        if (rate is not null)
            _rates[part] = rate;
        _lastPart = (key, part);
        return part;
    }

    /// <summary>From which currencies lines were translated, at which rates, in words.</summary>
    private ImmutableArray<string> TranslatedText() =>
        [
            .. _parts
                .Where(p => p.Key.Currency is not null)
                .GroupBy(p => p.Key.Currency!)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g =>
                {
                    var rates = g.Select(p => (p.Key.Period, Rate: _rates[p.Value])).Distinct().OrderBy(p => p.Period).ToList();
                    var quoted = string.Join(
                        ", ",
                        rates
                            .Take(MostRatesTold)
                            .Select(r =>
                                FormattableString.Invariant(
                                    $"{before.Calendar.ShortNameOf(Period.FromOrdinal(r.Period))} {r.Rate.Value:0.0#######}"
                                )
                            )
                    );
                    return $"{g.Key}: line by line at the {string.Join(" and ", rates.Select(r => r.Rate.Set == RateBasis.Actual ? r.Rate.Kind.ToString().ToLowerInvariant() : r.Rate.Set).Distinct().Order(StringComparer.Ordinal))} rates of {rates.Select(r => r.Period).Distinct().Count():N0} months ({quoted}{(rates.Count > MostRatesTold ? " …" : "")}), each line rounded to four decimals";
                }),
        ];

    private ImmutableArray<string> Supersede()
    {
        var scopes = Overlap("");
        DuckStore.Execute(
            connection,
            $"""
            UPDATE part_spans SET until_edition = {edition}, ended_by = {load} WHERE until_edition IS NULL AND part IN
              (SELECT p.part FROM parts p JOIN ({ScopeValues}) s ON p.period = s.period AND p.entity = s.entity
                AND p.version = s.version WHERE p.kind = $1 AND p.load <> {load})
            """,
            command.Mapping.Kind.ToString()
        );
        return
        [
            .. scopes
                .GroupBy(s => s.Load)
                .Select(g => $"load {g.Key}: {g.Count():N0} entity-months, {g.First().Name} {g.First().Period} first"),
        ];
    }

    private List<(int Load, string Name, string Period)> Overlap(string condition) =>
        DuckStore.Rows(
            connection,
            $"""
            SELECT p.load, p.entity, p.period FROM parts p JOIN ({ScopeValues}) s ON p.period = s.period AND p.entity = s.entity
              AND p.version = s.version WHERE p.kind = $1 AND p.part IN {DuckSchema.ActiveParts(
                edition - 1
            )} {condition} ORDER BY p.load, p.period, p.entity
            """,
            r => (r.GetInt32(0), before.Label(r.GetInt32(1)).Name, before.Calendar.NameOf(Period.FromOrdinal(r.GetInt32(2)))),
            command.Mapping.Kind.ToString()
        );

    private string ScopeValues =>
        $"SELECT * FROM (VALUES {string.Join(", ", _parts.Keys.Select(k => $"({k.Version}, {k.Period}, {k.Entity})").Distinct())}) AS scope(version, period, entity)";

    private string EntityColumn => DuckSchema.Column(before.Entities);
}
