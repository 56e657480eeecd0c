using Bearing.Core.Books;

namespace Bearing.Core.Questions;

public enum ConditionOn
{
    Amount,
    Percent,

    /// <summary>The size of the base itself.</summary>
    Base,

    /// <summary>How many records there are in a group.</summary>
    Count,

    /// <summary>Something now, and nothing in the base; the limit does not matter.</summary>
    New,

    /// <summary>Nothing any more, and something in the base; the limit does not matter.</summary>
    Ended,
}

/// <summary>On which side of its base a figure lies.</summary>
public enum Direction
{
    /// <summary>Larger, as people read the figure: a cost over budget.</summary>
    Over,

    /// <summary>Smaller, as people read the figure.</summary>
    Under,

    /// <summary>Lowers profit.</summary>
    Against,

    /// <summary>Raises profit, or leaves it as it is.</summary>
    For,
    Either,

    /// <summary>Not further away than this, on either side.</summary>
    Within,
}

/// <summary>Keeps rows whose figure, or whose variance where something is compared, is at least so large on one side.</summary>
/// <param name="Value">Zero or more: in the figure's unit, or in percent of the base.</param>
public sealed record Condition(ConditionOn On, Direction Direction, decimal Value)
{
    /// <summary>The one of the question's bases that the limit speaks of; null for the first.</summary>
    public Side? Of { get; init; }

    /// <summary>For single lines and records, which are held against nothing: whether the limit is an upper one.</summary>
    public bool IsUpper => Direction is Direction.Under or Direction.Against or Direction.Within;
}
