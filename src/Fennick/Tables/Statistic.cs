using Fennick.Statistics.Summaries;

namespace Fennick.Tables;

/// <summary>A statistic of a variable, as a column of a descriptive table.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Value">Its value; null where it has none.</param>
/// <param name="IsCount">Whether it is a whole number, and not in the variable's own unit.</param>
public sealed record Statistic(string Name, Func<Description, double?> Value, bool IsCount = false)
{
    /// <summary>n, the values that are there.</summary>
    public static Statistic Count { get; } = new("n", d => d.Count, IsCount: true);

    /// <summary>How many values are missing.</summary>
    public static Statistic Missing { get; } = new("Missing", d => d.Missing, IsCount: true);

    /// <summary>The mean.</summary>
    public static Statistic Mean { get; } = new("Mean", d => d.Mean);

    /// <summary>The standard deviation.</summary>
    public static Statistic StandardDeviation { get; } = new("Std. dev.", d => d.StandardDeviation);

    /// <summary>The smallest value.</summary>
    public static Statistic Minimum { get; } = new("Min.", d => d.Minimum);

    /// <summary>The lower quartile.</summary>
    public static Statistic LowerQuartile { get; } = new("25%", d => d.Quantile(0.25));

    /// <summary>The median.</summary>
    public static Statistic Median { get; } = new("Median", d => d.Median);

    /// <summary>The upper quartile.</summary>
    public static Statistic UpperQuartile { get; } = new("75%", d => d.Quantile(0.75));

    /// <summary>The largest value.</summary>
    public static Statistic Maximum { get; } = new("Max.", d => d.Maximum);

    /// <summary>The skewness.</summary>
    public static Statistic Skewness { get; } = new("Skewness", d => d.Skewness);
}
