using System.Collections.Frozen;
using System.Globalization;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>The words that tables are headed and closed with, and the ways in which periods are written. All of it is data in
/// headings.json.</summary>
public static class HeadingWords
{
    private sealed record WordFile(
        Dictionary<string, string[]> Roles,
        string[][] Months,
        string[] Totals,
        Dictionary<string, decimal> Scales,
        Dictionary<string, string[]> Fields,
        Dictionary<string, string[]> FieldHeadings,
        Dictionary<AccountType, string[]> Types,
        string[] HomeAmounts
    );

    private static readonly WordFile File = Load();
    private static readonly FrozenDictionary<string, int> Months = File
        .Months.SelectMany((names, i) => names.Select(n => (n, i + 1)))
        .ToFrozenDictionary(m => m.n, m => m.Item2);
    private static readonly FrozenDictionary<string, AccountType> Types = File
        .Types.SelectMany(t => t.Value.Select(w => (Phrase: Words.Phrase(w), t.Key)))
        .DistinctBy(t => t.Phrase)
        .ToFrozenDictionary(t => t.Phrase, t => t.Key);

    /// <summary>Codes of ISO 4217 that are no everyday English words.</summary>
    private static readonly FrozenSet<string> Totals = File.Totals.ToFrozenSet();

    /// <summary>Role → the headings that usually stand over it.</summary>
    public static IReadOnlyDictionary<string, string[]> Roles => File.Roles;

    /// <summary>The role that a heading usually has, or null.</summary>
    public static string? RoleOf(string heading)
    {
        var (phrase, spaced) = (Words.Phrase(heading), Words.Phrase(Spaced(heading)));
        foreach (var (role, words) in File.Roles)
            if (words.Any(w => Words.Phrase(w) is var known && (known == phrase || known == spaced)))
                return role;
        return null;
    }

    /// <summary>Whether a heading says that the amounts below it are in the currency of the whole group.</summary>
    private static bool IsHomeAmount(string heading) =>
        Words.Phrase(Spaced(heading)) is var phrase && File.HomeAmounts.Any(w => Words.Phrase(w) == phrase);

    /// <summary>In which currency a heading says that the amounts below it are; null where it does not say.</summary>
    public static string? CurrencyOf(string heading, string home) =>
        WithCurrency(heading)?.Currency ?? (IsHomeAmount(heading) ? home : null);

    /// <summary>"Amount EUR" → EUR and "Amount"; null where no code of a currency stands at its end or its beginning.</summary>
    public static (string Currency, string Heading)? WithCurrency(string heading)
    {
        var words = heading.Split((char[])[' ', '_', '(', ')', '[', ']'], StringSplitOptions.RemoveEmptyEntries);
        static bool IsCode(string word) => CurrencyCode.IsKnown(word.ToUpperInvariant());
        if (words.Length < 2)
            return null;
        if (IsCode(words[^1]))
            return (words[^1].ToUpperInvariant(), string.Join(' ', words[..^1]));
        return IsCode(words[0]) ? (words[0].ToUpperInvariant(), string.Join(' ', words[1..])) : null;
    }

    /// <summary>The type of account that a cell names, in whatever word a chart of accounts uses for it; null where it names
    /// none.</summary>
    public static AccountType? TypeOf(string text) => Types.TryGetValue(Words.Phrase(text), out var type) ? type : null;

    /// <summary>"InvoiceDate" and "invoice_date" → "Invoice date", as people would write it.</summary>
    public static string Spaced(string heading)
    {
        var text = new System.Text.StringBuilder(heading.Length + 4);
        for (var i = 0; i < heading.Length; i++)
        {
            var begins = i > 0 && char.IsUpper(heading[i]) && char.IsLower(heading[i - 1]);
            if (begins)
                text.Append(' ');
            text.Append(
                heading[i] == '_' ? ' '
                : begins && (i + 1 == heading.Length || !char.IsUpper(heading[i + 1])) ? char.ToLowerInvariant(heading[i])
                : heading[i]
            );
        }
        var name = text.ToString().Trim();
        return name.Length == 0 ? heading : char.ToUpperInvariant(name[0]) + name[1..];
    }

    /// <summary>key, quantity or rate, where a word of the heading of a record's column says so; null otherwise.</summary>
    public static string? FieldOf(string heading)
    {
        var stems = Words.Tokens(Spaced(heading)).Select(t => t.Stem).ToHashSet();
        return File.Fields.FirstOrDefault(f => f.Value.Any(w => stems.Contains(Words.Stem(w)))).Key;
    }

    /// <summary>Whether a heading is one of those under which columns of this kind usually stand: open, paid, whole (an amount),
    /// line (kept with each ledger line).</summary>
    public static bool FieldOf(string heading, string kind) =>
        Words.Phrase(Spaced(WithCurrency(heading)?.Heading ?? heading)) is var phrase
        && File.FieldHeadings[kind].Any(w => Words.Phrase(w) == phrase);

    /// <summary>Whether a text closes a table or a block of it: "Total costs", "Sum of 12 lines", "Coast, result".</summary>
    public static bool IsTotal(string text) => text.Length < 120 && Words.Tokens(text).Any(t => Totals.Contains(t.Stem));

    /// <summary>1,000 where a title says "thousand EUR"; 1 otherwise.</summary>
    public static decimal ScaleIn(string title) =>
        title.Length > 200
            ? 1m
            : Words.Tokens(title).Select(t => File.Scales.GetValueOrDefault(t.Stem, 1m)).FirstOrDefault(s => s != 1m, 1m);

    /// <summary>
    /// Reads 2026-P09 · P09 · P09 FY26 · FY2026 P9 · 2026/09 · 09/2026 · 2026-09 · 202609 · Jul 2025 · Jul 25 · July 2025 · a
    /// date.
    /// </summary>
    /// <param name="year">Fiscal year of a period written without one.</param>
    /// <param name="fiscal">Whether 2026/09 is fiscal year and period.</param>
    public static bool TryPeriod(string text, FiscalCalendar calendar, int? year, bool fiscal, out Period period)
    {
        if (Period.TryParse(text, out period))
            return true;
        if (
            text.Length is 2 or 3
            && text[0] is 'P' or 'p'
            && int.TryParse(text.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var only)
            && only is >= 1 and <= 12
            && year is { } of
        )
        {
            period = new Period(of, only);
            return true;
        }
        if (TryNamedPeriod(text, out period))
            return true;
        if (
            DateOnly.TryParseExact(
                text,
                ["yyyy-MM-dd", "dd.MM.yyyy"],
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var day
            )
        )
        {
            period = calendar.PeriodOf(day);
            return true;
        }
        if (!TryYearAndNumber(text, out var y, out var n))
            return false;
        period = fiscal && char.IsDigit(text[0]) ? new Period(y, n) : calendar.PeriodOfMonth(y, n);
        return true;
    }

    /// <summary>"P09 FY26", "FY2026/P9", "P9 2026": a period and a fiscal year, in either order.</summary>
    private static bool TryNamedPeriod(string text, out Period period)
    {
        period = default;
        if (
            text.Length > 12
            || text.Split((char[])[' ', '/', '-'], StringSplitOptions.RemoveEmptyEntries) is not [var one, var other]
        )
            return false;
        var (number, year) = one[0] is 'P' or 'p' ? (one, other) : (other, one);
        if (
            number[0] is not ('P' or 'p')
            || !int.TryParse(number.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var n)
            || n is < 1 or > 12
        )
            return false;
        var marked = year.StartsWith("FY", StringComparison.OrdinalIgnoreCase);
        if (!int.TryParse(marked ? year.AsSpan(2) : year, NumberStyles.None, CultureInfo.InvariantCulture, out var y))
            return false;
        if (y < 100 && marked)
            y += 2000;
        if (y is < 1990 or > 2100)
            return false;
        period = new Period(y, n);
        return true;
    }

    /// <summary>2026 · FY26 · FY2026.</summary>
    public static bool TryFiscalYear(string text, out int year)
    {
        var marked = text.StartsWith("FY", StringComparison.OrdinalIgnoreCase);
        if (
            int.TryParse(marked ? text.AsSpan(2) : text, NumberStyles.None, CultureInfo.InvariantCulture, out year)
            && marked
            && year < 100
        )
            year += 2000;
        return year is >= 1990 and <= 2100;
    }

    /// <summary>The number of a period, 1 to 12, beside a column of fiscal years.</summary>
    public static bool TryNumber(string text, int? year, out Period period)
    {
        var usable =
            int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            && number is >= 1 and <= 12
            && year is not null;
        period = usable ? new Period(year!.Value, number) : default;
        return usable;
    }

    /// <summary>
    /// Reads 2026-P13 · P13 · 2026/13: the adjustments after the twelfth month, which count in it.
    /// </summary>
    /// <param name="period">The twelfth month of the year.</param>
    public static bool TryAdjustment(string text, int? year, out Period period)
    {
        period = default;
        var parts = text.Split((char[])['/', '-', ' '], StringSplitOptions.RemoveEmptyEntries);
        if (parts.Length is 0 or > 2 || parts[^1].TrimStart('P', 'p') != "13")
            return false;
        if (
            parts.Length == 2
                ? !int.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out var of) || of is < 1990 or > 2100
                : (of = year ?? 0) == 0
        )
            return false;
        period = new Period(of, 12);
        return true;
    }

    private static bool TryYearAndNumber(string text, out int year, out int number)
    {
        (year, number) = (0, 0);
        var parts = text.Split((char[])['/', '-', ' ', '.', '\''], StringSplitOptions.RemoveEmptyEntries);
        if (parts is [{ Length: 6 } whole] && int.TryParse(whole, NumberStyles.None, CultureInfo.InvariantCulture, out var both))
            (year, number) = (both / 100, both % 100);
        else if (parts is [{ Length: 4 } first, { Length: <= 2 } second] && Digits(first, out year) && Digits(second, out number))
        { }
        else if (parts is [{ Length: <= 2 } one, { Length: 4 } two] && Digits(one, out number) && Digits(two, out year)) { }
        else if (
            parts is [var name, { Length: 2 or 4 } of]
            && Months.TryGetValue(Words.Stem(name), out number)
            && Digits(of, out year)
        )
            year += of.Length == 2 ? 2000 : 0;
        else
            return false;
        return year is >= 1990 and <= 2100 && number is >= 1 and <= 12;

        static bool Digits(string text, out int value) =>
            int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out value);
    }

    private static WordFile Load()
    {
        using var stream = typeof(HeadingWords).Assembly.GetManifestResourceStream("loading.headings.json")!;
        return JsonSerializer.Deserialize<WordFile>(stream, JsonSerializerOptions.Web)!;
    }
}
