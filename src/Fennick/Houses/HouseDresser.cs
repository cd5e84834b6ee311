using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Dresses a house for a language: completes and compresses all that does not change from report to report.</summary>
internal static class HouseDresser
{
    /// <summary>The dressed house; whoever has many reports keeps it.</summary>
    public static DressedHouse Dress(House house, Language language) => house.File is null ? Dress(house, house.Design!, language) : FileDresser.Dress(house, language);

    private static DressedHouse Dress(House house, HouseDesign design, Language language)
    {
        if (Livery.AccentOf(house) is { } accent) design = design with { Colours = design.Colours.SetItems(Palette.From(accent)) };
        if (house.Font is { } font) design = design with { BodyFamily = font, HeadingFamily = font };
        return new DressedHouse(design, language, HouseParts.Create(design, language), FontWidths.Instance);
    }
}
