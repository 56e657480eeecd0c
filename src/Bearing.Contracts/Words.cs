namespace Bearing.Contracts;

/// <summary>Gives something another name.</summary>
/// <param name="Means">A name or code of the book, or "X divided by Y".</param>
/// <param name="By">Who teaches it.</param>
public sealed record TeachRequest(string Word, string Means, string? By = null);

/// <param name="Target"><c>a:</c> or <c>m:</c> and a figure's code, or dimension=code.</param>
/// <param name="Means">In words; null when the book has it no more.</param>
public sealed record WordDto(int Id, string Word, string Target, string? Means, string By, DateTimeOffset At);

/// <param name="Times">How often questions held it.</param>
/// <param name="Example">The latest of these questions.</param>
public sealed record UnknownWordDto(string Word, int Times, string Example, DateTimeOffset LastAsked);

/// <summary>A question kept under a name. Words in braces are asked for when it is run: “fuel versus budget for {entity} in
/// {period}”.</summary>
/// <param name="Parameters">The words in braces, in the order in which they stand; read only.</param>
public sealed record SavedQuestion(string Name, string Text, IReadOnlyList<string>? Parameters = null);

/// <param name="Names">Which ones, in this order; all by name when left out.</param>
/// <param name="With">Word in braces → what stands in its place.</param>
public sealed record RunRequest(IReadOnlyList<string>? Names = null, IReadOnlyDictionary<string, string>? With = null);

/// <param name="Text">As it was asked, with everything put in.</param>
public sealed record RunDto(string Name, string Text, AnswerSet Result);
