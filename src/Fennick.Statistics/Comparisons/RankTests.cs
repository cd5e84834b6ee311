using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests that look at ranks only. Exact where the samples are small and no values are equal, else by the normal approximation with corrections for ties and continuity.</summary>
/// <remarks>Hollander, Wolfe &amp; Chicken, Nonparametric Statistical Methods, 3rd ed., ch. 3 and 4.</remarks>
public static class RankTests
{
    private const int LargestExact = 50;

    /// <summary>The rank-sum test of two samples (Wilcoxon; Mann and Whitney). The statistic is U of the first sample.</summary>
    /// <param name="first">n values.</param>
    /// <param name="second">m values.</param>
    /// <param name="exact">Whether to count all arrangements; decided by the samples if null.</param>
    /// <exception cref="AnalysisException">A sample is empty, or all values are the same.</exception>
    public static TestResult RankSum(IReadOnlyList<double> first, IReadOnlyList<double> second, bool? exact = null)
    {
        var (a, b) = (Sample.Of(first, 1, "the first sample"), Sample.Of(second, 1, "the second sample"));
        var (ranks, ties) = Sample.Ranks([.. a, .. b]);
        double n = a.Length, m = b.Length;
        var u = ranks.Take(a.Length).Sum() - (n * (n + 1) / 2);
        if (exact ?? (ties == 0 && n < LargestExact && m < LargestExact))
        {
            if (ties > 0) throw new AnalysisException("values are equal; the exact test needs different ones");
            return new TestResult("rank-sum test (exact)", u, 0, null, ExactTail(RankSumCounts(a.Length, b.Length), u));
        }
        var variance = n * m / 12 * (n + m + 1 - (ties / ((n + m) * (n + m - 1))));
        if (variance <= 0) throw new AnalysisException("all values are the same; there is nothing to compare");
        var z = Math.Max(0, Math.Abs(u - (n * m / 2)) - 0.5) / Math.Sqrt(variance);
        return new TestResult("rank-sum test", u, double.PositiveInfinity, null, Tails.NormalTwoSided(z));
    }

    /// <summary>The signed-rank test of pairs (Wilcoxon). The statistic is the sum of the ranks of positive differences; pairs without a difference are left out.</summary>
    /// <param name="first">n values.</param>
    /// <param name="second">n values.</param>
    /// <param name="exact">Whether to count all arrangements; decided by the samples if null.</param>
    /// <exception cref="AnalysisException">The samples differ in length, or no pair differs.</exception>
    public static TestResult SignedRank(IReadOnlyList<double> first, IReadOnlyList<double> second, bool? exact = null)
    {
        var (a, b) = Pairs.Of(first, second, 1);
        var all = a.Zip(b, (x, y) => x - y).ToArray();
        var differences = all.Where(d => d != 0).ToArray();
        if (differences.Length == 0) throw new AnalysisException("no pair differs; there is nothing to compare");
        var (ranks, ties) = Sample.Ranks([.. differences.Select(Math.Abs)]);
        double n = differences.Length;
        var positive = ranks.Where((_, i) => differences[i] > 0).Sum();
        if (exact ?? (ties == 0 && differences.Length == all.Length && n < LargestExact))
        {
            if (ties > 0) throw new AnalysisException("differences are equal; the exact test needs different ones");
            return new TestResult("signed-rank test (exact)", positive, 0, null, ExactTail(SignedRankCounts(differences.Length), positive));
        }
        var variance = (n * (n + 1) * ((2 * n) + 1) / 24) - (ties / 48);
        var z = Math.Max(0, Math.Abs(positive - (n * (n + 1) / 4)) - 0.5) / Math.Sqrt(variance);
        return new TestResult("signed-rank test", positive, double.PositiveInfinity, null, Tails.NormalTwoSided(z));
    }

    private static double ExactTail(double[] counts, double statistic)
    {
        var total = counts.Sum();
        var below = counts.Take((int)statistic + 1).Sum() / total;
        var above = counts.Skip((int)statistic).Sum() / total;
        return Math.Min(1, 2 * Math.Min(below, above));
    }

    /// <summary>How many arrangements give each U: the coefficients of the Gaussian binomial.</summary>
    private static double[] RankSumCounts(int n, int m)
    {
        var counts = new double[(n * m) + 1];
        counts[0] = 1;
        for (var i = 1; i <= n; i++)
        {
            for (var u = counts.Length - 1; u >= m + i; u--) counts[u] -= counts[u - m - i];
            for (var u = i; u < counts.Length; u++) counts[u] += counts[u - i];
        }
        return counts;
    }

    /// <summary>How many sets of signs give each sum.</summary>
    private static double[] SignedRankCounts(int n)
    {
        var counts = new double[(n * (n + 1) / 2) + 1];
        counts[0] = 1;
        for (var rank = 1; rank <= n; rank++)
            for (var sum = counts.Length - 1; sum >= rank; sum--) counts[sum] += counts[sum - rank];
        return counts;
    }
}
