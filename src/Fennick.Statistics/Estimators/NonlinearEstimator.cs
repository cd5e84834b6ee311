using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Nonlinear least squares by Levenberg and Marquardt's method.</summary>
/// <remarks>
/// Moré (1978), in Numerical Analysis, Lecture Notes in Mathematics 630; each step is a least-squares problem of its own, solved by QR. It has converged where the residuals are
/// orthogonal to the tangent plane: Bates &amp; Watts (1981), Technometrics 23.
/// </remarks>
internal static class NonlinearEstimator
{
    private const int MostSteps = 2000;

    // The length of the residuals in the tangent plane, as a share of their whole length.
    private const double Orthogonal = 1e-9;

    // Residuals below this share of the response are rounding.
    private const double Rounding = 1e-14;

    public static NonlinearFit Fit(ModelData data, Curve curve, Func<double[], object, double> curveOfRecord, ImmutableArray<Term> parameters, double[] start)
    {
        var n = data.Response.Length;
        var k = start.Length;
        if (n <= k) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {k} parameters; at least {k + 1} are needed");
        var scales = start.Select(Math.Abs).ToArray();
        var at = (double[])start.Clone();
        var residuals = ResidualsAt(at);
        var squares = Vectors.Dot(residuals, residuals);
        if (!double.IsFinite(squares)) throw new AnalysisException($"the curve has no finite value at the starting values in {ModelData.CountRows(residuals.Count(r => !double.IsFinite(r)))}; choose others");
        var responseLength = Math.Sqrt(Vectors.Dot(data.Response, data.Response));
        var damping = 1e-3;
        var (converged, steps, polished) = (false, 0, 0);
        while (steps < MostSteps)
        {
            steps++;
            var slopes = curve.Slopes(at, scales);
            if (slopes.Any(c => c.Any(s => !double.IsFinite(s)))) break;
            var offset = InTangentPlane(slopes, residuals, parameters);
            converged = offset <= Math.Max(Orthogonal * Math.Sqrt(squares), Rounding * responseLength);
            // A few more steps cost little and take the estimates to the end of double precision.
            if (converged && ++polished > 3) break;
            var improved = false;
            for (var attempt = 0; attempt < 60 && !improved; attempt++)
            {
                var change = Step(slopes, residuals, converged ? 0 : damping);
                var next = at.Zip(change, (a, c) => a + c).ToArray();
                var nextResiduals = ResidualsAt(next);
                var nextSquares = Vectors.Dot(nextResiduals, nextResiduals);
                improved = nextSquares < squares || (converged && nextSquares <= squares);
                if (improved)
                {
                    (at, residuals, squares) = (next, nextResiduals, nextSquares);
                    damping = Math.Max(damping / 10, 1e-14);
                }
                else if (converged)
                {
                    break;
                }
                else
                {
                    damping *= 10;
                }
            }
            if (!improved) break;
        }
        var design = DesignMatrix.OfSlopes(curve.Slopes(at, scales), parameters);
        var split = Factorisation.Create(design, residuals, null);
        if (split.DependentColumns(1e-13) is [var lost, ..]) throw new AnalysisException($"the data do not determine the parameter `{parameters[lost].Name}`: the curve does not depend on it, or only together with others");
        var warnings = converged ? [] : ImmutableArray.Create(new AnalysisWarning($"the iteration did not converge in {steps} steps: the residuals are not orthogonal to the curve's tangent plane, and the estimates are not final; try other starting values"));
        var basis = new FitBasis
        {
            Estimator = "nonlinear least squares",
            Data = data,
            Coefficients = at,
            Centres = [],
            Slopes = at,
            Scores = new Scores(split, null, residuals),
            ResidualDegreesOfFreedom = n - k,
            Dispersion = squares / (n - k),
            UsesStudent = true,
            LogLikelihood = -n / 2.0 * (Math.Log(2 * Math.PI * squares / n) + 1),
            Warnings = warnings,
        };
        return new NonlinearFit(basis, StandardErrors.Classical, curveOfRecord, converged, steps);

        double[] ResidualsAt(double[] parametersAt) => FitBasis.Difference(data.Response, curve.Values(parametersAt));
    }

    /// <summary>The length of the residuals' part in the tangent plane.</summary>
    private static double InTangentPlane(double[][] slopes, double[] residuals, ImmutableArray<Term> parameters)
    {
        var fitted = LeastSquaresSolver.Solve(DesignMatrix.OfSlopes(slopes, parameters), residuals, null, refine: false).Fitted();
        return Math.Sqrt(Vectors.Dot(fitted, fitted));
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
            longer[n + c] = Math.Sqrt(damping * Vectors.Dot(column, column)) + 1e-150;
            return longer;
        }).ToArray();
        var response = new double[n + k];
        residuals.CopyTo(response, 0);
        var solution = LeastSquaresSolver.Solve(DesignMatrix.OfSlopes(columns, [.. Enumerable.Range(0, k).Select(c => new Term($"{c}", $"{c}"))]), response, null, refine: false);
        // A parameter that the curve does not depend on here stays where it is.
        var step = new double[k];
        int[] kept = [.. Enumerable.Range(0, k).Where(c => !solution.Dropped.Contains(c))];
        for (var i = 0; i < kept.Length; i++) step[kept[i]] = solution.Coefficients[i];
        return step;
    }
}
