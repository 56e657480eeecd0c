using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The rules that speak of time: periods, ranges of them, and one against another.</summary>
internal sealed partial class Composer
{
    /// <summary>month year · quarter year · year · month · relative period → period.</summary>
    private bool NamedPeriod(List<Item> items, int at)
    {
        if (Word(items, at) is not { } word)
            return false;
        var year = YearAt(items, at + 1, word.Kind) ?? (word.Kind == MentionKind.Month ? ShortYear(Word(items, at + 1)) : null);
        switch (word.Kind)
        {
            case MentionKind.Month when Word(items, at + 1) is { Kind: MentionKind.Period, Value: "ytd:0" }:
                return Replace(items, at, 2, (s, e) =>
                    new PeriodItem(
                        s,
                        e,
                        FiscalCalendar.YearToDate(Latest(int.Parse(word.Value, CultureInfo.InvariantCulture))),
                        false
                    )
                );
            // "Q3 to date", "July to date": from its beginning to now.
            case MentionKind.Month or MentionKind.Part when Word(items, at + 1) is { Kind: MentionKind.Period, Value: "date:0" }:
                var from =
                    word.Kind == MentionKind.Part
                        ? PartOf(word.Value, null).From
                        : Latest(int.Parse(word.Value, CultureInfo.InvariantCulture));
                return Replace(items, at, 2, (s, e) => new PeriodItem(s, e, new PeriodSpan(from, _now), true));
            case MentionKind.Period
                when word.Value == "year:0" && Word(items, at + 1) is { Kind: MentionKind.Period, Value: "date:0" }:
                return Replace(items, at, 2, (s, e) => new PeriodItem(s, e, FiscalCalendar.YearToDate(_now), true));
            // "FY26 to date": as far as the current year has come.
            case MentionKind.Year when Word(items, at + 1) is { Kind: MentionKind.Period, Value: "date:0" or "ytd:0" }:
                return Replace(items, at, 2, (s, e) =>
                    new PeriodItem(
                        s,
                        e,
                        FiscalCalendar.YearToDate(new Period(int.Parse(word.Value, CultureInfo.InvariantCulture), _now.Number)),
                        true
                    )
                );
            case MentionKind.Month:
                var month = int.Parse(word.Value, CultureInfo.InvariantCulture);
                return Replace(items, at, year is null ? 1 : 2, (s, e) =>
                    new PeriodItem(
                        s,
                        e,
                        PeriodSpan.Of(year is { } given ? book.Calendar.PeriodOfMonth(given, month) : Latest(month)),
                        year is not null
                    )
                    {
                        Said = year is null ? word : null,
                        OfLastYear = Word(items, at + 1) is { Kind: MentionKind.Period, Value: "year:-1" } && year is not null,
                    }
                );
            case MentionKind.Part:
                return Replace(items, at, year is null ? 1 : 2, (s, e) =>
                    new PeriodItem(s, e, PartOf(word.Value, year), year is not null) { Said = year is null ? word : null }
                );
            // "FY26 H1": the year may stand first, unless what follows has one of its own.
            case MentionKind.Year
            or MentionKind.Period
                when Word(items, at + 1) is { Kind: MentionKind.Part or MentionKind.Month } within
                    && within.Start == word.End
                    && YearAt(items, at + 2, within.Kind) is null
                    && YearAt(items, at, within.Kind) is { } first:
                return Replace(items, at, 2, (s, e) =>
                    new PeriodItem(
                        s,
                        e,
                        within.Kind == MentionKind.Part
                            ? PartOf(within.Value, first)
                            : PeriodSpan.Of(
                                book.Calendar.PeriodOfMonth(first, int.Parse(within.Value, CultureInfo.InvariantCulture))
                            ),
                        true
                    )
                );
            case MentionKind.Year:
                return Replace(items, at, 1, (s, e) =>
                    new PeriodItem(s, e, FiscalCalendar.Year(int.Parse(word.Value, CultureInfo.InvariantCulture)), true)
                    {
                        Said = word,
                    }
                );
            // "YTD 2025" goes as far into that year as this one has come, "July YTD" as far as July.
            case MentionKind.Period
                when Word(items, at + 1) is { Kind: MentionKind.Period } beside
                    && beside.Start == word.End
                    && (word.Value, beside.Value) is ("ytd:0", "year:-1") or ("year:-1", "ytd:0"):
                return Replace(items, at, 2, (s, e) =>
                    new PeriodItem(s, e, FiscalCalendar.YearToDate(new Period(_now.Year - 1, _now.Number)), true)
                );
            // "This month last year".
            case MentionKind.Period
                when word.Value is "month:0" or "quarter:0" or "half:0"
                    && Word(items, at + 1) is { Kind: MentionKind.Period, Value: "year:-1" } ago
                    && ago.Start == word.End:
                return Replace(items, at, 2, (s, e) => new PeriodItem(s, e, Relative(word.Value).AddMonths(-12), true));
            case MentionKind.Period when word.Value == "ytd:0" && year is { } toDate:
                return Replace(items, at, 2, (s, e) =>
                    new PeriodItem(s, e, FiscalCalendar.YearToDate(new Period(toDate, _now.Number)), true)
                );
            case MentionKind.Period:
                return Replace(items, at, 1, (s, e) => new PeriodItem(
                        s,
                        e,
                        // What is held against the last closed month is the one before it.
                        word.Value == "last:1"
                        && Word(items, at - 1)?.Kind is MentionKind.Comparator
                            ? Relative(word.Value).AddMonths(-1)
                            : Relative(word.Value),
                        true
                    )
                    {
                        IsLastYear = word.Value == "year:-1",
                        IsThisYear = word.Value == "this:0",
                    });
            default:
                return false;
        }
    }

    /// <summary>"December and December of last year", said in March: nobody names one month twice, so that the second is the one
    /// a year before.</summary>
    private static bool SameMonthTwice(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is not { OfLastYear: true } last
            || !items.OfType<PeriodItem>().Any(p => !p.OfLastYear && p.Span == last.Span)
        )
            return false;
        items[at] = last with { Span = last.Span.AddMonths(-12), OfLastYear = false };
        return true;
    }

    /// <summary>The year said behind a month or a part of a year. Of "last year" a quarter takes the fiscal one, a month the
    /// calendar one: what people call October last year.</summary>
    private int? YearAt(List<Item> items, int at, MentionKind of) =>
        Word(items, at) switch
        {
            { Kind: MentionKind.Year } year => int.Parse(year.Value, CultureInfo.InvariantCulture),
            { Kind: MentionKind.Period, Value: "this:0" or "year:-1" or "year:1" } relative when of is MentionKind.Month =>
                book.Calendar.FirstDay(_now).Year
                    + Pair(relative.Value).Number
                    - (relative.Value == "this:0" && IsAheadOnly(items, at - 1) ? 1 : 0),
            { Kind: MentionKind.Period, Value: "this:0" or "year:-1" or "year:1" } relative when of is MentionKind.Part =>
                _now.Year + Pair(relative.Value).Number,
            _ => null,
        };

    /// <summary>"August this year", said in February of a fiscal year that began in June: the August of it, and none that is
    /// still to come where no plan is spoken of.</summary>
    private bool IsAheadOnly(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Month } month
        && book.Calendar.PeriodOfMonth(book.Calendar.FirstDay(_now).Year, int.Parse(month.Value, CultureInfo.InvariantCulture))
            is var ahead
        && ahead > _now
        && ahead.Year > _now.Year
        && !items.Exists(i =>
            i
                is WordItem
                {
                    Mention: { Kind: MentionKind.Scenario, Value: not (Book.ActualCode or "prior-year") }
                        or { Kind: MentionKind.Projection }
                }
        );

    /// <summary>calendar year 2025 · 2025 calendar year · calendar Q1 2025 → January to December, whatever the fiscal year;
    /// financial year 2025 · the year 2025 → the fiscal one.</summary>
    private bool CalendarPeriod(List<Item> items, int at)
    {
        if (
            Word(items, at)
                is { Kind: MentionKind.Grain, Value: "year" }
                    or { Kind: MentionKind.Period, Value: "year:0" }
                    or { Kind: MentionKind.Calendar, Value: "fiscal" }
            && Word(items, at + 1) is { Kind: MentionKind.Year } named
        )
            return Replace(items, at, 2, (s, e) => new WordItem(named with { Start = s, Length = e - s }));
        var first =
            Word(items, at)?.Kind is MentionKind.Calendar ? at
            : Word(items, at + 1)?.Kind is MentionKind.Calendar && Word(items, at)?.Kind is MentionKind.Year ? at
            : -1;
        if (first < 0)
            return false;
        var words = Enumerable
            .Range(at, 3)
            .Select(i => Word(items, i))
            .TakeWhile(w => w?.Kind is MentionKind.Calendar or MentionKind.Year or MentionKind.Part)
            .Select(w => w!)
            .ToList();
        if (words.Find(w => w.Kind == MentionKind.Year) is not { } year)
            return false;
        var of = int.Parse(year.Value, CultureInfo.InvariantCulture);
        var (from, months) = words.Find(w => w.Kind == MentionKind.Part) is { } part
            ? Pair(part.Value) switch
            {
                ("quarter", var number) => ((3 * number) - 2, 3),
                (Season, var number) => (number, 3),
                var (_, number) => ((6 * number) - 5, 6),
            }
            : (1, 12);
        return Replace(items, at, words.Count, (s, e) =>
            new PeriodItem(
                s,
                e,
                new PeriodSpan(
                    book.Calendar.PeriodOfMonth(of, from),
                    book.Calendar.PeriodOfMonth(of, from).AddMonths(months - 1)
                ),
                true
            )
        );
    }

    /// <summary>"aug 26": two digits behind a month are a year, where the book has that year.</summary>
    private int? ShortYear(Mention? number) =>
        number is { Kind: MentionKind.Number }
        && int.Parse(number.Value, CultureInfo.InvariantCulture) is >= 20 and < 100 and var digits
        && Math.Abs(2000 + digits - _now.Year) <= 3
            ? 2000 + digits
            : null;

    /// <summary>"First half revenue 2025": the year belongs to the part of a year that lacks one, wherever it stands.</summary>
    private bool StrayYear(List<Item> items, int at)
    {
        if (
            at == 0 && At<PeriodItem>(items, 0) is not { IsLastYear: true }
            || At<PeriodItem>(items, at) is not ({ Said.Kind: MentionKind.Year } or { IsLastYear: true })
            || Word(items, at - 1)?.Kind is MentionKind.And or MentionKind.Comparator or MentionKind.To
        )
            return false;
        var open = items.OfType<PeriodItem>().Where(p => p.Said is { Kind: MentionKind.Month or MentionKind.Part }).ToList();
        if (open is not [var part] || items.OfType<PeriodItem>().Count() != 2)
            return false;
        var year = At<PeriodItem>(items, at)!;
        // "September revenue, last year too", "with last year" stand beside it; "prior year revenue for September" is that of
        // September then.
        if (
            year.IsLastYear
            && (
                (at > 0 && IsComma(items[at - 1].End, year.Start))
                || IsLed(year, "with")
                || Word(items, at + 1)?.Kind is MentionKind.And or MentionKind.Comparator or MentionKind.Gap or MentionKind.Add
                || items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Compare or MentionKind.Gap or MentionKind.Growth })
            )
        )
            return false;
        var given =
            year.Said is { } named ? int.Parse(named.Value, CultureInfo.InvariantCulture)
            : part.Said!.Kind == MentionKind.Month ? book.Calendar.FirstDay(_now).Year - 1
            : _now.Year - 1;
        items[items.IndexOf(part)] = part with
        {
            Span =
                part.Said!.Kind == MentionKind.Month
                    ? PeriodSpan.Of(book.Calendar.PeriodOfMonth(given, int.Parse(part.Said.Value, CultureInfo.InvariantCulture)))
                    : PartOf(part.Said.Value, given),
            YearGiven = true,
            Said = null,
        };
        items.RemoveAt(at);
        return true;
    }

    /// <summary>period 5 · periods 5 to 7 → months by their place in the fiscal year.</summary>
    private bool PeriodNumber(List<Item> items, int at)
    {
        // "Month 5" is the fifth; "by month, 5 largest" ranks.
        var named =
            Word(items, at) is { Kind: MentionKind.Calendar, Value: "number" }
            || (
                Word(items, at) is { Kind: MentionKind.Grain, Value: "month", Length: 1 } month
                && Word(items, at - 1)?.Kind is not (MentionKind.By or MentionKind.Then or MentionKind.Number)
                && Word(items, at + 1)?.Start == month.End
                && Word(items, at + 2)?.Kind
                    is not (MentionKind.Rank or MentionKind.Level or MentionKind.Grain or MentionKind.Percent)
            );
        if (!named || Month(at + 1) is not { } first)
            return false;
        var last = Word(items, at + 2)?.Kind is MentionKind.To ? Month(at + 3) : null;
        var year = YearAt(items, at + (last is null ? 2 : 4), MentionKind.Part);
        if (last < first)
            return false;
        return Replace(items, at, (last is null ? 2 : 4) + (year is null ? 0 : 1), (s, e) =>
            new PeriodItem(
                s,
                e,
                new PeriodSpan(new Period(year ?? _now.Year, first), new Period(year ?? _now.Year, last ?? first)),
                true
            )
        );

        int? Month(int index) =>
            Word(items, index) is { Kind: MentionKind.Number } number
            && int.Parse(number.Value, CultureInfo.InvariantCulture) is >= 1 and <= 12 and var place
                ? place
                : null;
    }

    /// <summary>year to April · ytd until April → from the beginning of the year to that month.</summary>
    private static bool YearTo(List<Item> items, int at)
    {
        var led =
            Word(items, at) is { Kind: MentionKind.Grain, Value: "year" } || At<PeriodItem>(items, at) is { Span.From.Number: 1 };
        return led
            && Word(items, at + 1)?.Kind is MentionKind.To
            && At<PeriodItem>(items, at + 2) is { Span.Count: 1 } to
            && (
                Word(items, at) is not null
                || At<PeriodItem>(items, at)!.Said is null && At<PeriodItem>(items, at)!.Span.Count > 1
            )
            && Replace(items, at, 3, (s, e) => new PeriodItem(s, e, FiscalCalendar.YearToDate(to.Span.To), to.YearGiven));
    }

    /// <summary>the month of October · the quarter Q2 → the one that is named.</summary>
    private bool PeriodOf(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Period, Value: "month:0" or "quarter:0" } kind
        && Word(items, at + 1) is { Kind: MentionKind.Month or MentionKind.Part } named
        && (
            named.Start == kind.End
            || _said.Any(m => m is { Kind: MentionKind.Place, Value: "of" } && m.Start == kind.End && m.End == named.Start)
        )
        && Remove(items, at, 1);

    /// <summary>ytd July → from the beginning of the year to that month.</summary>
    private bool ToDateOf(List<Item> items, int at) =>
        At<PeriodItem>(items, at) is { Said: null, Trailing: false, Range: false } ytd
        && ytd.Span == FiscalCalendar.YearToDate(_now)
        && At<PeriodItem>(items, at + 1) is { Span.Count: 1 } to
        && to.Start - ytd.End <= 1
        && Replace(items, at, 2, (s, e) => new PeriodItem(s, e, FiscalCalendar.YearToDate(to.Span.To), to.YearGiven));

    /// <summary>until March · by March, with no beginning → from that of the year.</summary>
    private bool UntilPeriod(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.To, Value: "until" } or { Kind: MentionKind.By, Value: "by" }
        && At<PeriodItem>(items, at + 1) is { Span.Count: 1 } to
        && At<PeriodItem>(items, at - 1) is null
        && (
            Word(items, at)!.Kind == MentionKind.By
            || !(
                Word(items, at - 1) is { Kind: MentionKind.Number }
                || (Word(items, at - 1)?.Kind is MentionKind.Grain && Word(items, at - 2)?.Kind is MentionKind.Number)
            )
        )
        && Replace(items, at, 2, (s, e) => new PeriodItem(s, e, FiscalCalendar.YearToDate(to.Span.To), to.YearGiven));

    /// <summary>twelve months of refunds up to November → the figure, and so many months to the last of them.</summary>
    private static bool MonthsOfFigure(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Number
            || Word(items, at + 1) is not { Kind: MentionKind.Grain, Value: "month" }
            || Word(items, at + 2)?.Kind is not MentionKind.Figure
            || Word(items, at + 3)?.Kind is not MentionKind.To
            || At<PeriodItem>(items, at + 4) is null
        )
            return false;
        var figure = items[at + 2];
        items.RemoveAt(at + 2);
        items.Insert(at, figure);
        return true;
    }

    /// <summary>three months to March · 12 months until April 2026 → so many, the last of them named.</summary>
    private static bool MonthsTo(List<Item> items, int at)
    {
        var span = At<PeriodItem>(items, at)?.Span.Count
            ?? (
                Word(items, at) is { Kind: MentionKind.Number } number
                && Word(items, at + 1) is { Kind: MentionKind.Grain, Value: "month" }
                    ? int.Parse(number.Value, CultureInfo.InvariantCulture)
                    : 0
            );
        var length = At<PeriodItem>(items, at) is null ? 2 : 1;
        // A range of named periods is one from the first to the second.
        if (
            span is < 1 or > 36
            || (length == 1 && At<PeriodItem>(items, at) is not { Trailing: true })
            || Word(items, at + length)?.Kind is not MentionKind.To
            || At<PeriodItem>(items, at + length + 1) is not { Span.Count: 1 } to
        )
            return false;
        return Replace(items, at, length + 2, (s, e) =>
            new PeriodItem(s, e, new PeriodSpan(to.Span.To.AddMonths(1 - span), to.Span.To), to.YearGiven)
        );
    }

    /// <summary>FY25 full year → the year that is named; "full year" adds nothing to it.</summary>
    private bool WholeYear(List<Item> items, int at) =>
        At<PeriodItem>(items, at) is { Said: null, IsLastYear: false } whole
        && whole.Span == FiscalCalendar.Year(_now.Year)
        && !whole.Range
        && items.OfType<PeriodItem>().FirstOrDefault(p => p.Said?.Kind == MentionKind.Year) is { } named
        && items.IndexOf(named) < at
        && Enumerable
            .Range(items.IndexOf(named), at - items.IndexOf(named))
            .All(i => Word(items, i)?.Kind is not (MentionKind.Comparator or MentionKind.And or MentionKind.To))
        && Remove(items, at, 1);

    /// <summary>from last year's EBITDA to this year's → the figure, and the range.</summary>
    private static bool FigureInRange(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is null
            || Word(items, at + 1)?.Kind is not MentionKind.Figure
            || Word(items, at + 2)?.Kind is not MentionKind.To
            || At<PeriodItem>(items, at + 3) is null
        )
            return false;
        (items[at], items[at + 1]) = (items[at + 1], items[at]);
        return true;
    }

    /// <summary>last May: the latest one; beside May, or in May, the one a year before.</summary>
    private bool LastNamed(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Trailing
            || At<PeriodItem>(items, at + 1) is not { Said.Kind: MentionKind.Month or MentionKind.Part } named
        )
            return false;
        var earlier = named.Span.To >= _now || items.OfType<PeriodItem>().Any(p => p != named && p.Span == named.Span);
        var compared = Word(items, at - 1)?.Kind is MentionKind.Comparator && items.OfType<PeriodItem>().Count() == 1;
        // "Compared with last May", and nothing else: the newest one is.
        if (compared)
            items.Add(
                named with
                {
                    Start = named.Start,
                    End = named.Start,
                    YearGiven = true,
                    Said = null,
                    Span = earlier ? named.Span : new PeriodSpan(_now.AddMonths(1 - named.Span.Count), _now),
                }
            );
        return Replace(items, at, 2, (s, e) =>
            named with
            {
                Start = s,
                End = e,
                YearGiven = true,
                Said = null,
                Span = earlier ? named.Span.AddMonths(-12) : named.Span,
            }
        );
    }

    /// <summary>how often was fuel over budget → months are counted.</summary>
    private static bool HowOften(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Statistic, Value: "often" } often
        && Replace(items, at, 1, (s, e) => new BreakdownItem(s, e, [Breakdown.ByTime(TimeGrain.Month)]))
        && Insert(items, at, new CountItem(often.Start, often.End));

    /// <summary>when was fuel highest → by month; of months that are said it only says which.</summary>
    private static bool When(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.Which, Value: "when" } && Word(items, at - 1)?.Kind is MentionKind.Grain
            ? Remove(items, at, 1)
            : Word(items, at) is { Kind: MentionKind.Which, Value: "when" }
                && !items.Exists(i =>
                    i is WordItem { Mention.Kind: MentionKind.Grain or MentionKind.Records or MentionKind.Check }
                )
                && Replace(items, at, 1, (s, e) => new BreakdownItem(s, e, [Breakdown.ByTime(TimeGrain.Month)]));

    /// <summary>the first 9 months → from the beginning of the year.</summary>
    private bool LeadingMonths(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Leading
            || Word(items, at + 1) is not { Kind: MentionKind.Number } number
            || Word(items, at + 2) is not { Kind: MentionKind.Grain, Value: "month" or "quarter" } grain
        )
            return false;
        var months = int.Parse(number.Value, CultureInfo.InvariantCulture) * (grain.Value == "quarter" ? 3 : 1);
        if (months is 0 or > 12)
            return false;
        // "Of the year", "of last year", "2025".
        var year = Word(items, at + 3) switch
        {
            { Kind: MentionKind.Year } said => int.Parse(said.Value, CultureInfo.InvariantCulture),
            { Kind: MentionKind.Period, Value: "year:0" or "year:-1" or "year:1" } said => _now.Year + Pair(said.Value).Number,
            _ => (int?)null,
        };
        return Replace(items, at, year is null ? 3 : 4, (s, e) =>
            new PeriodItem(s, e, new PeriodSpan(new Period(year ?? _now.Year, 1), new Period(year ?? _now.Year, months)), true)
        );
    }

    /// <summary>months across · quarters side by side · in columns by month → each of them has columns of its own, beside the
    /// whole.</summary>
    private static bool Across(List<Item> items, int at)
    {
        if (
            Word(items, at) is { Kind: MentionKind.Level }
            && Word(items, at + 1) is { Kind: MentionKind.By, Value: "over" } over
            && (LevelAt(items, at + 2) is null || items[at + 2].Start > over.End)
        )
        {
            // Other rows stay rows; that they were to stand across is said to be passed over.
            items[at + 1] = new WordItem(over with { Kind = MentionKind.Across });
            return true;
        }
        if (
            Word(items, at) is { Kind: MentionKind.Level or MentionKind.Grain }
            && Word(items, at + 1) is { Kind: MentionKind.Across, Value: "down" }
            && items.Exists(i =>
                i is AcrossItem
                || i
                    is WordItem
                    {
                        Mention: { Kind: MentionKind.Across, Value: not "down" } or { Kind: MentionKind.By, Value: "over" }
                    }
            )
        )
        {
            items.RemoveAt(at + 1);
            return true;
        }
        if (Word(items, at) is not { Kind: MentionKind.Grain } grain)
            return false;
        // "Months across" has them in columns, "across the months" is a split like any other.
        var behind =
            Word(items, at + 1) is { Kind: MentionKind.Across, Value: not "down" }
            || (Word(items, at + 1) is { Kind: MentionKind.By, Value: "over" } && LevelAt(items, at + 2) is null);
        var before =
            !behind && Word(items, at - 1)?.Kind is MentionKind.By && Word(items, at - 2)?.Kind is MentionKind.Across ? 2
            : !behind && Word(items, at - 1)?.Kind is MentionKind.Across && items[at - 1].End == grain.Start ? 1
            : 0;
        if (!behind && before == 0)
            return false;
        var led = behind && Word(items, at - 1)?.Kind is MentionKind.By ? 1 : before;
        return Replace(items, at - led, led + (behind ? 2 : 1), (s, e) =>
            new AcrossItem(s, e, Enum.Parse<TimeGrain>(grain.Value, true))
        );
    }

    /// <summary>last 3 months · rolling 12 months → period.</summary>
    private bool TrailingPeriod(List<Item> items, int at)
    {
        // "12 month rolling".
        if (
            Word(items, at) is { Kind: MentionKind.Number } before
            && Word(items, at + 1) is { Kind: MentionKind.Grain, Value: "month" }
            && Word(items, at + 2) is { Kind: MentionKind.Trailing, Value: "rolling" }
            && int.Parse(before.Value, CultureInfo.InvariantCulture) is >= 2 and <= 36 and var led
        )
            return Replace(items, at, 3, (s, e) =>
                new PeriodItem(s, e, new PeriodSpan(_now.AddMonths(1 - led), _now), true) { Trailing = true }
            );
        // "The last 12 months rolling" says it twice.
        if (
            At<PeriodItem>(items, at) is { Trailing: true }
            && Word(items, at + 1) is { Kind: MentionKind.Trailing, Value: "rolling" }
            && Word(items, at + 2)?.Kind is not MentionKind.Number
        )
            return Remove(items, at + 1, 1);
        if (Word(items, at)?.Kind is not MentionKind.Trailing || Word(items, at + 1) is not { Kind: MentionKind.Number } number)
            return false;
        // "Rolling 12" are months.
        if (
            Word(items, at) is { Value: "rolling" }
            && Word(items, at + 2)?.Kind is not (MentionKind.Grain or MentionKind.Level or MentionKind.Days)
            && int.Parse(number.Value, CultureInfo.InvariantCulture) is >= 2 and <= 36 and var rolling
        )
            return Replace(items, at, 2, (s, e) =>
                new PeriodItem(s, e, new PeriodSpan(_now.AddMonths(1 - rolling), _now), true) { Trailing = true }
            );
        if (Word(items, at + 2) is not { Kind: MentionKind.Grain } grain)
            return false;
        var months =
            int.Parse(number.Value, CultureInfo.InvariantCulture)
            * grain.Value switch
            {
                "quarter" => 3,
                "half" => 6,
                "year" => 12,
                _ => 1,
            };
        if (months is 0 or > 120)
            return false;
        Replace(items, at, 3, (s, e) =>
            new PeriodItem(s, e, new PeriodSpan(_now.AddMonths(1 - months), _now), true) { Trailing = true }
        );
        // "the last 6 months by month": the words "months by month" say the split as well.
        if (grain.Length > 2)
            items.Insert(
                at + 1,
                new BreakdownItem(grain.Start, grain.End, [Breakdown.ByTime(Enum.Parse<TimeGrain>(grain.Value, true))])
            );
        return true;
    }

    /// <summary>period to period · between period and period → period. The first end takes its year from the second when it has
    /// none.</summary>
    private bool PeriodRange(List<Item> items, int at)
    {
        var between = Word(items, at - 1)?.Kind is MentionKind.Between;
        if (
            At<PeriodItem>(items, at) is not { } from
            || Word(items, at + 1)?.Kind is not { } link
            || At<PeriodItem>(items, at + 2) is not { } to
        )
            return false;
        if (link != MentionKind.To && !(between && link == MentionKind.And))
            return false;
        // "Take the last three months to a full year": at their pace.
        if (from.Trailing && to.Span == FiscalCalendar.Year(_now.Year))
            return Replace(items, at + 1, 2, (s, e) =>
                new WordItem(new Mention(MentionKind.Projection, nameof(Projection.RunRate), null, s, e - s, 0, "run rate"))
            );
        var (first, last) = (from.Span.From, to.Span.To);
        while (!from.YearGiven && to.YearGiven && first > last)
            first = first.AddMonths(-12);
        while (!from.YearGiven && to.YearGiven && first.AddMonths(12) <= last)
            first = first.AddMonths(12);
        if (!to.YearGiven && last < first)
            last = last.AddMonths(12);
        // "From last year to this year ytd" says its end twice.
        var again = items.FindIndex(at + 3, i =>
            i is PeriodItem { YearGiven: true } p && from.Span.Count > 1 && p.Span.From == to.Span.From && p.Span.To <= to.Span.To
        );
        if (last >= first && again >= 0)
        {
            to = to with { Span = At<PeriodItem>(items, again)!.Span };
            last = to.Span.To;
            items.RemoveAt(again);
        }
        return last >= first && Replace(items, at, 3, (s, e) => new PeriodItem(s, e, new PeriodSpan(first, last), to.YearGiven)
                {
                    Range = true,
                    FromTo = IsLed(from, "from"),
                    Ends = from.Span.Count > 1 && to.Span.Count > 1 ? (from.Span, to.Span) : null,
                });
    }

    /// <summary>revenue as of September → the year up to its end. Balances, counts of a day and records are as at that day
    /// anyway.</summary>
    private bool AsAtPeriod(List<Item> items, int at) =>
        At<PeriodItem>(items, at) is { Span.Count: <= 3, Range: false, Trailing: false } to
        && IsLed(to, "as-at")
        && FiscalCalendar.YearToDate(to.Span.To) is var year
        && year != to.Span
        && !IsAsAtAnyway(items)
        && Replace(items, at, 1, (s, e) => to with { Span = year, Said = null });

    private bool IsAsAtAnyway(List<Item> items) =>
        items.Exists(i =>
            i
                is WordItem
                {
                    Mention: { Kind: MentionKind.Records or MentionKind.Check or MentionKind.Days or MentionKind.Bucket }
                        or { Kind: MentionKind.Unit, Value: "balance" }
                        or { Kind: MentionKind.Intent, Value: "entries" or "entries:journal" or "entries:document" }
                        or { Kind: MentionKind.Grain }
                }
            || (
                i is WordItem { Mention: { Kind: MentionKind.Figure } figure }
                && book.Figure(FigureOf(figure)) is SumFigure { OverTime: not OverTime.Sum }
            )
        );

    /// <summary>by month from June → since June; from June and nothing else → in June.</summary>
    private bool FromPeriod(List<Item> items, int at) =>
        At<PeriodItem>(items, at) is { Range: false, Trailing: false, Said.Kind: MentionKind.Month or MentionKind.Part } first
        && IsLed(first, "from")
        && first.Span.From < _now
        && items.Exists(i =>
            i
                is WordItem { Mention: { Kind: MentionKind.Grain } or { Kind: MentionKind.Cumulative } }
                    or BreakdownItem { Breakdowns: [{ Grain: not null }, ..] }
        )
        && !items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Records })
        && Replace(items, at, 1, (s, e) => first with { Span = new PeriodSpan(first.Span.From, _now), Said = null });

    private bool IsLed(PeriodItem period, string by) =>
        _said.Any(m => m.Kind == MentionKind.Place && m.Value == by && m.End == period.Start);

    /// <summary>is it mostly November · how much of it was in November → the months, each with its part of the whole.</summary>
    private bool PartInTime(List<Item> items, int at)
    {
        if (
            At<PeriodItem>(items, at) is not { Span.Count: 1 } month
            || !items.Take(at).Any(i => i is WordItem { Mention.Kind: MentionKind.Share })
        )
            return false;
        var led = month.Start;
        while (
            _said.FirstOrDefault(m =>
                m.End == led
                && m
                    is { Kind: MentionKind.Place or MentionKind.Grain }
                        or { Kind: MentionKind.Gap, Title: "over" }
                        or { Kind: MentionKind.Period, Value: "month:0" }
                        or { Kind: MentionKind.Filler, Value: not "equals" }
            )
                is { } small
        )
            led = small.Start;
        return (
                (Word(items, at - 1) is { Kind: MentionKind.Share } before && MentionContext.SaysPart(before.Value))
                || IsEqual(led)
            )
            && Replace(items, at, 1, (s, e) =>
                new BreakdownItem(s, e, [Breakdown.ByTime(TimeGrain.Month)]) { Led = true, Part = PartAsked.Of(month.Span) }
            );
    }

    /// <summary>Right behind "is" or "was".</summary>
    private bool IsEqual(int start) => _said.Any(m => m is { Kind: MentionKind.Filler, Value: "equals" } && m.End == start);

    /// <summary>since period · from period on → from its beginning to now; rose since period → now against that period.</summary>
    private bool SincePeriod(List<Item> items, int at)
    {
        // "What do we expect from August on" looks ahead: from the August of this year to its end.
        if (
            At<PeriodItem>(items, at) is { Days: null, Range: false, YearGiven: false, Span.Count: 1 } ahead
            && Word(items, at + 1) is { Kind: MentionKind.Since, Value: MentionContext.FromThen }
            && new Period(_now.Year, ahead.Span.From.Number) is var begins
            && begins > _now
            && items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: not Book.ActualCode } })
            && !items.Exists(i => i is WordItem { Mention: { Kind: MentionKind.Scenario, Value: Book.ActualCode } })
        )
            return Replace(items, at, 2, (s, e) =>
                ahead with
                {
                    Start = s,
                    End = e,
                    Span = new PeriodSpan(begins, FiscalCalendar.Year(_now.Year).To),
                    YearGiven = true,
                    Said = null,
                }
            );
        if (
            At<PeriodItem>(items, at) is { Days: null, Range: false } first
            && Word(items, at + 1) is { Kind: MentionKind.Since, Value: MentionContext.FromThen }
            && first.Span.From <= _now
        )
            return Replace(items, at, 2, (s, e) =>
                first with
                {
                    Start = s,
                    End = e,
                    Span = new PeriodSpan(first.Span.From, _now),
                    Since = true,
                    Said = null,
                }
            );
        if (
            Word(items, at)?.Kind is not MentionKind.Since
            || At<PeriodItem>(items, at + 1) is not { } from
            || from.Span.From > _now
        )
            return false;
        var moved =
            (
                _said.Any(m => m.Kind == MentionKind.Multiple)
                || items.Exists(i =>
                    i is WordItem { Mention: var moved }
                    && (
                        (GapSense.Of(moved).Moves && !vocabulary.Positions.Contains(moved.Title))
                        || moved is { Kind: MentionKind.Growth, Value: "change" } or { Kind: MentionKind.Shift }
                    )
                )
            )
            && from.Span.To < _now
            && !items.Exists(i => i is WordItem { Mention.Kind: MentionKind.Scenario });
        if (!moved)
            return Replace(items, at, 2, (s, e) =>
                new PeriodItem(s, e, new PeriodSpan(from.Span.From, _now), from.YearGiven) { Since = true }
            );
        // "Up since last year": against the same months of it.
        if (from.IsLastYear)
            return Replace(items, at, 2, (s, e) => new BaseItem(s, e, "prior-year"));
        return Replace(items, at, 2, (s, e) =>
                new PeriodItem(s, e, new PeriodSpan(_now.AddMonths(1 - from.Span.Count), _now), true)
            ) && Insert(items, at + 1, new BasePeriodItem(from.Start, from.End, from.Span));
    }

    /// <summary>in each of the last three months → month by month.</summary>
    private static bool EachOfPeriod(List<Item> items, int at) =>
        Word(items, at) is { Kind: MentionKind.By, Value: "each" } each
        && At<PeriodItem>(items, at + 1) is { Span.Count: > 1 }
        && Replace(items, at, 1, (s, e) =>
            new BreakdownItem(each.Start, each.End, [Breakdown.ByTime(TimeGrain.Month)]) { Each = true, Led = true }
        );

    /// <summary>October and November combined → one period of both.</summary>
    /// <exception cref="CannotAnswerException">When they do not follow each other.</exception>
    private bool Combined(List<Item> items, int at)
    {
        if (
            Word(items, at)?.Kind is not MentionKind.Combined
            || items.OfType<PeriodItem>().ToList() is not [_, _, ..] periods
            || Enumerable.Range(0, items.Count).Any(i => Word(items, i)?.Kind is MentionKind.Comparator)
        )
            return false;
        var ordered = periods.OrderBy(p => p.Span.From).ToList();
        if (!Enumerable.Range(1, ordered.Count - 1).All(i => ordered[i].Span.From == ordered[i - 1].Span.To.AddMonths(1)))
            throw new CannotAnswerException(
                $"Only months that follow each other can be taken together, not {string.Join(" and ", periods.Select(p => book.Calendar.NameOf(p.Span)))}."
            );
        items.RemoveAt(at);
        var first = items.FindIndex(i => i is PeriodItem);
        items[first] = periods[0] with
        {
            Span = new PeriodSpan(ordered[0].Span.From, ordered[^1].Span.To),
            Said = null,
            End = periods[^1].End,
        };
        for (var i = items.Count - 1; i > first; i--)
            if (items[i] is PeriodItem || (Word(items, i)?.Kind is MentionKind.And && At<PeriodItem>(items, i - 1) is not null))
                items.RemoveAt(i);
        return true;
    }

    private Period Latest(int calendarMonth)
    {
        var now = book.Calendar.FirstDay(_now);
        return book.Calendar.PeriodOfMonth(calendarMonth <= now.Month ? now.Year : now.Year - 1, calendarMonth);
    }

    private const string Season = "season";

    private PeriodSpan PartOf(string value, int? year)
    {
        var (kind, number) = Pair(value);
        // A season begins in a month of the calendar, whenever the fiscal year does.
        PeriodSpan In(int y) =>
            kind switch
            {
                Season => book.Calendar.PeriodOfMonth(y, number) is var first
                    ? new PeriodSpan(first, first.AddMonths(2))
                    : default,
                "quarter" => FiscalCalendar.Quarter(y, number),
                _ => FiscalCalendar.Half(y, number),
            };
        if (year is { } given)
            return In(given);
        var current = kind == Season ? book.Calendar.FirstDay(_now).Year : _now.Year;
        return In(current).From <= _now ? In(current) : In(current - 1);
    }

    private PeriodSpan Relative(string value)
    {
        if (PeriodSpan.TryParse(value, out var absolute))
            return absolute;
        var (kind, steps) = Pair(value);
        return kind switch
        {
            "month" => PeriodSpan.Of(_now.AddMonths(steps)),
            // The last one that is closed.
            "last" => PeriodSpan.Of(_now),
            "quarter" => FiscalCalendar.QuarterOf(_now.AddMonths(3 * steps)),
            "half" => FiscalCalendar.Half(_now.AddMonths(6 * steps).Year, ((_now.AddMonths(6 * steps).Number - 1) / 6) + 1),
            "trailing" => new PeriodSpan(_now.AddMonths(1 - steps), _now),
            "rest" when _now.Number < 12 => new PeriodSpan(_now.AddMonths(1), FiscalCalendar.Year(_now.Year).To),
            // The last quarter or half that is over.
            "closed" => new PeriodSpan(_now.AddMonths(1 - steps - (_now.Number % steps)), _now.AddMonths(-(_now.Number % steps))),
            "all" when book.ActualSpan is { } all => all,
            "ytd" or "this" or "date" => FiscalCalendar.YearToDate(_now.AddMonths(12 * steps)),
            _ => FiscalCalendar.Year(_now.Year + steps),
        };
    }

    private static (string Kind, int Number) Pair(string value)
    {
        var colon = value.IndexOf(':', StringComparison.Ordinal);
        return (value[..colon], int.Parse(value[(colon + 1)..], CultureInfo.InvariantCulture));
    }
}
