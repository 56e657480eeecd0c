using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Data.Formats;

namespace Bearing.Service.Asking;

/// <summary>Tables and lines of answers as CSV.</summary>
internal static class AnswerCsv
{
    public static bool IsWanted(HttpRequest request) =>
        request.Headers.Accept.ToString().Contains("text/csv", StringComparison.OrdinalIgnoreCase);

    /// <summary>The table of an answer; null where it has none.</summary>
    public static string? Table(AnswerDto answer) =>
        answer.Grid is { } grid ? Grid(grid)
        : answer.Records is { } records
            ? CsvText.Write(records.Columns.Select(c => c.Title), records.Rows.Select(r => r.Values.Select(v => v ?? "")))
        : null;

    private static string Grid(GridDto grid) =>
        CsvText.Write(
            grid.Columns.Select(c =>
                    c.Kind is "subject" or "base" or "beside" ? $"{c.Title} {c.PeriodsName} ({c.Unit ?? grid.Unit})" : c.Title
                )
                .Prepend("Row")
                .Prepend("Level"),
            grid.Rows.Select(r =>
                grid.Columns.Select(c => r.Values[c.Id] ?? r.States.GetValueOrDefault(c.Id, ""))
                    .Prepend(r.Label)
                    .Prepend(r.Level.ToString(System.Globalization.CultureInfo.InvariantCulture))
            )
        );

    public static string Lines(Book book, LinePageDto page)
    {
        var dimensions = book.Definition.Dimensions.Select(d => d.Code).ToList();
        return CsvText.Write(
            [
                "Load",
                "Row",
                "File",
                "Document",
                "Date",
                "Period",
                .. dimensions,
                "Amount",
                "Local amount",
                "Currency",
                "Rate",
                "Text",
            ],
            page.Lines.Select(l =>
                (IEnumerable<string>)
                    [
                        $"{l.Load}",
                        $"{l.Row}",
                        l.File,
                        l.Document,
                        l.Date ?? "",
                        l.Period,
                        .. dimensions.Select(d => l.Members[d].Code),
                        l.Amount,
                        l.LocalAmount ?? "",
                        l.Currency ?? "",
                        l.Rate?.Value ?? "",
                        l.Text,
                    ]
            )
        );
    }
}
