using System.ComponentModel;
using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Running;

/// <summary>Runs a program for a step, and ends it and all that it has started where it takes too long or nobody wants it any longer.</summary>
internal static class ScriptProcess
{
    private const int LargestOutput = 256 * 1024 * 1024;

    // Of what it said, what is repeated in a message.
    private const int LongestReason = 300;

    private const int SignalsFrom = 128;

    /// <summary>Runs it to its end.</summary>
    /// <param name="words">The program and its arguments.</param>
    /// <param name="folder">The folder in which it runs.</param>
    /// <param name="input">What it reads from its standard input.</param>
    /// <param name="limit">How long it may take.</param>
    /// <param name="stop">Tells that it is wanted no longer.</param>
    /// <returns>What it wrote to its standard output, and to that for errors.</returns>
    /// <exception cref="ReportException">It cannot be started, fails, or takes too long.</exception>
    public static (byte[] Output, string Errors) Run(IReadOnlyList<string> words, string folder, string input, TimeSpan limit, CancellationToken stop)
    {
        var name = string.Join(' ', words);
        using var process = Start(words, folder);
        using var late = new CancellationTokenSource(limit);
        using var either = CancellationTokenSource.CreateLinkedTokenSource(late.Token, stop);
        using var kill = either.Token.Register(() => End(process));
        var output = Task.Run(() => ReadAsync(process.StandardOutput.BaseStream, name, process, either.Token), CancellationToken.None);
        var errors = Task.Run(() => ReadAsync(process.StandardError.BaseStream, name, process, either.Token), CancellationToken.None);
        Feed(process, input);
        try
        {
            Task.WhenAll(output, errors, process.WaitForExitAsync(either.Token)).GetAwaiter().GetResult();
        }
        catch (OperationCanceledException)
        {
            stop.ThrowIfCancellationRequested();
            throw new ReportException(Diagnostic.Error(null, $"`{name}` was ended: it had not come to its end in {Describe(limit)}", "see what it waits for; if it needs longer, write `limit: 1h` into the head of its step"));
        }
        catch
        {
            End(process);
            throw;
        }
        var said = Encoding.UTF8.GetString(errors.Result);
        if (process.ExitCode == 0) return (output.Result, said);
        // What it said before is told with the step.
        StepConsole.Take(said);
        StepConsole.Take(Encoding.UTF8.GetString(output.Result));
        var reason = said.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).LastOrDefault();
        throw new ReportException(Diagnostic.Error(null, $"`{name}` {(process.ExitCode > SignalsFrom ? $"was ended by signal {Text(process.ExitCode - SignalsFrom)}" : $"failed with exit code {Text(process.ExitCode)}")}{(reason is null ? "" : $": {(reason.Length > LongestReason ? reason[..LongestReason] + "…" : reason)}")}", reason is null ? "run it by hand in the folder of the manuscript to see why" : null));
    }

    private static Process Start(IReadOnlyList<string> words, string folder)
    {
        // A program beside the manuscript is named with its folder, as in a shell.
        var program = words[0].Contains('/', StringComparison.Ordinal) ? Path.GetFullPath(words[0], folder) : words[0];
        try
        {
            return Process.Start(new ProcessStartInfo(program, words.Skip(1)) { WorkingDirectory = folder, UseShellExecute = false, RedirectStandardInput = true, RedirectStandardOutput = true, RedirectStandardError = true })!;
        }
        catch (Win32Exception problem)
        {
            const int NotFound = 2;
            throw new ReportException([Diagnostic.Error(null, problem.NativeErrorCode == NotFound ? $"there is no program `{words[0]}`" : $"`{words[0]}` cannot be started: {problem.Message}",
                problem.NativeErrorCode == NotFound ? words[0].Contains('/', StringComparison.Ordinal) ? "programs are named from the folder of the manuscript" : "install it, or write where it is" : "see whether the file may be run")], problem);
        }
    }

    private static void Feed(Process process, string input)
    {
        try
        {
            using var stream = process.StandardInput.BaseStream;
            stream.Write(Encoding.UTF8.GetBytes(input));
        }
        catch (IOException)
        {
            // It need not read what it is given.
        }
    }

    private static async Task<byte[]> ReadAsync(Stream stream, string name, Process process, CancellationToken stop)
    {
        using var all = new MemoryStream();
        var buffer = new byte[64 * 1024];
        for (int read; (read = await stream.ReadAsync(buffer, stop).ConfigureAwait(false)) > 0;)
        {
            all.Write(buffer.AsSpan(0, read));
            if (all.Length <= LargestOutput) continue;
            End(process);
            throw new ReportException(Diagnostic.Error(null, $"`{name}` was ended: it had written more than {LargestOutput >> 20} MB", "let it write into a file, and read that in a `csharp` step"));
        }
        return all.ToArray();
    }

    private static void End(Process process)
    {
        try
        {
            process.Kill(entireProcessTree: true);
        }
        catch (Exception problem) when (problem is InvalidOperationException or Win32Exception or AggregateException)
        {
            // It has ended by itself.
        }
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Describe(TimeSpan limit) => limit.TotalMinutes < 2 ? $"{limit.TotalSeconds.ToString("0.##", CultureInfo.InvariantCulture)} s" : limit.TotalHours < 2 ? $"{limit.TotalMinutes.ToString("0.#", CultureInfo.InvariantCulture)} min" : $"{limit.TotalHours.ToString("0.#", CultureInfo.InvariantCulture)} h";
}
