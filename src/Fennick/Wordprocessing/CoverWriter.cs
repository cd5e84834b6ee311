using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes a cover: a table as large as the paper, on a page without margins.</summary>
internal static class CoverWriter
{
    // What is left free at the bottom for the paragraph that ends the page, so that it never makes two.
    private static readonly Length Free = Length.FromPoints(13);
    private static readonly Length SpaceUnderPanel = Length.Centimetres(0.8);

    private static ReadOnlySpan<byte> LookOfLast => "<w:tblLook w:val=\"0640\" w:firstRow=\"0\" w:lastRow=\"1\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"1\" w:noVBand=\"1\"/>"u8;

    public static void Write(DocumentContext document, GalleyCover cover)
    {
        var (xml, page) = (document.Xml, cover.Page);
        var panel = page.Height * (cover.IsLast ? CoverDesign.LastShare : document.House.Design.Cover.Share);
        using (xml.Element("w:tbl"u8))
        {
            using (xml.Element("w:tblPr"u8))
            {
                xml.Value("w:tblStyle"u8, document.House.Design.Cover.StyleId);
                if (document.House.Language.IsRightToLeft) xml.Empty("w:bidiVisual"u8);
                TableWriter.WriteWidth(xml, "w:tblW"u8, page.Width.Twips);
                xml.Raw("<w:tblLayout w:type=\"fixed\"/>"u8);
                if (cover.IsLast) xml.Raw(LookOfLast);
                else TableWriter.WriteLook(xml, header: true, bands: false);
                xml.Value("w:tblCaption"u8, cover.Title);
            }
            using (xml.Element("w:tblGrid"u8))
            using (xml.Element("w:gridCol"u8)) xml.Attribute("w:w"u8, page.Width.Twips);
            var rest = page.Height - panel - Free;
            if (cover.IsLast)
            {
                WriteRow(document, page, rest, Length.Zero, cover.Foot);
                WriteRow(document, page, panel, SpaceUnderPanel, cover.Panel);
                return;
            }
            WriteRow(document, page, panel, Length.Zero, cover.Panel);
            WriteRow(document, page, rest, SpaceUnderPanel, cover.Foot);
        }
    }

    private static void WriteRow(DocumentContext document, PageGeometry page, Length height, Length above, ImmutableArray<GalleyParagraph> paragraphs)
    {
        var xml = document.Xml;
        using (xml.Element("w:tr"u8))
        {
            using (xml.Element("w:trPr"u8))
            {
                xml.Empty("w:cantSplit"u8);
                using (xml.Element("w:trHeight"u8))
                {
                    xml.Attribute("w:val"u8, height.Twips);
                    xml.Attribute("w:hRule"u8, "exact"u8);
                }
            }
            using (xml.Element("w:tc"u8))
            {
                using (xml.Element("w:tcPr"u8))
                {
                    TableWriter.WriteWidth(xml, "w:tcW"u8, page.Width.Twips);
                    using (xml.Element("w:tcMar"u8))
                    {
                        TableWriter.WriteWidth(xml, "w:top"u8, above.Twips);
                        TableWriter.WriteWidth(xml, "w:left"u8, page.Left.Twips);
                        TableWriter.WriteWidth(xml, "w:right"u8, page.Right.Twips);
                    }
                }
                foreach (var paragraph in paragraphs) ParagraphWriter.Write(document, paragraph);
            }
        }
    }
}
