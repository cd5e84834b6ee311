using System.Globalization;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Logit and Poisson models whose groups have an intercept each, which the likelihood within the groups does not hold.</summary>
/// <remarks>Logit: Chamberlain (1980), Review of Economic Studies 47, with the sums over arrangements by recursion (Krailo &amp; Pike 1984, Applied Statistics 33); Poisson: Hausman, Hall &amp; Griliches (1984), Econometrica 52.</remarks>
internal sealed class ConditionalEstimator
{
    private readonly ModelColumns columns;
    private readonly double[] response;
    private readonly int[][] groups;
    private readonly bool isLogit;

    private ConditionalEstimator(ModelColumns columns, double[] response, int[][] groups, bool isLogit) => (this.columns, this.response, this.groups, this.isLogit) = (columns, response, groups, isLogit);

    /// <summary>Fits a model.</summary>
    /// <param name="data">The data, with the grouping absorbed.</param>
    /// <param name="isLogit">Whether it is a logit; else a Poisson model.</param>
    public static ConditionalFit Fit(ModelData data, bool isLogit)
    {
        if (isLogit && data.Response.FirstOrDefault(y => y is not (0 or 1), -1) is not -1 and var wrong) throw new AnalysisException($"the response `{data.ResponseName}` is {wrong.ToString(CultureInfo.InvariantCulture)} in a row; it must be 0 or 1");
        if (!isLogit && data.Response.Count(y => y < 0) is > 0 and var negative) throw new AnalysisException($"the count `{data.ResponseName}` is negative in {ModelData.CountRows(negative)}");
        var (codes, _) = MixedEstimator.GroupsOf(data);
        var all = Enumerable.Range(0, codes.Length).GroupBy(i => codes[i]).Select(g => g.ToArray()).ToArray();
        int[][] telling = [.. all.Where(g => g.Length > 1 && (isLogit ? g.Any(i => data.Response[i] == 1) && g.Any(i => data.Response[i] == 0) : g.Any(i => data.Response[i] > 0)))];
        if (telling.Length == 0) throw new AnalysisException($"`{data.ResponseName}` varies within no group of `{data.Absorbed[0].Name}`, so that nothing can be compared within them");
        int[] kept = [.. telling.SelectMany(g => g).Order()];
        var used = data with { Response = [.. kept.Select(i => data.Response[i])], Rows = [.. kept.Select(i => data.Rows[i])], RowsGiven = data.RowsGiven - codes.Length + kept.Length };
        used = used with { Design = data.Plan!.WithoutGroups().Apply(data.Specification, used.Rows) };
        var places = kept.Index().ToDictionary(k => k.Item, k => k.Index);
        var columns = WithinGroups(used, [.. telling.Select(g => g.Select(i => places[i]).ToArray())], out var groups);
        if (columns.Count == 0) throw new AnalysisException("no term varies within the groups");
        var model = new ConditionalEstimator(columns, used.Response, groups, isLogit);
        var best = NewtonMaximum.Find(model.LogLikelihood, new double[columns.Count]);
        var (coefficients, covariance) = EstimatedBasis.Transform(columns.ToGiven(columns.Count, 0, []), best.Parameters, best.Covariance);
        var (infinite, separated) = Separation.Find(best, 0, columns.Terms, $"`{data.ResponseName}`", "it separates the response within the groups");
        var silent = all.Length - telling.Length;
        var lost = codes.Length - kept.Length;
        var basis = new EstimatedBasis
        {
            Estimator = isLogit ? Regression.ConditionalLogitName : Regression.AbsorbedPoissonName,
            Data = used,
            Terms = columns.Terms,
            Coefficients = coefficients,
            Covariance = covariance,
            Infinite = infinite,
            LogLikelihood = best.LogLikelihood,
            ParameterCount = columns.Count,
            Iterations = best.Iterations,
            Converged = best.Converged,
            Warnings = [.. columns.Warnings, .. separated, .. silent == 0 ? Array.Empty<AnalysisWarning>() :
                [new AnalysisWarning($"{silent} of the {all.Length} groups of `{data.Absorbed[0].Name}` {(isLogit ? $"{(silent == 1 ? "has" : "have")} the same response in all rows" : silent == 1 ? "counts nothing" : "count nothing")} and {(silent == 1 ? "tells" : "tell")} nothing of the terms; {(silent == 1 ? "its" : "their")} {ModelData.CountRows(lost)} {(lost == 1 ? "is" : "are")} left out")]],
        };
        return new ConditionalFit(basis, data.Absorbed[0].Name, telling.Length, lost);
    }

    /// <summary>The columns that vary within some group.</summary>
    private static ModelColumns WithinGroups(ModelData data, int[][] own, out int[][] groups)
    {
        groups = own;
        var design = data.Design;
        var constant = Enumerable.Range(0, design.ColumnCount).Where(c => c != design.Intercept && design.Column(c) is var column && own.All(g => g.All(i => column[i] == column[g[0]]))).ToHashSet();
        var columns = ModelColumns.Of(data with { Design = design.Without(constant) });
        return constant.Count == 0 ? columns : columns.Telling([.. constant.Order().Select(c => new AnalysisWarning($"`{design.Terms[c].Name}` is the same in all rows of each group and was dropped"))]);
    }

    private double LogLikelihood(double[] slopes, double[]? gradient, double[,]? information)
    {
        var linear = columns.Predictor(slopes);
        var sum = 0.0;
        foreach (var group in groups) sum += isLogit ? Logit(group, linear, gradient, information) : Poisson(group, linear, gradient, information);
        return sum;
    }

    private double Poisson(int[] group, double[] linear, double[]? gradient, double[,]? information)
    {
        var (k, highest) = (columns.Count, group.Max(i => linear[i]));
        var (total, count) = (group.Sum(i => Math.Exp(linear[i] - highest)), group.Sum(i => response[i]));
        var (value, means) = (-count * (Math.Log(total) + highest), new double[k]);
        // The factorials make it a probability: of the counts given their sum.
        value += MathNet.Numerics.SpecialFunctions.GammaLn(count + 1);
        foreach (var i in group) value += (response[i] * linear[i]) - MathNet.Numerics.SpecialFunctions.GammaLn(response[i] + 1);
        if (gradient is null) return value;
        foreach (var i in group)
            for (var c = 0; c < k; c++) means[c] += Math.Exp(linear[i] - highest) / total * columns.Columns[c][i];
        foreach (var i in group)
        {
            var share = Math.Exp(linear[i] - highest) / total;
            for (var c = 0; c < k; c++)
            {
                gradient[c] += response[i] * (columns.Columns[c][i] - means[c]);
                for (var d = 0; d < k && information is not null; d++) information[c, d] += count * share * (columns.Columns[c][i] - means[c]) * (columns.Columns[d][i] - means[d]);
            }
        }
        return value;
    }

    /// <summary>Sums over all ways to choose as many rows as have a 1, with their first and second derivatives, row by row.</summary>
    private double Logit(int[] group, double[] linear, double[]? gradient, double[,]? information)
    {
        var k = columns.Count;
        var chosen = group.Count(i => response[i] == 1);
        var mean = group.Average(i => linear[i]);
        var sums = new double[chosen + 1];
        sums[0] = 1;
        var firsts = Enumerable.Range(0, chosen + 1).Select(_ => new double[gradient is null ? 0 : k]).ToArray();
        var seconds = Enumerable.Range(0, chosen + 1).Select(_ => information is null ? null : new double[k, k]).ToArray();
        var value = 0.0;
        foreach (var i in group)
        {
            var weight = Math.Exp(linear[i] - mean);
            if (response[i] == 1) value += linear[i] - mean;
            for (var m = chosen; m >= 1; m--)
            {
                if (seconds[m] is { } second)
                {
                    for (var c = 0; c < k; c++)
                        for (var d = 0; d < k; d++) second[c, d] += weight * (seconds[m - 1]![c, d] + (columns.Columns[c][i] * firsts[m - 1][d]) + (firsts[m - 1][c] * columns.Columns[d][i]) + (columns.Columns[c][i] * columns.Columns[d][i] * sums[m - 1]));
                }
                if (gradient is not null) for (var c = 0; c < k; c++) firsts[m][c] += weight * (firsts[m - 1][c] + (columns.Columns[c][i] * sums[m - 1]));
                sums[m] += weight * sums[m - 1];
            }
        }
        var total = sums[chosen];
        if (gradient is not null)
        {
            for (var c = 0; c < k; c++)
            {
                gradient[c] += group.Where(i => response[i] == 1).Sum(i => columns.Columns[c][i]) - (firsts[chosen][c] / total);
                for (var d = 0; d < k && information is not null; d++) information[c, d] += (seconds[chosen]![c, d] / total) - (firsts[chosen][c] / total * firsts[chosen][d] / total);
            }
        }
        return value - Math.Log(total);
    }
}
