using System.Text.Json;
using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary>What comes from elsewhere stays where it belongs, and nobody else's files are obeyed.</summary>
public sealed class NobodyLetInTests : IDisposable
{
    private const string Fence = "```";
    private const string Unit = Fence + "manuscript\nparameter apiary (text):\n" + Fence + "\n\n";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private CommandResult Run(params string[] arguments) => FennickCommand.Run(folder.Path, arguments);

    private CommandResult RunIn(Dictionary<string, string> environment, params string[] arguments) => Command.Run(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), arguments, folder.Path, environment);

    [Theory]
    [InlineData("../evil.sh")]
    [InlineData("/tmp/fennick-evil.docx")]
    [InlineData("a/../../evil.docx")]
    [InlineData("link/evil.docx")]
    [InlineData("..")]
    [InlineData("a\\u0000b.docx")]
    public void Gathering_keeps_every_unit_inside(string unit)
    {
        Directory.CreateDirectory(folder.File("whole"));
        Directory.CreateDirectory(folder.File("elsewhere"));
        folder.Write("part/Alder.docx", "document");
        folder.Write("evil.sh", "mine");
        folder.Write("part/evil.docx", "evil");
        folder.Write("part/link/evil.docx", "evil");
        File.CreateSymbolicLink(folder.File("whole/link"), folder.File("elsewhere"));
        var line = $"{{\"ledger\":1,\"event\":\"batch\",\"at\":\"2025-11-28T10:00:00Z\",\"units\":[\"Alder.docx\",\"{unit}\"]}}";
        folder.Write("whole/ledger.jsonl", line + "\n");
        folder.Write("part/ledger-1-of-2.jsonl", $"{line}\n{{\"event\":\"done\",\"at\":\"2025-11-28T10:00:01Z\",\"unit\":\"{unit}\",\"output\":\"x\"}}\n{{\"event\":\"done\",\"at\":\"2025-11-28T10:00:01Z\",\"unit\":\"Alder.docx\",\"output\":\"x\"}}\n");
        Run("batch", "gather", "whole", "part");
        Assert.Equal("mine", File.ReadAllText(folder.File("evil.sh")));
        Assert.False(File.Exists("/tmp/fennick-evil.docx"));
        Assert.Empty(Directory.GetFileSystemEntries(folder.File("elsewhere")));
    }

    [Fact]
    public void A_line_without_end_is_no_ledger_and_much_that_a_unit_prints_is_kept_in_a_file_of_its_own()
    {
        folder.Write("roster.csv", "apiary\nAlder\n");
        folder.Write("unit.ms.md", $"{Unit}{Fence}csharp prepare\nfor (var i = 0; i < 20_000; i++) Console.WriteLine($\"line {{i}}\");\n{Fence}\n\n{{apiary}}\n");
        Directory.CreateDirectory(folder.File("reports"));
        using (var endless = new StreamWriter(folder.File("reports/ledger.jsonl")))
            for (var i = 0; i < 70; i++) endless.Write(new string('x', 1024 * 1024));
        var result = Run("batch", "unit.ms.md", "--roster", "roster.csv", "--into", "reports");
        Assert.True(result.ExitCode == 0, result.Errors);
        Assert.Contains("ledger.jsonl:1:1: warning: this ledger line cannot be read and is ignored", result.Errors, StringComparison.Ordinal);
        var done = File.ReadLines(folder.File("reports/ledger.jsonl")).Skip(1).Select(l => JsonDocument.Parse(l).RootElement).Single(l => l.GetProperty("event").GetString() == "done");
        Assert.InRange(done.GetProperty("wrote").GetString()!.Length, 100, 5000);
        Assert.StartsWith("(all of it: printed/Alder.txt) line 5: line 0\n", done.GetProperty("wrote").GetString(), StringComparison.Ordinal);
        Assert.EndsWith("line 19999", File.ReadAllText(folder.File("reports/printed/Alder.txt")), StringComparison.Ordinal);
    }

    [Fact]
    public void Figures_that_are_tried_lie_where_nobody_else_can_look_or_wait()
    {
        folder.Write("m.ms.md", $"{Fence}csharp figure f\nChart.Columns([1, 2], v => v, v => v)\n{Fence}\n");
        var result = RunIn(new() { ["TMPDIR"] = folder.Path, ["FENNICK_CACHE"] = FennickCommand.Cache }, "try", "m.ms.md");
        var path = result.Output.Split('\n').Single(l => l.EndsWith("f.docx", StringComparison.Ordinal)).Trim();
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(Path.GetDirectoryName(path)!));
        Assert.Matches("/fennick-try-[A-Za-z0-9]{6,}/f.docx$", path);
        WordClean.Check(path);
        // The next trial on another day clears what this one left.
        Directory.SetLastWriteTimeUtc(Path.GetDirectoryName(path)!, DateTime.UtcNow - TimeSpan.FromDays(2));
        RunIn(new() { ["TMPDIR"] = folder.Path, ["FENNICK_CACHE"] = FennickCommand.Cache }, "try", "m.ms.md");
        Assert.False(File.Exists(path));
    }

    [Fact]
    public void Compiled_code_is_taken_only_from_a_private_folder_and_kept_nowhere_else()
    {
        folder.Write("small.ms.md", "Six: {5 + 1}\n");
        var cache = new Dictionary<string, string> { ["FENNICK_CACHE"] = folder.File("cache") };
        Assert.Contains("to compile", RunIn(cache, "write", "small.ms.md").Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("to compile", RunIn(cache, "write", "small.ms.md").Errors, StringComparison.Ordinal);
        File.SetUnixFileMode(folder.File("cache/compiled"), (UnixFileMode)0x1FF);
        Assert.Contains("to compile", RunIn(cache, "write", "small.ms.md").Errors, StringComparison.Ordinal);
        // Without a home nothing is put into the current folder.
        var homeless = RunIn(new() { ["HOME"] = "", ["FENNICK_CACHE"] = "", ["XDG_CACHE_HOME"] = "relative", ["TMPDIR"] = folder.Path }, "write", "small.ms.md");
        Assert.True(homeless.ExitCode == 0, homeless.Errors);
        Assert.Equal(["cache", "small.docx", "small.ms.md"], Directory.GetFileSystemEntries(folder.Path).Select(Path.GetFileName).Order());
    }

    [Fact]
    public void What_a_terminal_would_obey_does_not_reach_it()
    {
        folder.Write("small.ms.md", $"{Fence}csharp prepare\nConsole.WriteLine(\"a\\u001b[2Jb\\u009b31mc\\bd\");\nthrow new Exception(\"e\\u001b]0;title\\u0007f\");\n{Fence}\n");
        var result = Run("write", "small.ms.md");
        Assert.Equal(1, result.ExitCode);
        Assert.Contains("a␛[2Jb\uFFFD31mc␈d", result.Errors, StringComparison.Ordinal);
        Assert.Contains("e␛]0;title␇f", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain(result.Errors, c => char.IsControl(c) && c != '\n');
    }

    [Theory]
    [InlineData("write", "no\0such.ms.md")]
    [InlineData("write", "")]
    [InlineData("check", "")]
    [InlineData("try", "")]
    [InlineData("house", "check", "")]
    [InlineData("house", "check", "no\0such.docx")]
    [InlineData("house", "new", "flint", "")]
    [InlineData("new", "")]
    [InlineData("demo", "--into", "")]
    [InlineData("batch", "small.ms.md", "--roster", "", "--into", "reports")]
    [InlineData("batch", "small.ms.md", "--roster", "roster.csv", "--into", "")]
    [InlineData("batch", "small.ms.md", "--roster", "roster.csv", "--bind", "")]
    [InlineData("batch", "gather", "")]
    [InlineData("write", "small.ms.md", "--with", "house=")]
    [InlineData("write", "small.ms.md", "--with", "bibliography=\u0001")]
    public void Empty_and_impossible_names_are_told_in_words(params string[] call)
    {
        folder.Write("small.ms.md", "Small.\n");
        folder.Write("roster.csv", "apiary\nAlder\n");
        // A process cannot be given a zero character; what a script hands over can hold others.
        var result = Run([.. call.Select(c => c.Replace('\0', '\u0001'))]);
        Assert.InRange(result.ExitCode, 1, 2);
        Assert.DoesNotContain("fault ", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("Exception", result.Errors, StringComparison.Ordinal);
        Assert.DoesNotContain("Parameter '", result.Errors, StringComparison.Ordinal);
        Assert.Contains("error: ", result.Errors, StringComparison.Ordinal);
    }
}
