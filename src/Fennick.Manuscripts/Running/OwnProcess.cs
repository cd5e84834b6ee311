using System.Diagnostics;
using System.Runtime.InteropServices;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Manuscripts.Running;

/// <summary>Runs a program once more in a process of its own, so that a step that ends its process ends that one alone, and somebody is left to say so.</summary>
internal static class OwnProcess
{
    private const int AbnormalFrom = 128;
    private const int Terminated = 143;
    private const string Variable = "FENNICK_WATCHED_BY";

    /// <summary>In the process that is watched: makes known which step is running. Call it first, but after the console was used, which keeps its streams then.</summary>
    /// <returns>Whether this process is watched.</returns>
    public static bool Begin()
    {
        if (Environment.GetEnvironmentVariable(Variable) is not { Length: > 0 } folder || !Directory.Exists(folder)) return false;
        // Programs that steps start are not watched.
        Environment.SetEnvironmentVariable(Variable, null);
        ProcessWatch.Enter(folder);
        UnixStreams.SendErrorsTo(ProcessWatch.LogIn(folder));
        return true;
    }

    /// <summary>The start of this same program, without arguments.</summary>
    public static ProcessStartInfo Again()
    {
        var start = new ProcessStartInfo(Environment.ProcessPath!) { UseShellExecute = false };
        // Where the program is run by the command `dotnet`, its assembly comes first.
        if (Path.GetFileNameWithoutExtension(Environment.ProcessPath) == "dotnet") start.ArgumentList.Add(Environment.GetCommandLineArgs()[0]);
        return start;
    }

    /// <summary>Runs this same program again with these arguments, and its input, output and errors as they are.</summary>
    /// <param name="arguments">The arguments.</param>
    /// <param name="tell">Takes what a step did to the process.</param>
    /// <param name="show">Takes what other programs that steps started have written as errors.</param>
    /// <param name="failed">The exit code if a step has ended the process.</param>
    /// <returns>The exit code.</returns>
    public static int Run(IEnumerable<string> arguments, Action<Diagnostic> tell, Action<string> show, int failed)
    {
        ArgumentNullException.ThrowIfNull(arguments);
        ArgumentNullException.ThrowIfNull(tell);
        ArgumentNullException.ThrowIfNull(show);
        using var watch = new ProcessWatch("fennick-run-");
        watch.Reset();
        var start = Again();
        foreach (var argument in arguments) start.ArgumentList.Add(argument);
        start.Environment[Variable] = watch.Folder;
        // Ctrl-C reaches both; the one that works decides.
        using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, context => context.Cancel = true);
        using var process = Process.Start(start)!;
        var isStopped = false;
        using var terminate = PosixSignalRegistration.Create(PosixSignal.SIGTERM, context =>
        {
            context.Cancel = isStopped = true;
            process.Kill();
        });
        process.WaitForExit();
        if (isStopped) return Terminated;
        // What a thread does that a step has left behind ends the process outside of all steps.
        if (!watch.IsInStep && process.ExitCode < AbnormalFrom)
        {
            if (watch.Written is { Length: > 0 } written) show(written);
            return process.ExitCode;
        }
        tell(watch.Describe(process));
        return failed;
    }
}
