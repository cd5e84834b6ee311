using MathNet.Numerics;

namespace Fennick.Statistics.Numerics;

/// <summary>Tail probabilities, right to many digits even where they are tiny, and the quantiles that belong to them.</summary>
internal static class Tails
{
    /// <summary>P(|Z| ≥ |z|).</summary>
    public static double NormalTwoSided(double z) => SpecialFunctions.Erfc(Math.Abs(z) / Math.Sqrt(2));

    /// <summary>P(Z ≤ z).</summary>
    public static double NormalLower(double z) => 0.5 * SpecialFunctions.Erfc(-z / Math.Sqrt(2));

    /// <summary>The z with P(Z ≤ z) a share, right in both tails.</summary>
    public static double NormalLowerQuantile(double share) => share < 0.5 ? -NormalQuantile(2 * share) : NormalQuantile(2 * (1 - share));

    /// <summary>1 / (1 + e⁻ᶻ), which neither overflows nor loses what is small.</summary>
    public static double LogisticLower(double z) => z > 0 ? 1 / (1 + Math.Exp(-z)) : Math.Exp(z) / (1 + Math.Exp(z));

    /// <summary>ln of the number of ways to choose k of n.</summary>
    public static double LogChoose(int n, int k) => SpecialFunctions.FactorialLn(n) - SpecialFunctions.FactorialLn(k) - SpecialFunctions.FactorialLn(n - k);

    /// <summary>ln P(Z ≤ z), also where the probability itself is nearly 0 or 1.</summary>
    public static double LogNormalLower(double z) => z < -5 ? (-z * z / 2) - (Math.Log(2 * Math.PI) / 2) - Math.Log(NormalHazard(-z)) : z > 5 ? double.LogP1(-NormalLower(-z)) : Math.Log(NormalLower(z));

    /// <summary>The density at x over P(Z ≥ x).</summary>
    /// <remarks>Abramowitz &amp; Stegun 26.2.14 for large x.</remarks>
    public static double NormalHazard(double x)
    {
        if (x < 5) return Math.Exp(-x * x / 2) / Math.Sqrt(2 * Math.PI) / NormalLower(-x);
        var fraction = x;
        for (var i = 60; i > 0; i--) fraction = x + (i / fraction);
        return fraction;
    }

    /// <summary>P(|T| ≥ |t|), Student's t; the normal distribution for infinitely many degrees of freedom.</summary>
    public static double StudentTwoSided(double t, double degreesOfFreedom)
    {
        if (double.IsNaN(t) || double.IsNaN(degreesOfFreedom)) return double.NaN;
        if (double.IsPositiveInfinity(degreesOfFreedom)) return NormalTwoSided(t);
        var ratio = t * t / degreesOfFreedom;
        return double.IsPositiveInfinity(ratio) ? 0 : Beta(degreesOfFreedom / 2, 0.5, ratio);
    }

    /// <summary>P(F ≥ f).</summary>
    public static double FUpper(double f, double numerator, double denominator) => double.IsNaN(f) ? f : f <= 0 ? 1
        : double.IsPositiveInfinity(denominator) ? ChiSquaredUpper(f * numerator, numerator)
        : double.IsPositiveInfinity(f) ? 0 : Beta(denominator / 2, numerator / 2, f * numerator / denominator);

    /// <summary>P(χ² ≥ x).</summary>
    public static double ChiSquaredUpper(double x, double degreesOfFreedom)
    {
        if (double.IsNaN(x)) return x;
        if (x <= 0) return 1;
        if (double.IsPositiveInfinity(x)) return 0;
        var a = degreesOfFreedom / 2;
        var half = x / 2;
        var front = Math.Exp((a * Math.Log(half)) - half - SpecialFunctions.GammaLn(a));
        if (half < a + 1)
        {
            // Series for the lower tail (Abramowitz & Stegun 6.5.29).
            double term = 1 / a, sum = term;
            for (var i = 1; i < 10_000 && Math.Abs(term) > sum * 1e-17; i++)
            {
                term *= half / (a + i);
                sum += term;
            }
            return 1 - (front * sum);
        }
        // Continued fraction for the upper tail (Abramowitz & Stegun 6.5.31), by Lentz's method.
        double b = half + 1 - a, c = 1e300, d = 1 / b, fraction = d;
        for (var i = 1; i < 10_000; i++)
        {
            var an = -i * (i - a);
            b += 2;
            d = 1 / ((an * d) + b);
            c = b + (an / c);
            var delta = c * d;
            fraction *= delta;
            if (Math.Abs(delta - 1) < 1e-16) break;
        }
        return front * fraction;
    }

    /// <summary>The t with P(|T| ≥ t) = <paramref name="probability"/>.</summary>
    public static double StudentQuantile(double probability, double degreesOfFreedom)
    {
        var t = Math.Sqrt(2) * SpecialFunctions.ErfcInv(probability);
        if (double.IsPositiveInfinity(degreesOfFreedom)) return t;
        // Newton on the logarithm of the tail, which is nearly straight.
        for (var i = 0; i < 100; i++)
        {
            var tail = StudentTwoSided(t, degreesOfFreedom);
            var density = Math.Exp(SpecialFunctions.GammaLn((degreesOfFreedom + 1) / 2) - SpecialFunctions.GammaLn(degreesOfFreedom / 2)
                - ((degreesOfFreedom + 1) / 2 * Math.Log(1 + (t * t / degreesOfFreedom)))) / Math.Sqrt(degreesOfFreedom * Math.PI);
            var step = Math.Log(tail / probability) * tail / (2 * density);
            t += step;
            if (Math.Abs(step) < 1e-14 * t) break;
        }
        return t;
    }

    /// <summary>The z with P(|Z| ≥ z) = <paramref name="probability"/>.</summary>
    public static double NormalQuantile(double probability) => StudentQuantile(probability, double.PositiveInfinity);

    /// <summary>The regularised incomplete beta function I_x(a, b) at x = 1 / (1 + ratio): the upper tail of F and t.</summary>
    /// <remarks>Abramowitz &amp; Stegun 26.5.8, by Lentz's method; x comes as a ratio so that nothing is lost near 1.</remarks>
    private static double Beta(double a, double b, double ratio)
    {
        var x = 1 / (1 + ratio);
        var complement = ratio / (1 + ratio);
        var front = Math.Exp((-a * LogOnePlus(ratio)) + (b * (Math.Log(ratio) - LogOnePlus(ratio))) - LogBeta(a, b));
        return x < (a + 1) / (a + b + 2) ? front * Fraction(a, b, x) / a : 1 - (front * Fraction(b, a, complement) / b);
    }

    private static double Fraction(double a, double b, double x)
    {
        const double Tiny = 1e-300;
        double c = 1, d = 1 - ((a + b) * x / (a + 1));
        d = 1 / (Math.Abs(d) < Tiny ? Tiny : d);
        var fraction = d;
        for (var m = 1; m < 100_000; m++)
        {
            Step(m * (b - m) * x / ((a + (2 * m) - 1) * (a + (2 * m))));
            var delta = Step(-(a + m) * (a + b + m) * x / ((a + (2 * m)) * (a + (2 * m) + 1)));
            if (Math.Abs(delta - 1) < 1e-16) break;
        }
        return fraction;

        double Step(double term)
        {
            d = 1 + (term * d);
            d = 1 / (Math.Abs(d) < Tiny ? Tiny : d);
            c = 1 + (term / c);
            if (Math.Abs(c) < Tiny) c = Tiny;
            fraction *= c * d;
            return c * d;
        }
    }

    /// <summary>ln(1 + x) without loss for small x.</summary>
    private static double LogOnePlus(double x)
    {
        var sum = 1 + x;
        // Kahan's correction for what 1 + x rounds away.
        return sum == 1 ? x : Math.Log(sum) * x / (sum - 1);
    }

    /// <summary>ln B(a, b), without the cancellation of three large logarithms.</summary>
    private static double LogBeta(double a, double b)
    {
        var (small, large) = a < b ? (a, b) : (b, a);
        if (large < 10) return SpecialFunctions.GammaLn(small) + SpecialFunctions.GammaLn(large) - SpecialFunctions.GammaLn(small + large);
        // Stirling's series for Γ(large) / Γ(small + large).
        var ratio = ((0.5 - large) * LogOnePlus(small / large)) - (small * Math.Log(small + large)) + small + Correction(large) - Correction(small + large);
        return SpecialFunctions.GammaLn(small) + ratio;

        static double Correction(double x)
        {
            var s = 1 / (x * x);
            return (1.0 / 12 - (s * (1.0 / 360 - (s * (1.0 / 1260 - (s * (1.0 / 1680 - (s * (1.0 / 1188 - (s * 691.0 / 360360)))))))))) / x;
        }
    }
}
