using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>Generalized linear models by iteratively reweighted least squares.</summary>
/// <remarks>McCullagh &amp; Nelder, Generalized Linear Models, 2nd ed., §2.5. It stops when the deviance changes by less than 1e-11 of itself.</remarks>
internal static class IteratedEstimator
{
    private const int MostSteps = 100;
    private const double Done = 1e-11;
    private const double SeparatedAt = 1e-8;

    public static GeneralizedFit Fit(ModelData data, Family family)
    {
        Check(data, family);
        var path = Iterate(data.Design, data, family, null);
        return Finish(data, family, path, NullPath(data, family), null, path.Converged);
    }

    /// <summary>θ and the coefficients are estimated in turn.</summary>
    public static GeneralizedFit FitNegativeBinomial(ModelData data)
    {
        Check(data, new Poisson());
        var (path, family, converged) = Alternate(data.Design, data);
        var (empty, emptyFamily, _) = Alternate(Intercept(data), data);
        return Finish(data, family, path, (Iterate(Intercept(data), data, family, null).Deviance, LogLikelihood(data.Response, empty.Means, emptyFamily)), family.Theta, converged);
    }

    private static (Path Path, NegativeBinomial Family, bool Converged) Alternate(DesignMatrix design, ModelData data)
    {
        const double NoMoreThanPoisson = 1e7;
        var path = Iterate(design, data, new Poisson(), null);
        var theta = Moments(data.Response, path.Means);
        for (var round = 0; round < MostSteps; round++)
        {
            path = Iterate(design, data, new NegativeBinomial(theta), path.Linear);
            var next = Math.Min(MostLikelyTheta(data.Response, path.Means, theta), NoMoreThanPoisson);
            var change = Math.Abs(next - theta) / theta;
            theta = next;
            if (change < 1e-10 || theta >= NoMoreThanPoisson)
            {
                var last = new NegativeBinomial(theta);
                return (Iterate(design, data, last, path.Linear), last, theta < NoMoreThanPoisson);
            }
        }
        return (path, new NegativeBinomial(theta), false);
    }

    internal static Path Iterate(DesignMatrix design, ModelData data, Family family, double[]? start)
    {
        var n = data.Response.Length;
        var linear = start is null ? data.Response.Select(family.Start).ToArray() : (double[])start.Clone();
        var means = new double[n];
        var slopes = new double[n];
        var weights = new double[n];
        var working = new double[n];
        var fixedDeviance = SumOverRows(n, i => family.FixedDeviance(data.Response[i]));
        var deviance = Evaluate(linear);
        double[]? before = null;
        LeastSquaresSolution? first = null;
        for (var step = 1; ; step++)
        {
            Threads.ForRows(n, Threads.Parts(n), (_, from, to) =>
            {
                for (var i = from; i < to; i++)
                {
                    weights[i] = Positive(slopes[i] * slopes[i] / family.Variance(means[i]));
                    working[i] = linear[i] - (data.Offset?[i] ?? 0) + Math.Clamp((data.Response[i] - means[i]) / Positive(slopes[i]), -1e100, 1e100);
                }
            });
            var solution = LeastSquaresSolver.Solve(design, working, weights, refine: false);
            first ??= solution;
            // Columns that only now depend on each other do so because the weights of nearly all rows have gone to nothing.
            if (solution.Dropped.Count > first.Dropped.Count) return new Path(first, linear, means, slopes, weights, deviance, Converged: false, Separated: true, step);
            // A dropped column has the coefficient 0.
            var next = FitBasis.ResidualsOf(design, [.. solution.Coefficients.Select(c => -c)], data.Offset ?? new double[n]);
            var reached = Evaluate(next);
            // A step that makes the fit worse is halved.
            for (var half = 0; before is not null && half < 30 && !(reached <= deviance * (1 + 1e-10)); half++)
            {
                for (var i = 0; i < n; i++) next[i] = (next[i] + linear[i]) / 2;
                reached = Evaluate(next);
            }
            var isDone = before is not null && Math.Abs(reached - deviance) <= Done * (Math.Abs(reached) + 0.1);
            // Linear predictors run away where the terms separate the response.
            var isSeparated = (family is Logistic or Probit) && (reached < SeparatedAt * n || !next.All(l => Math.Abs(l) < 1e6));
            before = linear;
            linear = next;
            deviance = reached;
            if (isDone || isSeparated || step == MostSteps || !double.IsFinite(deviance))
                return new Path(solution, linear, means, slopes, weights, deviance, isDone && !isSeparated, isSeparated, step);
        }

        double Evaluate(double[] at) => 2 * (fixedDeviance + SumOverRows(n, i =>
        {
            (means[i], slopes[i]) = family.Mean(at[i]);
            return family.ChangingDeviance(data.Response[i], at[i], means[i]);
        }));
    }

    private static GeneralizedFit Finish(ModelData data, Family family, Path path, (double Deviance, double LogLikelihood) empty, double? theta, bool converged)
    {
        var dropped = path.Solution.Dropped;
        var design = data.Design.Without(dropped);
        var n = data.Response.Length;
        var degrees = n - design.ColumnCount;
        if (degrees <= 0) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {design.ColumnCount} terms; at least {design.ColumnCount + 1} are needed");
        var information = new double[n];
        var scores = new double[n];
        for (var i = 0; i < n; i++)
        {
            information[i] = Positive(family.Information(data.Response[i], path.Linear[i], path.Means[i], path.Slopes[i]));
            scores[i] = data.Response[i] == path.Means[i] ? 0 : (data.Response[i] - path.Means[i]) * path.Slopes[i] / family.Variance(path.Means[i]) / information[i];
        }
        var pearson = data.Response.Zip(path.Means, (y, m) => y == m ? 0 : (y - m) * (y - m) / family.Variance(m)).Sum();
        // One more exact step gives the coefficients that belong to the last linear predictor.
        var coefficients = LeastSquaresSolver.Solve(design, [.. path.Linear.Select((l, i) => l - (data.Offset?[i] ?? 0))], path.Separated ? null : path.Weights).Coefficients;
        var triangle = StandardisedTriangle.Create(design, [.. Enumerable.Range(0, design.ColumnCount)], scores, information);
        var basis = new FitBasis
        {
            Estimator = family.Estimator,
            Data = data,
            Coefficients = coefficients,
            Scores = new Scores(design, information, triangle, scores),
            Dropped = dropped,
            ResidualDegreesOfFreedom = degrees,
            Dispersion = 1,
            UsesStudent = false,
            LogLikelihood = LogLikelihood(data.Response, path.Means, family),
            Means = path.Means,
            Mean = family.Mean,
            Warnings = Warnings(data, design, dropped, family, path, coefficients, converged),
        };
        return new GeneralizedFit(basis, StandardErrors.Classical, new GeneralizedFit.Outcome(path.Deviance, empty.Deviance, empty.LogLikelihood, pearson, converged, path.Iterations, theta));
    }

    private static ImmutableArray<AnalysisWarning> Warnings(ModelData data, DesignMatrix design, IReadOnlySet<int> dropped, Family family, Path path, double[] coefficients, bool converged)
    {
        var warnings = LinearEstimator.DroppedWarnings(data.Design, dropped);
        var certain = family is Logistic or Probit ? path.Means.Count(m => m is < SeparatedAt or > 1 - SeparatedAt) : 0;
        if (certain > 0 || path.Separated)
        {
            // The terms whose own part moves the linear predictor furthest are those that separate.
            var reach = design.Terms.Select((t, c) => (t.Name, Reach: t == Term.Intercept ? 0 : Math.Abs(coefficients[c]) * (design.Columns[c].Max() - design.Columns[c].Min()))).MaxBy(r => r.Reach);
            warnings = warnings.Add(new AnalysisWarning(path.Separated || certain == path.Means.Length
                ? $"the terms separate `{data.ResponseName}` perfectly (above all `{reach.Name}`): the estimates have no finite value, and their errors mean nothing"
                : $"`{data.ResponseName}` is certain in {ModelData.CountRows(certain)} (above all by `{reach.Name}`): some estimates may have no finite value"));
        }
        if (family is NegativeBinomial && !converged)
            warnings = warnings.Add(new AnalysisWarning($"`{data.ResponseName}` varies no more than a Poisson count; θ has no finite value"));
        else if (!converged && !path.Separated && certain < path.Means.Length)
            warnings = warnings.Add(new AnalysisWarning($"the iteration did not converge in {path.Iterations} steps; the estimates are not final"));
        return warnings;
    }

    /// <summary>What is divided by: where a mean is certain, its variance and slope come to nothing.</summary>
    private static double Positive(double value) => value > 1e-280 && double.IsFinite(value) ? value : 1e-280;

    private static (double Deviance, double LogLikelihood) NullPath(ModelData data, Family family)
    {
        if (data.Offset is null)
        {
            // Without an offset the intercept alone fits the mean.
            var mean = data.Response.Average();
            return (SumOverRows(data.Response.Length, i => family.UnitDeviance(data.Response[i], mean)), SumOverRows(data.Response.Length, i => family.LogLikelihood(data.Response[i], mean)));
        }
        var path = Iterate(Intercept(data), data, family, null);
        return (path.Deviance, LogLikelihood(data.Response, path.Means, family));
    }

    private static DesignMatrix Intercept(ModelData data) => new([Enumerable.Repeat(1.0, data.Response.Length).ToArray()], [Term.Intercept]);

    private static double LogLikelihood(double[] response, double[] means, Family family) => SumOverRows(response.Length, i => family.LogLikelihood(response[i], means[i]));

    private static double SumOverRows(int rows, Func<int, double> part)
    {
        var sums = new double[Threads.Parts(rows)];
        Threads.ForRows(rows, sums.Length, (place, from, to) =>
        {
            var sum = 0.0;
            for (var i = from; i < to; i++) sum += part(i);
            sums[place] = sum;
        });
        return sums.Sum();
    }

    /// <summary>θ by the method of moments.</summary>
    private static double Moments(double[] response, double[] means)
    {
        var excess = response.Zip(means, (y, m) => ((y - m) * (y - m)) - m).Sum();
        return Math.Clamp(means.Sum(m => m * m) / Math.Max(excess, 1e-6), 1e-3, 1e6);
    }

    /// <summary>θ of the largest likelihood for given means, by Newton's method on ln θ.</summary>
    private static double MostLikelyTheta(double[] response, double[] means, double theta)
    {
        for (var step = 0; step < 50; step++)
        {
            double slope = 0, curvature = 0;
            for (var i = 0; i < response.Length; i++)
            {
                var (y, m) = (response[i], means[i]);
                slope += SpecialFunctions.DiGamma(y + theta) - SpecialFunctions.DiGamma(theta) + Math.Log(theta / (theta + m)) + 1 - ((y + theta) / (m + theta));
                curvature += TriGamma(y + theta) - TriGamma(theta) + (1 / theta) - (2 / (m + theta)) + ((y + theta) / ((m + theta) * (m + theta)));
            }
            var inLog = slope * theta;
            var bend = (curvature * theta * theta) + inLog;
            var change = bend < 0 ? Math.Clamp(-inLog / bend, -2, 2) : Math.Sign(inLog);
            theta *= Math.Exp(change);
            if (Math.Abs(change) < 1e-12 || theta > 1e8) break;
        }
        return theta;
    }

    /// <summary>ψ′ by recurrence and the asymptotic series (Abramowitz &amp; Stegun 6.4.6 and 6.4.12).</summary>
    private static double TriGamma(double x)
    {
        var sum = 0.0;
        for (; x < 15; x++) sum += 1 / (x * x);
        var s = 1 / (x * x);
        return sum + (1 / x) + (s / 2) + (s / x * ((1.0 / 6) - (s * ((1.0 / 30) - (s * ((1.0 / 42) - (s / 30)))))));
    }

    private static void Check(ModelData data, Family family)
    {
        if (family.Complaint(data.Response, data.ResponseName) is { } complaint) throw new AnalysisException(complaint);
        if (data.Design.ColumnCount == 0) throw new AnalysisException("the model has no terms");
    }

    internal sealed record Path(LeastSquaresSolution Solution, double[] Linear, double[] Means, double[] Slopes, double[] Weights, double Deviance, bool Converged, bool Separated, int Iterations);
}
