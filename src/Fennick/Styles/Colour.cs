using System.Globalization;

namespace Fennick.Styles;

/// <summary>A colour of the screen (sRGB, IEC 61966-2-1).</summary>
internal readonly record struct Colour(byte Red, byte Green, byte Blue)
{
    public static Colour White { get; } = new(255, 255, 255);

    /// <summary>Reads six hexadecimal digits, with or without <c>#</c>.</summary>
    /// <returns>Null if they are none.</returns>
    public static Colour? Parse(string? text)
    {
        var digits = text is ['#', ..] ? text[1..] : text;
        return digits is { Length: 6 } && int.TryParse(digits, NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out var value)
            ? new Colour((byte)(value >> 16), (byte)(value >> 8), (byte)value) : null;
    }

    /// <summary>Its brightness in the terms of WCAG 2.2, from 0 to 1.</summary>
    public double Luminance => (0.2126 * LinearRed) + (0.7152 * LinearGreen) + (0.0722 * LinearBlue);

    /// <summary>Its parts in linear light, from 0 to 1.</summary>
    public double LinearRed => Linear(Red);

    public double LinearGreen => Linear(Green);

    public double LinearBlue => Linear(Blue);

    /// <summary>Half the sum of the strongest and the weakest of its parts, from 0 to 1.</summary>
    public double Lightness => (Math.Max(Red, Math.Max(Green, Blue)) + Math.Min(Red, Math.Min(Green, Blue))) / 510.0;

    /// <summary>Its hue from 0 to 360, its saturation and its lightness from 0 to 1.</summary>
    public (double Hue, double Saturation, double Lightness) Hsl
    {
        get
        {
            var (r, g, b) = (Red / 255.0, Green / 255.0, Blue / 255.0);
            var (high, low) = (Math.Max(r, Math.Max(g, b)), Math.Min(r, Math.Min(g, b)));
            var (range, lightness) = (high - low, (high + low) / 2);
            if (range == 0) return (0, 0, lightness);
            var hue = high == r ? ((g - b) / range + 6) % 6 : high == g ? ((b - r) / range) + 2 : ((r - g) / range) + 4;
            return (hue * 60, range / (1 - Math.Abs((2 * lightness) - 1)), lightness);
        }
    }

    /// <summary>The contrast of two colours in the terms of WCAG 2.2, from 1 to 21.</summary>
    public static double Contrast(Colour one, Colour other)
    {
        var (light, dark) = (Math.Max(one.Luminance, other.Luminance), Math.Min(one.Luminance, other.Luminance));
        return (light + 0.05) / (dark + 0.05);
    }

    public static Colour FromHsl(double hue, double saturation, double lightness)
    {
        hue = ((hue % 360) + 360) % 360;
        (saturation, lightness) = (Math.Clamp(saturation, 0, 1), Math.Clamp(lightness, 0, 1));
        var chroma = (1 - Math.Abs((2 * lightness) - 1)) * saturation;
        var second = chroma * (1 - Math.Abs((hue / 60 % 2) - 1));
        var (r, g, b) = (int)(hue / 60) switch { 0 => (chroma, second, 0.0), 1 => (second, chroma, 0.0), 2 => (0.0, chroma, second), 3 => (0.0, second, chroma), 4 => (second, 0.0, chroma), _ => (chroma, 0.0, second) };
        var lift = lightness - (chroma / 2);
        return new Colour(ToByte(r + lift), ToByte(g + lift), ToByte(b + lift));
    }

    public Colour WithLightness(double lightness) => FromHsl(Hsl.Hue, Hsl.Saturation, lightness);

    /// <summary>The same colour, deepened until it stands out from a background as text must.</summary>
    public Colour ReadableOn(Colour background, double contrast = 4.5)
    {
        var (hue, saturation, lightness) = Hsl;
        var colour = this;
        while (Contrast(colour, background) < contrast && lightness > 0)
        {
            lightness = Math.Max(0, lightness - 0.01);
            colour = FromHsl(hue, saturation, lightness);
        }
        return colour;
    }

    /// <summary>How the theme says that this is a darker form of another colour: a share of 255 as two hexadecimal digits.</summary>
    public string ShadeOf(Colour other) => ((int)Math.Round(255 * Lightness / other.Lightness)).ToString("X2", CultureInfo.InvariantCulture);

    public override string ToString() => $"{Red:X2}{Green:X2}{Blue:X2}";

    private static byte ToByte(double share) => (byte)Math.Clamp(Math.Round(share * 255), 0, 255);

    private static double Linear(byte part)
    {
        var share = part / 255.0;
        return share <= 0.04045 ? share / 12.92 : Math.Pow((share + 0.055) / 1.055, 2.4);
    }
}
