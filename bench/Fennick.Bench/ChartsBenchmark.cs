using System.Diagnostics;
using System.Globalization;
using Fennick.Charts;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Formatting;

namespace Fennick.Bench;

/// <summary>What a native chart costs in time and in bytes, whether that stays the same in a document of many, and what its picture costs.</summary>
internal static class ChartsBenchmark
{
    private const int Rounds = 9;
    private const int Warming = 3;
    private static readonly string[] Strains = ["Amber", "Dusk", "Heath"];

    public static int Run()
    {
        var chart = Chart.Columns(from c in Enumerable.Range(1, 6) from s in Strains select (c, s), p => $"Valley {p.c}", p => 20 + (p.c * 1.7), p => p.s).Axes("", "Honey per hive (kg)");
        var (empty, few, many) = (Report(chart, 0), Report(chart, 10), Report(chart, 1000));
        var (none, fewTimes, manyTimes) = (new List<double>(), new List<double>(), new List<double>());
        for (var round = 0; round < Rounds + Warming; round++)
        {
            // As much work on all sides, one after the other, so that they see the same machine.
            none.Add(Time(() => Repeat(empty, 100)) / 100);
            fewTimes.Add(Time(() => Repeat(few, 100)) / 100);
            manyTimes.Add(Time(() => Repeat(many, 1)));
        }
        var (e, f, m) = (Median(none), Median(fewTimes), Median(manyTimes));
        var (one, ofMany) = ((f - e) / 10, (m - e) / 1000);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"a native chart of 6 × 3 with its workbook: {one * 1000:0} µs of 10, {ofMany * 1000:0} µs of 1,000 (target: at most 150)"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"    time per chart at 1,000 / at 10: {ofMany / one:0.00} (target: at most 1.1)"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"    in the package: {(Size(few) - Size(empty)) / 10.0 / 1024:0.0} KB each (target: at most 12)"));
        var folder = Directory.CreateTempSubdirectory();
        var (svg, png) = (new List<double>(), new List<double>());
        for (var round = 0; round < Rounds + Warming; round++)
        {
            svg.Add(Time(() => chart.SavePicture(Path.Combine(folder.FullName, "c.svg"))));
            png.Add(Time(() => chart.SavePicture(Path.Combine(folder.FullName, "c.png"), width: Length.Centimetres(13), height: Length.Centimetres(7))));
        }
        folder.Delete(recursive: true);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"its picture: {Median(svg):0.0} ms as SVG, {Median(png):0} ms as PNG of 13 × 7 cm at 300 pixels to the inch (target: at most 120)"));
        return 0;
    }

    private static ReportContent Report(Chart chart, int charts) => new() { Language = Language.Default, Blocks = [new Paragraph(RichText.Plain("Charts")), .. Enumerable.Range(0, charts).Select(_ => new FigureBlock(chart))] };

    private static void Repeat(ReportContent report, int times)
    {
        for (var i = 0; i < times; i++)
        {
            using var package = ReportFile.Make(report, []);
            package.WriteTo(Stream.Null);
        }
    }

    private static long Size(ReportContent report)
    {
        using var stream = new MemoryStream();
        using var package = ReportFile.Make(report, []);
        package.WriteTo(stream);
        return stream.Length;
    }

    private static double Time(Action work)
    {
        var clock = Stopwatch.StartNew();
        work();
        return clock.Elapsed.TotalMilliseconds;
    }

    private static double Median(IEnumerable<double> times) => times.Skip(Warming).Order().ElementAt(Rounds / 2);
}
