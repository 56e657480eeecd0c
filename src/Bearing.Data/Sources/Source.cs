using System.Text.Json.Nodes;

namespace Bearing.Data.Sources;

/// <summary>What is fetched from a source.</summary>
/// <param name="From">A table or entity set; null when a query is given.</param>
/// <param name="Query">A SELECT of the database's own SQL; databases only.</param>
/// <param name="Columns">Empty for all.</param>
/// <param name="Filter">In the source's own language: an OData $filter, or an SQL condition.</param>
public sealed record Fetch(string? From, string? Query, IReadOnlyList<string> Columns, string? Filter);

/// <summary>Some rows, in the order of the source.</summary>
/// <param name="Next">Where to go on after them, also in another run; null for a source that can only begin again, and after the
/// last page.</param>
public sealed record SourcePage(IReadOnlyList<JsonObject> Rows, string? Next);

/// <summary>The source said no, or could not be reached: what, and what to do.</summary>
public sealed class SourceException(string because, string remedy, Exception? inner = null) : Exception(because, inner)
{
    public string Remedy { get; } = remedy;

    /// <summary>Whether trying again may help: the connection was lost.</summary>
    public bool MayPass { get; init; }
}

/// <summary>Somewhere outside from which tables are read, and only read.</summary>
public abstract class Source
{
    protected const int RowsOfPage = 5_000;

    /// <param name="resumeFrom">What an earlier page gave as next; null to begin.</param>
    /// <exception cref="SourceException">When it cannot be read.</exception>
    public abstract IAsyncEnumerable<SourcePage> Pages(Fetch fetch, string? resumeFrom, CancellationToken cancel);

    /// <summary>Names of what can be fetched.</summary>
    /// <exception cref="SourceException">When it cannot be read.</exception>
    public abstract Task<IReadOnlyList<string>> Tables(CancellationToken cancel);
}
