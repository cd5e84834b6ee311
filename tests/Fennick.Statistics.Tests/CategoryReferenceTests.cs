using Fennick.Statistics.Fits;
using Xunit;
using static Fennick.Statistics.Tests.Seasons;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Models of categories, against the independent implementation.</summary>
public sealed class CategoryReferenceTests
{
    private static OrderedFit Ordered(bool isProbit) => isProbit ? Regression.OrderedProbit(All, s => s.Grade, s => new { s.SpringTemp, s.QueenAge, s.Treated }) : Regression.OrderedLogit(All, s => s.Grade, s => new { s.SpringTemp, s.QueenAge, s.Treated });

    private static MultinomialFit Uses(string? reference = null) => Regression.MultinomialLogit(All, s => s.Use, s => new { s.SpringTemp, s.QueenAge }, reference);

    [Theory]
    [InlineData("ordered_logit")]
    [InlineData("ordered_probit")]
    public void Ordered_models(string model)
    {
        var fit = Ordered(model == "ordered_probit");
        Assert.True(fit.Converged);
        Assert.Equal(["1", "2", "3", "4"], fit.Categories);
        // The reference stops early: about six digits, and no higher likelihood.
        foreach (var expected in Seasons.Value($"{model}/terms").EnumerateObject())
        {
            AssertDigits(expected.Value[0].GetDouble(), fit[Seasons.OwnName(expected.Name)].Estimate, 4, $"{model} {expected.Name}");
            AssertDigits(expected.Value[1].GetDouble(), fit[Seasons.OwnName(expected.Name)].StandardError, 4, $"error of {expected.Name}");
        }
        foreach (var (i, expected) in Seasons.Numbers($"{model}/thresholds").Index()) AssertDigits(expected, fit.Thresholds[i].Estimate, 4, $"threshold {i}");
        Assert.Equal(["1 | 2", "2 | 3", "3 | 4"], fit.Thresholds.Select(t => t.Name));
        Assert.InRange(fit.LogLikelihood - Seasons.Number($"{model}/log_likelihood"), -1e-9, 1e-6);
    }

    [Fact]
    public void Multinomial_logit()
    {
        var fit = Uses();
        Assert.True(fit.Converged);
        Assert.Equal("comb", fit.Reference);
        Assert.Equal(["jar", "mead"], fit.ByCategory.Select(c => c.Response));
        foreach (var category in fit.ByCategory)
        {
            foreach (var expected in Seasons.Value($"multinomial_use_base_comb/{category.Response}").EnumerateObject())
            {
                var term = category.Terms.Single(t => t.Name == Seasons.OwnName(expected.Name));
                AssertDigits(expected.Value[0].GetDouble(), term.Estimate, 7, $"{category.Response} {expected.Name}");
                AssertDigits(expected.Value[1].GetDouble(), term.StandardError, 7, $"error of {expected.Name}");
                Assert.Equal(Math.Sqrt(category.Covariance()[0, 0]), category.Terms[0].StandardError, 12);
            }
        }
        AssertDigits(Seasons.Number("multinomial_use_base_comb/log_likelihood"), fit.LogLikelihood, 9, "log-likelihood");
        // Another reference says the same of the difference of two categories.
        var other = Uses("mead");
        AssertDigits(fit["jar: SpringTemp"].Estimate - fit["mead: SpringTemp"].Estimate, other["jar: SpringTemp"].Estimate, 9, "jar against mead");
        AssertDigits(fit.LogLikelihood, other.LogLikelihood, 12, "likelihood");
    }

    [Fact]
    public void Two_of_three_categories_are_a_logistic_regression()
    {
        var three = All.Select(s => s with { Use = s.Use == "mead" ? "jar" : s.Use }).ToList();
        Assert.Contains("use a logistic regression", Assert.Throws<AnalysisException>(() => Regression.MultinomialLogit(three, s => s.Use, s => s.SpringTemp)).Message, StringComparison.Ordinal);
        // An ordered logit says the same upside down.
        var (up, down) = (Ordered(false), Regression.OrderedLogit(All, s => -s.Grade, s => new { s.SpringTemp, s.QueenAge, s.Treated }));
        AssertDigits(up["SpringTemp"].Estimate, -down["SpringTemp"].Estimate, 9, "upside down");
    }

    [Fact]
    public void Average_effects_add_up_to_nothing_and_are_differences_of_shares()
    {
        var fit = Uses();
        var effects = fit.MarginalEffects("SpringTemp");
        Assert.Equal(["comb", "jar", "mead"], effects.Select(e => e.Category));
        Assert.InRange(effects.Sum(e => e.Effects.Single().Estimate), -1e-9, 1e-9);
        // By the softmax itself: the mean of p_c (b_c − Σ p b).
        double[] Slopes(Season s)
        {
            double Eta(string c) => c == "comb" ? 0 : fit[$"{c}: intercept"].Estimate + (fit[$"{c}: SpringTemp"].Estimate * s.SpringTemp) + (fit[$"{c}: QueenAge"].Estimate * s.QueenAge);
            double B(string c) => c == "comb" ? 0 : fit[$"{c}: SpringTemp"].Estimate;
            string[] all = ["comb", "jar", "mead"];
            var total = all.Sum(c => Math.Exp(Eta(c)));
            var mean = all.Sum(c => Math.Exp(Eta(c)) / total * B(c));
            return [.. all.Select(c => Math.Exp(Eta(c)) / total * (B(c) - mean))];
        }
        for (var c = 0; c < 3; c++) AssertDigits(All.Average(s => Slopes(s)[c]), effects[c].Effects[0].Estimate, 8, effects[c].Category);
        var ordered = Ordered(false);
        double Share(Season s, string treated)
        {
            var linear = (ordered["SpringTemp"].Estimate * s.SpringTemp) + (ordered["QueenAge"].Estimate * s.QueenAge) + (treated == "yes" ? ordered["Treated=yes"].Estimate : 0);
            return 1 / (1 + Math.Exp(-(ordered.Thresholds[0].Estimate - linear)));
        }
        var first = ordered.MarginalEffects("Treated")[0].Effects.Single();
        AssertDigits(All.Average(s => Share(s, "yes") - Share(s, "no")), first.Estimate, 9, "treated, lowest grade");
        Assert.True(first.StandardError > 0 && first.PValue < 0.01);
        Assert.Contains("no variable `Bees`", Assert.Throws<AnalysisException>(() => fit.MarginalEffects("Bees")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Robust_errors_of_one_cluster_for_each_row_differ_by_their_factor()
    {
        var fit = Uses().With(StandardErrors.Hc0);
        var alone = All.Select((s, i) => s with { Apiary = $"{i}" }).ToList();
        var own = Regression.MultinomialLogit(alone, s => s.Use, s => new { s.SpringTemp, s.QueenAge }).With(StandardErrors.ClusteredBy((Season s) => s.Apiary));
        for (var i = 0; i < fit.Terms.Length; i++) AssertDigits(fit.Terms[i].StandardError * Math.Sqrt(288 / 287.0), own.Terms[i].StandardError, 10, fit.Terms[i].Name);
        // By the definition, from the scores of the softmax.
        var plain = Uses();
        var middle = new double[6, 6];
        foreach (var s in All)
        {
            double[] x = [1, s.SpringTemp, s.QueenAge];
            double Eta(int c) => x.Select((v, i) => v * plain.Terms[(c * 3) + i].Estimate).Sum();
            var total = 1 + Math.Exp(Eta(0)) + Math.Exp(Eta(1));
            double[] score = [.. Enumerable.Range(0, 2).SelectMany(c => x.Select(v => v * ((s.Use == (c == 0 ? "jar" : "mead") ? 1 : 0) - (Math.Exp(Eta(c)) / total))))];
            for (var a = 0; a < 6; a++)
                for (var b = 0; b < 6; b++) middle[a, b] += score[a] * score[b];
        }
        var bread = MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(plain.Covariance());
        var sandwich = bread * MathNet.Numerics.LinearAlgebra.Matrix<double>.Build.DenseOfArray(middle) * bread;
        for (var i = 0; i < 6; i++) AssertDigits(Math.Sqrt(sandwich[i, i]), fit.Terms[i].StandardError, 8, fit.Terms[i].Name);
        Assert.True(Ordered(true).With(StandardErrors.ClusteredBy((Season s) => s.Apiary))["SpringTemp"].StandardError > 0);
    }
}
