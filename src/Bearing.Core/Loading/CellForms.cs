using System.Globalization;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>How the cells of a file are written, by its first rows: decimals, dates, signs, periods.</summary>
public static class CellForms
{
    public static readonly string[] DateFormats =
    [
        "yyyy-MM-dd",
        "dd.MM.yyyy",
        "dd/MM/yyyy",
        "MM/dd/yyyy",
        "yyyy/MM/dd",
        "yyyyMMdd",
        "d.M.yyyy",
        "d/M/yyyy",
        "M/d/yyyy",
        "dd-MMM-yyyy",
    ];

    /// <summary>Where 2026/09 stands beside dates of March, it is year and period; the dates decide.</summary>
    public static bool HasFiscalPeriods(Book book, FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        var (date, period) = (mapping.IndexOf("date"), mapping.IndexOf("period"));
        if (date < 0 || period < 0 || mapping.DateFormat is null)
            return false;
        var votes = 0;
        foreach (var row in sample.Where(r => r.Fields.Length > Math.Max(date, period)))
        {
            if (
                !DateOnly.TryParseExact(
                    row.Fields[date].Trim(),
                    mapping.DateFormat,
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.None,
                    out var day
                )
            )
                continue;
            var of = book.Calendar.PeriodOf(day);
            bool Agrees(bool fiscal) =>
                HeadingWords.TryPeriod(row.Fields[period].Trim(), book.Calendar, of.Year, fiscal, out var read) && read == of;
            votes += (Agrees(true) ? 1 : 0) - (Agrees(false) ? 1 : 0);
        }
        return votes > 0;
    }

    /// <summary>A mark before other than three last digits can only be the decimal one; three digits behind a mark say nothing,
    /// and neither do days and names.</summary>
    public static bool HasDecimalComma(FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        int Marked(char mark) =>
            sample
                .SelectMany(r =>
                    mapping
                        .Columns.Select((c, i) => (c.Role, Index: i))
                        .Where(c => c.Role is "amount" or "debit" or "credit" or "local" or "month" && c.Index < r.Fields.Length)
                        .Select(c => r.Typed?[c.Index] is decimal ? "" : r.Fields[c.Index].Trim(' ', '-', '(', ')', '+'))
                )
                .Count(v => IsNumber(v) && IsDecimal(v, mark));
        static bool IsNumber(string text) =>
            text.All(c => char.IsAsciiDigit(c) || c is '.' or ',' or '\'' or '’' or ' ' or '\u00A0');
        static bool IsDecimal(string text, char mark) =>
            text.Count(c => c == mark) == 1
            && text.IndexOf(mark) is var at
            && at != text.Length - 4
            && text.LastIndexOf(mark == ',' ? '.' : ',') < at;
        return Marked(',') > Marked('.');
    }

    /// <summary>The format that fits most dates of the sample; null when day and month could be swapped in all of them, so that
    /// it has to be said.</summary>
    public static string? FindDateFormat(FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        var values = Values(mapping, sample, "date").ToList();
        if (values.Count == 0)
            return null;
        int Fits(string format) =>
            values.Count(v => DateOnly.TryParseExact(v, format, CultureInfo.InvariantCulture, DateTimeStyles.None, out _));
        var undecided = values.All(v =>
            DateOnly.TryParseExact(v, "dd/MM/yyyy", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
            && DateOnly.TryParseExact(v, "MM/dd/yyyy", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
        );
        return undecided && values.Any(v => v[..2] != v[3..5]) ? null : DateFormats.MaxBy(Fits);
    }

    /// <summary>
    /// Decides between day-first and month-first by the rest of the column, where the first rows could be either.
    /// </summary>
    /// <param name="rows">All rows of the sheet.</param>
    public static FileMapping DecideDates(FileMapping mapping, IEnumerable<RawRow> rows)
    {
        var date = mapping.IndexOf("date");
        if (
            date < 0
            || mapping.DateFormat is not null
            || mapping.Open is not { } open
            || open.Because.Contains("column", StringComparison.Ordinal)
        )
            return mapping;
        foreach (var row in rows)
        {
            if (
                row.Fields.Length <= date
                || row.Fields[date].Trim().Split('/') is not [var first, var second, { Length: 4 }]
                || !int.TryParse(first, out var one)
                || !int.TryParse(second, out var two)
            )
                continue;
            if (one > 12 != two > 12)
                return mapping with { DateFormat = one > 12 ? "dd/MM/yyyy" : "MM/dd/yyyy", Open = null };
        }
        return mapping;
    }

    public static Refusal? UndecidedDates(FileMapping mapping, IReadOnlyList<RawRow> sample) =>
        Values(mapping, sample, "date").FirstOrDefault() is not { } example
            ? null
            : MissingParts.Say(
                $"Every date in the first rows could be day-first or month-first (for example {example}).",
                "Say the date format: dd/MM/yyyy or MM/dd/yyyy."
            );

    /// <summary>From the signs of income and cost accounts in the first rows; debit-positive when they do not tell.</summary>
    public static SignConvention FindSign(Book book, FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        if (mapping.Kind == TableKind.Statistics)
            return SignConvention.AsShown;
        var (amount, account) = (mapping.IndexOf("amount"), mapping.IndexOf("account"));
        if (amount < 0 || account < 0)
            return SignConvention.DebitPositive;
        var sums = new Dictionary<AccountType, int>();
        foreach (var row in sample.Where(r => r.Fields.Length > Math.Max(amount, account)))
            if (
                book.TryMember(book.Accounts.Id, row.Fields[account].Trim(), out var member)
                && member.Account is { } traits
                && Numbers.TryRead(row.Fields[amount], mapping.DecimalComma, out var value, out _)
            )
                sums[traits.Type] = sums.GetValueOrDefault(traits.Type) + Math.Sign(value);
        var (income, cost) = (
            Math.Sign(sums.GetValueOrDefault(AccountType.Income)),
            Math.Sign(sums.GetValueOrDefault(AccountType.Cost))
        );
        return (income, cost) switch
        {
            (> 0, > 0) => SignConvention.AsShown,
            (>= 0, < 0) or (> 0, 0) when mapping.Kind == TableKind.Ledger => SignConvention.CreditPositive,
            (> 0, < 0) => SignConvention.CreditPositive,
            (< 0, _) => SignConvention.DebitPositive,
            _ => mapping.Kind == TableKind.Ledger ? SignConvention.DebitPositive : SignConvention.AsShown,
        };
    }

    private static IEnumerable<string> Values(FileMapping mapping, IReadOnlyList<RawRow> sample, string role)
    {
        var index = mapping.IndexOf(role);
        return index < 0
            ? []
            : sample.Where(r => r.Fields.Length > index).Select(r => r.Fields[index].Trim()).Where(v => v.Length > 0);
    }
}
