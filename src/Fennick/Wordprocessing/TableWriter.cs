using Fennick.Flow;
using Fennick.Layout;
using Fennick.Styles;

namespace Fennick.Wordprocessing;

/// <summary>Writes tables (ECMA-376 Part 1, §17.4).</summary>
internal static class TableWriter
{
    public static void Write(DocumentContext document, GalleyTable table, TableGeometry geometry)
    {
        var ruling = document.House.Ruling(table.Ruling);
        using (document.Xml.Element("w:tbl"u8))
        {
            WriteProperties(document, table, geometry, ruling);
            WriteGrid(document.Xml, geometry);
            document.TableMark = document.Record?.BeginTable(table.Rows.Count, table.WrittenAt ?? table.Place, table.Label) ?? 0;
            foreach (var row in table.Rows)
            {
                WriteRow(document, row, geometry, ruling);
                document.Drain();
            }
            document.Record?.EndTable();
        }
    }

    private static void WriteProperties(DocumentContext document, GalleyTable table, TableGeometry geometry, RulingDesign ruling)
    {
        var xml = document.Xml;
        using (xml.Element("w:tblPr"u8))
        {
            xml.Value("w:tblStyle"u8, ruling.StyleId);
            if (document.House.Language.IsRightToLeft) xml.Empty("w:bidiVisual"u8);
            WriteWidth(xml, "w:tblW"u8, geometry.Width);
            if (table.Indents > 0) WriteWidth(xml, "w:tblInd"u8, (document.House.ListStep * table.Indents).Twips);
            xml.Raw("<w:tblLayout w:type=\"fixed\"/>"u8);
            WriteLook(xml, table.HeaderRows > 0, table.IsStriped || ruling.HasBands);
            if (table.Title.Length > 0) xml.Value("w:tblCaption"u8, table.Title);
            if (table.Description is { Length: > 0 } description) xml.Value("w:tblDescription"u8, description);
        }
    }

    /// <summary>Which of the style's parts the table wears, in both forms (ECMA-376 Part 1, §17.4.55).</summary>
    internal static void WriteLook(Utf8XmlWriter xml, bool header, bool bands) => xml.Raw((header, bands) switch
    {
        (true, false) => "<w:tblLook w:val=\"0620\" w:firstRow=\"1\" w:lastRow=\"0\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"1\" w:noVBand=\"1\"/>"u8,
        (true, true) => "<w:tblLook w:val=\"0420\" w:firstRow=\"1\" w:lastRow=\"0\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"0\" w:noVBand=\"1\"/>"u8,
        (false, false) => "<w:tblLook w:val=\"0600\" w:firstRow=\"0\" w:lastRow=\"0\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"1\" w:noVBand=\"1\"/>"u8,
        (false, true) => "<w:tblLook w:val=\"0400\" w:firstRow=\"0\" w:lastRow=\"0\" w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"0\" w:noVBand=\"1\"/>"u8,
    });

    private static void WriteGrid(Utf8XmlWriter xml, TableGeometry geometry)
    {
        using (xml.Element("w:tblGrid"u8))
        {
            foreach (var width in geometry.Columns)
                using (xml.Element("w:gridCol"u8)) xml.Attribute("w:w"u8, width);
        }
    }

    private static void WriteRow(DocumentContext document, GalleyRow row, TableGeometry geometry, RulingDesign ruling)
    {
        using (document.Xml.Element("w:tr"u8))
        {
            document.Xml.Raw((row.IsHeader, row.MayBreak) switch
            {
                (true, _) => "<w:trPr><w:cantSplit/><w:tblHeader/></w:trPr>"u8,
                (false, false) => "<w:trPr><w:cantSplit/></w:trPr>"u8,
                _ => ""u8,
            });
            var column = 0;
            document.Record?.BeginRow();
            foreach (var cell in row.Cells)
            {
                WriteCell(document, cell, geometry, column, ruling);
                column += cell.ColumnSpan;
            }
            document.Record?.EndRow();
        }
    }

    private static void WriteCell(DocumentContext document, GalleyCell cell, TableGeometry geometry, int column, RulingDesign ruling)
    {
        var width = geometry.WidthOf(column, cell.ColumnSpan);
        using (document.Xml.Element("w:tc"u8))
        {
            WriteCellProperties(document, cell, width, ruling);
            ParagraphWriter.WriteInCell(document, cell, geometry.TextStep, CellPlacement.Of(cell, geometry, column, width, document.House));
        }
    }

    private static void WriteCellProperties(DocumentContext document, GalleyCell cell, int width, RulingDesign ruling)
    {
        var xml = document.Xml;
        using (xml.Element("w:tcPr"u8))
        {
            WriteWidth(xml, "w:tcW"u8, width);
            if (cell.ColumnSpan > 1) xml.Value("w:gridSpan"u8, cell.ColumnSpan);
            if (cell.Merge == CellMerge.Starts) xml.Value("w:vMerge"u8, "restart"u8);
            else if (cell.Merge == CellMerge.Continues) xml.Empty("w:vMerge"u8);
            var (above, below) = (Drawn(cell.Above), Drawn(cell.Below));
            if (above != CellRule.AsStyle || below != CellRule.AsStyle)
            {
                using (xml.Element("w:tcBorders"u8))
                {
                    WriteRule("w:top"u8, above);
                    WriteRule("w:bottom"u8, below);
                }
            }
            if (cell.Fill is { } fill)
            {
                using (xml.Element("w:shd"u8))
                {
                    xml.Attribute("w:val"u8, "clear"u8);
                    xml.Attribute("w:color"u8, "auto"u8);
                    xml.Attribute("w:fill"u8, fill);
                }
            }
            if (cell.SpaceBelow.Twips > 0)
            {
                using (xml.Element("w:tcMar"u8)) WriteWidth(xml, "w:bottom"u8, cell.SpaceBelow.Twips);
            }
            if (cell.AtBottom) xml.Value("w:vAlign"u8, "bottom"u8);
        }

        // A ruling without a thin rule draws none, and one without rules between rows has none to leave out.
        CellRule Drawn(CellRule rule) => (rule == CellRule.Absent ? ruling.Rows ?? ruling.Inner : ruling.Thin ?? ruling.Inner) is null ? CellRule.AsStyle : rule;

        void WriteRule(ReadOnlySpan<byte> edge, CellRule rule)
        {
            if (rule == CellRule.AsStyle) return;
            var drawn = rule switch { CellRule.Thin => ruling.Thin ?? ruling.Inner, CellRule.Strong => ruling.Header, CellRule.Absent => null, _ => ruling.Inner };
            if (drawn is not null) StylesPart.WriteBorder(xml, document.House.Design, edge, drawn.EighthsOfPoint, 0, drawn.Colour, drawn.Hex);
            else using (xml.Element(edge)) xml.Attribute("w:val"u8, "nil"u8);
        }
    }

    internal static void WriteWidth(Utf8XmlWriter xml, ReadOnlySpan<byte> element, int twips)
    {
        using (xml.Element(element))
        {
            xml.Attribute("w:w"u8, twips);
            xml.Attribute("w:type"u8, "dxa"u8);
        }
    }
}
