using System.Collections.Immutable;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

internal sealed partial class DuckWriter
{
    public LoadReceipt Load(LoadCommand command, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel)
    {
        var receipt = Load(command, false, progress, cancel);
        return book.LoadOfJob(command.Job)?.Load == receipt.Load
            ? receipt
            : throw new IOException("The load was committed and cannot be read back.");
    }

    public LoadReceipt Preview(LoadCommand command, IProgress<(long Rows, double Part)>? progress, CancellationToken cancel) =>
        Load(command, true, progress, cancel) with
        {
            Load = 0,
        };

    private LoadReceipt Load(
        LoadCommand command,
        bool dry,
        IProgress<(long Rows, double Part)>? progress,
        CancellationToken cancel
    )
    {
        if (command.Mapping.Open is { } open)
            throw new LoadRefusedException(open);
        return Change(dry, (connection, edition) =>
        {
            var before = DuckBook.Read(connection, edition - 1);
            if (command.Mode == LoadMode.Add && !command.Mapping.IsReference)
                RefuseSameContent(connection, command);
            var load = DuckStore.Scalar<int>(connection, "SELECT coalesce(max(load), 0) + 1 FROM loads");
            var nextMember = DuckStore.Scalar<int>(
                connection,
                $"SELECT greatest(coalesce(max(member), 0) + 1, {Member.FirstOwnId}) FROM members"
            );
            if (command.Added.Count > 0)
                before = Add(connection, before, command.Added, edition, ref nextMember);
            var result = command.Mapping.Kind switch
            {
                TableKind.Records => (
                    Receipt: new RecordLoad(connection, before, command, load, edition).Records(progress, cancel),
                    Kept: ImmutableArray<int>.Empty
                ),
                TableKind.Rates => (new RecordLoad(connection, before, command, load, edition).Rates(), []),
                _ when command.Mapping.IsReference => LoadMembers(connection, before, command, load, edition, nextMember),
                _ => new FactLoad(connection, book.Store.Incoming, before, command, load, edition).Run(
                    nextMember,
                    progress,
                    cancel
                ),
            };
            if (!dry && !command.Agreed && result.Receipt.Warnings.Length > 0)
                throw new WarningsException(result.Receipt with { Load = 0 });
            var version = command.Target is null ? (int?)null : VersionId(connection, command.Target);
            var kept = string.Join(',', result.Kept);
            // Rates that are in the book translate anew what they hold for, which the receipt tells.
            void Save(LoadReceipt receipt) =>
                DuckStore.Execute(
                    connection,
                    "INSERT INTO loads VALUES ($1, $2, NULL, $3, $4, $5, $6, $7, $8, $9, $10, NULL)",
                    load,
                    edition,
                    clock.GetUtcNow().UtcDateTime,
                    command.Job,
                    command.FileName,
                    command.Sha256,
                    command.Mapping.Kind.ToString(),
                    version,
                    kept,
                    JsonSerializer.Serialize(receipt, DuckBook.Json)
                );
            Save(result.Receipt);
            if (command.Mapping.Kind == TableKind.Rates && new Retranslation(connection, edition).Run() is { Count: > 0 } anew)
            {
                result.Receipt = result.Receipt with { Translated = [.. result.Receipt.Translated, .. anew] };
                DuckStore.Execute(connection, $"DELETE FROM loads WHERE load = {load}");
                Save(result.Receipt);
            }
            return (result.Receipt, $"load {load} of {command.FileName}");
        });
    }

    internal static int VersionId(DuckDBConnection connection, LoadTarget target)
    {
        var known = DuckStore.Rows(
            connection,
            "SELECT version FROM versions WHERE scenario = $1 AND code = $2 ORDER BY version",
            r => r.GetInt32(0),
            target.Scenario,
            target.Version
        );
        if (known.Count > 0)
            return known[0];
        var id = DuckStore.Scalar<int>(connection, "SELECT coalesce(max(version), 0) + 1 FROM versions");
        DuckStore.Execute(
            connection,
            "INSERT INTO versions VALUES ($1, $2, $3, $4, $5, $6, $7)",
            id,
            target.Scenario,
            target.Name,
            target.Kind.ToString(),
            target.Version,
            target.CutOff?.Ordinal,
            target.RateSet
        );
        return id;
    }

    private static (LoadReceipt Receipt, ImmutableArray<int> Kept) LoadMembers(
        DuckDBConnection connection,
        Book before,
        LoadCommand command,
        int load,
        int edition,
        int nextMember
    )
    {
        var table = new LoadTable(command, before.Calendar);
        var rows = new List<RawRow>();
        TableLayout? layout = null;
        foreach (var (row, at, _) in table.Rows())
        {
            rows.Add(row);
            layout ??= at;
        }
        if (layout is null)
            throw table.Nothing();
        var mapper = new MemberMapper(before, command.Mapping, layout, nextMember);
        var members = mapper.Map(rows, table.Refusals);
        var receipt = table.Receipt(
            new LoadReceipt(load, edition, command.FileName, command.Mapping.Kind, null, 0, 0, 0, [], [], [], 0, [], []),
            null
        );
        if (mapper.Definition != before.Definition)
            SaveDefinition(connection, mapper.Definition, edition);
        var known = before.Members.ToDictionary(m => m.Id);
        var changed = members.Where(m => !known.TryGetValue(m.Id, out var old) || !Same(old, m)).ToList();
        var replaced = changed.Where(m => known.ContainsKey(m.Id)).Select(m => m.Id).ToList();
        if (replaced.Count > 0)
            DuckStore.Execute(
                connection,
                $"""
                UPDATE members SET until_edition = {edition} WHERE until_edition IS NULL
                  AND member IN ({string.Join(',', replaced)})
                """
            );
        Insert(connection, changed, edition);
        var added = changed.Count(m => !known.ContainsKey(m.Id));
        return (
            receipt with
            {
                Supersedes =
                [
                    $"{added:N0} members are new, {changed.Count - added:N0} changed, {members.Count - changed.Count:N0} as before",
                ],
            },
            []
        );
    }

    /// <summary>Members that a person adds in place, for texts that the book did not know.</summary>
    private static Book Add(
        DuckDBConnection connection,
        Book before,
        IReadOnlyList<Member> added,
        int edition,
        ref int nextMember
    )
    {
        var members = new List<Member>();
        foreach (var member in added.Where(m => !before.TryMember(m.DimensionId, m.Code, out _)))
            members.Add(member with { Id = nextMember++, Order = int.MaxValue });
        Insert(connection, members, edition);
        return before.With(before.Members.Concat(members));
    }

    /// <summary>One file may bring the actual and the budget, one after the other; into one version its content comes
    /// once.</summary>
    private static void RefuseSameContent(DuckDBConnection connection, LoadCommand command)
    {
        var same = DuckStore.Rows(
            connection,
            """
            SELECT load, file, made_at FROM loads LEFT JOIN versions v USING (version) WHERE sha256 = $1
              AND loads.kind = $2 AND coalesce(v.scenario || ':' || v.code, '') = $3 AND undone_in IS NULL ORDER BY load
            """,
            r => (Load: r.GetInt32(0), File: r.GetString(1), At: r.GetDateTime(2)),
            command.Sha256,
            command.Mapping.Kind.ToString(),
            command.Target is { } target ? $"{target.Scenario}:{target.Version}" : ""
        );
        if (same.Count > 0)
            throw LoadRefusedException.File(
                FormattableString.Invariant(
                    $"This content is already loaded: it came in as load {same[0].Load}, {same[0].File}, on {same[0].At:yyyy-MM-dd}."
                ),
                "Nothing was changed. Load another file, take that load back first, or load with “replace”."
            );
    }

    /// <summary>All in one go: a statement for each of twenty thousand would not fit in memory.</summary>
    internal static void Insert(DuckDBConnection connection, IEnumerable<Member> members, int edition)
    {
        using var appender = connection.CreateAppender("members");
        foreach (var member in members)
            appender
                .CreateRow()
                .AppendValue(member.Id)
                .AppendValue(member.DimensionId)
                .AppendValue(member.Code)
                .AppendValue(member.Name)
                .AppendValue(member.ParentId)
                .AppendValue(member.Order)
                .AppendValue(string.Join('\n', member.OtherNames))
                .AppendValue(member.Account?.Type.ToString())
                .AppendValue(member.Account?.OverTime.ToString())
                .AppendValue(member.Account?.Good.ToString())
                .AppendValue(member.Account?.Unit)
                .AppendValue(edition)
                .AppendValue((int?)null)
                .AppendValue(member.Entity?.Currency)
                .AppendValue(member.Entity?.OwnedPercent)
                .EndRow();
    }

    private static bool Same(Member a, Member b) =>
        a with { OtherNames = [] } == b with { OtherNames = [] } && a.OtherNames.SequenceEqual(b.OtherNames);

    private static void RefuseWhenBuiltUpon(DuckDBConnection connection, int load, int made)
    {
        var later = DuckStore.Rows(
            connection,
            $"""
            SELECT DISTINCT ended_by FROM part_spans WHERE part IN (SELECT part FROM parts WHERE load = {load})
              AND ended_by IS NOT NULL AND ended_by IN (SELECT load FROM loads WHERE undone_in IS NULL) ORDER BY 1
            """,
            r => r.GetInt32(0)
        );
        later.AddRange(
            DuckStore.Rows(
                connection,
                $"""
                SELECT DISTINCT l.load FROM members m JOIN members n ON m.member = n.member AND n.from_edition > {made}
                  JOIN loads l ON l.edition = n.from_edition
                WHERE m.from_edition = {made} AND l.undone_in IS NULL ORDER BY 1
                """,
                r => r.GetInt32(0)
            )
        );
        if (later.Count > 0)
            throw LoadRefusedException.File(
                $"Load {string.Join(" and ", later.Distinct())} changed what load {load} brought.",
                $"Take back load {later.Max()} first."
            );
    }
}
