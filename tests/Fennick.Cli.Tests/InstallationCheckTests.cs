using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary><c>fennick check</c> without a file.</summary>
public sealed class InstallationCheckTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void It_says_what_is_there_and_what_is_missing_with_the_cure()
    {
        var all = FennickCommand.Run(folder.Path, "check");
        Assert.Equal(0, all.ExitCode);
        Assert.Matches(@"(?m)^fennick +0\.1\.0 in .+, on \.NET 10\.", all.Output);
        Assert.Matches(@"(?m)^\.NET SDK +10\.", all.Output);
        Assert.Matches(@"(?m)^cache +/.+ files?, [0-9.]+ MB", all.Output);

        // A machine on which nothing is found but the runtime itself.
        var bare = Directory.CreateDirectory(folder.File("bare")).FullName;
        var program = Path.Combine(AppContext.BaseDirectory, "Fennick.Cli.dll");
        var dotnet = (Environment.GetEnvironmentVariable("PATH") ?? "").Split(':').Select(f => Path.Combine(f, "dotnet")).First(File.Exists);
        var result = Command.Run("env", [$"PATH={bare}", $"FENNICK_CACHE={folder.Write("no", "a file")}", dotnet, program, "check"]);
        Assert.Equal(0, result.ExitCode);
        foreach (var expected in (string[])["libraries of manuscripts (`library:`) and `fennick watch` on a program need it; install the .NET SDK", "PDFs (`--also pdf`) need it; `apt install libreoffice-writer-nogui", "`--open` needs it; `apt install xdg-utils`", "every manuscript is compiled each time; make the folder writable, or name another in `FENNICK_CACHE`"])
            Assert.Contains(expected, result.Output, StringComparison.Ordinal);
        Assert.Matches(@"[4-6] things are missing; reports are written all the same", result.Errors);
    }

    [Fact]
    public void Options_of_a_manuscript_need_one()
    {
        var result = FennickCommand.Run(folder.Path, "check", "--layout");
        Assert.Equal(2, result.ExitCode);
        Assert.Contains("name the manuscript that these options are for", result.Errors, StringComparison.Ordinal);
    }
}
