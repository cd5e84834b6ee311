using System.Collections.Immutable;
using System.Globalization;
using Fennick.Drawing;
using Fennick.Formatting;

namespace Fennick.Wordprocessing;

/// <summary>Writes the workbook that a chart carries, so that colleagues can edit its data (ECMA-376 Part 1, §18).</summary>
internal static class WorkbookPart
{
    public const string SheetName = "Data";

    private const int FirstFormat = 164;

    private static readonly (string Name, Slab Slab)[] Fixed = CreateFixed();

    /// <summary>Adds the workbook of a chart to a document.</summary>
    public static void Write(PackageBuilder document, string name, ChartDrawing drawing, DateOnly? date, PooledBuffer scratch)
    {
        using var workbook = new PackageBuilder(date);
        foreach (var (part, slab) in Fixed) workbook.Add(part, slab);
        var xml = new Utf8XmlWriter(scratch);
        string[] codes = [.. drawing.Data.Where(c => c.Code != NumberCode.General).Select(c => c.Code).Distinct()];
        AddPart("xl/styles.xml", () => WriteStyles(xml, codes));
        AddPart("xl/worksheets/sheet1.xml", () => WriteSheet(xml, drawing.Data, codes));
        AddPart("xl/tables/table1.xml", () => WriteTable(xml, drawing.Data));
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

    /// <summary>The cell formats: that of words, and one for each number code.</summary>
    private static void WriteStyles(Utf8XmlWriter xml, string[] codes)
    {
        xml.Raw("<styleSheet xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\">"u8);
        if (codes.Length > 0)
        {
            using (xml.Element("numFmts"u8))
            {
                xml.Attribute("count"u8, codes.Length);
                for (var i = 0; i < codes.Length; i++)
                {
                    using (xml.Element("numFmt"u8))
                    {
                        xml.Attribute("numFmtId"u8, FirstFormat + i);
                        xml.Attribute("formatCode"u8, codes[i]);
                    }
                }
            }
        }
        xml.Raw("""
            <fonts count="1"><font><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border><left/><right/><top/><bottom/><diagonal/></border></borders><cellStyleXfs count="1"><xf numFmtId="0" fontId="0" fillId="0" borderId="0"/></cellStyleXfs>
            """u8);
        using (xml.Element("cellXfs"u8))
        {
            xml.Attribute("count"u8, codes.Length + 1);
            xml.Raw("<xf numFmtId=\"0\" fontId=\"0\" fillId=\"0\" borderId=\"0\" xfId=\"0\"/>"u8);
            for (var i = 0; i < codes.Length; i++)
            {
                using (xml.Element("xf"u8))
                {
                    xml.Attribute("numFmtId"u8, FirstFormat + i);
                    xml.Attribute("fontId"u8, 0);
                    xml.Attribute("fillId"u8, 0);
                    xml.Attribute("borderId"u8, 0);
                    xml.Attribute("xfId"u8, 0);
                    xml.Attribute("applyNumberFormat"u8, 1);
                }
            }
        }
        xml.Raw("<cellStyles count=\"1\"><cellStyle name=\"Normal\" xfId=\"0\" builtinId=\"0\"/></cellStyles></styleSheet>"u8);
    }

    /// <summary>The letters of a column, counted from 0.</summary>
    public static string ColumnName(int index) =>
        index < 26 ? ((char)('A' + index)).ToString() : ColumnName((index / 26) - 1) + (char)('A' + (index % 26));

    /// <summary>A number as spreadsheets hold it: in fifteen digits.</summary>
    public static void WriteNumber(Utf8XmlWriter xml, double value)
    {
        Span<char> digits = stackalloc char[32];
        _ = value.TryFormat(digits, out var written, "G15", CultureInfo.InvariantCulture);
        xml.Text(digits[..written]);
    }

    private static void WriteSheet(Utf8XmlWriter xml, ImmutableArray<DataColumn> columns, string[] codes)
    {
        var styles = columns.Select(c => Array.IndexOf(codes, c.Code) + 1).ToArray();
        using (xml.Element("worksheet"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/spreadsheetml/2006/main"u8);
            xml.Attribute("xmlns:r"u8, Namespaces.Relationships);
            using (xml.Element("sheetData"u8))
            {
                using (xml.Element("row"u8))
                {
                    xml.Attribute("r"u8, 1);
                    for (var c = 0; c < columns.Length; c++) WriteText(xml, c, 1, columns[c].Head);
                }
                for (var row = 0; row < RowsOf(columns); row++)
                {
                    using (xml.Element("row"u8))
                    {
                        xml.Attribute("r"u8, row + 2);
                        for (var c = 0; c < columns.Length; c++)
                        {
                            switch (row < columns[c].Cells.Length ? columns[c].Cells[row] : null)
                            {
                                case double number: WriteNumber(xml, c, row + 2, number, styles[c]); break;
                                case string text: WriteText(xml, c, row + 2, text); break;
                                default: break;
                            }
                        }
                    }
                }
            }
            xml.Raw("<tableParts count=\"1\"><tablePart r:id=\"rId1\"/></tableParts>"u8);
        }
    }

    private static int RowsOf(ImmutableArray<DataColumn> columns) => Math.Max(1, columns.Max(c => c.Cells.Length));

    /// <summary>The table that takes in rows added by hand (ECMA-376 Part 1, §18.5).</summary>
    private static void WriteTable(Utf8XmlWriter xml, ImmutableArray<DataColumn> columns)
    {
        using (xml.Element("table"u8))
        {
            xml.Attribute("xmlns"u8, "http://schemas.openxmlformats.org/spreadsheetml/2006/main"u8);
            xml.Attribute("id"u8, 1);
            xml.Attribute("name"u8, "ChartData"u8);
            xml.Attribute("displayName"u8, "ChartData"u8);
            xml.Attribute("ref"u8, string.Create(CultureInfo.InvariantCulture, $"A1:{ColumnName(columns.Length - 1)}{RowsOf(columns) + 1}"));
            xml.Attribute("totalsRowShown"u8, 0);
            using (xml.Element("tableColumns"u8))
            {
                xml.Attribute("count"u8, columns.Length);
                for (var c = 0; c < columns.Length; c++)
                {
                    using (xml.Element("tableColumn"u8))
                    {
                        xml.Attribute("id"u8, c + 1);
                        xml.Attribute("name"u8, columns[c].Head);
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

    private static void WriteNumber(Utf8XmlWriter xml, int column, int row, double value, int style)
    {
        using (xml.Element("c"u8))
        {
            xml.Attribute("r"u8, string.Create(CultureInfo.InvariantCulture, $"{ColumnName(column)}{row}"));
            if (style > 0) xml.Attribute("s"u8, style);
            using (xml.Element("v"u8)) WriteNumber(xml, value);
        }
    }

    private static (string Name, Slab Slab)[] CreateFixed() =>
    [
        ("[Content_Types].xml", HouseParts.Compress(xml => xml.Raw("""
            <Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/tables/table1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.table+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>
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
        ("xl/worksheets/_rels/sheet1.xml.rels", HouseParts.Compress(xml => xml.Raw("""
            <Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/table" Target="../tables/table1.xml"/></Relationships>
            """u8))),
    ];
}
