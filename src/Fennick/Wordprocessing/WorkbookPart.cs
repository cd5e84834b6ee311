using System.Globalization;
using Fennick.Charts;
using Fennick.Flow;

namespace Fennick.Wordprocessing;

/// <summary>Writes the workbook that a chart carries, so that colleagues can edit its data (ECMA-376 Part 1, §18).</summary>
internal static class WorkbookPart
{
    public const string SheetName = "Data";

    private static readonly (string Name, Slab Slab)[] Fixed = CreateFixed();

    /// <summary>Adds the workbook of a chart to a document.</summary>
    public static void Write(PackageBuilder document, string name, GalleyChart placed, DateOnly? date, PooledBuffer scratch)
    {
        using var workbook = new PackageBuilder(date);
        foreach (var (part, slab) in Fixed) workbook.Add(part, slab);
        var xml = new Utf8XmlWriter(scratch);
        AddPart("xl/styles.xml", () => WriteStyles(xml, placed.Numbers.Code));
        AddPart("xl/worksheets/sheet1.xml", () => WriteSheet(xml, placed.Chart));
        scratch.Clear();
        workbook.WriteTo(scratch);
        document.AddStored(name, scratch.WrittenSpan);

        void AddPart(string part, Action write)
        {
            scratch.Clear();
            xml.Declaration();
            write();
            workbook.Add(part, scratch.WrittenSpan);
        }
    }

    /// <summary>Two formats of cells: that of words, and that of the chart's values.</summary>
    private static void WriteStyles(Utf8XmlWriter xml, string code)
    {
        xml.Raw("<styleSheet xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><numFmts count=\"1\">"u8);
        using (xml.Element("numFmt"u8))
        {
            xml.Attribute("numFmtId"u8, 164);
            xml.Attribute("formatCode"u8, code);
        }
        xml.Raw("""
            </numFmts><fonts count="1"><font><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border><left/><right/><top/><bottom/><diagonal/></border></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs><cellXfs count="2"><xf numFmtId="0" fontId="0" fillId="0" borderId="0" xfId="0"/><xf numFmtId="164" fontId="0" fillId="0" borderId="0" xfId="0" applyNumberFormat="1"/></cellXfs><cellStyles count="1"><cellStyle name="Normal" xfId="0" builtinId="0"/></cellStyles></styleSheet>
            """u8);
    }

    /// <summary>The letters of a column, counted from 0.</summary>
    public static string ColumnName(int index) =>
        index < 26 ? ((char)('A' + index)).ToString() : ColumnName((index / 26) - 1) + (char)('A' + (index % 26));

    private static void WriteSheet(Utf8XmlWriter xml, Chart chart)
    {
        using (xml.Element("worksheet"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/spreadsheetml/2006/main"u8);
            using (xml.Element("sheetData"u8))
            {
                using (xml.Element("row"u8))
                {
                    xml.Attribute("r"u8, 1);
                    WriteText(xml, 0, 1, chart.CategoryTitle.Length > 0 ? chart.CategoryTitle : "Category");
                    for (var s = 0; s < chart.Series.Length; s++) WriteText(xml, s + 1, 1, ChartPart.SeriesName(chart, chart.Series[s]));
                }
                for (var i = 0; i < chart.Categories.Length; i++)
                {
                    using (xml.Element("row"u8))
                    {
                        xml.Attribute("r"u8, i + 2);
                        WriteText(xml, 0, i + 2, chart.Categories[i]);
                        for (var s = 0; s < chart.Series.Length; s++)
                            if (chart.Series[s].Values[i] is { } value) WriteNumber(xml, s + 1, i + 2, value);
                    }
                }
            }
        }
    }

    private static void WriteText(Utf8XmlWriter xml, int column, int row, string text)
    {
        using (xml.Element("c"u8))
        {
            xml.Attribute("r"u8, string.Create(CultureInfo.InvariantCulture, $"{ColumnName(column)}{row}"));
            xml.Attribute("t"u8, "inlineStr"u8);
            using (xml.Element("is"u8))
            using (xml.Element("t"u8))
            {
                if (text.Length > 0 && (char.IsWhiteSpace(text[0]) || char.IsWhiteSpace(text[^1]))) xml.Attribute("xml:space"u8, "preserve"u8);
                xml.Text(text);
            }
        }
    }

    private static void WriteNumber(Utf8XmlWriter xml, int column, int row, double value)
    {
        using (xml.Element("c"u8))
        {
            xml.Attribute("r"u8, string.Create(CultureInfo.InvariantCulture, $"{ColumnName(column)}{row}"));
            xml.Attribute("s"u8, 1);
            using (xml.Element("v"u8)) xml.Text(value);
        }
    }

    private static (string Name, Slab Slab)[] CreateFixed() =>
    [
        ("[Content_Types].xml", HouseParts.Compress(xml => xml.Raw("""
            <Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>
            """u8))),
        ("_rels/.rels", HouseParts.Compress(xml => xml.Raw("""
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>
            """u8))),
        ("xl/workbook.xml", HouseParts.Compress(xml => xml.Raw("""
            <workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="Data" sheetId="1" r:id="rId1"/></sheets></workbook>
            """u8))),
        ("xl/_rels/workbook.xml.rels", HouseParts.Compress(xml => xml.Raw("""
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/></Relationships>
            """u8))),
    ];
}
