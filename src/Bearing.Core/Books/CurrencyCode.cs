using System.Collections.Frozen;

namespace Bearing.Core.Books;

/// <summary>ISO 4217 codes of the currencies in which books are kept.</summary>
public static class CurrencyCode
{
    private static readonly FrozenSet<string> All = """
        AED ARS AUD BGN BHD BRL CAD CHF CLP CNH CNY COP CZK DKK EGP EUR GBP GEL GHS HKD HUF IDR ILS INR ISK
        JOD JPY KES KRW KWD KZT LKR MAD MUR MXN MYR NGN NOK NZD OMR PEN PHP PKR PLN QAR RON RSD SAR SEK SGD
        THB TND TRY TWD TZS UAH UGX USD UYU VND XAF XOF ZAR ZMW
        """.Split((char[])[' ', '\n']).ToFrozenSet();

    /// <summary>Whether a text in capitals is one.</summary>
    public static bool IsKnown(string text) => All.Contains(text);
}
