using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>A correlation of two variables.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Coefficient">Between -1 and 1.</param>
/// <param name="Pairs">n, the pairs that are complete.</param>
public sealed record Correlation(string Name, double Coefficient, int Pairs)
{
    private const string SpearmanName = "Spearman's ρ";

    /// <summary>The two-sided p-value against no correlation, by t with n − 2 degrees of freedom.</summary>
    public double PValue => Math.Abs(Coefficient) >= 1 ? 0 : Tails.StudentTwoSided(Coefficient * Math.Sqrt((Pairs - 2) / (1 - (Coefficient * Coefficient))), Pairs - 2);

    /// <summary>Pearson's correlation.</summary>
    /// <exception cref="AnalysisException">There are fewer than three pairs, or a variable does not vary.</exception>
    public static Correlation Pearson(IReadOnlyList<double> first, IReadOnlyList<double> second)
    {
        var (a, b) = Comparisons.Pairs.Of(first, second, 3);
        return new Correlation("Pearson's r", Compute(a, b), a.Length);
    }

    /// <summary>Spearman's rank correlation, ties sharing their mean rank.</summary>
    /// <exception cref="AnalysisException">There are fewer than three pairs, or a variable does not vary.</exception>
    public static Correlation Spearman(IReadOnlyList<double> first, IReadOnlyList<double> second)
    {
        var (a, b) = Comparisons.Pairs.Of(first, second, 3);
        return new Correlation(SpearmanName, Compute(Sample.Ranks(a).Ranks, Sample.Ranks(b).Ranks), a.Length);
    }

    /// <summary>The confidence interval by Fisher's z; for ranks with the variance of Bonett and Wright.</summary>
    /// <param name="level">Its level, such as 0.95.</param>
    /// <exception cref="AnalysisException">There are fewer than four pairs.</exception>
    /// <remarks>Bonett &amp; Wright (2000), Psychometrika 65.</remarks>
    public Interval Interval(double level = 0.95)
    {
        if (Pairs < 4) throw new AnalysisException($"{Pairs} pairs are complete; an interval needs at least 4");
        var spread = Math.Sqrt((Name == SpearmanName ? 1 + (Coefficient * Coefficient / 2) : 1) / (Pairs - 3));
        var half = Tails.NormalQuantile(1 - level) * spread;
        return new Interval(Math.Tanh(Math.Atanh(Coefficient) - half), Math.Tanh(Math.Atanh(Coefficient) + half));
    }

    private static double Compute(double[] a, double[] b)
    {
        var (ma, mb) = (Sample.Mean(a), Sample.Mean(b));
        var (sa, sb) = (Sample.Squares(a), Sample.Squares(b));
        if (sa == 0 || sb == 0) throw new AnalysisException($"the {(sa == 0 ? "first" : "second")} variable is {(sa == 0 ? ma : mb).ToString(System.Globalization.CultureInfo.InvariantCulture)} in all {a.Length} pairs; it has no correlation");
        return Math.Clamp(a.Zip(b, (x, y) => (x - ma) * (y - mb)).Sum() / Math.Sqrt(sa * sb), -1, 1);
    }
}
