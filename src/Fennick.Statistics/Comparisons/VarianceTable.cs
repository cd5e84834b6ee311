using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Comparisons;

/// <summary>Which terms a term's sum of squares allows for.</summary>
public enum SquaresType
{
    /// <summary>I: those before it.</summary>
    Sequential = 1,

    /// <summary>II: all those that do not hold it in an interaction.</summary>
    Marginal = 2,

    /// <summary>III: all others, with factors coded so that their effects sum to zero.</summary>
    Partial = 3,
}

/// <summary>A row of an analysis of variance.</summary>
/// <param name="Term">The term; "residual" in the last row.</param>
/// <param name="SumOfSquares">Its sum of squares, in squared units of the response.</param>
/// <param name="DegreesOfFreedom">Its degrees of freedom.</param>
/// <param name="F">F; null for the residual.</param>
/// <param name="PValue">Its p-value; null for the residual.</param>
public sealed record VarianceRow(string Term, double SumOfSquares, double DegreesOfFreedom, double? F, double? PValue);

/// <summary>Analyses of variance of fits by least squares.</summary>
public static class VarianceTable
{
    /// <summary>A row for each term of a fit, and one for the residual.</summary>
    /// <param name="fit">A fit by least squares, without weights or absorbed effects, with an intercept.</param>
    /// <param name="type">Which other terms each allows for.</param>
    /// <exception cref="AnalysisException">The fit is of another kind, or was made from plain arrays.</exception>
    /// <remarks>Fox, Applied Regression Analysis and Generalized Linear Models, 3rd ed., §8.2.</remarks>
    public static ImmutableArray<VarianceRow> Of(LinearFit fit, SquaresType type = SquaresType.Marginal)
    {
        ArgumentNullException.ThrowIfNull(fit);
        var data = fit.Basis.Data;
        if (fit.Estimator != Regression.LeastSquaresName || data.Weights is not null || !fit.HasIntercept || data.Plan is null) throw new AnalysisException("an analysis of variance is made of fits by least squares of records or columns, with an intercept and without weights");
        var terms = data.Specification;
        if (terms.Count == 0) throw new AnalysisException("the fit has no terms to analyse");
        var columns = terms.Select(t => type == SquaresType.Partial ? SumToZero(t, data.Rows) : [.. Enumerable.Range(0, data.Design.ColumnCount).Where(c => data.Design.Terms[c].Variable == t.Name).Select(data.Design.Column)]).ToArray();
        var whole = Residual(data, columns.SelectMany(c => c));
        var scale = whole.Squares / whole.Degrees;
        var rows = ImmutableArray.CreateBuilder<VarianceRow>();
        for (var t = 0; t < terms.Count; t++)
        {
            int[] others = type switch
            {
                SquaresType.Sequential => [.. Enumerable.Range(0, t)],
                SquaresType.Marginal => [.. Enumerable.Range(0, terms.Count).Where(o => o != t && !Holds(terms[o], terms[t]))],
                _ => [.. Enumerable.Range(0, terms.Count).Where(o => o != t)],
            };
            var without = Residual(data, others.SelectMany(o => columns[o]));
            var with = Residual(data, others.Append(t).Order().SelectMany(o => columns[o]));
            var (squares, degrees) = (Math.Max(0, without.Squares - with.Squares), without.Degrees - with.Degrees);
            if (degrees == 0) rows.Add(new VarianceRow(terms[t].Name, 0, 0, null, null));
            else rows.Add(new VarianceRow(terms[t].Name, squares, degrees, squares / degrees / scale, Tails.FUpper(squares / degrees / scale, degrees, whole.Degrees)));
        }
        rows.Add(new VarianceRow("residual", whole.Squares, whole.Degrees, null, null));
        return rows.ToImmutable();
    }

    private static bool Holds(TermSpecification larger, TermSpecification smaller) => larger.Factors.Count > smaller.Factors.Count && smaller.Factors.All(f => larger.Factors.Any(o => o.Name == f.Name));

    private static (double Squares, double Degrees) Residual(ModelData data, IEnumerable<double[]> columns)
    {
        double[][] all = [Enumerable.Repeat(1.0, data.Rows.Length).ToArray(), .. columns];
        var solution = LeastSquaresSolver.Solve(new DesignMatrix(all, [.. all.Select((_, c) => Term.Named(c == 0 ? Term.InterceptName : $"{c}"))]), data.Response, null);
        var squares = solution.Residuals is { } known ? FitBasis.SquareSum(known, null) : solution.Factorisation.ResidualSquares;
        return (squares, data.Rows.Length - all.Length + solution.Dropped.Count);
    }

    /// <summary>The columns of a term whose factors are coded 1, 0, −1, so that effects sum to zero.</summary>
    private static double[][] SumToZero(TermSpecification term, int[] rows)
    {
        double[][] product = [Enumerable.Repeat(1.0, rows.Length).ToArray()];
        foreach (var variable in term.Factors)
        {
            double[][] own = [.. variable is NumericVariable numeric ? [[.. rows.Select(r => numeric.Values[r])]] : Contrasts((FactorVariable)variable, rows)];
            product = [.. product.SelectMany(p => own.Select(o => p.Zip(o, (a, b) => a * b).ToArray()))];
        }
        return product;
    }

    private static IEnumerable<double[]> Contrasts(FactorVariable factor, int[] rows)
    {
        int[] present = [.. rows.Select(r => factor.Codes[r]).Distinct().Order()];
        return present[..^1].Select(level => rows.Select(r => factor.Codes[r] == level ? 1.0 : factor.Codes[r] == present[^1] ? -1.0 : 0.0).ToArray());
    }
}
