using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;
using MathNet.Numerics;

namespace Fennick.Statistics.Comparisons;

/// <summary>A correlation of two variables.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Coefficient">Between -1 and 1.</param>
/// <param name="Pairs">n, the pairs that are complete.</param>
public sealed record Correlation(string Name, double Coefficient, int Pairs)
{
    private const string SpearmanName = "Spearman's ρ";

    // Up to so many pairs all orders are counted.
    private const int LargestExact = 10;

    private double? ExactPValue { get; init; }

    /// <summary>The two-sided p-value against no correlation: for ranks of up to ten pairs the share of all orders that correlate as much, else by t with n − 2 degrees of freedom.</summary>
    public double PValue => ExactPValue ?? (Math.Abs(Coefficient) >= 1 ? 0 : ByStudent);

    private double ByStudent => Tails.StudentTwoSided(Coefficient * Math.Sqrt((Pairs - 2) / (1 - (Coefficient * Coefficient))), Pairs - 2);

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
        var (ranks, others) = (Sample.Ranks(a).Ranks, Sample.Ranks(b).Ranks);
        var coefficient = Compute(ranks, others);
        // A perfect order of many pairs is one of two in n!, whatever t says.
        double? exact = a.Length <= LargestExact ? ShareOfOrders(ranks, others) : Math.Abs(coefficient) >= 1 ? 2 * Math.Exp(-SpecialFunctions.FactorialLn(a.Length)) : null;
        return new Correlation(SpearmanName, coefficient, a.Length) { ExactPValue = exact };
    }

    /// <summary>The share of all orders of the second ranks whose correlation with the first is as far from zero, ties as they are.</summary>
    /// <remarks>Counted over subsets: after i ranks are placed the set of those used and the sum of products are all that matters. Hollander, Wolfe &amp; Chicken, Nonparametric Statistical Methods, 3rd ed., §8.5.</remarks>
    private static double ShareOfOrders(double[] first, double[] second)
    {
        // Twice a mean rank is whole, so that sums are exact.
        var n = first.Length;
        int[] a = [.. first.Select(r => (int)(2 * r))], b = [.. second.Select(r => (int)(2 * r))];
        // Sorted, the products of equal places give the largest sum.
        var largest = a.Order().Zip(b.Order(), (x, y) => x * y).Sum();
        var counts = new long[1 << n][];
        counts[0] = new long[largest + 1];
        counts[0][0] = 1;
        for (var used = 0; used < counts.Length - 1; used++)
        {
            var place = int.PopCount(used);
            for (var next = 0; next < n; next++)
            {
                if ((used & (1 << next)) != 0) continue;
                var target = counts[used | (1 << next)] ??= new long[largest + 1];
                var product = a[place] * b[next];
                for (var sum = 0; sum + product <= largest; sum++) target[sum + product] += counts[used][sum];
            }
            counts[used] = [];
        }
        var all = counts[^1];
        // n times a sum of products less the product of the sums is the covariance, in whole numbers.
        long Distance(int sum) => Math.Abs(((long)n * sum) - ((long)a.Sum() * b.Sum()));
        var observed = Distance(a.Zip(b, (x, y) => x * y).Sum());
        return all.Where((_, sum) => Distance(sum) >= observed).Sum() / (double)all.Sum();
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
        // Units of their own keep squares and products within range.
        var (ua, ub) = (Sample.Unit(a), Sample.Unit(b));
        double[] x = Sample.Distances([.. a.Select(v => v * ua)], a[0] * ua), y = Sample.Distances([.. b.Select(v => v * ub)], b[0] * ub);
        var (mx, my) = (Sample.MeanOf(x), Sample.MeanOf(y));
        var (sx, sy) = (Sample.Squares(x), Sample.Squares(y));
        if (sx == 0 || sy == 0) throw new AnalysisException($"the {(sx == 0 ? "first" : "second")} variable is {(sx == 0 ? a : b)[0].ToString(System.Globalization.CultureInfo.InvariantCulture)} in all {a.Length} pairs; it has no correlation");
        return Math.Clamp(x.Zip(y, (p, q) => (p - mx) * (q - my)).Sum() / Math.Sqrt(sx) / Math.Sqrt(sy), -1, 1);
    }
}
