using System.Globalization;
using Bearing.Contracts;
using DuckDB.NET.Data;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>
/// Every shown amount of many tables, recomputed by SQL straight from the shipped files, with trees walked in SQL: nothing of
/// Bearing's own code stands between the files and the expectation.
/// </summary>
public sealed class ShippedFilesTests(DemoService demo)
{
    private static readonly Lazy<DuckDBConnection> Files = new(Open);

    private static DuckDBConnection Open()
    {
        var connection = new DuckDBConnection("Data Source=:memory:");
        connection.Open();
        using var command = connection.CreateCommand();
        string Csv(string file) => $"(SELECT * FROM read_csv('{Repository.Demo(file)}', all_varchar = true))";
        command.CommandText = $"""
            CREATE TABLE account_tree AS WITH RECURSIVE up AS (
                SELECT code AS leaf, code AS ancestor, parent, type FROM {Csv("accounts.csv")}
                UNION ALL SELECT up.leaf, a.code, a.parent, up.type FROM up JOIN {Csv(
                "accounts.csv"
            )} a ON a.code = up.parent) SELECT leaf, ancestor, type FROM up;
            CREATE TABLE entity_tree AS WITH RECURSIVE up AS (
                SELECT "Entity code" AS leaf, "Entity code" AS ancestor, parent FROM {Csv("entities.csv")}
                UNION ALL SELECT up.leaf, a."Entity code", a.parent FROM up JOIN {Csv(
                "entities.csv"
            )} a ON a."Entity code" = up.parent) SELECT leaf, ancestor FROM up;
            CREATE TABLE facts AS
                SELECT 'actual' AS scenario, substr(date, 1, 7) AS month, entity, account, department, route, CAST(coalesce(credit, '0') AS DECIMAL(18,4)) - CAST(coalesce(debit, '0') AS DECIMAL(18,4)) AS profit FROM {Csv(
                "ledger-*.csv"
            )}
                UNION ALL SELECT 'budget', period, entity, f.account, department, route, CAST("Amount EUR" AS DECIMAL(18,4)) * CASE WHEN type = 'income' THEN 1 ELSE -1 END
                    FROM {Csv("budget-2026.csv")} f JOIN account_tree t ON t.leaf = f.account AND t.ancestor = f.account
                UNION ALL SELECT 'forecast', period, entity, f.account, department, route, CAST("Amount EUR" AS DECIMAL(18,4)) * CASE WHEN type = 'income' THEN 1 ELSE -1 END
                    FROM {Csv("forecast-6-6.csv")} f JOIN account_tree t ON t.leaf = f.account AND t.ancestor = f.account;
            """;
        command.ExecuteNonQuery();
        return connection;
    }

    /// <summary>By member of a dimension ("" for the whole), in profit sign.</summary>
    private static Dictionary<string, decimal> Sum(string scenario, string from, string to, string accounts, string dimension)
    {
        var key = dimension switch
        {
            "" => "''",
            "entity" => "e.ancestor",
            "account" => "a.ancestor",
            _ => $"coalesce(f.{dimension}, '~unassigned')",
        };
        lock (Files)
        {
            using var command = Files.Value.CreateCommand();
            command.CommandText = $"""
                SELECT {key}, CAST(sum(profit) AS DECIMAL(18,4)) FROM facts f
                {(dimension == "entity" ? "JOIN entity_tree e ON e.leaf = f.entity" : "")} {(
                    dimension == "account" ? "JOIN account_tree a ON a.leaf = f.account" : ""
                )}
                WHERE scenario = '{scenario}' AND month BETWEEN '{from}' AND '{to}' AND account IN (SELECT leaf FROM account_tree WHERE ancestor IN ({accounts})) GROUP BY 1 ORDER BY 1
                """;
            using var reader = command.ExecuteReader();
            var sums = new Dictionary<string, decimal>();
            while (reader.Read())
                sums[reader.GetString(0)] = reader.GetDecimal(1);
            return sums;
        }
    }

    [Theory]
    [InlineData(
        "operating profit versus budget by entity in September 2026",
        "'REV','DIR','OVH'",
        "entity",
        "2026-09",
        "2026-09",
        "budget",
        1
    )]
    [InlineData(
        "operating profit versus budget by entity, year to date",
        "'REV','DIR','OVH'",
        "entity",
        "2026-01",
        "2026-09",
        "budget",
        1
    )]
    [InlineData(
        "operating profit versus last year by entity in Q3 2026",
        "'REV','DIR','OVH'",
        "entity",
        "2026-07",
        "2026-09",
        "prior",
        1
    )]
    [InlineData(
        "operating profit versus budget by route in July 2026",
        "'REV','DIR','OVH'",
        "route",
        "2026-07",
        "2026-07",
        "budget",
        1
    )]
    [InlineData(
        "operating profit versus the forecast by entity in August 2026",
        "'REV','DIR','OVH'",
        "entity",
        "2026-08",
        "2026-08",
        "forecast",
        1
    )]
    [InlineData(
        "revenue versus last year by route in the first half of 2026",
        "'REV'",
        "route",
        "2026-01",
        "2026-06",
        "prior",
        1
    )]
    [InlineData("revenue versus budget by department in May 2026", "'REV'", "department", "2026-05", "2026-05", "budget", 1)]
    [InlineData("overheads versus budget by entity in April 2026", "'OVH'", "entity", "2026-04", "2026-04", "budget", -1)]
    [InlineData("overheads versus budget by department in Q1 2026", "'OVH'", "department", "2026-01", "2026-03", "budget", -1)]
    [InlineData("direct costs versus budget by account in March 2026", "'DIR'", "account", "2026-03", "2026-03", "budget", -1)]
    [InlineData("direct costs versus last year by account in August 2026", "'DIR'", "account", "2026-08", "2026-08", "prior", -1)]
    [InlineData("marine fuel versus budget by route in Q3 2026", "'5010'", "route", "2026-07", "2026-09", "budget", -1)]
    [InlineData("lorry freight versus last year by route, year to date", "'4110'", "route", "2026-01", "2026-09", "prior", 1)]
    [InlineData("contribution versus budget by entity in June 2026", "'REV','DIR'", "entity", "2026-06", "2026-06", "budget", 1)]
    public async Task Each_row_and_the_total_equal_sql_over_the_files(
        string question,
        string accounts,
        string dimension,
        string from,
        string to,
        string against,
        int shown
    )
    {
        var set = await demo.Ask(question);
        Assert.True(
            set.Outcome == "answered",
            $"{question}: {set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}"
        );
        var answer = Assert.Single(set.Answers);
        string Back(string month) =>
            against == "prior" ? $"{int.Parse(month[..4], CultureInfo.InvariantCulture) - 1}{month[4..]}" : month;
        var scenario = against == "prior" ? "actual" : against;
        foreach (var by in new[] { "", dimension })
        {
            var (subject, reference) = (Sum("actual", from, to, accounts, by), Sum(scenario, Back(from), Back(to), accounts, by));
            var rows =
                by.Length == 0
                    ? [answer.Grid!.Rows[^1]]
                    : answer.Grid!.Rows.Where(r => r.Kind is "member" or "subtotal" && r.Members.ContainsKey(by)).ToList();
            Assert.True(rows.Count >= 1);
            foreach (var row in rows)
            {
                var code = by.Length == 0 ? "" : row.Members[by].Code;
                var (a, r) = (subject.GetValueOrDefault(code), reference.GetValueOrDefault(code));
                Assert.Equal(
                    (a * shown, r * shown, a - r),
                    (Number(row, "subject"), Number(row, "base"), Number(row, "variance"))
                );
            }
        }
        Assert.Equal("ties", answer.TieOut.State);
    }

    private static decimal Number(RowDto row, string column) => decimal.Parse(row.Values[column]!, CultureInfo.InvariantCulture);
}
