using System.Text;
using Fennick.Mathematics;

namespace Fennick.Outputs;

/// <summary>Letters of mathematics as the characters that Unicode has for them (The Unicode Standard, Mathematical Alphanumeric Symbols).</summary>
internal static class MathLetters
{
    private static readonly Dictionary<(Lettering, char), string> Elsewhere = new()
    {
        [(Lettering.DoubleStruck, 'C')] = "ℂ",
        [(Lettering.DoubleStruck, 'H')] = "ℍ",
        [(Lettering.DoubleStruck, 'N')] = "ℕ",
        [(Lettering.DoubleStruck, 'P')] = "ℙ",
        [(Lettering.DoubleStruck, 'Q')] = "ℚ",
        [(Lettering.DoubleStruck, 'R')] = "ℝ",
        [(Lettering.DoubleStruck, 'Z')] = "ℤ",
        [(Lettering.Script, 'B')] = "ℬ",
        [(Lettering.Script, 'E')] = "ℰ",
        [(Lettering.Script, 'F')] = "ℱ",
        [(Lettering.Script, 'H')] = "ℋ",
        [(Lettering.Script, 'I')] = "ℐ",
        [(Lettering.Script, 'L')] = "ℒ",
        [(Lettering.Script, 'M')] = "ℳ",
        [(Lettering.Script, 'R')] = "ℛ",
        [(Lettering.Script, 'e')] = "ℯ",
        [(Lettering.Script, 'g')] = "ℊ",
        [(Lettering.Script, 'o')] = "ℴ",
        [(Lettering.Fraktur, 'C')] = "ℭ",
        [(Lettering.Fraktur, 'H')] = "ℌ",
        [(Lettering.Fraktur, 'I')] = "ℑ",
        [(Lettering.Fraktur, 'R')] = "ℜ",
        [(Lettering.Fraktur, 'Z')] = "ℨ",
        [(Lettering.Italic, 'h')] = "ℎ",
    };

    /// <summary>A text in a lettering; what has no character of its own stays.</summary>
    public static string In(string text, Lettering lettering)
    {
        // The first capital of each; small letters follow, and digits where there are any.
        var (capital, digit) = lettering switch
        {
            Lettering.Bold => (0x1D400, 0x1D7CE),
            Lettering.Italic => (0x1D434, 0),
            Lettering.BoldItalic => (0x1D468, 0),
            Lettering.Script => (0x1D49C, 0),
            Lettering.Fraktur => (0x1D504, 0),
            Lettering.DoubleStruck => (0x1D538, 0x1D7D8),
            Lettering.SansSerif => (0x1D5A0, 0x1D7E2),
            Lettering.Monospace => (0x1D670, 0x1D7F6),
            _ => (0, 0),
        };
        if (capital == 0) return text;
        var letters = new StringBuilder();
        foreach (var c in text)
        {
            if (Elsewhere.TryGetValue((lettering, c), out var elsewhere)) letters.Append(elsewhere);
            else if (char.IsAsciiLetterUpper(c)) letters.Append(char.ConvertFromUtf32(capital + c - 'A'));
            else if (char.IsAsciiLetterLower(c)) letters.Append(char.ConvertFromUtf32(capital + 26 + c - 'a'));
            else if (digit > 0 && char.IsAsciiDigit(c)) letters.Append(char.ConvertFromUtf32(digit + c - '0'));
            else letters.Append(c);
        }
        return letters.ToString();
    }
}
