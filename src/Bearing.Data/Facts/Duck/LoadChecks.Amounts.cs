using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Loading;

namespace Bearing.Data.Facts.Duck;

internal sealed partial class LoadChecks
{
    /// <summary>Where a file brings both amounts, the rate that they imply is held against the one that is loaded.</summary>
    private IEnumerable<Finding> ImpliedRates()
    {
        if (!anyCurrency || book.Rates.IsEmpty)
            yield break;
        var off = Rows(
                $"""
                SELECT {_entity}, period, upper(currency), CAST(sum(abs(amount)) AS DECIMAL(38,4)), CAST(sum(abs(local_amount)) AS DECIMAL(38,4)), count(*)
                  FROM lines
                WHERE load = {load} AND translated_from IS NULL AND local_amount IS NOT NULL
                  AND upper(currency) <> '{book.Definition.Currency}' AND {_account} IN {_profit} GROUP BY 1, 2, 3
                  HAVING sum(abs(local_amount)) > 0 ORDER BY 1, 2, 3
                """,
                r =>
                    (
                        Entity: r.GetInt32(0),
                        Period: Period.FromOrdinal(r.GetInt32(1)),
                        Currency: r.GetString(2),
                        Home: r.GetDecimal(3),
                        Local: r.GetDecimal(4),
                        Lines: r.GetInt64(5)
                    )
            )
            .Select(m => (Month: m, Rate: book.Rate(m.Period, m.Currency, RateKind.Average, RateBasis.Actual)))
            .Where(m => m.Rate is { } rate && Math.Abs(rate.ToHome(m.Month.Local) - m.Month.Home) > RateTolerance * m.Month.Home)
            .ToList();
        foreach (var entity in off.GroupBy(m => m.Month.Entity))
        {
            var (month, rate) = entity.First();
            var implied = rate!.Quotation == Quotation.ForeignPerHome ? month.Local / month.Home : month.Home / month.Local;
            yield return new Finding(
                "rate",
                $"{book.Label(entity.Key).Name} {string.Join(", ", entity.Take(MostTold).Select(m => book.Calendar.NameOf(m.Month.Period)))}",
                FormattableString.Invariant(
                    $"The amounts of {book.Label(entity.Key).Name} in {month.Currency} imply a rate of {implied:0.0000} for {book.Calendar.NameOf(month.Period)}, where {rate.Value:0.0000##} is loaded. Both amounts are taken as the file has them."
                ),
                "Check the rate and the translation in the source, or agree.",
                entity.Sum(m => m.Month.Lines)
            )
            {
                Entity = entity.Key,
            };
        }
    }

    private IEnumerable<Finding> FarAway()
    {
        var least = book.Definition.YearMateriality.Amount.ToString(CultureInfo.InvariantCulture);
        var parts = $"SELECT part FROM parts WHERE version IN (SELECT version FROM parts WHERE load = {load}) AND {_active}";
        // What is usual shows in every n-th line as well; the same lines are taken each time.
        var every = Math.Max(
            1,
            DuckStore.Scalar<long>(
                connection,
                $"SELECT CAST(coalesce(sum(lines), 0) AS BIGINT) FROM cells WHERE part IN ({parts})"
            ) / MostSampled
        );
        var far = Rows(
            $"""
            SELECT l.row, l.{_account}, l.amount, m.median FROM postings l
              JOIN (SELECT {_account} AS account, median(abs(amount)) AS median, count(*) AS lines FROM postings
              WHERE row % {every} = 0 AND part IN ({parts}) GROUP BY 1) m
              ON l.{_account} = m.account WHERE l.part >= {_firstPart} AND l.{_account} IN {_profit} AND m.lines >= 20
                AND m.median > 0 AND abs(l.amount) >= {least} AND abs(l.amount) > {FarTimes} * m.median
                ORDER BY abs(l.amount) DESC, l.row
            """,
            r =>
                (
                    Row: r.GetInt32(0),
                    Account: r.GetInt32(1),
                    Amount: r.GetDecimal(2),
                    Median: Convert.ToDecimal(r.GetValue(3), CultureInfo.InvariantCulture)
                )
        );
        if (far.Count > 0)
            yield return new Finding(
                "far-away",
                Places(far.Select(f => f.Row)),
                $"{far.Count:N0} amount{S(far.Count)} are more than {FarTimes} times what is usual on their account, largest {Math.Abs(far[0].Amount):N2} on {book.Label(far[0].Account).Name}, where {far[0].Median:N2} is usual.",
                "Check for a missing decimal mark.",
                far.Count
            );
    }

    private IEnumerable<Finding> Gaps()
    {
        var months = EntityMonths();
        var latest = months.Count == 0 ? 0 : months.Max(m => m.Period);
        foreach (var entity in months.GroupBy(m => m.Entity).Where(g => g.Any(m => m.OfLoad)))
        {
            var have = entity.Select(m => m.Period).ToHashSet();
            var missing = Enumerable.Range(have.Min(), have.Max() - have.Min() + 1).Where(p => !have.Contains(p)).ToList();
            if (missing.Count > 0)
                yield return new Finding(
                    "gap",
                    book.Label(entity.Key).Name,
                    $"{book.Label(entity.Key).Name} has figures before and after {string.Join(", ", missing.Take(MostTold).Select(Name))}, and none in between.",
                    "Load the missing month, or agree that there was nothing.",
                    missing.Count
                )
                {
                    Entity = entity.Key,
                };
        }
        // Entities that other loads know, that are still posting up to the month before, and that the newest month lacks.
        if (!months.Any(m => m.OfLoad && m.Period == latest))
            yield break;
        var lacking = months
            .GroupBy(m => m.Entity)
            .Where(g => g.Max(m => m.Period) == latest - 1)
            .Select(g => book.Label(g.Key).Name)
            .Order(StringComparer.Ordinal)
            .ToList();
        if (lacking.Count > 0)
            yield return new Finding(
                "entity-missing",
                string.Join(", ", lacking.Take(MostTold)),
                $"{Name(latest)} has no figures for {string.Join(", ", lacking.Take(MostTold))}{(lacking.Count > MostTold ? $" and {lacking.Count - MostTold} more" : "")}, which had some the month before.",
                "Load them too before the month is read, or agree that they follow.",
                lacking.Count
            );
    }

    private IEnumerable<Finding> EqualsPlan()
    {
        if (book.Latest(ScenarioKind.Budget) is not { } budget)
            yield break;
        var equal = Rows(
            $"""
            SELECT period, {_entity}, count(DISTINCT {_account}) FROM (
              SELECT period, {_entity}, {_account}, sum(CASE WHEN version = {budget.Current.Id} THEN -amount ELSE amount END) AS gap, sum(CASE WHEN version = {budget.Current.Id} THEN 0 ELSE abs(amount) END) AS actual
              FROM cells WHERE {_account} IN {_profit} AND {_active}
                AND (version = {budget.Current.Id} OR version IN (SELECT DISTINCT version FROM parts WHERE load = {load}))
                AND (period, {_entity}) IN (SELECT (period, entity) FROM parts WHERE load = {load}) GROUP BY ALL)
            GROUP BY 1, 2 HAVING sum(abs(gap)) = 0 AND count(*) > 2 AND sum(actual) > 0 ORDER BY 1, 2
            """,
            r => (Period: r.GetInt32(0), Entity: r.GetInt32(1), Accounts: r.GetInt64(2))
        );
        foreach (var (period, entity, accounts) in equal.Take(MostTold))
            yield return new Finding(
                "equals-plan",
                $"{book.Label(entity).Name} {Name(period)}",
                $"All {accounts} accounts equal {budget.Name} to the cent: probably the plan was loaded as actual.",
                "Check with whoever closed the month.",
                1
            )
            {
                Entity = entity,
            };
    }

    private IEnumerable<Finding> Level()
    {
        var months = EntityMonths();
        if (months.Count == 0)
            yield break;
        var latest = months.Max(m => m.Period);
        foreach (var entity in months.GroupBy(m => m.Entity))
        {
            var newest = entity.MaxBy(m => m.Period);
            var before = entity.Where(m => m.Period < newest.Period).OrderByDescending(m => m.Period).Take(12).ToList();
            if (!newest.OfLoad || newest.Period != latest || before.Count < 3)
                continue;
            var (lines, volume) = (Median(before.Select(m => (decimal)m.Lines)), Median(before.Select(m => m.Volume)));
            if (
                volume == 0
                || (newest.Lines >= lines * OffLevel && newest.Volume >= volume * OffLevel && newest.Volume <= volume / OffLevel)
            )
                continue;
            yield return new Finding(
                "off-level",
                $"{book.Label(entity.Key).Name} {Name(latest)}",
                $"{newest.Lines:N0} lines of {newest.Volume:N0}, where {lines:N0} lines of {volume:N0} a month are usual: probably incomplete.",
                "Check that the export holds the whole month.",
                1
            )
            {
                Entity = entity.Key,
            };
        }
    }

    private static decimal Median(IEnumerable<decimal> values)
    {
        var sorted = values.Order().ToList();
        return (sorted[(sorted.Count - 1) / 2] + sorted[sorted.Count / 2]) / 2;
    }
}
