using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

/// <summary>Turns the tree of sums into rows and columns: signs as people read them, order, rest row, calculated lines,
/// shares.</summary>
internal sealed partial class GridWriter(
    Book book,
    Question question,
    Figure figure,
    ComparisonPlan plan,
    ImmutableArray<Splitter> splitters,
    SlotLayout layout,
    ImmutableArray<BesideFigure> beside
)
{
    private readonly ImmutableArray<Column> _columns = Columns(book, question, figure, plan, beside);

    public Grid Write(RowNode root)
    {
        var rows = ImmutableArray.CreateBuilder<Row>();
        if (question.Layout.Ranking is { Pairs: true } ranking && splitters.Length > 1)
            WritePairs(root, ranking, rows);
        else
            WriteChildren(root, 0, rows);
        if (question.Of.Statistic is not (null or RowStatistic.Count))
            rows.Add(WriteSummary(root, 0, OfMonths ? Months(root) : Counted(root), question.Of.Statistic.Value));
        rows.Add(WriteRow(root, 0, RowKind.Total, beside.IsEmpty ? figure.Name : "Total", [], null));
        return new Grid(_columns, rows.ToImmutable(), figure.Unit, figure.Decimals);
    }

    private static ImmutableArray<Column> Columns(
        Book book,
        Question question,
        Figure figure,
        ComparisonPlan plan,
        ImmutableArray<BesideFigure> beside
    )
    {
        var columns = ImmutableArray.CreateBuilder<Column>();
        for (var b = 0; b < plan.Blocks.Length; b++)
        {
            var (block, span) = (b, plan.Blocks[b].Span);
            var prefix = plan.Blocks.Length > 1 ? span + "." : "";
            void Add(ColumnKind kind, string title, Side? side, int index) =>
                columns.Add(
                    new Column(
                        prefix + kind.ToString().ToLowerInvariant() + (index > 0 ? index + 1 : ""),
                        kind,
                        title,
                        side,
                        span,
                        block,
                        index
                    )
                );

            Add(
                ColumnKind.Subject,
                beside.IsEmpty ? book.NameOf(question.Scope.Subject) : figure.Name,
                question.Scope.Subject,
                0
            );
            var ofSides = question.SharesOfSides;
            if (ofSides || (question.Of.Shares is not null && question.Scope.Bases.Length == 0))
                Add(ColumnKind.Share, ofSides ? "Share %" : "Share of total %", question.Scope.Subject, 0);
            if (question.SharesWithin is { } outer)
                Add(ColumnKind.Share, $"Share within {outer} %", null, 1);
            for (var i = 0; i < question.Scope.Bases.Length; i++)
            {
                Add(ColumnKind.Base, book.NameOf(question.Scope.Bases[i], span), plan.Blocks[b].Sides[i + 1].Side, i);
                if (ofSides)
                    Add(ColumnKind.Share, "Share %", question.Scope.Bases[i], i + 1);
                Add(
                    ColumnKind.Variance,
                    question.Growth ? "Change"
                        : question.Of.Cumulative ? "Cumulative variance"
                        : "Variance",
                    null,
                    i
                );
                if (figure is not PairFigure { Rule: PairRule.Percent })
                    Add(ColumnKind.Percent, question.Growth ? "Growth %" : "%", null, i);
                Add(ColumnKind.Mark, "F/U", null, i);
                // With two bases side by side the table would outgrow the page.
                if (question.Of.Shares is not null)
                    Add(ColumnKind.Share, "Share of variance %", null, ofSides ? i + 2 : i);
                else if (
                    figure is SumFigure
                    && question.Layout.Rows.Length > 0
                    && question.Scope.Bases.Length == 1
                    && question.Scope.Spans.Length <= 2
                )
                    Add(ColumnKind.Share, "Share", null, i);
            }
        }
        columns.AddRange(
            beside.Select(
                (b, i) =>
                    new Column(
                        $"beside{(i > 0 ? i + 1 : "")}",
                        ColumnKind.Beside,
                        b.Figure.Name,
                        question.Scope.Subject,
                        b.Plan.Blocks[0].Span,
                        0,
                        i
                    )
                    {
                        Figure = b.Figure,
                    }
            )
        );
        return columns.ToImmutable();
    }

    private void WriteChildren(RowNode parent, int level, ImmutableArray<Row>.Builder rows)
    {
        var ranking = question.Layout.Ranking is { } asked && level == (asked.Within ? 1 : 0) ? asked : null;
        var nodes = Ordered(parent, level).Where(Passes).ToList();
        // The rows passed over are part of the rest, so that all rows still add up.
        var skip = ranking is null ? 0 : Math.Min(ranking.Skip, nodes.Count);
        if (skip > 0)
            nodes = [.. nodes.Skip(skip), .. nodes.Take(skip)];
        var keep = ranking is null ? nodes.Count : Math.Min(ranking.Count, nodes.Count - skip);
        if (ranking is { BothEnds: true } && nodes.Count > keep)
        {
            var end = Math.Min(ranking.Count, nodes.Count - keep);
            nodes = [.. nodes.Take(keep), .. nodes.TakeLast(end), .. nodes.Skip(keep).SkipLast(end)];
            keep += end;
        }
        var gross = Gross(parent.Children.Values);
        var lines =
            level == 0 && question.Layout.Ranking is null && question.Layout.Conditions.IsEmpty ? CalculatedLines(nodes) : [];
        for (var i = 0; i < keep; i++)
        {
            var node = nodes[i];
            var kind = node.Children.Count > 0 ? RowKind.Subtotal : RowKind.Member;
            rows.Add(WriteRow(node, level, kind, Name(node.Key), Members(node), gross));
            WriteChildren(node, level + 1, rows);
            if (OfMonths && node.Children.Count > 0 && node.Children.Keys.All(k => k.Dimension == RowKey.Time))
                rows.Add(WriteSummary(node, level + 1, [.. node.Children.Values.Where(Passes)], question.Of.Statistic!.Value));
            foreach (var line in lines.Where(l => l.After == i))
                rows.Add(WriteLine(line.Line, line.Nodes));
        }
        if (keep < nodes.Count)
            rows.Add(WriteRest(parent, nodes, keep, level, gross));
    }

    /// <summary>The innermost rows in one order, each named by what it stands in; the rest below.</summary>
    private void WritePairs(RowNode root, Ranking ranking, ImmutableArray<Row>.Builder rows)
    {
        var nodes = InOrder(Innermost(root).Where(Passes), ranking);
        var gross = Gross(nodes);
        var skip = Math.Min(ranking.Skip, nodes.Count);
        var kept = nodes.Skip(skip).Take(ranking.Count).ToList();
        foreach (var node in kept)
        {
            var names = node.Path().GroupBy(n => n.Key.Dimension).Select(g => Name(g.First().Key)).Reverse();
            rows.Add(WriteRow(node, 0, RowKind.Member, string.Join(" · ", names), Members(node), gross));
        }
        // What is left has no address of its own: no filter says “all but these pairs”.
        var rest = nodes.Take(skip).Concat(nodes.Skip(skip + kept.Count)).ToList();
        if (rest.Count > 0)
            rows.Add(
                new Row(
                    "other",
                    0,
                    RowKind.Other,
                    $"Other ({rest.Count})",
                    [],
                    Values(Sum(root, rest), figure, gross),
                    SliceOf(root),
                    false
                )
            );
    }

    private static IEnumerable<RowNode> Innermost(RowNode node) =>
        node.Children.Values.SelectMany(c => c.Children.Count == 0 ? [c] : Innermost(c));

    /// <summary>What rows come to together; accounts that are divided by the same count it once.</summary>
    private RowNode Sum(RowNode? parent, IEnumerable<RowNode> nodes)
    {
        var sum = new RowNode(parent, parent?.Key ?? default, layout.Count + beside.Sum(b => b.Parts.Length));
        var divided = new HashSet<RowNode>();
        foreach (var node in nodes)
        {
            var again =
                figure is PairFigure
                && node.Key.Dimension == book.Accounts.Id
                && node.Path().FirstOrDefault(n => n.Key.Dimension != book.Accounts.Id) is var within
                && !divided.Add(within ?? Root(node));
            for (var s = 0; s < sum.Sums.Length; s++)
                if (node.Sums[s] is { } amount && !(again && s < layout.Count && s % layout.Parts == 1))
                    sum.Add(s, amount);
        }
        return sum;
    }

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
        // "Which … in every month": a row counts where all of its months do.
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

    /// <summary>"Average monthly revenue by clinic": the average of each row is one of its months.</summary>
    private bool OfMonths =>
        question.Of.Statistic is RowStatistic.Average or RowStatistic.Median && splitters.Length > 1 && splitters[^1].IsTime;

    /// <summary>What all rows come to, month by month or in whatever time is cut into.</summary>
    private List<RowNode> Months(RowNode root) =>
        [.. Innermost(root).Where(Passes).GroupBy(n => n.Key).Select(g => Sum(root, g))];

    /// <summary>The average, the median or the difference of the rows, column by column. A variance of medians is no median, so
    /// there is none.</summary>
    private Row WriteSummary(RowNode parent, int level, List<RowNode> nodes, RowStatistic statistic)
    {
        var (first, second) = Named(nodes);
        var split = OfMonths ? splitters[^1] : splitters[0];
        var missing =
            split.IsTime && question.Layout.Conditions.IsEmpty
                ? plan.Blocks[0].Span.Periods().Select(p => split.BucketSpan(p)).Distinct().Count() - nodes.Count
                : 0;
        decimal? Of(Func<RowNode, decimal?> value)
        {
            if (statistic == RowStatistic.Difference)
                return first is null || second is null ? null : value(first) - value(second);
            var known = nodes
                .Select(value)
                .OfType<decimal>()
                .Concat(Enumerable.Repeat(0m, Math.Max(0, missing)))
                .Order()
                .ToList();
            return known.Count == 0
                ? null
                : decimal.Round(
                    statistic == RowStatistic.Average
                        ? known.Sum() / known.Count
                        : (known[(known.Count - 1) / 2] + known[known.Count / 2]) / 2,
                    6
                );
        }
        decimal? Rate(RowNode? node, int block, int side) =>
            node is not null && Shown(node, RowFigure(node), block, 0) - Shown(node, RowFigure(node), block, side) is { } moved
                ? Percent(moved, Shown(node, RowFigure(node), block, 0), Shown(node, RowFigure(node), block, side)).Number
                : null;
        var values = _columns.Select(column =>
        {
            decimal? Side(int side) => Of(n => Shown(n, RowFigure(n), column.Block, side));
            var variance =
                statistic == RowStatistic.Median
                    ? null
                    : Of(n =>
                        column.Kind is ColumnKind.Subject or ColumnKind.Share
                            ? null
                            : Variance(n, RowFigure(n), column.Block, column.Base + 1)
                    );
            return column.Kind switch
            {
                ColumnKind.Subject => new GridValue(Side(0)),
                ColumnKind.Base => new GridValue(Side(column.Base + 1)),
                // Of income and costs their movements, and not their effects on profit.
                ColumnKind.Variance when statistic == RowStatistic.Difference && question.Growth => new GridValue(
                    Side(0) - Side(column.Base + 1)
                ),
                ColumnKind.Mark when statistic == RowStatistic.Difference && question.Growth => new GridValue(null),
                ColumnKind.Variance => new GridValue(variance * Movement(figure)),
                // One rate of growth less the other, in percentage points.
                ColumnKind.Percent when statistic == RowStatistic.Difference && question.Growth => new GridValue(
                    Rate(first, column.Block, column.Base + 1) - Rate(second, column.Block, column.Base + 1)
                ),
                ColumnKind.Percent when variance is { } v => Percent(v * Movement(figure), Side(0), Side(column.Base + 1)),
                ColumnKind.Mark when variance is { } v => new GridValue(
                    null,
                    v * GoodSign(figure) is var effect && effect > 0 ? "F"
                        : effect < 0 ? "U"
                        : ""
                ),
                _ => new GridValue(null),
            };
        });
        if (statistic == RowStatistic.Difference)
            return new Row(
                "summary",
                0,
                RowKind.Summary,
                first is null || second is null ? "Difference" : $"{Name(first.Key)} less {Name(second.Key)}",
                [],
                [.. values],
                SliceOf(parent),
                false
            );
        var members = level == 0 ? [] : Members(parent);
        return new Row(
            level == 0 ? "summary" : IdOf(members) + "/summary",
            level,
            RowKind.Summary,
            $"{statistic} of {nodes.Count + Math.Max(0, missing)} {Plural(split)}",
            members,
            [.. values],
            SliceOf(parent),
            false
        );
    }

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

    private Row WriteRow(
        RowNode node,
        int level,
        RowKind kind,
        string label,
        ImmutableArray<RowMember> members,
        (decimal[] Up, decimal[] Down)? gross
    )
    {
        var id = kind == RowKind.Total ? "total" : IdOf(members);
        return new Row(id, level, kind, label, members, Values(node, RowFigure(node), gross), SliceOf(node), CanOpen(node));
    }

    private static string IdOf(ImmutableArray<RowMember> members) =>
        string.Join('/', members.Select(m => $"{m.Dimension}:{m.Code}"));

    private Row WriteLine(StatementLine line, List<RowNode> nodes)
    {
        var sum = Sum(null, nodes);
        var reference = new FigureRef(FigureKind.Measure, line.Code);
        var slice = SliceOf(sum) with { Figure = reference };
        return new Row(
            $"line:{line.Code}",
            0,
            RowKind.Calculated,
            line.Name,
            [],
            Values(sum, book.Figure(reference)!, null),
            slice,
            true
        );
    }

    /// <summary>Statement lines that are complete within the rows of a wider line, each placed after its last account.</summary>
    private List<(StatementLine Line, List<RowNode> Nodes, int After)> CalculatedLines(List<RowNode> nodes)
    {
        var result = new List<(StatementLine, List<RowNode>, int)>();
        if (
            book.Definition.Statement.All(l => l.Code != question.Scope.Figure.Code)
            || splitters.Length == 0
            || splitters[0].Dimension?.Role != DimensionRole.Account
        )
            return result;
        // Of a choice of accounts a line would be a part of itself under its whole name.
        if (question.Scope.Filters.Any(f => f.Dimension == book.Accounts.Code))
            return result;
        foreach (var line in book.Definition.Statement.TakeWhile(l => l.Code != question.Scope.Figure.Code))
        {
            if (book.Figure(new(FigureKind.Measure, line.Code)) is not SumFigure sum)
                continue;
            var indexes = Enumerable.Range(0, nodes.Count).Where(i => sum.Accounts.Contains(nodes[i].Key.Id)).ToList();
            if (indexes.Count == 0 || nodes.Count < 2)
                continue;
            result.Add((line, [.. indexes.Select(i => nodes[i])], indexes[^1]));
        }
        return result;
    }

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
        var ordered =
            ranking.By == RankBy.Name
                ? children
                    .OrderBy(n => n.Key.Dimension == RowKey.Time ? n.Key.Id : 0)
                    .ThenBy(n => Name(n.Key), StringComparer.OrdinalIgnoreCase)
                    .ToList()
                : children
                    .OrderByDescending(n => RankValue(n, ranking.By, ranking.InPercent))
                    .ThenBy(n => SortKey(n.Key))
                    .ToList();
        if (ranking.Ascending)
            ordered.Reverse();
        // What was not assigned is no member that could be first; what has no figure, such as the growth from nothing, comes last
        // from either end.
        return
        [
            .. ordered
                .OrderBy(n => n.Key.Dimension != RowKey.Time && n.Key.Id < Member.FirstOwnId)
                .ThenBy(n => ranking.By != RankBy.Name && RankValue(n, ranking.By, ranking.InPercent) == decimal.MinValue),
        ];
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

    private bool CanOpen(RowNode node) =>
        node.Parent is null
        || (
            node.Key.Dimension == RowKey.Time
                ? splitters.First(s => s.IsTime).BucketSpan(Period.FromOrdinal(node.Key.Id)).Count > 1
                : node.Key.Id >= Member.FirstOwnId && book.HasChildren(book.Member(node.Key.Id))
        );

    private string Name(RowKey key) => key.Dimension == RowKey.Time ? book.Calendar.NameOf(Bucket(key)) : book.Label(key.Id).Name;

    private PeriodSpan Bucket(RowKey key) => splitters.First(s => s.IsTime).BucketSpan(Period.FromOrdinal(key.Id));

    private ImmutableArray<RowMember> Members(RowNode node) =>
        [
            .. node.Path()
                .Reverse()
                .Select(n =>
                    n.Key.Dimension == RowKey.Time
                        ? new RowMember("period", Bucket(n.Key).ToString(), book.Calendar.NameOf(Bucket(n.Key)))
                        : new RowMember(
                            book.Dimension(n.Key.Dimension).Code,
                            book.Label(n.Key.Id).Code,
                            book.Label(n.Key.Id).Name
                        )
                ),
        ];

    private Slice SliceOf(RowNode node)
    {
        var slice = new Slice(question.Scope.Subject, plan.Blocks[0].Span, question.Scope.Figure, question.Scope.Filters);
        // Innermost first: within one dimension the deepest member says it all.
        foreach (var group in node.Path().GroupBy(n => n.Key.Dimension))
        {
            var key = group.First().Key;
            if (key.Dimension == RowKey.Time)
                slice = slice with { Span = Bucket(key).Intersect(slice.Span) ?? slice.Span };
            else if (key.Dimension == book.Accounts.Id)
                slice = slice with { Figure = FigureOf(book.Label(key.Id).Code) };
            else
                slice = slice with { Filters = With(slice.Filters, book.Dimension(key.Dimension).Code, book.Label(key.Id).Code) };
        }
        return slice;
    }

    private FigureRef FigureOf(string account)
    {
        var alone = new FigureRef(FigureKind.Account, account);
        return figure is PairFigure pair ? book.Divided(alone, pair)?.Ref ?? alone : alone;
    }

    private static ImmutableArray<Filter> With(ImmutableArray<Filter> filters, string dimension, string code) =>
        filters.RemoveAll(f => f.Dimension == dimension && !f.Exclude).Add(new Filter(dimension, [code]));
}
