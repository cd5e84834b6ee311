using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Tables;

namespace Fennick.Documents;

/// <summary>What holds for every table and figure of a report unless one says otherwise.</summary>
public sealed record ReportSettings
{
    /// <summary>The rules of its tables.</summary>
    public Ruling TableRuling { get; init; } = Ruling.Open;

    /// <summary>Where the captions of its tables stand.</summary>
    public CaptionPlace TableCaption { get; init; } = CaptionPlace.Above;

    /// <summary>Where the captions of its figures stand.</summary>
    public CaptionPlace FigureCaption { get; init; } = CaptionPlace.Below;

    /// <summary>Whether captions and equations count anew in each chapter, with its number before theirs: "Table 2.1". In appendices they always do: "Table A.1".</summary>
    public bool CaptionsByChapter { get; init; }

    /// <summary>How many levels of headings have numbers, where headings have numbers.</summary>
    public int NumberedLevels { get; init; } = 6;

    /// <summary>Series of captioned things beside tables and figures.</summary>
    public ImmutableArray<CaptionSeries> Series { get; init; } = [];

    /// <summary>Up to how many rows a table stands on one page; longer ones may break over pages, with their heads on each.</summary>
    public int UnbrokenTableRows { get; init; } = 12;

    /// <summary>Whether a table with a caption that has no room on a page goes behind the text after it, up to the next heading, so that the page is filled; it stays where it is if no text refers to it.</summary>
    public bool TablesMayDrift { get; init; } = true;

    /// <summary>The same for figures.</summary>
    public bool FiguresMayDrift { get; init; } = true;

    /// <summary>By what share of its height a figure may become smaller if it then has room on the page; 0 for not at all.</summary>
    public double FigureShrink { get; init; } = 0.12;

    /// <summary>Whether a table that does not fit otherwise turns its page to landscape.</summary>
    public bool TablesMayTurn { get; init; } = true;

    /// <summary>Whether the report is not written while readers who cannot see it would miss something: alternative texts, levels of headings, heads of tables, a title.</summary>
    public bool IsStrict { get; init; }

    /// <summary>Whether the document remembers how it was made, so that it can be refreshed when people have edited it, compared, and traced.</summary>
    public bool IsLiving { get; init; } = true;

    /// <summary>Whether title, subtitle, authors and date stand on a cover of the house's look; a house that has a place for the title itself is left as it is.</summary>
    public bool HasCover { get; init; }

    /// <summary>Whether tables are as wide as the text, so that a page has one right edge; as wide as what they hold if not.</summary>
    public bool TablesFillWidth { get; init; }

    /// <summary>What signs in the cells of tables mean, such as a dash for nothing; a table that has them says so under it.</summary>
    public ImmutableArray<TableSymbol> TableSymbols { get; init; } = [];

    /// <summary>The smallest size of the text of tables, in points; wide tables step down to it, never below.</summary>
    public double SmallestTableText { get; init; } = 7.5;

    /// <summary>The width of its figures; the width of the text if null.</summary>
    public Measure? FigureWidth { get; init; }

    /// <summary>The height of its figures; a fixed share of their width if null.</summary>
    public Measure? FigureHeight { get; init; }

    /// <summary>Where its figures stand that are narrower than the text; as the house has it if null.</summary>
    public Alignment? FigureAlignment { get; init; }

    /// <summary>Whether charts are the word processor's own, which colleagues can edit; pictures of the same charts if not.</summary>
    public bool HasNativeCharts { get; init; } = true;

    /// <summary>How many pixels the pictures of charts have to the inch.</summary>
    public int FigureDotsPerInch { get; init; } = 300;

    /// <summary>The colours of the series of charts as <c>#RRGGBB</c>; those of the house if empty.</summary>
    public ImmutableArray<string> FigurePalette { get; init; } = [];

    /// <summary>Where the names of the series of charts stand.</summary>
    public SeriesLabels FigureLabels { get; init; }
}

/// <summary>A sign in the cells of tables.</summary>
/// <param name="Sign">What stands in the cell, or behind its number.</param>
/// <param name="Meaning">What it means.</param>
public sealed record TableSymbol(string Sign, string Meaning);
