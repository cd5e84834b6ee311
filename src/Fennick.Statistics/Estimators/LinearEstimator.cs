using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Least squares, plain or weighted, with absorbed effects, and in two stages.</summary>
internal static class LinearEstimator
{
    public static LinearFit Fit(ModelData data)
    {
        Check(data);
        var solution = LeastSquaresSolver.Solve(data.Design, data.Response, data.Weights);
        return Finish(data, data.Design, solution, data.Design, FitBasis.TotalSquares(data.Response, data.Weights, data.Design.HasIntercept), Regression.LeastSquaresName, absorbed: 0, data.Response);
    }

    /// <summary>Effects of one or two groupings are taken out of all columns, instead of having columns of their own.</summary>
    /// <remarks>Alternating projections: Gaure (2013), Computational Statistics &amp; Data Analysis 66.</remarks>
    public static LinearFit FitAbsorbing(ModelData data, IReadOnlyList<(int[] Codes, int Count)> groupings)
    {
        Check(data);
        double[] Within(double[] column) => GroupMeans.TakeOut(column, groupings, data.Weights);
        var design = new DesignMatrix([.. data.Design.Columns.AsParallel().AsOrdered().Select(Within)], data.Design.Terms);
        // What is left of a column that only varies between groups is rounding: it counts as constant.
        for (var c = 0; c < design.ColumnCount; c++)
            if (FitBasis.SquareSum(design.Columns[c], null) < 1e-20 * FitBasis.SquareSum(data.Design.Columns[c], null)) Array.Clear(design.Columns[c]);
        var response = Within(data.Response);
        var solution = LeastSquaresSolver.Solve(design, response, data.Weights);
        return Finish(data, design, solution, design, FitBasis.SquareSum(response, data.Weights), "least squares with absorbed effects", GroupMeans.CountEffects(groupings), response);
    }

    /// <summary>Some columns are replaced by what the instruments explain of them.</summary>
    /// <param name="data">The structural model; its design holds the endogenous columns too.</param>
    /// <param name="endogenous">The places of the endogenous columns in the design.</param>
    /// <param name="instruments">The exogenous columns and the instruments.</param>
    /// <remarks>Wooldridge, Econometric Analysis of Cross Section and Panel Data, 2nd ed., ch. 5.</remarks>
    public static LinearFit FitTwoStage(ModelData data, IReadOnlySet<int> endogenous, DesignMatrix instruments)
    {
        Check(data);
        var columns = data.Design.Columns.Select((column, c) =>
        {
            if (!endogenous.Contains(c)) return column;
            var first = LeastSquaresSolver.Solve(instruments, column, data.Weights);
            var residuals = FitBasis.ResidualsOf(instruments, first.Coefficients, column);
            return column.Zip(residuals, (x, r) => x - r).ToArray();
        });
        var projected = new DesignMatrix([.. columns], data.Design.Terms);
        var solution = LeastSquaresSolver.Solve(projected, data.Response, data.Weights);
        if (solution.Dropped.FirstOrDefault(c => endogenous.Contains(c), -1) is >= 0 and var lost)
            throw new AnalysisException($"the instruments do not identify `{data.Design.Terms[lost].Name}`; there must be at least one instrument for each endogenous variable");
        return Finish(data, data.Design, solution, projected, FitBasis.TotalSquares(data.Response, data.Weights, data.Design.HasIntercept), "two-stage least squares", absorbed: 0, data.Response);
    }

    internal static ImmutableArray<AnalysisWarning> DroppedWarnings(DesignMatrix design, IReadOnlySet<int> dropped) =>
        [.. dropped.Order().Select(c => new AnalysisWarning($"`{design.Terms[c].Name}` depends on the terms before it and was dropped"))];

    // Residuals are those of the structural design; the solution and the scores belong to the scoring one.
    private static LinearFit Finish(ModelData data, DesignMatrix structural, LeastSquaresSolution solution, DesignMatrix scoring, double total, string estimator, int absorbed, double[] response)
    {
        var n = data.Response.Length;
        var rank = scoring.ColumnCount - solution.Dropped.Count;
        var degrees = n - rank - absorbed;
        if (degrees <= 0) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {rank + absorbed} terms; at least {rank + absorbed + 1} are needed");
        var residuals = FitBasis.ResidualsOf(structural, solution.Coefficients, response);
        var squares = FitBasis.SquareSum(residuals, data.Weights);
        var logWeights = data.Weights?.Sum(Math.Log) ?? 0;
        var warnings = DroppedWarnings(scoring, solution.Dropped);
        if (squares <= 1e-28 * total) warnings = warnings.Add(new AnalysisWarning($"the terms explain `{data.ResponseName}` without any rest; errors and p-values mean nothing"));
        var basis = new FitBasis
        {
            Estimator = estimator,
            Data = data,
            Coefficients = [.. Enumerable.Range(0, scoring.ColumnCount).Where(c => !solution.Dropped.Contains(c)).Select(c => solution.Coefficients[c])],
            Scores = new Scores(scoring.Without(solution.Dropped), data.Weights, solution.Scale, residuals),
            Dropped = solution.Dropped,
            ResidualDegreesOfFreedom = degrees,
            Dispersion = squares / degrees,
            UsesStudent = true,
            LogLikelihood = (-n / 2.0 * (Math.Log(2 * Math.PI * squares / n) + 1)) + (logWeights / 2),
            Warnings = warnings,
        };
        return new LinearFit(basis, StandardErrors.Classical, total, absorbed);
    }

    private static void Check(ModelData data)
    {
        if (data.Weights?.Count(w => w <= 0) is > 0 and var wrong) throw new AnalysisException($"the weights are zero or negative in {ModelData.CountRows(wrong)}; leave these rows out");
        if (data.Response.All(y => y == data.Response[0]))
            throw new AnalysisException($"the response `{data.ResponseName}` is {data.Response[0].ToString(System.Globalization.CultureInfo.InvariantCulture)} in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        if (data.Design.ColumnCount == 0) throw new AnalysisException("the model has no terms");
    }
}
