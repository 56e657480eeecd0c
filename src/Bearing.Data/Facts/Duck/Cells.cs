using Bearing.Core.Books;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Rolls lines up into cells: one for each part, combination of members and currency of posting.</summary>
internal static class Cells
{
    /// <param name="parts">Condition on the column <c>part</c>.</param>
    /// <param name="anyForeign">False spares looking at currencies, where all lines are known to be in the book's own.</param>
    public static void RollUp(DuckDBConnection connection, BookDefinition definition, string parts, bool anyForeign)
    {
        var dimensions = DuckSchema.Columns(definition);
        var foreign = anyForeign
            ? $"CASE WHEN local_amount IS NOT NULL AND upper(currency) <> '{Code(definition)}' THEN upper(currency) END"
            : "NULL";
        DuckStore.Execute(
            connection,
            $"""
            INSERT INTO cells SELECT part, version, period, {dimensions}, amount, lines, local_amount, posted, posted IS NOT NULL
              AND currency IS NOT NULL
            FROM (SELECT part, {dimensions}, CAST(sum(amount) AS DECIMAL(18,4)) AS amount, count(*) AS lines, CAST(sum(local_amount) FILTER (posted IS NOT NULL) AS DECIMAL(18,4)) AS local_amount, posted
              FROM (SELECT *, CAST({foreign} AS VARCHAR) AS posted FROM (SELECT part, {dimensions}, amount, {(
                anyForeign ? "local_amount, currency" : "CAST(NULL AS DECIMAL(18,4)) AS local_amount"
            )} FROM postings WHERE {parts})) GROUP BY part, {dimensions}, posted) JOIN parts USING (part)
            """
        );
    }

    /// <summary>Rolls up anew what an earlier Bearing rolled up without regard to currencies, and notes whose amounts it took
    /// untranslated.</summary>
    public static void SplitByCurrency(DuckDBConnection connection, BookDefinition definition)
    {
        var home = Code(definition);
        if (
            DuckStore.Scalar<long>(
                connection,
                $"""
                SELECT count(*) FROM (SELECT 1 FROM postings WHERE local_amount IS NOT NULL
                  AND upper(currency) <> '{home}' LIMIT 1)
                """
            ) > 0
        )
        {
            DuckStore.Execute(connection, "DELETE FROM cells");
            RollUp(connection, definition, "true", true);
        }
        var entity = DuckSchema.Column(definition.Dimensions.Single(d => d.Role == DimensionRole.Entity));
        var account = DuckSchema.Column(definition.Dimensions.Single(d => d.Role == DimensionRole.Account));
        DuckStore.Execute(
            connection,
            $"""
            INSERT INTO remarks (load, version, from_period, to_period, text, entity, notice)
            SELECT p.load, p.version, min(p.period), max(p.period), 'Load ' || p.load || ' (' || any_value(l.file) || ') brought amounts of ' || any_value(m.name) || ', which keeps its books in ' || any_value(m.currency)
              || ', and an earlier Bearing took them to be in {home} without translating them. If they are in ' || any_value(m.currency) || ', load the rates and then the file again with “replace”.', p.entity, true
            FROM parts p JOIN loads l USING (load)
              JOIN (SELECT member, any_value(name) AS name, upper(any_value(currency)) AS currency FROM members
              WHERE until_edition IS NULL GROUP BY member) m ON m.member = p.entity
            WHERE p.kind IN ('Ledger', 'Plan', 'Opening') AND m.currency <> '{home}' AND EXISTS (SELECT 1 FROM postings q
              WHERE q.part = p.part AND q.local_amount IS NULL AND coalesce(upper(q.currency), m.currency) <> '{home}'
              AND q.amount <> 0
              AND q.{account} NOT IN (SELECT member FROM members WHERE account_type = 'Statistic'))
            GROUP BY p.load, p.version, p.entity
            """
        );
    }

    /// <summary>Three letters, so that it can stand in a statement.</summary>
    private static string Code(BookDefinition definition) =>
        definition.Currency.Length == 3 && definition.Currency.All(char.IsAsciiLetterUpper)
            ? definition.Currency
            : throw new ArgumentException("Not a currency.", nameof(definition));
}
