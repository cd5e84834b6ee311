using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Mathematics;
using Fennick.Pictures;
using Fennick.Tables;

namespace Fennick.Documents;

/// <summary>A part of a report that stands on lines of its own.</summary>
public abstract record Block
{
    private protected Block()
    {
    }

    /// <summary>Where it was written, if somebody wants to know.</summary>
    internal SourcePlace? WrittenAt { get; init; }

    /// <summary>Blocks and all that stand within them, in their order; what only holds others is left out itself.</summary>
    internal static IEnumerable<Block> Within(IEnumerable<Block> blocks) => blocks.SelectMany(block => block.Inside is { } inner ? Within(inner) : [block]);

    /// <summary>The blocks that it holds, in their order; null if it holds none.</summary>
    internal IEnumerable<Block>? Inside => this switch
    {
        Quotation quotation => quotation.Blocks,
        Landscape landscape => landscape.Blocks,
        InSlot slot => slot.Blocks,
        Box box => box.Blocks,
        Aside aside => aside.Blocks,
        LastPage last => last.Blocks,
        Pages pages => pages.Blocks,
        SideBySide columns => columns.Columns.SelectMany(c => c),
        Items list => list.Entries.SelectMany(i => i),
        DefinitionList definitions => definitions.Entries.SelectMany(e => e.Blocks),
        SeriesItem item => item.Blocks,
        EquationGroup group => group.Blocks,
        _ => null,
    };
}

/// <summary>A heading; what follows, up to the next of its level, is its section.</summary>
/// <param name="Level">1 to 6.</param>
/// <param name="Content">Its words.</param>
/// <param name="Label">Its label; without one it is known by its words.</param>
public sealed record Heading(int Level, RichText Content, Label? Label = null) : Block
{
    /// <summary>Whether it has a number where headings have numbers.</summary>
    public bool IsNumbered { get; init; } = true;
}

/// <summary>A paragraph of running text.</summary>
/// <param name="Content">Its words.</param>
public sealed record Paragraph(RichText Content) : Block;

/// <summary>A list with bullets or numbers.</summary>
/// <param name="Ordered">Numbers if true, bullets if false.</param>
/// <param name="Start">The first number.</param>
/// <param name="Entries">The items, each a sequence of blocks.</param>
public sealed record Items(bool Ordered, int Start, ImmutableArray<ImmutableArray<Block>> Entries) : Block;

/// <summary>Terms and what they mean.</summary>
/// <param name="Entries">Each of them.</param>
public sealed record DefinitionList(ImmutableArray<Definition> Entries) : Block;

/// <summary>What one or more terms mean.</summary>
/// <param name="Terms">The terms.</param>
/// <param name="Blocks">What they mean.</param>
public sealed record Definition(ImmutableArray<RichText> Terms, ImmutableArray<Block> Blocks);

/// <summary>The headings of the report with their pages.</summary>
/// <param name="Levels">How many levels of headings are listed, 1 to 6.</param>
public sealed record Contents(int Levels = 3) : Block;

/// <summary>The captions of the report's tables with their pages.</summary>
public sealed record ListOfTables : Block;

/// <summary>The captions of the report's figures with their pages.</summary>
public sealed record ListOfFigures : Block;

/// <summary>The captions of a series of the report's own with their pages.</summary>
/// <param name="Series">The name of the series.</param>
/// <param name="Place">Where it was asked for.</param>
public sealed record ListOfSeries(string Series, SourcePlace? Place = null) : Block;

/// <summary>The terms of the report with their pages, in the order of the alphabet.</summary>
public sealed record IndexOfTerms : Block;

/// <summary>The abbreviations of the report with what they stand for, in the order of the alphabet.</summary>
public sealed record ListOfAbbreviations : Block;

/// <summary>The start of the appendices: from here on headings of the first level are "A", "B" and so on, and captions count in them, as "Table A.1".</summary>
public sealed record Appendices : Block;

/// <summary>What stands under a caption of a series of the report's own.</summary>
/// <param name="Series">The name of the series.</param>
/// <param name="Caption">The words beside its number.</param>
/// <param name="Blocks">What it is made of.</param>
public sealed record SeriesItem(string Series, RichText Caption, ImmutableArray<Block> Blocks) : Block
{
    /// <summary>The name under which the text refers to it.</summary>
    public Label? Label { get; init; }

    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}

/// <summary>Equations with one number and letters: (3a), (3b). What stands between them is text as ever.</summary>
/// <param name="Blocks">The equations, and what stands between them.</param>
/// <param name="Label">The name under which the text refers to all of them.</param>
public sealed record EquationGroup(ImmutableArray<Block> Blocks, Label? Label = null) : Block;

/// <summary>A formula on lines of its own, numbered at the right margin if it has a label.</summary>
/// <param name="Formula">The formula.</param>
/// <param name="Label">The name under which the text refers to it.</param>
public sealed record Equation(Formula Formula, Label? Label = null) : Block;

/// <summary>The list of the sources that the report cites.</summary>
public sealed record Bibliography : Block;

/// <summary>Words of somebody else, set off from the text.</summary>
/// <param name="Blocks">What is quoted.</param>
public sealed record Quotation(ImmutableArray<Block> Blocks) : Block;

/// <summary>Lines of code, shown as they stand.</summary>
/// <param name="Code">The lines.</param>
public sealed record Listing(string Code) : Block
{
    /// <summary>What is coloured in it, in order and apart from each other.</summary>
    public ImmutableArray<ListingSpan> Spans { get; init; } = [];
}

/// <summary>A stretch of code that is coloured.</summary>
/// <param name="Start">Where it starts in the code.</param>
/// <param name="Length">How long it is.</param>
/// <param name="Kind">What it is.</param>
public readonly record struct ListingSpan(int Start, int Length, CodeKind Kind);

/// <summary>What a stretch of code is.</summary>
public enum CodeKind
{
    /// <summary>A word of the language.</summary>
    Keyword,

    /// <summary>The name of a type.</summary>
    Type,

    /// <summary>A text or a character.</summary>
    String,

    /// <summary>Words for the reader.</summary>
    Comment,
}

/// <summary>The start of a new page.</summary>
public sealed record PageBreak : Block;

/// <summary>What stands on pages turned to landscape.</summary>
/// <param name="Blocks">What stands there.</param>
public sealed record Landscape(ImmutableArray<Block> Blocks) : Block;

/// <summary>What stands on pages that look different from the others.</summary>
/// <param name="Layout">What they look like.</param>
/// <param name="Blocks">What stands there.</param>
public sealed record Pages(PageLayout Layout, ImmutableArray<Block> Blocks) : Block;

/// <summary>What fills a slot of the house, and stands in its own place if the house has none of this name.</summary>
/// <param name="Name">The slot's name.</param>
/// <param name="Blocks">What fills it.</param>
public sealed record InSlot(string Name, ImmutableArray<Block> Blocks) : Block;

/// <summary>What stands side by side.</summary>
/// <param name="Shares">The share of the text's width that each column has; they add up to 1.</param>
/// <param name="Columns">What stands in each column; what is in the first flows on into the others if they are not given.</param>
public sealed record SideBySide(ImmutableArray<double> Shares, ImmutableArray<ImmutableArray<Block>> Columns) : Block
{
    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}

/// <summary>The start of the next column; it stands among the blocks of columns alone.</summary>
internal sealed record NextColumn(SourcePlace Place) : Block;

/// <summary>A break between two thoughts, shown as a short rule.</summary>
public sealed record ThoughtBreak : Block;

/// <summary>A table in its place, numbered if it has a caption.</summary>
/// <param name="Table">The table; the same one may be placed more than once.</param>
public sealed record TableBlock(Table Table) : Block
{
    /// <summary>The name under which the text refers to it.</summary>
    public Label? Label { get; init; }

    /// <summary>The series of the report's own that it is counted in; null for that of its kind.</summary>
    public string? Series { get; init; }

    /// <summary>The words beside its number.</summary>
    public RichText? Caption { get; init; }

    /// <summary>The small print under it.</summary>
    public RichText? Note { get; init; }

    /// <summary>What it was made from, on a line of its own under it; the word for it is put before.</summary>
    public RichText? Source { get; init; }

    /// <summary>The number it is to have, from which those after it count on; the next one if null.</summary>
    public int? Number { get; init; }

    /// <summary>The rules it is drawn with; the report's own if null.</summary>
    public Ruling? Ruling { get; init; }

    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}

/// <summary>A chart or a picture in its place, numbered if it has a caption.</summary>
public sealed record FigureBlock : Block
{
    /// <summary>A chart; the same one may be placed more than once.</summary>
    public FigureBlock(Chart chart) => Chart = chart;

    /// <summary>A picture; the same one may be placed more than once.</summary>
    public FigureBlock(Picture picture) => Picture = picture;

    /// <summary>A figure that draws itself, such as a plot of another package.</summary>
    public FigureBlock(IDrawnFigure drawn) => Drawn = drawn;

    /// <summary>Several charts with one caption.</summary>
    public FigureBlock(ChartPanels panels) => Panels = panels;

    /// <summary>Several charts, if it is not one.</summary>
    public ChartPanels? Panels { get; }

    /// <summary>The chart, unless it is a picture.</summary>
    public Chart? Chart { get; }

    /// <summary>The picture, unless it is a chart.</summary>
    public Picture? Picture { get; }

    /// <summary>What draws itself, if it does.</summary>
    public IDrawnFigure? Drawn { get; }

    /// <summary>The name under which the text refers to it.</summary>
    public Label? Label { get; init; }

    /// <summary>The series of the report's own that it is counted in; null for that of its kind.</summary>
    public string? Series { get; init; }

    /// <summary>The words beside its number.</summary>
    public RichText? Caption { get; init; }

    /// <summary>The small print under it.</summary>
    public RichText? Note { get; init; }

    /// <summary>What it was made from, on a line of its own under it; the word for it is put before.</summary>
    public RichText? Source { get; init; }

    /// <summary>What it shows, for readers who cannot see it; <c>decorative</c> if it is only an ornament; of a chart made from the data if null.</summary>
    public string? AlternativeText { get; init; }

    /// <summary>Its width; that of the picture or the report's own if null.</summary>
    public Measure? Width { get; init; }

    /// <summary>Its height; for a picture what keeps its shape, for a chart the report's own if null.</summary>
    public Measure? Height { get; init; }

    /// <summary>All its charts.</summary>
    internal IEnumerable<Chart> Charts => Chart is { } own ? [own] : Panels?.Panels.Select(p => p.Chart) ?? [];

    /// <summary>Where it stands if it is narrower than the text; as the report says if null.</summary>
    public Alignment? Alignment { get; init; }

    /// <summary>Whether a chart is the word processor's own; as the report says if null.</summary>
    public bool? IsNative { get; init; }

    /// <summary>How many pixels the picture of a chart has to the inch; as the report says if null.</summary>
    public int? DotsPerInch { get; init; }

    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}
