using Markdig.Helpers;
using Markdig.Parsers;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>A displayed formula: what stands between two <c>$$</c>, of which the first begins a line and the second ends one, but for a label.</summary>
internal sealed class FormulaBlock(BlockParser parser) : LeafBlock(parser)
{
    /// <summary>What stands after the closing dollars, such as <c>{label growth}</c>.</summary>
    public string Tail { get; set; } = "";

    /// <summary>Where that starts.</summary>
    public int TailOffset { get; set; }

    public bool HasEnd { get; set; }

    /// <summary>Its text, with marked braces, and for each line where it starts in that and in the prose.</summary>
    public List<(string Text, int Offset)> Pieces { get; } = [];

    public string Text => string.Join('\n', Pieces.Select(p => p.Text));

    /// <summary>The offset in the prose of an offset in the text.</summary>
    public int ToSource(int offset)
    {
        foreach (var (text, start) in Pieces)
        {
            if (offset <= text.Length) return start + offset;
            offset -= text.Length + 1;
        }
        return Span.End;
    }

    /// <summary>Moves all places.</summary>
    public void Move(Func<int, int> toSource)
    {
        for (var i = 0; i < Pieces.Count; i++) Pieces[i] = Pieces[i] with { Offset = toSource(Pieces[i].Offset) };
        TailOffset = toSource(TailOffset);
    }
}

/// <summary>A formula in a line; its braces are marked.</summary>
internal sealed class FormulaSpan : LeafInline
{
    public required string Text { get; init; }

    /// <summary>How many dollars stand before and after it.</summary>
    public required int Dollars { get; init; }
}

internal sealed class FormulaBlockParser : BlockParser
{
    private const string Mark = "$$";

    public FormulaBlockParser() => OpeningCharacters = ['$'];

    public override BlockState TryOpen(BlockProcessor processor)
    {
        if (processor.IsCodeIndent) return BlockState.None;
        var line = processor.Line.ToString();
        if (!line.StartsWith(Mark, StringComparison.Ordinal)) return BlockState.None;
        var block = new FormulaBlock(this) { Line = processor.LineIndex, Column = processor.Column, Span = new SourceSpan(processor.Start, processor.Line.End) };
        // Closed within the line but for words after it, it is a part of a paragraph.
        if (!Take(block, line[2..], processor.Start + 2) && line.IndexOf(Mark, 2, StringComparison.Ordinal) >= 0) return BlockState.None;
        processor.NewBlocks.Push(block);
        return block.HasEnd ? BlockState.BreakDiscard : BlockState.ContinueDiscard;
    }

    public override BlockState TryContinue(BlockProcessor processor, Block block)
    {
        var formula = (FormulaBlock)block;
        if (processor.IsBlankLine) return BlockState.None;
        formula.Span.End = processor.Line.End;
        return Take(formula, processor.Line.ToString(), processor.Start) ? BlockState.BreakDiscard : BlockState.ContinueDiscard;
    }

    /// <summary>Takes a line; true if the formula ends in it.</summary>
    private static bool Take(FormulaBlock block, string line, int offset)
    {
        var end = line.LastIndexOf(Mark, StringComparison.Ordinal);
        if (end >= 0)
        {
            var tail = line[(end + 2)..].Trim();
            if (tail.Length > 0 && tail[0] != HoleMarks.Open) return false;
            block.HasEnd = true;
            block.Tail = HoleMarks.Restore(tail);
            block.TailOffset = offset + end + 2 + (line[(end + 2)..].Length - line[(end + 2)..].TrimStart().Length);
        }
        block.Pieces.Add((end >= 0 ? line[..end] : line, offset));
        return block.HasEnd;
    }
}

internal sealed class FormulaSpanParser : InlineParser
{
    public FormulaSpanParser() => OpeningCharacters = ['$'];

    /// <remarks>An opener has no space after it and no brace, a closer no space before it and no digit after it: "$5 to $10" is money.</remarks>
    public override bool Match(InlineProcessor processor, ref StringSlice slice)
    {
        var text = slice.Text;
        var dollars = slice.PeekChar() == '$' ? 2 : 1;
        var start = slice.Start + dollars;
        if (start > slice.End || char.IsWhiteSpace(text[start]) || text[start] is HoleMarks.Open or '$') return false;
        for (var end = start + 1; end + dollars - 1 <= slice.End; end++)
        {
            if (text[end] == '\\')
            {
                end++;
                continue;
            }
            if (text[end] != '$') continue;
            var after = end + dollars <= slice.End ? text[end + dollars] : ' ';
            if ((dollars == 2 && text[end + 1] != '$') || char.IsWhiteSpace(text[end - 1]) || char.IsAsciiDigit(after) || (dollars == 1 && after == '$')) return false;
            var from = processor.GetSourcePosition(slice.Start, out var line, out var column);
            processor.Inline = new FormulaSpan
            {
                Text = text[start..end],
                Dollars = dollars,
                Line = line,
                Column = column,
                Span = new SourceSpan(from, processor.GetSourcePosition(end + dollars - 1)),
            };
            slice.Start = end + dollars;
            return true;
        }
        return false;
    }
}
