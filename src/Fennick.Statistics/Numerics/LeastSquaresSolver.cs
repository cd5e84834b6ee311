using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Numerics;

/// <summary>The solution of a least-squares problem.</summary>
/// <param name="Factorisation">The split design without the columns that were dropped.</param>
/// <param name="Dropped">The columns of the whole design that depend on those before them.</param>
/// <param name="Centres">The fitted mean of each group.</param>
/// <param name="Slopes">The slopes of the triangle's columns, in the design's own units.</param>
/// <param name="Coefficients">The coefficients of the kept columns, in the design's own units.</param>
/// <param name="Residuals">Response less fitted value.</param>
internal sealed record LeastSquaresSolution(Factorisation Factorisation, IReadOnlySet<int> Dropped, double[] Centres, double[] Slopes, double[] Coefficients, double[]? Residuals)
{
    public DesignMatrix Design => Factorisation.Design;

    /// <summary>The fitted linear predictor of each row.</summary>
    public double[] Fitted() => Factorisation.Fitted(Centres, Slopes);
}

/// <summary>Least squares by Householder QR of the standardised design, blockwise over rows.</summary>
/// <remarks>
/// Golub &amp; Van Loan, Matrix Computations, 4th ed., §5.2–5.3; blocks of rows are folded into the triangle one after the other (§5.2.6), so that no copy of the
/// design is made. With an intercept the columns are centred, with a factor of many levels centred in its groups, else only scaled. The solution of small or ill-conditioned problems is
/// refined with residuals of double length (Björck, Numerical Methods for Least Squares Problems, §2.9).
/// </remarks>
internal static class LeastSquaresSolver
{
    private const double DependentBelow = 1e-11;
    private const int RefinedSize = 1 << 16;
    private const double RefinedCondition = 1e5;

    /// <summary>Solves min Σ w (y − Xβ)²; dependent columns are dropped.</summary>
    /// <param name="design">n × k.</param>
    /// <param name="response">n values.</param>
    /// <param name="weights">n positive values, or null for ones.</param>
    /// <param name="refine">Whether small or ill-conditioned problems are refined; steps of an iteration need it not.</param>
    public static LeastSquaresSolution Solve(DesignMatrix design, double[] response, double[]? weights, bool refine = true)
    {
        var kept = Enumerable.Range(0, design.ColumnCount).ToArray();
        while (true)
        {
            var current = design.Without(Enumerable.Range(0, design.ColumnCount).Except(kept).ToHashSet());
            var factorisation = Factorisation.Create(current, response, weights);
            var dependent = factorisation.DependentColumns(DependentBelow);
            if (dependent.Count > 0)
            {
                kept = [.. kept.Where((_, place) => !dependent.Contains(place))];
                continue;
            }
            var dropped = Enumerable.Range(0, design.ColumnCount).Except(kept).ToHashSet();
            var slopes = factorisation.Solve();
            var isSmall = (long)design.RowCount * factorisation.Size <= RefinedSize;
            if (refine && (isSmall || factorisation.Condition() > RefinedCondition)) return Refine(factorisation, dropped, response, weights, slopes);
            var coefficients = new double[current.ColumnCount];
            for (var c = 0; c < coefficients.Length; c++) coefficients[c] = Coefficient(factorisation, c, slopes);
            return new LeastSquaresSolution(factorisation, dropped, factorisation.ResponseMeans, slopes, coefficients, null);
        }
    }

    private static double Coefficient(Factorisation factorisation, int place, double[] slopes)
    {
        var (group, reference) = factorisation.Design.GroupsOf[place];
        if (group < 0) return slopes[Array.IndexOf(factorisation.Dense, place)];
        double Constant(int g) => factorisation.ResponseMeans[g] - Vectors.Dot(factorisation.MeansOf(g), slopes);
        return place == factorisation.Design.Intercept ? Constant(group) / factorisation.Design.InterceptValue : Constant(group) - (reference < 0 ? 0 : Constant(reference));
    }

    private static LeastSquaresSolution Refine(Factorisation factorisation, IReadOnlySet<int> dropped, double[] response, double[]? weights, double[] first)
    {
        var design = factorisation.Design;
        var partition = design.Partition;
        var columns = factorisation.ColumnsOf(design);
        var n = response.Length;
        var slopes = first.Select(s => (DoubleDouble)s).ToArray();
        var constants = new DoubleDouble[partition.Count];
        for (var g = 0; g < constants.Length; g++) constants[g] = factorisation.ResponseMeans[g] - Vectors.Dot(factorisation.MeansOf(g), first);
        var ofGroups = new DoubleDouble[constants.Length];
        var ofColumns = new DoubleDouble[slopes.Length];
        var residuals = new double[n];
        var before = double.PositiveInfinity;
        for (var round = 0; ; round++)
        {
            Array.Clear(ofGroups);
            Array.Clear(ofColumns);
            for (var i = 0; i < n; i++)
            {
                DoubleDouble residual = response[i];
                if (constants.Length > 0) residual -= constants[partition[i]];
                for (var c = 0; c < slopes.Length; c++) residual -= slopes[c] * columns[c][i];
                residuals[i] = residual.Value;
                if (weights is not null) residual *= weights[i];
                if (constants.Length > 0) ofGroups[partition[i]] += residual;
                for (var c = 0; c < slopes.Length; c++) ofColumns[c] += residual * columns[c][i];
            }
            // Once steps no longer get much smaller, what is left is rounding; the residuals are those of the last step.
            if (round == 7 || before <= 1e-16) break;
            var (constantSteps, slopeSteps) = factorisation.SolveGradient(ofGroups, ofColumns);
            var size = 0.0;
            void Move(DoubleDouble[] target, double[] steps)
            {
                for (var c = 0; c < steps.Length; c++)
                {
                    size = Math.Max(size, Math.Abs(steps[c]) / (Math.Abs(target[c].Value) + double.Epsilon));
                    target[c] += steps[c];
                }
            }
            Move(constants, constantSteps);
            Move(slopes, slopeSteps);
            before = size > before / 2 ? 0 : size;
        }
        var coefficients = new double[design.ColumnCount];
        for (var c = 0; c < coefficients.Length; c++)
        {
            var (group, reference) = design.GroupsOf[c];
            coefficients[c] = group < 0 ? slopes[Array.IndexOf(factorisation.Dense, c)].Value
                : c == design.Intercept ? constants[group].Value / design.InterceptValue
                : (reference < 0 ? constants[group] : constants[group] - constants[reference]).Value;
        }
        return new LeastSquaresSolution(factorisation, dropped, factorisation.ResponseMeans, [.. slopes.Select(s => s.Value)], coefficients, residuals);
    }
}
