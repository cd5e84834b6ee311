using Fennick.Statistics.Fits;
using MathNet.Numerics.LinearAlgebra;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Standard errors for rows in time and for few clusters, and tests of instruments: against the independent implementation, or against matrices written out.</summary>
public sealed class ErrorReferenceTests
{
    private static readonly IReadOnlyList<Season> InTime = [.. All.OrderBy(s => s.Year).ThenBy(s => s.Apiary, StringComparer.Ordinal)];

    private static LinearFit Honey(IReadOnlyList<Season> rows) => Regression.LeastSquares(rows, s => s.HoneyKg, s => new { s.SpringTemp, s.ForageHa });

    [Theory]
    [InlineData(1, false)]
    [InlineData(1, true)]
    [InlineData(4, false)]
    [InlineData(4, true)]
    public void Newey_West_errors(int lags, bool adjusted)
    {
        var fit = Honey(InTime).With(StandardErrors.NeweyWest(lags, adjusted));
        foreach (var expected in Seasons.Value($"hac_bartlett_lag{lags}_{(adjusted ? "corrected" : "plain")}/std_error").EnumerateObject())
            AssertDigits(expected.Value.GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, 9, expected.Name);
        // The same rows in another order, put into the order of their time.
        var shuffled = Honey([.. InTime.Reverse()]).With(StandardErrors.NeweyWest((Season s) => $"{s.Year} {s.Apiary}", lags, adjusted));
        AssertDigits(fit["SpringTemp"].StandardError, shuffled["SpringTemp"].StandardError, 10, "in the order of time");
    }

    [Fact]
    public void Without_lags_they_are_those_of_different_variances_and_the_number_of_lags_goes_by_the_rows()
    {
        AssertDigits(Honey(InTime).With(StandardErrors.Hc0)["ForageHa"].StandardError, Honey(InTime).With(StandardErrors.NeweyWest(0))["ForageHa"].StandardError, 10, "no lags");
        // ⌊4 (288/100)^(2/9)⌋ = ⌊5.06⌋.
        Assert.Equal(Honey(InTime).With(StandardErrors.NeweyWest(5))["ForageHa"].StandardError, Honey(InTime).With(StandardErrors.NeweyWest())["ForageHa"].StandardError);
        // Also of a Poisson regression, with a factor of many levels in groups.
        Assert.True(Regression.Poisson(InTime, s => s.Mites, s => s.SpringTemp).With(StandardErrors.NeweyWest(2))["SpringTemp"].StandardError > 0);
        Assert.Contains("too many", Assert.Throws<AnalysisException>(() => Honey(InTime).With(StandardErrors.NeweyWest(400))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_jackknife_leaves_each_cluster_out()
    {
        var rows = All.Where(s => string.CompareOrdinal(s.Apiary, "A09") < 0).ToList();
        var fit = Honey(rows).With(StandardErrors.Cr3((Season s) => s.Apiary));
        string[] clusters = [.. rows.Select(r => r.Apiary).Distinct()];
        foreach (var (c, term) in fit.Terms.Index())
        {
            var changes = clusters.Select(g => Honey([.. rows.Where(r => r.Apiary != g)]).Terms[c].Estimate - term.Estimate);
            AssertDigits(Math.Sqrt(changes.Sum(d => d * d) * (clusters.Length - 1) / clusters.Length), term.StandardError, 9, term.Name);
        }
        Assert.Equal(9, Assert.Single(fit.ClusterCounts));
    }

    [Fact]
    public void Errors_for_few_clusters_are_those_of_the_matrices_written_out()
    {
        var rows = All.Where(s => string.CompareOrdinal(s.Apiary, "A09") < 0).ToList();
        var fit = Honey(rows).With(StandardErrors.Cr2((Season s) => s.Apiary));
        var n = rows.Count;
        var x = Matrix<double>.Build.Dense(n, 3, (i, c) => c switch { 0 => 1, 1 => rows[i].SpringTemp, _ => rows[i].ForageHa });
        var bread = (x.Transpose() * x).Inverse();
        var annihilator = Matrix<double>.Build.DenseIdentity(n) - (x * bread * x.Transpose());
        var residuals = annihilator * Vector<double>.Build.DenseOfEnumerable(rows.Select(r => r.HoneyKg));
        int[][] clusters = [.. rows.Select((r, i) => (r.Apiary, i)).GroupBy(r => r.Apiary).Select(g => g.Select(r => r.i).ToArray())];
        var middle = Matrix<double>.Build.Dense(3, 3);
        var parts = new List<Matrix<double>>();
        foreach (var own in clusters)
        {
            var block = Matrix<double>.Build.Dense(own.Length, own.Length, (a, b) => annihilator[own[a], own[b]]);
            var split = block.Evd(Symmetricity.Symmetric);
            var root = split.EigenVectors * Matrix<double>.Build.DenseOfDiagonalArray([.. split.EigenValues.Select(v => 1 / Math.Sqrt(v.Real))]) * split.EigenVectors.Transpose();
            var xg = Matrix<double>.Build.Dense(own.Length, 3, (a, c) => x[own[a], c]);
            var eg = Vector<double>.Build.Dense(own.Length, a => residuals[own[a]]);
            var score = xg.Transpose() * root * eg;
            middle += score.OuterProduct(score);
            parts.Add(Matrix<double>.Build.Dense(n, own.Length, (i, a) => annihilator[i, own[a]]) * root * xg * bread);
        }
        var covariance = bread * middle * bread;
        for (var c = 0; c < 3; c++)
        {
            AssertDigits(Math.Sqrt(covariance[c, c]), fit.Terms[c].StandardError, 8, fit.Terms[c].Name);
            var gamma = Matrix<double>.Build.Dense(clusters.Length, clusters.Length, (g, h) => parts[g].Column(c) * parts[h].Column(c));
            AssertDigits(gamma.Trace() * gamma.Trace() / gamma.PointwiseMultiply(gamma).RowSums().Sum(), fit.Terms[c].DegreesOfFreedom, 8, $"degrees of {fit.Terms[c].Name}");
        }
        Assert.Contains("without weights", Assert.Throws<AnalysisException>(() => Regression.FixedEffects(All, s => s.HoneyKg, s => s.SpringTemp, s => s.Apiary).With(StandardErrors.Cr2((Season s) => s.Apiary))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_wild_bootstrap_counts_all_arrangements_of_few_clusters()
    {
        // The second method refits each arrangement: eight clusters have 256.
        var rows = All.Where(s => string.CompareOrdinal(s.Apiary, "A08") < 0).ToList();
        var fit = Honey(rows).With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        var restricted = Regression.LeastSquares(rows, s => s.HoneyKg, s => s.ForageHa);
        string[] clusters = [.. rows.Select(r => r.Apiary).Distinct()];
        var (atLeast, observed) = (0, Math.Abs(fit["SpringTemp"].Statistic));
        for (var signs = 0; signs < 256; signs++)
        {
            var drawn = rows.Select((r, i) => r with { HoneyKg = restricted.Fitted[i] + (restricted.Residuals[i] * ((signs >> Array.IndexOf(clusters, r.Apiary) & 1) == 0 ? 1 : -1)) }).ToList();
            if (Math.Abs(Honey(drawn).With(StandardErrors.ClusteredBy((Season s) => s.Apiary))["SpringTemp"].Statistic) >= observed * (1 - 1e-9)) atLeast++;
        }
        var test = fit.WildBootstrapTest("SpringTemp");
        Assert.Equal(atLeast / 256.0, test.PValue);
        Assert.Equal(fit["SpringTemp"].Statistic, test.Statistic);
        var many = Honey(All).With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        Assert.Equal(many.WildBootstrapTest("ForageHa", seed: 7).PValue, many.WildBootstrapTest("ForageHa", seed: 7).PValue);
        Assert.InRange(many.WildBootstrapTest("ForageHa").PValue, 0.001, 0.01);
        Assert.Contains("clustered by one grouping", Assert.Throws<AnalysisException>(() => Honey(All).WildBootstrapTest("ForageHa")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Instruments_are_tested()
    {
        var fit = Regression.TwoStageLeastSquares(All, s => s.HoneyKg, s => s.SpringTemp, s => s.Feed, s => new { s.Z1, s.Z2 });
        foreach (var expected in Seasons.Value("two_stage_feed_by_z1_z2/terms").EnumerateObject())
        {
            AssertDigits(expected.Value.GetProperty("estimate").GetDouble(), fit[Seasons.OwnName(expected.Name)].Estimate, 9, expected.Name);
            AssertDigits(expected.Value.GetProperty("std_error").GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, 9, expected.Name);
        }
        var first = Assert.Single(fit.FirstStageTests());
        AssertDigits(Seasons.Number("two_stage_feed_by_z1_z2/first_stage_F"), first.Statistic, 9, "first stage");
        AssertDigits(first.Statistic, fit.EffectiveF(), 9, "effective F with equal variances");
        AssertDigits(Seasons.Number("two_stage_feed_by_z1_z2/sargan"), fit.OveridentificationTest().Statistic, 9, "Sargan");
        AssertDigits(Seasons.Number("two_stage_feed_by_z1_z2/endogeneity_F"), fit.EndogeneityTest().Statistic, 9, "endogeneity");
        Assert.Equal(["First-stage F", "Over-identification p (Sargan)", "Endogeneity p"], fit.Statistics.Select(s => s.Name));

        var robust = fit.With(StandardErrors.Hc0);
        var hansen = robust.OveridentificationTest();
        AssertDigits(Hansen(), hansen.Statistic, 8, "Hansen");
        Assert.Equal(1, hansen.DegreesOfFreedom);
        Assert.NotEqual(first.Statistic, robust.FirstStageTests()[0].Statistic);
        Assert.NotEqual(first.Statistic, robust.EffectiveF());
        Assert.Contains("nothing is left to test", Assert.Throws<AnalysisException>(() => Regression.TwoStageLeastSquares(All, s => s.HoneyKg, s => s.SpringTemp, s => s.Feed, s => s.Z1).OveridentificationTest()).Message, StringComparison.Ordinal);
        Assert.Contains("no instruments", Assert.Throws<AnalysisException>(() => Honey(All).EndogeneityTest()).Message, StringComparison.Ordinal);

        double Hansen()
        {
            var build = Matrix<double>.Build;
            var z = build.Dense(288, 4, (i, c) => c switch { 0 => 1, 1 => All[i].SpringTemp, 2 => All[i].Z1, _ => All[i].Z2 });
            var x = build.Dense(288, 3, (i, c) => c switch { 0 => 1, 1 => All[i].SpringTemp, _ => All[i].Feed });
            var y = Vector<double>.Build.DenseOfEnumerable(All.Select(s => s.HoneyKg));
            var u = Vector<double>.Build.DenseOfEnumerable(fit.Residuals);
            var weight = z.TransposeThisAndMultiply(build.DenseOfRowVectors(z.EnumerateRows().Select((r, i) => r * u[i] * u[i]))).Inverse();
            var zx = z.Transpose() * x;
            var b = (zx.Transpose() * weight * zx).Inverse() * (zx.Transpose() * weight * (z.Transpose() * y));
            var moment = z.Transpose() * (y - (x * b));
            return moment * weight * moment;
        }
    }
}
