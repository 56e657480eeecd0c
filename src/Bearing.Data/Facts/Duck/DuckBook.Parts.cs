using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Data;
using System.Text.Json;
using System.Text.Json.Serialization;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

internal sealed partial class DuckBook
{
    public Book WithFieldValues(Book book)
    {
        using var connection = Store.Open();
        return book.With(
            tables:
            [
                .. book.Tables.Select(t =>
                    t with
                    {
                        Fields =
                        [
                            .. t.Fields.Select(f =>
                                f.Type == FieldType.Text ? f with { Values = Values(connection, book.Edition, t.Code, f) } : f
                            ),
                        ],
                    }
                ),
            ],
            keptAccounts: KeptAccounts(connection, book)
        );
    }

    private static FrozenDictionary<(int, int, int), bool> KeptAccounts(DuckDBConnection connection, Book book)
    {
        var further = book.Definition.Dimensions.Where(d => d.Role == DimensionRole.Other).ToList();
        if (further.Count == 0)
            return FrozenDictionary<(int, int, int), bool>.Empty;
        var kept = string.Join(", ", further.Select(d => $"bool_or({DuckSchema.Column(d)} >= {Member.FirstOwnId})"));
        return DuckStore
            .Rows(
                connection,
                $"""
                SELECT version, {DuckSchema.Column(book.Accounts)}, {kept} FROM cells
                  WHERE part IN {DuckSchema.ActiveParts(book.Edition)} GROUP BY ALL
                """,
                r =>
                    further
                        .Select((d, i) => KeyValuePair.Create((r.GetInt32(0), d.Id, r.GetInt32(1)), r.GetBoolean(i + 2)))
                        .ToList()
            )
            .SelectMany(v => v)
            .ToFrozenDictionary();
    }

    private static ImmutableArray<TaughtWord> Words(DuckDBConnection connection, int edition) =>
        [
            .. DuckStore.Rows(
                connection,
                $"""
                SELECT word, text, target, taught_by, made_at FROM words WHERE from_edition <= {edition}
                  AND (until_edition IS NULL OR until_edition > {edition}) ORDER BY word
                """,
                r => new TaughtWord(r.GetInt32(0), r.GetString(1), r.GetString(2), r.GetString(3), r.GetDateTime(4))
            ),
        ];

    private static bool OpeningsKnown(DuckDBConnection connection, BookDefinition definition, int edition)
    {
        var active = DuckSchema.ActiveParts(edition);
        var account = DuckSchema.Column(definition.Dimensions.Single(d => d.Role == DimensionRole.Account));
        var equity = $"(SELECT member FROM members WHERE account_type = '{AccountType.Equity}')";
        return DuckStore.Scalar<long>(connection, $"SELECT count(*) FROM parts WHERE kind = 'Opening' AND part IN {active}") > 0
            || DuckStore.Scalar<long>(
                connection,
                $"SELECT count(*) FROM (SELECT 1 FROM cells WHERE {account} IN {equity} AND part IN {active} LIMIT 1)"
            ) > 0;
    }

    private static LoadRecord ToRecord(IDataRecord r) =>
        new(
            r.GetInt32(0),
            r.GetInt32(1),
            r.IsDBNull(2) ? null : r.GetInt32(2),
            r.GetDateTime(3),
            r.GetString(4),
            r.GetString(5),
            Enum.Parse<TableKind>(r.GetString(6)),
            JsonSerializer.Deserialize<LoadReceipt>(r.GetString(7), Json)!,
            r.IsDBNull(8) ? null : r.GetInt32(8)
        );

    private static List<Member> Members(DuckDBConnection connection, int edition) =>
        DuckStore.Rows(
            connection,
            $"""
            SELECT member, dimension, code, name, parent, ord, other_names, account_type, over_time, good, unit, currency, owned
              FROM members
            WHERE from_edition <= {edition} AND (until_edition IS NULL OR until_edition > {edition}) ORDER BY member
            """,
            r => new Member(
                r.GetInt32(0),
                r.GetInt32(1),
                r.GetString(2),
                r.GetString(3),
                r.IsDBNull(4) ? null : r.GetInt32(4),
                r.GetInt32(5),
                [.. r.GetString(6).Split('\n', StringSplitOptions.RemoveEmptyEntries)],
                r.IsDBNull(7)
                    ? null
                    : new AccountTraits(
                        Enum.Parse<AccountType>(r.GetString(7)),
                        Enum.Parse<OverTime>(r.GetString(8)),
                        Enum.Parse<GoodDirection>(r.GetString(9)),
                        r.IsDBNull(10) ? null : r.GetString(10)
                    ),
                r.IsDBNull(12) ? null : new EntityTraits(r.IsDBNull(11) ? null : r.GetString(11), r.GetDecimal(12))
            )
        );

    /// <summary>A table has the fields of all its loads, those of the first load first.</summary>
    private static ImmutableArray<Table> Tables(DuckDBConnection connection, int edition) =>
        [
            .. DuckStore
                .Rows(
                    connection,
                    $"""
                    SELECT tbl, name, field, field_name, type, dimension FROM table_fields
                      WHERE load IN {DuckSchema.ActiveLoads(edition)} ORDER BY load, ord
                    """,
                    r =>
                        (
                            Table: r.GetString(0),
                            Name: r.GetString(1),
                            Field: new Field(
                                r.GetString(2),
                                r.GetString(3),
                                Enum.Parse<FieldType>(r.GetString(4)),
                                r.IsDBNull(5) ? null : r.GetString(5)
                            )
                        )
                )
                .GroupBy(r => r.Table)
                .Select(g => new Table(g.Key, g.Last().Name, [.. g.Select(r => r.Field).DistinctBy(f => f.Code)])),
        ];

    /// <summary>The texts of a field that has few: what questions can name. Looked for in the first rows, which tell.</summary>
    private static ImmutableArray<string> Values(DuckDBConnection connection, int edition, string table, Field field)
    {
        const int rows = 50_000,
            most = 40,
            longest = 40;
        var from = table == Table.Ledger ? "lines" : "records";
        var values = DuckStore.Rows(
            connection,
            $"""
            SELECT DISTINCT {DuckFields.Text(field.Code)} FROM (SELECT fields FROM {from}
              WHERE {(table == Table.Ledger ? "" : "tbl = $1 AND ")}fields IS NOT NULL
              AND part IN {DuckSchema.ActiveParts(edition)} LIMIT {rows}) WHERE {DuckFields.Text(field.Code)} IS NOT NULL
              ORDER BY 1 LIMIT {most + 1}
            """,
            r => r.GetString(0),
            table == Table.Ledger ? [] : [table]
        );
        return values.Count > most || values.Exists(v => v.Length > longest) ? [] : [.. values];
    }

    /// <summary>A remark holds as long as anything that its load brought does, and only for the entities that it is of.</summary>
    private static ImmutableArray<Remark> Remarks(DuckDBConnection connection, int edition) =>
        [
            .. DuckStore.Rows(
                connection,
                $"""
                SELECT r.load, r.version, min(p.period), max(p.period), r.text, CAST(list_sort(list_distinct(list(p.entity))) AS VARCHAR), bool_or(r.notice), bool_and(p.kind = 'Statistics')
                  FROM remarks r
                JOIN parts p ON p.load = r.load AND p.version = r.version AND p.period BETWEEN r.from_period AND r.to_period
                  AND (r.entity IS NULL OR p.entity = r.entity)
                WHERE p.part IN {DuckSchema.ActiveParts(
                    edition
                )} GROUP BY r.load, r.version, r.text ORDER BY r.load, r.text, r.version
                """,
                r => new Remark(
                    r.GetInt32(0),
                    r.GetInt32(1),
                    new PeriodSpan(Period.FromOrdinal(r.GetInt32(2)), Period.FromOrdinal(r.GetInt32(3))),
                    r.GetString(4),
                    Ids(r.GetString(5).Trim('[', ']')),
                    r.GetBoolean(6),
                    r.GetBoolean(7)
                )
            ),
        ];

    /// <summary>Of several loads with the same rate the latest counts, once it applies.</summary>
    private static ImmutableArray<Rate> Rates(DuckDBConnection connection, int edition) =>
        [
            .. DuckStore.Rows(
                connection,
                $"""
                SELECT period, currency, kind, lower(scenario), arg_max(value, load), arg_max(quotation, load), max(load) FROM rates WHERE applies_from <= {edition} AND load IN {DuckSchema.ActiveLoads(
                    edition
                )}
                GROUP BY ALL ORDER BY 1, 2, 3, 4
                """,
                r => new Rate(
                    Period.FromOrdinal(r.GetInt32(0)),
                    r.GetString(1),
                    Enum.Parse<RateKind>(r.GetString(2)),
                    r.GetString(3),
                    r.GetDecimal(4),
                    Enum.Parse<Quotation>(r.GetString(5))
                )
                {
                    Load = r.GetInt32(6),
                }
            ),
        ];

    /// <summary>Scenarios follow from what is loaded: a version is there while any of its parts is on, and covers what they
    /// hold.</summary>
    private static ImmutableArray<Scenario> Scenarios(DuckDBConnection connection, int edition)
    {
        var rows = DuckStore.Rows(
            connection,
            $"""
            SELECT v.version, v.scenario, v.name, v.kind, v.code, v.cut_off, min(p.period), max(p.period),
              CAST(list_sort(list_distinct(list(p.entity))) AS VARCHAR), string_agg(DISTINCT l.kept, ',' ORDER BY l.kept), v.rate_set
            FROM versions v JOIN parts p USING (version) JOIN loads l USING (load)
            WHERE p.part IN {DuckSchema.ActiveParts(edition)} AND p.kind <> 'Opening'
            GROUP BY ALL ORDER BY v.version
            """,
            r =>
                (
                    Version: new ScenarioVersion(
                        r.GetInt32(0),
                        r.GetString(4),
                        new Coverage(
                            new PeriodSpan(Period.FromOrdinal(r.GetInt32(6)), Period.FromOrdinal(r.GetInt32(7))),
                            Ids(r.GetString(8).Trim('[', ']')),
                            Ids(r.GetString(9))
                        ),
                        r.IsDBNull(5) ? null : Period.FromOrdinal(r.GetInt32(5))
                    )
                    {
                        RateSet = r.IsDBNull(10) ? null : r.GetString(10),
                    },
                    Code: r.GetString(1),
                    Name: r.GetString(2),
                    Kind: Enum.Parse<ScenarioKind>(r.GetString(3))
                )
        );
        return
        [
            .. rows.GroupBy(r => r.Code)
                .Select(g => new Scenario(g.Key, g.Last().Name, g.Last().Kind, [.. g.Select(r => r.Version)])),
        ];
    }

    private static ImmutableArray<int> Ids(string list) =>
        [
            .. list.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(int.Parse)
                .Distinct()
                .Order(),
        ];
}
