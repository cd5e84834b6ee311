using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Fits;
using MathNet.Numerics.LinearAlgebra;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Panels, imputations and checks of fits, against matrices and regressions written out.</summary>
public sealed class PanelTests
{
    private static ModelResult Random(IReadOnlyList<Season> rows) => Panel.RandomEffects(rows, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, s => s.Apiary);

    [Fact]
    public void Random_effects_are_generalised_least_squares()
    {
        var fit = Random(All);
        var (ofUnits, own) = (fit.Statistics[0].Value, fit.Statistics[1].Value);
        // The variances: of fixed effects, and of a regression of the means.
        AssertDigits(Math.Pow(Regression.FixedEffects(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, s => s.Apiary).ResidualStandardError, 2), own, 9, "residual variance");
        var means = All.GroupBy(s => s.Apiary).Select(g => g.First() with { HoneyKg = g.Average(s => s.HoneyKg), SpringTemp = g.Average(s => s.SpringTemp), ForageHa = g.Average(s => s.ForageHa) }).ToList();
        AssertDigits(Math.Pow(Regression.LeastSquares(means, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }).ResidualStandardError, 2) - (own / 8), ofUnits, 8, "variance of units");
        // The estimates: with the covariance of the rows written out.
        var x = Matrix<double>.Build.Dense(288, 3, (i, c) => c switch { 0 => 1, 1 => All[i].SpringTemp, _ => All[i].ForageHa });
        var weight = Matrix<double>.Build.Dense(288, 288, (i, j) => (All[i].Apiary == All[j].Apiary ? ofUnits : 0) + (i == j ? own : 0)).Inverse();
        var y = Vector<double>.Build.DenseOfEnumerable(All.Select(s => s.HoneyKg));
        var inverse = (x.Transpose() * weight * x).Inverse();
        var b = inverse * (x.Transpose() * weight * y);
        for (var c = 0; c < 3; c++) AssertDigits(b[c], fit.Terms[c].Estimate, 8, fit.Terms[c].Name);
        // Errors from the residuals of what was transformed.
        var scale = ((y - (x * b)) * weight * (y - (x * b))) / 285;
        for (var c = 0; c < 3; c++) AssertDigits(Math.Sqrt(inverse[c, c] * scale), fit.Terms[c].StandardError, 8, fit.Terms[c].Name);
        Assert.Contains("too few", Assert.Throws<AnalysisException>(() => Random([.. All.Where(s => string.CompareOrdinal(s.Apiary, "A03") < 0)])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void First_differences_and_the_test_of_Hausman()
    {
        var fit = Panel.FirstDifferences([.. All.Reverse()], s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, s => s.Apiary, s => s.Year);
        var changes = All.GroupBy(s => s.Apiary).SelectMany(g => g.OrderBy(s => s.Year).ToArray() is var order ? order.Zip(order.Skip(1), (a, b) => b with { HoneyKg = b.HoneyKg - a.HoneyKg, SpringTemp = b.SpringTemp - a.SpringTemp, ForageHa = b.ForageHa - a.ForageHa }) : []).ToList();
        var plain = Regression.LeastSquares(changes, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, intercept: false);
        Assert.Equal(252, fit.Observations);
        foreach (var term in plain.Terms)
        {
            var own = fit.Terms.Single(t => t.Name == term.Name);
            AssertDigits(term.Estimate, own.Estimate, 9, term.Name);
            AssertDigits(term.StandardError, own.StandardError, 9, term.Name);
        }
        Assert.Contains("two rows of one time", Assert.Throws<AnalysisException>(() => Panel.FirstDifferences(All, s => s.HoneyKg, s => s.SpringTemp, s => s.Apiary, s => s.Year / 2)).Message, StringComparison.Ordinal);
        var (within, random) = (Regression.FixedEffects(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }, s => s.Apiary), Random(All));
        var test = Panel.Hausman(within, random);
        var d = Vector<double>.Build.Dense(2, i => within.Terms[i].Estimate - random.Terms[i + 1].Estimate);
        var v = Matrix<double>.Build.Dense(2, 2, (i, j) => within.Covariance()[i, j] - random.Covariance()[i + 1, j + 1]);
        AssertDigits(d * v.Inverse() * d, test.Statistic, 8, "Hausman");
        Assert.Equal(2, test.DegreesOfFreedom);
    }

    [Fact]
    public void Imputed_fits_are_pooled()
    {
        var random = new Random(5);
        LinearFit[] fits = [.. Enumerable.Range(0, 5).Select(_ => Regression.LeastSquares([.. All.Select((s, i) => i % 6 == 0 ? s with { SpringTemp = 11 + random.NextDouble() } : s)], s => s.HoneyKg, s => s.SpringTemp))];
        var pooled = Imputations.Pool(fits);
        double[] estimates = [.. fits.Select(f => f["SpringTemp"].Estimate)];
        var (mean, within) = (estimates.Average(), fits.Average(f => Math.Pow(f["SpringTemp"].StandardError, 2)));
        var between = estimates.Sum(e => (e - mean) * (e - mean)) / 4;
        var term = pooled.Terms[1];
        AssertDigits(mean, term.Estimate, 12, "mean");
        AssertDigits(Math.Sqrt(within + (1.2 * between)), term.StandardError, 12, "error");
        var share = 1.2 * between / (within + (1.2 * between));
        var degrees = 1 / ((share * share / 4) + (1 / (287.0 / 289 * 286 * (1 - share))));
        AssertDigits(degrees, term.DegreesOfFreedom, 10, "degrees of freedom");
        Assert.Contains("rows", Assert.Throws<AnalysisException>(() => Imputations.Pool([fits[0], Regression.LeastSquares([.. All.Skip(1)], s => s.HoneyKg, s => s.SpringTemp)])).Message, StringComparison.Ordinal);
        Assert.Contains("one model", Assert.Throws<AnalysisException>(() => Imputations.Pool([fits[0], Regression.LeastSquares(All, s => s.HoneyKg, s => s.ForageHa)])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Checks_of_a_fit()
    {
        var fit = Regression.LeastSquares(All, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa });
        var checks = FitChecks.Of(fit);
        // Each by a regression of its own.
        var squares = All.Select((s, i) => s with { HoneyKg = fit.Residuals[i] * fit.Residuals[i] }).ToList();
        AssertDigits(288 * Regression.LeastSquares(squares, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa }).RSquared, checks[0].Statistic, 9, "Breusch–Pagan");
        var powers = All.Select((s, i) => s with { Z1 = Math.Pow(fit.Fitted[i], 2), Z2 = Math.Pow(fit.Fitted[i], 3) }).ToList();
        AssertDigits(fit.Compare(Regression.LeastSquares(powers, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa, s.Z1, s.Z2 })) is var test ? test.Statistic : 0, checks[1].Statistic, 5, "RESET");
        AssertDigits(NormalityTests.ShapiroWilk(fit.Residuals).PValue, checks[2].PValue!.Value, 12, "normality");
        // Cook's distance is how far all fitted values move without the row.
        var largest = Enumerable.Range(0, 288).Max(row =>
        {
            var without = Regression.LeastSquares([.. All.Where((_, i) => i != row)], s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa });
            return All.Select((s, i) => Math.Pow(without.Predict([s])[0]!.Value - fit.Fitted[i], 2)).Sum() / 3 / Math.Pow(fit.ResidualStandardError, 2);
        });
        AssertDigits(largest, checks[3].Statistic, 8, "Cook's distance");
        var correlation = Correlation.Pearson([.. All.Select(s => s.SpringTemp)], [.. All.Select(s => s.ForageHa)]).Coefficient;
        AssertDigits(1 / (1 - (correlation * correlation)), checks[4].Statistic, 9, "inflation");
        Assert.All(checks, c => Assert.NotEmpty(c.Finding));
    }
}
