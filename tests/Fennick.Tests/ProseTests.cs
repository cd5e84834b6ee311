using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>What each construct of CommonMark becomes.</summary>
public sealed class ProseTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(string markdown)
    {
        var path = folder.File("prose.docx");
        new Report().Text(markdown).Save(path);
        return WordClean.Check(path);
    }

    /// <summary>The paragraphs with their styles.</summary>
    private static IEnumerable<(string Style, string Text)> Styled(Docx docx) =>
        docx.Body.Elements(Docx.W + "p").Select(p => ((string?)p.Element(Docx.W + "pPr")?.Element(Docx.W + "pStyle")?.Attribute(Docx.W + "val") ?? "Normal", Docx.Text(p)));

    public static TheoryData<string, (string, string)[]> Constructs => new()
    {
        { "# One\n\n###### Six #\n\nSetext\n======", [("Heading1", "One"), ("Heading6", "Six"), ("Heading1", "Setext")] },
        { "a\nb  \nc\\\nd", [("Normal", "a b\nc\nd")] },
        { "> quoted\n> more\n>\n> again", [("Quote", "quoted more"), ("Quote", "again")] },
        { "    indented code\n    <b> & {x}", [("Listing", "indented code\n<b> & {x}")] },
        { "~~~\nfenced\n\n  kept\n~~~", [("Listing", "fenced\n\n  kept")] },
        { "a\n\n***\n\nb", [("Normal", "a"), ("ThoughtBreak", ""), ("Normal", "b")] },
        { "- a\n- b\n\n  second\n- > q", [("ListBullet", "a"), ("ListBullet", "b"), ("ListContinue", "second"), ("ListBullet", ""), ("Quote", "q")] },
        { "7. seven\n8. eight", [("ListNumber", "seven"), ("ListNumber", "eight")] },
        { "&copy; &#65; \\*no\\* `a *b*`", [("Normal", "© A *no* a *b*")] },
        { "[text *em*][r] <x@y.example>\n\n[r]: https://a.example 'title'", [("Normal", "text em x@y.example")] },
        { "before <!-- hidden --> after\n\n<!-- a block -->", [("Normal", "before  after")] },
        { "***both*** and _one_", [("Normal", "both and one")] },
        { "snake_case_name and 2*3*4", [("Normal", "snake_case_name and 234")] },
    };

    [Theory]
    [MemberData(nameof(Constructs))]
    public void A_construct_becomes_paragraphs_of_its_styles(string markdown, (string, string)[] expected) => Assert.Equal(expected, Styled(Save(markdown)));

    [Fact]
    public void A_list_starts_at_its_own_number()
    {
        var numbering = Save("7. seven\n8. eight").Xml("word/numbering.xml").Root!;
        Assert.Equal("7", (string?)numbering.Descendants(Docx.W + "startOverride").Single().Attribute(Docx.W + "val"));
    }

    [Fact]
    public void Bold_italic_is_set_once_and_bold_in_a_heading_does_not_cancel()
    {
        var docx = Save("***both***\n\n# A **strong** head");
        var both = docx.Body.Elements(Docx.W + "p").First().Descendants(Docx.W + "rPr").Single();
        Assert.Equal(("Strong", true, false), ((string?)both.Element(Docx.W + "rStyle")!.Attribute(Docx.W + "val"), both.Element(Docx.W + "i") is not null, both.Element(Docx.W + "b") is not null));
        Assert.Empty(docx.Body.Elements(Docx.W + "p").Last().Descendants(Docx.W + "rStyle"));
    }

    [Fact]
    public void Pipe_tables_strike_through_and_tasks_are_placed()
    {
        var docx = Save("| Strain | kg |\n|:--|--:|\n| Amber | **24.4** |\n| Dusk | ~~26~~ 27 |\n| Heath |\n\nNo longer ~~true~~.\n\n- [x] weighed\n- [ ] counted");
        Assert.Equal([["Strain", "kg"], ["Amber", "24.4"], ["Dusk", "26 27"], ["Heath", ""]], docx.Tables[0]);
        Assert.Equal(["TableHead", "TableHeadNumber"], docx.Body.Descendants(Docx.W + "tr").First().Descendants(Docx.W + "pStyle").Select(s => (string?)s.Attribute(Docx.W + "val")));
        Assert.Equal(["26", "true"], docx.Body.Descendants(Docx.W + "r").Where(r => r.Descendants(Docx.W + "strike").Any()).Select(Docx.Text));
        Assert.Equal(["", "No longer true.", "weighed", "counted"], docx.Paragraphs);
        Assert.Equal(["\u2611", "\u2610"], docx.Xml("word/numbering.xml").Root!.Elements(Docx.W + "num").TakeLast(2).Select(n => (string?)n.Descendants(Docx.W + "lvlText").Single().Attribute(Docx.W + "val")));
    }

    [Fact]
    public void Pictures_are_embedded_with_their_words_and_never_wider_than_the_text()
    {
        // A PNG of 4000 × 2000 by its header.
        byte[] wide = [.. Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAD6AAAAfQCAYAAAA="), 0, 0, 0, 0, 0, 0, 0, 0, .. "IDAT"u8, 0, 0, 0, 0, 0, 0, 0, 0, .. "IEND"u8, 0, 0, 0, 0];
        File.WriteAllBytes(folder.File("wide one.png"), wide);
        var docx = Save($"![A wide map]({folder.File("wide%20one.png")})\n\nIn a line ![too]({folder.File("wide%20one.png")}) again.");
        Assert.Equal(["A wide map", "too"], docx.Body.Descendants(Docx.Wp + "docPr").Select(d => (string?)d.Attribute("descr")));
        Assert.Equal([4_464_000, 4_464_000], docx.Body.Descendants(Docx.Wp + "extent").Select(e => (long)e.Attribute("cx")!));
        Assert.Equal("Figure", (string?)docx.Body.Descendants(Docx.W + "pStyle").First().Attribute(Docx.W + "val"));
        Assert.Single(docx.Names, n => n.StartsWith("word/media/", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("<div>\nblock\n</div>", "HTML cannot be placed")]
    [InlineData("an <img src=x> inline", "HTML (`<img src=x>`)")]
    [InlineData("![alt](x.png)", "`x.png`: the picture cannot be read")]
    public void What_cannot_be_placed_is_an_error_with_its_place(string markdown, string expected)
    {
        var message = Assert.Throws<ReportException>(() => new Report().Text(markdown)).Message;
        Assert.StartsWith("ProseTests.cs:", message, StringComparison.Ordinal);
        Assert.Contains(expected, message, StringComparison.Ordinal);
    }
}
