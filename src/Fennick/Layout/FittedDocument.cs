using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Flow;

namespace Fennick.Layout;

/// <summary>Where the numbers of a column meet, in twips from the left edge of a cell's text.</summary>
/// <param name="Point">The decimal sign.</param>
/// <param name="End">The right edge of the number that reaches farthest.</param>
internal readonly record struct NumberMeeting(int Point, int End);

/// <summary>How a table stands on its page.</summary>
/// <param name="Columns">The widths of its columns, in twips; their sum is the table's width.</param>
/// <param name="Meetings">For each column where its numbers meet; null where they need no such place.</param>
/// <param name="TextStep">How many sizes its text was stepped down.</param>
/// <param name="Wraps">Whether a line of it may be wider than its cell.</param>
/// <param name="CellMargins">The left and right margins of a cell together, in points.</param>
internal sealed record TableGeometry(ImmutableArray<int> Columns, ImmutableArray<NumberMeeting?> Meetings, int TextStep, bool Wraps, double CellMargins)
{
    public int Width => Columns.Sum();

    /// <summary>The width of some columns that stand side by side.</summary>
    public int WidthOf(int first, int count)
    {
        var width = 0;
        for (var c = first; c < first + count; c++) width += Columns[c];
        return width;
    }
}

/// <summary>A lowered report whose tables have their widths; wide ones stand on turned pages or are taken apart.</summary>
/// <param name="Flow">The lowered report.</param>
/// <param name="Tables">The geometry of its tables, in their order.</param>
/// <param name="Diagnostics">What could not be fitted.</param>
internal sealed record FittedDocument(Galley Flow, ImmutableArray<TableGeometry> Tables, ImmutableArray<Diagnostic> Diagnostics)
{
    /// <summary>What was done so that pages are filled.</summary>
    public ImmutableArray<LayoutRemedy> Remedies { get; init; } = [];

    /// <summary>Which table is the first of each slot.</summary>
    public ImmutableArray<int> SlotTables { get; init; } = [];
}
