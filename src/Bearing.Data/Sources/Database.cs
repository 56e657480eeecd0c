using System.Data.Common;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using Npgsql;

namespace Bearing.Data.Sources;

/// <summary>A table or query of a PostgreSQL or SQLite database. Nothing can be written: see <see cref="OpenPostgres"/> and <see cref="OpenSqlite"/>.</summary>
public sealed class Database : Source
{
    private const int MostSeconds = 600;
    private readonly Func<CancellationToken, Task<DbConnection>> _open;
    private readonly string _tables;

    private Database(Func<CancellationToken, Task<DbConnection>> open, string tables) => (_open, _tables) = (open, tables);

    /// <summary>Every query runs as one prepared statement in a transaction that the server itself keeps read only.</summary>
    public static Database Postgres(Uri address, string? user, string? secret) => new(cancel => OpenPostgres(address, user, secret, cancel),
        "SELECT table_schema || '.' || table_name FROM information_schema.tables WHERE table_schema NOT IN ('pg_catalog', 'information_schema') ORDER BY 1");

    /// <summary>The file is opened read only and no other can be attached to it.</summary>
    /// <param name="path">Absolute.</param>
    public static Database Sqlite(string path) => new(cancel => OpenSqlite(path, cancel), "SELECT name FROM sqlite_master WHERE type IN ('table', 'view') AND name NOT LIKE 'sqlite_%' ORDER BY 1");

    public override async IAsyncEnumerable<SourcePage> Pages(Fetch fetch, string? resumeFrom, [EnumeratorCancellation] CancellationToken cancel)
    {
        await using var connection = await Guarded(() => _open(cancel));
        await using var transaction = await Guarded(() => Begin(connection, cancel));
        await using var reader = await Guarded(() => Execute(connection, transaction, Sql(fetch), cancel));
        var rows = new List<JsonObject>();
        while (await Guarded(() => reader.ReadAsync(cancel)))
        {
            rows.Add(new JsonObject(Enumerable.Range(0, reader.FieldCount).Select(i => KeyValuePair.Create(reader.GetName(i), reader.IsDBNull(i) ? null : (JsonNode?)Value(reader.GetValue(i))))));
            if (rows.Count < RowsOfPage) continue;
            yield return new SourcePage(rows, null);
            rows = [];
        }
        yield return new SourcePage(rows, null);
    }

    public override async Task<IReadOnlyList<string>> Tables(CancellationToken cancel)
    {
        var names = new List<string>();
        await foreach (var page in Pages(new Fetch(null, _tables, [], null), null, cancel)) names.AddRange(page.Rows.Select(r => r.First().Value!.GetValue<string>()));
        return names;
    }

    private static string Sql(Fetch fetch)
    {
        if (fetch.Query is { } query) return query;
        if (string.IsNullOrWhiteSpace(fetch.From)) throw new SourceException("Nothing was named that could be fetched.", "Name a table, or give a query.");
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
            Options = "-c default_transaction_read_only=on",
        };
        var connection = new NpgsqlConnection(settings.ConnectionString);
        await connection.OpenAsync(cancel);
        return connection;
    }

    private static async Task<DbConnection> OpenSqlite(string path, CancellationToken cancel)
    {
        if (!File.Exists(path)) throw new SourceException($"There is no database file {path}.", "Check the address of the source.");
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = path, Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ConnectionString);
        await connection.OpenAsync(cancel);
        SQLitePCL.raw.sqlite3_limit(connection.Handle, SQLitePCL.raw.SQLITE_LIMIT_ATTACHED, 0);
        return connection;
    }

    private static async Task<DbTransaction> Begin(DbConnection connection, CancellationToken cancel)
    {
        var transaction = await connection.BeginTransactionAsync(cancel);
        if (connection is not NpgsqlConnection postgres) return transaction;
        await using var command = new NpgsqlCommand("SET TRANSACTION READ ONLY", postgres);
        await command.ExecuteNonQueryAsync(cancel);
        return transaction;
    }

    /// <summary>A batch of one: its text goes to the server as it is, which refuses more than one statement in it.</summary>
    private static async Task<DbDataReader> Execute(DbConnection connection, DbTransaction transaction, string sql, CancellationToken cancel)
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
            throw new SourceException($"The database said: {e.MessageText}", e.SqlState == "25006" ? "Bearing only reads; give a SELECT." : "Correct the query, or the user's rights.", e);
        }
        catch (SqliteException e)
        {
            throw new SourceException($"The database said: {e.Message}", "Correct the query, or check that the file is an SQLite database.", e);
        }
        catch (NpgsqlException e)
        {
            throw new SourceException("The connection to the database was lost or never came about.", "Check the address, the user and the secret of the source.", e);
        }
    }

    private static JsonValue? Value(object value) => value switch
    {
        decimal number => JsonValue.Create(number),
        short or int or long => JsonValue.Create(Convert.ToInt64(value, CultureInfo.InvariantCulture)),
        // As few digits as give the number back; money should not be kept so, and often is.
        double or float => JsonValue.Create(decimal.Parse(Convert.ToDouble(value, CultureInfo.InvariantCulture).ToString("R", CultureInfo.InvariantCulture), NumberStyles.Float, CultureInfo.InvariantCulture)),
        bool flag => JsonValue.Create(flag ? "yes" : "no"),
        DateOnly day => JsonValue.Create(day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)),
        DateTime at => JsonValue.Create(at.TimeOfDay == TimeSpan.Zero ? at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) : at.ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture)),
        byte[] => JsonValue.Create("(bytes)"),
        _ => JsonValue.Create(Convert.ToString(value, CultureInfo.InvariantCulture)),
    };
}
