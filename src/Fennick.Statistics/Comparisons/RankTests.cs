using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests that look at ranks only. Exact where the samples are small and no values are equal, else by the normal approximation with corrections for ties and continuity.</summary>
/// <remarks>Hollander, Wolfe &amp; Chicken, Nonparametric Statistical Methods, 3rd ed., ch. 3 and 4.</remarks>
public static class RankTests
{
    private const int LargestExact = 50;
    private const int MostArrangements = 60_000;

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
            if (n * m > MostArrangements) throw new AnalysisException($"{a.Length} and {b.Length} values are too many to count all arrangements; leave out `exact`");
            return new TestResult("rank-sum test (exact)", u, 0, null, ExactTail(RankSumShares(a.Length, b.Length), u));
        }
        var variance = n * m / 12 * (n + m + 1 - (ties / ((n + m) * (n + m - 1))));
        if (variance <= 0) throw new AnalysisException("all values are the same; there is nothing to compare");
        var z = Math.Max(0, Math.Abs(u - (n * m / 2)) - 0.5) / Math.Sqrt(variance);
        return new TestResult("rank-sum test", u, double.PositiveInfinity, null, Tails.NormalTwoSided(z));
    }

    /// <summary>The test of Kruskal and Wallis that several groups have the same distribution, corrected for ties; the statistic is H.</summary>
    /// <param name="groups">The values of each group; those that are not a number are left out.</param>
    /// <exception cref="AnalysisException">There are fewer than two groups, one is empty, or all values are the same.</exception>
    /// <remarks>Kruskal &amp; Wallis (1952), Journal of the American Statistical Association 47; by the χ² approximation.</remarks>
    public static TestResult KruskalWallis(params IReadOnlyList<double>[] groups)
    {
        ArgumentNullException.ThrowIfNull(groups);
        if (groups.Length < 2) throw new AnalysisException($"there is {groups.Length} group; at least two are needed");
        var samples = groups.Select((g, i) => Sample.Of(g, 1, $"group {i + 1}")).ToArray();
        var (ranks, ties) = Sample.Ranks([.. samples.SelectMany(s => s)]);
        double n = ranks.Length;
        var (sum, start) = (0.0, 0);
        foreach (var sample in samples)
        {
            sum += Math.Pow(ranks.Skip(start).Take(sample.Length).Sum() - (sample.Length * (n + 1) / 2), 2) / sample.Length;
            start += sample.Length;
        }
        var correction = 1 - (ties / ((n * n * n) - n));
        if (!(correction > 0)) throw new AnalysisException("all values are the same; there is nothing to compare");
        var statistic = 12 / (n * (n + 1)) * sum / correction;
        return new TestResult("Kruskal–Wallis test", statistic, groups.Length - 1, null, Tails.ChiSquaredUpper(statistic, groups.Length - 1));
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
            if (n > 1000) throw new AnalysisException($"{differences.Length} differences are too many to count all arrangements; leave out `exact`");
            return new TestResult("signed-rank test (exact)", positive, 0, null, ExactTail(SignedRankShares(differences.Length), positive));
        }
        var variance = (n * (n + 1) * ((2 * n) + 1) / 24) - (ties / 48);
        var z = Math.Max(0, Math.Abs(positive - (n * (n + 1) / 4)) - 0.5) / Math.Sqrt(variance);
        return new TestResult("signed-rank test", positive, double.PositiveInfinity, null, Tails.NormalTwoSided(z));
    }

    private static double ExactTail(double[] shares, double statistic)
    {
        var below = shares.Take((int)statistic + 1).Sum();
        var above = shares.Skip((int)statistic).Sum();
        return Math.Min(1, 2 * Math.Min(below, above));
    }

    /// <summary>The share of arrangements that give each U, by adding alone: the largest value is of the first sample, or of the second.</summary>
    /// <remarks>Mann &amp; Whitney (1947), Annals of Mathematical Statistics 18, eq. 2.</remarks>
    private static double[] RankSumShares(int n, int m)
    {
        // The shares for j values of the second sample and as many of the first as have been added.
        var shares = Enumerable.Range(0, m + 1).Select(_ => new double[] { 1 }).ToArray();
        for (var i = 1; i <= n; i++)
        {
            var next = new double[m + 1][];
            next[0] = [1];
            for (var j = 1; j <= m; j++)
            {
                next[j] = new double[(i * j) + 1];
                var ofFirst = i / (double)(i + j);
                for (var u = 0; u < shares[j].Length; u++) next[j][u + j] += ofFirst * shares[j][u];
                for (var u = 0; u < next[j - 1].Length; u++) next[j][u] += (j / (double)(i + j)) * next[j - 1][u];
            }
            shares = next;
        }
        return shares[m];
    }

    /// <summary>The share of sets of signs that give each sum.</summary>
    private static double[] SignedRankShares(int n)
    {
        var shares = new double[(n * (n + 1) / 2) + 1];
        shares[0] = 1;
        for (var rank = 1; rank <= n; rank++)
            for (var sum = shares.Length - 1; sum >= 0; sum--) shares[sum] = (shares[sum] + (sum >= rank ? shares[sum - rank] : 0)) / 2;
        return shares;
    }
}
