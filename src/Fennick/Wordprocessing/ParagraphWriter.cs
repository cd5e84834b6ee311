using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Layout;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Wordprocessing;

/// <summary>Writes paragraphs (ECMA-376 Part 1, §17.3.1).</summary>
internal static class ParagraphWriter
{
    /// <summary>Writes a paragraph, and in its properties those of the section that it ends, if it ends one.</summary>
    public static void Write(DocumentContext document, GalleyParagraph paragraph, Action? writeSection = null)
    {
        var style = document.House.Style(paragraph.Style);
        if (paragraph.OpensContents) document.Xml.Raw(ContentsStart);
        // What lists other places is made anew from those.
        var record = IsEntry(paragraph.Style) ? null : document.Record;
        using (document.Xml.Element("w:p"u8))
        {
            if (record is not null) document.WriteMark(record.BeginParagraph(document.House.StyleId(paragraph.Style), paragraph.WrittenAt, paragraph.Label));
            WriteProperties(document, paragraph, style, writeSection);
            if (paragraph.BreaksColumn) document.Xml.Raw("<w:r><w:br w:type=\"column\"/></w:r>"u8);
            foreach (var inline in paragraph.Inlines) RunWriter.Write(document, inline, style.Bold);
            record?.EndParagraph();
        }
        if (paragraph.ClosesContents) document.Xml.Raw("</w:sdtContent></w:sdt>"u8);
    }

    private static bool IsEntry(StyleRole style) => style is (>= StyleRole.Contents1 and <= StyleRole.ContentsOfKind) or StyleRole.Index1 or StyleRole.Index2;

    // §17.5.2.12: word processors offer to renew what stands in this control.
    private static ReadOnlySpan<byte> ContentsStart =>
        "<w:sdt><w:sdtPr><w:docPartObj><w:docPartGallery w:val=\"Table of Contents\"/><w:docPartUnique/></w:docPartObj></w:sdtPr><w:sdtContent>"u8;

    /// <summary>Writes the only paragraph of a cell.</summary>
    public static void WriteInCell(DocumentContext document, GalleyCell cell, int textStep, CellPlacement placement)
    {
        var role = cell.Style.At(textStep);
        using (document.Xml.Element("w:p"u8))
        {
            document.WriteTableMark();
            WriteCellProperties(document, cell, role, placement);
            if (placement.Tab is not null) document.Xml.Raw("<w:r><w:tab/></w:r>"u8);
            document.Record?.BeginCell(cell.ColumnSpan);
            foreach (var inline in cell.Inlines) RunWriter.Write(document, inline, document.House.Style(cell.Style).Bold);
            if (placement.Tab is not null) document.Xml.Raw("<w:r><w:tab/></w:r>"u8);
            foreach (var inline in cell.Sign) RunWriter.Write(document, inline, inBoldParagraph: false);
            document.Record?.EndCell();
        }
    }

    private static void WriteCellProperties(DocumentContext document, GalleyCell cell, StyleRole role, CellPlacement placement)
    {
        var xml = document.Xml;
        var rightToLeft = IsRightToLeft(cell.Inlines);
        var style = document.House.Style(cell.Style);
        using (xml.Element("w:pPr"u8))
        {
            xml.Value("w:pStyle"u8, document.House.StyleId(role));
            if (cell.KeepWithNext && !style.KeepWithNext) xml.Empty("w:keepNext"u8);
            if (placement.Tab is { } tab)
            {
                using (xml.Element("w:tabs"u8))
                {
                    WriteTab(xml, "right"u8, tab);
                    // The next stop has to stand behind the first.
                    WriteTab(xml, "left"u8, tab + 8);
                }
            }
            // Numbers and their heads stand at one edge, which is the right one in any language.
            if (document.House.Language.IsRightToLeft && (placement.Tab is not null || placement.Alignment is Alignment.Right or Alignment.Decimal)) xml.Value("w:bidi"u8, "0"u8);
            else if (rightToLeft) xml.Empty("w:bidi"u8);
            if (placement.IndentLeft != 0 || placement.IndentRight != 0)
            {
                using (xml.Element("w:ind"u8))
                {
                    if (placement.IndentLeft != 0) xml.Attribute("w:left"u8, placement.IndentLeft);
                    if (placement.IndentRight != 0) xml.Attribute("w:right"u8, placement.IndentRight);
                }
            }
            if (placement.Alignment == Alignment.Centre) xml.Value("w:jc"u8, "center"u8);
            else if (placement.Alignment == Alignment.Right && !style.RightAligned) xml.Value("w:jc"u8, "right"u8);
            else if (placement.Alignment == Alignment.Left && style.RightAligned) xml.Value("w:jc"u8, "left"u8);
        }
    }

    private static bool IsRightToLeft(ImmutableArray<GalleyInline> inlines) => inlines is [GalleyText first, ..] && Direction.HasRightToLeft(first.Text) && Direction.StartsRightToLeft(first.Text);

    private static void WriteTab(Utf8XmlWriter xml, ReadOnlySpan<byte> kind, int twips, bool hasLeader = false)
    {
        using (xml.Element("w:tab"u8))
        {
            xml.Attribute("w:val"u8, kind);
            if (hasLeader) xml.Attribute("w:leader"u8, "dot"u8);
            xml.Attribute("w:pos"u8, twips);
        }
    }

    private static void WriteProperties(DocumentContext document, GalleyParagraph paragraph, ParagraphStyle style, Action? writeSection)
    {
        var xml = document.Xml;
        var keeps = paragraph.KeepWithNext && !style.KeepWithNext;
        var rightToLeft = IsRightToLeft(paragraph.Inlines);
        var indented = paragraph.List is null && (paragraph.Indents > 1 || (paragraph.Indents == 1 && paragraph.Style != StyleRole.ListContinue));
        var isDefault = paragraph.Style == StyleRole.Body && !document.House.NamesBodyStyle && !paragraph.IsInCell;
        if (isDefault && !keeps && !rightToLeft && !indented && !paragraph.BreaksPage && paragraph.List is null && writeSection is null) return;
        using (xml.Element("w:pPr"u8))
        {
            if (!isDefault) xml.Value("w:pStyle"u8, document.House.StyleId(paragraph.Style));
            if (keeps) xml.Empty("w:keepNext"u8);
            if (paragraph.BreaksPage) xml.Empty("w:pageBreakBefore"u8);
            // Not every reader takes frames from styles.
            if (style.InMargin) StylesPart.WriteFrame(xml, document.House.Page);
            if (paragraph.List is { } place)
            {
                using (xml.Element("w:numPr"u8))
                {
                    xml.Value("w:ilvl"u8, Math.Min(place.Level, 8));
                    xml.Value("w:numId"u8, document.NumberId(place));
                }
            }
            else if (paragraph.IsAppendix) NumberingPart.WritePlace(xml, paragraph.Style - StyleRole.Heading1, document.AppendixNumber);
            else if (paragraph.IsUncounted && document.House.IsCounted(paragraph.Style)) xml.Raw("<w:numPr><w:numId w:val=\"0\"/></w:numPr>"u8);
            if (paragraph.RightTab is { } rightTab)
            {
                using (xml.Element("w:tabs"u8))
                {
                    var centre = paragraph.HasCentreTab ? rightTab.Twips / 2 : -1;
                    foreach (var stop in style.TabStops.IsEmpty ? [document.House.Page.TextWidth] : style.TabStops)
                        if (stop.Twips != rightTab.Twips && stop.Twips != centre) WriteTab(xml, "clear"u8, stop.Twips);
                    if (centre > 0) WriteTab(xml, "center"u8, centre);
                    WriteTab(xml, "right"u8, rightTab.Twips, style.HasLeader);
                }
            }
            if (document.House.Language.IsRightToLeft && paragraph.Style == StyleRole.Listing) xml.Value("w:bidi"u8, "0"u8);
            else if (rightToLeft) xml.Empty("w:bidi"u8);
            if (paragraph.IsTight) xml.Raw("<w:spacing w:after=\"0\"/>"u8);
            if (indented)
            {
                var step = document.House.ListStep;
                using (xml.Element("w:ind"u8)) xml.Attribute("w:left"u8, (style.IndentLeft + (step * (paragraph.Indents - (paragraph.Style == StyleRole.ListContinue ? 1 : 0)))).Twips);
            }
            if (paragraph.Hanging is { } hanging)
            {
                using (xml.Element("w:ind"u8))
                {
                    xml.Attribute("w:left"u8, (style.IndentLeft + hanging).Twips);
                    xml.Attribute("w:hanging"u8, hanging.Twips);
                }
            }
            if (paragraph.Alignment is { } alignment) xml.Value("w:jc"u8, alignment switch { Alignment.Centre => "center"u8, Alignment.Right => "right"u8, _ => "left"u8 });
            writeSection?.Invoke();
        }
    }
}
