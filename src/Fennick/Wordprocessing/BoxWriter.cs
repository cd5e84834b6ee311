using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes boxes and tiles: tables that lay out, without heads, whose look stands in their table style.</summary>
internal static class BoxWriter
{
    public static void Write(DocumentContext document, GalleyBox box, FittedDocument fitted, ref int table)
    {
        var xml = document.Xml;
        var design = document.House.Design.Boxes[(int)box.Look];
        int[] widths = [.. Enumerable.Range(0, box.Rows[0].Length).Select(c => box.WidthOf(c).Twips)];
        using (xml.Element("w:tbl"u8))
        {
            using (xml.Element("w:tblPr"u8))
            {
                xml.Value("w:tblStyle"u8, design.StyleId);
                if (document.House.Language.IsRightToLeft) xml.Empty("w:bidiVisual"u8);
                TableWriter.WriteWidth(xml, "w:tblW"u8, widths.Sum());
                if (box.Indents > 0) TableWriter.WriteWidth(xml, "w:tblInd"u8, (document.House.ListStep * box.Indents).Twips);
                xml.Raw("<w:tblLayout w:type=\"fixed\"/>"u8);
                TableWriter.WriteLook(xml, header: false, bands: false);
                if (box.Title.Length > 0) xml.Value("w:tblCaption"u8, box.Title);
            }
            using (xml.Element("w:tblGrid"u8))
            {
                foreach (var width in widths)
                    using (xml.Element("w:gridCol"u8)) xml.Attribute("w:w"u8, width);
            }
            foreach (var row in box.Rows)
            {
                using (xml.Element("w:tr"u8))
                {
                    // A box may be longer than a page; tiles never are.
                    if (box.IsInOnePiece) xml.Raw("<w:trPr><w:cantSplit/></w:trPr>"u8);
                    foreach (var (column, blocks) in row.Index())
                    {
                        var room = box.RoomOf(column, design);
                        using (xml.Element("w:tc"u8))
                        {
                            using (xml.Element("w:tcPr"u8))
                            {
                                TableWriter.WriteWidth(xml, "w:tcW"u8, widths[column]);
                                if (box.GutterBefore(column) is var gutter && gutter > Length.Zero)
                                    using (xml.Element("w:tcMar"u8)) TableWriter.WriteWidth(xml, "w:start"u8, gutter.Twips);
                            }
                            foreach (var block in blocks) DocumentPart.WriteBlock(document, block, room, fitted, ref table, null);
                        }
                    }
                }
            }
        }
    }
}
