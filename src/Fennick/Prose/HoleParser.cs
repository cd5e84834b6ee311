using Markdig.Helpers;
using Markdig.Parsers;

namespace Fennick.Prose;

/// <summary>Finds holes in prose: braces that bind before any other mark-up.</summary>
internal sealed class HoleParser : InlineParser
{
    public HoleParser() => OpeningCharacters = [HoleMarks.Open];

    public override bool Match(InlineProcessor processor, ref StringSlice slice)
    {
        var start = slice.Start;
        var text = HoleMarks.Restore(slice.Text.Substring(start, slice.End - start + 1));
        var end = HoleScanner.FindEnd(text, 0);
        var length = end < 0 ? 1 : end + 1;
        var from = processor.GetSourcePosition(start, out var line, out var column);
        processor.Inline = new HoleInline
        {
            Source = end < 0 ? "" : text[1..end],
            HasEnd = end >= 0,
            Line = line,
            Column = column,
            Span = new Markdig.Syntax.SourceSpan(from, processor.GetSourcePosition(start + length - 1)),
        };
        slice.Start = start + length;
        return true;
    }
}
