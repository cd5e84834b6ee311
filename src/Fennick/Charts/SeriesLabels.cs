namespace Fennick.Charts;

/// <summary>Where the names of the series stand.</summary>
public enum SeriesLabels
{
    /// <summary>At the ends of lines, as far as there is room; else in a legend.</summary>
    Chosen,

    /// <summary>In a legend above what is drawn.</summary>
    Legend,

    /// <summary>At the last value of each series.</summary>
    AtEnds,

    /// <summary>Nowhere.</summary>
    None,
}
