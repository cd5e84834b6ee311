using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;

namespace Fennick.Manuscripts.Parsing;

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
    /// <param name="Form">How it is shown.</param>
    internal sealed record See(ImmutableArray<string> Labels, SeeForm Form) : Brace;

    /// <summary>A term of the index.</summary>
    /// <param name="Term">The term.</param>
    /// <param name="Detail">What of it, as an entry under it.</param>
    internal sealed record Index(string Term, string? Detail) : Brace;

    /// <summary>An abbreviation.</summary>
    /// <param name="Short">The abbreviation.</param>
    /// <param name="Words">Where the words for it start, if it is explained here.</param>
    internal sealed record Abbreviation(string Short, int? Words) : Brace;

    /// <summary>The label of a heading.</summary>
    internal sealed record Label(string Name) : Brace;

    /// <summary>Says that a heading has no number.</summary>
    internal sealed record Unnumbered : Brace;

    /// <summary>Words in a character style of the house, or in a colour.</summary>
    /// <param name="Style">The name of the style.</param>
    /// <param name="Colour">The colour, as six hexadecimal digits.</param>
    /// <param name="Words">Where the words start.</param>
    internal sealed record Dressed(string? Style, string? Colour, int Words) : Brace;

    /// <summary>A citation.</summary>
    internal sealed record Cite(ImmutableArray<CitedSource> Sources, bool IsNamed) : Brace;

    /// <summary>Something about the page or the report, for headers and footers.</summary>
    internal sealed record Page(PageWord Word) : Brace;

    /// <summary>Nothing that can be placed.</summary>
    internal sealed record Wrong(string Message, string? Suggestion) : Brace;
}

/// <summary>Decides by the first word what braces are, then reads the rest as that word says.</summary>
internal static class BraceReader
{
    /// <summary>What stands alone on its line.</summary>
    private static readonly string[] Blocks = ["contents", "bibliography", "page break", "list of tables", "list of figures", "list of abbreviations", "index of terms", "appendix", "next column", .. BraceWords.Beginnings, .. BraceWords.LayoutEndings];

    private static readonly string[] Phrases = [.. Blocks.Where(b => b.Contains(' ')), "page number", "page count", "chapter title", "report date", "report title", "no number"];

    private static readonly string[] Beginnings = ["see", "cite", "label", "style", "colour", "for each", "if", "columns", "pages", "include", "table", "figure", "contents", "box", "series", "equations", "index", "abbr", "list of"];

    public static Brace Read(string source)
    {
        var text = source.Trim();
        if (text.Length == 0) return new Brace.Wrong("these braces are empty", "write an expression in them, or `\\{` for a brace");
        var end = text.AsSpan().IndexOfAnyExcept(WordCharacters);
        var word = end < 0 ? text : text[..end];
        var rest = end < 0 ? "" : text[end..];
        var isPhrase = rest.Length > 1 && rest[0] == ' ' && (char.IsLetterOrDigit(rest[1]) || rest[1] is '#' or '(' or '_' or '{') && !BraceWords.IsOperator(rest);
        switch (text)
        {
            case "no number": return new Brace.Unnumbered();
            case "unnumbered": return new Brace.Wrong("`{unnumbered}` is now `{no number}`", "write that, or `{(unnumbered)}` if a value is meant");
            case "page number": return new Brace.Page(PageWord.Number);
            case "page count": return new Brace.Page(PageWord.Count);
            case "chapter title": return new Brace.Page(PageWord.Chapter);
            case "report date": return new Brace.Page(PageWord.Date);
            case "report title": return new Brace.Page(PageWord.Title);
        }
        if (word == "see" && isPhrase) return ReadSee(rest);
        if (word == "cite" && isPhrase) return ReadCite(rest.Trim());
        if (word == "label" && isPhrase) return new Brace.Label(rest.Trim());
        if (word == "index" && isPhrase && text != "index of terms") return ReadIndex(rest.Trim());
        if (word == "abbr" && isPhrase) return ReadAbbreviation(source);
        if (word == "cite" && rest.Length == 0) return new Brace.Wrong("`{cite}` names no source", "write `{cite key}`");
        if (word == "see" && rest.Length == 0) return new Brace.Wrong("`{see}` names no label", "write `{see the-label}`");
        if (word is "style" or "colour" or "color" && isPhrase) return ReadDressed(source, word);
        if (word == "for" && isPhrase && !rest.StartsWith(" each ", StringComparison.Ordinal)) return new Brace.Wrong($"`{{{text}}}` is not a loop", "write `{for each name in list}` on a line of its own");
        if (Blocks.Contains(text) || (isPhrase && word is "include" or "table" or "figure" or "for" or "if" or "columns" or "pages") || (word is "series" or "equations" && BraceWords.IsName(rest)) || text.StartsWith("list of ", StringComparison.Ordinal) || text is "else" or "end" or "end for" or "end if" || text.StartsWith("else if ", StringComparison.Ordinal))
            return new Brace.Wrong($"`{{{text}}}` does not stand alone on its line", rest.Length == 0 ? $"put it on a line of its own, or write `{{({text})}}` if a value is meant" : "put it on a line of its own");
        return FindPhrase(text, word, rest) ?? ReadValue(source);
    }

    /// <summary>Two words in a row are no expression; they are what Fennick knows, misspelt, or nothing.</summary>
    private static Brace.Wrong? FindPhrase(string text, string word, string rest)
    {
        if (word.Length == 0 || !word.All(char.IsAsciiLetter) || rest.Length < 2 || rest[0] != ' ' || !(char.IsLetterOrDigit(rest[1]) || rest[1] == '_') || BraceWords.IsOperator(rest) || BraceWords.BeginsExpression(word)) return null;
        // The whole phrase, or its first word with what belongs to it.
        var near = Nearest.Find(text, Phrases) ?? (Nearest.Find(word, Beginnings) is { } beginning ? $"{beginning}{rest}" : null);
        return new Brace.Wrong($"`{{{text}}}` is neither an expression nor anything that Fennick knows", near is null ? "write an expression, or `\\{` for a brace" : $"did you mean `{{{near}}}`?");
    }

    /// <summary>Reads <c>a, b: part</c>.</summary>
    private static Brace ReadSee(string text)
    {
        var colon = HoleScanner.FindFormatColon(text);
        var labels = (colon < 0 ? text : text[..colon]).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        var part = colon < 0 ? "" : text[(colon + 1)..].Trim();
        if (labels.Length == 0) return new Brace.Wrong("`{see}` names no label", "write `{see the-label}`");
        var isOne = labels.Length == 1;
        SeeForm? form = part switch
        {
            "" => new SeeForm(SeePart.Whole),
            "number" => new SeeForm(SeePart.Number),
            "title" when isOne => new SeeForm(SeePart.Title),
            "page" when isOne => new SeeForm(SeePart.Page),
            "where" when isOne => new SeeForm(SeePart.Where),
            ['(', >= 'a' and <= 'z' and var letter, ')'] when isOne => new SeeForm(SeePart.Whole) { Panel = letter },
            _ when part.StartsWith("as ", StringComparison.Ordinal) => new SeeForm(SeePart.Whole) { Word = part[3..].Trim() },
            _ when Cases.IndexOf(part) is >= 0 and var index => new SeeForm(SeePart.Whole) { Case = (WordCase)(index + 1) },
            _ => null,
        };
        return form is not null ? new Brace.See([.. labels], form)
            : !isOne && (Parts.Contains(part) || part is ['(', ..]) ? new Brace.Wrong($"`{part}` is not a part of a reference to several things", "refer to each of them, or take the part out")
            : new Brace.Wrong($"`{part}` is not a part of a reference", Nearest.Suggest(part, [.. Parts, .. Cases]) ?? $"the parts are `number`, `as WORD`, the cases {string.Join(", ", Cases.Select(c => $"`{c}`"))} and, of one thing, `title`, `page`, `where`, and `(b)` for one of its panels");
    }

    /// <summary>What of one thing a reference may show instead of its number.</summary>
    internal static readonly ImmutableArray<string> Parts = ["number", "title", "page", "where"];

    private static readonly ImmutableArray<string> Cases = ["genitive", "dative", "accusative", "instrumental", "locative"];

    /// <summary>Reads <c>honey</c> and <c>honey: weight of</c>.</summary>
    private static Brace ReadIndex(string text)
    {
        // A colon within a value is the value's.
        var colon = -1;
        for (var at = 0; at < text.Length && colon < 0; at++)
        {
            if (text[at] == '{' && HoleScanner.FindEnd(text, at) is > 0 and var end) at = end;
            else if (text[at] == ':' && at + 1 < text.Length && text[at + 1] == ' ') colon = at;
        }
        string[] parts = colon < 0 ? [text] : [text[..colon].Trim(), text[(colon + 1)..].Trim()];
        return parts.Any(p => p.Length == 0) ? new Brace.Wrong($"`{{index {text}}}` names no term", "write `{index honey}`, or `{index honey: weight}` for an entry under another") : new Brace.Index(parts[0], parts.Length > 1 ? parts[1] : null);
    }

    /// <summary>Reads <c>abbr GDP: gross domestic product</c> and <c>abbr GDP</c>.</summary>
    private static Brace ReadAbbreviation(string source)
    {
        var start = source.IndexOf("abbr", StringComparison.Ordinal) + "abbr".Length;
        var colon = source.IndexOf(':', start);
        var name = (colon < 0 ? source[start..] : source[start..colon]).Trim();
        if (colon >= 0 && string.IsNullOrWhiteSpace(source[(colon + 1)..])) return new Brace.Wrong($"`{{{source.Trim()}}}` has no words", $"write `{{abbr {name}: what it stands for}}`");
        if (name.Contains('{', StringComparison.Ordinal)) return new Brace.Wrong($"`{{{source.Trim()}}}` has a value for an abbreviation", "write the abbreviation itself; only its words may hold values");
        return new Brace.Abbreviation(name, colon < 0 ? null : colon + 1);
    }

    /// <summary>Reads <c>hale2019 at p. 33, moss04</c> and <c>hale2019: named</c>.</summary>
    private static Brace ReadCite(string text)
    {
        var colon = text.LastIndexOf(": ", StringComparison.Ordinal);
        var manner = colon < 0 ? "" : text[(colon + 2)..].Trim();
        if (manner is not ("" or "named")) return new Brace.Wrong($"`{manner}` is not a manner of citing", "write `{cite key: named}` for names in the sentence, or leave it out");
        var sources = ImmutableArray.CreateBuilder<CitedSource>();
        foreach (var part in (colon < 0 ? text : text[..colon]).Split(',', StringSplitOptions.TrimEntries))
        {
            var words = part.Split(' ', 2, StringSplitOptions.TrimEntries);
            if (words[0].Length == 0) return new Brace.Wrong("a key is missing in this citation", "write `{cite key}` or `{cite key, other}`");
            if (words.Length > 1 && !words[1].StartsWith("at ", StringComparison.Ordinal)) return new Brace.Wrong($"`{part}` is not a source", $"write `{{cite {words[0]} at {words[1]}}}` for a place in it, and a comma between sources");
            sources.Add(new CitedSource(words[0], words.Length > 1 ? words[1]["at ".Length..].Trim() : ""));
        }
        return new Brace.Cite(sources.ToImmutable(), manner == "named");
    }

    /// <summary>Reads <c>style Warning: words</c> and <c>colour #9A3412: words</c>.</summary>
    private static Brace ReadDressed(string source, string word)
    {
        var start = source.IndexOf(word, StringComparison.Ordinal) + word.Length;
        var colon = source.IndexOf(':', start);
        var name = (colon < 0 ? source[start..] : source[start..colon]).Trim();
        if (colon < 0) return new Brace.Wrong($"`{{{source.Trim()}}}` has no words", $"write `{{{word} {name}: words}}`");
        if (word == "style") return new Brace.Dressed(name, null, colon + 1);
        if (ColouredInline.Read(name) is { } colour) return new Brace.Dressed(null, colour, colon + 1);
        var wrong = ColouredInline.Wrong(name, null);
        return new Brace.Wrong(wrong.Message, wrong.Suggestion);
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
