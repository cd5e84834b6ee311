using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>What prose can hold beyond paragraphs: footnotes, definitions, contents, styles and colours, captions of its own tables and pictures.</summary>
public sealed class MarkupTests : IDisposable
{
    private const string Fence = "```";
    private static readonly XNamespace W = Docx.W;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private (Docx Docx, IReadOnlyList<Diagnostic> Diagnostics) Write(string text)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", text)).Write();
        return (WordClean.Check(result.Path), result.Diagnostics);
    }

    private string Fail(string text) => Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("report.ms.md", text)).Write()).Message
        .Replace(folder.File("report.ms.md"), "report.ms.md", StringComparison.Ordinal);

    private static string Step(string info, string code) => $"{Fence}csharp {info}\n{code}\n{Fence}\n\n";

    [Fact]
    public void Footnotes_are_real_ones_and_hold_values_lists_and_links()
    {
        var (docx, _) = Write(Step("prepare", "var n = 3;") + "# Title[^t]\n\nOne[^a] and two[^b], one again[^a].\n\n| A |\n|---|\n| cell[^c] |\n\n[^a]: The *first*, with {n + 1}.\n[^b]: See [here](https://example.org/x).\n\n    - an item\n\n    More.\n\n[^c]: In a cell.\n[^t]: In a heading.");
        Assert.Equal(["Title*", "One* and two*, one again2.", "", "cell*"], [docx.Paragraphs[0], docx.Paragraphs[1], docx.Paragraphs[^1], docx.Tables[0][1][0]]);
        Assert.Equal([" In a heading.", " The first, with 4.", " See here.\nan item\nMore.", " In a cell."], docx.Notes);
        Assert.Contains("https://example.org/x", System.Text.Encoding.UTF8.GetString(docx.Bytes("word/_rels/footnotes.xml.rels")), StringComparison.Ordinal);
        Assert.Contains(docx.Body.Descendants(W + "instrText"), i => i.Value.Contains("NOTEREF", StringComparison.Ordinal));
    }

    [Fact]
    public void Names_of_footnotes_are_a_passes_own()
    {
        var (docx, _) = Write("{for each x in new[] { 1, 2 }}\nPass {x}[^a], again[^a].\n{end}\n\nInline: {for each y in new[] { 3, 4 }}{y}[^b] {end}.\n\n[^a]: Of {x}.\n[^b]: Of {y}.");
        Assert.Equal(["Pass 1*, again1.", "Pass 2*, again2.", "Inline: 3* 4* ."], docx.Paragraphs);
        Assert.Equal([" Of 1.", " Of 2.", " Of 3.", " Of 4."], docx.Notes);
    }

    [Theory]
    [InlineData("Text[^honye].\n\n[^honey]: A.", "report.ms.md:1:5: error: there is no footnote `honye`; did you mean `honey`?")]
    [InlineData("Text[^b].", "report.ms.md:1:5: error: there is no footnote `b`; write its text on a line of its own: `[^b]: …`")]
    [InlineData("Text[^a].\n\n[^a]:", "report.ms.md:3:1: error: the footnote `a` has no text; write it after `[^a]:`")]
    [InlineData("Text[^a].\n\n[^a]: A.\n[^a]: B.", "report.ms.md:4:1: error: there are two footnotes `a`")]
    [InlineData("Text[^a].\n\n[^a]: A[^a].", "report.ms.md:3:8: error: a footnote cannot hold a footnote")]
    [InlineData("Text[^a].\n\n[^a]: # Head", "error: a footnote cannot hold a heading; it can hold paragraphs, lists, quotations and listings")]
    [InlineData("{style Wrning: words}", "report.ms.md:1:1: error: the house tansy has no character style `Wrning`; did you mean `Warning`?")]
    [InlineData("{colour red: words}", "report.ms.md:1:1: error: `red` is not a colour; write a `#` and six hexadecimal digits")]
    [InlineData("{style Warning}", "report.ms.md:1:1: error: `{style Warning}` has no words; write `{style Warning: words}`")]
    [InlineData("{style Warning: one {missing} two}", "report.ms.md:1:22: error: the name 'missing' does not exist")]
    [InlineData("{table t: T}\n\nA paragraph.", "report.ms.md:1:1: error: `{table t: T}` stands above no pipe table")]
    [InlineData("{table t, widht 3 cm: T}\n\n| A |\n|---|", "report.ms.md:1:1: error: `widht 3 cm` says nothing about a table")]
    [InlineData("```csharp prepare\nvar contents = 3;\n```\n\n{contents}", "report.ms.md:5:1: error: `{contents}` is a word of the format, and a variable has the same name; write `{(contents)}` for the variable's value")]
    [InlineData("```csharp prepare\nvar end = 3;\n```\n\n{if end > 1}\nmore\n{end}", "report.ms.md:7:1: error: `{end}` is a word of the format, and a variable has the same name; write `{(end)}`")]
    public void Mistakes_are_told_at_their_place(string text, string message) => Assert.Contains(message, Fail(text), StringComparison.Ordinal);

    [Fact]
    public void A_footnote_that_nothing_leads_to_is_a_warning() =>
        Assert.Contains(Write("Text.\n\n[^a]: A.").Diagnostics, d => d.Severity == Severity.Warning && d.Message == "nothing leads to the footnote `a`" && d.Place!.Line == 3);

    [Fact]
    public void Definition_lists_have_terms_and_meanings()
    {
        var (docx, _) = Write("Forage\n: Flowering land within {1 + 1} km.\n\nMites\nVarroa\n:   Counted in autumn.\n\n    And in spring.");
        Assert.Equal(["Forage", "Mites", "Varroa"], docx.ParagraphsOf("Term"));
        Assert.Equal(["Flowering land within 2 km.", "Counted in autumn.", "And in spring."], docx.ParagraphsOf("Definition"));
    }

    [Fact]
    public void Words_wear_styles_and_colours()
    {
        var (docx, _) = Write("A {style warning: *bad* sign, \"quoted\" {1 + 1}} and {colour #9a3412: **rust**}, {color #112233: x}.");
        var runs = docx.Body.Element(W + "p")!.Elements(W + "r").Select(r => (Docx.Text(r), (string?)r.Element(W + "rPr")?.Element(W + "rStyle")?.Attribute(W + "val"), (string?)r.Element(W + "rPr")?.Element(W + "color")?.Attribute(W + "val"), r.Element(W + "rPr")?.Element(W + "i") is not null));
        Assert.Equal([("A ", null, null, false), ("bad", "Warning", null, true), (" sign, \"quoted\" ", "Warning", null, false), ("2", "Warning", null, false), (" and ", null, null, false), ("rust", "Strong", "9A3412", false), (", ", null, null, false), ("x", null, "112233", false), (".", null, null, false)], runs);
    }

    [Fact]
    public void Pipe_tables_and_pictures_take_captions_and_labels()
    {
        File.Copy(Repository.PathOf("docs", "screenshots", "harvest.png"), folder.File("a picture.png"));
        var (docx, _) = Write(Step("prepare", "var n = 3;") + "{see soils} and {see map}.\n\n{table soils: Soils of {n} valleys}\n| Valley | Soil |\n|---|---|\n| A | clay |\n\n{figure map, width 8 cm: A map}\n![Three valleys](a%20picture.png)");
        Assert.Equal("Table\u00A01 and Figure\u00A01.", docx.Paragraphs[0]);
        Assert.Contains("Table\u00A01. Soils of 3 valleys", docx.Paragraphs);
        Assert.Equal("Figure\u00A01. A map", docx.Paragraphs[^1]);
        var drawing = docx.Body.Descendants(Docx.Wp + "inline").Single();
        Assert.Equal(("2880000", "Three valleys"), ((string)drawing.Element(Docx.Wp + "extent")!.Attribute("cx")!, (string)drawing.Element(Docx.Wp + "docPr")!.Attribute("descr")!));
    }

    [Fact]
    public void Contents_and_lists_lead_to_their_entries()
    {
        var (docx, _) = Write("{contents: 2 levels}\n\n{list of tables}\n\n{list of figures}\n\n{page break}\n\n# First\n\n## Inner *part*\n\n### Deep\n\n{page break}\n\n# Last\n\nOn page {see first: page}, {see t: page}.\n\n"
            + Step("table t", "caption: A table\n=>\nnew[] { 1 }"));
        Assert.Equal(["Contents", "Tables", "Figures"], docx.ParagraphsOf("TOCHeading"));
        Assert.Equal(["First\t2", "Last\t3"], docx.ParagraphsOf("TOC1"));
        Assert.Equal(["Inner part\t2"], docx.ParagraphsOf("TOC2"));
        Assert.Empty(docx.ParagraphsOf("TOC3"));
        Assert.Equal(["Table\u00A01. A table\t3"], docx.ParagraphsOf("TableofFigures"));
        Assert.Contains("On page 2, 3.", docx.Paragraphs);
        Assert.Equal([" TOC \\o \"1-2\" \\h \\z \\u ", " TOC \\h \\z \\c \"Table\" ", " TOC \\h \\z \\c \"Figure\" "], docx.Body.Descendants(W + "instrText").Select(i => i.Value).Where(i => i.Contains("TOC", StringComparison.Ordinal) && !i.Contains("PAGEREF", StringComparison.Ordinal)));
        Assert.Single(docx.Body.Elements(W + "sdt"));
    }

    [Fact]
    public void Citations_come_from_the_files_of_the_settings()
    {
        folder.Write("s.bib", "@book{hale2019, author = {Hale, Ada}, title = {Bees}, year = 2019}\n@book{moss, author = {Moss, Bo}, title = {Mites}, year = 2004}");
        const string settings = Fence + "manuscript\nbibliography: s.bib\n";
        Assert.Equal(["(Hale 2019, p.\u00A033; Moss 2004); Hale (2019).", "Hale, A. (2019). Bees.", "Moss, B. (2004). Mites."], Write(settings + Fence + "\n\n{cite hale2019 at p. 33, moss}; {cite hale2019: named}.\n\n{bibliography}").Docx.Paragraphs);
        Assert.Equal("[1]", Write(settings + "citations: numbered\n" + Fence + "\n\n{cite moss}\n\n{bibliography}").Docx.Paragraphs[0]);
        Assert.Contains("report.ms.md:5:3: error: there is no source `hale2018`; did you mean `hale2019`?", Fail(settings + Fence + "\n\nA {cite hale2018}."), StringComparison.Ordinal);
        Assert.Contains("report.ms.md:5:1: error: `page 3` is not a source", Fail(settings + Fence + "\n\n{cite moss, page 3}"), StringComparison.Ordinal);
        Assert.Contains("report.ms.md:2:15: error: there is no file `x.bib`; did you mean `s.bib`?", Fail(settings.Replace("s.bib", "x.bib", StringComparison.Ordinal) + Fence), StringComparison.Ordinal);
        folder.Write("s.bib", "@book{a, title = {A");
        Assert.Contains("s.bib:1:18: error: this brace is not closed", Fail(settings + Fence), StringComparison.Ordinal);
    }

    [Fact]
    public void Formulas_hold_live_values_and_labels()
    {
        var (docx, _) = Write(Step("prepare", "var mean = 24.53;") + "Mean $\\bar{x} = \\live{mean:0.0}$, {see model}.\n\n$$ y = \\live{mean * 2 : 0.00} $$ {label model}\n\n> $$ z $$");
        Assert.Equal(["x", "24.5", "y=", "49.06", "z"], docx.Body.Descendants().Where(e => e.Name.LocalName == "t" && e.Name.NamespaceName.EndsWith("math", StringComparison.Ordinal)).Select(e => e.Value).Where(t => t != "="));
        Assert.Equal("Mean x=24.5, Equation\u00A0(1).", docx.Paragraphs[0]);
    }

    [Theory]
    [InlineData("A $\\alhpa + 1$.", "report.ms.md:1:4: error: `\\alhpa` is not understood in a formula; did you mean `\\alpha`?")]
    [InlineData("$$\na +\n\\frac{1}\n$$", "report.ms.md:4:1: error: nothing follows `\\frac`")]
    [InlineData("$$\na\n\nText.", "report.ms.md:1:1: error: this formula has no end")]
    [InlineData("$$ a $$ {labl x}", "report.ms.md:1:9: error: `{labl x}` is not a label of a formula")]
    [InlineData("$x = \\live{missing:0.0}$", "report.ms.md:1:12: error: the name 'missing' does not exist")]
    [InlineData("$ $", null)]
    public void Formulas_that_are_wrong_are_told_at_their_place(string text, string? message)
    {
        if (message is null) Assert.Equal("$ $", Write(text).Docx.Paragraphs[0]);
        else Assert.Contains(message, Fail(text), StringComparison.Ordinal);
    }

    [Fact]
    public void Listings_of_code_are_coloured_and_gathered_in_an_annex()
    {
        var text = Fence + "manuscript\nlistings: appendix\n" + Fence + "\n\n" + Step("prepare numbers", "// Weights\nvar kg = new List<double> { 24.5 };\nvar unit = \"kg\";") + Step("prepare", "listing: hidden\n=>\nvar secret = 1;") + "Text.\n\n```csharp\nreturn \"shown\";\n```\n\n```\nvar plain = 1;\n```\n";
        var (docx, _) = Write(text);
        Assert.Equal(["Text.", "return \"shown\";", "var plain = 1;", "The code", "1 \u00B7 numbers", "// Weights\nvar kg = new List<double> { 24.5 };\nvar unit = \"kg\";"], docx.Paragraphs);
        static (string, string?)[] Coloured(XElement paragraph) => [.. paragraph.Elements(W + "r").Select(r => (Docx.Text(r), (string?)r.Element(W + "rPr")?.Element(W + "rStyle")?.Attribute(W + "val"))).Where(r => r.Item2 is not null)];
        var listings = docx.Body.Elements(W + "p").Where(p => (string?)p.Element(W + "pPr")?.Element(W + "pStyle")?.Attribute(W + "val") == "Listing").ToArray();
        Assert.Equal([("return", "CodeKeyword"), ("\"shown\"", "CodeString")], Coloured(listings[0]));
        Assert.Empty(Coloured(listings[1]));
        Assert.Equal([("// Weights", "CodeComment"), ("var", "CodeKeyword"), ("new", "CodeKeyword"), ("List", "CodeType"), ("double", "CodeKeyword"), ("var", "CodeKeyword"), ("\"kg\"", "CodeString")], Coloured(listings[2]));
    }

    [Fact]
    public void Pages_turn_and_blocks_stand_side_by_side()
    {
        var (docx, _) = Write("Before.\n\n{landscape}\nWide.\n\n" + Step("table t", "var n = 5;\nnew[] { n }") + "{end}\n\nBetween {n}.\n\n{columns 1/3, 2/3}\nLeft, {see t}.\n{next column}\nRight.\n\n$$ x $$\n{end}\n\nAfter.");
        Assert.Equal(["Before.", "Wide.", "Table\u00A01", "", "Between 5.", "", "After."], docx.Paragraphs);
        var beside = docx.Body.Elements(W + "tbl").Last();
        Assert.Equal(["Left, Table\u00A01.", "Right.x"], beside.Descendants(W + "tc").Select(Docx.Text));
        Assert.Equal(["portrait", "landscape", "portrait"], docx.Body.Descendants(W + "sectPr").Select(s => (string?)s.Element(W + "pgSz")!.Attribute(W + "orient") ?? "portrait"));
        var flowing = Write("Before.\n\n{columns 1/3, 2/3}\nThrough both.\n{end}\n\nAfter.").Docx;
        var sections = flowing.Body.Descendants(W + "sectPr").ToArray();
        Assert.Equal([(null, 0), ("continuous", 2), ("continuous", 0)], sections.Select(s => ((string?)s.Element(W + "type")?.Attribute(W + "val"), s.Element(W + "cols")!.Elements(W + "col").Count())));
        var widths = sections[1].Element(W + "cols")!.Elements(W + "col").Select(c => (int)c.Attribute(W + "w")!).ToArray();
        Assert.InRange(widths[1] / (double)widths[0], 1.98, 2.02);
    }

    [Theory]
    [InlineData("tansy", "Cambria", "2B6E5E")]
    [InlineData("flint", "Arial", "44607A")]
    [InlineData("Heron", "Calibri", "33658A")]
    public void A_report_wears_a_house(string house, string body, string accent)
    {
        var (docx, _) = Write(Fence + $"manuscript\ntables.ruling: banded\nhouse: {house}\n" + Fence + "\n\n# Head\n\nText[^a], {style Warning: words}.\n\n" + Step("table t", "caption: C\nruling: boxed\n=>\nnew[] { 1 }") + "{contents}\n\n[^a]: A.");
        var theme = docx.Xml("word/theme/theme1.xml").ToString();
        Assert.Contains($"<a:latin typeface=\"{body}\"", theme[theme.IndexOf("minorFont", StringComparison.Ordinal)..], StringComparison.Ordinal);
        Assert.Contains(accent, theme, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("house: flnit", "report.ms.md:2:8: error: `flnit` is not a house; did you mean `flint`?")]
    [InlineData("tables.ruling: lined\nhouse: flint", "report.ms.md:2:16: error: `lined` is not a ruling")]
    public void What_a_house_lacks_is_told(string settings, string message) => Assert.Contains(message, Fail(Fence + $"manuscript\n{settings}\n" + Fence), StringComparison.Ordinal);

    [Fact]
    public void The_word_processor_keeps_contents_and_footnotes()
    {
        Write("{contents}\n\n# First\n\nText[^a].\n\n[^a]: The note.");
        var again = WordProcessor.Resave(folder.File("report.docx"));
        Assert.Contains("First\t1", again.AllText, StringComparison.Ordinal);
        Assert.Contains("The note.", again.Notes.Single(), StringComparison.Ordinal);
    }
}
