using System.Globalization;

namespace Fennick.Formatting;

/// <summary>Writes the numbers of pages and headings.</summary>
internal static class Counting
{
    private static readonly (int Value, string Sign)[] Roman = [(1000, "m"), (900, "cm"), (500, "d"), (400, "cd"), (100, "c"), (90, "xc"), (50, "l"), (40, "xl"), (10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i")];

    public static string Write(int number, PageNumberFormat format) => format switch
    {
        PageNumberFormat.LowerRoman => ToRoman(number),
        PageNumberFormat.UpperRoman => ToRoman(number).ToUpperInvariant(),
        PageNumberFormat.LowerLetter => ToLetters(number, 'a'),
        PageNumberFormat.UpperLetter => ToLetters(number, 'A'),
        _ => number.ToString(CultureInfo.InvariantCulture),
    };

    /// <summary>What stands between the number of a chapter and that of a page.</summary>
    public static string Sign(ChapterSign sign) => sign switch
    {
        ChapterSign.Hyphen => "-",
        ChapterSign.EmDash => "—",
        ChapterSign.Period => ".",
        ChapterSign.Colon => ":",
        _ => "–",
    };

    private static string ToRoman(int number)
    {
        var roman = "";
        foreach (var (value, sign) in Roman)
            for (; number >= value; number -= value) roman += sign;
        return roman;
    }

    // After z word processors write aa, bb.
    private static string ToLetters(int number, char first) => number < 1 ? "" : new string((char)(first + ((number - 1) % 26)), 1 + ((number - 1) / 26));
}
