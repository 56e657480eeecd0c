using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

internal sealed partial class GridWriter
{
    private List<RowNode> Ordered(RowNode parent, int level)
    {
        var children = parent.Children.Values;
        if (question.Layout.Ranking is not { } ranking || (ranking.Within && level == 0))
            return
            [
                .. children
                    .OrderByDescending(n =>
                        question.Layout.Conditions.IsEmpty || n.Key.Dimension == RowKey.Time
                            ? 0m
                            : Math.Abs(RankValue(n, RankBy.Size) is var size && size == decimal.MinValue ? 0m : size)
                    )
                    .ThenBy(n => SortKey(n.Key)),
            ];
        return InOrder(children, ranking);
    }

    private List<RowNode> InOrder(IEnumerable<RowNode> children, Ranking ranking)
    {
        var nodes = children.ToList();
        var rank = ranking.By == RankBy.Unusual ? FromTheMiddle(nodes) : n => RankValue(n, ranking.By, ranking.InPercent);
        var ordered =
            ranking.By == RankBy.Name
                ? nodes
                    .OrderBy(n => n.Key.Dimension == RowKey.Time ? n.Key.Id : 0)
                    .ThenBy(n => Name(n.Key), StringComparer.OrdinalIgnoreCase)
                    .ToList()
                : nodes.OrderByDescending(rank).ThenBy(n => SortKey(n.Key)).ToList();
        if (ranking.Ascending)
            ordered.Reverse();
        // What was not assigned is no member that could be first; what has no figure, such as the growth from nothing, comes last
        // from either end.
        return
        [
            .. ordered
                .OrderBy(n => n.Key.Dimension != RowKey.Time && n.Key.Id < Member.FirstOwnId)
                .ThenBy(n => ranking.By != RankBy.Name && rank(n) == decimal.MinValue),
        ];
    }

    /// <summary>How far each lies from the median of all that have a figure: of what is compared its variance, otherwise its
    /// amount.</summary>
    private Func<RowNode, decimal> FromTheMiddle(List<RowNode> nodes)
    {
        decimal? Amount(RowNode n) =>
            question.Scope.Bases.IsEmpty ? Shown(n, RowFigure(n), 0, 0) : Variance(n, RowFigure(n), 0, 1);
        var sorted = nodes.Select(Amount).OfType<decimal>().Order().ToList();
        if (sorted.Count == 0)
            return _ => decimal.MinValue;
        var middle = (sorted[(sorted.Count - 1) / 2] + sorted[sorted.Count / 2]) / 2m;
        return n => Amount(n) is { } amount ? Math.Abs(amount - middle) : decimal.MinValue;
    }

    private decimal RankValue(RowNode node, RankBy by, bool inPercent = false)
    {
        var rowFigure = RowFigure(node);
        if (by == RankBy.Value || question.Scope.Bases.Length == 0)
            return Shown(node, rowFigure, 0, 0) ?? decimal.MinValue;
        var (now, before) = (Shown(node, rowFigure, 0, 0), Shown(node, rowFigure, 0, 1));
        if (by == RankBy.Percent)
            return now - before is { } moved ? Percent(moved, now, before).Number ?? decimal.MinValue : decimal.MinValue;
        if (
            Variance(node, rowFigure, 0, 1) is not { } variance
            || (inPercent ? Percent(variance, now, before).Number : variance) is not { } gap
        )
            return decimal.MinValue;
        var effect = gap * (GoodSign(rowFigure) is 0 ? 1 : GoodSign(rowFigure));
        return by switch
        {
            RankBy.Size => Math.Abs(effect),
            RankBy.Unfavourable => -effect,
            _ => effect,
        };
    }

    /// <summary>Tree order; fixed members (unassigned, not kept) last.</summary>
    private (int, int, string) SortKey(RowKey key) =>
        key.Dimension == RowKey.Time ? (0, key.Id, "")
        : key.Id < Member.FirstOwnId ? (1, key.Id, "")
        : (0, book.Member(key.Id).Order, book.Member(key.Id).Code);
}
