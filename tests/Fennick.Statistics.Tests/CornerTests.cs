using Fennick.Statistics.Comparisons;
using Fennick.Statistics.Fits;
using Fennick.Statistics.Summaries;
using Fennick.Statistics.Variables;
using Xunit;
using static Fennick.Statistics.Tests.Survey;
using static Fennick.Statistics.Variables.Terms;

namespace Fennick.Statistics.Tests;

/// <summary>The corners: what is dependent, undefined, separated, tiny or huge is right, refused or marked.</summary>
public sealed class CornerTests
{
    private sealed record Row(double Y, double? X, double? Z, string Group, string Firm = "f");

    private static Row[] Rows(int n = 40) => [.. Enumerable.Range(0, n).Select(i => new Row(3 + (i * 7 % 11) + (i / 10.0), 1 + (i * 13 % 17), 2 + (i % 5), $"g{i % 4}", $"f{i % 3}"))];

    private static StandardErrors[] AllErrors<T>(Func<T, object?> first, Func<T, object?> second) =>
        [StandardErrors.Classical, StandardErrors.Hc0, StandardErrors.Hc1, StandardErrors.Hc2, StandardErrors.Hc3, StandardErrors.ClusteredBy(first), StandardErrors.ClusteredBy(first, second)];

    private static double scale = 2;

    /// <summary>Formulas are compiled once; what differs in nothing but a number, a member, or what stands around it is another one.</summary>
    [Fact]
    public void Formulas_that_look_alike_are_not_taken_for_each_other()
    {
        var rows = Rows();
        double Slope(double factor) => Regression.LeastSquares(rows, r => r.Y, r => new { T = r.X * factor }).Terms[1].Estimate;
        var plain = Slope(1);
        foreach (var factor in new[] { 2, 3, 2, 5, -1.0 }) AssertDigits(plain / factor, Slope(factor), 12, $"times {factor}");
        for (var round = 0; round < 2; round++)
        {
            AssertDigits(plain / 4, Regression.LeastSquares(rows, r => r.Y, r => new { T = r.X * 4 }).Terms[1].Estimate, 12, "times 4");
            AssertDigits(plain / 4.5, Regression.LeastSquares(rows, r => r.Y, r => new { T = r.X * 4.5 }).Terms[1].Estimate, 12, "times 4.5");
            AssertDigits(plain, Regression.LeastSquares(rows, r => r.Y, r => new { T = r.X + 4 }).Terms[1].Estimate, 12, "plus 4");
            Assert.Equal("g1", Regression.LeastSquares(rows, r => r.Y, r => new { G = r.Group == "g1" ? "g1" : "g0" }).Terms[1].Name[^2..]);
            Assert.Equal("g2", Regression.LeastSquares(rows, r => r.Y, r => new { G = r.Group == "g2" ? "g2" : "g0" }).Terms[1].Name[^2..]);
            scale = round + 2;
            AssertDigits(plain / scale, Regression.LeastSquares(rows, r => r.Y, r => new { T = r.X * scale }).Terms[1].Estimate, 12, "a field");
            AssertDigits(Regression.LeastSquares(rows, r => r.Y, r => new { r.Z }).Terms[1].Estimate / 4, Regression.LeastSquares(rows, r => r.Y, r => new { T = r.Z * 4 }).Terms[1].Estimate, 12, "another member");
            var logs = Regression.LeastSquares(rows, r => r.Y, r => new { T = Math.Log(r.X!.Value) }).Terms[1].Estimate;
            AssertDigits(logs * Math.Log(10), Regression.LeastSquares(rows, r => r.Y, r => new { T = Math.Log10(r.X!.Value) }).Terms[1].Estimate, 11, "another function");
        }
    }

    [Fact]
    public void A_dropped_column_may_stand_anywhere()
    {
        var rows = Rows();
        var without = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Z, r.Group });
        var dropped = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, Twice = 2 * r.X, r.Z, r.Group });
        Assert.Contains("`Twice` depends on the terms before it", Assert.Single(dropped.Warnings).Message, StringComparison.Ordinal);
        foreach (var errors in AllErrors((Row r) => r.Group, r => r.Z))
            foreach (var term in without.With(errors).Terms) AssertDigits(term.StandardError, dropped.With(errors)[term.Name].StandardError, 9, $"{errors.Name} of {term.Name}");
        AssertDigits(without.Leverage()[5], dropped.Leverage()[5], 10, "leverage");
        AssertDigits(without.Predict(rows)[5]!.StandardError, dropped.Predict(rows)[5]!.StandardError, 9, "prediction");
        AssertDigits(without.MarginalEffects("Z")[0].StandardError, dropped.MarginalEffects("Z")[0].StandardError, 9, "effect");
        AssertDigits(without.VarianceInflation()["Z"], dropped.VarianceInflation()["Z"], 9, "inflation");

        var stage = Regression.TwoStageLeastSquares(rows, r => r.Y, r => new { r.Z, Twice = 2 * r.Z, r.Group }, r => new { r.X }, r => new { W = r.X * r.X, V = r.Y * r.Y });
        var clean = Regression.TwoStageLeastSquares(rows, r => r.Y, r => new { r.Z, r.Group }, r => new { r.X }, r => new { W = r.X * r.X, V = r.Y * r.Y });
        AssertDigits(clean.With(StandardErrors.Hc3)["X"].StandardError, stage.With(StandardErrors.Hc3)["X"].StandardError, 9, "two stages");
        var absorbed = Regression.FixedEffects(rows, r => r.Y, r => new { Twice = 2 * r.X, r.X, r.Z }, r => r.Group);
        AssertDigits(without.With(StandardErrors.Hc2)["Z"].StandardError, absorbed.With(StandardErrors.Hc2)["Z"].StandardError, 9, "absorbed");
        var counts = Regression.Poisson(rows, r => r.Y, r => new { r.X, Twice = 2 * r.X, r.Z });
        AssertDigits(Regression.Poisson(rows, r => r.Y, r => new { r.X, r.Z }).With(StandardErrors.Hc0)["Z"].StandardError, counts.With(StandardErrors.Hc0)["Z"].StandardError, 8, "Poisson");
    }

    [Fact]
    public void A_factor_of_many_levels_fits_as_columns_do()
    {
        var random = new Random(7);
        var rows = Enumerable.Range(0, 300).Select(i => new Row(random.NextDouble() + (i % 20 / 10.0), random.NextDouble(), random.Next(6), $"g{i * i % 20}", $"f{i % 7}")).ToArray();
        // The same as columns: without an intercept the first factor has all levels, and the second one's are columns.
        var grouped = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Group, r.Z, r.Firm }, weights: r => 1 + r.Z);
        double[] One(Func<Row, double> value) => [.. rows.Select(value)];
        string[] groups = [.. rows.Select(r => r.Group).Distinct().Order(NaturalOrder.Comparer)], firms = [.. rows.Select(r => r.Firm).Distinct().Order(StringComparer.Ordinal)];
        var columns = new DesignMatrix([One(_ => 1), One(r => r.X!.Value), .. groups.Skip(1).Select(g => One(r => r.Group == g ? 1 : 0)), One(r => r.Z!.Value), .. firms.Skip(1).Select(f => One(r => r.Firm == f ? 1 : 0))], grouped.Terms.Select(t => t.Term).ToArray().AsSpan().ToArray() is var terms ? [.. terms] : []);
        var dense = Regression.LeastSquares(columns, One(r => r.Y), One(r => 1 + r.Z!.Value));
        Assert.Equal(dense.Terms.Select(t => t.Name), grouped.Terms.Select(t => t.Name));
        var firmCodes = rows.Select(r => r.Firm[1] - '0').ToArray();
        foreach (var (a, b) in new[] { (StandardErrors.Classical, StandardErrors.Classical), (StandardErrors.Hc0, StandardErrors.Hc0), (StandardErrors.Hc2, StandardErrors.Hc2), (StandardErrors.Hc3, StandardErrors.Hc3), (StandardErrors.ClusteredBy((Row r) => r.Firm), StandardErrors.ClusteredBy(firmCodes)) })
        {
            var (x, y) = (grouped.With(a), dense.With(b));
            foreach (var (own, other) in x.Terms.Zip(y.Terms))
            {
                AssertDigits(other.Estimate, own.Estimate, 9, own.Name);
                AssertDigits(other.StandardError, own.StandardError, 8, $"{a.Name} of {own.Name}");
            }
            AssertDigits(y.Covariance()[2, 5], x.Covariance()[2, 5], 7, "covariance");
            if (a.Name.StartsWith("clustered", StringComparison.Ordinal)) continue;
            AssertDigits(y.Wald("Group").Statistic, x.Wald("Group").Statistic, 8, "Wald");
        }
        AssertDigits(dense.LogLikelihood, grouped.LogLikelihood, 11, "log-likelihood");
        foreach (var (name, inflation) in dense.VarianceInflation()) AssertDigits(inflation, grouped.VarianceInflation()[name], 9, $"inflation of {name}");
        for (var i = 0; i < 20; i++) AssertDigits(dense.Leverage()[i], grouped.Leverage()[i], 10, "leverage");
        AssertDigits(grouped.Predict(rows)[3]!.StandardError, Math.Sqrt(grouped.Leverage()[3] / (1 + rows[3].Z!.Value)) * grouped.ResidualStandardError, 9, "prediction");
        AssertDigits(grouped["Group=g16"].Estimate, grouped.MarginalEffects("Group").Single(e => e.Name == "g16").Estimate, 9, "effect of a level");
        AssertDigits(grouped["Group=g16"].StandardError, grouped.MarginalEffects("Group").Single(e => e.Name == "g16").StandardError, 9, "its error");
        // A term before the factor that depends on it keeps its place, and a level goes.
        var late = Regression.LeastSquares(rows, r => r.Y, r => new { Size = r.Group.Length * 1.0, r.Group });
        Assert.StartsWith("`Group=g", Assert.Single(late.Warnings).Message, StringComparison.Ordinal);
        var binary = Regression.Logistic(rows, r => r.Y > 1.4 ? 1 : 0, r => new { r.X, r.Group });
        Assert.All(binary.Terms, t => Assert.True(double.IsFinite(t.StandardError) || !binary.Warnings.IsEmpty));
        Assert.InRange(rows.Zip(binary.Fitted, (r, f) => r.Group == "g1" ? (r.Y > 1.4 ? 1 : 0) - f : 0).Sum(), -1e-7, 1e-7);
    }

    [Fact]
    public void Absorption_ends_on_sparse_data()
    {
        // A chain: each group of one grouping shares a row with the next of the other.
        var chain = Enumerable.Range(0, 50).SelectMany(i => Enumerable.Range(0, 3).Select(j => (First: i, Second: j == 0 ? i : i + 1, X: Math.Sin(i + (5 * j)), Y: Math.Cos((3 * i) + j)))).ToArray();
        var absorbed = Regression.FixedEffects(chain, r => r.Y, r => new { r.X }, r => r.First, r => r.Second);
        var columns = Regression.LeastSquares(chain, r => r.Y, r => new { r.X, A = Factor(r.First), B = Factor(r.Second) });
        AssertDigits(columns["X"].Estimate, absorbed["X"].Estimate, 9, "estimate");
        AssertDigits(columns["X"].StandardError, absorbed["X"].StandardError, 9, "error");
        AssertDigits(columns.With(StandardErrors.Hc3)["X"].StandardError, absorbed.With(StandardErrors.Hc3)["X"].StandardError, 8, "HC3");
        Assert.Equal(columns.ResidualDegreesOfFreedom, absorbed.ResidualDegreesOfFreedom);
        AssertDigits(columns.Predict(chain)[4]!.StandardError, absorbed.Predict(chain)[4]!.StandardError, 8, "prediction");

        // Workers and firms, with 5 % of the workers moving.
        var random = new Random(3);
        var panel = Enumerable.Range(0, 2000).SelectMany(worker => Enumerable.Range(0, 5).Select(year => (Worker: worker, Firm: (worker % 300) + (year > 2 && worker % 20 == 0 ? 1 + (worker / 20 % 7) : 0), X: random.NextDouble(), Noise: random.NextDouble() * 0.1)))
            .Select(r => (r.Worker, r.Firm, r.X, Y: (0.5 * r.X) + (r.Worker % 13) + Math.Sqrt(r.Firm) + r.Noise)).ToArray();
        var fit = Regression.FixedEffects(panel, r => r.Y, r => new { r.X }, r => r.Worker, r => r.Firm);
        Assert.InRange(fit["X"].Estimate, 0.49, 0.51);
        foreach (var group in panel.Zip(fit.Residuals, (r, e) => (r.Firm, e)).GroupBy(r => r.Firm).Take(50)) Assert.InRange(group.Sum(r => r.e), -1e-9, 1e-9);
        Assert.Contains("no rows of the fit link", Assert.Throws<AnalysisException>(() => Regression.FixedEffects([.. chain, .. chain.Select(c => (First: c.First + 100, Second: c.Second + 100, c.X, Y: c.Y * 2))], r => r.Y, r => new { r.X }, r => r.First, r => r.Second)
            .Predict([(First: 3, Second: 104, X: 1.0, Y: 0.0)])).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void The_constant_may_stand_anywhere_and_alone()
    {
        var rows = Rows();
        double[] ones = [.. rows.Select(_ => 1.0)], x = [.. rows.Select(r => r.X!.Value)], y = [.. rows.Select(r => r.Y)];
        var usual = Regression.LeastSquares(rows, r => r.Y, r => new { r.X });
        foreach (var (columns, names) in new (double[][], string[])[] { ([x, ones], ["x", "intercept"]), ([ones, x], ["one", "x"]), ([[.. ones.Select(_ => 4.0)], x], ["four", "x"]) })
        {
            var fit = Regression.LeastSquares(new DesignMatrix(columns, [.. names.Select(n => new Term(n, n))]), y);
            AssertDigits(usual.FTest().Statistic, fit.FTest().Statistic, 10, "F");
            AssertDigits(usual.RSquared, fit.RSquared, 10, "R²");
            AssertDigits(usual["X"].StandardError, fit["x"].StandardError, 10, "error");
            var own = names.Single(n => n != "x");
            AssertDigits(usual["intercept"].Estimate / (own == "four" ? 4 : 1), fit[own].Estimate, 10, own);
            AssertDigits(usual.With(StandardErrors.Hc2)["intercept"].StandardError / (own == "four" ? 4 : 1), fit.With(StandardErrors.Hc2)[own].StandardError, 10, own);
        }
        var alone = Regression.LeastSquares(rows, r => r.Y, r => new { });
        AssertDigits(y.Average(), alone["intercept"].Estimate, 12, "mean");
        AssertDigits(Description.Of(y, v => v).StandardDeviation!.Value / Math.Sqrt(y.Length), alone["intercept"].StandardError, 12, "its error");
        Assert.Contains("no terms to test", Assert.Throws<AnalysisException>(() => alone.FTest()).Message, StringComparison.Ordinal);
        AssertDigits(usual.FTest().Statistic, alone.Compare(usual).Statistic, 10, "comparison");
        AssertDigits(Math.Log(y.Average()), Regression.Poisson(rows, r => r.Y, r => new { })["intercept"].Estimate, 10, "Poisson");
        var logistic = Regression.Logistic(rows, r => r.Y > 8 ? 1 : 0, r => new { });
        Assert.InRange(logistic.PseudoRSquared, -1e-12, 1e-12);
        Assert.Contains("no terms to test", Assert.Throws<AnalysisException>(() => logistic.LikelihoodRatioTest()).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Fits_compare_only_if_nothing_but_the_terms_differs()
    {
        var rows = Rows();
        string Refused(Action compare) => Assert.Throws<AnalysisException>(compare).Message;
        var small = Regression.LeastSquares(rows, r => r.Y, r => new { r.X });
        Assert.Contains("their weights are not the same", Refused(() => small.Compare(Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Z }, weights: r => r.Z))), StringComparison.Ordinal);
        var holes = rows.Select((r, i) => i is 4 or 9 ? r with { Z = null } : r).ToArray();
        Assert.Equal("the fits do not compare: one has 40 rows, the other 38 rows: 2 rows (row 5, 10) only in the first, none only in the second; fit both to the rows that are complete in both",
            Refused(() => Regression.LeastSquares(holes, r => r.Y, r => new { r.X }).Compare(Regression.LeastSquares(holes, r => r.Y, r => new { r.X, r.Z }))));
        Assert.Contains("the values of `Y` are not the same", Refused(() => small.Compare(Regression.LeastSquares([.. rows.Select(r => r with { Y = r.Y + 1 })], r => r.Y, r => new { r.X, r.Z }))), StringComparison.Ordinal);
        Assert.Contains("the term `X` of the first is not among", Refused(() => small.Compare(Regression.LeastSquares(rows, r => r.Y, r => new { r.Z, r.Group }))), StringComparison.Ordinal);
        Assert.Contains("one is by Poisson regression, the other by negative binomial regression", Refused(() => Regression.Poisson(rows, r => r.Y, r => new { r.X }).Compare(Regression.NegativeBinomial(rows, r => r.Y, r => new { r.X, r.Z }))), StringComparison.Ordinal);
        Assert.Contains("offsets", Refused(() => Regression.Poisson(rows, r => r.Y, r => new { r.X }).Compare(Regression.Poisson(rows, r => r.Y, r => new { r.X, r.Z }, offset: r => r.Z))), StringComparison.Ordinal);
        // Weighted fits compare like the Wald test of the added term.
        var (a, b) = (Regression.LeastSquares(rows, r => r.Y, r => new { r.X }, weights: r => r.Z), Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Group }, weights: r => r.Z));
        AssertDigits(b.Wald("Group").Statistic, a.Compare(b).Statistic, 9, "F");
    }

    [Fact]
    public void Tests_with_few_clusters_are_refused_and_odd_variances_mended()
    {
        var rows = Rows();
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Z, Sq = r.X * r.X, r.Group });
        var clustered = fit.With(StandardErrors.ClusteredBy((Row r) => r.Firm));
        Assert.Contains("6 terms cannot be tested together with errors clustered in 3 groups, which tell at most 2 apart", Assert.Throws<AnalysisException>(() => clustered.FTest()).Message, StringComparison.Ordinal);
        Assert.True(double.IsFinite(clustered.Wald("X", "Z").Statistic));
        var two = Enumerable.Range(0, 24).Select(i => (Y: ((i / 4) + (i % 4)) % 2 == 0 ? 1.0 + (i % 3) : -1.0 - (i % 3), X: ((i / 4) % 2) == 0 ? 1.0 : -1 + (i % 4), Row: i / 4, Column: i % 4)).ToArray();
        var odd = Regression.LeastSquares(two, r => r.Y, r => new { r.X, Sq = r.X * r.X }).With(StandardErrors.ClusteredBy(((double Y, double X, int Row, int Column) r) => r.Row, r => r.Column));
        Assert.All(odd.Terms, t => Assert.True(t.StandardError >= 0));
        Assert.Contains("negative eigenvalues were set to zero", Assert.Single(odd.Warnings).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_level_of_one_row_has_a_defined_error_and_a_warning()
    {
        Row[] rows = [.. Rows(), new Row(9, 3, 4, "alone")];
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, r.Group }).With(StandardErrors.Hc3);
        Assert.All(fit.Terms, t => Assert.True(double.IsFinite(t.StandardError)));
        Assert.Contains("1 row (of `Group=alone`) decides its own fitted value", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
        // The other terms are as without the row.
        AssertDigits(Regression.LeastSquares(Rows(), r => r.Y, r => new { r.X, r.Group }).With(StandardErrors.Hc3)["X"].StandardError, fit["X"].StandardError, 9, "X");
        Assert.Empty(fit.With(StandardErrors.Hc1).Warnings);
    }

    [Fact]
    public void Estimates_without_a_finite_value_are_marked()
    {
        var rows = Rows().Select(r => r with { Y = r.Group == "g2" ? 0 : r.Y }).ToArray();
        var fit = Regression.Poisson(rows, r => Math.Round(r.Y), r => new { r.X, r.Group });
        Assert.Equal((double.NegativeInfinity, double.PositiveInfinity), (fit["Group=g2"].Estimate, fit["Group=g2"].StandardError));
        Assert.True(double.IsNaN(fit["Group=g2"].PValue));
        Assert.Contains("is 0 for certain in 10 rows: the estimate of `Group=g2` has no finite value", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
        var without = Regression.Poisson([.. rows.Where(r => r.Group != "g2")], r => Math.Round(r.Y), r => new { r.X, r.Group });
        foreach (var term in without.Terms)
        {
            AssertDigits(term.Estimate, fit[term.Name].Estimate, 7, term.Name);
            AssertDigits(term.StandardError, fit[term.Name].StandardError, 7, term.Name);
        }
        AssertDigits(without.LogLikelihood, fit.LogLikelihood, 9, "log-likelihood");
        Assert.Contains("has no finite estimate", Assert.Throws<AnalysisException>(() => fit.Wald("Group")).Message, StringComparison.Ordinal);
        Assert.All(fit.Predict(rows), p => Assert.True(double.IsFinite(p!.Value)));
        var quasi = Regression.Logistic(rows, r => r.Group == "g2" || r.X > 9 ? 1 : 0, r => new { r.Z, r.Group });
        Assert.True(double.IsPositiveInfinity(quasi["Group=g2"].Estimate));
        Assert.True(quasi.Converged && double.IsFinite(quasi["Z"].StandardError));
        // Where the reference is without events, everything that is compared with it has no finite value.
        var reference = Regression.Poisson([.. rows.Select(r => r with { Group = r.Group == "g2" ? "a" : r.Group })], r => Math.Round(r.Y), r => new { r.Group });
        Assert.Equal(["intercept", "Group=g0", "Group=g1", "Group=g3"], reference.Terms.Where(t => double.IsInfinity(t.Estimate)).Select(t => t.Name));
        // A response far out in the tail of a probit is no trouble.
        var tail = Regression.Probit([.. Rows(), new Row(0, 60, 1, "g1")], r => r.Y > 8 ? 1 : 0, r => new { r.X });
        Assert.True(tail.Converged && double.IsFinite(tail.LogLikelihood));
    }

    [Fact]
    public void Probit_has_the_digits_of_its_likelihood()
    {
        var fit = Regression.Probit(Hives, h => h.Survived, h => new { h.Mites, h.Treated, h.QueenAge });
        // The scores are zero to the end of double precision.
        foreach (var x in new Func<Hive, double>[] { _ => 1, h => h.Mites, h => h.Treated ? 1 : 0, h => h.QueenAge })
        {
            var score = Hives.Sum(h =>
            {
                var z = fit["intercept"].Estimate + (fit["Mites"].Estimate * h.Mites) + (fit["QueenAge"].Estimate * h.QueenAge) + (h.Treated ? fit["Treated=yes"].Estimate : 0);
                var density = Math.Exp(-z * z / 2) / Math.Sqrt(2 * Math.PI);
                var p = 0.5 * MathNet.Numerics.SpecialFunctions.Erfc(-z / Math.Sqrt(2));
                return x(h) * (h.Survived == 1 ? density / p : -density / (1 - p));
            });
            Assert.InRange(score, -1e-9, 1e-9);
        }
    }

    [Fact]
    public void Small_samples_have_their_exact_distributions()
    {
        double[] low = [.. Enumerable.Range(0, 40).Select(i => (double)i)], high = [.. Enumerable.Range(100, 40).Select(i => (double)i)];
        AssertDigits(2 * Math.Exp(-MathNet.Numerics.SpecialFunctions.BinomialLn(80, 40)), RankTests.RankSum(low, high).PValue, 9, "separated");
        AssertDigits(1, RankTests.RankSum([1, 4], [2, 3]).PValue, 12, "in the middle");
        Assert.Contains("too many to count", Assert.Throws<AnalysisException>(() => RankTests.RankSum([.. Enumerable.Range(0, 400).Select(i => i + 0.5)], [.. Enumerable.Range(0, 400).Select(i => (double)i)], exact: true)).Message, StringComparison.Ordinal);
        AssertDigits(Math.ScaleB(1, -59), RankTests.SignedRank([.. Enumerable.Range(1, 60).Select(i => (double)i)], new double[60], exact: true).PValue, 9, "all positive");

        AssertDigits(2.0 / 24, Correlation.Spearman([1, 2, 3, 4], [1, 8, 27, 64]).PValue, 12, "ρ = 1, n = 4");
        AssertDigits(2.0 / 24, Correlation.Spearman([1, 2, 3, 4], [4, 3, 2, 1]).PValue, 12, "ρ = -1, n = 4");
        // n = 5, Σd² = 2: ρ = 0.9 and 10 of 120 orders are as far out (Kendall & Gibbons, table).
        AssertDigits(10.0 / 120, Correlation.Spearman([1, 2, 3, 4, 5], [2, 1, 3, 4, 5]).PValue, 12, "ρ = 0.9, n = 5");
        AssertDigits(1.0 / 3, Correlation.Spearman([1, 1, 2], [1, 1, 5]).PValue, 12, "ties");
        Assert.InRange(Correlation.Spearman([.. Enumerable.Range(0, 30).Select(i => (double)i)], [.. Enumerable.Range(0, 30).Select(i => (double)i)]).PValue, 1e-33, 1e-30);
    }

    [Theory]
    [InlineData(1e160)]
    [InlineData(1e-170)]
    [InlineData(1)]
    public void Scales_beyond_squares_are_no_trouble(double scale)
    {
        double[] a = [.. Hives.Take(40).Select(h => h.HoneyKg * scale)], b = [.. Hives.Take(40).Select(h => h.ForageHa * scale)];
        double[] x = [.. Hives.Take(40).Select(h => h.HoneyKg)], y = [.. Hives.Take(40).Select(h => h.ForageHa)];
        AssertDigits(Correlation.Pearson(x, y).Coefficient, Correlation.Pearson(a, b).Coefficient, 12, "r");
        AssertDigits(MeanTests.Welch(x, y).Statistic, MeanTests.Welch(a, b).Statistic, 12, "t");
        AssertDigits(MeanTests.Welch(x, y).DegreesOfFreedom, MeanTests.Welch(a, b).DegreesOfFreedom, 12, "degrees of freedom");
        AssertDigits(MeanTests.Student(x, y).PValue, MeanTests.Student(a, b).PValue, 10, "p");
        AssertDigits(MeanTests.OneWay(x, y).Statistic, MeanTests.OneWay(a, b).Statistic, 12, "F");
        AssertDigits(Description.Of(x, v => v).StandardDeviation!.Value * scale, Description.Of(a, v => v).StandardDeviation!.Value, 12, "standard deviation");
        AssertDigits(Description.Of(x, v => v).Skewness!.Value, Description.Of(a, v => v).Skewness!.Value, 10, "skewness");
    }

    [Fact]
    public void What_is_made_of_a_missing_value_is_missing_and_what_is_not_defined_is_its_own_count()
    {
        Row[] rows = [.. Rows(), new Row(1, null, 2, "g1"), new Row(1, -3, 2, "g1"), new Row(1, 0, 2, "g1"), new Row(1, double.NaN, 2, "g1"), new Row(1, -1, null, "g2")];
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { Log = Math.Log(r.X!.Value), r.Z });
        Assert.Equal((40, 3, 2), (fit.Observations, fit.RowsLeftOut, fit.RowsOutsideDomain));
        Assert.Contains("`Log` is not defined in 3 rows (first in row 42)", Assert.Single(fit.Warnings).Message, StringComparison.Ordinal);
        var cast = Regression.LeastSquares(rows, r => r.Y, r => new { Log = Math.Log((double)r.X!), Ratio = 1 / (int)(r.Z ?? 1) });
        Assert.Equal((40, 2, 3), (cast.Observations, cast.RowsLeftOut, cast.RowsOutsideDomain));
        Assert.Null(fit.Predict([rows[40]])[0]);
        Assert.Null(fit.Predict([rows[41]])[0]);
        // A condition may still ask for what is missing.
        Assert.Equal(1, Regression.LeastSquares(rows, r => r.Y, r => new { X = r.X.HasValue ? r.X.Value : 0 }).RowsLeftOut);
        Assert.Equal(40 + 2, Regression.LeastSquares(rows, r => r.Y, r => new { X = r.X ?? 0, Twice = Math.Pow(r.X!.Value, 2) * r.Z!.Value }).Observations);
        Assert.Equal((40, 2), (Regression.LeastSquares(rows, r => Math.Log(r.X!.Value), r => new { r.Z }) is var y ? y.Observations : 0, y.RowsOutsideDomain));
        Assert.Equal("Log(X)", y.Response);
        var variable = (NumericVariable)Variable.Read(rows, r => new { Log = Math.Log(r.X!.Value) })[0];
        Assert.Equal([41, 42, 44], variable.RowsOutsideDomain.AsSpan().ToArray());
        Assert.Contains("`Square` cannot be computed in row 1: the number is too large for its type; write `(double)`", Assert.Throws<AnalysisException>(() => Regression.LeastSquares(rows, r => r.Y, r => new { Square = (r.Group.Length + 5_400_000) * (r.Group.Length + 5_400_000) })).Message, StringComparison.Ordinal);
        Assert.Contains("in row 2: the record is null", Assert.Throws<AnalysisException>(() => Regression.LeastSquares([rows[0], null!, rows[1]], r => r.Y, r => new { r.X })).Message, StringComparison.Ordinal);
        Assert.Contains("`Bad` cannot be computed in row 1: ", Assert.Throws<AnalysisException>(() => Regression.LeastSquares(rows, r => r.Y, r => new { Bad = double.Parse(r.Group, System.Globalization.CultureInfo.InvariantCulture) })).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Levels_stand_in_natural_order()
    {
        string[] groups = ["g10", "g2", "g1", "g2b", "x"];
        Assert.Equal(["g1", "g2", "g2b", "g10", "x"], groups.Order(NaturalOrder.Comparer));
        Assert.Equal(["week 2", "week 10"], Frequency.Of(["week 10", "week 2"], v => v).Select(f => f.Level!));
        Assert.Equal(["2", "10"], Description.By(new[] { 10, 2 }, v => v, v => $"{v}").Select(d => d.Group!));
        Assert.Equal(["A2", "A10"], CrossTabulation.Of(new[] { "A10", "A2" }, v => v, v => v).Rows.AsSpan().ToArray());
        Assert.Equal(["2", "9", "10"], CrossTabulation.Of(new[] { 10, 2, 9 }, v => v, v => v).Rows.AsSpan().ToArray());
        Assert.Equal("2", Regression.LeastSquares(Enumerable.Range(0, 30).Select(i => (Y: i * 7 % 11.0, Level: i % 2 == 0 ? "10" : "2")).ToArray(), r => r.Y, r => new { r.Level })["Level=10"].Term.Reference);
    }

    private sealed record Decay(double X, double Y);

    [Fact]
    public void Curves_with_tiny_parameters_end_where_the_residuals_are_orthogonal()
    {
        Decay[] rows = [.. Enumerable.Range(1, 40).Select(i => new Decay(i * 1e8, (3 * Math.Exp(-2e-10 * i * 1e8)) + (0.01 * Math.Sin(i * 7.7))))];
        Decay[] scaled = [.. rows.Select(r => r with { X = r.X / 1e10 })];
        static double Curve(double[] p, Decay r) => p[0] * Math.Exp(-p[1] * r.X);
        var truth = Regression.Nonlinear(scaled, r => r.Y, (p, r) => p[0] * Math.Exp(-p[1] * r.X), ("a", 1), ("rate", 1));
        foreach (var fit in new[] { Regression.Nonlinear(rows, r => r.Y, (p, r) => p[0] * Math.Exp(-p[1] * r.X), ("a", 1), ("rate", 1e-10)), Regression.Nonlinear(rows, r => r.Y, Curve, ("a", 1), ("rate", 1e-10)) })
        {
            Assert.True(fit.Converged);
            AssertDigits(truth["rate"].Estimate * 1e-10, fit["rate"].Estimate, 9, "rate");
            AssertDigits(truth["rate"].StandardError * 1e-10, fit["rate"].StandardError, 8, "its error");
        }
        // A start at zero, and a function that no rule of calculus can see into.
        AssertDigits(truth["rate"].Estimate, Regression.Nonlinear(scaled, r => r.Y, Curve, ("a", 3), ("rate", 0))["rate"].Estimate, 8, "from zero");
        // Where no step leads down any more but the residuals are not orthogonal, the fit says so.
        var stuck = Regression.Nonlinear(scaled, r => -r.Y, (p, r) => Math.Abs(p[0]) * (1 + r.X), ("a", 1));
        Assert.False(stuck.Converged);
        Assert.Contains("not orthogonal", Assert.Single(stuck.Warnings).Message, StringComparison.Ordinal);
    }
}
