using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Houses;

namespace Fennick.Bench;

/// <summary>A house from a file: what reading and dressing it once costs, and what a report in it costs beside one in a built-in house.</summary>
internal static class HousesBenchmark
{
    private const int Rounds = 60;

    public static int Run()
    {
        var path = Path.Combine(AppContext.BaseDirectory, "larkmere.docx");
        var bytes = File.ReadAllBytes(path);
        var place = new SourcePlace(path, 0, 0);
        var (unpack, read, dress) = (new List<double>(), new List<double>(), new List<double>());
        for (var round = 0; round < Rounds; round++)
        {
            unpack.Add(Time(() => Unpack(bytes)));
            read.Add(Time(() => HouseReader.Read(bytes, place)));
            var house = House.Read(path);
            dress.Add(Time(() => HouseDresser.Dress(house, Language.Default)));
        }
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"first time in a process: reading {read[0]:0.0} ms, dressing {dress[0]:0.0} ms"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"afterwards: reading {Median(read):0.00} ms, {Median(read) / Median(unpack):0.0} times unpacking it ({Median(unpack):0.00} ms); dressing {Median(dress):0.00} ms (target: both under 20 ms)"));
        var (own, file) = (Writing(House.Tansy), Writing(House.Read(path)));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"a small report: {own * 1000:0} µs in tansy, {file * 1000:0} µs in the file's house"));
        return 0;
    }

    private static double Writing(House house)
    {
        var report = new ReportContent { Language = Language.Default, House = house, Title = "Hives", Blocks = [new Heading(1, "Honey"), new Paragraph("Text.")] };
        var times = new List<double>();
        for (var round = 0; round < Rounds * 5; round++)
        {
            times.Add(Time(() =>
            {
                using var package = ReportFile.Make(report, []);
            }));
        }
        return Median(times.Skip(Rounds));
    }

    private static void Unpack(byte[] bytes)
    {
        using var zip = new ZipArchive(new MemoryStream(bytes));
        foreach (var entry in zip.Entries)
        {
            using var stream = entry.Open();
            stream.CopyTo(Stream.Null);
        }
    }

    private static double Time(Action action)
    {
        var watch = Stopwatch.StartNew();
        action();
        return watch.Elapsed.TotalMilliseconds;
    }

    private static double Median(IEnumerable<double> times)
    {
        var sorted = times.Order().ToArray();
        return sorted[sorted.Length / 2];
    }
}
