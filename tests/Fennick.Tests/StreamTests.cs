using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Pictures;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>Reports go into streams, and what they need comes from them.</summary>
public sealed class StreamTests : IDisposable
{
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static Report Report() => new Report("A title").Heading("First").Text("Words, and a note.[^a]\n\n[^a]: The note.").Add(Chart.Columns([1, 2], v => $"c{v}", v => v), caption: "A figure");

    [Fact]
    public async Task A_stream_gets_the_bytes_of_the_file_and_stays_open()
    {
        Report().Save(folder.File("report.docx"));
        var bytes = File.ReadAllBytes(folder.File("report.docx"));
        using var plain = new OneWay();
        plain.WriteByte(7);
        Assert.Empty(Report().Write(plain));
        Assert.Equal([7, .. bytes], plain.Written);
        using var later = new OneWay { OnlyLater = true };
        await Report().Build().WriteAsync(later, TestContext.Current.CancellationToken);
        Assert.Equal(bytes, later.Written);
        Report().Build().Save(folder.File("built.docx"));
        Assert.Equal(bytes, File.ReadAllBytes(folder.File("built.docx")));
        WordClean.Check(folder.File("built.docx"));
    }

    [Fact]
    public async Task A_report_with_errors_and_one_that_is_not_wanted_write_nothing()
    {
        using var stream = new OneWay();
        Assert.Contains("there is no label `x`", Assert.Throws<ReportException>(() => new Report().Text($"See {See("x")}.").Write(stream)).Message, StringComparison.Ordinal);
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => Report().Build().WriteAsync(stream, new CancellationToken(canceled: true)));
        Assert.Empty(stream.Written);
    }

    [Fact]
    public void A_house_and_a_picture_come_from_streams_as_from_files()
    {
        House.Heron.SaveAsFile(folder.File("house.docx"));
        using var house = File.OpenRead(folder.File("house.docx"));
        var report = Report();
        report.House = House.Read(house);
        report.Save(folder.File("streamed.docx"));
        var same = Report();
        same.House = House.Read(folder.File("house.docx"));
        same.Save(folder.File("read.docx"));
        Assert.Equal(File.ReadAllBytes(folder.File("read.docx")), File.ReadAllBytes(folder.File("streamed.docx")));
        WordClean.Check(folder.File("streamed.docx"), inForeignHouse: true);
        Assert.StartsWith("upload:1:1: error: the file is not a word-processor document", Assert.Throws<ReportException>(() => House.Read(new MemoryStream([1, 2, 3]), "upload")).Message, StringComparison.Ordinal);

        var png = Repository.PathOf("docs", "screenshots", "apiary.png");
        using var picture = File.OpenRead(png);
        var read = Picture.Read(picture);
        Assert.Equal(Picture.Read(png).PixelWidth, read.PixelWidth);
        Assert.Contains("holds no PNG", Assert.Throws<ReportException>(() => Picture.Read(new MemoryStream([1, 2, 3]))).Message, StringComparison.Ordinal);
    }

    /// <summary>A stream as a network has it: it goes one way, and perhaps never blocks.</summary>
    private sealed class OneWay : Stream
    {
        private readonly MemoryStream written = new();

        public bool OnlyLater { get; init; }

        public byte[] Written => written.ToArray();

        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => throw new NotSupportedException();

        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

        public override void Flush()
        {
        }

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count)
        {
            if (OnlyLater) throw new InvalidOperationException("Writing blocks here.");
            written.Write(buffer, offset, count);
        }

        public override ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
        {
            cancellationToken.ThrowIfCancellationRequested();
            written.Write(buffer.Span);
            return ValueTask.CompletedTask;
        }

        protected override void Dispose(bool disposing)
        {
            written.Dispose();
            base.Dispose(disposing);
        }
    }
}
