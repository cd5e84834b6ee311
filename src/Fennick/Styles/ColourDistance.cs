namespace Fennick.Styles;

/// <summary>How far apart two colours are for the eye.</summary>
internal static class ColourDistance
{
    // Machado, Oliveira & Fernandes (2009), "A Physiologically-based Model for Simulation of Color Vision Deficiency", severity 1.0, in linear light.
    private static readonly double[] Protanopia = [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998];
    private static readonly double[] Deuteranopia = [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.011820, 0.042940, 0.968881];

    /// <summary>The least of the distances in normal sight, protanopia and deuteranopia.</summary>
    public static double Least(Colour one, Colour other) =>
        Math.Min(Between(one, other), Math.Min(Distance(Lab(Linear(one), Protanopia), Lab(Linear(other), Protanopia)), Distance(Lab(Linear(one), Deuteranopia), Lab(Linear(other), Deuteranopia))));

    /// <summary>The distance in normal sight.</summary>
    public static double Between(Colour one, Colour other) => Distance(Lab(Linear(one), null), Lab(Linear(other), null));

    private static (double R, double G, double B) Linear(Colour colour) => (colour.LinearRed, colour.LinearGreen, colour.LinearBlue);

    /// <summary>CIE L*a*b* for the white of D65.</summary>
    private static (double L, double A, double B) Lab((double R, double G, double B) light, double[]? seen)
    {
        var (r, g, b) = light;
        if (seen is not null)
        {
            (r, g, b) = ((seen[0] * r) + (seen[1] * g) + (seen[2] * b), (seen[3] * r) + (seen[4] * g) + (seen[5] * b), (seen[6] * r) + (seen[7] * g) + (seen[8] * b));
            (r, g, b) = (Math.Clamp(r, 0, 1), Math.Clamp(g, 0, 1), Math.Clamp(b, 0, 1));
        }
        var x = F(((0.4124564 * r) + (0.3575761 * g) + (0.1804375 * b)) / 0.95047);
        var y = F((0.2126729 * r) + (0.7151522 * g) + (0.0721750 * b));
        var z = F(((0.0193339 * r) + (0.1191920 * g) + (0.9503041 * b)) / 1.08883);
        return ((116 * y) - 16, 500 * (x - y), 200 * (y - z));

        static double F(double t) => t > 216.0 / 24389 ? Math.Cbrt(t) : ((24389.0 / 27 * t) + 16) / 116;
    }

    /// <summary>CIEDE2000 (Sharma, Wu &amp; Dalal, Color Research &amp; Application 30, 2005).</summary>
    internal static double Distance((double L, double A, double B) one, (double L, double A, double B) other)
    {
        var meanChroma = (Math.Sqrt((one.A * one.A) + (one.B * one.B)) + Math.Sqrt((other.A * other.A) + (other.B * other.B))) / 2;
        var g = 0.5 * (1 - Math.Sqrt(Seventh(meanChroma)));
        var (a1, a2) = (one.A * (1 + g), other.A * (1 + g));
        var (c1, c2) = (Math.Sqrt((a1 * a1) + (one.B * one.B)), Math.Sqrt((a2 * a2) + (other.B * other.B)));
        var (h1, h2) = (Hue(a1, one.B), Hue(a2, other.B));
        var (dl, dc) = (other.L - one.L, c2 - c1);
        var turn = c1 * c2 == 0 ? 0 : Math.Abs(h2 - h1) <= 180 ? h2 - h1 : h2 - h1 > 180 ? h2 - h1 - 360 : h2 - h1 + 360;
        var dh = 2 * Math.Sqrt(c1 * c2) * Math.Sin(Radians(turn / 2));
        var (l, c) = ((one.L + other.L) / 2, (c1 + c2) / 2);
        var h = c1 * c2 == 0 ? h1 + h2 : Math.Abs(h1 - h2) <= 180 ? (h1 + h2) / 2 : h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
        var t = 1 - (0.17 * Math.Cos(Radians(h - 30))) + (0.24 * Math.Cos(Radians(2 * h))) + (0.32 * Math.Cos(Radians((3 * h) + 6))) - (0.20 * Math.Cos(Radians((4 * h) - 63)));
        var rotation = -2 * Math.Sqrt(Seventh(c)) * Math.Sin(Radians(60 * Math.Exp(-Math.Pow((h - 275) / 25, 2))));
        var sl = 1 + (0.015 * (l - 50) * (l - 50) / Math.Sqrt(20 + ((l - 50) * (l - 50))));
        var (sc, sh) = (1 + (0.045 * c), 1 + (0.015 * c * t));
        return Math.Sqrt((dl / sl * (dl / sl)) + (dc / sc * (dc / sc)) + (dh / sh * (dh / sh)) + (rotation * (dc / sc) * (dh / sh)));
    }

    private static double Seventh(double chroma) => Math.Pow(chroma, 7) is var power ? power / (power + 6_103_515_625) : 0;

    private static double Hue(double a, double b) => a == 0 && b == 0 ? 0 : (Math.Atan2(b, a) * 180 / Math.PI + 360) % 360;

    private static double Radians(double degrees) => degrees * Math.PI / 180;
}
