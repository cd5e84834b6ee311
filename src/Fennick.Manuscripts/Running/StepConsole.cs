using System.Globalization;
using System.Text;
using Fennick.Running;

namespace Fennick.Manuscripts.Running;

/// <summary>Catches what steps write to the console, each run for itself; the rest of the process writes as before.</summary>
internal sealed class StepConsole : TextWriter
{
    private static readonly Lock Installing = new();
    private static TextWriter? installedOutput;
    private static TextWriter? installedError;
    private readonly TextWriter original;

    private StepConsole(TextWriter original) => this.original = original;

    /// <summary>The step that writes now.</summary>
    public static string CurrentStep
    {
        set
        {
            if (Caught is { } capture) capture.Step = value;
        }
    }

    /// <summary>What a step of this run has written so far.</summary>
    public static string WrittenBy(string step) => Caught is { } capture ? string.Concat(capture.Outputs.Where(o => o.Step == step).Select(o => o.Text)) : "";

    /// <summary>Takes what a step wrote in a run before, or what a program wrote for it.</summary>
    public static void Take(string text)
    {
        if (text.Length > 0) Caught?.Write(text);
    }

    /// <summary>Does something whose writing is not caught.</summary>
    public static void Outside(Action action)
    {
        using var outside = RunContext.Current is StepContext context ? (context with { Console = null }).Enter() : null;
        action();
    }

    private static Capture? Caught => (RunContext.Current as StepContext)?.Console;

    public override Encoding Encoding => original.Encoding;

    /// <summary>Sees to it that what steps write is caught by the context they run in.</summary>
    public static void Install()
    {
        lock (Installing)
        {
            // Somebody may have set a writer of their own since: then that one is wrapped.
            if (!ReferenceEquals(Console.Out, installedOutput))
            {
                Console.SetOut(new StepConsole(Console.Out));
                installedOutput = Console.Out;
            }
            if (!ReferenceEquals(Console.Error, installedError))
            {
                Console.SetError(new StepConsole(Console.Error));
                installedError = Console.Error;
            }
        }
    }

    public override void Write(char value) => Write([value], 0, 1);

    public override void Write(string? value)
    {
        if (Caught is { } capture) capture.Write(value);
        else original.Write(value);
    }

    public override void Write(char[] buffer, int index, int count)
    {
        if (Caught is { } capture) capture.Write(buffer.AsSpan(index, count));
        else original.Write(buffer, index, count);
    }

    public override void Flush() => original.Flush();

    /// <summary>What one run wrote.</summary>
    internal sealed class Capture
    {
        private const int Most = 4 * 1024 * 1024;
        private readonly Lock writing = new();
        private readonly List<(string Step, StringBuilder Text)> outputs = [];
        private int kept;
        private long dropped;

        public string Step { get; set; } = "";

        public IEnumerable<StepOutput> Outputs
        {
            get
            {
                lock (writing) return [.. outputs.Select(o => new StepOutput(o.Step, o.Text.ToString())), .. dropped == 0 ? [] : new[] { new StepOutput(Step, $"… and {dropped.ToString(CultureInfo.InvariantCulture)} characters more") }];
            }
        }

        /// <summary>Takes what is written: from any thread, and no more than somebody may want to read.</summary>
        public void Write(ReadOnlySpan<char> text)
        {
            lock (writing)
            {
                if (outputs.Count == 0 || outputs[^1].Step != Step) outputs.Add((Step, new StringBuilder()));
                var taken = Math.Min(text.Length, Most - kept);
                outputs[^1].Text.Append(text[..taken]);
                kept += taken;
                dropped += text.Length - taken;
            }
        }
    }
}
