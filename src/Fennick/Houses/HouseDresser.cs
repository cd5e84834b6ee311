using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Styles;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>Dresses a house for a language: completes and compresses all that does not change from report to report.</summary>
internal static class HouseDresser
{
    // How much of a cover lies above its title.
    private const double CoverAboveTitle = 0.5;

    /// <summary>The dressed house; whoever has many reports keeps it.</summary>
    public static DressedHouse Dress(House house, Language language)
    {
        if (house.File is { } file) return FileDresser.Dress(house, file, language);
        var own = Dress(house, house.Design!, language);
        // A logo and a cover are slots, and slots are a file's.
        return house.Logo is null && house.Cover is null ? own : FileDresser.Dress(house with { Accent = null, Font = null }, AsFile(own, house), language);
    }

    private static DressedHouse Dress(House house, HouseDesign design, Language language)
    {
        if (Livery.AccentOf(house) is { } accent) design = design with { Colours = design.Colours.SetItems(Palette.With(design.Colours, accent)) };
        if (house.Cover is not null) design = design with { Styles = [.. design.Styles.Select(s => OnCover(s, design.Page))] };
        if (house.NumbersHeadings == true) design = design with { HeadingLevels = HeadingLevel.Decimal };
        if (house.Font is { } font) design = design with { BodyFamily = font, HeadingFamily = font, TableFamily = null };
        return new DressedHouse(design, language, HouseParts.Create(design, language), FontWidths.Instance) { Diagnostics = [.. UnknownFonts(design, FontWidths.Instance, null)] };
    }

    /// <summary>The measures of the fonts that lie beside a house, or are installed.</summary>
    public static FontWidths MeasuresBeside(SourcePlace? place) => FontWidths.Beside(place is null ? null : Path.GetDirectoryName(place.File) is { Length: > 0 } folder ? folder : null);

    /// <summary>What follows from fonts whose measures are not known.</summary>
    public static IEnumerable<Diagnostic> UnknownFonts(HouseDesign design, FontWidths measures, SourcePlace? place)
    {
        string[] unknown = [.. design.Styles.Select(design.Family).Distinct().Where(f => !measures.Knows(f)).Select(f => $"`{f}`")];
        if (unknown.Length == 0) yield break;
        yield return new Diagnostic(Severity.Advice, place, $"the font{(unknown.Length == 1 ? "" : "s")} {string.Join(", ", unknown)} {(unknown.Length == 1 ? "is" : "are")} not on this machine, so page numbers and the widths of columns are estimated with those of Arial", "install it, or put its file (.ttf, .otf) beside the house; the word processor renews page numbers with F9");
    }

    /// <summary>On a cover the words stand low and are light.</summary>
    private static ParagraphStyle OnCover(ParagraphStyle style, PageGeometry page) => style.Role switch
    {
        StyleRole.Title => style with { Colour = ThemeColour.Background, Before = page.TextHeight * CoverAboveTitle },
        StyleRole.Subtitle or StyleRole.Author or StyleRole.Date => style with { Colour = ThemeColour.Background },
        _ => style,
    };

    private static HouseFile AsFile(DressedHouse own, House house)
    {
        using var package = HouseFileWriter.Write(own, house.Logo, house.Cover, isForPeople: false);
        using var bytes = new PooledBuffer();
        package.WriteTo(bytes);
        return HouseReader.Read(bytes.WrittenSpan.ToArray(), new SourcePlace(house.Name, -1, 0));
    }
}
