using System.IO.Compression;
using System.Xml;
using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Tables;
using Fennick.Wordprocessing;
using static Fennick.Inlines;

namespace Fennick.Bench;

/// <summary>
/// Writing the demo report, analysis excluded, in memory: numbering, lowering, fitting, pagination and package, against deflating the same changed parts
/// once at the same level, and against building and saving just its body with the typed object tree of DocumentFormat.OpenXml.
/// </summary>
[MemoryDiagnoser]
public class WritingBenchmark
{
    private readonly ReportContent report = CreateReport();
    private readonly PooledBuffer target = new(256 * 1024);
    private readonly MemoryStream stream = new(256 * 1024);
    private byte[][] changedParts = [];
    private readonly string file = Path.Combine(Path.GetTempPath(), $"fennick-{Guid.NewGuid():N}.docx");
    private (string Name, byte[] Part)[] checkedParts = [];
    private DressedHouse house = null!;
    private FittedDocument fitted = null!;

    public static int Run()
    {
        var config = DefaultConfig.Instance
            .AddJob(Job.Default.WithToolchain(InProcessEmitToolchain.Instance).WithWarmupCount(5).WithIterationCount(15))
            .WithOptions(ConfigOptions.DisableLogFile);
        var summary = BenchmarkRunner.Run<WritingBenchmark>(config);
        double Median(string name) => summary.Reports.Single(r => r.BenchmarkCase.Descriptor.WorkloadMethod.Name == name).ResultStatistics!.Median;
        var fennick = Median(nameof(WriteReport));
        var allocated = summary.Reports.Single(r => r.BenchmarkCase.Descriptor.WorkloadMethod.Name == nameof(WriteReport)).GcStats.GetBytesAllocatedPerOperation(summary.BenchmarksCases[0]);
        Console.WriteLine();
        Console.WriteLine($"(a) writing the report / deflating its changed parts once:      {fennick / Median(nameof(DeflateChangedParts)):0.00} (target: at most 3)");
        Console.WriteLine($"(b) typed object tree of the body / writing the body:            {Median(nameof(BuildTypedTree)) / Median(nameof(WriteBody)):0.00} (target: at least 8)");
        var check = Median(nameof(CheckParts));
        Console.WriteLine($"(c) checking the parts again / writing the report in memory:          {check / fennick:0.000}");
        Console.WriteLine($"    checking the parts again / writing the report to the disk:        {check / Median(nameof(SaveReport)):0.000} (target: less than 0.05)");
        Console.WriteLine($"    allocated per report: {allocated / 1024.0:0.0} KB");
        return 0;
    }

    [GlobalSetup]
    public void Setup()
    {
        using var package = ReportFile.Make(report, []);
        package.WriteTo(target);
        using var zip = new ZipArchive(new MemoryStream(target.WrittenSpan.ToArray()));
        house = House.Tansy.Dress(report.Language);
        var constant = house.Template.Parts.Select(p => p.Name).ToHashSet();
        changedParts = [.. zip.Entries
            .Where(e => !constant.Contains(e.FullName) && !e.FullName.StartsWith("word/charts/style", StringComparison.Ordinal) && !e.FullName.StartsWith("word/charts/colors", StringComparison.Ordinal))
            .SelectMany(e => e.FullName.EndsWith(".xlsx", StringComparison.Ordinal) ? [Sheet(Read(e))] : new[] { Read(e) })];
        checkedParts = [.. zip.Entries.Where(e => !constant.Contains(e.FullName) && e.FullName != house.Template.Settings.Name && !e.FullName.StartsWith("word/charts/style", StringComparison.Ordinal) && !e.FullName.StartsWith("word/charts/colors", StringComparison.Ordinal) && !e.FullName.EndsWith(".xlsx", StringComparison.Ordinal)).Select(e => (e.FullName, Read(e)))];
        Console.WriteLine($"// changed parts: {changedParts.Length}, {changedParts.Sum(p => p.Length)} bytes, of which the body {Read(zip.GetEntry("word/document.xml")!).Length}; package {target.Length} bytes");
        fitted = Fitting.Fit(Lowering.Lower(report, Numberer.Number(report), house), house);
    }

    [Benchmark]
    public int WriteReport()
    {
        target.Clear();
        using var package = ReportFile.Make(report, new List<Diagnostic>());
        package.WriteTo(target);
        return target.Length;
    }

    [Benchmark(Baseline = true)]
    public long DeflateChangedParts()
    {
        stream.SetLength(0);
        foreach (var part in changedParts)
        {
            using var deflate = new DeflateStream(stream, CompressionLevel.Fastest, leaveOpen: true);
            deflate.Write(part);
        }
        return stream.Length;
    }

    [Benchmark]
    public int SaveReport() => ReportFile.Save(report, file).Count;

    [Benchmark]
    public int CheckParts()
    {
        var check = new PackageCheck();
        foreach (var (name, part) in checkedParts) check.Add(name, part);
        return check.Faults.Count;
    }

    [GlobalCleanup]
    public void Cleanup() => File.Delete(file);

    [Benchmark]
    public int WriteBody()
    {
        target.Clear();
        DocumentPart.WriteBody(new DocumentContext(new Utf8XmlWriter(target), house, fitted.Flow.Lists, new PageMap(new Dictionary<BlockId, PageLabel>(), new Dictionary<Inline, PageLabel>(), 1)), fitted);
        return target.Length;
    }

    [Benchmark]
    public long BuildTypedTree()
    {
        stream.SetLength(0);
        using (var writer = XmlWriter.Create(stream)) TypedTree.Build(fitted.Flow).WriteTo(writer);
        return stream.Length;
    }

    private static byte[] Read(ZipArchiveEntry entry)
    {
        using var from = entry.Open();
        using var copy = new MemoryStream();
        from.CopyTo(copy);
        return copy.ToArray();
    }

    /// <summary>Of a workbook only the sheet changes.</summary>
    private static byte[] Sheet(byte[] workbook)
    {
        using var zip = new ZipArchive(new MemoryStream(workbook));
        return Read(zip.GetEntry("xl/worksheets/sheet1.xml")!);
    }

    private static ReportContent CreateReport()
    {
        (string Name, int Hives, double Mean, double Best, double Wintered)[] strains = [("Amber", 227, 24.4, 34.6, 0.86), ("Dusk", 209, 26.2, 38.0, 0.85), ("Heath", 148, 22.2, 31.7, 0.75)];
        (string Name, double Before, double Last, double Mean)[] valleys =
            [("Fernhollow", 26.7, 28.6, 27.5), ("Bramble Down", 25.5, 26.7, 26.5), ("Eskerdale", 24.7, 26.7, 25.6), ("Alderwick", 24.0, 25.6, 24.1), ("Coldbrook", 23.1, 24.8, 24.0), ("Dunmarsh", 19.2, 20.4, 19.5)];
        var report = new Report("Honey harvest 2025")
        {
            Subtitle = "What the hives of the Larkmere valleys gave",
            Authors = ["Larkmere Hive Survey", "Field Office"],
            Date = new DateOnly(2025, 11, 3),
            Language = Language.Default,
        };
        report.Heading("The season in short").Text($"""
            In 2025 the survey weighed the honey of **{584} hives** in {47} apiaries. The average hive gave {24.5:0.0} kg, {0.9:0.0} kg less than the year before.
            {See("honey-by-strain")} shows what each strain gave, and {See("honey-by-valley")} how far the valleys lie apart.

            - *Dusk* gave most: {26.2:0.0} kg from the average hive.
            - *Heath* gave least: {22.2:0.0} kg, which is {4.0:0.0} kg behind.
            - Dunmarsh stays far behind the other valleys with {19.5:0.0} kg.
            """);
        report.Heading("Strains")
            .Add(
                Table.Of(strains).Column("Strain", s => s.Name).Column("Hives", s => s.Hives).Column("Mean (kg)", s => s.Mean, "0.0").Column("Best hive (kg)", s => s.Best, "0.0").Column("Wintered", s => s.Wintered, "P0"),
                label: "honey-by-strain", caption: "Honey per hive by strain, season 2025", note: "Hives whose honey was weighed. “Wintered” is the share of them that were alive in spring.")
            .Text("The best single hive of the season, of the strain Dusk, gave 38.0 kg. How hives are weighed is written in the [field handbook](https://survey.larkmere.example/handbook).");
        report.Heading("Valleys")
            .Text($"Five valleys lie within {3.5:0.0} kg of each other. Dunmarsh, the wet valley, falls out of line ({See("honey-by-season")}).")
            .Add(Table.Of(valleys).Column("Valley", v => v.Name).Column("2023", v => v.Before, "0.0").Column("2024", v => v.Last, "0.0").Column("2025", v => v.Mean, "0.0"), label: "honey-by-season", caption: "Honey per hive by valley in the last three seasons (kg)")
            .Add(Chart.Columns(valleys, v => v.Name, v => v.Mean).Axes("", "Honey per hive (kg)").Format("0.0").WithValues(), label: "honey-by-valley", caption: "Honey per hive by valley, season 2025")
            .Text("Before the next season the field office will\n\n1. weigh the hives of Dunmarsh a second time,\n2. map what flowers within two kilometres of each apiary,\n3. report in March whether forage alone explains the gap.");
        return report.Build();
    }
}
