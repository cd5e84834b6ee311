using System.Diagnostics;
using System.Globalization;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Formatting;
using Fennick.Tables;
using Fennick.Wordprocessing;

namespace Fennick.Bench;

/// <summary>Documents of many tables, and one table of many rows: whether the time of a table, and the memory beside the model, stay the same.</summary>
internal static class TablesBenchmark
{
    private const int Rounds = 9;

    public static int Run()
    {
        ManyTables();
        LongTable();
        return 0;
    }

    private static void ManyTables()
    {
        var (few, many) = (CreateReport(20), CreateReport(2000));
        var fewTimes = new List<double>();
        var manyTimes = new List<double>();
        for (var round = 0; round < Rounds + 3; round++)
        {
            // As much work on both sides, one after the other, so that both see the same machine.
            fewTimes.Add(Time(() =>
            {
                for (var i = 0; i < 100; i++) Write(few);
            }) / 2000);
            manyTimes.Add(Time(() => Write(many)) / 2000);
        }
        var (f, m) = (Median(fewTimes.Skip(3)), Median(manyTimes.Skip(3)));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"a table of 12 × 6: {f * 1000:0.0} µs of 20, {m * 1000:0.0} µs of 2,000"));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"    time per table at 2,000 / at 20: {m / f:0.00} (target: at most 1.1)"));
    }

    private static void LongTable()
    {
        var before = GC.GetTotalMemory(forceFullCollection: true);
        Console.WriteLine("one table of n rows × 6:");
        foreach (var rows in (int[])[3_000, 30_000])
        {
            var report = new ReportContent { Language = Language.Default, Blocks = [new TableBlock(CreateTable(rows))] };
            var model = GC.GetTotalMemory(forceFullCollection: true) - before;
            Write(report);
            long peak = 0;
            var start = GC.GetTotalMemory(forceFullCollection: true);
            // What is alive while it is written, seen from beside.
            using var stop = new CancellationTokenSource();
            var watcher = Task.Run(() =>
            {
                while (!stop.IsCancellationRequested) peak = Math.Max(peak, GC.GetTotalMemory(forceFullCollection: true) - start);
            });
            var time = Time(() => Write(report));
            stop.Cancel();
            watcher.Wait();
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"    {rows,6:#,0} rows: model {model / 1e6:0.0} MB, alive beside it while writing {peak / 1e6:0.0} MB ({(double)peak / model:0.00} of the model; target: not growing faster than it), {time:0} ms under watch"));
            GC.KeepAlive(report);
        }
    }

    private static ReportContent CreateReport(int tables)
    {
        var table = CreateTable(12);
        return new ReportContent
        {
            Language = Language.Default,
            Blocks = [.. Enumerable.Range(0, tables).SelectMany(i => new Block[] { new Paragraph($"Text before table {i}."), new TableBlock(table) { Caption = $"A table, number {i}" } })],
        };
    }

    private static Table CreateTable(int rows)
    {
        var random = new Random(5);
        return Table.Of(Enumerable.Range(0, rows).Select(i => (Name: $"Apiary {i}", Values: Enumerable.Range(0, 5).Select(_ => random.NextDouble() * 100).ToArray())))
            .Column("Apiary", r => r.Name)
            .Column("Hives", r => (int)r.Values[0])
            .Column("Honey (kg)", r => r.Values[1], "0.0")
            .Column("Mites", r => r.Values[2], "0.00", Alignment.Decimal)
            .Column("Share", r => r.Values[3] / 100, "P1")
            .Column("Note", r => r.Values[4] > 50 ? "more than half" : "less")
            .ToTable();
    }

    private static void Write(ReportContent report)
    {
        using var package = ReportFile.Make(report, []);
        using var target = new PooledBuffer(1024);
        package.WriteTo(target);
    }

    private static double Time(Action action)
    {
        var watch = Stopwatch.StartNew();
        action();
        return watch.Elapsed.TotalMilliseconds;
    }

    private static double Median(IEnumerable<double> times) => times.Order().ElementAt(times.Count() / 2);
}
