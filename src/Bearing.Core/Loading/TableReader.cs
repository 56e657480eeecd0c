using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>
/// Finds the table in a sheet: skips the titles above the headings, and leaves out blank rows, totals and notes, counting each.
/// What is left are the rows that should be data, completed by joined and derived columns and kept by the mapping's filter.
/// </summary>
/// <param name="refusals">Gets rows that cannot be completed.</param>
public sealed class TableReader(FileMapping mapping, FiscalCalendar calendar, RefusalLog refusals, HeadingJoin? join = null)
{
    /// <summary>Headings stand within these first rows.</summary>
    public const int HeadingReach = 60;

    private const int MostRowsTold = 10;
    private readonly Dictionary<string, (long Count, List<int> Rows)> _leftOut = [];
    private readonly HashSet<string> _headings = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<RowCheck, (long Count, int First)> _broken = [];
    private readonly Dictionary<int, int> _headless = [];
    private int[] _unnamed = [];
    private int _key = -1;
    private RowExtension? _extension;
    private (int Index, KeepRule Rule)[] _keep = [];
    private (int When, int Number, RowCheck Check)[] _checks = [];

    /// <summary>The layout of the sheet read last.</summary>
    public TableLayout? Layout { get; private set; }

    public long DataRows { get; private set; }

    /// <summary>All rows that the sheets have.</summary>
    public long RowsSeen { get; private set; }

    /// <summary>Rows that the mapping's filter did not take.</summary>
    public long FilteredOut { get; private set; }

    /// <summary>Rules of the mapping that rows break: how many, and the first of them.</summary>
    public IEnumerable<(RowCheck Check, long Count, int First)> BrokenChecks =>
        _broken.Select(b => (b.Key, b.Value.Count, b.Value.First));

    public ImmutableArray<LeftOut> LeftOut
    {
        get
        {
            var rows = _leftOut.Select(l => new LeftOut(l.Key, l.Value.Count, [.. l.Value.Rows])).ToImmutableArray();
            return _headless.Count == 0
                ? rows
                : rows.Add(
                    new LeftOut(
                        "columns with values and no heading",
                        _headless.Count,
                        [.. _headless.Values.Order().Take(MostRowsTold)]
                    )
                );
        }
    }

    /// <summary>Totals of the file itself that its rows agree with, and those that they do not.</summary>
    public TotalsCheck Totals { get; } = new();

    /// <summary>The data rows of one sheet, in order. Empty when the sheet does not have the headings; <see cref="Layout"/> is
    /// null then.</summary>
    /// <exception cref="LoadRefusedException">When a second heading row puts the columns into another order.</exception>
    public IEnumerable<RawRow> Data(IEnumerable<RawRow> rows)
    {
        Layout = null;
        var seen = 0;
        string[]? above = null;
        foreach (var row in rows)
        {
            RowsSeen++;
            if (Layout is null)
            {
                if (++seen > HeadingReach)
                    yield break;
                Layout = TableLayout.Find(mapping, row, calendar);
                if (Layout is not null)
                    Begin(Layout);
                else if (row.Fields.Any(f => f.Length > 0))
                    Leave("titles", row.Number);
                continue;
            }
            var fitted = Fit(row, Layout.SourceWidth);
            if (What(fitted) is { } what)
            {
                if (what == "totals")
                    Totals.Close(fitted, mapping);
                Leave(what, row.Number);
                continue;
            }
            if (Layout.FillDown.Length > 0)
                above = FillDown(fitted.Fields, above);
            var whole =
                _extension is null || fitted.Fields.Length != Layout.SourceWidth
                    ? fitted
                    : _extension.Complete(fitted, mapping.DecimalComma);
            foreach (var column in _unnamed)
                if (column < fitted.Fields.Length && fitted.Fields[column].Trim().Length > 0)
                    _headless.TryAdd(column, fitted.Number);
            if (_keep.Length > 0 && whole is { } taken && !Keeps(taken))
            {
                FilteredOut++;
                continue;
            }
            DataRows++;
            if (whole is not { } data)
            {
                refusals.Add(_extension!.NoHeading(fitted), fitted);
                continue;
            }
            Totals.Add(data, mapping);
            foreach (var (when, number, check) in _checks)
                Check(data, when, number, check);
            yield return data;
        }
    }

    private void Begin(TableLayout layout)
    {
        Totals.Begin(layout);
        _headings.Clear();
        _headings.UnionWith(layout.Heading.Fields.Select(h => h.Trim()).Where(h => h.Length > 0));
        // Without its account a row cannot be placed, or where there is none without its entity; a record without its key.
        _key =
            mapping.Kind == TableKind.Records
                ? layout
                    .Fields.OrderByDescending(f => f.Column.Field == FieldType.Key)
                    .Select(f => f.Index)
                    .DefaultIfEmpty(-1)
                    .First()
            : layout.IndexOf("account") is var account and >= 0 ? account
            : layout.IndexOf("entity");
        _extension = mapping.Headings is null && mapping.Derived.IsEmpty ? null : new RowExtension(mapping, layout, join);
        _unnamed = [.. Enumerable.Range(0, layout.SourceWidth).Where(i => layout.Heading.Fields[i].Trim().Length == 0)];
        _keep = [.. mapping.Keep.Select(k => (layout.IndexOfHeading(k.Heading), k))];
        _checks =
        [
            .. mapping
                .Checks.Select(c => (layout.IndexOfHeading(c.Heading), layout.IndexOfHeading(c.Number), c))
                .Where(c => c.Item1 >= 0 && c.Item2 >= 0),
        ];
    }

    private bool Keeps(RawRow row) =>
        _keep.All(k =>
            k.Index >= row.Fields.Length
            || k.Rule.Values.Contains(row.Fields[k.Index].Trim(), StringComparer.OrdinalIgnoreCase) != k.Rule.Not
        );

    private void Check(RawRow row, int when, int number, RowCheck check)
    {
        if (
            Math.Max(when, number) >= row.Fields.Length
            || !string.Equals(row.Fields[when].Trim(), check.Is, StringComparison.OrdinalIgnoreCase)
        )
            return;
        var value =
            row.Typed?[number] as decimal?
            ?? (Numbers.TryRead(row.Fields[number], mapping.DecimalComma, out var read, out _) ? read : null);
        if (value is null || !(value < check.AtLeast || value > check.AtMost))
            return;
        _broken[check] = _broken.TryGetValue(check, out var known) ? (known.Count + 1, known.First) : (1, row.Number);
    }

    private void Leave(string what, int row)
    {
        var (count, rows) = _leftOut.TryGetValue(what, out var known) ? known : (0, []);
        if (rows.Count < MostRowsTold)
            rows.Add(row);
        _leftOut[what] = (count + 1, rows);
    }

    /// <summary>Null for a row that should be data. Most rows are, so that is found out with the fewest looks.</summary>
    private string? What(RawRow row)
    {
        var keyed = _key >= 0 && _key < row.Fields.Length && !IsBlank(row.Fields[_key]);
        if (keyed && !_headings.Contains(row.Fields[_key].Trim()) && !IsTotalOfRecords(row))
            return null;
        var filled = row.Fields.Count(f => !string.IsNullOrWhiteSpace(f));
        if (filled == 0)
            return "blank rows";
        if (IsHeading(row, filled))
            return "repeated headings";
        if (IsTotalOfRecords(row))
            return "totals";
        if (mapping.IsReference || keyed || _key < 0)
            return null;
        // Nothing places the row: it is a total when it says so, and a note when it stands alone.
        return row.Fields.Any(HeadingWords.IsTotal) ? "totals"
            : filled == 1 ? "notes"
            : null;
    }

    /// <summary>In a table of records the key column may hold the word itself: "Total", and most other cells are empty.</summary>
    private bool IsTotalOfRecords(RawRow row) =>
        mapping.Kind == TableKind.Records
        && HeadingWords.IsTotal(row.Fields[0])
        && row.Fields.Count(f => !string.IsNullOrWhiteSpace(f)) * 2 < row.Fields.Length;

    private bool IsBlank(string cell) =>
        string.IsNullOrWhiteSpace(cell) || (cell.Length < 8 && mapping.Blanks.Contains(cell.Trim()));

    private bool IsHeading(RawRow row, int filled)
    {
        var heading = Layout!.Heading.Fields;
        var same = row.Fields.Count(f => _headings.Contains(f.Trim()));
        if (same < 3 || same * 10 < filled * 6)
            return false;
        for (var i = 0; i < Layout.SourceWidth; i++)
            if (
                !string.Equals(
                    heading[i].Trim(),
                    i < row.Fields.Length ? row.Fields[i].Trim() : "",
                    StringComparison.OrdinalIgnoreCase
                )
            )
                throw new LoadRefusedException(
                    new Refusal(
                        row.Number,
                        heading[i],
                        i < row.Fields.Length ? row.Fields[i] : "",
                        $"Line {RowPlace.Of(row.Number).Row} is a second header row whose columns stand in another order than those of line {RowPlace.Of(Layout.Heading.Number).Row}.",
                        "Bring all rows under one header, or cut the file there and load both parts."
                    )
                );
        return true;
    }

    /// <summary>Rows of workbooks end where their last cell ends; text rows are kept as they are, so that a wrong number of
    /// fields is noticed.</summary>
    private static RawRow Fit(RawRow row, int width)
    {
        if (row.Typed is null || row.Fields.Length == width)
            return row;
        var (fields, typed) = (new string[width], new object?[width]);
        Array.Fill(fields, "");
        Array.Copy(row.Fields, fields, Math.Min(width, row.Fields.Length));
        Array.Copy(row.Typed, typed, Math.Min(width, row.Fields.Length));
        return new RawRow(row.Number, fields, typed);
    }

    private string[] FillDown(string[] fields, string[]? above)
    {
        foreach (var index in Layout!.FillDown)
            if (index < fields.Length && fields[index].Trim().Length == 0 && above is not null)
                fields[index] = above[index];
        return [.. fields];
    }
}

/// <summary>Holds the totals that stand in a file against the rows above them.</summary>
public sealed class TotalsCheck
{
    private readonly List<(int Row, string Text)> _differing = [];
    private TableLayout? _layout;
    private decimal[] _all = [],
        _block = [];

    public int Agreeing { get; private set; }

    public IReadOnlyList<(int Row, string Text)> Differing => _differing;

    internal void Begin(TableLayout layout)
    {
        _layout = layout;
        (_all, _block) = (new decimal[layout.Values.Length], new decimal[layout.Values.Length]);
    }

    internal void Add(RawRow row, FileMapping mapping)
    {
        for (var i = 0; i < _layout!.Values.Length; i++)
        {
            if (Amount(row, _layout.Values[i].Index, mapping) is not { } amount)
                continue;
            _all[i] += amount;
            _block[i] += amount;
        }
    }

    /// <summary>A total is that of the block above it or of all rows; what is neither is told only where the row says total or
    /// sum.</summary>
    internal void Close(RawRow row, FileMapping mapping)
    {
        var amounts = _layout!.Values.Select(v => Amount(row, v.Index, mapping)).ToArray();
        if (amounts.All(a => a is null))
            return;
        bool Fits(decimal[] sums) => amounts.Select((a, i) => a is null || Math.Abs(a.Value - sums[i]) < 0.005m).All(ok => ok);
        if (Fits(_block) || Fits(_all))
            Agreeing++;
        else if (row.Fields.Any(f => Words.Tokens(f).FirstOrDefault()?.Stem is "total" or "sum"))
            _differing.Add((row.Number, row.Fields.First(f => f.Trim().Length > 0).Trim()));
        Array.Clear(_block);
    }

    private static decimal? Amount(RawRow row, int index, FileMapping mapping) =>
        index >= row.Fields.Length ? null
        : row.Typed?[index] is decimal number ? number
        : Numbers.TryRead(row.Fields[index], mapping.DecimalComma, out var value, out _) ? value
        : null;
}
