namespace Fennick.Styles;

/// <summary>What a paragraph is in a report; a house has one style for each.</summary>
internal enum StyleRole
{
    Body,
    Title,
    Subtitle,
    Author,
    Date,
    Heading1,
    Heading2,
    Heading3,
    Heading4,
    Heading5,
    Heading6,
    ListBullet,
    ListNumber,
    ListContinue,
    Quotation,
    Listing,
    ThoughtBreak,
    Caption,
    FigureCaption,
    Figure,
    TableText,
    TableNumber,
    TableHead,
    TableHeadNumber,
    TableGroup,
    TableTextSmall,
    TableNumberSmall,
    TableHeadSmall,
    TableHeadNumberSmall,
    TableGroupSmall,
    TableTextSmallest,
    TableNumberSmallest,
    TableHeadSmallest,
    TableHeadNumberSmallest,
    TableGroupSmallest,
    Note,
    ContentsHeading,
    Contents1,
    Contents2,
    Contents3,
    Contents4,
    Contents5,
    Contents6,
    ContentsOfKind,
    Footnote,
    Term,
    Definition,
    Equation,
    EquationNumber,
    Source,
    Header,
    Footer,
    Spacer,
    BoxTitle,
    BoxText,
    KeyFigureLabel,
    KeyFigure,
    KeyFigureChange,
    KeyFigureNote,
    CoverTitle,
    CoverTitleSmall,
    CoverSubtitle,
    CoverText,
    PullQuote,
    MarginNote,
    Index1,
    Index2,
    Abbreviation,
}

/// <summary>The sizes that the text of tables steps down through.</summary>
internal static class TableTextSizes
{
    /// <summary>How many sizes there are.</summary>
    public const int Count = 3;

    /// <summary>A role of a table's text at one of its sizes.</summary>
    /// <param name="role">The role at the usual size.</param>
    /// <param name="step">0 for the usual size, 2 for the smallest.</param>
    public static StyleRole At(this StyleRole role, int step) => role + (step * (StyleRole.TableTextSmall - StyleRole.TableText));
}
