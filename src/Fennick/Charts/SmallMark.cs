namespace Fennick.Charts;

/// <summary>What a small chart in a cell is drawn with.</summary>
public enum SmallMark
{
    /// <summary>A line whose end is marked.</summary>
    Line,

    /// <summary>Columns from zero.</summary>
    Columns,

    /// <summary>One bar from zero, with its number before it.</summary>
    Bar,
}
