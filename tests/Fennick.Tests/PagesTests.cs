using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;
using static Fennick.Testing.Docx;

namespace Fennick.Tests;

public sealed class PagesTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(Report report)
    {
        report.Save(folder.File("pages.docx"));
        return WordClean.Check(folder.File("pages.docx"));
    }

    private static string Story(Docx docx, int section, string element, string type = "default")
    {
        var reference = docx.Body.Descendants(W + "sectPr").ElementAt(section).Elements(W + element).SingleOrDefault(e => (string?)e.Attribute(W + "type") == type);
        if (reference is null) return "(none)";
        var target = docx.Xml("word/_rels/document.xml.rels").Root!.Elements().Single(r => (string?)r.Attribute("Id") == (string?)reference.Attribute(R + "id"));
        return Text(docx.Xml($"word/{(string?)target.Attribute("Target")}").Root!);
    }

    [Theory]
    // The share of an em that a letter of English prose takes on average, spaces included, measured in pages of another word processor.
    [InlineData("tansy", 0.431)]
    [InlineData("flint", 0.477)]
    [InlineData("heron", 0.445)]
    public void Lines_of_the_houses_can_be_read_on_any_paper(string house, double letter)
    {
        foreach (var paper in new[] { "A4", "letter", "A5" })
        {
            var (width, height) = PageLayout.Paper(paper)!.Value;
            var docx = Save(new Report { House = House.Find(house), Page = new PageLayout { Width = width, Height = height } }.Text($"Text."));
            var points = (int)docx.Xml("word/styles.xml").Root!.Element(W + "docDefaults")!.Descendants(W + "sz").Single().Attribute(W + "val")! / 2.0;
            Assert.InRange(points, 10.5, 11);
            Assert.InRange(docx.TextWidth / 20.0 / (points * letter), 60, 75);
            var margins = docx.Body.Element(W + "sectPr")!.Element(W + "pgMar")!;
            Assert.True((int)margins.Attribute(W + "right")! > (int)margins.Attribute(W + "left")!);
        }
        // Tables that lie across take all but narrow margins.
        var across = Save(new Report { House = House.Find(house) }.Add(new Landscape([new Paragraph("Text.")])));
        Assert.Equal("landscape", (string?)across.Body.Descendants(W + "pgSz").First().Attribute(W + "orient"));
        var sides = across.Body.Descendants(W + "pgMar").First();
        Assert.Equal((1347, 1347), ((int)sides.Attribute(W + "left")!, (int)sides.Attribute(W + "right")!));
    }

    [Theory]
    [InlineData("he-IL", "דבש", false)]
    [InlineData("ar-EG", "عسل", false)]
    [InlineData("he-IL", "דבש", true)]
    public void Reports_from_right_to_left_turn_paragraphs_pages_and_tables(string tag, string word, bool inFile)
    {
        var house = House.Tansy;
        if (inFile)
        {
            new HouseBuilder(HouseBuilder.Paragraph(HouseBuilder.Run("sample")), HouseBuilder.Style("Normal", "Normal", isDefault: true)).Save(folder.File("house.docx"));
            house = House.Read(folder.File("house.docx"));
        }
        var report = new Report($"{word}") { Language = Language.Find(tag)!, House = house }.Heading($"{word}").Text($"{word} 12.")
            .Add(Table.WithHeads(word, "n").Row(word, 12.5).Row(word, 3), caption: $"{word}", note: $"{word}").Add(new Listing("var x = 1;")).Add(new Landscape([new Paragraph(word)]));
        report.Save(folder.File("right.docx"));
        var docx = WordClean.Check(folder.File("right.docx"), inForeignHouse: inFile);
        var defaults = docx.Xml("word/styles.xml").Root!.Element(W + "docDefaults")!;
        Assert.Equal(tag, (string?)defaults.Descendants(W + "lang").Single().Attribute(W + "bidi"));
        Assert.Single(defaults.Descendants(W + "bidi"));
        Assert.All(docx.Body.Descendants(W + "sectPr"), s => Assert.Single(s.Elements(W + "bidi")));
        Assert.Single(docx.Body.Descendants(W + "bidiVisual"));
        // Numbers end at the right in any language, and code begins at the left.
        string?[] DirectionsOf(string style) => [.. docx.Body.Descendants(W + "p").Select(p => p.Element(W + "pPr")).Where(p => (string?)p?.Element(W + "pStyle")?.Attribute(W + "val") == style).Select(p => (string?)p!.Element(W + "bidi")?.Attribute(W + "val"))];
        Assert.Equal(["0", "0"], DirectionsOf("TableNumber"));
        Assert.Equal(["0"], DirectionsOf("Listing"));
        Assert.All(docx.Body.Descendants(W + "r").Where(r => Text(r) == word), r => Assert.Single(r.Descendants(W + "rtl")));
    }

    [Fact]
    public void The_layout_of_a_report_changes_paper_margins_headers_and_numbers()
    {
        var (width, height) = PageLayout.Paper("A5")!.Value;
        var report = new Report("Honey") { Page = new PageLayout { Width = width, Height = height, Top = Length.Centimetres(2), Left = Measure.Percent(10), Numbers = new PageNumbers(PageNumberFormat.UpperRoman, 3), LineNumbers = 5 } };
        report.Page = report.Page with { Header = report.Words($"{ReportTitle} | {ChapterTitle} | *{2025}*"), Footer = report.Words($"{PageNumber} of {PageCount}"), FirstHeader = RichText.Empty };
        var docx = Save(report.Heading("First").Text($"See {See("second", SeePart.Page)}.").Add(new PageBreak()).Heading("Second"));
        var section = docx.Body.Element(W + "sectPr")!;
        Assert.Equal(["8391", "11906"], section.Element(W + "pgSz")!.Attributes().Select(a => a.Value));
        Assert.Equal("1134", (string?)section.Element(W + "pgMar")!.Attribute(W + "top"));
        Assert.Equal("839", (string?)section.Element(W + "pgMar")!.Attribute(W + "left"));
        Assert.Equal(["upperRoman", "3"], section.Element(W + "pgNumType")!.Attributes().Select(a => a.Value));
        Assert.Equal("5", (string?)section.Element(W + "lnNumType")!.Attribute(W + "countBy"));
        Assert.NotNull(section.Element(W + "titlePg"));
        Assert.Equal("Honey\tFirst\t2025", Story(docx, 0, "headerReference"));
        Assert.Equal("", Story(docx, 0, "headerReference", "first"));
        Assert.Equal("1 of 2", Story(docx, 0, "footerReference"));
        // What the first page does not say of itself stands there as on all pages.
        Assert.Equal("1 of 2", Story(docx, 0, "footerReference", "first"));
        Assert.Contains("See IV.", docx.AllText, StringComparison.Ordinal);
    }

    [Fact]
    public void Front_matter_counts_for_itself_and_pages_in_between_have_their_own_look()
    {
        var report = new Report("Honey");
        report.Add(new Pages(new PageLayout { Numbers = new PageNumbers(PageNumberFormat.LowerRoman, 1), Footer = report.Words($"{PageNumber}") }, [new Heading(1, "Preface"), new Paragraph(new RichText([See("across", SeePart.Page)]))]));
        report.Heading("Text").Add(new Pages(new PageLayout { IsLandscape = true, Header = "Across" }, [new Heading(1, "Across")])).Heading("After");
        report.Add(new Pages(new PageLayout { Columns = [0.25, 0.75] }, [new Paragraph("Two columns.")]));
        var docx = Save(report);
        var sections = docx.Body.Descendants(W + "sectPr").ToArray();
        Assert.Equal([null, "lowerRoman 1", "decimal 1", "decimal", "decimal", "decimal"], sections.Select(s => s.Element(W + "pgNumType") is { } n ? string.Join(' ', n.Attributes().Select(a => a.Value)) : null));
        Assert.Equal([null, null, null, "landscape", null, null], sections.Select(s => (string?)s.Element(W + "pgSz")!.Attribute(W + "orient")));
        Assert.Equal("Across", Story(docx, 3, "headerReference"));
        Assert.Equal("(none)", Story(docx, 4, "headerReference"));
        Assert.Equal("Honey\t1", Story(docx, 4, "footerReference"));
        Assert.Equal("2", docx.Body.Descendants(W + "instrText").Single(i => i.Value.Contains("PAGEREF", StringComparison.Ordinal)).Parent!.ElementsAfterSelf().ElementAt(1).Value);
        Assert.Equal(3.0, (int)sections[5].Descendants(W + "col").Last().Attribute(W + "w")! / (double)(int)sections[5].Descendants(W + "col").First().Attribute(W + "w")!, 0.01);
    }

    [Fact]
    public void A_watermark_hangs_in_every_header_also_in_those_of_a_house()
    {
        static int Marks(Docx docx) => docx.Names.Where(n => n.StartsWith("word/header", StringComparison.Ordinal)).Sum(n => docx.Xml(n).Descendants().Count(e => e.Name.LocalName == "textpath" && (string?)e.Attribute("string") == "Draft"));
        var own = new Report("Honey") { Watermark = "Draft" };
        own.Page = own.Page with { FirstHeader = own.Words("The first"), EvenHeader = "Even" };
        var docx = Save(own.Text("Text."));
        Assert.Equal(3, Marks(docx));
        Assert.NotNull(docx.Xml("word/settings.xml").Root!.Element(W + "evenAndOddHeaders"));
        Assert.Equal("Honey\t1", Story(docx, 0, "footerReference", "even"));

        var house = House.Read(Repository.PathOf("examples", "survey", "house", "larkmere.docx"));
        var worn = new Report("Honey") { House = house, Watermark = "Draft" }.Text("Text.");
        worn.Save(folder.File("worn.docx"));
        Assert.Equal(1, Marks(WordClean.Check(folder.File("worn.docx"), inForeignHouse: true)));
        worn.Watermark = null;
        worn.Save(folder.File("worn.docx"));
        Assert.Equal(0, Marks(WordClean.Check(folder.File("worn.docx"), inForeignHouse: true)));
    }

    [Theory]
    [InlineData("15 cm", "15 cm")]
    [InlineData("80%", "16 cm")]
    [InlineData("12.5 %", "2.5 cm")]
    [InlineData("80 km", null)]
    [InlineData("%", null)]
    [InlineData("NaN %", null)]
    public void A_measure_is_a_length_or_a_share(string text, string? expected)
    {
        Assert.Equal(expected is not null, Measure.TryParse(text, out var measure));
        if (expected is not null) Assert.Equal(expected, measure.Of(Length.Centimetres(20)).ToString());
    }
}
