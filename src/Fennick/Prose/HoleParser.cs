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
        var (text, end) = Find(slice, start);
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

    /// <summary>The text from a brace on and where that closes; -1 if it does not. Most are short, so that no more of a long paragraph is looked at than is needed.</summary>
    private static (string Text, int End) Find(StringSlice slice, int start)
    {
        const int usual = 256;
        const int more = 16;
        var rest = slice.End - start + 1;
        for (var window = usual; ; window *= more)
        {
            // What is cut off closes no string and no brace too early.
            var text = HoleMarks.Restore(slice.Text.Substring(start, Math.Min(window, rest)));
            var end = HoleScanner.FindEnd(text, 0);
            if (end >= 0 || window >= rest) return (text, end);
        }
    }
}
