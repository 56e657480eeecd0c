using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Commentary;

/// <summary>What a sentence is for, in the order in which they stand.</summary>
public enum SentenceRole
{
    Headline,
    Driver,
    Timing,
    Offset,
    Rest,
    Threshold,
    Entry,
}

/// <summary>A piece of a sentence; with a slice it is a figure that leads to its cells.</summary>
/// <param name="Exact">The figure before rounding; null for plain text.</param>
/// <param name="Column">Which column of the answer's grid shows it (subject, base, variance); null for plain text.</param>
public sealed record Segment(string Text, decimal? Exact = null, string? Column = null, Slice? Slice = null);

public sealed record Sentence(SentenceRole Role, ImmutableArray<Segment> Segments)
{
    public string Text => string.Concat(Segments.Select(s => s.Text));
}

/// <summary>Amounts as a reader wants them: one scale for a paragraph, a letter or a unit, never a bare long number.</summary>
public static class Amounts
{
    /// <summary>"EUR 1.24m", "EUR 310k", "EUR 412", "1,204 sailings", "31.4 %". Rounded once from the exact value; the sign is
    /// dropped.</summary>
    public static string Short(decimal amount, Figure figure)
    {
        var size = Math.Abs(amount);
        if (figure is PairFigure { Rule: not PairRule.Difference } ratio)
            return ratio.Rule == PairRule.Percent ? Number(size, 1) + " %" : $"{Number(size, ratio.Decimals)} {ratio.Unit}";
        var isMoney = figure.Unit.Length == 3 && figure.Unit.All(char.IsAsciiLetterUpper);
        if (!isMoney)
            return $"{Number(size, size < 100 && size != decimal.Truncate(size) ? 1 : 0)} {figure.Unit}";
        return $"{figure.Unit} "
            + size switch
            {
                >= 999_950m => Number(size / 1_000_000m, 2) + "m",
                >= 9_999.5m => Number(size / 1_000m, 0) + "k",
                >= 999.95m => Number(size / 1_000m, 1) + "k",
                _ => Number(size, 0),
            };
    }

    public static string Percent(decimal percent) => Number(Math.Abs(percent), 1) + " %";

    private static string Number(decimal value, int decimals) =>
        decimal.Round(value, decimals, MidpointRounding.AwayFromZero).ToString("N" + decimals, CultureInfo.InvariantCulture);
}
