using System.Collections.Immutable;
using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Nonlinear least squares by Levenberg and Marquardt's method.</summary>
/// <remarks>
/// Moré (1978), in Numerical Analysis, Lecture Notes in Mathematics 630, with the damping of Nielsen (1999) and steps bent along the valley (Transtrum &amp; Sethna 2012,
/// arXiv:1201.5885); each step is a least-squares problem of its own, solved by QR. It has converged where the residuals are orthogonal to the tangent plane: Bates &amp; Watts (1981),
/// Technometrics 23.
/// </remarks>
internal static class NonlinearEstimator
{
    private const int MostSteps = 2000;

    private const double MostGrowth = 2;

    // A step that is damped so much is not a step.
    private const double MostDamping = 1e30;

    // The length of the residuals in the tangent plane, as a share of their whole length.
    private const double Orthogonal = 1e-7;
    private const double NearlyOrthogonal = 1e-3;

    // Residuals below this share of the response are rounding.
    private const double Rounding = 1e-14;
    private const double NearlyRounding = 1e-8;

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
        var (damping, growth) = (1.0, 2.0);
        var lengths = new double[k];
        var steps = 0;
        var slopes = curve.Slopes(at, scales);
        var offset = InTangentPlane(slopes, residuals);
        while (steps < MostSteps && double.IsFinite(offset))
        {
            steps++;
            for (var c = 0; c < k; c++) lengths[c] = Math.Max(lengths[c] / 10, Math.Sqrt(Vectors.Dot(slopes[c], slopes[c])));
            // Near the end the squares no longer tell a better point from a worse one, but the offset does: steps without damping go on as long as it gets smaller.
            if (offset <= NearlyOrthogonal * Math.Sqrt(squares) && TryMove(Step(slopes, residuals, lengths, 0), 1 + 1e-8) is { } last)
            {
                var lastSlopes = curve.Slopes(last.At, scales);
                if (InTangentPlane(lastSlopes, last.Residuals) is var nearer && nearer < offset)
                {
                    (at, residuals, squares, slopes, offset) = (last.At, last.Residuals, last.Squares, lastSlopes, nearer);
                    continue;
                }
            }
            if (IsConverged()) break;
            var improved = false;
            while (!improved && damping < MostDamping)
            {
                var change = Step(slopes, residuals, lengths, damping);
                // A parameter that grows to many times its size in one step has left the region where the tangent plane means anything.
                var moved = IsFar(change) ? null : TryMove(Bent(change), 1) ?? TryMove(change, 1);
                improved = moved is not null;
                // The damping follows the share of the expected gain that a step brought.
                var gain = (squares - (moved?.Squares ?? double.PositiveInfinity)) / Expected(slopes, residuals, change, squares);
                (damping, growth) = improved ? (Math.Max(damping * Math.Max(1.0 / 3, 1 - Math.Pow((2 * Math.Min(gain, 1)) - 1, 3)), 1e-15), 2) : (damping * growth, growth * 2);
                if (moved is { } to) (at, residuals, squares) = to;
            }
            if (!improved) break;
            slopes = curve.Slopes(at, scales);
            offset = InTangentPlane(slopes, residuals);
        }
        var converged = IsConverged();
        // Residuals that are nearly rounding are computed once more in double length, where the curve can be.
        if (converged && Math.Sqrt(squares) < NearlyRounding * responseLength && curve.Residuals is { } exact) Polish(exact);
        if (!double.IsFinite(offset)) throw new AnalysisException($"the curve has no finite slope at {string.Join(", ", parameters.Select((p, i) => string.Create(CultureInfo.InvariantCulture, $"{p.Name} = {at[i]:G4}")))}; choose other starting values");
        var design = DesignMatrix.OfSlopes(slopes, parameters);
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

        void Polish(Func<DoubleDouble[], double[]> exact)
        {
            var parametersInFull = at.Select(a => (DoubleDouble)a).ToArray();
            for (var round = 0; round < 4; round++)
            {
                var change = Step(slopes, exact(parametersInFull), lengths, 0);
                for (var c = 0; c < k; c++) parametersInFull[c] += change[c];
            }
            at = [.. parametersInFull.Select(a => a.Value)];
            residuals = exact(parametersInFull);
            squares = Vectors.Dot(residuals, residuals);
        }

        bool IsConverged() => offset <= Math.Max(Orthogonal * Math.Sqrt(squares), Rounding * responseLength);

        (double[] At, double[] Residuals, double Squares)? TryMove(double[] change, double tolerance)
        {
            var next = at.Zip(change, (a, c) => a + c).ToArray();
            var nextResiduals = ResidualsAt(next);
            var nextSquares = Vectors.Dot(nextResiduals, nextResiduals);
            return nextSquares < squares * tolerance ? (next, nextResiduals, nextSquares) : null;
        }

        bool IsFar(double[] change)
        {
            for (var c = 0; c < k; c++)
                if (scales[c] > 0 && Math.Abs(change[c]) > MostGrowth * Math.Max(Math.Abs(at[c]), 1e-3 * scales[c])) return true;
            return false;
        }

        // A step bent along the curvature of the valley: the second derivative in its direction, found by a short step.
        double[] Bent(double[] change)
        {
            const double h = 0.1;
            var ahead = ResidualsAt([.. at.Zip(change, (a, c) => a + (h * c))]);
            var curvature = new double[n];
            for (var i = 0; i < n; i++)
            {
                var straight = 0.0;
                for (var c = 0; c < k; c++) straight += slopes[c][i] * change[c];
                curvature[i] = 2 / h * (((residuals[i] - ahead[i]) / h) - straight);
            }
            if (curvature.Any(v => !double.IsFinite(v))) return change;
            var bend = Step(slopes, curvature, lengths, damping);
            double Length(double[] step) => Math.Sqrt(step.Select((s, c) => s * s * lengths[c] * lengths[c]).Sum());
            return Length(bend) <= 0.75 * Length(change) ? [.. change.Zip(bend, (c, b) => c - (b / 2))] : change;
        }
    }

    /// <summary>The length of the residuals' part in the tangent plane; not a number where the curve has no finite slope.</summary>
    private static double InTangentPlane(double[][] slopes, double[] residuals)
    {
        if (slopes.Any(c => c.Any(s => !double.IsFinite(s)))) return double.NaN;
        var fitted = LeastSquaresSolver.Solve(DesignMatrix.OfSlopes(slopes, [.. slopes.Select((_, c) => new Term($"{c}", $"{c}"))]), residuals, null, refine: false).Fitted();
        return Math.Sqrt(Vectors.Dot(fitted, fitted));
    }

    /// <summary>By how much a step should make the squares smaller if the curve were its tangent plane.</summary>
    private static double Expected(double[][] slopes, double[] residuals, double[] change, double squares)
    {
        var left = (double[])residuals.Clone();
        for (var c = 0; c < change.Length; c++) Vectors.AddScaled(left, -change[c], slopes[c]);
        return Math.Max(squares - Vectors.Dot(left, left), double.Epsilon);
    }

    /// <summary>The damped step: the problem with a row √λ·length for each parameter below it, where the length is about the largest that its column has had lately.</summary>
    private static double[] Step(double[][] slopes, double[] residuals, double[] lengths, double damping)
    {
        var k = slopes.Length;
        var n = residuals.Length;
        var columns = slopes.Select((column, c) =>
        {
            var longer = new double[n + k];
            column.CopyTo(longer, 0);
            longer[n + c] = (Math.Sqrt(damping) * lengths[c]) + 1e-150;
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
