using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Which periods, and which scenarios against which.</summary>
internal sealed partial class Resolver
{
    private ImmutableArray<PeriodSpan> Spans(Draft draft)
    {
        if (draft.Periods.Count > 0)
        {
            if (Planned(draft) is { } planned)
                return planned;
            // "June actuals" asks for those of this June, which are not there yet.
            if (draft is { Scenarios: ["actual"], Bases.Count: 0, Periods: [{ YearGiven: false } only] })
                RefuseNotClosed(only.Span);
            foreach (var period in draft.Periods.Where(p => !p.YearGiven))
                _assumed.Add(Times.LatestOne(book, period.Span));
            var spans = draft.Periods.Select(p => p.Span).Distinct().OrderBy(s => s.From).ToList();
            // A list of entries runs through months that follow each other.
            if (
                draft.Intent == Intent.Entries
                && spans.Count > 1
                && Enumerable.Range(1, spans.Count - 1).All(i => spans[i].From == spans[i - 1].To.AddMonths(1))
            )
                return [new PeriodSpan(spans[0].From, spans[^1].To)];
            return [.. draft.Periods.Select(p => p.Span).Distinct()];
        }
        if (book.CurrentPeriod is not { } now)
            return book.Definition.Scenarios.Select(s => s.Current.Coverage?.Span).FirstOrDefault(s => s is not null) is { } any
                ? [any]
                : [];
        if (draft.BasePeriod is { } compared)
        {
            _cost += GuessedSubject;
            // "Growth against the first half of last year" is that of the first half of this one, where that has been.
            var again = compared.AddMonths(12);
            var after = compared.From.Year < now.Year && again.To <= now ? again : compared.AddMonths(compared.Count);
            _assumed.Add(
                after == again
                    ? $"{book.Calendar.NameOf(after)}, a year after {book.Calendar.NameOf(compared)}"
                    : $"{book.Calendar.NameOf(after)}, which follows {book.Calendar.NameOf(compared)}"
            );
            return [after];
        }
        if (draft.Bases.Concat(draft.Scenarios).Contains("prior-period"))
        {
            _assumed.Add($"{book.Calendar.NameOf(now)}, the latest closed month");
            return [PeriodSpan.Of(now)];
        }
        // A plan alone, or one against another, is asked about as a whole; where actuals take part, as far as they go.
        var onLastYear =
            draft is { Scenarios: [var outlook], Bases: ["prior-year"], BasePeriod: null, Adds: false }
            && book.Scenario(Named(outlook, PeriodSpan.Of(now)).Scenario)?.Kind == ScenarioKind.Forecast;
        if (
            (OnlyPlans(draft) || onLastYear)
            && book.Version(Named(draft.Scenarios.Concat(draft.Bases).First(), PeriodSpan.Of(now)))?.Coverage is { } coverage
            && coverage.Span.To > now
        )
        {
            var whole = FiscalCalendar.Year(coverage.Span.To.Year);
            _assumed.Add($"{book.Calendar.NameOf(whole)}, all of the plan's year, since no period was named");
            return [whole];
        }
        if (draft.Document is null)
            _assumed.Add($"{book.Calendar.NameOf(FiscalCalendar.YearToDate(now))}, the year to date, since no period was named");
        return [FiscalCalendar.YearToDate(now)];
    }

    private void RefuseNotClosed(PeriodSpan span)
    {
        if (!Times.IsAhead(book, span.AddMonths(12)))
            return;
        throw new CannotAnswerException(
            $"{book.Calendar.NameOf(span.AddMonths(12))} has no actuals yet: the last month that is closed is {book.Calendar.NameOf(Times.Now(book))}.",
            [book.Calendar.NameOf(span), $"{book.Calendar.NameOf(span.AddMonths(12))} budget"]
        );
    }

    /// <summary>"November by year": these months of each year that the book has; "by year" alone: all of its years.</summary>
    private ImmutableArray<PeriodSpan> OfYears(Draft draft, ImmutableArray<PeriodSpan> spans)
    {
        if (
            spans is not [{ } span]
            || span.From.Year != span.To.Year
            || draft.Breakdowns.Find(b => b.Grain == TimeGrain.Year) is not { } years
            || book.ActualSpan is not { } all
            || draft.Bases.Count + draft.Scenarios.Count > 0
            || draft.Compares
            || draft.Projection is not null
            || draft.Intent is not (null or Intent.Value)
        )
            return spans;
        if (draft.Periods.Count == 0)
        {
            _assumed.RemoveAll(a => a.EndsWith("since no period was named", StringComparison.Ordinal));
            _assumed.Add($"{book.Calendar.NameOf(all)}, all that there is, since no period was named");
            return [all];
        }
        var same = Enumerable
            .Range(0, MostYears)
            .Select(y => span.AddMonths(-12 * y))
            .Where(s => all.Intersect(s) == s)
            .ToImmutableArray();
        if (same.Length < 2)
            return spans;
        draft.Breakdowns.Remove(years);
        return same;
    }

    /// <summary>"Revenue month by month, 2025 and 2026": the same months stand side by side, the later beside what it is held
    /// against.</summary>
    private ImmutableArray<PeriodSpan> MonthsOfYears(Draft draft, ImmutableArray<PeriodSpan> spans)
    {
        if (
            spans.Length is not (2 or 3)
            || draft.Breakdowns.TrueForAll(b => b.Grain is null)
            || draft.Bases.Count + draft.Scenarios.Count + draft.BasePeriods.Count > 0
            || draft.Statistic is not null
            || draft.Cumulative
            || draft.Intent is not (null or Intent.Value or Intent.Variance)
        )
            return spans;
        var latest = spans.MaxBy(s => s.From);
        if (spans.Any(s => s.Count != latest.Count || (latest.From.Ordinal - s.From.Ordinal) % 12 != 0))
            return spans;
        draft.Bases.AddRange(
            spans
                .Where(s => s != latest)
                .OrderByDescending(s => s.From)
                .Select(s =>
                    latest.From.Ordinal - s.From.Ordinal is 12
                        ? "prior-year"
                        : $"{EarlierBy}{latest.From.Ordinal - s.From.Ordinal}"
                )
        );
        draft.Compares = draft.BesideOnly = true;
        return [latest];
    }

    /// <summary>Before the number of months by which a side lies back.</summary>
    private const string EarlierBy = "prior-by-";

    /// <summary>A plan alone, or plans against each other; "against budget and forecast" holds what happened against
    /// both.</summary>
    private static bool OnlyPlans(Draft draft)
    {
        var said = draft.Scenarios.Concat(draft.Bases).Distinct().ToList();
        return said.Count > 0
            && !draft.Adds
            && (draft.Scenarios.Count > 0 || draft.Bases.Count < 2)
            && (said.Count > 1 || (!draft.Compares && draft.Bases.Count == 0))
            && draft.BasePeriod is null
            && said.TrueForAll(s => s != "actual" && !s.StartsWith("prior", StringComparison.Ordinal));
    }

    private static bool IsPlan(string scenario) =>
        scenario != Book.ActualCode && !scenario.StartsWith("prior", StringComparison.Ordinal);

    /// <summary>"Forecast of March to June" looks ahead: months without a year are those that the plan covers.</summary>
    private ImmutableArray<PeriodSpan>? Planned(Draft draft)
    {
        // "What is budgeted this year": all of it.
        if (draft.Periods is [{ IsThisYear: true }] && OnlyPlans(draft) && book.CurrentPeriod is { } now)
            return [FiscalCalendar.Year(now.Year)];
        // "Forecast Q4 against Q4 last year": what has been is no plan, and what is planned lies ahead.
        if (
            draft.Scenarios.Concat(draft.Bases).FirstOrDefault(IsPlan) is not { } plan
            || draft.Scenarios.Concat(draft.Bases).Contains(Book.ActualCode)
            || draft.Periods.Any(p => p.YearGiven)
        )
            return null;
        if (!OnlyPlans(draft) && !draft.Scenarios.Exists(IsPlan) && draft.Bases.Count(IsPlan) < 2)
            return null;
        if (book.Version(Named(plan, draft.Periods[0].Span))?.Coverage is not { } coverage)
            return null;
        var later = draft.Periods.ConvertAll(p => p.Span.AddMonths(12));
        if (
            draft.Periods.All(p => coverage.Span.Intersect(p.Span) is not null)
            || !later.TrueForAll(p => coverage.Span.Intersect(p) == p)
        )
            return null;
        foreach (var span in later)
            _assumed.Add($"{book.Calendar.NameOf(span)}, which the plan covers");
        return [.. later.Distinct()];
    }

    private (Side Subject, ImmutableArray<Side> Bases) Sides(
        Draft draft,
        PeriodSpan span,
        Intent intent,
        Side subject,
        ImmutableArray<Side> before
    )
    {
        var bases = draft.Bases.Select(b => Named(b, span)).ToList();
        // "Over budget, and their budget": it stands there already.
        var named = draft.Scenarios.Select(s => Named(s, span)).Where(n => !bases.Contains(n)).ToList();
        if (
            (draft.Growth || draft.OverTime || draft.Conditions.Any(c => c.On is ConditionOn.New or ConditionOn.Ended))
            && bases.Count == 0
            && named.Count == 0
            && draft.BasePeriod is null
        )
            bases.Add(Side.PriorYear);
        // What changed in August did so since July, unless something else is said.
        if (draft.Shift && bases.Count == 0 && named.Count == 0 && draft.BasePeriod is null && before.IsEmpty)
        {
            bases.Add(Side.PriorPeriod with { Version = span.Count.ToString(CultureInfo.InvariantCulture) });
            _assumed.Add($"compared with {book.Calendar.NameOf(span.AddMonths(-span.Count))}");
        }
        var compares = draft.Compares || intent is Intent.Variance or Intent.Why or Intent.Bridge;
        if (draft.BasePeriod is { } other)
        {
            var shift = span.From.Ordinal - other.From.Ordinal;
            // "Q3 to date against Q3 last year": as far as this one has come.
            if (other.Count > span.Count && shift == 12 && span.To == book.CurrentPeriod)
                _assumed.Add($"the same months of {book.Calendar.NameOf(other)}");
            else if (other.Count != span.Count)
                _cost += MisfittingPeriods;
            bases.Add(
                shift == 12 ? Side.PriorYear : Side.PriorPeriod with { Version = shift.ToString(CultureInfo.InvariantCulture) }
            );
            if (shift == 0)
                _cost += SamePeriod;
        }
        if (before.Length > 0 || named.Count > 0 && draft.Adds)
            bases.AddRange(named);
        else if (named.Count + bases.Count > 1 || !compares)
        {
            // Last quarter and last year, or budget and last year, are what actuals are seen beside.
            // Of a year that is not over the plans are what is asked for.
            var ahead =
                draft.ListsScenarios
                && (span.To > book.CurrentPeriod || draft.OpenCompare)
                && named.Exists(n => n.Kind == SideKind.Version);
            if (
                named.Count > 1
                && bases.Count == 0
                && !draft.OpenCompare
                && !ahead
                && (named.Exists(n => n.Kind != SideKind.Version) || (draft.ListsScenarios && span.To <= book.CurrentPeriod))
            )
                named.Add(Side.Actual);
            var all = named.Distinct().OrderBy(Precedence).ToList();
            if (all.Count > 0)
                subject = all[0];
            bases.AddRange(all.Skip(1));
        }
        else if (named.Count == 1)
        {
            if (named[0] == Side.Actual)
                subject = named[0];
            else
                bases.Add(named[0]);
        }
        // Whatever the order of words, the newer is held against the older and a plan against what it planned before.
        if (before.Length == 0 && bases is [var only] && Precedence(only) < Precedence(subject))
            (subject, bases) = (only, [subject]);
        var result = before.Concat(bases).Where(b => b != subject).Distinct().ToList();
        if (result.Count == 0 && compares && intent != Intent.Entries && book.UsualBase(span, subject) is { } usual)
        {
            result.Add(usual);
            _assumed.Add($"compared with {book.NameOf(usual)}");
        }
        return (
            subject,
            [.. result.Order(Comparer<Side>.Create((a, b) => before.Length > 0 ? 0 : Precedence(a).CompareTo(Precedence(b))))]
        );
    }

    /// <summary>Actual before newer forecast before older forecast before budget before the past.</summary>
    private int Precedence(Side side) =>
        side.Kind switch
        {
            SideKind.PriorYear => 40,
            SideKind.PriorPeriod => 50,
            _ => book.Scenario(side.Scenario) switch
            {
                { Kind: ScenarioKind.Actual } => 0,
                { Kind: ScenarioKind.Forecast } forecast => 20 - Math.Clamp(forecast.Current.CutOff?.Number ?? 0, 0, 12),
                _ => 30,
            },
        };

    private Side Named(string scenario, PeriodSpan span)
    {
        switch (scenario)
        {
            case "actual":
                return Side.Actual;
            case "prior-year":
                return Side.PriorYear;
            case var earlier when earlier.StartsWith(EarlierBy, StringComparison.Ordinal):
                return Side.PriorPeriod with { Version = earlier[EarlierBy.Length..] };
            case "prior-month":
                return Side.PriorPeriod with { Version = "1" };
            case "prior-quarter":
                return Side.PriorPeriod with { Version = "3" };
            case "prior-period":
                return Side.PriorPeriod with { Version = span.Count.ToString(CultureInfo.InvariantCulture) };
            case "forecast-before":
                return new Side(SideKind.Version, ForecastBefore(span).Code);
            case "budget" or "forecast":
                var kind = scenario == "budget" ? ScenarioKind.Budget : ScenarioKind.Forecast;
                var found = book.Latest(kind, span.To)
                    ?? throw new CannotAnswerException($"The book has no {scenario} yet.", "versus last year");
                return new Side(SideKind.Version, found.Code);
            default:
                // The current version said by its code is the scenario itself.
                var side = Side.Parse(scenario);
                return book.Scenario(side.Scenario) is { } known && known.Current.Code == side.Version
                    ? side with
                    {
                        Version = null,
                    }
                    : side;
        }
    }

    /// <exception cref="CannotAnswerException">When there is no forecast, or one alone.</exception>
    private Scenario ForecastBefore(PeriodSpan span)
    {
        var latest = book.Latest(ScenarioKind.Forecast, span.To)
            ?? throw new CannotAnswerException("The book has no forecast yet.", "versus last year");
        var cut = latest.Current.CutOff;
        return book.Definition.Scenarios.Where(s =>
                s.Kind == ScenarioKind.Forecast
                && s.Code != latest.Code
                && s.Current.Coverage?.Span.Intersect(span) is not null
                && (cut is null || s.Current.CutOff < cut)
            )
            .OrderByDescending(s => s.Current.CutOff ?? default)
            .FirstOrDefault()
            ?? throw new CannotAnswerException(
                $"The book has one forecast only, {latest.Name}; there is none before it.",
                $"versus {latest.Name}"
            );
    }

    /// <summary>Limits beside several bases: each of its own where it was said so, and otherwise of all of them.</summary>
    private ImmutableArray<Condition> OfEachBase(
        Draft draft,
        bool hasRows,
        ImmutableArray<Side> bases,
        PeriodSpan span,
        ImmutableArray<Condition> limits
    )
    {
        if (bases.Length < 2)
            return limits;
        static bool IsOfBase(Condition c) => c.On is ConditionOn.Amount or ConditionOn.Percent;
        if (draft.OwnLimits.Count > 0 && hasRows)
            return
            [
                .. draft.OwnLimits.SelectMany(o =>
                    (o.Limits.IsEmpty ? [new Condition(ConditionOn.Amount, o.Side ?? Direction.Either, Cent)] : o.Limits).Select(
                        c => c with { Of = Named(o.Scenario, span) }
                    )
                ),
                .. limits.Where(c => !IsOfBase(c)),
            ];
        return [.. limits.SelectMany(c => IsOfBase(c) ? bases.Select(b => c with { Of = b }) : [c])];
    }

    /// <summary>"Is it the same?": yes or no, and the places where it is not.</summary>
    private FormOneQuestion Compared(FormOneQuestion question) =>
        question with
        {
            Claim = Direction.Within,
            Intent = Intent.Variance,
            Breakdowns =
                question.Breakdowns.Length > 0
                    ? question.Breakdowns
                    :
                    [
                        Breakdown.By(book.Entities.Code, book.Entities.Levels[^1]),
                        Breakdown.By(book.Accounts.Code, book.Accounts.Levels[^1]),
                    ],
            Conditions =
                question.Conditions.Length > 0
                    ? question.Conditions
                    : [new Condition(ConditionOn.Amount, Direction.Either, Cent)],
        };
}
