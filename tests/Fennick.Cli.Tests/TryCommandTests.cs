using Fennick.Testing;
using Xunit;

namespace Fennick.Cli.Tests;

/// <summary><c>fennick try</c> shows what steps give; <c>fennick new</c> makes folders that can be written at once.</summary>
public sealed class TryCommandTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void Each_step_is_shown_with_its_result_up_to_the_one_that_is_named()
    {
        folder.Write("m.ms.md", $"{Fence}csharp prepare\nvar n = 3;\nConsole.WriteLine(\"chatter\");\nn * 2\n{Fence}\n\n{Fence}csharp table t\nnew[] {{ (Name: \"a\", Kg: 1.5) }}.Select(x => new {{ x.Name, x.Kg }})\n{Fence}\n\n{Fence}csharp figure f\nChart.Columns(new[] {{ 1 }}, i => i, i => i)\n{Fence}\n\n{Fence}csharp text words\n\"Some *words*.\"\n{Fence}\n\n{Fence}csharp prepare last\nthrow new Exception(\"too far\");\n{Fence}\n");
        var result = FennickCommand.Run(folder.Path, "try", "m.ms.md", "words");
        Assert.True(result.ExitCode == 0, result.Errors);
        Assert.Matches("""
            ^prepare line 1  \(m\.ms\.md:1, [\d.]+ m?s\)
              6
            table t  \(m\.ms\.md:7, [\d.]+ m?s\)
              ─+
              Name   Kg
              ─+
              a     1\.5
              ─+
            figure f  \(m\.ms\.md:11, [\d.]+ m?s\)
              /.*f\.docx
            text words  \(m\.ms\.md:15, [\d.]+ m?s\)
              Some words\.
            $
            """.ReplaceLineEndings("\n"), result.Output);
        Assert.Contains("step line 1 wrote:\n  chatter", result.Errors, StringComparison.Ordinal);
        Assert.Contains("no report is written", result.Errors, StringComparison.Ordinal);
        Assert.False(File.Exists(folder.File("m.docx")));
        WordClean.Check(result.Output.Split('\n').Single(l => l.EndsWith("f.docx", StringComparison.Ordinal)).Trim());
        Assert.Contains("m.ms.md:20:1: error: too far", FennickCommand.Run(folder.Path, "try", "m.ms.md").Errors, StringComparison.Ordinal);
        Assert.Contains("error: no step is labelled `wrds`; did you mean `words`?", FennickCommand.Run(folder.Path, "try", "m.ms.md", "wrds").Errors, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("short")]
    [InlineData("annual")]
    [InlineData("unit")]
    public void A_new_folder_can_be_written_at_once(string kind)
    {
        var made = FennickCommand.Run(folder.Path, "new", "work", "--kind", kind, "--title", "Honey & {wax} *2025*", "--author", "Ada Hale");
        Assert.Equal((0, folder.File("work/report.ms.md") + "\n"), (made.ExitCode, made.Output));
        var written = FennickCommand.Run(folder.Path, "write", "work/report.ms.md");
        Assert.True(written.ExitCode == 0, written.Errors);
        Assert.DoesNotContain("warning", written.Errors, StringComparison.Ordinal);
        var docx = WordClean.Check(folder.File("work/report.docx"));
        Assert.Equal("Honey & {wax} *2025*", Docx.Text(docx.Body.Descendants(Docx.W + "p").First()));
        Assert.NotEmpty(docx.Tables);
        var again = FennickCommand.Run(folder.Path, "new", "work");
        Assert.Equal((1, ""), (again.ExitCode, again.Output));
        Assert.Contains("is there already and not empty", again.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void Settings_of_the_call_serve_other_readers()
    {
        folder.Write("m.ms.md", $"{Fence}csharp prepare\nvar n = 3;\n{Fence}\n\nText {{n}}.\n");
        Assert.Equal(0, FennickCommand.Run(folder.Path, "write", "m.ms.md", "--with", "listing=shown", "--with", "title=For the office").ExitCode);
        Assert.Equal(["For the office", "var n = 3;", "Text 3."], WordClean.Check(folder.File("m.docx")).Paragraphs);
        Assert.Equal(2, FennickCommand.Run(folder.Path, "write", "m.ms.md", "--with", "listing").ExitCode);
        Assert.Contains("`listin` is not a setting; did you mean `listing`?", FennickCommand.Run(folder.Path, "check", "m.ms.md", "--with", "listin=shown").Errors, StringComparison.Ordinal);
    }
}
