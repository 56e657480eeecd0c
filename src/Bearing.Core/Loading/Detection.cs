using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.Reading;

namespace Bearing.Core.Loading;

/// <summary>Proposes how to read a file from its headings and first rows. A proposal: every part of it can be set by hand.</summary>
public sealed class Detection(Book book)
{
    private static readonly Dictionary<string, string[]> Roles = LoadRoles();
    private static readonly string[] DateFormats = ["yyyy-MM-dd", "dd.MM.yyyy", "dd/MM/yyyy", "MM/dd/yyyy", "yyyy/MM/dd", "yyyyMMdd", "d.M.yyyy", "d/M/yyyy", "M/d/yyyy"];

    /// <exception cref="LoadRefusedException">When the file has no usable heading row. What a person can still say is left open in the mapping.</exception>
    public FileMapping Propose(IReadOnlyList<string> headings, IReadOnlyList<RawRow> sample, TableKind? kind, string? dimension, string? dateFormat = null)
    {
        CheckHeadings(headings);
        var columns = headings.Select(Recognise).ToImmutableArray();
        var decided = kind ?? GuessKind(columns);
        var mapping = new FileMapping(decided, Adapt(columns, decided), SignConvention.AsShown, null, false, dimension);
        mapping = mapping with { Open = MissingColumn(mapping) ?? MissingDimension(mapping) };
        if (mapping.IsReference || mapping.Open is not null) return mapping;
        mapping = mapping with { DecimalComma = HasDecimalComma(mapping, sample), DateFormat = dateFormat ?? FindDateFormat(mapping, sample) };
        return mapping with { Sign = FindSign(mapping, sample), Open = mapping.DateFormat is null && mapping.Has("date") ? UndecidedDates(mapping, sample) : null };
    }

    private static void CheckHeadings(IReadOnlyList<string> headings)
    {
        if (headings.Count < 2 || headings.All(string.IsNullOrWhiteSpace))
            throw LoadRefusedException.File("The first row holds no headings in at least two columns, so this does not look like a CSV table.",
                "Save the table as CSV with one heading row and one row for each record.");
        var doubled = headings.Where(h => h.Length > 0).GroupBy(h => h, StringComparer.OrdinalIgnoreCase).FirstOrDefault(g => g.Count() > 1);
        if (doubled is not null) throw LoadRefusedException.File($"The heading “{doubled.Key}” stands over {doubled.Count()} columns.", "Give every column its own heading.");
    }

    /// <summary>Dimension names of the book first, then the general words for roles.</summary>
    private ColumnMapping Recognise(string heading)
    {
        var phrase = Words.Phrase(heading);
        foreach (var dimension in book.Definition.Dimensions.Where(d => d.Role == DimensionRole.Other))
            if (new[] { dimension.Code, dimension.Name, dimension.Levels[^1] }.Concat(dimension.OtherNames).Any(n => Words.Phrase(n) == phrase || Words.Phrase(n + " code") == phrase))
                return new ColumnMapping(heading, $"dimension:{dimension.Code}", $"the book's dimension {dimension.Name}");
        foreach (var (role, words) in Roles)
            if (words.Any(w => Words.Phrase(w) == phrase)) return new ColumnMapping(heading, role, $"a usual heading for {role}");
        return new ColumnMapping(heading, null, "not recognised; not used");
    }

    private static TableKind GuessKind(ImmutableArray<ColumnMapping> columns)
    {
        bool Has(string role) => columns.Any(c => c.Role == role);
        if (Has("amount") || Has("debit") || Has("credit"))
            return Has("document") || Has("date") ? TableKind.Ledger : columns.Any(c => c.Role == "account" && Words.Phrase(c.Heading).StartsWith("statistic", StringComparison.Ordinal))
                ? TableKind.Statistics : TableKind.Plan;
        if (Has("name") && Has("type")) return TableKind.Accounts;
        if (Has("code") && Has("name")) return TableKind.Members;
        return Has("code") || Has("account") ? TableKind.Accounts : Has("entity") ? TableKind.Entities : TableKind.Ledger;
    }

    /// <summary>In a reference file the column of the object itself is its code.</summary>
    private static ImmutableArray<ColumnMapping> Adapt(ImmutableArray<ColumnMapping> columns, TableKind kind)
    {
        var own = kind switch { TableKind.Accounts => "account", TableKind.Entities => "entity", _ => null };
        if (kind == TableKind.Members) return [.. columns.Select(c => c.Role?.StartsWith("dimension:", StringComparison.Ordinal) == true && columns.All(o => o.Role != "code") ? c with { Role = "code" } : c)];
        return own is null || columns.Any(c => c.Role == "code") ? columns : [.. columns.Select(c => c.Role == own ? c with { Role = "code" } : c)];
    }

    private static Refusal Say(string because, string remedy) => new(0, null, null, because, remedy);

    private Refusal? MissingDimension(FileMapping mapping) => mapping.Kind != TableKind.Members || (mapping.Dimension is not null && book.TryDimension(mapping.Dimension, out var known) && known.Role != DimensionRole.Account) ? null
        : Say("The file lists members, but not of which dimension.", $"Say the dimension: one of {string.Join(", ", book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account).Select(d => d.Code))}.");

    private static Refusal? MissingColumn(FileMapping mapping)
    {
        var needed = mapping.Kind switch
        {
            TableKind.Accounts => (string[][])[["code"], ["name"], ["type"]],
            TableKind.Entities or TableKind.Members => [["code"], ["name"]],
            _ => [["account"], ["entity"], ["date", "period"], ["amount", "debit", "credit"]],
        };
        foreach (var roles in needed)
        {
            if (roles.Any(mapping.Has)) continue;
            var words = string.Join(", ", roles.SelectMany(r => Roles[r].Take(3)).Select(w => $"“{w}”"));
            return Say(
                $"The file has no column for the {string.Join(" or ", roles)}; its headings are {string.Join(", ", mapping.Columns.Take(12).Select(c => $"“{c.Heading}”"))}.",
                $"Rename the column to one of {words}, or say which column it is.");
        }
        return null;
    }

    private static bool HasDecimalComma(FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        var values = Values(mapping, sample, "amount").Concat(Values(mapping, sample, "debit")).Concat(Values(mapping, sample, "credit")).ToList();
        return values.Count(v => v.Length > 2 && v[^2..].All(char.IsDigit) && v[^3] == ',') > values.Count(v => v.Contains('.') && v.LastIndexOf('.') > v.LastIndexOf(','));
    }

    /// <summary>The format that fits most dates of the sample; null when day and month could be swapped in all of them, so that it has to be said.</summary>
    private static string? FindDateFormat(FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        var values = Values(mapping, sample, "date").ToList();
        if (values.Count == 0) return null;
        int Fits(string format) => values.Count(v => DateOnly.TryParseExact(v, format, CultureInfo.InvariantCulture, DateTimeStyles.None, out _));
        var undecided = values.All(v => DateOnly.TryParseExact(v, "dd/MM/yyyy", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
            && DateOnly.TryParseExact(v, "MM/dd/yyyy", CultureInfo.InvariantCulture, DateTimeStyles.None, out _));
        return undecided && values.Any(v => v[..2] != v[3..5]) ? null : DateFormats.MaxBy(Fits);
    }

    private static Refusal? UndecidedDates(FileMapping mapping, IReadOnlyList<RawRow> sample) => Values(mapping, sample, "date").FirstOrDefault() is not { } example ? null
        : Say($"Every date in the first rows could be day-first or month-first (for example {example}).", "Say the date format: dd/MM/yyyy or MM/dd/yyyy.");

    /// <summary>From the signs of income and cost accounts in the first rows; debit-positive when they do not tell.</summary>
    private SignConvention FindSign(FileMapping mapping, IReadOnlyList<RawRow> sample)
    {
        if (mapping.Kind == TableKind.Statistics) return SignConvention.AsShown;
        if (mapping.IndexOf("amount") is var amount && amount < 0) return SignConvention.DebitPositive;
        var account = mapping.IndexOf("account");
        var sums = new Dictionary<AccountType, int>();
        foreach (var row in sample.Where(r => r.Fields.Length > Math.Max(amount, account)))
            if (book.TryMember(book.Accounts.Id, row.Fields[account].Trim(), out var member) && member.Account is { } traits
                && Numbers.TryRead(row.Fields[amount], mapping.DecimalComma, out var value, out _))
                sums[traits.Type] = sums.GetValueOrDefault(traits.Type) + Math.Sign(value);
        var (income, cost) = (Math.Sign(sums.GetValueOrDefault(AccountType.Income)), Math.Sign(sums.GetValueOrDefault(AccountType.Cost)));
        return (income, cost) switch
        {
            ( > 0, > 0) => SignConvention.AsShown,
            ( >= 0, < 0) or ( > 0, 0) when mapping.Kind == TableKind.Ledger => SignConvention.CreditPositive,
            ( > 0, < 0) => SignConvention.CreditPositive,
            ( < 0, _) => SignConvention.DebitPositive,
            _ => mapping.Kind == TableKind.Ledger ? SignConvention.DebitPositive : SignConvention.AsShown,
        };
    }

    private static IEnumerable<string> Values(FileMapping mapping, IReadOnlyList<RawRow> sample, string role)
    {
        var index = mapping.IndexOf(role);
        return index < 0 ? [] : sample.Where(r => r.Fields.Length > index).Select(r => r.Fields[index].Trim()).Where(v => v.Length > 0);
    }

    private static Dictionary<string, string[]> LoadRoles()
    {
        using var stream = typeof(Detection).Assembly.GetManifestResourceStream("loading.headings.json")!;
        return JsonSerializer.Deserialize<Dictionary<string, Dictionary<string, string[]>>>(stream)!["roles"];
    }
}

/// <summary>Reads amounts exactly: nothing is rounded or cut.</summary>
public static class Numbers
{
    /// <summary>Largest amount that a column can keep: fourteen digits before the point.</summary>
    private const decimal Limit = 100_000_000_000_000m;

    /// <summary>Reads 1,234.56 · 1.234,56 · (12.50) · 12.50- and returns false with the cause otherwise.</summary>
    public static bool TryRead(string text, bool decimalComma, out decimal value, out string? because)
    {
        (value, because) = (0m, null);
        var plain = text.Trim().Replace("\u00a0", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal).Replace("'", "", StringComparison.Ordinal);
        if (decimalComma) plain = plain.Replace(".", "", StringComparison.Ordinal).Replace(',', '.');
        const NumberStyles styles = NumberStyles.AllowLeadingSign | NumberStyles.AllowTrailingSign | NumberStyles.AllowParentheses
            | NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands;
        if (plain.Length == 0 || plain.Length > 40 || !decimal.TryParse(plain, styles, CultureInfo.InvariantCulture, out value)) because = "is not a number";
        else if (Math.Abs(value) >= Limit) because = "has more than 14 digits before the point";
        else if (decimal.Round(value, 4) != value) because = "has more than four decimals";
        return because is null;
    }
}
