using System.Globalization;

namespace Bearing.Data.Formats;

/// <summary>Values that a file holds with their type, as text and typed (see RawRow).</summary>
internal static class CellValue
{
    /// <summary>A binary number is taken at its fifteen significant digits, which is what people see of it: 9.640000000000001 is
    /// 9.64.</summary>
    public static (string Text, object? Typed) Of(object? value) =>
        value switch
        {
            null or DBNull => ("", null),
            double number when Math.Abs(number) < 1e27 => Number((decimal)number),
            float number when Math.Abs(number) < 1e27f => Number((decimal)number),
            decimal number => Number(number),
            sbyte or byte or short or ushort or int or uint or long or ulong => Number(
                Convert.ToDecimal(value, CultureInfo.InvariantCulture)
            ),
            DateOnly day => Day(day),
            DateTime time when time.TimeOfDay == TimeSpan.Zero => Day(DateOnly.FromDateTime(time)),
            DateTime time => (time.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture), null),
            bool yes => (yes ? "true" : "false", null),
            _ => (Convert.ToString(value, CultureInfo.InvariantCulture) ?? "", null),
        };

    private static (string, object?) Number(decimal number) =>
        (number.ToString("0.############################", CultureInfo.InvariantCulture), number);

    private static (string, object?) Day(DateOnly day) => (day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), day);
}
