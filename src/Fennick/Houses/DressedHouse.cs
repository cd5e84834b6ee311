using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Tables;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>A house made ready for one language: its static parts are compressed, its measures known. It serves any number of reports.</summary>
internal sealed class DressedHouse
{
    private readonly ParagraphStyle[] styles;
    private readonly byte[][] styleIds;
    private readonly IFaceMeasures[] faces;

    public DressedHouse(HouseDesign design, Language language, PackageTemplate template, ITextMeasures measures)
    {
        Design = design;
        Language = language;
        Template = template;
        SettingsWithNotes = HouseParts.SettingsWithNotes(language);
        CodeFace = measures.Face(new FontFace(design.CodeFamily));
        styles = [.. Enum.GetValues<StyleRole>().Select(role => design.Styles.Single(s => s.Role == role))];
        faces = [.. styles.SelectMany(s => Enumerable.Range(0, 4), (s, variant) =>
            measures.Face(new FontFace(design.Family(s.Font), s.Bold || (variant & 1) != 0, s.Italic || (variant & 2) != 0)))];
        styleIds = [.. styles.Select(s => System.Text.Encoding.UTF8.GetBytes(s.Id))];
    }

    public HouseDesign Design { get; }

    public Language Language { get; }

    public PackageTemplate Template { get; }

    /// <summary>The settings of a document that has footnotes, instead of those of the template.</summary>
    public Slab SettingsWithNotes { get; }

    /// <summary>The measures of code.</summary>
    public IFaceMeasures CodeFace { get; }

    public PageGeometry Page => Design.Page;

    public ParagraphStyle Style(StyleRole role) => styles[(int)role];

    /// <summary>How a ruling is drawn.</summary>
    public RulingDesign Ruling(Ruling ruling) => Design.Rulings.First(r => r.Ruling == ruling);

    /// <summary>The measures of a role's face, or of its bold or italic.</summary>
    public IFaceMeasures Face(StyleRole role, bool bold = false, bool italic = false) => faces[((int)role * 4) + (bold ? 1 : 0) + (italic ? 2 : 0)];

    /// <summary>The id of a role's style in the document, as UTF-8.</summary>
    public ReadOnlySpan<byte> StyleId(StyleRole role) => styleIds[(int)role];
}
