using Bearing.Core.Loading;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// Watches lines go by in the order of the file. Where each document stands in one piece and its line numbers only rise, no
/// line can be there twice, and the costly search for doubled ones is spared.
/// </summary>
internal sealed class DocumentOrder
{
    private string _document = "", _line = "";
    private long _runs;
    private bool _falls;

    /// <summary>Whether any line belongs to no document.</summary>
    public bool AnyWithoutDocument { get; private set; }

    /// <summary>Whether any line names a currency.</summary>
    public bool AnyCurrency { get; private set; }

    public void Add(in FactRow row)
    {
        AnyCurrency |= row.Currency is not null;
        if (row.Document.Length == 0) AnyWithoutDocument = true;
        else if (row.Document != _document)
        {
            _runs++;
            (_document, _line) = (row.Document, row.LineNumber);
        }
        else
        {
            _falls |= !Rises(_line, row.LineNumber);
            _line = row.LineNumber;
        }
    }

    /// <param name="documents">How many different documents there are; null when nobody counted them.</param>
    public bool RulesOutDoubledLines(long? documents) => !_falls && documents == _runs;

    /// <summary>Shorter before longer and then by character: 9 before 10, A1 before A2.</summary>
    private static bool Rises(string before, string after) => before.Length != after.Length ? before.Length < after.Length : string.CompareOrdinal(before, after) < 0;
}
