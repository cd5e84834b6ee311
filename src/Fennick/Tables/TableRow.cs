using System.Collections.Immutable;

namespace Fennick.Tables;

/// <summary>What a row is for.</summary>
public enum RowKind
{
    /// <summary>Something that the table tells.</summary>
    Body,

    /// <summary>The heading of the rows below it, over all columns.</summary>
    Heading,

    /// <summary>The sum of the rows above it.</summary>
    Total,
}

/// <summary>A row of a table.</summary>
/// <param name="Cells">Its cells from the left; their spans and those from above fill all columns.</param>
public sealed record TableRow(ImmutableArray<TableCell> Cells)
{
    /// <summary>A heading over all columns.</summary>
    internal static TableRow Heading(TableCell words, int columns) => new([words with { ColumnSpan = columns, Alignment = Alignment.Left }]) { Kind = RowKind.Heading };

    /// <summary>What it is for.</summary>
    public RowKind Kind { get; init; }

    /// <summary>How deep it stands under headings; its first cell is indented by it.</summary>
    public int Level { get; init; }

    /// <summary>Whether a thin rule stands above it.</summary>
    public bool RuleAbove { get; init; }

    /// <summary>Whether it must not part from the row below.</summary>
    public bool KeepsWithNext { get; init; }

    /// <summary>The words of its first cell, by which it is known.</summary>
    public string Label => Cells.IsDefaultOrEmpty ? "" : Cells[0].Content.ToPlainText();
}
