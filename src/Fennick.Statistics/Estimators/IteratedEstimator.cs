using System.Collections.Immutable;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;
using MathNet.Numerics;

namespace Fennick.Statistics.Estimators;

/// <summary>Generalized linear models by iteratively reweighted least squares, with the observed information where a family states it.</summary>
/// <remarks>
/// McCullagh &amp; Nelder, Generalized Linear Models, 2nd ed., §2.5. It stops when a step is shorter than 1e-9 of the coefficients' standard errors. Linear predictors that still move when the
/// deviance has settled have no finite value: the terms separate the response (Albert &amp; Anderson 1984, Biometrika 71; for counts Correia, Guimarães &amp; Zylkin 2020, Stata Journal 20).
/// </remarks>
internal static class IteratedEstimator
{
    private const int MostSteps = 100;
    private const double Settled = 1e-11;
    private const double Done = 1e-18;
    private const double StillMoving = 1e-2;

    public static GeneralizedFit Fit(ModelData data, Family family)
    {
        Check(data, family);
        var path = Iterate(data.Design, data, family, null);
        if (LinearEstimator.LosesEarlierTerms(data, path.Solution)) return Fit(data.WithoutGroups(), family);
        return Finish(data, family, path, NullPath(data, family), null, path.Converged);
    }

    /// <summary>θ and the coefficients are estimated in turn.</summary>
    public static GeneralizedFit FitNegativeBinomial(ModelData data)
    {
        Check(data, new Poisson());
        var (path, family, converged) = Alternate(data.Design, data);
        if (LinearEstimator.LosesEarlierTerms(data, path.Solution)) return FitNegativeBinomial(data.WithoutGroups());
        var (empty, emptyFamily, _) = Alternate(Intercept(data), data);
        return Finish(data, family, path, (Iterate(Intercept(data), data, family, null).Deviance, LogLikelihood(data.Response, empty, emptyFamily)), family.Theta, converged);
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
        LeastSquaresSolution? first = null, before = null;
        for (var step = 1; ; step++)
        {
            Threads.ForRows(n, Threads.Parts(n), (_, from, to) =>
            {
                for (var i = from; i < to; i++)
                {
                    var score = family.Score(data.Response[i], linear[i], means[i], slopes[i]);
                    weights[i] = Positive(family.Information(data.Response[i], linear[i], means[i], slopes[i]));
                    working[i] = linear[i] - (data.Offset?[i] ?? 0) + Math.Clamp(score / weights[i], -1e100, 1e100);
                }
            });
            var solution = LeastSquaresSolver.Solve(design, working, weights, refine: false);
            first ??= solution;
            // Columns that only now depend on each other do so because the weights of nearly all rows have gone to nothing.
            if (solution.Dropped.Count > first.Dropped.Count) return new Path(first, linear, means, slopes, deviance, Converged: false, step, Infinite(first.Design, before ?? first, before ?? first), IsPerfect(n));
            var next = solution.Fitted();
            if (data.Offset is not null) Vectors.AddScaled(next, 1, data.Offset);
            var reached = Evaluate(next);
            // A step that makes the fit worse is halved.
            for (var half = 0; before is not null && half < 30 && !(reached <= deviance * (1 + 1e-10)); half++)
            {
                for (var i = 0; i < n; i++) next[i] = (next[i] + linear[i]) / 2;
                reached = Evaluate(next);
            }
            var isSettled = before is not null && Math.Abs(reached - deviance) <= Settled * (Math.Abs(reached) + 0.1);
            var (length, size, largest) = Compare(next, linear, weights);
            var isDone = before is not null && length <= Math.Max(Done, Done * size) && largest < StillMoving;
            var isSeparated = isSettled && largest >= StillMoving;
            var infinite = isSeparated ? Infinite(solution.Design, solution, before!) : ImmutableDictionary<int, int>.Empty;
            before = solution;
            linear = next;
            deviance = reached;
            if (isDone || isSeparated || step == MostSteps || !double.IsFinite(deviance))
                return new Path(solution, linear, means, slopes, deviance, isDone || isSeparated, step, infinite, isSeparated && IsPerfect(n));
        }

        double Evaluate(double[] at) => 2 * (fixedDeviance + SumOverRows(n, i =>
        {
            (means[i], slopes[i]) = family.Mean(at[i]);
            return family.ChangingDeviance(data.Response[i], at[i], means[i]);
        }));

        // Every response is met: nothing is left to be explained.
        bool IsPerfect(int rows) => family is Logistic or Probit && deviance < 1e-8 * rows;
    }

    /// <summary>The squared length of a step in units of the standard errors, the squared length of the linear predictor in the same units, and the furthest that one moves.</summary>
    private static (double Length, double Size, double Largest) Compare(double[] next, double[] linear, double[] weights)
    {
        double length = 0, size = 0, largest = 0;
        for (var i = 0; i < next.Length; i++)
        {
            var change = Math.Abs(next[i] - linear[i]);
            length += weights[i] * change * change;
            size += weights[i] * next[i] * next[i];
            largest = Math.Max(largest, change);
        }
        return (length, size, largest);
    }

    /// <summary>The coefficients that still move though the deviance has settled, with the sign of their infinity.</summary>
    private static ImmutableDictionary<int, int> Infinite(DesignMatrix design, LeastSquaresSolution now, LeastSquaresSolution before)
    {
        if (now.Coefficients.Length != before.Coefficients.Length) return ImmutableDictionary<int, int>.Empty;
        double Reach(int c) => c == design.Intercept || design.GroupsOf[c].Group >= 0 ? 1 : design.Kept(c)!.Max() - design.Kept(c)!.Min();
        var moves = now.Coefficients.Select((b, c) => (b - before.Coefficients[c]) * Reach(c)).ToArray();
        return Enumerable.Range(0, moves.Length).Where(c => Math.Abs(moves[c]) >= StillMoving).ToImmutableDictionary(c => c, c => Math.Sign(moves[c]));
    }

    private static GeneralizedFit Finish(ModelData data, Family family, Path path, (double Deviance, double LogLikelihood) empty, double? theta, bool converged)
    {
        var dropped = path.Solution.Dropped;
        var design = path.Solution.Design;
        var n = data.Response.Length;
        var degrees = n - design.ColumnCount;
        if (degrees <= 0) throw new AnalysisException($"{ModelData.CountRows(n)} are too few for {design.ColumnCount} terms; at least {design.ColumnCount + 1} are needed");
        var information = new double[n];
        var scores = new double[n];
        for (var i = 0; i < n; i++)
        {
            information[i] = Positive(family.Information(data.Response[i], path.Linear[i], path.Means[i], path.Slopes[i]));
            scores[i] = Math.Clamp(family.Score(data.Response[i], path.Linear[i], path.Means[i], path.Slopes[i]) / information[i], -1e100, 1e100);
        }
        var pearson = SumOverRows(n, i => family.Pearson(data.Response[i], path.Linear[i], path.Means[i]));
        // One more exact step gives the coefficients that belong to the last linear predictor, and the split design that belongs to the information.
        double[] linear = data.Offset is null ? path.Linear : FitBasis.Difference(path.Linear, data.Offset);
        var solution = LeastSquaresSolver.Solve(design, linear, information);
        if (solution.Dropped.Count > 0) solution = LeastSquaresSolver.Solve(design, linear, null);
        var basis = new FitBasis
        {
            Estimator = family.Estimator,
            Data = data,
            Coefficients = solution.Coefficients,
            Infinite = path.Infinite,
            Centres = solution.Centres,
            Slopes = solution.Slopes,
            Scores = new Scores(solution.Factorisation, solution.Factorisation.HasWeights ? information : null, scores),
            Dropped = dropped,
            ResidualDegreesOfFreedom = degrees,
            Dispersion = 1,
            UsesStudent = false,
            LogLikelihood = LogLikelihood(data.Response, path, family),
            Means = path.Means,
            Mean = at => family.Mean(at) is var (mean, slope) ? (mean, slope, family.Curvature(at, mean, slope)) : default,
            IsLinear = false,
            Warnings = Warnings(data, design, dropped, family, path, solution.Coefficients, converged),
        };
        return new GeneralizedFit(basis, StandardErrors.Classical, new GeneralizedFit.Outcome(path.Deviance, empty.Deviance, empty.LogLikelihood, pearson, converged && !path.IsPerfect, path.Iterations, theta));
    }

    private static ImmutableArray<AnalysisWarning> Warnings(ModelData data, DesignMatrix design, IReadOnlySet<int> dropped, Family family, Path path, double[] coefficients, bool converged)
    {
        var warnings = LinearEstimator.DroppedWarnings(data.Design, dropped);
        string[] infinite = [.. path.Infinite.Keys.Order().Select(c => $"`{design.Terms[c].Name}`")];
        if (path.IsPerfect)
        {
            // The terms whose own part moves the linear predictor furthest are those that separate.
            double Reach(int c) => c == design.Intercept ? 0 : Math.Abs(coefficients[c]) * (design.Column(c).Max() - design.Column(c).Min());
            var above = design.Terms[Enumerable.Range(0, design.ColumnCount).MaxBy(Reach)].Name;
            return warnings.Add(new AnalysisWarning($"the terms separate `{data.ResponseName}` perfectly (above all `{above}`): the estimates have no finite value, and their errors mean nothing"));
        }
        if (infinite.Length > 0)
        {
            var certain = path.Means.Count(m => m < 1e-8 || (family is Logistic or Probit && m > 1 - 1e-8));
            var what = family is Logistic or Probit ? "is certain" : "is 0 for certain";
            warnings = warnings.Add(new AnalysisWarning($"`{data.ResponseName}` {what} in {ModelData.CountRows(certain)}: the {(infinite.Length == 1 ? "estimate" : "estimates")} of {string.Join(", ", infinite)} {(infinite.Length == 1 ? "has" : "have")} no finite value and no standard error; those of the other terms are as without these rows"));
        }
        if (family is NegativeBinomial && !converged)
            warnings = warnings.Add(new AnalysisWarning($"`{data.ResponseName}` varies no more than a Poisson count; θ has no finite value"));
        else if (!converged)
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
            var linear = family.Link(mean);
            return (2 * SumOverRows(data.Response.Length, i => family.FixedDeviance(data.Response[i]) + family.ChangingDeviance(data.Response[i], linear, mean)),
                SumOverRows(data.Response.Length, i => family.LogLikelihood(data.Response[i], linear, mean)));
        }
        var path = Iterate(Intercept(data), data, family, null);
        return (path.Deviance, LogLikelihood(data.Response, path, family));
    }

    private static DesignMatrix Intercept(ModelData data) => DesignMatrix.Create([null], [Term.Intercept], data.Response.Length, intercept: true);

    private static double LogLikelihood(double[] response, Path path, Family family) => SumOverRows(response.Length, i => family.LogLikelihood(response[i], path.Linear[i], path.Means[i]));

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

    /// <summary>Where an iteration ended, with the sign of the coefficients that have no finite value, and whether the terms separate the response perfectly.</summary>
    internal sealed record Path(LeastSquaresSolution Solution, double[] Linear, double[] Means, double[] Slopes, double Deviance, bool Converged, int Iterations, ImmutableDictionary<int, int> Infinite, bool IsPerfect);
}
