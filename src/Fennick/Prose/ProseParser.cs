using Markdig;
using Markdig.Extensions.EmphasisExtras;
using Markdig.Parsers.Inlines;
using Markdig.Syntax;

namespace Fennick.Prose;

/// <summary>Parses CommonMark with holes.</summary>
internal static class ProseParser
{
    private static readonly MarkdownPipeline Pipeline = CreatePipeline();

    /// <summary>Parses prose whose braces are marked (<see cref="HoleMarks"/>).</summary>
    public static MarkdownDocument Parse(string marked) => Markdown.Parse(marked, Pipeline);

    private static MarkdownPipeline CreatePipeline()
    {
        // Extensions are enabled one by one: generic attributes would eat {n}.
        var builder = new MarkdownPipelineBuilder { PreciseSourceLocation = true };
        builder.UsePipeTables().UseEmphasisExtras(EmphasisExtraOptions.Strikethrough).UseTaskLists();
        builder.BlockParsers.Insert(0, new DirectiveParser());
        builder.InlineParsers.Insert(0, new HoleParser());
        builder.InlineParsers.InsertBefore<EscapeInlineParser>(new EscapedBraceParser());
        return builder.Build();
    }
}
