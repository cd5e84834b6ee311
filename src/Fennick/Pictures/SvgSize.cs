using System.Globalization;
using System.Xml;

namespace Fennick.Pictures;

/// <summary>The size of a drawing in SVG.</summary>
/// <param name="Width">Its width in pixels of 1/96 inch.</param>
/// <param name="Height">Its height.</param>
internal readonly record struct SvgSize(double Width, double Height)
{
    /// <summary>Reads the size: what the drawing says, or else the extent of its coordinates.</summary>
    /// <returns>Null if it is no SVG, or says no size.</returns>
    public static SvgSize? Of(byte[] bytes)
    {
        try
        {
            using var reader = XmlReader.Create(new MemoryStream(bytes), new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null });
            if (reader.MoveToContent() != XmlNodeType.Element || reader.LocalName != "svg") return null;
            var box = (reader.GetAttribute("viewBox") ?? "").Split([' ', ','], StringSplitOptions.RemoveEmptyEntries);
            var (width, height) = (Read(reader.GetAttribute("width")), Read(reader.GetAttribute("height")));
            if (box is [_, _, var w, var h] && Read(w) is { } boxWidth && Read(h) is { } boxHeight)
            {
                width ??= height is { } tall ? tall * boxWidth / boxHeight : boxWidth;
                height ??= width * boxHeight / boxWidth;
            }
            return width is { } wide && height is { } high ? new SvgSize(wide, high) : null;
        }
        catch (XmlException)
        {
            return null;
        }
    }

    private static double? Read(string? length)
    {
        var text = (length ?? "").Trim();
        var number = text.TrimEnd("pxtcmin%".ToCharArray());
        if (text.EndsWith('%') || !double.TryParse(number, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) || value <= 0 || !double.IsFinite(value)) return null;
        return value * text[number.Length..] switch { "pt" => 96 / 72.0, "cm" => 96 / 2.54, "mm" => 96 / 25.4, "in" => 96, _ => 1 };
    }
}
