using CsvHelper;

namespace Bearing.Data.Formats;

/// <summary>Rows as CSV text that is safe to open: what a spreadsheet would run as a formula is neutralised, numbers stay
/// numbers.</summary>
public static class CsvText
{
    public static string Write(IEnumerable<string> headings, IEnumerable<IEnumerable<string>> rows)
    {
        using var text = new StringWriter { NewLine = "\n" };
        using (var writer = CsvWriter.Create(text, new CsvWriterOptions(), true))
        {
            Row(writer, headings);
            foreach (var row in rows)
                Row(writer, row);
        }
        return text.ToString();
    }

    private static void Row(CsvWriter writer, IEnumerable<string> fields)
    {
        foreach (var field in fields)
            writer.WriteField(IsFormula(field) ? "'" + field : field);
        writer.EndRecord();
    }

    private static bool IsFormula(string field) =>
        field.Length > 0
        && field[0] is '=' or '+' or '-' or '@' or '\t' or '\r'
        && !decimal.TryParse(field, System.Globalization.CultureInfo.InvariantCulture, out _);
}
