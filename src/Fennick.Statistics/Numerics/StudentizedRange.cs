using MathNet.Numerics;

namespace Fennick.Statistics.Numerics;

/// <summary>The distribution of the range of normal means over an independent estimate of their standard deviation.</summary>
/// <remarks>Copenhaver &amp; Holland (1988), Journal of Statistical Computation and Simulation 30: the integral over the means within one over the standard deviation.</remarks>
internal static class StudentizedRange
{
    private const int Order = 64;
    private static readonly (double[] Nodes, double[] Weights) Rule = Legendre();

    /// <summary>P(Q ≥ q) of k means.</summary>
    public static double Upper(double q, int k, double degreesOfFreedom)
    {
        if (!(q > 0)) return 1;
        if (double.IsPositiveInfinity(degreesOfFreedom) || degreesOfFreedom > 1e5) return 1 - RangeBelow(q, k);
        // Over s with s² ν a χ² of ν degrees: all but a part of 1e-16 lies this far around 1.
        var spread = 9 / Math.Sqrt(2 * degreesOfFreedom);
        var log = Math.Log(2) + (degreesOfFreedom / 2 * Math.Log(degreesOfFreedom / 2)) - SpecialFunctions.GammaLn(degreesOfFreedom / 2);
        var below = 0.0;
        var (low, high) = (Math.Max(0, 1 - spread), 1 + spread + (4 / degreesOfFreedom));
        const int Pieces = 6;
        for (var piece = 0; piece < Pieces; piece++)
        {
            var (from, to) = (low + ((high - low) * piece / Pieces), low + ((high - low) * (piece + 1) / Pieces));
            below += Integrate(from, to, s => s <= 0 ? 0 : Math.Exp(log + ((degreesOfFreedom - 1) * Math.Log(s)) - (degreesOfFreedom * s * s / 2)) * (1 - RangeBelow(q * s, k)));
        }
        return Math.Clamp(below, 0, 1);
    }

    /// <summary>The q with P(Q ≥ q) a probability.</summary>
    public static double Quantile(double probability, int k, double degreesOfFreedom)
    {
        var (low, high) = (0.0, 4.0);
        while (Upper(high, k, degreesOfFreedom) > probability) (low, high) = (high, high * 2);
        return MathNet.Numerics.RootFinding.Brent.FindRoot(q => Upper(q, k, degreesOfFreedom) - probability, low, high, 1e-10);
    }

    /// <summary>P(range of k normal values ≤ w).</summary>
    private static double RangeBelow(double w, int k)
    {
        var sum = 0.0;
        const int Pieces = 4;
        const double Far = 8.5;
        for (var piece = 0; piece < Pieces; piece++)
            sum += Integrate(-Far + (2 * Far * piece / Pieces), -Far + (2 * Far * (piece + 1) / Pieces), z => Math.Exp(-z * z / 2) / Math.Sqrt(2 * Math.PI) * Math.Pow(Tails.NormalLower(z) - Tails.NormalLower(z - w), k - 1));
        return Math.Min(1, k * sum);
    }

    private static double Integrate(double from, double to, Func<double, double> function)
    {
        var (half, middle, sum) = ((to - from) / 2, (to + from) / 2, 0.0);
        for (var i = 0; i < Order; i++) sum += Rule.Weights[i] * function(middle + (half * Rule.Nodes[i]));
        return half * sum;
    }

    private static (double[], double[]) Legendre()
    {
        var rule = new MathNet.Numerics.Integration.GaussLegendreRule(-1, 1, Order);
        return (rule.Abscissas, rule.Weights);
    }
}
