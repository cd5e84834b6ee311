using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Nonlinear least squares by Levenberg and Marquardt's method.</summary>
/// <remarks>Moré (1978), in Numerical Analysis, Lecture Notes in Mathematics 630; each step is a least-squares problem of its own, solved by QR.</remarks>
internal static class NonlinearEstimator
{
    private const int MostSteps = 500;

    public static NonlinearFit Fit(ModelData data, Func<double[], int, double> curve, Func<double[], object, double> curveOfRecord, ImmutableArray<Term> parameters, double[] start)
    {
        var n = data.Response.Length;
        var k = start.Length;
        if (n <= k) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {k} parameters; at least {k + 1} are needed");
        var at = (double[])start.Clone();
        var residuals = ResidualsAt(at);
        var squares = residuals.Sum(r => r * r);
        if (!double.IsFinite(squares)) throw new AnalysisException($"the curve has no finite value at the starting values in {ModelData.CountRows(residuals.Count(r => !double.IsFinite(r)))}; choose others");
        var damping = 1e-3;
        var converged = false;
        var steps = 0;
        while (steps < MostSteps && !converged)
        {
            steps++;
            var slopes = Slopes(at);
            var improved = false;
            for (var attempt = 0; attempt < 60 && !improved; attempt++)
            {
                var change = Step(slopes, residuals, damping);
                var next = at.Zip(change, (a, c) => a + c).ToArray();
                var nextResiduals = ResidualsAt(next);
                var nextSquares = nextResiduals.Sum(r => r * r);
                if (nextSquares <= squares)
                {
                    improved = true;
                    converged = change.Zip(next, (c, a) => Math.Abs(c) <= 1e-10 * (Math.Abs(a) + 1e-10)).All(small => small);
                    (at, residuals, squares) = (next, nextResiduals, nextSquares);
                    damping = Math.Max(damping / 10, 1e-14);
                }
                else
                {
                    damping *= 10;
                    // A step that cannot improve because it is already lost in rounding is the end.
                    if (change.Zip(at, (c, a) => Math.Abs(c) <= 1e-9 * (Math.Abs(a) + 1e-10)).All(small => small)) converged = improved = true;
                }
            }
            if (!improved) break;
        }
        var design = new DesignMatrix(Slopes(at), parameters);
        var triangle = StandardisedTriangle.Create(design, [.. Enumerable.Range(0, k)], residuals, null);
        if (triangle.DependentColumns(1e-9) is [var lost, ..]) throw new AnalysisException($"the data do not determine the parameter `{parameters[lost].Name}`: the curve does not depend on it, or only together with others");
        var warnings = converged ? [] : ImmutableArray.Create(new AnalysisWarning($"the iteration did not converge in {steps} steps; the estimates are not final"));
        var basis = new FitBasis
        {
            Estimator = "nonlinear least squares",
            Data = data,
            Coefficients = at,
            Scores = new Scores(design, null, triangle, residuals),
            ResidualDegreesOfFreedom = n - k,
            Dispersion = squares / (n - k),
            UsesStudent = true,
            LogLikelihood = -n / 2.0 * (Math.Log(2 * Math.PI * squares / n) + 1),
            Warnings = warnings,
        };
        return new NonlinearFit(basis, StandardErrors.Classical, curveOfRecord, converged, steps);

        double[] ResidualsAt(double[] parametersAt)
        {
            var result = new double[n];
            for (var i = 0; i < n; i++) result[i] = data.Response[i] - curve(parametersAt, data.Rows[i]);
            return result;
        }

        double[][] Slopes(double[] parametersAt)
        {
            var columns = new double[k][];
            for (var c = 0; c < k; c++)
            {
                // Central differences with the step that balances rounding and curvature.
                var width = Math.Cbrt(double.BitIncrement(1) - 1) * Math.Max(Math.Abs(parametersAt[c]), 1e-3);
                var (low, high) = ((double[])parametersAt.Clone(), (double[])parametersAt.Clone());
                low[c] -= width;
                high[c] += width;
                columns[c] = new double[n];
                for (var i = 0; i < n; i++) columns[c][i] = (curve(high, data.Rows[i]) - curve(low, data.Rows[i])) / (high[c] - low[c]);
            }
            return columns;
        }
    }

    /// <summary>The damped step: the problem with a row √λ·|column| for each parameter below it.</summary>
    private static double[] Step(double[][] slopes, double[] residuals, double damping)
    {
        var k = slopes.Length;
        var n = residuals.Length;
        var columns = slopes.Select((column, c) =>
        {
            var longer = new double[n + k];
            column.CopyTo(longer, 0);
            longer[n + c] = Math.Sqrt(damping * column.Sum(v => v * v)) + 1e-150;
            return longer;
        }).ToArray();
        var response = new double[n + k];
        residuals.CopyTo(response, 0);
        return LeastSquaresSolver.Solve(new DesignMatrix(columns, [.. Enumerable.Range(0, k).Select(c => new Term($"{c}", $"{c}"))]), response, null, refine: false).Coefficients;
    }
}
