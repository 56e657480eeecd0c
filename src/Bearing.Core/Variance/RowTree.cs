using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

/// <summary>A step of a row's path: a member of a dimension, or a period bucket (dimension 0, ordinal of its first
/// period).</summary>
internal readonly record struct RowKey(int Dimension, int Id)
{
    public const int Time = 0;
}

/// <summary>A row in the making: sums by slot (block × side × part of the figure).</summary>
internal sealed class RowNode(RowNode? parent, RowKey key, int slots)
{
    public RowNode? Parent { get; } = parent;
    public RowKey Key { get; } = key;
    public Dictionary<RowKey, RowNode> Children { get; } = [];
    public decimal?[] Sums { get; } = new decimal?[slots];

    public RowNode Child(RowKey at)
    {
        if (!Children.TryGetValue(at, out var child))
            Children[at] = child = new RowNode(this, at, Sums.Length);
        return child;
    }

    public void Add(int slot, decimal amount) => Sums[slot] = (Sums[slot] ?? 0m) + amount;

    public IEnumerable<RowNode> Path()
    {
        for (var at = this; at.Parent is not null; at = at.Parent)
            yield return at;
    }
}

/// <summary>A figure in columns beside the first, and where its sums are kept in a row.</summary>
/// <param name="Plan">How it is taken from facts: one block, one side.</param>
/// <param name="Slot">Of its first part; a second part comes right behind.</param>
internal sealed record BesideFigure(Figure Figure, ComparisonPlan Plan, int Slot)
{
    public SidePlan Side => Plan.Blocks[0].Sides[0];

    public ImmutableArray<SumFigure> Parts => Figure is PairFigure pair ? [pair.Top, pair.Bottom] : [(SumFigure)Figure];
}

/// <summary>Says through which rows a fact runs, for one breakdown.</summary>
internal sealed class Splitter
{
    private readonly Book _book;
    private readonly Breakdown _by;
    private readonly Dimension? _dimension;
    private readonly HashSet<int> _tops;
    private readonly int? _depth;
    private readonly bool _flat;
    private readonly Dictionary<int, ImmutableArray<RowKey>> _chains = [];

    /// <param name="flat">True leaves subtotals out, as a ranking wants it.</param>
    public Splitter(Book book, Question question, Figure figure, Breakdown by, bool flat)
    {
        (_book, _by, _flat) = (book, by, flat);
        _tops = [];
        if (by.Dimension is null)
            return;
        if (!book.TryDimension(by.Dimension, out _dimension))
            throw new CannotAnswerException($"The book has no dimension \"{by.Dimension}\".");
        if (_dimension.Role == DimensionRole.Account && figure is PairFigure { Rule: PairRule.Difference })
            throw new CannotAnswerException(
                $"{figure.Name} is the difference of two figures; it cannot be split by account. Ask for each of them by account."
            );
        var filtered = question
            .Scope.Filters.Where(f => f.Dimension == by.Dimension && !f.Exclude)
            .SelectMany(f => f.Members)
            .Select(code => book.TryMember(_dimension.Id, code, out var m) ? m.Id : 0)
            .Where(id => id != 0)
            .ToList();
        var own =
            _dimension.Role == DimensionRole.Account
                ? (figure as SumFigure ?? ((PairFigure)figure).Top).Accounts.AsEnumerable()
                : [];
        _tops = [.. filtered.Count > 0 ? filtered : own];
        if (by.Level is { } level)
        {
            var depth = _dimension.Levels.IndexOf(level);
            if (depth < 0)
                throw new CannotAnswerException($"{_dimension.Name} has no level \"{level}\".");
            _depth = depth == _dimension.Levels.Length - 1 ? int.MaxValue : depth;
        }
    }

    public bool IsTime => _dimension is null;
    public Dimension? Dimension => _dimension;

    /// <summary>The rows, outermost first, that a member's facts belong to.</summary>
    public ImmutableArray<RowKey> Chain(int member)
    {
        if (_chains.TryGetValue(member, out var known))
            return known;
        var path = _book.PathTo(member);
        var start = Start(path);
        var end = _depth is { } depth ? Math.Clamp(depth, start, path.Length - 1) : start;
        var chain = (_flat ? path[end..(end + 1)] : path[start..(end + 1)])
            .Select(id => new RowKey(_dimension!.Id, id))
            .ToImmutableArray();
        return _chains[member] = chain;
    }

    /// <summary>First level below what is asked about. Several members asked about are rows themselves.</summary>
    private int Start(ImmutableArray<int> path)
    {
        var top = -1;
        for (var i = 0; i < path.Length; i++)
            if (_tops.Contains(path[i]))
                top = i;
        if (top >= 0)
            return _tops.Count == 1 && path.Length > top + 1 ? top + 1 : top;
        var singleRoot = _tops.Count == 0 && path.Length > 1 && _book.Roots(_dimension!.Id).Take(2).Count() == 1;
        return singleRoot ? 1 : 0;
    }

    /// <summary>The bucket that a period falls into, by the ordinal of the bucket's first period.</summary>
    public int Bucket(int periodOrdinal) => BucketSpan(Period.FromOrdinal(periodOrdinal)).From.Ordinal;

    public PeriodSpan BucketSpan(Period period) => (_by.Grain ?? TimeGrain.Month).BucketOf(period);
}
