using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Running;

/// <summary>Says in the user's words how a process ended that a step has ended.</summary>
internal static partial class ProcessEnd
{
    private const int LongestLog = 64 * 1024;
    private const int SignalsFrom = 128;
    private const int Terminate = 15;

    /// <summary>What happened.</summary>
    /// <param name="process">The process, which has ended.</param>
    /// <param name="running">The step that it was in; null if it was in none.</param>
    /// <param name="said">What the system wrote of its end.</param>
    public static Diagnostic Describe(Process process, (string Step, SourcePlace Place)? running, string said)
    {
        var who = running is { Step.Length: > 0 } step ? $"step `{step.Step}`, or an expression behind it," : "an expression of the manuscript";
        var code = process.ExitCode.ToString(CultureInfo.InvariantCulture);
        var (message, suggestion) = said switch
        {
            _ when said.Contains("Stack overflow", StringComparison.Ordinal) => ("calls itself without end, until the stack was full", "look for a function or property that calls itself"),
            _ when said.Contains("OutOfMemory", StringComparison.Ordinal) || said.Contains("Out of memory", StringComparison.Ordinal) => ("has used up the memory", "read less data at once, or allow more"),
            _ when Unhandled().Match(said) is { Success: true } thrown => ($"has an exception on a thread of its own: {thrown.Groups[2].Value.Trim()} ({thrown.Groups[1].Value.Split('.')[^1]})", "catch it on that thread, or wait for the thread's task"),
            _ when FailFast().Match(said) is { Success: true } failed => ($"ended the process: {failed.Groups[1].Value.Trim()}", "throw an exception instead"),
            _ when process.ExitCode == SignalsFrom + Terminate => ("was still running when somebody, or a queue, ended the process (signal 15)", "run it again"),
            _ when process.ExitCode > SignalsFrom => ($"ended the process by signal {(process.ExitCode - SignalsFrom).ToString(CultureInfo.InvariantCulture)}{(process.ExitCode - SignalsFrom == 9 ? ", which the system also does when memory runs out" : "")}", "look at the libraries in machine code that it calls"),
            _ => ($"ended the process (exit code {code})", "throw an exception instead of `Environment.Exit`"),
        };
        return Diagnostic.Error(running?.Place, $"{who} {message}", suggestion);
    }

    /// <summary>The end of a log.</summary>
    public static string Tail(string log)
    {
        if (!File.Exists(log)) return "";
        using var file = new FileStream(log, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        // A stack that is full is listed at great length; what it is about comes first.
        var start = new byte[Math.Min(file.Length, LongestLog)];
        file.ReadExactly(start);
        var text = System.Text.Encoding.UTF8.GetString(start);
        if (file.Length <= LongestLog) return text;
        file.Position = Math.Max(LongestLog, file.Length - LongestLog);
        using var reader = new StreamReader(file);
        return text + reader.ReadToEnd();
    }

    [GeneratedRegex(@"Unhandled exception\. ([\w.]+(?:\+\w+)?): (.*)")]
    private static partial Regex Unhandled();

    [GeneratedRegex(@"Process terminated\.\s*(.*)")]
    private static partial Regex FailFast();
}
