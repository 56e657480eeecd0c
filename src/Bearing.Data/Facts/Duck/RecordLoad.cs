using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;
using DuckDB.NET.Data;

namespace Bearing.Data.Facts.Duck;

/// <summary>One load of records or of rates inside a transaction.</summary>
internal sealed class RecordLoad(DuckDBConnection connection, Book before, LoadCommand command, int load, int edition)
{
    private const int ReportEvery = 2_000;

    public LoadReceipt Records(IProgress<(long Rows, double Part)>? progress, CancellationToken cancel)
    {
        var (code, name) = (command.Mapping.Table!, command.Mapping.TableName ?? command.Mapping.Table!);
        var table = new LoadTable(command, before.Calendar);
        var part = DuckStore.Scalar<int>(connection, "SELECT coalesce(max(part), 0) + 1 FROM parts");
        FieldReader? reader = null;
        using (var appender = connection.CreateAppender("records"))
        {
            foreach (var (row, layout, done) in table.Rows())
            {
                cancel.ThrowIfCancellationRequested();
                (reader ??= new FieldReader(before, command.Mapping, layout)).Use(layout);
                if (row.Fields.Length != layout.Width)
                    table.Refuse(
                        new Refusal(
                            row.Number,
                            null,
                            null,
                            $"The row has {row.Fields.Length} fields where the heading has {layout.Width}.",
                            "Check the separator; then look for a missing quote or an extra separator in this row."
                        ),
                        row
                    );
                else if (reader.Read(row, out var fields) is { } refusal)
                    table.Refuse(refusal, row);
                else if (table.Refusals.Count == 0)
                    appender
                        .CreateRow()
                        .AppendValue(part)
                        .AppendValue(code)
                        .AppendValue(load)
                        .AppendValue(row.Number)
                        .AppendValue(fields)
                        .EndRow();
                if (table.Reader.DataRows % ReportEvery == 0)
                    progress?.Report((table.Reader.DataRows, done));
            }
        }
        progress?.Report((table.Reader.DataRows, 1));
        if (reader is null)
            throw table.Nothing();
        var receipt = table.Receipt(Begin(name), null);
        foreach (var key in reader.Fields.Where(f => f.Type == FieldType.Key))
            RefuseDoubledKeys(code, key);
        var superseded = command.Mode == LoadMode.Replace ? Supersede(code) : [];
        DuckStore.Execute(
            connection,
            $"INSERT INTO parts (part, load, kind, version, period, entity) VALUES ({part}, {load}, $1, 0, 0, 0)",
            command.Mapping.Kind.ToString()
        );
        DuckStore.Execute(connection, $"INSERT INTO part_spans VALUES ({part}, {edition}, NULL, NULL)");
        SaveFields(connection, load, code, name, reader.Fields);
        return receipt with { Supersedes = superseded, Periods = Sums(reader.Fields) };
    }

    public LoadReceipt Rates()
    {
        var table = new LoadTable(command, before.Calendar);
        var mapper = new RateMapper(before, command.Mapping);
        var rates = new List<Rate>();
        foreach (var (row, layout, _) in table.Rows())
            if (mapper.Map(row, layout, rates) is { } refusal)
                table.Refuse(refusal, row);
        if (table.Reader.DataRows == 0)
            throw table.Nothing();
        if (rates.GroupBy(r => (r.Period, r.Currency, r.Kind, r.Set)).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw LoadRefusedException.File(
                $"The {twice.Key.Kind.ToString().ToLowerInvariant()} rate of {twice.Key.Currency} for {before.Calendar.NameOf(twice.Key.Period)} stands in the file twice.",
                "Keep one of them."
            );
        var receipt = table.Receipt(Begin(null), rates.Count);
        var waiting = rates.Where(WaitsForOpenMonth).ToHashSet();
        using (var appender = connection.CreateAppender("rates"))
            foreach (var rate in rates)
                appender
                    .CreateRow()
                    .AppendValue(load)
                    .AppendValue(rate.Period.Ordinal)
                    .AppendValue(rate.Currency)
                    .AppendValue(rate.Kind.ToString())
                    .AppendValue(rate.Set)
                    .AppendValue(rate.Value)
                    .AppendValue(rate.Quotation.ToString())
                    .AppendValue(waiting.Contains(rate) ? DuckSchema.Waiting : edition)
                    .EndRow();
        var home = before.Definition.Currency;
        return receipt with
        {
            Supersedes =
            [
                $"read as {(command.Mapping.Quotation == Quotation.ForeignPerHome ? $"foreign units for one {home}" : $"{home} for one foreign unit")}; a rate loaded again takes the place of the one before",
                .. rates
                    .GroupBy(r => (r.Currency, r.Kind, r.Set))
                    .OrderBy(g => g.Key.Currency, StringComparer.Ordinal)
                    .ThenBy(g => g.Key)
                    .Select(g =>
                        $"{g.Key.Currency} {g.Key.Kind.ToString().ToLowerInvariant()} {g.Key.Set}: {g.Count():N0} months, {before.Calendar.NameOf(g.Min(r => r.Period))} to {before.Calendar.NameOf(g.Max(r => r.Period))}"
                    ),
            ],
            Translated =
                waiting.Count == 0
                    ? []
                    :
                    [
                        $"months that are closed keep the rates by which they were reported, until they are opened again: {string.Join(", ", waiting.Select(r => $"{r.Currency} {before.Calendar.NameOf(r.Period)}").Distinct().Take(8))}{(waiting.Count > 8 ? " …" : "")}",
                    ],
        };
    }

    /// <summary>Another rate for a month that is closed would change what was reported; a first one changes nothing.</summary>
    private bool WaitsForOpenMonth(Rate rate) =>
        before.Rate(rate.Period, rate.Currency, rate.Kind, rate.Set) is { } known
        && (known.Value, known.Quotation) != (rate.Value, rate.Quotation)
        && Retranslation.IsClosed(before, rate.Currency, rate.Period);

    public static void SaveFields(DuckDBConnection connection, int load, string code, string name, ImmutableArray<Field> fields)
    {
        for (var i = 0; i < fields.Length; i++)
            DuckStore.Execute(
                connection,
                "INSERT INTO table_fields VALUES ($1, $2, $3, $4, $5, $6, $7, $8)",
                load,
                code,
                name,
                i,
                fields[i].Code,
                fields[i].Name,
                fields[i].Type.ToString(),
                fields[i].Dimension
            );
    }

    private LoadReceipt Begin(string? scenario) =>
        new(load, edition, command.FileName, command.Mapping.Kind, scenario, 0, 0, 0, [], [], [], 0, [], []);

    private void RefuseDoubledKeys(string code, Field key)
    {
        var value = DuckFields.Text(key.Code);
        var active = command.Mode == LoadMode.Replace ? "" : $"OR part IN {DuckSchema.ActiveParts(edition - 1)}";
        var doubled = DuckStore.Rows(
            connection,
            $"""
            SELECT {value}, min(row), max(row), min(load), count(DISTINCT load) FROM records WHERE tbl = $1
              AND (load = {load} {active}) GROUP BY 1 HAVING count(*) > 1 ORDER BY 2 LIMIT 1
            """,
            r => (Key: r.GetString(0), First: r.GetInt32(1), Second: r.GetInt32(2), Load: r.GetInt32(3), Loads: r.GetInt64(4)),
            code
        );
        if (doubled is not [var found])
            return;
        throw found.Loads > 1
            ? LoadRefusedException.File(
                $"{key.Name} “{found.Key}” is in the table already (load {found.Load}).",
                "Nothing was changed. Load with “replace” to bring the whole table anew, or take the known records out."
            )
            : LoadRefusedException.File(
                $"{key.Name} “{found.Key}” stands in the file twice (rows {found.First} and {found.Second}).",
                "Keep one of the rows, or say that the column is no key."
            );
    }

    /// <summary>Records are brought as a whole: the new list takes the place of the old one.</summary>
    private ImmutableArray<string> Supersede(string code)
    {
        var old = DuckStore.Rows(
            connection,
            $"""
            SELECT load, count(*) FROM records WHERE tbl = $1 AND load <> {load}
              AND part IN {DuckSchema.ActiveParts(edition - 1)} GROUP BY load ORDER BY load
            """,
            r => (Load: r.GetInt32(0), Rows: r.GetInt64(1)),
            code
        );
        DuckStore.Execute(
            connection,
            $"""
            UPDATE part_spans SET until_edition = {edition}, ended_by = {load} WHERE until_edition IS NULL
              AND part IN (SELECT part FROM records WHERE tbl = $1 AND load <> {load})
            """,
            code
        );
        return [.. old.Select(o => $"load {o.Load}: {o.Rows:N0} records")];
    }

    /// <summary>Amounts and quantities add up, amounts in each currency apart; a rate does not.</summary>
    private ImmutableArray<PeriodTotal> Sums(ImmutableArray<Field> fields)
    {
        var currency = fields.FirstOrDefault(f =>
            f.Type == FieldType.Text
            && (
                f with
                {
                    Values =
                    [
                        .. DuckStore.Rows(
                            connection,
                            $"""
                            SELECT DISTINCT {DuckFields.Text(f.Code)} FROM records WHERE load = {load}
                              AND {DuckFields.Text(f.Code)} IS NOT NULL ORDER BY 1 LIMIT {MostCurrencies}
                            """,
                            r => r.GetString(0)
                        ),
                    ],
                }
            ).IsCurrency
        );
        return
        [
            .. fields
                .Where(f => f.Type is FieldType.Amount or FieldType.Quantity)
                .SelectMany(f =>
                    DuckStore.Rows(
                        connection,
                        $"""
                        SELECT count({DuckFields.Text(f.Code)}), coalesce(CAST(sum({DuckFields.Number(
                            f.Code
                        )}) AS DECIMAL(38,4)), 0), {(
                            currency is null || f.Type == FieldType.Quantity
                                ? "NULL"
                                : $"upper(coalesce({DuckFields.Text(currency.Code)}, ''))"
                        )} AS posted
                          FROM records WHERE load = {load} GROUP BY 3 ORDER BY 3
                        """,
                        r => new PeriodTotal("", f.Name, r.GetInt64(0), 0m, 0m, r.GetDecimal(1))
                        {
                            Currency = r.IsDBNull(2) ? null : r.GetString(2),
                        }
                    )
                ),
        ];
    }

    private const int MostCurrencies = 40;
}

/// <summary>Fields inside their JSON column. Codes are letters, digits and dashes, so that they can stand in a
/// statement.</summary>
internal static class DuckFields
{
    public static string Text(string code) => $"json_extract_string(fields, '$.\"{Checked(code)}\"')";

    public static string Number(string code) => $"CAST({Text(code)} AS DECIMAL(18,4))";

    private static string Checked(string code) =>
        code.All(c => char.IsAsciiLetterOrDigit(c) || c == '-')
            ? code
            : throw new ArgumentException("Not a code of a field.", nameof(code));
}
