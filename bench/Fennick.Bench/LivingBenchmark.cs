using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Revision;
using Fennick.Wordprocessing;

namespace Fennick.Bench;

/// <summary>What it costs that a document remembers how it was made, and to refresh it: the size and the writing with and without, and a refresh beyond the run of the manuscript; and to compare and to join documents.</summary>
internal static class LivingBenchmark
{
    private const int Rounds = 15;

    public static int Run()
    {
        foreach (var name in new[] { "harvest", "annual", "tables", "figures", "valleys" })
        {
            var report = Manuscript.Open(Path.Combine("examples", "survey", $"{name}.ms.md")).Run().Content;
            var without = report with { Settings = report.Settings with { IsLiving = false } };
            var (living, plain) = (new List<double>(), new List<double>());
            var (size, bare) = (0L, 0L);
            for (var i = 0; i < Rounds; i++)
            {
                // Each is laid out anew: what is kept of a report goes by its object.
                (size, var time) = Write(report with { Date = report.Date });
                living.Add(time);
                (bare, time) = Write(without with { Date = report.Date });
                plain.Add(time);
            }
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{name}: {size / 1024.0:0.0} KB, {(double)size / bare:0.000} of the size without; written in {Median(living):0.00} ms, {Median(living) / Median(plain):0.00} of the time without"));
            if (name is "harvest" or "annual") Refresh(name, report);
            if (name == "annual") Compare(report);
            if (name == "tables") Join(report);
        }
        return 0;
    }

    /// <summary>Two reports of about 200 pages, eight annual reports each, in which most paragraphs differ.</summary>
    private static void Compare(ReportContent report)
    {
        using var folder = new Folder();
        var (one, old, now) = (folder.File("one.docx"), folder.File("old.docx"), folder.File("new.docx"));
        report.Save(one);
        Living.Join(Enumerable.Repeat(one, 8), old);
        File.Copy(old, now);
        Edit(now);
        Say("two reports of about 200 pages compared", Measure(() => Living.Compare(old, now)), "500");
        Say("the same with a document of tracked changes", Measure(() => Living.Compare(old, now, output: folder.File("both.docx"))), "500 without it");
    }

    /// <summary>Fifty documents of about five pages.</summary>
    private static void Join(ReportContent report)
    {
        using var folder = new Folder();
        report.Save(folder.File("one.docx"));
        Say("50 documents of about 5 pages joined", Measure(() => Living.Join(Enumerable.Repeat(folder.File("one.docx"), 50), folder.File("all.docx"))), "500");
    }

    private static double Measure(Action work)
    {
        var times = new List<double>();
        for (var i = 0; i < 5; i++)
        {
            var watch = Stopwatch.StartNew();
            work();
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        return Median(times);
    }

    private static void Say(string what, double time, string target) => Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what} in {time:0} ms (target: {target})"));

    /// <summary>A folder that goes when it is no longer needed.</summary>
    private sealed class Folder : IDisposable
    {
        private readonly string path = Directory.CreateTempSubdirectory("fennick-").FullName;

        public string File(string name) => Path.Combine(path, name);

        public void Dispose() => Directory.Delete(path, recursive: true);
    }

    private static void Refresh(string name, ReportContent report)
    {
        var path = Path.Combine(Path.GetTempPath(), $"fennick-{Guid.NewGuid():N}.docx");
        report.Save(path);
        Edit(path);
        using var fresh = ReportFile.Make(report, []);
        var times = new List<double>();
        for (var i = 0; i < Rounds; i++)
        {
            var watch = Stopwatch.StartNew();
            var (_, merged) = RefreshedFile.Merge(path, fresh, report.Date, new RefreshOptions());
            using (var target = new PooledBuffer()) merged.WriteTo(target);
            merged.Dispose();
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        File.Delete(path);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{name}: refreshed in {Median(times):0.0} ms beyond the run (target for the annual report: 60)"));
    }

    /// <summary>A paragraph of somebody's behind all that is there, and a word in each paragraph of text.</summary>
    private static void Edit(string path)
    {
        using var zip = ZipFile.Open(path, ZipArchiveMode.Update);
        var entry = zip.GetEntry("word/document.xml")!;
        string text;
        using (var reader = new StreamReader(entry.Open())) text = reader.ReadToEnd();
        entry.Delete();
        using var writer = new StreamWriter(zip.CreateEntry("word/document.xml").Open());
        writer.Write(text.Replace(" the ", " this ", StringComparison.Ordinal).Replace("<w:body>", "<w:body><w:p><w:r><w:t>A colleague's words.</w:t></w:r></w:p>", StringComparison.Ordinal));
    }

    private static (long Size, double Time) Write(ReportContent report)
    {
        using var target = new PooledBuffer(1 << 20);
        var watch = Stopwatch.StartNew();
        using (var package = ReportFile.Make(report, [])) package.WriteTo(target);
        return (target.Length, watch.Elapsed.TotalMilliseconds);
    }

    private static double Median(List<double> times) => times.Order().ElementAt(times.Count / 2);
}
