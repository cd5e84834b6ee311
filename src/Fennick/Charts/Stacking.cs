namespace Fennick.Charts;

/// <summary>How columns and areas of several series stand to each other.</summary>
public enum Stacking
{
    /// <summary>Beside each other.</summary>
    None,

    /// <summary>On top of each other.</summary>
    Sums,

    /// <summary>On top of each other, as shares of their sum.</summary>
    Shares,
}
