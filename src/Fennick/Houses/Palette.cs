using System.Collections.Immutable;
using Fennick.Styles;

namespace Fennick.Houses;

/// <summary>The colours that follow from one: its deep form, its tint, and others that stand apart from it in hue and in lightness, for those who do not see hues too.</summary>
internal static class Palette
{
    // Turns of the hue and the lightness of the second to the sixth colour of a chart.
    private static readonly (double Turn, double Saturation, double Lightness)[] Companions = [(28, 0.55, 0.60), (190, 0.30, 0.38), (-40, 0.45, 0.42), (0, 0.10, 0.56), (185, 0.28, 0.76)];

    // How near two colours are in hue, in degrees, when one derives from the other; and in lightness when they cannot be told apart.
    private const double NearHue = 14;
    private const double NearLightness = 0.12;
    private const double Grey = 0.08;

    /// <summary>The colours of a house with another accent: what derives from the old one follows, and its other colours stay, but for one that could not be told from the new accent.</summary>
    /// <param name="own">The house's colours.</param>
    /// <param name="accent">The new accent.</param>
    public static ImmutableDictionary<ThemeColour, string> With(ImmutableDictionary<ThemeColour, string> own, Colour accent)
    {
        var made = From(accent);
        if (Colour.Parse(own.GetValueOrDefault(ThemeColour.Accent1)) is not { } old) return made;
        var isOldFree = !AreAlike(old, accent);
        var colours = made.ToBuilder();
        foreach (var key in made.Keys.Where(k => k != ThemeColour.Accent1).Order())
        {
            if (Colour.Parse(own.GetValueOrDefault(key)) is not { } colour || Derives(colour, old)) continue;
            if (key is < ThemeColour.Accent2 or > ThemeColour.Accent6 || !AreAlike(colour, accent)) colours[key] = colour.ToString();
            else if (isOldFree) (colours[key], isOldFree) = (old.ToString(), false);
        }
        return colours.ToImmutable();
    }

    /// <summary>Whether a colour is one of another's hue.</summary>
    public static bool Derives(Colour colour, Colour from) =>
        colour.Hsl.Saturation >= Grey && from.Hsl.Saturation >= Grey ? Apart(colour, from) <= NearHue : colour.Hsl.Saturation < Grey && from.Hsl.Saturation < Grey;

    private static bool AreAlike(Colour one, Colour other) => Derives(one, other) && Math.Abs(one.Lightness - other.Lightness) < NearLightness;

    private static double Apart(Colour one, Colour other) => Math.Abs(one.Hsl.Hue - other.Hsl.Hue) is var turn && turn > 180 ? 360 - turn : turn;

    /// <summary>The colours of a theme made from its accent.</summary>
    public static ImmutableDictionary<ThemeColour, string> From(Colour accent)
    {
        var (hue, saturation, _) = accent.Hsl;
        // A grey has no hue to turn.
        var companions = Companions.Select(c => saturation < Grey ? Colour.FromHsl(0, 0, c.Lightness) : Colour.FromHsl(hue + c.Turn, Math.Min(c.Saturation, saturation + 0.1), c.Lightness)).ToArray();
        var strong = Colour.FromHsl(hue, Math.Min(saturation, 0.6), Math.Min(accent.Lightness, 0.24)).ReadableOn(Colour.White, 7);
        return new Dictionary<ThemeColour, string>
        {
            [ThemeColour.StrongText] = strong.ToString(),
            [ThemeColour.Tint] = Colour.FromHsl(hue, Math.Min(saturation, 0.35), 0.955).ToString(),
            [ThemeColour.Accent1] = accent.ToString(),
            [ThemeColour.Accent2] = companions[0].ToString(),
            [ThemeColour.Accent3] = companions[1].ToString(),
            [ThemeColour.Accent4] = companions[2].ReadableOn(Colour.White).ToString(),
            [ThemeColour.Accent5] = companions[3].ToString(),
            [ThemeColour.Accent6] = companions[4].ToString(),
            [ThemeColour.Link] = accent.ReadableOn(Colour.White, 5).ToString(),
            [ThemeColour.FollowedLink] = strong.ToString(),
        }.ToImmutableDictionary();
    }
}
