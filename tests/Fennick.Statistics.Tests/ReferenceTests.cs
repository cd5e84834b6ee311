using System.Globalization;
using System.Text.Json;
using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;
using Xunit;
using static Fennick.Statistics.Tests.Survey;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Statistics.Tests;

/// <summary>Agreement with the independent implementation: nine digits for least squares, seven for iterated fits.</summary>
public sealed class ReferenceTests
{
    private static LinearFit Full() => Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain, h.ForageHa, h.SpringTemp, h.Mites });

    public static TheoryData<string> LinearModels => ["ols", "ols_small", "ols_no_intercept", "ols_interaction", "wls"];

    [Theory]
    [MemberData(nameof(LinearModels))]
    public void Least_squares(string model)
    {
        var fit = model switch
        {
            "ols" => Full(),
            "ols_small" => Regression.LeastSquares(Hives, h => h.HoneyKg, h => h.ForageHa),
            "ols_no_intercept" => Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.SpringTemp }, intercept: false),
            "ols_interaction" => Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain, h.ForageHa, Both = Cross(h.ForageHa, h.Strain), LogForageHa = Math.Log(h.ForageHa) }),
            _ => Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain, h.ForageHa, h.SpringTemp, h.Mites }, weights: h => h.Weight),
        };
        AssertTerms(model, fit, 9);
        AssertDigits(Number($"{model}/n"), fit.Observations, 12, "n");
        AssertDigits(Number($"{model}/df_residual"), fit.ResidualDegreesOfFreedom, 12, "df");
        AssertDigits(Number($"{model}/log_likelihood"), fit.LogLikelihood, 9, "log-likelihood");
        AssertDigits(Number($"{model}/aic"), fit.Aic, 9, "AIC");
        AssertDigits(Number($"{model}/rsquared"), fit.RSquared, 9, "R²");
        AssertDigits(Number($"{model}/rsquared_adj"), fit.AdjustedRSquared, 9, "adjusted R²");
        AssertDigits(Number($"{model}/fvalue"), fit.FTest().Statistic, 9, "F");
        AssertDigits(Number($"{model}/f_pvalue"), fit.FTest().PValue, 8, "p of F");
        AssertDigits(Number($"{model}/residual_standard_error"), fit.ResidualStandardError, 9, "residual standard error");
    }

    [Theory]
    [InlineData("HC0")]
    [InlineData("HC1")]
    [InlineData("HC2")]
    [InlineData("HC3")]
    public void Heteroscedasticity_consistent_errors(string kind)
    {
        var fit = Full().With(kind switch { "HC0" => StandardErrors.Hc0, "HC1" => StandardErrors.Hc1, "HC2" => StandardErrors.Hc2, _ => StandardErrors.Hc3 });
        foreach (var expected in Value($"ols_{kind}").EnumerateObject()) AssertDigits(expected.Value.GetDouble(), fit[OwnName(expected.Name)].StandardError, 9, expected.Name);
    }

    [Fact]
    public void Clustered_errors()
    {
        var fit = Full().With(StandardErrors.ClusteredBy((Hive h) => h.Apiary));
        foreach (var expected in Value("ols_cluster_apiary/std_error").EnumerateObject()) AssertDigits(expected.Value.GetDouble(), fit[OwnName(expected.Name)].StandardError, 9, expected.Name);
        foreach (var expected in Value("ols_cluster_apiary/p_value").EnumerateObject()) AssertDigits(expected.Value.GetDouble(), fit[OwnName(expected.Name)].PValue, 8, expected.Name);
        Assert.Equal(Hives.Select(h => h.Apiary).Distinct().Count(), Assert.Single(fit.ClusterCounts));
    }

    [Theory]
    [InlineData("logit")]
    [InlineData("probit")]
    [InlineData("poisson")]
    public void Iterated_fits(string model)
    {
        var fit = model switch
        {
            "logit" => Regression.Logistic(Hives, h => h.Survived, h => new { h.Treated, h.Mites, h.QueenAge }),
            "probit" => Regression.Probit(Hives, h => h.Survived, h => new { h.Treated, h.Mites, h.QueenAge }),
            _ => Regression.Poisson(Hives, h => h.Mites, h => new { h.Treated, h.SpringTemp, h.QueenAge }),
        };
        Assert.True(fit.Converged);
        AssertTerms(model, fit, 7);
        foreach (var property in Value(model).EnumerateObject().Where(p => p.Value.ValueKind == JsonValueKind.Number))
        {
            double? actual = property.Name switch
            {
                "n" => fit.Observations,
                "df_residual" => fit.ResidualDegreesOfFreedom,
                "log_likelihood" => fit.LogLikelihood,
                "aic" => fit.Aic,
                "deviance" => fit.Deviance,
                "null_deviance" => fit.NullDeviance,
                "null_log_likelihood" or "llnull" => fit.NullLogLikelihood,
                "pearson_chi2" => fit.PearsonChiSquared,
                "pseudo_rsquared" or "prsquared" => fit.PseudoRSquared,
                _ => null,
            };
            Assert.True(actual is not null, $"nothing is compared with {model}/{property.Name}");
            AssertDigits(property.Value.GetDouble(), actual.Value, 7, $"{model}/{property.Name}");
        }
        if (model != "logit") return;
        AssertDigits(Number("logit_glm_deviance/deviance"), fit.Deviance, 7, "deviance");
        AssertDigits(Number("logit_glm_deviance/null_deviance"), fit.NullDeviance, 7, "null deviance");
        AssertDigits(Number("logit_glm_deviance/aic"), fit.Aic, 7, "AIC");
    }

    [Fact]
    public void Tests_and_correlations()
    {
        var treated = Hives.Where(h => h.Treated).Select(h => h.HoneyKg).ToArray();
        var others = Hives.Where(h => !h.Treated).Select(h => h.HoneyKg).ToArray();
        Check("welch_t_honey_by_treated", MeanTests.Welch(treated, others).Statistic, MeanTests.Welch(treated, others).PValue);
        Check("student_t_honey_by_treated", MeanTests.Student(treated, others).Statistic, MeanTests.Student(treated, others).PValue);
        var anova = MeanTests.OneWay([.. Hives.GroupBy(h => h.Strain).Select(g => g.Select(h => h.HoneyKg).ToArray())]);
        Check("one_way_anova_honey_by_strain", anova.Statistic, anova.PValue);
        var table = CrossTabulation.Of(Hives, h => h.Strain, h => h.Survived);
        Check("chi_squared_strain_by_survived", table.ChiSquaredTest().Statistic, table.ChiSquaredTest().PValue);
        Assert.Equal(2, table.ChiSquaredTest().DegreesOfFreedom);
        Assert.Equal((31, 51), (table[0, 0], table[1, 1]));
        AssertDigits(Number("rank_sum_honey_by_treated/u"), RankTests.RankSum(treated, others).Statistic, 12, "U");
        AssertDigits(Number("rank_sum_honey_by_treated/p_value"), RankTests.RankSum(treated, others).PValue, 9, "p of U");
        var (forage, honey) = (Hives.Select(h => h.ForageHa).ToArray(), Hives.Select(h => h.HoneyKg).ToArray());
        AssertDigits(Number("correlation_forage_honey/pearson"), Correlation.Pearson(forage, honey).Coefficient, 9, "r");
        AssertDigits(Number("correlation_forage_honey/pearson_p"), Correlation.Pearson(forage, honey).PValue, 8, "p of r");
        AssertDigits(Number("correlation_forage_honey/spearman"), Correlation.Spearman(forage, honey).Coefficient, 9, "ρ");
        AssertDigits(Number("correlation_forage_honey/spearman_p"), Correlation.Spearman(forage, honey).PValue, 8, "p of ρ");

        static void Check(string name, double statistic, double p)
        {
            AssertDigits(Number($"{name}/statistic"), statistic, 9, name);
            AssertDigits(Number($"{name}/p_value"), p, 8, $"p of {name}");
        }
    }

    [Fact]
    public void A_description()
    {
        var description = Description.Of(Hives, h => h.HoneyKg);
        foreach (var property in Value("describe_honey").EnumerateObject().Where(p => p.Value.ValueKind == JsonValueKind.Number))
        {
            var actual = property.Name switch
            {
                "n" => description.Count,
                "mean" => description.Mean,
                "sd" => description.StandardDeviation!.Value,
                "min" => description.Minimum,
                "max" => description.Maximum,
                "q1" => description.Quantile(0.25),
                "median" => description.Median,
                "q3" => description.Quantile(0.75),
                "skewness" => description.Skewness!.Value,
                _ => double.NaN,
            };
            AssertDigits(property.Value.GetDouble(), actual, 12 - (property.Name == "skewness" ? 3 : 0), property.Name);
        }
    }

    private static void AssertTerms(string model, RegressionFit fit, int digits)
    {
        var expected = Value($"{model}/terms").EnumerateObject().ToArray();
        Assert.Equal(expected.Length, fit.Terms.Length);
        foreach (var term in expected)
        {
            var actual = fit[OwnName(term.Name)];
            double Number(string name) => term.Value.GetProperty(name).GetDouble();
            AssertDigits(Number("estimate"), actual.Estimate, digits, $"{term.Name}: estimate");
            AssertDigits(Number("std_error"), actual.StandardError, digits, $"{term.Name}: standard error");
            AssertDigits(Number("statistic"), actual.Statistic, digits, $"{term.Name}: statistic");
            AssertDigits(Number("p_value"), actual.PValue, Math.Min(digits, 8) - 1, $"{term.Name}: p");
            AssertDigits(Number("low95"), actual.Interval(0.95).Low, digits, $"{term.Name}: low");
            AssertDigits(Number("high95"), actual.Interval(0.95).High, digits, $"{term.Name}: high");
        }
    }

    /// <summary>The name that Fennick gives to a term of the reference: <c>forage_ha</c> is <c>ForageHa</c>.</summary>
    private static string OwnName(string name) => name == "intercept" ? name : string.Join(" × ", name.Replace("log(forage_ha)", "log_forage_ha", StringComparison.Ordinal).Split(" x ").Select(part =>
    {
        var pieces = part.Trim().Split('=');
        pieces[0] = string.Concat(pieces[0].Split('_').Select(w => char.ToUpper(w[0], CultureInfo.InvariantCulture) + w[1..]));
        return string.Join('=', pieces);
    }));
}
