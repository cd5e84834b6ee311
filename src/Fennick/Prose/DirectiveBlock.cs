using Markdig.Parsers;
using Markdig.Syntax;

namespace Fennick.Prose;

/// <summary>Braces alone on their line that say what becomes of the blocks around them: a loop, a condition, the end of one, a new page.</summary>
internal sealed class DirectiveBlock(BlockParser parser) : LeafBlock(parser)
{
    /// <summary>What stands between the braces.</summary>
    public required string Source { get; init; }
}

/// <summary>Finds directives: they end a paragraph, so that no empty line is needed around them.</summary>
internal sealed class DirectiveParser : BlockParser
{
    private static readonly string[] Words =
    [
        "for each ", "if ", "else if ", "else", "end", "end for", "end if", "page break", "contents", "contents:", "list of ", "index of terms", "appendix", "bibliography", "columns ", "pages ", "next column", "box:", "box note:", "include ", "table ", "figure ", "series ", "equations ",
        .. BraceWords.Beginnings, .. BraceWords.LayoutEndings,
    ];

    public DirectiveParser() => OpeningCharacters = [HoleMarks.Open];

    public override bool CanInterrupt(BlockProcessor processor, Block block) => true;

    public override BlockState TryOpen(BlockProcessor processor)
    {
        if (processor.IsCodeIndent) return BlockState.None;
        var line = HoleMarks.Restore(processor.Line.ToString()).TrimEnd();
        if (HoleScanner.FindEnd(line, 0) != line.Length - 1) return BlockState.None;
        var source = line[1..^1];
        var text = source.Trim();
        if (!Words.Any(w => w[^1] is ' ' or ':' ? text.StartsWith(w, StringComparison.Ordinal) : text == w)) return BlockState.None;
        // `{table is { Rows: 0 }}` is a value.
        if (text.Split(' ')[0] is "table" or "figure" or "include" && BraceWords.IsOperator(text[(text.IndexOf(' ') + 1)..])) return BlockState.None;
        if (text.Split(' ')[0] is "series" or "equations" && !BraceWords.IsName(text[(text.IndexOf(' ') + 1)..])) return BlockState.None;
        processor.NewBlocks.Push(new DirectiveBlock(this)
        {
            Source = source,
            Column = processor.Column,
            Line = processor.LineIndex,
            Span = new SourceSpan(processor.Start, processor.Line.End),
        });
        return BlockState.BreakDiscard;
    }
}
