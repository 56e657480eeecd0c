using System.Collections.Immutable;
using Bearing.Core.Books;

namespace Bearing.Core.Loading;

/// <summary>What a file holds.</summary>
public enum TableKind
{
    /// <summary>Journal lines of Actual.</summary>
    Ledger,

    /// <summary>Budget or forecast amounts.</summary>
    Plan,

    /// <summary>Quantities such as sailings or heads, of any scenario.</summary>
    Statistics,

    /// <summary>The chart of accounts.</summary>
    Accounts,

    /// <summary>The entities.</summary>
    Entities,

    /// <summary>Members of a further dimension.</summary>
    Members,

    /// <summary>Other names of members that the book has already.</summary>
    Names,

    /// <summary>Rates of exchange.</summary>
    Rates,

    /// <summary>Any other table, one row for each invoice, order or claim.</summary>
    Records,

    /// <summary>Balances at the beginning of the first period of Actual.</summary>
    Opening,
}

/// <summary>How the signs of a file are meant.</summary>
public enum SignConvention
{
    /// <summary>Debits positive, as most ledgers export.</summary>
    DebitPositive,

    /// <summary>Income positive and costs negative.</summary>
    CreditPositive,

    /// <summary>Every amount as people read it: income and costs both positive.</summary>
    AsShown,
}

/// <param name="Heading">As the file has it.</param>
/// <param name="Role">One of the roles in headings.json, <c>dimension:code</c>, <c>level:n</c>, or null for a column that is not
/// used.</param>
/// <param name="Evidence">Why it was recognised so.</param>
public sealed record ColumnMapping(string Heading, string? Role, string Evidence)
{
    /// <summary>For one of several amount columns: what it says of account, entity, period or scenario, by role.</summary>
    public ImmutableDictionary<string, string> Sets { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>A blank takes the value of the row above.</summary>
    public bool FillDown { get; init; }

    /// <summary>For a field: its name where it is not the heading.</summary>
    public string? Name { get; init; }

    /// <summary>For a field that holds dates: a .NET date format where it is not that of the mapping.</summary>
    public string? DateFormat { get; init; }

    /// <summary>The type of a field; null for a column that plays another part.</summary>
    public FieldType? Field =>
        Role?.StartsWith(FieldRole, StringComparison.Ordinal) == true
        && Enum.TryParse<FieldType>(Role[FieldRole.Length..], true, out var type)
            ? type
            : null;

    public const string FieldRole = "field:";
}

/// <summary>Rows that are taken, by what one column says; the others are left out, and answers say so.</summary>
/// <param name="Values">One of these, compared without case.</param>
/// <param name="Not">Take every other row instead.</param>
public sealed record KeepRule(string Heading, ImmutableArray<string> Values, bool Not)
{
    public override string ToString() => $"{Heading} is {(Not ? "not " : "")}{string.Join(" or ", Values)}";
}

/// <summary>A column that the file does not have, made from those that it has.</summary>
/// <param name="Heading">Its name; columns of the mapping refer to it.</param>
/// <param name="Text">Text with headings in braces: {Company}-{Site}.</param>
/// <param name="Sum">Headings whose numbers are added; one with a minus in front is taken away.</param>
/// <param name="Product">Headings whose numbers are multiplied.</param>
public sealed record DerivedColumn(string Heading, string? Text, ImmutableArray<string> Sum, ImmutableArray<string> Product);

/// <summary>A file of headings (journals) that belongs to a file of lines: which of its columns each line gets.</summary>
/// <param name="LineKey">Heading in the file of lines under which the journal's key stands.</param>
/// <param name="Key">Heading of the same key in the file of headings.</param>
/// <param name="Columns">Headings that are taken over; never amounts, which would be multiplied.</param>
public sealed record HeadingFile(string LineKey, string Key, ImmutableArray<string> Columns);

/// <summary>A rule that rows have to keep, and that a load warns about: where the column says this, the number lies within
/// limits.</summary>
public sealed record RowCheck(string Heading, string Is, string Number, decimal? AtLeast, decimal? AtMost)
{
    public override string ToString() =>
        FormattableString.Invariant(
            $"where {Heading} is {Is}, {Number} is {(AtLeast is { } low ? $"at least {low}" : "")}{(AtLeast is not null && AtMost is not null ? " and " : "")}{(AtMost is { } high ? $"at most {high}" : "")}"
        );
}

/// <summary>Where a role has a value, another role gets one: how a file is completed that lacks a column.</summary>
public sealed record RoleRule(string When, string Is, string Role, string Value);

/// <summary>How a text file is cut into fields, where a person says it; null is found out from the file.</summary>
/// <param name="Separator">Between the fields.</param>
/// <param name="Encoding">A name that is registered for the internet: utf-8, windows-1252, iso-8859-15.</param>
public sealed record TextForm(char? Separator, string? Encoding);

/// <summary>The way to read one kind of file.</summary>
/// <param name="Dimension">Code of the dimension, for members only.</param>
/// <param name="DateFormat">A .NET date format; null when no date is used.</param>
/// <param name="DecimalComma">True when amounts are written 1.234,56.</param>
/// <param name="Open">What has still to be said before the file can be loaded: a column, a dimension, a date format. Null when
/// nothing is open.</param>
public sealed record FileMapping(
    TableKind Kind,
    ImmutableArray<ColumnMapping> Columns,
    SignConvention Sign,
    string? DateFormat,
    bool DecimalComma,
    string? Dimension,
    Refusal? Open = null
)
{
    /// <summary>Name under which it is kept; empty for one that was only recognised.</summary>
    public string Name { get; init; } = "";

    /// <summary>Amounts are multiplied by this: 1,000 for a file in thousands.</summary>
    public decimal Scale { get; init; } = 1m;

    /// <summary>True when every further heading that names a month is an amount column of that month.</summary>
    public bool MonthsAcross { get; init; }

    /// <summary>True when 2026/09 means fiscal year and period and not September.</summary>
    public bool FiscalPeriods { get; init; }

    /// <summary>Fiscal year of periods written without one (P09).</summary>
    public int? FiscalYear { get; init; }

    /// <summary>Cells with these texts hold nothing.</summary>
    public ImmutableHashSet<string> Blanks { get; init; } = UsualBlanks;

    public static ImmutableHashSet<string> UsualBlanks { get; } =
        ImmutableHashSet.Create(StringComparer.OrdinalIgnoreCase, "n/a", "-", "–", "#n/a", "null");

    /// <summary>By role: texts of the file and the codes that they stand for.</summary>
    public ImmutableDictionary<string, ImmutableDictionary<string, string>> LookUps { get; init; } =
        ImmutableDictionary<string, ImmutableDictionary<string, string>>.Empty;

    public ImmutableArray<RoleRule> Rules { get; init; } = [];

    /// <summary>Sheets of a workbook to read; empty for all that have the headings.</summary>
    public ImmutableArray<string> Sheets { get; init; } = [];

    /// <summary>Null to find out from the file how its text is cut.</summary>
    public TextForm? Text { get; init; }

    /// <summary>Whether every document has to add up to zero; null to find out from the file.</summary>
    public bool? Balanced { get; init; }

    /// <summary>For records: code of the table, and its name.</summary>
    public string? Table { get; init; }

    public string? TableName { get; init; }

    /// <summary>For rates: which way round they are written.</summary>
    public Quotation Quotation { get; init; } = Quotation.ForeignPerHome;

    /// <summary>
    /// In which currency its amounts stand: an ISO 4217 code, or <see cref="LocalCurrency"/> for that of each row's entity. Null
    /// where nobody said it: then a column of currencies tells, and without one the entity.
    /// </summary>
    public string? Currency { get; init; }

    public const string LocalCurrency = "local";

    /// <summary>For a plan: the set of rates by which it is translated; null for the usual one.</summary>
    public string? RateSet { get; init; }

    public ImmutableArray<KeepRule> Keep { get; init; } = [];

    public ImmutableArray<DerivedColumn> Derived { get; init; } = [];

    public HeadingFile? Headings { get; init; }

    public ImmutableArray<RowCheck> Checks { get; init; } = [];

    /// <summary>What of the file is taken, in words; null when all of it is.</summary>
    public string? Filter => Keep.IsEmpty ? null : $"only rows where {string.Join(" and ", Keep)}";

    /// <summary>For opening balances: the month in which they stand; null where rows say theirs.</summary>
    public Period? FixedPeriod { get; init; }

    /// <summary>Whether rows become facts of a scenario.</summary>
    public bool HasFigures => Kind is TableKind.Ledger or TableKind.Plan or TableKind.Statistics or TableKind.Opening;

    public bool IsReference => Kind is TableKind.Accounts or TableKind.Entities or TableKind.Members or TableKind.Names;

    public int IndexOf(string role)
    {
        for (var i = 0; i < Columns.Length; i++)
            if (Columns[i].Role == role)
                return i;
        return -1;
    }

    public bool Has(string role) => IndexOf(role) >= 0;
}

/// <summary>A row of a file with its place in it.</summary>
/// <param name="Number">Line of a text file, counted from 1; rows of workbooks carry their sheet as well
/// (<see cref="RowPlace"/>).</param>
/// <param name="Typed">For workbooks: a decimal or DateOnly beside each text, null for text cells. Null for text files.</param>
public readonly record struct RawRow(int Number, string[] Fields, object?[]? Typed = null)
{
    /// <summary>The row with further fields behind its own.</summary>
    public RawRow Extended(string[] more) =>
        more.Length == 0
            ? this
            : new RawRow(Number, [.. Fields, .. more], Typed is null ? null : [.. Typed, .. new object?[more.Length]]);
}

/// <summary>Rows of workbooks are numbered below zero, so that one number tells sheet and row.</summary>
public static class RowPlace
{
    private const int RowsOfSheet = 1 << 21;

    /// <param name="sheet">From 0.</param>
    /// <param name="row">From 1.</param>
    public static int InSheet(int sheet, int row) => -((sheet * RowsOfSheet) + row);

    /// <summary>Sheet is -1 for a text file.</summary>
    public static (int Sheet, int Row) Of(int number) =>
        number >= 0 ? (-1, number) : (-number / RowsOfSheet, -number % RowsOfSheet);
}

/// <summary>Why a row did not come in, or why a file cannot be read: what, where and what to do.</summary>
/// <param name="Row">0 when the whole file is meant.</param>
/// <param name="Amount">Of the row, where it could be read and is worth telling.</param>
public sealed record Refusal(int Row, string? Column, string? Value, string Because, string Remedy, decimal? Amount = null)
{
    /// <summary>For a text that no member goes by: the role of its column, so that it can be given a meaning.</summary>
    public string? Unknown { get; init; }
}

/// <summary>Rows that hold no data: titles, totals, notes, blank rows.</summary>
public sealed record LeftOut(string What, long Count, ImmutableArray<int> Rows);

/// <summary>A file as a whole cannot be loaded; nothing was changed.</summary>
public sealed class LoadRefusedException(Refusal refusal) : Exception($"{refusal.Because} {refusal.Remedy}")
{
    public Refusal Refusal { get; } = refusal;

    public static LoadRefusedException File(string because, string remedy) => new(new Refusal(0, null, null, because, remedy));
}
