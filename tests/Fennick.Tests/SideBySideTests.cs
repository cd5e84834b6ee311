using System.Xml.Linq;
using Fennick.Documents;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>What stands side by side.</summary>
public sealed class SideBySideTests
{
    private static readonly XNamespace W = Docx.W;

    private static RecordTable<double> Small => Table.Of(new[] { 1.5 }).Column("Honey (kg)", k => k, "0.0");

    private static Paragraph Words(int lines) => new(string.Join(' ', Enumerable.Repeat("hives of the valley gave honey", lines)) + ".");

    private static Docx Saved(Report report)
    {
        using var folder = new TestFolder();
        report.Save(folder.File("beside.docx"));
        return WordClean.Check(folder.File("beside.docx"));
    }

    private static XElement Cells(Docx docx) => docx.Body.Elements(W + "tbl").Single(t => (string?)t.Element(W + "tblPr")!.Element(W + "tblStyle")!.Attribute(W + "val") == "SideBySide");

    [Fact]
    public void Columns_of_their_own_stand_in_cells_from_edge_to_edge_of_the_text()
    {
        var docx = Saved(new Report().Text("Before.").Add(new SideBySide([0.7, 0.3], [[Words(6)], [Words(2), Words(2)]])).Text("After."));
        Assert.Single(docx.Body.Descendants(W + "sectPr"));
        var table = Cells(docx);
        int[] widths = [.. table.Element(W + "tblGrid")!.Elements().Select(c => (int)c.Attribute(W + "w")!)];
        var section = docx.Body.Element(W + "sectPr")!;
        int Margin(string edge) => (int)section.Element(W + "pgMar")!.Attribute(W + edge)!;
        Assert.Equal((int)section.Element(W + "pgSz")!.Attribute(W + "w")! - Margin("left") - Margin("right"), widths.Sum(), 2.0);
        // The room of the text, without the gutter, is shared as told.
        var gutter = (int)table.Descendants(W + "tcMar").Single().Elements().Single().Attribute(W + "w")!;
        Assert.Equal(7 / 3.0, widths[0] / (double)(widths[1] - gutter), 0.02);
        Assert.Single(table.Elements(W + "tr"));
        Assert.Equal([1, 2], table.Descendants(W + "tc").Select(c => c.Elements(W + "p").Count()));
        Assert.Single(table.Descendants(W + "cantSplit"));
    }

    [Fact]
    public void Tables_notes_headings_and_references_in_them_are_known_by_their_pages()
    {
        var report = new Report("Beside").Contents().Add(new ListOfTables()).Add(new PageBreak()).Text("Before.").Add(new PageBreak()).Add(new SideBySide([0.5, 0.5],
        [
            [new Heading(1, RichText.Plain("On the left")), new TableBlock(Small.ToTable()) { Caption = RichText.Plain("Left"), Label = new Label("left", null) }],
            [new Paragraph(new RichText([new TextInline("Right"), Footnote("A note."), IndexTerm("right")])), new TableBlock(Small.ToTable()) { Caption = RichText.Plain("Right"), Label = new Label("right", null) }],
        ])).Text($"{See("right")} on page {See("right", SeePart.Page)}.").Add(new IndexOfTerms());
        var docx = Saved(report);
        Assert.Equal(["On the left\t3"], docx.ParagraphsOf("TOC1"));
        Assert.Equal(["Table 1. Left\t3", "Table 2. Right\t3"], docx.ParagraphsOf("TableofFigures").Select(p => p.Replace('\u00A0', ' ')));
        Assert.Equal(["right, 3"], docx.ParagraphsOf("Index1"));
        Assert.Single(docx.Notes);
        Assert.Equal(2, Cells(docx).Descendants(W + "tbl").Count());
    }

    [Fact]
    public void What_is_long_may_go_on_over_pages_and_what_is_short_stays_together()
    {
        var docx = Saved(new Report().Add(new SideBySide([0.5, 0.5], [[.. Enumerable.Range(0, 30).Select(_ => Words(9))], [Words(3)]])).Text($"End.").Add(new IndexOfTerms()));
        Assert.Empty(docx.Body.Descendants(W + "cantSplit"));
        var filled = new Report();
        for (var i = 0; i < 27; i++) filled.Text($"Line {i}.");
        var pages = filled.Add(new SideBySide([0.5, 0.5], [[Words(20)], [Words(3)]])).Heading("Behind", label: "behind").Text($"On {See("behind", SeePart.Page)}.");
        Assert.Contains("On 2.", Saved(pages).Paragraphs);
    }

    [Fact]
    public void Text_that_flows_through_columns_and_pages_in_them_need_sections()
    {
        Assert.Equal(2, Saved(new Report().Text("Before.").Add(new SideBySide([0.5, 0.5], [[Words(9), Words(9)]]))).Body.Descendants(W + "cols").Count());
        Assert.Contains(Saved(new Report().Add(new SideBySide([0.5, 0.5], [[Words(2), new PageBreak(), Words(2)], [Words(2)]]))).Body.Descendants(W + "cols"), c => (string?)c.Attribute(W + "num") == "2");
    }
}
