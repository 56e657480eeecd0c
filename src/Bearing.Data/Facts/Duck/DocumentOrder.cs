using Bearing.Core.Loading;

namespace Bearing.Data.Facts.Duck;

/// <summary>
/// Watches lines go by in the order of the file. Where each document stands in one piece, adds up to zero and its line numbers
/// only rise, none can be off or hold a line twice, and the costly searches in the engine are spared.
/// </summary>
/// <param name="home">The book's own currency.</param>
internal sealed class DocumentOrder(string home)
{
    private string _document = "",
        _line = "";
    private string? _translatedFrom;
    private decimal _net;
    private long _runs;
    private bool _lineFalls,
        _documentFalls,
        _off;

    /// <summary>Whether any line belongs to no document.</summary>
    public bool AnyWithoutDocument { get; private set; }

    /// <summary>Whether any line names a currency.</summary>
    public bool AnyCurrency { get; private set; }

    /// <summary>Whether any line has an amount in another currency than the book's.</summary>
    public bool AnyForeign { get; private set; }

    /// <summary>Whether any line was translated.</summary>
    public bool AnyTranslated { get; private set; }

    /// <summary>Pieces that add up to zero make documents that do, whatever their order. False when it has to be looked
    /// up.</summary>
    public bool AllBalance => !_off && _net == 0;

    public void Add(in FactRow row)
    {
        AnyCurrency |= row.Currency is not null;
        AnyTranslated |= row.Rate is not null;
        AnyForeign |=
            row.Local is not null
            && row.Currency is not null
            && !string.Equals(row.Currency, home, StringComparison.OrdinalIgnoreCase);
        var from = row.Rate is null ? null : row.Currency;
        if (row.Document.Length == 0)
        {
            AnyWithoutDocument = true;
            return;
        }
        if (row.Document != _document || from != _translatedFrom)
        {
            _runs++;
            _off |= _net != 0;
            _net = 0;
            _documentFalls |= !Rises(_document, row.Document);
            (_document, _translatedFrom) = (row.Document, from);
        }
        else
            _lineFalls |= !Rises(_line, row.LineNumber);
        _line = row.LineNumber;
        // What was translated was rounded line by line; as it was posted it adds up.
        _net += row.Rate is null ? row.Amount : row.Local!.Value;
    }

    /// <param name="documents">How many different documents there are; null when nobody counted them.</param>
    public bool RulesOutDoubledLines(long? documents) => !_lineFalls && (!_documentFalls || documents == _runs);

    /// <summary>Shorter before longer and then by character: 9 before 10, A1 before A2.</summary>
    private static bool Rises(string before, string after) =>
        before.Length != after.Length ? before.Length < after.Length : string.CompareOrdinal(before, after) < 0;
}
