namespace Fennick.Statistics.Numerics;

/// <summary>Sparse least squares by LSMR: min ‖A x − b‖ with A, whose columns are of length one, given by its products alone.</summary>
/// <remarks>Fong &amp; Saunders (2011), SIAM Journal on Scientific Computing 33, algorithm of §2 without damping.</remarks>
internal static class Lsmr
{
    private const double Done = 1e-14;
    private const double Orthogonal = 1e-13;

    /// <summary>The solution of least length.</summary>
    /// <param name="forward">A x.</param>
    /// <param name="back">A' y.</param>
    /// <param name="right">b.</param>
    /// <param name="size">The number of unknowns.</param>
    public static double[] Solve(Func<double[], double[]> forward, Func<double[], double[]> back, double[] right, int size)
    {
        var x = new double[size];
        var u = (double[])right.Clone();
        var beta = Normalise(u);
        if (beta == 0) return x;
        var v = back(u);
        var alpha = Normalise(v);
        // What is orthogonal already has nothing but rounding left to fit.
        if (alpha <= Orthogonal) return x;
        double zetaBar = alpha * beta, alphaBar = alpha, rho = 1, rhoBar = 1, cBar = 1, sBar = 0;
        var start = Math.Abs(zetaBar);
        var (best, since) = (start, 0);
        var h = (double[])v.Clone();
        var hBar = new double[size];
        // Rounding delays the end that exact arithmetic reaches within as many steps as there are unknowns.
        for (var step = 0; step < (20 * size) + 100; step++)
        {
            u = Combined(forward(v), -alpha, u);
            beta = Normalise(u);
            v = Combined(back(u), -beta, v);
            alpha = Normalise(v);

            var rhoBefore = rho;
            rho = double.Hypot(alphaBar, beta);
            var (c, s) = (alphaBar / rho, beta / rho);
            var thetaNew = s * alpha;
            alphaBar = c * alpha;
            var rhoBarBefore = rhoBar;
            var thetaBar = sBar * rho;
            var rhoTemp = cBar * rho;
            rhoBar = double.Hypot(cBar * rho, thetaNew);
            (cBar, sBar) = (rhoTemp / rhoBar, thetaNew / rhoBar);
            var zeta = cBar * zetaBar;
            zetaBar = -sBar * zetaBar;

            var keep = -(thetaBar * rho) / (rhoBefore * rhoBarBefore);
            for (var i = 0; i < size; i++) hBar[i] = h[i] + (keep * hBar[i]);
            Vectors.AddScaled(x, zeta / (rho * rhoBar), hBar);
            for (var i = 0; i < size; i++) h[i] = v[i] - (thetaNew / rho * h[i]);
            // |ζ̄| is the length of A' times the residual; once it does not get smaller any more, what is left is rounding.
            (best, since) = Math.Abs(zetaBar) < 0.9 * best ? (Math.Abs(zetaBar), 0) : (best, since + 1);
            if (Math.Abs(zetaBar) <= Done * start || alpha == 0 || beta == 0 || since > size + 20) break;
        }
        return x;
    }

    private static double[] Combined(double[] target, double factor, double[] source)
    {
        Vectors.AddScaled(target, factor, source);
        return target;
    }

    /// <summary>Scales a vector to length one, and gives the length that it had.</summary>
    private static double Normalise(double[] values)
    {
        var length = Math.Sqrt(Vectors.Dot(values, values));
        if (length > 0) for (var i = 0; i < values.Length; i++) values[i] /= length;
        return length;
    }
}
