using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Loading;

/// <summary>Proposes how to read a file from its first rows. A proposal: every part of it can be set by hand.</summary>
public sealed class Detection(Book book)
{
    /// <summary>This many headings that name months make a table with its months across.</summary>
    private const int FewestMonths = 3;

    private static readonly string[] DateFormats =
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

    /// <summary>
    /// The row in which most headings stand: words that head columns, or names of months. When none is known, the first row
    /// with as many fields as most rows have, so that its columns can be named by hand.
    /// </summary>
    /// <returns>Its index, and how many headings were known.</returns>
    public (int Index, int Known) FindHeading(IReadOnlyList<RawRow> rows)
    {
        var (best, known) = (0, 0);
        for (var i = 0; i < Math.Min(rows.Count, TableReader.HeadingReach); i++)
        {
            // One date alone is a cell and no heading, and so are cells that repeat: 11.2000 beside 11.2000 is a rate.
            // Beside amounts, dates are data.
            var months =
                HasNumbers(rows[i]) || !RunOn(rows[i])
                    ? 0
                    : Enumerable.Range(0, rows[i].Fields.Length).Count(j => IsMonth(rows[i], j));
            var count =
                rows[i].Fields.Count(f => f.Length > 0 && Recognise(f.Trim()).Role is not (null or "skip"))
                + (months >= FewestMonths ? months : 0);
            if (count > known)
                (best, known) = (i, count);
        }
        if (known > 1 || rows.Count == 0)
            return (best, known);
        int Filled(RawRow row) => row.Fields.Count(f => f.Trim().Length > 0);
        var usual = rows.Select(Filled)
            .Where(f => f > 1)
            .GroupBy(f => f)
            .OrderByDescending(g => g.Count())
            .Select(g => g.Key)
            .FirstOrDefault();
        var first = rows.Take(TableReader.HeadingReach)
            .Select((row, i) => (Row: row, Index: i))
            .FirstOrDefault(r => Filled(r.Row) >= Math.Max(2, usual), (Row: rows[0], Index: 0));
        return (
            first.Index,
            rows[first.Index].Fields.Count(f => f.Length > 0 && Recognise(f.Trim()).Role is not (null or "skip"))
        );
    }

    /// <summary>A table whose headings stand in <paramref name="heading"/>, with the rows around it.</summary>
    /// <param name="said">Heading → role, for columns that are read otherwise than recognised; an empty role leaves the column
    /// out.</param>
    /// <exception cref="LoadRefusedException">When the row holds no usable headings. What a person can still say is left open in
    /// the mapping.</exception>
    public FileMapping Propose(
        RawRow heading,
        IReadOnlyList<RawRow> titles,
        IReadOnlyList<RawRow> sample,
        TableKind? kind,
        string? dimension,
        string? dateFormat = null,
        IReadOnlyDictionary<string, string>? said = null
    )
    {
        var headings = heading.Fields.Select(h => h.Trim()).ToList();
        CheckHeadings(headings);
        var months = headings.Where((_, i) => IsMonth(heading, i)).Count() >= FewestMonths;
        var columns = headings
            .Select(
                (h, i) =>
                    said is not null && said.TryGetValue(h, out var role)
                        ? new ColumnMapping(h, role.Length == 0 ? null : role, "as you said")
                    : months && IsMonth(heading, i) ? new ColumnMapping(h, "month", "a month; its cells are amounts")
                    : Recognise(h)
            )
            .ToImmutableArray();
        var decided = kind ?? GuessKind(columns);
        var mapping = new FileMapping(decided, Adapt(columns, decided), SignConvention.AsShown, null, false, dimension)
        {
            MonthsAcross = months,
            Scale = ScaleOf(titles),
            Currency = CurrencyOf(columns),
        };
        mapping = mapping with { Open = MissingColumn(mapping, heading) ?? MissingDimension(mapping) };
        if (decided == TableKind.Records)
            return WithFields(mapping, sample, said);
        if (mapping.IsReference)
            return mapping;
        mapping = WithLineFields(
            mapping with
            {
                DecimalComma = HasDecimalComma(mapping, sample),
                DateFormat = dateFormat ?? FindDateFormat(mapping, sample),
            },
            sample
        );
        return mapping with
        {
            Sign = FindSign(mapping, sample),
            FiscalPeriods = HasFiscalPeriods(mapping, sample),
            Open = mapping.Open ?? (mapping.DateFormat is null && mapping.Has("date") ? UndecidedDates(mapping, sample) : null),
        };
    }

    /// <summary>In which currency the headings say that the amounts are; null where they do not.</summary>
    private string? CurrencyOf(ImmutableArray<ColumnMapping> columns)
    {
        var amounts = columns.Where(c => c.Role is "amount" or "debit" or "credit").ToList();
        return amounts.Select(c => HeadingWords.CurrencyOf(c.Heading, book.Definition.Currency)).Distinct().ToList() is [{ } one]
            ? one
            : null;
    }

    private bool IsMonth(RawRow row, int index) => MonthOf(row, index) is not null;

    private Period? MonthOf(RawRow row, int index) =>
        TableLayout.MonthOf(row, index, book.Calendar, book.CurrentPeriod?.Year ?? 2000);

    private bool HasNumbers(RawRow row) =>
        Enumerable
            .Range(0, row.Fields.Length)
            .Any(j =>
                (
                    row.Typed?[j] is decimal
                    || Numbers.TryRead(row.Fields[j], false, out _, out _)
                    || Numbers.TryRead(row.Fields[j], true, out _, out _)
                ) && !IsMonth(row, j)
            );

    /// <summary>Months that head columns come one after the other, or the latest first; an amount of 2011.40 beside the days of
    /// an invoice does not.</summary>
    private bool RunOn(RawRow row)
    {
        var months = Enumerable
            .Range(0, row.Fields.Length)
            .Where(j => IsMonth(row, j))
            .Select(j => MonthOf(row, j)!.Value)
            .ToList();
        return months.Zip(months.Skip(1)).Select(p => p.Second.CompareTo(p.First)).Select(Math.Sign).Distinct().ToList()
            is []
                or [not 0];
    }

    private static decimal ScaleOf(IReadOnlyList<RawRow> titles) =>
        titles.SelectMany(t => t.Fields).Select(HeadingWords.ScaleIn).FirstOrDefault(s => s != 1m, 1m);

    /// <summary>Where 2026/09 stands beside dates of March, it is year and period; the dates decide.</summary>
    private bool HasFiscalPeriods(FileMapping mapping, IReadOnlyList<RawRow> sample)
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

    private static void CheckHeadings(IReadOnlyList<string> headings)
    {
        if (headings.Count < 2 || headings.All(string.IsNullOrWhiteSpace))
            throw LoadRefusedException.File(
                "The first row holds no headings in at least two columns, so this does not look like a CSV table.",
                "Save the table as CSV with one heading row and one row for each record."
            );
        var doubled = headings
            .Where(h => h.Length > 0)
            .GroupBy(h => h, StringComparer.OrdinalIgnoreCase)
            .FirstOrDefault(g => g.Count() > 1);
        if (doubled is not null)
            throw LoadRefusedException.File(
                $"The heading “{doubled.Key}” stands over {doubled.Count()} columns.",
                "Give every column its own heading."
            );
    }

    /// <summary>Names of the book's further dimensions first, then the general words for roles, then what the book calls its
    /// entities and accounts: depot, branch.</summary>
    private ColumnMapping Recognise(string heading)
    {
        var phrase = Words.Phrase(heading);
        Dimension? Named(bool other) =>
            book.Definition.Dimensions.FirstOrDefault(d =>
                d.Role == DimensionRole.Other == other
                && new[] { d.Code, d.Name, d.Levels[^1] }
                    .Concat(d.OtherNames)
                    .Any(n => Words.Phrase(n) == phrase || Words.Phrase(n + " code") == phrase)
            );
        if (Named(true) is { } dimension)
            return new ColumnMapping(heading, $"dimension:{dimension.Code}", $"the book's dimension {dimension.Name}");
        if (HeadingWords.RoleOf(heading) is { } role)
            return new ColumnMapping(heading, role, role == "skip" ? "known; not needed" : $"a usual heading for {role}");
        if (
            HeadingWords.WithCurrency(heading) is var (currency, rest)
            && HeadingWords.RoleOf(rest) is "amount" or "debit" or "credit" or "local"
            && HeadingWords.RoleOf(rest) is { } money
        )
            return new ColumnMapping(heading, money, $"a usual heading for {money}, in {currency}");
        if (Named(false) is { } main)
            return new ColumnMapping(
                heading,
                main.Role == DimensionRole.Account ? "account" : "entity",
                $"what the book calls its {(main.Role == DimensionRole.Account ? "accounts" : "entities")}"
            );
        return new ColumnMapping(heading, null, "not recognised; not used");
    }

    private static TableKind GuessKind(ImmutableArray<ColumnMapping> columns)
    {
        bool Has(string role) => columns.Any(c => c.Role == role);
        if (Has("amount") || Has("debit") || Has("credit") || Has("month"))
            return Has("document") || Has("date") ? TableKind.Ledger
                : columns.Any(c =>
                    c.Role == "account" && Words.Phrase(c.Heading).StartsWith("statistic", StringComparison.Ordinal)
                )
                    ? TableKind.Statistics
                : TableKind.Plan;
        if (Has("name") && Has("type"))
            return TableKind.Accounts;
        if (Has("code") && Has("name"))
            return TableKind.Members;
        if (Has("currency") && (Has("period") || Has("date")) && columns.Any(c => RateOf(c.Heading) is not null))
            return TableKind.Rates;
        return Has("code") || Has("account") ? TableKind.Accounts
            : Has("entity") ? TableKind.Entities
            : TableKind.Ledger;
    }

    /// <summary>In a reference file the column of the object itself is its code.</summary>
    private static ImmutableArray<ColumnMapping> Adapt(ImmutableArray<ColumnMapping> columns, TableKind kind)
    {
        if (kind == TableKind.Rates)
            return
            [
                .. columns.Select(c =>
                    RateOf(c.Heading) is { } sets ? c with { Role = "rate", Sets = sets, Evidence = "a rate" } : c
                ),
            ];
        var own = kind switch
        {
            TableKind.Accounts => "account",
            TableKind.Entities => "entity",
            _ => null,
        };
        if (kind is not (TableKind.Accounts or TableKind.Entities or TableKind.Members))
            columns =
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("level:", StringComparison.Ordinal) == true
                        ? c with
                        {
                            Role = null,
                            Evidence = "not needed here",
                        }
                        : c
                ),
            ];
        else
            columns =
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("level:", StringComparison.Ordinal) == true
                        ? c with
                        {
                            FillDown = kind == TableKind.Accounts,
                        }
                        : c
                ),
            ];
        if (kind == TableKind.Members)
            return
            [
                .. columns.Select(c =>
                    c.Role?.StartsWith("dimension:", StringComparison.Ordinal) == true && columns.All(o => o.Role != "code")
                        ? c with
                        {
                            Role = "code",
                        }
                        : c
                ),
            ];
        return own is null || columns.Any(c => c.Role == "code")
            ? columns
            : [.. columns.Select(c => c.Role == own ? c with { Role = "code" } : c)];
    }

    /// <summary>What a heading says of the rates below it; null when it names none.</summary>
    private static ImmutableDictionary<string, string>? RateOf(string heading) =>
        Words.Tokens(heading).Any(t => t.Stem is "closing" or "spot" or "average" or "rate")
        && RateWords.Of(heading) is var (kind, set)
            ? ImmutableDictionary<string, string>.Empty.Add("rate", kind.ToString().ToLowerInvariant()).Add("scenario", set)
            : null;

    private static Refusal Say(string because, string remedy) => new(0, null, null, because, remedy);

    /// <summary>What a mapping lacks to place amounts, in words.</summary>
    public Refusal Missing(FileMapping mapping) =>
        MissingColumn(mapping, new RawRow(1, [.. mapping.Columns.Select(c => c.Heading)]))
        ?? MissingDimension(mapping)
        ?? Say("The file cannot be read as amounts by account.", "Say which columns hold the account and the amount.");

    private Refusal? MissingDimension(FileMapping mapping) =>
        mapping.Kind != TableKind.Members
        || (
            mapping.Dimension is not null
            && book.TryDimension(mapping.Dimension, out var known)
            && known.Role != DimensionRole.Account
        )
            ? null
            : Say(
                "The file lists members, but not of which dimension.",
                $"Say the dimension: one of {string.Join(", ", book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account).Select(d => d.Code))}."
            );

    private static Refusal? MissingColumn(FileMapping mapping, RawRow heading)
    {
        var needed = mapping.Kind switch
        {
            TableKind.Accounts => (string[][])
                [
                    ["code"],
                    ["name"],
                    ["type"],
                ],
            TableKind.Entities or TableKind.Members =>
            [
                ["code"],
                ["name"],
            ],
            TableKind.Names =>
            [
                ["code", "account", "entity"],
                ["other names"],
            ],
            TableKind.Rates => mapping.Columns.Any(c => c.Sets.ContainsKey("currency"))
                ?
                [
                    ["period", "date"],
                    ["rate"],
                ]
                :
                [
                    ["period", "date"],
                    ["currency"],
                    ["rate"],
                ],
            TableKind.Records => [],
            TableKind.Opening =>
            [
                ["account"],
                ["entity"],
                ["amount", "debit", "credit", "local"],
            ],
            _ => mapping.MonthsAcross
                ?
                [
                    ["account"],
                    ["entity"],
                ]
                :
                [
                    ["account"],
                    ["entity"],
                    ["date", "period"],
                    ["amount", "debit", "credit", "local"],
                ],
        };
        foreach (var roles in needed)
        {
            if (roles.Any(mapping.Has))
                continue;
            var words = string.Join(", ", roles.SelectMany(r => HeadingWords.Roles[r].Take(3)).Select(w => $"“{w}”"));
            return Say(
                $"The file has no column for the {string.Join(" or ", roles)}; its headings, on line {RowPlace.Of(heading.Number).Row}, are {string.Join(", ", mapping.Columns.Take(12).Select(c => $"“{c.Heading}”"))}.",
                $"Rename the column to one of {words}, or say which column it is{(mapping.IsReference ? "" : "; a table that is no ledger or plan loads as records")}."
            );
        }
        return null;
    }

    /// <summary>A mark before other than three last digits can only be the decimal one; three digits behind a mark say nothing,
    /// and neither do days and names.</summary>
    private static bool HasDecimalComma(FileMapping mapping, IReadOnlyList<RawRow> sample)
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

    /// <summary>Every column of a table of records becomes a field, of the type that all its cells in the first rows
    /// have.</summary>
    private FileMapping WithFields(FileMapping mapping, IReadOnlyList<RawRow> sample, IReadOnlyDictionary<string, string>? said)
    {
        var comma = HasDecimalComma(
            mapping with
            {
                Columns = [.. mapping.Columns.Select(c => c with { Role = "amount" })],
            },
            sample
        );
        var columns = mapping
            .Columns.Select(
                (c, i) =>
                    said?.ContainsKey(c.Heading) == true
                    || c.Role is "account" or "entity"
                    || c.Role?.StartsWith("dimension:", StringComparison.Ordinal) == true
                        ? c
                        : c with
                        {
                            Role =
                                ColumnMapping.FieldRole + TypeOf(i, c.Heading, sample, comma, out var format, out var evidence),
                            DateFormat = format,
                            Evidence = evidence,
                        }
            )
            .ToImmutableArray();
        return WithOpen(
            mapping with
            {
                Columns = columns,
                DecimalComma = comma,
                DateFormat = columns.Select(c => c.DateFormat).FirstOrDefault(f => f is not null),
            }
        );
    }

    /// <summary>Records that tell what was paid of an amount leave open what is left of it.</summary>
    private static FileMapping WithOpen(FileMapping mapping)
    {
        var amounts = mapping.Columns.Where(c => c.Role == ColumnMapping.FieldRole + "amount").ToList();
        string? Playing(string role) => amounts.Find(c => HeadingWords.FieldOf(c.Heading, role))?.Heading;
        if (
            Playing("open") is not null
            || Playing("paid") is not { } paid
            || amounts.Find(c => c.Heading != paid && HeadingWords.FieldOf(c.Heading, "whole"))?.Heading is not { } whole
        )
            return mapping;
        const string open = "Open";
        return mapping with
        {
            Columns = mapping.Columns.Add(new ColumnMapping(open, ColumnMapping.FieldRole + "amount", $"{whole} less {paid}")),
            Derived = [new DerivedColumn(open, null, [whole, "-" + paid], [])],
        };
    }

    /// <summary>Who prepared and approved a line, whence and when it came: kept with each line, so that journals can be asked for
    /// by it.</summary>
    private static FileMapping WithLineFields(FileMapping mapping, IReadOnlyList<RawRow> sample) =>
        mapping.Kind != TableKind.Ledger
            ? mapping
            : mapping with
            {
                Columns =
                [
                    .. mapping.Columns.Select(
                        (c, i) =>
                            c.Role is not null || !HeadingWords.FieldOf(c.Heading, "line")
                                ? c
                                : c with
                                {
                                    Role =
                                        ColumnMapping.FieldRole
                                        + (
                                            TypeOf(i, c.Heading, sample, mapping.DecimalComma, out var format, out var evidence)
                                                is "date"
                                                ? "date"
                                                : "text"
                                        ),
                                    DateFormat = format,
                                    Evidence = $"kept with each line; {evidence}",
                                }
                    ),
                ],
            };

    private static string TypeOf(
        int index,
        string heading,
        IReadOnlyList<RawRow> sample,
        bool comma,
        out string? format,
        out string evidence
    )
    {
        (format, evidence) = (null, "its cells are text");
        var cells = sample
            .Where(r =>
                r.Fields.Length > index
                && !FileMapping.UsualBlanks.Contains(r.Fields[index].Trim())
                && r.Fields[index].Trim().Length > 0
            )
            .ToList();
        if (cells.Count == 0)
            return "text";
        if (cells.All(r => r.Typed?[index] is DateOnly))
            return Because("date", "its cells are dates", out evidence);
        var texts = cells.ConvertAll(r => r.Fields[index].Trim());
        format = DateFormats.FirstOrDefault(f =>
            texts.All(t =>
                DateOnly.TryParseExact(t.Split(' ', 'T')[0], f, CultureInfo.InvariantCulture, DateTimeStyles.None, out _)
            )
        );
        if (format is not null && !(format == "yyyyMMdd" && HeadingWords.RoleOf(heading) != "date"))
            return Because("date", $"its cells are dates of the form {format}", out evidence);
        format = null;
        var kind = HeadingWords.FieldOf(heading);
        if (kind == "key" && texts.Distinct().Count() == texts.Count && index == 0)
            return Because("key", "a number or code that no two rows share", out evidence);
        if (!cells.All(r => r.Typed?[index] is decimal || Numbers.TryRead(r.Fields[index], comma, out _, out _)))
            return "text";
        return kind is "rate" or "quantity" ? Because(kind, $"numbers under a usual heading for a {kind}", out evidence)
            : kind == "key" ? Because("text", "a number that names something", out evidence)
            : Because("amount", "its cells are numbers", out evidence);

        static string Because(string type, string why, out string evidence)
        {
            evidence = why;
            return type;
        }
    }

    /// <summary>The format that fits most dates of the sample; null when day and month could be swapped in all of them, so that
    /// it has to be said.</summary>
    private static string? FindDateFormat(FileMapping mapping, IReadOnlyList<RawRow> sample)
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

    private static Refusal? UndecidedDates(FileMapping mapping, IReadOnlyList<RawRow> sample) =>
        Values(mapping, sample, "date").FirstOrDefault() is not { } example
            ? null
            : Say(
                $"Every date in the first rows could be day-first or month-first (for example {example}).",
                "Say the date format: dd/MM/yyyy or MM/dd/yyyy."
            );

    /// <summary>From the signs of income and cost accounts in the first rows; debit-positive when they do not tell.</summary>
    private SignConvention FindSign(FileMapping mapping, IReadOnlyList<RawRow> sample)
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
