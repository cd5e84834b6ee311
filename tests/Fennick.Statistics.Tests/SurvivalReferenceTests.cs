using Fennick.Statistics.Fits;
using Fennick.Statistics.Survival;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Times to an event, against the independent implementation and against plain counting.</summary>
public sealed class SurvivalReferenceTests
{
    private static CoxFit Full(bool efron = true) => Regression.Cox(All, s => s.Weeks, s => s.Died, s => new { s.QueenAge, s.Treated, s.Strain }, efron: efron);

    [Theory]
    [InlineData("cox_efron")]
    [InlineData("cox_breslow")]
    [InlineData("cox_efron_strata_treated")]
    public void Cox_regression(string model)
    {
        var fit = model switch
        {
            "cox_efron" => Full(),
            "cox_breslow" => Full(efron: false),
            _ => Regression.Cox(All, s => s.Weeks, s => s.Died, s => new { s.QueenAge, s.Strain }, strata: s => s.Treated),
        };
        Assert.True(fit.Converged);
        Assert.Empty(fit.Warnings);
        foreach (var expected in Seasons.Value($"{model}/terms").EnumerateObject())
        {
            AssertDigits(expected.Value[0].GetDouble(), fit[Seasons.OwnName(expected.Name)].Estimate, 7, $"{model} {expected.Name}");
            AssertDigits(expected.Value[1].GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, 7, $"error of {expected.Name}");
        }
        AssertDigits(Seasons.Number($"{model}/log_likelihood"), fit.LogLikelihood, 9, "log-likelihood");
        Assert.Equal(All.Count(s => s.Died == 1), fit.Events);
    }

    [Theory]
    [InlineData("no")]
    [InlineData("yes")]
    public void Product_limit_curves(string treated)
    {
        var curve = SurvivalCurve.By(All, s => s.Weeks, s => s.Died == 1, s => s.Treated).Single(c => c.Group == treated);
        var path = $"kaplan_meier_treated_{treated}";
        foreach (var (i, time) in Seasons.Numbers($"{path}/times").Index())
        {
            AssertDigits(Seasons.Numbers($"{path}/survival")[i], curve.At(time)!.Value, 12, $"survival at {time}");
            AssertDigits(Seasons.Numbers($"{path}/std_error")[i], curve.Steps.Single(s => s.Time == time).StandardError, 10, $"error at {time}");
            Assert.Equal(All.Count(s => s.Treated == treated && s.Weeks >= time), curve.AtRisk(time));
        }
        Assert.Equal(Seasons.Number($"{path}/median"), curve.Median);
    }

    [Fact]
    public void Limits_of_a_curve_are_on_the_scale_that_was_asked_for()
    {
        var curve = SurvivalCurve.Of(All, s => s.Weeks, s => s.Died == 1);
        var step = curve.Steps.First(s => s.Survival < 0.6);
        const double Z = 1.959963984540054;
        var plain = curve.Interval(step.Time, limits: SurvivalLimits.Plain)!.Value;
        AssertDigits(step.Survival - (Z * step.StandardError), plain.Low, 12, "plain");
        var log = curve.Interval(step.Time, limits: SurvivalLimits.Log)!.Value;
        AssertDigits(Math.Log(log.High / step.Survival), Z * step.StandardError / step.Survival, 12, "log");
        var twice = curve.Interval(step.Time)!.Value;
        AssertDigits(Math.Log(-Math.Log(twice.Low)) - Math.Log(-Math.Log(step.Survival)), Z * step.StandardError / step.Survival / Math.Abs(Math.Log(step.Survival)), 10, "log-log");
        Assert.True(twice.Low > 0 && twice.High < 1);
        // The limits of the median are where the limits of the curve reach one half.
        var median = curve.QuantileInterval(0.5);
        Assert.Equal(curve.Steps.First(s => curve.Interval(s.Time)!.Value.Low <= 0.5).Time, median.Low);
        Assert.True(median.Low <= curve.Median && curve.Median <= median.High);
        Assert.Null(curve.At(10_000));
        Assert.Equal(1, curve.At(0));
    }

    [Fact]
    public void The_log_rank_test()
    {
        var test = SurvivalTests.LogRank(All, s => s.Weeks, s => s.Died == 1, s => s.Treated);
        AssertDigits(Seasons.Number("log_rank_treated/statistic"), test.Statistic, 10, "statistic");
        AssertDigits(Seasons.Number("log_rank_treated/p_value"), test.PValue, 9, "p");
        // Without ties the score test of a Cox regression is the same: here within strata that have none.
        var untied = All.Select((s, i) => s with { Weeks = s.Weeks + (i / 1000.0) }).ToList();
        var strata = SurvivalTests.LogRank(untied, s => s.Weeks, s => s.Died == 1, s => s.Treated, s => s.Strain);
        var score = Score(untied, s => s.Treated == "yes" ? 1 : 0, s => s.Strain);
        AssertDigits(score, strata.Statistic, 9, "stratified");
        Assert.Equal(2, SurvivalTests.LogRank(All, s => s.Weeks, s => s.Died == 1, s => s.Strain).DegreesOfFreedom);
    }

    [Fact]
    public void Robust_errors_are_those_of_rows_left_out()
    {
        // The derivative of the estimate with respect to each row's weight, by a small change of that weight in a likelihood of its own.
        var fit = Full().With(StandardErrors.Hc0);
        var (names, derivatives) = (new[] { "QueenAge", "Treated=yes", "Strain=Dusk", "Strain=Heath" }, new double[4][]);
        var variance = new double[4];
        for (var row = 0; row < All.Count; row++)
        {
            double[] Score(double[] b, int leftOut) => PlainGradient(b, leftOut);
            var at = names.Select(n => fit[n].Estimate).ToArray();
            var influence = Multiply(Full().Covariance(), Subtract(Score(at, -1), Score(at, row)));
            for (var i = 0; i < 4; i++) variance[i] += influence[i] * influence[i];
        }
        // Leaving a row out changes the risk sets as well, which the derivative does not follow to the second order: about one part in a hundred.
        for (var i = 0; i < 4; i++) Assert.InRange(fit[names[i]].StandardError / Math.Sqrt(variance[i]), 0.97, 1.03);
        var clustered = Full().With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        Assert.Equal(36, Assert.Single(clustered.ClusterCounts));
        Assert.NotEqual(fit["QueenAge"].StandardError, clustered["QueenAge"].StandardError);
        // Each row its own cluster: the same but for the factor.
        var alone = All.Select((s, i) => s with { Apiary = $"{i}" }).ToList();
        var own = Regression.Cox(alone, s => s.Weeks, s => s.Died, s => new { s.QueenAge, s.Treated, s.Strain }).With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        AssertDigits(fit["QueenAge"].StandardError * Math.Sqrt(288 / 287.0), own["QueenAge"].StandardError, 10, "own clusters");
        Assert.Contains("not defined", Assert.Throws<AnalysisException>(() => Full().With(StandardErrors.Hc3)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Scores_sum_to_nothing_and_the_efron_gradient_is_theirs()
    {
        // Score residuals add up to the gradient, which is zero at the estimates: with each stratum a cluster of all rows the middle is zero.
        var fit = Full();
        var gradient = PlainGradient([.. fit.Terms.Select(t => t.Estimate)], -1);
        Assert.All(gradient, g => Assert.InRange(Math.Abs(g), 0, 1e-7));
        var two = All.Select((s, i) => s with { Apiary = i < 144 ? "a" : "b" }).ToList();
        var clustered = Regression.Cox(two, s => s.Weeks, s => s.Died, s => s.QueenAge).With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        Assert.True(clustered["QueenAge"].StandardError > 0);
    }

    [Theory]
    [InlineData(TimeScale.Time)]
    [InlineData(TimeScale.Logarithm)]
    [InlineData(TimeScale.Survival)]
    public void Proportional_hazards_are_tested_by_the_score_of_coefficients_that_change(TimeScale scale)
    {
        // The second method: a coefficient of x·g(t) in a likelihood with Breslow's ties, whose score and information are found by differences.
        var fit = Regression.Cox(All, s => s.Weeks, s => s.Died, s => new { s.QueenAge, s.ForageHa }, efron: false);
        var curve = SurvivalCurve.Of(All, s => s.Weeks, s => s.Died == 1);
        double G(double t) => scale switch { TimeScale.Time => t, TimeScale.Logarithm => Math.Log(t), _ => 1 - (curve.Steps.LastOrDefault(s => s.Time < t)?.Survival ?? 1) };
        double[] at = [fit["QueenAge"].Estimate, fit["ForageHa"].Estimate, 0, 0];
        double Likelihood(double[] b) => PlainLikelihood(b, s => [s.QueenAge, s.ForageHa], G);
        double[] width = [1e-3, 1e-4, 1e-4 / Math.Max(1, G(60)), 1e-5 / Math.Max(1, G(60))];
        var gradient = Enumerable.Range(0, 4).Select(i => (Likelihood(Moved(at, i, width[i])) - Likelihood(Moved(at, i, -width[i]))) / (2 * width[i])).ToArray();
        var information = new double[4, 4];
        for (var i = 0; i < 4; i++)
            for (var j = 0; j < 4; j++)
                information[i, j] = -(Likelihood(Moved(Moved(at, i, width[i]), j, width[j])) - Likelihood(Moved(Moved(at, i, width[i]), j, -width[j])) - Likelihood(Moved(Moved(at, i, -width[i]), j, width[j])) + Likelihood(Moved(Moved(at, i, -width[i]), j, -width[j]))) / (4 * width[i] * width[j]);
        var inverse = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(information).Inverse();
        var score = MathNet.Numerics.LinearAlgebra.Vector<double>.Build.Dense([0, 0, gradient[2], gradient[3]]);
        var tests = fit.ProportionalHazardsTest(scale);
        Assert.Equal(["QueenAge", "ForageHa", "all terms"], tests.Select(t => t.Name));
        AssertDigits(score * inverse * score, tests[2].Statistic, 3, "all terms");
        var one = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(information).RemoveColumn(3).RemoveRow(3).Inverse();
        AssertDigits(gradient[2] * gradient[2] * one[2, 2], tests[0].Statistic, 3, "QueenAge");
    }

    private static double[] Moved(double[] from, int place, double by)
    {
        var to = (double[])from.Clone();
        to[place] += by;
        return to;
    }

    /// <summary>The partial likelihood as it is written in books, with coefficients that may change with a function of time.</summary>
    private static double PlainLikelihood(double[] b, Func<Season, double[]> x, Func<double, double> g)
    {
        var sum = 0.0;
        foreach (var died in All.Where(s => s.Died == 1))
        {
            var time = g(died.Weeks);
            double Predictor(Season s) => x(s).Select((v, c) => v * (b[c] + (b[c + 2] * time))).Sum();
            sum += Predictor(died) - Math.Log(All.Where(s => s.Weeks >= died.Weeks).Sum(s => Math.Exp(Predictor(s))));
        }
        return sum;
    }

    /// <summary>Efron's gradient by its definition, without one of the rows.</summary>
    private static double[] PlainGradient(double[] b, int leftOut)
    {
        static double[] X(Season s) => [s.QueenAge, s.Treated == "yes" ? 1 : 0, s.Strain == "Dusk" ? 1 : 0, s.Strain == "Heath" ? 1 : 0];
        var rows = All.Where((_, i) => i != leftOut).ToList();
        var gradient = new double[4];
        foreach (var tied in rows.Where(s => s.Died == 1).GroupBy(s => s.Weeks))
        {
            var atRisk = rows.Where(s => s.Weeks >= tied.Key).ToList();
            double Risk(Season s) => Math.Exp(X(s).Zip(b, (v, c) => v * c).Sum());
            foreach (var (l, died) in tied.Index())
            {
                var share = (double)l / tied.Count();
                var total = atRisk.Sum(Risk) - (share * tied.Sum(Risk));
                for (var c = 0; c < 4; c++) gradient[c] += X(died)[c] - ((atRisk.Sum(s => Risk(s) * X(s)[c]) - (share * tied.Sum(s => Risk(s) * X(s)[c]))) / total);
            }
        }
        return gradient;
    }

    /// <summary>The score statistic at zero of one variable, within strata.</summary>
    private static double Score(IReadOnlyList<Season> rows, Func<Season, double> x, Func<Season, string> stratum)
    {
        var (score, information) = (0.0, 0.0);
        foreach (var died in rows.Where(s => s.Died == 1))
        {
            var atRisk = rows.Where(s => stratum(s) == stratum(died) && s.Weeks >= died.Weeks).Select(x).ToArray();
            score += x(died) - atRisk.Average();
            information += atRisk.Average(v => v * v) - (atRisk.Average() * atRisk.Average());
        }
        return score * score / information;
    }

    private static double[] Subtract(double[] a, double[] b) => [.. a.Zip(b, (x, y) => x - y)];

    private static double[] Multiply(double[,] matrix, double[] vector) => [.. Enumerable.Range(0, vector.Length).Select(i => vector.Select((v, j) => matrix[i, j] * v).Sum())];
}
