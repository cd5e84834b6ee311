namespace Fennick.Charts;

/// <summary>By what a layer of a chart shows its values.</summary>
public enum ChartMark
{
    /// <summary>Columns from zero to the value; bars where the names stand at the side.</summary>
    Columns,

    /// <summary>Points joined by lines.</summary>
    Lines,

    /// <summary>Lines that keep a value until the next begins.</summary>
    Steps,

    /// <summary>Areas from zero to the value.</summary>
    Areas,

    /// <summary>A tinted band from the lower to the upper limit.</summary>
    Bands,

    /// <summary>A mark at each value.</summary>
    Points,

    /// <summary>A short stroke at each value.</summary>
    Dashes,

    /// <summary>A thin line from the lower to the upper limit.</summary>
    Intervals,

    /// <summary>A broad bar from the lower to the upper limit.</summary>
    Boxes,

    /// <summary>An outline whose breadth says how many values lie there; pictures only.</summary>
    Violins,

    /// <summary>Slices of a whole.</summary>
    Slices,
}
