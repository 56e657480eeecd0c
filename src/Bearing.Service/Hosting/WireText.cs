using System.Globalization;

namespace Bearing.Service.Hosting;

/// <summary>How names and amounts stand in the JSON of the interface.</summary>
internal static class WireText
{
    /// <summary>Small letters and dashes.</summary>
    public static string Name(Enum value) =>
        string.Concat(
            value
                .ToString()
                .Select((c, i) => char.IsUpper(c) && i > 0 ? $"-{char.ToLowerInvariant(c)}" : $"{char.ToLowerInvariant(c)}")
        );

    /// <summary>Plain decimal notation without trailing zeros beyond the cents.</summary>
    public static string Amount(decimal amount) => amount.ToString("0.00####", CultureInfo.InvariantCulture);
}
