using System.IO.Compression;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

public sealed class FileTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void Folders_are_made_and_nothing_else_is_left_behind()
    {
        new Report("A").Save(folder.File("new/deep/report.docx"));
        WordClean.Check(folder.File("new/deep/report.docx"));
        Assert.Equal([folder.File("new/deep/report.docx")], Directory.GetFiles(folder.Path, "*", SearchOption.AllDirectories));
    }

    [Fact]
    public async Task A_document_can_be_read_from_the_moment_it_is_there()
    {
        using var isOver = new CancellationTokenSource();
        new Report("A").Save(folder.File("a.docx"));
        var readings = Task.Run(() =>
        {
            var count = 0;
            for (; !isOver.IsCancellationRequested; count++)
                using (var archive = ZipFile.OpenRead(folder.File("a.docx"))) Assert.NotNull(archive.GetEntry("word/document.xml"));
            return count;
        }, TestContext.Current.CancellationToken);
        for (var i = 0; i < 100; i++) new Report("A").Save(folder.File("a.docx"));
        await isOver.CancelAsync();
        Assert.True(await readings > 100);
    }

    [Fact]
    public void A_link_keeps_pointing_to_the_new_document()
    {
        new Report("Old").Save(folder.File("real.docx"));
        File.CreateSymbolicLink(folder.File("link.docx"), folder.File("real.docx"));
        new Report("New").Save(folder.File("link.docx"));
        Assert.NotNull(new FileInfo(folder.File("link.docx")).LinkTarget);
        Assert.Equal("New", WordClean.Check(folder.File("real.docx")).Paragraphs[0]);
    }

    [Fact]
    public void A_place_that_cannot_be_written_is_told_and_nothing_is_left_behind()
    {
        Directory.CreateDirectory(folder.File("taken.docx"));
        var problem = Assert.Throws<ReportException>(() => new Report("A").Save(folder.File("taken.docx")));
        Assert.StartsWith($"{folder.File("taken.docx")}:1:1: error: the document cannot be written here", problem.Message, StringComparison.Ordinal);
        Assert.Empty(Directory.GetFiles(folder.Path));
    }

    [Fact]
    public void The_package_is_plain_and_its_time_stamps_are_the_reports_date()
    {
        var path = folder.File("report.docx");
        new Report("A") { Date = new DateOnly(2025, 11, 3) }.Save(path);
        using var zip = ZipFile.OpenRead(path);
        Assert.All(zip.Entries, e => Assert.Equal(new DateTime(2025, 11, 3), e.LastWriteTime.DateTime));
        Assert.Equal("2025-11-03T00:00:00Z", WordClean.Check(path).Xml("docProps/core.xml").Root!.Elements().Single(e => e.Name.LocalName == "created").Value);
    }

    [Fact]
    public void Reports_are_written_from_many_threads_at_once()
    {
        Parallel.For(0, 40, i => new Report($"Report {i}").Text($"Value {i}").Save(folder.File($"{i}.docx")));
        for (var i = 0; i < 40; i++) Assert.Equal([$"Report {i}", $"Value {i}"], WordClean.Check(folder.File($"{i}.docx")).Paragraphs);
    }
}
