using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Loading;
using Bearing.Data.Formats;

namespace Bearing.Data.Facts.Duck;

/// <summary>The rows of a file on their way into a book: which sheets, what is left out, what is refused, counted at every
/// step.</summary>
internal sealed class LoadTable
{
    /// <summary>Refused rows that are kept for correcting; a file with more of them has one fault, not thousands.</summary>
    private const int MostRefusedKept = 10_000;

    private readonly LoadCommand _command;
    private readonly HeadingJoin? _join;
    private readonly List<(RawRow Row, Refusal Refusal)> _refused = [];

    public LoadTable(LoadCommand command, FiscalCalendar calendar)
    {
        _command = command;
        if (command.Mapping.Headings is { } headings)
            _join = new HeadingJoin(
                headings,
                (
                    command.Headings
                    ?? throw LoadRefusedException.File(
                        "The mapping joins these lines with a file of headings, and none came with them.",
                        "Send the file of headings as well (--headings FILE)."
                    )
                )[0]
                    .Rows()
                    .Select(r => r.Row)
            );
        Refusals = new RefusalLog(Keep);
        Reader = new TableReader(command.Mapping, calendar, Refusals, _join);
    }

    public RefusalLog Refusals { get; }

    public TableReader Reader { get; }

    /// <summary>Data rows of all sheets with the layout of their sheet and the part of the file read so far (0–1).</summary>
    public IEnumerable<(RawRow Row, TableLayout Layout, double Part)> Rows()
    {
        var sheets = _command
            .Sheets.Where(s => _command.Mapping.Sheets.IsEmpty || _command.Mapping.Sheets.Contains(s.Name))
            .ToList();
        for (var i = 0; i < sheets.Count; i++)
        {
            var part = 0d;
            foreach (
                var row in Reader.Data(
                    sheets[i]
                        .Rows()
                        .Select(r =>
                        {
                            part = r.Part;
                            return r.Row;
                        })
                )
            )
                yield return (row, Reader.Layout!, (i + part) / sheets.Count);
        }
    }

    public void Refuse(Refusal refusal, RawRow row) => Refusals.Add(refusal, row);

    /// <summary>The file holds nothing to load; says whether headings or rows are missing.</summary>
    public LoadRefusedException Nothing() =>
        Reader.FilteredOut > 0
            ? LoadRefusedException.File(
                $"The mapping takes {_command.Mapping.Filter}, and none of the {Reader.FilteredOut:N0} rows is one.",
                "Check the filter of the mapping, or the selection list that it names."
            )
        : Reader.Layout is not null
            ? LoadRefusedException.File(
                "There are no rows below the headings: nothing to load.",
                "Check the filter of the export; it may have matched nothing."
            )
        : LoadRefusedException.File(
            $"No {(_command.Sheets.Count > 1 ? "sheet" : "row")} has the headings of this mapping ({string.Join(", ", _command.Mapping.Columns.Where(c => c.Role is not (null or "skip" or "month")).Select(c => $"“{c.Heading}”"))}).",
            "Say which columns play these parts, or use the mapping of this kind of file."
        );

    /// <summary>A receipt as far as the table tells it; refuses the load when any row was refused.</summary>
    /// <param name="facts">Facts that the rows became; null where a row is a record.</param>
    /// <exception cref="RowsRefusedException">With the receipt.</exception>
    public LoadReceipt Receipt(LoadReceipt begun, long? facts)
    {
        var taken = Reader.DataRows - Refusals.Count;
        var receipt = begun with
        {
            RowsRead = Reader.DataRows,
            RowsTaken = taken,
            RefusedRows = Refusals.Count,
            Refused = Refusals.Causes,
            LeftOut =
                Reader.FilteredOut == 0
                    ? Reader.LeftOut
                    : Reader.LeftOut.Add(
                        new LeftOut($"rows that the filter does not take ({_command.Mapping.Filter})", Reader.FilteredOut, [])
                    ),
            Totals = TotalsText(),
            Steps = Steps(taken, facts),
            Text = _command.Mapping.Text,
            Filter = _command.Mapping.Filter,
            Joined = _join is null
                ? null
                : $"{_join.Lines:N0} lines have their heading among {_join.Count:N0}; {_join.WithoutLines:N0} headings have no lines.",
        };
        if (Refusals.Count == 0)
            return receipt;
        SaveRefused();
        throw new RowsRefusedException(receipt with { Load = 0 });
    }

    private void Keep(RawRow row, Refusal refusal)
    {
        if (_command.RefusedFile is not null && _refused.Count < MostRefusedKept)
            _refused.Add((row, refusal));
    }

    private ImmutableArray<LoadStep> Steps(long taken, long? facts)
    {
        var withData = Reader.DataRows + Reader.FilteredOut;
        var steps = ImmutableArray.CreateBuilder<LoadStep>();
        steps.Add(
            new LoadStep("find the table: headings, titles, totals, notes and blank rows left out", Reader.RowsSeen, withData)
        );
        if (Reader.FilteredOut > 0)
            steps.Add(new LoadStep($"take {_command.Mapping.Filter}", withData, Reader.DataRows));
        steps.Add(new LoadStep("read and place every row", Reader.DataRows, taken));
        if (facts is { } count && count != taken)
            steps.Add(new LoadStep("turn amount columns into rows; empty cells bring none", taken, count));
        return steps.ToImmutable();
    }

    /// <summary>The refused rows as the file has them, with why, so that they can be corrected and loaded again.</summary>
    private void SaveRefused()
    {
        if (_command.RefusedFile is not { } path || _refused.Count == 0 || Reader.Layout is not { } layout)
            return;
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(
            path,
            CsvText.Write(
                [.. layout.Heading.Fields.Take(layout.SourceWidth), "Row", "Because", "What to do"],
                // A row may have fewer fields than the heading, or more: that is why it was refused.
                _refused.Select(r =>
                    r.Row.Fields.Concat(Enumerable.Repeat("", layout.SourceWidth))
                        .Take(layout.SourceWidth)
                        .Concat([$"{RowPlace.Of(r.Row.Number).Row}", r.Refusal.Because, r.Refusal.Remedy])
                )
            )
        );
    }

    private string? TotalsText()
    {
        var totals = Reader.Totals;
        if (totals.Agreeing == 0 && totals.Differing.Count == 0)
            return null;
        var differing =
            totals.Differing.Count == 0
                ? ""
                : $"; {totals.Differing.Count} do not, first “{totals.Differing[0].Text}” on line {RowPlace.Of(totals.Differing[0].Row).Row}";
        return $"{totals.Agreeing:N0} of the file's own totals agree with its rows{differing}.";
    }
}
