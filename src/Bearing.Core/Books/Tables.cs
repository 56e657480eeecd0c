using System.Collections.Immutable;

namespace Bearing.Core.Books;

/// <summary>What a field of a table holds, and so what may be done with it.</summary>
public enum FieldType
{
    /// <summary>Words; can be searched, grouped and counted.</summary>
    Text,

    /// <summary>Names one record; no two records of a table share it.</summary>
    Key,

    /// <summary>A day, or a day with a time.</summary>
    Date,

    /// <summary>Money; adds up.</summary>
    Amount,

    /// <summary>A number of things; adds up.</summary>
    Quantity,

    /// <summary>A price, a percentage, a rate of exchange: never summed.</summary>
    Rate,

    /// <summary>A member of one of the book's dimensions.</summary>
    Member,
}

/// <summary>A column of a table beside what facts carry anyway: an invoice's due date, the person who approved a
/// journal.</summary>
/// <param name="Code">Lower-case letters, digits and dashes; names the field in addresses and in stored records.</param>
/// <param name="Dimension">Code of the dimension, for a field that holds members.</param>
public sealed record Field(string Code, string Name, FieldType Type, string? Dimension = null)
{
    /// <summary>For a text field with few different texts: those, so that questions can name them. Otherwise empty.</summary>
    public ImmutableArray<string> Values { get; init; } = [];

    /// <summary>Whether all that it holds are codes of currencies: in which the amounts beside it stand.</summary>
    public bool IsCurrency =>
        Type == FieldType.Text && Values.Length > 0 && Values.All(v => CurrencyCode.IsKnown(v.ToUpperInvariant()));

    public bool Equals(Field? other) =>
        other is not null && (Code, Name, Type, Dimension) == (other.Code, other.Name, other.Type, other.Dimension);

    public override int GetHashCode() => HashCode.Combine(Code, Name, Type, Dimension);
}

/// <summary>Records (invoices, orders, claims: one row each), or the further fields of ledger lines.</summary>
/// <param name="Fields">In the order of the file that brought them first.</param>
public sealed record Table(string Code, string Name, ImmutableArray<Field> Fields)
{
    /// <summary>The table whose records are the ledger's own lines.</summary>
    public const string Ledger = "ledger";

    public Field? Field(string code) => Fields.FirstOrDefault(f => f.Code == code);

    /// <summary>The field that says in which currency a record's amounts stand; null where all stand in the book's, or nobody
    /// says it.</summary>
    public Field? Currency => Fields.FirstOrDefault(f => f.IsCurrency);
}

/// <summary>Another name that somebody taught.</summary>
/// <param name="Target">What it stands for: <c>a:6110</c>, <c>m:gross-profit</c> or <c>entity=SKF</c>.</param>
/// <param name="By">Who taught it.</param>
public sealed record TaughtWord(int Id, string Text, string Target, string By, DateTime At);

public enum RateKind
{
    /// <summary>Mean of the month: for income and costs.</summary>
    Average,

    /// <summary>At the end of the month: for balances.</summary>
    Closing,
}

/// <summary>Which way round a rate of exchange is written.</summary>
public enum Quotation
{
    /// <summary>Foreign units for one unit of the book's currency.</summary>
    ForeignPerHome,

    /// <summary>Units of the book's currency for one foreign unit.</summary>
    HomePerForeign,
}

/// <summary>A rate of exchange as it was quoted: turning it round would round it.</summary>
/// <param name="Currency">ISO 4217 code of the foreign currency.</param>
/// <param name="Set">Which set of rates it belongs to: actual, budget, forecast, or the code of one version's own.</param>
/// <param name="Value">Above zero.</param>
public sealed record Rate(Period Period, string Currency, RateKind Kind, string Set, decimal Value, Quotation Quotation)
{
    /// <summary>Number of the load that brought it; 0 where it was not loaded.</summary>
    public int Load { get; init; }

    /// <summary>Decimals of stored money.</summary>
    public const int MoneyDecimals = 4;

    /// <summary>A foreign amount in the book's currency, not rounded.</summary>
    public decimal ToHome(decimal foreign) => Quotation == Quotation.ForeignPerHome ? foreign / Value : foreign * Value;

    /// <summary>An amount of the book's currency in the foreign one, not rounded.</summary>
    public decimal ToForeign(decimal home) => Quotation == Quotation.ForeignPerHome ? home * Value : home / Value;

    /// <summary>A line's foreign amount in the book's currency as it is stored: four decimals, half away from zero.</summary>
    public decimal Translate(decimal foreign) => decimal.Round(ToHome(foreign), MoneyDecimals, MidpointRounding.AwayFromZero);
}

/// <summary>By which rates a version's amounts are translated.</summary>
/// <param name="Scenario">Code of the scenario.</param>
/// <param name="CutOff">The last period that a forecast took from actuals; null for others.</param>
/// <param name="Named">Code of the set that its mapping names; null for the usual one.</param>
public sealed record RateBasis(ScenarioKind Kind, string Scenario, Period? CutOff, string? Named)
{
    /// <summary>The usual sets of rates.</summary>
    public const string Actual = "actual";

    public static RateBasis Of(Scenario scenario, ScenarioVersion version) =>
        new(scenario.Kind, scenario.Code, version.CutOff, version.RateSet);

    /// <summary>
    /// The set that holds for a period: actual rates for actuals and for the months that a forecast took from them; for a plan
    /// the set that was named, or else its own, or else that of its kind.
    /// </summary>
    public string SetAt(Book book, Period period) =>
        Kind == ScenarioKind.Actual || period <= CutOff
            ? Actual
            : Named ?? (book.RateSets.Contains(Scenario) ? Scenario : Kind.ToString().ToLowerInvariant());
}
