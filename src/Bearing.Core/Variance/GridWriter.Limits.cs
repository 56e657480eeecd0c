using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

internal sealed partial class GridWriter
{
    /// <summary>Rows that hold rows are shown for those; the others have to meet every condition of the question.</summary>
    private bool Passes(RowNode node)
    {
        // A ratio without its parts, such as revenue per visit of a head office, is no row.
        if (
            beside.IsEmpty
            && figure is PairFigure { Rule: not PairRule.Difference }
            && node.Children.Count == 0
            && node.Key.Dimension != RowKey.Time
            && Enumerable
                .Range(0, layout.Sides)
                .All(s => node.Sums[layout.Slot(0, s, 0)] is null || node.Sums[layout.Slot(0, s, 1)] is null or 0m)
        )
            return false;
        if (question.Layout.Conditions.IsEmpty)
            return true;
        // A row counts where all of its months do.
        if (node.Children.Count > 0 && question.Layout.InEvery && node.Children.Keys.All(k => k.Dimension == RowKey.Time))
        {
            var all = node.Children.Values.All(m => MeetsAll(m));
            if (IsNobody(node.Key))
                return all;
            Tested++;
            if (all)
                Met++;
            return all;
        }
        if (node.Children.Count > 0)
            return node.Children.Values.Any(Passes);
        if (node.Parent is { } above && question.Layout.InEvery && node.Key.Dimension == RowKey.Time && above.Parent is not null)
            return true;
        var passes = MeetsAll(node);
        // What was assigned to nobody is a row, and nobody that could be counted.
        if (IsNobody(node.Key))
            return passes;
        Tested++;
        if (passes)
            Met++;
        return passes;
    }

    private bool MeetsAll(RowNode node) => question.Layout.Conditions.All(c => Meets(node, RowFigure(node), c));

    private static bool IsNobody(RowKey key) => key.Dimension != RowKey.Time && key.Id < Member.FirstOwnId;

    /// <summary>Rows that were held against the conditions, and those that met them.</summary>
    public int Tested { get; private set; }

    public int Met { get; private set; }

    private bool Meets(RowNode node, Figure rowFigure, Condition condition)
    {
        if (question.Scope.Bases.Length == 0)
        {
            if (condition.On != ConditionOn.Amount || Shown(node, rowFigure, 0, 0) is not { } value)
                return false;
            if (condition.Value == 0m)
                return condition.Direction is Direction.Under ? value < 0m : value > 0m;
            if (condition.Value < 0m)
                return condition.Direction is Direction.Under ? value <= condition.Value : value >= condition.Value;
            if (condition.Direction == Direction.Within)
                return Math.Abs(value) <= condition.Value;
            return condition.Direction is Direction.Under or Direction.Against
                ? value <= condition.Value
                : Math.Abs(value) >= condition.Value;
        }
        var side = condition.Of is { } of ? 1 + question.Scope.Bases.IndexOf(of) : 1;
        var (now, before) = (Shown(node, rowFigure, 0, 0), Shown(node, rowFigure, 0, side));
        if (condition.On is ConditionOn.New or ConditionOn.Ended)
            return now is not null
                && before is not null
                && (condition.On == ConditionOn.New ? now != 0m && before == 0m : now == 0m && before != 0m);
        if (condition.On == ConditionOn.Base)
            return before is { } reference
                && (
                    condition.Direction == Direction.Under
                        ? Math.Abs(reference) <= condition.Value
                        : Math.Abs(reference) >= condition.Value
                );
        if (Variance(node, rowFigure, 0, side) is not { } variance)
            return false;
        var size = condition.On == ConditionOn.Percent ? Percent(variance, now, before).Number : variance;
        if (condition.Direction == Direction.Within)
            return size is { } near && Math.Abs(near) <= condition.Value;
        return size is not null
            && Math.Abs(size.Value) >= condition.Value
            && Holds(condition.Direction, now - before, variance * GoodSign(rowFigure));
    }

    /// <summary>Whether a difference lies on the side that is claimed.</summary>
    /// <param name="bySize">As people read the figure.</param>
    /// <param name="byProfit">As effect on profit.</param>
    internal static bool Holds(Direction direction, decimal? bySize, decimal byProfit) =>
        direction switch
        {
            Direction.Over => bySize > 0,
            Direction.Under => bySize < 0,
            Direction.Against => byProfit < 0,
            Direction.For => byProfit >= 0,
            Direction.Within => bySize == 0,
            _ => true,
        };

    private Row WriteRest(RowNode parent, List<RowNode> nodes, int keep, int level, (decimal[] Up, decimal[] Down) gross)
    {
        var rest = Sum(parent, nodes.Skip(keep));
        var kept = nodes.Take(keep).Select(n => n.Key).Where(k => k.Dimension != RowKey.Time).ToList();
        var slice = SliceOf(parent);
        if (kept.Count > 0)
        {
            var dimension = book.Dimension(kept[0].Dimension);
            slice = slice with
            {
                Filters = slice.Filters.Add(new Filter(dimension.Code, [.. kept.Select(k => book.Label(k.Id).Code)], true)),
            };
        }
        var members = level == 0 ? [] : Members(parent);
        var id = string.Concat(members.Select(m => $"{m.Dimension}:{m.Code}/")) + "other";
        return new Row(
            id,
            level,
            RowKind.Other,
            $"Other ({nodes.Count - keep})",
            members,
            Values(rest, figure, gross),
            slice,
            false
        );
    }

    /// <summary>Rows of the outermost split at its finest level, of those that meet the conditions.</summary>
    private List<RowNode> Counted(RowNode parent) =>
        [
            .. parent
                .Children.Values.Where(Passes)
                .SelectMany(n => n.Children.Values.Any(c => c.Key.Dimension == n.Key.Dimension) ? Counted(n) : [n]),
        ];

    /// <summary>Rows that meet the conditions, of all; without conditions those with a figure.</summary>
    public (int Met, int Of) Count(RowNode root)
    {
        if (!question.Layout.Conditions.IsEmpty)
            return (Met, Tested);
        var with = Counted(root).Count(n => !IsNobody(n.Key) && Shown(n, RowFigure(n), 0, 0) is not (null or 0m));
        return (with, with);
    }

    /// <summary>The two members whose difference is asked for, as they were named; a part of either that is no row of its own is
    /// no zero.</summary>
    private (RowNode? First, RowNode? Second) Named(List<RowNode> nodes)
    {
        var codes = question
            .Scope.Filters.FirstOrDefault(f => f.Dimension == splitters[0].Dimension?.Code && f.Members.Length == 2)
            ?.Members
            ?? [];
        RowNode? Row(int at) => codes.Length > at ? nodes.Find(n => book.Label(n.Key.Id).Code == codes[at]) : null;
        return (Row(0), Row(1));
    }

    /// <summary>The average of each row is one of its months, where rows are split by more than time.</summary>
    private bool OfMonths =>
        question.Of.Statistic is RowStatistic.Average or RowStatistic.Median && splitters.Length > 1 && splitters[^1].IsTime;

    /// <summary>What all rows come to, month by month or in whatever time is cut into.</summary>
    private List<RowNode> Months(RowNode root) =>
        [.. Innermost(root).Where(Passes).GroupBy(n => n.Key).Select(g => Sum(root, g))];
}
