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
    /// <exception cref="CannotAnswerException">When the book lacks what is asked for; the message says what.</exception>
    public async ValueTask<Tabulation> Tabulate(Question question, CancellationToken cancel)
    {
        var figure = book.Figure(question.Scope.Figure)
            ?? throw new CannotAnswerException($"The book has no figure \"{question.Scope.Figure.Code}\".");
        CheckUnits(figure);
        (question, figure) = Averaged(question, figure);
        if (question.Of.Statistic is not null && question.Layout.Rows.IsEmpty)
            throw new CannotAnswerException(
                "An average, a median, a count or a difference is one of rows, and nothing makes rows here. Say by what, as in “by month”.",
                $"{figure.Name} by month"
            );
        if (figure is SumFigure { OverTime: OverTime.Closing } && !book.OpeningsKnown && book.ActualSpan is { } loaded)
            throw new CannotAnswerException(
                $"{figure.Name} is a balance, and the book has no opening balances: only what was posted since {book.Calendar.NameOf(loaded.From)} is known. Load the opening balances, or ask for its entries.",
                $"entries of {figure.Name}"
            );
        var plan = new ComparisonPlan(book, question);
        if (question.Scope.Currency is not null || question.Scope.Rates is not null)
            CheckMoney(figure);
        var notes = plan.Notes.Distinct().ToList();
        var splitters = question
            .Layout.Rows.Select(b => new Splitter(
                book,
                question,
                figure,
                b,
                question.Layout.Ranking is not null || question.Layout.Conditions.Length > 0
            ))
            .ToImmutableArray();
        var parts = PartsOf(figure);
        var layout = new SlotLayout(plan.Blocks.Length, question.Scope.Bases.Length + 1, parts.Length);
        // Each account of what is divided has a ratio of its own; what it is divided by is the same for all of them.
        var ofAccounts = figure is PairFigure && splitters.Any(x => x.Dimension?.Role == DimensionRole.Account);
        if (ofAccounts && splitters[^1].Dimension?.Role != DimensionRole.Account)
            throw new CannotAnswerException(
                $"{figure.Name} is shown by account within other rows, not the other way round. Name the accounts last."
            );
        var beside = Beside(question, layout.Count, splitters);
        var root = new RowNode(null, default, layout.Count + beside.Sum(b => b.Parts.Length));
        var found = new bool[parts.Length];
        for (var b = 0; b < plan.Blocks.Length; b++)
        for (var s = 0; s < layout.Sides; s++)
        for (var p = 0; p < parts.Length; p++)
            found[p] |= await Fill(
                root,
                question,
                plan,
                plan.Blocks[b].Sides[s],
                parts[p],
                layout.Slot(b, s, p),
                ofAccounts && p == 1 ? splitters[..^1] : splitters,
                notes,
                cancel
            );
        if (figure is PairFigure { Rule: not PairRule.Difference } apart && !found[0] && found[1])
            throw Apart(question, apart, plan);
        if (question.Scope is { Currency: null, Rates: null })
            notes.AddRange(await new GroupTotal(book, facts).Notes(question, parts[0], plan.Blocks[0].Sides[0], cancel));
        foreach (var further in beside)
            for (var p = 0; p < further.Parts.Length; p++)
                await Fill(
                    root,
                    question,
                    further.Plan,
                    further.Side,
                    further.Parts[p],
                    further.Slot + p,
                    splitters,
                    notes,
                    cancel
                );
        if (ofAccounts)
            Divide(root, layout);
        if (question.Of.Cumulative && splitters is [{ IsTime: true }])
            Cumulate(root, layout.Count);
        if (question.Scope.Currency is { } currency)
            figure = figure switch
            {
                SumFigure money => money with { Unit = currency },
                PairFigure r => r with { Unit = r.Unit.Replace(book.Definition.Currency, currency, StringComparison.Ordinal) },
                _ => figure,
            };
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
        if (
            figure is SumFigure
            && splitters.FirstOrDefault(x => !x.IsTime && plan.KeepsOfSubject(x.Dimension!) != Keeping.Whole)?.Dimension
                is { } half
        )
            notes.Add(
                $"{(plan.KeepsOfSubject(half) == Keeping.IncomeOnly ? "Costs are" : "Income is")} not kept by {half.Name.ToLowerInvariant()}, and stand{(plan.KeepsOfSubject(half) == Keeping.IncomeOnly ? "" : "s")} in the row Unassigned."
            );
        if (
            figure is PairFigure { Rule: not PairRule.Difference } parted
            && question.Layout.Conditions.IsEmpty
            && grid.Rows.Length == 1
            && splitters.FirstOrDefault(x => !x.IsTime)?.Dimension is { } unkept
        )
            throw new CannotAnswerException(
                $"No {unkept.Name.ToLowerInvariant()} has both {parted.Top.Name} and {parted.Bottom.Name}, so {parted.Name} cannot be split by it.",
                parted.Name,
                $"{parted.Name} by {book.Entities.Name.ToLowerInvariant()}"
            );
        else if (
            question.Layout.Conditions.IsEmpty
            && grid.Rows.Length == 1
            && splitters.FirstOrDefault(x => !x.IsTime)?.Dimension is { } empty
            && figure is SumFigure
        )
            notes.Insert(
                0,
                $"Nothing is booked on {figure.Name} in what was asked for, so there is no {empty.Name.ToLowerInvariant()} to show."
            );
        if (question.Layout.Conditions.Length > 0)
            notes.Insert(
                0,
                $"{(writer.Met == 0 ? "None" : $"{writer.Met:N0}")} of {writer.Tested:N0} rows {(writer.Met == 1 ? "meets" : "meet")} the condition; the total is that of all."
            );
        return new Tabulation(figure, grid, [.. plan.Blocks.Select(b => b.Span)], [.. notes])
        {
            Counted =
                question.Of.Statistic == RowStatistic.Count || !question.Layout.Conditions.IsEmpty ? writer.Count(root) : null,
        };
    }

    /// <summary>The average of a stock is that of its months, on every row; other averages are of rows, and taken of
    /// them.</summary>
    private static (Question, Figure) Averaged(Question question, Figure figure) =>
        question.Of.Statistic == RowStatistic.Average
        && figure is SumFigure { OverTime: OverTime.Stock } stock
        && question.Layout.Rows.All(b => b.Grain is null)
            ? (
                question.Asking(of => of with { Statistic = null }),
                stock with
                {
                    OverTime = OverTime.Average,
                    Name = $"Average {stock.Name}",
                }
            )
            : (question, figure);

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

    /// <exception cref="CannotAnswerException">When the figures are no columns of one table.</exception>
    private ImmutableArray<BesideFigure> Beside(Question question, int slot, ImmutableArray<Splitter> splitters)
    {
        var beside = ImmutableArray.CreateBuilder<BesideFigure>();
        if (
            !question.CanHoldBeside
            || (question.Beside.Length > 0 && splitters.Any(s => s.Dimension?.Role == DimensionRole.Account))
        )
            throw new CannotAnswerException(
                "Several figures stand beside each other in a plain table of one side and one period, which is not split by account. Ask for one figure after the other."
            );
        foreach (var reference in question.Beside)
        {
            var figure = book.Figure(reference)
                ?? throw new CannotAnswerException($"The book has no figure \"{reference.Code}\".");
            CheckUnits(figure);
            if (figure is SumFigure { OverTime: OverTime.Closing } && !book.OpeningsKnown)
                throw new CannotAnswerException(
                    $"{figure.Name} is a balance, and the book has no opening balances. Ask for its entries.",
                    $"entries of {figure.Name}"
                );
            beside.Add(new BesideFigure(figure, new ComparisonPlan(book, question.In(s => s with { Figure = reference })), slot));
            slot += beside[^1].Parts.Length;
        }
        return beside.ToImmutable();
    }

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

    /// <summary>Litres and passengers do not add: a heading over several units has no total.</summary>
    private void CheckUnits(Figure figure)
    {
        if (figure is not SumFigure sum)
            return;
        var units = sum
            .Accounts.SelectMany(a => book.SelfAndBelow(book.Member(a)))
            .Where(m => !book.HasChildren(m))
            .Select(m => (Unit: m.Account?.Unit ?? "money", m.Name))
            .DistinctBy(u => u.Unit)
            .ToList();
        if (units.Count > 1)
            throw new CannotAnswerException(
                $"{figure.Name} gathers figures in different units ({string.Join(", ", units.Select(u => u.Unit))}), which do not add up. Ask for one of them.",
                [.. units.Select(u => u.Name)]
            );
    }

    private void CheckMoney(Figure figure)
    {
        var part = figure as SumFigure ?? ((PairFigure)figure).Top;
        if (part.Unit != book.Definition.Currency)
            throw new CannotAnswerException($"{part.Name} is not money, so it has no currency.");
        if (book.Currencies.IsEmpty)
            throw new CannotAnswerException(
                $"The book has amounts in {book.Definition.Currency} only, and no rates of exchange."
            );
    }

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

    /// <returns>Whether the side has anything of the part.</returns>
    private async ValueTask<bool> Fill(
        RowNode root,
        Question question,
        ComparisonPlan plan,
        SidePlan side,
        SumFigure part,
        int slot,
        ImmutableArray<Splitter> splitters,
        List<string> notes,
        CancellationToken cancel
    )
    {
        if (side.Version is null)
            return false;
        var kept = side.Kept;
        var usable = splitters
            .TakeWhile(s => s.IsTime || s.Dimension!.Role == DimensionRole.Account || kept.Contains(s.Dimension.Id))
            .ToImmutableArray();
        var byTime = usable.Any(s => s.IsTime);
        var stored =
            part.OverTime == OverTime.Closing
                ? new PeriodSpan(Period.Min(side.Version.Coverage!.Span.From, side.Stored.From), side.Stored.To)
                : side.Stored;
        var filters = Scoping.Filters(book, question.Scope.Filters).Add(Scoping.Accounts(book, part));
        if (plan.EntityFilter is { } covered)
            filters = filters.Add(covered);
        var groupBy = usable.Where(s => !s.IsTime).Select(s => s.Dimension!.Id).Distinct().ToImmutableArray();
        var valuation = new Valuation(book, question, side, part, groupBy);
        var query = new CellQuery(
            side.Version.Id,
            stored,
            filters,
            valuation.GroupBy,
            byTime || valuation.ByPeriod || part.OverTime is OverTime.Average or OverTime.Stock
        )
        {
            ByCurrency = valuation.ByCurrency,
        };
        var cells = await facts.Cells(query, cancel);
        var time = new TimeRule(part.OverTime, side, usable.FirstOrDefault(s => s.IsTime), cells, valuation);
        root.Sums[slot] ??= 0m;
        foreach (var cell in cells)
            AddCell(root, cell, slot, usable, valuation.GroupBy, time);
        notes.AddRange(valuation.Notes.Except(notes));
        if (
            time.Last is { } last
            && last < side.Stored.To.Ordinal
            && $"{part.Name} of {book.NameOf(side.Side)} is known up to {book.Calendar.NameOf(Period.FromOrdinal(last))}, which is shown."
                is var stale
            && !notes.Contains(stale)
        )
            notes.Add(stale);
        return cells.Count > 0;
    }

    private static void AddCell(
        RowNode root,
        CellSum cell,
        int slot,
        ImmutableArray<Splitter> splitters,
        ImmutableArray<int> groupBy,
        TimeRule time
    )
    {
        root.Add(slot, time.Weigh(cell, null));
        Descend(root, 0, null);

        void Descend(RowNode node, int index, int? bucket)
        {
            if (index == splitters.Length)
                return;
            var splitter = splitters[index];
            if (splitter.IsTime)
            {
                foreach (var at in time.Buckets(cell.Period))
                {
                    var child = node.Child(new RowKey(RowKey.Time, at));
                    child.Add(slot, time.Weigh(cell, at));
                    Descend(child, index + 1, at);
                }
                return;
            }
            foreach (var key in splitter.Chain(cell.Members[groupBy.IndexOf(splitter.Dimension!.Id)]))
            {
                node = node.Child(key);
                node.Add(slot, time.Weigh(cell, bucket));
            }
            Descend(node, index + 1, bucket);
        }
    }
}

/// <summary>Where the sums of a block, a side and a part of the figure are kept in a row.</summary>
internal readonly record struct SlotLayout(int Blocks, int Sides, int Parts)
{
    public int Count => Blocks * Sides * Parts;

    public int Slot(int block, int side, int part) => (((block * Sides) + side) * Parts) + part;
}

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
