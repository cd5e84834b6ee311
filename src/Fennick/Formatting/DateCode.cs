using System.Globalization;
using System.Text;

namespace Fennick.Formatting;

/// <summary>Number codes of spreadsheets and charts for dates (ECMA-376 Part 1, §18.8.31).</summary>
internal static class DateCode
{
    /// <summary>The code of a pattern such as <c>d MMM yyyy</c>, in a language.</summary>
    public static string Of(string pattern, CultureInfo culture)
    {
        if (pattern.Length == 1) pattern = culture.DateTimeFormat.GetAllDateTimePatterns(pattern[0])[0];
        var code = new StringBuilder(NumberCode.LocaleOf(culture));
        for (var i = 0; i < pattern.Length; i++)
        {
            var c = pattern[i];
            if (c is '\'' or '"' && pattern.IndexOf(c, i + 1) is > 0 and var end)
            {
                code.Append('"').Append(pattern.AsSpan(i + 1, end - i - 1)).Append('"');
                i = end;
            }
            else if (c is 'd' or 'M' or 'y' or 'H' or 'm' or 's')
            {
                code.Append(char.ToLowerInvariant(c));
            }
            else
            {
                code.Append(char.IsLetter(c) || c == '"' ? $"\\{c}" : c.ToString());
            }
        }
        return code.ToString();
    }
}
