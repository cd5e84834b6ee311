using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Flow;

/// <summary>A paragraph or a table of the lowered form.</summary>
internal abstract record GalleyBlock
{
    /// <summary>The block of the report that begins here, if one does.</summary>
    public BlockId? Begins { get; init; }

    /// <summary>The captioned table or figure that it is a part of.</summary>
    public GalleyFloat? Float { get; init; }

    /// <summary>Where it was written, if somebody wants to know.</summary>
    public SourcePlace? WrittenAt { get; init; }

    /// <summary>The label of what it belongs to; null if that has none.</summary>
    public string? Label { get; init; }
}

/// <summary>A captioned table or figure, whose caption, content and note stay together.</summary>
/// <param name="name">What it is, for messages: "Figure 3".</param>
/// <param name="mayDrift">Whether it may go behind the text after it.</param>
/// <param name="shrink">By what share of its height it may become smaller.</param>
internal sealed class GalleyFloat(string name, bool mayDrift, double shrink)
{
    public string Name { get; } = name;

    public bool MayDrift { get; } = mayDrift;

    public double Shrink { get; } = shrink;
}

/// <summary>A place in a list.</summary>
/// <param name="List">Index into <see cref="Galley.Lists"/>.</param>
/// <param name="Level">0 for the outermost.</param>
internal readonly record struct ListPlace(int List, int Level);

/// <summary>A displayed formula, with its number at the right margin if it has one.</summary>
/// <summary>A displayed formula.</summary>
/// <param name="Formula">The formula.</param>
/// <param name="Number">Its number; nothing if it has none.</param>
/// <param name="IsTooWide">Whether it is wider than its room, and cannot be broken.</param>
internal sealed record GalleyEquation(Formula Formula, ImmutableArray<GalleyInline> Number, bool IsTooWide) : GalleyBlock
{
    /// <summary>What the cells on both sides of a numbered formula take of the width, each.</summary>
    public const double NumberShare = 0.12;

    /// <summary>What is left for a numbered formula.</summary>
    public const double ShareBesideNumber = 1 - (2 * NumberShare);

    public int Indents { get; init; }

    public bool BreaksPage { get; init; }
}

internal sealed record GalleyParagraph(StyleRole Style, ImmutableArray<GalleyInline> Inlines) : GalleyBlock
{
    /// <summary>Whether it stands in a cell, where it names its style even if that is the one of text without any: a table style would speak else.</summary>
    public bool IsInCell { get; init; }

    /// <summary>Keeps with what follows although its style does not say so.</summary>
    public bool KeepWithNext { get; init; }

    /// <summary>Whether what follows belongs to it, so that no space of its own parts them.</summary>
    public bool IsTight { get; init; }

    /// <summary>Where it stands although its style says another; as the style says if null.</summary>
    public Alignment? Alignment { get; init; }

    /// <summary>Starts the next column.</summary>
    public bool BreaksColumn { get; init; }

    /// <summary>Starts a new page.</summary>
    public bool BreaksPage { get; init; }

    /// <summary>Whether a list of contents begins with it.</summary>
    public bool OpensContents { get; init; }

    /// <summary>Whether a list of contents ends with it.</summary>
    public bool ClosesContents { get; init; }

    public ListPlace? List { get; init; }

    /// <summary>The number that stands before a heading, which word processors count themselves.</summary>
    public string? Number { get; init; }

    /// <summary>Whether it has no number although others of its style may have one.</summary>
    public bool IsUncounted { get; init; }

    /// <summary>Whether it is a heading of an appendix, which are numbered apart.</summary>
    public bool IsAppendix { get; init; }

    /// <summary>How far its first line stands out to the left of the others instead of as its style says.</summary>
    public Length? Hanging { get; init; }

    /// <summary>How deep it stands in lists or quotations without a bullet of its own.</summary>
    public int Indents { get; init; }

    /// <summary>The place of a right tab stop instead of the style's own.</summary>
    public Length? RightTab { get; init; }

    /// <summary>Whether it has a tab stop in the middle before that.</summary>
    public bool HasCentreTab { get; init; }
}

/// <summary>Cells that hold blocks: a box, or tiles.</summary>
/// <param name="Look">How they look.</param>
/// <param name="Title">What they are, for readers who cannot see them.</param>
/// <param name="Rows">The cells of each row.</param>
/// <param name="Width">The width of the whole.</param>
internal sealed record GalleyBox(BoxLook Look, string Title, ImmutableArray<ImmutableArray<ImmutableArray<GalleyBlock>>> Rows, Length Width) : GalleyBlock
{
    public int Indents { get; init; }

    /// <summary>Whether its rows never break over pages: a box may be longer than a page, tiles are not, and what stands side by side stays together unless it is long.</summary>
    public bool IsInOnePiece => Look is BoxLook.KeyFigures or BoxLook.Panels || (Look is BoxLook.SideBySide && !IsLong);

    /// <summary>Whether it needs a good part of a page.</summary>
    public bool IsLong { get; init; }

    /// <summary>The room of each column, with a gutter between them; all are alike if empty.</summary>
    public ImmutableArray<Length> Columns { get; init; } = [];

    /// <summary>The width of a column's cells.</summary>
    public Length WidthOf(int column) => Columns.IsEmpty ? Width * (1.0 / Rows[0].Length) : Columns[column] + GutterBefore(column);

    /// <summary>What parts a column from the one before it.</summary>
    public Length GutterBefore(int column) => Columns.IsEmpty || column == 0 ? Length.Zero : GalleySection.Gutter;

    /// <summary>The room that text has in a column's cells.</summary>
    public Length RoomOf(int column, RulingDesign design) => Columns.IsEmpty ? RoomIn(Width, Rows[0].Length, design) : Columns[column];

    /// <summary>The room that text has in a cell of columns that are alike.</summary>
    public static Length RoomIn(Length width, int columns, RulingDesign design) => (width * (1.0 / columns)) - Length.FromPoints(design.CellMargins);
}

/// <summary>A cover or a last page, which fills its page.</summary>
/// <param name="Title">The title, for readers who cannot see it.</param>
/// <param name="Panel">What stands in its panel.</param>
/// <param name="Foot">What stands under that.</param>
/// <param name="Page">The page.</param>
internal sealed record GalleyCover(string Title, ImmutableArray<GalleyParagraph> Panel, ImmutableArray<GalleyParagraph> Foot, PageGeometry Page) : GalleyBlock
{
    /// <summary>Whether it is the last page, whose panel is at its foot.</summary>
    public bool IsLast { get; init; }
}
