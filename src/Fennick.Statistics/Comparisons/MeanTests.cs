using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests of means. Missing values (not-a-number) are left out; pairs lose both.</summary>
public static class MeanTests
{
    /// <summary>Student's t test of two samples with the same variance.</summary>
    /// <exception cref="AnalysisException">A sample has fewer than two values, or nothing varies.</exception>
    public static DifferenceTest Student(IReadOnlyList<double> first, IReadOnlyList<double> second)
    {
        var (a, b) = (Sample.Of(first, 2, "the first sample"), Sample.Of(second, 2, "the second sample"));
        double degrees = a.Length + b.Length - 2;
        return Make("Student's t test", a, b, v => (Sample.Squares(v.First) + Sample.Squares(v.Second)) / degrees * ((1.0 / a.Length) + (1.0 / b.Length)), degrees);
    }

    /// <summary>Welch's t test of two samples.</summary>
    /// <exception cref="AnalysisException">A sample has fewer than two values, or nothing varies.</exception>
    /// <remarks>Welch (1947), Biometrika 34.</remarks>
    public static DifferenceTest Welch(IReadOnlyList<double> first, IReadOnlyList<double> second)
    {
        var (a, b) = (Sample.Of(first, 2, "the first sample"), Sample.Of(second, 2, "the second sample"));
        // The degrees of freedom are a ratio of variances, which does not change with the unit.
        var unit = Unit(a, b);
        var (va, vb) = (Sample.Variance([.. a.Select(v => v * unit)]) / a.Length, Sample.Variance([.. b.Select(v => v * unit)]) / b.Length);
        return Make("Welch's t test", a, b, v => (Sample.Variance(v.First) / a.Length) + (Sample.Variance(v.Second) / b.Length), (va + vb) * (va + vb) / ((va * va / (a.Length - 1)) + (vb * vb / (b.Length - 1))));
    }

    /// <summary>The t test of pairs.</summary>
    /// <exception cref="AnalysisException">The samples differ in length, there are fewer than two pairs, or their differences do not vary.</exception>
    public static DifferenceTest Paired(IReadOnlyList<double> first, IReadOnlyList<double> second)
    {
        var (a, b) = Pairs.Of(first, second, 2);
        return Make("paired t test", a, b, v => Sample.Variance([.. Sample.Distances(v.First, v.Second[0]).Zip(Sample.Distances(v.Second, v.Second[0]), (x, y) => x - y)]) / a.Length, a.Length - 1);
    }

    /// <summary>One-way analysis of variance: an F test that all groups have the same mean.</summary>
    /// <exception cref="AnalysisException">There are fewer than two groups, no residual degrees of freedom, or nothing varies within the groups.</exception>
    public static TestResult OneWay(params IReadOnlyList<double>[] groups)
    {
        ArgumentNullException.ThrowIfNull(groups);
        if (groups.Length < 2) throw new AnalysisException($"there is {groups.Length} group; at least two are needed");
        var samples = groups.Select((g, i) => Sample.Of(g, 1, $"group {i + 1}")).ToArray();
        var all = samples.SelectMany(s => s).ToArray();
        double between = groups.Length - 1, within = all.Length - groups.Length;
        if (within <= 0) throw new AnalysisException($"{all.Length} values are too few for {groups.Length} groups");
        // Means are taken as distances from one value, so that nothing is lost where values are large and close together.
        var unit = Sample.Unit(all);
        double[][] distances = [.. samples.Select(s => Sample.Distances([.. s.Select(v => v * unit)], all[0] * unit))];
        var mean = Sample.MeanOf([.. distances.SelectMany(d => d)]);
        var inside = distances.Sum(Sample.Squares);
        if (inside == 0) throw new AnalysisException("nothing varies within the groups");
        var statistic = distances.Sum(d => d.Length * Math.Pow(Sample.MeanOf(d) - mean, 2)) / between / (inside / within);
        return new TestResult("one-way F test", statistic, between, within, Tails.FUpper(statistic, between, within));
    }

    private static double Unit(double[] a, double[] b) => Sample.Unit([.. a, .. b]);

    /// <summary>A test from the variance of the difference, computed in a unit where squares are within range.</summary>
    private static DifferenceTest Make(string name, double[] a, double[] b, Func<(double[] First, double[] Second), double> variance, double degrees)
    {
        var unit = Unit(a, b);
        var error = Math.Sqrt(variance(([.. a.Select(v => v * unit)], [.. b.Select(v => v * unit)]))) / unit;
        if (!(error > 0)) throw new AnalysisException("nothing varies within the samples; there is no t test of them");
        var difference = Sample.MeanOf(Sample.Distances(a, b[0])) - Sample.MeanOf(Sample.Distances(b, b[0]));
        return new DifferenceTest(name, Sample.Mean(a), Sample.Mean(b), error, degrees) { Exact = difference };
    }
}
