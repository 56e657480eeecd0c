using System.Globalization;

namespace Bearing.Core.Books;

/// <summary>A run of days, both ends included. Records and journals have days; figures are kept by month.</summary>
public readonly record struct DaySpan
{
    /// <param name="from">First day; null where it is open towards the past.</param>
    /// <param name="to">Last day; null where it is open towards the future.</param>
    /// <exception cref="ArgumentException">When <paramref name="to"/> lies before <paramref name="from"/>, or both are
    /// open.</exception>
    public DaySpan(DateOnly? from, DateOnly? to)
    {
        if (from is null && to is null)
            throw new ArgumentException("A span of days has at least one end.", nameof(from));
        if (to < from)
            throw new ArgumentException($"A span cannot end ({to:O}) before it begins ({from:O}).", nameof(to));
        (From, To) = (from, to);
    }

    public DateOnly? From { get; }
    public DateOnly? To { get; }

    public static DaySpan On(DateOnly day) => new(day, day);

    /// <summary>The one day that it is; null where it is more than one.</summary>
    public DateOnly? Single => From == To ? From : null;

    /// <summary>Whether it runs from the first day of a month to the last day of one.</summary>
    public bool IsWholeMonths => From is { Day: 1 } && To is { } to && to.AddDays(1).Day == 1;

    public DaySpan NextYear => new(From?.AddYears(1), To?.AddYears(1));

    public bool Contains(DateOnly day) => !(day < From) && !(day > To);

    /// <summary>Canonical form: <c>2026-08-03..2026-08-17</c>; an open end is empty.</summary>
    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{From:yyyy-MM-dd}..{To:yyyy-MM-dd}");

    /// <summary>Reads the canonical form. Returns false for anything else.</summary>
    public static bool TryParse(string? text, out DaySpan span)
    {
        span = default;
        if ((text ?? "").Split("..") is not [var first, var last] || first.Length + last.Length == 0)
            return false;
        if (!TryEnd(first, out var from) || !TryEnd(last, out var to) || to < from)
            return false;
        span = new DaySpan(from, to);
        return true;
    }

    private static bool TryEnd(string text, out DateOnly? end)
    {
        end = DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
            ? day
            : null;
        return text.Length == 0 || end is not null;
    }

    /// <summary>"on 14 March 2026", "from 3 to 17 August 2026", "since 14 March 2026", "until 9 August 2026".</summary>
    public string Name =>
        (From, To) switch
        {
            ({ } from, null) => $"since {NameOf(from)}",
            (null, { } to) => $"until {NameOf(to)}",
            ({ } from, { } to) when from == to => $"on {NameOf(to)}",
            ({ } from, { } to) when (from.Year, from.Month) == (to.Year, to.Month) => $"from {from.Day} to {NameOf(to)}",
            ({ } from, { } to) => $"from {NameOf(from)} to {NameOf(to)}",
            _ => "",
        };

    private static string NameOf(DateOnly day) => day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);
}
