using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Tests;

public class SmallChartTests
{
    private static readonly XNamespace Shape = "http://schemas.microsoft.com/office/word/2010/wordprocessingShape";

    [Fact]
    public void Lines_of_one_column_share_a_scale()
    {
        var docx = Save(Table.WithHeads("Hive", "Seasons").Row("a", SmallChart.Line([10, 20])).Row("b", SmallChart.Line([20, 30.0])));
        var (low, high) = (Points(docx, 0), Points(docx, 1));
        // 10 stands at the foot, 30 at the top, and 20 half way in both.
        Assert.Equal(low[1].Y, high[0].Y);
        Assert.Equal(low[0].Y - low[1].Y, high[0].Y - high[1].Y);
        Assert.True(low[0].Y > low[1].Y && high[1].Y >= 0);
        Assert.Equal(["Line chart: 10; 20.", "Line chart: 20; 30."], Descriptions(docx));
    }

    [Fact]
    public void A_scale_of_its_own_holds_and_a_size_is_kept()
    {
        var docx = Save(Table.WithHeads("Hive", "Share").Row("a", SmallChart.Columns([0.5]).Scale(0, 1).Size(Length.Centimetres(2), Length.Centimetres(1))).Row("b", SmallChart.Columns([100.0]).Scale(0, 200)));
        foreach (var (shape, height) in new[] { (0, 360_000), (1, 127_000) }) Assert.Equal(height / 2, Boxes(docx, shape).Single().Height);
        Assert.Equal("720000", (string?)Shapes(docx)[0].Ancestors(Wp + "inline").Single().Element(Wp + "extent")!.Attribute("cx"));
        Assert.Equal("give a smaller and a larger number", Assert.Throws<ReportException>(() => SmallChart.Line([1.0]).Scale(2, 2)).Diagnostics.Single().Suggestion);
        Assert.Throws<ReportException>(() => SmallChart.Line([1.0]).Size(Length.FromPoints(0), Length.FromPoints(3)));
    }

    [Fact]
    public void Gaps_part_a_line_and_a_value_between_two_is_seen()
    {
        var docx = Save(Table.WithHeads("Hive", "Seasons").Row("a", SmallChart.Line([1, 2, null, 3, double.NaN, 5, 4])));
        var paths = Shapes(docx)[0].Descendants(A + "path").ToArray();
        Assert.Equal([2, 2], paths.Where(p => (string?)p.Attribute("fill") == "none").Select(p => p.Elements(A + "lnTo").Count() + 1));
        Assert.Equal(2, paths.Count(p => p.Elements(A + "arcTo").Any()));
        Assert.Equal("Line chart: 1; 2; —; 3; —; 5; 4.", Descriptions(docx).Single());
    }

    [Fact]
    public void Columns_below_zero_hang_from_it()
    {
        var boxes = Boxes(Save(Table.WithHeads("Hive", "Change").Row("a", SmallChart.Columns([1, -1]))), 0);
        Assert.Equal(boxes[0].Top + boxes[0].Height, boxes[1].Top);
        Assert.Equal(boxes[0].Height, boxes[1].Height);
    }

    [Fact]
    public void A_bar_stands_behind_its_number_and_a_missing_one_is_a_dash()
    {
        var docx = Save(Table.Of([0.25, 0.5, (double?)null]).Column("Hive", _ => "h").Column("Share", v => SmallChart.Bar(v, "percent 0")), "de");
        Assert.Equal(["25\u00A0%\u00A0", "50\u00A0%\u00A0", "—"], docx.Body.Descendants(W + "tr").Skip(1).Select(r => string.Concat(r.Elements(W + "tc").Last().Descendants(W + "t").Select(t => t.Value))));
        Assert.Equal(2, Shapes(docx).Length);
        Assert.Equal(2 * Boxes(docx, 0).Single().Width, Boxes(docx, 1).Single().Width, 2.0);
        // The number says it already.
        Assert.Equal(["", ""], Descriptions(docx));
    }

    [Fact]
    public void All_equal_one_value_and_none()
    {
        var docx = Save(Table.WithHeads("Hive", "Seasons", "Columns").Row("a", SmallChart.Line([3, 3.0]), SmallChart.Columns([0.0])).Row("b", SmallChart.Line([3.0]), SmallChart.Columns(Array.Empty<double>())).Row("c", SmallChart.Line([double.PositiveInfinity]), ""));
        Assert.Equal(3, Shapes(docx).Length);
        Assert.All(Points(docx, 0), p => Assert.Equal(63_500, p.Y));
        Assert.Equal(["—", "—"], docx.Body.Descendants(W + "t").Select(t => t.Value).Where(t => t == "—"));
    }

    [Fact]
    public void Where_nothing_can_be_drawn_blocks_show_it()
    {
        var table = Table.WithHeads("Hive", "Seasons", "Share").Row("a", SmallChart.Line([0, 7.0]), SmallChart.Bar(1, "0")).Row("b", SmallChart.Columns([0, 14.0]), SmallChart.Bar(2, "0"));
        Assert.Equal(["a     ▁▅       1 ████", "b     ▁█       2 ████████"], table.ToString().Split(Environment.NewLine)[3..5]);
        Assert.Equal(["▁▅", "▁█"], Save(table).Body.Descendants().Where(e => e.Name.LocalName == "Fallback").Select(f => f.Value).Where(t => t.Length > 0));
    }

    private static Docx Save(ITableSource table, string language = "en")
    {
        using var folder = new TestFolder();
        var file = folder.File("small.docx");
        new Report { Language = Language.Find(language)! }.Add(table, caption: "Small charts").Save(file);
        return WordClean.Check(file);
    }

    private static XElement[] Shapes(Docx docx) => [.. docx.Body.Descendants(Shape + "wsp")];

    private static string?[] Descriptions(Docx docx) => [.. docx.Body.Descendants(Wp + "docPr").Select(d => (string?)d.Attribute("descr"))];

    private static (long X, long Y)[] Points(Docx docx, int shape) => [.. Shapes(docx)[shape].Descendants(A + "path").First(p => (string?)p.Attribute("fill") == "none").Descendants(A + "pt").Select(Place)];

    private static (long Top, long Width, long Height)[] Boxes(Docx docx, int shape) =>
    [
        .. Shapes(docx)[shape].Descendants(A + "path").Select(p => p.Descendants(A + "pt").Select(Place).ToArray()).Select(p => (p[0].Y, p[1].X - p[0].X, p[2].Y - p[1].Y)),
    ];

    private static (long X, long Y) Place(XElement point) => ((long)point.Attribute("x")!, (long)point.Attribute("y")!);
}
