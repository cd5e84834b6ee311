using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches.Workers;

/// <summary>A process that makes the reports of units, one at a time. It is kept while it lives, and replaced when it has died.</summary>
/// <param name="manuscript">What it makes reports of.</param>
/// <param name="timeLimit">How long a unit may take; as long as it wants if null.</param>
/// <param name="memoryLimit">How many bytes of memory it may take; as many as there are if null.</param>
internal sealed class WorkerProcess(Manuscript manuscript, TimeSpan? timeLimit, long? memoryLimit) : IDisposable
{
    private const long LongestLog = 1024 * 1024;
    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(50);
    private readonly ProcessWatch watch = new("fennick-batch-");
    private Process? process;
    private StreamReader? replies;

    /// <summary>Has a report made.</summary>
    /// <exception cref="ReportException">It cannot be made, or the process has ended.</exception>
    public WorkerReply Make(WorkerRequest request)
    {
        // What other programs write that steps start is of no interest later.
        if (watch.WrittenLength > LongestLog) watch.ClearWritten();
        WorkerReply reply;
        try
        {
            if (process is null) Start();
            Send(WorkerJson.Line(request, WorkerJson.Default.WorkerRequest));
            reply = JsonSerializer.Deserialize(Wait(timeLimit), WorkerJson.Default.WorkerReply)!;
        }
        catch (Exception problem) when (problem is IOException or ReportException or JsonException)
        {
            var end = problem as ReportException ?? Describe();
            Stop();
            StagedFile.RemoveLeftOvers(Path.GetDirectoryName(request.Path)!, name => Path.GetFileNameWithoutExtension(name) == Path.GetFileNameWithoutExtension(request.Path));
            throw end;
        }
        if (reply.IsSpent) Stop();
        if (reply.Staged is not null) return reply;
        var first = reply.Diagnostics.FirstOrDefault(d => d.Severity == Severity.Error)?.Message ?? "";
        throw new ReportException(reply.Diagnostics, new RunFault(new InvalidOperationException(first), [.. reply.Outputs]));
    }

    public void Dispose()
    {
        Stop();
        watch.Dispose();
    }

    private void Start()
    {
        watch.Reset();
        var start = WorkerHost.Start("worker", watch.Folder);
        start.WorkingDirectory = manuscript.OpenedIn;
        start.RedirectStandardInput = start.RedirectStandardOutput = true;
        start.Environment[CacheFolder.Variable] = CacheFolder.Root;
        // Reports are short; what is compiled once for many is worth less here than to begin at once.
        start.Environment["DOTNET_TieredPGO"] = "0";
        if (memoryLimit is { } most) start.Environment["DOTNET_GCHeapHardLimit"] = most.ToString("X", CultureInfo.InvariantCulture);
        process = Process.Start(start)!;
        replies = new StreamReader(process.StandardOutput.BaseStream, Encoding.UTF8);
        Send(WorkerJson.Line(new WorkerOpening(manuscript.Tree.Sources.Main.DisplayPath, manuscript.With), WorkerJson.Default.WorkerOpening));
        var ready = JsonSerializer.Deserialize(Wait(null), WorkerJson.Default.WorkerReply)!;
        ReportException.ThrowIfAny(ready.Diagnostics);
    }

    private void Send(byte[] line)
    {
        process!.StandardInput.BaseStream.Write(line);
        process.StandardInput.BaseStream.Flush();
    }

    /// <summary>The reply, within the limits.</summary>
    private string Wait(TimeSpan? limit)
    {
        var time = Stopwatch.StartNew();
        var reading = replies!.ReadLineAsync();
        while (!reading.Wait(memoryLimit is null && limit is null ? Timeout.InfiniteTimeSpan : Look))
        {
            if (time.Elapsed > limit) throw new ReportException(TooLong(limit.Value));
            process!.Refresh();
            if (process.WorkingSet64 > memoryLimit) throw new ReportException(TooLarge(memoryLimit.Value));
        }
        return reading.Result ?? throw Describe();
    }

    /// <summary>How the process has ended.</summary>
    private ReportException Describe()
    {
        process!.WaitForExit();
        var end = watch.Describe(process);
        return new ReportException(memoryLimit is { } most && end.Message.EndsWith("has used up the memory", StringComparison.Ordinal) ? TooLarge(most) with { Place = end.Place } : end);
    }

    /// <summary>What is said of a unit that takes too long.</summary>
    public static Diagnostic TooLong(TimeSpan limit) => Diagnostic.Error(null, $"this unit took longer than {limit.TotalSeconds:0.##} s", "give it more with `--time-limit`, or look at what takes so long with `fennick try`");

    private static Diagnostic TooLarge(long limit) => Diagnostic.Error(null, string.Create(CultureInfo.InvariantCulture, $"this unit needs more memory than {limit / 1e6:0.##} MB"), "give it more with `--memory-limit`, or read less data at once");

    private void Stop()
    {
        if (process is null) return;
        try
        {
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
        }
        catch (InvalidOperationException)
        {
            // It has ended by itself.
        }
        replies?.Dispose();
        process.Dispose();
        (process, replies) = (null, null);
    }
}
