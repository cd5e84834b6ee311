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
    [InlineData("RegressionTable t = null!;\nt.Drop(\"x\");", "`Drop` is now `Without` (CS0619)")]
    [InlineData("var t = OutcomesTable.Of(\"x\");", "`OutcomesTable` is now `EstimatesTable` (CS0619)")]
    [InlineData("RegressionFit f = null!;\n_ = f.AveragePredictions(\"x\");", "`AveragePredictions` is now `PredictedMeans` (CS0619)")]
    public void An_old_name_tells_its_new_one(string code, string message)
    {
        var problem = Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("old.ms.md", $"```csharp prepare\n{code}\n```\n")).Write());
        Assert.Equal(message, Assert.Single(problem.Diagnostics).Message);
    }
}
