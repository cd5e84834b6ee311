using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Wordprocessing;

/// <summary>Writes tables (ECMA-376 Part 1, §17.4).</summary>
internal static class TableWriter
{
    public static void Write(DocumentContext document, FlowTable table, TableGeometry geometry)
    {
        using (document.Xml.Element("w:tbl"u8))
        {
            WriteProperties(document, table, geometry);
            WriteGrid(document.Xml, geometry);
            foreach (var row in table.Rows) WriteRow(document, row, geometry);
        }
    }

    private static void WriteProperties(DocumentContext document, FlowTable table, TableGeometry geometry)
    {
        var xml = document.Xml;
        using (xml.Element("w:tblPr"u8))
        {
            xml.Value("w:tblStyle"u8, StylesPart.StyleId(table.Ruling));
            WriteWidth(xml, "w:tblW"u8, geometry.Width);
            if (table.Indents > 0) WriteWidth(xml, "w:tblInd"u8, (Fitting.ListIndent(document.House) * table.Indents).Twips);
            xml.Raw("<w:tblLayout w:type=\"fixed\"/>"u8);
            xml.Raw("<w:tblLook w:val=\"0620\" w:firstRow=\"1\" w:lastRow=\"0\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"1\" w:noVBand=\"1\"/>"u8);
            if (table.Title.Length > 0) xml.Value("w:tblCaption"u8, table.Title);
            if (table.Description.Length > 0) xml.Value("w:tblDescription"u8, table.Description);
        }
    }

    private static void WriteGrid(Utf8XmlWriter xml, TableGeometry geometry)
    {
        using (xml.Element("w:tblGrid"u8))
        {
            foreach (var width in geometry.Columns)
                using (xml.Element("w:gridCol"u8)) xml.Attribute("w:w"u8, width);
        }
    }

    private static void WriteRow(DocumentContext document, FlowRow row, TableGeometry geometry)
    {
        using (document.Xml.Element("w:tr"u8))
        {
            document.Xml.Raw(row.IsHeader ? "<w:trPr><w:cantSplit/><w:tblHeader/></w:trPr>"u8 : "<w:trPr><w:cantSplit/></w:trPr>"u8);
            for (var c = 0; c < row.Cells.Length; c++) WriteCell(document, row.Cells[c], geometry.Columns[c]);
        }
    }

    private static void WriteCell(DocumentContext document, FlowCell cell, int width)
    {
        using (document.Xml.Element("w:tc"u8))
        {
            using (document.Xml.Element("w:tcPr"u8)) WriteWidth(document.Xml, "w:tcW"u8, width);
            ParagraphWriter.Write(document, cell.Content);
        }
    }

    private static void WriteWidth(Utf8XmlWriter xml, ReadOnlySpan<byte> element, int twips)
    {
        using (xml.Element(element))
        {
            xml.Attribute("w:w"u8, twips);
            xml.Attribute("w:type"u8, "dxa"u8);
        }
    }
}
