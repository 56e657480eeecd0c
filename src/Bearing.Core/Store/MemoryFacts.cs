using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Store;

/// <summary>One cell of a book as a fact store hands it over.</summary>
/// <param name="Members">Member ids in the order of the book's dimensions.</param>
/// <param name="Units">Amount in ten-thousandths.</param>
/// <param name="Local">Amount in the currency of the posting, in ten-thousandths; equals <paramref name="Units"/> in the book's
/// own.</param>
public readonly record struct Cell(int Version, int Period, int[] Members, long Units, int Lines, Posted Posted, long Local);

/// <summary>In which currency lines were posted, and who translated them.</summary>
/// <param name="Currency">ISO 4217 code in capitals; null for the book's own.</param>
/// <param name="Translated">True where Bearing translated them, false where their file brought both amounts.</param>
public readonly record struct Posted(string? Currency, bool Translated);

/// <summary>
/// The cells of one edition as columns in memory: the fast path of every question. Holds lines as well when it is given them,
/// which small books and tests do.
/// </summary>
public sealed class MemoryFacts : IFacts
{
    public const decimal UnitsPerOne = 10_000m;

    private readonly Sight _sight;
    private readonly ImmutableArray<int> _dimensions;
    private readonly long[] _keys;
    private readonly int[][] _members;

    /// <summary>Largest member id of each dimension.</summary>
    private readonly int[] _most;
    private readonly long[] _units;
    private readonly int[] _lines;
    private readonly IReadOnlyList<Line> _allLines;
    private readonly ILookup<string, Record> _records;

    /// <summary>Kinds of posting, the book's own first; a cell's kind is its place here.</summary>
    private readonly Posted[] _posted;

    /// <summary>Empty in a book of one currency.</summary>
    private readonly int[] _postedOf;
    private readonly long[] _local;

    /// <param name="dimensions">Dimension ids in the order of the cells' members.</param>
    public MemoryFacts(
        BookView view,
        ImmutableArray<int> dimensions,
        IEnumerable<Cell> cells,
        IEnumerable<Line>? lines = null,
        IEnumerable<(string Table, Record Record)>? records = null
    )
    {
        _sight = view.Sight;
        _dimensions = dimensions;
        var sorted = cells.ToArray();
        Array.Sort(sorted, (a, b) => Key(a.Version, a.Period).CompareTo(Key(b.Version, b.Period)));
        _keys = Array.ConvertAll(sorted, c => Key(c.Version, c.Period));
        _units = Array.ConvertAll(sorted, c => c.Units);
        _lines = Array.ConvertAll(sorted, c => c.Lines);
        _members = new int[dimensions.Length][];
        for (var d = 0; d < dimensions.Length; d++)
            _members[d] = Array.ConvertAll(sorted, c => c.Members[d]);
        _most = Array.ConvertAll(_members, m => m.Length == 0 ? 0 : m.Max());
        _posted =
        [
            .. sorted
                .Select(c => c.Posted)
                .Append(default)
                .Distinct()
                .OrderBy(p => p.Currency, StringComparer.Ordinal)
                .ThenBy(p => p.Translated),
        ];
        var places = _posted.Select((p, i) => (p, i)).ToDictionary(p => p.p, p => p.i);
        _postedOf = _posted.Length == 1 ? [] : Array.ConvertAll(sorted, c => places[c.Posted]);
        _local = _posted.Length == 1 ? [] : Array.ConvertAll(sorted, c => c.Local);
        _allLines = lines?.ToList() ?? [];
        _records = (records ?? []).ToLookup(r => r.Table, r => r.Record);
    }

    /// <summary>Rolls lines up into cells, one for each version, period, combination of members and currency.</summary>
    /// <param name="home">The book's own currency.</param>
    public static MemoryFacts FromLines(
        BookView view,
        ImmutableArray<int> dimensions,
        IReadOnlyCollection<Line> lines,
        string home
    )
    {
        var cells = lines
            .GroupBy(l => (l.Version, l.Period, Members: string.Join(',', l.Members), Posted: PostedOf(l, home)))
            .Select(g => new Cell(
                g.Key.Version,
                g.Key.Period,
                [.. g.First().Members],
                decimal.ToInt64(g.Sum(l => l.Amount) * UnitsPerOne),
                g.Count(),
                g.Key.Posted,
                decimal.ToInt64(g.Sum(l => g.Key.Posted.Currency is null ? l.Amount : l.LocalAmount!.Value) * UnitsPerOne)
            ));
        return new MemoryFacts(view, dimensions, cells, lines);
    }

    /// <summary>A line without a local amount, or whose currency is the book's, is one of the book's own currency.</summary>
    private static Posted PostedOf(Line line, string home) =>
        line.LocalAmount is null
        || string.IsNullOrEmpty(line.Currency)
        || string.Equals(line.Currency, home, StringComparison.OrdinalIgnoreCase)
            ? default
            : new Posted(line.Currency.ToUpperInvariant(), line.Rate is not null);

    public int Count => _units.Length;

    public ValueTask<IReadOnlyList<CellSum>> Cells(CellQuery query, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        var (from, to) = (
            LowerBound(Key(query.Version, query.Span.From.Ordinal)),
            LowerBound(Key(query.Version, query.Span.To.Ordinal) + 1)
        );
        var filters = query.Filters.Concat(_sight.Filters).Select(f => Bitmap(_dimensions.IndexOf(f.Dimension), f)).ToArray();
        var grouped = query.GroupBy.Select(d => _dimensions.IndexOf(d)).ToArray();
        var columns = Array.ConvertAll(grouped, d => _members[d]);
        var byCurrency = query.ByCurrency && _postedOf.Length > 0;
        (int[], int)[] keyed =
        [
            .. grouped.Select(d => (_members[d], _most[d])),
            .. byCurrency ? ((int[], int)[])[(_postedOf, _posted.Length)] : [],
        ];
        var keys = new GroupKeys(keyed, query.ByPeriod ? _keys : null);
        var groups = new Dictionary<UInt128, Group>();
        for (var i = from; i < to; i++)
        {
            if (!Passes(filters, i))
                continue;
            ref var group = ref System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(
                groups,
                keys.Of(i),
                out var known
            );
            if (!known)
                group.Row = i;
            group.Units += _units[i];
            group.Lines += _lines[i];
            if (byCurrency)
                group.Local += _local[i];
        }
        var result = groups.Values.Select(g => ToSum(g, columns, byCurrency, query)).ToList();
        result.Sort(InOrder);
        return ValueTask.FromResult<IReadOnlyList<CellSum>>(result);
    }

    /// <summary>What falls together, and the first cell of it, which tells the members.</summary>
    private struct Group
    {
        public int Row;
        public Int128 Units;
        public Int128 Local;
        public long Lines;
    }

    private CellSum ToSum(in Group group, int[][] columns, bool byCurrency, CellQuery query)
    {
        var members = new int[columns.Length];
        for (var c = 0; c < columns.Length; c++)
            members[c] = columns[c][group.Row];
        var amount = (decimal)group.Units / UnitsPerOne;
        var posted = byCurrency ? _posted[_postedOf[group.Row]] : default;
        return new CellSum(
            ImmutableArray.Create(members),
            query.ByPeriod ? (int)(_keys[group.Row] & PeriodMask) : 0,
            amount,
            group.Lines
        )
        {
            Currency = posted.Currency,
            Translated = posted.Translated,
            Local =
                !query.ByCurrency ? 0m
                : posted.Currency is null ? amount
                : (decimal)group.Local / UnitsPerOne,
        };
    }

    private static int InOrder(CellSum a, CellSum b)
    {
        for (var i = 0; i < a.Members.Length; i++)
            if (a.Members[i].CompareTo(b.Members[i]) is not 0 and var members)
                return members;
        if (a.Period != b.Period)
            return a.Period.CompareTo(b.Period);
        return string.CompareOrdinal(a.Currency, b.Currency) is not 0 and var currencies
            ? currencies
            : a.Translated.CompareTo(b.Translated);
    }

    public ValueTask<LinePage> Lines(LineQuery query, CancellationToken cancel)
    {
        var matches = _allLines
            .Where(l =>
                l.Version == query.Version
                && Math.Abs(l.Amount) >= query.AtLeast
                && Math.Abs(l.Amount) <= (query.AtMost ?? decimal.MaxValue)
                && (
                    query.Document is null
                    || (
                        query.DocumentEnds
                            ? l.Document.EndsWith(query.Document, StringComparison.OrdinalIgnoreCase)
                            : string.Equals(l.Document, query.Document, StringComparison.OrdinalIgnoreCase)
                    )
                )
                && (query.Text is null || l.Text.Contains(query.Text, StringComparison.OrdinalIgnoreCase))
                && l.Period >= query.Span.From.Ordinal
                && l.Period <= query.Span.To.Ordinal
                && query
                    .Filters.Concat(_sight.Filters)
                    .All(f => f.Members.Contains(l.Members[_dimensions.IndexOf(f.Dimension)]) != f.Exclude)
            )
            .Select(l => (Line: l, At: LineCursor.At(l, query.Order)))
            .OrderBy(l => LineCursor.Falls(query.Order) ? -l.At.Key : l.At.Key)
            .ThenBy(l => l.At.Load)
            .ThenBy(l => l.At.Row)
            .Select(l => l.Line)
            .ToList();
        var after = LineCursor.Parse(query.Cursor);
        var page = matches
            .Where(l => after is null || IsAfter(l, after.Value, query.Order))
            .Take(query.Limit == 0 ? 0 : query.Limit + 1)
            .ToList();
        var more = page.Count > query.Limit;
        if (more)
            page.RemoveAt(query.Limit);
        var next = more ? LineCursor.At(page[^1], query.Order).ToString() : null;
        return ValueTask.FromResult(
            new LinePage([.. page], matches.Count, matches.Sum(l => l.Amount), next)
            {
                Loads = query.WithLoads
                    ? [.. matches.GroupBy(l => l.Load).OrderBy(g => g.Key).Select(g => (g.Key, g.LongCount()))]
                    : [],
            }
        );
    }

    public ValueTask<RecordPage> Records(RecordQuery query, CancellationToken cancel)
    {
        var seen = _sight.FieldsOf(query.Table);
        var passing = _records[query.Table.Code]
            .Where(r => seen?.All(s => r.Fields.TryGetValue(s.Field.Code, out var code) && s.Codes.Contains(code)) == true)
            .Where(r => query.Tests.All(t => Passes(r, t) != t.Not))
            .ToList();
        var ordered = passing
            .OrderBy(r => query.OrderBy is { } by && !r.Fields.ContainsKey(by.Code))
            .ThenBy(r => r, Comparer<Record>.Create((a, b) => Compare(query, a, b)))
            .ThenBy(r => r.Load)
            .ThenBy(r => r.Row)
            .Skip(query.Offset)
            .Take(query.Limit)
            .ToImmutableArray();
        var sums = query
            .Table.Fields.Where(f => f.Type is FieldType.Amount or FieldType.Quantity)
            .SelectMany(f =>
                passing
                    .GroupBy(r =>
                        f.Type == FieldType.Amount && query.Table.Currency is { } currency
                            ? r.Fields.GetValueOrDefault(currency.Code, "").ToUpperInvariant()
                            : null
                    )
                    .OrderBy(g => g.Key, StringComparer.Ordinal)
                    .Select(g => new FieldSum(
                        f.Code,
                        g.Key,
                        g.Sum(r => r.Fields.TryGetValue(f.Code, out var v) ? Number(v) : 0m)
                    ))
            )
            .ToImmutableArray();
        return ValueTask.FromResult(
            new RecordPage(
                ordered,
                passing.Count,
                sums,
                query.Offset + ordered.Length < passing.Count ? query.Offset + ordered.Length : null
            )
        );
    }

    private static bool Passes(Record record, FieldTest test)
    {
        var there = record.Fields.TryGetValue(test.Field.Code, out var text);
        if (test.Kind == TestKind.Empty)
            return !there;
        if (!there)
            return false;
        if (test.Kind == TestKind.Contains)
            return text!.Contains(test.Value, StringComparison.OrdinalIgnoreCase);
        if (test.Kind == TestKind.Is && !test.IsNumber)
            return string.Equals(text, test.Value, StringComparison.OrdinalIgnoreCase);
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
        if (query.OrderBy is not { } by || !a.Fields.TryGetValue(by.Code, out var x) || !b.Fields.TryGetValue(by.Code, out var y))
            return 0;
        var order = by.Type is FieldType.Amount or FieldType.Quantity or FieldType.Rate
            ? Number(x).CompareTo(Number(y))
            : string.CompareOrdinal(x, y);
        return query.Descending ? -order : order;
    }

    private static decimal Number(string text) => decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    private static bool IsAfter(Line line, LineCursor cursor, LineOrder order)
    {
        var at = LineCursor.At(line, order);
        var later = LineCursor.Falls(order) ? cursor.Key.CompareTo(at.Key) : at.Key.CompareTo(cursor.Key);
        return later > 0 || (later == 0 && (at.Load, at.Row).CompareTo((cursor.Load, cursor.Row)) > 0);
    }

    private static bool Passes((int[] Column, bool[] Keep)[] filters, int row)
    {
        foreach (var (column, keep) in filters)
            if (!keep[column[row]])
                return false;
        return true;
    }

    private (int[] Column, bool[] Keep) Bitmap(int dimension, MemberFilter filter)
    {
        var keep = new bool[_most[dimension] + 1];
        if (filter.Exclude)
            Array.Fill(keep, true);
        foreach (var member in filter.Members)
            if (member < keep.Length)
                keep[member] = !filter.Exclude;
        return (_members[dimension], keep);
    }

    private int LowerBound(long key)
    {
        var (low, high) = (0, _keys.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_keys[middle] < key)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }

    private const int PeriodBits = 20;
    private const long PeriodMask = (1 << PeriodBits) - 1;

    private static long Key(int version, int period) => ((long)version << PeriodBits) + period;
}
