using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

public sealed class WriteCommandTests : IDisposable
{
    private const string Small = "```manuscript\ntitle: Small {word}\nparameter word: thing\n```\n\n```csharp prepare\nvar x = 6 * 7;\nConsole.WriteLine(\"chatter\");\n```\n\nThe answer is {x}.\n";
    private readonly TestFolder folder = new();

    public void Dispose()
    {
        File.SetUnixFileMode(folder.Path, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        folder.Dispose();
    }

    [Fact]
    public void A_lack_of_temporary_folders_is_told()
    {
        folder.Write("m.ms.md", "```manuscript\nparameter apiary: Mill\n```\n\nText of {apiary}.\n");
        folder.Write("r.csv", "apiary\nMill\n");
        foreach (var arguments in new string[][] { ["write", "m.ms.md"], ["batch", "m.ms.md", "--roster", "r.csv", "--into", "reports"] })
        {
            var result = Command.Run(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), arguments, folder.Path, new Dictionary<string, string> { ["FENNICK_CACHE"] = FennickCommand.Cache, ["TMPDIR"] = "/no/such/folder" });
            Assert.NotEqual(0, result.ExitCode);
            Assert.Contains("/no/such/folder/:1:1: error: no temporary folder can be made here: there is no such folder; let the variable `TMPDIR` name a folder that you can write to", result.Errors, StringComparison.Ordinal);
            Assert.DoesNotContain("   at ", result.Errors, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void The_report_goes_beside_its_manuscript_and_its_path_to_standard_output()
    {
        folder.Write("sub/small.ms.md", Small.Replace("6 * 7", "7 * 6", StringComparison.Ordinal));
        var result = FennickCommand.Run(folder.Path, "write", "sub/small.ms.md", "--set", "word=A=B");
        Assert.Equal((0, folder.File("sub/small.docx") + "\n"), (result.ExitCode, result.Output));
        Assert.Matches(@"^step line 6 wrote:\n  chatter\nwritten in [\d.]+ m?s, of which [\d.]+ m?s to compile its code\n$", result.Errors);
        var docx = WordClean.Check(folder.File("sub/small.docx"));
        Assert.Equal(["Small A=B", "The answer is 42."], docx.Paragraphs);
    }

    [Fact]
    public void Out_names_a_file_or_a_folder_relative_to_the_current_one()
    {
        folder.Write("sub/small.ms.md", Small);
        Directory.CreateDirectory(folder.File("out"));
        Assert.Equal(folder.File("new/here.docx") + "\n", FennickCommand.Run(folder.Path, "write", "sub/small.ms.md", "--out", "new/here.docx").Output);
        Assert.Equal(folder.File("out/small.docx") + "\n", FennickCommand.Run(folder.Path, "write", "sub/small.ms.md", "--out", "out").Output);
        WordClean.Check(folder.File("new/here.docx"));
        WordClean.Check(folder.File("out/small.docx"));
        var wrong = FennickCommand.Run(folder.Path, "write", "sub/small.ms.md", "--out", "x.pdf");
        Assert.Equal((1, "x.pdf:1:1: error: a report's name ends in `.docx`; write `x.docx`, and `outputs: pdf` in the settings, or `--also pdf`, for the other form beside it\n"), (wrong.ExitCode, wrong.Errors));
    }

    [Fact]
    public void A_step_that_takes_long_is_named_while_it_runs()
    {
        folder.Write("m.ms.md", "```csharp prepare quick\nMath.Abs(1);\n```\n\n```csharp prepare slow\nSystem.Threading.Thread.Sleep(3200);\n```\n\n```csharp prepare behind\nMath.Abs(2);\n```\n\nDone.\n");
        var result = FennickCommand.Run(folder.Path, "write", "m.ms.md");
        Assert.Matches(@"^step `slow` runs, 2 s \(step 2 of 3\)\nwritten in ", result.Errors);
        // On a terminal it is a line that changes, and is gone at the end.
        var seen = Command.Run("script", ["-qec", $"{Path.Combine(FennickCommand.Folder, "Fennick.Cli")} write m.ms.md", "/dev/null"], folder.Path, new Dictionary<string, string> { ["FENNICK_CACHE"] = FennickCommand.Cache }).Output;
        Assert.Contains("\rstep `slow` runs, 2 s (step 2 of 3)\e[K", seen, StringComparison.Ordinal);
        Assert.Contains("\r\e[K" + folder.File("m.docx"), seen, StringComparison.Ordinal);
    }

    [Fact]
    public void A_second_run_needs_no_compiler()
    {
        folder.Write("small.ms.md", Small);
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", "small.ms.md", "--set", "word=first").ExitCode);
        // An installation whose compiler is broken: to load it would be an error.
        var broken = folder.File("installation");
        Directory.CreateDirectory(broken);
        foreach (var file in Directory.GetFiles(FennickCommand.Folder)) Copy(file, Path.Combine(broken, Path.GetFileName(file)));
        foreach (var compiler in Directory.GetFiles(broken, "Microsoft.CodeAnalysis*.dll")) File.WriteAllText(compiler, "no assembly");
        var second = FennickCommand.RunFrom(broken, folder.Path, "write", "small.ms.md", "--set", "word=second");
        Assert.True(second.ExitCode == 0, second.Errors);
        Assert.DoesNotContain("compile", second.Errors, StringComparison.Ordinal);
        Assert.Equal("Small second", WordClean.Check(folder.File("small.docx")).Paragraphs[0]);
        // The other way round: without a kept program the broken compiler is noticed.
        folder.Write("small.ms.md", Small.Replace("6 * 7", "6 * 8", StringComparison.Ordinal));
        Assert.NotEqual(0, FennickCommand.RunFrom(broken, folder.Path, "write", "small.ms.md").ExitCode);

        static void Copy(string from, string to)
        {
            File.Copy(from, to);
            File.SetLastWriteTimeUtc(to, File.GetLastWriteTimeUtc(from));
        }
    }

    [Fact]
    public void A_damaged_cache_is_compiled_anew()
    {
        folder.Write("small.ms.md", Small.Replace("6 * 7", "6 * 9", StringComparison.Ordinal));
        FennickCommand.Run(folder.Path, "write", "small.ms.md");
        foreach (var entry in Directory.GetFiles(Path.Combine(FennickCommand.Cache, "compiled")))
        {
            var bytes = File.ReadAllBytes(entry);
            bytes[bytes.Length / 2] ^= 1;
            File.WriteAllBytes(entry, bytes);
        }
        var again = FennickCommand.Run(folder.Path, "write", "small.ms.md");
        Assert.Equal(0, again.ExitCode);
        Assert.Contains("to compile its code", again.Errors, StringComparison.Ordinal);
        WordClean.Check(folder.File("small.docx"));
        Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, File.GetUnixFileMode(Path.Combine(FennickCommand.Cache, "compiled")));
    }

    [Fact]
    public void A_cache_that_cannot_be_written_is_told_and_the_report_is_made()
    {
        folder.Write("small.ms.md", Small);
        var result = Command.Run(Path.Combine(FennickCommand.Folder, "Fennick.Cli"), ["write", "small.ms.md"], folder.Path, new Dictionary<string, string> { ["FENNICK_CACHE"] = "/proc/nowhere" });
        Assert.Equal((0, folder.File("small.docx") + "\n"), (result.ExitCode, result.Output));
        WordClean.Check(folder.File("small.docx"));
        Assert.Contains("warning: the compiled form could not be kept in /proc/nowhere/compiled", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void A_failure_names_the_line_exits_with_1_and_keeps_the_old_report()
    {
        folder.Write("small.ms.md", Small.Replace("{x}", "{y}", StringComparison.Ordinal));
        folder.Write("small.docx", "old");
        var result = FennickCommand.Run(folder.Path, "write", "small.ms.md");
        Assert.Equal((1, "", "small.ms.md:11:16: error: the name 'y' does not exist in the current context (CS0103)\n"), (result.ExitCode, result.Output, result.Errors));
        Assert.Equal("old", File.ReadAllText(folder.File("small.docx")));
    }

    [Fact]
    public void What_a_failing_step_wrote_is_shown()
    {
        folder.Write("small.ms.md", Small.Replace("6 * 7", "6 / (2 - int.Parse(\"2\"))", StringComparison.Ordinal).Replace("var x", "Console.Write(\"so far\"); var x", StringComparison.Ordinal));
        var result = FennickCommand.Run(folder.Path, "write", "small.ms.md");
        Assert.Equal((1, "step line 6 wrote:\n  so far\nsmall.ms.md:7:26: error: Attempted to divide by zero. (DivideByZeroException)\n"), (result.ExitCode, result.Errors));
    }

    [Fact]
    public void An_output_folder_that_cannot_be_written_is_told()
    {
        folder.Write("small.ms.md", Small);
        folder.Write("file", "no folder");
        var result = FennickCommand.Run(folder.Path, "write", "small.ms.md", "--out", "file/small.docx");
        Assert.Equal(1, result.ExitCode);
        Assert.Contains($"{folder.File("file/small.docx")}:1:1: error: the document cannot be written here: ", result.Errors, StringComparison.Ordinal);
        var system = FennickCommand.Run(folder.Path, "write", "small.ms.md", "--out", "/proc/small.docx");
        Assert.Equal(1, system.ExitCode);
        Assert.Contains("/proc/small.docx:1:1: error: the document cannot be written here: ", system.Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("write")]
    [InlineData("write", "a.ms.md", "--set", "novalue")]
    [InlineData("write", "a.ms.md", "--uot", "x")]
    [InlineData("wirte", "a.ms.md")]
    public void A_wrong_call_exits_with_2(params string[] arguments)
    {
        var result = FennickCommand.Run(folder.Path, arguments);
        Assert.Equal((2, ""), (result.ExitCode, result.Output));
        Assert.StartsWith("error: ", result.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Other_forms_stand_beside_the_document()
    {
        folder.Write("report.ms.md", "```manuscript\ntitle: Honey\noutputs: text\n```\n\n```csharp prepare\nvar kg = 24.5;\n```\n\nA hive gave **{kg}** kg.\n");
        var written = FennickCommand.Run(folder.Path, "write", "report.ms.md");
        Assert.True(written.ExitCode == 0, written.Errors);
        Assert.Equal($"{folder.File("report.docx")}\n{folder.File("report.txt")}\n", written.Output);
        Assert.Equal("Honey\n=====\n\nA hive gave 24.5 kg.\n", File.ReadAllText(folder.File("report.txt")));
        Assert.False(File.Exists(folder.File("report.html")));
        var also = FennickCommand.Run(folder.Path, "write", "report.ms.md", "--out", "out/other.docx", "--also", "page,text");
        Assert.Equal($"{folder.File("out/other.docx")}\n{folder.File("out/other.html")}\n{folder.File("out/other.txt")}\n", also.Output);
        Assert.Contains("A hive gave <strong>24.5</strong> kg.", File.ReadAllText(folder.File("out/other.html")), StringComparison.Ordinal);
        var wrong = FennickCommand.Run(folder.Path, "write", "report.ms.md", "--also", "pages");
        Assert.Equal(1, wrong.ExitCode);
        Assert.Contains("a report cannot be written as `pages`; did you mean `page`?", wrong.Errors, StringComparison.Ordinal);
        var none = FennickCommand.Run(folder.Path, "write", "report.ms.md", "--also", "odt");
        Assert.Contains("beside the document there are `page`, `pdf`, `text`", none.Errors, StringComparison.Ordinal);
    }
}
