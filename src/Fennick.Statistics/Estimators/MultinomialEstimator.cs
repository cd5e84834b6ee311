using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>The multinomial logit: each category against one of them.</summary>
/// <remarks>Agresti, Categorical Data Analysis, 3rd ed., §8.1.</remarks>
internal sealed class MultinomialEstimator
{
    private readonly ModelColumns columns;
    private readonly int[] codes;
    private readonly int[] others;

    private MultinomialEstimator(ModelColumns columns, int[] codes, int[] others) => (this.columns, this.codes, this.others) = (columns, codes, others);

    /// <summary>The coefficients of a category: its constant and its slopes.</summary>
    private int Width => columns.Count + 1;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The codes of the categories as response, with the terms.</param>
    /// <param name="categories">The categories; those that no row has are left out.</param>
    /// <param name="reference">The category that the others are compared with; the first if null.</param>
    public static MultinomialFit Fit(ModelData data, ImmutableArray<string> categories, string? reference)
    {
        var (codes, present, warnings) = Categories.Present(data, categories, 3, "a logistic regression");
        var chosen = reference is null ? 0 : present.IndexOf(reference) is >= 0 and var place ? place : throw new AnalysisException($"no row used has the category `{reference}` of `{data.ResponseName}`; its categories are {string.Join(", ", present.Select(p => $"`{p}`"))}");
        var columns = ModelColumns.Of(data);
        int[] others = [.. Enumerable.Range(0, present.Length).Where(c => c != chosen)];
        var model = new MultinomialEstimator(columns, codes, others);
        var start = new double[others.Length * model.Width];
        var empty = 0.0;
        for (var c = 0; c < present.Length; c++)
        {
            var count = codes.Count(x => x == c);
            empty += count * Math.Log((double)count / codes.Length);
            if (Array.IndexOf(others, c) is >= 0 and var own) start[own * model.Width] = Math.Log((double)count / codes.Count(x => x == chosen));
        }
        var best = NewtonMaximum.Find(model.LogLikelihood, start);
        var given = columns.ToGiven(start.Length, 1, []);
        for (var o = 0; o < others.Length; o++) columns.Add(given, (o * model.Width) + 1, [(o * model.Width, -1)]);
        var (coefficients, covariance) = EstimatedBasis.Transform(given, best.Parameters, best.Covariance);
        var infinite = new Dictionary<int, int>();
        var separated = new List<AnalysisWarning>();
        for (var o = 0; o < others.Length; o++)
        {
            var (own, told) = Separation.Find(best, (o * model.Width) + 1, columns.Terms, $"the share of `{present[others[o]]}`", "it separates the categories");
            foreach (var (at, sign) in own) infinite[at] = sign;
            separated.AddRange(told);
        }
        Term[] terms = [Term.Intercept, .. columns.Terms];
        var basis = new EstimatedBasis
        {
            Estimator = Regression.MultinomialName,
            Data = data,
            Terms = [.. others.SelectMany(o => terms.Select(t => new Term($"{present[o]}: {t.Name}", t.Variable, t.Level, t.Reference)))],
            Coefficients = coefficients,
            Covariance = covariance,
            Infinite = infinite,
            Scores = () => model.Scores(best.Parameters, given),
            LogLikelihood = best.LogLikelihood,
            ParameterCount = start.Length,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. warnings, .. separated],
        };
        return new MultinomialFit(basis, StandardErrors.Classical, present, chosen, [.. terms], empty);
    }

    private double LogLikelihood(double[] parameters, double[]? gradient, double[,]? information)
    {
        var linear = Enumerable.Range(0, others.Length).Select(o => columns.Count == 0 ? new double[codes.Length] : columns.Predictor(parameters.AsSpan((o * Width) + 1, columns.Count))).ToArray();
        var (sum, shares, row) = (0.0, new double[others.Length], new double[Width]);
        row[0] = 1;
        for (var i = 0; i < codes.Length; i++)
        {
            sum += Shares(parameters, linear, i, shares);
            if (gradient is null) continue;
            for (var c = 0; c < columns.Count; c++) row[c + 1] = columns.Columns[c][i];
            for (var o = 0; o < others.Length; o++)
            {
                var rest = (codes[i] == others[o] ? 1 : 0) - shares[o];
                for (var a = 0; a < Width; a++) gradient[(o * Width) + a] += rest * row[a];
                for (var p = 0; p <= o && information is not null; p++)
                {
                    var weight = shares[o] * ((o == p ? 1 : 0) - shares[p]);
                    for (var a = 0; a < Width; a++)
                        for (var b = 0; b < Width; b++) information[(o * Width) + a, (p * Width) + b] += weight * row[a] * row[b];
                }
            }
        }
        for (var a = 0; information is not null && a < parameters.Length; a++)
            for (var b = 0; b < a; b++) information[b, a] = information[a, b];
        return sum;
    }

    /// <summary>The probabilities of a row's categories but the reference.</summary>
    /// <returns>The logarithm of that of its own.</returns>
    private double Shares(double[] parameters, double[][] linear, int row, double[] shares)
    {
        var highest = 0.0;
        for (var o = 0; o < others.Length; o++)
        {
            shares[o] = parameters[o * Width] + linear[o][row];
            highest = Math.Max(highest, shares[o]);
        }
        var place = Array.IndexOf(others, codes[row]);
        var own = place < 0 ? 0 : shares[place];
        var total = Math.Exp(-highest);
        for (var o = 0; o < others.Length; o++) total += shares[o] = Math.Exp(shares[o] - highest);
        for (var o = 0; o < others.Length; o++) shares[o] /= total;
        return own - highest - Math.Log(total);
    }

    private double[][] Scores(double[] parameters, double[,] given)
    {
        var linear = Enumerable.Range(0, others.Length).Select(o => columns.Count == 0 ? new double[codes.Length] : columns.Predictor(parameters.AsSpan((o * Width) + 1, columns.Count))).ToArray();
        var back = given;
        for (var o = 0; o < others.Length; o++) back = Categories.Inverse(back, (o * Width) + 1, columns.Count);
        var shares = new double[others.Length];
        return [.. Enumerable.Range(0, codes.Length).Select(i =>
        {
            _ = Shares(parameters, linear, i, shares);
            var score = new double[parameters.Length];
            for (var o = 0; o < others.Length; o++)
            {
                var rest = (codes[i] == others[o] ? 1 : 0) - shares[o];
                score[o * Width] = rest;
                for (var c = 0; c < columns.Count; c++) score[(o * Width) + 1 + c] = rest * columns.Columns[c][i];
            }
            return Categories.Times(score, back);
        })];
    }
}
