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
    private readonly ImmutableArray<Column> _columns = new GridColumns(book, question, figure, plan).With(beside);

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
