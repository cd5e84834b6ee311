using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>What is written almost right is told at its place with what was meant, and never reaches the reader.</summary>
public sealed class MisspeltTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Theory]
    [InlineData("{csharp table x}", "write `csharp table x`")]
    [InlineData("C# table x", "write `csharp table x`")]
    [InlineData("csharp,table x", "write `csharp table x`")]
    [InlineData("csx", "write `csharp` for a listing, or `csharp prepare` for a step")]
    [InlineData("cs", "write `csharp` for a listing, or `csharp prepare` for a step")]
    [InlineData("CSharp", "write `csharp` for a listing, or `csharp prepare` for a step")]
    [InlineData("table x", "write `csharp table x`")]
    [InlineData("text verdict", "write `csharp text verdict`")]
    [InlineData("prepare", "write `csharp prepare`")]
    [InlineData("figure", "write `csharp figure`")]
    [InlineData("prepere", "did you mean `csharp prepare`?")]
    [InlineData("figrue honey", "did you mean `csharp figure honey`?")]
    [InlineData("mansucript", "did you mean `manuscript`?")]
    [InlineData("python table x", "write the name of its language alone, `python`; a step begins with `csharp`")]
    [InlineData("json {1,2}", "write the name of its language alone, `json`; a step begins with `csharp`")]
    [InlineData("csharp tabel x", "did you mean `table`?")]
    public void A_fence_that_was_meant_to_be_a_step_is_no_listing(string info, string suggestion)
    {
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("wrong.ms.md", $"Text.\n\n```{info}\n1 + 1\n```\n")).Write());
        Assert.Equal((3, suggestion), (problem.Diagnostics[0].Place!.Line, problem.Diagnostics[0].Suggestion));
    }

    [Theory]
    [InlineData("text")]
    [InlineData("python")]
    [InlineData("fsharp")]
    [InlineData("css")]
    [InlineData("sh")]
    [InlineData("c++")]
    [InlineData("tex")]
    [InlineData("")]
    public void A_fence_in_another_language_is_a_listing(string info) =>
        Assert.Equal("1 + 1", WordClean.Check(Manuscript.Open(folder.Write("listing.ms.md", $"```{info}\n1 + 1\n```\n")).Write().Path).AllText.Trim());

    [Theory]
    [InlineData("{page brake}", "did you mean `{page break}`?")]
    [InlineData("{list of tabels}", "did you mean `{list of tables}`?")]
    [InlineData("{colums 1 1}", "did you mean `{columns 1 1}`?")]
    [InlineData("In a sentence {sea honey}.", "did you mean `{see honey}`?")]
    [InlineData("Two {page nummer}.", "did you mean `{page number}`?")]
    [InlineData("# Heading {lable x}", "did you mean `{label x}`?")]
    [InlineData("# Heading {unnumbered}", "write that, or `{(unnumbered)}` if a value is meant")]
    [InlineData("{contants}", "did you mean `{contents}`?")]
    [InlineData("{two words}", "write an expression, or `\\{` for a brace")]
    public void A_misspelt_word_in_braces_names_the_nearest(string text, string suggestion) =>
        Assert.Contains(suggestion, Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("words.ms.md", text)).Write()).Diagnostics.Select(d => d.Suggestion));

    [Fact]
    public void An_end_whose_beginning_is_misspelt_names_it()
    {
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("end.ms.md", "{lanscape}\n\nText.\n\n{end}\n")).Write());
        Assert.Contains(problem.Diagnostics, d => d is { Message: "`{lanscape}` begins nothing", Suggestion: "did you mean `{landscape}`?", Place.Line: 1 });
    }

    [Theory]
    [InlineData("{new string('a', 3)}", "aaa")]
    [InlineData("{typeof(int).Name}", "Int32")]
    [InlineData("{from x in new[] { 1, 2 } select x:list and}", "1 and 2")]
    [InlineData("{1 is 1:}", null)]
    [InlineData("{\"a\" as object}", "a")]
    public void An_expression_of_several_words_is_one(string text, string? expected)
    {
        string Written() => WordClean.Check(Manuscript.Open(folder.Write("words.ms.md", text)).Write().Path).AllText;
        if (expected is null) Assert.Throws<ReportException>(Written);
        else Assert.Equal(expected, Written());
    }

    [Theory]
    [InlineData("```csharp table x\n=>\nTable.WithHeads(\"A\").Row(1)\n```\n", "odd.ms.md:2:1: error: nothing stands before `=>`; write the settings of the step before it, such as `caption: …`, or leave it out")]
    [InlineData("```csharp prepare\nvar n = 1;\nusing var s = new MemoryStream();\n```\n\n{s.Length}\n", "odd.ms.md:3:1: error: a step cannot keep a variable by `using`: what it declares lives on for the steps and the prose after it; write `using (var x = …) { … }`, or `var x = …` if something later needs it")]
    [InlineData("Text\n\n```csharp prepare\nvar x = 1;\n\nMore {x}\n", "odd.ms.md:3:1: error: this fence has no end; close it with a line of 3 backticks")]
    [InlineData("~~~~csharp prepare\nvar x = 1;\n```\n", "odd.ms.md:1:1: error: this fence has no end; close it with a line of 4 tildes")]
    [InlineData("{new DateOnly(2025, 1, 2):N0} {\"abc\":0.0}\n\n{3:yyyy} {TimeSpan.FromHours(1):0.0}\n", "odd.ms.md:1:2: error: `N0` is not a format for a date; dates take forms like `d MMMM yyyy` or `yyyy-MM-dd`\nodd.ms.md:1:32: error: `0.0` is not a format for a text; leave the format out, or write one for texts such as `upper`\nodd.ms.md:3:2: error: `yyyy` is not a format for a whole number; numbers take forms like `0.0`, `#,0` or `percent 1`\nodd.ms.md:3:11: error: `0.0` is not a format for a time; times take forms like `HH:mm`, durations like `hh\\:mm`")]
    [InlineData("{page brake}\n\n{lanscape}\n\nx\n\n{end}\n", "odd.ms.md:1:1: error: `{page brake}` is neither an expression nor anything that Fennick knows; did you mean `{page break}`?\nodd.ms.md:3:1: error: `{lanscape}` begins nothing; did you mean `{landscape}`?")]
    public void A_slip_is_told_at_its_own_place_in_words(string text, string errors)
    {
        var path = folder.Write("odd.ms.md", text);
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(path).Write());
        Assert.Equal(errors, string.Join('\n', problem.Diagnostics.Select(d => d.ToString().Replace(path, "odd.ms.md", StringComparison.Ordinal))));
    }

    [Theory]
    [InlineData("RegressionTable t = null!;\nt.Drop(\"x\");", "`Drop` is now `Without` (CS0619)")]
    [InlineData("var t = OutcomesTable.Of(\"x\");", "`OutcomesTable` is now `EstimatesTable` (CS0619)")]
    [InlineData("RegressionFit f = null!;\n_ = f.AveragePredictions(\"x\");", "`AveragePredictions` is now `PredictedMeans` (CS0619)")]
    public void An_old_name_tells_its_new_one(string code, string message)
    {
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("old.ms.md", $"```csharp prepare\n{code}\n```\n")).Write());
        Assert.Equal(message, Assert.Single(problem.Diagnostics).Message);
    }
}
