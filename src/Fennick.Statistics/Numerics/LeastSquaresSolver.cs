using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Numerics;

/// <summary>The solution of a least-squares problem.</summary>
/// <param name="Coefficients">k values, in the design's own units.</param>
/// <param name="Dropped">The columns that depend on those before them.</param>
/// <param name="Scale">The standardisation and triangle of the columns that were kept.</param>
internal sealed record LeastSquaresSolution(double[] Coefficients, IReadOnlySet<int> Dropped, StandardisedTriangle Scale);

/// <summary>Least squares by Householder QR of the standardised design, blockwise over rows.</summary>
/// <remarks>
/// Golub &amp; Van Loan, Matrix Computations, 4th ed., §5.2–5.3; blocks of rows are folded into the triangle one after the other (§5.2.6), so that no copy of the
/// design is made. With an intercept the columns are centred, else only scaled. The solution of small or ill-conditioned problems is refined with residuals of double
/// length (Björck, Numerical Methods for Least Squares Problems, §2.9).
/// </remarks>
internal static class LeastSquaresSolver
{
    private const double DependentBelow = 1e-11;
    private const int RefinedSize = 1 << 16;
    private const double RefinedCondition = 1e5;

    /// <summary>Solves min Σ w (y − Xβ)²; dependent columns are dropped, their coefficients are 0.</summary>
    /// <param name="design">n × k.</param>
    /// <param name="response">n values.</param>
    /// <param name="weights">n positive values, or null for ones.</param>
    /// <param name="refine">Whether small or ill-conditioned problems are refined; steps of an iteration need it not.</param>
    public static LeastSquaresSolution Solve(DesignMatrix design, double[] response, double[]? weights, bool refine = true)
    {
        var columns = Enumerable.Range(0, design.ColumnCount).ToArray();
        while (true)
        {
            var triangle = StandardisedTriangle.Create(design, columns, response, weights);
            var dependent = triangle.DependentColumns(DependentBelow);
            if (dependent.Count > 0)
            {
                columns = [.. columns.Except(dependent)];
                continue;
            }
            var coefficients = triangle.Solve();
            var isSmall = (long)design.RowCount * columns.Length <= RefinedSize;
            if (refine && (isSmall || triangle.Condition() > RefinedCondition)) Refine(design, columns, response, weights, triangle, coefficients);
            var full = new double[design.ColumnCount];
            for (var i = 0; i < columns.Length; i++) full[columns[i]] = coefficients[i];
            return new LeastSquaresSolution(full, Enumerable.Range(0, design.ColumnCount).Except(columns).ToHashSet(), triangle);
        }
    }

    private static void Refine(DesignMatrix design, int[] columns, double[] response, double[]? weights, StandardisedTriangle triangle, double[] coefficients)
    {
        var n = response.Length;
        var beta = coefficients.Select(c => (DoubleDouble)c).ToArray();
        var gradient = new DoubleDouble[columns.Length];
        var before = double.PositiveInfinity;
        for (var round = 0; round < 6; round++)
        {
            Array.Clear(gradient);
            for (var i = 0; i < n; i++)
            {
                DoubleDouble residual = response[i];
                for (var c = 0; c < columns.Length; c++) residual -= beta[c] * design.Columns[columns[c]][i];
                if (weights is not null) residual *= weights[i];
                for (var c = 0; c < columns.Length; c++) gradient[c] += residual * design.Columns[columns[c]][i];
            }
            var step = triangle.SolveGradient(gradient);
            var size = 0.0;
            for (var c = 0; c < step.Length; c++)
            {
                size = Math.Max(size, Math.Abs(step[c]) / (Math.Abs(beta[c].Value) + double.Epsilon));
                beta[c] += step[c];
            }
            // Once steps no longer get much smaller, what is left is rounding.
            if (!(size > 1e-16) || size > before / 2) break;
            before = size;
        }
        for (var c = 0; c < coefficients.Length; c++) coefficients[c] = beta[c].Value;
    }
}
