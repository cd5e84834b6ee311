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

    public static double Mean(double[] values)
    {
        var mean = values.Sum() / values.Length;
        return mean + (values.Sum(v => v - mean) / values.Length);
    }

    /// <summary>The sum of squares around the mean.</summary>
    public static double Squares(double[] values)
    {
        var mean = Mean(values);
        return values.Sum(v => (v - mean) * (v - mean));
    }

    public static double Variance(double[] values) => Squares(values) / (values.Length - 1);

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
