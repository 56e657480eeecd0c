using System.Data.Common;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using Npgsql;

namespace Bearing.Data.Sources;

/// <summary>A table or query of a PostgreSQL or SQLite database. Nothing can be written: see <see cref="OpenPostgres"/> and
/// <see cref="OpenSqlite"/>.</summary>
public sealed class Database : Source
{
    private const int MostSeconds = 600;
    private readonly Func<CancellationToken, Task<DbConnection>> _open;
    private readonly string _tables;

    private Database(Func<CancellationToken, Task<DbConnection>> open, string tables) => (_open, _tables) = (open, tables);

    /// <summary>Every query runs as one prepared statement in a transaction that the server itself keeps read only.</summary>
    public static Database Postgres(Uri address, string? user, string? secret) =>
        new(
            cancel => OpenPostgres(address, user, secret, cancel),
            """
            SELECT table_schema || '.' || table_name FROM information_schema.tables
              WHERE table_schema NOT IN ('pg_catalog', 'information_schema') ORDER BY 1
            """
        );

    /// <summary>The file is opened read only and no other can be attached to it.</summary>
    /// <param name="path">Absolute.</param>
    public static Database Sqlite(string path) =>
        new(
            cancel => OpenSqlite(path, cancel),
            "SELECT name FROM sqlite_master WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite_%' ORDER BY 1"
        );

    public override async IAsyncEnumerable<SourcePage> Pages(
        Fetch fetch,
        string? resumeFrom,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        await using var connection = await Guarded(() => _open(cancel));
        await using var transaction = await Guarded(() => Begin(connection, cancel));
        // SQLite's calls block; a statement that never ends is interrupted from outside.
        using var interrupt = cancel.Register(() => Interrupt(connection));
        await using var cursor = await Guarded(() => Cursor.Open(connection, transaction, Sql(fetch), cancel));
        while (await Guarded(() => cursor.Next(cancel)) is { Count: > 0 } rows)
            yield return new SourcePage(rows, null);
        yield return new SourcePage([], null);
    }

    private static void Interrupt(DbConnection connection)
    {
        if (connection is SqliteConnection { Handle: { IsInvalid: false, IsClosed: false } handle })
            SQLitePCL.raw.sqlite3_interrupt(handle);
    }

    /// <summary>Rows of one SELECT, a page at a time. On PostgreSQL the statement is that of a cursor, which can be nothing but a
    /// SELECT.</summary>
    private sealed class Cursor(DbConnection connection, DbTransaction transaction, DbDataReader? reader) : IAsyncDisposable
    {
        private const string Name = "bearing_rows";

        public static async Task<Cursor> Open(
            DbConnection connection,
            DbTransaction transaction,
            string sql,
            CancellationToken cancel
        )
        {
            if (connection is not NpgsqlConnection)
                return new Cursor(connection, transaction, await Execute(connection, transaction, sql, cancel));
            await using (await Execute(connection, transaction, $"DECLARE {Name} NO SCROLL CURSOR FOR {sql}", cancel))
            {
                // Declared; rows come when they are fetched.
            }
            return new Cursor(connection, transaction, null);
        }

        public async Task<List<JsonObject>> Next(CancellationToken cancel)
        {
            if (reader is not null)
                return await Take(reader, RowsOfPage, cancel);
            await using var page = await Execute(connection, transaction, $"FETCH FORWARD {RowsOfPage} FROM {Name}", cancel);
            return await Take(page, int.MaxValue, cancel);
        }

        private static async Task<List<JsonObject>> Take(DbDataReader from, int most, CancellationToken cancel)
        {
            var names = Enumerable.Range(0, from.FieldCount).Select(from.GetName).ToList();
            if (names.GroupBy(n => n, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1) is { } twice)
                throw new SourceException(
                    $"The query gives {twice.Count()} columns called “{twice.Key}”.",
                    "Give each a name of its own with AS."
                );
            var rows = new List<JsonObject>();
            while (rows.Count < most && await from.ReadAsync(cancel))
                rows.Add(
                    new JsonObject(
                        names.Select(
                            (n, i) => KeyValuePair.Create(n, from.IsDBNull(i) ? null : (JsonNode?)Value(from.GetValue(i)))
                        )
                    )
                );
            return rows;
        }

        public ValueTask DisposeAsync() => reader?.DisposeAsync() ?? ValueTask.CompletedTask;
    }

    public override async Task<IReadOnlyList<string>> Tables(CancellationToken cancel)
    {
        var names = new List<string>();
        await foreach (var page in Pages(new Fetch(null, _tables, [], null), null, cancel))
            names.AddRange(page.Rows.Select(r => r.First().Value!.GetValue<string>()));
        return names;
    }

    private static string Sql(Fetch fetch)
    {
        if (fetch.Query is { } query)
            return query;
        if (string.IsNullOrWhiteSpace(fetch.From))
            throw new SourceException("Nothing was named that could be fetched.", "Name a table, or give a query.");
        var columns = fetch.Columns.Count == 0 ? "*" : string.Join(", ", fetch.Columns.Select(Quote));
        return $"SELECT {columns} FROM {string.Join('.', fetch.From.Split('.').Select(Quote))}{(fetch.Filter is null ? "" : $" WHERE {fetch.Filter}")}";
    }

    private static string Quote(string name) => $"\"{name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";

    private static async Task<DbConnection> OpenPostgres(Uri address, string? user, string? secret, CancellationToken cancel)
    {
        var settings = new NpgsqlConnectionStringBuilder
        {
            Host = address.Host,
            Port = address.Port > 0 ? address.Port : 5432,
            Database = address.AbsolutePath.Trim('/'),
            Username = user,
            Password = secret,
            Timeout = 15,
            CommandTimeout = MostSeconds,
            Pooling = false,
            SslMode = address.Query switch
            {
                "?tls=verify" => SslMode.VerifyFull,
                "?tls=require" => SslMode.Require,
                _ => SslMode.Prefer,
            },
            Options = "-c default_transaction_read_only=on",
        };
        var connection = new NpgsqlConnection(settings.ConnectionString);
        await connection.OpenAsync(cancel);
        await using var command = new NpgsqlCommand(MayMore, connection);
        if (await command.ExecuteScalarAsync(cancel) is string may)
        {
            await connection.DisposeAsync();
            throw new SourceException(
                $"The user may do more than read tables: {may}.",
                "Make a role for Bearing that may only SELECT from what it is to read, and give that."
            );
        }
        return connection;
    }

    /// <summary>What a role that only reads tables may not do; NULL for one that may none of it. A read-only transaction keeps
    /// none of these from harm.</summary>
    private const string MayMore = """
        SELECT CASE
          WHEN (SELECT rolsuper FROM pg_roles WHERE rolname = current_user) THEN 'it is a superuser'
          WHEN pg_has_role(current_user, 'pg_execute_server_program', 'MEMBER') THEN 'it may run programs on the server'
          WHEN pg_has_role(current_user, 'pg_read_server_files', 'MEMBER') OR has_function_privilege(current_user, 'pg_read_file(text)', 'EXECUTE') THEN 'it may read files of the server'
          WHEN pg_has_role(current_user, 'pg_write_server_files', 'MEMBER') THEN 'it may write files of the server'
          WHEN EXISTS (SELECT 1 FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE p.proname LIKE 'dblink%'
            AND has_schema_privilege(current_user, n.oid, 'USAGE')
            AND has_function_privilege(current_user, p.oid, 'EXECUTE')) THEN 'it may reach other databases (dblink)'
        END
        """;

    private static async Task<DbConnection> OpenSqlite(string path, CancellationToken cancel)
    {
        if (!File.Exists(path))
            throw new SourceException($"There is no database file {path}.", "Check the address of the source.");
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = path,
                Mode = SqliteOpenMode.ReadOnly,
                Pooling = false,
            }.ConnectionString
        );
        await connection.OpenAsync(cancel);
        SQLitePCL.raw.sqlite3_limit(connection.Handle, SQLitePCL.raw.SQLITE_LIMIT_ATTACHED, 0);
        return connection;
    }

    private static async Task<DbTransaction> Begin(DbConnection connection, CancellationToken cancel)
    {
        var transaction = await connection.BeginTransactionAsync(cancel);
        if (connection is not NpgsqlConnection postgres)
            return transaction;
        await using var command = new NpgsqlCommand("SET TRANSACTION READ ONLY", postgres);
        await command.ExecuteNonQueryAsync(cancel);
        return transaction;
    }

    /// <summary>A batch of one: its text goes to the server as it is, which refuses more than one statement in it.</summary>
    private static async Task<DbDataReader> Execute(
        DbConnection connection,
        DbTransaction transaction,
        string sql,
        CancellationToken cancel
    )
    {
#pragma warning disable CA2100 // The statement is the owner's own, on a connection that cannot write.
        if (connection is NpgsqlConnection)
        {
            var batch = connection.CreateBatch();
            batch.Transaction = transaction;
            var only = batch.CreateBatchCommand();
            only.CommandText = sql;
            batch.BatchCommands.Add(only);
            return await batch.ExecuteReaderAsync(cancel);
        }
        var command = connection.CreateCommand();
        command.CommandText = sql;
        command.Transaction = transaction;
        command.CommandTimeout = MostSeconds;
        return await command.ExecuteReaderAsync(cancel);
#pragma warning restore CA2100
    }

    private static async Task<T> Guarded<T>(Func<Task<T>> work)
    {
        try
        {
            return await work();
        }
        catch (PostgresException e)
        {
            throw new SourceException(
                $"The database said: {e.MessageText}",
                e.SqlState == "25006" ? "Bearing only reads; give a SELECT." : "Correct the query, or the user's rights.",
                e
            );
        }
        catch (SqliteException e) when (e.SqliteErrorCode == SQLitePCL.raw.SQLITE_INTERRUPT)
        {
            throw new OperationCanceledException("The query was interrupted.", e);
        }
        catch (SqliteException e)
        {
            throw new SourceException(
                $"The database said: {e.Message}",
                "Correct the query, or check that the file is an SQLite database.",
                e
            );
        }
        catch (NpgsqlException e)
        {
            throw new SourceException(
                "The connection to the database was lost or never came about.",
                "Check the address, the user and the secret of the source.",
                e
            );
        }
    }

    private static JsonValue? Value(object value) =>
        value switch
        {
            decimal number => JsonValue.Create(number),
            short or int or long => JsonValue.Create(Convert.ToInt64(value, CultureInfo.InvariantCulture)),
            // As few digits as give the number back; money should not be kept so, and often is.
            double or float => Convert.ToDouble(value, CultureInfo.InvariantCulture) is var number
            && double.IsFinite(number)
            && decimal.TryParse(
                number.ToString("R", CultureInfo.InvariantCulture),
                NumberStyles.Float,
                CultureInfo.InvariantCulture,
                out var exact
            )
                ? JsonValue.Create(exact)
                : JsonValue.Create(number.ToString("R", CultureInfo.InvariantCulture)),
            bool flag => JsonValue.Create(flag ? "yes" : "no"),
            DateOnly day => JsonValue.Create(day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)),
            DateTime at => JsonValue.Create(
                at.TimeOfDay == TimeSpan.Zero
                    ? at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                    : at.ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture)
            ),
            byte[] => JsonValue.Create("(bytes)"),
            _ => JsonValue.Create(Convert.ToString(value, CultureInfo.InvariantCulture)),
        };
}
