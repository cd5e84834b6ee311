using System.Buffers.Binary;
using Fennick.Diagnostics;
using Fennick.Plots;
using Fennick.Testing;
using NetVips;
using Xunit;
using Picture = Fennick.Pictures.Picture;

namespace Fennick.Manuscripts.Tests;

/// <summary>Pictures in formats that the document does not carry, and pictures that are turned and trimmed.</summary>
public sealed class PictureFormatTests : IDisposable
{
    private const int Red = 0xC03020;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    /// <summary>A red picture of 60 × 40 pixels on white margins of 10.</summary>
    private static Image Framed()
    {
        var red = (Image.Black(60, 40, bands: 3) + new double[] { 0xC0, 0x30, 0x20 }).Cast(Enums.BandFormat.Uchar).Copy(interpretation: Enums.Interpretation.Srgb, xres: 3.937, yres: 3.937);
        return red.Embed(10, 10, 80, 60, extend: Enums.Extend.White);
    }

    private static uint PixelAt(Picture picture, int x, int y) => PictureTools.Instance.Pixels(BytesOf(picture), int.MaxValue)[(y * picture.PixelWidth) + x] & 0xFFFFFF;

    private static byte[] BytesOf(Picture picture)
    {
        using var folder = new TestFolder();
        new Report($"x").Add(picture, "a picture").Save(folder.File("p.docx"));
        var docx = WordClean.Check(folder.File("p.docx"));
        return docx.Bytes(docx.Names.Single(n => n.StartsWith("word/media/", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData(".gif")]
    [InlineData(".webp")]
    [InlineData(".tif")]
    public void Other_formats_become_png(string ending)
    {
        Framed().WriteToFile(folder.File($"p{ending}"));
        var picture = Picture.Read(folder.File($"p{ending}"));
        Assert.Equal((80, 60), (picture.PixelWidth, picture.PixelHeight));
        var pixel = PixelAt(picture, 40, 30);
        Assert.All(new[] { 16, 8, 0 }, shift => Assert.Equal((Red >> shift) & 255, (pixel >> shift) & 255, 8.0));
        Assert.StartsWith("\u0089PNG", System.Text.Encoding.Latin1.GetString(BytesOf(picture)), StringComparison.Ordinal);
        // The resolution of the file is kept where its format has one: 3.937 pixels to the millimetre are 100 to the inch.
        if (ending == ".tif") Assert.Equal(0.8 * 72, picture.Width.Points, 0.1);
    }

    [Theory]
    [InlineData(24)]
    [InlineData(32)]
    public void Bitmaps_become_png(int bits)
    {
        File.WriteAllBytes(folder.File("p.bmp"), Bitmap(3, 2, bits));
        var picture = Picture.Read(folder.File("p.bmp"));
        Assert.Equal((3, 2), (picture.PixelWidth, picture.PixelHeight));
        Assert.Equal((uint)Red, PixelAt(picture, 1, 1));
    }

    [Fact]
    public void What_claims_too_many_pixels_is_refused_and_so_is_what_is_cut_off()
    {
        var huge = Bitmap(3, 2, 24);
        BinaryPrimitives.WriteInt32LittleEndian(huge.AsSpan(18), 60_000);
        BinaryPrimitives.WriteInt32LittleEndian(huge.AsSpan(22), 60_000);
        File.WriteAllBytes(folder.File("huge.bmp"), huge);
        Assert.StartsWith("the picture says that it has 60000 × 60000 pixels", Assert.Throws<ReportException>(() => Picture.Read(folder.File("huge.bmp"))).Diagnostics.Single().Message, StringComparison.Ordinal);
        foreach (var ending in new[] { ".webp", ".tif", ".bmp", ".gif" })
        {
            if (ending == ".bmp") File.WriteAllBytes(folder.File("whole.bmp"), Bitmap(30, 20, 24));
            else Framed().WriteToFile(folder.File($"whole{ending}"));
            var whole = File.ReadAllBytes(folder.File($"whole{ending}"));
            File.WriteAllBytes(folder.File($"cut{ending}"), whole[..(whole.Length / 4)]);
            var told = Record.Exception(() => Picture.Read(folder.File($"cut{ending}"))) is ReportException refused ? refused.Diagnostics.Single() : throw new InvalidOperationException($"The cut {ending} was taken.");
            Assert.Equal(folder.File($"cut{ending}"), told.Place!.File);
        }
        Assert.Equal("the file is no PNG, JPEG, SVG, GIF, TIFF, WebP or BMP picture", Assert.Throws<ReportException>(() => Picture.Read(folder.Write("p.png", "no picture at all"))).Diagnostics.Single().Message);
    }

    [Fact]
    public void A_photograph_is_turned_as_its_camera_was_held()
    {
        var jpeg = Framed().Crop(0, 0, 40, 60).JpegsaveBuffer(q: 95);
        byte[] turned = [.. jpeg[..2], 0xFF, 0xE1, 0, 34, .. "Exif\0\0"u8, .. "MM\0*"u8, 0, 0, 0, 8, 0, 1, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0, .. jpeg[2..]];
        File.WriteAllBytes(folder.File("p.jpg"), turned);
        var picture = Picture.Read(folder.File("p.jpg"));
        Assert.Equal((60, 40), (picture.PixelWidth, picture.PixelHeight));
        // What was at the left is at the top.
        Assert.True(PixelAt(picture, 30, 2) > 0xF0F0F0);
        Assert.True(PixelAt(picture, 30, 38) < 0xF00000);
        Assert.DoesNotContain("Exif", System.Text.Encoding.Latin1.GetString(BytesOf(picture)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(".png")]
    [InlineData(".jpg")]
    public void Margins_are_trimmed(string ending)
    {
        Framed().WriteToFile(folder.File($"p{ending}"));
        var (whole, trimmed) = (Picture.Read(folder.File($"p{ending}")), Picture.Read(folder.File($"p{ending}")).Trimmed());
        // Blocks of a JPEG that hold an edge are of no single colour.
        Assert.InRange(trimmed.PixelWidth, 60, ending == ".jpg" ? 74 : 60);
        Assert.InRange(trimmed.PixelHeight, 40, ending == ".jpg" ? 54 : 40);
        Assert.Equal(whole.Width.Points / whole.PixelWidth, trimmed.Width.Points / trimmed.PixelWidth, 1e-4);
        Framed().Crop(12, 12, 20, 20).WriteToFile(folder.File($"full{ending}"));
        Assert.Equal(20, Picture.Read(folder.File($"full{ending}")).Trimmed().PixelWidth);
    }

    private static byte[] Bitmap(int width, int height, int bits)
    {
        var row = ((width * bits / 8) + 3) / 4 * 4;
        var file = new byte[54 + (row * height)];
        "BM"u8.CopyTo(file);
        foreach (var (at, value) in new[] { (2, file.Length), (10, 54), (14, 40), (18, width), (22, height), (34, row * height) }) BinaryPrimitives.WriteInt32LittleEndian(file.AsSpan(at), value);
        (file[26], file[28]) = (1, (byte)bits);
        for (var y = 0; y < height; y++)
            for (var x = 0; x < width; x++) new byte[] { 0x20, 0x30, 0xC0, 0xFF }.AsSpan(0, bits / 8).CopyTo(file.AsSpan(54 + (y * row) + (x * bits / 8)));
        return file;
    }
}
