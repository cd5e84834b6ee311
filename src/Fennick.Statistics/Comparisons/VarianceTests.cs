using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests that groups vary alike.</summary>
public static class VarianceTests
{
    /// <summary>Levene's test: a one-way F test of the distances from each group's median, as Brown and Forsythe propose, or from its mean.</summary>
    /// <param name="groups">The values of each group; those that are not a number are left out.</param>
    /// <param name="fromMean">Whether distances are from the mean; else from the median, which bears skewed values.</param>
    /// <exception cref="AnalysisException">There are fewer than two groups, a group has fewer than two values, or nothing varies.</exception>
    /// <remarks>Levene (1960), in Contributions to Probability and Statistics; Brown &amp; Forsythe (1974), Journal of the American Statistical Association 69.</remarks>
    public static TestResult Levene(IReadOnlyList<IReadOnlyList<double>> groups, bool fromMean = false)
    {
        ArgumentNullException.ThrowIfNull(groups);
        var samples = groups.Select((g, i) => Sample.Of(g, 2, $"group {i + 1}")).ToArray();
        double[][] distances = [.. samples.Select(sample =>
        {
            var centre = fromMean ? Sample.Mean(sample) : Sample.Median(sample);
            return Sample.Distances(sample, centre).Select(Math.Abs).ToArray();
        })];
        return MeanTests.OneWay(distances) with { Name = fromMean ? "Levene's test (means)" : "Levene's test (medians)" };
    }
}
