using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Manuscripts.Tests;

/// <summary>What manuscripts set off from the text.</summary>
public sealed class BoxTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private Docx Write(string manuscript) => WordClean.Check(Manuscript.Open(folder.Write("m.ms.md", manuscript)).Write().Path);

    private string Fail(string manuscript) => Assert.Throws<ReportException>(() => Manuscript.Open(folder.Write("m.ms.md", manuscript)).Write()).Message;

    [Fact]
    public void Boxes_stand_in_loops_and_hold_values_loops_and_steps()
    {
        var docx = Write("{for each n in new[] { 1, 2 }}\n{box: Part}\nHolds {n}.\n\n{for each m in new[] { \"a\", \"b\" }}\n- {m}{n}\n{end}\n\n```csharp table t-{n}\ncaption: T\n=>\nnew[] { new { N = n } }\n```\n{end box}\n{end for}\n\nSee {see t-2}.");
        Assert.Equal(["Part", "Holds 1.", "a1", "b1", "Table\u00A01. T", "N", "1", ""], docx.Body.Elements(Docx.W + "tbl").First().Descendants(Docx.W + "p").Select(Docx.Text));
        Assert.Equal("See Table\u00A02.", docx.Paragraphs[^1]);
    }

    [Fact]
    public void A_cover_is_asked_for_by_a_setting_and_a_last_page_ends_the_report()
    {
        var docx = Write("```manuscript\ntitle: The hives\ncover: yes\n```\n\nThe body.\n\n{last page}\nWrite to us.\n{end}");
        Assert.Equal(["The hives", "Write to us."], docx.Body.Elements(Docx.W + "tbl").Select(t => string.Concat(t.Descendants(Docx.W + "t").Select(x => x.Value))));
        Assert.Equal(3, docx.Body.Descendants(Docx.W + "sectPr").Count());
    }

    [Fact]
    public void Key_figures_come_from_a_step_as_well()
    {
        var docx = Write("{box key figures}\n```csharp table\nnew[] { new { What = \"Hives\", Number = 1236 }, new { What = \"Apiaries\", Number = 14 } }\n```\n{end}");
        Assert.Equal(["Hives", "1236", "Apiaries", "14"], docx.Body.Descendants(Docx.W + "tc").SelectMany(c => c.Elements(Docx.W + "p")).Select(Docx.Text));
    }

    [Theory]
    [InlineData("{box key figures}\nWords.\n{end}", "m.ms.md:1:1: error: `{box key figures}` takes a table and nothing else")]
    [InlineData("{box}\nWords.", "m.ms.md:1:1: error: `{box}` has no end")]
    [InlineData("{box}\nWords.\n{end columns}", "m.ms.md:3:1: error: `{end columns}` does not end `{box}`; write `{end}` or `{end box}`")]
    [InlineData("{pull quote}\nWords.\n{end box}", "`{end box}` does not end `{pull quote}`; write `{end}` or `{end pull quote}`")]
    [InlineData("{pul quote}\nWords.\n{end}", "did you mean `{pull quote}`?")]
    [InlineData("{boks note}\nWords.\n{end}", "did you mean `{box note}`?")]
    [InlineData("{box}\n{page break}\n{end}", "a box cannot hold pages, columns or page breaks")]
    public void What_is_wrong_with_a_box_is_told_at_its_place(string manuscript, string message) => Assert.Contains(message, Fail(manuscript), StringComparison.Ordinal);
}
