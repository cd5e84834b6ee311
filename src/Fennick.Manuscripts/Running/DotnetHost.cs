namespace Fennick.Manuscripts.Running;

/// <summary>The program that runs assemblies.</summary>
internal static class DotnetHost
{
    /// <summary>The one that runs this one, or the one that belongs to its runtime.</summary>
    public static string? Find()
    {
        if (Environment.ProcessPath is { } running && Path.GetFileNameWithoutExtension(running) == "dotnet") return running;
        var runtime = Path.GetDirectoryName(typeof(object).Assembly.Location);
        string?[] candidates = [runtime is null ? null : Path.GetFullPath(Path.Combine(runtime, "..", "..", "..", "dotnet")), Environment.GetEnvironmentVariable("DOTNET_HOST_PATH"), Environment.GetEnvironmentVariable("DOTNET_ROOT") is { } root ? Path.Combine(root, "dotnet") : null];
        return candidates.FirstOrDefault(File.Exists);
    }
}
