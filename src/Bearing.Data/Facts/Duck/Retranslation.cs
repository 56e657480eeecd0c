using Bearing.Core.Books;
using Bearing.Core.Loading;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// Brings what was translated to the rates that count in an edition. Nothing is overwritten: a part whose rate changed gives way
/// to one with the same lines at the new rate. Months that are closed for an entity keep the amounts by which they were reported.
/// </summary>
internal sealed class Retranslation(DuckDBConnection connection, int edition)
{
    private const int MostTold = 8;

    /// <summary>Rates for closed months wait; those whose months are open now begin to count.</summary>
    public void ReleaseWaitingRates(Book now)
    {
        var waiting = DuckStore.Rows(
            connection,
            $"SELECT DISTINCT period, currency FROM rates WHERE applies_from = {DuckSchema.Waiting} ORDER BY 1, 2",
            r => (Period: Period.FromOrdinal(r.GetInt32(0)), Currency: r.GetString(1))
        );
        foreach (var (period, currency) in waiting.Where(w => !IsClosed(now, w.Currency, w.Period)))
            DuckStore.Execute(
                connection,
                $"""
                UPDATE rates SET applies_from = {edition} WHERE applies_from = {DuckSchema.Waiting}
                  AND period = {period.Ordinal} AND currency = $1
                """,
                currency
            );
    }

    /// <summary>Whether a month is closed for all entities that keep their books in a currency, or for the book where none
    /// does.</summary>
    public static bool IsClosed(Book book, string currency, Period period)
    {
        var entities = book.MembersOf(book.Entities.Id)
            .Where(e => !book.HasChildren(e) && string.Equals(book.CurrencyOf(e), currency, StringComparison.OrdinalIgnoreCase))
            .ToList();
        return entities.Count == 0
            ? book.Definition.ClosedThrough >= period
            : entities.TrueForAll(e => book.ClosedThrough(e) >= period);
    }

    /// <summary>What was translated anew, in words; empty when every rate is as it was.</summary>
    /// <exception cref="LoadRefusedException">When amounts of an open month would have no rate any more.</exception>
    public IReadOnlyList<string> Run()
    {
        var now = DuckBook.Read(connection, edition);
        var changed = new List<(Part Part, Rate Rate)>();
        var lacking = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var part in TranslatedParts(now).Where(p => !(now.ClosedThrough(now.Member(p.Entity)) >= p.Period)))
        {
            if (part.Basis is not { } basis)
                continue;
            if (Translation.Find(now, basis, part.Kind == nameof(TableKind.Opening), part.Period, part.Currency) is not { } rate)
                lacking.Add($"{part.Currency} {now.Calendar.NameOf(part.Period)}");
            else if ((rate.Value, rate.Quotation) != (part.Rate, part.Quotation))
                changed.Add((part, rate));
        }
        if (lacking.Count > 0)
            throw LoadRefusedException.File(
                $"Amounts are translated by these rates, and nothing would be left for {string.Join(", ", lacking.Take(MostTold))}{(lacking.Count > MostTold ? $" and {lacking.Count - MostTold} more" : "")}.",
                "Take back the loads of those amounts first, or load other rates instead."
            );
        if (changed.Count == 0)
            return [];
        Replace(now, changed);
        return
        [
            .. changed
                .GroupBy(c => c.Part.Currency)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g =>
                {
                    var months = g.Select(c => c.Part.Period).Distinct().Order().ToList();
                    return $"{g.Key}: translated anew for {string.Join(", ", months.Take(MostTold).Select(now.Calendar.NameOf))}{(months.Count > MostTold ? $" and {months.Count - MostTold} more" : "")}";
                }),
        ];
    }

    private sealed record Part(
        int Id,
        string Kind,
        Period Period,
        int Entity,
        string Currency,
        decimal Rate,
        Quotation Quotation,
        RateBasis? Basis
    );

    private List<Part> TranslatedParts(Book now)
    {
        var bases = now
            .Definition.Scenarios.SelectMany(s => s.Versions.Select(v => (v.Id, Basis: RateBasis.Of(s, v))))
            .ToDictionary(v => v.Id, v => v.Basis);
        return DuckStore.Rows(
            connection,
            $"""
            SELECT part, kind, period, entity, currency, rate, quotation, version FROM parts WHERE currency IS NOT NULL
              AND part IN (SELECT part FROM part_spans WHERE until_edition IS NULL) ORDER BY part
            """,
            r => new Part(
                r.GetInt32(0),
                r.GetString(1),
                Period.FromOrdinal(r.GetInt32(2)),
                r.GetInt32(3),
                r.GetString(4),
                r.GetDecimal(5),
                Enum.Parse<Quotation>(r.GetString(6)),
                bases.GetValueOrDefault(r.GetInt32(7))
            )
        );
    }

    private void Replace(Book now, List<(Part Part, Rate Rate)> changed)
    {
        var first = DuckStore.Scalar<int>(connection, "SELECT max(part) + 1 FROM parts");
        DuckStore.Execute(
            connection,
            "CREATE TEMP TABLE new_rates (part INTEGER, old INTEGER, rate DECIMAL(18,8), quotation VARCHAR, rate_set VARCHAR, rate_load INTEGER)"
        );
        using (var appender = connection.CreateAppender("new_rates"))
            foreach (var ((part, rate), i) in changed.Select((c, i) => (c, i)))
                appender
                    .CreateRow()
                    .AppendValue(first + i)
                    .AppendValue(part.Id)
                    .AppendValue(rate.Value)
                    .AppendValue(rate.Quotation.ToString())
                    .AppendValue(rate.Set)
                    .AppendValue(rate.Load)
                    .EndRow();
        foreach (
            var sql in (string[])
                [
                    """
                        INSERT INTO parts SELECT n.part, p.load, p.kind, p.version, p.period, p.entity, p.currency, n.rate, n.quotation, n.rate_set, n.rate_load, n.old
                          FROM new_rates n JOIN parts p ON p.part = n.old
                        """,
                    $"""
                        UPDATE part_spans SET until_edition = {edition} WHERE until_edition IS NULL AND part IN (SELECT old
                          FROM new_rates)
                        """,
                    $"INSERT INTO part_spans SELECT part, {edition}, NULL, NULL FROM new_rates",
                    $"""
                        INSERT INTO postings SELECT n.part, q.* EXCLUDE (part) REPLACE ({Translated} AS amount)
                          FROM postings q JOIN new_rates n ON q.part = n.old
                        """,
                    "DROP TABLE new_rates",
                ]
        )
            DuckStore.Execute(connection, sql);
        Cells.RollUp(connection, now.Definition, $"part >= {first}", true);
    }

    /// <summary>
    /// The local amount at the rate, rounded half away from zero to four decimals, as <see cref="Rate.Translate"/> does it: in
    /// whole ten-thousandths of money and hundred-millionths of the rate, since the engine divides decimals as binary fractions.
    /// </summary>
    private const string Translated = """
        CAST(CAST(sign(q.local_amount) * CASE n.quotation
          WHEN 'ForeignPerHome' THEN (CAST(abs(q.local_amount) * 10000 AS HUGEINT) * 200000000 + CAST(n.rate * 100000000 AS HUGEINT)) // (2 * CAST(n.rate * 100000000 AS HUGEINT))
          ELSE (CAST(abs(q.local_amount) * 10000 AS HUGEINT) * CAST(n.rate * 100000000 AS HUGEINT) * 2 + 100000000) // 200000000 END AS DECIMAL(18,0)) * 0.0001 AS DECIMAL(18,4))
        """;
}
