using System.IO.Compression;
using Fennick.Diagnostics;
using Fennick.Statistics.Variables;
using Fennick.Testing;
using Xunit;

namespace Fennick.Data.Tests;

/// <summary>Spreadsheets that other programs wrote, and damaged ones.</summary>
public sealed class SpreadsheetTests : IDisposable
{
    private readonly TestFolder folder = new();

    private sealed record Hive(string Apiary, int Season, double? HoneyKg, bool Treated, string Strain, DateTime? Seen, decimal Share);

    private sealed record Row(double A, double? B);

    public static TheoryData<string> Files => ["hives.xlsx", "hives.ods", "hives.xls"];

    public void Dispose() => folder.Dispose();

    private static string PathOf(string name) => Repository.PathOf("tests", "Fennick.Data.Tests", "files", name);

    private static string Wrong(Action read) => Assert.Throws<ReportException>(read).Message;

    [Theory]
    [MemberData(nameof(Files))]
    public void A_table_of_a_sheet_fills_records(string file)
    {
        Hive[] expected =
        [
            new("Alder Bank", 2025, 24.5, true, "Dusk", new DateTime(2025, 4, 1), 0.25m), new("M\u00FCller's Croft", 2024, null, false, "Amber", new DateTime(2025, 4, 2, 13, 30, 0), 0.5m),
            new("Reed/Moor", 2025, 7, true, "Amber", null, 1), new("Elm", 2025, null, true, "Dusk", null, 0),
        ];
        Assert.Equal(["Hives", "Merged", "Formulas", "Errors"], Spreadsheet.Sheets(PathOf(file)));
        Assert.Equal(expected, Spreadsheet.Read<Hive>(PathOf(file), range: "A3"));
        Assert.Equal(expected[..2], Spreadsheet.Read<Hive>(PathOf(file), "hives", "$A$3:$G$5"));
        if (file != "hives.xls") Assert.Equal(expected, Spreadsheet.Read<Hive>(PathOf(file), table: "hivetable"));
        var columns = Spreadsheet.Columns(PathOf(file), range: "A3:F7");
        Assert.Equal([24.5, double.NaN, 7, double.NaN], Assert.IsType<NumericVariable>(columns.Column("honey_kg")).Values);
        Assert.Equal(["2025-04-01", "2025-04-02T13:30:00"], Assert.IsType<FactorVariable>(columns.Column("seen")).Levels);
    }

    [Theory]
    [MemberData(nameof(Files))]
    public void What_is_wrong_is_told_by_sheet_and_cell(string file)
    {
        var path = PathOf(file);
        Assert.Equal($"{path}, sheet Hives, cell A1: error: `Hive survey 2025` stands alone in the first row, where the names of the columns should be; say where the table starts: `range: \"A3\"`", Wrong(() => Spreadsheet.Read<Hive>(path)));
        Assert.Equal($"{path}, sheet Merged, cell A1: error: the names of the columns are merged cells (A1:B1); say where the row is that has one name a column: `range: \"A2\"`", Wrong(() => Spreadsheet.Read<Row>(path, "Merged")));
        Assert.Contains("there is no sheet `Erors`; did you mean `Errors`?", Wrong(() => Spreadsheet.Read<Row>(path, "Erors")), StringComparison.Ordinal);
        Assert.Contains("`A0` is not a range", Wrong(() => Spreadsheet.Read<Row>(path, range: "A0")), StringComparison.Ordinal);
        Assert.Contains("there is nothing in this range", Wrong(() => Spreadsheet.Read<Row>(path, range: "Z9:ZZ99")), StringComparison.Ordinal);
        Assert.Contains("no table or named range `bees`", Wrong(() => Spreadsheet.Read<Row>(path, table: "bees")), StringComparison.Ordinal);
        Assert.Contains("name one of them", Wrong(() => Spreadsheet.Read<Row>(path, "Hives", table: "bees")), StringComparison.Ordinal);
        var errors = Wrong(() => Spreadsheet.Read<Row>(path, "Errors"));
        Assert.Contains($"{path}, sheet Errors, cell A4: error: `three` in column `a` is not a number", errors, StringComparison.Ordinal);
        // The old format does not say which cells could not be computed.
        if (file != "hives.xls") Assert.Contains($"{path}, sheet Errors, cell B3: error: `#DIV/0!` in column `b` is not a number", errors, StringComparison.Ordinal);
        // One program saves no values with its formulas.
        if (file == "hives.xlsx") Assert.Contains($"{path}, sheet Formulas, cell B2: error: the value of this formula was not saved with it", Wrong(() => Spreadsheet.Read<Row>(path, "Formulas")), StringComparison.Ordinal);
        else Assert.Equal([new Row(1, 2)], Spreadsheet.Read<Row>(path, "Formulas"));
    }

    // A workbook of one sheet, as small as the format allows.
    private string Book(string rows, string sheetEnd = "", string bookStart = "", string styles = "", params string[] others)
    {
        var path = folder.File("own.xlsx");
        File.Delete(path);
        using var zip = ZipFile.Open(path, ZipArchiveMode.Create);
        const string Main = "xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\" xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\"";
        const string Relations = "xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"";
        Add("_rels/.rels", $"<Relationships {Relations}><Relationship Id=\"a\" Type=\"x\" Target=\"xl/workbook.xml\"/></Relationships>");
        Add("xl/workbook.xml", $"<workbook {Main}>{bookStart}<sheets><sheet name=\"S\" sheetId=\"1\" r:id=\"b\"/></sheets></workbook>");
        Add("xl/_rels/workbook.xml.rels", $"<Relationships {Relations}><Relationship Id=\"b\" Type=\"x\" Target=\"worksheets/one.xml\"/><Relationship Id=\"c\" Type=\"x\" Target=\"styles.xml\"/></Relationships>");
        Add("xl/worksheets/one.xml", $"<worksheet {Main}><sheetData>{rows}</sheetData>{sheetEnd}</worksheet>");
        Add("xl/styles.xml", $"<styleSheet {Main}>{styles}</styleSheet>");
        foreach (var other in others) Add(other, "");
        return path;

        void Add(string name, string text)
        {
            using var writer = new StreamWriter(zip.CreateEntry(name).Open());
            writer.Write(text);
        }
    }

    private sealed record Dated(DateTime? Day, string? Span = null);

    [Fact]
    public void Dates_are_what_the_format_of_a_cell_says()
    {
        const string Styles = "<numFmts><numFmt numFmtId=\"170\" formatCode=\"[Red]d\\. mmmm &quot;year&quot; yyyy\"/><numFmt numFmtId=\"171\" formatCode=\"&quot;day&quot; 0.0\"/><numFmt numFmtId=\"172\" formatCode=\"[h]:mm\"/></numFmts><cellXfs><xf/><xf numFmtId=\"14\"/><xf numFmtId=\"170\"/><xf numFmtId=\"171\"/><xf numFmtId=\"172\"/></cellXfs>";
        const string Rows = "<row><c t=\"inlineStr\"><is><t>day</t></is></c><c t=\"inlineStr\"><is><t>span</t></is></c></row><row><c s=\"1\"><v>45748</v></c><c s=\"4\"><v>1.5</v></c></row><row><c s=\"2\"><v>59</v></c></row><row><c t=\"d\"><v>2025-04-01T08:30:00</v></c></row><row><c s=\"2\"><v>45748.00001157407</v></c></row>";
        Assert.Equal([new Dated(new DateTime(2025, 4, 1), "1.12:00:00"), new Dated(new DateTime(1900, 2, 28)), new Dated(new DateTime(2025, 4, 1, 8, 30, 0)), new Dated(new DateTime(2025, 4, 1, 0, 0, 1))], Spreadsheet.Read<Dated>(Book(Rows, styles: Styles)));
        Assert.Equal(new DateTime(2029, 4, 2), Spreadsheet.Read<Dated>(Book(Rows, bookStart: "<workbookPr date1904=\"1\"/>", styles: Styles))[0].Day);
        // A number with words about it is a number; a day that the calendar does not have is none.
        Assert.Contains("`60` in column `day` is not a date and time", Wrong(() => Spreadsheet.Read<Dated>(Book("<row><c t=\"inlineStr\"><is><t>day</t></is></c></row><row><c s=\"1\"><v>60</v></c></row><row><c s=\"3\"><v>7</v></c></row>", styles: Styles))), StringComparison.Ordinal);
    }

    [Fact]
    public void Macros_and_links_are_passed_over_and_said()
    {
        var path = Book("<row><c t=\"inlineStr\"><is><t>a</t></is></c></row><row><c><v>1</v></c></row>", others: ["xl/vbaProject.bin", "xl/externalLinks/externalLink1.xml"]);
        Assert.Equal([1], Spreadsheet.Read<double>(path));
        var told = new Report("x").Text($"y").Save(folder.File("r.docx"));
        Assert.Equal([$"{path}:1:1: advice: links to other workbooks, whose last values count, in this spreadsheet are passed over", $"{path}:1:1: advice: macros in this spreadsheet are passed over"], told.Select(d => d.ToString()));
    }

    [Theory]
    [InlineData("<row><c><v>1</v></c></row>", "error: there is no column for `A`; the columns are `1`")]
    [InlineData("", "sheet S: error: the sheet is empty")]
    [InlineData("<row><c t=\"s\"><v>7</v></c></row>", "this is no spreadsheet, or a damaged one")]
    [InlineData("<row><c><v>1", "this is no spreadsheet, or a damaged one")]
    [InlineData("<row><c><v>one</v></c></row>", "this is no spreadsheet, or a damaged one")]
    public void A_damaged_workbook_is_told(string rows, string expected) => Assert.Contains(expected, Wrong(() => Spreadsheet.Read<Row>(Book(rows))), StringComparison.Ordinal);

    [Theory]
    [MemberData(nameof(Files))]
    public void Damage_is_an_error_in_words_never_another(string file)
    {
        var bytes = File.ReadAllBytes(PathOf(file));
        var random = new Random(5);
        for (var i = 0; i < 150; i++)
        {
            var damaged = bytes.ToArray();
            if (i % 3 == 0) damaged = damaged[..random.Next(damaged.Length)];
            else for (var n = 0; n < 1 + (i % 20); n++) damaged[random.Next(damaged.Length)] = (byte)random.Next(256);
            var path = folder.File(file);
            File.WriteAllBytes(path, damaged);
            try
            {
                _ = Spreadsheet.Read<Hive>(path, "Hives", "A3");
            }
            catch (ReportException problem)
            {
                Assert.Contains(file, problem.Message, StringComparison.Ordinal);
            }
        }
    }
}
