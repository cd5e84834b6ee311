namespace Fennick.Tables;

/// <summary>A cell in its place, as rules for cells see it.</summary>
/// <param name="Cell">The cell.</param>
/// <param name="Row">The words of its row's first cell.</param>
/// <param name="Column">The words of its column's head.</param>
public readonly record struct CellInTable(TableCell Cell, string Row, string Column)
{
    /// <summary>The number that it shows, if it shows just one.</summary>
    public double? Number => Cell.Number;

    /// <summary>Its words, in British English.</summary>
    public string Text => Cell.Content.ToPlainText();
}
