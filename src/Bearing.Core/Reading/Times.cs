using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>Which fiscal periods words of time mean in a book; they count from its current period.</summary>
internal static class Times
{
    /// <summary>Years from the current one within which two digits behind a month are a year.</summary>
    private const int NearYears = 3;

    public static Period Now(Book book) => book.CurrentPeriod ?? new Period(book.ActualSpan?.To.Year ?? 2000, 1);

    /// <summary>The last month of that name that is over.</summary>
    public static Period Latest(Book book, int calendarMonth)
    {
        var now = book.Calendar.FirstDay(Now(book));
        return book.Calendar.PeriodOfMonth(calendarMonth <= now.Month ? now.Year : now.Year - 1, calendarMonth);
    }

    /// <summary>The latest month or part of a year of that name, or that of a year.</summary>
    /// <param name="year">Of a month and of a season a calendar year, of a quarter and a half a fiscal one.</param>
    public static PeriodSpan Of(Book book, Item part, int? year = null) =>
        part switch
        {
            MonthItem month => PeriodSpan.Of(
                year is { } given ? book.Calendar.PeriodOfMonth(given, month.Month) : Latest(book, month.Month)
            ),
            PartOfYearItem of => PartOf(book, of, year),
            _ => throw new ArgumentException("It is no part of a year.", nameof(part)),
        };

    private static PeriodSpan PartOf(Book book, PartOfYearItem part, int? year)
    {
        var now = Now(book);
        PeriodSpan In(int y) =>
            part.Season
                ? book.Calendar.PeriodOfMonth(y, part.Number) is var first
                    ? new PeriodSpan(first, first.AddMonths(2))
                    : default
                : part.Grain == TimeGrain.Quarter
                    ? FiscalCalendar.Quarter(y, part.Number)
                    : FiscalCalendar.Half(y, part.Number);
        if (year is { } given)
            return In(given);
        var current = part.Season ? book.Calendar.FirstDay(now).Year : now.Year;
        return In(current).From <= now ? In(current) : In(current - 1);
    }

    /// <summary>Of this fiscal year, and not begun when the last month was closed.</summary>
    public static bool IsAhead(Book book, PeriodSpan span) => span.To.Year == Now(book).Year && span.From > Now(book);

    /// <summary>That a period without a year was taken for the latest one; and, where the one of this year is not over yet, that it
    /// is not.</summary>
    public static string LatestOne(Book book, PeriodSpan span)
    {
        var (now, later) = (Now(book), span.AddMonths(12));
        return IsAhead(book, later)
            ? $"{book.Calendar.NameOf(span)}, the latest one: {book.Calendar.NameOf(later)} is not closed, the last month that is closed is {book.Calendar.NameOf(now)}"
            : $"{book.Calendar.NameOf(span)}, the latest one";
    }

    /// <summary>So many years from this one: for months and seasons those of the calendar, which is what people call October last
    /// year.</summary>
    public static int YearFor(Book book, Item part, int steps) =>
        (part is MonthItem or PartOfYearItem { Season: true } ? book.Calendar.FirstDay(Now(book)).Year : Now(book).Year) + steps;

    public static PeriodSpan Relative(Book book, RelativeItem item)
    {
        var now = Now(book);
        return item.Grain switch
        {
            TimeGrain.Month => PeriodSpan.Of(now.AddMonths(item.Steps)),
            TimeGrain.Quarter => FiscalCalendar.QuarterOf(now.AddMonths(3 * item.Steps)),
            TimeGrain.Half => TimeGrain.Half.BucketOf(now.AddMonths(6 * item.Steps)),
            _ when !item.Whole => FiscalCalendar.YearToDate(now.AddMonths(12 * item.Steps)),
            _ => FiscalCalendar.Year(now.Year + item.Steps),
        };
    }

    /// <summary>The last run of so many months that began with a quarter, a half or a year and is over.</summary>
    public static PeriodSpan Closed(Book book, int months)
    {
        var now = Now(book);
        var to = now.AddMonths(-(now.Number % months));
        return new PeriodSpan(to.AddMonths(1 - months), to);
    }

    /// <summary>So many buckets of a grain up to the current period.</summary>
    public static PeriodSpan Trailing(Book book, TimeGrain grain, int count)
    {
        var now = Now(book);
        var months = grain switch
        {
            TimeGrain.Quarter => 3,
            TimeGrain.Half => 6,
            TimeGrain.Year => 12,
            _ => 1,
        };
        return new PeriodSpan(now.AddMonths(1 - (months * count)), now);
    }

    /// <summary>As far into a year as the current one has come.</summary>
    public static PeriodSpan ToDateIn(Book book, int year) => FiscalCalendar.YearToDate(new Period(year, Now(book).Number));

    /// <summary>From one to the other; where the first waits for its year it is the last one before the second.</summary>
    public static PeriodsItem? Range(Book book, PeriodsItem from, PeriodsItem to)
    {
        // From a year to a month of another: where it begins is not said.
        if (from.Span.Count == 12 && to.Span.Count == 1)
            return null;
        var start = from.Span;
        if (from.Open is not null && to.Open is null && start.From > to.Span.To)
            start = start.AddMonths(-12);
        if (from.Open is not null)
            while (start.AddMonths(12).To <= to.Span.To && to.Open is null)
                start = start.AddMonths(12);
        if (from.Open is not null && to.Open is not null && start.From > to.Span.From)
            start = start.AddMonths(-12);
        if (from.Open is null && to.Open is { } open && to.Span.To < start.From)
            to = to with { Span = to.Span.AddMonths(12 * (((start.From.Ordinal - to.Span.To.Ordinal) / 12) + 1)) };
        return start.From > to.Span.To
            ? null
            : new PeriodsItem(
                new PeriodSpan(start.From, to.Span.To),
                from.Open is not null ? to.Open : null,
                Ends: (start, to.Span)
            );
    }

    /// <summary>Two digits behind a month, where they are a year near the current one.</summary>
    public static int? ShortYear(Book book, int digits) =>
        digits is >= 20 and < 100 && Math.Abs(2000 + digits - Now(book).Year) <= NearYears ? 2000 + digits : null;
}
