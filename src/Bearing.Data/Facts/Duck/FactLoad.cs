using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>One load of ledger, plan or statistics rows inside a transaction: lines, checks, cells, parts.</summary>
internal sealed class FactLoad(DuckDBConnection connection, Book before, LoadCommand command, int load, int edition)
{
    private const int ReportEvery = 2_000;
    private readonly Dictionary<(int Period, int Entity), int> _parts = [];
    private readonly int _version = DuckWriter.VersionId(connection, command.Target!);
    private readonly int _entity = before.Definition.Dimensions.IndexOf(before.Entities);
    private int _nextPart = DuckStore.Scalar<int>(connection, "SELECT coalesce(max(part), 0) + 1 FROM parts");

    public (LoadReceipt Receipt, ImmutableArray<int> Kept) Run(CsvTable table, int nextMember, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel)
    {
        var mapper = new RowMapper(before, command.Mapping, nextMember);
        var refusals = new RefusalLog();
        var read = Append(table, mapper, refusals, progress, cancel);
        var receipt = new LoadReceipt(load, edition, command.FileName, command.Mapping.Kind, command.Target!.Name, read, read - refusals.Count, refusals.Count,
            refusals.Causes, Totals(), Entities(), 0, [], [.. NewMembers(mapper)]);
        if (refusals.Count > 0) throw new RowsRefusedException(receipt with { Load = 0 });
        RefuseDoubledLines();
        var supersedes = command.Mode == LoadMode.Replace ? Supersede() : RefuseWhatIsThere();
        foreach (var member in mapper.NewMembers)
            DuckWriter.Insert(connection, new Member(member.Id, member.DimensionId, member.Code, member.Code, null, member.Id, []), edition);
        foreach (var ((period, entity), part) in _parts)
        {
            DuckStore.Execute(connection, $"INSERT INTO parts VALUES ({part}, {load}, $1, {_version}, {period}, {entity})", command.Mapping.Kind.ToString());
            DuckStore.Execute(connection, $"INSERT INTO part_spans VALUES ({part}, {edition}, NULL, NULL)");
        }
        return (receipt with { Cells = RollUp(), Supersedes = supersedes }, mapper.KeptDimensions);
    }

    private long Append(CsvTable table, RowMapper mapper, RefusalLog refusals, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel)
    {
        var read = 0L;
        using (var appender = connection.CreateAppender("lines"))
        {
            foreach (var (raw, bytes) in table.Rows())
            {
                if (++read % ReportEvery == 0)
                {
                    cancel.ThrowIfCancellationRequested();
                    progress?.Report((read, (double)bytes / table.Length));
                }
                if (mapper.TryMap(raw, out var row, out var refusal))
                {
                    if (refusals.Count == 0) Append(appender, row);
                }
                else
                {
                    refusals.Add(refusal!);
                }
            }
        }
        progress?.Report((read, 1));
        return read;
    }

    private void Append(DuckDBAppender appender, FactRow row)
    {
        var line = appender.CreateRow().AppendValue(PartOf(row.Period.Ordinal, row.Members[_entity])).AppendValue(_version).AppendValue(load)
            .AppendValue(row.Row).AppendValue(row.Period.Ordinal).AppendValue(row.Document).AppendValue(row.LineNumber).AppendValue(row.Date);
        foreach (var member in row.Members) line = line.AppendValue(member);
        line.AppendValue(row.Amount).AppendValue(row.Local).AppendValue(row.Currency).AppendValue(row.Text).EndRow();
    }

    private int PartOf(int period, int entity)
    {
        if (!_parts.TryGetValue((period, entity), out var part)) _parts[(period, entity)] = part = _nextPart++;
        return part;
    }

    private long RollUp()
    {
        var dimensions = DuckSchema.Columns(before.Definition);
        DuckStore.Execute(connection,
            $"INSERT INTO cells SELECT part, version, period, {dimensions}, CAST(sum(amount) AS DECIMAL(18,4)), count(*) FROM lines WHERE load = {load} GROUP BY part, version, period, {dimensions}");
        return DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM cells WHERE part IN (SELECT part FROM parts WHERE load = {load})");
    }

    private ImmutableArray<PeriodTotal> Totals()
    {
        // Statistics have units of their own; only money can be added.
        var statistics = before.MembersOf(before.Accounts.Id).Where(m => m.Account?.Type == AccountType.Statistic).Select(m => m.Id).Append(0);
        var money = command.Mapping.Kind == TableKind.Statistics ? "true" : $"{DuckSchema.Column(before.Accounts)} NOT IN ({string.Join(',', statistics)})";
        return [.. DuckStore.Rows(connection,
            $"""
            SELECT period, count(*), CAST(coalesce(sum(-amount) FILTER (amount < 0 AND {money}), 0) AS DECIMAL(38,4)),
              CAST(coalesce(sum(amount) FILTER (amount > 0 AND {money}), 0) AS DECIMAL(38,4)), CAST(coalesce(sum(amount) FILTER ({money}), 0) AS DECIMAL(38,4))
            FROM lines WHERE load = {load} GROUP BY period ORDER BY period
            """,
            r => (Period: Period.FromOrdinal(r.GetInt32(0)), Lines: r.GetInt64(1), Debit: r.GetDecimal(2), Credit: r.GetDecimal(3), Net: r.GetDecimal(4)))
            .Select(t => new PeriodTotal(t.Period.ToString(), before.Calendar.NameOf(t.Period), t.Lines, t.Debit, t.Credit, t.Net))];
    }

    private ImmutableArray<string> Entities() => [.. _parts.Keys.Select(k => k.Entity).Distinct().Select(id => before.Label(id).Name).Order(StringComparer.Ordinal)];

    private IEnumerable<string> NewMembers(RowMapper mapper) => mapper.NewMembers.GroupBy(m => m.DimensionId)
        .Select(g => $"{before.Dimension(g.Key).Name}: {string.Join(", ", g.Select(m => m.Code).Take(20))}{(g.Count() > 20 ? $" and {g.Count() - 20} more" : "")}");

    private void RefuseDoubledLines()
    {
        var doubled = DuckStore.Rows(connection,
            $"""
            SELECT document, line_number, min(row), max(row) FROM lines WHERE load = {load} AND line_number <> '' AND document <> ''
            GROUP BY {EntityColumn}, document, line_number HAVING count(*) > 1 ORDER BY 3 LIMIT 1
            """, r => (r.GetString(0), r.GetString(1), r.GetInt32(2), r.GetInt32(3)));
        if (doubled is [var (document, line, first, second)])
            throw LoadRefusedException.File($"Line {line} of document {document} stands in the file twice (rows {first} and {second}).", "Take one of them out and load it again.");
    }

    /// <summary>Documents already loaded, and rows without documents for a scope already loaded, are refused.</summary>
    private ImmutableArray<string> RefuseWhatIsThere()
    {
        var active = $"part IN {DuckSchema.ActiveParts(edition - 1)} AND version = {_version}";
        var documents = DuckStore.Rows(connection,
            $"""
            SELECT count(DISTINCT n.document), min(n.document), min(o.load) FROM (SELECT DISTINCT document, {EntityColumn} FROM lines WHERE load = {load} AND document <> '') n
            JOIN (SELECT DISTINCT document, {EntityColumn}, load FROM lines WHERE load <> {load} AND {active}) o USING (document, {EntityColumn}) ORDER BY 1
            """, r => (Count: r.GetInt64(0), First: r.IsDBNull(1) ? "" : r.GetString(1), Load: r.IsDBNull(2) ? 0 : r.GetInt32(2)))[0];
        if (documents.Count > 0)
            throw LoadRefusedException.File($"{documents.Count:N0} document{(documents.Count == 1 ? "" : "s")} of this file are in the book already (the first is {documents.First}, from load {documents.Load}).",
                "Nothing was changed. To bring the same periods and entities in again, load with “replace”; to add only new documents, take the others out.");
        var scopes = Overlap($"AND p.part IN (SELECT part FROM lines WHERE load <> {load} AND document = '')");
        if (scopes.Count > 0)
            throw LoadRefusedException.File($"{command.Target!.Name} already has figures for {scopes[0].Name} in {scopes[0].Period}{(scopes.Count > 1 ? $" and {scopes.Count - 1:N0} more entity-months" : "")} (load {scopes[0].Load}).",
                "Nothing was changed. Load with “replace” to supersede them.");
        return [];
    }

    private ImmutableArray<string> Supersede()
    {
        var scopes = Overlap("");
        DuckStore.Execute(connection,
            $"""
            UPDATE part_spans SET until_edition = {edition}, ended_by = {load} WHERE until_edition IS NULL AND part IN
              (SELECT p.part FROM parts p JOIN ({ScopeValues}) s ON p.period = s.period AND p.entity = s.entity WHERE p.version = {_version} AND p.kind = $1 AND p.load <> {load})
            """, command.Mapping.Kind.ToString());
        return [.. scopes.GroupBy(s => s.Load).Select(g => $"load {g.Key}: {g.Count():N0} entity-months, {g.First().Name} {g.First().Period} first")];
    }

    private List<(int Load, string Name, string Period)> Overlap(string condition) => DuckStore.Rows(connection,
        $"""
        SELECT p.load, p.entity, p.period FROM parts p JOIN ({ScopeValues}) s ON p.period = s.period AND p.entity = s.entity
        WHERE p.version = {_version} AND p.kind = $1 AND p.part IN {DuckSchema.ActiveParts(edition - 1)} {condition} ORDER BY p.load, p.period, p.entity
        """,
        r => (r.GetInt32(0), before.Label(r.GetInt32(1)).Name, before.Calendar.NameOf(Period.FromOrdinal(r.GetInt32(2)))), command.Mapping.Kind.ToString());

    private string ScopeValues => $"SELECT * FROM (VALUES {string.Join(", ", _parts.Keys.Select(k => $"({k.Period}, {k.Entity})"))}) AS scope(period, entity)";

    private string EntityColumn => DuckSchema.Column(before.Entities);
}
