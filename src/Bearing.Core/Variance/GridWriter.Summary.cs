using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

internal sealed partial class GridWriter
{
    /// <summary>The average, the median or the difference of the rows, column by column. A variance of medians is no median, so
    /// there is none.</summary>
    /// <summary>What is taken over rows, by the rows' own figures: their average, their median, or the one less the
    /// other.</summary>
    private Row WriteSummary(RowNode parent, int level, List<RowNode> nodes, RowStatistic statistic)
    {
        var split = OfMonths ? splitters[^1] : splitters[0];
        var missing =
            split.IsTime && question.Layout.Conditions.IsEmpty
                ? Math.Max(0, plan.Blocks[0].Span.Periods().Select(p => split.BucketSpan(p)).Distinct().Count() - nodes.Count)
                : 0;
        if (statistic == RowStatistic.Difference)
        {
            var (first, second) = Named(nodes);
            var name = first is null || second is null ? "Difference" : $"{Name(first.Key)} less {Name(second.Key)}";
            var differences = _columns.Select(c => question.Growth ? Moved(c, first, second) : Less(c, first, second));
            return new Row("summary", 0, RowKind.Summary, name, [], [.. differences], SliceOf(parent), false);
        }
        var members = level == 0 ? [] : Members(parent);
        return new Row(
            level == 0 ? "summary" : IdOf(members) + "/summary",
            level,
            RowKind.Summary,
            $"{statistic} of {nodes.Count + missing} {Plural(split)}",
            members,
            [.. _columns.Select(c => Middle(c, nodes, missing, statistic))],
            SliceOf(parent),
            false
        );
    }

    /// <param name="missing">Months without a row, in which the figure is nothing.</param>
    private GridValue Middle(Column column, List<RowNode> nodes, int missing, RowStatistic statistic)
    {
        decimal? Of(Func<RowNode, decimal?> value)
        {
            var known = nodes.Select(value).OfType<decimal>().Concat(Enumerable.Repeat(0m, missing)).Order().ToList();
            var middle =
                known.Count == 0 ? (decimal?)null
                : statistic == RowStatistic.Average ? known.Sum() / known.Count
                : (known[(known.Count - 1) / 2] + known[known.Count / 2]) / 2;
            return middle is { } m ? decimal.Round(m, 6) : null;
        }
        decimal? Side(int side) => Of(n => Shown(n, RowFigure(n), column.Block, side));
        // The middle of variances is not that of the sides, so a median has none.
        decimal? VarianceOf() =>
            statistic == RowStatistic.Median ? null : Of(n => Variance(n, RowFigure(n), column.Block, column.Base + 1));
        return Value(column, Side, VarianceOf);
    }

    private GridValue Less(Column column, RowNode? first, RowNode? second)
    {
        decimal? Of(Func<RowNode, decimal?> value) => first is null || second is null ? null : value(first) - value(second);
        return Value(
            column,
            side => Of(n => Shown(n, RowFigure(n), column.Block, side)),
            () => Of(n => Variance(n, RowFigure(n), column.Block, column.Base + 1))
        );
    }

    /// <summary>Of movements: one less the other, and not their effects on profit; of rates of growth in percentage
    /// points.</summary>
    private GridValue Moved(Column column, RowNode? first, RowNode? second)
    {
        decimal? Side(RowNode? node, int side) => node is null ? null : Shown(node, RowFigure(node), column.Block, side);
        decimal? Less(int side) => Side(first, side) - Side(second, side);
        decimal? Rate(RowNode? node) =>
            Side(node, 0) - Side(node, column.Base + 1) is { } moved
                ? Percent(moved, Side(node, 0), Side(node, column.Base + 1)).Number
                : null;
        return new GridValue(
            column.Kind switch
            {
                ColumnKind.Subject => Less(0),
                ColumnKind.Base => Less(column.Base + 1),
                ColumnKind.Variance => Less(0) - Less(column.Base + 1),
                ColumnKind.Percent => Rate(first) - Rate(second),
                _ => null,
            }
        );
    }

    private GridValue Value(Column column, Func<int, decimal?> side, Func<decimal?> variance) =>
        column.Kind switch
        {
            ColumnKind.Subject => new GridValue(side(0)),
            ColumnKind.Base => new GridValue(side(column.Base + 1)),
            ColumnKind.Variance => new GridValue(variance() * Movement(figure)),
            ColumnKind.Percent when variance() is { } v => Percent(v * Movement(figure), side(0), side(column.Base + 1)),
            ColumnKind.Mark when variance() is { } v => new GridValue(
                null,
                v * GoodSign(figure) is var effect && effect > 0 ? "F"
                    : effect < 0 ? "U"
                    : ""
            ),
            _ => new GridValue(null),
        };

    private string Plural(Splitter splitter) =>
        splitter.IsTime
            ? question.Layout.Rows.First(b => b.Grain is not null).Grain!.Value switch
            {
                TimeGrain.Month => "months",
                TimeGrain.Quarter => "quarters",
                TimeGrain.Half => "halves",
                _ => "years",
            }
            : "rows by " + (question.Layout.Rows[0].Level ?? splitter.Dimension!.Name).ToLowerInvariant();
}
