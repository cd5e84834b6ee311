using System.Diagnostics;
using Fennick.Testing;

namespace Fennick.Cli.Tests;

/// <summary>Runs the command <c>fennick</c> as a process, with a cache of the tests' own.</summary>
internal static class FennickCommand
{
#if DEBUG
    private const string Configuration = "Debug";
#else
    private const string Configuration = "Release";
#endif

    public static string Folder { get; } = Repository.PathOf("src", "Fennick.Cli", "bin", Configuration, "net10.0");

    public static string Cache { get; } = Directory.CreateTempSubdirectory("fennick-cache-").FullName;

    public static CommandResult Run(string folder, params string[] arguments) => RunFrom(Folder, folder, arguments);

    public static CommandResult Run(string folder, Dictionary<string, string> environment, params string[] arguments) =>
        Command.Run(Path.Combine(Folder, "Fennick.Cli"), arguments, folder, new Dictionary<string, string>(environment) { ["FENNICK_CACHE"] = Cache });

    /// <summary>The environment in which shells and queues call it by its name.</summary>
    /// <param name="folder">Where a folder is made for the name.</param>
    public static Dictionary<string, string> ByName(TestFolder folder)
    {
        var named = folder.Write("bin/fennick", $"#!/bin/sh\nexec {Path.Combine(Folder, "Fennick.Cli")} \"$@\"\n");
        File.SetUnixFileMode(named, UnixFileMode.UserRead | UnixFileMode.UserExecute);
        return new() { ["PATH"] = $"{folder.File("bin")}:{Environment.GetEnvironmentVariable("PATH")}", ["FENNICK_CACHE"] = Cache };
    }

    /// <summary>Starts it without waiting for its end.</summary>
    public static Process Start(string folder, Dictionary<string, string> environment, string[] arguments)
    {
        var start = new ProcessStartInfo(Path.Combine(Folder, "Fennick.Cli"), arguments) { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = folder };
        start.Environment["FENNICK_CACHE"] = Cache;
        foreach (var (name, value) in environment) start.Environment[name] = value;
        return Process.Start(start)!;
    }

    public static CommandResult RunFrom(string installation, string folder, params string[] arguments) =>
        Command.Run(Path.Combine(installation, "Fennick.Cli"), arguments, folder, new Dictionary<string, string> { ["FENNICK_CACHE"] = Cache });
}
