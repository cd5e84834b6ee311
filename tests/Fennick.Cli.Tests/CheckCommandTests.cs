using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary><c>fennick check</c> finds what can be known without running a step.</summary>
public sealed class CheckCommandTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void What_readers_who_cannot_see_would_miss_is_told_and_stops_a_strict_report()
    {
        File.WriteAllBytes(folder.File("dot.png"), Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=="));
        folder.Write("open.ms.md", "# One\n\n### Two\n\n![](dot.png) and ![decorative](dot.png)\n");
        var check = FennickCommand.Run(folder.Path, "check", "open.ms.md");
        Assert.Equal(0, check.ExitCode);
        Assert.Contains("open.ms.md:3:1: warning: the heading \"Two\" of level 3 follows one of level 1; make it one of level 2", check.Errors, StringComparison.Ordinal);
        Assert.Contains("open.ms.md:5:1: warning: the picture has no alternative text, for readers who cannot see it; write `![what it shows](file)`, or `![decorative](file)` for an ornament", check.Errors, StringComparison.Ordinal);
        var strict = FennickCommand.Run(folder.Path, "write", "open.ms.md", "--with", "strict=yes");
        Assert.Equal(1, strict.ExitCode);
        Assert.Contains("error: the picture has no alternative text", strict.Errors, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("open.docx")));
    }

    [Fact]
    public void All_mistakes_of_a_manuscript_are_told_at_once()
    {
        folder.Write("bad.ms.md", $"{Fence}csharp prepare\nvar n = 3;\n{Fence}\n\n# A head\n\n{{n:perecent 1}}, {{see tabl}}, {{m}}, {{see a-head}} and {{n:0.0 | unitt kg}}\n\n{Fence}csharp table table\nnew[] {{ 1 }}\n{Fence}\n");
        var result = FennickCommand.Run(folder.Path, "check", "bad.ms.md");
        Assert.Equal((1, ""), (result.ExitCode, result.Output));
        Assert.Equal(
            [
                "bad.ms.md:7:2: error: `perecent 1` is not a format for any value; did you mean `percent 1`?",
                "bad.ms.md:7:17: error: there is no label `tabl`; did you mean `table`?",
                "bad.ms.md:7:30: error: the name 'm' does not exist in the current context (CS0103)",
                "bad.ms.md:7:52: error: `unitt kg` is not a format for any value; did you mean `unit kg`?",
            ], result.Errors.TrimEnd('\n').Split('\n'));
    }

    [Fact]
    public void No_step_is_run_and_a_later_run_need_not_compile()
    {
        folder.Write("good.ms.md", $"{Fence}csharp prepare\nFile.WriteAllText(\"ran.txt\", \"\");\nint[] years = [2024, 2025];\n{Fence}\n\n{{for each year in years}}\nSee {{see t-{{year}}}} and {{see t-2024}}.\n\n{Fence}csharp table t-{{year}}\nyears\n{Fence}\n{{end}}\n");
        var result = FennickCommand.Run(folder.Path, "check", "good.ms.md");
        Assert.True(result.ExitCode == 0, result.Errors);
        Assert.Equal($"{folder.File("good.ms.md")}: nothing wrong is found\n", result.Output);
        Assert.Matches(@"^checked in [\d.]+ m?s, of which [\d.]+ m?s to compile its code\n$", result.Errors);
        Assert.False(File.Exists(folder.File("ran.txt")));
        Assert.Matches(@"^written in [\d.]+ m?s\n$", FennickCommand.Run(folder.Path, "write", "good.ms.md").Errors);
        Assert.True(File.Exists(folder.File("ran.txt")));
    }

    [Theory]
    [InlineData("annual")]
    [InlineData("harvest")]
    [InlineData("tables")]
    [InlineData("valleys")]
    public void Nothing_is_wrong_in_the_examples(string name)
    {
        var result = FennickCommand.Run(folder.Path, "check", Repository.PathOf("examples", "survey", $"{name}.ms.md"));
        Assert.True(result.ExitCode == 0, result.Errors);
        Assert.DoesNotContain("warning", result.Errors, StringComparison.Ordinal);
    }
}
