using System.Globalization;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using Fennick.Pictures;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>Changes logos and cover pictures so that they and the words on them can be seen.</summary>
internal static class CoverPictures
{
    // A little more than WCAG 2.2 asks for, since pictures are stored in whole numbers.
    private const double Wanted = 4.55;
    private const int LookedAt = 40_000;

    // The brightest specks do not decide what is behind a line of words.
    private const double Brightest = 0.98;

    /// <summary>A logo in white alone.</summary>
    public static Picture Lighten(Picture logo, IPictureTools tools) => Picture.Of(tools.Tint(logo.Bytes.AsMemory(), 0xFFFFFF))!.WithSvg(null, logo);

    /// <summary>A picture that is just dark enough for words of a colour.</summary>
    public static Picture Darken(Picture cover, Colour words, IPictureTools tools)
    {
        var share = ShareFor(tools.Pixels(cover.Bytes.AsMemory(), LookedAt), words);
        if (share == 0) return cover;
        return Picture.Of(tools.Darken(cover.Bytes.AsMemory(), share))!.WithSvg(cover.Svg is { } svg ? Veiled(svg.ToArray(), share) : null, cover);
    }

    /// <summary>How much black has to lie over pixels until words on them are seen; 0 if they are already, 1 at most.</summary>
    public static double ShareFor(uint[] pixels, Colour words)
    {
        var byBrightness = pixels.Select(p => new Colour((byte)(p >> 16), (byte)(p >> 8), (byte)p)).OrderBy(c => c.Luminance).ToArray();
        if (byBrightness.Length == 0) return 0;
        var bright = byBrightness[(int)((byBrightness.Length - 1) * Brightest)];
        for (var percent = 0; percent < 100; percent++)
        {
            var rest = 1 - (percent / 100.0);
            var behind = new Colour((byte)(bright.Red * rest), (byte)(bright.Green * rest), (byte)(bright.Blue * rest));
            if (Colour.Contrast(words, behind) >= Wanted && behind.Luminance < words.Luminance) return percent / 100.0;
        }
        return 1;
    }

    private static byte[] Veiled(byte[] svg, double share)
    {
        using var reader = XmlReader.Create(new MemoryStream(svg), new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null });
        var drawing = XDocument.Load(reader);
        var ns = drawing.Root!.Name.Namespace;
        var box = ((string?)drawing.Root.Attribute("viewBox"))?.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries);
        var veil = new XElement(ns + "rect", new XAttribute("fill", "#000000"), new XAttribute("fill-opacity", share.ToString("0.##", CultureInfo.InvariantCulture)), new XAttribute("width", "100%"), new XAttribute("height", "100%"));
        if (box is [var x, var y, _, _])
        {
            veil.SetAttributeValue("x", x);
            veil.SetAttributeValue("y", y);
        }
        drawing.Root.Add(veil);
        return Encoding.UTF8.GetBytes(drawing.Root.ToString(SaveOptions.DisableFormatting));
    }
}
