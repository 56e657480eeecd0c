using System.Collections.Immutable;
using System.Data;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Facts;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Answers from the fact file in SQL: every line query, and cell queries of books too large for memory.</summary>
public sealed class DuckFacts(DuckStore store, BookDefinition definition) : IFacts
{
    public async ValueTask<IReadOnlyList<CellSum>> Cells(BookView view, CellQuery query, CancellationToken cancel)
    {
        var keys = query.GroupBy.Select(Column).ToList();
        if (query.ByPeriod) keys.Add("period");
        var list = string.Join(", ", keys);
        var sql = $"""
            SELECT {(keys.Count > 0 ? list + ", " : "")}CAST(sum(amount) AS DECIMAL(38,4)), CAST(sum(lines) AS BIGINT)
            FROM cells WHERE {Where(view, query.Version, query.Span, query.Filters)}
            {(keys.Count > 0 ? $"GROUP BY {list} ORDER BY {list}" : "HAVING count(*) > 0 ORDER BY 1")}
            """;
        return await store.Query(c => DuckStore.Rows(c, sql, r => new CellSum(
            [.. Enumerable.Range(0, query.GroupBy.Length).Select(r.GetInt32)], query.ByPeriod ? r.GetInt32(query.GroupBy.Length) : 0,
            r.GetDecimal(keys.Count), r.GetInt64(keys.Count + 1))), cancel);
    }

    public async ValueTask<LinePage> Lines(BookView view, LineQuery query, CancellationToken cancel)
    {
        var where = Where(view, query.Version, query.Span, query.Filters);
        var order = query.Order == LineOrder.BySize ? "abs(amount) DESC, load, row" : "load, row";
        var sql = $"""
            SELECT version, load, row, document, date, period, amount, local_amount, currency, text, {DuckSchema.Columns(definition)}
            FROM lines WHERE {where}{After(query)} ORDER BY {order} LIMIT {query.Limit + 1}
            """;
        return await store.Query(connection =>
        {
            var (count, sum) = DuckStore.Rows(connection, $"SELECT count(*), coalesce(CAST(sum(amount) AS DECIMAL(38,4)), 0) FROM lines WHERE {where} ORDER BY 1",
                r => (r.GetInt64(0), r.GetDecimal(1)))[0];
            var lines = DuckStore.Rows(connection, sql, ToLine);
            var more = lines.Count > query.Limit;
            if (more) lines.RemoveAt(query.Limit);
            var next = more ? new LineCursor(Math.Abs(lines[^1].Amount), lines[^1].Load, lines[^1].Row).ToString() : null;
            return new LinePage([.. lines], count, sum, next);
        }, cancel);
    }

    /// <summary>All cells of an edition, for the snapshot in memory.</summary>
    public List<Cell> ReadCells(DuckDBConnection connection, int edition)
    {
        var width = definition.Dimensions.Length;
        var sql = $"""
            SELECT version, period, CAST(amount * 10000 AS BIGINT), lines, {DuckSchema.Columns(definition)}
            FROM cells WHERE part IN {DuckSchema.ActiveParts(edition)} ORDER BY version, period
            """;
        return DuckStore.Rows(connection, sql, r =>
        {
            var members = new int[width];
            for (var i = 0; i < width; i++) members[i] = r.GetInt32(i + 4);
            return new Cell(r.GetInt32(0), r.GetInt32(1), members, r.GetInt64(2), r.GetInt32(3));
        });
    }

    private Line ToLine(IDataRecord r) => new(r.GetInt32(0), r.GetInt32(1), r.GetInt32(2), r.GetString(3),
        r.IsDBNull(4) ? null : ToDate(r.GetValue(4)), r.GetInt32(5), [.. Enumerable.Range(10, definition.Dimensions.Length).Select(r.GetInt32)],
        r.GetDecimal(6), r.IsDBNull(7) ? null : r.GetDecimal(7), r.IsDBNull(8) ? null : r.GetString(8), r.GetString(9));

    private static DateOnly ToDate(object value) => value is DateOnly date ? date : DateOnly.FromDateTime((DateTime)value);

    private string Where(BookView view, int version, PeriodSpan span, ImmutableArray<MemberFilter> filters)
    {
        var conditions = new List<string>
        {
            $"version = {version}", $"period BETWEEN {span.From.Ordinal} AND {span.To.Ordinal}", $"part IN {DuckSchema.ActiveParts(view.Edition)}",
        };
        foreach (var filter in filters)
            conditions.Add(filter.Members.IsEmpty ? (filter.Exclude ? "true" : "false")
                : $"{Column(filter.Dimension)} {(filter.Exclude ? "NOT IN" : "IN")} ({string.Join(',', filter.Members.Order())})");
        return string.Join(" AND ", conditions);
    }

    private static string After(LineQuery query)
    {
        if (LineCursor.Parse(query.Cursor) is not { } cursor) return "";
        var later = $"(load, row) > ({cursor.Load}, {cursor.Row})";
        if (query.Order == LineOrder.AsLoaded) return $" AND {later}";
        var size = cursor.Size.ToString(CultureInfo.InvariantCulture);
        return $" AND (abs(amount) < {size} OR (abs(amount) = {size} AND {later}))";
    }

    private string Column(int dimension) => DuckSchema.Column(definition.Dimensions.Single(d => d.Id == dimension));
}
