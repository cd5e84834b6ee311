using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Logistic regression with a random intercept, its likelihood integrated by adaptive Gauss–Hermite quadrature.</summary>
/// <remarks>Pinheiro &amp; Bates (1995), Journal of Computational and Graphical Statistics 4; Rabe-Hesketh, Skrondal &amp; Pickles (2005), Journal of Econometrics 128.</remarks>
internal sealed class MixedLogisticEstimator
{
    private readonly ModelColumns columns;
    private readonly double[] response;
    private readonly int[][] rows;
    private readonly (double Node, double LogWeight)[] nodes;

    private MixedLogisticEstimator(ModelColumns columns, double[] response, int[][] rows, int nodeCount)
    {
        (this.columns, this.response, this.rows) = (columns, response, rows);
        nodes = Hermite(nodeCount);
    }

    private int Slopes => columns.Count + 1;

    /// <summary>Fits a model.</summary>
    /// <param name="data">The data, with the grouping absorbed.</param>
    /// <param name="nodeCount">How many nodes the quadrature has for each group.</param>
    public static MixedFit Fit(ModelData data, int nodeCount)
    {
        if (nodeCount is < 1 or > 100) throw new AnalysisException($"{nodeCount} nodes are not between 1 and 100");
        if (data.Response.FirstOrDefault(y => y is not (0 or 1), -1) is not -1 and var wrong) throw new AnalysisException($"the response `{data.ResponseName}` is {wrong.ToString(CultureInfo.InvariantCulture)} in a row; it must be 0 or 1");
        if (!data.Response.AsSpan().ContainsAnyExcept(data.Response[0])) throw new AnalysisException($"the response `{data.ResponseName}` is {data.Response[0].ToString(CultureInfo.InvariantCulture)} in all {ModelData.CountRows(data.Response.Length)}; there is nothing to explain");
        var (codes, levels) = MixedEstimator.GroupsOf(data);
        var columns = ModelColumns.Of(data);
        int[][] rows = [.. Enumerable.Range(0, codes.Length).GroupBy(i => codes[i]).OrderBy(g => g.Key).Select(g => g.ToArray())];
        var model = new MixedLogisticEstimator(columns, data.Response, rows, nodeCount);
        var share = data.Response.Average();
        var start = new double[model.Slopes + 1];
        (start[0], start[^1]) = (Math.Log(share / (1 - share)), 0.5);
        var fixedOnly = NewtonMaximum.Find((b, g, h) => model.WithInformation([.. b, 0], g, h), start[..^1]);
        fixedOnly.Parameters.CopyTo(start, 0);
        var best = NewtonMaximum.Find(model.WithInformation, start);
        var deviation = Math.Abs(best.Parameters[^1]);
        var isSingular = deviation < 1e-3 || best.LogLikelihood < fixedOnly.LogLikelihood;
        if (isSingular) (best, deviation) = (fixedOnly with { Parameters = [.. fixedOnly.Parameters, 0] }, 0);
        var k = model.Slopes;
        var toGiven = columns.ToGiven(k, 1, [(0, -1)]);
        var (coefficients, covariance) = EstimatedBasis.Transform(toGiven, best.Parameters[..k], Categories.Reorder(best.Covariance, [.. Enumerable.Range(0, k)]));
        var (infinite, separated) = Separation.Find(best, 1, columns.Terms, $"`{data.ResponseName}`", "it separates the response");
        var basis = new EstimatedBasis
        {
            Estimator = Regression.MixedLogisticName,
            Data = data,
            Terms = [Term.Intercept, .. columns.Terms],
            Coefficients = coefficients,
            Covariance = covariance,
            Infinite = infinite,
            LogLikelihood = best.LogLikelihood,
            ParameterCount = k + 1,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. separated, .. isSingular ? [new AnalysisWarning($"the groups of `{data.Absorbed[0].Name}` differ by no more than chance: the variance of the intercepts is zero; `Regression.Logistic` fits as well")] : Array.Empty<AnalysisWarning>()],
        };
        var modes = model.Modes(best.Parameters);
        return new MixedFit(basis, StandardErrors.Classical, new MixedDetails(data.Absorbed[0].Name, levels, [Term.InterceptName], new[,] { { deviation * deviation } }, null, 2 * (best.LogLikelihood - fixedOnly.LogLikelihood), false, [.. modes.Select(m => new[] { m * best.Parameters[^1] })]) { Nodes = nodeCount });
    }

    /// <summary>The likelihood; its second derivatives by differences of the first.</summary>
    private double WithInformation(double[] parameters, double[]? gradient, double[,]? information)
    {
        var value = LogLikelihood(parameters, gradient);
        if (information is not null) NewtonMaximum.AddDifferences((at, slope) => LogLikelihood(at, slope), parameters, 1e-4, information);
        return value;
    }

    private double[] Linear(double[] parameters)
    {
        var linear = columns.Count == 0 ? new double[response.Length] : columns.Predictor(parameters.AsSpan(1, columns.Count));
        for (var i = 0; i < linear.Length; i++) linear[i] += parameters[0];
        return linear;
    }

    private double[] Modes(double[] parameters)
    {
        var linear = Linear(parameters);
        return [.. rows.Select(own => Mode(own, linear, parameters[^1]).Mode)];
    }

    private double LogLikelihood(double[] parameters, double[]? gradient)
    {
        var (linear, sigma, sum) = (Linear(parameters), parameters[^1], 0.0);
        var parts = new (double Value, double[] Gradient)[rows.Length];
        Parallel.For(0, rows.Length, g =>
        {
            var slope = new double[parameters.Length];
            parts[g] = (sigma == 0 ? Fixed(rows[g], linear, slope) : Integrated(rows[g], linear, sigma, slope), slope);
        });
        foreach (var (value, slope) in parts)
        {
            sum += value;
            // A fit without random effects has one derivative less.
            if (gradient is not null) Vectors.AddScaled(gradient, 1, slope.AsSpan(0, gradient.Length));
        }
        return sum;
    }

    private double Fixed(int[] own, double[] linear, double[] slope)
    {
        var sum = 0.0;
        foreach (var i in own)
        {
            sum += LogShare(response[i], linear[i]);
            Add(slope, i, response[i] - Tails.LogisticLower(linear[i]), 0);
        }
        return sum;
    }

    private double Integrated(int[] own, double[] linear, double sigma, double[] slope)
    {
        var (mode, curvature) = Mode(own, linear, sigma);
        var width = 1 / Math.Sqrt(curvature);
        var logs = new double[nodes.Length];
        for (var j = 0; j < nodes.Length; j++)
        {
            var u = mode + (Math.Sqrt(2) * width * nodes[j].Node);
            logs[j] = nodes[j].LogWeight + (nodes[j].Node * nodes[j].Node) - (u * u / 2);
            foreach (var i in own) logs[j] += LogShare(response[i], linear[i] + (sigma * u));
        }
        var highest = logs.Max();
        var total = logs.Sum(l => Math.Exp(l - highest));
        for (var j = 0; j < nodes.Length; j++)
        {
            var weight = Math.Exp(logs[j] - highest) / total;
            var u = mode + (Math.Sqrt(2) * width * nodes[j].Node);
            foreach (var i in own) Add(slope, i, weight * (response[i] - Tails.LogisticLower(linear[i] + (sigma * u))), u);
        }
        return highest + Math.Log(total) + Math.Log(width) - (Math.Log(Math.PI) / 2);
    }

    private void Add(double[] slope, int row, double rest, double effect)
    {
        slope[0] += rest;
        for (var c = 0; c < columns.Count; c++) slope[c + 1] += rest * columns.Columns[c][row];
        slope[^1] += rest * effect;
    }

    private (double Mode, double Curvature) Mode(int[] own, double[] linear, double sigma)
    {
        var u = 0.0;
        for (var step = 0; ; step++)
        {
            var (slope, curvature) = (-u, 1.0);
            foreach (var i in own)
            {
                var share = Tails.LogisticLower(linear[i] + (sigma * u));
                slope += sigma * (response[i] - share);
                curvature += sigma * sigma * share * (1 - share);
            }
            var move = Math.Clamp(slope / curvature, -3, 3);
            if (Math.Abs(move) < 1e-10 || step == 100) return (u, curvature);
            u += move;
        }
    }

    private static double LogShare(double y, double linear)
    {
        var own = y == 1 ? linear : -linear;
        return own > 0 ? -double.LogP1(Math.Exp(-own)) : own - double.LogP1(Math.Exp(own));
    }

    /// <summary>The nodes of ∫ f(z) exp(−z²) dz with the logarithms of their weights, by Newton's method on the normalised polynomials.</summary>
    private static (double Node, double LogWeight)[] Hermite(int count)
    {
        var nodes = new (double, double)[count];
        for (var i = 0; i < count; i++)
        {
            // Eigenvalues of the tridiagonal matrix bracket the roots; bisection keeps to one of them.
            var (low, high) = (-Math.Sqrt((2 * count) + 1), Math.Sqrt((2 * count) + 1));
            for (var step = 0; step < 200 && high - low > 1e-15 * Math.Max(1, Math.Abs(low)); step++)
            {
                var middle = (low + high) / 2;
                if (Below(middle) > i) high = middle;
                else low = middle;
            }
            var root = (low + high) / 2;
            var before = Polynomials(root)[count - 1];
            nodes[i] = (root, -Math.Log(count * before * before));
        }
        return nodes;

        // How many roots lie below a value: the sign changes of Sturm's sequence.
        int Below(double at)
        {
            var (below, d) = (0, 1.0);
            for (var j = 0; j < count; j++)
            {
                d = -at - (j == 0 ? 0 : j / 2.0 / (d == 0 ? 1e-300 : d));
                if (d < 0) below++;
            }
            return below;
        }

        double[] Polynomials(double z)
        {
            var values = new double[count + 1];
            values[0] = Math.Pow(Math.PI, -0.25);
            for (var j = 1; j <= count; j++) values[j] = (z * Math.Sqrt(2.0 / j) * values[j - 1]) - (j == 1 ? 0 : Math.Sqrt((j - 1.0) / j) * values[j - 2]);
            return values;
        }
    }
}
