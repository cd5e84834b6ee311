using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Statistics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>Charts of every kind: in the document, in the picture, in the words for those who cannot see them, and in what is said of bad data.</summary>
public sealed class ChartTests : IDisposable
{
    private static readonly XNamespace C = Docx.C;
    private static readonly XNamespace A = Docx.A;
    private static readonly XNamespace SvgName = "http://www.w3.org/2000/svg";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private sealed record Hive(string Valley, string Strain, int Season, DateOnly Day, double? Honey, double Forage);

    private static Hive[] Hives => [.. Enumerable.Range(0, 240).Select(i => new Hive(
        new[] { "Alderwick", "Bramble Down", "Coldbrook", "Dunmarsh" }[i % 4], new[] { "Amber", "Dusk", "Heath" }[i / 4 % 3], 2021 + (i / 12 % 5), new DateOnly(2025, 3, 1).AddDays(i), 20 + (i * 37 % 113 / 10.0) + (i % 4), 10 + (i * 53 % 97 / 3.0)))];

    private static double Mean(IEnumerable<Hive> hives) => Math.Round(hives.Average(h => h.Honey!.Value), 2);

    private static IEnumerable<IGrouping<string, Hive>> Valleys => Hives.GroupBy(h => h.Valley);

    private static IEnumerable<IGrouping<(int Season, string Strain), Hive>> Strains => Hives.GroupBy(h => (h.Season, h.Strain)).OrderBy(g => g.Key);

    /// <summary>Every kind that a word processor draws itself, by its name.</summary>
    private static readonly Dictionary<string, Func<Chart>> Kinds = new()
    {
        ["columns"] = () => Chart.Columns(Valleys, g => g.Key, g => Mean(g)).Format("0.0").WithValues(),
        ["grouped"] = () => Chart.Columns(Strains, g => g.Key.Season, g => Mean(g), g => g.Key.Strain),
        ["errors"] = () => Chart.Columns(Valleys, g => g.Key, g => Mean(g), lower: g => Mean(g) - 1, upper: g => Mean(g) + 2).ReferenceLine(24, "Mean"),
        ["stacked"] = () => Chart.Columns(Strains, g => g.Key.Season, g => g.Count(), g => g.Key.Strain).Stacked().WithValues(),
        ["shares"] = () => Chart.Bars(Strains, g => g.Key.Season, g => g.Count(), g => g.Key.Strain).AsShares().WithValues(),
        ["bars"] = () => Chart.Bars(Valleys, g => g.Key, g => Mean(g)).Sorted().Highlight("Dunmarsh"),
        ["bars with a line"] = () => Chart.Bars(Valleys, g => g.Key, g => Mean(g)).ReferenceLine(25, "Mean").ReferenceSpan(10, 15),
        ["negative"] = () => Chart.Columns(Valleys, g => g.Key, g => Mean(g) - 25).Format("signed 1").WithValues(),
        ["dots"] = () => Chart.Dots(Strains, g => g.Key.Season, g => Mean(g), g => g.Key.Strain),
        ["intervals"] = () => Chart.Intervals(Valleys, g => g.Key, g => Mean(g), g => Mean(g) - 1.5, g => Mean(g) + 1.5).ReferenceLine(25, "All"),
        ["lines"] = () => Chart.Lines(Strains, g => g.Key.Season, g => Mean(g), g => g.Key.Strain).WithPoints(),
        ["dates"] = () => Chart.Lines(Hives, h => h.Day, h => h.Honey).LineAt(new DateOnly(2025, 6, 1), "Super"),
        ["band"] = () => Chart.Lines(Hives.GroupBy(h => h.Season), g => g.Key, g => Mean(g), lower: g => Mean(g) - 1, upper: g => Mean(g) + 1),
        ["steps"] = () => Chart.Steps(Hives.Take(20), h => h.Day, h => h.Honey),
        ["areas"] = () => Chart.Areas(Strains, g => g.Key.Season, g => g.Sum(h => h.Honey), g => g.Key.Strain),
        ["points"] = () => Chart.Points(Hives, h => h.Forage, h => h.Honey, h => h.Strain),
        ["sized points"] = () => Chart.Points(Hives.Take(20), h => h.Forage, h => h.Honey, size: h => h.Season - 2019),
        ["histogram"] = () => Chart.Histogram(Hives, h => h.Honey),
        ["cumulative"] = () => Chart.Cumulative(Hives, h => h.Honey, h => h.Strain),
        ["boxes"] = () => Chart.Boxes(Hives, h => h.Valley, h => h.Honey),
        ["strips"] = () => Chart.Strips(Hives, h => h.Valley, h => h.Honey),
        ["density"] = () => Chart.Density(Hives, h => h.Honey, h => h.Strain),
        ["slopes"] = () => Chart.Slopes(Valleys, g => g.Key, g => Mean(g.Where(h => h.Season == 2021)), g => Mean(g.Where(h => h.Season == 2025)), 2021, 2025).Format("0.0"),
        ["ranges"] = () => Chart.Ranges(Valleys, g => g.Key, g => Mean(g.Where(h => h.Season == 2021)), g => Mean(g.Where(h => h.Season == 2025)), "2021", "2025").WithValues(),
        ["parts"] = () => Chart.Parts(Hives.GroupBy(h => h.Strain), g => g.Key, g => g.Count()),
        ["pie"] = () => Chart.Pie(Hives.GroupBy(h => h.Strain), g => g.Key, g => g.Count()),
        ["ring"] = () => Chart.Ring(Hives.GroupBy(h => h.Strain), g => g.Key, g => g.Count()),
        ["ratios"] = () => Chart.Intervals([("Mites", 0.6, 0.4, 0.9), ("Treated", 2.4, 1.4, 4.2)], t => t.Item1, t => t.Item2, t => t.Item3, t => t.Item4).Logarithmic().ReferenceLine(1),
        ["two axes"] = () => Chart.Columns(Valleys, g => g.Key, g => Mean(g)).Axes("", "Honey").Over(Chart.Lines(Valleys, g => g.Key, g => g.Average(h => h.Forage)).Axes("", "Forage"), onSecondAxis: true),
    };

    public static TheoryData<string> AllKinds => [.. Kinds.Keys];

    private (Docx Docx, IReadOnlyList<Diagnostic> Told) Save(Chart chart, House? house = null, string language = "en-GB")
    {
        var path = folder.File("chart.docx");
        var told = new Report($"Charts") { Language = Language.Find(language)!, House = house ?? House.Tansy }.Add(chart.BaseAxis.Title.Length + chart.ValueAxis.Title.Length > 0 ? chart : chart.Axes("Base", "Honey per hive (kg)"), caption: "A chart").Save(path);
        return (WordClean.Check(path), told);
    }

    private XElement Part(Chart chart, House? house = null, string language = "en-GB") => Save(chart, house, language).Docx.Xml("word/charts/chart1.xml").Root!;

    private XElement Svg(Chart chart, House? house = null)
    {
        var path = folder.File("chart.svg");
        chart.SavePicture(path, house);
        return XDocument.Load(path).Root!;
    }

    private static string[] Texts(XElement element, XName name) => [.. element.Descendants(name).Select(t => t.Value)];

    private static double Value(XElement parent, string element) => double.Parse((string)parent.Element(C + element)!.Attribute("val")!, CultureInfo.InvariantCulture);

    [Theory]
    [MemberData(nameof(AllKinds))]
    public void Every_kind_is_a_native_chart_with_its_places_and_limits_written(string kind)
    {
        foreach (var house in new[] { House.Tansy, House.Flint, House.Heron })
        {
            var chart = Part(Kinds[kind](), house, house == House.Flint ? "de-DE" : "en-GB");
            var plot = chart.Descendants(C + "plotArea").Single();
            var place = plot.Element(C + "layout")!.Element(C + "manualLayout")!;
            Assert.Equal("inner", (string?)place.Element(C + "layoutTarget")!.Attribute("val"));
            foreach (var (from, size) in new[] { ("x", "w"), ("y", "h") })
                Assert.True(Value(place, from) >= 0 && Value(place, size) > 0.1 && Value(place, from) + Value(place, size) <= 1.0001, $"{kind}: {place}");
            foreach (var axis in plot.Elements(C + "valAx"))
            {
                var scaling = axis.Element(C + "scaling")!;
                Assert.True(Value(scaling, "min") < Value(scaling, "max"));
                if (scaling.Element(C + "logBase") is not null || kind == "steps") continue;
                // Ticks are 1, 2, 2.5 or 5 times a power of ten apart.
                var unit = Value(axis, "majorUnit");
                var mantissa = Math.Round(unit / Math.Pow(10, Math.Floor(Math.Log10(unit) + 1e-9)), 9);
                Assert.Contains(mantissa, new[] { 1, 2, 2.5, 5 });
            }
            // What is seen as a length begins at zero.
            if (plot.Elements(C + "barChart").Any() && kind != "two axes") Assert.True(plot.Elements(C + "valAx").All(a => Value(a.Element(C + "scaling")!, "min") <= 0), kind);
            // Series of the data and those that draw lines and names: a legend names the first alone.
            var series = plot.Descendants(C + "ser").ToArray();
            var hidden = chart.Descendants(C + "legendEntry").Count();
            if (chart.Descendants(C + "legend").Any() && kind != "ring") Assert.Equal(kind is "two axes" or "ranges" ? 2 : 3, series.Length - hidden);
            Assert.All(chart.Descendants(C + "v"), v => Assert.True(v.Value.TrimStart('-', '0', '.').Split('E')[0].Count(char.IsDigit) <= 15, v.Value));
        }
    }

    [Theory]
    [MemberData(nameof(AllKinds))]
    public void The_picture_shows_the_same_words_and_colours_as_the_native_chart(string kind)
    {
        var chart = Kinds[kind]().Axes("Base", "Honey per hive (kg)");
        var (docx, _) = Save(chart);
        var native = docx.Xml("word/charts/chart1.xml").Root!;
        var picture = Svg(chart);
        var words = Texts(picture, SvgName + "text").ToHashSet();
        foreach (var text in Texts(native, A + "t")) Assert.Contains(text, words);
        var colours = picture.Descendants().SelectMany(e => new[] { (string?)e.Attribute("fill"), (string?)e.Attribute("stroke") }).OfType<string>().ToHashSet();
        foreach (var fill in native.Descendants(C + "ser").SelectMany(s => s.Elements(C + "spPr").Concat(s.Elements(C + "marker").Elements(C + "spPr"))).Descendants(A + "solidFill"))
            Assert.Contains(colours, c => Near(c, Seen(docx, fill.Elements().Single())));
        // Nothing is drawn outside.
        var box = ((string)picture.Attribute("viewBox")!).Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToArray();
        foreach (var text in picture.Descendants(SvgName + "text"))
        {
            var (x, y) = ((double)text.Attribute("x")!, (double)text.Attribute("y")!);
            Assert.True(x >= box[0] && x <= box[0] + box[2] && y >= 0 && y <= box[3], $"{kind}: {text}");
        }
        Assert.Equal(docx.Body.Descendants(Docx.Wp + "docPr").Single().Attribute("descr")!.Value, picture.Element(SvgName + "desc")!.Value);
    }

    private static bool Near(string one, string other) => one.Length == 7 && Enumerable.Range(0, 3).All(i => Math.Abs(Convert.ToInt32(one.Substring(1 + (2 * i), 2), 16) - Convert.ToInt32(other.Substring(1 + (2 * i), 2), 16)) <= 2);

    /// <summary>The colour that a theme colour with its changes comes to (ECMA-376 Part 1, §20.1.2.3.20 and .21).</summary>
    private static string Seen(Docx docx, XElement colour)
    {
        if (colour.Name == A + "srgbClr") return $"#{(string)colour.Attribute("val")!}";
        var name = (string)colour.Attribute("val")! switch { "tx1" => "dk1", "bg1" => "lt1", "tx2" => "dk2", "bg2" => "lt2", var other => other };
        var rgb = docx.Xml("word/theme/theme1.xml").Root!.Descendants(A + name).First().Elements().First().Attributes().First(x => x.Name.LocalName is "val" or "lastClr" && x.Value.Length == 6).Value;
        var (h, s, l) = Hsl(rgb);
        if (colour.Element(A + "lumMod") is { } share) l *= (int)share.Attribute("val")! / 100_000.0;
        if (colour.Element(A + "lumOff") is { } more) l += (int)more.Attribute("val")! / 100_000.0;
        return FromHsl(h, s, l);
    }

    private static (double H, double S, double L) Hsl(string rgb)
    {
        var (r, g, b) = (Convert.ToInt32(rgb[..2], 16) / 255.0, Convert.ToInt32(rgb[2..4], 16) / 255.0, Convert.ToInt32(rgb[4..], 16) / 255.0);
        var (high, low) = (Math.Max(r, Math.Max(g, b)), Math.Min(r, Math.Min(g, b)));
        if (high == low) return (0, 0, high);
        var hue = high == r ? (((g - b) / (high - low)) + 6) % 6 : high == g ? ((b - r) / (high - low)) + 2 : ((r - g) / (high - low)) + 4;
        return (hue * 60, (high - low) / (1 - Math.Abs(high + low - 1)), (high + low) / 2);
    }

    private static string FromHsl(double h, double s, double l)
    {
        double Part(double n) => l - (s * Math.Min(l, 1 - l) * Math.Max(-1, Math.Min(Math.Min(((n + (h / 30)) % 12) - 3, 9 - ((n + (h / 30)) % 12)), 1)));
        return string.Create(CultureInfo.InvariantCulture, $"#{(int)Math.Round(255 * Part(0)):X2}{(int)Math.Round(255 * Part(8)):X2}{(int)Math.Round(255 * Part(4)):X2}");
    }

    [Fact]
    public void Neighbouring_series_can_be_told_apart_in_any_accent_also_by_those_who_do_not_see_all_colours()
    {
        // A pair of the test data of Sharma, Wu & Dalal (2005).
        Assert.Equal(2.0425, Distance((50, 2.6772, -79.7751), (50, 0, -82.7485)), 4);
        House[] houses = [House.Tansy, House.Flint, House.Heron];
        for (var i = 0; i < 200; i++)
        {
            var accent = i < 5 ? new[] { "#FFFFFF", "#000000", "#FFF200", "#C00000", "#808080" }[i] : $"#{i * 7919 * 641 % 0x1000000:X6}";
            var path = folder.File("accent.docx");
            new Report($"T") { House = i < 3 && i == 0 ? houses[0] : houses[i % 3] with { Accent = accent } }.Add(Chart.Columns("abcdef", _ => "x", _ => 1, c => $"{c}")).Save(path);
            var docx = Docx.Open(path);
            var colours = docx.Xml("word/charts/chart1.xml").Root!.Descendants(C + "ser").Select(s => Seen(docx, s.Element(C + "spPr")!.Element(A + "solidFill")!.Elements().Single())).ToArray();
            Assert.Equal(6, colours.Length);
            foreach (var (one, other) in colours.Zip(colours.Skip(1)))
                foreach (var sight in new[] { null, Protanopia, Deuteranopia })
                    Assert.True(Distance(Lab(one, sight), Lab(other, sight)) >= 14.5, $"{accent}: {one} {other} {(sight == Protanopia ? "protanopia" : sight is null ? "" : "deuteranopia")} {Distance(Lab(one, sight), Lab(other, sight))}");
        }
    }

    private static readonly double[,] Protanopia = { { 0.152286, 1.052583, -0.204868 }, { 0.114503, 0.786281, 0.099216 }, { -0.003882, -0.048116, 1.051998 } };
    private static readonly double[,] Deuteranopia = { { 0.367322, 0.860646, -0.227968 }, { 0.280085, 0.672501, 0.047413 }, { -0.011820, 0.042940, 0.968881 } };

    private static (double L, double A, double B) Lab(string hex, double[,]? sight)
    {
        double[] light = [.. Enumerable.Range(0, 3).Select(i => Convert.ToInt32(hex.Substring(1 + (2 * i), 2), 16) / 255.0).Select(v => v <= 0.04045 ? v / 12.92 : Math.Pow((v + 0.055) / 1.055, 2.4))];
        if (sight is not null) light = [.. Enumerable.Range(0, 3).Select(r => Math.Clamp(Enumerable.Range(0, 3).Sum(c => sight[r, c] * light[c]), 0, 1))];
        double F(double a, double b, double c, double white) => ((a * light[0]) + (b * light[1]) + (c * light[2])) / white is var t && t > 216.0 / 24389 ? Math.Cbrt(t) : ((24389.0 / 27 * t) + 16) / 116;
        var (x, y, z) = (F(0.4124564, 0.3575761, 0.1804375, 0.95047), F(0.2126729, 0.7151522, 0.0721750, 1), F(0.0193339, 0.1191920, 0.9503041, 1.08883));
        return ((116 * y) - 16, 500 * (x - y), 200 * (y - z));
    }

    /// <summary>CIEDE2000, written from the paper's steps.</summary>
    private static double Distance((double L, double A, double B) p, (double L, double A, double B) q)
    {
        double Deg(double d) => d * Math.PI / 180;
        var cBar = (Math.Sqrt((p.A * p.A) + (p.B * p.B)) + Math.Sqrt((q.A * q.A) + (q.B * q.B))) / 2;
        var g = 0.5 * (1 - Math.Sqrt(Math.Pow(cBar, 7) / (Math.Pow(cBar, 7) + Math.Pow(25, 7))));
        var (a1, a2) = ((1 + g) * p.A, (1 + g) * q.A);
        var (c1, c2) = (Math.Sqrt((a1 * a1) + (p.B * p.B)), Math.Sqrt((a2 * a2) + (q.B * q.B)));
        double Hue(double a, double b) => a == 0 && b == 0 ? 0 : (Math.Atan2(b, a) / Math.PI * 180) + (Math.Atan2(b, a) < 0 ? 360 : 0);
        var (h1, h2) = (Hue(a1, p.B), Hue(a2, q.B));
        var dh = c1 * c2 == 0 ? 0 : h2 - h1 > 180 ? h2 - h1 - 360 : h2 - h1 < -180 ? h2 - h1 + 360 : h2 - h1;
        var dH = 2 * Math.Sqrt(c1 * c2) * Math.Sin(Deg(dh) / 2);
        var (lBar, cMean) = ((p.L + q.L) / 2, (c1 + c2) / 2);
        var hBar = c1 * c2 == 0 ? h1 + h2 : Math.Abs(h1 - h2) <= 180 ? (h1 + h2) / 2 : h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
        var t = 1 - (0.17 * Math.Cos(Deg(hBar - 30))) + (0.24 * Math.Cos(Deg(2 * hBar))) + (0.32 * Math.Cos(Deg((3 * hBar) + 6))) - (0.2 * Math.Cos(Deg((4 * hBar) - 63)));
        var (sl, sc, sh) = (1 + (0.015 * Math.Pow(lBar - 50, 2) / Math.Sqrt(20 + Math.Pow(lBar - 50, 2))), 1 + (0.045 * cMean), 1 + (0.015 * cMean * t));
        var rt = -2 * Math.Sqrt(Math.Pow(cMean, 7) / (Math.Pow(cMean, 7) + Math.Pow(25, 7))) * Math.Sin(Deg(60 * Math.Exp(-Math.Pow((hBar - 275) / 25, 2))));
        var (x, y, z) = ((q.L - p.L) / sl, (c2 - c1) / sc, dH / sh);
        return Math.Sqrt((x * x) + (y * y) + (z * z) + (rt * y * z));
    }

    [Fact]
    public void Numbers_are_those_of_the_records()
    {
        double[] values = [1, 2, 2, 3, 4, 5, 6, 7, 30];
        var histogram = Chart.Histogram(values, v => v, width: 5, from: 0);
        Assert.Equal([5, 3, 0, 0, 0, 1], histogram.Layers[0].Series[0].Points.Select(p => p.Value!.Value));
        Assert.Equal(values.Length, Chart.Histogram(values, v => v).Layers[0].Series[0].Points.Sum(p => p.Value));
        // The greatest value belongs to the last bin.
        Assert.Equal(3, Chart.Histogram([0.0, 1, 2, 3], v => v, width: 1).Layers[0].Series[0].Points.Length);
        var boxes = Chart.Boxes(values, v => "a", v => v).Layers;
        Assert.Equal((2.0, 6.0), (boxes[1].Series[0].Points[0].Lower, boxes[1].Series[0].Points[0].Upper));
        Assert.Equal((1.0, 7.0, 4.0), (boxes[0].Series[0].Points[0].Lower, boxes[0].Series[0].Points[0].Upper, boxes[2].Series[0].Points[0].Value));
        Assert.Equal(30, Assert.Single(boxes[3].Series[0].Points).Value);
        var cumulative = Chart.Cumulative([3.0, 1, 1, 2], v => v).Layers[0].Series[0].Points;
        Assert.Equal([(1.0, 0), (1.0, 0.5), (2.0, 0.75), (3.0, 1)], cumulative.Select(p => ((double)p.At!, p.Value!.Value)));
        var density = Chart.Density(Hives, h => h.Honey).Layers[0].Series[0].Points;
        Assert.Equal(1, density.Zip(density.Skip(1)).Sum(p => ((double)p.Second.At! - (double)p.First.At!) * (p.First.Value!.Value + p.Second.Value!.Value) / 2), 2);
        Assert.Equal(["Dunmarsh", "Coldbrook", "Bramble Down", "Alderwick"], Chart.Columns([("Alderwick", 1.0), ("Bramble Down", 2), ("Coldbrook", 3), ("Dunmarsh", 4)], p => p.Item1, p => p.Item2).Sorted().Layers[0].Series[0].Points.Select(p => p.At));
    }

    [Fact]
    public void The_workbook_holds_typed_values_in_a_table_and_no_noise_of_arithmetic()
    {
        var (docx, _) = Save(Chart.Lines([(new DateOnly(2025, 3, 1), 0.1 + 0.2), (new DateOnly(2025, 4, 1), 27.496000000000002)], p => p.Item1, p => p.Item2).BaseFormat("MMM yyyy"), language: "de-DE");
        var workbook = new Docx(docx.Bytes("word/embeddings/workbook1.xlsx"));
        XNamespace s = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
        Assert.Equal(["45717", "0.3", "45748", "27.496"], workbook.Xml("xl/worksheets/sheet1.xml").Root!.Descendants(s + "v").Select(v => v.Value));
        Assert.Contains("[$-407]mmm yyyy", workbook.Xml("xl/styles.xml").Root!.Descendants(s + "numFmt").Select(f => (string?)f.Attribute("formatCode")));
        var table = workbook.Xml("xl/tables/table1.xml").Root!;
        Assert.Equal(("A1:B3", "Base", "Honey per hive (kg)"), ((string?)table.Attribute("ref"), (string?)table.Descendants(s + "tableColumn").First().Attribute("name"), (string?)table.Descendants(s + "tableColumn").Last().Attribute("name")));
    }

    [Fact]
    public void A_German_chart_reads_with_a_comma()
    {
        var chart = Part(Chart.Columns([("a", 87.1)], p => p.Item1, p => p.Item2).Format("0.0").WithValues(), language: "de-DE");
        Assert.Equal("[$-407]0.0", (string?)chart.Descendants(C + "dLbls").Single().Element(C + "numFmt")!.Attribute("formatCode"));
        Assert.Equal("de-DE", (string?)chart.Element(C + "lang")!.Attribute("val"));
        var path = folder.File("de.svg");
        Chart.Columns([("a", 87.1)], p => p.Item1, p => p.Item2).Format("0.0").WithValues().SavePicture(path, language: Language.Find("de-DE"));
        Assert.Contains(">87,1<", File.ReadAllText(path), StringComparison.Ordinal);
    }

    [Fact]
    public void Long_names_turn_columns_to_bars_and_many_rows_make_a_higher_figure()
    {
        string[] names = [.. Enumerable.Range(1, 30).Select(i => $"An apiary with a long name, number {i}")];
        var chart = Part(Chart.Columns(names, n => n, n => n.Length));
        Assert.Equal("bar", (string?)chart.Descendants(C + "barDir").Single().Attribute("val"));
        Assert.Equal("maxMin", (string?)chart.Descendants(C + "catAx").Single().Descendants(C + "orientation").Single().Attribute("val"));
        Assert.Equal("col", (string?)Part(Chart.Columns(names.Take(3).Select(n => n[..9]), n => n, n => n.Length)).Descendants(C + "barDir").Single().Attribute("val"));
        var height = (long)Save(Chart.Bars(names, n => n, n => n.Length)).Docx.Body.Descendants(Docx.Wp + "extent").Single().Attribute("cy")!;
        Assert.True(height > Length.Centimetres(12).EnglishMetricUnits);
        // Names stand below each other, never on each other.
        var places = Svg(Chart.Dots(names, n => n, n => n.Length)).Descendants(SvgName + "text").Where(t => t.Value.StartsWith("An apiary", StringComparison.Ordinal)).Select(t => (double)t.Attribute("y")!).ToArray();
        Assert.All(places.Zip(places.Skip(1)), p => Assert.True(p.Second - p.First > 8));
    }

    [Fact]
    public void No_reference_line_strikes_a_value_through()
    {
        (string Name, double Value)[] rows = [("a", 24.1), ("b", 23), ("c", 12), ("d", 30)];
        string?[] Places(Chart chart) => [.. Part(chart).Descendants(C + "ser").First().Element(C + "dLbls")!.Descendants(C + "dLblPos").Select(p => (string?)p.Attribute("val"))];
        var columns = Chart.Columns(rows, r => r.Name, r => r.Value).Format("0.0").WithValues();
        Assert.Equal(["outEnd"], Places(columns.ReferenceLine(18)));
        Assert.Equal(["inEnd"], Places(columns.ReferenceLine(25)));
        // Inside c the line at 11 would strike its value through: the others stand there alone.
        Assert.Equal(["inEnd", "inEnd", "outEnd"], Places(columns.ReferenceLine(25).ReferenceLine(11)));
        var bars = Svg(Chart.Bars(rows, r => r.Name, r => r.Value).Format("0.0").WithValues().ReferenceLine(25));
        var places = bars.Descendants(SvgName + "text").Where(t => t.Value is "24.1" or "23.0" or "12.0" or "30.0").ToDictionary(t => t.Value, t => (string?)t.Attribute("text-anchor"));
        Assert.Equal("end", places["24.1"]);
    }

    [Fact]
    public void Names_at_the_ends_of_lines_stand_apart()
    {
        var chart = Chart.Lines(from s in new[] { "one", "two", "three" } from i in Enumerable.Range(1, 4) select (s, i), p => p.i, p => p.i * (p.s == "three" ? 1.01 : 1), p => p.s).SeriesNames(SeriesLabels.AtEnds);
        var places = Svg(chart).Descendants(SvgName + "text").Where(t => t.Value is "one" or "two" or "three").Select(t => (double)t.Attribute("y")!).Order().ToArray();
        Assert.Equal(3, places.Length);
        Assert.All(places.Zip(places.Skip(1)), p => Assert.True(p.Second - p.First > 9));
        var native = Part(chart);
        Assert.Empty(native.Descendants(C + "legend"));
        Assert.Equal(["one", "three", "two"], native.Descendants(C + "dLbl").Select(l => string.Concat(Texts(l, A + "t"))).Order());
    }

    [Fact]
    public void What_cannot_be_drawn_is_refused_in_words()
    {
        void Refused(string words, Func<Chart> make) => Assert.Contains(words, Assert.Throws<ReportException>(make).Message, StringComparison.Ordinal);
        Refused("no data", () => Chart.Lines(Array.Empty<int>(), i => i, i => i));
        Refused("no values", () => Chart.Histogram([1], _ => (double?)null));
        Refused("two values of Amber at 2021", () => Chart.Columns([1, 2], _ => 2021, v => v, _ => "Amber"));
        Refused("two values at 1 March 2025", () => Chart.Lines([1, 2], _ => new DateOnly(2025, 3, 1), v => v));
        Refused("a logarithmic axis cannot show \u22121", () => Chart.Lines([(1, -1.0)], p => p.Item1, p => p.Item2).Logarithmic());
        Refused("shares cannot be shown of negative values", () => Chart.Columns([-1.0], _ => "a", v => v).AsShares());
        Refused("a part of a whole cannot be \u22122", () => Chart.Pie([-2.0, 3], v => v, v => v));
        Refused("sum to nothing", () => Chart.Parts([0.0], v => v, v => v));
        Refused("the width of a bin must be above zero", () => Chart.Histogram([1.0], v => v, width: 0));
        Refused("all equal, and have no density", () => Chart.Density([2.0, 2], v => v));
        Refused("an axis cannot run from 5 to 5", () => Chart.Columns([1.0], _ => "a", v => v).ValueScale(5, 5));
        Refused("`red` is not a colour", () => Chart.Columns([1.0], _ => "a", v => v).Colours("#112233", "red"));
        Refused("`0.0 kg` is not a format", () => Chart.Columns([1.0], _ => "a", v => v).Format("0.0 kg"));
        Assert.Contains("`.svg` or `.png`", Assert.Throws<ReportException>(() => Chart.Columns([1.0], _ => "a", v => v).SavePicture("x.gif")).Message, StringComparison.Ordinal);
        // A picture needs what draws it.
        Assert.Contains("Fennick.Plots", Assert.Throws<ReportException>(() => Save(Chart.Violins(Hives, h => h.Valley, h => h.Honey))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_left_out_or_names_nothing_is_told()
    {
        string[] Told(Chart chart) => [.. Save(chart).Told.Select(d => d.Message)];
        Assert.Contains("2 infinite values are left out of a chart", Told(Chart.Columns([1, double.PositiveInfinity, double.NegativeInfinity, double.NaN], v => v, v => v)));
        Assert.Contains("1 record without a place along the base is left out of a chart", Told(Chart.Lines([(1.0, 2.0), (double.NaN, 3), (3, 1)], p => p.Item1, p => p.Item2)));
        Assert.Contains("the chart has no name or series \"Dunmarch\" to highlight", Told(Chart.Columns(Valleys, g => g.Key, g => Mean(g)).Highlight("Dunmarch")));
        Assert.Contains("the chart has no name or series \"x\" for the note \"high\"", Told(Chart.Columns(Valleys, g => g.Key, g => Mean(g)).NoteAt("x", "high")));
        Assert.Contains(Told(Kinds["two axes"]()), t => t.StartsWith("a chart has a second value axis", StringComparison.Ordinal));
        Assert.Empty(Told(Chart.Columns(Valleys, g => g.Key, g => Mean(g)).Highlight("Dunmarsh").NoteAt("Dunmarsh", "low").WithPoints()));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void One_value_and_equal_values_make_a_chart(int count)
    {
        foreach (var value in new[] { 0, -3, 1e-9, 4e12 })
        {
            var records = Enumerable.Range(1, count).ToArray();
            foreach (var chart in new[] { Chart.Columns(records, i => i, _ => value), Chart.Lines(records, i => i, _ => value), Chart.Points(records, _ => 2, _ => value), Chart.Histogram(records, _ => value), Chart.Boxes(records, _ => "a", _ => value), Chart.Dots(records, i => $"{i}", _ => value), Chart.Lines(records, i => new DateOnly(2025, 1, i), _ => value) })
                Assert.All(Part(chart).Descendants(C + "valAx"), a => Assert.True(Value(a.Element(C + "scaling")!, "min") < Value(a.Element(C + "scaling")!, "max")));
        }
    }

    [Fact]
    public void Gaps_stay_gaps_and_dates_are_sorted()
    {
        var chart = Part(Chart.Lines([(new DateOnly(2025, 3, 1), 3.0), (new DateOnly(2025, 1, 1), 1.0), (new DateOnly(2025, 2, 1), double.NaN)], p => p.Item1, p => p.Item2));
        var values = chart.Descendants(C + "val").Single();
        Assert.Equal(["0", "2"], values.Descendants(C + "pt").Select(p => (string)p.Attribute("idx")!));
        Assert.Equal(["1", "3"], Texts(values, C + "v"));
        Assert.Equal("gap", (string?)chart.Descendants(C + "dispBlanksAs").Single().Attribute("val"));
        Assert.Equal(("months", "45658"), ((string?)chart.Descendants(C + "baseTimeUnit").Single().Attribute("val"), Texts(chart.Descendants(C + "cat").Single(), C + "v")[0]));
    }

    [Fact]
    public void The_words_for_those_who_cannot_see_it_say_what_it_shows()
    {
        string Words(Chart chart) => (string)Save(chart).Docx.Body.Descendants(Docx.Wp + "docPr").Single().Attribute("descr")!;
        Assert.Equal("Column chart: Honey per hive (kg), Base. Amber 24.4; Dusk 26.3. Mean (25).", Words(Chart.Columns([("Amber", 24.4), ("Dusk", 26.3)], p => p.Item1, p => p.Item2).ReferenceLine(25, "Mean")));
        Assert.Matches(@"^Line chart: .*\. 240 values from 2\d.*\(\d.* 2025\) to 3\d.*; from .* at the beginning to .* at the end\.", Words(Kinds["dates"]()));
        Assert.Matches(@"^Scatter chart: .* Amber: 80 values from .*\(r = [−-]?0\.\d\d\)\.", Words(Kinds["points"]()));
        Assert.Contains("Dot", Words(Kinds["intervals"]()), StringComparison.Ordinal);
        Assert.Contains("Amber 33%; Dusk 33%; Heath 33%", Regex.Replace(Words(Kinds["parts"]()), @": (?=\d)", " ").Replace(". ", "; ", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("de-DE", "Säulendiagramm: Honey per hive (kg), Base. Amber 24,4.")]
    [InlineData("pl-PL", "Wykres kolumnowy: Honey per hive (kg), Base. Amber 24,4.")]
    public void They_are_in_the_language_of_the_report(string language, string words) =>
        Assert.Equal(words, (string)Save(Chart.Columns([("Amber", 24.4)], p => p.Item1, p => p.Item2), language: language).Docx.Body.Descendants(Docx.Wp + "docPr").Single().Attribute("descr")!);

    [Fact]
    public void Estimates_stand_in_the_order_and_with_the_labels_of_their_table()
    {
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Forage, h.Strain });
        var small = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Forage });
        var chart = EstimatesChart.Of(("Small", small), ("Full", fit)).Label("Forage", "Forage (ha)").ToChart();
        var full = chart.Layers[1].Series[1].Points;
        Assert.Equal(fit["Forage"].Estimate, full[0].Value);
        Assert.Equal((fit["Strain=Heath"].Interval().Low, fit["Strain=Heath"].Interval().High), (full[^1].Lower!.Value, full[^1].Upper!.Value));
        Assert.Null(chart.Layers[1].Series[0].Points[^1].Value);
        var native = Part(chart.Axes("", "Estimate"));
        string[] names = ["Forage (ha)", "Strain (reference: Amber)", "Dusk", "Heath"];
        Assert.Equal(names, Texts(native, A + "t").Where(names.Contains).Take(4));
        Assert.Equal("Estimate with its 95% interval", Assert.Single(Texts(Part(EstimatesChart.Of(fit).ToChart()), A + "t"), t => t.Contains('%', StringComparison.Ordinal)));
        var logit = Regression.Logistic(Hives, h => h.Honey > 25 ? 1 : 0, h => new { h.Forage });
        var odds = EstimatesChart.Of(logit).Exponentiated().ToChart();
        Assert.Equal((Math.Exp(logit["Forage"].Estimate), true), (odds.Layers[1].Series[0].Points[0].Value!.Value, odds.ValueAxis.IsLogarithmic));
    }

    [Fact]
    public void Predictions_are_the_averages_of_the_fit()
    {
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Forage, h.Strain });
        var at20 = fit.PredictedMeans("Forage", [20.0]).Single();
        var byHand = fit.Predict(Hives.Select(h => h with { Forage = 20 }).ToArray());
        Assert.Equal(byHand.Average(p => p!.Value), at20.Estimate, 10);
        var dusk = fit.PredictedMeans("Forage", [20.0], "Strain", "Dusk").Single();
        var one = fit.Predict([Hives[0] with { Forage = 20, Strain = "Dusk" }]).Single()!;
        Assert.Equal((one.Value, one.StandardError), (dusk.Estimate, dusk.StandardError), (a, b) => Math.Abs(a.Item1 - b.Item1) < 1e-9 && Math.Abs(a.Item2 - b.Item2) < 1e-9);
        var logit = Regression.Logistic(Hives, h => h.Honey > 25 ? 1 : 0, h => new { h.Forage, h.Strain });
        Assert.Equal(logit.Predict(Hives.Select(h => h with { Forage = 30 }).ToArray()).Average(p => p!.Value), logit.PredictedMeans("Forage", [30.0]).Single().Estimate, 9);
        var chart = PredictionChart.Of(fit, "Forage").By("Strain").ToChart();
        Assert.Equal((3, 41), (chart.Layers[1].Series.Length, chart.Layers[1].Series[0].Points.Length));
        Assert.Equal(fit.PredictedMeans("Strain").Select(e => e.Estimate), PredictionChart.Of(fit, "Strain").ToChart().Layers[^1].Series[0].Points.Select(p => p.Value!.Value));
        Assert.Contains("no variable `Frage`", Assert.Throws<AnalysisException>(() => PredictionChart.Of(fit, "Frage")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Panels_share_their_scale_and_one_caption()
    {
        var path = folder.File("panels.docx");
        new Report($"P").Add(ChartPanels.Of(Hives, h => h.Valley, g => Chart.Lines(g.GroupBy(h => h.Season), s => s.Key, s => Mean(s)).Axes("", "Honey (kg)")), caption: "Valleys")
            .Add(ResidualCharts.Of(Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Forage })), caption: "Residuals").Save(path);
        var docx = WordClean.Check(path);
        Assert.Equal(8, docx.Names.Count(n => n.StartsWith("word/charts/chart", StringComparison.Ordinal)));
        var limits = Enumerable.Range(1, 4).Select(i => docx.Xml($"word/charts/chart{i}.xml").Root!.Descendants(C + "valAx").Single().Element(C + "scaling")!).Select(s => (Value(s, "min"), Value(s, "max"))).Distinct();
        Assert.Single(limits);
        Assert.Contains("Honey (kg)", docx.Paragraphs);
        Assert.Equal(2, docx.Paragraphs.Count(p => p.StartsWith("Figure", StringComparison.Ordinal)));
        var residuals = docx.Xml("word/charts/chart5.xml").Root!;
        var fit = Regression.LeastSquares(Hives, h => h.Honey, h => new { h.Forage });
        Assert.Contains(fit.Residuals[0].ToString("G15", CultureInfo.InvariantCulture), Texts(residuals, C + "v"));
    }
}
