using System.Collections.Immutable;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Each change is a transaction on the fact file that either makes a new edition or leaves nothing behind.</summary>
internal sealed partial class DuckWriter(DuckBook book, Asker asker, TimeProvider clock) : IBookWriter
{
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
                $"""
                UPDATE part_spans SET until_edition = {edition} WHERE until_edition IS NULL AND part IN (SELECT part
                  FROM parts WHERE load = {load})
                """
            );
            DuckStore.Execute(
                connection,
                $"""
                INSERT INTO part_spans SELECT part, {edition}, NULL, NULL FROM part_spans JOIN parts USING (part)
                  WHERE ended_by = {load} AND until_edition = {made} AND load NOT IN (SELECT load FROM loads
                  WHERE undone_in IS NOT NULL)
                """
            );
            var used = string.Join(
                " UNION ",
                DuckBook
                    .Read(connection, edition - 1)
                    .Definition.Dimensions.Select(d =>
                        $"""
                            SELECT {DuckSchema.Column(d)} AS member FROM cells WHERE part IN (SELECT part FROM part_spans
                              WHERE until_edition IS NULL)
                            """
                    )
            );
            var inUse = DuckStore.Rows(
                connection,
                $"""
                SELECT code FROM members WHERE from_edition = {made} AND until_edition IS NULL AND member IN ({used})
                  AND member NOT IN (SELECT member FROM members WHERE until_edition = {made}) AND account_type IS NOT NULL
                    ORDER BY code LIMIT 3
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
                FROM members m WHERE until_edition = {made} AND NOT EXISTS (SELECT 1 FROM members n WHERE n.member = m.member
                  AND n.until_edition IS NULL)
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
                """
                SELECT load FROM loads JOIN editions e ON e.edition = undone_in WHERE purged_in IS NULL
                  AND e.made_at <= $1 ORDER BY load
                """,
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
}
