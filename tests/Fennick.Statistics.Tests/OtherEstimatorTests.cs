using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Quantiles, robust regression, groups with intercepts of their own, and counts with many zeros.</summary>
public sealed class OtherEstimatorTests
{
    [Theory]
    [InlineData("0.1")]
    [InlineData("0.5")]
    [InlineData("0.9")]
    public void Quantile_regression(string quantile)
    {
        var q = double.Parse(quantile, System.Globalization.CultureInfo.InvariantCulture);
        var fit = Regression.Quantile(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, q);
        Assert.True(fit.Converged);
        foreach (var expected in Seasons.Value($"quantile_{quantile}/terms").EnumerateObject()) AssertDigits(expected.Value.GetDouble(), fit[Seasons.OwnName(expected.Name)].Estimate, 4, expected.Name);
        // The exact solution passes through three rows, and no nearby one is better.
        double[] b = [.. fit.Terms.Select(t => t.Estimate)];
        double Rest(Season s, double[] c) => s.HoneyKg - c[0] - (c[1] * s.SpringTemp) - (c[2] * s.ForageHa);
        Assert.True(All.Count(s => Math.Abs(Rest(s, b)) < 1e-9) >= 3);
        double Sum(double[] c) => All.Sum(s => Rest(s, c) * (q - (Rest(s, c) < 0 ? 1 : 0)));
        var random = new Random(3);
        for (var i = 0; i < 200; i++) Assert.True(Sum([.. b.Select(v => v + ((random.NextDouble() - 0.5) * 0.02))]) >= Sum(b) - 1e-9);
        Assert.InRange(All.Count(s => Rest(s, b) < -1e-9), (q * 288) - 3, q * 288);
        Assert.All(fit.Terms, t => Assert.True(t.StandardError > 0));
    }

    [Fact]
    public void Quantiles_of_ties_and_of_groups()
    {
        // Of a constant alone it is the quantile; with a factor that of each group.
        var middle = Regression.Quantile(All, s => s.Weeks, s => new { }, 0.5)["intercept"].Estimate;
        double[] weeks = [.. All.Select(s => s.Weeks).Order()];
        Assert.InRange(middle, weeks[143], weeks[144]);
        var grades = Regression.Quantile(All, s => s.Grade, s => s.Strain, 0.25);
        double[] amber = [.. All.Where(s => s.Strain == "Amber").Select(s => (double)s.Grade).Order()];
        Assert.Equal(amber[(int)(amber.Length * 0.25)], grades["intercept"].Estimate, 9);
        foreach (var wrong in new[] { 0.0, 1, -1, double.NaN }) Assert.Contains("between 0 and 1", Assert.Throws<AnalysisException>(() => Regression.Quantile(All, s => s.HoneyKg, s => s.SpringTemp, wrong)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Robust_regression()
    {
        var fit = Regression.Huber(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa });
        Assert.True(fit.Converged);
        AssertDigits(Seasons.Number("robust_huber_1.345_mad/scale"), fit.Scale, 6, "scale");
        foreach (var expected in Seasons.Value("robust_huber_1.345_mad/terms").EnumerateObject())
        {
            AssertDigits(expected.Value.GetProperty("estimate").GetDouble(), fit[Seasons.OwnName(expected.Name)].Estimate, 6, expected.Name);
            AssertDigits(expected.Value.GetProperty("std_error").GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, 5, expected.Name);
        }
        // One wild row moves least squares, and hardly this; bisquare gives it no weight at all.
        var wild = All.Select((s, i) => i == 5 ? s with { HoneyKg = 5000 } : s).ToList();
        var (plain, huber, bisquare) = (Regression.LeastSquares(wild, s => s.HoneyKg, s => s.SpringTemp), Regression.Huber(wild, s => s.HoneyKg, s => s.SpringTemp), Regression.Bisquare(wild, s => s.HoneyKg, s => s.SpringTemp));
        var right = Regression.LeastSquares([.. All.Where((_, i) => i != 5)], s => s.HoneyKg, s => s.SpringTemp)["SpringTemp"].Estimate;
        Assert.True(Math.Abs(plain["SpringTemp"].Estimate - right) > 1);
        Assert.InRange(huber["SpringTemp"].Estimate, right - 0.05, right + 0.05);
        Assert.InRange(bisquare["SpringTemp"].Estimate, right - 0.05, right + 0.05);
        Assert.Equal(0, bisquare.RowWeights[5]);
        // With a tuning that no row reaches it is least squares.
        var all = Regression.Huber(All, s => s.HoneyKg, s => s.SpringTemp, 1000);
        var least = Regression.LeastSquares(All, s => s.HoneyKg, s => s.SpringTemp);
        AssertDigits(least["SpringTemp"].Estimate, all["SpringTemp"].Estimate, 10, "least squares");
        AssertDigits(least["SpringTemp"].StandardError, all["SpringTemp"].StandardError, 10, "its error");
    }

    [Fact]
    public void Intercepts_for_each_group()
    {
        var logit = Regression.ConditionalLogit(All, s => s.Lost, s => new { s.QueenAge, s.Treated }, s => s.Apiary);
        foreach (var expected in Seasons.Value("conditional_logit_lost_by_apiary/terms").EnumerateObject())
        {
            AssertDigits(expected.Value[0].GetDouble(), logit[Seasons.OwnName(expected.Name)].Estimate, 6, expected.Name);
            AssertDigits(expected.Value[1].GetDouble(), logit[Seasons.OwnName(expected.Name)].StandardError, 6, expected.Name);
        }
        AssertDigits(Seasons.Number("conditional_logit_lost_by_apiary/log_likelihood"), logit.LogLikelihood, 9, "log-likelihood");
        var silent = All.GroupBy(s => s.Apiary).Count(g => g.Select(s => s.Lost).Distinct().Count() == 1);
        Assert.Equal(36 - silent, logit.Groups);
        // They are not missing.
        Assert.Equal((0, 288 - logit.Observations), (logit.RowsLeftOut, logit.RowsWithoutVariation));
        if (silent > 0) Assert.Contains($"{silent} of the 36 groups", Assert.Single(logit.Warnings).Message, StringComparison.Ordinal);

        var poisson = Regression.FixedEffectsPoisson(All, s => s.Mites, s => s.SpringTemp, s => s.Apiary);
        AssertDigits(Seasons.Value("poisson_absorbed_apiary/spring_temp")[0].GetDouble(), poisson["SpringTemp"].Estimate, 7, "absorbed Poisson");
        AssertDigits(Seasons.Value("poisson_absorbed_apiary/spring_temp")[1].GetDouble(), poisson["SpringTemp"].StandardError, 7, "its error");
        // The same as with a column for each group.
        var counting = All.Where(s => All.Where(o => o.Apiary == s.Apiary).Sum(o => o.Mites) > 0).ToList();
        AssertDigits(Regression.Poisson(counting, s => s.Mites, s => new { s.SpringTemp, s.Apiary })["SpringTemp"].Estimate, poisson["SpringTemp"].Estimate, 7, "with columns");
        // What is the same within the groups is dropped and named.
        var mean = All.GroupBy(s => s.Apiary).ToDictionary(g => g.Key, g => g.Average(s => s.ForageHa));
        var rows = All.Select(s => s with { Feed = mean[s.Apiary] }).ToList();
        Assert.Contains(Regression.FixedEffectsPoisson(rows, s => s.Mites, s => new { s.SpringTemp, s.Feed }, s => s.Apiary).Warnings, w => w.Message.Contains("`Feed` is the same in all rows of each group", StringComparison.Ordinal));
        Assert.Contains("varies within no group", Assert.Throws<AnalysisException>(() => Regression.ConditionalLogit([.. All.Where(s => s.Lost == 1)], s => s.Lost, s => s.QueenAge, s => s.Apiary)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Counts_with_many_zeros()
    {
        var fit = Regression.ZeroInflatedPoisson(All, s => s.Mites, s => s.SpringTemp);
        Assert.True(fit.Converged);
        foreach (var (name, own) in new[] { ("inflate_const", "always zero: intercept"), ("const", "intercept"), ("spring_temp", "SpringTemp") })
        {
            AssertDigits(Seasons.Number($"zero_inflated_poisson_mites/params/{name}"), fit[own].Estimate, 4, name);
        }
        // The reference takes its errors as if the two parts did not know of each other: those are the inverses of the blocks of the information.
        var information = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(fit.Covariance()).Inverse();
        AssertDigits(Seasons.Number("zero_inflated_poisson_mites/std_error/inflate_const"), 1 / Math.Sqrt(information[2, 2]), 4, "zeros alone");
        AssertDigits(Seasons.Number("zero_inflated_poisson_mites/std_error/spring_temp"), Math.Sqrt(information.SubMatrix(0, 2, 0, 2).Inverse()[1, 1]), 4, "counts alone");
        Assert.InRange(fit.LogLikelihood - Seasons.Number("zero_inflated_poisson_mites/log_likelihood"), -1e-8, 1e-6);
        // A hurdle is a logistic regression and a truncated one, which do not know of each other.
        var hurdle = Regression.HurdlePoisson(All, s => s.Mites, s => s.SpringTemp, s => s.Treated);
        var any = Regression.Logistic(All, s => s.Mites > 0 ? 1 : 0, s => s.Treated);
        AssertDigits(any["Treated=yes"].Estimate, hurdle["more than zero: Treated=yes"].Estimate, 6, "any");
        AssertDigits(any["Treated=yes"].StandardError, hurdle["more than zero: Treated=yes"].StandardError, 5, "its error");
        var (a, b) = (hurdle["intercept"].Estimate, hurdle["SpringTemp"].Estimate);
        // The truncated part is where its derivative is zero.
        double Part(double x, double y) => All.Where(s => s.Mites > 0).Sum(s => Math.Exp(x + (y * s.SpringTemp)) is var m ? (s.Mites * Math.Log(m)) - m - Math.Log(1 - Math.Exp(-m)) : 0);
        Assert.InRange(Math.Abs(Part(a + 1e-5, b) - Part(a - 1e-5, b)) / 2e-5, 0, 1e-4);
        Assert.InRange(Math.Abs(Part(a, b + 1e-6) - Part(a, b - 1e-6)) / 2e-6, 0, 1e-2);
        Assert.Contains("zero in no row", Assert.Throws<AnalysisException>(() => Regression.ZeroInflatedPoisson(All, s => s.Grade, s => s.SpringTemp)).Message, StringComparison.Ordinal);
    }
}
