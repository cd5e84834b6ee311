using Fennick.Statistics.Fits;
using Xunit;
using static Fennick.Statistics.Tests.Survey;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Statistics.Tests;

public sealed class EstimatorTests
{
    private sealed record Row(double? Y, double X, string? Group, double? W = 1, bool Flag = false);

    [Fact]
    public void Absorbed_effects_give_what_their_columns_would()
    {
        var columns = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, h.Apiary, Age = Factor(h.QueenAge) });
        var absorbed = Regression.FixedEffects(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites }, h => h.Apiary, h => h.QueenAge);
        foreach (var name in (string[])["ForageHa", "Mites"])
        {
            AssertDigits(columns[name].Estimate, absorbed[name].Estimate, 9, name);
            AssertDigits(columns[name].StandardError, absorbed[name].StandardError, 9, name);
        }
        Assert.Equal(columns.ResidualDegreesOfFreedom, absorbed.ResidualDegreesOfFreedom);
        Assert.Equal(Hives.Select(h => h.Apiary).Distinct().Count() + Hives.Select(h => h.QueenAge).Distinct().Count() - 1, absorbed.AbsorbedEffects);
        var one = Regression.FixedEffects(Hives, h => h.HoneyKg, h => new { h.ForageHa, Constant = h.Apiary.Length * 1.0 }, h => h.Apiary);
        Assert.Contains("`Constant` depends on the terms before it and was dropped", Assert.Single(one.Warnings).Message, StringComparison.Ordinal);
        AssertDigits(Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Apiary })["ForageHa"].Estimate, one["ForageHa"].Estimate, 9, "one grouping");
    }

    [Fact]
    public void Two_stages_by_hand_and_at_once()
    {
        var fit = Regression.TwoStageLeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain }, h => new { h.Mites }, h => new { h.QueenAge, h.SpringTemp, h.Treated });
        var first = Regression.LeastSquares(Hives, h => h.Mites, h => new { h.Strain, h.QueenAge, h.SpringTemp, h.Treated });
        var second = Regression.LeastSquares(Hives.Zip(first.Fitted, (h, f) => (h.HoneyKg, h.Strain, Mites: f)).ToArray(), r => r.HoneyKg, r => new { r.Strain, r.Mites });
        AssertDigits(second["Mites"].Estimate, fit["Mites"].Estimate, 9, "Mites");
        // The right errors use the residuals of the true column.
        var ratio = fit["Mites"].StandardError / second["Mites"].StandardError;
        AssertDigits(fit.ResidualStandardError / second.ResidualStandardError, ratio, 9, "error");
        Assert.NotEqual(1, ratio, 3);
        // A variable that is its own instrument gives least squares.
        var same = Regression.TwoStageLeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain }, h => new { h.Mites }, h => new { Self = h.Mites });
        AssertDigits(Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain, h.Mites })["Mites"].StandardError, same["Mites"].StandardError, 9, "own instrument");
        Assert.Contains("do not identify `Mites`", Fails(() => Regression.TwoStageLeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain }, h => new { h.Mites }, h => new { Same = Factor(h.Strain) })), StringComparison.Ordinal);
    }

    [Fact]
    public void Negative_binomial_is_where_the_likelihood_is_largest()
    {
        var spread = Hives.Select((h, i) => (Count: Math.Floor(h.Mites * (1 + (i % 7 == 0 ? 4 : 0)) * (i % 3 == 0 ? 0.3 : 1.2)), h.QueenAge, h.Treated)).ToArray();
        var fit = Regression.NegativeBinomial(spread, r => r.Count, r => new { r.QueenAge, r.Treated });
        Assert.True(fit.Converged);
        Assert.True(fit.Theta is > 0.1 and < 50);
        Assert.True(fit.LogLikelihood > Regression.Poisson(spread, r => r.Count, r => new { r.QueenAge, r.Treated }).LogLikelihood);
        // The scores of the coefficients and of θ are zero.
        var theta = fit.Theta!.Value;
        Assert.InRange(spread.Zip(fit.Fitted, (r, m) => (r.Count - m) / (1 + (m / theta))).Sum(), -1e-6, 1e-6);
        double LogLikelihood(double t) => spread.Zip(fit.Fitted, (r, m) => MathNet.Numerics.SpecialFunctions.GammaLn(r.Count + t) - MathNet.Numerics.SpecialFunctions.GammaLn(t) - MathNet.Numerics.SpecialFunctions.GammaLn(r.Count + 1) + (t * Math.Log(t / (t + m))) + (r.Count * Math.Log(m / (t + m)))).Sum();
        AssertDigits(LogLikelihood(theta), fit.LogLikelihood, 10, "log-likelihood");
        Assert.True(LogLikelihood(theta * 1.01) < fit.LogLikelihood && LogLikelihood(theta / 1.01) < fit.LogLikelihood);
        Assert.Contains("varies no more than a Poisson count", Assert.Single(Regression.NegativeBinomial(Hives.Select((h, i) => (Count: 5.0 + (i % 2), h.QueenAge)).ToArray(), r => r.Count, r => r.QueenAge).Warnings).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void An_offset_is_a_term_with_coefficient_one()
    {
        var fit = Regression.Poisson(Hives, h => h.Mites, h => new { h.Treated }, offset: h => Math.Log(h.ForageHa));
        var rates = Hives.GroupBy(h => h.Treated).ToDictionary(g => g.Key, g => g.Sum(h => h.Mites) / g.Sum(h => h.ForageHa));
        AssertDigits(Math.Log(rates[false]), fit["intercept"].Estimate, 9, "rate");
        AssertDigits(Math.Log(rates[true] / rates[false]), fit["Treated=yes"].Estimate, 8, "rate ratio");
    }

    [Fact]
    public void Two_way_clusters_add_up()
    {
        var fit = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa });
        double Variance(StandardErrors errors) => Math.Pow(fit.With(errors)["ForageHa"].StandardError, 2);
        var both = Variance(StandardErrors.ClusteredBy((Hive h) => h.Apiary, h => h.QueenAge));
        AssertDigits(
            Variance(StandardErrors.ClusteredBy((Hive h) => h.Apiary)) + Variance(StandardErrors.ClusteredBy((Hive h) => h.QueenAge)) - Variance(StandardErrors.ClusteredBy((Hive h) => (h.Apiary, h.QueenAge))),
            both, 9, "two ways");
        // Each row its own cluster: HC1 without its k.
        AssertDigits(Variance(StandardErrors.Hc0) * 240 / 239 * 239 / 238, Variance(StandardErrors.ClusteredBy((Hive h) => h)), 9, "own clusters");
    }

    [Fact]
    public void Rows_with_missing_values_are_left_out_and_counted()
    {
        Row[] rows = [new(1, 1, "a"), new(2.5, 2, "b"), new(null, 3, "a"), new(4, 4, null), new(double.NaN, 5, "b"), new(5.5, 6, "a"), new(7, 7, "b")];
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Group });
        Assert.Equal((4, 3), (fit.Observations, fit.RowsLeftOut));
        Assert.Equal(["intercept", "X", "Group=b"], fit.Terms.Select(t => t.Name));
        Assert.Equal("a", fit["Group=b"].Term.Reference);
        Assert.Equal(["intercept", "X", "Group=a"], Regression.LeastSquares(rows, r => r.Y, r => new { r.X, Group = Factor(r.Group, reference: "b") }).Terms.Select(t => t.Name));
    }

    [Fact]
    public void Predictions_hold_for_other_records_and_average_out()
    {
        var fit = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain, h.ForageHa, h.Mites });
        var again = fit.Predict(Hives);
        AssertDigits(fit.Fitted[17], again[17]!.Value, 12, "prediction");
        Assert.True(again[17]!.Single!.Value.Low < again[17]!.Mean.Low);
        AssertDigits(again[17]!.StandardError, fit.ResidualStandardError * Math.Sqrt(fit.Leverage()[17]), 9, "error of a prediction");
        Assert.Contains("the level `Wild` of `Strain` was not in the data", Fails(() => fit.Predict([Hives[0] with { Strain = "Wild" }, Hives[1]])), StringComparison.Ordinal);

        var average = fit.PredictedMeans("Strain");
        Assert.Equal(["Amber", "Dusk", "Heath"], average.Select(a => a.Name));
        AssertDigits(fit["Strain=Dusk"].Estimate, average[1].Estimate - average[0].Estimate, 9, "difference of averages");
        var effects = fit.MarginalEffects("Strain");
        AssertDigits(fit["Strain=Heath"].Estimate, effects[1].Estimate, 9, "effect of a level");
        AssertDigits(fit["Strain=Heath"].StandardError, effects[1].StandardError, 9, "its error");
        AssertDigits(fit["ForageHa"].Estimate, Assert.Single(fit.MarginalEffects("ForageHa")).Estimate, 8, "slope");

        var logistic = Regression.Logistic(Hives, h => h.Survived, h => new { h.Mites, h.Treated });
        var slope = Assert.Single(logistic.MarginalEffects("Mites"));
        AssertDigits(logistic.Fitted.Average(p => p * (1 - p)) * logistic["Mites"].Estimate, slope.Estimate, 7, "average slope");
        AssertDigits(Hives.Average(h => h.Survived), logistic.Fitted.Average(), 9, "mean of fitted probabilities");
        Assert.All(logistic.Predict(Hives), p => Assert.InRange(p!.Mean.Low, 0, p.Mean.High));
    }

    [Fact]
    public void Nested_fits_compare_and_terms_are_tested_together()
    {
        var small = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa });
        var large = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Strain });
        var comparison = small.Compare(large);
        var wald = large.Wald("Strain");
        AssertDigits(comparison.Statistic, wald.Statistic, 9, "F");
        Assert.Equal((2, 236.0), (comparison.DegreesOfFreedom, comparison.DenominatorDegreesOfFreedom));
        AssertDigits(large["ForageHa"].PValue, large.Wald("ForageHa").PValue, 9, "one term");
        Assert.Contains("must have more terms", Fails(() => large.Compare(small)), StringComparison.Ordinal);
        var logistic = Regression.Logistic(Hives, h => h.Survived, h => new { h.Mites });
        AssertDigits(2 * (logistic.LogLikelihood - logistic.NullLogLikelihood), logistic.LikelihoodRatioTest().Statistic, 12, "LR");
        var inflation = large.VarianceInflation();
        var forage = Regression.LeastSquares(Hives, h => h.ForageHa, h => new { h.Strain });
        AssertDigits(1 / (1 - forage.RSquared), inflation["ForageHa"], 9, "variance inflation");
    }

    [Fact]
    public void Dependent_columns_are_dropped_and_named()
    {
        var fit = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites, Sum = h.ForageHa + h.Mites, Seven = 7.0 });
        Assert.Equal(["intercept", "ForageHa", "Mites"], fit.Terms.Select(t => t.Name));
        Assert.Equal(["`Sum` depends on the terms before it and was dropped", "`Seven` depends on the terms before it and was dropped"], fit.Warnings.Select(w => w.Message));
        AssertDigits(Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa, h.Mites }).RSquared, fit.RSquared, 12, "R²");
    }

    [Fact]
    public void Robust_errors_of_iterated_fits_by_hand()
    {
        // With one 0/1 term the sandwich has a closed form: the variance of a group's logit is that of its mean over (p q)², without any model.
        var fit = Regression.Logistic(Hives, h => h.Survived, h => new { h.Treated });
        double Variance(bool treated)
        {
            var group = Hives.Where(h => h.Treated == treated).ToArray();
            var p = group.Average(h => h.Survived);
            return group.Sum(h => Math.Pow(h.Survived - p, 2)) / Math.Pow(group.Length * p * (1 - p), 2);
        }
        AssertDigits(Math.Sqrt(Variance(false)), fit.With(StandardErrors.Hc0)["intercept"].StandardError, 8, "intercept");
        AssertDigits(Math.Sqrt(Variance(false) + Variance(true)), fit.With(StandardErrors.Hc0)["Treated=yes"].StandardError, 8, "treated");
        var clustered = fit.With(StandardErrors.ClusteredBy((Hive h) => h));
        AssertDigits(fit.With(StandardErrors.Hc0)["Treated=yes"].StandardError * Math.Sqrt(240.0 / 239), clustered["Treated=yes"].StandardError, 9, "own clusters");
        Assert.Equal(double.PositiveInfinity, clustered.TestDegreesOfFreedom);
    }

    [Fact]
    public void Whole_weights_count_like_repeated_rows()
    {
        var repeated = Hives.SelectMany((h, i) => Enumerable.Repeat(h, 1 + (i % 3))).ToArray();
        var places = Hives.Select((h, i) => (Hive: h, Weight: 1.0 + (i % 3))).ToArray();
        var rows = Regression.LeastSquares(repeated, h => h.HoneyKg, h => new { h.ForageHa, h.Strain });
        var weighted = Regression.LeastSquares(places, p => p.Hive.HoneyKg, p => new { p.Hive.ForageHa, p.Hive.Strain }, weights: p => p.Weight);
        foreach (var term in rows.Terms) AssertDigits(term.Estimate, weighted[term.Name].Estimate, 10, term.Name);
        AssertDigits(rows.ResidualSumOfSquares, weighted.ResidualSumOfSquares, 10, "residual sum of squares");
        AssertDigits(rows.RSquared, weighted.RSquared, 10, "R²");
    }

    [Fact]
    public void Levels_of_enums_numbers_and_yes_or_no_keep_their_order()
    {
        var rows = Enumerable.Range(0, 24).Select(i => (Y: (i % 5) + (0.1 * i), Day: (DayOfWeek)(i % 3), Size: new[] { 10, 9, 100 }[i % 3], Flag: i % 4 == 0)).ToArray();
        Assert.Equal(["intercept", "Day=Monday", "Day=Tuesday"], Regression.LeastSquares(rows, r => r.Y, r => new { r.Day }).Terms.Select(t => t.Name));
        Assert.Equal(["intercept", "Size=10", "Size=100"], Regression.LeastSquares(rows, r => r.Y, r => new { Size = Factor(r.Size) }).Terms.Select(t => t.Name));
        Assert.Equal(["Flag=no", "Flag=yes"], Regression.LeastSquares(rows, r => r.Y, r => new { r.Flag }, intercept: false).Terms.Select(t => t.Name));
        Assert.Equal(["intercept", "Flag=yes", "Size", "Flag=yes × Size"], Regression.LeastSquares(rows, r => r.Y, r => new { r.Flag, r.Size, Both = Cross(r.Flag, r.Size) }).Terms.Select(t => t.Name));
    }

    [Fact]
    public void Arrays_are_fitted_and_what_is_not_finite_is_named()
    {
        Variables.Term x = new("x", "x");
        double[] ones = [1, 1, 1, 1, 1], values = [1, 2, 3, 4, 6], response = [2, 3, 5, 4, 8];
        var fit = Regression.LeastSquares(new Variables.DesignMatrix([ones, values], [Variables.Term.Intercept, x]), response);
        AssertDigits(SquaredCorrelation(values, response), fit.RSquared, 12, "R²");
        var wrong = Fails(() => Regression.LeastSquares(new Variables.DesignMatrix([ones, [1, 2, double.NaN, 4, 6]], [Variables.Term.Intercept, x]), response));
        Assert.Contains("`x` holds values that are missing, infinite or too large", wrong, StringComparison.Ordinal);
        Assert.Contains("the response has 4 rows, but the design has 5", Fails(() => Regression.LeastSquares(new Variables.DesignMatrix([ones], [Variables.Term.Intercept]), [1, 2, 3, 4])), StringComparison.Ordinal);
        Assert.Contains("no term `z`", Fails(() => fit.Wald("z")), StringComparison.Ordinal);
        Assert.Contains("compute predictions from its terms", Fails(() => fit.Predict([1, 2])), StringComparison.Ordinal);

        static double SquaredCorrelation(double[] a, double[] b) => Math.Pow(Comparisons.Correlation.Pearson(a, b).Coefficient, 2);
    }

    [Fact]
    public void Separation_is_told()
    {
        var rows = Enumerable.Range(0, 40).Select(i => new Row(i < 20 ? 0 : 1, i, "g")).ToArray();
        var fit = Regression.Logistic(rows, r => r.Y, r => new { r.X });
        Assert.False(fit.Converged);
        Assert.Contains("the terms separate `Y` perfectly (above all `X`)", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
    }

    public static TheoryData<string, string> Mistakes => new()
    {
        { "few", "3 rows are too few for 3 terms; at least 4 are needed" },
        { "constant", "the response `Y` is 5 in all 4 rows; there is nothing to explain" },
        { "level", "the factor `Group` has only the level `a` in the 4 rows used; leave it out" },
        { "infinite", "`X` is infinite in 1 row; leave them out or transform the variable" },
        { "missing", "none of the 4 rows is complete: `Y` is missing in 4" },
        { "none", "there are no rows" },
        { "negative", "the count `Y` is negative in 2 rows" },
        { "binary", "the response `Y` is neither 0 nor 1 in 2 rows" },
        { "weights", "the weights are zero or negative in 1 row; leave these rows out" },
        { "cluster", "all 4 rows are in one cluster; at least two are needed" },
        { "clusters of another type", "the clusters are a function of `Hive`, but the fit was made from `Row`" },
        { "reference", "the factor `Group` has no level `z` to refer to; its levels are `a`, `b`" },
        { "term", "the fit has no term `Z`; its terms are `intercept`, `X`" },
        { "start", "the curve has no finite value at the starting values in 4 rows; choose others" },
        { "parameter", "the data do not determine the parameter `unused`" },
    };

    [Theory]
    [MemberData(nameof(Mistakes))]
    public void A_mistake_is_told_in_the_readers_words(string which, string expected)
    {
        Row[] good = [new(1, 1, "a"), new(2, 3, "b"), new(4, 4, "a"), new(5, 7, "b")];
        Row[] Change(Func<Row, Row> change, int rows = 4) => [.. good.Take(rows).Select(change).Concat(good.Skip(rows))];
        LinearFit Fit(Row[] rows) => Regression.LeastSquares(rows, r => r.Y, r => new { r.X });
        Assert.Contains(expected, Fails(() => _ = which switch
        {
            "few" => Regression.LeastSquares(good[..3], r => r.Y, r => new { r.X, r.Group }),
            "constant" => Fit(Change(r => r with { Y = 5 })),
            "level" => Regression.LeastSquares(Change(r => r with { Group = "a" }), r => r.Y, r => new { r.X, r.Group }),
            "infinite" => Fit(Change(r => r with { X = double.PositiveInfinity }, 1)),
            "missing" => Fit(Change(r => r with { Y = null })),
            "none" => Fit([]),
            "negative" => Regression.Poisson(Change(r => r with { Y = -1 }, 2), r => r.Y, r => new { r.X }),
            "binary" => Regression.Logistic(Change(r => r with { Y = 1 }, 2), r => r.Y, r => new { r.X }),
            "weights" => Regression.LeastSquares(Change(r => r with { W = 0 }, 1), r => r.Y, r => new { r.X }, weights: r => r.W),
            "cluster" => Fit(good).With(StandardErrors.ClusteredBy((Row _) => "same")),
            "clusters of another type" => Fit(good).With(StandardErrors.ClusteredBy((Hive h) => h.Apiary)),
            "reference" => Regression.LeastSquares(good, r => r.Y, r => new { Group = Factor(r.Group, "z") }),
            "term" => Fit(good)["Z"],
            "start" => Regression.Nonlinear(good, r => r.Y, (p, r) => Math.Log(-1 - r.X) * p[0], ("a", 1)),
            _ => (object)Regression.Nonlinear(good, r => r.Y, (p, r) => p[0] * r.X, ("a", 1), ("unused", 1)),
        }), StringComparison.Ordinal);
    }

    private static string Fails(Action call) => Assert.Throws<AnalysisException>(call).Message;
}
