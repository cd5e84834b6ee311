using Fennick.Flow;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Wordprocessing;

/// <summary>Writes displayed formulas: alone in a paragraph, or between nothing and its number in a table without rules.</summary>
internal static class EquationWriter
{
    public static void Write(DocumentContext document, GalleyEquation equation, Length available)
    {
        if (equation.Number.IsEmpty) WriteParagraph(document, equation, StyleRole.Equation);
        else WriteTable(document, equation, available);
    }

    private static void WriteTable(DocumentContext document, GalleyEquation equation, Length available)
    {
        var xml = document.Xml;
        var indent = document.House.ListStep * equation.Indents;
        var width = (available - indent).Twips;
        var side = (int)(width * GalleyEquation.NumberShare);
        int[] columns = [side, width - (2 * side), side];
        using (xml.Element("w:tbl"u8))
        {
            using (xml.Element("w:tblPr"u8))
            {
                xml.Value("w:tblStyle"u8, document.House.Ruling(Ruling.Bare).StyleId);
                TableWriter.WriteWidth(xml, "w:tblW"u8, width);
                if (equation.Indents > 0) TableWriter.WriteWidth(xml, "w:tblInd"u8, indent.Twips);
                xml.Raw("<w:tblLayout w:type=\"fixed\"/>"u8);
                TableWriter.WriteLook(xml, header: false, bands: false);
            }
            using (xml.Element("w:tblGrid"u8))
            {
                foreach (var column in columns)
                    using (xml.Element("w:gridCol"u8)) xml.Attribute("w:w"u8, column);
            }
            using (xml.Element("w:tr"u8))
            {
                xml.Raw("<w:trPr><w:cantSplit/></w:trPr>"u8);
                WriteCell(document, columns[0], () => ParagraphWriter.Write(document, new GalleyParagraph(StyleRole.EquationNumber, [])));
                WriteCell(document, columns[1], () => WriteParagraph(document, equation with { Indents = 0 }, StyleRole.Equation));
                WriteCell(document, columns[2], () => ParagraphWriter.Write(document, new GalleyParagraph(StyleRole.EquationNumber, equation.Number)));
            }
        }
    }

    private static void WriteCell(DocumentContext document, int width, Action write)
    {
        var xml = document.Xml;
        using (xml.Element("w:tc"u8))
        {
            using (xml.Element("w:tcPr"u8))
            {
                TableWriter.WriteWidth(xml, "w:tcW"u8, width);
                xml.Value("w:vAlign"u8, "center"u8);
            }
            write();
        }
    }

    private static void WriteParagraph(DocumentContext document, GalleyEquation equation, StyleRole style)
    {
        var xml = document.Xml;
        using (xml.Element("w:p"u8))
        {
            if (document.Record is { } record) document.WriteMark(record.BeginParagraph(document.House.StyleId(style), equation.WrittenAt, equation.Label));
            using (xml.Element("w:pPr"u8))
            {
                xml.Value("w:pStyle"u8, document.House.StyleId(style));
                if (equation.BreaksPage) xml.Empty("w:pageBreakBefore"u8);
                if (equation.Indents > 0)
                    using (xml.Element("w:ind"u8)) xml.Attribute("w:left"u8, (document.House.ListStep * equation.Indents).Twips);
            }
            RunWriter.Write(document, equation.Formula, displayed: true);
            document.Record?.EndParagraph();
        }
    }
}
