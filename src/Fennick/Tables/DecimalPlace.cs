using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>Where numbers stand under each other.</summary>
internal static class DecimalPlace
{
    /// <summary>The place of the decimal sign; without one, the end of the last digit; without a digit, the end of the text.</summary>
    public static int Find(ReadOnlySpan<char> text, Language language)
    {
        var sign = language.Culture.NumberFormat.NumberDecimalSeparator[0];
        for (var i = text.Length - 2; i >= 0; i--)
            if (text[i] == sign && char.IsAsciiDigit(text[i + 1])) return i;
        var last = text.LastIndexOfAnyInRange('0', '9');
        return last < 0 ? text.Length : last + 1;
    }
}
