using System.Globalization;

namespace Bearing.Core.Loading;

/// <summary>Reads amounts exactly: nothing is rounded or cut.</summary>
public static class Numbers
{
    /// <summary>Largest amount that a column can keep: fourteen digits before the point.</summary>
    private const decimal Limit = 100_000_000_000_000m;

    private const int Longest = 40;

    /// <summary>Reads 1,234.56 · 1.234,56 · 1 234.56 · (12.50) · 12.50- · 12.50 CR and returns false with the cause
    /// otherwise.</summary>
    /// <param name="decimals">Digits behind the point that can be kept: four of money, eight of rates.</param>
    public static bool TryRead(string text, bool decimalComma, out decimal value, out string? because, int decimals = 4)
    {
        if (TryDigits(text, decimalComma ? ',' : '.', decimals, out value))
        {
            because = null;
            return true;
        }
        (value, because) = (0m, "is not a number");
        if (
            text.Length > 2
            && text.EndsWith("CR", StringComparison.OrdinalIgnoreCase)
            && TryRead(text[..^2].TrimEnd(), decimalComma, out var credit, out because, decimals)
        )
        {
            value = -credit;
            return true;
        }
        because = "is not a number";
        Span<char> plain = stackalloc char[Longest];
        if (!TryPlain(text.AsSpan().Trim(), decimalComma ? '.' : ',', decimalComma ? ',' : '.', ref plain))
            return false;
        const NumberStyles styles =
            NumberStyles.AllowLeadingSign
            | NumberStyles.AllowTrailingSign
            | NumberStyles.AllowParentheses
            | NumberStyles.AllowDecimalPoint;
        if (!decimal.TryParse(plain, styles, CultureInfo.InvariantCulture, out value))
            return false;
        because =
            !Fits(value) ? "has more than 14 digits before the point"
            : decimal.Round(value, decimals) != value ? $"has more than {(decimals == 4 ? "four" : "eight")} decimals"
            : null;
        return because is null;
    }

    /// <summary>Whether a column can keep an amount; what a scale of thousands makes of one may be too much.</summary>
    public static bool Fits(decimal amount) => Math.Abs(amount) < Limit;

    /// <summary>Most amounts are digits with a decimal mark, and need no second look.</summary>
    private static bool TryDigits(string text, char point, int decimals, out decimal value)
    {
        const int most = 14;
        value = 0m;
        if (text.Length is 0 or > most)
            return false;
        var (number, at) = (0L, -1);
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == point && at < 0)
                at = i;
            else if (char.IsAsciiDigit(text[i]))
                number = (number * 10) + (text[i] - '0');
            else
                return false;
        }
        var fraction = at < 0 ? 0 : text.Length - at - 1;
        if (at == 0 || (at > 0 && fraction == 0) || fraction > decimals)
            return false;
        value = new decimal((int)number, (int)(number >> 32), 0, false, (byte)fraction);
        return true;
    }

    /// <summary>
    /// Takes thousand marks out and makes the decimal mark a point. A mark that does not stand before three digits is a slip
    /// of the finger, and the text no number: 12,34 with a decimal point.
    /// </summary>
    private static bool TryPlain(ReadOnlySpan<char> text, char mark, char point, ref Span<char> plain)
    {
        if (text.Length is 0 or > Longest)
            return false;
        var (length, digits, grouped, fraction) = (0, 0, false, false);
        foreach (var c in text)
        {
            if (c is ' ' or '\u00a0' or '\u202f' or '\'')
                continue;
            if (c == mark)
            {
                // The first group has one to three digits, every further one three.
                if (fraction || (grouped ? digits != 3 : digits is 0 or > 3))
                    return false;
                (grouped, digits) = (true, 0);
                continue;
            }
            if (c == point)
            {
                if (fraction || (grouped && digits != 3))
                    return false;
                fraction = true;
            }
            else if (char.IsAsciiDigit(c))
                digits += fraction ? 0 : 1;
            plain[length++] = c == point ? '.' : c;
        }
        plain = plain[..length];
        return fraction || !grouped || digits == 3;
    }
}
