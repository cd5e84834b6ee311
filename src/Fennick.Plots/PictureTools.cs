using Fennick.Diagnostics;
using Fennick.Pictures;
using NetVips;
using SkiaSharp;

namespace Fennick.Plots;

/// <summary>Draws SVG, and looks at and changes the pixels of PNG and JPEG pictures.</summary>
public sealed class PictureTools : IPictureTools
{
    private const int JpegQuality = 90;

    // How far a margin's colours may be apart, of 255: what a JPEG makes of one colour.
    private const double TrimThreshold = 20;

    // A logo whose own colours are as light as this is light already.
    private const double Light = 0.85;

    private PictureTools()
    {
    }

    /// <summary>The only one there is; it holds nothing.</summary>
    public static PictureTools Instance { get; } = new();

    /// <summary>The figure of a plot object of the plotting package; null if it is none.</summary>
    /// <param name="plot">Any object.</param>
    public static IDrawnFigure? FigureOf(object plot)
    {
        ArgumentNullException.ThrowIfNull(plot);
        // The package is large and loads only where a plot is there.
        return plot.GetType().Namespace == "ScottPlot" ? PlotFigure.Find(plot) : null;
    }

    /// <inheritdoc/>
    public byte[] Draw(ReadOnlyMemory<byte> svg, int width, int height)
    {
        return Telling(() =>
        {
            using var drawn = Image.ThumbnailBuffer(svg.ToArray(), width, height: height, size: Enums.Size.Force);
            return drawn.PngsaveBuffer();
        });
    }

    /// <inheritdoc/>
    public byte[] Convert(ReadOnlyMemory<byte> picture) => Telling(() =>
    {
        // The one library reads no BMP, the other no TIFF.
        if (picture.Span.StartsWith("BM"u8)) return ConvertBitmap(picture);
        using var read = Image.NewFromBuffer(picture.ToArray(), failOn: Enums.FailOn.Truncated);
        Picture.CheckPixels(read.Width, read.Height);
        using var upright = read.Autorot();
        using var colours = upright.Colourspace(Enums.Interpretation.Srgb);
        using var bytes = colours.Cast(Enums.BandFormat.Uchar);
        return bytes.PngsaveBuffer(keep: Enums.ForeignKeep.None);
    });

    private static byte[] ConvertBitmap(ReadOnlyMemory<byte> picture)
    {
        using var data = SKData.CreateCopy(picture.Span);
        using var codec = SKCodec.Create(data) ?? throw Damaged(null);
        Picture.CheckPixels(codec.Info.Width, codec.Info.Height);
        using var bitmap = new SKBitmap(codec.Info);
        if (codec.GetPixels(bitmap.Info, bitmap.GetPixels()) != SKCodecResult.Success) throw Damaged(null);
        using var png = bitmap.Encode(SKEncodedImageFormat.Png, 100);
        return png.ToArray();
    }

    /// <inheritdoc/>
    public byte[] Upright(ReadOnlyMemory<byte> picture) => Telling(() =>
    {
        using var read = Image.NewFromBuffer(picture.ToArray(), failOn: Enums.FailOn.Truncated);
        using var upright = read.Autorot();
        return upright.JpegsaveBuffer(q: JpegQuality, keep: Enums.ForeignKeep.Icc);
    });

    /// <inheritdoc/>
    public byte[] Trim(ReadOnlyMemory<byte> picture) => Telling(() =>
    {
        using var whole = Open(picture);
        double[] corner = whole.Getpoint(0, 0);
        using var onPaper = whole.HasAlpha() ? whole.Flatten(background: corner.Length > 3 && corner[3] == 0 ? [255] : corner[..3]) : whole.Copy();
        var box = onPaper.FindTrim(threshold: TrimThreshold, background: onPaper.Getpoint(0, 0));
        if (box[2] is 0 || box[3] is 0) return picture.ToArray();
        using var trimmed = whole.Crop((int)box[0], (int)box[1], (int)box[2], (int)box[3]);
        return picture.Span.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8]) ? trimmed.JpegsaveBuffer(q: JpegQuality, keep: Enums.ForeignKeep.Icc) : trimmed.PngsaveBuffer(keep: Enums.ForeignKeep.Icc);
    });

    /// <inheritdoc/>
    public uint[] Pixels(ReadOnlyMemory<byte> picture, int most) => Telling(() => PixelsOf(picture, most));

    /// <summary>The pixels of a PNG or JPEG picture on white, brought to a size: row by row, each as <c>0xFFRRGGBB</c>.</summary>
    /// <param name="picture">The picture's file.</param>
    /// <param name="width">How many pixels a row has.</param>
    /// <param name="height">How many rows there are.</param>
    public static uint[] PixelsOnPaper(ReadOnlyMemory<byte> picture, int width, int height) => Telling(() =>
    {
        using var whole = Open(picture);
        using var onPaper = whole.HasAlpha() ? whole.Flatten(background: [255]) : whole.Copy();
        using var sized = onPaper.ThumbnailImage(width, height: height, size: Enums.Size.Force);
        using var colours = sized.Cast(Enums.BandFormat.Uchar);
        var bytes = colours.WriteToMemory<byte>();
        return Enumerable.Range(0, width * height).Select(i => 0xFF000000 | ((uint)bytes[i * 3] << 16) | ((uint)bytes[(i * 3) + 1] << 8) | bytes[(i * 3) + 2]).ToArray();
    });

    private static uint[] PixelsOf(ReadOnlyMemory<byte> picture, int most)
    {
        using var whole = Open(picture);
        var scale = Math.Min(1, Math.Sqrt(most / ((double)whole.Width * whole.Height)));
        using var small = scale < 1 ? whole.Resize(scale) : whole.Copy();
        var bytes = small.WriteToMemory<byte>();
        var bands = small.Bands;
        var pixels = new uint[bytes.Length / bands];
        for (var i = 0; i < pixels.Length; i++)
        {
            var pixel = bytes.AsSpan(i * bands, bands);
            pixels[i] = ((bands > 3 ? pixel[3] : 255u) << 24) | ((uint)pixel[0] << 16) | ((uint)pixel[1] << 8) | pixel[2];
        }
        return pixels;
    }

    /// <inheritdoc/>
    public byte[] Tint(ReadOnlyMemory<byte> picture, int rgb) => Telling(() => Tinted(picture, rgb));

    private static byte[] Tinted(ReadOnlyMemory<byte> picture, int rgb)
    {
        using var whole = Open(picture);
        var bytes = whole.WriteToMemory<byte>();
        var bands = whole.Bands;
        var opacity = new double[bytes.Length / bands];
        var lightness = new double[opacity.Length];
        for (var i = 0; i < opacity.Length; i++)
        {
            var pixel = bytes.AsSpan(i * bands, bands);
            opacity[i] = bands > 3 ? pixel[3] / 255.0 : 1;
            lightness[i] = ((0.2126 * pixel[0]) + (0.7152 * pixel[1]) + (0.0722 * pixel[2])) / 255;
        }
        // What is light in a dark logo is its ground and lets the dark through; the darkest parts become the one colour.
        var darkest = lightness.Zip(opacity).Where(p => p.Second > 0.5).Select(p => p.First).DefaultIfEmpty(0).Min();
        var isLight = darkest > Light;
        var result = new byte[opacity.Length * 4];
        for (var i = 0; i < opacity.Length; i++)
        {
            var share = isLight ? 1 : Math.Clamp(1.6 * (1 - lightness[i]) / (1 - darkest), 0, 1);
            (result[i * 4], result[(i * 4) + 1], result[(i * 4) + 2]) = ((byte)(rgb >> 16), (byte)(rgb >> 8), (byte)rgb);
            result[(i * 4) + 3] = (byte)Math.Round(255 * opacity[i] * share);
        }
        using var tinted = Image.NewFromMemory(result, whole.Width, whole.Height, 4, Enums.BandFormat.Uchar).Copy(interpretation: Enums.Interpretation.Srgb);
        return tinted.PngsaveBuffer();
    }

    /// <inheritdoc/>
    public byte[] Darken(ReadOnlyMemory<byte> picture, double share) => Telling(() => Darkened(picture, share));

    private static byte[] Darkened(ReadOnlyMemory<byte> picture, double share)
    {
        using var whole = Open(picture);
        double[] factors = [1 - share, 1 - share, 1 - share, .. whole.Bands > 3 ? new[] { 1.0 } : []];
        using var dark = whole.Linear(factors, new double[factors.Length]).Cast(Enums.BandFormat.Uchar);
        return picture.Span.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8]) ? dark.JpegsaveBuffer(q: JpegQuality) : dark.PngsaveBuffer();
    }

    /// <summary>Does something with a picture; what the library says of a damaged one is told in the user's words.</summary>
    private static T Telling<T>(Func<T> work)
    {
        try
        {
            return work();
        }
        catch (VipsException problem)
        {
            throw Damaged(problem);
        }
    }

    private static ReportException Damaged(Exception? problem)
    {
        var told = Diagnostic.Error(null, "the picture is damaged, or of a kind that cannot be drawn", "save it anew in the program that made it");
        return problem is null ? new ReportException(told) : new ReportException([told], problem);
    }

    /// <summary>A picture in three or four bands of sRGB.</summary>
    private static Image Open(ReadOnlyMemory<byte> picture)
    {
        using var read = Image.NewFromBuffer(picture.ToArray());
        using var colours = read.Colourspace(Enums.Interpretation.Srgb);
        return colours.Cast(Enums.BandFormat.Uchar);
    }
}
