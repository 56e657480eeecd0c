using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>Keeps or excludes members (by code, with all below them) of one dimension.</summary>
public sealed record Filter(string Dimension, ValueList<string> Members, bool Exclude = false);
