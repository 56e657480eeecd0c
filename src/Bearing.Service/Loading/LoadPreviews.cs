using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Core.Store;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>Shows what a load would do: all of it is done and taken back.</summary>
internal static class LoadPreviews
{
    private const int PreviewRows = 12;

    /// <summary>Rows that would be refused, and a file that cannot come in by this mapping, are part of what is shown.</summary>
    /// <exception cref="LoadRefusedException">When it cannot be read as a table at all.</exception>
    public static async Task<LoadPreview> Run(
        OpenBook open,
        LoadRequest request,
        (UploadRow File, UploadRow? Headings) uploads,
        Asker asker,
        IProgress<(long Rows, double Part)> progress,
        CancellationToken cancel
    )
    {
        try
        {
            var plan = await Task.Run(() => new LoadPlanner(open, request).Plan(uploads.File, uploads.Headings, null), cancel);
            try
            {
                var receipt = await open.Change(asker, writer => writer.Preview(plan.Command, progress, cancel), cancel);
                return Describe(plan, open, null, receipt);
            }
            catch (RowsRefusedException e)
            {
                return Describe(plan, open, e.Message, e.Receipt);
            }
            catch (LoadRefusedException e)
            {
                return Describe(plan, open, e.Message, null);
            }
        }
        catch (LoadRefusedException)
        {
            // Nobody loads what cannot be read; a small packed file may have left a large one.
            SourceFile.RemoveUnpacked(open.Incoming(uploads.File.Sha256));
            throw;
        }
    }

    private static LoadPreview Describe(LoadPlan plan, OpenBook open, string? problem, LoadReceipt? receipt)
    {
        var (command, mapping) = (plan.Command, plan.Command.Mapping);
        var book = open.Store.Read();
        string[] roles =
            mapping.Kind == TableKind.Records
                ?
                [
                    "field:key",
                    "field:text",
                    "field:date",
                    "field:amount",
                    "field:quantity",
                    "field:rate",
                    "account",
                    "entity",
                    .. Further(book),
                ]
            : mapping.Kind == TableKind.Rates ? ["period", "currency", "rate"]
            : mapping.IsReference
                ?
                [
                    "code",
                    "name",
                    "parent",
                    "type",
                    "other names",
                    "unit",
                    "over time",
                    "good",
                    "currency",
                    "owned",
                    "level:1",
                    "level:2",
                    "level:3",
                    "level:4",
                ]
            :
            [
                "date",
                "period",
                "document",
                "line",
                "account",
                "entity",
                "amount",
                "debit",
                "credit",
                "local",
                "currency",
                "text",
                "month",
                "skip",
                .. Further(book),
                "field:text",
                "field:date",
                "field:amount",
            ];
        // In the order of the file, which a saved mapping need not have.
        var columns = plan.Heading.Fields.Select((f, i) => Column(f.Trim(), i)).ToList();
        return new LoadPreview(
            command.FileName,
            plan.Source.Form,
            WireText.Name(mapping.Kind),
            command.Target?.Name,
            mapping.DateFormat,
            WireText.Name(mapping.Sign),
            columns,
            roles,
            [.. plan.FirstRows.Take(PreviewRows).Select(r => r.Fields)],
            plan.File,
            problem is null,
            problem,
            receipt is null ? null : LoadMapping.ToDto(receipt),
            [.. plan.Source.Sheets.Select(s => s.Name).Where(n => n.Length > 0)],
            RowPlace.Of(plan.Heading.Number).Row
        );

        static IEnumerable<string> Further(Book book) =>
            book.Definition.Dimensions.Where(d => d.Role == DimensionRole.Other).Select(d => $"dimension:{d.Code}");

        ColumnMappingDto Column(string heading, int index)
        {
            if (mapping.MonthsAcross && TableLayout.MonthOf(plan.Heading, index, mapping, book.Calendar) is not null)
                return new(heading, "month", "a month; its cells are amounts");
            var column = mapping.Columns.FirstOrDefault(c => Words.Phrase(c.Heading) == Words.Phrase(heading));
            return column is null
                ? new(heading, null, "not in the mapping; not used")
                : new(heading, column.Role, column.Evidence);
        }
    }
}
