using System.Collections.Immutable;
using System.Globalization;
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
        if (LosesEarlierTerms(data, solution)) return Fit(data.WithoutGroups());
        return Finish(data, solution, FitBasis.TotalSquares(data.Response, data.Weights, data.Design.HasIntercept), Regression.LeastSquaresName, data.Response);
    }

    /// <summary>Effects of one or two groupings are taken out of all columns, instead of having columns of their own.</summary>
    public static LinearFit FitAbsorbing(ModelData data)
    {
        Check(data);
        var absorption = new Absorption([.. data.Absorbed.Select(a => AbsorbedRows.Compact(a, data.Rows)).Select(g => new Partition(g.Codes, g.Count))], data.Weights);
        var (design, response) = absorption.Single is { } single ? (data.Design.Absorbing(single), data.Response) : Within(data, absorption);
        var solution = LeastSquaresSolver.Solve(design, response, data.Weights);
        var total = FitBasis.SquareSum(absorption.Single is null ? response : absorption.TakeOut(data.Response), data.Weights);
        return Finish(data, solution, total, "least squares with absorbed effects", response, absorption);
    }

    /// <summary>Some columns are replaced by what the instruments explain of them.</summary>
    /// <param name="data">The structural model; its design holds the endogenous columns too.</param>
    /// <param name="endogenous">The places of the endogenous columns in the design.</param>
    /// <param name="instruments">The exogenous columns and the instruments.</param>
    /// <remarks>Wooldridge, Econometric Analysis of Cross Section and Panel Data, 2nd ed., ch. 5.</remarks>
    /// <param name="excluded">The names of the instruments' variables.</param>
    public static LinearFit FitTwoStage(ModelData data, IReadOnlySet<int> endogenous, DesignMatrix instruments, IReadOnlySet<string> excluded)
    {
        Check(data);
        var columns = Enumerable.Range(0, data.Design.ColumnCount).Select(c => endogenous.Contains(c) ? LeastSquaresSolver.Solve(instruments, data.Design.Column(c), data.Weights).Fitted() : data.Design.Kept(c));
        var projected = data.Design.With([.. columns]);
        var solution = LeastSquaresSolver.Solve(projected, data.Response, data.Weights);
        if (solution.Dropped.FirstOrDefault(endogenous.Contains, -1) is >= 0 and var lost)
            throw new AnalysisException($"the instruments do not identify `{data.Design.Terms[lost].Name}`; there must be at least one instrument for each endogenous variable");
        // Residuals are those of the columns as they are, not of what the instruments explain.
        var structural = Factorisation.Create(data.Design.Without(solution.Dropped), data.Response, data.Weights);
        var residuals = FitBasis.Difference(data.Response, structural.Fitted(solution.Centres, solution.Slopes));
        return Finish(data, solution with { Residuals = residuals }, FitBasis.TotalSquares(data.Response, data.Weights, data.Design.HasIntercept), Regression.TwoStageName, data.Response, instruments: new InstrumentTests(data, endogenous, instruments, excluded, residuals));
    }

    internal static ImmutableArray<AnalysisWarning> DroppedWarnings(DesignMatrix design, IReadOnlySet<int> dropped) =>
        [.. dropped.Order().Select(c => new AnalysisWarning($"`{design.Terms[c].Name}` depends on the terms before it and was dropped"))];

    /// <summary>Whether a term was dropped that stands before the factor whose levels are groups: then one of the levels depends on the terms before it instead.</summary>
    internal static bool LosesEarlierTerms(ModelData data, LeastSquaresSolution solution)
    {
        if (data.Plan?.HasGroups != true || solution.Dropped.Count == 0) return false;
        var first = Enumerable.Range(0, data.Design.ColumnCount).First(c => c != data.Design.Intercept && data.Design.GroupsOf[c].Group >= 0);
        return solution.Dropped.Any(c => c < first);
    }

    private static (DesignMatrix Design, double[] Response) Within(ModelData data, Absorption absorption)
    {
        double[][] columns = [.. Enumerable.Range(0, data.Design.ColumnCount).AsParallel().AsOrdered().Select(c => absorption.TakeOut(data.Design.Column(c)))];
        // What is left of a column that only varies between groups is rounding: it counts as constant.
        for (var c = 0; c < columns.Length; c++)
            if (FitBasis.SquareSum(columns[c], null) < 1e-20 * FitBasis.SquareSum(data.Design.Column(c), null)) Array.Clear(columns[c]);
        return (data.Design.With(columns), absorption.TakeOut(data.Response));
    }

    private static LinearFit Finish(ModelData data, LeastSquaresSolution solution, double total, string estimator, double[] response, Absorption? absorption = null, InstrumentTests? instruments = null)
    {
        var n = data.Response.Length;
        var terms = solution.Design.ColumnCount + (absorption?.EffectCount ?? 0);
        var degrees = n - terms;
        if (degrees <= 0) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {terms} terms; at least {terms + 1} are needed");
        var squares = solution.Residuals is { } known ? FitBasis.SquareSum(known, data.Weights) : solution.Factorisation.ResidualSquares;
        var scores = solution.Residuals is { } residuals ? new Scores(solution.Factorisation, data.Weights, residuals) : Scores.OfResponse(solution.Factorisation, data.Weights, response);
        if (absorption is { Single: null }) scores.AbsorbedLeverage = absorption.Leverage;
        var logWeights = data.Weights?.Sum(Math.Log) ?? 0;
        var warnings = DroppedWarnings(data.Design, solution.Dropped);
        if (squares <= 1e-28 * total) warnings = warnings.Add(new AnalysisWarning($"the terms explain `{data.ResponseName}` perfectly; standard errors and p-values are meaningless"));
        var basis = new FitBasis
        {
            Estimator = estimator,
            Data = data,
            Coefficients = solution.Coefficients,
            Centres = solution.Centres,
            Slopes = solution.Slopes,
            Scores = scores,
            Dropped = solution.Dropped,
            Absorption = absorption,
            ResidualDegreesOfFreedom = degrees,
            Dispersion = squares / degrees,
            UsesStudent = true,
            LogLikelihood = (-n / 2.0 * (Math.Log(2 * Math.PI * squares / n) + 1)) + (logWeights / 2),
            Warnings = warnings,
        };
        return new LinearFit(basis, StandardErrors.Classical, total, instruments);
    }

    private static void Check(ModelData data)
    {
        if (data.Weights?.Count(w => w <= 0) is > 0 and var wrong) throw new AnalysisException($"the weights are zero or negative in {ModelData.CountRows(wrong)}; leave these rows out");
        if (!data.Response.AsSpan().ContainsAnyExcept(data.Response[0]))
            throw new AnalysisException($"the response `{data.ResponseName}` is {data.Response[0].ToString(CultureInfo.InvariantCulture)} in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        if (data.Design.ColumnCount == 0) throw new AnalysisException("the model has no terms");
    }
}
