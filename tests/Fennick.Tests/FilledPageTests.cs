using Fennick.Documents;
using Fennick.Pictures;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>What becomes of tables and figures that would leave a page half empty.</summary>
public sealed class FilledPageTests
{
    private const int RowsOfPage = 30;
    private static readonly Picture Dot = Picture.Of(Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=="))!;

    private static RecordTable<int> Rows(int count) => Table.Of(Enumerable.Range(1, count)).Column("Hive", n => n);

    private static Report Lines(Report report, int count)
    {
        for (var i = 1; i <= count; i++) report.Text($"Line {i}.");
        return report;
    }

    private static Docx Saved(Report report)
    {
        using var folder = new TestFolder();
        report.Save(folder.File("pages.docx"));
        return WordClean.Check(folder.File("pages.docx"));
    }

    /// <summary>A table of ten rows with a reference and text behind it, so low on the page that it has no room.</summary>
    private static Report WithTable(ReportSettings? settings = null, bool isReferred = true)
    {
        var report = Lines(new Report { Settings = settings ?? new ReportSettings() }, RowsOfPage - 6);
        if (isReferred) report.Text($"See {See("hives")}.");
        return Lines(report.Add(Rows(10), label: "hives", caption: "Hives"), 40);
    }

    [Fact]
    public void Text_goes_ahead_of_a_table_without_room()
    {
        var report = WithTable();
        var pages = report.Build().LayOut();
        Assert.Matches("^Table 1 had no room on page 1: the \\d paragraphs behind it go ahead of it$", Assert.Single(pages.Remedies));
        Assert.True(pages.EmptyShare < 0.05, $"{pages.EmptyShare}");
        var order = Saved(report).Paragraphs.Where(p => p.Length > 0).ToList();
        var caption = order.IndexOf("Table\u00A01. Hives");
        Assert.True(caption > order.IndexOf($"See Table\u00A01.") + 2);
        // Nothing is lost, and the lines stay in their order.
        Assert.Equal([.. Enumerable.Range(1, RowsOfPage - 6).Select(i => $"Line {i}."), .. Enumerable.Range(1, 40).Select(i => $"Line {i}.")], order.Where(p => p.StartsWith("Line", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_table_stays_where_it_is_told_to_or_where_nothing_refers_to_it()
    {
        foreach (var report in new[] { WithTable(new ReportSettings { TablesMayDrift = false }), WithTable(isReferred: false) })
        {
            var pages = report.Build().LayOut();
            Assert.Empty(pages.Remedies);
            Assert.True(pages.EmptyShare > 0.1, $"{pages.EmptyShare}");
            var order = Saved(report).Paragraphs.Where(p => p.Length > 0).ToList();
            Assert.Equal("Line 1.", order[order.IndexOf("Table\u00A01. Hives") + 1]);
        }
    }

    [Fact]
    public void Text_stops_at_the_next_heading_and_at_the_next_table()
    {
        var report = Lines(new Report(), RowsOfPage - 6).Text($"See {See("hives")}.").Add(Rows(10), label: "hives", caption: "Hives").Text($"One.").Heading("Next").Text($"Two.");
        var order = Saved(report).Paragraphs.Where(p => p.Length > 0).ToList();
        Assert.Equal(["One.", "Table\u00A01. Hives", "Next", "Two."], order[^4..]);
        var two = Lines(new Report(), RowsOfPage - 6).Text($"See {SeeAll("hives", "more")}.").Add(Rows(10), label: "hives", caption: "Hives").Text($"One.").Add(Rows(2), label: "more", caption: "More");
        var tables = Saved(two).Paragraphs.Where(p => p.Length > 0).ToList();
        Assert.Equal(["One.", "Table\u00A01. Hives", "Table\u00A02. More"], tables[^3..]);
    }

    [Fact]
    public void A_table_never_comes_between_what_belongs_together()
    {
        static Report With(string behind) => Lines(new Report(), RowsOfPage - 6).Text($"See {See("hives")}.").Add(Rows(10), label: "hives", caption: "Hives").Text(behind).Text($"Last.");
        const string List = "- one\n- two\n- three\n- four\n- five\n- six\n- seven\n- eight\n- nine\n- ten\n- eleven\n- twelve\n";
        var list = Saved(With(List)).Paragraphs.Where(p => p.Length > 0).ToList();
        Assert.Equal("twelve", list[list.IndexOf("Table\u00A01. Hives") - 1]);
        // The table itself is what a colon announces.
        var announced = Lines(new Report(), RowsOfPage - 6).Text($"See {See("hives")}:").Add(Rows(10), label: "hives", caption: "Hives").Text($"Behind.");
        Assert.Empty(announced.Build().LayOut().Remedies);
    }

    [Fact]
    public void A_table_with_a_footnote_in_its_caption_stays()
    {
        var report = Lines(Lines(new Report(), RowsOfPage - 6).Text($"See {See("hives")}.").Add(Rows(10), label: "hives", caption: $"Hives{Footnote($"Of the survey.")}"), 10);
        Assert.Empty(report.Build().LayOut().Remedies);
    }

    [Theory]
    [InlineData(12, false)]
    [InlineData(13, true)]
    public void A_table_of_more_than_twelve_rows_may_break(int rows, bool mayBreak)
    {
        var docx = Saved(new Report().Add(Rows(rows), caption: "Hives"));
        var kept = docx.Body.Descendants(Docx.W + "tr").Skip(1).SkipLast(1).All(r => r.Descendants(Docx.W + "keepNext").Any());
        Assert.Equal(mayBreak, !kept);
        Assert.NotEmpty(docx.Body.Descendants(Docx.W + "tblHeader"));
        var all = Saved(new Report { Settings = new ReportSettings { UnbrokenTableRows = 40 } }.Add(Rows(rows), caption: "Hives"));
        Assert.True(all.Body.Descendants(Docx.W + "tr").Skip(1).SkipLast(1).All(r => r.Descendants(Docx.W + "keepNext").Any()));
    }

    [Fact]
    public void A_figure_becomes_a_little_smaller_for_a_page()
    {
        // Higher and higher, until it does not fit as it is.
        static Report With(double centimetres, ReportSettings? settings = null) =>
            Lines(new Report { Settings = settings ?? new ReportSettings() }, 12).Add(Dot, "decorative", caption: "Hives", label: "hives", width: Length.Centimetres(10), height: Length.Centimetres(centimetres)).Text($"Behind.");
        var fits = Enumerable.Range(80, 200).Select(n => n / 10.0).Last(h => With(h).Build().LayOut() is { Count: 1, Remedies.IsEmpty: true });
        var higher = fits * 1.08;
        Assert.Matches(@"^Figure 1 is \d\.\d % less high, so that it has room on page 1$", Assert.Single(With(higher).Build().LayOut().Remedies));
        Assert.Empty(With(fits * 1.3).Build().LayOut().Remedies);
        Assert.Empty(With(higher, new ReportSettings { FigureShrink = 0 }).Build().LayOut().Remedies);
        // It keeps its shape.
        var extent = Saved(With(higher)).Body.Descendants(Docx.Wp + "extent").Single();
        Assert.Equal(10 / higher, (double)extent.Attribute("cx")! / (double)extent.Attribute("cy")!, 3);
        Assert.True((double)extent.Attribute("cy")! < higher * 360000);
    }
}
