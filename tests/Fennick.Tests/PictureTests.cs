using System.Buffers.Binary;
using System.IO.Hashing;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Pictures;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>Pictures carry what shows them and nothing more, and none takes all memory.</summary>
public sealed class PictureTests : IDisposable
{
    private static readonly byte[] Dot = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    private static byte[] Chunk(string type, byte[] content)
    {
        byte[] named = [.. Encoding.ASCII.GetBytes(type), .. content];
        var (length, crc) = (new byte[4], new byte[4]);
        BinaryPrimitives.WriteInt32BigEndian(length, content.Length);
        BinaryPrimitives.WriteUInt32BigEndian(crc, Crc32.HashToUInt32(named));
        return [.. length, .. named, .. crc];
    }

    private static byte[] Jpeg(params byte[][] segments) =>
        [0xFF, 0xD8, 0xFF, 0xE0, 0, 16, .. "JFIF\0"u8, 1, 2, 1, 0, 96, 0, 96, 0, 0, .. segments.SelectMany(s => s), 0xFF, 0xC0, 0, 18, 8, 0, 100, 0, 200, 3, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0xFF, 0xDA, 0, 4, 0, 0, 1, 2, 3, 0xFF, 0xD9];

    private static byte[] Segment(byte marker, byte[] content) => [0xFF, marker, (byte)((content.Length + 2) >> 8), (byte)(content.Length + 2), .. content];

    private byte[] Embedded(byte[] picture, bool keepsMetadata = false) => Embedded(Picture.Of(picture, keepsMetadata)!);

    private byte[] Embedded(Picture picture, string ending = "")
    {
        var path = folder.File("p.docx");
        new Report($"x").Add(picture, "a picture").Save(path);
        var docx = WordClean.Check(path);
        return docx.Bytes(docx.Names.Single(n => n.StartsWith("word/media/", StringComparison.Ordinal) && n.EndsWith(ending, StringComparison.Ordinal)));
    }

    [Fact]
    public void Places_texts_and_times_of_a_png_stay_at_home()
    {
        byte[] tagged = [.. Dot[..33], .. Chunk("tEXt", Encoding.ASCII.GetBytes("Author\0Ann Ash")), .. Chunk("eXIf", [1, 2, 3]), .. Chunk("iTXt", [4]), .. Chunk("tIME", new byte[7]), .. Chunk("pHYs", [0, 0, 0x2E, 0x23, 0, 0, 0x2E, 0x23, 1]), .. Dot[33..]];
        Assert.Equal((byte[])[.. Dot[..33], .. Chunk("pHYs", [0, 0, 0x2E, 0x23, 0, 0, 0x2E, 0x23, 1]), .. Dot[33..]], Embedded(tagged));
        Assert.Equal(tagged, Embedded(tagged, keepsMetadata: true));
    }

    [Fact]
    public void Places_and_comments_of_a_jpeg_stay_at_home_and_how_it_is_turned_is_kept()
    {
        byte[] Exif(byte turn) => Segment(0xE1, [.. "Exif\0\0"u8, .. "II*\0"u8, 8, 0, 0, 0, 2, 0, 0x12, 0x01, 3, 0, 1, 0, 0, 0, turn, 0, 0, 0, 0x25, 0x88, 4, 0, 1, 0, 0, 0, 77, 0, 0, 0, .. "51.5 N 0.1 W"u8]);
        var photo = Embedded(Jpeg(Exif(6), Segment(0xE1, "http://ns.adobe.com/xap/1.0/\0<owner/>"u8.ToArray()), Segment(0xFE, "secret"u8.ToArray()), Segment(0xED, "Photoshop"u8.ToArray()), Segment(0xE2, "ICC_PROFILE\0colours"u8.ToArray())));
        var text = Encoding.Latin1.GetString(photo);
        foreach (var trace in (string[])["51.5", "secret", "owner", "Photoshop"]) Assert.DoesNotContain(trace, text, StringComparison.Ordinal);
        Assert.Contains("ICC_PROFILE", text, StringComparison.Ordinal);
        Assert.True(photo.AsSpan().IndexOf((ReadOnlySpan<byte>)[0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6]) > 0);
        Assert.DoesNotContain("Exif", Encoding.Latin1.GetString(Embedded(Jpeg(Exif(1)))), StringComparison.Ordinal);
    }

    [Fact]
    public void Cut_off_pictures_are_refused_and_so_are_claims_beyond_all_measure()
    {
        for (var length = 45; length < Dot.Length; length++) Assert.Equal("the picture is damaged: it is cut off", Assert.Throws<ReportException>(() => Picture.Of(Dot.AsSpan(0, length))).Diagnostics.Single().Message);
        var photo = Jpeg();
        for (var length = photo.Length - 1; length > photo.Length - 8; length--) Assert.Throws<ReportException>(() => Picture.Of(photo.AsSpan(0, length)));
        byte[] huge = [.. Dot.AsSpan(0, 16), 0, 0, 0xEA, 0x60, 0, 0, 0xEA, 0x60, .. Dot.AsSpan(24)];
        Assert.StartsWith("the picture says that it has 60000 × 60000 pixels", Assert.Throws<ReportException>(() => Picture.Of(huge)).Diagnostics.Single().Message, StringComparison.Ordinal);
        File.WriteAllBytes(folder.File("huge.png"), huge);
        Assert.Equal(folder.File("huge.png"), Assert.Throws<ReportException>(() => Picture.Read(folder.File("huge.png"))).Diagnostics.Single().Place!.File);
    }

    [Theory]
    [InlineData("<svg xmlns=\"http://www.w3.org/2000/svg\"><rect/></svg>", "the drawing does not say how large it is")]
    [InlineData("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"1\" height=\"1\"><rect></svg>", "the drawing is damaged")]
    [InlineData("deep", "the drawing is nested more than 200 deep")]
    public void Drawings_that_cannot_be_drawn_are_refused(string svg, string message)
    {
        if (svg == "deep") svg = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"1\" height=\"1\">" + string.Concat(Enumerable.Repeat("<g>", 100_000)) + string.Concat(Enumerable.Repeat("</g>", 100_000)) + "</svg>";
        Assert.StartsWith(message, Assert.Throws<ReportException>(() => Picture.Read(folder.Write("x.svg", svg), new Drawn())).Diagnostics.Single().Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Drawings_neither_run_nor_fetch_nor_tell_who_made_them()
    {
        var svg = """
            <?xml version="1.0"?><?xml-stylesheet href="https://larkmere.example/x.css"?><!DOCTYPE svg [<!ENTITY e SYSTEM "file:///etc/passwd">]><!-- by Ann -->
            <svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:ink="http://larkmere.example/ink" width="10" height="10" onload="alert(1)" ink:docname="/home/ann/x.svg">
            <metadata>Ann Ash</metadata><script>alert(2)</script><style>@import url(https://larkmere.example/y.css); rect { fill: url(https://larkmere.example/z) }</style>
            <a xlink:href="javascript:alert(3)"><rect id="r" width="5" height="5" fill="url(#g)" onclick="x()"/></a><image href="https://larkmere.example/p.png"/><image href="data:image/png;base64,AAAA"/>
            <use href="#r"/><use href="other.svg#r"/><foreignObject><b xmlns="http://www.w3.org/1999/xhtml">x</b></foreignObject><set attributeName="href" to="javascript:x"/><ink:view/></svg>
            """;
        var picture = Picture.Read(folder.Write("x.svg", svg), new Drawn());
        var clean = Encoding.UTF8.GetString(Embedded(picture, ".svg"));
        foreach (var trace in (string[])["alert", "larkmere", "passwd", "Ann", "ann", "script", "foreignObject", "onclick", "other.svg", "DOCTYPE", "javascript", "stylesheet"]) Assert.DoesNotContain(trace, clean, StringComparison.Ordinal);
        foreach (var kept in (string[])["<rect id=\"r\"", "url(#g)", "data:image/png;base64,AAAA", "<use href=\"#r\""]) Assert.Contains(kept, clean, StringComparison.Ordinal);
    }

    private sealed class Drawn : IPictureTools
    {
        public byte[] Draw(ReadOnlyMemory<byte> svg, int width, int height) => Dot;

        public uint[] Pixels(ReadOnlyMemory<byte> picture, int most) => [];

        public byte[] Tint(ReadOnlyMemory<byte> picture, int rgb) => Dot;

        public byte[] Darken(ReadOnlyMemory<byte> picture, double share) => Dot;

        public byte[] Convert(ReadOnlyMemory<byte> picture) => Dot;

        public byte[] Upright(ReadOnlyMemory<byte> picture) => picture.ToArray();

        public byte[] Trim(ReadOnlyMemory<byte> picture) => Dot;
    }
}
