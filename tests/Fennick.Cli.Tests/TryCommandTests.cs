using System.Text.Json;
using System.Text.RegularExpressions;
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
              /.*f\.png
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

    [Fact]
    public void Steps_and_what_is_wrong_are_lines_of_json_for_editors()
    {
        folder.Write("m.ms.md", $"{Fence}csharp prepare\nvar n = 3;\nConsole.WriteLine(\"chatter\");\nn * 2\n{Fence}\n\n{Fence}csharp figure f\nChartPanels.Of((\"a\", Chart.Columns(new[] {{ 1 }}, i => i, i => i)), (\"b\", Chart.Columns(new[] {{ 2 }}, i => i, i => i)))\n{Fence}\n");
        var result = FennickCommand.Run(folder.Path, "try", "m.ms.md", "--json");
        Assert.True(result.ExitCode == 0, result.Output + result.Errors);
        var lines = result.Output.TrimEnd().Split('\n').Select(l => JsonDocument.Parse(l).RootElement).ToArray();
        Assert.Equal(("line 1", "prepare", "m.ms.md", 1, "chatter\n", "6"), (Text(0, "step"), Text(0, "role"), Text(0, "file"), lines[0].GetProperty("line").GetInt32(), Text(0, "written"), Text(0, "result")));
        Assert.Equal(["f-1.png", "f-2.png"], lines[1].GetProperty("pictures").EnumerateArray().Select(p => Path.GetFileName(p.GetString())));
        Assert.All(lines[1].GetProperty("pictures").EnumerateArray(), p => Assert.Equal([0x89, (byte)'P', (byte)'N', (byte)'G'], File.ReadAllBytes(p.GetString()!).Take(4)));
        WordClean.Check(Text(1, "document"));
        Assert.Empty(lines[2].GetProperty("problems").EnumerateArray());

        folder.Write("m.ms.md", "Text {n}.\n");
        var wrong = FennickCommand.Run(folder.Path, "try", "m.ms.md", "--json");
        var problem = Assert.Single(JsonDocument.Parse(wrong.Output).RootElement.GetProperty("problems").EnumerateArray());
        Assert.Equal((1, "", "error", 1, 7), (wrong.ExitCode, wrong.Errors, problem.GetProperty("severity").GetString(), problem.GetProperty("line").GetInt32(), problem.GetProperty("column").GetInt32()));

        string Text(int line, string name) => lines[line].GetProperty(name).GetString()!;
    }

    [Fact]
    public void A_value_shows_what_it_holds()
    {
        folder.Write("m.ms.md", $"{Fence}csharp prepare\nrecord Hive(string Name, double? Kg, int[] Frames);\nvar first = new Hive(\"Alder\", null, [1, 2]);\nfirst\n{Fence}\n\n{Fence}csharp prepare\nclass Empty {{ public int Count => throw new InvalidOperationException(); public string Name => \"x\"; }}\nvar e = new Empty();\ne\n{Fence}\n");
        var result = FennickCommand.Run(folder.Path, "try", "m.ms.md");
        Assert.Matches("""
            ^prepare line 1  .*
              a `Hive`
                Name    Alder
                Kg      \(none\)
                Frames  2 of Int32\[\]
            prepare line 7  .*
              an `Empty`
                Count  \(InvalidOperationException\)
                Name   x
            $
            """.ReplaceLineEndings("\n"), result.Output);
    }

    [Theory]
    [InlineData("blocks", "\u2580")]
    [InlineData("sixel", "\eP0;1q")]
    [InlineData("files", "f.png")]
    public void A_figure_is_shown_in_the_terminal(string form, string expected)
    {
        folder.Write("m.ms.md", $"{Fence}csharp figure f\nChart.Columns(new[] {{ 1, 2 }}, i => i, i => i)\n{Fence}\n");
        var result = FennickCommand.Run(folder.Path, "try", "m.ms.md", "--figures", form);
        Assert.Contains(expected, result.Output, StringComparison.Ordinal);
        Assert.Equal(form == "files", !result.Output.Contains('\e', StringComparison.Ordinal));
        if (form == "sixel") Assert.Matches(new Regex("\eP0;1q\"1;1;\\d+;\\d+(#\\d+;2;\\d+;\\d+;\\d+)+(#\\d+([?-~]|!\\d+[?-~])+\\$|-)+\e\\\\\n"), result.Output);
        // Blocks of two colours cover the whole width in every line.
        if (form == "blocks") Assert.Single(result.Output.Split('\n').Where(l => l.Contains('\u2580', StringComparison.Ordinal)).Select(l => l.Count(c => c == '\u2580')).Distinct());
        Assert.Contains("/f.png", result.Output, StringComparison.Ordinal);
    }

    [Fact]
    public void A_wide_table_goes_on_below_itself_in_a_narrow_terminal()
    {
        folder.Write("m.ms.md", $"{Fence}csharp table t\nEnumerable.Range(1, 50).Select(i => new {{ Hive = $\"Hive {{i}}\", Valley = \"Coldbrook\", Strain = \"Amber\", Honey = i * 1.5, Wax = i }})\n{Fence}\n");
        var narrow = Command.Run("script", ["-qec", $"stty cols 34; '{Path.Combine(FennickCommand.Folder, "Fennick.Cli")}' try m.ms.md", "/dev/null"], folder.Path, new Dictionary<string, string> { ["FENNICK_CACHE"] = FennickCommand.Cache, ["TERM"] = "dumb" }).Output.Replace("\r", "", StringComparison.Ordinal);
        Assert.Matches(@"(?m)^  Hive +Valley +Strain\n  ─+\n  Hive 1 +Coldbrook +Amber$", narrow);
        Assert.Matches(@"(?m)^  Hive +Honey +Wax\n  ─+\n  Hive 1 +1\.5 +1$", narrow);
        Assert.Contains("The first 40 of 50 rows.", narrow, StringComparison.Ordinal);
        Assert.All(narrow.Split('\n').Where(l => l.StartsWith("  ", StringComparison.Ordinal)), l => Assert.InRange(l.Length, 0, 34));
        // Where nobody looks, all of it is there.
        Assert.Matches(@"(?m)^  Hive 50 +Coldbrook +Amber +75\.0 +50$", FennickCommand.Run(folder.Path, "try", "m.ms.md").Output);
    }

    [Theory]
    [InlineData("short")]
    [InlineData("annual")]
    [InlineData("unit")]
    [InlineData("annex")]
    [InlineData("paper")]
    [InlineData("letter")]
    [InlineData("survey")]
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
