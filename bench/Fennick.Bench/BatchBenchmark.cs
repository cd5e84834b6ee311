using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using Fennick.Batches;
using Fennick.Data;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Statistics;

namespace Fennick.Bench;

/// <summary>
/// The apiary report of the examples (a cover, three tables of which one holds four models, three native charts) for a made-up roster: its processor time beside that of deflating
/// what changes from report to report once and of fitting the models, and how it grows with units and jobs.
/// </summary>
internal static class BatchBenchmark
{
    private const int Units = 2000;
    private const int Few = 200;
    private const int PerValley = 8;
    private const int Warm = 800;
    private const int Rounds = 3;

    public static int Run()
    {
        var folder = Directory.CreateTempSubdirectory("fennick-batch-").FullName;
        try
        {
            Write(folder);
            var batch = Batch.Of(Manuscript.Open(Path.Combine(folder, "apiary.ms.md")), Roster.Read(Path.Combine(folder, "roster.csv"))) with { Name = "{valley}/{apiary}.docx", Jobs = 1, Only = BatchSelection.All };
            // Compiles the manuscript, and Fennick itself as far as it is not compiled ahead.
            for (var round = 0; round < 3; round++) Measure(batch with { First = Few }, folder, "warm");
            var few = Measure(batch with { First = Few }, folder, "few");
            var (all, two) = (Measure(batch, folder, "all"), Measure(batch with { Jobs = 2 }, folder, "two"));
            // The quickest of both, by turns, as others use the machine too.
            for (var round = 1; round < Rounds; round++) (all, two) = (Quicker(all, Measure(batch, folder, "all")), Quicker(two, Measure(batch with { Jobs = 2 }, folder, "two")));
            var deflate = Deflating(Path.Combine(folder, "all"));
            var fit = Fitting(folder);
            Say($"{Units} units, one job: {all.Wall:0.00} s, {Units / all.Wall:0} units a second; {1000 * all.Processor / Units:0.00} ms of processor time a unit");
            Say($"of that deflating what changes takes {1000 * deflate / Units:0.00} ms and fitting the models {1000 * fit / Units:0.00} ms a unit");
            Say($"processor time over both: {all.Processor / (deflate + fit):0.00} (target: at most 4)");
            Say($"time of a unit at {Units} over that at {Few}: {all.Wall / Units / (few.Wall / Few):0.00} (target: at most 1.1)");
            Say($"live memory after {Few / 2} units {all.Early / 1e6:0.0} MB, after {Units} {all.Late / 1e6:0.0} MB");
            Say($"two jobs: {two.Wall:0.00} s, {all.Wall / two.Wall:0.00} times as fast as one (target: at least 1.7); two threads that only fit models: {Scaling(folder):0.00} times");
            Workers(batch, folder);
            Say($"to bring a document and its name to the disk takes {1000 * Flushing(folder):0.00} ms, and the unit takes {1000 * all.Wall / Units:0.00} ms (target: at most 15 %)");
            Say($"again, with nothing changed: {Measure(batch with { Only = BatchSelection.Changed }, folder, "all").Wall:0.00} s");
            return 0;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    /// <summary>The same batch in worker processes, by turns with this one. Each process compiles what it runs; what comes after that is given apart.</summary>
    private static void Workers(Batch batch, string folder)
    {
        var (own, one, two, oneLater, twoLater) = (double.MaxValue, double.MaxValue, double.MaxValue, double.MaxValue, double.MaxValue);
        for (var round = 0; round < Rounds; round++)
        {
            own = Math.Min(own, Measure(batch, folder, "own").Wall);
            var (alone, both) = (Measure(batch with { InProcess = false }, folder, "one"), Measure(batch with { InProcess = false, Jobs = 2 }, folder, "workers"));
            (one, oneLater) = (Math.Min(one, alone.Wall), Math.Min(oneLater, alone.Later));
            (two, twoLater) = (Math.Min(two, both.Wall), Math.Min(twoLater, both.Later));
        }
        Say($"a worker process: {one:0.00} s, {one / own:0.00} times the time of this one (target: at most 1.1); two: {two:0.00} s, {one / two:0.00} times as fast as one, and {oneLater / twoLater:0.00} times from unit {Warm} on (target: at least 1.7)");
    }

    /// <summary>What the disk adds to the writing of a document of the batch.</summary>
    private static double Flushing(string folder)
    {
        var bytes = File.ReadAllBytes(Directory.GetFiles(Path.Combine(folder, "all"), "*.docx", SearchOption.AllDirectories)[0]);
        double Best(Action<string> write) => Enumerable.Range(0, 200).Min(i =>
        {
            var start = Stopwatch.GetTimestamp();
            write(Path.Combine(folder, "all", $"flushed{i % 10}.docx"));
            return Stopwatch.GetElapsedTime(start).TotalSeconds;
        });
        var flushed = Best(path =>
        {
            using var file = StagedFile.Write(path, stream => stream.Write(bytes));
            file.Place();
        });
        var plain = Best(path =>
        {
            File.WriteAllBytes(path + ".plain", bytes);
            File.Move(path + ".plain", path, overwrite: true);
        });
        return flushed - plain;
    }

    private static Times Quicker(Times a, Times b) => a.Wall < b.Wall ? a : b;

    private static void Say(FormattableString text) => Console.WriteLine(text.ToString(CultureInfo.InvariantCulture));

    private static Times Measure(Batch batch, string folder, string into)
    {
        long early = 0, late = 0;
        var warm = TimeSpan.Zero;
        var memory = TimeSpan.Zero;
        var before = Process.GetCurrentProcess().TotalProcessorTime;
        var watch = Stopwatch.StartNew();
        var result = batch.Run(Path.Combine(folder, into), progress =>
        {
            if (progress.Finished == Warm) warm = watch.Elapsed - memory;
            if (progress.Finished != Few / 2 && progress.Finished != Units) return;
            // Counting what lives is not part of the work.
            var (start, wall) = (Process.GetCurrentProcess().TotalProcessorTime, watch.Elapsed);
            if (progress.Finished == Units) late = GC.GetTotalMemory(forceFullCollection: true);
            else early = GC.GetTotalMemory(forceFullCollection: true);
            before += Process.GetCurrentProcess().TotalProcessorTime - start;
            memory += watch.Elapsed - wall;
        });
        if (result.Count(UnitState.Failed) > 0) throw new InvalidOperationException(result.Causes.First().First().Error!.ToString());
        return new Times((watch.Elapsed - memory).TotalSeconds, (watch.Elapsed - memory - warm).TotalSeconds, (Process.GetCurrentProcess().TotalProcessorTime - before).TotalSeconds, early, late);
    }

    /// <summary>The processor time of deflating each part once that is not the same in all documents.</summary>
    private static double Deflating(string folder)
    {
        var files = Directory.GetFiles(folder, "*.docx", SearchOption.AllDirectories);
        var changing = files.Take(10).SelectMany(f =>
        {
            using var zip = ZipFile.OpenRead(f);
            return zip.Entries.Select(e => (e.FullName, e.Crc32)).ToArray();
        }).GroupBy(e => e.FullName).Where(g => g.Distinct().Count() > 1).Select(g => g.Key).ToHashSet();
        var target = new MemoryStream();
        var total = TimeSpan.Zero;
        for (var round = 0; round < 2; round++)
        {
            total = TimeSpan.Zero;
            foreach (var file in files)
            {
                using var zip = ZipFile.OpenRead(file);
                var parts = zip.Entries.Where(e => changing.Contains(e.FullName) && e.CompressedLength < e.Length).Select(Bytes).ToArray();
                var start = Stopwatch.GetTimestamp();
                foreach (var part in parts)
                {
                    target.SetLength(0);
                    using var deflate = new DeflateStream(target, CompressionLevel.Fastest, leaveOpen: true);
                    deflate.Write(part);
                }
                total += Stopwatch.GetElapsedTime(start);
            }
        }
        return total.TotalSeconds;
    }

    private static byte[] Bytes(ZipArchiveEntry entry)
    {
        using var stream = entry.Open();
        var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }

    /// <summary>The time of the four models of every unit, as its manuscript fits them.</summary>
    private static double Fitting(string folder)
    {
        var valleys = Csv.Read<Hive>(Path.Combine(folder, "data", "hives.csv")).GroupBy(h => h.Valley).Select(g => g.Where(h => h.ForageHa != null && h.SpringTemp != null && h.Mites != null && h.QueenAge != null && h.HoneyKg != null).ToList()).ToArray();
        var total = TimeSpan.Zero;
        for (var round = 0; round < 2; round++)
        {
            var start = Stopwatch.GetTimestamp();
            for (var unit = 0; unit < Units; unit++)
            {
                var hives = valleys[unit / PerValley];
                Regression.LeastSquares(hives, h => h.HoneyKg, h => new { h.ForageHa });
                Regression.LeastSquares(hives, h => h.HoneyKg, h => new { h.ForageHa, h.SpringTemp });
                Regression.LeastSquares(hives, h => h.HoneyKg, h => new { h.ForageHa, h.SpringTemp, h.Mites, h.QueenAge });
                Regression.LeastSquares(hives, h => h.HoneyKg, h => new { h.ForageHa, h.SpringTemp, h.Mites, h.QueenAge, h.Strain });
            }
            total = Stopwatch.GetElapsedTime(start);
        }
        return total.TotalSeconds;
    }

    /// <summary>How much faster this machine fits the models with two threads than with one, which is as much as two jobs could be.</summary>
    private static double Scaling(string folder)
    {
        var watch = Stopwatch.StartNew();
        Fitting(folder);
        var one = watch.Elapsed;
        watch.Restart();
        Parallel.Invoke(() => Fitting(folder), () => Fitting(folder));
        return 2 * one / watch.Elapsed;
    }

    /// <summary>The example with data of its own: the six valleys again and again, each with its apiaries.</summary>
    private static void Write(string folder)
    {
        var survey = Path.Combine(AppContext.BaseDirectory, "survey");
        foreach (var file in Directory.GetFiles(survey, "*", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(survey, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }
        var lines = File.ReadAllLines(Path.Combine(survey, "data", "hives.csv"));
        var valleys = lines.Skip(1).Select(l => l.Split(',')).GroupBy(c => c[1]).ToArray();
        var roster = File.ReadAllLines(Path.Combine(survey, "data", "apiaries.csv")).Skip(1).Select(l => l.Split(',')).GroupBy(c => c[1]).ToDictionary(g => g.Key, g => g.ToArray());
        var (hives, units) = (new StringBuilder(lines[0]).AppendLine(), new StringBuilder("apiary,valley,hives,altitude_m,accent,since").AppendLine());
        for (var v = 0; v < Units / PerValley; v++)
        {
            var valley = valleys[v % valleys.Length];
            var name = string.Create(CultureInfo.InvariantCulture, $"{valley.Key} {v}");
            foreach (var row in valley) hives.AppendJoin(',', row.Select((c, i) => i == 1 ? name : c)).AppendLine();
            foreach (var row in roster[valley.Key]) units.AppendJoin(',', row.Select((c, i) => i == 1 ? name : c)).AppendLine();
        }
        File.WriteAllText(Path.Combine(folder, "data", "hives.csv"), hives.ToString());
        File.WriteAllText(Path.Combine(folder, "roster.csv"), units.ToString());
    }

    /// <summary>What a batch took: seconds, also from unit <see cref="Warm"/> on, seconds of processor time of this process, bytes alive.</summary>
    private sealed record Times(double Wall, double Later, double Processor, long Early, long Late);

    private sealed record Hive(string Valley, string Strain, double? QueenAge, double? ForageHa, double? SpringTemp, double? Mites, double? HoneyKg);
}
