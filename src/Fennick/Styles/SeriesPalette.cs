using System.Collections.Immutable;
using System.Runtime.CompilerServices;

namespace Fennick.Styles;

/// <summary>The colours of the series of charts: the accents of a house, as light or dark as it takes for neighbours to be told apart, by those too who do not see all colours.</summary>
internal static class SeriesPalette
{
    /// <summary>How many colours there are before they begin anew.</summary>
    public const int Count = 6;

    /// <summary>The least contrast of what shows data with the paper (WCAG 2.2, 1.4.11).</summary>
    public const double LeastContrast = 3;

    /// <summary>The least distance of neighbours (CIEDE2000).</summary>
    public const double LeastDistance = 15;

    private const double Lightest = 0.60;
    private const double Darkest = 0.12;
    private const double LightnessStep = 0.02;

    private static readonly ConditionalWeakTable<ImmutableDictionary<ThemeColour, string>, SeriesColour[]> Known = [];

    /// <summary>The colours of a house, in the order of the series.</summary>
    public static IReadOnlyList<SeriesColour> Of(HouseDesign house) => Known.GetValue(house.Colours, Make);

    private static SeriesColour[] Make(ImmutableDictionary<ThemeColour, string> colours)
    {
        var chosen = new List<SeriesColour>();
        var left = Enumerable.Range(0, Count).Select(i => ThemeColour.Accent1 + i).ToList();
        while (left.Count > 0)
        {
            var best = left.SelectMany((accent, place) => Forms(accent, Colour.Parse(colours[accent])!.Value).Select(f => (Form: f, Cost: Cost(f, chosen) + (place * 4)))).MinBy(c => c.Cost).Form;
            chosen.Add(best);
            left.Remove(best.Accent);
        }
        return [.. chosen];
    }

    /// <summary>An accent as it is, if it can be seen, and in every lightness that can.</summary>
    private static IEnumerable<SeriesColour> Forms(ThemeColour accent, Colour own)
    {
        var deep = own.ReadableOn(Colour.White, LeastContrast);
        yield return SeriesColour.Of(accent, own, deep.Lightness, 0);
        for (var lightness = Darkest; lightness <= Lightest; lightness += LightnessStep)
        {
            var form = SeriesColour.Of(accent, own, lightness, Math.Abs(lightness - deep.Lightness));
            if (Colour.Contrast(form.Seen, Colour.White) >= LeastContrast) yield return form;
        }
    }

    /// <summary>What speaks against a form: how far it is from the house's own colour, and above all how near to its neighbours.</summary>
    private static double Cost(SeriesColour form, List<SeriesColour> before)
    {
        var cost = form.Change * 40;
        for (var i = 0; i < before.Count; i++)
        {
            var wanted = i == before.Count - 1 ? LeastDistance + 1 : LeastDistance * 0.6;
            var lack = wanted - ColourDistance.Least(form.Seen, before[i].Seen);
            if (lack > 0) cost += lack * (i == before.Count - 1 ? 1000 : 10);
        }
        return cost;
    }
}

/// <summary>The colour of a series.</summary>
/// <param name="Accent">The accent of the theme.</param>
/// <param name="Seen">The colour as it is seen.</param>
/// <param name="Modulation">Its lightness as a share of the accent's, in thousandths of a hundredth.</param>
/// <param name="Offset">What is added, in the same unit.</param>
/// <param name="Change">How much lighter or darker it is than the accent, as far as that can be seen.</param>
internal sealed record SeriesColour(ThemeColour Accent, Colour Seen, int Modulation, int Offset, double Change)
{
    /// <summary>An accent in another lightness.</summary>
    public static SeriesColour Of(ThemeColour accent, Colour own, double lightness, double change)
    {
        var (hue, saturation, before) = own.Hsl;
        if (Math.Abs(lightness - before) < 0.002) return new SeriesColour(accent, own, 100_000, 0, change);
        var (modulation, offset) = lightness <= before ? ((int)Math.Round(100_000 * lightness / before), 0) : ((int)Math.Round(100_000 * (1 - lightness) / (1 - before)), 0);
        if (lightness > before) offset = 100_000 - modulation;
        return new SeriesColour(accent, Colour.FromHsl(hue, saturation, (before * modulation / 100_000) + (offset / 100_000.0)), modulation, offset, change);
    }
}
