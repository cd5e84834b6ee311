using System.Diagnostics;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches.Workers;

/// <summary>How a process is started that runs this library's own program, with the same runtime and libraries as the one that is running.</summary>
internal static class WorkerHost
{
    /// <summary>The start of a process.</summary>
    /// <exception cref="ReportException">The running program is of a kind that gives no such process.</exception>
    public static ProcessStartInfo Start(params string[] arguments)
    {
        var own = typeof(WorkerHost).Assembly.Location;
        var dependencies = (AppContext.GetData("APP_CONTEXT_DEPS_FILES") as string)?.Split(';', Path.PathSeparator).FirstOrDefault();
        var configuration = dependencies is null ? null : Path.ChangeExtension(dependencies, null) is var stem && stem.EndsWith(".deps", StringComparison.Ordinal) ? $"{stem[..^".deps".Length]}.runtimeconfig.json" : null;
        if (own.Length == 0 || !File.Exists(own) || !File.Exists(dependencies) || !File.Exists(configuration) || DotnetHost.Find() is not { } host)
            throw new ReportException(Diagnostic.Error(null, "this program cannot start processes for the units of a batch", "have the units made in it: `--in-process`, or `batch with { InProcess = true }`"));
        return new ProcessStartInfo(host, ["exec", "--depsfile", dependencies, "--runtimeconfig", configuration, own, .. arguments]) { UseShellExecute = false };
    }
}
