using Bearing.Core.Books;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

public sealed class FiscalCalendarTests
{
    private static readonly Gen<FiscalCalendar> Calendars = Gen.Int[1, 12].Select(m => new FiscalCalendar(m));
    private static readonly Gen<DateOnly> Days = Gen.Int[0, 20_000].Select(d => new DateOnly(1995, 1, 1).AddDays(d));

    [Fact]
    public void Every_day_lies_in_the_month_that_its_period_names() =>
        Gen.Select(Calendars, Days)
            .Sample(
                (calendar, day) =>
                {
                    var first = calendar.FirstDay(calendar.PeriodOf(day));
                    Assert.Equal((day.Year, day.Month, 1), (first.Year, first.Month, first.Day));
                }
            );

    [Fact]
    public void Consecutive_months_are_consecutive_periods() =>
        Gen.Select(Calendars, Days)
            .Sample(
                (calendar, day) =>
                    Assert.Equal(
                        calendar.PeriodOf(day).AddMonths(1),
                        calendar.PeriodOf(new DateOnly(day.Year, day.Month, 1).AddMonths(1))
                    )
            );

    [Theory]
    [InlineData(1, 2026, 9, "2026-P09")]
    [InlineData(4, 2026, 3, "2026-P12")]
    [InlineData(4, 2026, 4, "2027-P01")]
    [InlineData(7, 2025, 7, "2026-P01")]
    [InlineData(7, 2026, 6, "2026-P12")]
    public void A_fiscal_year_is_named_by_the_year_in_which_it_ends(int start, int year, int month, string expected) =>
        Assert.Equal(expected, new FiscalCalendar(start).PeriodOfMonth(year, month).ToString());

    [Theory]
    [InlineData(1, "2026-P07..2026-P09", "Q3 2026")]
    [InlineData(1, "2026-P01..2026-P12", "2026")]
    [InlineData(7, "2026-P01..2026-P06", "H1 FY26")]
    [InlineData(7, "2026-P03", "September 2025")]
    [InlineData(1, "2026-P02..2026-P04", "February 2026 to April 2026")]
    public void Spans_carry_their_usual_names(int start, string code, string expected)
    {
        Assert.True(PeriodSpan.TryParse(code, out var span));
        Assert.Equal(expected, new FiscalCalendar(start).NameOf(span));
    }

    [Fact]
    public void Codes_read_back_as_what_was_written() =>
        Gen.Select(Gen.Int[24_000, 24_600], Gen.Int[0, 40])
            .Sample(
                (from, length) =>
                {
                    var span = new PeriodSpan(Period.FromOrdinal(from), Period.FromOrdinal(from + length));
                    Assert.True(PeriodSpan.TryParse(span.ToString(), out var read));
                    Assert.Equal(span, read);
                }
            );

    [Theory]
    [InlineData("")]
    [InlineData("2026-09")]
    [InlineData("2026-P13")]
    [InlineData("2026-P00")]
    [InlineData("2026-P09..2026-P01")]
    [InlineData("2026-P01..2026-P02..2026-P03")]
    public void What_is_no_code_is_refused(string text) => Assert.False(PeriodSpan.TryParse(text, out _));

    [Fact]
    public void A_run_of_days_is_read_back_as_it_is_written() =>
        Gen.Select(Days, Gen.Int[0, 400], Gen.Int[0, 2])
            .Sample(
                (day, length, open) =>
                {
                    var span = new DaySpan(open == 1 ? null : day, open == 2 ? null : day.AddDays(length));
                    Assert.True(DaySpan.TryParse(span.ToString(), out var again));
                    Assert.Equal(span, again);
                    Assert.True(span.Contains(day));
                    Assert.Equal(open == 1, span.Contains(day.AddDays(-1)));
                    Assert.Equal(open == 2, span.Contains(day.AddDays(length + 1)));
                }
            );

    [Theory]
    [InlineData("..")]
    [InlineData("2026-03-04")]
    [InlineData("2026-03-04..2026-03-01")]
    [InlineData("2026-02-30..")]
    [InlineData("2026-03-04..x")]
    [InlineData("")]
    public void What_is_no_run_of_days_is_not_taken_for_one(string text) => Assert.False(DaySpan.TryParse(text, out _));
}
