using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Drawing;
using Fennick.Formatting;
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
internal abstract record GalleyInline;

internal sealed record GalleyText(string Text, CharacterFormat Format = CharacterFormat.Plain) : GalleyInline
{
    /// <summary>What of it values have become, if somebody wants to know.</summary>
    public ImmutableArray<OriginRange> Origins { get; init; } = [];
}

internal sealed record GalleyBreak : GalleyInline;

internal sealed record GalleyTab : GalleyInline;

/// <summary>What the word processor renews by itself.</summary>
/// <param name="Result">What stands until then.</param>
/// <param name="Format">How it is set.</param>
internal abstract record GalleyField(string Result, CharacterFormat Format = CharacterFormat.Plain) : GalleyInline;

/// <summary>The number of the page that it stands on.</summary>
internal sealed record GalleyPage(CharacterFormat Format = CharacterFormat.Plain) : GalleyField("1", Format);

/// <summary>The title of the chapter that its page belongs to.</summary>
internal sealed record GalleyChapterTitle(string Result, CharacterFormat Format = CharacterFormat.Plain) : GalleyField(Result, Format);

/// <summary>The title of the report.</summary>
internal sealed record GalleyReportTitle(string Result, CharacterFormat Format = CharacterFormat.Plain) : GalleyField(Result, Format);

/// <summary>The next number of a kind of thing.</summary>
/// <param name="Name">The kind.</param>
/// <param name="Number">The number.</param>
/// <param name="Starts">Whether it counts from this number on, whatever stands before.</param>
internal sealed record GalleySequence(string Name, int Number, bool Starts = false) : GalleyField(Number.ToString(CultureInfo.InvariantCulture))
{
    /// <summary>Whether it counts anew behind each heading of the first level.</summary>
    public bool IsOfChapter { get; init; }

    /// <summary>Whether it says the last number of its kind once more.</summary>
    public bool IsRepeated { get; init; }

    /// <summary>Whether readers that do not know chapters or repeated numbers have to be told the number.</summary>
    public bool IsToldToOthers { get; init; }
}

/// <summary>A letter of the alphabet that counts: the next one of its kind.</summary>
internal sealed record GalleyLetter(string Name, int Number) : GalleyField(Counting.Write(Number, PageNumberFormat.LowerLetter));

/// <summary>The number of the chapter that it stands in.</summary>
internal sealed record GalleyChapterNumber(string Result) : GalleyField(Result);

/// <summary>Where something is that the text refers to, in words, by the page that they stand on.</summary>
/// <param name="Source">What it was lowered from, by which its page is known.</param>
/// <param name="Bookmark">The bookmark of what is referred to.</param>
/// <param name="Block">The block of that.</param>
/// <param name="Words">The words for each place.</param>
/// <param name="Format">How it is set.</param>
internal sealed record GalleyWhere(Inline Source, string Bookmark, BlockId Block, WhereWords Words, CharacterFormat Format = CharacterFormat.Plain) : GalleyInline;

/// <summary>The words for places; on another page they stand on both sides of its number.</summary>
internal sealed record WhereWords(string SamePage, string NextPage, string PageBefore, string? FacingPage, string BeforeNumber, string BehindNumber);

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
internal sealed record GalleyReference(string Bookmark, string Result, CharacterFormat Format = CharacterFormat.Plain, ReferenceForm Form = ReferenceForm.Words) : GalleyField(Result, Format);

/// <summary>The start of a list of contents, which goes on in later paragraphs.</summary>
/// <param name="Levels">How many levels of headings it lists.</param>
/// <param name="Sequence">The kind of captions that it lists instead; null for headings.</param>
internal sealed record GalleyContentsBegin(int Levels, string? Sequence) : GalleyInline;

/// <summary>The start of the index, which goes on in later paragraphs.</summary>
internal sealed record GalleyIndexBegin : GalleyInline;

/// <summary>The pages of an entry of the index.</summary>
/// <param name="Sources">What the places of the entry were lowered from.</param>
internal sealed record GalleyIndexPages(ImmutableArray<IndexInline> Sources) : GalleyInline;

/// <summary>A place that the index leads to.</summary>
/// <param name="Source">What it was lowered from, by which its page is known.</param>
internal sealed record GalleyIndexMark(IndexInline Source) : GalleyInline;

/// <summary>The end of a list of contents or an index.</summary>
internal sealed record GalleyContentsEnd : GalleyInline;

/// <summary>The page on which a bookmark of a block stands.</summary>
internal sealed record GalleyPageNumber(string Bookmark, BlockId Block, CharacterFormat Format = CharacterFormat.Plain) : GalleyInline;

/// <summary>A word across the page; it hangs in a header.</summary>
internal sealed record GalleyWatermark(string Word, Length Room) : GalleyInline;

/// <summary>How many pages the document has.</summary>
internal sealed record GalleyPageCount(CharacterFormat Format = CharacterFormat.Plain) : GalleyInline;

/// <summary>The mark of a footnote in the text.</summary>
internal sealed record GalleyNoteMark(int Number) : GalleyInline;

/// <summary>The mark of a footnote before its own text.</summary>
internal sealed record GalleyOwnNoteMark : GalleyInline;

internal sealed record GalleyFormula(Formula Formula) : GalleyInline;

/// <summary>Something around other inlines.</summary>
internal abstract record GalleyContainer(ImmutableArray<GalleyInline> Content) : GalleyInline;

internal sealed record GalleyBookmark(string Name, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

/// <summary>A link to a place outside the document.</summary>
internal sealed record GalleyLink(string Target, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

/// <summary>A link to a bookmark of the document.</summary>
internal sealed record GalleyAnchor(string Bookmark, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

/// <summary>A content control with a tag: a slot of a house.</summary>
internal sealed record GalleyControl(string Tag, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

/// <summary>Text in a character style of the house.</summary>
internal sealed record GalleyStyled(CharacterStyle Style, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

/// <summary>Text in a colour of six hexadecimal digits.</summary>
internal sealed record GalleyColoured(string Colour, ImmutableArray<GalleyInline> Content) : GalleyContainer(Content);

internal sealed record GalleyPicture(Picture Picture, Length Width, Length Height, string Name, string Description) : GalleyInline
{
    /// <summary>Whether it lies behind the text, from the corner of the page.</summary>
    public bool IsBehind { get; init; }
}

/// <summary>A small chart in a line or a cell.</summary>
/// <param name="Drawing">Its parts in their places.</param>
/// <param name="Name">Its name.</param>
/// <param name="Description">What it shows, for readers who cannot see it.</param>
/// <param name="Text">What stands in its place where nothing can be drawn.</param>
internal sealed record GalleySmallChart(SmallDrawing Drawing, string Name, string Description, string Text) : GalleyInline
{
    public Length Width { get; } = Length.FromPoints(Drawing.Width);

    public Length Height { get; } = Length.FromPoints(Drawing.Height);
}

/// <summary>A chart with every part of it in its place.</summary>
internal sealed record GalleyChart(ChartDrawing Drawing, string Name, string Description) : GalleyInline
{
    /// <summary>The same chart at another height.</summary>
    public Func<Length, GalleyChart>? Resized { get; init; }

    public Length Width { get; } = Length.FromPoints(Drawing.Width);

    public Length Height { get; } = Length.FromPoints(Drawing.Height);

    /// <summary>A picture of it, as SVG with a PNG beside it.</summary>
    /// <exception cref="ReportException">Nothing is there that can draw it.</exception>
    public GalleyPicture AsPicture(IPictureTools? tools, int dotsPerInch, SourcePlace? place) =>
        tools is null ? throw new ReportException(Diagnostic.Error(place, "nothing is there that can make a picture of this chart", "add the package Fennick.Plots, or leave the chart the word processor's own"))
        : new GalleyPicture(Picture.Drawn(ChartSvg.Write(Drawing, Description == Accessibility.Decorative ? "" : Description), Width, Height, dotsPerInch, tools), Width, Height, Name, Description);
}
