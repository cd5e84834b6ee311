using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>Boxes, key figures, pull quotes and notes in the margin.</summary>
public sealed class BoxTests : IDisposable
{
    private static readonly XNamespace W = Docx.W;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(Report report, bool inForeignHouse = false)
    {
        report.Save(folder.File("box.docx"));
        return WordClean.Check(folder.File("box.docx"), inForeignHouse);
    }

    private static Paragraph Words(string words) => new(words);

    private static Table Numbers(int columns) => Enumerable.Range(0, columns).Aggregate(Table.Of(["a", "b"]), (t, c) => t.Column($"C{c}", s => $"{s}{c}")).ToTable();

    [Theory]
    [InlineData("en-GB", "In brief")]
    [InlineData("de-DE", "Auf einen Blick")]
    public void A_box_is_a_table_of_one_cell_in_its_own_style_with_a_title_in_the_language(string tag, string title)
    {
        var docx = Save(new Report { Language = Language.Find(tag)! }.Add(new Box(BoxKind.Summary, null, [Words("First."), new Items(false, 1, [[Words("one")], [Words("two")]])])).Add(new Box(BoxKind.Note, "Mind it", [Words("Second.")])));
        var boxes = docx.Body.Elements(W + "tbl").ToArray();
        Assert.Equal(["Box", "NoteBox"], boxes.Select(b => (string?)b.Element(W + "tblPr")!.Element(W + "tblStyle")!.Attribute(W + "val")));
        Assert.Equal([[title, "First.", "one", "two"], ["Mind it", "Second."]], boxes.Select(b => b.Descendants(W + "p").Select(Docx.Text).ToArray()));
        // It lays out: no heads, and a title for readers who cannot see it.
        Assert.All(boxes, b => Assert.Equal("0", (string?)b.Element(W + "tblPr")!.Element(W + "tblLook")!.Attribute(W + "firstRow")));
        Assert.Equal(title, (string?)boxes[0].Element(W + "tblPr")!.Element(W + "tblCaption")!.Attribute(W + "val"));
        Assert.Equal("BoxTitle", (string?)boxes[0].Descendants(W + "pStyle").First().Attribute(W + "val"));
    }

    [Fact]
    public void Tables_figures_references_and_notes_work_in_a_box_and_fit_into_it()
    {
        var wide = Table.Of([1, 2]).Column("Words", n => string.Join(' ', Enumerable.Repeat("word", 60))).Column("n", n => n);
        var docx = Save(new Report().Add(new Box(BoxKind.Note, null, [new TableBlock(wide.ToTable()) { Label = new Label("inside", null), Caption = "Inside" }, Words("End.")])).Add(wide, "behind", caption: "Behind").Text($"See {See("inside")} and {See("behind")}."));
        Assert.Equal("See Table\u00A01 and Table\u00A02.", docx.Paragraphs[^1]);
        var (box, inner) = (docx.Body.Elements(W + "tbl").First(), docx.Body.Elements(W + "tbl").First().Descendants(W + "tbl").Single());
        static int Width(XElement table) => (int)table.Element(W + "tblPr")!.Element(W + "tblW")!.Attribute(W + "w")!;
        Assert.InRange(Width(inner), 1, Width(box) - 400);
    }

    [Theory]
    [InlineData(1, 1, 1)]
    [InlineData(4, 1, 4)]
    [InlineData(5, 2, 3)]
    [InlineData(6, 2, 3)]
    [InlineData(9, 3, 3)]
    public void Key_figures_stand_in_tiles_of_one_width(int count, int rows, int columns)
    {
        var figures = new KeyFigures([.. Enumerable.Range(1, count).Select(i => new KeyFigure($"Label {i}", new RichText([new ValueInline(i * 1000.5, "0.0")])) { Change = i == 1 ? "+1" : null, Note = i == 2 ? "small" : null })]);
        var docx = Save(new Report { Language = Language.Find("de-DE")! }.Add(figures));
        var tiles = docx.Body.Elements(W + "tbl").Single();
        Assert.Equal(rows, tiles.Elements(W + "tr").Count());
        Assert.All(tiles.Elements(W + "tr"), row => Assert.Equal(columns, row.Elements(W + "tc").Count()));
        Assert.Single(tiles.Descendants(W + "tcW").Select(w => (string?)w.Attribute(W + "w")).Distinct());
        Assert.Equal(["Label 1", "1000,5", "+1"], tiles.Descendants(W + "tc").First().Elements(W + "p").Select(Docx.Text));
        Assert.Equal(["KeyFigureLabel", "KeyFigure", "KeyFigureChange"], tiles.Descendants(W + "tc").First().Descendants(W + "pStyle").Select(s => (string?)s.Attribute(W + "val")));
    }

    [Fact]
    public void Key_figures_come_from_a_table_of_two_to_four_columns()
    {
        Assert.Equal(["a0", "a1", "a2", "a3", "b0", "b1", "b2", "b3"], KeyFigures.Of(Numbers(4)).Figures.SelectMany(f => new[] { f.Label, f.Number, f.Change!, f.Note! }).Select(w => w.ToPlainText()));
        Assert.All(KeyFigures.Of(Numbers(2)).Figures, f => Assert.Null(f.Change));
        foreach (var columns in new[] { 1, 5 })
            Assert.Contains("give it two to four", Assert.Throws<ReportException>(() => KeyFigures.Of(Numbers(columns))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Quotes_and_notes_beside_the_text_have_styles_of_their_own()
    {
        var docx = Save(new Report().Add(new Aside(AsideKind.MarginNote, [Words("Beside.")])).Text("Text.").Add(new Aside(AsideKind.PullQuote, [Words("Large.")])));
        Assert.Equal(["MarginNote", "PullQuote"], docx.Body.Descendants(W + "pStyle").Select(s => (string?)s.Attribute(W + "val")));
        var frame = docx.Body.Descendants(W + "framePr").Single();
        var page = docx.Body.Descendants(W + "pgMar").Single();
        Assert.True((int)frame.Attribute(W + "w")! < (int)page.Attribute(W + "right")!);
    }

    [Theory]
    [InlineData("tansy", "short", "CoverTitle", "FFFFFF")]
    [InlineData("heron", "short", "CoverTitle", "28475C")]
    [InlineData("flint", "A title of many words that goes on and on about honey, hives, valleys, weather and all that beekeepers write into their ledgers over the years", "CoverTitleSmall", "FFFFFF")]
    public void A_cover_and_a_last_page_fill_their_paper_and_have_no_footers(string house, string title, string style, string colour)
    {
        var report = new Report(title) { House = House.Find(house), Authors = ["Ada Moss"], Settings = new ReportSettings { HasCover = true } }.Text("The body.").Add(new LastPage([Words("Write to us.")]));
        var docx = Save(report);
        var tables = docx.Body.Elements(W + "tbl").ToArray();
        var sections = docx.Body.Descendants(W + "sectPr").ToArray();
        Assert.Equal(3, sections.Length);
        Assert.Equal(["0", "0"], sections.Where((s, i) => i != 1).Select(s => (string?)s.Element(W + "pgMar")!.Attribute(W + "left")));
        Assert.All(tables, t => Assert.Equal((string?)sections[0].Element(W + "pgSz")!.Attribute(W + "w"), (string?)t.Descendants(W + "tblW").Single().Attribute(W + "w")));
        Assert.All(tables, t => Assert.InRange(t.Descendants(W + "trHeight").Sum(h => (int)h.Attribute(W + "val")!), 16000, 16838));
        Assert.Equal([style, "Author"], tables[0].Descendants(W + "pStyle").Select(s => (string?)s.Attribute(W + "val")));
        Assert.Equal("CoverText", (string?)tables[1].Descendants(W + "pStyle").Last().Attribute(W + "val"));
        Assert.Equal(title, (string?)tables[0].Descendants(W + "tblCaption").Single().Attribute(W + "val"));
        var look = docx.Xml("word/styles.xml").Root!.Elements(W + "style").Single(s => (string?)s.Attribute(W + "styleId") == "CoverTitle");
        Assert.Equal(colour, (string?)look.Descendants(W + "color").Single().Attribute(W + "val"));
        // Footers of the cover: none; of the last page: empty ones.
        Assert.Empty(sections[0].Elements(W + "footerReference"));
        Assert.Single(sections[2].Elements(W + "footerReference"));
        Assert.Contains(docx.Names.Where(n => n.StartsWith("word/footer", StringComparison.Ordinal)), n => docx.Xml(n).Root!.Value.Length == 0);
    }

    [Fact]
    public void A_last_page_that_holds_more_than_paragraphs_is_told()
    {
        var report = new Report().Add(new LastPage([new TableBlock(Numbers(2))]));
        Assert.Contains("the last page holds something else than paragraphs", Assert.Throws<ReportException>(() => report.Save(folder.File("no.docx"))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_box_that_holds_pages_is_told()
    {
        var report = new Report().Add(new Box(BoxKind.Summary, null, [new Landscape([Words("Wide.")])]));
        Assert.Contains("a box cannot hold pages, columns or page breaks", Assert.Throws<ReportException>(() => report.Save(folder.File("no.docx"))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_house_of_others_gets_the_styles_it_lacks_and_keeps_those_it_has()
    {
        const string Styles = "<w:style w:type=\"paragraph\" w:default=\"1\" w:styleId=\"Normal\"><w:name w:val=\"Normal\"/><w:rPr><w:sz w:val=\"20\"/></w:rPr></w:style><w:style w:type=\"table\" w:customStyle=\"1\" w:styleId=\"own\"><w:name w:val=\"Box\"/><w:tblPr><w:tblBorders><w:top w:val=\"single\" w:sz=\"4\" w:color=\"112233\"/></w:tblBorders></w:tblPr></w:style>";
        new HouseBuilder("<w:p/>", Styles).Save(folder.File("house.docx"));
        var docx = Save(new Report { House = House.Read(folder.File("house.docx")) }.Add(new Box(BoxKind.Summary, "T", [Words("x")])).Add(new KeyFigures([new KeyFigure("a", "1")])), inForeignHouse: true);
        Assert.Equal(["own", "KeyFigures"], docx.Body.Elements(W + "tbl").Select(t => (string?)t.Element(W + "tblPr")!.Element(W + "tblStyle")!.Attribute(W + "val")));
        Assert.Contains(docx.Xml("word/styles.xml").Root!.Elements(W + "style"), s => (string?)s.Attribute(W + "styleId") == "KeyFigure");
    }
}
