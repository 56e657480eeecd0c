using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>Turns the rows of a file of rates into rates: one for each rate column that holds something.</summary>
public sealed class RateMapper(Book book, FileMapping mapping)
{
    /// <summary>Rates of a row, or none and a refusal.</summary>
    public Refusal? Map(RawRow raw, Layout layout, List<Rate> into)
    {
        if (raw.Fields.Length != layout.Width)
            return new Refusal(raw.Number, null, null, $"The row has {raw.Fields.Length} fields where the heading has {layout.Width}.", "Check that the separator is the right one; then look for a missing quote or an extra separator in this row.");
        var (period, currency) = (layout.IndexOf("period") is var p and >= 0 ? p : layout.IndexOf("date"), layout.IndexOf("currency"));
        var month = RowMapper.Clean(raw.Fields[period]);
        if (raw.Typed?[period] is DateOnly day) month = day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        if (!HeadingWords.TryPeriod(month, book.Calendar, mapping.FiscalYear, mapping.FiscalPeriods, out var of))
            return Refuse(raw, layout, period, $"“{month}” is not a month.", "Write months as 2026-09.");
        var code = RowMapper.Clean(raw.Fields[currency]).ToUpperInvariant();
        if (code.Length != 3 || !code.All(char.IsAsciiLetterUpper)) return Refuse(raw, layout, currency, $"“{code}” is not a currency code.", "Use the three letters of ISO 4217.");
        foreach (var column in layout.Values)
        {
            var text = RowMapper.Clean(raw.Fields[column.Index]);
            if (text.Length == 0 || mapping.Blanks.Contains(text)) continue;
            if (raw.Typed?[column.Index] is not decimal value && !Numbers.TryRead(text, mapping.DecimalComma, out value, out var because, 8)) return Refuse(raw, layout, column.Index, $"“{text}” {because}.", "Correct the rate.");
            else if (raw.Typed?[column.Index] is decimal typed) value = typed;
            if (value <= 0) return Refuse(raw, layout, column.Index, $"A rate of {text} cannot be.", "Rates are above zero.");
            into.Add(new Rate(of, code, column.Sets.GetValueOrDefault("rate") == "closing" ? RateKind.Closing : RateKind.Average, ScenarioOf(column.Sets.GetValueOrDefault("scenario")), value, mapping.Quotation));
        }
        return null;
    }

    private static ScenarioKind ScenarioOf(string? scenario) => Enum.TryParse<ScenarioKind>(scenario ?? "actual", true, out var kind) ? kind
        : throw LoadRefusedException.File($"A column of rates belongs to “{scenario}”.", "Say actual, budget or forecast in the sets of the column.");

    private static Refusal Refuse(RawRow raw, Layout layout, int column, string because, string remedy) => new(raw.Number, layout.Heading.Fields[column].Trim(), RowMapper.Clean(raw.Fields[column]), because, remedy);
}
