using Markdig.Helpers;
using Markdig.Parsers;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>Reads <c>\{</c> as a brace; the stand-in marks hide it from Markdown's own escapes.</summary>
internal sealed class EscapedBraceParser : InlineParser
{
    public EscapedBraceParser() => OpeningCharacters = ['\\'];

    public override bool Match(InlineProcessor processor, ref StringSlice slice)
    {
        var escaped = slice.PeekChar();
        if (escaped is not (HoleMarks.Open or HoleMarks.Close)) return false;
        var from = processor.GetSourcePosition(slice.Start, out var line, out var column);
        processor.Inline = new LiteralInline(escaped == HoleMarks.Open ? "{" : "}")
        {
            Line = line,
            Column = column,
            Span = new SourceSpan(from, from + 1),
        };
        slice.Start += 2;
        return true;
    }
}
