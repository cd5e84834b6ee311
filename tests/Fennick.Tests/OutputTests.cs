using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Outputs;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>The same report as a page for the browser, as text and as a PDF.</summary>
public sealed partial class OutputTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static Report Whole() => new Report("Honey & \\<wax>") { Authors = ["Ada Moss"], Date = new DateOnly(2025, 11, 3) }
        .Contents().Add(new ListOfTables())
        .Heading("Harvest", label: "harvest")
        .Text($"See {See("honey")}, {See("drawn")}, {See("line")}, {See("harvest")}, {See("honey", SeePart.Where)}{Footnote("A *note*.")}; **bold** and [a link](https://larkmere.example/?a=1&b=2).")
        .Text("1. first\n   - inner\n2. second\n\n> Quoted.\n\nForage\n:   Flowering land.\n\n```\nvar x = 1 < 2;\n```")
        .Add(Table.Of(new[] { (Name: "Dusk", Kg: 26.25), (Name: "Amber", Kg: 4.5) }).Column("Strain", s => s.Name).Column("Honey (kg)", s => s.Kg, "0.0").Span("All", "Strain", "Honey (kg)"), label: "honey", caption: "Honey", note: "Means.")
        .Add(Chart.Columns(new[] { ("Dusk", 26.2), ("Amber", 24.4) }, s => s.Item1, s => s.Item2), alt: "Two columns", label: "drawn", caption: "Drawn")
        .Add(Mathematics.Formula.Of(@"\bar{x} = \frac{1}{n} \sum_{i=1}^{n} x_i^2 \in \mathbb{R}"), label: "line")
        .Add(new Box(BoxKind.Summary, null, [new Paragraph("In a box.")]))
        .Add(new KeyFigures([new KeyFigure(RichText.Plain("Honey"), RichText.Plain("24.5 kg")) { Note = RichText.Plain("a hive") }]))
        .Add(new SideBySide([0.5, 0.5], [[new Paragraph("Left.")], [new Paragraph("Right.")]]))
        .Text($"Wax{IndexTerm("wax")}.").Add(new IndexOfTerms());

    /// <summary>The page as XML: what is written is well formed, but for elements without an end.</summary>
    private string Page(Report report)
    {
        report.Save(folder.File("page.html"));
        return File.ReadAllText(folder.File("page.html"));
    }

    private static XElement Parsed(string html)
    {
        var xml = Voids().Replace(html.Replace("<!doctype html>", "", StringComparison.Ordinal), "<$1$2/>");
        return XElement.Parse(xml.Replace("&nbsp;", "\u00A0", StringComparison.Ordinal));
    }

    [GeneratedRegex("<(meta|br|hr|img)((?: [^>]*?)?)/?>")]
    private static partial Regex Voids();

    private static IEnumerable<XElement> All(XElement page, string name) => page.Descendants().Where(e => e.Name.LocalName == name);

    [Theory]
    [InlineData("tansy")]
    [InlineData("flint")]
    [InlineData("heron")]
    public void A_page_says_with_its_elements_what_everything_is(string house)
    {
        var report = Whole();
        report.House = House.Find(house);
        var page = Parsed(Page(report));
        Assert.Equal("en-GB", (string?)page.Attribute("lang"));
        Assert.Equal("Honey & <wax>", All(page, "title").Single().Value);
        Assert.Equal("Honey & <wax>", All(page, "h1").Single().Value);
        Assert.Contains(All(page, "h2"), h => h.Value == "Harvest");
        // Every link within the page leads somewhere, and no name is given twice.
        string[] ids = [.. page.DescendantsAndSelf().Attributes("id").Select(a => a.Value)];
        Assert.Equal(ids.Length, ids.Distinct().Count());
        string[] targets = [.. page.Descendants().Attributes("href").Select(a => a.Value).Where(h => h.StartsWith('#')).Select(h => h[1..])];
        Assert.NotEmpty(targets);
        Assert.All(targets, t => Assert.Contains(t, ids));
        var table = All(page, "table").First(t => t.Elements("caption").Any());
        Assert.Equal("Table\u00A01. Honey", table.Element("caption")!.Value);
        Assert.Equal(["All", "Strain", "Honey (kg)"], table.Element("thead")!.Descendants("th").Select(h => h.Value));
        Assert.Equal("2", (string?)table.Descendants("th").First().Attribute("colspan"));
        Assert.Equal(["row", "row"], table.Element("tbody")!.Descendants("th").Select(h => (string?)h.Attribute("scope")));
        Assert.Equal(["26.3", "4.5"], table.Element("tbody")!.Descendants("td").Select(h => h.Value.Trim()));
        var chart = page.Descendants("div").Single(d => (string?)d.Attribute("class") == "chart");
        Assert.Equal(("img", "Two columns"), ((string?)chart.Attribute("role"), (string?)chart.Attribute("aria-label")));
        Assert.Single(All(chart, "svg"));
        Assert.Equal(["Dusk", "26.2", "Amber", "24.4"], All(page, "details").Single().Descendants("td").Select(d => d.Value));
        Assert.Equal("Figure\u00A01. Drawn", All(page, "figcaption").Single().Value);
        Assert.Equal(["first", "second"], page.Descendants("main").Elements("ol").Single().Elements("li").Select(l => l.Nodes().OfType<XText>().First().Value.Trim()));
        Assert.Equal("inner", page.Descendants("main").Elements("ol").Single().Descendants("ul").Single().Value.Trim());
        Assert.Equal("Quoted.", All(page, "blockquote").Single().Value.Trim());
        Assert.Equal(("Forage", "Flowering land."), (All(page, "dt").Single().Value, All(page, "dd").Single().Value));
        Assert.Equal("var x = 1 < 2;", All(page, "pre").Single().Value);
        Assert.Equal(["msubsup", "mfrac"], new[] { All(page, "math").Single().Descendants("msubsup").First().Name.LocalName, All(page, "mfrac").Single().Name.LocalName });
        Assert.Contains("\u211D", All(page, "math").Single().Value, StringComparison.Ordinal);
        Assert.StartsWith("A note.", All(page, "section").Single().Value.Trim(), StringComparison.Ordinal);
        Assert.Contains("below", page.Value, StringComparison.Ordinal);
        Assert.Contains(page.Descendants("a"), a => (string?)a.Attribute("href") == "https://larkmere.example/?a=1&b=2");
        Assert.Equal("1", page.Descendants("nav").Last().Descendants("a").Single().Value);
    }

    [Fact]
    public void A_page_needs_nothing_from_outside_and_no_script()
    {
        var html = Page(Whole());
        Assert.DoesNotContain("<script", html, StringComparison.Ordinal);
        Assert.DoesNotContain("<link", html, StringComparison.Ordinal);
        Assert.DoesNotContain("@import", html, StringComparison.Ordinal);
        Assert.All(Regex.Matches(html, "(?:src|url)[=(]\"?([^\")]*)").Select(m => m.Groups[1].Value), s => Assert.StartsWith("data:", s, StringComparison.Ordinal));
    }

    [Fact]
    public void A_link_that_a_browser_would_run_is_none()
    {
        var page = Parsed(Page(new Report().Text("[one](javascript:alert(1)), [two](mailto:ada@larkmere.example), [three](data:text/html,x).")));
        Assert.Equal("one, two, three.", All(page, "main").Single().Value.Trim());
        Assert.Equal(["mailto:ada@larkmere.example"], page.Descendants("a").Select(a => (string?)a.Attribute("href")));
    }

    [Fact]
    public void A_page_in_a_house_of_others_has_its_cover_and_its_title_once()
    {
        var report = Whole();
        report.House = House.Read(Repository.PathOf("examples", "survey", "house", "larkmere.docx"));
        var page = Parsed(Page(report));
        Assert.Single(All(page, "h1"));
        // Words of heads are light in this house, so they stand on their fill.
        Assert.All(page.Descendants("thead").First().Descendants("th"), h => Assert.Contains("background:#", (string?)h.Attribute("style") ?? "", StringComparison.Ordinal));
    }

    [Fact]
    public void Text_has_aligned_tables_and_marks_of_notes()
    {
        Whole().Save(folder.File("mail.txt"));
        var text = File.ReadAllText(folder.File("mail.txt"));
        Assert.StartsWith("Honey & <wax>\n=============\n", text, StringComparison.Ordinal);
        Assert.Contains("Dusk          26.3\nAmber          4.5\n", text, StringComparison.Ordinal);
        Assert.Contains("1. first\n   - inner\n2. second\n", text, StringComparison.Ordinal);
        Assert.Contains("Forage\n    Flowering land.\n", text, StringComparison.Ordinal);
        Assert.Contains("Honey: 24.5 kg, a hive\n", text, StringComparison.Ordinal);
        Assert.Contains("below[1]", text.Replace("\n", " ", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.EndsWith("[1] A note.\n", text, StringComparison.Ordinal);
        Assert.All(text.Split('\n'), l => Assert.True(l.Length <= 80, l));
    }

    [Fact]
    public void An_output_of_ones_own_is_written_like_the_others()
    {
        Whole().Save(folder.File("count.words"), new WordCount());
        Assert.Matches(@"^\d+ blocks$", File.ReadAllText(folder.File("count.words")));
        Whole().Build().Save(folder.File("twice.words"), new WordCount());
        Assert.True(File.Exists(folder.File("twice.words")));
        // An old file stays if the writer fails.
        File.WriteAllText(folder.File("old.words"), "old");
        Assert.Throws<ReportException>(() => Whole().Text($"{See("nowhere")}").Save(folder.File("old.html")));
        Assert.Throws<ReportException>(() => Whole().Save(folder.File("old.words"), new Failing()));
        Assert.Equal("old", File.ReadAllText(folder.File("old.words")));
        Assert.False(File.Exists(folder.File("old.html")));
    }

    [Fact]
    public void A_pdf_has_the_documents_pages_and_tags()
    {
        WordProcessor.SkipIfMissing();
        var report = Whole();
        for (var i = 0; i < 60; i++) report.Text($"Paragraph {i}.");
        var diagnostics = report.Save(folder.File("report.pdf"));
        Assert.DoesNotContain(diagnostics, d => d.Message.Contains("pages", StringComparison.Ordinal));
        var pdf = Encoding.Latin1.GetString(File.ReadAllBytes(folder.File("report.pdf")));
        Assert.StartsWith("%PDF-", pdf, StringComparison.Ordinal);
        Assert.Contains("/StructTreeRoot", pdf, StringComparison.Ordinal);
        Assert.Equal(report.Build().LayOut().Count, Regex.Count(pdf, @"/Type\s*/Page\b(?!s)"));
    }

    private sealed class WordCount : IReportWriter
    {
        public string Name => "words";

        public string Extension => ".words";

        public IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target)
        {
            target.Write(Encoding.UTF8.GetBytes($"{report.Blocks.Length} blocks"));
            return [];
        }
    }

    private sealed class Failing : IReportWriter
    {
        public string Name => "failing";

        public string Extension => ".words";

        public IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target) => throw new ReportException(Diagnostic.Error(null, "no"));
    }
}
