using System.Collections.Immutable;
using Bearing.Core.Questions;

namespace Bearing.Core.Reading;

/// <summary>What came of reading a text.</summary>
public enum ReadingOutcome
{
    Understood,
    AsksBack,
    CannotAnswer,

    /// <summary>What can be asked was asked.</summary>
    Help,

    /// <summary>Back to the answer before.</summary>
    GoesBack,

    /// <summary>The trail is to be left.</summary>
    StartsAfresh,
}

/// <param name="Words">The words that caused it; empty when it was assumed.</param>
/// <param name="Means">In words.</param>
/// <param name="Value">In codes, as the question holds it.</param>
/// <param name="Part">figure, period, subject, base, filter, breakdown, ranking or intent.</param>
public sealed record ReadingPart(string Part, string Words, string Means, string Value);

/// <param name="Sentence">The whole question in one plain sentence.</param>
/// <param name="Unused">Words that carry meaning and had no use.</param>
public sealed record Reading(
    string Sentence,
    ImmutableArray<ReadingPart> Parts,
    ImmutableArray<string> Assumed,
    ImmutableArray<string> Unused
);

/// <param name="Means">What choosing it would give, in words.</param>
public sealed record ReadingChoice(string Means, FormOneQuestion Question);

/// <param name="Question">Set when understood.</param>
/// <param name="Choices">Set when asking back: two to five.</param>
/// <param name="Because">Set when it cannot be answered; what is missing where it asks back for that.</param>
/// <param name="Nearest">Known words or questions nearest to what was not understood.</param>
public sealed record ReadResult(
    ReadingOutcome Outcome,
    Reading? Reading,
    FormOneQuestion? Question,
    ImmutableArray<ReadingChoice> Choices,
    string? Because,
    ImmutableArray<string> Nearest
)
{
    /// <summary>The same of further figures that were asked for and do not fit into one table.</summary>
    public ImmutableArray<FormOneQuestion> Also { get; init; } = [];

    /// <summary>Words that nobody taught yet; empty when all were understood.</summary>
    public ImmutableArray<string> Unknown { get; init; } = [];
}
