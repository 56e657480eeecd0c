using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>What lies ahead: run rate, outlook, what is left and what is used of a plan.</summary>
internal sealed partial class Resolver
{
    /// <summary>"What will sales be in December": the one to come, where it is one of this year.</summary>
    private void LookAhead(Draft draft)
    {
        if (draft.Projection is not (Projection.Outlook or Projection.Remaining) || book.CurrentPeriod is not { } now)
            return;
        // "What have we to earn in Q4": the rest of this year, not a quarter that is over.
        var rest = now.Number < 12 ? new PeriodSpan(now.AddMonths(1), FiscalCalendar.Year(now.Year).To) : (PeriodSpan?)null;
        if (draft.Projection == Projection.Remaining && !draft.Periods.TrueForAll(p => p.Span.AddMonths(12) == rest))
            return;
        for (var i = 0; i < draft.Periods.Count; i++)
            if (
                draft.Periods[i] is { YearGiven: false } said
                && said.Span.To <= now
                && said.Span.AddMonths(12) is var next
                && next.From > now
                && next.To.Year == now.Year
            )
                draft.Periods[i] = said with { Span = next };
    }

    /// <summary>The months so far, and beside them the plan of the whole year.</summary>
    private FormOneQuestion Projected(FormOneQuestion question, Projection projection, Draft draft)
    {
        if (book.CurrentPeriod is not { } now)
            return question;
        var span = question.Spans[0];
        if (projection == Projection.Outlook && OfForecast(question, draft, now) is { } forecast)
            return forecast;
        if (projection is Projection.Remaining or Projection.Used && OfPart(question, draft, now) is { } part)
            return part;
        if (span.From > FiscalCalendar.Year(now.Year).To)
            throw new CannotAnswerException(
                $"{book.Calendar.NameOf(span)} has not begun; only the year of {book.Calendar.NameOf(PeriodSpan.Of(now))} is carried forward.",
                "outlook for the full year"
            );
        var said = draft.Periods.Select(p => p.Span).Where(s => s.To <= now && s.Count < 12).ToList();
        var toDate =
            said.Count > 0 ? said[^1]
            : draft.Periods.Count == 0 && span.To <= now && span.Count < 12 ? span
            : FiscalCalendar.YearToDate(now);
        if (projection == Projection.Outlook)
            toDate = FiscalCalendar.YearToDate(now);
        var held =
            projection is Projection.Remaining or Projection.Used
            || question.Bases.Length > 0
            || draft.Scenarios.Contains("budget");
        var plan =
            question
                .Bases.Concat(question.Subject == Side.Actual ? [] : [question.Subject])
                .LastOrDefault(b => b.Kind == SideKind.Version && b != Side.Actual)
                is { } named
            && (projection != Projection.Outlook || book.Scenario(named.Scenario)?.Kind == ScenarioKind.Budget)
                ? named
            : book.Latest(ScenarioKind.Budget, FiscalCalendar.Year(toDate.To.Year).To) is { } budget
                ? new Side(SideKind.Version, budget.Code)
            : null;
        if (held && plan is null)
            throw new CannotAnswerException("The book has no budget for the year that something could be held against.");
        // What is left is so at one time; what it comes to a month is said.
        if (projection == Projection.Remaining)
            question = question with { Breakdowns = question.Breakdowns.RemoveAll(b => b.Grain is not null) };
        return question with
        {
            Projection = projection,
            Intent = Intent.Value,
            Subject = Side.Actual,
            Spans = [toDate],
            Bases = held ? [plan!] : [],
            Share = false,
            Growth = false,
            Conditions = [],
        };
    }

    /// <summary>"What do we expect to make in December", "the outlook for H2", "the outlook against last year": what the latest
    /// forecast holds, since actuals so far and what follows them make up a year and are held against a plan. Null where that is
    /// what is asked for.</summary>
    private FormOneQuestion? OfForecast(FormOneQuestion question, Draft draft, Period now)
    {
        var year = FiscalCalendar.Year(now.Year);
        var other = question.Bases.FirstOrDefault(b => b.Kind != SideKind.Version);
        var part =
            draft.Periods.Count == 1
            && question.Spans[0] is { Count: < 12 } said
            && said != FiscalCalendar.YearToDate(now)
            && said != new PeriodSpan(now.AddMonths(1), year.To);
        if (other is null && !part)
            return null;
        if (part && question.Spans[0].To <= now)
            throw new CannotAnswerException(
                $"{book.Calendar.NameOf(question.Spans[0])} is over, so there is no outlook for it. Ask for what came of it, or for the outlook of the year.",
                "outlook for the full year",
                $"{book.Figure(question.Figure)?.Name} {book.Calendar.NameOf(question.Spans[0])}"
            );
        if (draft.BasePeriod is { } held)
        {
            if (part || held != year.AddMonths(-12))
                throw new CannotAnswerException(
                    "What a year will come to is held against its plan, or against the year before.",
                    "outlook versus last year"
                );
            question = question with { Bases = [Side.PriorYear] };
        }
        var span = part ? question.Spans[0] : year;
        if (
            (book.Latest(ScenarioKind.Forecast, span.To) ?? (span.From > now ? book.Latest(ScenarioKind.Budget, span.To) : null))
            is not { } ahead
        )
            return other is null
                ? null
                : throw new CannotAnswerException(
                    "What a year will come to is held against a plan, and the book has no forecast that could be held against anything else.",
                    "outlook for the full year"
                );
        _assumed.Add($"{ahead.Name}, as the outlook for {book.Calendar.NameOf(span)}");
        return question with
        {
            Subject = new Side(SideKind.Version, ahead.Code),
            Spans = [span],
            Bases = question.Bases.RemoveAll(b => b.Scenario == ahead.Code),
        };
    }

    /// <summary>"How much of the October budget is left": what is left of a year says nothing about its months, so these are held
    /// against their own plan. Null for the year.</summary>
    /// <exception cref="CannotAnswerException">When the months are not over: their plan is whole, and the actuals are
    /// not.</exception>
    private FormOneQuestion? OfPart(FormOneQuestion question, Draft draft, Period now)
    {
        if (
            draft.Periods.Find(p =>
                p.Span.Count < 12
                && (p.Span.From.Number > 1 || p.Said is not null)
                && p.Span != FiscalCalendar.YearToDate(now)
                && !(now.Number < 12 && p.Span == new PeriodSpan(now.AddMonths(1), FiscalCalendar.Year(now.Year).To))
                && p.Span.To.Year == p.Span.From.Year
            )
                is not { Span: var part }
            || draft.Periods.Count > 1
        )
            return null;
        if (book.Latest(ScenarioKind.Budget, part.To) is not { } plan)
            return null;
        if (part.To > now)
            throw new CannotAnswerException(
                $"{book.Calendar.NameOf(part)} is not over, so what is left or used of its plan is not worked out; of the year's plan it is.",
                $"{book.Figure(question.Figure)?.Name} versus {plan.Name} {book.Calendar.NameOf(part)}"
            );
        _assumed.Add($"the plan of {book.Calendar.NameOf(part)}, and not of the year");
        return question with
        {
            Intent = Intent.Variance,
            Subject = Side.Actual,
            Spans = [part],
            Bases = [new Side(SideKind.Version, plan.Code)],
            Share = false,
            Breakdowns = draft.Breakdowns.Count == 0 ? [] : question.Breakdowns,
        };
    }

    /// <summary>What a projection would pass over in silence.</summary>
    private static void RefuseBesideProjection(Draft draft, FormOneQuestion question)
    {
        var beside =
            draft.Conditions.Count > 0 ? "limits"
            : draft.Growth ? "growth"
            : draft.Cumulative ? "cumulative sums"
            : draft.Intent is Intent.Why or Intent.Bridge or Intent.Entries ? "a cause, a bridge or entries"
            : question.Bases.Length > 1 ? "two plans at once"
            : question.Statistic is not null ? "an average or a count of rows"
            : null;
        if (beside is not null)
            throw new CannotAnswerException(
                $"What the months are carried forward to cannot be shown with {beside}. Ask for one of them at a time."
            );
    }
}
