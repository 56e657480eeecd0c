using Bearing.Core.Books;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>How much of a cell counts in a span: all of it, all movements so far, its share of an average, or nothing unless it
/// is the last.</summary>
internal sealed class TimeRule
{
    private readonly OverTime _rule;
    private readonly SidePlan _side;
    private readonly Splitter? _splitter;
    private readonly Valuation _valuation;
    private readonly int _periods;
    private readonly Dictionary<int, int> _periodsByBucket;
    private readonly Dictionary<int, int> _lastByBucket;

    /// <summary>Bucket → the last stored period of the span in it, in the order of time.</summary>
    private readonly SortedDictionary<int, int> _buckets = [];

    public TimeRule(OverTime rule, SidePlan side, Splitter? splitter, IReadOnlyList<CellSum> cells, Valuation valuation)
    {
        (_rule, _side, _splitter, _valuation) = (rule, side, splitter, valuation);
        var withData = cells.Select(c => c.Period).Distinct().ToList();
        _periods = Math.Max(1, withData.Count);
        _periodsByBucket = splitter is null ? [] : withData.GroupBy(BucketOf).ToDictionary(g => g.Key, g => g.Count());
        _lastByBucket = splitter is null ? [] : withData.GroupBy(BucketOf).ToDictionary(g => g.Key, g => g.Max());
        if (rule == OverTime.Stock && withData.Count > 0)
            Last = withData.Max();
        if (splitter is null)
            return;
        foreach (var period in side.Stored.Periods())
            _buckets[BucketOf(period.Ordinal)] = period.Ordinal;
    }

    /// <summary>The stored period that a stock stands at; null for what is none, and where there is none of it.</summary>
    public int? Last { get; }

    /// <summary>The buckets in which a cell of this period counts, named by the subject's periods.</summary>
    public IEnumerable<int> Buckets(int period) =>
        _rule == OverTime.Closing ? _buckets.Keys.Where(b => b >= BucketOf(period)) : [BucketOf(period)];

    public decimal Weigh(CellSum cell, int? bucket)
    {
        var amount = _valuation.Of(cell, bucket is { } of && _rule == OverTime.Closing ? _buckets[of] : _side.Stored.To.Ordinal);
        return _rule switch
        {
            OverTime.Average => amount / (bucket is { } at ? _periodsByBucket[at] : _periods),
            OverTime.Stock when cell.Period != (bucket is { } at ? _lastByBucket[at] : Last) => 0m,
            _ => amount,
        };
    }

    private int BucketOf(int storedPeriod) => _splitter!.Bucket(storedPeriod + _side.Shift);
}
