using Bearing.Core.Books;
using Bearing.Core.Loading;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// Looks at what a load brought, inside its transaction: nothing here is wrong for certain, and all of it is worth a look before
/// it lands. Errors are found elsewhere and refuse the load.
/// </summary>
internal sealed partial class LoadChecks(
    DuckDBConnection connection,
    Book book,
    LoadCommand command,
    int load,
    int edition,
    bool anyWithoutDocument,
    bool anyCurrency
)
{
    private const int MostTold = 5;

    /// <summary>A line so many times its account's median is far away; below the year's materiality it does not matter.</summary>
    private const int FarTimes = 200;
    private const int MostSampled = 500_000;

    /// <summary>An entity's newest month with less than this part, or more than its inverse, of its usual lines and volume is
    /// off.</summary>
    private const decimal OffLevel = 0.4m;

    /// <summary>The rate that two amounts imply may differ by this part from the loaded one: days of posting and rounding make it
    /// differ a little.</summary>
    private const decimal RateTolerance = 0.01m;

    private readonly string _entity = DuckSchema.Column(book.Entities);
    private readonly string _account = DuckSchema.Column(book.Accounts);

    /// <summary>Balances jump by nature; only income and costs have a level.</summary>
    private readonly string _profit =
        $"({string.Join(',', book.MembersOf(book.Accounts.Id).Where(m => m.Account?.IsProfitAndLoss == true).Select(m => m.Id).Append(0))})";

    /// <summary>A load that is being checked is the last: its parts are those from this one on.</summary>
    private readonly int _firstPart = DuckStore.Scalar<int>(
        connection,
        $"SELECT coalesce(min(part), 0) FROM parts WHERE load = {load}"
    );
    private readonly string _active = $"part IN {DuckSchema.ActiveParts(edition)}";

    /// <summary>Parts of the load that came after their month was closed and loaded; known once the checks have run.</summary>
    public IReadOnlyCollection<int> Late { get; private set; } = [];

    public IEnumerable<Finding> Run(TableReader table, RowMapper mapper)
    {
        foreach (var finding in command.Assumed)
            yield return finding;
        foreach (var (check, count, first) in table.BrokenChecks)
            yield return new Finding(
                "rule",
                $"first on line {RowPlace.Of(first).Row}",
                $"{count:N0} row{S(count)} break the rule: {check}.",
                "Correct the rows, or agree.",
                count
            );
        foreach (var (row, text) in table.Totals.Differing.Take(MostTold))
            yield return new Finding(
                "own-total",
                $"line {RowPlace.Of(row).Row}",
                $"The file's own total “{text}” does not agree with its rows.",
                "Look for rows that are missing or doubled in the file.",
                1
            );
        if (mapper.Adjustments > 0 && command.Mapping.Kind != TableKind.Ledger)
            yield return new Finding(
                "period-13",
                "",
                $"{mapper.Adjustments:N0} amounts of period 13 count in the twelfth month.",
                "Agree, or give them a month of their own.",
                mapper.Adjustments
            );
        if (mapper.BothSides.Count > 0)
            yield return new Finding(
                "both-sides",
                Places(mapper.BothSides),
                $"{mapper.BothSides.Count:N0} row{S(mapper.BothSides.Count)} {(mapper.BothSides.Count == 1 ? "has" : "have")} a debit and a credit; what counts is the difference.",
                "Check in the source that neither is a slip, or agree.",
                mapper.BothSides.Count
            );
        if (mapper.TakenAsLocal.Count > 0)
            yield return new Finding(
                "currency",
                Names(mapper.TakenAsLocal.Keys),
                $"The file does not say in which currency its amounts are: those of {Names(mapper.TakenAsLocal.Keys)} were taken to be in {string.Join(" and ", mapper.TakenAsLocal.Values.Distinct().Order(StringComparer.Ordinal))}, in which the book says that {(mapper.TakenAsLocal.Count == 1 ? "it is" : "they are")} kept, and translated.",
                $"Agree, or say the currency of the file, for example {book.Definition.Currency}.",
                mapper.TakenAsLocal.Count
            );
        if (command.Mapping.Kind == TableKind.Opening)
            foreach (var finding in Opening())
                yield return finding;
        if (command.Mapping.Kind != TableKind.Ledger)
            yield break;
        foreach (
            var finding in (
                (IEnumerable<Finding>[])
                    [Dates(), Currencies(), ImpliedRates(), SameRows(), Closed(), FarAway(), Gaps(), EqualsPlan(), Level()]
            ).SelectMany(f => f)
        )
            yield return finding;
    }

    private IEnumerable<Finding> Opening() =>
        Rows(
                $"""
                SELECT {_entity}, CAST(sum({Posted}) AS DECIMAL(38,4)), translated_from FROM lines WHERE load = {load}
                  GROUP BY 1, 3 HAVING sum({Posted}) <> 0 ORDER BY 1, 3
                """,
                r => (Entity: r.GetInt32(0), Net: r.GetDecimal(1), Currency: r.IsDBNull(2) ? "" : r.GetString(2) + " ")
            )
            .Select(o => new Finding(
                "opening-off",
                book.Label(o.Entity).Name,
                $"The opening balances of {book.Label(o.Entity).Name} do not add up to zero: {o.Currency}{o.Net:N2} remains.",
                "Look for a missing account, or agree.",
                1
            )
            {
                Entity = o.Entity,
            });

    /// <summary>Of a line: its amount as it was posted.</summary>
    private const string Posted = "(CASE WHEN translated_from IS NULL THEN amount ELSE local_amount END)";

    private string Names(IEnumerable<int> entities) =>
        entities.Select(e => book.Label(e).Name).Order(StringComparer.Ordinal).ToList() is var names && names.Count > MostTold
            ? $"{string.Join(", ", names.Take(MostTold))} and {names.Count - MostTold} more"
            : string.Join(", ", names);

    private IEnumerable<Finding> Dates()
    {
        // A month late or early is how posting periods work; more is a slip of the finger. A load has few days and many lines of
        // each.
        var off = Rows(
                $"""
                SELECT date, period, CAST(sum(lines) AS BIGINT), min(first)
                  FROM (SELECT part, date, count(*) AS lines, min(row) AS first FROM postings WHERE part >= {_firstPart}
                  AND date IS NOT NULL GROUP BY 1, 2) JOIN parts USING (part) GROUP BY 1, 2 ORDER BY 4
                """,
                r => (Date: Day(r.GetValue(0)), Period: r.GetInt32(1), Lines: r.GetInt64(2), Row: r.GetInt32(3))
            )
            .Where(l => Math.Abs(book.Calendar.PeriodOf(l.Date).Ordinal - l.Period) > 1)
            .ToList();
        if (off.Count == 0)
            yield break;
        var days = string.Join(", ", off.Select(o => FormattableString.Invariant($"(DATE '{o.Date:yyyy-MM-dd}', {o.Period})")));
        var rows = Rows(
            $"SELECT row FROM lines WHERE load = {load} AND (date, period) IN ({days}) ORDER BY row LIMIT {MostTold + 1}",
            r => r.GetInt32(0)
        );
        var lines = off.Sum(o => o.Lines);
        yield return new Finding(
            "date-outside",
            Places(rows),
            $"{lines:N0} line{S(lines)} lie more than a month away from their period, first {off[0].Date:yyyy-MM-dd} in {Name(off[0].Period)}.",
            "Check the dates or the periods of these lines.",
            lines
        );
    }

    private IEnumerable<Finding> Currencies()
    {
        if (!anyCurrency)
            yield break;
        foreach (
            var (entity, currencies, count) in Rows(
                $"""
                SELECT {_entity}, string_agg(DISTINCT currency, ', ' ORDER BY currency), count(*) FROM lines
                  WHERE load = {load} AND coalesce(currency, '') <> '' GROUP BY 1 HAVING count(DISTINCT currency) > 1
                  ORDER BY 1
                """,
                r => (r.GetInt32(0), r.GetString(1), r.GetInt64(2))
            )
        )
            yield return new Finding(
                "mixed-currencies",
                book.Label(entity).Name,
                $"{book.Label(entity).Name} posts in more than one currency: {currencies}.",
                "Fine for a company that trades in several; otherwise check the currency column.",
                count
            )
            {
                Entity = entity,
            };
    }

    private IEnumerable<Finding> SameRows()
    {
        if (!anyWithoutDocument)
            yield break;
        var same = Rows(
            $"""
            SELECT count(*), min(row), min(text), min(amount) FROM lines WHERE load = {load} AND document = ''
              GROUP BY period, {DuckSchema.Columns(book.Definition)}, date, amount, text HAVING count(*) > 1 ORDER BY 2
            """,
            r => (Count: r.GetInt64(0), Row: r.GetInt32(1), Text: r.GetString(2), Amount: r.GetDecimal(3))
        );
        if (same.Count > 0)
            yield return new Finding(
                "same-rows",
                Places(same.Select(s => s.Row)),
                $"{same.Sum(s => s.Count - 1):N0} row{S(same.Sum(s => s.Count - 1))} repeat another to the letter, first {Math.Abs(same[0].Amount):N2} “{same[0].Text}”.",
                "Take them out if they were exported twice; agree if they are two postings alike.",
                same.Sum(s => s.Count - 1)
            );
    }

    /// <summary>Only where an earlier load had brought figures: a book's history is loaded into closed months.</summary>
    private IEnumerable<Finding> Closed()
    {
        var late = Rows(
                $"""
                SELECT p.part, p.period, p.entity, (SELECT count(*) FROM postings l WHERE l.part = p.part) FROM parts p
                  WHERE p.load = {load} AND p.kind = 'Ledger'
                  AND EXISTS (SELECT 1 FROM parts o WHERE o.load < {load} AND o.kind = 'Ledger' AND o.version = p.version AND o.period = p.period AND o.entity = p.entity AND o.part IN {DuckSchema.ActiveParts(
                    edition - 1
                )})
                ORDER BY 2, 3
                """,
                r => (Part: r.GetInt32(0), Period: Period.FromOrdinal(r.GetInt32(1)), Entity: r.GetInt32(2), Lines: r.GetInt64(3))
            )
            .Where(p => book.ClosedThrough(book.Member(p.Entity)) is { } closed && p.Period <= closed)
            .ToList();
        Late = late.ConvertAll(l => l.Part);
        if (late.Count > 0)
            yield return new Finding(
                "closed-period",
                string.Join(
                    ", ",
                    late.Take(MostTold).Select(l => $"{book.Label(l.Entity).Name} {book.Calendar.NameOf(l.Period)}")
                ),
                $"{late.Sum(l => l.Lines):N0} lines go into months that are closed and loaded already.",
                "Agree to take late postings in (they are marked as such), or bring them into the open month.",
                late.Sum(l => l.Lines)
            );
    }

    /// <summary>Actual by entity and month as it would be after this load. The volume is the sum of absolute income and
    /// costs.</summary>
    private List<(int Entity, int Period, long Lines, decimal Volume, bool OfLoad)> EntityMonths() =>
        _months ??= Rows(
            $"""
            SELECT c.{_entity}, c.period, CAST(sum(c.lines) AS BIGINT), coalesce(CAST(sum(abs(c.amount)) FILTER (c.{_account} IN {_profit}) AS DECIMAL(38,4)), 0), bool_or(p.load = {load})
              FROM cells c JOIN parts p USING (part)
            WHERE c.{_active} AND p.kind = 'Ledger' AND c.version IN (SELECT DISTINCT version FROM parts WHERE load = {load})
              GROUP BY 1, 2 ORDER BY 1, 2
            """,
            r => (r.GetInt32(0), r.GetInt32(1), r.GetInt64(2), r.GetDecimal(3), r.GetBoolean(4))
        );

    private List<(int Entity, int Period, long Lines, decimal Volume, bool OfLoad)>? _months;

    private List<T> Rows<T>(string sql, Func<System.Data.IDataRecord, T> map) => DuckStore.Rows(connection, sql, map);

    private string Name(int period) => book.Calendar.NameOf(Period.FromOrdinal(period));

    private static string Places(IEnumerable<int> rows) =>
        $"line{(rows.Skip(1).Any() ? "s" : "")} {string.Join(", ", rows.Take(MostTold).Select(r => RowPlace.Of(r).Row))}{(rows.Skip(MostTold).Any() ? " …" : "")}";

    private static DateOnly Day(object value) => value is DateOnly date ? date : DateOnly.FromDateTime((DateTime)value);

    private static string S(long count) => count == 1 ? "" : "s";
}
