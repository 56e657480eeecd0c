using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Variance;

/// <summary>What stands in the cells of a row.</summary>
internal sealed partial class GridWriter
{
    private ImmutableArray<GridValue> Values(RowNode node, Figure rowFigure, (decimal[] Up, decimal[] Down)? gross)
    {
        var values = ImmutableArray.CreateBuilder<GridValue>(_columns.Length);
        foreach (var column in _columns)
            values.Add(Value(node, rowFigure, column, gross));
        return values.MoveToImmutable();
    }

    private GridValue Value(RowNode node, Figure rowFigure, Column column, (decimal[] Up, decimal[] Down)? gross)
    {
        var (block, side) = (column.Block, column.Base + 1);
        if (column.Kind == ColumnKind.Subject)
            return Number(Shown(node, rowFigure, block, 0), node, block, 0);
        if (column.Kind == ColumnKind.Beside)
            return Beside(node, beside[column.Base]);
        if (column.Kind == ColumnKind.Share && question.Of.Shares is not null)
        {
            if (column.Side is { })
                return ShareOf(node, rowFigure, Root(node), block, column.Base, 0);
            var innermost = splitters[^1].IsTime ? RowKey.Time : splitters[^1].Dimension!.Id;
            if (question.Scope.Bases.IsEmpty)
                return
                    node.Key.Dimension == innermost
                    && node.Path().FirstOrDefault(n => n.Key.Dimension != node.Key.Dimension) is { } outer
                    ? ShareOf(node, rowFigure, outer, block, 0, 0)
                    : new GridValue(null);
            return ShareOf(node, rowFigure, Root(node), block, null, question.SharesOfSides ? 1 : side);
        }
        if (column.Kind == ColumnKind.Base)
            return Number(Shown(node, rowFigure, block, side), node, block, side);
        if (Variance(node, rowFigure, block, side) is not { } variance)
            return Number(null, node, block, side);
        switch (column.Kind)
        {
            case ColumnKind.Variance:
                return new GridValue(variance * Movement(rowFigure));
            case ColumnKind.Mark:
                var effect = variance * GoodSign(rowFigure);
                return new GridValue(
                    null,
                    effect > 0 ? "F"
                        : effect < 0 ? "U"
                        : ""
                );
            case ColumnKind.Percent:
                return Percent(
                    variance * Movement(rowFigure),
                    Shown(node, rowFigure, block, 0),
                    Shown(node, rowFigure, block, side)
                );
            default:
                var index = (block * question.Scope.Bases.Length) + column.Base;
                var whole =
                    gross is not { } g ? 0m
                    : variance > 0 ? g.Up[index]
                    : g.Down[index];
                return whole == 0m ? new GridValue(null) : new GridValue(decimal.Round(100m * Math.Abs(variance) / whole, 4));
        }
    }

    private static GridValue Beside(RowNode node, BesideFigure further)
    {
        var kept = node.Path().All(n => n.Key.Dimension == RowKey.Time || further.Side.Kept.Contains(n.Key.Dimension));
        decimal? Stored(int part) => node.Sums[further.Slot + part] ?? (kept ? 0m : null);
        return Of(further.Figure, Stored) is { } number
            ? new GridValue(number)
            : GridValue.Absent(kept ? Absence.NotMeaningful : Absence.NotKept);
    }

    /// <summary>A figure worked out from its stored parts, with the signs that people read.</summary>
    private static decimal? Of(Figure figure, Func<int, decimal?> stored)
    {
        if (figure is PairFigure pair)
            return pair.Of(stored(0) * pair.Top.ShownSign, stored(1) * pair.Bottom.ShownSign);
        var sum = (SumFigure)figure;
        // What was translated or averaged is rounded here, once.
        return stored(0) * sum.ShownSign is { } shown
            ? decimal.Round(shown, sum.OverTime == OverTime.Average ? 6 : Rate.MoneyDecimals, MidpointRounding.AwayFromZero)
            : null;
    }

    private static RowNode Root(RowNode node) => node.Parent is { } above ? Root(above) : node;

    /// <summary>Part of another row, in percent: of one side's amounts, or of the variance. Parts of opposite sign can make it
    /// more than all.</summary>
    /// <param name="side">0 for the subject, then the bases; null for the variance against <paramref name="reference"/>.</param>
    private GridValue ShareOf(RowNode node, Figure rowFigure, RowNode of, int block, int? side, int reference)
    {
        decimal? Amount(RowNode at, Figure its) =>
            side is { } shown ? Shown(at, its, block, shown) : Variance(at, its, block, reference);
        return Amount(of, RowFigure(of)) is { } whole && whole != 0m && Amount(node, rowFigure) is { } part
            ? new GridValue(decimal.Round(100m * part / whole, 4))
            : GridValue.Absent(Absence.NotMeaningful);
    }

    /// <summary>Percent of the absolute base; not meaningful against zero or a base of the opposite sign.</summary>
    public static GridValue Percent(decimal variance, decimal? subject, decimal? reference) =>
        reference is not { } b || b == 0m || (subject is { } s && Math.Sign(s) * Math.Sign(b) < 0)
            ? GridValue.Absent(Absence.NotMeaningful)
            : new GridValue(decimal.Round(100m * variance / Math.Abs(b), 4));

    private GridValue Number(decimal? number, RowNode node, int block, int side)
    {
        if (number is not null)
            return new GridValue(number);
        var sidePlan = plan.Blocks[block].Sides[side];
        if (sidePlan.Absence is { } absence)
            return GridValue.Absent(absence);
        var kept = sidePlan.Kept;
        var notKept = node.Path()
            .Any(n => n.Key.Dimension != RowKey.Time && n.Key.Dimension != book.Accounts.Id && !kept.Contains(n.Key.Dimension));
        return GridValue.Absent(
            notKept ? Absence.NotKept
            : figure is PairFigure ? Absence.NotMeaningful
            : Absence.Missing
        );
    }

    /// <summary>Null when the side has nothing to say; zero when it covers the row and has no facts.</summary>
    private decimal? Shown(RowNode node, Figure rowFigure, int block, int side) =>
        Of(rowFigure, part => Stored(node, block, side, part));

    private decimal? Stored(RowNode node, int block, int side, int part)
    {
        if (node.Sums[layout.Slot(block, side, part)] is { } sum)
            return sum;
        var sidePlan = plan.Blocks[block].Sides[side];
        if (sidePlan.Version is null)
            return null;
        var kept = sidePlan.Kept;
        return node.Path()
            .Any(n => n.Key.Dimension != RowKey.Time && n.Key.Dimension != book.Accounts.Id && !kept.Contains(n.Key.Dimension))
            ? null
            : 0m;
    }

    private decimal? Variance(RowNode node, Figure rowFigure, int block, int side)
    {
        var difference = Shown(node, rowFigure, block, 0) - Shown(node, rowFigure, block, side);
        return rowFigure is SumFigure { IsProfit: true } sum ? difference * sum.ShownSign : difference;
    }

    /// <summary>Turns effect on profit into movement where growth is asked for.</summary>
    private int Movement(Figure rowFigure) =>
        question.Growth && rowFigure is SumFigure { IsProfit: true } sum ? sum.ShownSign : 1;

    private static int GoodSign(Figure rowFigure) =>
        rowFigure is SumFigure { IsProfit: true }
            ? 1
            : rowFigure.Good switch
            {
                GoodDirection.Up => 1,
                GoodDirection.Down => -1,
                _ => 0,
            };

    /// <summary>Gross favourable and gross unfavourable movement of siblings, for each block and base.</summary>
    private (decimal[] Up, decimal[] Down) Gross(IEnumerable<RowNode> siblings)
    {
        var count = layout.Blocks * question.Scope.Bases.Length;
        var (up, down) = (new decimal[count], new decimal[count]);
        foreach (var node in siblings)
            for (var i = 0; i < count; i++)
            {
                var variance = Variance(
                    node,
                    RowFigure(node),
                    i / question.Scope.Bases.Length,
                    (i % question.Scope.Bases.Length) + 1
                ) ?? 0m;
                (variance > 0 ? up : down)[i] += Math.Abs(variance);
            }
        return (up, down);
    }

    /// <summary>A row below an account shows that account's own sign and unit, alone or divided.</summary>
    private Figure RowFigure(RowNode node)
    {
        if (node.Path().FirstOrDefault(n => n.Key.Dimension == book.Accounts.Id) is not { } row)
            return figure;
        var account = book.AccountFigure(book.Member(row.Key.Id));
        return figure is PairFigure pair
            ? pair with
            {
                Top = account,
                Good = account.ShownSign < 0 ? GoodDirection.Down : GoodDirection.Up,
            }
            : account;
    }
}
