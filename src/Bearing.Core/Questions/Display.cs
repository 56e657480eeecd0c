using Bearing.Core.Books;

namespace Bearing.Core.Questions;

/// <summary>How an answer is to be put on the page or the terminal.</summary>
public enum View
{
    Table,
    Chart,
    Line,
    Bars,
    Csv,
    Json,
}

/// <summary>How an answer is to be shown. Changes no figure.</summary>
/// <param name="Scale">1, 1,000 or 1,000,000; null for the usual one.</param>
/// <param name="Decimals">0–4; null for the usual ones.</param>
public sealed record Display(View? View = null, int? Scale = null, int? Decimals = null);

/// <summary>How a list of entries or records is laid out.</summary>
/// <param name="Columns">Codes of fields or dimensions in the order in which they are shown; empty for the usual ones.</param>
/// <param name="OrderBy">Code of the field by which the list goes; null for the order of the files.</param>
public sealed record Listing(ValueList<string> Columns, string? OrderBy = null, bool Descending = false);
