namespace Fennick.Tables;

/// <summary>A column of a table.</summary>
/// <param name="Alignment">Where its cells stand.</param>
public sealed record TableColumn(Alignment Alignment)
{
    /// <summary>How wide it is.</summary>
    public ColumnWidth Width { get; init; } = ColumnWidth.Content;

    /// <summary>Columns with the same number are as wide as the widest of them, if the page allows it; 0 for none.</summary>
    public int WidthGroup { get; init; }
}
