namespace Fennick.Prose;

/// <summary>Walks C# text as far as braces, brackets and strings matter; it never needs a compiler.</summary>
internal static class HoleScanner
{
    /// <summary>The index of the brace that closes the one at <paramref name="start"/>, or -1.</summary>
    public static int FindEnd(string text, int start)
    {
        if (BraceWords.TakesProse(text.AsSpan(start + 1))) return FindEndOfProse(text, start);
        var depth = 0;
        for (var i = start; i < text.Length; i++)
        {
            switch (text[i])
            {
                case '{': depth++; break;
                case '}':
                    if (--depth == 0) return i;
                    break;
                default:
                    i = SkipString(text, i);
                    break;
            }
        }
        return -1;
    }

    /// <summary>In prose a quotation mark is one, and a brace opens a hole of its own.</summary>
    private static int FindEndOfProse(string text, int start)
    {
        for (var i = start + 1; i < text.Length; i++)
        {
            switch (text[i])
            {
                case '\\': i++; break;
                case '}': return i;
                case '{':
                    i = FindEnd(text, i);
                    if (i < 0) return -1;
                    break;
            }
        }
        return -1;
    }

    /// <summary>
    /// Splits "expression:format" at the leftmost top-level colon that belongs to neither a conditional nor <c>::</c>.
    /// </summary>
    /// <returns>The index of the colon, or -1 if all of it is an expression.</returns>
    public static int FindFormatColon(string text)
    {
        var depth = 0;
        var openConditionals = 0;
        for (var i = 0; i < text.Length; i++)
        {
            switch (text[i])
            {
                case '(' or '[' or '{': depth++; break;
                case ')' or ']' or '}': depth--; break;
                case '?' when depth == 0: i = PassQuestionMark(text, i, ref openConditionals); break;
                case ':' when depth == 0:
                    if (i + 1 < text.Length && text[i + 1] == ':') i++;
                    else if (openConditionals > 0) openConditionals--;
                    else return i;
                    break;
                default: i = SkipString(text, i); break;
            }
        }
        return -1;
    }

    /// <summary>A question mark opens a conditional unless it is <c>??</c>, <c>?.</c> or the end of a nullable type.</summary>
    private static int PassQuestionMark(string text, int i, ref int openConditionals)
    {
        var next = i + 1 < text.Length ? text[i + 1] : '\0';
        if (next == '?') return i + 2 < text.Length && text[i + 2] == '=' ? i + 2 : i + 1;
        var isMemberAccess = next == '.' && !(i + 2 < text.Length && char.IsAsciiDigit(text[i + 2]));
        var isNullableType = text.AsSpan(i + 1).TrimStart() is [':', ..];
        if (!isMemberAccess && !isNullableType) openConditionals++;
        return i;
    }

    /// <summary>If a string, a character or a comment starts at <paramref name="i"/>, the index of its last character; else <paramref name="i"/>.</summary>
    private static int SkipString(string text, int i)
    {
        switch (text[i])
        {
            case '"': return SkipQuoted(text, i);
            case '\'': return SkipCharacter(text, i);
            case '/' when i + 1 < text.Length && text[i + 1] == '*':
                var end = text.IndexOf("*/", i + 2, StringComparison.Ordinal);
                return end < 0 ? text.Length : end + 1;
            default: return i;
        }
    }

    private static int SkipQuoted(string text, int i)
    {
        var interpolated = i > 0 && (text[i - 1] == '$' || (text[i - 1] == '@' && i > 1 && text[i - 2] == '$'));
        var verbatim = i > 0 && (text[i - 1] == '@' || (text[i - 1] == '$' && i > 1 && text[i - 2] == '@'));
        var quotes = 1;
        while (i + quotes < text.Length && text[i + quotes] == '"') quotes++;
        if (quotes == 2 || (verbatim && quotes % 2 == 0)) return i + quotes - 1;
        if (quotes >= 3 && !verbatim)
        {
            var close = text.IndexOf(new string('"', quotes), i + quotes, StringComparison.Ordinal);
            return close < 0 ? text.Length : close + quotes - 1;
        }
        for (var k = i + 1; k < text.Length; k++)
        {
            switch (text[k])
            {
                case '\\' when !verbatim: k++; break;
                case '"' when verbatim && k + 1 < text.Length && text[k + 1] == '"': k++; break;
                case '"': return k;
                case '{' when interpolated && k + 1 < text.Length && text[k + 1] == '{': k++; break;
                case '{' when interpolated:
                    k = FindEnd(text, k);
                    if (k < 0) return text.Length;
                    break;
            }
        }
        return text.Length;
    }

    /// <summary>Only <c>'x'</c> and <c>'\n'</c> are characters; any other apostrophe is one.</summary>
    private static int SkipCharacter(string text, int i)
    {
        if (i + 2 < text.Length && text[i + 1] != '\\' && text[i + 2] == '\'') return i + 2;
        if (i + 1 >= text.Length || text[i + 1] != '\\') return i;
        var close = text.IndexOf('\'', Math.Min(i + 3, text.Length));
        return close < 0 ? i : close;
    }
}
