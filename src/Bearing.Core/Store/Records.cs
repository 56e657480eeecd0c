using System.Collections.Immutable;
using System.Globalization;
using Bearing.Core.Books;

namespace Bearing.Core.Store;

public enum TestKind
{
    Is,
    Contains,
    AtLeast,
    AtMost,
    Empty,
}

/// <summary>A condition on one field. Texts compare without case, dates by day, numbers by value.</summary>
/// <param name="Value">Not used for Empty. Dates as yyyy-MM-dd, numbers in plain decimal notation.</param>
public sealed record FieldTest(Field Field, TestKind Kind, string Value, bool Not = false)
{
    public bool IsNumber => Field.Type is FieldType.Amount or FieldType.Quantity or FieldType.Rate;

    /// <exception cref="Questions.CannotAnswerException">When the value is no number where the field holds numbers.</exception>
    public decimal Number =>
        decimal.TryParse(Value, NumberStyles.Number, CultureInfo.InvariantCulture, out var number)
            ? number
            : throw new Questions.CannotAnswerException($"{Field.Name} holds numbers, and “{Value}” is none.");
}

/// <param name="OrderBy">Records without the field come last; of equal ones the first loaded first. Null for the order of
/// loading.</param>
/// <param name="Limit">1–10,000.</param>
public sealed record RecordQuery(
    Table Table,
    ImmutableArray<FieldTest> Tests,
    Field? OrderBy,
    bool Descending,
    int Limit,
    int Offset
);

/// <summary>One record with the load and row that brought it.</summary>
/// <param name="Fields">Field code → text; blank fields are not there.</param>
public sealed record Record(int Load, int Row, ImmutableSortedDictionary<string, string> Fields);

/// <summary>Sum of a field of amounts or quantities.</summary>
/// <param name="Currency">As the records write it, in capitals; empty where they leave it blank, null in a table that says none
/// and for quantities.</param>
public sealed record FieldSum(string Field, string? Currency, decimal Sum);

/// <param name="Count">Records that pass, on all pages.</param>
/// <param name="Sums">Over all pages, of amounts in each currency apart and of quantities: in the order of the fields, then of
/// the currencies.</param>
/// <param name="Next">Offset of the next page; null on the last.</param>
public sealed record RecordPage(ImmutableArray<Record> Records, long Count, ImmutableArray<FieldSum> Sums, int? Next);
