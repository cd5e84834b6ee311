using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>A number that a reader should take away.</summary>
/// <param name="Label">What it counts or measures.</param>
/// <param name="Number">The number with its unit.</param>
public sealed record KeyFigure(RichText Label, RichText Number)
{
    /// <summary>How it has changed; nothing if null.</summary>
    public RichText? Change { get; init; }

    /// <summary>A small line under it, such as what it is compared with; nothing if null.</summary>
    public RichText? Note { get; init; }
}

/// <summary>Numbers as tiles side by side, four in a row at most.</summary>
/// <param name="Figures">The numbers.</param>
public sealed record KeyFigures(ImmutableArray<KeyFigure> Figures) : Block
{
    /// <summary>Takes key figures from a table: a row for each, with its label, its number, and if there are more columns its change and its small line.</summary>
    /// <param name="table">The table.</param>
    /// <param name="place">Where it stands.</param>
    /// <exception cref="ReportException">The table has fewer than two or more than four columns.</exception>
    public static KeyFigures Of(Tables.Table table, SourcePlace? place = null)
    {
        ArgumentNullException.ThrowIfNull(table);
        if (table.Columns.Length is < 2 or > 4)
            throw new ReportException(Diagnostic.Error(place, $"the table of key figures has {table.Columns.Length} column{(table.Columns.Length == 1 ? "" : "s")}", "give it two to four: label, number, change, small line"));
        return new KeyFigures([.. table.Rows.Select(row =>
        {
            var cells = row.Cells.Select(c => c.Content).ToArray();
            RichText? Cell(int column) => cells.ElementAtOrDefault(column) is { IsEmpty: false } words ? words : null;
            return new KeyFigure(cells[0], Cell(1) ?? RichText.Empty) { Change = Cell(2), Note = Cell(3) };
        })]);
    }

    /// <summary>All their words, in the order in which they are read.</summary>
    internal IEnumerable<RichText> Words => Figures.SelectMany(f => new[] { f.Label, f.Number, f.Change, f.Note }).OfType<RichText>();
}
