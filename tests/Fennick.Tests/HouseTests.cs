using System.IO.Compression;
using System.Text;
using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;
using static Fennick.Testing.Docx;
using static Fennick.Testing.HouseBuilder;

namespace Fennick.Tests;

public sealed class HouseTests : IDisposable
{
    private const string Normal = "<w:style w:type=\"paragraph\" w:default=\"1\" w:styleId=\"Standard\"><w:name w:val=\"Normal\"/><w:pPr><w:spacing w:after=\"120\"/><w:jc w:val=\"both\"/></w:pPr><w:rPr><w:rFonts w:ascii=\"Liberation Serif\" w:hAnsi=\"Liberation Serif\"/><w:sz w:val=\"22\"/></w:rPr></w:style>";

    private static readonly string Heading = Style("berschrift1", "heading 1", "<w:keepNext/><w:outlineLvl w:val=\"0\"/>", "<w:b/><w:color w:val=\"7A1F3D\"/><w:sz w:val=\"36\"/>").Replace("<w:pPr>", "<w:basedOn w:val=\"Standard\"/><w:pPr>", StringComparison.Ordinal);

    private readonly TestFolder folder = new();

    public static TheoryData<string> OwnHouses => [.. House.All.Select(h => h.Name)];

    public void Dispose() => folder.Dispose();

    private static RecordTable<int> Numbers() => Table.Of([1, 2, 3]).Column("x", v => v).Column("square", v => v * v);

    private static Report Everything(House house)
    {
        var note = Footnote("A note.");
        return new Report("Hives & valleys")
        {
            House = house,
            Subtitle = "What was found",
            Authors = ["Ada Moss"],
            Date = new DateOnly(2025, 11, 3),
        }
        .Contents().Heading("First").Text($"Words **strong**, *stressed*, `code`{note}, a [link](https://larkmere.example/a b) and {See("squares")}.\n\n- one\n  - deeper\n- two\n\n1. first\n2. second\n\n> quoted")
        .Heading("Second", level: 2).Add(Numbers(), "squares", "Squares", "Small print.").Add(Chart.Columns([1, 2, 3], v => $"c{v}", v => v * 1.5), "bars", "Bars")
        .Heading("Third", level: 3).Heading("Fourth", level: 4).Text("The end.");
    }

    private Docx Save(Report report, bool isForeign = true)
    {
        var path = folder.File("report.docx");
        report.Save(path);
        return WordClean.Check(path, isForeign);
    }

    private House Build(HouseBuilder builder) => House.Read(builder.Save(folder.File("house.docx")));

    private static XElement StyleNamed(Docx docx, string name) => docx.Xml("word/styles.xml").Root!.Elements(W + "style").First(s => (string?)s.Element(W + "name")?.Attribute(W + "val") == name);

    private static string? StyleOf(Docx docx, string words) => (string?)docx.Body.Descendants(W + "p").First(p => Text(p) == words).Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val");

    [Theory]
    [MemberData(nameof(OwnHouses))]
    public void An_own_house_written_as_a_file_gives_the_same_report(string name)
    {
        var own = House.Find(name);
        own.SaveAsFile(folder.File("own.docx"));
        WordClean.Check(folder.File("own.docx"));
        var file = House.Read(folder.File("own.docx"));
        Assert.All(file.Examine().Roles, r => Assert.Equal("by its name", r.Origin));
        Assert.Equal(own.Examine().TextWidth.InCentimetres, file.Examine().TextWidth.InCentimetres, 0.01);
        var (direct, through) = (Save(Everything(own), isForeign: false), Save(Everything(file), isForeign: false));
        Assert.Equal(direct.AllText, through.AllText);
        Assert.Equal(direct.Tables, through.Tables);
        Assert.Equal(direct.Notes, through.Notes);
        Assert.Equal("Hives & valleys\t1", Text(through.Xml(through.Names.Single(n => n.StartsWith("word/footer", StringComparison.Ordinal))).Root!));
        File.Move(folder.File("report.docx"), folder.File("first.docx"));
        var again = House.Read(folder.File("first.docx")) with { KeepsContents = false };
        Assert.Equal(direct.AllText, Save(Everything(again), isForeign: false).AllText);
    }

    [Fact]
    public void Roles_that_a_house_lacks_are_made_in_its_own_families_and_colours()
    {
        var house = Build(new HouseBuilder(Paragraph(Run("sample")), Normal + Heading));
        var roles = house.Examine().Roles.ToDictionary(r => r.Role);
        Assert.Equal("by its name", roles["heading 1"].Origin);
        Assert.Equal("made", roles["caption"].Origin);
        Assert.Contains("Liberation Serif", roles["caption"].Look, StringComparison.Ordinal);
        var docx = Save(Everything(house));
        Assert.Equal("berschrift1", StyleOf(docx, "First"));
        // The second level is the first made smaller, the caption wears the colour of the headings, and cells do not take the justified lines of the text.
        Assert.Equal("berschrift1", (string?)StyleNamed(docx, "heading 2").Element(W + "basedOn")!.Attribute(W + "val"));
        Assert.InRange((int)StyleNamed(docx, "heading 2").Element(W + "rPr")!.Element(W + "sz")!.Attribute(W + "val")!, 23, 35);
        Assert.Equal("7A1F3D", (string?)StyleNamed(docx, "caption").Element(W + "rPr")!.Element(W + "color")!.Attribute(W + "val"));
        Assert.Equal("left", (string?)StyleNamed(docx, "Table Text").Element(W + "pPr")!.Element(W + "jc")!.Attribute(W + "val"));
        Assert.Null(StyleNamed(docx, "Quote").Element(W + "pPr")!.Element(W + "jc"));
        Assert.DoesNotContain("sample", docx.AllText, StringComparison.Ordinal);
        // Spelling is checked in the report's language.
        Assert.Equal("en-GB", (string?)docx.Xml("word/styles.xml").Root!.Element(W + "docDefaults")!.Descendants(W + "lang").Single().Attribute(W + "val"));
        // A theme that nothing wears takes the colour of the headings, for the charts.
        Assert.Contains("7A1F3D", Encoding.UTF8.GetString(docx.Bytes("word/theme/theme1.xml")), StringComparison.Ordinal);
    }

    [Fact]
    public void Heads_that_a_table_style_sets_in_white_are_seen_in_every_row_and_ruling()
    {
        const string White = "<w:style w:type=\"table\" w:styleId=\"TableOpen\"><w:name w:val=\"Table Open\"/><w:tblStylePr w:type=\"firstRow\"><w:rPr><w:b/><w:color w:val=\"FFFFFF\"/></w:rPr><w:tcPr><w:shd w:val=\"clear\" w:color=\"auto\" w:fill=\"5B4688\"/></w:tcPr></w:tblStylePr></w:style>";
        var house = Build(new HouseBuilder(Paragraph(Run("sample")), Normal + Heading + White + Style("Plain", "Plain", type: "table")));
        var table = Table.WithHeads("A", "B", "C").Row("x", 1, 2).Span("Both", "B", "C");
        var docx = Save(new Report { House = house }.Add(table).Add(table, ruling: new Ruling("Plain")));
        // No paragraph style fixes a colour that cannot be seen elsewhere.
        Assert.All(new[] { "Table Head", "Table Head Number" }, s => Assert.Null(StyleNamed(docx, s).Element(W + "rPr")?.Element(W + "color")));
        var rows = docx.Body.Descendants(W + "tr").ToArray();
        // The first row is the style's; the second says for itself how it looks, as some word processors do not count it.
        Assert.Empty(rows[0].Descendants(W + "shd"));
        Assert.Equal(["5B4688", "5B4688", "5B4688"], rows[1].Descendants(W + "shd").Select(s => (string?)s.Attribute(W + "fill")));
        Assert.Equal(["Both", "A", "B", "C"], rows.Take(2).Descendants(W + "r").Where(r => (string?)r.Descendants(W + "color").SingleOrDefault()?.Attribute(W + "val") == "FFFFFF").Select(Text));
        Assert.Empty(rows.Skip(2).Descendants(W + "shd"));
        Assert.Empty(rows.Skip(2).Descendants(W + "color"));
        Assert.Equal("0", (string?)docx.Xml("word/settings.xml").Descendants(W + "compatSetting").Single(s => (string?)s.Attribute(W + "name") == "differentiateMultirowTableHeaders").Attribute(W + "val"));
    }

    [Fact]
    public void Styles_of_other_names_are_named_by_the_settings()
    {
        var styles = Normal + Heading + Style("LKBrdtext", "LK Brödtext", "<w:spacing w:after=\"200\"/>", "<w:sz w:val=\"21\"/>") + Style("LKTabell", "LK Tabell", type: "table");
        var house = Build(new HouseBuilder("", styles)) with { Styles = new Dictionary<string, string> { ["body"] = "LK Brödtext", ["open"] = "lk tabell" } };
        Assert.Equal("by the settings", house.Examine().Roles.Single(r => r.Role == "body").Origin);
        var docx = Save(Everything(house));
        Assert.Equal("LKBrdtext", StyleOf(docx, "The end."));
        Assert.Equal("LKTabell", (string?)docx.Body.Descendants(W + "tblStyle").First().Attribute(W + "val"));
        var wrong = house with { Styles = new Dictionary<string, string> { ["body"] = "LK Brodtext" } };
        var problem = Assert.Throws<ReportException>(() => Everything(wrong).Save(folder.File("wrong.docx")));
        Assert.Contains("the house has no paragraph style `LK Brodtext` for `body`; did you mean `LK Brödtext`?", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Slots_are_filled_wherever_they_stand()
    {
        const string Box = "<mc:AlternateContent><mc:Choice Requires=\"wps\"><w:drawing><wp:inline distT=\"0\" distB=\"0\" distL=\"0\" distR=\"0\"><wp:extent cx=\"100000\" cy=\"100000\"/><wp:docPr id=\"77\" name=\"box\" descr=\"A box\"/><a:graphic><a:graphicData uri=\"http://schemas.microsoft.com/office/word/2010/wordprocessingShape\"><wps:wsp><wps:cNvSpPr txBox=\"1\"/><wps:spPr/><wps:txbx><w:txbxContent>{0}</w:txbxContent></wps:txbx><wps:bodyPr/></wps:wsp></a:graphicData></a:graphic></wp:inline></w:drawing></mc:Choice><mc:Fallback><w:pict><v:shape id=\"s\"><v:textbox><w:txbxContent>{0}</w:txbxContent></v:textbox></v:shape></w:pict></mc:Fallback></mc:AlternateContent>";
        var box = Paragraph("<w:r>" + Box.Replace("{0}", Paragraph(Slot("apiary")), StringComparison.Ordinal) + "</w:r>");
        var field = "<w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:instrText> DOCPROPERTY \"Apiary\" </w:instrText></w:r><w:r><w:fldChar w:fldCharType=\"separate\"/></w:r><w:r><w:t>old</w:t></w:r><w:r><w:fldChar w:fldCharType=\"end\"/></w:r>";
        var date = Slot("DATE", "click", "<w:showingPlcHdr/><w:date><w:dateFormat w:val=\"d MMMM yyyy\"/></w:date>").Replace("<w:showingPlcHdr/><w:date><w:dateFormat w:val=\"d MMMM yyyy\"/></w:date><w:tag w:val=\"DATE\"/>", "<w:tag w:val=\"DATE\"/><w:showingPlcHdr/><w:date><w:dateFormat w:val=\"d MMMM yyyy\"/></w:date>", StringComparison.Ordinal);
        var body = Paragraph(Run("For ") + Slot("apiary") + Run(", again ") + field) + box + Paragraph(date) + Paragraph(Slot("body")) + Paragraph(Slot("signed by", "somebody"))
            + "<w:sectPr><w:headerReference w:type=\"default\" r:id=\"h1\"/><w:pgSz w:w=\"11906\" w:h=\"16838\"/><w:pgMar w:top=\"1440\" w:right=\"1440\" w:bottom=\"1440\" w:left=\"1440\" w:header=\"700\" w:footer=\"700\" w:gutter=\"0\"/></w:sectPr>";
        const string More = "xmlns:mc=\"http://schemas.openxmlformats.org/markup-compatibility/2006\" xmlns:wps=\"http://schemas.microsoft.com/office/word/2010/wordprocessingShape\" xmlns:wp=\"http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing\" xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\" xmlns:v=\"urn:schemas-microsoft-com:vml\"";
        var house = Build(new HouseBuilder(body, Normal) { Namespaces = More }.AddHeader("h1", Paragraph(Slot("title") + Run(" · ") + Slot("apiary"))));
        var report = new Report("Hives & valleys") { House = house, Date = new DateOnly(2025, 11, 3) }.Fill("apiary", $"Alder {"Bank"} <1>").Text("The report.");
        var diagnostics = report.Save(folder.File("report.docx"));
        var docx = WordClean.Check(folder.File("report.docx"), inForeignHouse: true);
        Assert.Equal("nothing fills the slot `signed by`; it keeps its words", Assert.Single(diagnostics).Message);
        Assert.Equal(3, docx.Body.Descendants(W + "sdt").Count(s => Text(s) == "Alder Bank <1>"));
        Assert.StartsWith("For Alder Bank <1>, again Alder Bank <1>", docx.Paragraphs[0], StringComparison.Ordinal);
        Assert.Equal("Hives & valleys · Alder Bank <1>", Text(docx.Xml("word/headerh1.xml").Root!));
        var filled = docx.Body.Descendants(W + "date").Single();
        Assert.Equal("2025-11-03T00:00:00Z", (string?)filled.Attribute(W + "fullDate"));
        Assert.Null(filled.Parent!.Element(W + "showingPlcHdr"));
        Assert.Equal(["3 November 2025", "Hives & valleys", "The report.", "somebody"], docx.Paragraphs.TakeLast(4));
    }

    [Fact]
    public void What_a_report_does_not_say_of_itself_is_not_printed()
    {
        var body = Paragraph(Slot("title", "The title")) + Paragraph(Slot("subtitle", "The subtitle")) + Paragraph(Run("By ") + Slot("author", "Who wrote it")) + Paragraph(Slot("date", "The date")) + Paragraph(Slot("body"));
        var report = new Report("Hives") { House = Build(new HouseBuilder(body, Normal)) }.Text("The report.");
        Assert.Empty(report.Save(folder.File("report.docx")));
        Assert.Equal(["Hives", "", "By ", "", "The report."], WordClean.Check(folder.File("report.docx"), inForeignHouse: true).Paragraphs);
    }

    [Fact]
    public void A_document_that_people_wrote_takes_tables_figures_and_values_and_stays_as_it_is()
    {
        var cell = $"<w:tbl><w:tblPr><w:tblW w:w=\"0\" w:type=\"auto\"/></w:tblPr><w:tblGrid><w:gridCol w:w=\"4500\"/></w:tblGrid><w:tr><w:tc><w:tcPr><w:tcW w:w=\"4500\" w:type=\"dxa\"/></w:tcPr>{Paragraph(Slot("bars"))}</w:tc></w:tr></w:tbl>";
        var body = Paragraph(Run("Their own words.")) + Paragraph(Slot("squares")) + Paragraph(Run("Mean: ") + Slot("mean") + Run(" kg.")) + cell + Paragraph(Run("Their end."));
        var house = Build(new HouseBuilder(body, Normal + Heading));
        var report = Everything(house).Fill("mean", $"{24.5:0.0}");
        var diagnostics = report.Save(folder.File("report.docx"));
        var docx = WordClean.Check(folder.File("report.docx"), inForeignHouse: true);
        Assert.Contains(diagnostics, d => d.Message.Contains("blocks that the house has no slot for", StringComparison.Ordinal));
        var words = docx.Paragraphs.Where(p => p.Length > 0).ToArray();
        Assert.Equal(["Their own words.", "Table\u00A01. Squares", "Small print.", "Mean: 24.5 kg.", "Their end."], words);
        Assert.Equal("9", docx.Tables[0][3][1]);
        // The figure is no wider than its cell.
        Assert.InRange((long)docx.Body.Descendants(W + "tc").SelectMany(c => c.Descendants(Wp + "extent")).Single().Attribute("cx")!, 1, 4500 * 635);
    }

    [Fact]
    public void The_body_goes_between_cover_and_imprint_and_wears_their_section()
    {
        const string Page = "<w:pgSz w:w=\"12240\" w:h=\"15840\"/><w:pgMar w:top=\"1000\" w:right=\"2000\" w:bottom=\"1000\" w:left=\"2000\" w:header=\"500\" w:footer=\"500\" w:gutter=\"0\"/>";
        var body = Paragraph(Slot("title")) + $"<w:p><w:pPr><w:sectPr>{Page}</w:sectPr></w:pPr></w:p>" + Paragraph(Slot("body")) + Paragraph(Run("Imprint."))
            + $"<w:sectPr><w:headerReference w:type=\"default\" r:id=\"h1\"/><w:headerReference w:type=\"first\" r:id=\"h2\"/>{Page}<w:pgNumType w:start=\"1\"/><w:titlePg/></w:sectPr>";
        var house = Build(new HouseBuilder(body, Normal + Heading).AddHeader("h1", Paragraph(Run("every page"))).AddHeader("h2", Paragraph(Run("first page"))));
        var report = Everything(house);
        report.Add(new Landscape([new Paragraph("Across.")])).Text("Upright again.");
        var docx = Save(report);
        Assert.Equal(["Hives & valleys", ""], docx.Paragraphs.Take(2));
        Assert.Equal("Imprint.", docx.Paragraphs[^1]);
        var sections = docx.Body.Descendants(W + "sectPr").ToArray();
        Assert.Equal([null, null, "landscape", null], sections.Select(s => (string?)s.Element(W + "pgSz")!.Attribute(W + "orient")));
        Assert.Equal([false, true, false, false], sections.Select(s => s.Element(W + "titlePg") is not null));
        Assert.Equal([false, true, false, false], sections.Select(s => s.Element(W + "pgNumType") is not null));
        Assert.All(sections.Skip(1), s => Assert.Contains(s.Elements(W + "headerReference"), r => (string?)r.Attribute(R + "id") == "h1"));
        Assert.DoesNotContain(docx.Names, n => n.Contains("turned", StringComparison.Ordinal));
    }

    [Fact]
    public void A_header_reaches_the_edge_of_pages_that_lie_across()
    {
        const string Page = "<w:pgSz w:w=\"11906\" w:h=\"16838\"/><w:pgMar w:top=\"1000\" w:right=\"1453\" w:bottom=\"2000\" w:left=\"1453\" w:header=\"500\" w:footer=\"500\" w:gutter=\"0\"/>";
        var header = "<w:p><w:pPr><w:pStyle w:val=\"Kopf\"/></w:pPr><w:r><w:t>left</w:t></w:r><w:r><w:tab/></w:r>" + Slot("title") + "</w:p>";
        var styles = Normal + Style("Kopf", "header", "<w:tabs><w:tab w:val=\"left\" w:pos=\"700\"/><w:tab w:val=\"center\" w:pos=\"4536\"/><w:tab w:val=\"right\" w:pos=\"9072\"/></w:tabs>");
        var house = Build(new HouseBuilder(Paragraph(Slot("body")) + $"<w:sectPr><w:headerReference w:type=\"default\" r:id=\"h1\"/>{Page}</w:sectPr>", styles).AddHeader("h1", header));
        var docx = Save(Everything(house).Add(new Landscape([new Paragraph("Across.")])));
        var turned = docx.Xml("word/headerh1-turned.xml").Root!;
        Assert.Equal("left\tHives & valleys", Text(turned));
        Assert.Equal(["clear 4536", "center 6919", "clear 9072", "right 13838"], turned.Descendants(W + "tab").Where(t => t.Parent!.Name == W + "tabs").Select(t => $"{(string?)t.Attribute(W + "val")} {(string?)t.Attribute(W + "pos")}"));
        Assert.Equal(["h1", "h1Turned"], docx.Body.Descendants(W + "headerReference").Select(r => (string)r.Attribute(R + "id")!));
        Assert.DoesNotContain(Save(Everything(house)).Names, n => n.Contains("turned", StringComparison.Ordinal));
    }

    [Fact]
    public void Parts_of_kinds_that_are_not_known_to_be_still_go_and_each_is_told()
    {
        var builder = new HouseBuilder(Paragraph(Slot("body")), Normal);
        for (var i = 0; i < 30; i++) builder.Add($"word/own/part{i}.{(i % 2 == 0 ? "xml" : "bin")}", i % 2 == 0 ? "application/vnd.larkmere.part+xml" : "", "http://larkmere.example/relationships/part", $"<part number=\"{i}\"/>");
        builder.Add("word/webSettings.xml", "webSettings+xml", "webSettings", "<w:webSettings xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\"/>");
        var house = Build(builder);
        var told = house.Examine().Diagnostics.Single().Message;
        var docx = Save(Everything(house));
        for (var i = 0; i < 30; i++) Assert.Contains($"a part of the kind `part` (word/own/part{i}.", told, StringComparison.Ordinal);
        Assert.DoesNotContain(docx.Names, n => n.Contains("own", StringComparison.Ordinal));
        Assert.Contains("word/webSettings.xml", docx.Names);
    }

    public static TheoryData<string, string> Active => new()
    {
        { "<w:p><w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:instrText> DDE</w:instrText></w:r><w:r><w:instrText>AUTO c:\\cmd \"x\" </w:instrText></w:r><w:r><w:fldChar w:fldCharType=\"separate\"/></w:r><w:r><w:t>shown</w:t></w:r><w:r><w:fldChar w:fldCharType=\"end\"/></w:r></w:p>", "a field `DDEAUTO` (word/document.xml)" },
        { "<w:p><w:fldSimple w:instr=\" INCLUDEPICTURE https://larkmere.example/x.png \\d\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `INCLUDEPICTURE` (word/document.xml)" },
        { "<w:p><w:fldSimple w:instr=\"includetext c:\\x.docx\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `INCLUDETEXT`" },
        { "<w:p><w:fldSimple w:instr=\"LINK Excel.Sheet x.xlsx\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `LINK`" },
        { "<w:p><w:fldSimple w:instr=\"DATABASE \\d x\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `DATABASE`" },
        { "<w:p><w:fldSimple w:instr=\"MACROBUTTON Run Click\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `MACROBUTTON`" },
        { "<w:p><w:fldSimple w:instr=\"HYPERLINK file://server/x.exe\"><w:r><w:t>shown</w:t></w:r></w:fldSimple></w:p>", "a field `HYPERLINK`" },
        { "<w:p><w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:instrText>QUOTE 68 68 69</w:instrText></w:r><w:r><w:fldChar w:fldCharType=\"end\"/></w:r><w:r><w:fldChar w:fldCharType=\"separate\"/></w:r><w:r><w:t>shown</w:t></w:r><w:r><w:fldChar w:fldCharType=\"end\"/></w:r></w:p>", "a field `without a name`" },
        { "<w:p><w:hyperlink r:id=\"evil\"><w:r><w:t>shown</w:t></w:r></w:hyperlink></w:p>", "a link to `javascript:alert(1)` (word/document.xml)" },
        { "<w:altChunk r:id=\"chunk\"/><w:p><w:r><w:t>shown</w:t></w:r></w:p>", "a document inside of it (word/part.html)" },
        { "<w:p><w:r><w:object><o:OLEObject xmlns:o=\"urn:schemas-microsoft-com:office:office\" r:id=\"ole\"/></w:object></w:r><w:r><w:t>shown</w:t></w:r></w:p>", "an object of another program (word/embeddings/object.bin)" },
        { "<w:p><w:r><w:object><w:control r:id=\"control\"/></w:object></w:r><w:r><w:t>shown</w:t></w:r></w:p>", "a control (word/activeX/control.xml)" },
        { "<w:sdt><w:sdtPr><w:dataBinding w:xpath=\"/x\" w:storeItemID=\"{11111111-1111-1111-1111-111111111111}\"/></w:sdtPr><w:sdtContent><w:p><w:r><w:t>shown</w:t></w:r></w:p></w:sdtContent></w:sdt>", "a binding to data outside of it (word/document.xml)" },
    };

    [Theory]
    [MemberData(nameof(Active))]
    public void What_does_something_by_itself_is_taken_out_and_told_and_its_words_stay(string body, string told)
    {
        var builder = new HouseBuilder(body + Paragraph(Slot("body")), Normal).Relate("evil", "hyperlink", "javascript:alert(1)", isExternal: true);
        if (body.Contains("altChunk", StringComparison.Ordinal)) builder.Add("word/part.html", "text/html", "aFChunk", "<script/>", "chunk");
        if (body.Contains("OLEObject", StringComparison.Ordinal)) builder.Add("word/embeddings/object.bin", "application/vnd.openxmlformats-officedocument.oleObject", "oleObject", "\u00D0\u00CF", "ole");
        if (body.Contains("w:control", StringComparison.Ordinal)) builder.Add("word/activeX/control.xml", "application/vnd.ms-office.activeX+xml", "control", "<ax/>", "control");
        var house = Build(builder);
        Assert.Contains(told, house.Examine().Diagnostics.Single(d => d.Message.StartsWith("the house holds what reports do not carry", StringComparison.Ordinal)).Message, StringComparison.Ordinal);
        var docx = Save(new Report($"x") { House = house });
        Assert.Contains("shown", docx.AllText, StringComparison.Ordinal);
        var all = string.Concat(docx.Names.Where(n => n.EndsWith(".xml", StringComparison.Ordinal) || n.EndsWith(".rels", StringComparison.Ordinal)).Select(n => Encoding.UTF8.GetString(docx.Bytes(n))));
        foreach (var trace in (string[])["DDEAUTO", "INCLUDEPICTURE", "includetext", "LINK Excel", "DATABASE", "MACROBUTTON", "file://", "68 68 69", "javascript", "altChunk", "OLEObject", "w:control", "dataBinding"]) Assert.DoesNotContain(trace, all, StringComparison.Ordinal);
        Assert.DoesNotContain(docx.Names, n => n.Contains("part.html", StringComparison.Ordinal) || n.Contains("activeX", StringComparison.Ordinal) || n.Contains("object.bin", StringComparison.Ordinal));
    }

    [Fact]
    public void Variables_ribbons_web_extensions_and_disguised_macros_go_too()
    {
        var builder = new HouseBuilder(Paragraph(Slot("body")), Normal)
            .Add("word/settings.xml", "settings+xml", "settings", "<w:settings xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\"><w:docVars><w:docVar w:name=\"a\" w:val=\"secret\"/></w:docVars></w:settings>")
            .Add("word/media/image9.png", "image/png", "image", "no picture at all")
            .Add("customUI/customUI.xml", "application/xml", "http://schemas.microsoft.com/office/2007/relationships/ui/extensibility", "<customUI/>")
            .Add("word/webextensions/taskpanes.xml", "application/vnd.ms-office.webextensiontaskpanes+xml", "http://schemas.microsoft.com/office/2011/relationships/webextensiontaskpanes", "<wetp:taskpanes xmlns:wetp=\"x\"/>")
            .Add("word/harmless.xml", "application/xml", "http://schemas.microsoft.com/office/2006/relationships/vbaProject", "macro");
        var house = Build(builder);
        var told = string.Concat(house.Examine().Diagnostics.Select(d => d.Message));
        foreach (var part in (string[])["variables (word/settings.xml)", "a picture that is none (word/media/image9.png)", "a ribbon of its own (customUI/customUI.xml)", "a web extension (word/webextensions/taskpanes.xml)"]) Assert.Contains(part, told, StringComparison.Ordinal);
        var docx = Save(new Report($"x") { House = house });
        Assert.DoesNotContain(docx.Names, n => n.Contains("image9", StringComparison.Ordinal) || n.Contains("customUI", StringComparison.Ordinal) || n.Contains("webext", StringComparison.Ordinal) || n.Contains("harmless", StringComparison.Ordinal));
        Assert.DoesNotContain("secret", Encoding.UTF8.GetString(docx.Bytes("word/settings.xml")), StringComparison.Ordinal);
    }

    /// <summary>A document with a chart whose workbook was changed.</summary>
    private string WithWorkbook(Action<string> change)
    {
        var path = folder.File("chart.docx");
        new Report("The title").Add(Charts.Chart.Columns([1, 2], v => $"c{v}", v => v), caption: "A figure").Save(path);
        using (var zip = ZipFile.Open(path, ZipArchiveMode.Update))
        {
            var entry = zip.GetEntry("word/embeddings/workbook1.xlsx")!;
            var workbook = folder.File("workbook.xlsx");
            entry.ExtractToFile(workbook, overwrite: true);
            change(workbook);
            entry.Delete();
            zip.CreateEntryFromFile(workbook, "word/embeddings/workbook1.xlsx");
        }
        return path;
    }

    [Theory]
    [InlineData("xl/styles.xml", "<cellXfs", "<cellXfs odd=\"1\"", "odd")]
    [InlineData("xl/workbook.xml", "<sheets>", "<strange/><sheets>", "strange")]
    [InlineData("xl/worksheets/sheet1.xml", "</sheetData>", "", "word/embeddings/workbook1.xlsx")]
    [InlineData("xl/worksheets/sheet1.xml", "worksheet", "spread", "a damaged workbook")]
    public void The_workbook_of_a_chart_in_a_house_is_mended_or_left_out(string part, string old, string by, string told)
    {
        var path = WithWorkbook(workbook => Rewrite(workbook, part, xml => xml.Replace(old, by, StringComparison.Ordinal)));
        var house = House.Read(path) with { KeepsContents = true };
        Assert.Contains(told, string.Concat(house.Examine().Diagnostics.Select(d => d.Message)), StringComparison.Ordinal);
        var docx = Save(new Report("Another") { House = house });
        Assert.Contains(docx.Names, n => n.StartsWith("word/charts/chart", StringComparison.Ordinal));
        Assert.Equal(told is "odd" or "strange", docx.Names.Any(n => n.EndsWith(".xlsx", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("xl/worksheets/sheet1.xml", "xl/worksheets/sheet9.xml")]
    [InlineData("xl/workbook.xml", "xl/workbooks.xml")]
    public void A_workbook_that_speaks_of_parts_which_it_lacks_is_left_out(string part, string other)
    {
        var path = WithWorkbook(workbook =>
        {
            using (var inner = ZipFile.Open(workbook, ZipArchiveMode.Update))
            {
                var old = inner.GetEntry(part)!;
                using (var from = old.Open())
                using (var to = inner.CreateEntry(other).Open()) from.CopyTo(to);
                old.Delete();
            }
        });
        var house = House.Read(path) with { KeepsContents = true };
        Assert.Contains("a damaged workbook", string.Concat(house.Examine().Diagnostics.Select(d => d.Message)), StringComparison.Ordinal);
        Assert.DoesNotContain(Save(new Report("Another") { House = house }).Names, n => n.EndsWith(".xlsx", StringComparison.Ordinal));
    }

    [Fact]
    public void A_number_that_readers_cannot_hold_is_left_out_of_a_house()
    {
        var path = folder.File("chart.docx");
        new Report("The title").Add(Charts.Chart.Columns([1, 2], v => $"c{v}", v => v), caption: "A figure").Save(path);
        Rewrite(path, "word/charts/chart1.xml", xml => xml.Replace("<c:ptCount val=\"2\"/>", "<c:ptCount val=\"2147483648\"/>", StringComparison.Ordinal));
        Save(new Report("Another") { House = House.Read(path) with { KeepsContents = true } });
    }

    [Fact]
    public void Contents_that_stand_in_the_house_alone_have_entries_that_lead_somewhere()
    {
        var house = Build(new HouseBuilder(Paragraph(Slot("contents")) + Paragraph(Slot("body")), Normal + Heading));
        var docx = Save(new Report { House = house }.Heading("First").Text("Text.").Heading("Second"));
        string?[] anchors = [.. docx.Body.Descendants(W + "hyperlink").Select(h => (string?)h.Attribute(W + "anchor"))];
        Assert.Equal(2, anchors.Length);
        Assert.All(anchors, a => Assert.Contains(docx.Body.Descendants(W + "bookmarkStart"), b => (string?)b.Attribute(W + "name") == a));
        Assert.All(docx.Body.Descendants(W + "instrText").Where(f => f.Value.Contains("PAGEREF", StringComparison.Ordinal)), f => Assert.Contains(anchors, a => f.Value.Contains(a!, StringComparison.Ordinal)));
    }

    [Fact]
    public void What_goes_on_in_an_item_has_no_mark_though_the_house_marks_its_list_style()
    {
        const string numbering = """
            <w:numbering xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:abstractNum w:abstractNumId="0"><w:multiLevelType w:val="hybridMultilevel"/><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="bullet"/><w:lvlText w:val="*"/><w:lvlJc w:val="left"/></w:lvl></w:abstractNum><w:num w:numId="1"><w:abstractNumId w:val="0"/></w:num></w:numbering>
            """;
        const string bullet = "<w:style w:type=\"paragraph\" w:styleId=\"ListBullet\"><w:name w:val=\"List Bullet\"/><w:basedOn w:val=\"Normal\"/><w:pPr><w:numPr><w:numId w:val=\"1\"/></w:numPr></w:pPr></w:style>";
        var house = Build(new HouseBuilder(Paragraph(Slot("body")), Normal + bullet).Add("word/numbering.xml", "numbering+xml", "numbering", numbering));
        var docx = Save(new Report { House = house }.Text($"- one\n\n  goes on"));
        var styles = docx.Xml("word/styles.xml").Root!.Elements(W + "style").ToDictionary(s => (string)s.Attribute(W + "styleId")!);
        var id = (string)docx.Body.Descendants(W + "p").Single(p => Text(p) == "goes on").Descendants(W + "pStyle").Single().Attribute(W + "val")!;
        Assert.NotNull(styles["ListBullet"].Descendants(W + "numPr").SingleOrDefault());
        Assert.Equal("0", (string?)styles[id].Descendants(W + "numId").Single().Attribute(W + "val"));
    }

    [Fact]
    public void Signs_of_its_own_in_a_house_are_text_and_slots_may_be_empty()
    {
        var body = Paragraph(Run("a \uE0F0S0\uE0F1 b \uE0F0 \uE0F1")) + "<w:sdt><w:sdtPr><w:tag w:val=\"title\"/></w:sdtPr></w:sdt>" + Paragraph("<w:sdt><w:sdtPr><w:tag w:val=\"author\"/></w:sdtPr></w:sdt>" + Run(".")) + Paragraph(Slot("body"));
        var docx = Save(new Report($"The title") { House = Build(new HouseBuilder(body, Normal)), Authors = ["Ann Ash"] }.Text("Text."));
        Assert.Equal("a \uE0F0S0\uE0F1 b \uE0F0 \uE0F1\nThe title\nAnn Ash.\nText.", docx.AllText);
    }

    [Theory]
    [InlineData("deep")]
    [InlineData("slots")]
    [InlineData("many")]
    [InlineData("large")]
    public void Houses_that_would_take_all_memory_or_time_are_refused(string kind)
    {
        var body = kind switch
        {
            "deep" => string.Concat(Enumerable.Repeat("<w:ins>", 100_000)) + string.Concat(Enumerable.Repeat("</w:ins>", 100_000)),
            "slots" => string.Concat(Enumerable.Repeat("<w:sdt><w:sdtContent>", 3000)) + string.Concat(Enumerable.Repeat("</w:sdtContent></w:sdt>", 3000)),
            "many" => string.Concat(Enumerable.Repeat("<w:p/>", 600_000)),
            _ => Paragraph(Run(new string('x', 17 << 20))),
        };
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var problem = Assert.Throws<ReportException>(() => Build(new HouseBuilder(body, Normal)));
        Assert.StartsWith("the part word/document.xml ", problem.Diagnostics.Single().Message, StringComparison.Ordinal);
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), $"{watch.Elapsed}");
    }

    [Fact]
    public void Fields_of_a_house_show_what_they_will_show_when_they_are_renewed()
    {
        static string Field(string code, string shown) => $"<w:fldSimple w:instr=\" {code} \"><w:r><w:t>{shown}</w:t></w:r></w:fldSimple>";
        static string Split(string one, string two, string shown) => $"<w:r><w:fldChar w:fldCharType=\"begin\"/></w:r><w:r><w:instrText>{one}</w:instrText></w:r><w:r><w:instrText>{two}</w:instrText></w:r><w:r><w:fldChar w:fldCharType=\"separate\"/></w:r><w:r><w:t>{shown}</w:t></w:r><w:r><w:fldChar w:fldCharType=\"end\"/></w:r>";
        var body = Paragraph(Run("By ") + Field("AUTHOR", "old")) + Paragraph(Run("Table ") + Field("SEQ Table \\* ARABIC", "1") + Run(" of the house")) + Paragraph(Slot("body")) + Paragraph(Run("Table ") + Split(" SEQ Tab", "le \\* ARABIC ", "2") + Run(" of the house")) + Paragraph(Run("Table ") + Field("SEQ Table", "3"));
        const string Count = "<property fmtid=\"{D5CDD505-2E9C-101B-9397-08002B2CF9AE}\" pid=\"2\" name=\"Hives\"><vt:i4>12</vt:i4></property>";
        var report = new Report("Hives") { House = Build(new HouseBuilder(body, Normal) { Properties = Count }), Authors = ["Ada Moss", "Bo Reed"] };
        var docx = Save(report.Fill("hives", "227").Add(Table.Of(new[] { 1 }).Column("A", n => n), caption: "One").Add(Table.Of(new[] { 1 }).Column("A", n => n), caption: "Two"));
        Assert.Equal("By Ada Moss; Bo Reed", docx.Paragraphs[0]);
        Assert.Equal("Ada Moss; Bo Reed", docx.Xml("docProps/core.xml").Root!.Elements().Single(e => e.Name.LocalName == "creator").Value);
        var hives = docx.Xml("docProps/custom.xml").Root!.Elements().Single();
        Assert.Equal("lpwstr 227", $"{hives.Elements().Single().Name.LocalName} {hives.Value}");
        var sequences = docx.Body.Descendants().Where(e => e.Name == W + "p").Select(p => string.Concat(p.Descendants(W + "fldSimple").Select(f => (string?)f.Attribute(W + "instr")).Concat(p.Descendants(W + "instrText").Select(i => i.Value)))).Where(c => c.Contains("SEQ", StringComparison.Ordinal)).Select(c => System.Text.RegularExpressions.Regex.Replace(c.Trim(), " +", " "));
        Assert.Equal(["SEQ Table \\* ARABIC", "SEQ Table \\* ARABIC \\r 1", "SEQ Table \\* ARABIC", "SEQ Table \\* ARABIC \\r 2", "SEQ Table"], sequences);
    }

    [Fact]
    public void Properties_are_filled_and_what_other_programs_leave_out_of_order_is_mended()
    {
        static string Property(int id, string name) => $"<property fmtid=\"{{D5CDD505-2E9C-101B-9397-08002B2CF9AE}}\" pid=\"{id}\" name=\"{name}\"><vt:lpwstr>old</vt:lpwstr></property>";
        const string Drawing = "<w:r><w:drawing><wp:inline xmlns:wp=\"http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing\" distT=\"0\" distB=\"0\" distL=\"0\" distR=\"0\"><wp:extent cx=\"9\" cy=\"9\"/><wp:docPr id=\"1\" name=\"twin\" descr=\"A twin\"/><a:graphic xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\"><a:graphicData uri=\"x\"/></a:graphic></wp:inline></w:drawing></w:r>";
        var body = "<w:p><w:pPr><w:jc w:val=\"center\"/><w:keepNext/><w:rPr><w:i/><w:b/><w:i w:val=\"0\"/></w:rPr></w:pPr>" + Drawing + Drawing + "</w:p>" + Paragraph(Slot("body"));
        var docx = Save(Everything(Build(new HouseBuilder(body, Normal) { Properties = Property(2, "Apiary") + Property(7, "Signed") })).Fill("apiary", "Alder Bank"));
        Assert.Equal(["Apiary Alder Bank", "Signed old"], docx.Xml("docProps/custom.xml").Root!.Elements().Select(p => $"{(string?)p.Attribute("name")} {p.Value}"));
        Assert.Equal(["keepNext", "jc", "rPr"], docx.Body.Elements().First().Element(W + "pPr")!.Elements().Select(e => e.Name.LocalName));
        Assert.Equal(["b", "i"], docx.Body.Elements().First().Element(W + "pPr")!.Element(W + "rPr")!.Elements().Select(e => e.Name.LocalName));
    }

    [Fact]
    public void A_house_is_read_once_however_many_reports_wear_it()
    {
        var house = Build(new HouseBuilder(Paragraph(Slot("body")), Normal));
        File.Delete(folder.File("house.docx"));
        for (var i = 0; i < 3; i++) Save(Everything(house with { Accent = "#336699" }));
    }

    [Theory]
    [InlineData("saved-in-english.docx")]
    [InlineData("saved-in-german.docx")]
    public void Houses_saved_by_the_word_processor_in_two_languages_work(string file)
    {
        var house = House.Read(Repository.PathOf("tests", "Fennick.Tests", "Houses", file));
        Assert.Equal("by its name", house.Examine().Roles.Single(r => r.Role == "heading 1").Origin);
        var docx = Save(Everything(house));
        Assert.Equal(file.Contains("german", StringComparison.Ordinal) ? "Berschrift1" : "Heading1", StyleOf(docx, "First"));
        Assert.Contains("Hives & valleys", WordProcessor.Resave(folder.File("report.docx")).AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void The_accent_is_followed_by_theme_styles_and_what_derives_from_it()
    {
        var styles = Normal + Heading + Style("Rule", "Rule", "<w:pBdr><w:top w:val=\"single\" w:sz=\"8\" w:space=\"1\" w:color=\"B06A80\"/></w:pBdr><w:shd w:val=\"clear\" w:color=\"auto\" w:fill=\"EEEEEE\"/>");
        var docx = Save(Everything(Build(new HouseBuilder("", styles)) with { Accent = "#1F5C7A" }));
        Assert.Equal("1F5C7A", (string?)StyleNamed(docx, "heading 1").Element(W + "rPr")!.Element(W + "color")!.Attribute(W + "val"));
        var rule = (string)StyleNamed(docx, "Rule").Descendants(W + "top").Single().Attribute(W + "color")!;
        Assert.True(Convert.ToInt32(rule[..2], 16) < Convert.ToInt32(rule[4..], 16), $"{rule} is not light blue");
        Assert.Equal("EEEEEE", (string?)StyleNamed(docx, "Rule").Descendants(W + "shd").Single().Attribute(W + "fill"));
        Assert.Contains("<a:accent1><a:srgbClr val=\"1F5C7A\"", Encoding.UTF8.GetString(docx.Bytes("word/theme/theme1.xml")), StringComparison.Ordinal);
        Assert.Throws<ReportException>(() => Save(Everything(House.Tansy with { Accent = "blue" })));
    }

    [Fact]
    public void Text_in_an_accent_too_pale_to_be_read_is_deepened()
    {
        var pale = House.Tansy with { Accent = "#F2C94C", Font = "Carlito" };
        var docx = Save(Everything(pale), isForeign: false);
        var subtitle = StyleNamed(docx, "Subtitle").Element(W + "rPr")!.Element(W + "color")!;
        Assert.Equal("accent1", (string?)subtitle.Attribute(W + "themeColor"));
        Assert.True(Contrast((string)subtitle.Attribute(W + "val")!) >= 4.5);
        Assert.NotNull(subtitle.Attribute(W + "themeShade"));
        Assert.Contains("typeface=\"Carlito\"", Encoding.UTF8.GetString(docx.Bytes("word/theme/theme1.xml")), StringComparison.Ordinal);

        pale.SaveAsFile(folder.File("own.docx"));
        var file = Save(Everything(House.Read(folder.File("own.docx")) with { Accent = "#F2C94C" }), isForeign: false);
        Assert.True(Contrast((string)StyleNamed(file, "Subtitle").Element(W + "rPr")!.Element(W + "color")!.Attribute(W + "val")!) >= 4.5);
    }

    [Fact]
    public void A_font_is_measured_by_its_own_file_and_one_that_is_nowhere_is_told_once()
    {
        var file = Directory.EnumerateFiles("/usr/share/fonts", "DejaVuSans.ttf", SearchOption.AllDirectories).FirstOrDefault();
        Assert.SkipWhen(file is null, "the font DejaVu Sans is not installed");
        int Width(string font, out IReadOnlyList<Diagnostic> told)
        {
            told = new Report("T") { House = House.Tansy with { Font = font } }.Add(Table.Of(["minimum wwwww"]).Column("Words", w => w)).Save(folder.File("font.docx"));
            return (int)WordClean.Check(folder.File("font.docx")).Body.Descendants(W + "gridCol").Single().Attribute(W + "w")!;
        }
        var wide = Width("DejaVu Sans", out var none);
        Assert.Empty(none);
        // What is not known is taken as Arial, which is narrower.
        Assert.True(wide > Width("Nonesuch Sans", out var told), $"{wide}");
        Assert.Contains("the font `Nonesuch Sans` is not on this machine", Assert.Single(told).Message, StringComparison.Ordinal);

        // Beside a house its font need not be installed.
        var styles = "<w:style w:type=\"paragraph\" w:default=\"1\" w:styleId=\"Normal\"><w:name w:val=\"Normal\"/><w:rPr><w:rFonts w:ascii=\"Larkmere Text\" w:hAnsi=\"Larkmere Text\"/><w:sz w:val=\"20\"/></w:rPr></w:style>";
        new HouseBuilder("<w:p/>", styles).Save(folder.File("house.docx"));
        Assert.Contains(("Larkmere Text", false), House.Read(folder.File("house.docx")).Examine().Families);
        var bytes = File.ReadAllBytes(file);
        // The same font under another name of as many letters.
        foreach (var (old, own) in new[] { ("DejaVu Sans", "Larkmere Te") })
            for (var at = 0; (at = bytes.AsSpan(at).IndexOf(Encoding.BigEndianUnicode.GetBytes(old)) is var found and >= 0 ? at + found : -1) >= 0; at++) Encoding.BigEndianUnicode.GetBytes(own).CopyTo(bytes, at);
        File.WriteAllBytes(folder.File("larkmere.ttf"), bytes);
        new HouseBuilder("<w:p/>", styles.Replace("Larkmere Text", "Larkmere Te", StringComparison.Ordinal)).Save(folder.File("house.docx"));
        Assert.Contains(("Larkmere Te", true), House.Read(folder.File("house.docx")).Examine().Families);
        // A file that is no font does no harm.
        File.WriteAllText(folder.File("larkmere.ttf"), "not a font");
        File.WriteAllBytes(folder.File("larkmere2.ttf"), bytes[..2000]);
        Assert.Contains(("Larkmere Te", false), House.Read(folder.File("house.docx")).Examine().Families);
    }

    [Fact]
    public void A_long_title_is_set_smaller_on_the_cover_of_a_house_and_shortened_in_its_header()
    {
        const string Short = "The hives";
        const string Long = "Honey in the valleys of Larkmere and what the beekeepers of fourteen apiaries wrote down in their ledgers over ten seasons, with all that they left out";
        var house = House.Read(Repository.PathOf("examples", "survey", "house", "larkmere.docx"));
        (string? Size, string Header, IReadOnlyList<Diagnostic> Told) Cover(string title)
        {
            var told = new Report(title) { House = house }.Text("The body.").Save(folder.File("cover.docx"));
            var docx = WordClean.Check(folder.File("cover.docx"), inForeignHouse: true);
            var slot = docx.Body.Descendants(W + "sdt").First(s => (string?)s.Element(W + "sdtPr")!.Element(W + "alias")?.Attribute(W + "val") == "title");
            Assert.Equal(title, Text(slot));
            return ((string?)slot.Descendants(W + "sz").SingleOrDefault()?.Attribute(W + "val"), Text(docx.Xml("word/header1.xml").Root!), told);
        }
        var (size, header, told) = Cover(Short);
        Assert.Null(size);
        Assert.EndsWith(Short, header, StringComparison.Ordinal);
        (size, header, told) = Cover(Long);
        Assert.InRange(int.Parse(size!, System.Globalization.CultureInfo.InvariantCulture), 37, 60);
        Assert.EndsWith("…", header, StringComparison.Ordinal);
        Assert.Empty(told);
        Assert.Contains("the title is too long for its place in the house", Assert.Single(Cover(string.Join(' ', Enumerable.Repeat(Long, 4))).Told).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Words_and_data_can_be_seen_in_two_hundred_accents()
    {
        XNamespace a = "http://schemas.openxmlformats.org/drawingml/2006/main";
        House[] houses = [House.Tansy, House.Flint, House.Heron];
        for (var i = 0; i < 200; i++)
        {
            var accent = $"#{(i * 7919 * 641 % 0x1000000):X6}";
            if (i < 4) accent = new[] { "#FFFFFF", "#000000", "#FFF200", "#C00000" }[i];
            var docx = Save(new Report("T") { House = houses[i % 3] with { Accent = accent } }.Add(Chart.Columns("abcdef", _ => "x", _ => 1, c => $"{c}")), isForeign: false);
            foreach (var style in docx.Xml("word/styles.xml").Root!.Elements(W + "style"))
            {
                var (id, colour) = ((string)style.Attribute(W + "styleId")!, (string?)style.Element(W + "rPr")?.Element(W + "color")?.Attribute(W + "val"));
                if (colour is null) continue;
                // Words on a cover stand on its panel.
                if (!id.StartsWith("Cover", StringComparison.Ordinal)) Assert.True(Contrast(colour) >= 4.5, $"{accent} {id}: {colour}");
            }
            foreach (var fill in docx.Xml("word/charts/chart1.xml").Root!.Descendants(a + "schemeClr").Where(c => ((string)c.Attribute("val")!).StartsWith("accent", StringComparison.Ordinal)))
            {
                var (hue, saturation, lightness) = Hsl(Colour(docx, (string)fill.Attribute("val")!));
                if (fill.Element(a + "lumMod") is { } share) lightness *= (int)share.Attribute("val")! / 100_000.0;
                Assert.True(Contrast(Hex(hue, saturation, lightness)) >= 2.98, $"{accent} {fill}");
            }
        }

        string Colour(Docx docx, string name) => (string)docx.Xml("word/theme/theme1.xml").Root!.Descendants(a + name).First().Elements().First().Attributes().First(x => x.Name.LocalName is "val" or "lastClr" && x.Value.Length == 6)!;
    }

    [Fact]
    public void An_accent_leaves_the_other_colours_of_a_house_as_they_are()
    {
        var docx = Save(Everything(House.Flint with { Accent = "#7A1F5C" }), isForeign: false);
        var theme = Encoding.UTF8.GetString(docx.Bytes("word/theme/theme1.xml"));
        Assert.Contains("<a:accent1><a:srgbClr val=\"7A1F5C\"", theme, StringComparison.Ordinal);
        Assert.Contains("<a:accent2><a:srgbClr val=\"CF5B34\"", theme, StringComparison.Ordinal);
        // What has the hue of the old accent follows the new one.
        Assert.DoesNotContain("26323C", theme, StringComparison.Ordinal);
        // An accent like another colour of the house changes places with it.
        theme = Encoding.UTF8.GetString(Save(Everything(House.Flint with { Accent = "#CE5A33" }), isForeign: false).Bytes("word/theme/theme1.xml"));
        Assert.Contains("<a:accent2><a:srgbClr val=\"44607A\"", theme, StringComparison.Ordinal);
    }

    private static (double Hue, double Saturation, double Lightness) Hsl(string hex)
    {
        double[] parts = [.. Enumerable.Range(0, 3).Select(i => Convert.ToInt32(hex.Substring(2 * i, 2), 16) / 255.0)];
        var (max, min) = (parts.Max(), parts.Min());
        var (lightness, range) = ((max + min) / 2, max - min);
        if (range == 0) return (0, 0, lightness);
        var hue = max == parts[0] ? (parts[1] - parts[2]) / range : max == parts[1] ? 2 + ((parts[2] - parts[0]) / range) : 4 + ((parts[0] - parts[1]) / range);
        return (((60 * hue) + 360) % 360, range / (1 - Math.Abs((2 * lightness) - 1)), lightness);
    }

    private static string Hex(double hue, double saturation, double lightness)
    {
        var range = (1 - Math.Abs((2 * lightness) - 1)) * saturation;
        double Part(int n) => lightness + (range * Math.Clamp(Math.Abs((((hue / 60) + n) % 6) - 3) - 1.5, -0.5, 0.5));
        return string.Concat(new[] { Part(0), Part(4), Part(2) }.Select(p => ((int)Math.Round(255 * Math.Clamp(p, 0, 1))).ToString("X2", System.Globalization.CultureInfo.InvariantCulture)));
    }

    private static double Contrast(string hex)
    {
        double Part(int at) => Convert.ToInt32(hex.Substring(at, 2), 16) / 255.0 is var v && v <= 0.04045 ? v / 12.92 : Math.Pow((v + 0.055) / 1.055, 2.4);
        return 1.05 / ((0.2126 * Part(0)) + (0.7152 * Part(2)) + (0.0722 * Part(4)) + 0.05);
    }

    [Fact]
    public void Macros_outside_links_tracked_changes_and_twins_are_told_and_do_no_harm()
    {
        var picture = "<w:drawing><wp:inline xmlns:wp=\"http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing\"><a:blip xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\" r:link=\"far\"/></wp:inline></w:drawing>";
        var body = Paragraph($"<w:ins w:id=\"1\" w:author=\"x\"><w:r><w:t>new</w:t></w:r></w:ins><w:r>{picture}</w:r>") + Paragraph(Slot("body"));
        var house = Build(new HouseBuilder(body, Normal + Style("A", "Note") + Style("B", "Note")) { MainType = "application/vnd.ms-word.document.macroEnabled.main+xml" }
            .Add("word/vbaProject.bin", "application/vnd.ms-office.vbaProject", "http://schemas.microsoft.com/office/2006/relationships/vbaProject", "macro")
            .Add("word/comments.xml", "comments+xml", "comments", "<w:comments xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\"><w:comment w:id=\"0\" w:author=\"x\"><w:p/></w:comment></w:comments>")
            .Relate("far", "image", "file:///etc/passwd", isExternal: true));
        var path = folder.File("report.docx");
        var messages = Everything(house).Save(path).Select(d => d.Message).ToArray();
        var docx = WordClean.Check(path, inForeignHouse: true);
        foreach (var part in (string[])["holds macros", "links to a picture outside", "tracked changes", "comments", "more than one paragraph style called `Note`"]) Assert.Contains(messages, m => m.Contains(part, StringComparison.Ordinal));
        Assert.DoesNotContain(docx.Names, n => n.Contains("vba", StringComparison.Ordinal));
        Assert.DoesNotContain("passwd", docx.Names.Where(n => n.EndsWith(".rels", StringComparison.Ordinal)).Select(n => Encoding.UTF8.GetString(docx.Bytes(n))).Aggregate(string.Concat), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("no zip", "the file is not a word-processor document")]
    [InlineData("empty", "the file is empty")]
    [InlineData("encrypted", "the file is encrypted")]
    [InlineData("binary", "older binary format")]
    [InlineData("cut", "the file is damaged")]
    [InlineData("flipped", "the file is damaged")]
    [InlineData("climbing", "climbs out of it")]
    [InlineData("entities", "declares entities")]
    [InlineData("bomb", "unpacks to more than")]
    [InlineData("spreadsheet", "a spreadsheet")]
    [InlineData("strict", "strict variant")]
    [InlineData("body in table", "the slot `body` stands inside a table")]
    [InlineData("two bodies", "more than one slot `body`")]
    [InlineData("folder", "this is a folder")]
    public void Files_that_are_no_sound_house_are_refused_with_a_reason(string kind, string reason)
    {
        var path = folder.File("house.docx");
        var sound = new HouseBuilder(Paragraph(Slot("body")), Normal);
        switch (kind)
        {
            case "no zip": File.WriteAllText(path, "Dear colleagues"); break;
            case "empty": File.WriteAllText(path, ""); break;
            case "encrypted": File.WriteAllBytes(path, [0xD0, 0xCF, 0x11, 0xE0, .. new byte[500], .. Encoding.Unicode.GetBytes("EncryptedPackage")]); break;
            case "binary": File.WriteAllBytes(path, [0xD0, 0xCF, 0x11, 0xE0, .. new byte[500]]); break;
            case "cut": File.WriteAllBytes(path, File.ReadAllBytes(sound.Save(path))[..^40]); break;
            case "flipped":
                var bytes = File.ReadAllBytes(sound.Add("word/media/a.png", new byte[64]).Save(path));
                bytes[bytes.AsSpan().IndexOf("word/media/a.png"u8) + 18] ^= 0x55;
                File.WriteAllBytes(path, bytes);
                break;
            case "climbing": sound.Add("word/../../../escaped.xml", "x"u8.ToArray()).Save(path); break;
            case "entities": sound.Add("word/styles2.xml", "styles+xml", "", "").Add("word/theme.xml", "application/vnd.openxmlformats-officedocument.theme+xml", "theme", "<!DOCTYPE t [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;&a;\">]><t>&b;</t>").Save(path); break;
            case "bomb": sound.Add("word/huge.bin", new byte[300 << 20]).Save(path); break;
            case "spreadsheet": new HouseBuilder("") { MainType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml" }.Save(path); break;
            case "strict": Rewrite(sound.Save(path), "word/document.xml", s => s.Replace("http://schemas.openxmlformats.org/wordprocessingml/2006/main", "http://purl.oclc.org/ooxml/wordprocessingml/main", StringComparison.Ordinal)); break;
            case "body in table": new HouseBuilder($"<w:tbl><w:tr><w:tc>{Paragraph(Slot("body"))}</w:tc></w:tr></w:tbl><w:p/>", Normal).Save(path); break;
            case "two bodies": new HouseBuilder(Paragraph(Slot("body")) + Paragraph(Slot("body")), Normal).Save(path); break;
            default: Directory.CreateDirectory(path); break;
        }
        var problem = Assert.Throws<ReportException>(() => Everything(House.Read(path)).Save(folder.File("report.docx")));
        Assert.StartsWith($"{path}:1:1: error: ", problem.Message, StringComparison.Ordinal);
        Assert.Contains(reason, problem.Message, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("report.docx")));
        Assert.Empty(Directory.EnumerateFiles(folder.Path, "escaped*", SearchOption.AllDirectories));
    }

    private static void Rewrite(string path, string part, Func<string, string> change)
    {
        using var zip = ZipFile.Open(path, ZipArchiveMode.Update);
        var entry = zip.GetEntry(part)!;
        string text;
        using (var reader = new StreamReader(entry.Open())) text = reader.ReadToEnd();
        entry.Delete();
        using var writer = new StreamWriter(zip.CreateEntry(part).Open());
        writer.Write(change(text));
    }

    [Theory]
    [InlineData("no styles")]
    [InlineData("no text style")]
    [InlineData("other prefixes")]
    [InlineData("UTF-16")]
    [InlineData("old mode")]
    public void Odd_files_work_all_the_same(string kind)
    {
        var path = folder.File("house.docx");
        switch (kind)
        {
            case "no styles": new HouseBuilder(Paragraph(Slot("body"))).Save(path); break;
            case "no text style": new HouseBuilder(Paragraph(Slot("body")), Style("x", "x", type: "character")).Save(path); break;
            case "other prefixes":
                new HouseBuilder(Paragraph(Run("kept")) + Paragraph(Slot("body")), Normal) { Namespaces = "xmlns:mc=\"http://schemas.openxmlformats.org/markup-compatibility/2006\" xmlns:a=\"http://larkmere.example/a\" mc:Ignorable=\"a\" a:note=\"x\"" }.Save(path);
                Rewrite(path, "word/document.xml", s => s.Replace("w:", "q:", StringComparison.Ordinal).Replace("xmlns:w=", "xmlns:q=", StringComparison.Ordinal));
                break;
            case "UTF-16":
                new HouseBuilder(Paragraph(Slot("body")), Normal).Save(path);
                using (var zip = ZipFile.Open(path, ZipArchiveMode.Update))
                {
                    var entry = zip.GetEntry("word/styles.xml")!;
                    string text;
                    using (var reader = new StreamReader(entry.Open())) text = reader.ReadToEnd();
                    entry.Delete();
                    using var stream = zip.CreateEntry("word/styles.xml").Open();
                    stream.Write([0xFF, 0xFE, .. Encoding.Unicode.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-16\"?>" + text)]);
                }
                break;
            default:
                new HouseBuilder("<w:tbl><w:tblPr><w:tblW w:w=\"0\" w:type=\"auto\"/></w:tblPr><w:tblGrid><w:gridCol w:w=\"900\"/></w:tblGrid><w:tr><w:tc><w:p/></w:tc></w:tr></w:tbl>" + Paragraph(Slot("body")), Normal)
                    .Add("word/settings.xml", "settings+xml", "settings", "<w:settings xmlns:w=\"http://schemas.openxmlformats.org/wordprocessingml/2006/main\"><w:trackRevisions/><w:mailMerge><w:mainDocumentType w:val=\"formLetters\"/><w:dataType w:val=\"textFile\"/></w:mailMerge><w:compat><w:compatSetting w:name=\"compatibilityMode\" w:uri=\"http://schemas.microsoft.com/office/word\" w:val=\"12\"/></w:compat></w:settings>").Save(path);
                break;
        }
        var docx = Save(Everything(House.Read(path)));
        Assert.Contains("The end.", docx.AllText, StringComparison.Ordinal);
        if (kind == "old mode") Assert.Equal("-108", (string?)docx.Body.Element(W + "tbl")!.Descendants(W + "tblInd").Single().Attribute(W + "w"));
    }
}
