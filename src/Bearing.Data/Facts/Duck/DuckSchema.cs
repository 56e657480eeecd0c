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

    public static string Columns(BookDefinition definition, string prefix = "") =>
        string.Join(", ", definition.Dimensions.Select(d => prefix + Column(d)));

    /// <summary>Parts that are on in an edition.</summary>
    public static string ActiveParts(int edition) =>
        $"(SELECT part FROM part_spans WHERE from_edition <= {edition} AND (until_edition IS NULL OR until_edition > {edition}))";

    public static void Create(DuckDBConnection connection, BookDefinition definition)
    {
        var dimensions = string.Join(", ", definition.Dimensions.Select(d => $"{Column(d)} INTEGER NOT NULL"));
        foreach (
            var sql in (string[])
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
                    $"CREATE TABLE parts (part INTEGER NOT NULL, load INTEGER NOT NULL, kind VARCHAR NOT NULL, version INTEGER NOT NULL, period INTEGER NOT NULL, entity INTEGER NOT NULL{string.Concat(Translated.Select(c => $", {c}"))})",
                    "CREATE TABLE part_spans (part INTEGER NOT NULL, from_edition INTEGER NOT NULL, until_edition INTEGER, ended_by INTEGER)",
                    $"""
                        CREATE TABLE postings (part INTEGER NOT NULL, row INTEGER NOT NULL, document VARCHAR NOT NULL, line_number VARCHAR NOT NULL, date DATE,
                          {dimensions}, amount DECIMAL(18,4) NOT NULL, local_amount DECIMAL(18,4), currency VARCHAR, text VARCHAR NOT NULL, fields VARCHAR)
                        """,
                    $"CREATE TABLE cells (part INTEGER NOT NULL, version INTEGER NOT NULL, period INTEGER NOT NULL, {dimensions}, amount DECIMAL(18,4) NOT NULL, lines INTEGER NOT NULL{string.Concat(Posted.Select(c => $", {c}"))})",
                ]
        )
            DuckStore.Execute(connection, sql);
        Upgrade(connection, definition);
    }

    /// <summary>
    /// How the lines of a part were translated: from which currency, at which rate, which load brought it. Null for amounts that
    /// stand as they came. A part that was translated anew names the one whose lines it has.
    /// </summary>
    private static readonly string[] Translated =
    [
        "currency VARCHAR",
        "rate DECIMAL(18,8)",
        "quotation VARCHAR",
        "rate_set VARCHAR",
        "rate_load INTEGER",
        "retranslates INTEGER",
    ];

    /// <summary>Of a cell in another currency than the book's: its sum in it. Null in the book's own.</summary>
    private static readonly string[] Posted = ["local_amount DECIMAL(18,4)", "currency VARCHAR", "translated BOOLEAN"];

    /// <summary>A rate with this edition waits until its month is open again.</summary>
    public const int Waiting = int.MaxValue;

    /// <summary>Brings a file that an earlier Bearing made to the tables of this one. Does nothing to one that has
    /// them.</summary>
    public static void Upgrade(DuckDBConnection connection, BookDefinition definition)
    {
        var oneCurrency = !HasColumn(connection, "cells", "currency");
        foreach (
            var sql in (string[])
                [
                    .. Holds(connection, "lines", "BASE TABLE")
                        ? (string[])
                            [
                                "ALTER TABLE lines ADD COLUMN IF NOT EXISTS fields VARCHAR",
                                .. ((string[])["version", "load", "period"]).Select(c => $"ALTER TABLE lines DROP COLUMN {c}"),
                                "ALTER TABLE lines RENAME TO postings",
                            ]
                        : [],
                    .. Translated.Select(c => $"ALTER TABLE parts ADD COLUMN IF NOT EXISTS {c}"),
                    .. Posted.Select(c => $"ALTER TABLE cells ADD COLUMN IF NOT EXISTS {c}"),
                    """
                        CREATE OR REPLACE VIEW lines AS SELECT p.load, p.version, p.period, p.currency AS translated_from, p.rate, p.quotation, p.rate_set, p.rate_load, q.*
                          FROM postings q JOIN parts p USING (part)
                        """,
                    "ALTER TABLE versions ADD COLUMN IF NOT EXISTS rate_set VARCHAR",
                    "ALTER TABLE editions ADD COLUMN IF NOT EXISTS asker VARCHAR",
                    "ALTER TABLE members ADD COLUMN IF NOT EXISTS currency VARCHAR",
                    "ALTER TABLE members ADD COLUMN IF NOT EXISTS owned DECIMAL(9,4)",
                    "CREATE TABLE IF NOT EXISTS records (part INTEGER NOT NULL, tbl VARCHAR NOT NULL, load INTEGER NOT NULL, row INTEGER NOT NULL, fields VARCHAR NOT NULL)",
                    "CREATE TABLE IF NOT EXISTS table_fields (load INTEGER NOT NULL, tbl VARCHAR NOT NULL, name VARCHAR NOT NULL, ord INTEGER NOT NULL, field VARCHAR NOT NULL, field_name VARCHAR NOT NULL, type VARCHAR NOT NULL, dimension VARCHAR)",
                    "CREATE TABLE IF NOT EXISTS remarks (load INTEGER NOT NULL, version INTEGER NOT NULL, from_period INTEGER NOT NULL, to_period INTEGER NOT NULL, text VARCHAR NOT NULL)",
                    "CREATE TABLE IF NOT EXISTS words (word INTEGER NOT NULL, text VARCHAR NOT NULL, target VARCHAR NOT NULL, taught_by VARCHAR NOT NULL, made_at TIMESTAMP NOT NULL, from_edition INTEGER NOT NULL, until_edition INTEGER)",
                    "CREATE TABLE IF NOT EXISTS rates (load INTEGER NOT NULL, period INTEGER NOT NULL, currency VARCHAR NOT NULL, kind VARCHAR NOT NULL, scenario VARCHAR NOT NULL, value DECIMAL(18,8) NOT NULL, quotation VARCHAR NOT NULL)",
                    "ALTER TABLE rates ADD COLUMN IF NOT EXISTS applies_from INTEGER DEFAULT 0",
                    "ALTER TABLE loads ADD COLUMN IF NOT EXISTS purged_in INTEGER",
                    "ALTER TABLE remarks ADD COLUMN IF NOT EXISTS entity INTEGER",
                    "ALTER TABLE remarks ADD COLUMN IF NOT EXISTS notice BOOLEAN DEFAULT false",
                ]
        )
            DuckStore.Execute(connection, sql);
        if (oneCurrency)
            Cells.SplitByCurrency(connection, definition);
    }

    private static bool HasColumn(DuckDBConnection connection, string table, string column) =>
        DuckStore.Scalar<long>(
            connection,
            "SELECT count(*) FROM information_schema.columns WHERE table_name = $1 AND column_name = $2",
            table,
            column
        ) > 0;

    private static bool Holds(DuckDBConnection connection, string name, string type) =>
        DuckStore.Scalar<long>(
            connection,
            "SELECT count(*) FROM information_schema.tables WHERE table_name = $1 AND table_type = $2",
            name,
            type
        ) > 0;

    /// <summary>Loads that count in an edition.</summary>
    public static string ActiveLoads(int edition) =>
        $"(SELECT load FROM loads WHERE edition <= {edition} AND (undone_in IS NULL OR undone_in > {edition}))";
}
