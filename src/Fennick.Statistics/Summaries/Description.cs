namespace Fennick.Statistics.Summaries;

/// <summary>The description of a variable.</summary>
public sealed class Description
{
    private readonly double[] sorted;

    private Description(string? group, double[] values, int missing)
    {
        Group = group;
        Missing = missing;
        sorted = [.. values.Order()];
        Mean = values.Length == 0 ? double.NaN : Sample.Mean(values);
        if (values.Length == 0) return;
        // In a unit of their own the squares are within range.
        var unit = Sample.Unit(values);
        double[] scaled = [.. values.Select(v => v * unit)];
        if (values.Length > 1) StandardDeviation = Math.Sqrt(Sample.Variance(scaled)) / unit;
        var (distances, spread) = (Sample.Distances(scaled, scaled[0]), Math.Sqrt(Sample.Squares(scaled) / values.Length));
        if (spread > 0 && values.Length > 2)
        {
            double n = values.Length;
            var mean = Sample.MeanOf(distances);
            Skewness = distances.Sum(d => Math.Pow((d - mean) / spread, 3)) / n * Math.Sqrt(n * (n - 1)) / (n - 2);
        }
    }

    /// <summary>The group it describes; null for all rows.</summary>
    public string? Group { get; }

    /// <summary>n, the values that are there.</summary>
    public int Count => sorted.Length;

    /// <summary>How many are missing.</summary>
    public int Missing { get; }

    /// <summary>The mean, in the variable's own unit.</summary>
    public double Mean { get; }

    /// <summary>The standard deviation, over n − 1; null for fewer than two values.</summary>
    public double? StandardDeviation { get; }

    /// <summary>The third standardised moment, adjusted for small samples; null for fewer than three values, or where nothing varies.</summary>
    /// <remarks>Joanes &amp; Gill (1998), The Statistician 47: G₁.</remarks>
    public double? Skewness { get; }

    /// <summary>The smallest value.</summary>
    public double Minimum => sorted[0];

    /// <summary>The largest value.</summary>
    public double Maximum => sorted[^1];

    /// <summary>The median.</summary>
    public double Median => Quantile(0.5);

    /// <summary>Describes a variable of records.</summary>
    /// <exception cref="AnalysisException">All values are missing, or one is infinite.</exception>
    public static Description Of<T>(IEnumerable<T> records, Func<T, double?> variable) => Of(null, records.Select(variable));

    /// <summary>Describes a variable for each group of records, in the natural order of the groups' names.</summary>
    /// <exception cref="AnalysisException">All values of a group are missing, or one is infinite.</exception>
    public static IReadOnlyList<Description> By<T>(IEnumerable<T> records, Func<T, double?> variable, Func<T, object?> group) =>
        [.. records.GroupBy(r => group(r)?.ToString() ?? "").OrderBy(g => g.Key, Variables.NaturalOrder.Comparer).Select(g => Of(g.Key, g.Select(variable)))];

    /// <summary>A quantile.</summary>
    /// <param name="share">Between 0 and 1.</param>
    /// <param name="rule">What is taken between two values.</param>
    public double Quantile(double share, QuantileRule rule = QuantileRule.Linear)
    {
        if (share is not (>= 0 and <= 1)) throw new ArgumentOutOfRangeException(nameof(share), share, "A share lies between 0 and 1.");
        if (rule == QuantileRule.Inverse) return sorted[Math.Clamp((int)Math.Ceiling((Count * share) - 1e-12) - 1, 0, Count - 1)];
        var place = Math.Clamp(rule == QuantileRule.Linear ? (Count - 1) * share : ((Count + (1.0 / 3)) * share) - (2.0 / 3), 0, Count - 1);
        var below = (int)Math.Floor(place);
        return below + 1 < Count ? sorted[below] + ((place - below) * (sorted[below + 1] - sorted[below])) : sorted[below];
    }

    private static Description Of(string? group, IEnumerable<double?> values)
    {
        var (present, missing) = Sample.Of(values);
        if (present.Length == 0) throw new AnalysisException($"there is nothing to describe{(group is null ? "" : $" in `{group}`")}: {(missing == 0 ? "there are no rows" : $"all {missing} values are missing")}");
        return new Description(group, present, missing);
    }
}
