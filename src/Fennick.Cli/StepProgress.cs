using System.Diagnostics;
using System.Globalization;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli;

/// <summary>Says which step runs, and for how long, where a report takes more than a moment: on a terminal in a line that changes, elsewhere in a line now and then.</summary>
internal sealed class StepProgress : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan LiveEvery = TimeSpan.FromMilliseconds(500);
    private static readonly TimeSpan PlainEvery = TimeSpan.FromSeconds(10);
    private readonly bool isLive = !Console.IsErrorRedirected;
    private readonly Stopwatch watch = Stopwatch.StartNew();
    private readonly Lock saying = new();
    private readonly int steps;
    private readonly Timer timer;
    private TimeSpan said = -PlainEvery;
    private bool hasLine;
    private bool isOver;

    /// <summary>Begins to look.</summary>
    /// <param name="steps">How many steps the manuscript has.</param>
    public StepProgress(int steps)
    {
        this.steps = steps;
        timer = new Timer(_ => Look(), null, LiveEvery, LiveEvery);
    }

    public void Dispose()
    {
        timer.Dispose();
        lock (saying)
        {
            isOver = true;
            if (hasLine) Console.Error.Write("\r\e[K");
        }
    }

    private void Look()
    {
        lock (saying)
        {
            var step = StepMark.Running;
            // Compiling is told of on a terminal alone: it is no step of the reader's.
            if (isOver || (step is null && !isLive) || (step?.Since.Elapsed ?? watch.Elapsed) < Patience) return;
            var line = step is null ? $"getting ready, {Seconds(watch.Elapsed)}" : $"step `{step.Name}` runs, {Seconds(step.Since.Elapsed)} (step {step.Count} of {Math.Max(step.Count, steps)})";
            if (isLive)
            {
                Console.Error.Write($"\r{Terminal.Clean(line)}\e[K");
                hasLine = true;
            }
            else if (watch.Elapsed - said >= PlainEvery)
            {
                said = watch.Elapsed;
                Terminal.Say(line);
            }
        }
    }

    private static string Seconds(TimeSpan time) => $"{Math.Floor(time.TotalSeconds).ToString(CultureInfo.InvariantCulture)} s";
}
