using Markdig.Helpers;
using Markdig.Parsers;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>The text of a footnote: <c>[^name]: …</c>; it goes on in lines that are indented.</summary>
internal sealed class FootnoteBlock(BlockParser parser) : ContainerBlock(parser)
{
    public required string Name { get; init; }

    /// <summary>Whether a mark leads to it.</summary>
    public bool IsUsed { get; set; }

    public bool EndsBlank { get; set; }
}

/// <summary>The mark of a footnote in the text: <c>[^name]</c>.</summary>
internal sealed class FootnoteMark : LeafInline
{
    public required string Name { get; init; }

    /// <summary>Its text; null if there is none.</summary>
    public FootnoteBlock? Definition { get; set; }
}

internal sealed class FootnoteParser : BlockParser
{
    public FootnoteParser() => OpeningCharacters = ['['];

    public override BlockState TryOpen(BlockProcessor processor)
    {
        if (processor.IsCodeIndent) return BlockState.None;
        if (ReadName(processor.Line) is not { } name) return BlockState.None;
        var end = processor.Start + name.Length + 3;
        processor.NewBlocks.Push(new FootnoteBlock(this)
        {
            Name = HoleMarks.Restore(name),
            Line = processor.LineIndex,
            Column = processor.Column,
            Span = new SourceSpan(processor.Start, end),
        });
        processor.GoToColumn(processor.Column + name.Length + 4);
        return BlockState.Continue;
    }

    public override BlockState TryContinue(BlockProcessor processor, Block block)
    {
        var note = (FootnoteBlock)block;
        if (processor.IsBlankLine)
        {
            note.EndsBlank = true;
            return BlockState.ContinueDiscard;
        }
        var startsAnother = processor.CurrentChar == HoleMarks.Open || ReadName(processor.Line) is not null;
        if (!processor.IsCodeIndent && (note.EndsBlank || startsAnother)) return BlockState.None;
        note.EndsBlank = false;
        if (processor.IsCodeIndent) processor.GoToCodeIndent();
        return BlockState.Continue;
    }

    /// <summary>The name of the footnote whose text begins a line; null if none does.</summary>
    private static string? ReadName(StringSlice line) =>
        FootnoteMarkParser.ReadName(line.Text, line.Start, line.End) is { } name && line.Start + name.Length + 3 is var end && end <= line.End && line.Text[end] == ':' ? name : null;
}

internal sealed class FootnoteMarkParser : InlineParser
{
    public FootnoteMarkParser() => OpeningCharacters = ['['];

    /// <summary>The name in <c>[^name]</c> at a place; null if there is none.</summary>
    public static string? ReadName(string text, int start, int last)
    {
        if (start + 3 > last || text[start] != '[' || text[start + 1] != '^') return null;
        var end = start + 2;
        while (end <= last && text[end] is not (']' or '[' or '\n') && !char.IsWhiteSpace(text[end])) end++;
        return end > last || text[end] != ']' || end == start + 2 ? null : text[(start + 2)..end];
    }

    public override bool Match(InlineProcessor processor, ref StringSlice slice)
    {
        if (ReadName(slice.Text, slice.Start, slice.End) is not { } name) return false;
        var from = processor.GetSourcePosition(slice.Start, out var line, out var column);
        processor.Inline = new FootnoteMark
        {
            Name = HoleMarks.Restore(name),
            Line = line,
            Column = column,
            Span = new SourceSpan(from, from + name.Length + 2),
        };
        slice.Start += name.Length + 3;
        return true;
    }
}
