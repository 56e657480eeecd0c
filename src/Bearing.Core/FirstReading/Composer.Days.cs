using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that speak of days. Records and journals have them; figures are kept by month, so that of these only whole
/// months remain.</summary>
internal sealed partial class Composer
{
    /// <summary>Periods that are told by their days and have to be so in the question as well.</summary>
    private int _ofDays;

    /// <summary>14 March 2026 · the 3rd of August · March 14 · 14.03.2026 → one day.</summary>
    private bool NamedDay(List<Item> items, int at)
    {
        if (Word(items, at) is { Kind: MentionKind.Day } shaped)
            return PutDays(
                items,
                at,
                1,
                DaySpan.On(DateOnly.ParseExact(shaped.Value, "yyyy-MM-dd", CultureInfo.InvariantCulture)),
                true,
                1
            );
        if (EndOfMonth(items, at))
            return true;
        var monthFirst = Word(items, at)?.Kind is MentionKind.Month;
        var (number, month) = monthFirst ? (at + 1, at) : (at, at + 1);
        if (
            DayNumber(items, number) is not { } day
            || Word(items, month) is not { Kind: MentionKind.Month } named
            || !IsBeside(items, at)
        )
            return false;
        // "The last 3 March postings", "period 5": so many, and no day.
        if (
            Word(items, at - 1)?.Kind
            is MentionKind.Rank
                or MentionKind.Trailing
                or MentionKind.Leading
                or MentionKind.Further
                or MentionKind.Which
                or MentionKind.Calendar
                or MentionKind.Projection
        )
            return false;
        var year = YearAt(items, at + 2, MentionKind.Month) ?? ShortYear(Word(items, at + 2));
        // "March 26" is a month of a year, and "March 5 largest" speaks of five.
        if (
            monthFirst
            && year is null
            && (
                ShortYear(Word(items, number)) is not null
                || (at + 2 < items.Count && Word(items, at + 2)?.Kind is not (MentionKind.To or MentionKind.And))
            )
        )
            return false;
        var calendarMonth = int.Parse(named.Value, CultureInfo.InvariantCulture);
        var of = year ?? book.Calendar.FirstDay(Latest(calendarMonth)).Year;
        return PutDays(items, at, year is null ? 2 : 3, DaySpan.On(DayIn(of, calendarMonth, day)), year is not null, 1);
    }

    /// <summary>the last day of September · the first 3 days of May 2026 → so many days at that end of the month.</summary>
    private bool EndOfMonth(List<Item> items, int at)
    {
        if (Word(items, at) is not { Kind: MentionKind.Trailing or MentionKind.Leading } end)
            return false;
        var number = DayNumber(items, at + 1);
        var days = number is null ? at + 1 : at + 2;
        if (Word(items, days)?.Kind is not MentionKind.Days || Word(items, days + 1) is not { Kind: MentionKind.Month } month)
            return false;
        var year = YearAt(items, days + 2, MentionKind.Month) ?? ShortYear(Word(items, days + 2));
        var calendarMonth = int.Parse(month.Value, CultureInfo.InvariantCulture);
        var of = year ?? book.Calendar.FirstDay(Latest(calendarMonth)).Year;
        var (count, length) = ((number ?? 1) - 1, DateTime.DaysInMonth(of, calendarMonth));
        var span =
            end.Kind == MentionKind.Leading
                ? new DaySpan(new DateOnly(of, calendarMonth, 1), new DateOnly(of, calendarMonth, Math.Min(1 + count, length)))
                : new DaySpan(
                    new DateOnly(of, calendarMonth, Math.Max(length - count, 1)),
                    new DateOnly(of, calendarMonth, length)
                );
        return PutDays(items, at, days + 2 + (year is null ? 0 : 1) - at, span, year is not null, 1);
    }

    /// <summary>3 to 17 August · between 28 August and 3 September · 1-15 March · August 3 to 17 → from day to day.</summary>
    private bool DayRange(List<Item> items, int at)
    {
        // "31-60, 61-90" are days of age, and so is what stands beside such a word.
        if (
            Word(items, at) is { Kind: MentionKind.Bucket } pair
            && Word(items, at + 1) is { Kind: MentionKind.Month } of
            && pair.Title.Split('-') is [var lowest, var highest]
            && int.Parse(lowest, CultureInfo.InvariantCulture) is >= 1 and var low
            && int.Parse(highest, CultureInfo.InvariantCulture) is <= 31 and var high
            && items.Count(i => i is WordItem { Mention.Kind: MentionKind.Bucket }) == 1
            && !items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Check, Value: "ageing" or "overdue" } })
        )
        {
            var (year, month) = (YearAt(items, at + 2, MentionKind.Month), int.Parse(of.Value, CultureInfo.InvariantCulture));
            var inYear = year ?? book.Calendar.FirstDay(Latest(month)).Year;
            return PutDays(
                items,
                at,
                year is null ? 2 : 3,
                new DaySpan(DayIn(inYear, month, low), DayIn(inYear, month, high)),
                year is not null,
                1
            );
        }
        var between = Word(items, at - 1)?.Kind is MentionKind.Between;
        if (Word(items, at + 1)?.Kind is not { } link || (link != MentionKind.To && !(between && link == MentionKind.And)))
            return false;
        var (one, other) = (At<PeriodItem>(items, at), At<PeriodItem>(items, at + 2));
        var (first, last) = (one?.Days?.Single, other?.Days?.Single);
        if (first is null && last is { } end && DayNumber(items, at) is { } from && from <= end.Day)
            first = DayIn(end.Year, end.Month, from);
        if (last is null && first is { } start && one is not null && DayNumber(items, at + 2) is { } to && to >= start.Day)
            last = DayIn(start.Year, start.Month, to);
        if (first is not { } begin || last is not { } finish)
            return false;
        // The year stands behind the second, or with neither.
        if (one is { YearGiven: false } && other is not null)
            begin = OfYear(begin, finish, finish.Year);
        if (other is { YearGiven: false } && finish < begin)
            finish = finish.AddYears(1);
        if (finish < begin)
            throw new CannotAnswerException(
                $"{DaySpan.On(finish).Name} is earlier than {DaySpan.On(begin).Name}. Name the earlier day first."
            );
        _ofDays -= (one?.Days is null ? 0 : 1) + (other?.Days is null ? 0 : 1);
        return PutDays(items, between ? at - 1 : at, between ? 4 : 3, new DaySpan(begin, finish), (other ?? one)!.YearGiven, 1);

        static DateOnly OfYear(DateOnly day, DateOnly until, int year) =>
            new DateOnly(year, day.Month, Math.Min(day.Day, DateTime.DaysInMonth(year, day.Month))) is var same && same <= until
                ? same
                : same.AddYears(-1);
    }

    /// <summary>since 14 March · after · before · until → open towards one side.</summary>
    private bool OpenDays(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is { Days.Single: { } start } from
            && Word(items, at + 1) is { Kind: MentionKind.Since, Value: MentionContext.FromThen }
        )
            return PutDays(items, at, 2, new DaySpan(start, null), from.YearGiven, 0);
        if (At<PeriodItem>(items, at + 1) is not { Days.Single: { } day } said)
            return false;
        DaySpan? open = Word(items, at) switch
        {
            { Kind: MentionKind.Since } => new DaySpan(day, null),
            { Kind: MentionKind.Exclude, Value: "after" } => new DaySpan(day.AddDays(1), null),
            { Kind: MentionKind.Exclude, Value: "before" } => new DaySpan(null, day.AddDays(-1)),
            { Kind: MentionKind.To, Value: "until" } or { Kind: MentionKind.By, Value: "by" } => new DaySpan(null, day),
            _ => null,
        };
        return open is { } days && PutDays(items, at, 2, days, said.YearGiven, 0);
    }

    /// <summary>before July → the months of the year before it; after August → those behind it, up to now or to the end of the
    /// year.</summary>
    private bool BeyondPeriod(List<Item> items, int at)
    {
        if (
            Word(items, at) is not { Kind: MentionKind.Exclude, Value: "before" or "after" } side
            || At<PeriodItem>(items, at + 1) is not { Days: null, Range: false, Trailing: false } said
            || At<PeriodItem>(items, at - 1) is not null
            || Word(items, at - 1)?.Kind is MentionKind.Field or MentionKind.Value
        )
            return false;
        if (items.Exists(i => IsList(i) || i is RankItem or WordItem { Mention.Kind: MentionKind.Rank or MentionKind.Check }))
            return false;
        var next = said.Span.To.AddMonths(1);
        var before = side.Value == "before";
        // What lies before the first month of a year is the year before, and what lies behind the last the next: neither was
        // said.
        if (before ? said.Span.From.Number == 1 : next.Number == 1)
            return false;
        var span = before
            ? FiscalCalendar.YearToDate(said.Span.From.AddMonths(-1))
            : new PeriodSpan(next, next <= _now ? _now : FiscalCalendar.Year(next.Year).To);
        return Replace(items, at, 2, (s, e) => new PeriodItem(s, e, span, said.YearGiven));
    }

    /// <summary>1 July to 30 September → these months; since 1 July, and until 30 June of what is no list, the same.</summary>
    private bool WholeMonths(List<Item> items, int at)
    {
        if (At<PeriodItem>(items, at) is not { Days: { } days } whole)
            return false;
        var listed = items.Exists(i => IsList(i) || i is WordItem { Mention.Kind: MentionKind.Check });
        var span =
            days.IsWholeMonths ? whole.Span
            : days is { From: { Day: 1 } first, To: null } && !listed && book.Calendar.PeriodOf(first) <= _now
                ? new PeriodSpan(book.Calendar.PeriodOf(first), _now)
            : days is { From: null, To: { } last } && !listed && last.AddDays(1).Day == 1
                ? FiscalCalendar.YearToDate(book.Calendar.PeriodOf(last))
            : (PeriodSpan?)null;
        if (span is not { } months)
            return false;
        _ofDays--;
        return Replace(items, at, 1, (s, e) => whole with { Days = null, Span = months, Range = months.Count > 1 });
    }

    /// <summary>cash at 30 November · open invoices at 30 November · revenue at 30 November → as at the end of that month;
    /// entries and what was dated, due or paid then have that day.</summary>
    private bool LastDayOfMonth(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is not { Days.Single: { } day } said
            || day.AddDays(1).Day != 1
            || Word(items, at - 1)
                is { Kind: MentionKind.Value or MentionKind.Field }
                    or { Kind: MentionKind.Check, Value: "settled" or "due" }
        )
            return false;
        // "Open" may be the word of a column as well as what is open.
        var state = items.Exists(i =>
            i is WordItem { Mention: { Kind: MentionKind.Check } or { Kind: MentionKind.Bucket } }
            || (
                i is WordItem { Mention: { Kind: MentionKind.Value } value }
                && vocabulary.Find(value.Title).Any(e => e.Kind == MentionKind.Check)
            )
        );
        if (!state && items.Exists(IsList))
            return false;
        _ofDays--;
        return Replace(items, at, 1, (s, e) =>
            said with
            {
                Days = null,
                Span = state || IsAsAtAnyway(items) ? said.Span : FiscalCalendar.YearToDate(said.Span.To),
            }
        );
    }

    /// <exception cref="CannotAnswerException">When a rule made months of days that were named.</exception>
    private void RefuseLostDays(List<Item> items)
    {
        if (items.OfType<PeriodItem>().Count(p => p.Days is not null) != _ofDays)
            throw new CannotAnswerException(
                "Days are told of entries and records, as in “entries from 3 to 17 August”; periods that are compared are months."
            );
    }

    private bool PutDays(List<Item> items, int at, int length, DaySpan days, bool yearGiven, int more)
    {
        _ofDays += more;
        var (from, to) = (
            days.From is { } first ? book.Calendar.PeriodOf(first) : book.ActualSpan?.From,
            days.To is { } last ? book.Calendar.PeriodOf(last) : _now
        );
        var begin = Period.Min(from ?? to, to);
        return Replace(items, at, length, (s, e) =>
            new PeriodItem(s, e, new PeriodSpan(begin, Period.Max(to, from ?? to)), yearGiven) { Days = days }
        );
    }

    /// <exception cref="CannotAnswerException">When the month has no such day.</exception>
    private static DateOnly DayIn(int year, int month, int day) =>
        day <= DateTime.DaysInMonth(year, month)
            ? new DateOnly(year, month, day)
            : throw new CannotAnswerException(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{CultureInfo.InvariantCulture.DateTimeFormat.GetMonthName(month)} {year} has no day {day}."
                )
            );

    private static int? DayNumber(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Number or MentionKind.Ordinal } number
        && int.Parse(number.Value, CultureInfo.InvariantCulture) is >= 1 and <= 31 and var day
            ? day
            : null;

    /// <summary>Nothing or "of" stands between it and what follows.</summary>
    private bool IsBeside(List<Item> items, int at) =>
        items[at].End == items[at + 1].Start
        || _said.Any(m =>
            m is { Kind: MentionKind.Place, Value: "of" } && m.Start == items[at].End && m.End == items[at + 1].Start
        );
}
