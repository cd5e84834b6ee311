using System.Collections.Immutable;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Styles;
using Fennick.Tables;
using Fennick.Wordprocessing;

namespace Fennick.Houses;

/// <summary>A house made ready for one language: its static parts are compressed, its measures known. It serves any number of reports.</summary>
internal sealed class DressedHouse : IStyleBook
{
    private readonly byte[][] styleIds;
    private readonly byte[][] characterStyleIds;
    private readonly IFaceMeasures[] faces;

    public DressedHouse(HouseDesign design, Language language, PackageTemplate template, ITextMeasures measures)
    {
        Design = design;
        Language = language;
        Template = language.IsRightToLeft ? template with { Section = template.Section.RightToLeft() } : template;
        CodeFace = measures.Face(new FontFace(design.CodeFamily));
        faces = [.. design.Styles.SelectMany(s => Enumerable.Range(0, 4), (s, variant) =>
            measures.Face(new FontFace(design.Family(s), s.Bold || (variant & 1) != 0, s.Italic || (variant & 2) != 0)))];
        styleIds = [.. design.Styles.Select(s => Encoding.UTF8.GetBytes(s.Id))];
        characterStyleIds = [.. Enum.GetValues<CharacterRole>().Select(role => Encoding.UTF8.GetBytes(design.StyleOf(role).Id))];
    }

    public HouseDesign Design { get; }

    public Language Language { get; }

    public PackageTemplate Template { get; }

    /// <summary>Where the house comes from, if it comes from a file.</summary>
    public SourcePlace? Place { get; init; }

    /// <summary>What stands before and behind the body.</summary>
    public HouseLead Lead { get; init; } = new(1, 0, 0);

    /// <summary>Whether paragraphs of running text have to name their style, since it is not the one that counts where none is named.</summary>
    public bool NamesBodyStyle { get; init; }

    /// <summary>Whether it has headers and footers of its own.</summary>
    public bool HasStories { get; init; }

    /// <summary>Whether the body goes behind what the house says itself, unless the report fills its slots.</summary>
    public bool AppendsBody { get; init; }

    /// <inheritdoc/>
    public bool BodyIsFollowed => Template.BodyIsFollowed;

    /// <summary>Whether it has a slot for the body.</summary>
    public bool HasBodySlot { get; init; }

    public Length ListStep => Style(StyleRole.ListBullet).ListStep;

    public ImmutableHashSet<string> CountedBefore { get; init; } = [];

    /// <summary>Whether the numbers of lists are Fennick's own, and not those of the house's list style.</summary>
    public bool HasOwnNumbers { get; init; } = true;

    /// <summary>What becomes of the house's own contents.</summary>
    public string Contents { get; init; } = "";

    /// <summary>What deserves attention in the house.</summary>
    public ImmutableArray<Diagnostic> Diagnostics { get; init; } = [];

    /// <summary>What has become of each role.</summary>
    public ImmutableArray<FoundStyle> Found { get; init; } = [];

    /// <summary>Its slots.</summary>
    public ImmutableArray<HouseSlot> Slots { get; init; } = [];

    /// <summary>The pictures that can be replaced: <c>logo</c>, <c>cover</c>.</summary>
    public ImmutableArray<string> PictureSlots { get; init; } = [];

    /// <summary>Whether its text has a slot of a name.</summary>
    public bool HasSlot(string name) => Slots.Any(s => s.IsInText && s.Names.Contains(name, StringComparer.OrdinalIgnoreCase));

    /// <summary>The slots that take blocks, with the width that each has.</summary>
    public ImmutableDictionary<string, Length> BlockSlots { get; init; } = ImmutableDictionary<string, Length>.Empty;

    /// <summary>The measures of code.</summary>
    public IFaceMeasures CodeFace { get; }

    public PageGeometry Page => Design.Page;

    public ImmutableArray<Length> Columns => Template.Section.Columns;

    public bool HasFirstPage => Template.Section.HasFirstPage;

    public bool HasStory(StoryKind kind) => Template.Section.References.Any(r => r.Kind == kind);

    public ParagraphStyle Style(StyleRole role) => Design.Style(role);

    /// <summary>Whether the paragraphs of a role have numbers.</summary>
    public bool IsCounted(StyleRole role) => role - StyleRole.Heading1 is >= 0 and var level && level < Design.HeadingLevels.Length && Design.HeadingLevels[level] is not null;

    /// <summary>How a ruling is drawn.</summary>
    public RulingDesign Ruling(Ruling ruling) => Design.Rulings.First(r => r.Ruling == ruling);

    /// <summary>The measures of a role's face, or of its bold or italic.</summary>
    public IFaceMeasures Face(StyleRole role, bool bold = false, bool italic = false) => faces[((int)role * 4) + (bold ? 1 : 0) + (italic ? 2 : 0)];

    /// <summary>The id of a role's style in the document, as UTF-8.</summary>
    public ReadOnlySpan<byte> StyleId(StyleRole role) => styleIds[(int)role];

    /// <summary>The id of a role's character style in the document, as UTF-8.</summary>
    public ReadOnlySpan<byte> CharacterStyleId(CharacterRole role) => characterStyleIds[(int)role];
}
