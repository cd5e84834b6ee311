using System.Linq.Expressions;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics;

/// <summary>Models of panels: the same units at several times. Fixed effects are <see cref="Regression.FixedEffects{T}"/>.</summary>
/// <remarks>Wooldridge, Econometric Analysis of Cross Section and Panel Data, 2nd ed., ch. 10.</remarks>
public static class Panel
{
    internal const string RandomName = "random effects";
    internal const string DifferencesName = "first differences";

    /// <summary>Random effects by feasible generalised least squares: part of each unit's means is taken out.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="unit">The unit, such as an apiary.</param>
    /// <exception cref="AnalysisException">There are too few units for a regression of their means, no term varies within them, or the data do not allow a fit.</exception>
    /// <remarks>Swamy &amp; Arora (1972), Econometrica 40; with units of different lengths their harmonic mean stands for the length.</remarks>
    public static ModelResult RandomEffects<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> unit)
    {
        ArgumentNullException.ThrowIfNull(unit);
        var data = Regression.Create(records, TermReader.Read(records, response), terms, [], TermReader.ReadGrouping(records, unit));
        var (codes, levels) = MixedEstimator.GroupsOf(data);
        var within = LinearEstimator.FitAbsorbing(data with { Design = data.Design.Without(new HashSet<int> { data.Design.Intercept }) });
        var sizes = new double[levels.Length];
        foreach (var code in codes) sizes[code]++;
        double[] Means(double[] column)
        {
            var means = new double[sizes.Length];
            for (var i = 0; i < codes.Length; i++) means[codes[i]] += column[i] / sizes[codes[i]];
            return means;
        }
        double[][] columns = [.. Enumerable.Range(0, data.Design.ColumnCount).Select(data.Design.Column)];
        if (levels.Length <= columns.Length) throw new AnalysisException($"{levels.Length} units of `{data.Absorbed[0].Name}` are too few for a regression of their means on {columns.Length} terms; use fixed effects");
        var between = LeastSquaresSolver.Solve(new DesignMatrix([.. columns.Select(Means)], data.Design.Terms), Means(data.Response), null);
        var ofMeans = (between.Residuals is { } known ? FitBasis.SquareSum(known, null) : between.Factorisation.ResidualSquares) / (levels.Length - columns.Length + between.Dropped.Count);
        var own = within.ResidualStandardError * within.ResidualStandardError;
        var length = sizes.Length / sizes.Sum(s => 1 / s);
        var ofUnits = Math.Max(0, ofMeans - (own / length));
        double[] shares = [.. sizes.Select(s => 1 - Math.Sqrt(own / ((s * ofUnits) + own)))];
        double[] Part(double[] column)
        {
            var means = Means(column);
            return [.. column.Select((v, i) => v - (shares[codes[i]] * means[codes[i]]))];
        }
        var fit = LinearEstimator.Fit(data with { Design = new DesignMatrix([.. columns.Select(Part)], data.Design.Terms), Response = Part(data.Response), Plan = null });
        return Result(RandomName, data, fit, fit.Terms, [new("Variance of units", ofUnits), new("Residual variance", own), new("Units", levels.Length, "#,0")],
            ofUnits == 0 ? [new AnalysisWarning($"the units of `{data.Absorbed[0].Name}` differ by no more than their rows do, so that their variance is zero; least squares fits as well")] : [], $"Random effects of {data.Absorbed[0].Name} by the method of Swamy and Arora.");
    }

    /// <summary>First differences: each row less the one before it of the same unit, without a constant.</summary>
    /// <param name="records">n records.</param>
    /// <param name="response">The response.</param>
    /// <param name="terms">The terms; those that do not change over time are dropped and named.</param>
    /// <param name="unit">The unit.</param>
    /// <param name="time">The time, by which the rows of a unit are ordered.</param>
    /// <exception cref="AnalysisException">A unit has two rows of one time, none has two rows, or the data do not allow a fit.</exception>
    public static ModelResult FirstDifferences<T>(IReadOnlyList<T> records, Expression<Func<T, double?>> response, Expression<Func<T, object?>> terms, Expression<Func<T, object?>> unit, Expression<Func<T, double?>> time)
    {
        ArgumentNullException.ThrowIfNull(unit);
        ArgumentNullException.ThrowIfNull(time);
        var times = (NumericVariable)TermReader.Read(records, time);
        var data = Regression.Create(records, TermReader.Read(records, response), terms, [times], TermReader.ReadGrouping(records, unit));
        var (codes, levels) = MixedEstimator.GroupsOf(data);
        double At(int row) => times.Values[data.Rows[row]];
        (int Before, int After)[] pairs = [.. Enumerable.Range(0, codes.Length).GroupBy(i => codes[i]).SelectMany(g => g.OrderBy(At).ToArray() is var order ? order.Zip(order.Skip(1)) : [])];
        if (Array.FindIndex(pairs, p => At(p.Before) == At(p.After)) is >= 0 and var twice) throw new AnalysisException($"the unit `{levels[codes[pairs[twice].Before]]}` of `{data.Absorbed[0].Name}` has two rows of one time");
        if (pairs.Length == 0) throw new AnalysisException($"no unit of `{data.Absorbed[0].Name}` has two rows");
        double[] Change(double[] column) => [.. pairs.Select(p => column[p.After] - column[p.Before])];
        int[] kept = [.. Enumerable.Range(0, data.Design.ColumnCount).Where(c => c != data.Design.Intercept)];
        var changes = kept.Select(c => Change(data.Design.Column(c))).ToArray();
        bool Changes(int place) => changes[place].Any(v => v != 0);
        int[] telling = [.. Enumerable.Range(0, kept.Length).Where(Changes)];
        if (telling.Length == 0) throw new AnalysisException("no term changes over time");
        var fit = LinearEstimator.Fit(data with
        {
            Design = DesignMatrix.OfSlopes([.. telling.Select(p => changes[p])], [.. telling.Select(p => data.Design.Terms[kept[p]])]),
            Response = Change(data.Response),
            Rows = [.. pairs.Select(p => data.Rows[p.After])],
            Plan = null,
        });
        return Result(DifferencesName, data, fit, fit.Terms, [new("Units", levels.Length, "#,0")], [.. Enumerable.Range(0, kept.Length).Where(p => !Changes(p)).Select(p => new AnalysisWarning($"`{data.Design.Terms[kept[p]].Name}` does not change over time and was dropped"))], $"First differences within {data.Absorbed[0].Name}.");
    }

    /// <summary>The test of Hausman that random effects do not go with the terms: a small p-value speaks for fixed effects.</summary>
    /// <param name="fixedEffects">A fit with fixed effects, with classical errors.</param>
    /// <param name="randomEffects">The same model with random effects.</param>
    /// <exception cref="AnalysisException">They have no term in common, or the difference of their covariances is no covariance.</exception>
    /// <remarks>Hausman (1978), Econometrica 46.</remarks>
    public static TestResult Hausman(IModelResult fixedEffects, IModelResult randomEffects)
    {
        ArgumentNullException.ThrowIfNull(fixedEffects);
        ArgumentNullException.ThrowIfNull(randomEffects);
        string[] common = [.. fixedEffects.Terms.Select(t => t.Name).Where(n => n != Term.InterceptName && randomEffects.Terms.Any(t => t.Name == n))];
        if (common.Length == 0) throw new AnalysisException("the two models have no term in common, so that they do not compare");
        int Place(IModelResult model, string name) => Enumerable.Range(0, model.Terms.Length).First(i => model.Terms[i].Name == name);
        double[,] Part(IModelResult model) => model.Covariance() is var all ? Categories.Reorder(all, [.. common.Select(n => Place(model, n))]) : all;
        var (first, second) = (Part(fixedEffects), Part(randomEffects));
        var difference = new double[common.Length, common.Length];
        for (var i = 0; i < common.Length; i++)
            for (var j = 0; j < common.Length; j++) difference[i, j] = first[i, j] - second[i, j];
        var lower = Cholesky.Factor(difference, 1e-12) ?? throw new AnalysisException("the fixed effects are more precise than the random ones in some term, so that the test of Hausman cannot be made; compare them with errors clustered by unit instead");
        var solved = Cholesky.SolveLower(lower, [.. common.Select(n => fixedEffects.Terms[Place(fixedEffects, n)].Estimate - randomEffects.Terms[Place(randomEffects, n)].Estimate)]);
        var statistic = Vectors.Dot(solved, solved);
        return new TestResult("Hausman's test", statistic, common.Length, null, Tails.ChiSquaredUpper(statistic, common.Length));
    }

    private static ModelResult Result(string estimator, ModelData data, LinearFit fit, IEnumerable<TermEstimate> terms, ModelStatistic[] statistics, AnalysisWarning[] warnings, string note) => new ModelResult(estimator, data.ResponseName, fit.Observations, terms)
    {
        Statistics = [.. statistics],
        Notes = [note],
        Warnings = [.. data.Warnings, .. fit.Basis.Warnings, .. warnings],
        RowsLeftOut = data.RowsLeftOut,
        RecordType = data.RecordType,
    }.WithCovariance(fit.Covariance());
}
