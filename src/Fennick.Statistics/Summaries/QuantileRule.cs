namespace Fennick.Statistics.Summaries;

/// <summary>How a quantile between two values is found.</summary>
/// <remarks>Hyndman &amp; Fan (1996), The American Statistician 50.</remarks>
public enum QuantileRule
{
    /// <summary>Linear interpolation at (n − 1)p; Hyndman and Fan's type 7.</summary>
    Linear,

    /// <summary>Linear interpolation at (n + 1/3)p − 2/3: about median-unbiased whatever the distribution; type 8.</summary>
    MedianUnbiased,

    /// <summary>The smallest value with at least a share p at or below it; type 1.</summary>
    Inverse,
}
