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
public sealed class DriverSearch(Book book, IFacts facts)
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

    /// <param name="Period">Ordinal, seen from the subject; 0 when the span is a single period.</param>
    private readonly record struct Joint(ImmutableArray<int> Members, int Period, decimal Subject, decimal Base)
    {
        public decimal Difference => Subject - Base;
    }

    /// <param name="Dimension">Null for a cut by month, whose members are periods.</param>
    private sealed record Cut(
        int Index,
        Dimension? Dimension,
        string Level,
        List<(int Member, decimal Subject, decimal Base)> Members
    );

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

    private async ValueTask<List<Joint>> Join(
        Question question,
        SumFigure figure,
        ComparisonPlan plan,
        BlockPlan block,
        ImmutableArray<Dimension> dimensions,
        CancellationToken cancel
    )
    {
        var filters = Scoping.Filters(book, question.Scope.Filters).Add(Scoping.Accounts(book, figure));
        if (plan.EntityFilter is { } covered)
            filters = filters.Add(covered);
        var joined = new Dictionary<string, Joint>();
        for (var side = 0; side < 2; side++)
        {
            var sidePlan = block.Sides[side];
            var query = new CellQuery(
                sidePlan.Version!.Id,
                sidePlan.Stored,
                filters,
                [.. dimensions.Select(d => d.Id)],
                block.Span.Count > 1
            );
            foreach (var cell in await facts.Cells(query, cancel))
            {
                var period = cell.Period == 0 ? 0 : cell.Period + sidePlan.Shift;
                var key = $"{period}:{string.Join(',', cell.Members)}";
                var known = joined.GetValueOrDefault(key, new Joint(cell.Members, period, 0m, 0m));
                joined[key] =
                    side == 0
                        ? known with
                        {
                            Subject = known.Subject + cell.Amount,
                        }
                        : known with
                        {
                            Base = known.Base + cell.Amount,
                        };
            }
        }
        return [.. joined.Values];
    }

    private Cut? BestCut(List<Joint> joints, Context context, Figure? of, decimal total, IReadOnlyCollection<int> used)
    {
        Cut? best = null;
        var bestScore = decimal.MinValue;
        foreach (var cut in Cuts(joints, context, of, used).Concat(ByMonth(joints, context, used) is { } months ? [months] : []))
        {
            var score = Score(cut, total, context.Sign) - (cut.Dimension is null ? PriceOfTime : 0m);
            if (score > bestScore)
                (best, bestScore) = (cut, score);
        }
        return best;
    }

    /// <summary>
    /// Part of the total carried by the first k members, less a price for each further member and for members that cancel
    /// each other out; concentration among many members says more than among few.
    /// </summary>
    private static decimal Score(Cut cut, decimal total, int sign)
    {
        var same = cut
            .Members.Select(m => (m.Subject - m.Base) * sign)
            .Where(v => v != 0m && Math.Sign(v) == Math.Sign(total))
            .OrderByDescending(Math.Abs)
            .ToList();
        var against = cut.Members.Sum(m => Math.Abs((m.Subject - m.Base) * sign)) - same.Sum(Math.Abs);
        var size = Math.Max(Math.Abs(total), 0.0001m);
        decimal best = 0m,
            sum = 0m;
        for (var k = 0; k < Math.Min(MostDrivers, same.Count); k++)
        {
            sum += Math.Abs(same[k]);
            best = Math.Max(best, Math.Min(1m, sum / size) - (0.1m * k));
        }
        return best
            - Math.Min(0.5m, 0.15m * against / size)
            + (0.12m * (decimal)Math.Log(cut.Members.Count))
            + (0.25m * Disproportion(cut, total, sign));
    }

    /// <summary>
    /// 0 when every member moved in proportion to its base, so that the cut tells nothing; up to 1 when the movement sits
    /// where the base does not.
    /// </summary>
    private static decimal Disproportion(Cut cut, decimal total, int sign)
    {
        var weight = cut.Members.Sum(m => Math.Abs(m.Base));
        if (total == 0m || weight == 0m)
            return 0m;
        return Math.Min(
            1m,
            cut.Members.Sum(m => Math.Abs(((m.Subject - m.Base) * sign / total) - (Math.Abs(m.Base) / weight))) / 2m
        );
    }

    private IEnumerable<Cut> Cuts(List<Joint> joints, Context context, Figure? of, IReadOnlyCollection<int> used)
    {
        for (var i = 0; i < context.Dimensions.Length; i++)
        {
            var dimension = context.Dimensions[i];
            // What is kept of income only, or of costs only, would be half of a result.
            if (
                used.Contains(dimension.Id)
                || (
                    dimension.Role == DimensionRole.Other
                    && of is SumFigure sum
                    && context.Versions.Any(v =>
                        book.Keeps(v, dimension.Id, Scoping.Accounts(book, sum).Members) != Keeping.Whole
                    )
                )
            )
                continue;
            var paths = joints.Select(j => j.Members[i]).Distinct().ToDictionary(id => id, book.PathTo);
            var deepest = paths.Values.Max(p => p.Length);
            var previous = 0;
            // Deepest first: where a level above groups nothing, the name closest to the entries is the one to tell.
            for (var depth = deepest - 1; depth >= 0; depth--)
            {
                var sums = new Dictionary<int, (decimal Subject, decimal Base)>();
                foreach (var joint in joints)
                {
                    var path = paths[joint.Members[i]];
                    var id = path[Math.Min(depth, path.Length - 1)];
                    var (subject, reference) = sums.GetValueOrDefault(id);
                    sums[id] = (subject + joint.Subject, reference + joint.Base);
                }
                // That all of it has the one department which it always has says nothing; the one entity does.
                if (
                    sums.Count == previous
                    || (sums.Count == 1 && dimension.Role == DimensionRole.Other)
                    || (sums.Count == 1 && IsAskedFor(sums.Keys.Single(), dimension, context))
                )
                    continue;
                previous = sums.Count;
                // That most of it was assigned to nobody names nothing.
                if (sums.MaxBy(s => Math.Abs(s.Value.Subject - s.Value.Base)).Key < Member.FirstOwnId)
                    continue;
                var level = dimension.Levels[
                    depth == deepest - 1 ? dimension.Levels.Length - 1 : Math.Min(depth, dimension.Levels.Length - 1)
                ];
                yield return new Cut(
                    i,
                    dimension,
                    level,
                    [.. sums.OrderBy(s => s.Key).Select(s => (s.Key, s.Value.Subject, s.Value.Base))]
                );
            }
        }
    }

    private static Cut? ByMonth(List<Joint> joints, Context context, IReadOnlyCollection<int> used)
    {
        if (context.Span.Count == 1 || used.Contains(Time))
            return null;
        var months = joints
            .GroupBy(j => j.Period)
            .OrderBy(g => g.Key)
            .Select(g => (g.Key, g.Sum(j => j.Subject), g.Sum(j => j.Base)))
            .ToList();
        return months.Count < 2 ? null : new Cut(-1, null, "Month", months);
    }

    /// <summary>A single member says something only when the question did not name it itself, or something below it.</summary>
    private bool IsAskedFor(int member, Dimension dimension, Context context)
    {
        var asked =
            dimension.Role == DimensionRole.Account
                ? context.Figure.Accounts
                : context
                    .Question.Scope.Filters.Where(f => f.Dimension == dimension.Code && !f.Exclude)
                    .SelectMany(f => f.Members)
                    .Select(c => book.TryMember(dimension.Id, c, out var m) ? m.Id : 0);
        return member < Member.FirstOwnId
            || asked.Any(a => book.PathTo(a).Contains(member))
            || book.PathTo(member).Length == 1 && book.HasChildren(book.Member(member));
    }

    private static List<(int Member, decimal Subject, decimal Base)> Leading(Cut cut, decimal total, int sign, int most)
    {
        var size = Math.Abs(total);
        return
        [
            .. cut
                .Members.Where(m =>
                    Math.Sign((m.Subject - m.Base) * sign) == Math.Sign(total)
                    && Math.Abs(m.Subject - m.Base) >= LeastPart * size
                    && total != 0m
                )
                .OrderByDescending(m => Math.Abs(m.Subject - m.Base))
                .Take(most),
        ];
    }

    private static List<(int Member, decimal Subject, decimal Base)> Against(Cut cut, decimal total, int sign)
    {
        var size = Math.Abs(total);
        return
        [
            .. cut
                .Members.Where(m =>
                    m.Subject != m.Base
                    && Math.Sign((m.Subject - m.Base) * sign) != Math.Sign(total)
                    && Math.Abs(m.Subject - m.Base) >= 2m * LeastPart * size
                )
                .OrderByDescending(m => Math.Abs(m.Subject - m.Base))
                .Take(MostOffsets),
        ];
    }

    private async ValueTask<ImmutableArray<Driver>> Describe(
        List<(int Member, decimal Subject, decimal Base)> members,
        Cut cut,
        List<Joint> joints,
        Context context,
        CancellationToken cancel
    )
    {
        var result = ImmutableArray.CreateBuilder<Driver>();
        foreach (var (member, subject, reference) in members)
        {
            var driver = ToDriver(
                member,
                subject,
                reference,
                cut,
                context,
                new Slice(context.Question.Scope.Subject, context.Span, context.Figure.Ref, context.Question.Scope.Filters)
            );
            var inside = joints
                .Where(j => cut.Dimension is null ? j.Period == member : book.PathTo(j.Members[cut.Index]).Contains(member))
                .ToList();
            if (
                BestCut(inside, context, book.Figure(driver.Slice.Figure), driver.Variance, [cut.Dimension?.Id ?? Time]) is
                { } below
            )
            {
                var leading = Leading(below, driver.Variance, context.Sign, MostBelow);
                // A spread over many is not told.
                var even =
                    leading.Count > 1
                    && leading.Count == below.Members.Count(m => m.Subject != m.Base)
                    && Disproportion(below, driver.Variance, context.Sign) < LeastDisproportion;
                if (leading.Sum(m => Math.Abs(m.Subject - m.Base)) >= LeastConcentration * Math.Abs(driver.Variance))
                    driver = driver with
                    {
                        IsEven = even,
                        Below =
                        [
                            .. (even ? leading : Enough(leading, driver.Variance)).Select(m =>
                                ToDriver(m.Member, m.Subject, m.Base, below, context, driver.Slice)
                            ),
                        ],
                    };
            }
            result.Add(driver with { Timing = await Timing(driver.Slice, driver.Variance, context, cancel) });
        }
        return result.ToImmutable();
    }

    /// <summary>The first members that together carry most of the total; the small ones after them add words and no
    /// knowledge.</summary>
    private static IEnumerable<(int Member, decimal Subject, decimal Base)> Enough(
        List<(int Member, decimal Subject, decimal Base)> leading,
        decimal total
    )
    {
        var carried = 0m;
        foreach (var member in leading)
        {
            if (carried >= EnoughConcentration * Math.Abs(total))
                yield break;
            carried += Math.Abs(member.Subject - member.Base);
            yield return member;
        }
    }

    private Driver ToDriver(int member, decimal subject, decimal reference, Cut cut, Context context, Slice within)
    {
        if (cut.Dimension is null)
        {
            var month = PeriodSpan.Of(Period.FromOrdinal(member));
            var sign = ShownSign(within, context);
            return new Driver(
                new RowMember("period", month.From.ToString(), book.Calendar.NameOf(month)),
                cut.Level,
                subject * sign,
                reference * sign,
                (subject - reference) * context.Sign,
                within with
                {
                    Span = month,
                },
                []
            );
        }
        var (code, name) = book.Label(member);
        var isAccount = cut.Dimension.Role == DimensionRole.Account;
        var shown = isAccount ? book.AccountFigure(book.Member(member)).ShownSign : ShownSign(within, context);
        var slice = isAccount
            ? within with
            {
                Figure = new FigureRef(FigureKind.Account, code),
            }
            : within with
            {
                Filters = within
                    .Filters.RemoveAll(f => f.Dimension == cut.Dimension.Code && !f.Exclude)
                    .Add(new Filter(cut.Dimension.Code, [code])),
            };
        return new Driver(
            new RowMember(cut.Dimension.Code, code, name),
            cut.Level,
            subject * shown,
            reference * shown,
            (subject - reference) * context.Sign,
            slice,
            []
        );
    }

    private int ShownSign(Slice within, Context context) => (book.Figure(within.Figure) as SumFigure ?? context.Figure).ShownSign;

    private async ValueTask<TimingEvidence?> Timing(Slice slice, decimal total, Context context, CancellationToken cancel)
    {
        if (context.Span.Count != 1 || context.Question.Scope.Bases[0].Kind == SideKind.PriorPeriod)
            return null;
        // Two small movements the other way round are found in any two months.
        if (context.Figure.IsProfit && Math.Abs(total) < book.Definition.MonthMateriality.Amount)
            return null;
        var around = new PeriodSpan(context.Span.From.AddMonths(-TimingReach), context.Span.To.AddMonths(TimingReach));
        var question = context
            .Question.In(s => s with { Figure = slice.Figure, Filters = slice.Filters, Bases = [s.Bases[0]], Spans = [around] })
            .Laid(l => l with { Ranking = null, Rows = [Breakdown.ByTime(TimeGrain.Month)] });
        var months = await new Tabulator(book, facts).Tabulate(question, cancel);
        var candidates = months
            .Grid.Rows.Where(r => r.Kind == RowKind.Member && r.Slice.Span != context.Span)
            .Select(r => (r.Slice.Span.From, months.Grid.Value(r, ColumnKind.Variance).Number ?? 0m));
        // Nearest first.
        foreach (var (period, variance) in candidates.OrderBy(c => Math.Abs(c.From.Ordinal - context.Span.From.Ordinal)))
            if (total != 0m && Math.Sign(variance) == -Math.Sign(total) && Math.Abs(variance + total) <= 0.25m * Math.Abs(total))
                return new TimingEvidence(period, variance);
        return null;
    }
}
