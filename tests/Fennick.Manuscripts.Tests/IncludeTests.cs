using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Manuscripts of several files: what is included, code from scripts, settings of the call.</summary>
public sealed class IncludeTests : IDisposable
{
    private const string Fence = "```";
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Write(string text, params (string Key, string Value)[] with)
    {
        var result = Manuscript.Open(folder.Write("report.ms.md", text), with.ToDictionary(w => w.Key, w => w.Value)).Write();
        return WordClean.Check(result.Path);
    }

    private string Fail(string text, params (string Key, string Value)[] with) => Assert.Throws<ReportException>(() => Write(text, with)).Message.Replace(folder.Path + "/", "", StringComparison.Ordinal);

    private static string Step(string info, string code) => $"{Fence}csharp {info}\n{code}\n{Fence}\n\n";

    [Fact]
    public void An_included_manuscript_joins_the_program_with_its_parameters_and_pictures()
    {
        Directory.CreateDirectory(folder.File("parts"));
        File.Copy(Repository.PathOf("docs", "screenshots", "harvest.png"), folder.File("parts/p.png"));
        folder.Write("parts/methods.ms.md", $"{Fence}manuscript\ntitle: Not this one\nparameter year: 2025\nusing: System.Text\n{Fence}\n\n# Methods of {{year}}[^n]\n\n![Picture](p.png)\n\n[^n]: Note of {{n}}.\n\n" + Step("prepare", "var twice = new StringBuilder().Append(n * 2).ToString();"));
        folder.Write("parts/after.ms.md", "And {twice}.");
        var docx = Write(Step("prepare", "var n = 4;") + "Before.\n\n{include parts/methods.ms.md}\n\n{for each x in new[] { 1, 2 }}\n{include parts/after.ms.md}\n{end}");
        Assert.Equal(["Before.", "Methods of 2025*", "", "And 8.", "And 8."], docx.Paragraphs);
        Assert.Equal([" Note of 4."], docx.Notes);
        Assert.Single(docx.Body.Descendants(Docx.Wp + "inline"));
    }

    [Fact]
    public void Mistakes_in_included_files_are_told_there()
    {
        folder.Write("a.ms.md", "Text.\n\n{for each x in new[] { 1 }}\n\n" + Step("prepare", "int k = \"text\";") + "{x.Nothing}\n{end}");
        var message = Fail("{include a.ms.md}");
        Assert.Contains("a.ms.md:6:9: error: cannot implicitly convert type 'string' to 'int'", message, StringComparison.Ordinal);
        Assert.Contains("a.ms.md:9:4: error: `int` has no member `Nothing`", message, StringComparison.Ordinal);
        folder.Write("b.ms.md", "One.\n\n" + Step("prepare", "var a = 1;\nvar b = int.Parse(\"x\");"));
        Assert.Contains("b.ms.md:5:", Fail("{include b.ms.md}"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("{include missing.ms.md}", "report.ms.md:1:1: error: missing.ms.md cannot be read: there is no such file")]
    [InlineData("{include report.ms.md}", "report.ms.md:1:1: error: `report.ms.md` includes itself, right here")]
    [InlineData("{include loop.ms.md}", "loop.ms.md:1:1: error: `report.ms.md` includes itself, by way of what it includes")]
    [InlineData("{include open.ms.md}\n{end}", "open.ms.md:1:1: error: `{if true}` has no end")]
    [InlineData("{include bytes.ms.md}", "bytes.ms.md:1:1: error: the file is not UTF-8 (byte 1); save it as UTF-8")]
    [InlineData("Text {include loop.ms.md} text", "report.ms.md:1:6: error: `{include loop.ms.md}` does not stand alone on its line")]
    public void What_cannot_be_included_is_told(string text, string message)
    {
        folder.Write("loop.ms.md", "{include report.ms.md}");
        folder.Write("open.ms.md", "{if true}\ntext");
        File.WriteAllBytes(folder.File("bytes.ms.md"), [65, 0xFF, 65]);
        Assert.Contains(message, Fail(text), StringComparison.Ordinal);
    }

    [Fact]
    public void Steps_take_their_code_from_a_script_or_a_region_of_it()
    {
        folder.Write("analysis.cs", "#region load\nvar kg = new[] { 24.5, 19.5 };\n#endregion\n\n#region fit\n#region inner\nvar mean = kg.Average();\n#endregion\nmean\n#endregion\n");
        folder.Write("other.cs", "var more = kg.Length;");
        Assert.Equal(["Mean 22, 2.", "22"], Write(Step("prepare", "from: analysis.cs#load") + Step("prepare", "from: analysis.cs#fit\n=>")
            + Step("prepare", "from: other.cs") + "Mean {mean}, {more}.\n\n{mean}").Paragraphs);
    }

    [Theory]
    [InlineData("from: analysis.cs#fti", "report.ms.md:2:7: error: `analysis.cs` has no region `fti`; did you mean `fit`?")]
    [InlineData("from: analysys.cs", "report.ms.md:2:7: error: analysys.cs cannot be read: there is no such file; did you mean `analysis.cs`?")]
    [InlineData("from: analysis.cs#fit\n=>\nvar more = 1;", "report.ms.md:4:1: error: this step has code of its own beside that of `analysis.cs#fit`")]
    [InlineData("from: analysis.cs#fit", "analysis.cs:2:9: error: cannot implicitly convert type 'string' to 'int'")]
    public void Mistakes_in_scripts_are_told(string head, string message)
    {
        folder.Write("analysis.cs", "#region fit\nint k = \"a\";\n#endregion");
        Assert.Contains(message, Fail(Step("prepare", head)), StringComparison.Ordinal);
    }

    [Fact]
    public void Settings_of_the_call_count_instead_of_the_manuscripts()
    {
        const string text = Fence + "manuscript\nlanguage: en-GB\nlisting: hidden\nparameter n: 1\n" + Fence + "\n\n{1.5} {n}\n\n" + Fence + "csharp prepare\nvar x = 1;\n" + Fence;
        Assert.Equal(["1,5 1", "var x = 1;"], Write(text, ("language", "de"), ("listing", "shown")).Paragraphs);
        Assert.Contains("--with listing=maybe: error: `maybe` is neither `shown` nor `hidden`", Fail(text, ("listing", "maybe")), StringComparison.Ordinal);
        Assert.Contains("--with listin=shown: error: `listin` is not a setting; did you mean `listing`?", Fail(text, ("listin", "shown")), StringComparison.Ordinal);
    }
}
