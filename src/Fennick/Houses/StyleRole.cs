namespace Fennick.Houses;

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
    Note,
    Footer,
    Spacer,
}
