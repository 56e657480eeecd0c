using System.Collections.Immutable;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Each change is a transaction on the fact file that either makes a new edition or leaves nothing behind.</summary>
internal sealed class DuckWriter(DuckBook book, Asker asker, TimeProvider clock) : IBookWriter
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

    public int Undo(int load) => Change(false, (connection, edition) =>
        {
            var loads = DuckStore.Rows(
                connection,
                "SELECT edition, undone_in IS NOT NULL FROM loads WHERE load = $1 ORDER BY 1",
                r => (Edition: r.GetInt32(0), Undone: r.GetBoolean(1)),
                load
            );
            if (loads.Count == 0)
                throw LoadRefusedException.File($"There is no load {load}.", "See the list of loads for their numbers.");
            if (loads[0].Undone)
                throw LoadRefusedException.File($"Load {load} was taken back already.", "Nothing is left to do.");
            var made = loads[0].Edition;
            RefuseWhenBuiltUpon(connection, load, made);
            DuckStore.Execute(
                connection,
                $"UPDATE part_spans SET until_edition = {edition} WHERE until_edition IS NULL AND part IN (SELECT part FROM parts WHERE load = {load})"
            );
            DuckStore.Execute(
                connection,
                $"INSERT INTO part_spans SELECT part, {edition}, NULL, NULL FROM part_spans JOIN parts USING (part) WHERE ended_by = {load} AND until_edition = {made} AND load NOT IN (SELECT load FROM loads WHERE undone_in IS NOT NULL)"
            );
            var used = string.Join(
                " UNION ",
                DuckBook
                    .Read(connection, edition - 1)
                    .Definition.Dimensions.Select(d =>
                        $"SELECT {DuckSchema.Column(d)} AS member FROM cells WHERE part IN (SELECT part FROM part_spans WHERE until_edition IS NULL)"
                    )
            );
            var inUse = DuckStore.Rows(
                connection,
                $"""
                SELECT code FROM members WHERE from_edition = {made} AND until_edition IS NULL AND member IN ({used})
                  AND member NOT IN (SELECT member FROM members WHERE until_edition = {made}) AND account_type IS NOT NULL ORDER BY code LIMIT 3
                """,
                r => r.GetString(0)
            );
            if (inUse.Count > 0)
                throw LoadRefusedException.File(
                    $"Figures are loaded on members that load {load} brought ({string.Join(", ", inUse)}).",
                    "Take back the loads of those figures first."
                );
            DuckStore.Execute(connection, $"UPDATE loads SET undone_in = {edition} WHERE load = {load}");
            // Members that a load brought stay while a later load uses them, and go with the last one that does.
            DuckStore.Execute(
                connection,
                $"""
                UPDATE members SET until_edition = {edition} WHERE until_edition IS NULL AND member NOT IN ({used})
                  AND from_edition IN (SELECT edition FROM loads WHERE undone_in IS NOT NULL)
                """
            );
            DuckStore.Execute(
                connection,
                $"""
                INSERT INTO members SELECT member, dimension, code, name, parent, ord, other_names, account_type, over_time, good, unit, {edition}, NULL, currency, owned
                FROM members m WHERE until_edition = {made} AND NOT EXISTS (SELECT 1 FROM members n WHERE n.member = m.member AND n.until_edition IS NULL)
                """
            );
            // A load that gave other names to the definition's lines gives way to the definition before it.
            DuckStore.Execute(
                connection,
                $"""
                INSERT INTO definitions SELECT {edition}, json FROM definitions WHERE from_edition < {made}
                  AND (SELECT max(from_edition) FROM definitions) = {made} ORDER BY from_edition DESC LIMIT 1
                """
            );
            // Rates may have gone, or changed since what comes on again was translated.
            new Retranslation(connection, edition).Run();
            return (edition, $"load {load} taken back");
        });

    public Purged? Purge(DateTime upTo)
    {
        using (var connection = book.Store.Open())
            if (Purgeable(connection, upTo).IsEmpty)
                return null;
        var purged = Change(false, (connection, edition) =>
        {
            var loads = Purgeable(connection, upTo);
            var (list, parts) = (string.Join(',', loads), $"(SELECT part FROM parts WHERE load IN ({string.Join(',', loads)}))");
            foreach (var table in (string[])["postings", "cells", "part_spans"])
                DuckStore.Execute(connection, $"DELETE FROM {table} WHERE part IN {parts}");
            foreach (var table in (string[])["records", "remarks", "rates", "table_fields", "parts"])
                DuckStore.Execute(connection, $"DELETE FROM {table} WHERE load IN ({list})");
            DuckStore.Execute(connection, $"UPDATE loads SET purged_in = {edition} WHERE load IN ({list})");
            return (
                new Purged(loads, edition),
                $"{(loads.Length == 1 ? $"load {list}, which was taken back, was" : $"{loads.Length:N0} loads that were taken back were")} purged"
            );
        });
        book.Store.Compact();
        return purged;
    }

    private static ImmutableArray<int> Purgeable(DuckDBConnection connection, DateTime upTo) =>
        [
            .. DuckStore.Rows(
                connection,
                "SELECT load FROM loads JOIN editions e ON e.edition = undone_in WHERE purged_in IS NULL AND e.made_at <= $1 ORDER BY load",
                r => r.GetInt32(0),
                upTo
            ),
        ];

    public TaughtWord Teach(string text, string target, string by) => Change(false, (connection, edition) =>
        {
            var word = new TaughtWord(
                DuckStore.Scalar<int>(connection, "SELECT coalesce(max(word), 0) + 1 FROM words"),
                text,
                target,
                by,
                clock.GetUtcNow().UtcDateTime
            );
            DuckStore.Execute(
                connection,
                "INSERT INTO words VALUES ($1, $2, $3, $4, $5, $6, NULL)",
                word.Id,
                text,
                target,
                by,
                word.At,
                edition
            );
            return (word, $"word “{text}” taught");
        });

    public bool Forget(int word)
    {
        var known = book.Read().Words.FirstOrDefault(w => w.Id == word);
        return known is not null && Change(false, (connection, edition) =>
            {
                DuckStore.Execute(
                    connection,
                    $"UPDATE words SET until_edition = {edition} WHERE word = {word} AND until_edition IS NULL"
                );
                return (true, $"word “{known.Text}” taken back");
            });
    }

    public int Define(BookDefinition definition, string what = "definition changed") => Change(false, (connection, edition) =>
        {
            var now = DuckBook.Read(connection, edition - 1).Definition;
            var same =
                now.Id == definition.Id
                && now.Dimensions.Select(d => (d.Id, d.Code, d.Role))
                    .SequenceEqual(definition.Dimensions.Select(d => (d.Id, d.Code, d.Role)));
            if (!same)
                throw LoadRefusedException.File(
                    "The id and the dimensions of a book cannot change once it is made.",
                    "Make a new book for other dimensions."
                );
            SaveDefinition(connection, definition, edition);
            var retranslation = new Retranslation(connection, edition);
            retranslation.ReleaseWaitingRates(DuckBook.Read(connection, edition));
            return (edition, retranslation.Run() is { Count: > 0 } anew ? $"{what}; {string.Join("; ", anew)}" : what);
        });

    private static void SaveDefinition(DuckDBConnection connection, BookDefinition definition, int edition) =>
        DuckStore.Execute(
            connection,
            $"INSERT INTO definitions VALUES ({edition}, $1)",
            JsonSerializer.Serialize(definition with { Scenarios = [] }, DuckBook.Json)
        );

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

    /// <summary>After any failure inside, the transaction is rolled back and the failure goes on: a commit would report success
    /// and keep nothing.</summary>
    private T Change<T>(bool dry, Func<DuckDBConnection, int, (T Result, string What)> change)
    {
        using var connection = book.Store.Open();
        using var transaction = connection.BeginTransaction();
        try
        {
            var edition = DuckStore.Scalar<int>(connection, "SELECT max(edition) + 1 FROM editions");
            var (result, what) = change(connection, edition);
            DuckStore.Execute(
                connection,
                "INSERT INTO editions VALUES ($1, $2, $3, $4)",
                edition,
                clock.GetUtcNow().UtcDateTime,
                what,
                asker.ToString()
            );
            if (dry)
                transaction.Rollback();
            else
                transaction.Commit();
            return result;
        }
        catch (Exception e)
        {
            Abandon(transaction);
            if (DuckStore.IsFull(e))
                throw new DiskFullException(e);
            throw;
        }
    }

    /// <summary>A commit that failed has ended the transaction by itself; the failure that led here is the one to tell.</summary>
    private static void Abandon(DuckDBTransaction transaction)
    {
        try
        {
            transaction.Rollback();
        }
        catch (Exception e) when (e is InvalidOperationException or DuckDBException)
        {
            // Nothing is left to roll back.
        }
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
                $"UPDATE members SET until_edition = {edition} WHERE until_edition IS NULL AND member IN ({string.Join(',', replaced)})"
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
            "SELECT load, file, made_at FROM loads LEFT JOIN versions v USING (version) WHERE sha256 = $1 AND loads.kind = $2 AND coalesce(v.scenario || ':' || v.code, '') = $3 AND undone_in IS NULL ORDER BY load",
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
            $"SELECT DISTINCT ended_by FROM part_spans WHERE part IN (SELECT part FROM parts WHERE load = {load}) AND ended_by IS NOT NULL AND ended_by IN (SELECT load FROM loads WHERE undone_in IS NULL) ORDER BY 1",
            r => r.GetInt32(0)
        );
        later.AddRange(
            DuckStore.Rows(
                connection,
                $"""
                SELECT DISTINCT l.load FROM members m JOIN members n ON m.member = n.member AND n.from_edition > {made} JOIN loads l ON l.edition = n.from_edition
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
