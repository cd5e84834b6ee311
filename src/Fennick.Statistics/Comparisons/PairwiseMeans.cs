using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Comparisons;

/// <summary>How p-values and intervals of all pairs of groups allow for there being many.</summary>
public enum PairAdjustment
{
    /// <summary>Tukey's: exact for all pairs of groups of one size, nearly so for others (Kramer).</summary>
    Tukey,

    /// <summary>Scheffé's: allows for every contrast of the means.</summary>
    Scheffe,

    /// <summary>Holm's, of the p-values alone; intervals are not adjusted.</summary>
    Holm,

    /// <summary>None.</summary>
    None,
}

/// <summary>The difference of the means of two groups, adjusted for the number of pairs.</summary>
/// <param name="First">The first group.</param>
/// <param name="Second">The second group.</param>
/// <param name="Difference">The mean of the second less that of the first.</param>
/// <param name="StandardError">Its standard error, from the variance within all groups.</param>
/// <param name="PValue">The adjusted p-value.</param>
public sealed record PairDifference(string First, string Second, double Difference, double StandardError, double PValue)
{
    internal Func<double, double> Factor { get; init; } = _ => double.NaN;

    /// <summary>The adjusted confidence interval.</summary>
    /// <param name="level">The level at which all intervals hold together.</param>
    public Interval Interval(double level = 0.95)
    {
        var half = Factor(level) * StandardError;
        return new Interval(Difference - half, Difference + half);
    }
}

/// <summary>Compares the means of all pairs of groups.</summary>
public static class PairwiseMeans
{
    /// <summary>The differences of all pairs of groups of records, in the natural order of the groups.</summary>
    /// <param name="records">The records; those in which something is missing are left out.</param>
    /// <param name="value">The values.</param>
    /// <param name="group">The group.</param>
    /// <param name="adjustment">How the number of pairs is allowed for.</param>
    /// <exception cref="AnalysisException">There are fewer than two groups, or nothing varies within them.</exception>
    /// <remarks>Tukey (1953), Kramer (1956), Biometrics 12; Scheffé (1953), Biometrika 40. All groups are taken to vary alike.</remarks>
    public static ImmutableArray<PairDifference> Of<T>(IEnumerable<T> records, Func<T, double?> value, Func<T, object?> group, PairAdjustment adjustment = PairAdjustment.Tukey)
    {
        ArgumentNullException.ThrowIfNull(records);
        ArgumentNullException.ThrowIfNull(value);
        ArgumentNullException.ThrowIfNull(group);
        var complete = records.Select(r => (Value: value(r), Group: group(r))).Where(r => r.Value is { } v && !double.IsNaN(v) && r.Group is not null).ToList();
        (string Name, double[] Values)[] groups = [.. NaturalOrder.Of(complete.Select(r => r.Group!)).Select(k => (Frequency.TextOf(k), complete.Where(r => Equals(r.Group, k)).Select(r => r.Value!.Value).ToArray()))];
        // The test of them all refuses what cannot be compared.
        var all = MeanTests.OneWay([.. groups.Select(g => g.Values)]);
        var (k, degrees) = (groups.Length, all.DenominatorDegreesOfFreedom!.Value);
        var variance = groups.Sum(g => Sample.Squares(g.Values)) / degrees;
        // All pairs share it, and Tukey's takes a while.
        var factors = new ConcurrentDictionary<double, double>();
        var pairs = new List<PairDifference>();
        for (var i = 0; i < k; i++)
        {
            for (var j = i + 1; j < k; j++)
            {
                var difference = Sample.Mean(groups[j].Values) - Sample.Mean(groups[i].Values);
                var error = Math.Sqrt(variance * ((1.0 / groups[i].Values.Length) + (1.0 / groups[j].Values.Length)));
                var t = Math.Abs(difference) / error;
                var p = adjustment switch
                {
                    PairAdjustment.Tukey => StudentizedRange.Upper(t * Math.Sqrt(2), k, degrees),
                    PairAdjustment.Scheffe => Tails.FUpper(t * t / (k - 1), k - 1, degrees),
                    _ => Tails.StudentTwoSided(t, degrees),
                };
                pairs.Add(new PairDifference(groups[i].Name, groups[j].Name, difference, error, p) { Factor = level => factors.GetOrAdd(level, l => Factor(adjustment, l, k, degrees)) });
            }
        }
        return adjustment != PairAdjustment.Holm ? [.. pairs] : [.. pairs.Zip(MultipleComparisons.Holm([.. pairs.Select(p => p.PValue)]), (pair, p) => pair with { PValue = p })];
    }

    private static double Factor(PairAdjustment adjustment, double level, int k, double degrees) => adjustment switch
    {
        PairAdjustment.Tukey => StudentizedRange.Quantile(1 - level, k, degrees) / Math.Sqrt(2),
        PairAdjustment.Scheffe => Math.Sqrt((k - 1) * FQuantile(1 - level, k - 1, degrees)),
        _ => Tails.StudentQuantile(1 - level, degrees),
    };

    private static double FQuantile(double upper, double numerator, double denominator)
    {
        var high = 1.0;
        while (Tails.FUpper(high, numerator, denominator) > upper) high *= 2;
        return MathNet.Numerics.RootFinding.Brent.FindRoot(f => Tails.FUpper(f, numerator, denominator) - upper, 0, high, 1e-12);
    }
}
