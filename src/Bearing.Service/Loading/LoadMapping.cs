using Bearing.Contracts;
using Bearing.Core.Loading;
using static Bearing.Service.Hosting.WireText;

namespace Bearing.Service.Loading;

/// <summary>Loads in the form that crosses the wire.</summary>
internal static class LoadMapping
{
    public static RefusalDto ToDto(RefusedRows r) =>
        new(
            r.Count,
            [.. r.Rows.Select(Place)],
            r.Amount is { } a ? Amount(a) : null,
            r.First.Column,
            r.First.Value,
            r.First.Because,
            r.First.Remedy,
            r.First.Unknown
        );

    public static ReceiptDto ToDto(LoadReceipt r) =>
        new(
            r.Load,
            r.Edition,
            r.File,
            Name(r.Kind),
            r.Scenario,
            r.RowsRead,
            r.RowsTaken,
            r.RefusedRows,
            [.. r.Refused.Select(ToDto)],
            [
                .. r.Periods.Select(p => new PeriodTotalDto(
                    p.Period,
                    p.Name,
                    p.Lines,
                    Amount(p.Debit),
                    Amount(p.Credit),
                    Amount(p.Net),
                    p.Currency
                )),
            ],
            r.Entities,
            r.Cells,
            r.Supersedes,
            r.NewMembers,
            [.. r.LeftOut.Select(l => new LeftOutDto(l.What, l.Count, [.. l.Rows.Select(Place)]))],
            r.Totals,
            [.. (r.Steps.IsDefault ? [] : r.Steps).Select(s => new StepDto(s.What, s.Before, s.After))],
            r.Filter,
            r.Joined,
            r.Coverage,
            [.. (r.Warnings.IsDefault ? [] : r.Warnings).Select(ToDto)],
            [.. (r.Types.IsDefault ? [] : r.Types).Select(t => new TypeTotalDto(Name(t.Type), t.Lines, Amount(t.Net)))],
            r.Translated.IsDefault ? [] : r.Translated
        );

    public static WarningDto ToDto(Finding f) => new(f.Check, f.Where, f.Because, f.Remedy, f.Count);

    /// <summary>"line 7", or "sheet 2 row 7" in a workbook.</summary>
    public static string Place(int row) =>
        RowPlace.Of(row) is var (sheet, at) && sheet >= 0 ? $"sheet {sheet + 1} row {at}" : $"line {row}";

    public static LoadDto ToDto(LoadRecord l) =>
        new(
            l.Load,
            l.Edition,
            l.UndoneIn,
            new DateTimeOffset(DateTime.SpecifyKind(l.At, DateTimeKind.Utc)),
            l.File,
            Name(l.Kind),
            l.Receipt.Scenario,
            l.Receipt.RowsTaken,
            ToDto(l.Receipt),
            l.PurgedIn
        );
}
