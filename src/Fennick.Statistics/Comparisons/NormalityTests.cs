using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;

namespace Fennick.Statistics.Comparisons;

/// <summary>Tests that values come from a normal distribution.</summary>
public static class NormalityTests
{
    private const int Least = 3;
    private const int Most = 5000;

    /// <summary>The test of Shapiro and Wilk; the statistic is W, and a small p-value speaks against a normal distribution.</summary>
    /// <param name="values">3 to 5000 values; those that are not a number are left out.</param>
    /// <exception cref="AnalysisException">There are too few or too many, or all are the same.</exception>
    /// <remarks>Royston (1995), Applied Statistics 44, algorithm AS R94: coefficients by his polynomials, and p by a normalising transformation of W.</remarks>
    public static TestResult ShapiroWilk(IReadOnlyList<double> values)
    {
        double[] x = [.. Sample.Of(values, Least, "the sample").Order()];
        var n = x.Length;
        if (n > Most) throw new AnalysisException($"the test of Shapiro and Wilk is known for up to {Most} values; there are {n}");
        var squares = Sample.Squares(x);
        if (!(squares > 0)) throw new AnalysisException("all values are the same; there is nothing to test");
        var weights = Weights(n);
        // Weights are antisymmetric, so that differences of opposite values suffice.
        var sum = 0.0;
        for (var i = 0; i < n / 2; i++) sum += weights[i] * (x[n - 1 - i] - x[i]);
        var w = Math.Min(1, sum * sum / squares);
        return new TestResult("Shapiro–Wilk test", w, n, null, PValue(w, n));
    }

    /// <summary>The weights of the larger half, the largest first.</summary>
    private static double[] Weights(int n)
    {
        if (n == 3) return [Math.Sqrt(0.5)];
        var half = n / 2;
        // Blom's approximation of the expected values of ordered normal values.
        double[] m = [.. Enumerable.Range(1, half).Select(i => Tails.NormalLowerQuantile((i - 0.375) / (n + 0.25)))];
        var total = 2 * m.Sum(v => v * v);
        var u = 1 / Math.Sqrt(n);
        var first = Polynomial([0, 0.221157, -0.147981, -2.07119, 4.434685, -2.706056], u) - (m[0] / Math.Sqrt(total));
        var weights = new double[half];
        weights[0] = first;
        if (n > 5)
        {
            var second = Polynomial([0, 0.042981, -0.293762, -1.752461, 5.682633, -3.582633], u) - (m[1] / Math.Sqrt(total));
            var scale = Math.Sqrt((total - (2 * m[0] * m[0]) - (2 * m[1] * m[1])) / (1 - (2 * first * first) - (2 * second * second)));
            weights[1] = second;
            for (var i = 2; i < half; i++) weights[i] = -m[i] / scale;
        }
        else
        {
            var scale = Math.Sqrt((total - (2 * m[0] * m[0])) / (1 - (2 * first * first)));
            for (var i = 1; i < half; i++) weights[i] = -m[i] / scale;
        }
        return weights;
    }

    private static double PValue(double w, int n)
    {
        if (n == 3) return Math.Max(0, 6 / Math.PI * (Math.Asin(Math.Sqrt(w)) - Math.Asin(Math.Sqrt(0.75))));
        var y = double.LogP1(-w);
        var log = Math.Log(n);
        double mean, deviation;
        if (n <= 11)
        {
            var gamma = Polynomial([-2.273, 0.459], n);
            if (y >= gamma) return 1e-99;
            y = -Math.Log(gamma - y);
            mean = Polynomial([0.5440, -0.39978, 0.025054, -6.714e-4], n);
            deviation = Math.Exp(Polynomial([1.3822, -0.77857, 0.062767, -0.0020322], n));
        }
        else
        {
            mean = Polynomial([-1.5861, -0.31082, -0.083751, 0.0038915], log);
            deviation = Math.Exp(Polynomial([-0.4803, -0.082676, 0.0030302], log));
        }
        return Tails.NormalLower(-(y - mean) / deviation);
    }

    private static double Polynomial(double[] coefficients, double x) => coefficients.Reverse().Aggregate(0.0, (sum, c) => (sum * x) + c);
}
