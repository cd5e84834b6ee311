using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Flow;

/// <summary>A rule at an edge of a cell.</summary>
internal enum CellRule
{
    /// <summary>As the table's style says.</summary>
    AsStyle,

    /// <summary>That between rows and columns if the style has one.</summary>
    None,

    /// <summary>None, whatever the style says.</summary>
    Absent,
    Thin,
    Strong,
}

/// <summary>How a cell takes part in one that reaches over rows.</summary>
internal enum CellMerge
{
    None,
    Starts,
    Continues,
}

/// <summary>A cell of the lowered form.</summary>
/// <param name="Style">The style of its only paragraph.</param>
/// <param name="Inlines">What that holds.</param>
/// <param name="Alignment">Where that stands.</param>
internal sealed record GalleyCell(StyleRole Style, ImmutableArray<GalleyInline> Inlines, Alignment Alignment)
{
    public bool KeepWithNext { get; init; }

    public int ColumnSpan { get; init; } = 1;

    public CellMerge Merge { get; init; }

    /// <summary>What hangs behind the content.</summary>
    public ImmutableArray<GalleyInline> Sign { get; init; } = [];

    public CellRule Above { get; init; }

    public CellRule Below { get; init; }

    /// <summary>How deep it stands under headings.</summary>
    public int Level { get; init; }

    /// <summary>Whether its content stands at the bottom of its row, on the line of a heading with space above.</summary>
    public bool AtBottom { get; init; }

    /// <summary>What it stands on where that is not for the table's style to say, as six hexadecimal digits.</summary>
    public string? Fill { get; init; }

    /// <summary>Space beneath its paragraph.</summary>
    public Length SpaceBelow { get; init; }
}

/// <summary>A row of the lowered form: its cells fill all columns.</summary>
internal sealed record GalleyRow(ImmutableArray<GalleyCell> Cells, bool IsHeader)
{
    /// <summary>Whether it is so long that it may break over pages.</summary>
    public bool MayBreak { get; init; }
}

/// <summary>A table of the lowered form.</summary>
internal sealed record GalleyTable(ImmutableArray<TableColumn> Columns, GalleyRows Rows, Ruling Ruling) : GalleyBlock
{
    /// <summary>How many rows from the first are repeated on every page.</summary>
    public int HeaderRows { get; init; }

    public int StubColumns { get; init; } = 1;

    public string Title { get; init; } = "";

    /// <summary>The heads of its columns, for readers who cannot see it.</summary>
    public string Description => string.Join(", ", Heads.Where(h => h.Length > 0));

    public bool IsStriped { get; init; }

    public bool MayTurn { get; init; }

    /// <summary>Whether it is as wide as the text.</summary>
    public bool FillsWidth { get; init; }

    /// <summary>The smallest size of its text, in points.</summary>
    public double SmallestText { get; init; }

    /// <summary>How deep it stands in lists.</summary>
    public int Indents { get; init; }

    /// <summary>What stands above each further part, if the table has to be taken apart.</summary>
    public required GalleyParagraph Continued { get; init; }

    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }

    /// <summary>The columns from the left by their heads, for messages.</summary>
    public ImmutableArray<string> Heads { get; init; } = [];
}
