using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>Turns the rows of a file of rates into rates: one for each rate column that holds something.</summary>
public sealed class RateMapper(Book book, FileMapping mapping)
{
    /// <summary>Rates of a row, or none and a refusal.</summary>
    public Refusal? Map(RawRow raw, TableLayout layout, List<Rate> into)
    {
        if (raw.Fields.Length != layout.Width)
            return new Refusal(
                raw.Number,
                null,
                null,
                $"The row has {raw.Fields.Length} fields where the heading has {layout.Width}.",
                "Check that the separator is the right one; then look for a missing quote or an extra separator in this row."
            );
        var (period, currency) = (
            layout.IndexOf("period") is var p and >= 0 ? p : layout.IndexOf("date"),
            layout.IndexOf("currency")
        );
        var written = RowMapper.Clean(raw.Fields[period]);
        if (raw.Typed?[period] is DateOnly day)
            written = day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        if (!HeadingWords.TryPeriod(written, book.Calendar, mapping.FiscalYear, mapping.FiscalPeriods, out var month))
            return Refuse(raw, layout, period, $"“{written}” is not a month.", "Write months as 2026-09.");
        var ofRow = currency < 0 ? "" : RowMapper.Clean(raw.Fields[currency]).ToUpperInvariant();
        if (currency >= 0 && !IsCode(ofRow))
            return Refuse(raw, layout, currency, $"“{ofRow}” is not a currency code.", "Use the three letters of ISO 4217.");
        var named = layout.IndexOf("rate kind");
        var kind = named < 0 ? null : RateWords.Of(RowMapper.Clean(raw.Fields[named]));
        if (named >= 0 && kind is null)
            return Refuse(
                raw,
                layout,
                named,
                $"“{RowMapper.Clean(raw.Fields[named])}” names no kind of rate.",
                "Use average or closing, for plans with budget or forecast."
            );
        foreach (var column in layout.Values)
        {
            var code = column.Sets.GetValueOrDefault("currency")?.ToUpperInvariant() ?? ofRow;
            if (!IsCode(code))
                throw LoadRefusedException.File(
                    $"The column “{column.Heading}” holds rates, but not of which currency.",
                    "Give the file a column of currencies, or say the currency in the sets of the column."
                );
            var text = RowMapper.Clean(raw.Fields[column.Index]);
            if (text.Length == 0 || mapping.Blanks.Contains(text))
                continue;
            if (
                raw.Typed?[column.Index] is not decimal value
                && !Numbers.TryRead(text, mapping.DecimalComma, out value, out var because, 8)
            )
                return Refuse(raw, layout, column.Index, $"“{text}” {because}.", "Correct the rate.");
            else if (raw.Typed?[column.Index] is decimal typed)
                value = typed;
            if (value <= 0)
                return Refuse(raw, layout, column.Index, $"A rate of {text} cannot be.", "Rates are above zero.");
            var (of, set) = (column.Sets.GetValueOrDefault("rate"), column.Sets.GetValueOrDefault("scenario"));
            into.Add(
                new Rate(
                    month,
                    code,
                    of is null ? kind?.Kind ?? RateKind.Average
                        : of == "closing" ? RateKind.Closing
                        : RateKind.Average,
                    SetOf(set ?? kind?.Set),
                    value,
                    mapping.Quotation
                )
            );
        }
        return null;
    }

    private static bool IsCode(string code) => code.Length == 3 && code.All(char.IsAsciiLetterUpper);

    private static string SetOf(string? set) =>
        set is null ? RateBasis.Actual
        : set.Length <= 40 && set.All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-') && set.Length > 0 ? set
        : throw LoadRefusedException.File(
            $"A column of rates belongs to the set “{set}”.",
            "Say actual, budget, forecast, or the code of the version that it is for, in the sets of the column."
        );

    private static Refusal Refuse(RawRow raw, TableLayout layout, int column, string because, string remedy) =>
        new(raw.Number, layout.Heading.Fields[column].Trim(), RowMapper.Clean(raw.Fields[column]), because, remedy);
}

/// <summary>What words say of a rate: whether it is an average or a closing one, and of which set.</summary>
public static class RateWords
{
    /// <summary>"closing budget" → a closing rate of the budget; "Forecast" → an average one of the forecast; null when the text
    /// names no rate.</summary>
    public static (RateKind Kind, string Set)? Of(string text)
    {
        var words = Words.Tokens(text).Select(t => t.Stem).ToHashSet();
        var set =
            words.Contains("budget") || words.Contains("plan") ? "budget"
            : words.Contains("forecast") ? "forecast"
            : null;
        if (words.Contains("closing") || words.Contains("spot"))
            return (RateKind.Closing, set ?? RateBasis.Actual);
        return set is not null || words.Contains("average") || words.Contains("rate")
            ? (RateKind.Average, set ?? RateBasis.Actual)
            : null;
    }
}
