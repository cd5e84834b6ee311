using System.Collections.Immutable;

namespace Fennick.Styles;

/// <summary>Which of the house's families a style is set in.</summary>
internal enum FontSlot
{
    Body,
    Heading,

    /// <summary>Tables, captions, notes, headers and footers.</summary>
    Table,
    Code,
}

/// <summary>A rule above or below a paragraph.</summary>
/// <param name="EighthsOfPoint">Its thickness.</param>
/// <param name="Space">Its distance from the text, in points.</param>
/// <param name="Colour">Its colour.</param>
internal sealed record ParagraphRule(int EighthsOfPoint, int Space, ThemeColour Colour);

/// <summary>A paragraph style of a house.</summary>
internal sealed record ParagraphStyle(StyleRole Role, string Id, string Name)
{
    /// <summary>Whether the name is one that every word processor knows.</summary>
    public bool IsBuiltIn { get; init; } = true;

    public StyleRole? BasedOn { get; init; } = StyleRole.Body;

    public StyleRole Next { get; init; } = StyleRole.Body;

    public FontSlot Font { get; init; } = FontSlot.Body;

    /// <summary>Its own family, if it is none of the house's.</summary>
    public string? Family { get; init; }

    public double Points { get; init; }

    /// <summary>Whether it is its base but for the size.</summary>
    public bool OnlySize { get; init; }

    public bool Bold { get; init; }

    /// <summary>Whether it is bold by something else, such as a table's style, and must not say so again: twice bold is plain.</summary>
    public bool LeavesBold { get; init; }

    public bool Italic { get; init; }

    public ThemeColour Colour { get; init; } = ThemeColour.Text;

    /// <summary>What it stands on, whose contrast says whether it is light or dark; the paper if null.</summary>
    public ThemeColour? OnFill { get; init; }

    /// <summary>A colour that is none of the theme's, as six hexadecimal digits.</summary>
    public string? Hex { get; init; }

    public Length Before { get; init; }

    public Length After { get; init; }

    /// <summary>Line spacing as a multiple of a single line.</summary>
    public double Lines { get; init; } = 1;

    /// <summary>Whether no space stands between paragraphs of this style.</summary>
    public bool Contextual { get; init; }

    public bool KeepWithNext { get; init; }

    public bool KeepLines { get; init; }

    public int? OutlineLevel { get; init; }

    public bool RightAligned { get; init; }

    public bool Centred { get; init; }

    public bool Justified { get; init; }

    public Length IndentLeft { get; init; }

    public Length IndentRight { get; init; }

    public Length Hanging { get; init; }

    public Length FirstLine { get; init; }

    public bool NoProofing { get; init; }

    public bool Shaded { get; init; }

    public bool RightTabAtTextWidth { get; init; }

    /// <summary>The tab stops of a style that was found in a house's file.</summary>
    public ImmutableArray<Length> TabStops { get; init; } = [];

    /// <summary>Whether dots lead to the right tab.</summary>
    public bool HasLeader { get; init; }

    public ParagraphRule? RuleAbove { get; init; }

    public ParagraphRule? RuleBelow { get; init; }

    /// <summary>Whether it stands in the outer margin beside the text.</summary>
    public bool InMargin { get; init; }

    public int Priority { get; init; } = 99;

    /// <summary>How far each level of a list stands behind the one above; a style without an indent has that of Fennick's own houses.</summary>
    public Length ListStep => IndentLeft > Length.Zero ? IndentLeft : UsualListStep;

    /// <summary>How far the marks of a list hang out.</summary>
    public Length ListHanging => Hanging > Length.Zero ? Hanging : UsualListHanging;

    public static Length UsualListStep => Length.Centimetres(0.75);

    public static Length UsualListHanging => Length.Centimetres(0.5);
}
