using System.Xml.Linq;
using Fennick.Documents;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>What stands where one section of pages ends and another begins.</summary>
public sealed class SectionTests : IDisposable
{
    private static readonly XNamespace W = Docx.W;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Save(Report report)
    {
        var path = folder.File("sections.docx");
        report.Save(path);
        return WordClean.Check(path);
    }

    private static SideBySide Columns() => new([0.5, 0.5], [[new Paragraph("Left."), new Paragraph("Right.")]]);

    private static IEnumerable<XElement> Sections(Docx docx) => docx.Body.Descendants(W + "sectPr");

    [Fact]
    public void The_end_of_a_section_stands_in_no_paragraph_that_is_referred_to()
    {
        var table = Table.WithHeads("a", "b").Row(1, 2);
        var report = new Report("x") { Settings = new ReportSettings { TableCaption = CaptionPlace.Below } };
        report.Text($"See {See("t")} and {See("last")}.").Add(table, label: "t", caption: "A caption that ends the section")
            .Add(Columns()).Heading("A heading that ends one", label: "last").Add(new Landscape([new Paragraph("Across.")]));
        var docx = Save(report);
        Assert.Equal(4, Sections(docx).Count());
        Assert.All(Sections(docx).Select(s => s.Parent!.Parent!).Where(p => p.Name == W + "p"), p => Assert.Empty(p.Descendants(W + "bookmarkStart")));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Page_numbers_start_once_and_go_on_behind_columns(bool hasTextBefore)
    {
        var report = new Report { Page = new PageLayout { Numbers = new PageNumbers(PageNumberFormat.LowerRoman, 3) } };
        if (hasTextBefore) report.Text("Before.");
        else report.Add(Columns());
        var docx = Save(report.Add(Columns()).Text("After.").Add(Columns()).Text("End."));
        string?[] starts = [.. Sections(docx).Select(s => (string?)s.Element(W + "pgNumType")?.Attribute(W + "start"))];
        Assert.Equal(["3", null, null, null, null], starts);
        Assert.All(Sections(docx), s => Assert.Equal("lowerRoman", (string?)s.Element(W + "pgNumType")?.Attribute(W + "fmt")));
    }

    [Fact]
    public void Columns_behind_pages_of_another_size_begin_a_page_and_others_go_on()
    {
        var docx = Save(new Report().Text("Before.").Add(new Landscape([new Paragraph("Across."), Columns()])).Add(Columns()).Text("Behind.").Add(Columns()));
        (string? Type, string? Orientation)[] kinds = [.. Sections(docx).Select(s => ((string?)s.Element(W + "type")?.Attribute(W + "val"), (string?)s.Element(W + "pgSz")!.Attribute(W + "orient")))];
        Assert.Equal([(null, null), (null, "landscape"), ("continuous", "landscape"), (null, null), ("continuous", null), ("continuous", null)], kinds);
    }

    [Fact]
    public void A_section_with_the_headers_of_the_one_before_does_not_name_them_again()
    {
        var report = new Report();
        report.Page = new PageLayout { Header = report.Words($"A header") };
        var docx = Save(report.Text("Before.").Add(Columns()).Text("After.").Add(new Pages(new PageLayout { Header = report.Words($"Another") }, [new Paragraph("Inside.")])).Text("Last."));
        Assert.Equal([true, false, false, true, true], Sections(docx).Select(s => s.Elements(W + "headerReference").Any()));
    }

    [Fact]
    public void Columns_of_a_table_leave_room_for_a_digit_more()
    {
        var docx = Save(new Report().Add(Table.WithHeads("n", "Honey").Row("227", "24.5").Row("9", "1.0")));
        var widths = docx.Body.Descendants(W + "gridCol").Select(c => (int)c.Attribute(W + "w")!).ToArray();
        var wider = Save(new Report().Add(Table.WithHeads("n", "Honey").Row("2227", "24.5").Row("9", "1.0"))).Body.Descendants(W + "gridCol").Select(c => (int)c.Attribute(W + "w")!).ToArray();
        // What "2227" takes by itself fits where "227" stands.
        var digit = wider[0] - widths[0];
        Assert.True(digit is > 80 and < 140, $"{digit}");
        Assert.True(widths[0] >= (3 * digit / 1.08) + digit, $"{widths[0]}");
    }
}
