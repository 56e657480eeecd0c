using System.Collections.Immutable;

namespace Bearing.Core.Questions;

/// <summary>A question was understood and the book cannot answer it; the message says why, for people.</summary>
public sealed class CannotAnswerException(string because, params string[] nearest) : Exception(because)
{
    /// <summary>Questions close by that the book can answer.</summary>
    public ImmutableArray<string> Nearest { get; } = [.. nearest];
}
