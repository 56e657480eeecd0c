using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

public sealed partial class DriverSearch
{
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
