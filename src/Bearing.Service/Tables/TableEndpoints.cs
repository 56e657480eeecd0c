using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Service.Books;
using Bearing.Service.Hosting;
using Bearing.Service.Loading;

namespace Bearing.Service.Tables;

/// <summary>Tables of records: which there are, and their records by conditions. Rates of exchange.</summary>
public static class TableEndpoints
{
    public static void MapTables(this IEndpointRouteBuilder app)
    {
        var book = app.MapGroup("/api/books/{book}").WithTags("Tables");
        book.MapGet("/tables", List).TaggedByEdition().WithName("ListTables");
        book.MapGet("/tables/{table}/records", Records)
            .TaggedByEdition()
            .WithName("ListRecords")
            .Produces<RecordPageDto>(200, "application/json", "text/csv");
        book.MapGet("/rates", Rates).TaggedByEdition().WithName("ListRates");
    }

    private static async Task<Page<TableDto>> List(
        string book,
        int? edition,
        [AsParameters] PageOf page,
        BookShelf shelf,
        CancellationToken cancel
    )
    {
        var at = shelf.Get(book).Edition(edition);
        var tables = new List<TableDto>();
        foreach (var table in at.Book.Tables)
            tables.Add(
                ToDto(
                    table,
                    table.Code == Table.Ledger
                        ? 0
                        : (await at.Facts.Records(new RecordQuery(table, [], null, false, 1, 0), cancel)).Count
                )
            );
        return page.Of(tables, t => t.Code);
    }

    /// <param name="where">Conditions, all of which hold: “status is open”, “due-date to 2026-02-28”, “text has rent”, “paid-date
    /// is empty”; “not” behind the field turns one round.</param>
    /// <param name="order">A field; with a minus in front, largest first.</param>
    private static async Task<IResult> Records(
        string book,
        string table,
        string[]? where,
        string? order,
        [AsParameters] PageOf page,
        int? edition,
        HttpRequest http,
        BookShelf shelf,
        CancellationToken cancel
    )
    {
        var at = shelf.Get(book).Edition(edition);
        if (table == Table.Ledger || at.Book.Table(table) is not { } found)
            throw new ProblemException(
                ProblemKinds.NoSuchTable,
                $"There is no table of records “{table}”.",
                at.Book.Tables.Any(t => t.Code != Table.Ledger)
                    ? $"Use one of {string.Join(", ", at.Book.Tables.Where(t => t.Code != Table.Ledger).Select(t => t.Code))}."
                    : "Load one with the kind records."
            );
        var by = order is null ? null : Field(found, order.TrimStart('-'));
        var query = new RecordQuery(
            found,
            [.. (where ?? []).Select(w => Condition(found, w))],
            by,
            order?.StartsWith('-') == true,
            page.Take,
            page.Skip
        );
        var records = await at.Facts.Records(query, cancel);
        if (http.Headers.Accept.ToString().Contains("text/csv", StringComparison.OrdinalIgnoreCase))
            return Results.Text(
                CsvText.Write(
                    [.. found.Fields.Select(f => f.Name), "Load", "Row"],
                    records.Records.Select(r =>
                        found.Fields.Select(f => r.Fields.GetValueOrDefault(f.Code, "")).Concat([$"{r.Load}", $"{r.Row}"])
                    )
                ),
                "text/csv",
                Encoding.UTF8
            );
        return Results.Ok(
            new RecordPageDto(
                ToDto(found, records.Count),
                [.. records.Records.Select(r => new RecordDto(r.Load, r.Row, r.Fields))],
                records.Count,
                [.. records.Sums.Select(s => new RecordSumDto(s.Field, s.Currency, WireText.Amount(s.Sum)))],
                records.Next?.ToString(CultureInfo.InvariantCulture)
            )
        );
    }

    private static Page<RateDto> Rates(string book, int? edition, [AsParameters] PageOf page, BookShelf shelf)
    {
        var at = shelf.Get(book).Edition(edition).Book;
        return page.Of(
            [
                .. at.Rates.Select(r => new RateDto(
                    r.Period.ToString(),
                    at.Calendar.NameOf(r.Period),
                    r.Currency,
                    WireText.Name(r.Kind),
                    r.Set,
                    r.Value.ToString("0.########", CultureInfo.InvariantCulture),
                    WireText.Name(r.Quotation),
                    r.Load
                )),
            ],
            r => $"{r.Period} {r.Currency} {r.Kind} {r.Set}"
        );
    }

    private static TableDto ToDto(Table table, long rows) =>
        new(
            table.Code,
            table.Name,
            [.. table.Fields.Select(f => new FieldDto(f.Code, f.Name, WireText.Name(f.Type), f.Dimension))],
            rows
        );

    private static FieldTest Condition(Table table, string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).ToList();
        if (words.Count < 2)
            throw new FormatException(
                $"“{text}” is not a condition; write FIELD is VALUE, FIELD has TEXT, FIELD from VALUE, FIELD to VALUE or FIELD is empty."
            );
        var field = Field(table, words[0]);
        var not = words.Remove("not");
        var value = string.Join(' ', words.Skip(2));
        return words[1] switch
        {
            "is" when value == "empty" => new FieldTest(field, TestKind.Empty, "", not),
            "is" => new FieldTest(field, TestKind.Is, value, not),
            "has" => new FieldTest(field, TestKind.Contains, value, not),
            "from" => new FieldTest(field, TestKind.AtLeast, value, not),
            "to" => new FieldTest(field, TestKind.AtMost, value, not),
            var other => throw new FormatException($"“{other}” does not compare anything; use is, has, from or to."),
        };
    }

    private static Field Field(Table table, string code) =>
        table.Field(code)
        ?? throw new FormatException(
            $"The table {table.Code} has no field “{code}”; it has {string.Join(", ", table.Fields.Select(f => f.Code))}."
        );
}
