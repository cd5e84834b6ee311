using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Summaries;
using Fennick.Statistics.Variables;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Estimators;

/// <summary>Regression that outlying rows do not decide: M-estimates by reweighted least squares, with the scale from the median absolute residual at each step.</summary>
/// <remarks>Huber &amp; Ronchetti, Robust Statistics, 2nd ed., ch. 7; errors by their formula (6.5) with its correction. Bisquare: Beaton &amp; Tukey (1974), Technometrics 16.</remarks>
internal static class RobustEstimator
{
    private const double NormalMedian = 0.6744897501960817;
    private const int MostSteps = 500;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The data.</param>
    /// <param name="isBisquare">Whether rows far away count for nothing; else they count the less the farther they are.</param>
    /// <param name="tuning">From how many scales on rows lose weight.</param>
    public static RobustFit Fit(ModelData data, bool isBisquare, double tuning)
    {
        if (!(tuning > 0)) throw new AnalysisException("the tuning constant must be more than zero");
        // A plain fit refuses what cannot be fitted.
        var plain = LinearEstimator.Fit(data);
        var columns = ModelColumns.Of(data);
        var (n, p) = (data.Response.Length, columns.Count + 1);
        double[][] rows = [.. Enumerable.Range(0, n).Select(i => (double[])[1, .. columns.Row(i)])];
        var own = Start(rows, data.Response, isBisquare, plain, p);
        var (scale, converged, steps) = (0.0, false, 0);
        var weights = new double[n];
        while (steps < MostSteps && !converged)
        {
            steps++;
            var before = own;
            double[] rest = [.. rows.Select((r, i) => data.Response[i] - Vectors.Dot(r, own))];
            scale = Sample.Median([.. rest.Select(Math.Abs)]) / NormalMedian;
            if (!(scale > 0)) throw new AnalysisException("more than half of the rows lie on one plane, so that there is no scale to measure the others by; use least squares");
            for (var i = 0; i < n; i++) weights[i] = Weight(rest[i] / scale, isBisquare, tuning);
            own = Weighted(rows, data.Response, weights, p);
            var moved = own.Zip(before, (a, b) => Math.Abs(a - b)).Max();
            converged = moved < 1e-10 * scale;
        }
        double[] residuals = [.. rows.Select((r, i) => data.Response[i] - Vectors.Dot(r, own))];
        scale = Sample.Median([.. residuals.Select(Math.Abs)]) / NormalMedian;
        double[] u = [.. residuals.Select(r => r / scale)];
        double[] slopes = [.. u.Select(x => Slope(x, isBisquare, tuning))];
        var mean = slopes.Average();
        var variance = slopes.Average(s => (s - mean) * (s - mean));
        var correction = 1 + ((double)p / n * variance / (mean * mean));
        var squares = u.Sum(x => Math.Pow(x * Weight(x, isBisquare, tuning), 2)) / (n - p) * scale * scale;
        var design = Matrix<double>.Build.DenseOfRowArrays(rows);
        var inner = design.TransposeThisAndMultiply(design).Inverse() * (correction * correction * squares / (mean * mean));
        var (coefficients, covariance) = EstimatedBasis.Transform(columns.ToGiven(p, 1, [(0, -1)]), own, inner.ToArray());
        var basis = new EstimatedBasis
        {
            Estimator = isBisquare ? Regression.BisquareName : Regression.HuberName,
            Data = data,
            Terms = [Term.Intercept, .. columns.Terms],
            Coefficients = coefficients,
            Covariance = covariance,
            LogLikelihood = double.NaN,
            ParameterCount = p,
            Iterations = steps,
            Converged = converged,
            Warnings = columns.Warnings,
        };
        return new RobustFit(basis, scale, weights, tuning);
    }

    private static double[] Start(double[][] rows, double[] response, bool isBisquare, LinearFit plain, int p)
    {
        // Bisquare has several minima: it starts from absolute deviations, which outliers do not draw.
        if (!isBisquare) return Weighted(rows, response, [.. response.Select(_ => 1.0)], p);
        var own = Weighted(rows, response, [.. response.Select(_ => 1.0)], p);
        for (var step = 0; step < 60; step++) own = Weighted(rows, response, [.. rows.Select((r, i) => 1 / Math.Max(Math.Abs(response[i] - Vectors.Dot(r, own)), 1e-6 * plain.ResidualStandardError))], p);
        return own;
    }

    private static double[] Weighted(double[][] rows, double[] response, double[] weights, int p)
    {
        var (left, right) = (Matrix<double>.Build.Dense(p, p), Vector<double>.Build.Dense(p));
        for (var i = 0; i < rows.Length; i++)
        {
            for (var a = 0; a < p; a++)
            {
                right[a] += weights[i] * rows[i][a] * response[i];
                for (var b = 0; b < p; b++) left[a, b] += weights[i] * rows[i][a] * rows[i][b];
            }
        }
        return [.. left.Solve(right)];
    }

    private static double Weight(double u, bool isBisquare, double c) => isBisquare ? Math.Abs(u) >= c ? 0 : Math.Pow(1 - (u * u / (c * c)), 2) : Math.Abs(u) <= c ? 1 : c / Math.Abs(u);

    private static double Slope(double u, bool isBisquare, double c) => Math.Abs(u) > c ? 0 : !isBisquare ? 1 : (1 - (u * u / (c * c))) * (1 - (5 * u * u / (c * c)));
}
