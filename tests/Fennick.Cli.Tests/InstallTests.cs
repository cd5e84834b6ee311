using System.IO.Compression;
using System.Text;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>The packages, as somebody installs them who has no repository: made of a copy of the sources, put into a feed, and used in an empty folder.</summary>
public sealed class InstallTests : IDisposable
{
    private static readonly string[] Libraries = ["Fennick.Statistics", "Fennick", "Fennick.Data"];
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void The_tool_and_the_library_are_installed_from_a_feed_and_make_a_report_in_two_commands_each()
    {
        SlowSet.Enter();
        var feed = Pack();
        CheckPackages(feed);
        var home = folder.File("user");
        Directory.CreateDirectory(home);
        // What others need is taken from where this machine has it; ours can only come from the feed.
        folder.Write("user/nuget.config", $"""
            <configuration>
              <packageSources><add key="fennick-feed" value="{feed}" /></packageSources>
              <fallbackPackageFolders><add key="machine" value="{Environment.GetEnvironmentVariable("NUGET_PACKAGES") ?? Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".nuget", "packages")}" /></fallbackPackageFolders>
            </configuration>
            """);

        Do(home, "dotnet", "tool", "install", "Fennick.Cli", "--tool-path", "tools", "--add-source", feed, "--version", Version);
        var tool = Path.Combine(home, "tools", "fennick");
        Do(home, tool, "new", "first");
        Do(home, tool, "write", "first/report.ms.md");
        WordClean.Check(Path.Combine(home, "first", "report.docx"));

        folder.Write("user/honey.cs", $"#:package Fennick@{Version}\nusing Fennick;\n\nnew Report(\"Honey\").Text($\"A hive gave {{24.46:0.0}} kg.\").Save(\"honey.docx\");\n");
        Do(home, "dotnet", "run", "honey.cs");
        Assert.Contains("A hive gave 24.5 kg.", WordClean.Check(Path.Combine(home, "honey.docx")).AllText, StringComparison.Ordinal);
    }

    // Its own, so that no earlier package of the same version is taken for it.
    private static string Version { get; } = $"0.1.0-test.{Environment.ProcessId}";

    private string Pack()
    {
        var source = folder.File("source");
        foreach (var part in (string[])["src", "docs", "examples"])
        {
            foreach (var file in Directory.EnumerateFiles(Repository.PathOf(part), "*", SearchOption.AllDirectories).Where(f => !f.Contains("/bin/", StringComparison.Ordinal) && !f.Contains("/obj/", StringComparison.Ordinal)))
            {
                var copy = Path.Combine(source, Path.GetRelativePath(Repository.Root, file));
                Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
                File.Copy(file, copy);
            }
        }
        foreach (var file in (string[])["Directory.Build.props", "Directory.Packages.props", ".editorconfig"]) File.Copy(Repository.PathOf(file), Path.Combine(source, file));
        var feed = folder.File("feed");
        // What compiles the tool ahead is fetched by this, and not by packing.
        Do(source, "dotnet", "restore", "src/Fennick.Cli", "-r", "linux-x64", "-p:PublishReadyToRun=true");
        foreach (var project in Libraries.Append("Fennick.Cli"))
            Do(source, "dotnet", "pack", $"src/{project}", "-c", "Release", "-o", feed, "-v", "q", $"-p:Version={Version}", "-p:ToolPackageRuntimeIdentifiers=linux-x64", "--disable-build-servers");
        return feed;
    }

    /// <summary>What a package has to hold, and what must not be in it.</summary>
    private void CheckPackages(string feed)
    {
        var packages = Directory.GetFiles(feed, "*.nupkg");
        Assert.Equal(Libraries.Concat(["Fennick.Cli", "Fennick.Cli.linux-x64"]).Select(p => $"{p}.{Version}.nupkg").Order(StringComparer.Ordinal), packages.Select(p => Path.GetFileName(p)).Order(StringComparer.Ordinal));
        Assert.Equal(Libraries.Length, Directory.GetFiles(feed, "*.snupkg").Length);
        var builder = Encoding.UTF8.GetBytes(folder.Path);
        foreach (var path in packages)
        {
            using var package = ZipFile.OpenRead(path);
            foreach (var own in package.Entries.Where(e => e.Name.StartsWith("Fennick", StringComparison.Ordinal)))
            {
                using var stream = own.Open();
                var bytes = new MemoryStream();
                stream.CopyTo(bytes);
                Assert.True(bytes.ToArray().AsSpan().IndexOf(builder) < 0, $"{own.FullName} names the builder's folder");
            }
            Assert.Empty(package.Entries.Where(e => e.Length > 10_000).GroupBy(e => (e.Crc32, e.Length)).Where(g => g.Count() > 1).Select(g => string.Join(", ", g.Select(e => e.FullName))));
            if (!path.EndsWith($"linux-x64.{Version}.nupkg", StringComparison.Ordinal)) Assert.Contains(package.Entries, e => e.FullName == "README.md");
            Assert.Contains(package.Entries, e => e.FullName == "icon.png");
            Assert.DoesNotContain(package.Entries, e => e.Name.Contains("Workspaces", StringComparison.Ordinal) || e.FullName.StartsWith("content", StringComparison.Ordinal));
        }
        using var core = ZipFile.OpenRead(Path.Combine(feed, $"Fennick.{Version}.nupkg"));
        Assert.Contains(core.Entries, e => e.FullName == "lib/net10.0/Fennick.xml");
    }

    private static void Do(string folder, string program, params string[] arguments)
    {
        var result = Command.Run(program, arguments, folder, new Dictionary<string, string> { ["XDG_CACHE_HOME"] = Path.Combine(folder, ".cache"), ["MSBUILDDISABLENODEREUSE"] = "1" }, minutes: 15);
        Assert.True(result.ExitCode == 0, $"{program} {string.Join(' ', arguments)}\n{result.Output}{result.Errors}");
    }
}
