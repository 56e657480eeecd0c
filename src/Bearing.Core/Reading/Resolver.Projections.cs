using Bearing.Core.Answering;
using Bearing.Core.Books;

namespace Bearing.Core.Reading;

/// <summary>What lies ahead: run rate, outlook, what is left and what is used of a plan.</summary>
internal sealed partial class Resolver
{
    /// <summary>"What will sales be in December": the one to come, where it is one of this year.</summary>
    private void LookAhead(Draft draft)
    {
        if (draft.Projection != Projection.Outlook || book.CurrentPeriod is not { } now) return;
        for (var i = 0; i < draft.Periods.Count; i++)
            if (draft.Periods[i] is { YearGiven: false } said && said.Span.To <= now && said.Span.AddMonths(12) is var next && next.From > now && next.To.Year == now.Year) draft.Periods[i] = said with { Span = next };
    }

    /// <summary>The months so far, and beside them the plan of the whole year.</summary>
    private Question Projected(Question question, Projection projection, Draft draft)
    {
        if (book.CurrentPeriod is not { } now) return question;
        var span = question.Spans[0];
        // "What do we expect to make in December": what the latest forecast holds for it.
        if (projection == Projection.Outlook && draft.Periods.Count == 1 && span.From > now && span.Count < 12 && span != new PeriodSpan(now.AddMonths(1), FiscalCalendar.Year(now.Year).To) && (book.Latest(ScenarioKind.Forecast, span.To) ?? book.Latest(ScenarioKind.Budget, span.To)) is { } ahead) return question with { Subject = new Side(SideKind.Version, ahead.Code), Bases = question.Bases.RemoveAll(b => b.Scenario == ahead.Code) };
        if (span.From > FiscalCalendar.Year(now.Year).To) throw new CannotAnswerException($"{book.Calendar.NameOf(span)} has not begun; only the year of {book.Calendar.NameOf(PeriodSpan.Of(now))} is carried forward.", "outlook for the full year");
        var said = draft.Periods.Select(p => p.Span).Where(s => s.To <= now && s.Count < 12).ToList();
        var toDate = said.Count > 0 ? said[^1] : draft.Periods.Count == 0 && span.To <= now && span.Count < 12 ? span : FiscalCalendar.YearToDate(now);
        if (projection == Projection.Outlook) toDate = FiscalCalendar.YearToDate(now);
        var held = projection is Projection.Remaining or Projection.Used || question.Bases.Length > 0 || draft.Scenarios.Contains("budget");
        var plan = question.Bases.Concat(question.Subject == Side.Actual ? [] : [question.Subject]).LastOrDefault(b => b.Kind == SideKind.Version && b != Side.Actual) is { } named && (projection != Projection.Outlook || book.Scenario(named.Scenario)?.Kind == ScenarioKind.Budget)
            ? named : book.Latest(ScenarioKind.Budget, FiscalCalendar.Year(toDate.To.Year).To) is { } budget ? new Side(SideKind.Version, budget.Code) : null;
        if (held && plan is null) throw new CannotAnswerException("The book has no budget for the year that something could be held against.");
        // What is left is so at one time; what it comes to a month is said.
        if (projection == Projection.Remaining) question = question with { Breakdowns = question.Breakdowns.RemoveAll(b => b.Grain is not null) };
        return question with { Projection = projection, Intent = Intent.Value, Subject = Side.Actual, Spans = [toDate], Bases = held ? [plan!] : [], Share = false, Growth = false, Conditions = [] };
    }

    /// <summary>What a projection would pass over in silence.</summary>
    private static void RefuseBesideProjection(Draft draft, Question question)
    {
        var beside = draft.Conditions.Count > 0 ? "limits" : draft.Growth ? "growth" : draft.Cumulative ? "cumulative sums" : draft.Intent is Intent.Why or Intent.Bridge or Intent.Entries ? "a cause, a bridge or entries"
            : question.Bases.Length > 1 ? "two plans at once" : question.Statistic is not null ? "an average or a count of rows" : null;
        if (beside is not null) throw new CannotAnswerException($"What the months are carried forward to cannot be shown with {beside}. Ask for one of them at a time.");
    }
}
