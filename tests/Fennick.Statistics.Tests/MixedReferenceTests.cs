using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Random intercepts and slopes, against the independent implementation and against integrals by plain sums.</summary>
public sealed class MixedReferenceTests
{
    [Theory]
    [InlineData("mixed_intercept_reml")]
    [InlineData("mixed_intercept_ml")]
    [InlineData("mixed_slope_reml")]
    [InlineData("mixed_slope_ml")]
    public void Linear_mixed_models(string model)
    {
        var restricted = model.EndsWith("reml", StringComparison.Ordinal);
        var fit = model.Contains("slope", StringComparison.Ordinal)
            ? Regression.Mixed(All, s => s.HoneyKg, s => new { s.Strain, T = s.SpringTemp - 11, s.ForageHa }, s => s.Apiary, s => new { T = s.SpringTemp - 11 }, restricted)
            : Regression.Mixed(All, s => s.HoneyKg, s => new { s.Strain, T = s.SpringTemp - 11, s.ForageHa }, s => s.Apiary, restricted: restricted);
        Assert.True(fit.Converged);
        foreach (var expected in Seasons.Value($"{model}/fixed").EnumerateObject())
        {
            // An estimate near zero is compared by its error.
            var (estimate, error) = (expected.Value.GetProperty("estimate").GetDouble(), expected.Value.GetProperty("std_error").GetDouble());
            Assert.InRange(Math.Abs(estimate - fit[Seasons.OwnName(expected.Name)].Estimate) / error, 0, 1e-3);
            AssertDigits(expected.Value.GetProperty("std_error").GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, model.Contains("slope", StringComparison.Ordinal) ? 4 : 5, $"error of {expected.Name}");
        }
        var covariance = fit.RandomCovariance();
        foreach (var (i, row) in Seasons.Value($"{model}/random_covariance").EnumerateArray().Index())
            foreach (var (j, value) in row.EnumerateArray().Index()) AssertDigits(value.GetDouble(), covariance[i, j], 3, $"covariance {i}, {j}");
        AssertDigits(Seasons.Number($"{model}/residual_variance"), fit.ResidualVariance!.Value, model.Contains("slope", StringComparison.Ordinal) ? 4 : 5, "residual variance");
        Assert.InRange(fit.LogLikelihood - Seasons.Number($"{model}/log_likelihood"), -1e-7, 1e-4);
        Assert.Equal(36, fit.Groups);
    }

    [Fact]
    public void Errors_of_the_expected_information_are_those_of_weighted_least_squares()
    {
        // (X'V⁻¹X)⁻¹ with V written out.
        var fit = Regression.Mixed(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, s => s.Apiary);
        var matrix = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build;
        var x = matrix.Dense(288, 3, (i, c) => c switch { 0 => 1, 1 => All[i].SpringTemp, _ => All[i].ForageHa });
        var v = matrix.Dense(288, 288, (i, j) => (All[i].Apiary == All[j].Apiary ? fit.RandomCovariance()[0, 0] : 0) + (i == j ? fit.ResidualVariance!.Value : 0));
        var covariance = (x.Transpose() * v.Inverse() * x).Inverse();
        var expected = fit.WithExpectedInformation();
        for (var c = 0; c < 3; c++) AssertDigits(Math.Sqrt(covariance[c, c]), expected.Terms[c].StandardError, 8, expected.Terms[c].Name);
        Assert.Equal("classical (expected information)", expected.ErrorKind);
    }

    [Fact]
    public void Balanced_groups_have_the_variances_of_the_analysis_of_variance()
    {
        // With as many rows in each group and a constant alone, restricted likelihood is the analysis of variance, exactly.
        var groups = All.GroupBy(s => s.Apiary).Select(g => g.Select(s => s.HoneyKg).ToArray()).ToArray();
        Assert.All(groups, g => Assert.Equal(8, g.Length));
        var within = groups.Sum(g => g.Sum(y => Math.Pow(y - g.Average(), 2))) / (36 * 7);
        var between = groups.Select(g => g.Average()).ToArray();
        var ofMeans = between.Sum(m => Math.Pow(m - between.Average(), 2)) / 35;
        var fit = Regression.Mixed(All, s => s.HoneyKg, s => new { }, s => s.Apiary);
        AssertDigits(within, fit.ResidualVariance!.Value, 7, "within");
        AssertDigits(ofMeans - (within / 8), fit.RandomCovariance()[0, 0], 6, "between");
        AssertDigits(between.Average(), fit["intercept"].Estimate, 10, "mean");
        AssertDigits(Math.Sqrt(ofMeans / 36), fit["intercept"].StandardError, 7, "error of the mean");
        AssertDigits(fit.RandomCovariance()[0, 0] / (fit.RandomCovariance()[0, 0] + within), fit.IntraclassCorrelation!.Value, 6, "intraclass correlation");
        // Predictions shrink the group's own mean.
        var shrink = fit.RandomCovariance()[0, 0] / (fit.RandomCovariance()[0, 0] + (within / 8));
        AssertDigits(shrink * (between[0] - between.Average()), fit.EffectsOf("A00").Single(), 6, "prediction");
    }

    [Fact]
    public void Units_do_not_matter()
    {
        var one = Regression.Mixed(All, s => s.HoneyKg, s => new { s.SpringTemp }, s => s.Apiary, s => new { s.SpringTemp });
        var other = Regression.Mixed(All, s => 1000 * s.HoneyKg, s => new { SpringTemp = s.SpringTemp / 100 }, s => s.Apiary, s => new { SpringTemp = s.SpringTemp / 100 });
        AssertDigits(one["SpringTemp"].Estimate * 100_000, other["SpringTemp"].Estimate, 6, "slope");
        AssertDigits(one.RandomCovariance()[0, 0] * 1e6, other.RandomCovariance()[0, 0], 5, "variance of intercepts");
        AssertDigits(one.RandomCovariance()[1, 1] * 1e10, other.RandomCovariance()[1, 1], 4, "variance of slopes");
        AssertDigits(one.LogLikelihood - (286 * Math.Log(1000)) - Math.Log(1e-2), other.LogLikelihood, 9, "likelihood");
    }

    [Fact]
    public void Tests_of_random_effects()
    {
        var small = Regression.Mixed(All, s => s.HoneyKg, s => new { T = s.SpringTemp - 11 }, s => s.Apiary, restricted: false);
        var large = Regression.Mixed(All, s => s.HoneyKg, s => new { T = s.SpringTemp - 11 }, s => s.Apiary, s => new { T = s.SpringTemp - 11 }, restricted: false);
        var none = Regression.LeastSquares(All, s => s.HoneyKg, s => new { T = s.SpringTemp - 11 });
        AssertDigits(2 * (small.LogLikelihood - none.LogLikelihood), small.RandomEffectsTest().Statistic, 8, "against least squares");
        var test = small.Compare(large);
        AssertDigits(2 * (large.LogLikelihood - small.LogLikelihood), test.Statistic, 8, "slopes");
        Assert.InRange(test.PValue, 0, 1);
        var restricted = Regression.Mixed(All, s => s.HoneyKg, s => new { T = s.SpringTemp - 11 }, s => s.Apiary);
        Assert.Contains("restricted: false", Assert.Throws<AnalysisException>(() => restricted.Compare(Regression.Mixed(All, s => s.HoneyKg, s => new { T = s.SpringTemp - 11, s.ForageHa }, s => s.Apiary))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Groups_that_do_not_differ_are_told()
    {
        // Within each group the same values: nothing is left between them.
        var rows = All.Select((s, i) => s with { HoneyKg = 20 + (i % 8) }).ToList();
        var fit = Regression.Mixed(rows, s => s.HoneyKg, s => new { }, s => s.Apiary);
        Assert.Contains("the variance of the intercepts is zero", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
        Assert.InRange(fit.RandomCovariance()[0, 0], 0, 1e-6);
        Assert.Equal(1, fit.RandomEffectsTest().PValue);
        Assert.Contains("one group", Assert.Throws<AnalysisException>(() => Regression.Mixed([.. All.Where(s => s.Apiary == "A00")], s => s.HoneyKg, s => new { }, s => s.Apiary)).Message, StringComparison.Ordinal);
        Assert.Contains("has one row", Assert.Throws<AnalysisException>(() => Regression.Mixed([.. All.Where(s => s.Year == 2015)], s => s.HoneyKg, s => new { }, s => s.Apiary)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_likelihood_of_a_mixed_logistic_regression_is_the_integral()
    {
        var fit = Regression.MixedLogistic(All, s => s.Lost, s => new { s.QueenAge, s.Treated }, s => s.Apiary, nodes: 25);
        Assert.True(fit.Converged);
        double[] at = [fit["intercept"].Estimate, fit["QueenAge"].Estimate, fit["Treated=yes"].Estimate, Math.Sqrt(fit.RandomCovariance()[0, 0])];
        AssertDigits(Integral(at), fit.LogLikelihood, 8, "likelihood");
        // It is the largest there, and its curvature gives the errors.
        double[] width = [1e-3, 1e-3, 1e-3, 1e-3];
        var information = new double[4, 4];
        for (var i = 0; i < 4; i++)
        {
            Assert.InRange(Math.Abs(Integral(Moved(at, i, 1e-4)) - Integral(Moved(at, i, -1e-4))) / 2e-4, 0, 1e-3);
            for (var j = 0; j < 4; j++)
                information[i, j] = -(Integral(Moved(Moved(at, i, width[i]), j, width[j])) - Integral(Moved(Moved(at, i, width[i]), j, -width[j])) - Integral(Moved(Moved(at, i, -width[i]), j, width[j])) + Integral(Moved(Moved(at, i, -width[i]), j, -width[j]))) / (4 * width[i] * width[j]);
        }
        var covariance = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(information).Inverse();
        for (var i = 0; i < 3; i++) AssertDigits(Math.Sqrt(covariance[i, i]), fit.Terms[i].StandardError, 3, fit.Terms[i].Name);
        Assert.True(fit.RandomEffectsTest().PValue < 0.05);
    }

    /// <summary>The likelihood by the trapezoid rule over the random intercepts, which is exact to many digits for such functions.</summary>
    private static double Integral(double[] at) => All.GroupBy(s => s.Apiary).Sum(g =>
    {
        var sum = 0.0;
        const double Step = 0.05;
        for (var u = -10.0; u <= 10; u += Step)
        {
            var log = -u * u / 2;
            foreach (var s in g)
            {
                var linear = at[0] + (at[1] * s.QueenAge) + (s.Treated == "yes" ? at[2] : 0) + (at[3] * u);
                log -= double.LogP1(Math.Exp(s.Lost == 1 ? -linear : linear));
            }
            sum += Math.Exp(log) * Step;
        }
        return Math.Log(sum / Math.Sqrt(2 * Math.PI));
    });

    private static double[] Moved(double[] from, int place, double by)
    {
        var to = (double[])from.Clone();
        to[place] += by;
        return to;
    }
}
