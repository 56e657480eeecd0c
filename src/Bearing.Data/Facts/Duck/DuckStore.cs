using System.Data;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// One book's fact file, opened once in this process. Holds an anchor connection, sets the engine's limits before anything
/// else runs, and lets queries through two at a time in the order in which they came.
/// </summary>
internal sealed class DuckStore : IDisposable
{
    private const int Workers = 2;
    private const int Threads = 2;
    private const int DrainMilliseconds = 20_000;
    private readonly object _lock = new();
    private int _connections;
    private bool _closing;
    private readonly string _connectionString;
    private readonly DuckDBConnection _anchor;
    private readonly TaskScheduler _gate = new ConcurrentExclusiveSchedulerPair(
        TaskScheduler.Default,
        Workers
    ).ConcurrentScheduler;

    /// <param name="path">Made canonical here: a second spelling would open a second instance that does not see this one's
    /// rows.</param>
    public DuckStore(string path)
    {
        _connectionString = $"Data Source={Path.GetFullPath(path)}";
        _anchor = Open();
        // These count on the first connection only; after the last of them nothing but the threads can be changed again.
        foreach (
            var setting in (string[])
                [
                    "memory_limit='600MB'",
                    $"threads={Threads}",
                    "preserve_insertion_order=false",
                    "autoinstall_known_extensions=false",
                    "autoload_known_extensions=false",
                    "enable_external_access=false",
                    "allowed_configs=['threads']",
                    "lock_configuration=true",
                ]
        )
            Execute(_anchor, $"SET {setting}");
        Incoming = new IncomingRows(_anchor);
    }

    internal IncomingRows Incoming { get; }

    /// <summary>Whether it is the engine's word for a full disk.</summary>
    public static bool IsFull(Exception failure)
    {
        for (Exception? at = failure; at is not null; at = at.InnerException)
            if (at is DuckDBException && at.Message.Contains("No space left", StringComparison.OrdinalIgnoreCase))
                return true;
        return false;
    }

    /// <exception cref="BookGoneException">When the file is being given up.</exception>
    public DuckDBConnection Open()
    {
        lock (_lock)
        {
            if (_closing)
                throw new BookGoneException();
            _connections++;
        }
        var connection = new DuckDBConnection(_connectionString);
        connection.Disposed += (_, _) =>
        {
            lock (_lock)
            {
                _connections--;
                Monitor.PulseAll(_lock);
            }
        };
        try
        {
            connection.Open();
            return connection;
        }
        catch
        {
            connection.Dispose();
            throw;
        }
    }

    /// <summary>Runs a query on the gate; the engine's calls block, so they never run on the caller's thread, and whoever
    /// cancels interrupts the statement.</summary>
    public Task<T> Query<T>(Func<DuckDBConnection, T> query, CancellationToken cancel) =>
        Task.Factory.StartNew(
            () =>
            {
                using var connection = Open();
                using var stop = cancel.Register(() =>
                {
                    using var running = connection.CreateCommand();
                    running.Cancel();
                });
                try
                {
                    return query(connection);
                }
                catch (DuckDBException) when (cancel.IsCancellationRequested)
                {
                    throw new OperationCanceledException(cancel);
                }
            },
            cancel,
            TaskCreationOptions.None,
            _gate
        );

    /// <summary>Gives the room of deleted rows back, to later rows or to the disk; left for another time while somebody
    /// reads.</summary>
    public void Compact()
    {
        using var connection = Open();
        try
        {
            Execute(connection, "CHECKPOINT");
        }
        catch (DuckDBException)
        {
            // The engine does so by itself when it can.
        }
    }

    /// <summary>
    /// Lets the engine work in the caller's thread only, until disposed. While rows are appended a second thread costs more than
    /// it brings: the caller spins until it is done, on the core that reading and mapping need.
    /// </summary>
    public static IDisposable OneThread(DuckDBConnection connection)
    {
        // On a connection of its own: that of a transaction that failed takes no more statements.
        var setting = new DuckDBConnection(connection.ConnectionString);
        setting.Open();
        Execute(setting, "SET threads=1");
        return new Restore(setting);
    }

    private sealed class Restore(DuckDBConnection setting) : IDisposable
    {
        public void Dispose()
        {
            Execute(setting, $"SET threads={Threads}");
            setting.Dispose();
        }
    }

    public static void Execute(DuckDBConnection connection, string sql, params object?[] parameters)
    {
        using var command = Command(connection, sql, parameters);
        command.ExecuteNonQuery();
    }

    public static T Scalar<T>(DuckDBConnection connection, string sql, params object?[] parameters)
    {
        using var command = Command(connection, sql, parameters);
        return (T)Convert.ChangeType(command.ExecuteScalar()!, typeof(T), System.Globalization.CultureInfo.InvariantCulture);
    }

    public static List<T> Rows<T>(DuckDBConnection connection, string sql, Func<IDataRecord, T> map, params object?[] parameters)
    {
        using var command = Command(connection, sql, parameters);
        using var reader = command.ExecuteReader();
        var rows = new List<T>();
        while (reader.Read())
            rows.Add(map(reader));
        return rows;
    }

    /// <summary>Lets those who read finish, for a while, and nobody begin: a file under the same path is another engine's only
    /// once this one has let go.</summary>
    public void Dispose()
    {
        lock (_lock)
        {
            if (_closing)
                return;
            _closing = true;
            for (var until = Environment.TickCount64 + DrainMilliseconds; _connections > 1 && Environment.TickCount64 < until; )
                Monitor.Wait(_lock, 100);
        }
        _anchor.Dispose();
    }

    /// <summary>SQL is built from ids and constants only; text that came from people travels as a parameter.</summary>
    private static DuckDBCommand Command(DuckDBConnection connection, string sql, object?[] parameters)
    {
        var command = connection.CreateCommand();
#pragma warning disable CA2100 // See above: no user text enters the statement.
        command.CommandText = sql;
#pragma warning restore CA2100
        foreach (var value in parameters)
            command.Parameters.Add(new DuckDBParameter(value ?? DBNull.Value));
        return command;
    }
}
