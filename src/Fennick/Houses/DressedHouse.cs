using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>A house made ready for one language: its static parts are compressed, its measures known. It serves any number of reports.</summary>
internal sealed class DressedHouse
{
    private readonly ParagraphStyle[] styles;
    private readonly byte[][] styleIds;

    public DressedHouse(HouseDesign design, Language language, PackageTemplate template, ITextMeasures measures)
    {
        Design = design;
        Language = language;
        Template = template;
        Measures = measures;
        styles = [.. Enum.GetValues<StyleRole>().Select(role => design.Styles.Single(s => s.Role == role))];
        styleIds = [.. styles.Select(s => System.Text.Encoding.UTF8.GetBytes(s.Id))];
    }

    public HouseDesign Design { get; }

    public Language Language { get; }

    public PackageTemplate Template { get; }

    public ITextMeasures Measures { get; }

    public PageGeometry Page => Design.Page;

    public ParagraphStyle Style(StyleRole role) => styles[(int)role];

    /// <summary>The id of a role's style in the document, as UTF-8.</summary>
    public ReadOnlySpan<byte> StyleId(StyleRole role) => styleIds[(int)role];
}
