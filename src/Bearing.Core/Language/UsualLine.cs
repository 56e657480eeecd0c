using System.Collections.Immutable;

namespace Bearing.Core.Language;

/// <summary>A line of the income statement that every finance team knows, by what it holds.</summary>
/// <param name="Words">Its names.</param>
/// <param name="Before">The kinds of accounts (see <see cref="Vocabulary.Below"/>) without which the last line of all is this
/// one; null for all income.</param>
/// <param name="Literal">Its names say what it is before, whatever a line of that name holds.</param>
internal sealed record UsualLine(ImmutableArray<string> Words, ImmutableArray<string>? Before, bool Literal);

/// <summary>How accounts that stand below a line of profit are called.</summary>
/// <param name="Names">Phrases that the name of such an account holds.</param>
/// <param name="Whole">Phrases that are all of its name: a property tax is no tax on profit.</param>
internal sealed record BelowLine(ImmutableArray<string> Names, ImmutableArray<string> Whole);
