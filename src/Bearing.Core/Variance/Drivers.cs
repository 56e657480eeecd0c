using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

/// <summary>A period close by shows most of the same amount the other way round.</summary>
/// <param name="Variance">Of that period, in profit sign.</param>
public sealed record TimingEvidence(Period Period, decimal Variance);

/// <summary>A member that carries a material part of a variance.</summary>
/// <param name="Level">Name of the level at which the member stands.</param>
/// <param name="Variance">Profit sign.</param>
/// <param name="Below">Where inside the member it sits, when few members carry it.</param>
/// <param name="IsEven">Those few are all there are, and moved in proportion to their bases.</param>
public sealed record Driver(
    RowMember Member,
    string Level,
    decimal Subject,
    decimal Base,
    decimal Variance,
    Slice Slice,
    ImmutableArray<Driver> Below,
    bool IsEven = false,
    TimingEvidence? Timing = null
);

/// <summary>Where a variance comes from. Drivers, offsets and the rest add up to the total exactly.</summary>
/// <param name="Cut">The level by which the total was split, in words.</param>
/// <param name="Offsets">Members that moved against the total.</param>
/// <param name="Rest">What the named members do not carry.</param>
/// <param name="RestMembers">How many members share the rest.</param>
/// <param name="Timing">Set when the total itself nearly levels out with a neighbouring period.</param>
public sealed record DriverReport(
    decimal Total,
    string Cut,
    ImmutableArray<Driver> Drivers,
    ImmutableArray<Driver> Offsets,
    decimal Rest,
    int RestMembers,
    TimingEvidence? Timing
);

/// <summary>
/// Finds the cut of a variance that explains most of it with fewest members. Every level of every dimension that both sides
/// keep is ranked; the winner is split once more in the same way. Deterministic: ties go to the earlier dimension, then the
/// upper level, then the tree's order.
/// </summary>
public sealed partial class DriverSearch(Book book, IFacts facts)
{
    private const int MostDrivers = 4;
    private const int MostOffsets = 3;
    private const int MostBelow = 3;

    /// <summary>Months before and after in which an opposite movement counts as the same thing at another time.</summary>
    private const int TimingReach = 2;

    /// <summary>A member under this part of the total is not worth a sentence.</summary>
    private const decimal LeastPart = 0.05m;

    /// <summary>A split inside a driver is told only when few members carry at least this part of it.</summary>
    private const decimal LeastConcentration = 0.6m;

    /// <summary>Inside a driver, members are named until they carry this part of it.</summary>
    private const decimal EnoughConcentration = 0.8m;

    /// <summary>A split into all its members is called even when it differs less than this from the base's own
    /// proportions.</summary>
    private const decimal LeastDisproportion = 0.2m;

    /// <summary>Where a variance sits says more than when: a cut by month has to concentrate this much better to be
    /// told.</summary>
    private const decimal PriceOfTime = 0.2m;

    /// <summary>Stands for the months among the dimensions.</summary>
    private const int Time = 0;

    /// <summary>Null for figures that do not add over members and months (ratios, balances, averages) and where a side is
    /// missing.</summary>
    public async ValueTask<DriverReport?> Find(Question question, CancellationToken cancel)
    {
        if (
            question.Scope.Bases.Length == 0
            || book.Figure(question.Scope.Figure) is not SumFigure { OverTime: OverTime.Sum } figure
        )
            return null;
        var plan = new ComparisonPlan(book, question.In(s => s with { Spans = [s.Spans[0]], Bases = [s.Bases[0]] }));
        var block = plan.Blocks[0];
        if (block.Sides.Any(s => s.Version is null))
            return null;
        var dimensions = book
            .Definition.Dimensions.Where(d => d.Role == DimensionRole.Account || block.Sides.All(s => s.Kept.Contains(d.Id)))
            .ToImmutableArray();
        var joints = await Join(question, figure, plan, block, dimensions, cancel);
        if (joints.Count == 0)
            return null;
        var sign = figure.IsProfit ? 1 : figure.ShownSign;
        var total = joints.Sum(j => j.Difference) * sign;
        var root = new Context(
            question,
            figure,
            dimensions,
            block.Span,
            sign,
            [.. block.Sides.Select(s => s.Version!.Id).Distinct()]
        );
        var best = BestCut(joints, root, figure, total, []);
        var whole = new Slice(question.Scope.Subject, block.Span, figure.Ref, question.Scope.Filters);
        var timing = await Timing(whole, total, root, cancel);
        if (best is null)
            return new DriverReport(total, "", [], [], total, 0, timing);
        var drivers = await Describe(Leading(best, total, sign, MostDrivers), best, joints, root, cancel);
        var offsets = await Describe(Against(best, total, sign), best, joints, root, cancel);
        var named = drivers.Concat(offsets).Sum(d => d.Variance);
        var moving = best.Members.Count(m => m.Subject != m.Base);
        return new DriverReport(
            total,
            best.Level,
            drivers,
            offsets,
            total - named,
            Math.Max(0, moving - drivers.Length - offsets.Length),
            timing
        );
    }

    private sealed record Context(
        Question Question,
        SumFigure Figure,
        ImmutableArray<Dimension> Dimensions,
        PeriodSpan Span,
        int Sign,
        ImmutableArray<int> Versions
    );
}
