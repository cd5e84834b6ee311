using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Estimators;

/// <summary>Quantile regression: the exact minimum of the tilted absolute deviations.</summary>
/// <remarks>
/// Koenker &amp; Bassett (1978), Econometrica 46; the minimum passes through as many rows as there are terms, and is reached by exchanging one of them at a time (Koenker, Quantile Regression,
/// §6.2). Errors by Powell's kernel with Hall and Sheather's bandwidth (§3.4).
/// </remarks>
internal static class QuantileEstimator
{
    /// <summary>Fits a model.</summary>
    /// <param name="data">The data.</param>
    /// <param name="quantile">The quantile, between 0 and 1.</param>
    public static QuantileFit Fit(ModelData data, double quantile)
    {
        if (quantile is not (> 0 and < 1)) throw new AnalysisException($"the quantile is {quantile.ToString(CultureInfo.InvariantCulture)}; it must be between 0 and 1, and not one of them");
        if (!data.Response.AsSpan().ContainsAnyExcept(data.Response[0])) throw new AnalysisException($"the response `{data.ResponseName}` is {data.Response[0].ToString(CultureInfo.InvariantCulture)} in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        var columns = ModelColumns.Of(data);
        var (n, p) = (data.Response.Length, columns.Count + 1);
        if (n <= p) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {p} terms");
        double[][] rows = [.. Enumerable.Range(0, n).Select(i => (double[])[1, .. columns.Row(i)])];
        var (own, iterations, converged) = Minimise(rows, data.Response, quantile);
        var toGiven = columns.ToGiven(p, 1, [(0, -1)]);
        double[] residuals = [.. rows.Select((r, i) => data.Response[i] - Vectors.Dot(r, own))];
        var covariance = Covariance(rows, residuals, quantile, p);
        var (coefficients, ofCoefficients) = EstimatedBasis.Transform(toGiven, own, covariance);
        var sum = residuals.Sum(r => r * (quantile - (r < 0 ? 1 : 0)));
        double[] alone = [.. data.Response.Order()];
        var constant = alone[(int)Math.Min(n - 1, Math.Ceiling(n * quantile) - 1)];
        var total = data.Response.Sum(y => (y - constant) * (quantile - (y < constant ? 1 : 0)));
        var basis = new EstimatedBasis
        {
            Estimator = Regression.QuantileName,
            Data = data,
            Terms = [Term.Intercept, .. columns.Terms],
            Coefficients = coefficients,
            Covariance = ofCoefficients,
            // Of asymmetric Laplace errors, as whose likelihood the criterion reads.
            LogLikelihood = n * (Math.Log(quantile * (1 - quantile)) - 1 - Math.Log(sum / n)),
            ParameterCount = p + 1,
            Iterations = iterations,
            Converged = converged,
            Warnings = columns.Warnings,
        };
        return new QuantileFit(basis, quantile, 1 - (sum / total), n - p);
    }

    private static (double[] Coefficients, int Iterations, bool Converged) Minimise(double[][] rows, double[] response, double quantile)
    {
        var (n, p) = (rows.Length, rows[0].Length);
        var basis = Start(rows, response, quantile);
        var inverse = InverseOf(rows, basis);
        for (var iteration = 1; iteration <= 50 * (n + p); iteration++)
        {
            var coefficients = Multiply(inverse, [.. basis.Select(b => response[b])]);
            var isBasic = new bool[n];
            foreach (var b in basis) isBasic[b] = true;
            double[] residuals = [.. rows.Select((r, i) => isBasic[i] ? 0 : response[i] - Vectors.Dot(r, coefficients))];
            var scale = residuals.Max(Math.Abs);
            // The slope of the sum along each edge, away from and towards.
            var sums = new double[p];
            for (var i = 0; i < n; i++)
                if (!isBasic[i]) Vectors.AddScaled(sums, quantile - (residuals[i] < 0 ? 1 : 0), rows[i]);
            var (best, place, direction) = (-1e-9 * n, -1, 1);
            for (var j = 0; j < p; j++)
            {
                var along = 0.0;
                for (var c = 0; c < p; c++) along += sums[c] * inverse[c, j];
                // Row j's residual becomes −t or t: its own part of the slope is 1 − τ, or τ.
                if (-along + 1 - quantile < best) (best, place, direction) = (-along + 1 - quantile, j, 1);
                if (along + quantile < best) (best, place, direction) = (along + quantile, j, -1);
            }
            if (place < 0) return (coefficients, iteration, true);
            var step = new double[p];
            for (var c = 0; c < p; c++) step[c] = direction * inverse[c, place];
            // Along the edge the slope grows where residuals change their sign.
            var crossings = new List<(double At, double Change, int Row)>();
            for (var i = 0; i < n; i++)
            {
                if (isBasic[i]) continue;
                var move = Vectors.Dot(rows[i], step);
                if (Math.Abs(move) > 1e-12 && residuals[i] / move is var at && (at > 0 || (at == 0 && move > 0 == residuals[i] >= 0))) crossings.Add((at, Math.Abs(move), i));
            }
            crossings.Sort();
            var (slope, entering) = (best, -1);
            foreach (var (_, change, row) in crossings)
            {
                slope += change;
                if (slope < 0) continue;
                entering = row;
                break;
            }
            if (entering < 0 || scale == 0) return (coefficients, iteration, scale == 0);
            basis[place] = entering;
            inverse = InverseOf(rows, basis);
        }
        return (Multiply(inverse, [.. basis.Select(b => response[b])]), 50 * (n + p), false);
    }

    /// <summary>Rows that the minimum is likely to pass near, and that determine a plane.</summary>
    private static int[] Start(double[][] rows, double[] response, double quantile)
    {
        var (n, p) = (rows.Length, rows[0].Length);
        var coefficients = new double[p];
        coefficients[0] = response.Order().ElementAt((int)(quantile * (n - 1)));
        var spread = response.Average(y => Math.Abs(y - coefficients[0]));
        for (var step = 0; step < 30; step++)
        {
            var (left, right) = (Matrix<double>.Build.Dense(p, p), Vector<double>.Build.Dense(p));
            for (var i = 0; i < n; i++)
            {
                var rest = response[i] - Vectors.Dot(rows[i], coefficients);
                var weight = (rest < 0 ? 1 - quantile : quantile) / Math.Max(Math.Abs(rest), 1e-4 * spread);
                for (var a = 0; a < p; a++)
                {
                    right[a] += weight * rows[i][a] * response[i];
                    for (var b = 0; b < p; b++) left[a, b] += weight * rows[i][a] * rows[i][b];
                }
            }
            coefficients = [.. left.Solve(right)];
        }
        // The nearest rows that depend on none before them.
        var (chosen, axes) = (new List<int>(), new List<double[]>());
        foreach (var i in Enumerable.Range(0, n).OrderBy(i => Math.Abs(response[i] - Vectors.Dot(rows[i], coefficients))))
        {
            var rest = (double[])rows[i].Clone();
            foreach (var axis in axes) Vectors.AddScaled(rest, -Vectors.Dot(rest, axis), axis);
            var length = Math.Sqrt(Vectors.Dot(rest, rest));
            if (length < 1e-3 * Math.Sqrt(Vectors.Dot(rows[i], rows[i]))) continue;
            axes.Add([.. rest.Select(r => r / length)]);
            chosen.Add(i);
            if (chosen.Count == p) break;
        }
        if (chosen.Count == p) return [.. chosen];
        throw new AnalysisException("the data do not determine all terms of the model; leave out terms, or gather rare categories");
    }

    /// <summary>Powell's sandwich: τ (1 − τ) D⁻¹ X'X D⁻¹, where D weighs rows by a kernel of their residuals.</summary>
    private static double[,] Covariance(double[][] rows, double[] residuals, double quantile, int p)
    {
        var n = rows.Length;
        var z = Tails.NormalLowerQuantile(quantile);
        var density = Math.Exp(-z * z / 2) / Math.Sqrt(2 * Math.PI);
        var width = Math.Pow(n, -1.0 / 3) * Math.Pow(Tails.NormalQuantile(0.05), 2.0 / 3) * Math.Pow(1.5 * density * density / ((2 * z * z) + 1), 1.0 / 3);
        double[] sorted = [.. residuals.Order()];
        double At(double share)
        {
            var place = share * (n - 1);
            var low = (int)place;
            return sorted[low] + ((place - low) * (sorted[Math.Min(low + 1, n - 1)] - sorted[low]));
        }

        var mean = residuals.Average();
        var deviation = Math.Sqrt(residuals.Average(r => (r - mean) * (r - mean)));
        var (above, below) = (Math.Min(quantile + width, 1 - 1e-6), Math.Max(quantile - width, 1e-6));
        var bandwidth = Math.Min(deviation, (At(0.75) - At(0.25)) / 1.34) * (Tails.NormalLowerQuantile(above) - Tails.NormalLowerQuantile(below));
        var (kernel, plain) = (Matrix<double>.Build.Dense(p, p), Matrix<double>.Build.Dense(p, p));
        for (var i = 0; i < n; i++)
        {
            var u = residuals[i] / bandwidth;
            var weight = Math.Abs(u) <= 1 ? 0.75 * (1 - (u * u)) / bandwidth : 0;
            for (var a = 0; a < p; a++)
            {
                for (var b = 0; b < p; b++)
                {
                    kernel[a, b] += weight * rows[i][a] * rows[i][b];
                    plain[a, b] += rows[i][a] * rows[i][b];
                }
            }
        }
        var inverse = kernel.Inverse();
        return (inverse * plain * inverse * (quantile * (1 - quantile))).ToArray();
    }

    private static double[,] InverseOf(double[][] rows, int[] basis) => Matrix<double>.Build.DenseOfRowArrays([.. basis.Select(b => rows[b])]).Inverse().ToArray();

    private static double[] Multiply(double[,] matrix, double[] vector) => [.. Enumerable.Range(0, vector.Length).Select(i => vector.Select((v, j) => matrix[i, j] * v).Sum())];
}
