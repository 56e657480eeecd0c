using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Facts;

/// <summary>One cell of a book as a fact store hands it over.</summary>
/// <param name="Members">Member ids in the order of the book's dimensions.</param>
/// <param name="Units">Amount in ten-thousandths.</param>
public readonly record struct Cell(int Version, int Period, int[] Members, long Units, int Lines);

/// <summary>
/// The cells of one edition as columns in memory: the fast path of every question. Holds lines as well when it is given them,
/// which small books and tests do.
/// </summary>
public sealed class MemoryFacts : IFacts
{
    public const decimal UnitsPerOne = 10_000m;

    private readonly BookView _view;
    private readonly ImmutableArray<int> _dimensions;
    private readonly long[] _keys;
    private readonly int[][] _members;
    private readonly long[] _units;
    private readonly int[] _lines;
    private readonly int[] _radix;
    private readonly IReadOnlyList<Line> _allLines;
    private readonly ILookup<string, Record> _records;

    /// <param name="dimensions">Dimension ids in the order of the cells' members.</param>
    public MemoryFacts(BookView view, ImmutableArray<int> dimensions, IEnumerable<Cell> cells, IEnumerable<Line>? lines = null, IEnumerable<(string Table, Record Record)>? records = null)
    {
        _view = view;
        _dimensions = dimensions;
        var sorted = cells.ToArray();
        Array.Sort(sorted, (a, b) => Key(a.Version, a.Period).CompareTo(Key(b.Version, b.Period)));
        _keys = Array.ConvertAll(sorted, c => Key(c.Version, c.Period));
        _units = Array.ConvertAll(sorted, c => c.Units);
        _lines = Array.ConvertAll(sorted, c => c.Lines);
        _members = new int[dimensions.Length][];
        _radix = new int[dimensions.Length];
        for (var d = 0; d < dimensions.Length; d++)
        {
            _members[d] = Array.ConvertAll(sorted, c => c.Members[d]);
            _radix[d] = _members[d].Length == 0 ? 1 : _members[d].Max() + 1;
        }
        _allLines = lines?.ToList() ?? [];
        _records = (records ?? []).ToLookup(r => r.Table, r => r.Record);
    }

    /// <summary>Rolls lines up into cells, one for each version, period and combination of members.</summary>
    public static MemoryFacts FromLines(BookView view, ImmutableArray<int> dimensions, IReadOnlyCollection<Line> lines)
    {
        var cells = lines
            .GroupBy(l => (l.Version, l.Period, Members: string.Join(',', l.Members)))
            .Select(g => new Cell(g.Key.Version, g.Key.Period, [.. g.First().Members],
                decimal.ToInt64(g.Sum(l => l.Amount) * UnitsPerOne), g.Count()));
        return new MemoryFacts(view, dimensions, cells, lines);
    }

    public int Count => _units.Length;

    public ValueTask<IReadOnlyList<CellSum>> Cells(BookView view, CellQuery query, CancellationToken cancel)
    {
        Check(view);
        cancel.ThrowIfCancellationRequested();
        if (query.Currency is { } currency) return ValueTask.FromResult(Local(query, currency));
        var (from, to) = (LowerBound(Key(query.Version, query.Span.From.Ordinal)), LowerBound(Key(query.Version, query.Span.To.Ordinal) + 1));
        var filters = query.Filters.Select(f => (Column: _members[_dimensions.IndexOf(f.Dimension)], Keep: Bitmap(f))).ToArray();
        var columns = query.GroupBy.Select(d => _dimensions.IndexOf(d)).ToArray();
        var groups = new Dictionary<UInt128, (Int128 Units, long Lines)>();
        for (var i = from; i < to; i++)
        {
            if (!Passes(filters, i)) continue;
            UInt128 key = 0;
            foreach (var column in columns) key = (key * (uint)_radix[column]) + (uint)_members[column][i];
            if (query.ByPeriod) key = (key << 20) + (uint)(_keys[i] & 0xFFFFF);
            ref var sum = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(groups, key, out _);
            sum = (sum.Units + _units[i], sum.Lines + _lines[i]);
        }
        var result = groups.OrderBy(g => g.Key).Select(g => ToSum(g.Key, g.Value.Units, g.Value.Lines, columns, query.ByPeriod)).ToList();
        return ValueTask.FromResult<IReadOnlyList<CellSum>>(result);
    }

    private IReadOnlyList<CellSum> Local(CellQuery query, string currency) => [.. _allLines
        .Where(l => l.Version == query.Version && l.LocalAmount is not null && string.Equals(l.Currency, currency, StringComparison.OrdinalIgnoreCase) && l.Period >= query.Span.From.Ordinal && l.Period <= query.Span.To.Ordinal
            && query.Filters.All(f => f.Members.Contains(l.Members[_dimensions.IndexOf(f.Dimension)]) != f.Exclude))
        .GroupBy(l => (Members: string.Join(',', query.GroupBy.Select(d => l.Members[_dimensions.IndexOf(d)])), Period: query.ByPeriod ? l.Period : 0))
        .Select(g => new CellSum([.. query.GroupBy.Select(d => g.First().Members[_dimensions.IndexOf(d)])], g.Key.Period, g.Sum(l => l.LocalAmount!.Value), g.LongCount()))];

    public ValueTask<LinePage> Lines(BookView view, LineQuery query, CancellationToken cancel)
    {
        Check(view);
        var matches = _allLines.Where(l => l.Version == query.Version && Math.Abs(l.Amount) >= query.AtLeast && Math.Abs(l.Amount) <= (query.AtMost ?? decimal.MaxValue) && (query.Document is null || (query.DocumentEnds ? l.Document.EndsWith(query.Document, StringComparison.OrdinalIgnoreCase) : string.Equals(l.Document, query.Document, StringComparison.OrdinalIgnoreCase)))
            && (query.Text is null || l.Text.Contains(query.Text, StringComparison.OrdinalIgnoreCase))
                && l.Period >= query.Span.From.Ordinal && l.Period <= query.Span.To.Ordinal
                && query.Filters.All(f => f.Members.Contains(l.Members[_dimensions.IndexOf(f.Dimension)]) != f.Exclude))
            .Select(l => (Line: l, At: LineCursor.At(l, query.Order))).OrderBy(l => LineCursor.Falls(query.Order) ? -l.At.Key : l.At.Key).ThenBy(l => l.At.Load).ThenBy(l => l.At.Row).Select(l => l.Line).ToList();
        var after = LineCursor.Parse(query.Cursor);
        var page = matches.Where(l => after is null || IsAfter(l, after.Value, query.Order)).Take(query.Limit + 1).ToList();
        var more = page.Count > query.Limit;
        if (more) page.RemoveAt(query.Limit);
        var next = more ? LineCursor.At(page[^1], query.Order).ToString() : null;
        return ValueTask.FromResult(new LinePage([.. page], matches.Count, matches.Sum(l => l.Amount), next) { Loads = query.WithLoads ? [.. matches.GroupBy(l => l.Load).OrderBy(g => g.Key).Select(g => (g.Key, g.LongCount()))] : [] });
    }

    public ValueTask<RecordPage> Records(BookView view, RecordQuery query, CancellationToken cancel)
    {
        Check(view);
        var passing = _records[query.Table.Code].Where(r => query.Tests.All(t => Passes(r, t) != t.Not)).ToList();
        var ordered = passing.OrderBy(r => query.OrderBy is { } by && !r.Fields.ContainsKey(by.Code)).ThenBy(r => r, Comparer<Record>.Create((a, b) => Compare(query, a, b)))
            .ThenBy(r => r.Load).ThenBy(r => r.Row).Skip(query.Offset).Take(query.Limit).ToImmutableArray();
        var sums = query.Table.Fields.Where(f => f.Type is FieldType.Amount or FieldType.Quantity).ToImmutableSortedDictionary(f => f.Code, f => passing.Sum(r => r.Fields.TryGetValue(f.Code, out var v) ? Number(v) : 0m));
        return ValueTask.FromResult(new RecordPage(ordered, passing.Count, sums, query.Offset + ordered.Length < passing.Count ? query.Offset + ordered.Length : null));
    }

    private static bool Passes(Record record, FieldTest test)
    {
        var there = record.Fields.TryGetValue(test.Field.Code, out var text);
        if (test.Kind == TestKind.Empty) return !there;
        if (!there) return false;
        if (test.Kind == TestKind.Contains) return text!.Contains(test.Value, StringComparison.OrdinalIgnoreCase);
        if (test.Kind == TestKind.Is && !test.IsNumber) return string.Equals(text, test.Value, StringComparison.OrdinalIgnoreCase);
        var order = test.IsNumber ? Number(text!).CompareTo(test.Number) : string.CompareOrdinal(text, test.Value);
        return test.Kind switch
        {
            TestKind.AtLeast => order >= 0,
            // A day includes its times.
            TestKind.AtMost => order <= 0 || (!test.IsNumber && text!.StartsWith(test.Value, StringComparison.Ordinal)),
            _ => order == 0,
        };
    }

    private static int Compare(RecordQuery query, Record a, Record b)
    {
        if (query.OrderBy is not { } by || !a.Fields.TryGetValue(by.Code, out var x) || !b.Fields.TryGetValue(by.Code, out var y)) return 0;
        var order = by.Type is FieldType.Amount or FieldType.Quantity or FieldType.Rate ? Number(x).CompareTo(Number(y)) : string.CompareOrdinal(x, y);
        return query.Descending ? -order : order;
    }

    private static decimal Number(string text) => decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    private static bool IsAfter(Line line, LineCursor cursor, LineOrder order)
    {
        var at = LineCursor.At(line, order);
        var later = LineCursor.Falls(order) ? cursor.Key.CompareTo(at.Key) : at.Key.CompareTo(cursor.Key);
        return later > 0 || (later == 0 && (at.Load, at.Row).CompareTo((cursor.Load, cursor.Row)) > 0);
    }

    private CellSum ToSum(UInt128 key, Int128 units, long lines, int[] columns, bool byPeriod)
    {
        var period = 0;
        if (byPeriod)
        {
            period = (int)(key & 0xFFFFF);
            key >>= 20;
        }
        var members = new int[columns.Length];
        for (var c = columns.Length - 1; c >= 0; c--)
        {
            members[c] = (int)(key % (uint)_radix[columns[c]]);
            key /= (uint)_radix[columns[c]];
        }
        return new CellSum(ImmutableArray.Create(members), period, (decimal)units / UnitsPerOne, lines);
    }

    private static bool Passes((int[] Column, bool[] Keep)[] filters, int row)
    {
        foreach (var (column, keep) in filters)
            if (!keep[column[row]]) return false;
        return true;
    }

    private bool[] Bitmap(MemberFilter filter)
    {
        var keep = new bool[_radix[_dimensions.IndexOf(filter.Dimension)]];
        if (filter.Exclude) Array.Fill(keep, true);
        foreach (var member in filter.Members)
            if (member < keep.Length) keep[member] = !filter.Exclude;
        return keep;
    }

    private int LowerBound(long key)
    {
        var (low, high) = (0, _keys.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_keys[middle] < key) low = middle + 1;
            else high = middle;
        }
        return low;
    }

    private static long Key(int version, int period) => ((long)version << 20) + period;

    private void Check(BookView view)
    {
        if (view != _view) throw new InvalidOperationException($"These facts are of edition {_view.Edition}, not {view.Edition}.");
    }
}
