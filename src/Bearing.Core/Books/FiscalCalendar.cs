using System.Globalization;

namespace Bearing.Core.Books;

/// <summary>One fiscal month. <paramref name="Year"/> is the fiscal year, <paramref name="Number"/> the month in it
/// (1–12).</summary>
public readonly record struct Period(int Year, int Number) : IComparable<Period>
{
    /// <summary>Months since fiscal year 0; consecutive periods differ by one.</summary>
    public int Ordinal => (Year * 12) + Number - 1;

    public static Period FromOrdinal(int ordinal) => new(Math.DivRem(ordinal, 12, out var rest), rest + 1);

    public Period AddMonths(int months) => FromOrdinal(Ordinal + months);

    public int CompareTo(Period other) => Ordinal.CompareTo(other.Ordinal);

    public static bool operator <(Period a, Period b) => a.Ordinal < b.Ordinal;

    public static bool operator >(Period a, Period b) => a.Ordinal > b.Ordinal;

    public static bool operator <=(Period a, Period b) => a.Ordinal <= b.Ordinal;

    public static bool operator >=(Period a, Period b) => a.Ordinal >= b.Ordinal;

    public static Period Min(Period a, Period b) => a < b ? a : b;

    public static Period Max(Period a, Period b) => a > b ? a : b;

    /// <summary>Canonical code, for example <c>2026-P09</c>: fiscal year and fiscal month, never a calendar month.</summary>
    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Year:D4}-P{Number:D2}");

    /// <summary>Reads the canonical code. Returns false for anything else.</summary>
    public static bool TryParse(string? text, out Period period)
    {
        period = default;
        if (text is not { Length: 8 } || text[4] != '-' || text[5] is not ('P' or 'p'))
            return false;
        if (!int.TryParse(text.AsSpan(0, 4), NumberStyles.None, CultureInfo.InvariantCulture, out var year))
            return false;
        if (!int.TryParse(text.AsSpan(6), NumberStyles.None, CultureInfo.InvariantCulture, out var number))
            return false;
        if (number is < 1 or > 12)
            return false;
        period = new Period(year, number);
        return true;
    }
}

/// <summary>A run of whole periods, both ends included.</summary>
public readonly record struct PeriodSpan
{
    /// <exception cref="ArgumentException">When <paramref name="to"/> lies before <paramref name="from"/>.</exception>
    public PeriodSpan(Period from, Period to)
    {
        if (to < from)
            throw new ArgumentException($"A span cannot end ({to}) before it begins ({from}).", nameof(to));
        (From, To) = (from, to);
    }

    public Period From { get; }
    public Period To { get; }

    public static PeriodSpan Of(Period period) => new(period, period);

    public int Count => To.Ordinal - From.Ordinal + 1;

    public IEnumerable<Period> Periods()
    {
        for (var i = From.Ordinal; i <= To.Ordinal; i++)
            yield return Period.FromOrdinal(i);
    }

    public bool Contains(Period period) => period >= From && period <= To;

    public PeriodSpan AddMonths(int months) => new(From.AddMonths(months), To.AddMonths(months));

    /// <summary>The periods that both spans hold, or null when there are none.</summary>
    public PeriodSpan? Intersect(PeriodSpan other)
    {
        var (from, to) = (Period.Max(From, other.From), Period.Min(To, other.To));
        return from <= to ? new PeriodSpan(from, to) : null;
    }

    public override string ToString() => From == To ? From.ToString() : $"{From}..{To}";

    public static bool TryParse(string? text, out PeriodSpan span)
    {
        span = default;
        var ends = (text ?? "").Split("..");
        if (ends.Length is < 1 or > 2 || !Period.TryParse(ends[0], out var from))
            return false;
        var to = from;
        if (ends.Length == 2 && !Period.TryParse(ends[1], out to))
            return false;
        if (to < from)
            return false;
        span = new PeriodSpan(from, to);
        return true;
    }
}

/// <summary>
/// A year of twelve calendar months that begins on the first day of <see cref="StartMonth"/>.
/// A fiscal year is named after the calendar year in which it ends: with July as the start, FY26 is July 2025 to June 2026.
/// </summary>
public sealed record FiscalCalendar
{
    private static readonly string[] Months = CultureInfo.InvariantCulture.DateTimeFormat.MonthNames;

    /// <param name="startMonth">1–12.</param>
    /// <exception cref="ArgumentOutOfRangeException">For any other month.</exception>
    public FiscalCalendar(int startMonth)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(startMonth, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(startMonth, 12);
        StartMonth = startMonth;
    }

    public int StartMonth { get; }

    public Period PeriodOf(DateOnly date) => PeriodOfMonth(date.Year, date.Month);

    /// <param name="year">Calendar year.</param>
    /// <param name="month">Calendar month, 1–12.</param>
    public Period PeriodOfMonth(int year, int month)
    {
        var number = ((month - StartMonth + 12) % 12) + 1;
        var fiscalYear = StartMonth > 1 && month >= StartMonth ? year + 1 : year;
        return new Period(fiscalYear, number);
    }

    public DateOnly FirstDay(Period period)
    {
        var month = ((StartMonth - 1 + period.Number - 1) % 12) + 1;
        var year = StartMonth > 1 && month >= StartMonth ? period.Year - 1 : period.Year;
        return new DateOnly(year, month, 1);
    }

    public DateOnly LastDay(Period period) => FirstDay(period.AddMonths(1)).AddDays(-1);

    public static PeriodSpan Year(int year) => new(new Period(year, 1), new Period(year, 12));

    /// <param name="year">Fiscal year.</param>
    /// <param name="quarter">1–4.</param>
    public static PeriodSpan Quarter(int year, int quarter) =>
        new(new Period(year, (quarter * 3) - 2), new Period(year, quarter * 3));

    /// <param name="year">Fiscal year.</param>
    /// <param name="half">1 or 2.</param>
    public static PeriodSpan Half(int year, int half) => new(new Period(year, (half * 6) - 5), new Period(year, half * 6));

    public static PeriodSpan YearToDate(Period period) => new(new Period(period.Year, 1), period);

    public static PeriodSpan QuarterOf(Period period) => Quarter(period.Year, ((period.Number - 1) / 3) + 1);

    /// <summary>"September 2026": the calendar month, since that is what people say.</summary>
    public string NameOf(Period period)
    {
        var day = FirstDay(period);
        return string.Create(CultureInfo.InvariantCulture, $"{Months[day.Month - 1]} {day.Year}");
    }

    public string ShortNameOf(Period period)
    {
        var day = FirstDay(period);
        return string.Create(CultureInfo.InvariantCulture, $"{Months[day.Month - 1][..3]} {day.Year % 100:D2}");
    }

    public string YearName(int year) =>
        StartMonth == 1
            ? year.ToString(CultureInfo.InvariantCulture)
            : string.Create(CultureInfo.InvariantCulture, $"FY{year % 100:00}");

    /// <summary>The shortest usual name: a year, a half, a quarter, a month, year to date, or both ends.</summary>
    public string NameOf(PeriodSpan span)
    {
        var (from, to) = (span.From, span.To);
        if (from == to)
            return NameOf(from);
        if (from.Year == to.Year)
        {
            if (span == Year(from.Year))
                return YearName(from.Year);
            if (span.Count == 6 && from.Number % 6 == 1)
                return $"H{(from.Number / 6) + 1} {YearName(from.Year)}";
            if (span.Count == 3 && from.Number % 3 == 1)
                return $"Q{(from.Number / 3) + 1} {YearName(from.Year)}";
        }
        return $"{NameOf(from)} to {NameOf(to)}";
    }
}
