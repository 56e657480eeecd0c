namespace Bearing.Contracts;

/// <summary>Somewhere outside from which tables are read. Its secret is kept protected and never shown.</summary>
/// <param name="Kind">odata, postgres or sqlite.</param>
/// <param name="Address">As the service's owner allows it: https://host/feed/, postgres://host:5432/database or
/// sqlite:///path/file.db.</param>
public sealed record SourceDto(string Name, string Kind, string Address, string? User, bool HasSecret);

/// <param name="Secret">A bearer token, or the password of the user; null keeps the one that is there.</param>
public sealed record NewSource(string Kind, string Address, string? User = null, string? Secret = null);

/// <summary>What to fetch. It comes in as a file of JSON lines, which then loads like any other.</summary>
/// <param name="From">Table or entity set; null when a query is given.</param>
/// <param name="Query">A SELECT; databases only.</param>
/// <param name="Columns">All when left out.</param>
/// <param name="Filter">In the source's own language: an OData filter, or an SQL condition.</param>
public sealed record FetchRequest(
    string? From = null,
    string? Query = null,
    IReadOnlyList<string>? Columns = null,
    string? Filter = null
);
