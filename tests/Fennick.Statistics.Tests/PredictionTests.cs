using Fennick.Statistics.Fits;
using Fennick.Statistics.Variables;
using Xunit;
using static Fennick.Statistics.Tests.Survey;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Statistics.Tests;

/// <summary>Predictions and effects: with offsets and weights, through arithmetic, at any scale, and with absorbed effects.</summary>
public sealed class PredictionTests
{
    private sealed record Count(double Y, double X, double? Exposure, string Site);

    public sealed record Point(double Y, double A, double Z = 1, bool Flag = false, string Place = "a");

    private static readonly Count[] Counts = [.. Enumerable.Range(0, 60).Select(i => new Count(2 + (i * 7 % 11), i % 9, 100 + (i % 4), $"s{i % 3}"))];

    public static IEnumerable<Point> Points(double origin, double width, int n = 60) =>
        Enumerable.Range(0, n).Select(i => (i, t: Math.Round((i * 37 % n / (double)n) - 0.5, 3)))
            .Select(p => new Point(3 + (0.4 * p.t) + (2 * p.t * p.t) - (p.t * p.t * p.t) + (0.3 * Math.Sin(7.7 * p.i)), origin + (width * p.t), 1 + (p.i % 5), p.i % 3 == 0, $"p{p.i % 4}"));

    [Fact]
    public void A_prediction_has_the_offset_of_its_record()
    {
        foreach (var fit in new[]
        {
            Regression.Poisson(Counts, c => c.Y, c => new { c.X, c.Site }, offset: c => Math.Log(c.Exposure!.Value)),
            Regression.NegativeBinomial([.. Counts.Select(c => c with { Y = c.Y * (c.X % 2 == 0 ? 3 : 0) })], c => c.Y, c => new { c.X, c.Site }, offset: c => Math.Log(c.Exposure!.Value)),
        })
        {
            var predicted = fit.Predict(Counts);
            for (var i = 0; i < Counts.Length; i++) AssertDigits(fit.Fitted[i], predicted[i]!.Value, 9, $"row {i}");
            AssertDigits(2 * fit.Fitted[0], fit.Predict([Counts[0] with { Exposure = 200 }])[0]!.Value, 9, "twice the exposure");
            Assert.Null(fit.Predict([Counts[0] with { Exposure = null }])[0]);
        }
    }

    [Fact]
    public void A_single_response_has_the_variance_of_its_weight()
    {
        var fit = Regression.LeastSquares(Hives, h => h.HoneyKg, h => new { h.ForageHa }, weights: h => h.Weight);
        double Width(double weight) => fit.Predict([Hives[0] with { Weight = weight }])[0] is { Single: { } s } p ? Math.Pow((s.High - s.Low) / 2 / (fit["ForageHa"].Interval().High - fit["ForageHa"].Interval().Low) * 2 * fit["ForageHa"].StandardError, 2) - (p.StandardError * p.StandardError) : 0;
        AssertDigits(Width(1), fit.ResidualStandardError * fit.ResidualStandardError, 9, "variance of weight 1");
        AssertDigits(Width(1) / 4, Width(4), 9, "variance of weight 4");
        Assert.Null(fit.Predict([Hives[0] with { Weight = double.NaN }])[0]!.Single);
    }

    [Theory]
    [InlineData(500_000, 100)]
    [InlineData(20_050, 40)]
    [InlineData(2_460_000, 800)]
    public void Errors_of_predictions_do_not_cancel(double origin, double width)
    {
        Point[] far = [.. Points(origin, width)];
        Point[] near = [.. far.Select(p => p with { A = p.A - origin })];
        var (f, n) = (Regression.LeastSquares(far, p => p.Y, p => new { p.A, Sq = p.A * p.A }), Regression.LeastSquares(near, p => p.Y, p => new { p.A, Sq = p.A * p.A }));
        foreach (var errors in (StandardErrors[])[StandardErrors.Classical, StandardErrors.Hc1, StandardErrors.Hc3, StandardErrors.ClusteredBy((Point p) => p.Place)])
        {
            var (a, b) = (f.With(errors).Predict(far), n.With(errors).Predict(near));
            for (var i = 0; i < far.Length; i++)
            {
                AssertDigits(b[i]!.Value, a[i]!.Value, 8, "value");
                AssertDigits(b[i]!.StandardError, a[i]!.StandardError, 6, $"{errors.Name}, row {i}");
            }
        }
        var cubic = Regression.LeastSquares(far, p => p.Y, p => new { p.A, Sq = p.A * p.A, Cu = p.A * p.A * p.A });
        var truth = Regression.LeastSquares(near, p => p.Y, p => new { p.A, Sq = p.A * p.A, Cu = p.A * p.A * p.A });
        if (cubic.Warnings.IsEmpty) AssertDigits(truth.Predict(near)[7]!.StandardError, cubic.Predict(far)[7]!.StandardError, 3, "cubic");
        else Assert.Contains("dropped", Assert.Single(cubic.Warnings).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(2012, 24)]
    [InlineData(0, 1e-12)]
    [InlineData(2_460_000, 800)]
    [InlineData(5_400_000, 200)]
    public void An_effect_goes_through_every_term_at_any_scale(double origin, double width)
    {
        Point[] far = [.. Points(origin, width)];
        Point[] near = [.. far.Select(p => p with { A = (p.A - origin) / width })];
        void Same(RegressionFit a, RegressionFit b, int digits)
        {
            var (x, y) = (Assert.Single(a.MarginalEffects("A")), Assert.Single(b.MarginalEffects("A")));
            AssertDigits(y.Estimate / width, x.Estimate, digits, "effect");
            AssertDigits(y.StandardError / width, x.StandardError, digits, "error");
        }
        Same(Regression.LeastSquares(far, p => p.Y, p => new { p.A, Sq = p.A * p.A }), Regression.LeastSquares(near, p => p.Y, p => new { p.A, Sq = p.A * p.A }), 5);
        Same(Regression.LeastSquares(far, p => p.Y, p => new { p.A, p.Z, Both = p.A * p.Z, p.Place, Other = Cross(p.A, p.Place) }), Regression.LeastSquares(near, p => p.Y, p => new { p.A, p.Z, Both = p.A * p.Z, p.Place, Other = Cross(p.A, p.Place) }), 6);
        Same(Regression.Logistic(far, p => p.Y > 3.2 ? 1 : 0, p => new { p.A, Sq = Math.Pow(p.A, 2), p.Z }), Regression.Logistic(near, p => p.Y > 3.2 ? 1 : 0, p => new { p.A, Sq = Math.Pow(p.A, 2), p.Z }), 4);
    }

    [Fact]
    public void Effects_are_derivatives_of_what_is_written()
    {
        Point[] rows = [.. Points(5, 4)];
        var fit = Regression.LeastSquares(rows, p => p.Y, p => new { p.A, Log = Math.Log(p.A), Root = Math.Sqrt(p.A * p.Z), Bent = Math.Max(0, p.A - 5), Chosen = p.Flag ? p.A : 2 * p.A });
        var b = fit.Terms.Select(t => t.Estimate).ToArray();
        var truth = rows.Average(p => b[1] + (b[2] / p.A) + (b[3] * Math.Sqrt(p.Z / p.A) / 2) + (p.A > 5 ? b[4] : 0) + (b[5] * (p.Flag ? 1 : 2)));
        AssertDigits(truth, Assert.Single(fit.MarginalEffects("A")).Estimate, 9, "effect");

        // A factor moves the terms that are computed from it too.
        var switched = Regression.LeastSquares(rows, p => p.Y, p => new { p.A, p.Flag, Slope = p.Flag ? p.A : 0 });
        AssertDigits(switched["Flag=yes"].Estimate + (switched["Slope"].Estimate * rows.Average(p => p.A)), Assert.Single(switched.MarginalEffects("Flag")).Estimate, 9, "factor");

        // Poisson: the mean moves with the curvature of its logarithm; checked against a step.
        var counts = Regression.Poisson(rows, p => Math.Round(p.Y * 3), p => new { p.A, Sq = p.A * p.A, p.Place });
        double Mean(double step) => counts.Predict([.. rows.Select(p => p with { A = p.A + step })]).Average(p => p!.Value);
        AssertDigits((Mean(1e-4) - Mean(-1e-4)) / 2e-4, Assert.Single(counts.MarginalEffects("A")).Estimate, 7, "Poisson");
        foreach (var (name, function) in new (string, System.Linq.Expressions.Expression<Func<Point, object?>>)[]
        {
            ("Exp", p => Math.Exp(p.A / 5)), ("Log10", p => Math.Log10(p.A)), ("Log2", p => Math.Log2(p.A)), ("Log", p => Math.Log(p.A, 3)), ("LogP1", p => double.LogP1(p.A)), ("Cbrt", p => Math.Cbrt(p.A)), ("Sin", p => Math.Sin(p.A)), ("Cos", p => Math.Cos(p.A)),
            ("Tan", p => Math.Tan(p.A / 9)), ("Asin", p => Math.Asin(p.A / 9)), ("Acos", p => Math.Acos(p.A / 9)), ("Atan", p => Math.Atan(p.A)), ("Sinh", p => Math.Sinh(p.A)), ("Cosh", p => Math.Cosh(p.A)), ("Tanh", p => Math.Tanh(p.A)), ("Abs", p => Math.Abs(p.A - 5.0171)),
            ("Min", p => Math.Min(p.A, 5.0171)), ("Pow", p => Math.Pow(1.3, p.A)), ("Clamp", p => Math.Clamp(p.A, 4.0171, 6.0171)), ("quotient", p => (p.A + 1) / (p.A + p.Z)), ("decimals", p => (decimal)p.A * 2m),
        })
        {
            var single = Regression.LeastSquares(rows, p => p.Y, function);
            double Value(double step) => single.Predict([.. rows.Select(p => p with { A = p.A + step })]).Average(p => p!.Value);
            var steps = (Value(1e-5) - Value(-1e-5)) / 2e-5;
            AssertDigits(steps, Assert.Single(single.MarginalEffects("A")).Estimate, 5, name);
        }
    }

    [Fact]
    public void Errors_of_effects_are_those_of_the_delta_method()
    {
        Point[] rows = [.. Points(5, 4)];
        var fit = Regression.Logistic(rows, p => p.Y > 3.2 ? 1 : 0, p => new { p.A, Sq = p.A * p.A, p.Z });
        // The effect as a function of the coefficients, its gradient by steps.
        double Effect(double[] b) => rows.Average(p => 1 / (1 + Math.Exp(-(b[0] + (b[1] * p.A) + (b[2] * p.A * p.A) + (b[3] * p.Z)))) is var q ? q * (1 - q) * (b[1] + (2 * p.A * b[2])) : 0);
        var at = fit.Terms.Select(t => t.Estimate).ToArray();
        var gradient = at.Select((b, c) =>
        {
            var (low, high) = ((double[])at.Clone(), (double[])at.Clone());
            (low[c], high[c]) = (b - (1e-5 * Math.Abs(b)), b + (1e-5 * Math.Abs(b)));
            return (Effect(high) - Effect(low)) / (high[c] - low[c]);
        }).ToArray();
        var covariance = fit.Covariance();
        var variance = gradient.SelectMany((g, i) => gradient.Select((h, j) => g * covariance[i, j] * h)).Sum();
        AssertDigits(Effect(at), fit.MarginalEffects("A")[0].Estimate, 9, "effect");
        AssertDigits(Math.Sqrt(variance), fit.MarginalEffects("A")[0].StandardError, 5, "error");
    }

    [Fact]
    public void What_has_no_slope_is_refused_in_the_readers_words()
    {
        Point[] rows = [.. Points(5, 4)];
        string Refused(LinearFit fit, string name) => Assert.Throws<AnalysisException>(() => fit.MarginalEffects(name)).Message;
        Assert.Contains("`A` cannot be computed through `Round(A)`: it jumps", Refused(Regression.LeastSquares(rows, p => p.Y, p => new { p.A, R = Math.Round(p.A) }), "A"), StringComparison.Ordinal);
        Assert.Contains("computed through `Bend(A)`", Refused(Regression.LeastSquares(rows, p => p.Y, p => new { R = Bend(p.A) }), "A"), StringComparison.Ordinal);
        Assert.Contains("the factor `High` is made from `A` too and jumps with it", Refused(Regression.LeastSquares(rows, p => p.Y, p => new { p.A, High = p.A > 5 }), "A"), StringComparison.Ordinal);
        Assert.Contains("`Sq` is computed from `A`, and so is `A`", Refused(Regression.LeastSquares(rows, p => p.Y, p => new { p.A, Sq = p.A * p.A }), "Sq"), StringComparison.Ordinal);
        Assert.Contains("no variable `B`; its variables are `A`", Refused(Regression.LeastSquares(rows, p => p.Y, p => new { p.A }), "B"), StringComparison.Ordinal);
        // By itself a transformation is a variable like any other.
        var log = Regression.LeastSquares(rows, p => p.Y, p => new { LogA = Math.Log(p.A), p.Z });
        AssertDigits(log["LogA"].Estimate, Assert.Single(log.MarginalEffects("LogA")).Estimate, 12, "own unit");
        AssertDigits(log["LogA"].Estimate * rows.Average(p => 1 / p.A), Assert.Single(log.MarginalEffects("A")).Estimate, 10, "member");
    }

    private static double Bend(double a) => a * a;

    [Fact]
    public void Absorbed_effects_predict_and_average_as_their_columns_would()
    {
        var many = Hives.ToArray();
        void Compare(LinearFit columns, LinearFit absorbed)
        {
            foreach (var errors in (StandardErrors[])[StandardErrors.Classical, StandardErrors.Hc0, StandardErrors.Hc1, StandardErrors.Hc2, StandardErrors.Hc3])
            {
                var (c, a) = (columns.With(errors), absorbed.With(errors));
                AssertDigits(c["Mites"].StandardError, a["Mites"].StandardError, 9, errors.Name);
                var (own, other) = (c.Predict(many[..30]), a.Predict(many[..30]));
                for (var i = 0; i < 30; i++)
                {
                    AssertDigits(own[i]!.Value, other[i]!.Value, 9, "prediction");
                    AssertDigits(own[i]!.StandardError, other[i]!.StandardError, 8, $"its error, {errors.Name}");
                }
                foreach (var (x, y) in c.PredictedMeans("Strain").Zip(a.PredictedMeans("Strain")).Concat(c.MarginalEffects("Mites").Zip(a.MarginalEffects("Mites"))).Concat(c.MarginalEffects("Strain").Zip(a.MarginalEffects("Strain"))))
                {
                    AssertDigits(x.Estimate, y.Estimate, 9, x.Name);
                    AssertDigits(x.StandardError, y.StandardError, 8, $"error of {x.Name}, {errors.Name}");
                }
            }
            AssertDigits(columns.Aic, absorbed.Aic, 10, "AIC");
            AssertDigits(columns.Bic, absorbed.Bic, 10, "BIC");
            AssertDigits(columns.VarianceInflation()["Mites"], absorbed.VarianceInflation()["Mites"], 9, "inflation");
            for (var i = 0; i < many.Length; i++) AssertDigits(columns.Leverage()[i], absorbed.Leverage()[i], 9, "leverage");
        }
        Compare(Regression.LeastSquares(many, h => h.HoneyKg, h => new { h.Mites, h.Strain, h.Apiary }), Regression.FixedEffects(many, h => h.HoneyKg, h => new { h.Mites, h.Strain }, h => h.Apiary));
        Compare(Regression.LeastSquares(many, h => h.HoneyKg, h => new { h.Mites, h.Strain, h.Apiary, Age = Factor(h.QueenAge) }), Regression.FixedEffects(many, h => h.HoneyKg, h => new { h.Mites, h.Strain }, h => h.QueenAge, h => h.Apiary));
        var fit = Regression.FixedEffects(many, h => h.HoneyKg, h => new { h.Mites }, h => h.Apiary, h => h.QueenAge);
        Assert.Contains("the level `nowhere` of `Apiary` was not in the data of the fit", Assert.Throws<AnalysisException>(() => fit.Predict([many[0] with { Apiary = "nowhere" }])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Fits_in_two_stages_and_of_columns_predict_too()
    {
        var fit = Regression.TwoStageLeastSquares(Hives, h => h.HoneyKg, h => new { h.Strain }, h => new { h.Mites }, h => new { h.QueenAge, h.SpringTemp, h.Treated });
        for (var i = 0; i < 20; i++) AssertDigits(fit.Fitted[i], fit.Predict(Hives)[i]!.Value, 10, "two stages");
        var columns = Regression.LeastSquares(new Named(Hives), "HoneyKg", "Mites", "Strain");
        for (var i = 0; i < 20; i++) AssertDigits(columns.Fitted[i], columns.Predict(new Named(Hives))[i]!.Value, 12, "columns");
        AssertDigits(columns["Mites"].Estimate, Assert.Single(columns.MarginalEffects("Mites")).Estimate, 12, "effect");
        Assert.Contains("predictions need columns too", Assert.Throws<AnalysisException>(() => columns.Predict(Hives)).Message, StringComparison.Ordinal);
    }

    private sealed class Named(IReadOnlyList<Hive> hives) : IColumnSource
    {
        public IReadOnlyList<string> Names => ["HoneyKg", "Mites", "Strain"];

        public Variable Column(string name) => Variable.Read(hives, h => new { h.HoneyKg, h.Mites, h.Strain }).Single(v => v.Name == name) is NumericVariable n ? new NumericVariable(name, n.Values) : FactorVariable.Of(name, [.. hives.Select(h => h.Strain)]);
    }
}
