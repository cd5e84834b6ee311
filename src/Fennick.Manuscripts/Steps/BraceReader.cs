using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Prose;

namespace Fennick.Manuscripts.Steps;

/// <summary>What stands between braces.</summary>
internal abstract record Brace
{
    /// <summary>A C# expression.</summary>
    /// <param name="Expression">The expression.</param>
    /// <param name="Format">Its format, if it has one.</param>
    /// <param name="Lead">How much space stands before it.</param>
    internal sealed record Value(string Expression, string? Format, int Lead) : Brace;

    /// <summary>A cross-reference.</summary>
    /// <param name="Labels">What is referred to, as written.</param>
    /// <param name="Part">What of it is shown.</param>
    internal sealed record See(ImmutableArray<string> Labels, SeePart Part) : Brace;

    /// <summary>The label of a heading.</summary>
    internal sealed record Label(string Name) : Brace;

    /// <summary>Nothing that can be placed.</summary>
    internal sealed record Wrong(string Message, string? Suggestion) : Brace;
}

/// <summary>Decides by the first word what braces are, then reads the rest as that word says.</summary>
internal static class BraceReader
{
    /// <summary>Words of the format that this version cannot carry out; two words in a row are never an expression.</summary>
    private static readonly string[] Unavailable =
        ["cite", "contents", "list", "bibliography", "landscape", "columns", "next", "include", "table", "figure", "style", "colour", "color"];

    private static readonly string[] StandAlone = ["contents", "bibliography", "landscape"];

    private static readonly string[] Operators = ["is", "as", "with", "switch"];

    public static Brace Read(string source)
    {
        var text = source.Trim();
        if (text.Length == 0) return new Brace.Wrong("these braces are empty", "write an expression in them, or `\\{` for a brace");
        var end = text.AsSpan().IndexOfAnyExcept(WordCharacters);
        var word = end < 0 ? text : text[..end];
        var rest = end < 0 ? "" : text[end..];
        var isPhrase = rest.Length > 1 && rest[0] == ' ' && (char.IsLetterOrDigit(rest[1]) || rest[1] is '#' or '(' or '_') && !Operators.Contains(rest.Split(' ')[1]);
        if (word == "see" && isPhrase) return ReadSee(rest);
        if (word == "label" && isPhrase) return new Brace.Label(rest.Trim());
        if (word == "see" && rest.Length == 0) return new Brace.Wrong("`{see}` names no label", "write `{see the-label}`");
        if (text is "page break" or "else" or "end" or "end for" or "end if" || (isPhrase && word is "for" or "if") || text.StartsWith("else if ", StringComparison.Ordinal))
            return new Brace.Wrong($"`{{{text}}}` does not stand alone on its line", word == "page" ? "put it on a line of its own" : "put it on a line of its own; inside a paragraph loops and conditions are not available in this version");
        if (Unavailable.Contains(word) && (isPhrase || (rest.Length == 0 && StandAlone.Contains(word))))
            return new Brace.Wrong($"`{{{text}}}` is not available in this version", rest.Length == 0 ? $"write `{{({text})}}` if a value is meant" : null);
        return ReadValue(source);
    }

    /// <summary>Reads <c>a, b: part</c>.</summary>
    private static Brace ReadSee(string text)
    {
        var colon = HoleScanner.FindFormatColon(text);
        var labels = (colon < 0 ? text : text[..colon]).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        var part = colon < 0 ? "" : text[(colon + 1)..].Trim();
        if (labels.Length == 0) return new Brace.Wrong("`{see}` names no label", "write `{see the-label}`");
        switch (part)
        {
            case "": return new Brace.See([.. labels], SeePart.Whole);
            case "number": return new Brace.See([.. labels], SeePart.Number);
            case "title" when labels.Length == 1: return new Brace.See([.. labels], SeePart.Title);
            case "page": return new Brace.Wrong("the page of a reference is not available in this version", "refer to the number or the title");
            default: return new Brace.Wrong($"`{part}` is no part of a reference", Nearest.Suggest(part, ["number", "title"]) ?? "the parts are `number` and, of one thing, `title`");
        }
    }

    private static Brace ReadValue(string source)
    {
        var colon = HoleScanner.FindFormatColon(source);
        var expression = (colon < 0 ? source : source[..colon]).Trim();
        var format = colon < 0 ? null : source[(colon + 1)..].Trim();
        if (expression.Length == 0) return new Brace.Wrong("there is no expression before the colon", "write `{expression:format}`");
        if (format is "") return new Brace.Wrong("there is no format after the colon", "write `{expression:format}`, or leave the colon out");
        return new Brace.Value(expression, format, source.Length - source.TrimStart().Length);
    }

    private static readonly System.Buffers.SearchValues<char> WordCharacters =
        System.Buffers.SearchValues.Create("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789_");
}
