using System.Globalization;

namespace Fennick.Formatting;

/// <summary>
/// The shortest decimal number that reads back as the same value, from which everything is rounded: half away from zero, whatever the format, so that a number that is shown twice reads the
/// same.
/// </summary>
internal static class ShortestDecimal
{
    /// <summary>The number as a decimal; null if it is not finite, or too large or too small to be one.</summary>
    public static decimal? Of(object value)
    {
        if (value is decimal own) return own;
        var number = value is float single ? single : value is double d ? d : double.NaN;
        var size = Math.Abs(number);
        if (number == 0) return 0;
        // Below 1e-12 a decimal would lose digits of the seventeen that a double may have.
        if (!(size < 7.9e28 && size > 1e-12)) return null;
        return decimal.Parse(Text(value), NumberStyles.Float, CultureInfo.InvariantCulture);
    }

    /// <summary>A number other than zero as a decimal of one digit before the point, and a power of ten.</summary>
    public static (decimal Mantissa, int Exponent) Split(object value)
    {
        if (value is decimal own) value = (double)own;
        var parts = (value is float single ? single.ToString("E8", CultureInfo.InvariantCulture) : ((double)value).ToString("E16", CultureInfo.InvariantCulture)).Split('E');
        var exponent = int.Parse(parts[1], CultureInfo.InvariantCulture);
        // The digits are those of the shortest form, not of the long one that told where they start.
        var shortest = Text(value);
        var digits = new string([.. shortest.Split('E')[0].Where(char.IsAsciiDigit)]).TrimStart('0');
        var mantissa = decimal.Parse($"{digits[0]}.{digits[1..]}0", NumberStyles.Float, CultureInfo.InvariantCulture);
        // 9.9999999999999999e22 is written as 1e23.
        if (mantissa == 1 && parts[0].TrimStart('-').StartsWith('9')) exponent++;
        return (shortest[0] == '-' ? -mantissa : mantissa, exponent);
    }

    /// <summary>A number rounded to so many decimals of a mantissa of one digit, and its power of ten.</summary>
    public static (decimal Mantissa, int Exponent) Rounded(object value, int decimals)
    {
        var (mantissa, exponent) = Split(value);
        mantissa = Math.Round(mantissa, decimals, MidpointRounding.AwayFromZero);
        return Math.Abs(mantissa) >= 10 ? (mantissa / 10, exponent + 1) : (mantissa, exponent);
    }

    private static string Text(object value) => value is float single ? single.ToString("R", CultureInfo.InvariantCulture) : ((double)value).ToString("R", CultureInfo.InvariantCulture);
}
