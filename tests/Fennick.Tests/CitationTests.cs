using Fennick.Citations;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>Sources are read, cited and listed.</summary>
public sealed class CitationTests : IDisposable
{
    private const string Bib = """
        % A comment that stands outside.
        @string{jap = "Journal of Apiary " # "Practice"}
        @article{hale2019, author = {Hale, Ada and M{\"u}ller-Brandt, Jan R.}, title = "Forage and {H}oney: a review", journal = jap, year = 2019, volume = 12, number = {3}, pages = {45--67}, doi = {10.1000/xyz123}}
        @book{moss04,
          author    = {Moss, Bea},
          title     = {Keeping Bees},
          edition   = 2,
          publisher = {Larkmere Press}, address = {Alderwick},
          year      = {2004},
        }
        @incollection{reed11, author = {Tom Reed and Ludwig van der Berg and O'Hara, {\'E}anna}, editor = {Cole, Ann and Day, Ben}, title = {Mites}, booktitle = {The Hive}, pages = {3-9}, publisher = {Reed \& Sons}, year = {2011}}
        @techreport{survey, author = {{Larkmere Hive Survey}}, title = {Methods 2024}, institution = {Field Office}, number = {Report 7}, year = {2024}}
        @online{soils, title = {Soils of the six valleys. A map}, url = {https://example.org/soils}}
        @article{hale2019b, author = {Hale, Ada and Müller-Brandt, Jan}, title = {Why do bees swarm?}, journal = {Apis}, year = 2019}
        """;

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Report NewReport() => new() { Sources = WorkList.Read(folder.Write("sources.bib", Bib)) };

    private (Docx Docx, IReadOnlyList<Diagnostic> Diagnostics) Save(Report report)
    {
        var diagnostics = report.Save(folder.File("c.docx"));
        return (WordClean.Check(folder.File("c.docx")), diagnostics);
    }

    [Fact]
    public void Sources_are_cited_by_author_and_date_and_listed_by_author()
    {
        var (docx, diagnostics) = Save(NewReport().Text($"{Cite("hale2019", at: "p. 33")}, {CiteAll("moss04", "reed11")}, {Cite("reed11", named: true)}, {Cite("survey")}, {Cite("soils")}, {Cite("hale2019b")}.").Add(new Bibliography()));
        Assert.Equal("(Hale and Müller-Brandt 2019b, p.\u00A033), (Moss 2004; Reed et al. 2011), Reed et al. (2011), (Larkmere Hive Survey 2024), (Soils of the six valleys n.d.), (Hale and Müller-Brandt 2019a).", docx.Paragraphs[0]);
        Assert.Equal(
            [
                "Hale, A. and Müller-Brandt, J. (2019a). ‘Why do bees swarm?’. Apis.",
                "Hale, A. and Müller-Brandt, J.\u00A0R. (2019b). ‘Forage and Honey: a review’. Journal of Apiary Practice, 12(3), 45–67. https://doi.org/10.1000/xyz123",
                "Larkmere Hive Survey (2024). Methods 2024. Report 7. Field Office.",
                "Moss, B. (2004). Keeping Bees, 2nd ed. Alderwick: Larkmere Press.",
                "Reed, T., van der Berg, L. and O'Hara, É. (2011). ‘Mites’. In Cole, A. and Day, B. (eds), The Hive, pp.\u00A03–9. Reed & Sons.",
                "Soils of the six valleys. A map (n.d.). https://example.org/soils",
            ], docx.ParagraphsOf("Bibliography").Order(StringComparer.Ordinal));
        Assert.Empty(diagnostics);
        Assert.Equal(7, docx.Body.Descendants(Docx.W + "hyperlink").Count(h => ((string?)h.Attribute(Docx.W + "anchor"))?.StartsWith("source_", StringComparison.Ordinal) == true));
    }

    [Fact]
    public void Sources_are_numbered_in_the_order_of_the_text()
    {
        var report = NewReport();
        report.CitationStyle = CitationStyle.Numbered;
        var (docx, diagnostics) = Save(report.Text($"{Cite("moss04", at: "ch. 2")} and {new CiteInline([new CitedSource("moss04", "p. 1"), new CitedSource("survey")], null)} and {CiteAll("survey", "moss04")}; {Cite("survey", named: true)}.").Add(new Bibliography()));
        Assert.Equal("[1, ch.\u00A02] and [1, p.\u00A01; 2] and [2, 1]; Larkmere Hive Survey [2].", docx.Paragraphs[0]);
        Assert.Equal(["[1]\tMoss, B. (2004). Keeping Bees, 2nd ed. Alderwick: Larkmere Press.", "[2]\tLarkmere Hive Survey (2024). Methods 2024. Report 7. Field Office."], docx.ParagraphsOf("Bibliography"));
        Assert.Contains("4 of the sources in sources.bib are not cited: `hale2019`, `hale2019b`, `reed11`, `soils`", diagnostics.Single().Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_language_joins_names_and_quotes_titles()
    {
        var report = NewReport();
        report.Language = Language.Find("de")!;
        var docx = Save(report.Text($"{Cite("hale2019")} {Cite("soils")} {Cite("reed11")}").Add(new Bibliography())).Docx;
        Assert.Equal("(Hale und Müller-Brandt 2019) (Soils of the six valleys o. J.) (Reed u. a. 2011)", docx.Paragraphs[0]);
        Assert.Contains("„Forage and Honey: a review“", docx.ParagraphsOf("Bibliography")[0], StringComparison.Ordinal);
    }

    [Fact]
    public void Csl_json_is_read_too()
    {
        var path = folder.Write("more.json", """
            [{"id": "ames", "type": "article-journal", "title": "On mites", "author": [{"family": "Ames", "given": "Eve Jo"}, {"family": "Gogh", "given": "Vincent", "non-dropping-particle": "van"}], "issued": {"date-parts": [[2018, 3]]}, "container-title": "Apis", "volume": 4, "page": "1-9"},
             {"id": "office", "type": "webpage", "title": "Data", "author": [{"literal": "Field Office"}], "issued": {"raw": "2020-05-01"}, "URL": "https://example.org"}]
            """);
        var docx = Save(new Report { Sources = WorkList.Read(path) }.Text($"{CiteAll("ames", "office")}").Add(new Bibliography())).Docx;
        Assert.Equal("(Ames and van Gogh 2018; Field Office 2020)", docx.Paragraphs[0]);
        Assert.Equal(["Ames, E.\u00A0J. and van Gogh, V. (2018). ‘On mites’. Apis, 4, 1–9.", "Field Office (2020). Data. https://example.org"], docx.ParagraphsOf("Bibliography"));
    }

    [Theory]
    [InlineData("a.bib", "@book{x, title = {A", "a.bib:1:18: error: this brace is not closed")]
    [InlineData("a.bib", "@book{x, title {A}}", "a.bib:1:10: error: `title` is not a field of a source")]
    [InlineData("a.bib", "\n@book{, title = {A}}", "a.bib:2:1: error: a source has no key")]
    [InlineData("a.bib", "@book{x, journal = jpa}", "a.bib:1:20: error: `jpa` is not a string of this file")]
    [InlineData("a.bib", "@book{x, year=1}\n@book{x, year=2}", "a.bib:2:1: error: there are two sources `x`")]
    [InlineData("a.json", "{}", "a.json:1:1: error: CSL-JSON is a list of sources")]
    [InlineData("a.json", "[{\"title\": \"x\"}]", "a.json:1:1: error: a source has no `id`")]
    [InlineData("a.json", "[\n,]", "a.json:2:1: error: this is no JSON")]
    [InlineData("a.txt", "x", "a.txt:1:1: error: this is not a file of sources")]
    public void Mistakes_in_files_of_sources_are_told(string name, string text, string message) =>
        Assert.Contains(message, Assert.Throws<ReportException>(() => WorkList.Read(folder.Write(name, text))).Message.Replace(folder.Path + "/", "", StringComparison.Ordinal), StringComparison.Ordinal);

    [Fact]
    public void An_unknown_key_and_a_missing_list_are_told()
    {
        var problem = Assert.Throws<ReportException>(() => Save(NewReport().Text($"{Cite("hale2018x")}")));
        Assert.Contains("CitationTests.cs:", problem.Message, StringComparison.Ordinal);
        Assert.Contains("there is no source `hale2018x`; did you mean `hale2019", problem.Message, StringComparison.Ordinal);
        Assert.Contains("the report has no list of them", Save(NewReport().Text($"{Cite("moss04")}")).Diagnostics.Single().Message, StringComparison.Ordinal);
    }
}
