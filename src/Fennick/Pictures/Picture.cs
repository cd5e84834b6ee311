using System.Buffers.Binary;
using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Pictures;

/// <summary>A picture in one of the formats that word processors show: PNG, JPEG, or SVG with a PNG beside it.</summary>
public sealed class Picture
{
    private const double DefaultDotsPerInch = 96;
    private const string Known = "PNG, JPEG, SVG, GIF, TIFF, WebP or BMP";

    private const long MostPixels = 150_000_000;
    private const long LargestFile = 100 << 20;

    // The longer side of the picture beside a drawing.
    private const double DrawnPixels = 1600;

    private Picture(ImmutableArray<byte> bytes, string extension, int width, int height, double dotsPerInch)
    {
        Bytes = bytes;
        Extension = extension;
        PixelWidth = width;
        PixelHeight = height;
        Width = Length.Inches(width / dotsPerInch);
        Height = Length.Inches(height / dotsPerInch);
    }

    /// <summary>Its width in pixels.</summary>
    public int PixelWidth { get; }

    /// <summary>Its height in pixels.</summary>
    public int PixelHeight { get; }

    /// <summary>Its width on paper at its own resolution, or at 96 pixels to the inch if it names none.</summary>
    public Length Width { get; }

    /// <summary>Its height on paper.</summary>
    public Length Height { get; }

    internal ImmutableArray<byte> Bytes { get; }

    /// <summary>The drawing in SVG that the picture was made from.</summary>
    internal ImmutableArray<byte>? Svg { get; private init; }

    /// <summary>The same picture beside a drawing, at the size of another.</summary>
    internal Picture WithSvg(byte[]? svg, Picture size) => new(Bytes, Extension, PixelWidth, PixelHeight, PixelWidth / (size.Width.Points / 72)) { Svg = svg is null ? null : [.. svg] };

    /// <summary>"png" or "jpeg".</summary>
    internal string Extension { get; }

    /// <summary>Reads a picture from a file.</summary>
    /// <param name="path">A PNG, JPEG, SVG, GIF, TIFF, WebP or BMP file.</param>
    /// <param name="tools">What draws SVG, turns photographs upright and converts what is neither PNG nor JPEG, such as <c>PictureTools.Instance</c> of Fennick.Plots; that of the package where it is beside this one if null.</param>
    /// <param name="keepsMetadata">Whether the report carries all that the file holds, such as the place where a photograph was taken; else what shows the picture and nothing more.</param>
    /// <exception cref="ReportException">The file cannot be read, is damaged, or is of another format.</exception>
    public static Picture Read(string path, IPictureTools? tools = null, bool keepsMetadata = false)
    {
        try
        {
            var full = FilesRead.Note(path);
            if (new FileInfo(full) is { Exists: true, Length: > LargestFile }) throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), $"the picture's file is larger than {LargestFile >> 20} MB", "save it with fewer pixels"));
            var bytes = File.ReadAllBytes(full);
            return Find(bytes, path, tools, keepsMetadata) ?? throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), $"the file is no {Known} picture", "convert it to one of them"));
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the picture cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
        catch (ReportException problem) when (problem.Diagnostics.All(d => d.Place is null))
        {
            throw new ReportException(problem.Diagnostics.Select(d => d with { Place = new SourcePlace(path, 0, 0) }), problem);
        }
    }

    /// <summary>Reads a picture from a stream.</summary>
    /// <param name="stream">The bytes of such a file, from where the stream stands to its end.</param>
    /// <param name="tools">What draws and converts, as for files.</param>
    /// <param name="keepsMetadata">Whether the report carries all that the file holds; else what shows the picture and nothing more.</param>
    /// <exception cref="ReportException">The picture is damaged, or is of another format.</exception>
    public static Picture Read(Stream stream, IPictureTools? tools = null, bool keepsMetadata = false)
    {
        var bytes = StreamBytes.Read(stream, LargestFile, "picture");
        return Find(bytes, "picture", tools, keepsMetadata) ?? throw new ReportException(Diagnostic.Error(null, $"the stream holds no {Known} picture", "convert it to one of them"));
    }

    /// <summary>A picture from its bytes.</summary>
    /// <param name="bytes">The bytes of a file.</param>
    /// <param name="keepsMetadata">Whether all that they hold stays; else what shows the picture and nothing more.</param>
    /// <returns>Null if they are neither PNG nor JPEG.</returns>
    /// <exception cref="ReportException">The picture is cut off, or has more pixels than any page shows.</exception>
    public static Picture? Of(ReadOnlySpan<byte> bytes, bool keepsMetadata = false) => ReadPng(bytes, keepsMetadata) ?? ReadJpeg(bytes, keepsMetadata);

    /// <summary>The same picture without the empty margins around it: all that has the colour of its corner.</summary>
    /// <param name="tools">What looks at its pixels; that of Fennick.Plots where it is beside this package if null.</param>
    /// <exception cref="ReportException">It is a drawing in SVG, or nothing is there that can change pictures.</exception>
    public Picture Trimmed(IPictureTools? tools = null)
    {
        if (Svg is not null) throw new ReportException(Diagnostic.Error(null, "a drawing in SVG cannot be trimmed", "set its `viewBox`, or save it as PNG"));
        var trimmed = Of(PictureToolsBeside.Need(tools, "trim pictures").Trim(Bytes.AsMemory()))!;
        return new Picture(trimmed.Bytes, Extension, trimmed.PixelWidth, trimmed.PixelHeight, PixelWidth / (Width.Points / 72));
    }

    /// <summary>A picture of any format that is known; null if it is none.</summary>
    private static Picture? Find(byte[] bytes, string path, IPictureTools? tools, bool keepsMetadata)
    {
        if (!keepsMetadata && PictureCleaner.IsTurned(bytes) && (tools ?? PictureToolsBeside.Find()) is { } turning)
        {
            _ = Of(bytes);
            bytes = turning.Upright(bytes);
        }
        if ((Of(bytes, keepsMetadata) ?? OfSvg(bytes, path, tools)) is { } picture) return picture;
        return IsConvertible(bytes) ? Of(PictureToolsBeside.Need(tools, "convert pictures").Convert(bytes)) : null;
    }

    /// <summary>Whether it begins as GIF, TIFF, WebP or BMP files do.</summary>
    private static bool IsConvertible(ReadOnlySpan<byte> bytes) =>
        bytes.StartsWith("GIF8"u8) || bytes.StartsWith("II*\0"u8) || bytes.StartsWith("MM\0*"u8) || (bytes.StartsWith("BM"u8) && bytes.Length > 54) || (bytes.Length > 12 && bytes.StartsWith("RIFF"u8) && bytes[8..].StartsWith("WEBP"u8));

    /// <summary>A drawing of our own with a picture of it beside it.</summary>
    internal static Picture Drawn(string svg, Length width, Length height, int dotsPerInch, IPictureTools tools)
    {
        var bytes = System.Text.Encoding.UTF8.GetBytes(svg);
        var (across, down) = ((int)Math.Round(width.Points / 72 * dotsPerInch), (int)Math.Round(height.Points / 72 * dotsPerInch));
        CheckPixels(across, down);
        var drawn = Of(tools.Draw(bytes, Math.Max(1, across), Math.Max(1, down)))!;
        return new Picture(drawn.Bytes, drawn.Extension, drawn.PixelWidth, drawn.PixelHeight, dotsPerInch) { Svg = [.. bytes] };
    }

    /// <summary>Refuses what claims more pixels than any page shows, before any of them are read.</summary>
    /// <exception cref="ReportException">It claims too many.</exception>
    public static void CheckPixels(int width, int height)
    {
        if ((long)width * height > MostPixels) throw new ReportException(Diagnostic.Error(null, $"the picture says that it has {width} × {height} pixels, more than any page shows", "save it with fewer pixels"));
    }

    /// <summary>A drawing with a picture of it beside it, for readers that know no SVG (SVG 2, §8.2).</summary>
    private static Picture? OfSvg(byte[] bytes, string path, IPictureTools? tools)
    {
        if (SvgCleaner.Clean(bytes) is not { } clean) return null;
        bytes = clean;
        if (SvgSize.Of(bytes) is not { } size) throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "the drawing does not say how large it is", "give its root element `width` and `height`, or a `viewBox`"));
        tools = PictureToolsBeside.Need(tools, "draw SVG");
        var scale = Math.Min(DrawnPixels / Math.Max(size.Width, size.Height), 8);
        return Of(tools.Draw(bytes, Math.Max(1, (int)(size.Width * scale)), Math.Max(1, (int)(size.Height * scale)))) is { } drawn
            ? new Picture(drawn.Bytes, drawn.Extension, drawn.PixelWidth, drawn.PixelHeight, DefaultDotsPerInch * drawn.PixelWidth / size.Width) { Svg = [.. bytes] } : null;
    }

    // PNG specification, third edition, §5.2, §11.2.1 and §11.3.4.3.
    private static Picture? ReadPng(ReadOnlySpan<byte> bytes, bool keepsMetadata)
    {
        if (bytes.Length < 33 || !bytes.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A])) return null;
        var (width, height) = (BinaryPrimitives.ReadInt32BigEndian(bytes[16..]), BinaryPrimitives.ReadInt32BigEndian(bytes[20..]));
        if (width <= 0 || height <= 0) return null;
        CheckPixels(width, height);
        var resolution = DefaultDotsPerInch;
        for (var at = 8; at + 12 <= bytes.Length;)
        {
            var length = BinaryPrimitives.ReadInt32BigEndian(bytes[at..]);
            if (length < 0 || at + 12 + (long)length > bytes.Length || bytes.Slice(at + 4, 4).SequenceEqual("IDAT"u8)) break;
            if (length == 9 && bytes.Slice(at + 4, 4).SequenceEqual("pHYs"u8) && bytes[at + 16] == 1)
                resolution = BinaryPrimitives.ReadInt32BigEndian(bytes[(at + 8)..]) * 0.0254;
            at += 12 + length;
        }
        var clean = PictureCleaner.CleanPng(bytes);
        return new Picture(keepsMetadata ? [.. bytes] : [.. clean], "png", width, height, resolution >= 1 ? resolution : DefaultDotsPerInch);
    }

    // ITU-T T.81, annex B, and the density of the JFIF header (ITU-T T.871, §10.1).
    private static Picture? ReadJpeg(ReadOnlySpan<byte> bytes, bool keepsMetadata)
    {
        if (bytes.Length < 4 || bytes[0] != 0xFF || bytes[1] != 0xD8) return null;
        var resolution = DefaultDotsPerInch;
        for (var at = 2; at + 9 < bytes.Length && bytes[at] == 0xFF;)
        {
            var marker = bytes[at + 1];
            var length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            if (marker == 0xE0 && length >= 14 && bytes.Slice(at + 4, 4).SequenceEqual("JFIF"u8) && at + 16 < bytes.Length)
            {
                var density = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 12)..]);
                if (density > 1) resolution = bytes[at + 11] switch { 1 => density, 2 => density * 2.54, _ => resolution };
            }
            if (marker is >= 0xC0 and <= 0xCF and not (0xC4 or 0xC8 or 0xCC))
            {
                var (height, width) = (BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 5)..]), BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 7)..]));
                if (width <= 0 || height <= 0) return null;
                CheckPixels(width, height);
                var clean = PictureCleaner.CleanJpeg(bytes);
                return new Picture(keepsMetadata ? [.. bytes] : [.. clean], "jpeg", width, height, resolution);
            }
            if (length < 2) return null;
            at += 2 + length;
        }
        return null;
    }
}
