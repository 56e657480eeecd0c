using System.Collections.Immutable;
using Bearing.Core.Questions;
using Bearing.Core.Variance;

namespace Bearing.Core.Reading;

/// <summary>One answer of a talk: what was asked, and what of it could be seen and may be pointed at.</summary>
/// <param name="Question">As it was answered.</param>
/// <param name="Grid">Its table; null where it had none.</param>
/// <param name="Records">The list of records or journals that was shown; null where none was.</param>
public sealed record Turn(Question Question, Grid? Grid, RecordTable? Records)
{
    /// <summary>Where its variance comes from, where that was asked; null otherwise.</summary>
    public DriverReport? Drivers { get; init; }

    /// <summary>The rows that were shown, outermost split first; without the one that gathers the rest.</summary>
    internal ImmutableArray<Row> Rows => Grid is null ? [] : [.. Grid.Parts().Where(r => r.Kind != RowKind.Other)];
}

/// <summary>What was said before in the same talk, the latest turn last.</summary>
public sealed record Talk(ImmutableArray<Turn> Turns)
{
    /// <summary>Turns that are looked back at.</summary>
    public const int Longest = 12;

    public static Talk New { get; } = new([]);

    public Turn? Last => Turns.IsEmpty ? null : Turns[^1];
}
