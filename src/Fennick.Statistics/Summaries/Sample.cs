using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Summaries;

/// <summary>Values without the missing ones.</summary>
internal static class Sample
{
    /// <summary>The values that are there, and how many are not.</summary>
    /// <exception cref="AnalysisException">A value is infinite.</exception>
    public static (double[] Values, int Missing) Of(IEnumerable<double?> values)
    {
        var all = values.ToArray();
        var present = all.Where(v => v is { } number && !double.IsNaN(number)).Select(v => v!.Value).ToArray();
        if (present.Count(double.IsInfinity) is > 0 and var infinite) throw new AnalysisException($"{Variables.ModelData.CountRows(infinite)} of the variable are infinite");
        return (present, all.Length - present.Length);
    }

    /// <summary>The values that are there.</summary>
    /// <exception cref="AnalysisException">There are fewer than needed, or one is infinite.</exception>
    public static double[] Of(IReadOnlyList<double> values, int atLeast, string what)
    {
        ArgumentNullException.ThrowIfNull(values);
        var (present, _) = Of(values.Select(v => (double?)v));
        return present.Length >= atLeast ? present : throw new AnalysisException($"{what} has {present.Length} values; at least {atLeast} are needed");
    }

    /// <summary>
    /// The values less one value. Where they are large and close together the decimal numbers that they are written as are subtracted, not the binary fractions next to them: at 1e12 a double
    /// holds three decimals only.
    /// </summary>
    public static double[] Distances(double[] values, double from)
    {
        const double close = 1e5;
        double[] distances = [.. values.Select(v => v - from)];
        if (Math.Abs(from) < close * distances.Max(Math.Abs)) return distances;
        var origin = DoubleDouble.OfDecimal(from);
        return [.. values.Select(v => (DoubleDouble.OfDecimal(v) - origin).Value)];
    }

    /// <summary>The mean; sums are taken from the first value, so that nothing is lost where values are large and close together.</summary>
    public static double Mean(double[] values) => (DoubleDouble.OfDecimal(values[0]) + MeanOf(Distances(values, values[0]))).Value;

    /// <summary>The mean of distances, in double length.</summary>
    public static double MeanOf(double[] distances) => Sum(distances, d => d) / distances.Length;

    /// <summary>The sum of squares around the mean.</summary>
    public static double Squares(double[] values)
    {
        var distances = Distances(values, values[0]);
        var mean = MeanOf(distances);
        return Sum(distances, d => (d - mean) * (d - mean));
    }

    /// <summary>The median.</summary>
    public static double Median(double[] values)
    {
        double[] sorted = [.. values.Order()];
        var middle = sorted.Length / 2;
        return sorted.Length % 2 == 1 ? sorted[middle] : sorted[middle - 1] + ((sorted[middle] - sorted[middle - 1]) / 2);
    }

    public static double Variance(double[] values) => Squares(values) / (values.Length - 1);

    /// <summary>A power of two that brings the values to about 1, so that their squares neither overflow nor vanish.</summary>
    public static double Unit(double[] values)
    {
        var largest = values.Max(Math.Abs);
        return largest is > 1e-100 and < 1e100 || largest == 0 ? 1 : Math.ScaleB(1, -Math.ILogB(largest));
    }

    /// <summary>A sum in double length.</summary>
    private static double Sum(double[] values, Func<double, double> part)
    {
        DoubleDouble sum = 0;
        foreach (var value in values) sum += part(value);
        return sum.Value;
    }

    /// <summary>Ranks from 1, ties sharing their mean rank, and the sum of t³ − t over groups of ties.</summary>
    public static (double[] Ranks, double Ties) Ranks(double[] values)
    {
        var order = Enumerable.Range(0, values.Length).OrderBy(i => values[i]).ToArray();
        var ranks = new double[values.Length];
        var ties = 0.0;
        for (var start = 0; start < order.Length;)
        {
            var end = start;
            while (end < order.Length && values[order[end]] == values[order[start]]) end++;
            for (var i = start; i < end; i++) ranks[order[i]] = (start + end + 1) / 2.0;
            double count = end - start;
            ties += (count * count * count) - count;
            start = end;
        }
        return (ranks, ties);
    }
}
