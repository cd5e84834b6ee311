namespace Fennick.Tables;

/// <summary>Where a column's cells stand.</summary>
public enum Alignment
{
    /// <summary>At the left edge: text.</summary>
    Left,

    /// <summary>At the right edge: numbers with the same decimals.</summary>
    Right,

    /// <summary>In the middle.</summary>
    Centre,

    /// <summary>The decimal signs under each other, in the middle of the column; what is not a number stands in the middle itself.</summary>
    Decimal,
}
