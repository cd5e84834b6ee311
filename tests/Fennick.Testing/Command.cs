using System.Diagnostics;

namespace Fennick.Testing;

/// <summary>A finished process: what it printed and how it ended.</summary>
public sealed record CommandResult(int ExitCode, string Output, string Errors);

/// <summary>Runs programs as a user's shell would.</summary>
public static class Command
{
    public static CommandResult Run(string program, IEnumerable<string> arguments, string? folder = null, IReadOnlyDictionary<string, string>? environment = null, int minutes = 5)
    {
        var start = new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true, WorkingDirectory = folder ?? Path.GetTempPath() };
        foreach (var (name, value) in environment ?? new Dictionary<string, string>()) start.Environment[name] = value;
        using var process = Process.Start(start)!;
        process.StandardInput.Close();
        var output = process.StandardOutput.ReadToEndAsync();
        var errors = process.StandardError.ReadToEndAsync();
        if (!process.WaitForExit(TimeSpan.FromMinutes(minutes)))
        {
            process.Kill(entireProcessTree: true);
            throw new TimeoutException($"{program} did not end.");
        }
        return new CommandResult(process.ExitCode, output.Result, errors.Result);
    }
}
