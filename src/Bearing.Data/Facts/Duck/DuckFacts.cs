using System.Collections.Immutable;
using System.Data;
using System.Globalization;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>Answers from the fact file in SQL: every line query, and cell queries of books too large for memory.</summary>
internal sealed class DuckFacts(DuckStore store, BookDefinition definition, BookView view) : IFacts
{
    public async ValueTask<IReadOnlyList<CellSum>> Cells(CellQuery query, CancellationToken cancel)
    {
        var keys = query.GroupBy.Select(Column).ToList();
        if (query.ByPeriod)
            keys.Add("period");
        if (query.ByCurrency)
            keys.AddRange(["currency", "coalesce(translated, false)"]);
        var list = string.Join(", ", keys);
        var order = string.Join(", ", keys.Select(k => k == "currency" ? "currency NULLS FIRST" : k));
        var local = query.ByCurrency ? ", CAST(sum(coalesce(local_amount, amount)) AS DECIMAL(38,4))" : "";
        var sql = $"""
            SELECT {(keys.Count > 0 ? list + ", " : "")}CAST(sum(amount) AS DECIMAL(38,4)), CAST(sum(lines) AS BIGINT){local}
            FROM cells WHERE {Where(query.Version, query.Span, query.Filters)}
            {(keys.Count > 0 ? $"GROUP BY {list} ORDER BY {order}" : "HAVING count(*) > 0 ORDER BY 1")}
            """;
        var width = query.GroupBy.Length;
        return await store.Query(c => DuckStore.Rows(c, sql, r =>
                {
                    var sum = new CellSum(
                        [.. Enumerable.Range(0, width).Select(r.GetInt32)],
                        query.ByPeriod ? r.GetInt32(width) : 0,
                        r.GetDecimal(keys.Count),
                        r.GetInt64(keys.Count + 1)
                    );
                    return !query.ByCurrency
                        ? sum
                        : sum with
                        {
                            Currency = r.IsDBNull(keys.Count - 2) ? null : r.GetString(keys.Count - 2),
                            Translated = r.GetBoolean(keys.Count - 1),
                            Local = r.GetDecimal(keys.Count + 2),
                        };
                }), cancel);
    }

    public async ValueTask<LinePage> Lines(LineQuery query, CancellationToken cancel)
    {
        var where =
            Where(query.Version, query.Span, query.Filters)
            + (query.AtLeast > 0 ? FormattableString.Invariant($" AND abs(amount) >= {query.AtLeast}") : "")
            + (query.AtMost is { } most ? FormattableString.Invariant($" AND abs(amount) <= {most}") : "");
        List<object?> texts = [];
        if (query.Document is { } document)
            where += $" AND {(query.DocumentEnds ? "suffix(lower(document), " : "(lower(document) = ")}{Text(document)})";
        if (query.Text is { } held)
            where += $" AND contains(lower(text), {Text(held)})";
        object?[] values = [.. texts];
        string Text(string text)
        {
            texts.Add(text.ToLowerInvariant());
            return $"${texts.Count}";
        }
        var order = $"{Key(query.Order)}{(LineCursor.Falls(query.Order) ? " DESC" : "")}, load, row";
        var sql = $"""
            SELECT version, load, row, document, date, period, amount, local_amount, currency, text, fields, translated_from, rate, quotation, rate_set, rate_load, {DuckSchema.Columns(
                definition
            )}
            FROM lines WHERE {where}{After(query)} ORDER BY {order} LIMIT {query.Limit + 1}
            """;
        return await store.Query(
            connection =>
            {
                var loads = DuckStore.Rows(
                    connection,
                    $"""
                    SELECT {(query.WithLoads ? "load" : "0 AS load")}, count(*), coalesce(CAST(sum(amount) AS DECIMAL(38,4)), 0)
                      FROM lines WHERE {where} GROUP BY 1 ORDER BY 1
                    """,
                    r => (Load: r.GetInt32(0), Count: r.GetInt64(1), Sum: r.GetDecimal(2)),
                    values
                );
                var lines = query.Limit == 0 ? [] : DuckStore.Rows(connection, sql, ToLine, values);
                var more = query.Limit > 0 && lines.Count > query.Limit;
                if (more)
                    lines.RemoveAt(query.Limit);
                var next = more ? LineCursor.At(lines[^1], query.Order).ToString() : null;
                return new LinePage([.. lines], loads.Sum(l => l.Count), loads.Sum(l => l.Sum), next)
                {
                    Loads = query.WithLoads ? [.. loads.Select(l => (l.Load, l.Count))] : [],
                };
            },
            cancel
        );
    }

    public async ValueTask<RecordPage> Records(RecordQuery query, CancellationToken cancel)
    {
        if (view.Sight.FieldsOf(query.Table) is not { } seen)
            return new RecordPage([], 0, [], null);
        List<object?> values = [query.Table.Code];
        var where =
            $"tbl = $1 AND part IN {DuckSchema.ActiveParts(view.Edition)}"
            + string.Concat(query.Tests.Select(t => $" AND {(t.Not ? "NOT " : "")}coalesce({Condition(t, values)}, false)"))
            + string.Concat(seen.Select(f => $" AND coalesce({OneOf(f.Field, f.Codes, values)}, false)"));
        var summed = query.Table.Fields.Where(f => f.Type is FieldType.Amount or FieldType.Quantity).ToList();
        var posted = query.Table.Currency is { } currency ? $"upper(coalesce({DuckFields.Text(currency.Code)}, ''))" : "NULL";
        var sums = string.Concat(summed.Select(f => $", coalesce(CAST(sum({DuckFields.Number(f.Code)}) AS DECIMAL(38,4)), 0)"));
        var by = query.OrderBy is not { } field
            ? ""
            : $"{(IsNumber(field) ? DuckFields.Number(field.Code) : DuckFields.Text(field.Code))} {(query.Descending ? "DESC" : "ASC")} NULLS LAST, ";
        return await store.Query(
            connection =>
            {
                var totals = DuckStore.Rows(
                    connection,
                    $"SELECT {posted} AS posted, count(*){sums} FROM records WHERE {where} GROUP BY 1 ORDER BY 1",
                    r =>
                        (
                            Currency: r.IsDBNull(0) ? null : r.GetString(0),
                            Count: r.GetInt64(1),
                            Sums: summed.Select((_, i) => r.GetDecimal(i + 2)).ToList()
                        ),
                    [.. values]
                );
                var records = DuckStore.Rows(
                    connection,
                    $"""
                    SELECT load, row, fields FROM records WHERE {where} ORDER BY {by}load, row
                      LIMIT {query.Limit} OFFSET {query.Offset}
                    """,
                    r => new Record(r.GetInt32(0), r.GetInt32(1), Fields(r.GetString(2))),
                    [.. values]
                );
                var next = query.Offset + records.Count;
                var count = totals.Sum(t => t.Count);
                return new RecordPage(
                    [.. records],
                    count,
                    [
                        .. summed.SelectMany(
                            (f, i) =>
                                f.Type == FieldType.Amount && totals.Count > 0
                                    ? totals.Select(t => new FieldSum(f.Code, t.Currency, t.Sums[i]))
                                    : [new FieldSum(f.Code, null, totals.Sum(t => t.Sums[i]))]
                        ),
                    ],
                    next < count ? next : null
                );
            },
            cancel
        );
    }

    /// <summary>Values travel as parameters; only codes of fields stand in the statement.</summary>
    private static string Condition(FieldTest test, List<object?> values)
    {
        var (text, number) = (DuckFields.Text(test.Field.Code), DuckFields.Number(test.Field.Code));
        if (test.Kind == TestKind.Empty)
            return $"{text} IS NULL";
        values.Add(
            test.IsNumber && test.Kind != TestKind.Contains ? test.Number
            : test.Kind is TestKind.Is or TestKind.Contains ? test.Value.ToLowerInvariant()
            : test.Value
        );
        var value = $"${values.Count}";
        return test.Kind switch
        {
            TestKind.Contains => $"contains(lower({text}), {value})",
            TestKind.Is => test.IsNumber ? $"{number} = {value}" : $"lower({text}) = {value}",
            TestKind.AtLeast => test.IsNumber ? $"{number} >= {value}" : $"{text} >= {value}",
            _ => test.IsNumber ? $"{number} <= {value}" : $"({text} <= {value} OR starts_with({text}, {value}))",
        };
    }

    private static string OneOf(Field field, IEnumerable<string> codes, List<object?> values)
    {
        values.Add(string.Join('\n', codes));
        return $"list_contains(string_split(${values.Count}, chr(10)), {DuckFields.Text(field.Code)})";
    }

    private static bool IsNumber(Field field) => field.Type is FieldType.Amount or FieldType.Quantity or FieldType.Rate;

    /// <summary>All cells of an edition, for the snapshot in memory.</summary>
    public List<Cell> ReadCells(DuckDBConnection connection)
    {
        var width = definition.Dimensions.Length;
        var sql = $"""
            SELECT version, period, CAST(amount * 10000 AS BIGINT), lines, currency, coalesce(translated, false), CAST(coalesce(local_amount, amount) * 10000 AS BIGINT), {DuckSchema.Columns(
                definition
            )}
            FROM cells WHERE part IN {DuckSchema.ActiveParts(view.Edition)} ORDER BY version, period
            """;
        return DuckStore.Rows(connection, sql, r =>
        {
            var members = new int[width];
            for (var i = 0; i < width; i++)
                members[i] = r.GetInt32(i + 7);
            return new Cell(
                r.GetInt32(0),
                r.GetInt32(1),
                members,
                r.GetInt64(2),
                r.GetInt32(3),
                new Posted(r.IsDBNull(4) ? null : r.GetString(4), r.GetBoolean(5)),
                r.GetInt64(6)
            );
        });
    }

    private Line ToLine(IDataRecord r) =>
        new(
            r.GetInt32(0),
            r.GetInt32(1),
            r.GetInt32(2),
            r.GetString(3),
            r.IsDBNull(4) ? null : ToDate(r.GetValue(4)),
            r.GetInt32(5),
            [.. Enumerable.Range(16, definition.Dimensions.Length).Select(r.GetInt32)],
            r.GetDecimal(6),
            r.IsDBNull(7) ? null : r.GetDecimal(7),
            r.IsDBNull(8) ? null : r.GetString(8),
            r.GetString(9)
        )
        {
            Rate = r.IsDBNull(11)
                ? null
                : new Rate(
                    Period.FromOrdinal(r.GetInt32(5)),
                    r.GetString(11),
                    RateKind.Average,
                    r.GetString(14),
                    r.GetDecimal(12),
                    Enum.Parse<Quotation>(r.GetString(13))
                )
                {
                    Load = r.GetInt32(15),
                },
            Fields = r.IsDBNull(10) ? ImmutableSortedDictionary<string, string>.Empty : Fields(r.GetString(10)),
        };

    private static ImmutableSortedDictionary<string, string> Fields(string json) =>
        JsonSerializer.Deserialize<Dictionary<string, string>>(json)!.ToImmutableSortedDictionary();

    private static DateOnly ToDate(object value) => value is DateOnly date ? date : DateOnly.FromDateTime((DateTime)value);

    private string Where(int version, PeriodSpan span, ImmutableArray<MemberFilter> filters)
    {
        var conditions = new List<string>
        {
            $"version = {version}",
            $"period BETWEEN {span.From.Ordinal} AND {span.To.Ordinal}",
            $"part IN {DuckSchema.ActiveParts(view.Edition)}",
        };
        foreach (var filter in filters.Concat(view.Sight.Filters))
            conditions.Add(
                filter.Members.IsEmpty
                    ? (filter.Exclude ? "true" : "false")
                    : $"{Column(filter.Dimension)} {(filter.Exclude ? "NOT IN" : "IN")} ({string.Join(',', filter.Members.Order())})"
            );
        return string.Join(" AND ", conditions);
    }

    private static string After(LineQuery query)
    {
        if (LineCursor.Parse(query.Cursor) is not { } cursor)
            return "";
        var later = $"(load, row) > ({cursor.Load}, {cursor.Row})";
        if (query.Order == LineOrder.AsLoaded)
            return $" AND {later}";
        var (key, at) = (Key(query.Order), cursor.Key.ToString(CultureInfo.InvariantCulture));
        return $" AND ({key} {(LineCursor.Falls(query.Order) ? "<" : ">")} {at} OR ({key} = {at} AND {later}))";
    }

    /// <summary>As <see cref="LineCursor.At"/> has it.</summary>
    private static string Key(LineOrder order) =>
        order switch
        {
            LineOrder.BySize or LineOrder.Smallest => "abs(amount)",
            LineOrder.Newest or LineOrder.Oldest => "coalesce(date - DATE '0001-01-01', 0)",
            _ => "load",
        };

    private string Column(int dimension) => DuckSchema.Column(definition.Dimensions.Single(d => d.Id == dimension));
}
