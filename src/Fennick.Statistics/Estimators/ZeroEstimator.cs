using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>Counts with more zeros than a Poisson distribution has: some rows are always zero, or zeros are a matter of their own.</summary>
/// <remarks>Zero-inflated: Lambert (1992), Technometrics 34; hurdle: Mullahy (1986), Journal of Econometrics 33.</remarks>
internal sealed class ZeroEstimator
{
    private readonly ModelColumns columns;
    private readonly ModelColumns zeros;
    private readonly double[] response;
    private readonly bool isHurdle;

    private ZeroEstimator(ModelColumns columns, ModelColumns zeros, double[] response, bool isHurdle) => (this.columns, this.zeros, this.response, this.isHurdle) = (columns, zeros, response, isHurdle);

    private int First => zeros.Count + 1;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The counts with the terms of their size.</param>
    /// <param name="ofZeros">The same rows with the terms of the zeros.</param>
    /// <param name="isHurdle">Whether it is a hurdle model; else a zero-inflated one.</param>
    public static ZeroFit Fit(ModelData data, ModelData ofZeros, bool isHurdle)
    {
        if (data.Response.Count(y => y < 0 || y != Math.Floor(y)) is > 0 and var wrong) throw new AnalysisException($"`{data.ResponseName}` is no count in {ModelData.CountRows(wrong)}");
        if (data.Response.All(y => y > 0)) throw new AnalysisException($"`{data.ResponseName}` is zero in no row, so that there are not too many zeros; use `Regression.Poisson`");
        if (data.Response.All(y => y == 0)) throw new AnalysisException($"`{data.ResponseName}` is zero in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        var (columns, zeros) = (ModelColumns.Of(data), ModelColumns.Of(ofZeros));
        var model = new ZeroEstimator(columns, zeros, data.Response, isHurdle);
        var k = model.First + columns.Count + 1;
        var start = new double[k];
        var share = data.Response.Count(y => y == 0) / (double)data.Response.Length;
        start[0] = isHurdle ? Math.Log((1 - share) / share) : Math.Log(share / 2 / (1 - (share / 2)));
        start[model.First] = Math.Log(data.Response.Where(y => y > 0).Average());
        var best = NewtonMaximum.Find(model.LogLikelihood, start);
        var toGiven = zeros.ToGiven(k, 1, [(0, -1)]);
        columns.Add(toGiven, model.First + 1, [(model.First, -1)]);
        var (coefficients, covariance) = EstimatedBasis.Transform(toGiven, best.Parameters, best.Covariance);
        int[] order = [.. Enumerable.Range(model.First, columns.Count + 1), .. Enumerable.Range(0, model.First)];
        var prefix = isHurdle ? ZeroFit.Positive : ZeroFit.Always;
        Term[] ofCounts = [Term.Intercept, .. columns.Terms];
        Term[] ofNothing = [.. new[] { Term.Intercept }.Concat(zeros.Terms).Select(t => new Term($"{prefix}: {t.Name}", $"{prefix}: {t.Variable}", t.Level, t.Reference))];
        var areAlways = !isHurdle && Math.Sqrt(best.Covariance[0, 0]) > 100;
        var basis = new EstimatedBasis
        {
            Infinite = areAlways ? new Dictionary<int, int> { [columns.Count + 1] = -1 } : [],
            Estimator = isHurdle ? Regression.HurdleName : Regression.ZeroInflatedName,
            Data = data,
            Terms = [.. ofCounts, .. ofNothing],
            Coefficients = [.. order.Select(o => coefficients[o])],
            Covariance = Categories.Reorder(covariance, order),
            LogLikelihood = best.LogLikelihood,
            ParameterCount = k,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. areAlways ? [new AnalysisWarning("there are no more zeros than a Poisson distribution has: the share of rows that are always zero goes to nothing; use `Regression.Poisson`")] : Array.Empty<AnalysisWarning>()],
        };
        return new ZeroFit(basis, data.Response.Count(y => y == 0), isHurdle);
    }

    /// <summary>The likelihood; its second derivatives by differences of the first.</summary>
    private double LogLikelihood(double[] parameters, double[]? gradient, double[,]? information)
    {
        var value = WithGradient(parameters, gradient);
        if (information is not null) NewtonMaximum.AddDifferences((at, slope) => WithGradient(at, slope), parameters, 1e-5, information);
        return value;
    }

    private double WithGradient(double[] parameters, double[]? gradient)
    {
        var counts = Linear(columns, parameters, First);
        var nothing = Linear(zeros, parameters, 0);
        var sum = 0.0;
        for (var i = 0; i < response.Length; i++)
        {
            var (mean, y) = (Math.Exp(counts[i]), response[i]);
            double ofCounts, ofNothing;
            if (isHurdle)
            {
                // Passing the hurdle is a logistic regression of its own.
                var passed = Tails.LogisticLower(nothing[i]);
                sum += y == 0 ? double.LogP1(-passed) : Math.Log(passed);
                ofNothing = (y == 0 ? 0 : 1) - passed;
                ofCounts = 0;
                if (y > 0)
                {
                    sum += (y * counts[i]) - mean - SpecialFunctions.GammaLn(y + 1) - Math.Log(-double.ExpM1(-mean));
                    ofCounts = y - (mean / -double.ExpM1(-mean));
                }
            }
            else if (y == 0)
            {
                var always = Tails.LogisticLower(nothing[i]);
                var zero = always + ((1 - always) * Math.Exp(-mean));
                sum += Math.Log(zero);
                ofNothing = always * (1 - always) * -double.ExpM1(-mean) / zero;
                ofCounts = -(1 - always) * Math.Exp(-mean) * mean / zero;
            }
            else
            {
                var always = Tails.LogisticLower(nothing[i]);
                sum += double.LogP1(-always) + (y * counts[i]) - mean - SpecialFunctions.GammaLn(y + 1);
                (ofNothing, ofCounts) = (-always, y - mean);
            }
            if (gradient is null) continue;
            Add(gradient, 0, zeros, i, ofNothing);
            Add(gradient, First, columns, i, ofCounts);
        }
        return sum;
    }

    private double[] Linear(ModelColumns own, double[] parameters, int first)
    {
        var linear = own.Count == 0 ? new double[response.Length] : own.Predictor(parameters.AsSpan(first + 1, own.Count));
        for (var i = 0; i < linear.Length; i++) linear[i] += parameters[first];
        return linear;
    }

    private static void Add(double[] gradient, int first, ModelColumns own, int row, double rest)
    {
        gradient[first] += rest;
        for (var c = 0; c < own.Count; c++) gradient[first + 1 + c] += rest * own.Columns[c][row];
    }
}
