using Bearing.Core.Books;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// Tables of a fact file. Nothing is overwritten: parts (what one load brought for a version, a period and an entity), member
/// rows and definitions carry the editions in which they are on. Postings are what is stored of a line; what its part says of it
/// (load, version, period) is joined to it by the view of lines. Dimensions are columns named by id, never by user text.
/// </summary>
internal static class DuckSchema
{
    public static string Column(Dimension dimension) => $"m{dimension.Id}";

    public static string Columns(BookDefinition definition, string prefix = "") => string.Join(", ", definition.Dimensions.Select(d => prefix + Column(d)));

    /// <summary>Parts that are on in an edition.</summary>
    public static string ActiveParts(int edition) =>
        $"(SELECT part FROM part_spans WHERE from_edition <= {edition} AND (until_edition IS NULL OR until_edition > {edition}))";

    public static void Create(DuckDBConnection connection, BookDefinition definition)
    {
        var dimensions = string.Join(", ", definition.Dimensions.Select(d => $"{Column(d)} INTEGER NOT NULL"));
        foreach (var sql in (string[])
        [
            "CREATE TABLE editions (edition INTEGER NOT NULL, made_at TIMESTAMP NOT NULL, what VARCHAR NOT NULL)",
            "CREATE TABLE definitions (from_edition INTEGER NOT NULL, json VARCHAR NOT NULL)",
            """
            CREATE TABLE members (member INTEGER NOT NULL, dimension INTEGER NOT NULL, code VARCHAR NOT NULL, name VARCHAR NOT NULL,
              parent INTEGER, ord INTEGER NOT NULL, other_names VARCHAR NOT NULL, account_type VARCHAR, over_time VARCHAR, good VARCHAR,
              unit VARCHAR, from_edition INTEGER NOT NULL, until_edition INTEGER)
            """,
            """
            CREATE TABLE versions (version INTEGER NOT NULL, scenario VARCHAR NOT NULL, name VARCHAR NOT NULL, kind VARCHAR NOT NULL,
              code VARCHAR NOT NULL, cut_off INTEGER)
            """,
            """
            CREATE TABLE loads (load INTEGER NOT NULL, edition INTEGER NOT NULL, undone_in INTEGER, made_at TIMESTAMP NOT NULL, job VARCHAR NOT NULL,
              file VARCHAR NOT NULL, sha256 VARCHAR NOT NULL, kind VARCHAR NOT NULL, version INTEGER, kept VARCHAR NOT NULL, receipt VARCHAR NOT NULL)
            """,
            "CREATE TABLE parts (part INTEGER NOT NULL, load INTEGER NOT NULL, kind VARCHAR NOT NULL, version INTEGER NOT NULL, period INTEGER NOT NULL, entity INTEGER NOT NULL)",
            "CREATE TABLE part_spans (part INTEGER NOT NULL, from_edition INTEGER NOT NULL, until_edition INTEGER, ended_by INTEGER)",
            $"""
            CREATE TABLE postings (part INTEGER NOT NULL, row INTEGER NOT NULL, document VARCHAR NOT NULL, line_number VARCHAR NOT NULL, date DATE,
              {dimensions}, amount DECIMAL(18,4) NOT NULL, local_amount DECIMAL(18,4), currency VARCHAR, text VARCHAR NOT NULL, fields VARCHAR)
            """,
            $"CREATE TABLE cells (part INTEGER NOT NULL, version INTEGER NOT NULL, period INTEGER NOT NULL, {dimensions}, amount DECIMAL(18,4) NOT NULL, lines INTEGER NOT NULL)",
        ]) DuckStore.Execute(connection, sql);
        Upgrade(connection);
    }

    /// <summary>Brings a file that an earlier Bearing made to the tables of this one. Does nothing to one that has them.</summary>
    public static void Upgrade(DuckDBConnection connection)
    {
        foreach (var sql in (string[])
        [
            .. Holds(connection, "lines", "BASE TABLE") ? (string[])["ALTER TABLE lines ADD COLUMN IF NOT EXISTS fields VARCHAR", .. ((string[])["version", "load", "period"]).Select(c => $"ALTER TABLE lines DROP COLUMN {c}"), "ALTER TABLE lines RENAME TO postings"] : [],
            "CREATE VIEW IF NOT EXISTS lines AS SELECT p.load, p.version, p.period, q.* FROM postings q JOIN parts p USING (part)",
            "ALTER TABLE members ADD COLUMN IF NOT EXISTS currency VARCHAR",
            "ALTER TABLE members ADD COLUMN IF NOT EXISTS owned DECIMAL(9,4)",
            "CREATE TABLE IF NOT EXISTS records (part INTEGER NOT NULL, tbl VARCHAR NOT NULL, load INTEGER NOT NULL, row INTEGER NOT NULL, fields VARCHAR NOT NULL)",
            "CREATE TABLE IF NOT EXISTS table_fields (load INTEGER NOT NULL, tbl VARCHAR NOT NULL, name VARCHAR NOT NULL, ord INTEGER NOT NULL, field VARCHAR NOT NULL, field_name VARCHAR NOT NULL, type VARCHAR NOT NULL, dimension VARCHAR)",
            "CREATE TABLE IF NOT EXISTS remarks (load INTEGER NOT NULL, version INTEGER NOT NULL, from_period INTEGER NOT NULL, to_period INTEGER NOT NULL, text VARCHAR NOT NULL)",
            "CREATE TABLE IF NOT EXISTS words (word INTEGER NOT NULL, text VARCHAR NOT NULL, target VARCHAR NOT NULL, taught_by VARCHAR NOT NULL, made_at TIMESTAMP NOT NULL, from_edition INTEGER NOT NULL, until_edition INTEGER)",
            "CREATE TABLE IF NOT EXISTS rates (load INTEGER NOT NULL, period INTEGER NOT NULL, currency VARCHAR NOT NULL, kind VARCHAR NOT NULL, scenario VARCHAR NOT NULL, value DECIMAL(18,8) NOT NULL, quotation VARCHAR NOT NULL)",
        ]) DuckStore.Execute(connection, sql);
    }

    private static bool Holds(DuckDBConnection connection, string name, string type) =>
        DuckStore.Scalar<long>(connection, "SELECT count(*) FROM information_schema.tables WHERE table_name = $1 AND table_type = $2", name, type) > 0;

    /// <summary>Loads that count in an edition.</summary>
    public static string ActiveLoads(int edition) => $"(SELECT load FROM loads WHERE edition <= {edition} AND (undone_in IS NULL OR undone_in > {edition}))";
}
