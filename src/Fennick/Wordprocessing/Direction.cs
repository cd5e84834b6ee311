namespace Fennick.Wordprocessing;

/// <summary>Tells text that runs from right to left.</summary>
/// <remarks>By blocks of Unicode: Hebrew to Arabic Extended, and the presentation forms. Digits and signs between go with what stands before them.</remarks>
internal static class Direction
{
    public static bool HasRightToLeft(ReadOnlySpan<char> text) =>
        text.IndexOfAnyInRange('\u0590', '\u08FF') >= 0 || text.IndexOfAnyInRange('\uFB1D', '\uFDFF') >= 0 || text.IndexOfAnyInRange('\uFE70', '\uFEFC') >= 0;

    /// <summary>Whether the first letter of a text runs from right to left, and with it the paragraph.</summary>
    public static bool StartsRightToLeft(ReadOnlySpan<char> text)
    {
        foreach (var c in text)
            if (IsRightToLeft(c)) return true;
            else if (char.IsLetter(c)) return false;
        return false;
    }

    /// <summary>Stretches of one direction, in order.</summary>
    public static IEnumerable<(int Start, int Length, bool RightToLeft)> Split(string text)
    {
        var start = 0;
        var current = StartsRightToLeft(text);
        for (var i = 0; i < text.Length; i++)
        {
            var rightToLeft = IsRightToLeft(text[i]) || (current && !char.IsLetter(text[i]));
            if (rightToLeft == current) continue;
            if (i > start) yield return (start, i - start, current);
            (start, current) = (i, rightToLeft);
        }
        if (start < text.Length) yield return (start, text.Length - start, current);
    }

    private static bool IsRightToLeft(char c) => c is (>= '\u0590' and <= '\u08FF') or (>= '\uFB1D' and <= '\uFDFF') or (>= '\uFE70' and <= '\uFEFC');
}
