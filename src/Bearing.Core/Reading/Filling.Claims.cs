using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>What is claimed of more than one figure: that what is missing comes later, or that a plan has something.</summary>
internal sealed partial class Filling
{
    /// <summary>Whether what is missing in a month is only late: its year by month, as far as it has come, against the usual
    /// base.</summary>
    /// <returns>Null where nothing can be compared.</returns>
    private Question? Late(Question question)
    {
        if (book.CurrentPeriod is not { } now)
            return null;
        var year = FiscalCalendar.Year(question.Scope.Spans[^1].To.Year);
        var span = new PeriodSpan(year.From, Period.Min(year.To, now));
        if (span.From > now || !question.Scope.Bases.IsEmpty && question.Scope.Bases.Length != 1)
            return null;
        IReadOnlyCollection<Side> bases = question.Scope.Bases.IsEmpty
            ? Usual(span, question.Scope.Subject)
            : question.Scope.Bases;
        if (bases.Count == 0)
            return null;
        return question with
        {
            Scope = question.Scope with { Spans = [span], Bases = [.. bases] },
            Layout = Layout.Usual with { Rows = [Breakdown.ByTime(TimeGrain.Month)] },
            Kind = new Kind.Comparison(
                OfRows.Nothing with
                {
                    Claim = new Claim(Direction.Against, Quantifier.Late, null),
                },
                false
            ),
        };
    }

    /// <summary>"Is that good or bad", of what was shown.</summary>
    public bool IsJudged =>
        (said.Has<JudgeItem>() || said.One<GapItem>() is { Sense: { OfProfit: true, OfRows: false } })
        && said.Parts.All(p => p.Item is JudgeItem or GapItem or GoesOnItem);

    /// <returns>Null where there is nothing to judge it by.</returns>
    private Question? Judged(Question question)
    {
        IReadOnlyCollection<Side> bases = question.Scope.Bases.IsEmpty
            ? Usual(question.Scope.Spans[0], question.Scope.Subject)
            : question.Scope.Bases;
        if (bases.Count == 0)
            return null;
        var claim = said.One<GapItem>() is { } gap
            ? new Claim(gap.Sense.Side, null, null)
            : new Claim(Direction.For, Quantifier.Judged, null);
        return question with
        {
            Scope = question.Scope with { Bases = [.. bases] },
            Kind = new Kind.Comparison(OfRows.Nothing with { Claim = claim }, false),
        };
    }

    /// <summary>Whether any version of a plan has something of what is named: all of them beside each other, for all of their
    /// year.</summary>
    /// <returns>Null where nothing is named, or where no yes or no is asked for.</returns>
    public Filled? InPlan(bool yesNo)
    {
        if (
            !yesNo
            || !said.Fits(OfItsOwn)
            || said.One<InPlanItem>() is not { } item
            || Figures().Length > 1
            || !said.Has<MembersItem>()
            || HoldsMembersApart()
            || HoldsNamesakes()
            || said.Parts.Any(p => p.Item is not (InPlanItem or MembersItem or FigureItem or PeriodsItem or UnknownItem))
            || book.CurrentPeriod is not { } now
        )
            return null;
        var span = PeriodsSaid() is [var named, ..] ? named.Span : FiscalCalendar.Year(now.Year);
        var plans = book
            .Definition.Scenarios.Where(s =>
                s.Kind == item.Plan.Kind && s.Current.Coverage is { } kept && kept.Span.Intersect(span) is not null
            )
            .OrderByDescending(s => s.Code == book.Latest(item.Plan.Kind, span.To)?.Code)
            .Select(s => new Side(SideKind.Version, s.Code))
            .ToList();
        if (plans.Count == 0 || (Figures() is [var figure] ? figure : book.Sales) is not { } of)
            return null;
        if (Figures().Length == 0)
            _assumed.Add($"{NameOf(of)}, since no figure was named");
        var kind = OfRows.Nothing with { Claim = new Claim(Direction.Over, Quantifier.Planned, null) };
        return Done(
            new Question(
                new Scope(of, [span], [.. Filters()], plans[0], [.. plans.Skip(1)], null, null),
                Layout.Usual,
                plans.Count > 1 ? new Kind.Comparison(kind, false) : new Kind.Values(kind, [])
            )
        );
    }
}
