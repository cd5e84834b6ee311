using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Summaries;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Statistics.Tests;

/// <summary>Analyses of variance and tests of groups, against the independent implementation and against exact arithmetic.</summary>
public sealed class ComparisonReferenceTests
{
    private static readonly double[][] ByStrain = [.. new[] { "Amber", "Dusk", "Heath" }.Select(g => All.Where(s => s.Strain == g).Select(s => s.HoneyKg).ToArray())];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Analyses_of_variance(int type)
    {
        var fit = Regression.LeastSquares(All, s => s.HoneyKg, s => new { s.Strain, s.Treated, Both = Cross(s.Strain, s.Treated), s.SpringTemp });
        var rows = VarianceTable.Of(fit, (SquaresType)type);
        var names = new Dictionary<string, string> { ["C(strain)"] = "Strain", ["C(treated)"] = "Treated", ["C(strain):C(treated)"] = "Both", ["spring_temp"] = "SpringTemp", ["Residual"] = "residual" };
        foreach (var expected in Seasons.Value($"anova_type_{type}").EnumerateObject())
        {
            if (!names.TryGetValue(expected.Name, out var name)) continue;
            var row = rows.Single(r => r.Term == name);
            // The order of terms of the reference is another: an interaction stands before the number there.
            AssertDigits(expected.Value.GetProperty("sum_sq").GetDouble(), row.SumOfSquares, 8, $"{type} {expected.Name}");
            AssertDigits(expected.Value.GetProperty("df").GetDouble(), row.DegreesOfFreedom, 12, "df");
            if (row.F is not { } f) continue;
            AssertDigits(expected.Value.GetProperty("F").GetDouble(), f, 8, "F");
            AssertDigits(expected.Value.GetProperty("p").GetDouble(), row.PValue!.Value, 7, "p");
        }
        Assert.Equal(5, rows.Length);
        Assert.Contains("without weights", Assert.Throws<AnalysisException>(() => VarianceTable.Of(Regression.FixedEffects(All, s => s.HoneyKg, s => s.SpringTemp, s => s.Apiary))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Pairs_of_means()
    {
        var pairs = PairwiseMeans.Of(All, s => s.HoneyKg, s => s.Strain);
        Assert.Equal([("Amber", "Dusk"), ("Amber", "Heath"), ("Dusk", "Heath")], pairs.Select(p => (p.First, p.Second)));
        var (differences, ps) = (Seasons.Value("tukey_honey_by_strain/difference"), Seasons.Value("tukey_honey_by_strain/p"));
        foreach (var (pair, (i, j)) in pairs.Zip([(0, 1), (0, 2), (1, 2)]))
        {
            AssertDigits(differences[j][i].GetDouble(), pair.Difference, 9, "difference");
            AssertDigits(ps[i][j].GetDouble(), pair.PValue, 6, $"p of {pair.First} and {pair.Second}");
            // An interval reaches zero at the level of its p-value.
            var at = pair.Interval(1 - pair.PValue);
            Assert.InRange(Math.Min(Math.Abs(at.Low), Math.Abs(at.High)), 0, 1e-6);
        }
        // Published upper 5 % points of the studentized range: 3.877 for 3 means and 10 degrees of freedom, 4.232 for 5 and 20.
        AssertDigits(0.05, Numerics.StudentizedRange.Upper(3.877, 3, 10), 3, "3 means");
        AssertDigits(0.05, Numerics.StudentizedRange.Upper(4.232, 5, 20), 3, "5 means");
        AssertDigits(0.05, Numerics.StudentizedRange.Upper(3.314, 3, double.PositiveInfinity), 3, "3 means, many degrees");
        // Of two means it is Student's t times √2.
        AssertDigits(MathNet.Numerics.Distributions.StudentT.CDF(0, 1, 7, -2.5) * 2, Numerics.StudentizedRange.Upper(2.5 * Math.Sqrt(2), 2, 7), 9, "2 means");
        var plain = PairwiseMeans.Of(All, s => s.HoneyKg, s => s.Strain, PairAdjustment.None);
        var holm = PairwiseMeans.Of(All, s => s.HoneyKg, s => s.Strain, PairAdjustment.Holm);
        Assert.Equal(MultipleComparisons.Holm([.. plain.Select(p => p.PValue)]), holm.Select(p => p.PValue));
        var scheffe = PairwiseMeans.Of(All, s => s.HoneyKg, s => s.Strain, PairAdjustment.Scheffe);
        for (var i = 0; i < 3; i++) Assert.True(scheffe[i].PValue >= pairs[i].PValue && pairs[i].PValue >= plain[i].PValue);
    }

    [Fact]
    public void Groups_and_distributions()
    {
        var kruskal = RankTests.KruskalWallis(ByStrain);
        AssertDigits(Seasons.Number("kruskal_wallis_honey_by_strain/statistic"), kruskal.Statistic, 10, "Kruskal–Wallis");
        AssertDigits(Seasons.Number("kruskal_wallis_honey_by_strain/p"), kruskal.PValue, 9, "p");
        AssertDigits(Seasons.Number("levene_median/statistic"), VarianceTests.Levene(ByStrain).Statistic, 9, "Levene, medians");
        AssertDigits(Seasons.Number("levene_mean/statistic"), VarianceTests.Levene(ByStrain, fromMean: true).Statistic, 9, "Levene, means");
        AssertDigits(Seasons.Number("levene_median/p"), VarianceTests.Levene(ByStrain).PValue, 8, "p");
        var shapiro = NormalityTests.ShapiroWilk([.. All.Select(s => s.HoneyKg)]);
        AssertDigits(Seasons.Number("shapiro_honey/statistic"), shapiro.Statistic, 6, "Shapiro–Wilk");
        AssertDigits(Seasons.Number("shapiro_honey/p"), shapiro.PValue, 4, "p");
        // The published example: 11 men's weights.
        var weights = NormalityTests.ShapiroWilk([148, 154, 158, 160, 161, 162, 166, 170, 182, 195, 236]);
        Assert.Equal(0.79, weights.Statistic, 2);
        Assert.InRange(weights.PValue, 0.006, 0.008);
        // Three values: W of the middle one, exactly.
        Assert.Equal(1, NormalityTests.ShapiroWilk([1, 2, 3]).Statistic, 12);
        Assert.Contains("at least 3", Assert.Throws<AnalysisException>(() => NormalityTests.ShapiroWilk([1, 2])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Counts_of_yes_and_no()
    {
        var table = Seasons.Value("mcnemar_died_lost/table");
        Assert.Equal(table[0][1].GetInt32(), All.Count(s => s.Died == 0 && s.Lost == 1));
        bool[] died = [.. All.Select(s => s.Died == 1)], lost = [.. All.Select(s => s.Lost == 1)];
        AssertDigits(Seasons.Number("mcnemar_died_lost/p_exact"), PairedCounts.McNemar(died, lost).PValue, 10, "exact");
        var corrected = PairedCounts.McNemar(died, lost, exact: false);
        AssertDigits(Seasons.Number("mcnemar_died_lost/statistic_corrected"), corrected.Statistic, 10, "corrected");
        AssertDigits(Seasons.Number("mcnemar_died_lost/p_corrected"), corrected.PValue, 9, "p");
        // The trend test is n times the squared correlation of score and outcome.
        var trend = PairedCounts.CochranArmitage([.. All.Select(s => (double)s.QueenAge)], lost);
        var r = Correlation.Pearson([.. All.Select(s => (double)s.QueenAge)], [.. All.Select(s => (double)s.Lost)]).Coefficient;
        AssertDigits(288 * r * r, trend.Statistic, 9, "trend");
        Assert.Contains("no pair differs", Assert.Throws<AnalysisException>(() => PairedCounts.McNemar(died, died)).Message, StringComparison.Ordinal);
        Assert.Contains("in all", Assert.Throws<AnalysisException>(() => PairedCounts.CochranArmitage([1, 2], [true, true])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Sizes_of_effects()
    {
        // By hand: means 6 and 4, common variance 2.5.
        double[] a = [4, 5, 6, 7, 8], b = [2, 3, 4, 5, 6];
        AssertDigits(2 / Math.Sqrt(2.5), EffectSize.CohenD(a, b).Value, 12, "d");
        // 1 − 3/(4·8 − 1) is the usual approximation of the correction.
        AssertDigits(2 / Math.Sqrt(2.5) * (1 - (3.0 / 31)), EffectSize.HedgesG(a, b).Value, 3, "g");
        AssertDigits(10 / (10 + 20.0), EffectSize.EtaSquared(a, b).Value, 12, "η²");
        var table = CrossTabulation.Of(All, s => s.Treated, s => s.Lost);
        var odds = EffectSize.OddsRatio(table);
        var fit = Regression.Logistic(All, s => s.Lost, s => s.Treated)["Treated=yes"];
        AssertDigits(Math.Exp(fit.Estimate), odds.Value, 8, "odds ratio");
        AssertDigits(Math.Exp(fit.Interval().Low), odds.Interval()!.Value.Low, 7, "its limit");
        var risk = EffectSize.RiskRatio(table);
        AssertDigits(table.RowShare(1, 1) / table.RowShare(0, 1), risk.Value, 12, "risk ratio");
        Assert.True(risk.Interval()!.Value.Low < risk.Value && risk.Value < risk.Interval()!.Value.High);
        AssertDigits(Math.Sqrt(table.ChiSquaredTest().Statistic / 288), EffectSize.CramerV(table).Value, 12, "V");
        Assert.Contains("is zero", Assert.Throws<AnalysisException>(() => EffectSize.OddsRatio(CrossTabulation.Of(All.Where(s => s.Treated == "no" || s.Lost == 0), s => s.Treated, s => s.Lost))).Message, StringComparison.Ordinal);
    }
}
