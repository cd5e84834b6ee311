using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Models of ordered categories: a latent variable and the thresholds between them.</summary>
/// <remarks>McCullagh (1980), Journal of the Royal Statistical Society B 42; the log-likelihood is concave for both links (Pratt 1981, Journal of the American Statistical Association 76).</remarks>
internal sealed class OrderedEstimator
{
    private readonly ModelColumns columns;
    private readonly int[] codes;
    private readonly int levels;
    private readonly bool isProbit;

    private OrderedEstimator(ModelColumns columns, int[] codes, int levels, bool isProbit) => (this.columns, this.codes, this.levels, this.isProbit) = (columns, codes, levels, isProbit);

    private int Thresholds => levels - 1;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The codes of the categories as response, with the terms.</param>
    /// <param name="categories">The categories in their order; those that no row has are left out.</param>
    /// <param name="isProbit">Whether the latent errors are normal; else logistic.</param>
    public static OrderedFit Fit(ModelData data, ImmutableArray<string> categories, bool isProbit)
    {
        var (codes, present, warnings) = Categories.Present(data, categories, 3, isProbit ? "a probit regression" : "a logistic regression");
        var columns = ModelColumns.Of(data);
        if (columns.Count == 0) throw new AnalysisException("the model has no terms that vary");
        var ordered = new OrderedEstimator(columns, codes, present.Length, isProbit);
        var (thresholds, k) = (present.Length - 1, present.Length - 1 + columns.Count);
        var start = new double[k];
        var (below, empty) = (0.0, 0.0);
        for (var t = 0; t < present.Length; t++)
        {
            var count = codes.Count(c => c == t);
            empty += count * Math.Log((double)count / codes.Length);
            below += count;
            var share = below / codes.Length;
            if (t < thresholds) start[t] = isProbit ? Tails.NormalLowerQuantile(share) : Math.Log(share / (1 - share));
        }
        var best = NewtonMaximum.Find(ordered.LogLikelihood, start);
        var given = columns.ToGiven(k, thresholds, Enumerable.Range(0, thresholds).Select(t => (t, 1)));
        var (coefficients, covariance) = EstimatedBasis.Transform(given, best.Parameters, best.Covariance);
        var (infinite, separated) = Separation.Find(best, thresholds, columns.Terms, $"`{data.ResponseName}`", "it separates the categories");
        var far = Separation.Find(best, 0, [.. Enumerable.Range(0, thresholds).Select(t => Term.Named($"{t}"))], "", "").Infinite;
        // Terms come first, thresholds last.
        int[] order = [.. Enumerable.Range(thresholds, columns.Count), .. Enumerable.Range(0, thresholds)];
        var basis = new EstimatedBasis
        {
            Estimator = isProbit ? Regression.OrderedProbitName : Regression.OrderedLogitName,
            Data = data,
            Terms = [.. columns.Terms, .. Enumerable.Range(0, thresholds).Select(t => new Term($"{present[t]} | {present[t + 1]}", OrderedFit.ThresholdsName))],
            Coefficients = [.. order.Select(o => coefficients[o])],
            Covariance = Categories.Reorder(covariance, order),
            Infinite = infinite.Select(i => (Place: i.Key - thresholds, i.Value)).Concat(far.Select(i => (Place: i.Key + columns.Count, i.Value))).ToDictionary(i => i.Place, i => i.Value),
            Scores = () => ordered.Scores(best.Parameters, given, order),
            LogLikelihood = best.LogLikelihood,
            ParameterCount = k,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. warnings, .. separated],
        };
        return new OrderedFit(basis, StandardErrors.Classical, present, empty, isProbit);
    }

    private double LogLikelihood(double[] parameters, double[]? gradient, double[,]? information)
    {
        for (var t = 1; t < Thresholds; t++)
            if (parameters[t] <= parameters[t - 1]) return double.NegativeInfinity;
        var linear = columns.Predictor(parameters.AsSpan(Thresholds));
        var sum = 0.0;
        var own = new double[parameters.Length];
        for (var i = 0; i < codes.Length; i++)
        {
            var part = Part.Of(parameters, linear[i], codes[i], levels, isProbit);
            sum += part.LogProbability;
            if (gradient is null) continue;
            Derivative(own, i, part);
            Vectors.AddScaled(gradient, 1, own);
            if (information is not null) AddInformation(information, i, part, own);
        }
        if (information is not null)
            for (var a = 0; a < own.Length; a++)
                for (var b = 0; b < a; b++) information[b, a] = information[a, b];
        return sum;
    }

    /// <summary>The derivatives of a row's log-likelihood.</summary>
    private void Derivative(double[] target, int row, Part part)
    {
        Array.Clear(target);
        if (codes[row] < Thresholds) target[codes[row]] = part.Upper / part.Probability;
        if (codes[row] > 0) target[codes[row] - 1] = -part.Lower / part.Probability;
        var slope = -(part.Upper - part.Lower) / part.Probability;
        for (var c = 0; c < columns.Count; c++) target[Thresholds + c] = slope * columns.Columns[c][row];
    }

    /// <summary>Adds g g' − p''/p, with g the gradient of ln p.</summary>
    private void AddInformation(double[,] information, int row, Part part, double[] own)
    {
        for (var a = 0; a < own.Length; a++)
            for (var b = 0; b <= a; b++) information[a, b] += own[a] * own[b];
        var (upper, lower) = (part.UpperSlope / part.Probability, part.LowerSlope / part.Probability);
        var code = codes[row];
        if (code < Thresholds) information[code, code] -= upper;
        if (code > 0) information[code - 1, code - 1] += lower;
        for (var c = 0; c < columns.Count; c++)
        {
            var x = columns.Columns[c][row];
            if (code < Thresholds) information[Thresholds + c, code] += upper * x;
            if (code > 0) information[Thresholds + c, code - 1] -= lower * x;
            for (var d = 0; d <= c; d++) information[Thresholds + c, Thresholds + d] -= (upper - lower) * x * columns.Columns[d][row];
        }
    }

    private double[][] Scores(double[] parameters, double[,] given, int[] order)
    {
        var linear = columns.Predictor(parameters.AsSpan(Thresholds));
        var back = Categories.Inverse(given, Thresholds, columns.Count);
        var own = new double[parameters.Length];
        return [.. Enumerable.Range(0, codes.Length).Select(i =>
        {
            Derivative(own, i, Part.Of(parameters, linear[i], codes[i], levels, isProbit));
            var score = Categories.Times(own, back);
            return order.Select(o => score[o]).ToArray();
        })];
    }

    /// <summary>The probability of a row's category, with the densities at its ends and their slopes.</summary>
    internal readonly record struct Part(double Probability, double LogProbability, double Upper, double Lower, double UpperSlope, double LowerSlope)
    {
        /// <param name="thresholds">The thresholds, before anything else.</param>
        /// <param name="linear">The linear predictor.</param>
        /// <param name="code">The category.</param>
        /// <param name="levels">How many there are.</param>
        /// <param name="isProbit">Whether the latent errors are normal.</param>
        public static Part Of(ReadOnlySpan<double> thresholds, double linear, int code, int levels, bool isProbit)
        {
            var high = code < levels - 1 ? thresholds[code] - linear : double.PositiveInfinity;
            var low = code > 0 ? thresholds[code - 1] - linear : double.NegativeInfinity;
            // The tail is taken in which nothing cancels.
            var probability = low > 0 ? Lower(-low) - Lower(-high) : Lower(high) - Lower(low);
            probability = Math.Max(probability, 1e-300);
            var (upper, lower) = (Density(high), Density(low));
            return new Part(probability, Math.Log(probability), upper, lower, Slope(high, upper), Slope(low, lower));

            double Lower(double z) => isProbit ? Tails.NormalLower(z) : Tails.LogisticLower(z);
            double Density(double z) => double.IsInfinity(z) ? 0 : isProbit ? Math.Exp(-z * z / 2) / Math.Sqrt(2 * Math.PI) : Lower(z) * Lower(-z);
            double Slope(double z, double density) => double.IsInfinity(z) ? 0 : isProbit ? -z * density : density * (Lower(-z) - Lower(z));
        }
    }
}
