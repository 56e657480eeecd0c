using System.Collections.Concurrent;
using DuckDB.NET.Data;
using DuckDB.NET.Data.DataChunk.Writer;

namespace Bearing.Data.Facts.Duck;

/// <summary>A place in rows on their way into a table.</summary>
internal abstract class IncomingRow
{
    /// <summary>Writes the row at this place, column by column, as row <paramref name="at"/> of those that the engine takes
    /// next.</summary>
    public abstract void Write(IDuckDBDataWriter[] columns, ulong at);
}

/// <summary>
/// Rows that the engine fetches by itself while it inserts them, inside the transaction of the connection: a table function of
/// the database, to which an insert hands the number of its source. It takes less work for each row than an appender.
/// </summary>
internal sealed class IncomingRows
{
    private const string Function = "incoming";
    private readonly ConcurrentDictionary<long, TableFunction> _sources = [];
    private long _last;

    /// <param name="anchor">Any connection of the database: the function is there for all of them.</param>
    public IncomingRows(DuckDBConnection anchor) =>
        anchor.RegisterTableFunction<long>(
            Function,
            number => _sources[number[0].GetValue<long>()],
            (row, columns, at) => ((IncomingRow)row!).Write(columns, at)
        );

    /// <summary>
    /// Inserts rows as the source yields them, which may be the same place moved on. The engine works in the caller's thread
    /// only: a second one would wait for rows at full speed, on the core that makes them.
    /// </summary>
    /// <param name="select">What the columns of the source become, in the order of the table's columns.</param>
    public void Insert(
        DuckDBConnection connection,
        string table,
        IReadOnlyList<ColumnInfo> columns,
        string select,
        IEnumerable<IncomingRow> rows
    )
    {
        using var alone = DuckStore.OneThread(connection);
        var number = Interlocked.Increment(ref _last);
        _sources[number] = new TableFunction(columns, rows);
        try
        {
            DuckStore.Execute(connection, $"INSERT INTO {table} SELECT {select} FROM {Function}({number})");
        }
        finally
        {
            _sources.TryRemove(number, out _);
        }
    }
}
