using System.Globalization;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

public sealed partial class RowMapper
{
    private DateOnly? DateOf(RawRow raw, out Refusal? refusal)
    {
        refusal = null;
        if (_date < 0)
            return null;
        if (raw.Typed?[_date] is DateOnly typed)
            return typed;
        var text = Field(raw, _date);
        if (text.Length == 0)
            return null;
        // A ledger has few days and many lines of each.
        if (_days.TryGetValue(text, out var day))
            return day;
        if (
            DateOnly.TryParseExact(
                text,
                _mapping.DateFormat ?? "yyyy-MM-dd",
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out day
            ) || TryOtherwise(text, out day)
        )
        {
            if (_days.Count < MostDays)
                _days[text] = day;
            return day;
        }
        refusal = Refuse(
            raw,
            _date,
            $"“{Shorten(text)}” is not a date of the form {_mapping.DateFormat ?? "yyyy-MM-dd"}.",
            "Correct the date."
        );
        return null;
    }

    /// <summary>A day written shorter or with other marks than the rest, in the same order of day and month, or as the number
    /// that workbooks keep of it.</summary>
    private bool TryOtherwise(string text, out DateOnly day)
    {
        if (
            text.Length == 5
            && int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var serial)
            && serial is > 20_000 and < 80_000
        )
        {
            day = DateOnly.FromDateTime(DateTime.FromOADate(serial));
            return true;
        }
        return DateOnly.TryParseExact(
            text,
            _mapping.DateFormat?.TrimStart()[0] == 'M' ? MonthFirst : DayFirst,
            CultureInfo.InvariantCulture,
            DateTimeStyles.None,
            out day
        );
    }

    private static readonly string[] DayFirst = ["yyyy-M-d", "d.M.yyyy", "d.M.yy", "d/M/yyyy", "d/M/yy", "d-M-yyyy"];
    private static readonly string[] MonthFirst = ["yyyy-M-d", "M/d/yyyy", "M/d/yy", "M-d-yyyy"];

    private bool TryPeriod(RawRow raw, ValueColumn? value, DateOnly? date, out Period period, out Refusal? refusal)
    {
        (period, refusal) = (default, null);
        if ((value?.Period ?? _mapping.FixedPeriod) is { } across)
        {
            period = across;
            return true;
        }
        if (_period < 0 || IsBlank(raw, _period))
        {
            if (date is not null)
                period = _book.Calendar.PeriodOf(date.Value);
            else
                refusal = Refuse(raw, _date >= 0 ? _date : _period, "The row has no date.", "Give every row a date or a period.");
            return refusal is null;
        }
        var year = _mapping.FiscalYear ?? FiscalYearOf(raw) ?? (date is { } d ? _book.Calendar.PeriodOf(d).Year : null);
        if (raw.Typed?[_period] is DateOnly day)
            period = _book.Calendar.PeriodOf(day);
        else if (HeadingWords.TryAdjustment(Field(raw, _period), year, out period))
            MarkAdjustment();
        else if (
            !HeadingWords.TryPeriod(Field(raw, _period), _book.Calendar, year, _mapping.FiscalPeriods, out period)
            && !(_fiscalYear >= 0 && HeadingWords.TryNumber(Field(raw, _period), year, out period))
        )
            refusal = Refuse(
                raw,
                _period,
                $"“{Shorten(Field(raw, _period))}” is not a period.",
                "Write periods as 2026-09 (calendar month) or 2026-P09 (fiscal year and period)."
            );
        return refusal is null;
    }

    private int? FiscalYearOf(RawRow raw) =>
        _fiscalYear >= 0 && HeadingWords.TryFiscalYear(Field(raw, _fiscalYear), out var year) ? year : null;

    private void MarkAdjustment()
    {
        Adjustments++;
        var mark = $"\"{Adjustment.Code}\":\"period 13\"";
        _json = _json is null or "{}" ? $"{{{mark}}}" : $"{_json[..^1]},{mark}}}";
    }
}
