using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>
/// Computes the grid of a question: account × entity × period × any dimension, one side or several.
/// Sums are taken once for every row and side, so parts and parents come from the same additions and agree exactly;
/// ratios are recomputed from their parts on every row.
/// </summary>
public sealed class Tabulator(Book book, IFacts facts)
{
    private readonly Admission _admission = new(book);
    private readonly RowFilling _filling = new(book, facts);

    /// <exception cref="CannotAnswerException">When the book lacks what is asked for; the message says what.</exception>
    public async ValueTask<Tabulation> Tabulate(Question asked, CancellationToken cancel)
    {
        var (question, figure) = _admission.Of(asked);
        var plan = new ComparisonPlan(book, question);
        var isPicked = question.Layout.Ranking is not null || question.Layout.Conditions.Length > 0;
        var splitters = question.Layout.Rows.Select(b => new Splitter(book, question, figure, b, isPicked)).ToImmutableArray();
        var parts = PartsOf(figure);
        var layout = new SlotLayout(plan.Blocks.Length, question.Scope.Bases.Length + 1, parts.Length);
        var beside = _admission.Beside(question, layout.Count, splitters);
        var table = new Workings(question, figure, plan, splitters, parts, layout, beside, plan.Notes.Distinct().ToList());
        var root = await Sums(table, cancel);
        figure = InCurrency(figure, question.Scope.Currency);
        var writer = new GridWriter(book, question, figure, plan, splitters, layout, beside);
        var grid = writer.Write(root);
        figure = Finer(figure, grid, c => c.Kind is ColumnKind.Subject or ColumnKind.Base);
        grid = grid with
        {
            Decimals = figure.Decimals,
            Columns =
            [
                .. grid.Columns.Select(c => c.Figure is { } further ? c with { Figure = Finer(further, grid, o => o == c) } : c),
            ],
        };
        RefuseApart(table, grid, root);
        Remark(table with { Figure = figure }, grid, writer);
        return new Tabulation(figure, grid, [.. plan.Blocks.Select(b => b.Span)], [.. table.Notes])
        {
            Counted =
                question.Of.Statistic == RowStatistic.Count || !question.Layout.Conditions.IsEmpty ? writer.Count(root) : null,
        };
    }

    /// <summary>What a table is made from.</summary>
    /// <param name="Parts">The sums that the figure is made of.</param>
    /// <param name="Notes">Grow while it is made.</param>
    private sealed record Workings(
        Question Question,
        Figure Figure,
        ComparisonPlan Plan,
        ImmutableArray<Splitter> Splitters,
        SumFigure[] Parts,
        SlotLayout Layout,
        ImmutableArray<BesideFigure> Beside,
        List<string> Notes
    )
    {
        /// <summary>Each account of what is divided has a ratio of its own; what it is divided by is the same for all of
        /// them.</summary>
        public bool DividesAccounts => Figure is PairFigure && Splitters.Any(x => x.Dimension?.Role == DimensionRole.Account);
    }

    /// <summary>All sums of a table, on every row that they belong to.</summary>
    private async ValueTask<RowNode> Sums(Workings table, CancellationToken cancel)
    {
        var (question, figure, plan, splitters, parts, layout, beside, notes) = table;
        var ofAccounts = table.DividesAccounts;
        if (ofAccounts && splitters[^1].Dimension?.Role != DimensionRole.Account)
            throw new CannotAnswerException(
                $"{figure.Name} is shown by account within other rows, not the other way round. Name the accounts last."
            );
        var root = new RowNode(null, default, layout.Count + beside.Sum(b => b.Parts.Length));
        var found = new bool[parts.Length];
        for (var b = 0; b < plan.Blocks.Length; b++)
        for (var s = 0; s < layout.Sides; s++)
        for (var p = 0; p < parts.Length; p++)
        {
            var (side, slot) = (plan.Blocks[b].Sides[s], layout.Slot(b, s, p));
            var rows = ofAccounts && p == 1 ? splitters[..^1] : splitters;
            found[p] |= await _filling.Fill(root, question, plan, side, parts[p], slot, rows, notes, cancel);
        }
        if (figure is PairFigure { Rule: not PairRule.Difference } apart && !found[0] && found[1])
            throw Apart(question, apart, plan);
        if (question.Scope is { Currency: null, Rates: null })
            notes.AddRange(await new GroupTotal(book, facts).Notes(question, parts[0], plan.Blocks[0].Sides[0], cancel));
        foreach (var further in beside)
            for (var p = 0; p < further.Parts.Length; p++)
            {
                var (part, slot) = (further.Parts[p], further.Slot + p);
                await _filling.Fill(root, question, further.Plan, further.Side, part, slot, splitters, notes, cancel);
            }
        if (ofAccounts)
            Divide(root, layout);
        if (question.Of.Cumulative && splitters is [{ IsTime: true }])
            Cumulate(root, layout.Count);
        return root;
    }

    private Figure InCurrency(Figure figure, string? currency) =>
        (figure, currency) switch
        {
            (_, null) => figure,
            (SumFigure money, _) => money with { Unit = currency },
            (PairFigure r, _) => r with { Unit = r.Unit.Replace(book.Definition.Currency, currency, StringComparison.Ordinal) },
            _ => figure,
        };

    /// <summary>Tells what rows cannot show: what is not kept by them, that there are none, how many meet the condition.</summary>
    /// <exception cref="CannotAnswerException">When no row has both parts of a ratio.</exception>
    private void Remark(Workings table, Grid grid, GridWriter writer)
    {
        var (question, figure, plan, notes) = (table.Question, table.Figure, table.Plan, table.Notes);
        var dimensions = table.Splitters.Where(x => !x.IsTime).Select(x => x.Dimension!).ToList();
        if (figure is SumFigure && dimensions.Find(d => plan.KeepsOfSubject(d) != Keeping.Whole) is { } half)
            notes.Add(
                $"{(plan.KeepsOfSubject(half) == Keeping.IncomeOnly ? "Costs are" : "Income is")} not kept by {half.Name.ToLowerInvariant()}, and stand{(plan.KeepsOfSubject(half) == Keeping.IncomeOnly ? "" : "s")} in the row Unassigned."
            );
        var isEmpty = question.Layout.Conditions.IsEmpty && grid.Rows.Length == 1;
        if (isEmpty && dimensions is [var split, ..])
            switch (figure)
            {
                case PairFigure { Rule: not PairRule.Difference } parted:
                    throw new CannotAnswerException(
                        $"No {split.Name.ToLowerInvariant()} has both {parted.Top.Name} and {parted.Bottom.Name}, so {parted.Name} cannot be split by it.",
                        parted.Name,
                        $"{parted.Name} by {book.Entities.Name.ToLowerInvariant()}"
                    );
                case SumFigure:
                    notes.Insert(
                        0,
                        $"Nothing is booked on {figure.Name} in what was asked for, so there is no {split.Name.ToLowerInvariant()} to show."
                    );
                    break;
            }
        if (question.Layout.Conditions.Length > 0)
            notes.Insert(
                0,
                $"{(writer.Met == 0 ? "None" : $"{writer.Met:N0}")} of {writer.Tested:N0} rows {(writer.Met == 1 ? "meets" : "meet")} the condition; the total is that of all."
            );
    }

    /// <summary>The sums that a figure is made of. Cost per head of a year is what was spent in it over the heads of its average
    /// month.</summary>
    private static SumFigure[] PartsOf(Figure figure)
    {
        if (figure is not PairFigure pair)
            return [(SumFigure)figure];
        SumFigure Beside(SumFigure part, SumFigure other) =>
            part.OverTime == OverTime.Stock && other.OverTime == OverTime.Sum ? part with { OverTime = OverTime.Average } : part;
        return [Beside(pair.Top, pair.Bottom), Beside(pair.Bottom, pair.Top)];
    }

    private const int DecimalsOfSmall = 4;

    /// <summary>Members that are named where all would be too many.</summary>
    private const int MostNamed = 4;

    /// <summary>A ratio made in the question has no decimals of its own: complaints per parcel would all be 0.00.</summary>
    private Figure Finer(Figure figure, Grid grid, Func<Column, bool> shows) =>
        figure is PairFigure { Rule: PairRule.Quotient } ratio
        && !book.Definition.Measures.Any(m => m.Code == ratio.Ref.Code)
        && grid.Rows.SelectMany(r => r.Values.Where((_, i) => shows(grid.Columns[i]))).All(v => Math.Abs(v.Number ?? 0m) < 1m)
            ? ratio with
            {
                Decimals = DecimalsOfSmall,
            }
            : figure;

    /// <summary>Rows of accounts are divided by what the row they stand in is divided by.</summary>
    private void Divide(RowNode node, SlotLayout layout)
    {
        foreach (var child in node.Children.Values)
        {
            for (var b = 0; child.Key.Dimension == book.Accounts.Id && b < layout.Blocks; b++)
            for (var s = 0; s < layout.Sides; s++)
                child.Sums[layout.Slot(b, s, 1)] = node.Sums[layout.Slot(b, s, 1)];
            Divide(child, layout);
        }
    }

    /// <summary>Each month carries on the sum of those before it; the total stays what it is.</summary>
    private static void Cumulate(RowNode root, int slots)
    {
        var running = new decimal[slots];
        foreach (var node in root.Children.Values.OrderBy(n => n.Key.Id))
            for (var s = 0; s < slots; s++)
                if (node.Sums[s] is { } sum)
                    node.Sums[s] = running[s] += sum;
    }

    /// <summary>A ratio whose parts stand in different members has no row that is one: zeros would say that there was
    /// nothing.</summary>
    /// <exception cref="CannotAnswerException">When it has a total, and nothing but zeros in its rows.</exception>
    private void RefuseApart(Workings table, Grid grid, RowNode root)
    {
        if (
            table
                is not {
                    Figure: PairFigure { Rule: not PairRule.Difference } ratio,
                    DividesAccounts: false,
                    Question: var question
                }
            || table.Splitters.FirstOrDefault(s => !s.IsTime) is not { Dimension: { } split }
            || !question.Layout.Conditions.IsEmpty
            || grid.Rows.Length < 2
            || grid.Value(grid.Total, ColumnKind.Subject).Number is null or 0m
            || grid.Rows.Any(r => r != grid.Total && grid.Value(r, ColumnKind.Subject).Number is not (null or 0m))
        )
            return;
        string Where(int part) =>
            string.Join(
                ", ",
                Leaves(root)
                    .Where(n => n.Key.Dimension == split.Id && n.Sums[table.Layout.Slot(0, 0, part)] is not (null or 0m))
                    .Select(n => book.Member(n.Key.Id).Name)
                    .Distinct()
                    .Take(MostNamed)
            );
        throw new CannotAnswerException(
            $"{ratio.Top.Name} stands in {Where(0)}, and {ratio.Bottom.Name} in {Where(1)}: no {split.Name.ToLowerInvariant()} has both, so {ratio.Name} cannot be told for each of them.",
            ratio.Name,
            $"{ratio.Name} by month",
            $"{ratio.Top.Name} by {split.Name.ToLowerInvariant()}"
        );
    }

    private static IEnumerable<RowNode> Leaves(RowNode node) =>
        node.Children.Count == 0 ? [node] : node.Children.Values.SelectMany(Leaves);

    /// <summary>A ratio whose parts are kept by different companies is no zero.</summary>
    private CannotAnswerException Apart(Question question, PairFigure ratio, ComparisonPlan plan)
    {
        var scope = Scoping.Named(book, question);
        return new(
            $"Nothing of {ratio.Top.Name} is kept{scope} in {book.Calendar.NameOf(plan.Blocks[0].Span)}, so there is no {ratio.Name} to show.",
            scope.Length == 0
                ? []
                :
                [
                    $"{ratio.Name} by {book.Entities.Name.ToLowerInvariant()}",
                    $"{ratio.Top.Name} by {book.Entities.Name.ToLowerInvariant()}",
                ]
        );
    }
}
