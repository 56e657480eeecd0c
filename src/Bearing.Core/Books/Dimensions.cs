using System.Collections.Immutable;

namespace Bearing.Core.Books;

public enum DimensionRole
{
    Other,
    Account,
    Entity,
}

/// <summary>
/// One way in which figures are split. Accounts and entities are dimensions with a role.
/// </summary>
/// <param name="Id">Never reused; names the column in the fact store.</param>
/// <param name="Code">Lower-case word used in addresses, for example <c>route</c>.</param>
/// <param name="Levels">Names of the levels from the top of the tree downwards; the last one also names the members without
/// children.</param>
/// <param name="OtherNames">Further words that people use for the dimension.</param>
public sealed record Dimension(
    int Id,
    string Code,
    string Name,
    DimensionRole Role,
    ImmutableArray<string> Levels,
    ImmutableArray<string> OtherNames
);

/// <summary>
/// What an account holds. Facts are stored credit-positive for all of them but statistics,
/// so that income and costs carry their profit sign (income +, cost −) and simply add.
/// </summary>
public enum AccountType
{
    Income,
    Cost,
    Asset,
    Liability,
    Equity,
    Statistic,
}

/// <summary>How a figure's periods combine into a longer span.</summary>
public enum OverTime
{
    /// <summary>Periods add up (income, costs, sailings).</summary>
    Sum,

    /// <summary>The value at the end of the span: all movements up to then (balances).</summary>
    Closing,

    /// <summary>The mean over the periods that have data (the price of a litre).</summary>
    Average,

    /// <summary>What the last period of the span that has data says by itself, never added over periods (heads at the month end);
    /// its average where that is asked for, or where something that adds up is divided by it.</summary>
    Stock,
}

/// <summary>Which direction of a figure is good news; income and costs never need it, their profit sign says it.</summary>
public enum GoodDirection
{
    None,
    Up,
    Down,
}

/// <summary>What only accounts carry.</summary>
/// <param name="Unit">Null for money in the book's currency, otherwise the unit of a statistic.</param>
public sealed record AccountTraits(AccountType Type, OverTime OverTime, GoodDirection Good, string? Unit)
{
    /// <summary>Stored amount times this is the amount as people read it: a positive cost, a positive asset.</summary>
    public int ShownSign => Type is AccountType.Cost or AccountType.Asset ? -1 : 1;

    public bool IsProfitAndLoss => Type is AccountType.Income or AccountType.Cost;

    public static AccountTraits Default(AccountType type) =>
        new(
            type,
            type is AccountType.Asset or AccountType.Liability or AccountType.Equity ? OverTime.Closing : OverTime.Sum,
            GoodDirection.None,
            null
        );
}

/// <summary>What only entities carry.</summary>
/// <param name="Currency">ISO 4217 code of the currency in which it keeps its books; null for the book's own.</param>
/// <param name="OwnedPercent">Part of it that belongs to the group, above 0 and up to 100.</param>
public sealed record EntityTraits(string? Currency, decimal OwnedPercent)
{
    public static EntityTraits Whole { get; } = new(null, 100m);
}

/// <summary>One value of a dimension.</summary>
/// <param name="Id">Unique in the book and never reused; codes and names may change.</param>
/// <param name="ParentId">The member above it in the same dimension, or null at the top.</param>
/// <param name="Order">Place among its siblings, as the reference file had it.</param>
/// <param name="Account">Set for accounts only.</param>
/// <param name="Entity">Set for entities only.</param>
public sealed record Member(
    int Id,
    int DimensionId,
    string Code,
    string Name,
    int? ParentId,
    int Order,
    ImmutableArray<string> OtherNames,
    AccountTraits? Account = null,
    EntityTraits? Entity = null
)
{
    /// <summary>Stands in Actual for a blank field.</summary>
    public const int Unassigned = 1;

    /// <summary>Stands in a plan for a dimension that the plan does not keep.</summary>
    public const int NotKept = 2;

    /// <summary>First id that a book may give to a member of its own.</summary>
    public const int FirstOwnId = 10;

    public string Title => Code == Name ? Name : $"{Code} {Name}";
}
