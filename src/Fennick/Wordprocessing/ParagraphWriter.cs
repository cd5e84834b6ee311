using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes paragraphs (ECMA-376 Part 1, §17.3.1).</summary>
internal static class ParagraphWriter
{
    public static void Write(DocumentContext document, FlowParagraph paragraph)
    {
        var style = document.House.Style(paragraph.Style);
        using (document.Xml.Element("w:p"u8))
        {
            WriteProperties(document, paragraph, style);
            foreach (var inline in paragraph.Inlines) RunWriter.Write(document, inline, style.Bold);
        }
    }

    private static void WriteProperties(DocumentContext document, FlowParagraph paragraph, ParagraphStyle style)
    {
        var xml = document.Xml;
        var keeps = paragraph.KeepWithNext && !style.KeepWithNext;
        var rightToLeft = paragraph.Inlines is [FlowText first, ..] && Direction.HasRightToLeft(first.Text) && Direction.StartsRightToLeft(first.Text);
        var indented = paragraph.List is null && (paragraph.Indents > 1 || (paragraph.Indents == 1 && paragraph.Style != StyleRole.ListContinue));
        if (paragraph.Style == StyleRole.Body && !keeps && !rightToLeft && !indented && paragraph.List is null) return;
        using (xml.Element("w:pPr"u8))
        {
            if (paragraph.Style != StyleRole.Body) xml.Value("w:pStyle"u8, document.House.StyleId(paragraph.Style));
            if (keeps) xml.Empty("w:keepNext"u8);
            if (paragraph.List is { } place)
            {
                using (xml.Element("w:numPr"u8))
                {
                    xml.Value("w:ilvl"u8, Math.Min(place.Level, 8));
                    xml.Value("w:numId"u8, document.NumberId(place));
                }
            }
            if (rightToLeft) xml.Empty("w:bidi"u8);
            if (indented)
            {
                var step = Fitting.ListIndent(document.House);
                using (xml.Element("w:ind"u8)) xml.Attribute("w:left"u8, (style.IndentLeft + (step * (paragraph.Indents - (paragraph.Style == StyleRole.ListContinue ? 1 : 0)))).Twips);
            }
            if (paragraph.Centred) xml.Value("w:jc"u8, "center"u8);
        }
    }
}
