using System.Collections.Immutable;
using System.Globalization;
using Fennick.Charts;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Styles;

namespace Fennick.Flow;

/// <summary>How a piece of text is set, beside its paragraph's style.</summary>
[Flags]
internal enum CharacterFormat
{
    Plain = 0,
    Bold = 1,
    Italic = 2,
    Code = 4,
    Link = 8,
    Raised = 16,
    Struck = 32,
    NoteMark = 64,
}

/// <summary>What stands in a line of the lowered form.</summary>
internal abstract record FlowInline;

internal sealed record FlowText(string Text, CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

internal sealed record FlowBreak : FlowInline;

internal sealed record FlowTab : FlowInline;

/// <summary>What the word processor renews by itself.</summary>
/// <param name="Result">What stands until then.</param>
/// <param name="Format">How it is set.</param>
internal abstract record FlowField(string Result, CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

/// <summary>The number of the page that it stands on.</summary>
internal sealed record FlowPage(CharacterFormat Format = CharacterFormat.Plain) : FlowField("1", Format);

/// <summary>The title of the chapter that its page belongs to.</summary>
internal sealed record FlowChapterTitle(string Result, CharacterFormat Format = CharacterFormat.Plain) : FlowField(Result, Format);

/// <summary>The title of the report.</summary>
internal sealed record FlowReportTitle(string Result, CharacterFormat Format = CharacterFormat.Plain) : FlowField(Result, Format);

/// <summary>The next number of a kind of thing.</summary>
/// <param name="Name">The kind.</param>
/// <param name="Number">The number.</param>
/// <param name="Starts">Whether it counts from this number on, whatever stands before.</param>
internal sealed record FlowSequence(string Name, int Number, bool Starts = false) : FlowField(Number.ToString(CultureInfo.InvariantCulture));

/// <summary>What a reference says of the place that it refers to.</summary>
internal enum ReferenceForm
{
    /// <summary>The words that its bookmark holds.</summary>
    Words,

    /// <summary>The number of its heading.</summary>
    HeadingNumber,

    /// <summary>The mark of its footnote.</summary>
    NoteMark,
}

/// <summary>A reference to a bookmark.</summary>
internal sealed record FlowReference(string Bookmark, string Result, CharacterFormat Format = CharacterFormat.Plain, ReferenceForm Form = ReferenceForm.Words) : FlowField(Result, Format);

/// <summary>The start of a list of contents, which goes on in later paragraphs.</summary>
/// <param name="Levels">How many levels of headings it lists.</param>
/// <param name="Sequence">The kind of captions that it lists instead; null for headings.</param>
internal sealed record FlowContentsBegin(int Levels, string? Sequence) : FlowInline;

/// <summary>The end of such a list.</summary>
internal sealed record FlowContentsEnd : FlowInline;

/// <summary>The page on which a bookmark of a block stands.</summary>
internal sealed record FlowPageNumber(string Bookmark, BlockId Block, CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

/// <summary>A word across the page; it hangs in a header.</summary>
internal sealed record FlowWatermark(string Word, Length Room) : FlowInline;

/// <summary>How many pages the document has.</summary>
internal sealed record FlowPageCount(CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

/// <summary>The mark of a footnote in the text.</summary>
internal sealed record FlowNoteMark(int Number) : FlowInline;

/// <summary>The mark of a footnote before its own text.</summary>
internal sealed record FlowOwnNoteMark : FlowInline;

internal sealed record FlowFormula(Formula Formula) : FlowInline;

/// <summary>Something around other inlines.</summary>
internal abstract record FlowContainer(ImmutableArray<FlowInline> Content) : FlowInline;

internal sealed record FlowBookmark(string Name, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

/// <summary>A link to a place outside the document.</summary>
internal sealed record FlowLink(string Target, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

/// <summary>A link to a bookmark of the document.</summary>
internal sealed record FlowAnchor(string Bookmark, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

/// <summary>A content control with a tag: a slot of a house.</summary>
internal sealed record FlowControl(string Tag, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

/// <summary>Text in a character style of the house.</summary>
internal sealed record FlowStyled(CharacterStyle Style, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

/// <summary>Text in a colour of six hexadecimal digits.</summary>
internal sealed record FlowColoured(string Colour, ImmutableArray<FlowInline> Content) : FlowContainer(Content);

internal sealed record FlowPicture(Picture Picture, Length Width, Length Height, string Name, string Description) : FlowInline
{
    /// <summary>Whether it lies behind the text, from the corner of the page.</summary>
    public bool IsBehind { get; init; }
}

internal sealed record FlowChart(Chart Chart, ChartNumbers Numbers, Length Width, Length Height, string Name, string Description) : FlowInline;
