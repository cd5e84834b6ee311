using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>Formats that a manuscript brings itself, in settings and in steps.</summary>
public sealed class OwnFormatTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void They_hold_in_braces_tables_charts_and_included_manuscripts()
    {
        folder.Write("more.ms.md", "```manuscript\nformat share: percent 1\n```\n\nOf them {0.255:share}, {24.46:weight} each.\n");
        var docx = Write("""
            ```manuscript
            language: de
            format weight: number 1 | unit kg
            ```

            ```csharp prepare
            Formats.Add("grade", (value, argument, language) => $"{(Convert.ToDouble(value) >= 30 ? "A" : argument)} ({language.Tag})");
            var rows = new[] { (Name: "Amber", Honey: 24.46), (Name: "Dusk", Honey: 31.5) };
            ```

            {24.46:weight} is {24.46:grade B}.

            {include more.ms.md}

            ```csharp table
            Table.Of(rows).Column("Strain", r => r.Name).Column("Honey", r => r.Honey, "weight").Column("Grade", r => r.Honey, "grade C")
            ```

            ```csharp figure
            Chart.Columns(rows, r => r.Name, r => r.Honey).Format("weight").WithValues()
            ```
            """);
        Assert.Contains("24,5 kg is B (de-DE).", docx.AllText.Replace('\u00A0', ' '), StringComparison.Ordinal);
        Assert.Contains("Of them 25,5 %, 24,5 kg each.", docx.AllText.Replace('\u00A0', ' '), StringComparison.Ordinal);
        Assert.Equal(["31,5 kg", "A (de-DE)"], docx.Tables.Single()[^1][1..].Select(t => t.Replace('\u00A0', ' ')));
        Assert.Contains("#,##0.0", docx.Xml("word/charts/chart1.xml").ToString(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("format Weight: number 1", "{1.5:0.0}", "wrong.ms.md:2:16: error: `Weight` cannot be the name of a format")]
    [InlineData("format weight: nmber 1", "{1.5:0.0}", "wrong.ms.md:2:16: error: `nmber 1` is not a format for any value; did you mean `number 1`?")]
    [InlineData("format percent: 0.0", "{1.5:0.0}", "wrong.ms.md:2:17: error: there is a format `percent` already")]
    [InlineData("format weight: number 1", "{1.5:wieght}", "wrong.ms.md:5:2: error: `wieght` is not a format for any value; did you mean `weight`?")]
    [InlineData("format weight: number 1", "{1.5:weight 2}", "wrong.ms.md:5:2: error: `weight` cannot take `2`")]
    public void What_is_wrong_with_them_is_told_at_its_place(string setting, string text, string message)
    {
        var path = folder.Write("wrong.ms.md", $"```manuscript\n{setting}\n```\n\n{text}\n");
        var told = string.Join('\n', Told(path));
        Assert.Contains(message, told.Replace(folder.Path + "/", "", StringComparison.Ordinal), StringComparison.Ordinal);
    }

    [Fact]
    public void A_check_knows_the_formats_that_steps_bring_and_no_others()
    {
        var path = folder.Write("steps.ms.md", "```csharp prepare\nFormats.Add(\"grade\", (v, a, l) => a);\n```\n\n{1.5:grade B} {1.5:grde B}\n");
        Assert.EndsWith("steps.ms.md:5:16: error: `grde B` is not a format for any value; did you mean `grade B`?", Assert.Single(Told(path)), StringComparison.Ordinal);
    }

    [Fact]
    public void One_that_fails_or_is_brought_outside_a_manuscript_is_told()
    {
        var path = folder.Write("fails.ms.md", "```csharp prepare\nFormats.Add(\"grade\", (v, a, l) => throw new InvalidOperationException(\"no grade\"));\n```\n\n{1.5:grade}\n");
        Assert.Contains("fails.ms.md:5:2: error: `grade` failed for the number 1.5: no grade (InvalidOperationException)", string.Join('\n', Told(path)), StringComparison.Ordinal);
        Assert.Contains("no manuscript runs here", Assert.Throws<ReportException>(() => Formats.Add("grade", (v, a, l) => a)).Message, StringComparison.Ordinal);
    }

    private static string[] Told(string path)
    {
        try
        {
            var manuscript = Manuscript.Open(path);
            return manuscript.Check().Diagnostics is { Length: > 0 } found ? [.. found.Select(d => d.ToString())] : [.. manuscript.Write().Diagnostics.Select(d => d.ToString())];
        }
        catch (ReportException problem)
        {
            return [.. problem.Diagnostics.Select(d => d.ToString())];
        }
    }

    private Docx Write(string manuscript) => WordClean.Check(Manuscript.Open(folder.Write("own.ms.md", manuscript)).Write().Path);
}
