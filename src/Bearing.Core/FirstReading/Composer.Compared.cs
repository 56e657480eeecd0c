using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that hold one period against another.</summary>
internal sealed partial class Composer
{
    /// <summary>compare Q2 to Q1 → the second is what the first is held against, and no range.</summary>
    private static bool ComparedPeriods(List<Item> items, int at) =>
        At<PeriodItem>(items, at) is not null
            && Word(items, at + 1)?.Kind is MentionKind.To
            && At<PeriodItem>(items, at + 2) is { } other
            && items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Compare, Value: "compare" } })
            && !items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } })
            && !items.Skip(at + 3).Any(i => i is WordItem { Mention.Kind: MentionKind.Comparator })
            && Replace(items, at + 1, 2, (s, e) => new BasePeriodItem(s, e, other.Span))
        // "Compare FY25 with FY24".
        || At<PeriodItem>(items, at) is not null
            && At<PeriodItem>(items, at + 1) is { } against
            && items.OfType<PeriodItem>().Count() == 2
            && Word(items, at - 1) is { Kind: MentionKind.Compare, Value: "compare" }
            && Replace(items, at + 1, 1, (s, e) => new BasePeriodItem(s, e, against.Span));

    /// <summary>year to date against the full year's budget → the part of it that is used.</summary>
    private bool AgainstWholeYear(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Comparator
            || !items.Take(at).Any(i => i is PeriodItem p && p.Span == FiscalCalendar.YearToDate(_now))
            || _now.Number == 12
            || items.Exists(i =>
                i is WordItem { Mention: { Kind: MentionKind.Projection, Value: nameof(Projection.RunRate) or "runRate" } }
            )
        )
            return false;
        var (period, scenario) = At<PeriodItem>(items, at + 1) is { } first
            ? (first, Word(items, at + 2))
            : (At<PeriodItem>(items, at + 2), Word(items, at + 1));
        return period?.Span == FiscalCalendar.Year(_now.Year)
            && scenario is { Kind: MentionKind.Scenario, Value: "budget" }
            && Replace(items, at, 3, (s, e) =>
                new WordItem(
                    scenario with
                    {
                        Kind = MentionKind.Projection,
                        Value = nameof(Projection.Used),
                        Start = s,
                        Length = e - s,
                    }
                )
            );
    }

    /// <summary>the difference between July and August → the later against the earlier.</summary>
    private static bool PeriodLessPeriod(List<Item> items, int at)
    {
        if (
            !IsDifference(items, at)
            || At<PeriodItem>(items, at + 2) is not { } one
            || At<PeriodItem>(items, at + 4) is not { } other
            || one.Span == other.Span
        )
            return false;
        var (earlier, later) = one.Span.From < other.Span.From ? (one, other) : (other, one);
        return Replace(items, at + 1, 4, (s, e) => later with { Start = s, End = e })
            && Insert(items, at + 2, new BasePeriodItem(earlier.Start, earlier.End, earlier.Span));
    }

    /// <summary>this year and last year → the same months of both.</summary>
    private bool ThisAndLastYear(List<Item> items, int at)
    {
        if (At<PeriodItem>(items, at) is not { } now || Word(items, at + 1)?.Kind is not MentionKind.And)
            return false;
        var year = now.Span == FiscalCalendar.YearToDate(_now) && _now.Number < 12;
        // "August this year and last".
        var part =
            (IsOfThisYear(now) || now is { YearGiven: false, Said.Kind: MentionKind.Month or MentionKind.Part })
            && now.Span.Count < 12
            && !year;
        var last =
            At<PeriodItem>(items, at + 2) is { IsLastYear: true }
            || (
                Word(items, at + 2) is { Kind: MentionKind.Trailing, Value: "trailing" }
                && Word(items, at + 3)?.Kind is not (MentionKind.Number or MentionKind.Grain or MentionKind.Level)
                && At<PeriodItem>(items, at + 3) is null
            );
        if (!(year || part) || !last || !Replace(items, at + 1, 2, (s, e) => new BaseItem(s, e, "prior-year")))
            return false;
        // "Q2 this year and last": of that quarter.
        return part
            || !items.Exists(i => i is PeriodItem { YearGiven: false, Said.Kind: MentionKind.Month or MentionKind.Part })
            || Remove(items, at, 1);
    }

    /// <summary>the last 12 months versus the 12 months before → what is as long and comes right before.</summary>
    private static bool AsLongBefore(List<Item> items, int at)
    {
        if (At<PeriodItem>(items, at) is not { } now || Word(items, at + 1)?.Kind is not MentionKind.Comparator)
            return false;
        bool IsMonths(int i) => Word(items, i) is { Kind: MentionKind.Grain, Value: "month" };
        // "The one before" is as long, "the 1 month before" three months is not.
        bool IsAsLong(int i) =>
            Word(items, i) is { Kind: MentionKind.Number } number
            && int.Parse(number.Value, CultureInfo.InvariantCulture) is var count
            && (count == now.Span.Count || (count == 1 && Word(items, i + 1) is { Kind: MentionKind.Exclude, Value: "before" }));
        bool IsBefore(int i) =>
            Word(items, i) is { Kind: MentionKind.Exclude, Value: "before" } or { Kind: MentionKind.Step, Value: "-1" };
        // "The 3 before", "the 3 months before", "the one before"; "the previous 3".
        var behind =
            !IsAsLong(at + 2) ? at + 2
            : IsMonths(at + 3) ? at + 4
            : at + 3;
        var end =
            IsBefore(behind) ? behind
            : Word(items, at + 2)?.Kind is MentionKind.Trailing
            && IsAsLong(at + 3)
            && Word(items, at + 4)?.Kind is not MentionKind.Grain
                ? at + 3
            : 0;
        // "The previous three months", of three months.
        if (end == 0 && (At<PeriodItem>(items, at + 2) is not { Trailing: true } before || before.Span != now.Span))
            return false;
        return Replace(items, at + 1, end > 0 ? end - at : 2, (s, e) => new BaseItem(s, e, "prior-period"));
    }

    /// <exception cref="CannotAnswerException">Of “April against the average of the three months before”: what is compared with
    /// are sums.</exception>
    private static bool AgainstAverage(List<Item> items, int at)
    {
        // "Gravenholt against the average house".
        if (
            Word(items, at) is { Kind: MentionKind.Statistic, Value: "average" or "median" } of
            && Word(items, at + 1)?.Kind is MentionKind.Level
            && Word(items, at - 1)?.Kind is MentionKind.Comparator
        )
            throw new CannotAnswerException(
                $"Rows are not held against their {of.Value}. Ask for all of them with it, as in “by {Word(items, at + 1)!.Title.ToLowerInvariant()} on average”."
            );
        if (
            Word(items, at) is not { Kind: MentionKind.Statistic, Value: "average" or "median" } middle
            || (At<PeriodItem>(items, at + 1) is not { Span.Count: > 1 } && Word(items, at + 1)?.Kind is not MentionKind.Grain)
        )
            return false;
        if (
            Word(items, at - 1)?.Kind is MentionKind.Comparator or MentionKind.Gap
            || (
                At<PeriodItem>(items, at - 1) is not null
                && items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Compare })
            )
        )
            throw new CannotAnswerException(
                $"One period is not held against the {middle.Value} of others. Ask for these months with their {middle.Value}, as in “revenue of the last 6 months by month on average”."
            );
        return false;
    }

    /// <summary>"February this year": what "last" is said of behind it is that year.</summary>
    private bool IsOfThisYear(PeriodItem period) =>
        _said.Any(m => m is { Kind: MentionKind.Period, Value: "this:0" } && m.End == period.End);

    /// <summary>this year against last → the same months of the year before; this quarter against last → the one before
    /// it.</summary>
    private bool LastAlone(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is not { } now
            || Word(items, at + 1)?.Kind is not MentionKind.Comparator
            || Word(items, at + 2)?.Kind is not MentionKind.Trailing
            || At<PeriodItem>(items, at + 3) is not null
            || Word(items, at + 3)?.Kind is MentionKind.Number or MentionKind.Grain
        )
            return false;
        return Replace(items, at + 1, 2, (s, e) =>
            new BaseItem(
                s,
                e,
                now.Span.From.Number == 1 && now.Span.Count > 3 || now.Span.Count == 12 || IsOfThisYear(now)
                    ? "prior-year"
                    : "prior-period"
            )
        );
    }

    /// <summary>Q4 forecast against Q4 budget, outlook against the full-year budget → the period is said once.</summary>
    private bool SamePeriodAgain(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Comparator
        && At<PeriodItem>(items, at + 1) is { } again
        && Word(items, at + 2)?.Kind is MentionKind.Scenario
        && (
            items.Take(at).OfType<PeriodItem>().Any(p => p.Span == again.Span)
            || (
                again.Span == FiscalCalendar.Year(_now.Year)
                && items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Projection })
            )
        )
        && Remove(items, at + 1, 1);

    /// <summary>March, budget for March, March last year → what is said of the same months again is held against them.</summary>
    private static bool PlanOfSamePeriod(List<Item> items, int at)
    {
        if (Word(items, at - 1)?.Kind is MentionKind.Comparator)
            return false;
        bool IsSaid(PeriodItem again, int back) =>
            items.Take(at).OfType<PeriodItem>().Any(p => !p.YearGiven && p.Span == again.Span.AddMonths(back));
        if (
            At<PeriodItem>(items, at) is { } behind
            && Word(items, at + 1) is { Kind: MentionKind.Scenario, Value: not (Book.ActualCode or "prior-year") } of
            && IsSaid(behind, 0)
        )
            return Replace(items, at, 2, (s, e) => new BaseItem(s, e, of.Value));
        if (
            Word(items, at) is { Kind: MentionKind.Scenario, Value: not (Book.ActualCode or "prior-year") } plan
            && At<PeriodItem>(items, at + 1) is { } said
            && IsSaid(said, 0)
        )
            return Replace(items, at, 2, (s, e) => new BaseItem(s, e, plan.Value));
        return At<PeriodItem>(items, at) is { OfLastYear: true } last
            && IsSaid(last, 12)
            && items.Take(at).Any(i => i is BaseItem)
            && Replace(items, at, 1, (s, e) => new BaseItem(s, e, "prior-year"));
    }

    /// <summary>turnover ytd vs turnover ytd last year → the figure is said once.</summary>
    private static bool SameFigureAgain(List<Item> items, int at) =>
        Word(items, at)?.Kind is MentionKind.Comparator
        && Word(items, at + 1) is { Kind: MentionKind.Figure } again
        && items.Take(at).Any(i => i is WordItem { Mention: { Kind: MentionKind.Figure } said } && said.Value == again.Value)
        && (At<PeriodItem>(items, at + 2) is not null || Word(items, at + 2)?.Kind is MentionKind.Scenario)
        && Remove(items, at + 1, 1);

    /// <summary>versus August → base period; with January next to it → the same, the comparison said behind.</summary>
    private bool PeriodAsBase(List<Item> items, int at)
    {
        if (Word(items, at) is { Kind: MentionKind.Comparator } lead && At<PeriodItem>(items, at + 1) is { } period)
        {
            if (lead.Value == "on" && period.IsLastYear)
                return Replace(items, at, 2, (s, e) => new BaseItem(s, e, "prior-year"));
            // "On July" compares only what went up or down.
            if (
                lead.Value == "on"
                && !items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Gap or MentionKind.Growth })
            )
                return false;
            // "First half versus second half of last year": the year holds for both.
            if (
                At<PeriodItem>(items, at - 1) is { Said: { Kind: MentionKind.Part } part, YearGiven: false } before
                && period is { YearGiven: true }
                && before.Span.Count == period.Span.Count
                && PartOf(part.Value, period.Span.From.Year) is var same
                && same != period.Span
            )
                items[at - 1] = before with { Span = same, YearGiven = true };
            return Replace(items, at, 2, (s, e) => new BasePeriodItem(s, e, period.Span) { Beside = lead.Value == "beside" });
        }
        // "Q2 minus Q1".
        if (
            Word(items, at) is { Kind: MentionKind.Exclude, Value: "less" }
            && At<PeriodItem>(items, at - 1) is { } first
            && At<PeriodItem>(items, at + 1) is { } taken
            && taken.Span.Count == first.Span.Count
        )
            return Replace(items, at, 2, (s, e) => new BasePeriodItem(s, e, taken.Span));
        // "Is 2026 better than 2025 so far": as far as either goes.
        if (
            At<PeriodItem>(items, at) is { Span: { Count: 12, From.Number: 1 } whole } year
            && Word(items, at + 1) is { Kind: MentionKind.Gap, Value: not ("gap" or "within") }
            && At<PeriodItem>(items, at + 2) is { Span: { From.Number: 1, Count: < 12 } soFar }
            && soFar.Count == _now.Number
        )
            items[at] = year with { Span = new PeriodSpan(whole.From, whole.From.AddMonths(soFar.Count - 1)), Said = null };
        // "Was September better than August", "July over June".
        if (
            At<PeriodItem>(items, at) is { } one
            && Word(items, at + 1) is { Kind: MentionKind.Gap, Value: not ("gap" or "within") }
            && At<PeriodItem>(items, at + 2) is { } other
            && other.Span.Count == one.Span.Count
        )
            return Replace(items, at + 2, 1, (s, e) => new BasePeriodItem(s, e, other.Span));
        return At<PeriodItem>(items, at) is { } behind
            && (items.Take(at).Any(i => i is PeriodItem) || items.Count == at + 2)
            && Word(items, at + 1) is { Kind: MentionKind.Comparator, Value: "beside" }
            && Word(items, at + 2)?.Kind is not MentionKind.Scenario
            && Replace(items, at, 2, (s, e) => new BasePeriodItem(s, e, behind.Span) { Beside = true });
    }
}
