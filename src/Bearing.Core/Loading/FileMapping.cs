using System.Collections.Immutable;

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
/// <param name="Role">One of the roles in headings.json, <c>dimension:code</c>, or null for a column that is not used.</param>
/// <param name="Evidence">Why it was recognised so.</param>
public sealed record ColumnMapping(string Heading, string? Role, string Evidence);

/// <summary>The way to read one kind of file.</summary>
/// <param name="Dimension">Code of the dimension, for members only.</param>
/// <param name="DateFormat">A .NET date format; null when no date is used.</param>
/// <param name="DecimalComma">True when amounts are written 1.234,56.</param>
/// <param name="Open">What has still to be said before the file can be loaded: a column, a dimension, a date format. Null when nothing is open.</param>
public sealed record FileMapping(
    TableKind Kind, ImmutableArray<ColumnMapping> Columns, SignConvention Sign, string? DateFormat, bool DecimalComma, string? Dimension, Refusal? Open = null)
{
    public bool IsReference => Kind is TableKind.Accounts or TableKind.Entities or TableKind.Members;

    public int IndexOf(string role)
    {
        for (var i = 0; i < Columns.Length; i++)
            if (Columns[i].Role == role) return i;
        return -1;
    }

    public bool Has(string role) => IndexOf(role) >= 0;
}

/// <summary>A row of a file with its place in it; the heading is row 1.</summary>
public readonly record struct RawRow(int Number, string[] Fields);

/// <summary>Why a row did not come in, or why a file cannot be read: what, where and what to do.</summary>
/// <param name="Row">0 when the whole file is meant.</param>
public sealed record Refusal(int Row, string? Column, string? Value, string Because, string Remedy);

/// <summary>A file as a whole cannot be loaded; nothing was changed.</summary>
public sealed class LoadRefusedException(Refusal refusal) : Exception($"{refusal.Because} {refusal.Remedy}")
{
    public Refusal Refusal { get; } = refusal;

    public static LoadRefusedException File(string because, string remedy) => new(new Refusal(0, null, null, because, remedy));
}
