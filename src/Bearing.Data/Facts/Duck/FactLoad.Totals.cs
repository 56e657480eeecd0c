using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;

namespace Bearing.Data.Facts.Duck;

internal sealed partial class FactLoad
{
    /// <summary>What a plan speaks about, for a person to confirm by letting it land.</summary>
    private string? Coverage(RowMapper mapper)
    {
        if (command.Mapping.Kind != TableKind.Plan || _parts.Count == 0)
            return null;
        var (from, to) = (Period.FromOrdinal(_parts.Keys.Min(k => k.Period)), Period.FromOrdinal(_parts.Keys.Max(k => k.Period)));
        var kept = mapper.KeptDimensions.Select(d => before.Dimension(d).Name.ToLowerInvariant());
        var cutOff = command.Target!.CutOff is { } at ? $"; actuals up to {before.Calendar.NameOf(at)}" : "";
        return $"covers {before.Calendar.NameOf(new PeriodSpan(from, to))} and {_parts.Keys.Select(k => k.Entity).Distinct().Count():N0} entities; keeps {string.Join(", ", kept)}{cutOff}. Inside it a blank is zero, outside it is missing.";
    }

    private long RollUp()
    {
        Duck.Cells.RollUp(connection, before.Definition, $"part >= {_firstPart}", _order.AnyForeign);
        return DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM cells WHERE part >= {_firstPart}");
    }

    private ImmutableArray<PeriodTotal> Totals()
    {
        if (command.Mapping.Kind == TableKind.Statistics)
            return QuantityTotals();
        // Statistics have units of their own; only money can be added, and only in one currency.
        return
        [
            .. Sums()
                .GroupBy(s => (s.Period, s.Currency))
                .OrderBy(g => g.Key.Period)
                .ThenBy(g => g.Key.Currency, StringComparer.Ordinal)
                .Select(g =>
                    (
                        g.Key,
                        Lines: g.Sum(s => s.Lines),
                        Money: g.Where(s => s.Type is not (null or AccountType.Statistic)).ToList()
                    )
                )
                .Select(t => Total(Period.FromOrdinal(t.Key.Period), t.Key.Currency, t.Lines, t.Money)),
        ];
    }

    /// <summary>Debits and credits are those of their columns, where the file has them apart.</summary>
    private PeriodTotal Total(Period period, string? currency, long lines, List<AccountSum> money)
    {
        var (debit, credit) = _mapper!.ColumnTotals.TryGetValue((period, currency), out var columns)
            ? columns
            : (money.Sum(s => s.Debit), money.Sum(s => s.Credit));
        return new PeriodTotal(
            period.ToString(),
            before.Calendar.NameOf(period),
            lines,
            debit,
            credit,
            money.Sum(s => s.Credit - s.Debit)
        )
        {
            Currency = currency,
        };
    }

    /// <summary>In the book's currency: what was translated as it was translated.</summary>
    private ImmutableArray<TypeTotal> Types() =>
        [
            .. Sums()
                .Where(s => s.Type is not (null or AccountType.Statistic))
                .GroupBy(s => s.Type!.Value)
                .OrderBy(g => g.Key)
                .Select(g => new TypeTotal(g.Key, g.Sum(s => s.Lines), g.Sum(s => s.Net))),
        ];

    /// <param name="Currency">In which debits and credits stand; null for the book's own.</param>
    /// <param name="Net">In the book's currency.</param>
    private sealed record AccountSum(
        int Period,
        AccountType? Type,
        long Lines,
        decimal Debit,
        decimal Credit,
        decimal Net,
        string? Currency
    );

    /// <summary>Debits and credits of the load by period and account, as they were posted, read once for all totals.</summary>
    private List<AccountSum> Sums() =>
        _sums ??= DuckStore.Rows(
            connection,
            $"""
            SELECT period, account, CAST(sum(lines) AS BIGINT), CAST(sum(debit) AS DECIMAL(38,4)), CAST(sum(credit) AS DECIMAL(38,4)), CAST(sum(net) AS DECIMAL(38,4)), currency
              FROM (
              SELECT part, account, count(*) AS lines, coalesce(sum(-posted) FILTER (posted < 0), 0) AS debit, coalesce(sum(posted) FILTER (posted > 0), 0) AS credit, sum(amount) AS net
              FROM (SELECT q.part, q.{DuckSchema.Column(before.Accounts)} AS account, q.amount, {(
                _order.AnyTranslated ? "CASE WHEN p.currency IS NULL THEN q.amount ELSE q.local_amount END" : "q.amount"
            )} AS posted
                FROM postings q{(
                _order.AnyTranslated ? " JOIN parts p USING (part)" : ""
            )} WHERE q.part >= {_firstPart}) GROUP BY 1, 2) JOIN parts USING (part) GROUP BY 1, 2, 7 ORDER BY 1, 2, 7
            """,
            r => new AccountSum(
                r.GetInt32(0),
                before.Member(r.GetInt32(1)).Account?.Type,
                r.GetInt64(2),
                r.GetDecimal(3),
                r.GetDecimal(4),
                r.GetDecimal(5),
                r.IsDBNull(6) ? null : r.GetString(6)
            )
        );

    private List<AccountSum>? _sums;

    /// <summary>Quantities of different kinds do not add: each statistic of each scenario has its own total, over all
    /// periods.</summary>
    private ImmutableArray<PeriodTotal> QuantityTotals() =>
        [
            .. DuckStore.Rows(
                connection,
                $"""
                SELECT v.name, l.{DuckSchema.Column(
                    before.Accounts
                )}, count(*), CAST(sum(amount) AS DECIMAL(38,4)) FROM lines l JOIN versions v USING (version)
                WHERE load = {load} GROUP BY ALL ORDER BY 2, 1
                """,
                r => new PeriodTotal(
                    "",
                    $"{before.Label(r.GetInt32(1)).Name}, {r.GetString(0)}",
                    r.GetInt64(2),
                    0m,
                    0m,
                    r.GetDecimal(3)
                )
            ),
        ];

    private ImmutableArray<string> Entities() =>
        [.. _parts.Keys.Select(k => k.Entity).Distinct().Select(id => before.Label(id).Name).Order(StringComparer.Ordinal)];

    private IEnumerable<string> NewMembers(RowMapper mapper) =>
        mapper
            .NewMembers.GroupBy(m => m.DimensionId)
            .Select(g =>
                $"{before.Dimension(g.Key).Name}: {string.Join(", ", g.Select(m => m.Code).Take(20))}{(g.Count() > 20 ? $" and {g.Count() - 20} more" : "")}"
            );
}
