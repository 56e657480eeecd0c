using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>Takes the sums of one part of a figure on one side, and adds them to every row that they belong to.</summary>
internal sealed class RowFilling(Book book, IFacts facts)
{
    /// <returns>Whether the side has anything of the part.</returns>
    public async ValueTask<bool> Fill(
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
