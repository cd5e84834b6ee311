using System.Buffers;
using Fennick.Diagnostics;
using Markdig;
using Markdig.Extensions.EmphasisExtras;
using Markdig.Parsers.Inlines;
using Markdig.Syntax;

namespace Fennick.Prose;

/// <summary>Parses CommonMark with holes.</summary>
internal static class ProseParser
{
    private const int Deepest = 100;
    private static readonly SearchValues<char> Marks = SearchValues.Create(" \t>-*+");
    private static readonly MarkdownPipeline Pipeline = CreatePipeline();

    /// <summary>Parses prose whose braces are marked (<see cref="HoleMarks"/>).</summary>
    public static MarkdownDocument Parse(string marked)
    {
        CheckDepth(marked);
        MarkdownDocument document;
        try
        {
            document = Markdown.Parse(marked, Pipeline);
        }
        // What the parser says of marks that stand in one another beyond its own measure.
        catch (ArgumentException problem) when (problem.Message.Contains("nested", StringComparison.Ordinal))
        {
            throw TooDeep(null);
        }
        if (!marked.Contains("[^", StringComparison.Ordinal)) return document;
        var notes = document.Descendants<FootnoteBlock>().DistinctBy(n => n.Name).ToDictionary(n => n.Name);
        foreach (var mark in document.Descendants<FootnoteMark>())
        {
            mark.Definition = notes.GetValueOrDefault(mark.Name);
            mark.Definition?.IsUsed = true;
        }
        return document;
    }

    /// <summary>Refuses lists and quotations that stand in one another more often than anybody writes, before they take time.</summary>
    private static void CheckDepth(string marked)
    {
        foreach (var line in marked.AsSpan().EnumerateLines())
        {
            // Only a mark of a quotation or a list opens one, and a line of nothing but hyphens or stars is a rule.
            if (line.TrimStart() is not (['>', ..] or ['-' or '*' or '+', ' ', ..]) || line.IndexOfAnyExcept(" \t-") < 0 || line.IndexOfAnyExcept(" \t*") < 0) continue;
            var end = line.IndexOfAnyExcept(Marks);
            var marks = end < 0 ? line : line[..end];
            var spaces = marks.Count(' ') + (4 * marks.Count('\t'));
            var depth = line.IndexOfAnyExcept(" \t>") < 0 ? line.Count('>') : marks.Length - marks.Count(' ') - marks.Count('\t') + (spaces / 2);
            if (depth > Deepest) throw TooDeep(line.ToString().Trim());
        }
    }

    private static ReportException TooDeep(string? line) => new(Diagnostic.Error(null, "the text is nested too deeply: lists, quotations, links or emphasis stand in one another more than a hundred times", line is { Length: > 0 } ? $"look at `{(line.Length > 40 ? $"{line[..40]}…" : line)}`" : "look for brackets or stars that are never closed"));

    /// <summary>Parses prose that stands in a longer text; every place in it is brought to that text's.</summary>
    /// <param name="text">The prose, with braces as they are.</param>
    /// <param name="toSource">From an offset in the prose to one in the longer text.</param>
    public static MarkdownDocument Parse(string text, Func<int, int> toSource)
    {
        var document = Parse(HoleMarks.Mark(text));
        foreach (var node in document.Descendants())
        {
            if (!node.Span.IsEmpty) node.Span = new SourceSpan(toSource(node.Span.Start), toSource(node.Span.End));
            (node as FormulaBlock)?.Move(toSource);
        }
        return document;
    }

    /// <summary>What is wrong with the footnotes of a text.</summary>
    public static IEnumerable<Diagnostic> FindMistakes(MarkdownDocument document, Func<int, SourcePlace?> placeOf)
    {
        foreach (var mark in document.Descendants<FootnoteMark>())
        {
            var place = placeOf(mark.Span.Start);
            if (mark.Definition is null)
                yield return Diagnostic.Error(place, $"there is no footnote `{mark.Name}`", Nearest.Suggest(mark.Name, document.Descendants<FootnoteBlock>().Select(n => n.Name)) ?? $"write its text on a line of its own: `[^{mark.Name}]: …`");
            else if (mark.ParentBlock() is { } parent && IsIn<FootnoteBlock>(parent))
                yield return Diagnostic.Error(place, "a footnote cannot hold a footnote", "put its words into the outer one");
        }
        var known = new HashSet<string>();
        foreach (var note in document.Descendants<FootnoteBlock>())
        {
            var place = placeOf(note.Span.Start);
            if (note.Count == 0) yield return Diagnostic.Error(place, $"the footnote `{note.Name}` has no text", $"write it after `[^{note.Name}]:`");
            if (!known.Add(note.Name)) yield return Diagnostic.Error(place, $"there are two footnotes `{note.Name}`", "give one of them another name");
            else if (!note.IsUsed) yield return Diagnostic.Warning(place, $"nothing leads to the footnote `{note.Name}`", $"write `[^{note.Name}]` where its mark is to stand, or leave it out");
        }
    }

    private static bool IsIn<T>(Block? block)
        where T : Block
    {
        for (; block is not null; block = block.Parent)
            if (block is T) return true;
        return false;
    }

    /// <summary>The block that an inline stands in, however deep.</summary>
    internal static LeafBlock? ParentBlock(this Markdig.Syntax.Inlines.Inline inline)
    {
        var outermost = inline.Parent;
        while (outermost?.Parent is { } parent) outermost = parent;
        return outermost?.ParentBlock;
    }

    private static MarkdownPipeline CreatePipeline()
    {
        // Extensions are enabled one by one: generic attributes would eat {n}.
        var builder = new MarkdownPipelineBuilder { PreciseSourceLocation = true };
        builder.UsePipeTables().UseEmphasisExtras(EmphasisExtraOptions.Strikethrough).UseTaskLists().UseDefinitionLists();
        builder.BlockParsers.Insert(0, new DirectiveParser());
        builder.BlockParsers.Insert(0, new FootnoteParser());
        builder.BlockParsers.Insert(0, new FormulaBlockParser());
        builder.InlineParsers.Insert(0, new HoleParser());
        builder.InlineParsers.Insert(0, new FormulaSpanParser());
        builder.InlineParsers.InsertBefore<EscapeInlineParser>(new EscapedBraceParser());
        builder.InlineParsers.InsertBefore<LinkInlineParser>(new FootnoteMarkParser());
        return builder.Build();
    }
}
