using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Tables;

namespace Fennick.Styles;

/// <summary>What the lowered form and the layout ask a house: how things look by their roles, and where its own text leaves room. They know nothing of its files.</summary>
internal interface IStyleBook
{
    /// <summary>Its styles.</summary>
    HouseDesign Design { get; }

    /// <summary>The language of its words.</summary>
    Language Language { get; }

    /// <summary>Its page.</summary>
    PageGeometry Page { get; }

    /// <summary>The widths of the columns of its pages; none for a single one.</summary>
    ImmutableArray<Length> Columns { get; }

    /// <summary>Where it comes from, if it comes from a file.</summary>
    SourcePlace? Place { get; }

    /// <summary>What stands before and behind the body.</summary>
    HouseLead Lead { get; }

    /// <summary>Whether it has headers and footers of its own.</summary>
    bool HasStories { get; }

    /// <summary>Whether its first page has headers and footers of its own.</summary>
    bool HasFirstPage { get; }

    /// <summary>Whether the body goes behind what the house says itself, unless the report fills its slots.</summary>
    bool AppendsBody { get; }

    /// <summary>The sequences of numbers that the house's own captions before the body have begun.</summary>
    ImmutableHashSet<string> CountedBefore { get; }

    /// <summary>Whether something of the house's own stands behind the body.</summary>
    bool BodyIsFollowed { get; }

    /// <summary>The slots that take blocks, with the width that each has.</summary>
    ImmutableDictionary<string, Length> BlockSlots { get; }

    /// <summary>The measures of code.</summary>
    IFaceMeasures CodeFace { get; }

    /// <summary>Whether its text has a slot of a name.</summary>
    bool HasSlot(string name);

    /// <summary>Whether it has a header or footer of a kind.</summary>
    bool HasStory(StoryKind kind);

    /// <summary>How a role looks.</summary>
    ParagraphStyle Style(StyleRole role);

    /// <summary>How far each level of a list stands behind the one above.</summary>
    Length ListStep { get; }

    /// <summary>How a ruling is drawn.</summary>
    RulingDesign Ruling(Ruling ruling);

    /// <summary>The measures of a role's face, or of its bold or italic.</summary>
    IFaceMeasures Face(StyleRole role, bool bold = false, bool italic = false);
}
