namespace Fennick.Prose;

/// <summary>The first words in braces that decide how the rest is read.</summary>
internal static class BraceWords
{
    private static readonly string[] Prose = ["style", "colour", "color", "table", "figure", "cite", "pages", "abbr", "series"];

    /// <summary>The directives of one word.</summary>
    public static IReadOnlyList<string> Alone { get; } = ["contents", "bibliography", "landscape", "box"];

    /// <summary>What begins something that an end closes, and takes nothing more.</summary>
    public static IReadOnlyList<string> Beginnings { get; } = ["landscape", "box", "box note", "box key figures", "pull quote", "margin note", "last page"];

    /// <summary>What ends pages, columns and boxes and nothing else.</summary>
    public static IReadOnlyList<string> LayoutEndings { get; } = ["end landscape", "end columns", "end pages", "end box", "end pull quote", "end margin note", "end last page", "end series", "end equations"];

    /// <summary>Whether a directive ends what another began.</summary>
    public static bool IsEnd(string word) => word is "end" or "end for" or "end if" || LayoutEndings.Contains(word);

    private static readonly string[] ExpressionWords = ["new", "await", "not", "typeof", "default", "checked", "unchecked", "from", "stackalloc", "async", "static", "ref", "throw", "nameof", "sizeof", "base", "this"];

    /// <summary>Whether an expression may begin with this word and a space.</summary>
    public static bool BeginsExpression(string word) => ExpressionWords.Contains(word);

    private static readonly string[] Operators = ["is", "as", "with", "switch", "and", "or"];

    /// <summary>Whether what follows a word is the rest of an expression.</summary>
    public static bool IsOperator(string rest) => Operators.Contains(rest.TrimStart().Split(' ', 2)[0]);

    /// <summary>Whether what follows a word is the name of something, and not the rest of an expression.</summary>
    public static bool IsName(string rest) => rest.TrimStart() is [var first, ..] && (char.IsLetter(first) || first is '_' or '{') && !IsOperator(rest);

    /// <summary>Whether what stands in braces is a word whose object is prose.</summary>
    public static bool TakesProse(ReadOnlySpan<char> text)
    {
        text = text.TrimStart();
        foreach (var word in Prose)
        {
            if (!text.StartsWith(word, StringComparison.Ordinal) || text.Length < word.Length + 2 || text[word.Length] != ' ') continue;
            var rest = text[(word.Length + 1)..].TrimStart();
            return rest.Length > 0 && (char.IsLetterOrDigit(rest[0]) || rest[0] is '#' or '_' or '{') && !IsOperator(rest[..Math.Min(rest.Length, 8)].ToString());
        }
        return false;
    }
}
