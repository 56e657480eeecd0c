using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Reading;

/// <summary>What is known by its shape and stands in no list of words: numbers, dates, periods, and codes from one to
/// another.</summary>
public sealed partial class MentionFinder
{
    /// <summary>Digits that a code has at least to be one end of a range.</summary>
    private const int LeastCode = 3;

    /// <summary>6010 to 6040, accounts between 6000 and 6499, 6000-6499, 60xx: the codes from one to another, of the accounts or
    /// of the level that is said before.</summary>
    private IEnumerable<Mention> CodeRanges(IReadOnlyList<Token> tokens, int at)
    {
        bool Says(int i, MentionKind kind) =>
            i >= 0 && i < tokens.Count && vocabulary.Find(tokens[i].Stem).Any(e => e.Kind == kind);
        static bool IsCode(string text) => text.Length >= LeastCode && text.All(char.IsAsciiDigit);
        var led = Says(at, MentionKind.Between) || Says(at, MentionKind.Since);
        var first = led ? at + 1 : at;
        if (first >= tokens.Count)
            yield break;
        var (low, high, end) =
            tokens[first].Text.Split('-', '–') is [var one, var other] && IsCode(one) ? (one, other, first + 1)
            : Masked(tokens[first].Text) is { } mask ? (mask.Low, mask.High, first + 1)
            : first + 2 < tokens.Count && (Says(first + 1, MentionKind.To) || (led && Says(first + 1, MentionKind.And)))
                ? (tokens[first].Text, tokens[first + 2].Text, first + 3)
            : ("", "", 0);
        if (!IsCode(low) || !IsCode(high) || low.Length != high.Length || string.CompareOrdinal(low, high) >= 0)
            yield break;
        // An amount has a unit behind it, or a side where it is one of two.
        if (
            end < tokens.Count
            && vocabulary
                .Find(tokens[end].Stem)
                .Any(e => e.Kind is MentionKind.Percent or MentionKind.Currency || (e.Kind is MentionKind.Gap && led))
        )
            yield break;
        string? LevelAt(int i) =>
            i < 0 || i >= tokens.Count
                ? null
                : words.Whole(tokens[i].Stem).FirstOrDefault(n => n.Target.Kind == MentionKind.Level)?.Target.Dimension
                    ?? (vocabulary.Find(tokens[i].Stem).Any(e => e.Kind == MentionKind.Level) ? book.Accounts.Code : null);
        var level = LevelAt(at - 1) ?? LevelAt(at - 2) ?? (end == at + 1 ? LevelAt(end) : null);
        var dimension = level is not null && book.TryDimension(level, out var named) ? named : book.Accounts;
        // Two years are one from another, whatever accounts are called.
        if (
            level is null
            && (
                Year(low) is not null && Year(high) is not null
                || !book.MembersOf(dimension.Id)
                    .Any(m =>
                        m.Code.Length == low.Length
                        && string.CompareOrdinal(m.Code, low) >= 0
                        && string.CompareOrdinal(m.Code, high) <= 0
                    )
            )
        )
            yield break;
        yield return new Mention(MentionKind.Codes, $"{low}:{high}", dimension.Code, at, end - at, 0, $"{low} to {high}");
    }

    /// <summary>60xx: all codes that begin so.</summary>
    private static (string Low, string High)? Masked(string text) =>
        text.TrimEnd('x', 'X') is { Length: > 0 } start
        && start.Length < text.Length
        && text.Length >= LeastCode
        && start.All(char.IsAsciiDigit)
            ? (start.PadRight(text.Length, '0'), start.PadRight(text.Length, '9'))
            : null;

    /// <summary>Numbers, years and period codes, known by their shape.</summary>
    private IEnumerable<Mention> Shapes(Token token, int at)
    {
        var text = token.Stem;
        if (Year(text) is { } year)
            yield return Shape(MentionKind.Year, year.ToString(CultureInfo.InvariantCulture));
        // Where a year begins within one it is the one that ends in the second; otherwise both are meant.
        if (YearPair(text) is { } ends)
            yield return book.Calendar.StartMonth > 1
                ? Shape(MentionKind.Year, ends.ToString(CultureInfo.InvariantCulture))
                : Shape(MentionKind.Period, new PeriodSpan(new Period(ends - 1, 1), new Period(ends, 12)).ToString());
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number <= 1000)
            yield return Shape(MentionKind.Number, number.ToString(CultureInfo.InvariantCulture));
        if (
            text.Length is 2 or 3
            && text[0] == 'p'
            && int.TryParse(text.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var fiscal)
            && fiscal is >= 1 and <= 12
            && book.CurrentPeriod is { } now
        )
            yield return Shape(MentionKind.Period, new Period(now.Year, fiscal).ToString());
        if (
            text.Any(char.IsLetter)
            && text.Count(char.IsDigit) >= 4
            && !words.Knows(text)
            && !vocabulary.Stems.Contains(text)
            && YearPair(text) is null
            && MonthOf(text) is null
        )
            yield return Shape(MentionKind.Document, token.Text);
        // An amount in the book's own currency is what is shown anyway; any other currency is not passed over.
        if (string.Equals(token.Text, book.Definition.Currency, StringComparison.OrdinalIgnoreCase))
            yield return Shape(MentionKind.Filler, token.Text);
        else if (text.Length == 3 && book.Currencies.Contains(token.Text.ToUpperInvariant()))
            yield return Shape(MentionKind.Currency, token.Text.ToUpperInvariant());
        if (AmountOf(text) is { } amount)
            yield return Shape(
                text.EndsWith('%') ? MentionKind.Percent : MentionKind.Amount,
                amount.ToString(CultureInfo.InvariantCulture)
            ) with
            {
                Cost = PerMention + (Year(text) is null ? 0 : NotFromStart),
            };
        if (DayOf(text) is { } day)
            yield return Shape(MentionKind.Day, day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
        if (OrdinalOf(text) is { } place)
            yield return Shape(MentionKind.Ordinal, place);
        // 31-60: days of age, from and to.
        if (
            text.Split('-') is [{ Length: <= 3 } low, { Length: <= 3 } high]
            && int.TryParse(low, NumberStyles.None, CultureInfo.InvariantCulture, out var from)
            && int.TryParse(high, NumberStyles.None, CultureInfo.InvariantCulture, out var to)
            && from < to
        )
            yield return Shape(MentionKind.Bucket, to.ToString(CultureInfo.InvariantCulture));
        // 202511.
        if (
            text.Length == 6
            && text.All(char.IsAsciiDigit)
            && Year(text[..4]) is { } inYear
            && int.Parse(text[4..], CultureInfo.InvariantCulture) is >= 1 and <= 12 and var ofYear
        )
            yield return Shape(MentionKind.Period, book.Calendar.PeriodOfMonth(inYear, ofYear).ToString());
        // 8-21 is sooner a range than August 2021.
        if (MonthOf(text) is { } period)
            yield return Shape(MentionKind.Period, period.ToString()) with
            {
                Cost = PerMention + (text.Length < 6 && text.All(c => char.IsDigit(c) || c == '-') ? NotFromStart : 0),
            };

        Mention Shape(MentionKind kind, string value) => new(kind, value, null, at, 1, PerMention, token.Text);
    }

    /// <summary>20k, 1.5m, 5,000, 12000, 10%; a small whole number is a count.</summary>
    private static decimal? AmountOf(string text)
    {
        if (text is ['-' or '−', _, ..])
            return AmountOf(text[1..]) is { } below ? -below
                : decimal.TryParse(text[1..], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var small)
                    ? -small
                : null;
        var scale = char.ToLowerInvariant(text[^1]) switch
        {
            'k' => 1_000m,
            'm' => 1_000_000m,
            '%' => 1m,
            _ => 0m,
        };
        var digits = scale == 0m ? text : text[..^1];
        return
            decimal.TryParse(
                digits,
                NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands,
                CultureInfo.InvariantCulture,
                out var number
            )
            && number < 1e12m
            && (scale > 0m || number >= 1000m)
            ? number * (scale == 0m ? 1m : scale)
            : null;
    }

    /// <summary>2026, fy26, fy2026, '26.</summary>
    private static int? Year(string text)
    {
        var digits =
            text.StartsWith("fy", StringComparison.Ordinal) ? text[2..].TrimStart('\'')
            : text.Length == 3 && text[0] == '\'' ? text[1..]
            : text.Length == 4 ? text
            : "";
        if (!int.TryParse(digits, NumberStyles.None, CultureInfo.InvariantCulture, out var year))
            return null;
        if (digits.Length == 2)
            year += 2000;
        return year is >= 1990 and <= 2100 ? year : null;
    }

    /// <summary>The second of 2025/26, fy25/26, 2025-26, 2025/2026; null where the years do not follow each other.</summary>
    private static int? YearPair(string text)
    {
        if (
            text.Split('/', '-') is not [var one, var other]
            || (Year(one) ?? (text.Contains('/', StringComparison.Ordinal) ? Year("fy" + one) : null)) is not { } first
        )
            return null;
        return (Year(other) ?? Year("fy" + other)) is { } second && second == first + 1 && other.Length is 2 or 4 ? second : null;
    }

    /// <summary>2026-03-14, 14.03.2026, 14/3/26, 14-03-2026: the day stands before the month, unless it could be no
    /// month.</summary>
    private static DateOnly? DayOf(string text)
    {
        if (
            text.Split('-', '/', '.') is not [var first, var second, var third]
            || !int.TryParse(first, NumberStyles.None, CultureInfo.InvariantCulture, out var a)
            || !int.TryParse(second, NumberStyles.None, CultureInfo.InvariantCulture, out var b)
            || !int.TryParse(third, NumberStyles.None, CultureInfo.InvariantCulture, out var c)
        )
            return null;
        var (year, month, day) =
            first.Length == 4 ? (a, b, c)
            : b > 12 ? (c, a, b)
            : (c, b, a);
        if (third.Length == 2 && first.Length < 3)
            year += 2000;
        return year is >= 1990 and <= 2100 && month is >= 1 and <= 12 && day >= 1 && day <= DateTime.DaysInMonth(year, month)
            ? new DateOnly(year, month, day)
            : null;
    }

    /// <summary>14th, 2nd: the endings are the language's.</summary>
    private string? OrdinalOf(string text) =>
        vocabulary.OrdinalEndings.FirstOrDefault(e => text.Length > e.Length && text.EndsWith(e, StringComparison.Ordinal))
            is { } ending
        && text[..^ending.Length] is { Length: <= 2 } digits
        && digits.All(char.IsAsciiDigit)
        && vocabulary.Find(text).Count == 0
            ? digits
            : null;

    /// <summary>2026-09, 09/2026, 2026-P09, sep-26, sep/2026.</summary>
    private Period? MonthOf(string text)
    {
        if (Period.TryParse(text, out var canonical))
            return canonical;
        var parts = text.Split('-', '/', '.');
        // Sep26.
        if (
            parts.Length == 1
            && text.TakeWhile(char.IsLetter).Count() is >= 3 and var letters
            && text.Length - letters is 2 or 4
            && text[letters..].All(char.IsAsciiDigit)
        )
            parts = [text[..letters], text[letters..]];
        if (parts.Length != 2)
            return null;
        if (Year(parts[0]) is { } first && Month(parts[1]) is { } m1)
            return book.Calendar.PeriodOfMonth(first, m1);
        var last = parts[1].Length == 2 ? "20" + parts[1] : parts[1];
        return Year(last) is { } second && Month(parts[0]) is { } m2 ? book.Calendar.PeriodOfMonth(second, m2) : null;
    }

    private int? Month(string text)
    {
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number))
            return number is >= 1 and <= 12 ? number : null;
        var named = vocabulary.Find(Words.Stem(text)).FirstOrDefault(e => e.Kind == MentionKind.Month).Value;
        return named is null ? null : int.Parse(named, CultureInfo.InvariantCulture);
    }
}
