using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>Proposes how to read a file from its first rows. A proposal: every part of it can be set by hand.</summary>
public sealed class Detection(Book book)
{
    /// <summary>This many headings that name months make a table with its months across.</summary>
    private const int FewestMonths = 3;

    private readonly HeadingRoles _roles = new(book);
    private readonly MissingParts _missing = new(book);

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
                rows[i].Fields.Count(f => f.Length > 0 && _roles.Of(f.Trim()).Role is not (null or "skip"))
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
            rows[first.Index].Fields.Count(f => f.Length > 0 && _roles.Of(f.Trim()).Role is not (null or "skip"))
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
                    : _roles.Of(h)
            )
            .ToImmutableArray();
        var decided = kind ?? HeadingRoles.KindOf(columns);
        var mapping = new FileMapping(
            decided,
            HeadingRoles.Adapt(columns, decided),
            SignConvention.AsShown,
            null,
            false,
            dimension
        )
        {
            MonthsAcross = months,
            Scale = ScaleOf(titles),
            Currency = CurrencyOf(columns),
        };
        mapping = mapping with { Open = MissingParts.Column(mapping, heading) ?? _missing.Dimension(mapping) };
        if (decided == TableKind.Records)
            return FieldTypes.WithFields(mapping, sample, said);
        if (mapping.IsReference)
            return mapping;
        mapping = FieldTypes.WithLineFields(
            mapping with
            {
                DecimalComma = CellForms.HasDecimalComma(mapping, sample),
                DateFormat = dateFormat ?? CellForms.FindDateFormat(mapping, sample),
            },
            sample
        );
        return mapping with
        {
            Sign = CellForms.FindSign(book, mapping, sample),
            FiscalPeriods = CellForms.HasFiscalPeriods(book, mapping, sample),
            Open = mapping.Open
                ?? (mapping.DateFormat is null && mapping.Has("date") ? CellForms.UndecidedDates(mapping, sample) : null),
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
}
