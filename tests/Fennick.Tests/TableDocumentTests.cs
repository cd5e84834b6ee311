using System.IO.Compression;
using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Pictures;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;
using static Fennick.Testing.Docx;

namespace Fennick.Tests;

/// <summary>Tables as the finished document holds them.</summary>
public sealed class TableDocumentTests : IDisposable
{
    // The smallest PNG that is a picture: 1 × 1.
    private static readonly byte[] Dot = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(Report report) => Save(report, out _);

    private Docx Save(Report report, out IReadOnlyList<Diagnostic> warnings)
    {
        var path = folder.File("tables.docx");
        warnings = report.Save(path);
        return WordClean.Check(path);
    }

    private static Table Models() => Table.WithHeads("Term", "Simple", "Full").Align("Simple", Alignment.Decimal).Align("Full", Alignment.Decimal)
        .Row("Forage", Signed(0.25, "***"), Signed(12.5, "*")).Row("", "(0.02)", "(1.25)").Total("All", 1.5, 2).Span("Honey", "Simple", "Full");

    private static TableCell Signed(double value, string sign) => TableCell.Of(value) with { Sign = sign };

    private static XElement Cell(Docx docx, int table, int row, int cell) => docx.Body.Elements(W + "tbl").ElementAt(table).Elements(W + "tr").ElementAt(row).Elements(W + "tc").ElementAt(cell);

    private static int? Value(XElement? element, string attribute = "val") => (int?)element?.Attribute(W + attribute);

    [Fact]
    public void Heads_over_columns_repeat_and_are_ruled_below()
    {
        var docx = Save(new Report().Add(Models(), caption: "Models"));
        var rows = docx.Body.Descendants(W + "tr").ToList();
        Assert.Equal([true, true, false, false, false], rows.Select(r => r.Descendants(W + "tblHeader").Any()));
        Assert.All(rows, r => Assert.Single(r.Descendants(W + "cantSplit")));
        Assert.Equal(2, Value(Cell(docx, 0, 0, 1).Descendants(W + "gridSpan").Single()));
        Assert.Equal("single", (string?)Cell(docx, 0, 0, 1).Descendants(W + "bottom").Single().Attribute(W + "val"));
        Assert.Equal("nil", (string?)Cell(docx, 0, 0, 0).Descendants(W + "bottom").Single().Attribute(W + "val"));
        Assert.Equal("single", (string?)Cell(docx, 0, 4, 0).Descendants(W + "top").Single().Attribute(W + "val"));
        Assert.Equal(["All", "1.5", "2"], rows[4].Elements(W + "tc").Where(c => c.Descendants(W + "rStyle").Any(s => (string?)s.Attribute(W + "val") == "Strong")).Select(Text));
    }

    [Fact]
    public void A_number_in_the_row_of_a_heading_is_not_set_as_a_heading()
    {
        var rows = Enumerable.Range(0, 60).Select(i => new { Kind = i % 3 == 0 ? "a" : "b", Group = i % 2 == 0 ? "one" : "two" }).ToArray();
        var docx = Save(new Report().Add(GroupedBy(rows, r => new { r.Kind }, r => r.Group)));
        var heading = docx.Body.Descendants(W + "tr").Single(r => Text(r).StartsWith("Kind", StringComparison.Ordinal));
        Assert.Equal(["TableGroup", "TableNumber"], heading.Descendants(W + "pStyle").Select(s => (string?)s.Attribute(W + "val")));

        static DescriptiveTable GroupedBy<T>(T[] records, System.Linq.Expressions.Expression<Func<T, object?>> variables, Func<T, object?> group) => DescriptiveTable.Of(records, variables).By("Group", group);
    }

    [Fact]
    public void Signs_hang_behind_numbers_whose_points_meet()
    {
        var docx = Save(new Report().Add(Models()));
        var estimate = Cell(docx, 0, 2, 1).Element(W + "p")!;
        Assert.Equal("\t0.25\t***", Text(estimate));
        // Fonts raise a star by themselves: raised once more it could not be read.
        Assert.Empty(estimate.Descendants(W + "vertAlign"));
        var dagger = Cell(Save(new Report().Add(Table.WithHeads("A", "B").Align("B", Alignment.Decimal).Row("x", Signed(0.25, "†")))), 0, 1, 1);
        Assert.Equal("superscript", (string?)dagger.Descendants(W + "r").Last().Descendants(W + "vertAlign").Single().Attribute(W + "val"));
        Assert.Equal(["right", "left"], estimate.Descendants(W + "tab").Where(t => t.Parent!.Name == W + "tabs").Select(t => (string?)t.Attribute(W + "val")));
        // The number with a sign ends at its tab, the one in parentheses at its indent: two decimals and a parenthesis apart.
        var room = Value(docx.Body.Descendants(W + "gridCol").ElementAt(1), "w")!.Value - 220;
        var numberEnd = Value(estimate.Descendants(W + "tabs").Single().Elements().First(), "pos")!.Value;
        var errorEnd = room - Value(Cell(docx, 0, 3, 1).Descendants(W + "ind").Single(), "right")!.Value;
        Assert.InRange(errorEnd - numberEnd, 50, 65);
    }

    [Theory]
    [InlineData("open", false)]
    [InlineData("boxed", true)]
    [InlineData("lined", true)]
    [InlineData("bare", false)]
    public void An_estimate_and_its_error_are_one_thing(string ruling, bool hasRowRules)
    {
        var hives = Enumerable.Range(0, 40).Select(i => new { Kg = 20 + (i % 7) + (0.3 * (i % 5)), Forage = i % 5, Mites = i % 3 }).ToArray();
        var docx = Save(new Report().Add(RegressionTable.Of(Statistics.Regression.LeastSquares(hives, h => h.Kg, h => new { h.Forage, h.Mites })), ruling: new Ruling(ruling)));
        var rows = docx.Body.Descendants(W + "tr").ToList();
        string? Edge(int row, string edge) => (string?)rows[row].Elements(W + "tc").ElementAt(1).Descendants(W + edge).FirstOrDefault(e => e.Parent!.Name == W + "tcBorders")?.Attribute(W + "val");
        // Forage, its error, mites, its error, the constant, its error, observations.
        Assert.Equal<string?[]>(hasRowRules ? ["nil", "nil", null, null] : [null, null, null, null], [Edge(1, "bottom"), Edge(2, "top"), Edge(2, "bottom"), Edge(3, "top")]);
        Assert.Equal(ruling == "bare" ? null : "single", Edge(7, "top"));
        Assert.Equal([null, "40", null, "40"], Enumerable.Range(1, 4).Select(r => (string?)rows[r].Elements(W + "tc").First().Descendants(W + "tcMar").SingleOrDefault()?.Element(W + "bottom")?.Attribute(W + "w")));
        // Counts and shares end at one edge.
        var ends = rows.Skip(7).Select(r => r.Elements(W + "tc").ElementAt(1)).Select(c => (Text(c), (int?)c.Descendants(W + "ind").Single().Attribute(W + "right"))).ToArray();
        Assert.Equal("40", ends[0].Item1);
        Assert.Single(ends.Select(e => e.Item2).Distinct());
    }

    [Theory]
    [InlineData("open", "TableOpen", true)]
    [InlineData("banded", "TableBanded", false)]
    [InlineData("boxed", "TableBoxed", true)]
    [InlineData("bare", "TableBare", true)]
    [InlineData("lined", "TableLined", true)]
    public void A_ruling_is_a_table_style(string name, string style, bool withoutBands)
    {
        var docx = Save(new Report().Add(Models(), ruling: new Ruling(name)));
        var properties = docx.Body.Descendants(W + "tblPr").Single();
        Assert.Equal(style, (string?)properties.Element(W + "tblStyle")!.Attribute(W + "val"));
        Assert.Equal(withoutBands ? "1" : "0", (string?)properties.Element(W + "tblLook")!.Attribute(W + "noHBand"));
        var borders = docx.Xml("word/styles.xml").Descendants(W + "style").Single(s => (string?)s.Attribute(W + "styleId") == style).Descendants(W + "tblBorders").Elements().Select(b => b.Name.LocalName);
        Assert.Equal(name switch { "open" or "banded" => ["top", "bottom"], "boxed" => ["top", "left", "bottom", "right", "insideH", "insideV"], "lined" => ["top", "bottom", "insideH"], _ => Array.Empty<string>() }, borders);
    }

    [Fact]
    public void A_ruling_that_the_house_has_not_is_told() => Assert.Matches(@"^TableDocumentTests.cs:\d+:1: error: `bandet` is not a ruling; did you mean `banded`\?$",
        Assert.Throws<ReportException>(() => Save(new Report().Add(Models(), ruling: new Ruling("bandet")))).Message);

    [Fact]
    public void Stripes_come_with_any_ruling()
    {
        var docx = Save(new Report().Add(Models().Striped()));
        Assert.Equal("0", (string?)docx.Body.Descendants(W + "tblLook").Single().Attribute(W + "noHBand"));
    }

    [Fact]
    public void Cells_over_rows_merge_in_the_document()
    {
        var table = new Table
        {
            Columns = [new(Alignment.Left), new(Alignment.Left)],
            HeaderRows = [new TableRow(["Place", "Word"])],
            Rows = [new TableRow([new TableCell((RichText)"both") { RowSpan = 2 }, "a"]), new TableRow(["b"])],
        };
        var docx = Save(new Report().Add(table));
        Assert.Equal("restart", (string?)Cell(docx, 0, 1, 0).Descendants(W + "vMerge").Single().Attribute(W + "val"));
        Assert.Null(Cell(docx, 0, 2, 0).Descendants(W + "vMerge").Single().Attribute(W + "val"));
        Assert.Equal([["Place", "Word"], ["both", "a"], ["", "b"]], docx.Tables[0]);
    }

    [Fact]
    public void A_heat_table_is_shaded_by_its_numbers_and_its_words_can_be_read()
    {
        var cells = from v in new[] { "Alderwick", "Dunmarsh" } from s in new[] { 2024, 2025 } select (v, s);
        var docx = Save(new Report().Add(HeatTable.Of(cells.Take(3), c => c.v, c => c.s, c => c.v.Length + c.s - 2024).Format("0.0").Heads("Valley", "Season"), caption: "Honey"));
        Assert.Equal([["", "Season"], ["Valley", "2024", "2025"], ["Alderwick", "9.0", "10.0"], ["Dunmarsh", "8.0", ""]], docx.Tables[0]);
        string? Fill(int row, int column) => (string?)Cell(docx, 0, row, column).Descendants(W + "shd").SingleOrDefault()?.Attribute(W + "fill");
        // The least number stands on the paper, the greatest on the accent, and the one between on the middle of both.
        Assert.Equal(("FFFFFF", "2B6E5E", "95B6AE"), (Fill(3, 1), Fill(2, 2), Fill(2, 1)));
        Assert.Null(Fill(3, 2));
        Assert.Equal("FFFFFF", (string?)Cell(docx, 0, 2, 2).Descendants(W + "color").Single().Attribute(W + "val"));
        Assert.Empty(Cell(docx, 0, 2, 1).Descendants(W + "color"));
        Assert.Contains("two values for a and b", Assert.Throws<ReportException>(() => HeatTable.Of([1, 2], _ => "a", _ => "b", v => v)).Message, StringComparison.Ordinal);
        Assert.Contains("no data", Assert.Throws<ReportException>(() => HeatTable.Of(Array.Empty<int>(), v => v, v => v, v => v)).Message, StringComparison.Ordinal);
        // Equal numbers have no shade, and another scale moves it.
        Assert.DoesNotContain(Save(new Report().Add(HeatTable.Of([1, 2], v => v, _ => "b", _ => 5.0))).Body.Descendants(W + "tcPr").Elements(W + "shd"), _ => true);
        Assert.Equal("95B6AE", (string?)Save(new Report().Add(HeatTable.Of([1], v => v, _ => "b", _ => 5.0).Scale(0, 10))).Body.Descendants(W + "tcPr").Elements(W + "shd").Single().Attribute(W + "fill"));
    }

    [Fact]
    public void A_cell_holds_a_reference_a_picture_and_a_small_chart()
    {
        var picture = Picture.Of(Dot)!;
        var table = Table.WithHeads("What", "Shown").Row("reference", See("itself")).Row("picture", new PictureInline(picture, "a dot") { Width = Length.Centimetres(1) })
            .Row("again", new PictureInline(picture, "the dot again")).Row("chart", SmallChart.Columns([1, 2]));
        var docx = Save(new Report().Add(table, label: "itself", caption: "Cells"));
        Assert.Equal("Table\u00A01", Text(Cell(docx, 0, 1, 1)));
        Assert.Equal(["a dot", "the dot again", "Column chart: 1; 2."], docx.Body.Descendants(Wp + "docPr").Select(d => (string?)d.Attribute("descr")));
        Assert.Equal(360_000, (long)docx.Body.Descendants(Wp + "extent").First().Attribute("cx")!);
        Assert.Single(docx.Names, n => n.StartsWith("word/media/", StringComparison.Ordinal));
        Assert.Equal(Dot, docx.Bytes("word/media/picture1.png"));
        Assert.Null(Picture.Of("no picture"u8));
    }

    [Fact]
    public void Notes_stand_together_under_the_table_and_marks_are_raised()
    {
        var docx = Save(new Report().Add(Models().Note("Made up.").Mark(c => c.Row == "Forage" && c.Column == "Term", "Within 2 km."), caption: "Models", note: "From the survey."));
        Assert.Equal("From the survey. Made up. a\u00A0Within 2 km.", docx.ParagraphsOf("Note").Single());
        Assert.Equal(["a", "a"], docx.Body.Descendants(W + "r").Where(r => r.Descendants(W + "vertAlign").Any()).Select(Text).Where(t => t == "a"));
    }

    [Fact]
    public void Captions_stand_below_where_the_report_says_so()
    {
        var report = new Report { Settings = new ReportSettings { TableCaption = CaptionPlace.Below } };
        var docx = Save(report.Add(Models(), caption: "Models", note: "A note.").Add(Models(), caption: "Again"));
        Assert.Equal(["tbl", "p", "p", "tbl", "p"], docx.Body.Elements().Select(e => e.Name.LocalName).SkipLast(1));
        Assert.Equal(["Table\u00A01. Models", "A note.", "Table\u00A02. Again"], docx.Paragraphs);
    }

    // Widths

    [Fact]
    public void A_table_is_as_wide_as_its_content_or_as_it_is_told()
    {
        int[] Widths(ITableSource table) => [.. Save(new Report().Add(table)).Body.Descendants(W + "gridCol").Select(g => Value(g, "w")!.Value)];
        var table = Table.WithHeads("A", "B").Row("word", 1);
        Assert.InRange(Widths(table).Sum(), 800, 1400);
        Assert.Equal(1134, Widths(table.Width("B", Length.Centimetres(2)))[1]);
        var room = Save(new Report().Add(table)).TextWidth;
        Assert.InRange(Widths(table.Share("A").Share("B", 3)).Sum(), room - 4, room);
        var shares = Widths(table.Share("A").Share("B", 3));
        Assert.InRange(shares[1] / (double)shares[0], 2.95, 3.05);
        Assert.Throws<ArgumentOutOfRangeException>(() => table.Share("A", 0));
    }

    [Fact]
    public void Wide_tables_wrap_then_step_down_then_turn_their_page()
    {
        static Table Wide(int columns) => Enumerable.Range(0, 3).Aggregate(Table.WithHeads(["Apiary", .. Enumerable.Range(1, columns).Select(i => $"S{i}")]),
            (t, r) => t.Row(["Alder Bank", .. Enumerable.Range(1, columns).Select(i => (object)(123456.5 + i + r))]));
        string Style(Docx docx) => (string)Cell(docx, 0, 1, 1).Descendants(W + "pStyle").Single().Attribute(W + "val")!;
        Assert.Equal("TableNumber", Style(Save(new Report().Add(Wide(6)))));
        Assert.Equal("TableNumberSmall", Style(Save(new Report().Add(Wide(7)))));
        var turned = Save(new Report().Heading("Before").Text($"{"Text."}").Add(Wide(12), caption: "Wide").Text($"{"After."}"), out var warnings);
        Assert.Empty(warnings);
        Assert.Equal([null, "landscape", null], turned.Body.Descendants(W + "pgSz").Select(p => (string?)p.Attribute(W + "orient")));
        Assert.Equal(["portrait", "landscape"], turned.Names.Where(n => n.StartsWith("word/footer", StringComparison.Ordinal)).Select(n => turned.Xml(n).Descendants(W + "tabs").Any() ? "landscape" : "portrait"));
        // The caption turns with its table, and what follows stands upright again.
        Assert.Equal(["Before", "Text.", "Table\u00A01. Wide", "", "After."], turned.Paragraphs);
        Assert.Single(turned.Body.Elements().TakeWhile(e => !e.Descendants(W + "sectPr").Any()));
        var upright = Save(new Report { Settings = new ReportSettings { TablesMayTurn = false } }.Add(Wide(12), caption: "Wide"), out warnings);
        Assert.Single(upright.Body.Descendants(W + "pgSz"));
        Assert.Contains("it goes on below itself in 2 parts", Assert.Single(warnings).Message, StringComparison.Ordinal);
        Assert.Single(Save(new Report().Add(Wide(12).Turn(false))).Body.Descendants(W + "pgSz"));
    }

    [Fact]
    public void Turned_tables_in_a_row_share_their_turned_pages()
    {
        var wide = Table.WithHeads([.. Enumerable.Range(1, 14).Select(i => $"S{i}")]).Row([.. Enumerable.Range(1, 14).Select(i => (object)(123456 * i))]);
        var docx = Save(new Report().Add(wide, caption: "One").Add(wide, caption: "Two", note: "Note.").Text($"{"After."}"));
        Assert.Equal(["landscape", null], docx.Body.Descendants(W + "pgSz").Select(p => (string?)p.Attribute(W + "orient")));
    }

    [Fact]
    public void Three_hundred_columns_go_on_below_themselves_with_their_stub()
    {
        var table = Table.WithHeads(["Apiary", .. Enumerable.Range(1, 299).Select(i => $"S{i}")]).Row(["Alder Bank", .. Enumerable.Range(1, 299).Cast<object>()]).Span("All", "S1", "S299").Heading("Total").Row("x");
        var docx = Save(new Report().Add(table, label: "many", caption: "Many"), out var warnings);
        Assert.Contains("has 300 columns, too many for its page", Assert.Single(warnings).Message, StringComparison.Ordinal);
        Assert.All(docx.Tables, t => Assert.Equal("Alder Bank", t[2][0]));
        Assert.Equal(Enumerable.Range(1, 299).Select(i => $"S{i}"), docx.Tables.SelectMany(t => t[1].Skip(1)));
        Assert.All(docx.ParagraphsOf("Caption").Skip(1), c => Assert.Equal("Table\u00A01, continued", c));
        Assert.Equal(docx.Tables.Count - 1, docx.ParagraphsOf("Caption").Count - 1);
    }

    [Fact]
    public void A_hundred_thousand_rows_go_on_in_parts_that_word_processors_can_hold()
    {
        var path = folder.File("long.docx");
        Table.Of(Enumerable.Range(0, 100_000)).Column("Row", i => i).Save(path, caption: "Long");
        using var zip = ZipFile.OpenRead(path);
        using var stream = zip.GetEntry("word/document.xml")!.Open();
        var counts = XDocument.Load(stream).Root!.Element(W + "body")!.Elements(W + "tbl").Select(t => t.Elements(W + "tr").Count()).ToArray();
        Assert.Equal([32_001, 32_001, 32_001, 4_001], counts);
    }

    [Fact]
    public void Long_cells_may_break_and_long_words_never_widen_the_page()
    {
        var docx = Save(new Report().Add(Table.WithHeads("A", "B").Row(string.Join(' ', Enumerable.Repeat("forage", 1500)), new string('m', 300)), caption: "Long"), out var warnings);
        Assert.Empty(docx.Body.Descendants(W + "tr").Last().Descendants(W + "cantSplit"));
        Assert.InRange(Value(docx.Body.Descendants(W + "tblW").Single(), "w")!.Value, docx.TextWidth - 500, docx.TextWidth);
        Assert.Contains("the table \"Long\" is too wide for its page: `B` holds words or numbers that cannot be broken", Assert.Single(warnings).Message, StringComparison.Ordinal);
    }

    // Odd content

    [Fact]
    public void Tables_without_rows_or_columns_and_odd_values_are_told_or_shown()
    {
        var docx = Save(new Report().Add(Table.WithHeads("A", "B"), caption: "Empty"), out var warnings);
        Assert.Equal([["A", "B"], ["—", "—"]], docx.Tables[0]);
        Assert.Equal("the table has no rows", Assert.Single(warnings).Message);
        var place = Assert.Throws<ReportException>(() => Save(new Report().Add(new Table { Columns = [] }))).Diagnostics[0];
        Assert.StartsWith("TableDocumentTests.cs:", place.ToString(), StringComparison.Ordinal);
        Assert.Contains("the table has no columns", place.Message, StringComparison.Ordinal);
        var odd = Save(new Report().Add(Table.WithHeads("A", "B", "C", "D").Row(double.NaN, double.PositiveInfinity, double.NegativeInfinity, null)));
        Assert.Equal(["—", "∞", "−∞", "—"], odd.Tables[0][1]);
    }

    [Fact]
    public void A_table_is_saved_by_itself_numbered_on_request()
    {
        var path = folder.File("annex/t7.docx");
        Assert.Empty(Models().Save(path, caption: "Models", number: 7, note: "A note.", language: Language.Find("de")));
        var docx = WordClean.Check(path);
        Assert.Equal(["Tabelle\u00A07. Models", "A note."], docx.Paragraphs);
        Assert.Contains("SEQ Tabelle \\* ARABIC \\r 7", docx.Body.Descendants(W + "instrText").Single().Value, StringComparison.Ordinal);
        Assert.Equal("0,25", Text(Cell(docx, 0, 2, 1)).Split('\t')[1]);
        Models().Save(path);
        Assert.Equal([""], WordClean.Check(path).Paragraphs);
    }

    // Pictures

    [Theory]
    [InlineData("png", 96)]
    [InlineData("png", 300)]
    [InlineData("jpeg", 96)]
    [InlineData("jpeg", 150)]
    public void The_size_of_a_picture_is_read_from_its_file(string format, int dotsPerInch)
    {
        byte[] bytes = format == "png"
            ? [.. Dot.AsSpan(0, 16), 0, 0, 0, 200, 0, 0, 0, 100, .. Dot.AsSpan(24, 9), .. dotsPerInch == 96 ? [] : PixelsPerMetre((int)Math.Round(dotsPerInch / 0.0254)), .. Dot.AsSpan(33)]
            : [0xFF, 0xD8, 0xFF, 0xE0, 0, 16, (byte)'J', (byte)'F', (byte)'I', (byte)'F', 0, 1, 2, 1, 0, (byte)dotsPerInch, 0, (byte)dotsPerInch, 0, 0, 0xFF, 0xC0, 0, 17, 8, 0, 100, 0, 200, 3, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0xFF, 0xD9];
        var picture = Picture.Of(bytes)!;
        Assert.Equal((200, 100), (picture.PixelWidth, picture.PixelHeight));
        Assert.InRange(picture.Width.Points, (200 * 72.0 / dotsPerInch) - 0.1, (200 * 72.0 / dotsPerInch) + 0.1);
        Assert.Null(Picture.Of(bytes.AsSpan(0, 20)));

        static byte[] PixelsPerMetre(int n) => [0, 0, 0, 9, (byte)'p', (byte)'H', (byte)'Y', (byte)'s', (byte)(n >> 24), (byte)(n >> 16), (byte)(n >> 8), (byte)n, (byte)(n >> 24), (byte)(n >> 16), (byte)(n >> 8), (byte)n, 1, 0, 0, 0, 0];
    }

    // Another reader

    [Fact]
    public void Another_word_processor_keeps_headers_widths_styles_and_signs()
    {
        var path = folder.File("round.docx");
        new Report().Add(Models(), caption: "Models").Save(path);
        var before = WordClean.Check(path);
        var after = WordProcessor.Resave(path);
        Assert.Equal(before.Tables[0], after.Tables[0]);
        Assert.Equal([true, true, false, false, false], after.Body.Descendants(W + "tr").Select(r => r.Descendants(W + "tblHeader").Any()));
        Assert.All(before.Body.Descendants(W + "gridCol").Zip(after.Body.Descendants(W + "gridCol")), pair => Assert.InRange(Value(pair.First, "w")!.Value - Value(pair.Second, "w")!.Value, -15, 15));
        Assert.Equal("TableOpen", (string?)after.Body.Descendants(W + "tblStyle").Single().Attribute(W + "val"));
        Assert.Equal(["TableHead", "TableNumber"], new[] { Cell(after, 0, 1, 1), Cell(after, 0, 2, 1) }.Select(c => (string?)c.Descendants(W + "pStyle").First().Attribute(W + "val")));
        Assert.Equal(["***", "*"], new[] { Cell(after, 0, 2, 1), Cell(after, 0, 2, 2) }.Select(c => Text(c).Split('\t')[^1]));
    }

    [Fact]
    public void Changing_the_table_style_changes_the_tables()
    {
        var path = folder.File("style.docx");
        new Report().Add(Table.WithHeads("A", "B").Row("x", 1), caption: "One").Add(Table.WithHeads("A", "B").Row("y", 2), caption: "Two").Save(path);
        WordClean.Check(path);
        // The other reader writes what it makes of the style at each cell.
        string[] HeaderRules() => [.. WordProcessor.Resave(path).Body.Elements(W + "tbl").Select(t => t.Elements(W + "tr").First().Descendants(W + "tcBorders").First().Element(W + "bottom")!).Select(b => $"{b.Attribute(W + "val")!.Value} {b.Attribute(W + "sz")!.Value}")];
        Assert.Equal(["single 6", "single 6"], HeaderRules());
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Update))
        {
            var entry = zip.GetEntry("word/styles.xml")!;
            XDocument styles;
            using (var stream = entry.Open()) styles = XDocument.Load(stream);
            styles.Descendants(W + "style").Single(s => (string?)s.Attribute(W + "styleId") == "TableOpen").Descendants(W + "tblStylePr").Descendants(W + "bottom").Single().SetAttributeValue(W + "sz", 24);
            entry.Delete();
            using var written = zip.CreateEntry("word/styles.xml").Open();
            styles.Save(written);
        }
        Assert.Equal(["single 24", "single 24"], HeaderRules());
    }
}
