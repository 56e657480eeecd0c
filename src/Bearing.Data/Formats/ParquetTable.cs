using Bearing.Core.Loading;
using DuckDB.NET.Data;

namespace Bearing.Data.Formats;

/// <summary>A Parquet file, read by a library in a database of its own that nothing else uses. Rows are numbered
/// from 1; columns keep their types.</summary>
internal sealed record ParquetTable(string Path) : SourceSheet("")
{
    public override IEnumerable<(RawRow Row, double Part)> Rows()
    {
        using var connection = new DuckDBConnection("Data Source=:memory:");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText =
            $"SET memory_limit = '256MB'; SET autoinstall_known_extensions = false; SET autoload_known_extensions = false; SELECT * FROM read_parquet('{Path.Replace("'", "''", StringComparison.Ordinal)}')";
        using var reader = Guarded(command.ExecuteReader);
        var headings = Enumerable.Range(0, reader.FieldCount).Select(reader.GetName).ToArray();
        yield return (new RawRow(0, headings, new object?[headings.Length]), 0);
        var number = 0;
        while (Guarded(reader.Read))
        {
            var (fields, typed) = (new string[headings.Length], new object?[headings.Length]);
            for (var i = 0; i < fields.Length; i++)
                (fields[i], typed[i]) = CellValue.Of(reader.GetValue(i));
            // How many rows there are is not known while they stream.
            yield return (new RawRow(++number, fields, typed), 0.5);
        }
    }

    private static T Guarded<T>(Func<T> read)
    {
        try
        {
            return read();
        }
        catch (DuckDBException)
        {
            throw LoadRefusedException.File(
                "The Parquet file is damaged or incomplete.",
                "Write it again, or load the table as CSV."
            );
        }
    }
}
