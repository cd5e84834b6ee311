using System.Diagnostics;
using System.Globalization;
using Fennick.Batches;
using Fennick.Diagnostics;

namespace Fennick.Cli;

/// <summary>Shows how far a batch is, and at the end what came of it.</summary>
internal sealed class BatchReport(bool isQuiet, bool isJson)
{
    private const int Shown = 5;
    private static readonly TimeSpan LiveEvery = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan PlainEvery = TimeSpan.FromSeconds(10);
    private readonly bool isLive = !Console.IsErrorRedirected;
    private Stopwatch? shown;
    private bool hasLine;

    /// <summary>The batch gets ready: reads, compiles and looks at what has changed.</summary>
    public void Begin()
    {
        if (isLive && !isQuiet) WriteLive("getting ready");
    }

    /// <summary>A unit is finished.</summary>
    public void Show(BatchProgress progress)
    {
        if (isJson && progress.Form is null) Write(progress.Outcome);
        // What is over soon needs no lines about how far it is.
        if (!isLive) shown ??= Stopwatch.StartNew();
        if (isQuiet || (shown?.Elapsed < (isLive ? LiveEvery : PlainEvery) && (!isLive || progress.Finished < progress.Total))) return;
        shown = Stopwatch.StartNew();
        var failed = progress.Failed > 0 ? $", {progress.Failed} failed" : "";
        var form = progress.Form is { } name ? $"{name}: " : "";
        var line = string.Create(CultureInfo.InvariantCulture, $"{form}{progress.Finished} of {progress.Total}{failed}, {progress.Rate:0.0} a second, {Terminal.Describe(progress.Left)} left");
        if (!isLive)
        {
            Terminal.Say(line);
            return;
        }
        var width = Math.Max(20, Terminal.Width);
        var bar = Math.Clamp(width - line.Length - 4, 0, 30);
        var full = bar * progress.Finished / Math.Max(1, progress.Total);
        WriteLive($"{(bar >= 10 ? $"{new string('━', full)}{new string('─', bar - full)}  " : "")}{line}");
    }

    /// <summary>Back to the line's start, and what stood behind it away.</summary>
    private void WriteLive(string line)
    {
        Console.Error.Write($"\r{line}\e[K");
        hasLine = true;
    }

    /// <summary>Takes the live line away.</summary>
    public void Clear()
    {
        if (hasLine) Console.Error.Write("\r\e[K");
        hasLine = false;
    }

    /// <summary>What came of the batch: how many of each kind, what failed and why, where it is, how long it took, and what took longest.</summary>
    public void Finish(BatchResult result)
    {
        Clear();
        if (isJson)
        {
            foreach (var unchanged in result.Outcomes.Where(o => o.State == UnitState.Unchanged)) Write(unchanged);
            Terminal.Json(new { batch = result.Folder, made = result.Count(UnitState.Made), merged = result.Count(UnitState.Merged), unchanged = result.Count(UnitState.Unchanged), failed = result.Count(UnitState.Failed), left = result.Left, pdfs = result.Pdfs, seconds = Math.Round(result.Duration.TotalSeconds, 3) });
        }
        foreach (var diagnostic in result.Diagnostics) Terminal.Say(diagnostic);
        Warnings(result);
        foreach (var cause in result.Causes) Failures(cause);
        if (isQuiet) return;
        if (!isJson) Terminal.Result(result.Folder);
        string[] counts = [.. new[] { (UnitState.Made, "made"), (UnitState.Merged, "merged with what people did"), (UnitState.Unchanged, "unchanged"), (UnitState.Failed, "failed") }.Select(s => (Count: result.Count(s.Item1), s.Item2)).Where(c => c.Count > 0).Select(c => $"{c.Count} {c.Item2}"), .. result.Pdfs switch { 0 => Array.Empty<string>(), 1 => ["1 PDF"], var many => [$"{many} PDFs"] }];
        Terminal.Say($"{(counts.Length > 0 ? string.Join(", ", counts) : "nothing to make")} in {Terminal.Describe(result.Duration)}{Terminal.DescribeCompiling(result.CompileTime)}");
        var slowest = result.Outcomes.Where(o => o.State != UnitState.Unchanged).OrderByDescending(o => o.Duration).Take(3).ToArray();
        if (slowest.Length > 1) Terminal.Say($"slowest: {string.Join(", ", slowest.Select(o => $"{o.Unit.Name} ({Terminal.Describe(o.Duration)})"))}");
        if (result.Left > 0) Terminal.Say($"stopped, and {result.Left} {(result.Left == 1 ? "is" : "are")} left; the same command goes on with them");
        else if (result.Count(UnitState.Failed) > 0) Terminal.Say("fix the cause and run the same command again: only failed and changed units are made");
    }

    /// <summary>What deserves attention, each kind once with the units that it concerns.</summary>
    private static void Warnings(BatchResult result)
    {
        var told = result.Outcomes.Where(o => o.State != UnitState.Failed).SelectMany(o => o.Diagnostics, (o, d) => (o.Unit, Diagnostic: d)).GroupBy(t => t.Diagnostic.ToString());
        foreach (var same in told)
        {
            Terminal.Say(same.First().Diagnostic);
            Terminal.Say($"  in {Names(same.Select(t => t.Unit.Name))}");
        }
    }

    private static void Failures(IGrouping<string, UnitOutcome> cause)
    {
        foreach (var words in cause.GroupBy(o => o.Error?.ToString()).Take(Shown))
        {
            foreach (var diagnostic in words.First().Diagnostics.Where(d => d.Severity == Severity.Error).Take(Shown)) Terminal.Say(diagnostic);
            Terminal.Say($"  in {Names(words.Select(o => o.Unit.Name))}");
        }
        if (cause.Select(o => o.Error?.ToString()).Distinct().Count() is var kinds and > Shown) Terminal.Say($"  and {kinds - Shown} more errors at this place, which the ledger names");
    }

    private static string Names(IEnumerable<string> names)
    {
        var all = names.ToArray();
        return $"{string.Join(", ", all.Take(Shown))}{(all.Length > Shown ? $" and {all.Length - Shown} more" : "")}";
    }

    private static void Write(UnitOutcome outcome) => Terminal.Json(new
    {
        unit = outcome.Unit.Name,
        file = outcome.Unit.File,
        state = outcome.State.ToString().ToLowerInvariant(),
        seconds = Math.Round(outcome.Duration.TotalSeconds, 3),
        messages = outcome.Diagnostics.Select(d => d.ToString()),
    });
}
