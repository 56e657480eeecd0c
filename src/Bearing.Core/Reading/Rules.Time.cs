using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>The rules, by subject. Each is tried wherever its items stand beside each other.</summary>
internal static partial class Rules
{
    public static ImmutableArray<Rule> All { get; } =
    [.. OfTime, .. OfSides, .. OfNames, .. OfRows, .. OfLimits, .. OfRecords, .. OfTalk];

    private const int YearInFront = 2;

    /// <summary>"To" leads to many other things than a month.</summary>
    private const int UpTo = 40;

    private static IEnumerable<Rule> OfTime =>
        [
            Rule.Of<MonthItem>(
                "a month alone is the latest one",
                (m, b) => new PeriodsItem(Times.Of(b, m), m),
                "August",
                "August 2025"
            ),
            Rule.Of<MonthItem, YearItem>(
                "a month of a year",
                (m, y, b) => new PeriodsItem(Times.Of(b, m, y.Year)),
                "August 2025",
                "2025"
            ),
            Rule.Of<YearItem, MonthItem>(
                "a year, then its month",
                (y, m, b) => new PeriodsItem(Times.Of(b, m, y.Year)),
                "2025 August",
                "August",
                YearInFront
            ),
            Rule.Of<MonthItem, NumberItem>(
                "a month and two digits of a year",
                (m, n, b) => Times.ShortYear(b, n.Value) is { } year ? new PeriodsItem(Times.Of(b, m, year)) : null,
                "aug 25",
                "aug 5"
            ),
            Rule.Of<MonthItem, RelativeItem>(
                "a month of last, this or next year",
                (m, r, b) => r.Grain == TimeGrain.Year ? new PeriodsItem(Times.Of(b, m, Times.YearFor(b, m, r.Steps))) : null,
                "August last year",
                "August last month"
            ),
            Rule.Of<PartOfYearItem>(
                "a part of a year alone is the latest one",
                (p, b) => new PeriodsItem(Times.Of(b, p), p),
                "Q2",
                "Q2 2025"
            ),
            Rule.Of<PartOfYearItem, YearItem>(
                "a part of a year",
                (p, y, b) => new PeriodsItem(Times.Of(b, p, y.Year)),
                "Q2 2025",
                "Q2"
            ),
            Rule.Of<YearItem, PartOfYearItem>(
                "a year, then its part",
                (y, p, b) => new PeriodsItem(Times.Of(b, p, y.Year)),
                "2025 H1",
                "H1",
                YearInFront
            ),
            Rule.Of<PartOfYearItem, RelativeItem>(
                "a part of last, this or next year",
                (p, r, b) => r.Grain == TimeGrain.Year ? new PeriodsItem(Times.Of(b, p, Times.YearFor(b, p, r.Steps))) : null,
                "Q3 last year",
                "Q3 last month"
            ),
            Rule.Of<YearItem>(
                "a year alone is a fiscal one",
                (y, _) => new PeriodsItem(FiscalCalendar.Year(y.Year)),
                "2025",
                "25"
            ),
            Rule.Of<FiscalWord, YearItem>(
                "a year said to be fiscal",
                (_, y, _) => y,
                "financial year 2025",
                "calendar year 2025"
            ),
            Rule.Of<LevelItem, YearItem>(
                "the year, by its number",
                (l, y, _) => l.Of.Grain == TimeGrain.Year && !l.Plural ? y : null,
                "year 2025",
                "month 2025"
            ),
            Rule.Of<CalendarWord, YearItem>(
                "January to December, whatever the fiscal year",
                (_, y, b) => new PeriodsItem(CalendarMonths(b, y.Year, 1, 12)),
                "calendar year 2025",
                "fiscal year 2025"
            ),
            Rule.Of<CalendarWord, PartOfYearItem, YearItem>(
                "a quarter of the calendar",
                (_, p, y, b) => new PeriodsItem(CalendarPart(b, p, y.Year)),
                "calendar Q1 2026",
                "Q1 2026"
            ),
            Rule.Of<PeriodWord, NumberItem>(
                "a fiscal month by its number",
                (_, n, b) =>
                    n.Value is >= 1 and <= 12 ? new PeriodsItem(PeriodSpan.Of(new Period(Times.Now(b).Year, n.Value))) : null,
                "period 5",
                "period 15"
            ),
            Rule.Of<PeriodWord, NumberItem, ToWord, NumberItem>(
                "fiscal months from one number to another",
                (_, n, _, to, b) =>
                    n.Value is >= 1 and <= 12 && to.Value is <= 12 && n.Value < to.Value
                        ? new PeriodsItem(
                            new PeriodSpan(new Period(Times.Now(b).Year, n.Value), new Period(Times.Now(b).Year, to.Value))
                        )
                        : null,
                "periods 5 to 7",
                "periods 7 to 5"
            ),
            Rule.Of<RelativeItem>(
                "this, last and next",
                (r, b) => new PeriodsItem(Times.Relative(b, r), IsLastYear: r is { Grain: TimeGrain.Year, Steps: -1 }),
                "previous month",
                "month"
            ),
            Rule.Of<ClosedItem>(
                "the last quarter, half or year that is over",
                (c, b) => new PeriodsItem(Times.Closed(b, c.Months)),
                "last full quarter",
                "last quarter"
            ),
            Rule.Of<ByWord, FiscalWord>(
                "by fiscal year",
                (_, _, _) => new SplitItem([Breakdown.ByTime(TimeGrain.Year)]),
                "by financial year",
                "financial year"
            ),
            Rule.Of<ByWord, PeriodWord>(
                "by fiscal period",
                (by, _, _) => new SplitItem([Breakdown.ByTime(TimeGrain.Month)], by.Each),
                "by period",
                "period"
            ),
            Rule.Of<LastMonthItem>(
                "last month is the latest closed one",
                (_, b) => new PeriodsItem(PeriodSpan.Of(Times.Now(b))) { IsLastMonth = true },
                "last month",
                "previous month"
            ),
            Rule.Of<RelativeItem, RelativeItem>(
                "this month of last year",
                (r, y, b) =>
                    r.Grain < TimeGrain.Year && r.Steps == 0 && y is { Grain: TimeGrain.Year, Steps: < 0 }
                        ? new PeriodsItem(Times.Relative(b, r).AddMonths(12 * y.Steps))
                        : null,
                "this quarter last year",
                "last year last year"
            ),
            Rule.Of<TrailingItem>(
                "twelve months up to now",
                (t, b) => new PeriodsItem(Times.Trailing(b, TimeGrain.Month, t.Months)),
                "ttm",
                "twelve months"
            ),
            Rule.Of<LastWord, NumberItem, LevelItem>(
                "the last so many months, quarters or years",
                (_, n, l, b) =>
                    l.Of.Grain is { } grain && n.Value is >= 1 and <= 60
                        ? new PeriodsItem(Times.Trailing(b, grain, n.Value))
                        : null,
                "last 3 months",
                "last 3 harbours"
            ),
            Rule.Of<YearToDateItem>(
                "the year to date",
                (_, b) => new PeriodsItem(FiscalCalendar.YearToDate(Times.Now(b))),
                "year to date",
                "year"
            ),
            Rule.Of<YearToDateItem, YearItem>(
                "as far into a year as this one has come",
                (_, y, b) => new PeriodsItem(Times.ToDateIn(b, y.Year)),
                "YTD 2025",
                "2025"
            ),
            Rule.Of<YearItem, YearToDateItem>(
                "a year, as far as this one has come",
                (y, _, b) => new PeriodsItem(Times.ToDateIn(b, y.Year)),
                "2025 YTD",
                "2025"
            ),
            Rule.Of<YearItem, ToDateItem>(
                "a year to date",
                (y, _, b) => new PeriodsItem(Times.ToDateIn(b, y.Year)),
                "2026 to date",
                "2026"
            ),
            Rule.Of<YearToDateItem, RelativeItem>(
                "as far into last year",
                (_, r, b) => r.Grain == TimeGrain.Year ? new PeriodsItem(Times.ToDateIn(b, Times.Now(b).Year + r.Steps)) : null,
                "YTD last year",
                "last year"
            ),
            Rule.Of<YearToDateItem, MonthItem>(
                "the year up to a month",
                (_, m, b) => new PeriodsItem(FiscalCalendar.YearToDate(Times.Latest(b, m.Month))),
                "YTD July",
                "July"
            ),
            Rule.Of<MonthItem, YearToDateItem>(
                "a month, and the year up to it",
                (m, _, b) => new PeriodsItem(FiscalCalendar.YearToDate(Times.Latest(b, m.Month))),
                "July YTD",
                "July"
            ),
            Rule.Of<MonthItem, ToDateItem>(
                "a month to date, from it to now",
                (m, _, b) => new PeriodsItem(new PeriodSpan(Times.Latest(b, m.Month), Times.Now(b))),
                "July to date",
                "July"
            ),
            Rule.Of<PartOfYearItem, ToDateItem>(
                "a part of the year, as far as it has come",
                (p, _, b) =>
                    Times.Of(b, p) is var span && span.From <= Times.Now(b)
                        ? new PeriodsItem(new PeriodSpan(span.From, Period.Min(span.To, Times.Now(b))))
                        : null,
                "Q3 so far",
                "Q3"
            ),
            Rule.Of<RelativeItem, ToDateItem>(
                "this year so far",
                (r, _, b) =>
                    r.Steps == 0 && Times.Relative(b, r) is var span
                        ? new PeriodsItem(new PeriodSpan(span.From, Period.Min(span.To, Times.Now(b))))
                        : null,
                "this quarter so far",
                "last quarter so far"
            ),
            Rule.Of<ToDateItem>(
                "so far is the year to date",
                (_, b) => new PeriodsItem(FiscalCalendar.YearToDate(Times.Now(b))),
                "so far",
                "far"
            ),
            Rule.Of<RestOfYearItem>(
                "what is still to come of the year",
                (_, b) =>
                    Times.Now(b) is { Number: < 12 } now
                        ? new PeriodsItem(new PeriodSpan(now.AddMonths(1), FiscalCalendar.Year(now.Year).To))
                        : null,
                "rest of the year",
                "year"
            ),
            Rule.Of<AllTimeItem>(
                "all that there is",
                (_, b) => b.ActualSpan is { } all ? new PeriodsItem(all) : null,
                "of all time",
                "time"
            ),
            Rule.Of<PeriodsItem, ToWord, PeriodsItem>(
                "from one period to another",
                (from, _, to, b) => from.Ends is null && to.Ends is null ? Times.Range(b, from, to) : null,
                "May to August",
                "May and August"
            ),
            Rule.Of<FromWord, PeriodsItem>(
                "from a period, to another or up to now",
                (_, p, b) =>
                    p.Ends is not null ? p with { FromTo = true }
                    : p.Span.From <= Times.Now(b) ? Since(b, p.Span)
                    : null,
                "from May to August",
                "May to August"
            ),
            Rule.Of<AsAtWord, PeriodsItem>(
                "as at the end of a period",
                (_, p, _) => p.Ends is null ? p with { AsAt = true } : null,
                "at the end of August",
                "August"
            ),
            Rule.Of<BetweenWord, PeriodsItem, AndWord, PeriodsItem>(
                "between one period and another",
                (_, from, _, to, b) =>
                    from.Ends is null && to.Ends is null && Times.Range(b, from, to) is { } range
                        ? range with
                        {
                            FromTo = true,
                            Between = true,
                        }
                        : null,
                "between May and August",
                "May and August"
            ),
            Rule.Of<SinceWord, PeriodsItem>(
                "since a period, up to now",
                (_, p, b) => p.Ends is null && p.Span.From <= Times.Now(b) ? Since(b, p.Span) : null,
                "since May",
                "May"
            ),
            Rule.Of<PeriodsItem, OnwardWord>(
                "from a period on",
                (p, _, b) => p.Ends is null && p.Span.From <= Times.Now(b) ? Since(b, p.Span) : null,
                "May onwards",
                "May"
            ),
            Rule.Of<ToWord, PeriodsItem>(
                "up to a month, from the beginning of its year",
                (_, p, _) => p is { Ends: null, Span.Count: 1 } ? new PeriodsItem(FiscalCalendar.YearToDate(p.Span.To)) : null,
                "until August",
                "until Q2",
                UpTo
            ),
            Rule.Of<PeriodsItem, AndWord, PeriodsItem>(
                "two periods, each of which is meant",
                (one, _, two, _) => one.Span == two.Span || one.FromTo || two.FromTo ? null : new PeriodListItem([one, two]),
                "July and August",
                "July and July"
            ),
            Rule.Of<PeriodListItem, AndWord, PeriodsItem>(
                "a further period",
                (list, _, next, _) =>
                    list.Periods.Any(p => p.Span == next.Span) || list.Periods.Length > 11
                        ? null
                        : new PeriodListItem([.. list.Periods, next]),
                "June, July and August",
                "June and July"
            ),
        ];

    /// <summary>From the beginning of a period up to now; what moved did so from that period to the current one.</summary>
    private static PeriodsItem Since(Book book, PeriodSpan from) =>
        new(new PeriodSpan(from.From, Times.Now(book)), Ends: (from, PeriodSpan.Of(Times.Now(book)))) { FromTo = true };

    private static PeriodSpan CalendarMonths(Book book, int year, int first, int count) =>
        book.Calendar.PeriodOfMonth(year, first) is var from ? new PeriodSpan(from, from.AddMonths(count - 1)) : default;

    private static PeriodSpan CalendarPart(Book book, PartOfYearItem part, int year) =>
        part.Season ? CalendarMonths(book, year, part.Number, 3)
        : part.Grain == TimeGrain.Quarter ? CalendarMonths(book, year, (3 * part.Number) - 2, 3)
        : CalendarMonths(book, year, (6 * part.Number) - 5, 6);
}
