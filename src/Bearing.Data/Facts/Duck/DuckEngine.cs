using Bearing.Core.Books;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Books that are one fact file each, in a folder of their own.</summary>
public sealed class DuckEngine(TimeProvider clock) : IBookEngine
{
    public bool Holds(string folder) => File.Exists(FileOf(folder));

    public IBookStore Create(string folder, BookDefinition definition, DateTime now, Asker asker) =>
        DuckBook.Create(FileOf(folder), definition, now, asker, clock);

    public IBookStore Open(string folder) => DuckBook.Open(FileOf(folder), clock);

    public bool IsDamage(Exception failure) =>
        failure
            is DuckDBException
                or System.Text.Json.JsonException
                or IOException
                or InvalidOperationException
                or ArgumentException
        && !DiskFull.Is(failure)
        && !DuckStore.IsFull(failure);

    private static string FileOf(string folder) => Path.Combine(folder, "facts.duckdb");
}
