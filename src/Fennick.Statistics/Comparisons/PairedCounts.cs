using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests of yes and no.</summary>
public static class PairedCounts
{
    /// <summary>McNemar's test that yes is as common before as after, from pairs.</summary>
    /// <param name="first">Yes or no, before.</param>
    /// <param name="second">Yes or no of the same, after.</param>
    /// <param name="exact">Whether the p-value is exact, by the binomial distribution; else by χ² with a continuity correction.</param>
    /// <exception cref="AnalysisException">There are not as many of both, or no pair differs.</exception>
    /// <remarks>McNemar (1947), Psychometrika 12; Agresti, Categorical Data Analysis, 3rd ed., §11.1. The exact test's statistic is the smaller number of changes.</remarks>
    public static TestResult McNemar(IReadOnlyList<bool> first, IReadOnlyList<bool> second, bool exact = true)
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        if (first.Count != second.Count) throw new AnalysisException($"there are {first.Count} values before and {second.Count} after; they must be pairs");
        var (gained, lost) = (first.Zip(second).Count(p => !p.First && p.Second), first.Zip(second).Count(p => p.First && !p.Second));
        var changed = gained + lost;
        if (changed == 0) throw new AnalysisException("no pair differs; there is nothing to compare");
        if (!exact)
        {
            var statistic = Math.Pow(Math.Max(0, Math.Abs(gained - lost) - 1), 2) / changed;
            return new TestResult("McNemar's test", statistic, 1, null, Tails.ChiSquaredUpper(statistic, 1));
        }
        var fewer = Math.Min(gained, lost);
        var tail = Enumerable.Range(0, fewer + 1).Sum(k => Math.Exp(Tails.LogChoose(changed, k) - (changed * Math.Log(2))));
        return new TestResult("McNemar's test (exact)", fewer, changed, null, Math.Min(1, 2 * tail));
    }

    /// <summary>The test of Cochran and Armitage that the share of yes rises or falls along scores; the statistic is z², without a continuity correction.</summary>
    /// <param name="scores">n scores, such as doses.</param>
    /// <param name="occurred">Yes or no for each.</param>
    /// <exception cref="AnalysisException">There are not as many of both, or one of them does not vary.</exception>
    /// <remarks>Cochran (1954), Biometrics 10; Armitage (1955), Biometrics 11.</remarks>
    public static TestResult CochranArmitage(IReadOnlyList<double> scores, IReadOnlyList<bool> occurred)
    {
        ArgumentNullException.ThrowIfNull(scores);
        ArgumentNullException.ThrowIfNull(occurred);
        if (scores.Count != occurred.Count) throw new AnalysisException($"there are {scores.Count} scores and {occurred.Count} outcomes; they must be as many");
        var pairs = scores.Zip(occurred).Where(p => !double.IsNaN(p.First)).ToArray();
        var n = pairs.Length;
        var yes = pairs.Count(p => p.Second);
        if (yes == 0 || yes == n) throw new AnalysisException($"the outcome is {(yes == 0 ? "no" : "yes")} in all {n} rows; there is nothing to compare");
        var mean = pairs.Average(p => p.First);
        var squares = pairs.Sum(p => Math.Pow(p.First - mean, 2));
        if (!(squares > 0)) throw new AnalysisException("the scores do not vary; there is nothing to compare");
        var sum = pairs.Where(p => p.Second).Sum(p => p.First - mean);
        var share = (double)yes / n;
        var statistic = sum * sum / (share * (1 - share) * squares);
        return new TestResult("Cochran–Armitage test of trend", statistic, 1, null, Tails.ChiSquaredUpper(statistic, 1));
    }
}
