using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>One load of ledger, plan or statistics rows inside a transaction: lines, checks, cells, parts.</summary>
internal sealed class FactLoad(
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
                "INSERT INTO remarks (load, version, from_period, to_period, text, entity, notice) VALUES ($1, $2, $3, $4, $5, $6, false)",
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

    /// <summary>
    /// Documents have to add up to zero, where the file is one of whole journals: the mapping says so, or most of its documents
    /// do.
    /// </summary>
    private void RefuseUnbalanced()
    {
        if (command.Mapping.Kind != TableKind.Ledger || command.Mapping.Balanced == false || _order.AllBalance)
            return;
        // What was translated adds up as it was posted, in each of its currencies.
        var nets = _order.AnyTranslated
            ? $"SELECT q.document, CAST(sum(CASE WHEN p.currency IS NULL THEN q.amount ELSE q.local_amount END) AS DECIMAL(38,4)) AS net, min(q.row) AS first, p.currency FROM postings q JOIN parts p USING (part) WHERE part >= {_firstPart} AND q.document <> '' GROUP BY q.document, p.currency"
            : $"SELECT document, CAST(sum(amount) AS DECIMAL(38,4)) AS net, min(row) AS first, NULL AS currency FROM postings WHERE part >= {_firstPart} AND document <> '' GROUP BY document";
        var (documents, off) = DuckStore.Rows(
            connection,
            $"SELECT count(*), count(*) FILTER (net <> 0) FROM ({nets}) ORDER BY 1",
            r => (r.GetInt64(0), r.GetInt64(1))
        )[0];
        _documents = documents;
        if (off == 0 || (command.Mapping.Balanced is null && off * 2 >= documents))
            return;
        foreach (
            var (row, document, net, currency) in DuckStore.Rows(
                connection,
                $"""
                SELECT l.row, l.document, d.net, d.currency FROM postings l JOIN (SELECT * FROM ({nets}) WHERE net <> 0 ORDER BY first LIMIT {MostDocumentsTold}) d USING (document) WHERE l.part >= {_firstPart} ORDER BY d.first, l.row
                """,
                r => (r.GetInt32(0), r.GetString(1), r.GetDecimal(2), r.IsDBNull(3) ? "" : r.GetString(3) + " ")
            )
        )
            _table.Refusals.Add(
                new Refusal(
                    row,
                    null,
                    document,
                    FormattableString.Invariant(
                        $"Document {document} does not balance: its {(net < 0 ? "debits exceed its credits" : "credits exceed its debits")} by {currency}{Math.Abs(net):0.00}."
                    ),
                    "Correct the document in the source, or say in the mapping that documents need not balance."
                )
            );
    }

    /// <summary>After a first refusal no facts come in; whether documents balance is watched here, so that all of it is told at
    /// once.</summary>
    private readonly Dictionary<string, (decimal Net, int Row, bool Broken)> _watched = [];
    private const int MostWatched = 100_000;

    private void Watch(int row, string document, List<FactRow> facts)
    {
        if (
            document.Length == 0
            || command.Mapping.Kind != TableKind.Ledger
            || command.Mapping.Balanced == false
            || (_watched.Count >= MostWatched && !_watched.ContainsKey(document))
        )
            return;
        var (net, first, broken) = _watched.GetValueOrDefault(document, (0m, row, false));
        // A document with a refused row, or in several currencies, adds up to nothing that could be judged.
        broken |= facts.Count == 0 || facts.Exists(f => f.Rate is not null);
        _watched[document] = (net + facts.Sum(f => f.Amount), first, broken);
    }

    private void RefuseUnbalancedToo()
    {
        if (_watched.Count == 0)
            return;
        var before = DuckStore
            .Rows(
                connection,
                $"SELECT document, CAST(sum(amount) AS DECIMAL(38,4)), min(row) FROM postings WHERE part >= {_firstPart} AND document <> '' GROUP BY document",
                r => (Document: r.GetString(0), Net: r.GetDecimal(1), Row: r.GetInt32(2))
            )
            .ToDictionary(b => b.Document);
        var nets = _watched
            .Where(w => !w.Value.Broken)
            .Select(w => (Document: w.Key, Net: w.Value.Net + before.GetValueOrDefault(w.Key).Net, w.Value.Row))
            .Concat(before.Values.Where(b => !_watched.ContainsKey(b.Document)))
            .ToList();
        var off = nets.Where(n => n.Net != 0m).OrderBy(n => n.Row).ToList();
        if (command.Mapping.Balanced is null && off.Count * 2 >= nets.Count)
            return;
        foreach (var (document, net, row) in off.Take(MostDocumentsTold))
            _table.Refusals.Add(
                new Refusal(
                    row,
                    null,
                    document,
                    FormattableString.Invariant(
                        $"Document {document} does not balance: its {(net < 0 ? "debits exceed its credits" : "credits exceed its debits")} by {Math.Abs(net):0.00}."
                    ),
                    "Correct the document in the source, or say in the mapping that documents need not balance."
                )
            );
    }

    private void RefuseProfitInOpening()
    {
        var profit = string.Join(
            ',',
            before.MembersOf(before.Accounts.Id).Where(m => m.Account?.IsProfitAndLoss == true).Select(m => m.Id).Append(0)
        );
        foreach (
            var (row, account) in DuckStore.Rows(
                connection,
                $"SELECT row, {DuckSchema.Column(before.Accounts)} FROM postings WHERE part >= {_firstPart} AND {DuckSchema.Column(before.Accounts)} IN ({profit}) ORDER BY row",
                r => (r.GetInt32(0), r.GetInt32(1))
            )
        )
            _table.Refusals.Add(
                new Refusal(
                    row,
                    "account",
                    before.Label(account).Code,
                    $"{before.Label(account).Name} is an account of the income statement, which has no opening balance.",
                    "Take the row out; last year's result belongs to retained earnings."
                )
            );
    }

    /// <summary>What a plan speaks about, for a person to confirm by letting it land.</summary>
    private string? Coverage(RowMapper mapper)
    {
        if (command.Mapping.Kind != TableKind.Plan || _parts.Count == 0)
            return null;
        var (from, to) = (Period.FromOrdinal(_parts.Keys.Min(k => k.Period)), Period.FromOrdinal(_parts.Keys.Max(k => k.Period)));
        var kept = mapper.KeptDimensions.Select(d => before.Dimension(d).Name.ToLowerInvariant());
        var cutOff = command.Target!.CutOff is { } at ? $"; actuals up to {before.Calendar.NameOf(at)}" : "";
        return $"covers {before.Calendar.NameOf(new PeriodSpan(from, to))} and {_parts.Keys.Select(k => k.Entity).Distinct().Count():N0} entities; keeps {string.Join(", ", kept)}{cutOff}. Inside it a blank is zero, outside it is missing.";
    }

    private long RollUp()
    {
        Duck.Cells.RollUp(connection, before.Definition, $"part >= {_firstPart}", _order.AnyForeign);
        return DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM cells WHERE part >= {_firstPart}");
    }

    private ImmutableArray<PeriodTotal> Totals()
    {
        if (command.Mapping.Kind == TableKind.Statistics)
            return QuantityTotals();
        // Statistics have units of their own; only money can be added, and only in one currency.
        return
        [
            .. Sums()
                .GroupBy(s => (s.Period, s.Currency))
                .OrderBy(g => g.Key.Period)
                .ThenBy(g => g.Key.Currency, StringComparer.Ordinal)
                .Select(g =>
                    (
                        g.Key,
                        Lines: g.Sum(s => s.Lines),
                        Money: g.Where(s => s.Type is not (null or AccountType.Statistic)).ToList()
                    )
                )
                .Select(t => Total(Period.FromOrdinal(t.Key.Period), t.Key.Currency, t.Lines, t.Money)),
        ];
    }

    /// <summary>Debits and credits are those of their columns, where the file has them apart.</summary>
    private PeriodTotal Total(Period period, string? currency, long lines, List<AccountSum> money)
    {
        var (debit, credit) = _mapper!.ColumnTotals.TryGetValue((period, currency), out var columns)
            ? columns
            : (money.Sum(s => s.Debit), money.Sum(s => s.Credit));
        return new PeriodTotal(
            period.ToString(),
            before.Calendar.NameOf(period),
            lines,
            debit,
            credit,
            money.Sum(s => s.Credit - s.Debit)
        )
        {
            Currency = currency,
        };
    }

    /// <summary>In the book's currency: what was translated as it was translated.</summary>
    private ImmutableArray<TypeTotal> Types() =>
        [
            .. Sums()
                .Where(s => s.Type is not (null or AccountType.Statistic))
                .GroupBy(s => s.Type!.Value)
                .OrderBy(g => g.Key)
                .Select(g => new TypeTotal(g.Key, g.Sum(s => s.Lines), g.Sum(s => s.Net))),
        ];

    /// <param name="Currency">In which debits and credits stand; null for the book's own.</param>
    /// <param name="Net">In the book's currency.</param>
    private sealed record AccountSum(
        int Period,
        AccountType? Type,
        long Lines,
        decimal Debit,
        decimal Credit,
        decimal Net,
        string? Currency
    );

    /// <summary>Debits and credits of the load by period and account, as they were posted, read once for all totals.</summary>
    private List<AccountSum> Sums() =>
        _sums ??= DuckStore.Rows(
            connection,
            $"""
            SELECT period, account, CAST(sum(lines) AS BIGINT), CAST(sum(debit) AS DECIMAL(38,4)), CAST(sum(credit) AS DECIMAL(38,4)), CAST(sum(net) AS DECIMAL(38,4)), currency FROM (
              SELECT part, account, count(*) AS lines, coalesce(sum(-posted) FILTER (posted < 0), 0) AS debit, coalesce(sum(posted) FILTER (posted > 0), 0) AS credit, sum(amount) AS net
              FROM (SELECT q.part, q.{DuckSchema.Column(before.Accounts)} AS account, q.amount, {(
                _order.AnyTranslated ? "CASE WHEN p.currency IS NULL THEN q.amount ELSE q.local_amount END" : "q.amount"
            )} AS posted
                FROM postings q{(
                _order.AnyTranslated ? " JOIN parts p USING (part)" : ""
            )} WHERE q.part >= {_firstPart}) GROUP BY 1, 2) JOIN parts USING (part) GROUP BY 1, 2, 7 ORDER BY 1, 2, 7
            """,
            r => new AccountSum(
                r.GetInt32(0),
                before.Member(r.GetInt32(1)).Account?.Type,
                r.GetInt64(2),
                r.GetDecimal(3),
                r.GetDecimal(4),
                r.GetDecimal(5),
                r.IsDBNull(6) ? null : r.GetString(6)
            )
        );

    private List<AccountSum>? _sums;

    /// <summary>Quantities of different kinds do not add: each statistic of each scenario has its own total, over all
    /// periods.</summary>
    private ImmutableArray<PeriodTotal> QuantityTotals() =>
        [
            .. DuckStore.Rows(
                connection,
                $"""
                SELECT v.name, l.{DuckSchema.Column(
                    before.Accounts
                )}, count(*), CAST(sum(amount) AS DECIMAL(38,4)) FROM lines l JOIN versions v USING (version)
                WHERE load = {load} GROUP BY ALL ORDER BY 2, 1
                """,
                r => new PeriodTotal(
                    "",
                    $"{before.Label(r.GetInt32(1)).Name}, {r.GetString(0)}",
                    r.GetInt64(2),
                    0m,
                    0m,
                    r.GetDecimal(3)
                )
            ),
        ];

    private ImmutableArray<string> Entities() =>
        [.. _parts.Keys.Select(k => k.Entity).Distinct().Select(id => before.Label(id).Name).Order(StringComparer.Ordinal)];

    private IEnumerable<string> NewMembers(RowMapper mapper) =>
        mapper
            .NewMembers.GroupBy(m => m.DimensionId)
            .Select(g =>
                $"{before.Dimension(g.Key).Name}: {string.Join(", ", g.Select(m => m.Code).Take(20))}{(g.Count() > 20 ? $" and {g.Count() - 20} more" : "")}"
            );

    private void RefuseDoubledLines()
    {
        var doubled = DuckStore.Rows(
            connection,
            $"""
            SELECT document, line_number, min(row), max(row) FROM postings WHERE part >= {_firstPart} AND line_number <> '' AND document <> ''
            GROUP BY {EntityColumn}, document, line_number HAVING count(*) > 1 ORDER BY 3 LIMIT 1
            """,
            r => (r.GetString(0), r.GetString(1), r.GetInt32(2), r.GetInt32(3))
        );
        if (doubled is [var (document, line, first, second)])
            throw LoadRefusedException.File(
                $"Line {line} of document {document} stands in the file twice (rows {first} and {second}).",
                "Take one of them out and load it again."
            );
    }

    /// <summary>Documents already loaded, and rows without documents for a scope already loaded, are refused.</summary>
    private ImmutableArray<string> RefuseWhatIsThere()
    {
        var active = $"part IN {DuckSchema.ActiveParts(edition - 1)} AND version IN ({string.Join(',', _versions.Values)})";
        if (DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM parts WHERE {active}") == 0)
            return [];
        var documents = DuckStore.Rows(
            connection,
            $"""
            SELECT count(DISTINCT n.document), min(n.document), min(o.load) FROM (SELECT DISTINCT document, {EntityColumn} FROM postings WHERE part >= {_firstPart} AND document <> '') n
            JOIN (SELECT DISTINCT document, {EntityColumn}, load FROM lines WHERE load <> {load} AND {active}) o USING (document, {EntityColumn}) ORDER BY 1
            """,
            r => (Count: r.GetInt64(0), First: r.IsDBNull(1) ? "" : r.GetString(1), Load: r.IsDBNull(2) ? 0 : r.GetInt32(2))
        )[0];
        if (documents.Count > 0)
            throw LoadRefusedException.File(
                $"{documents.Count:N0} document{(documents.Count == 1 ? "" : "s")} of this file are in the book already (the first is {documents.First}, from load {documents.Load}).",
                "Nothing was changed. To bring the same periods and entities in again, load with “replace”; to add only new documents, take the others out."
            );
        var scopes = Overlap($"AND p.part IN (SELECT part FROM postings WHERE part < {_firstPart} AND document = '')");
        if (scopes.Count > 0)
            throw LoadRefusedException.File(
                $"{command.Target!.Name} already has figures for {scopes[0].Name} in {scopes[0].Period}{(scopes.Count > 1 ? $" and {scopes.Count - 1:N0} more entity-months" : "")} (load {scopes[0].Load}).",
                "Nothing was changed. Load with “replace” to supersede them."
            );
        return [];
    }

    private ImmutableArray<string> Supersede()
    {
        var scopes = Overlap("");
        DuckStore.Execute(
            connection,
            $"""
            UPDATE part_spans SET until_edition = {edition}, ended_by = {load} WHERE until_edition IS NULL AND part IN
              (SELECT p.part FROM parts p JOIN ({ScopeValues}) s ON p.period = s.period AND p.entity = s.entity AND p.version = s.version WHERE p.kind = $1 AND p.load <> {load})
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
