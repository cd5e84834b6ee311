using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Pictures;
using Fennick.Tables;
using Fennick.Testing;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Tests;

/// <summary>What readers who cannot see a report have of it.</summary>
public sealed class AccessibilityTests : IDisposable
{
    private static readonly byte[] Dot = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");

    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static Picture Picture => Picture.Of(Dot)!;

    [Fact]
    public void A_picture_without_words_is_told_and_an_ornament_is_marked()
    {
        var report = new Report("Hives").Add(Picture, "", caption: $"One").Add(Picture, "A dot").Add(Picture, "decorative").Add(Chart.Columns(new[] { 1, 2 }, i => i, i => i))
            .Add(Table.WithHeads("A").Row(TableCell.Of(new RichText([new PictureInline(Picture, "")]))));
        var warnings = report.Save(folder.File("pictures.docx"));
        Assert.Equal(["the picture has no alternative text, for readers who cannot see it", "the picture has no alternative text, for readers who cannot see it"], warnings.Select(w => w.Message));
        Assert.Matches(@"^AccessibilityTests\.cs:\d+:1: warning: ", warnings[0].ToString());
        var docx = Docx.Open(folder.File("pictures.docx"));
        var drawings = docx.Body.Descendants(Wp + "docPr").ToArray();
        Assert.Equal(["", "A dot", "", null, ""], drawings.Select(d => (string?)d.Attribute("descr") is { Length: > 7 } ? null : (string?)d.Attribute("descr")));
        new Report("Hives").Add(Picture, "decorative").Save(folder.File("ornament.docx"));
        WordClean.Check(folder.File("ornament.docx"));
        Assert.Equal([false, false, true, false, false], drawings.Select(d => d.Descendants().Any(e => e.Name.LocalName == "decorative" && (string?)e.Attribute("val") == "1")));
    }

    [Fact]
    public void A_level_of_headings_that_is_missing_is_told()
    {
        var warnings = new Report("Hives").Heading($"One").Heading($"Two", 3).Heading($"Three", 2).Heading($"Four").Heading($"Five", 2).Save(folder.File("levels.docx"));
        Assert.Equal("the heading \"Two\" of level 3 follows one of level 1", Assert.Single(warnings).Message);
        // A report may begin at any level.
        Assert.Empty(new Report("Hives").Heading($"One", 2).Heading($"Two", 3).Save(folder.File("levels.docx")));
    }

    [Fact]
    public void A_strict_report_is_not_written_while_anything_is_open()
    {
        var strict = new ReportSettings { IsStrict = true };
        var open = new Report { Settings = strict }.Heading($"One").Heading($"Two", 3).Add(Picture, " ").Add(new Table { Columns = [new(Alignment.Left)], Rows = [new TableRow([TableCell.Of(1)])] });
        var problem = Assert.Throws<ReportException>(() => open.Save(folder.File("strict.docx")));
        Assert.Equal(
            ["the report has no title, by which its window and its file are known", "the heading \"Two\" of level 3 follows one of level 1", "the picture has no alternative text, for readers who cannot see it", "the table has no header, by which its columns are known"],
            problem.Diagnostics.Select(d => d.Message));
        Assert.False(File.Exists(folder.File("strict.docx")));
        Assert.Empty(new Report("Hives") { Settings = strict }.Heading($"One").Heading($"Two", 2).Add(Picture, "A dot").Add(Table.WithHeads("A").Row(1)).Save(folder.File("strict.docx")));
    }
}
