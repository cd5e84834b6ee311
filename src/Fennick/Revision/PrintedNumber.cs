using System.Globalization;

namespace Fennick.Revision;

/// <summary>A number as it is printed, read back.</summary>
/// <param name="Value">It.</param>
/// <param name="Decimals">How many digits are printed behind the decimal sign.</param>
internal readonly record struct PrintedNumber(double Value, int Decimals)
{
    private const string Minus = "-\u2212\u2011\u2013";

    /// <summary>The numbers of a text, in their order.</summary>
    /// <param name="text">The text.</param>
    /// <param name="decimalSign">The decimal sign of its language, which decides where a single sign could part thousands as well.</param>
    public static IReadOnlyList<PrintedNumber> In(string text, char decimalSign) => [.. Words.Of(text).Where(w => char.IsAsciiDigit(text[w.Start])).Select(w => Read(text, w.Start, w.Length, decimalSign)).OfType<PrintedNumber>()];

    /// <summary>A text without its numbers: what is the same if only numbers are others.</summary>
    public static string Without(string text)
    {
        var (left, at) = (new System.Text.StringBuilder(), 0);
        foreach (var (start, length) in Words.Of(text).Where(w => char.IsAsciiDigit(text[w.Start])))
        {
            left.Append(text, at, (HasMinus(text, start) ? start - 1 : start) - at).Append('0');
            at = start + length;
        }
        return left.Append(text, at, text.Length - at).ToString();
    }

    private static PrintedNumber? Read(string text, int start, int length, char decimalSign)
    {
        var token = text.AsSpan(start, length);
        var (last, kinds, count) = (-1, 0, 0);
        for (var i = 0; i < token.Length; i++)
        {
            if (token[i] is not ('.' or ',')) continue;
            if (last >= 0 && token[last] != token[i]) kinds = 2;
            (last, count) = (i, count + 1);
            kinds = Math.Max(kinds, 1);
        }
        var digitsBehind = last < 0 ? 0 : token.Length - last - 1;
        var isDecimal = last >= 0 && (kinds == 2 || (count == 1 && (token[last] == decimalSign || digitsBehind != 3 || last > 3 || token[0] == '0')));
        // 10.5.2024 and 1.2.3 are no numbers.
        if (kinds == 1 && count > 1 && !Thousands(token)) return null;
        var plain = new System.Text.StringBuilder(HasMinus(text, start) ? "-" : "");
        for (var i = 0; i < token.Length; i++)
        {
            if (char.IsAsciiDigit(token[i])) plain.Append(token[i]);
            else if (i == last && isDecimal) plain.Append('.');
        }
        return double.TryParse(plain.ToString(), NumberStyles.Float, CultureInfo.InvariantCulture, out var value) ? new PrintedNumber(value, isDecimal ? digitsBehind : 0) : null;
    }

    private static bool Thousands(ReadOnlySpan<char> token)
    {
        var run = 0;
        for (var i = token.Length - 1; i >= 0; i--)
        {
            if (char.IsAsciiDigit(token[i])) run++;
            else if (run != 3) return false;
            else run = 0;
        }
        return run is >= 1 and <= 3;
    }

    /// <summary>Whether a minus stands before a number, and not a hyphen behind a word or a dash between two numbers.</summary>
    public static bool HasMinus(string text, int start) => start > 0 && Minus.Contains(text[start - 1], StringComparison.Ordinal) && (start == 1 || !(char.IsLetterOrDigit(text[start - 2]) || text[start - 2] == ')'));
}
