using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Store;

namespace Bearing.Core.Variance;

public sealed partial class DriverSearch
{
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
}
