using Fennick.Statistics.Fits;
using Xunit;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>The statistical reference datasets of NIST, with their certified values.</summary>
public sealed class CertifiedTests
{
    private static readonly (double Y, double X)[] Norris =
    [
        (0.1, 0.2), (338.8, 337.4), (118.1, 118.2), (888.0, 884.6), (9.2, 10.1), (228.1, 226.5), (668.5, 666.3), (998.5, 996.3), (449.1, 448.6), (778.9, 777.0), (559.2, 558.2), (0.3, 0.4),
        (0.1, 0.6), (778.1, 775.5), (668.8, 666.9), (339.3, 338.0), (448.9, 447.5), (10.8, 11.6), (557.7, 556.0), (228.3, 228.1), (998.0, 995.8), (888.8, 887.6), (119.6, 120.2), (0.3, 0.3),
        (0.6, 0.3), (557.6, 556.8), (339.3, 339.1), (888.0, 887.2), (998.5, 999.0), (778.9, 779.0), (10.2, 11.1), (117.6, 118.3), (228.9, 229.2), (668.4, 669.1), (449.2, 448.9), (0.2, 0.5),
    ];

    private static readonly double[][] Longley =
    [
        [60323, 83.0, 234289, 2356, 1590, 107608, 1947], [61122, 88.5, 259426, 2325, 1456, 108632, 1948], [60171, 88.2, 258054, 3682, 1616, 109773, 1949], [61187, 89.5, 284599, 3351, 1650, 110929, 1950],
        [63221, 96.2, 328975, 2099, 3099, 112075, 1951], [63639, 98.1, 346999, 1932, 3594, 113270, 1952], [64989, 99.0, 365385, 1870, 3547, 115094, 1953], [63761, 100.0, 363112, 3578, 3350, 116219, 1954],
        [66019, 101.2, 397469, 2904, 3048, 117388, 1955], [67857, 104.6, 419180, 2822, 2857, 118734, 1956], [68169, 108.4, 442769, 2936, 2798, 120445, 1957], [66513, 110.8, 444546, 4681, 2637, 121950, 1958],
        [68655, 112.6, 482704, 3813, 2552, 123366, 1959], [69564, 114.2, 502601, 3931, 2514, 125368, 1960], [69331, 115.7, 518173, 4806, 2572, 127852, 1961], [70551, 116.9, 554894, 4007, 2827, 130081, 1962],
    ];

    private static readonly double[] WamplerDeviations =
        [759, -2048, 2048, -2048, 2523, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 1838, -2048, 2048, -2048, 2523, -2048, 2048, -2048, 759];

    private static readonly double[] WamplerErrors = [2152.32624678170, 2363.55173469681, 779.343524331583, 101.475507550350, 5.64566512170752, 0.112324854679312];

    [Fact]
    public void Norris_straight_line()
    {
        var fit = Regression.LeastSquares(Norris, p => p.Y, p => new { p.X });
        Check(fit, ("intercept", -0.262323073774029, 0.232818234301152), ("X", 1.00211681802045, 0.000429796848199937));
        AssertDigits(0.884796396144373, fit.ResidualStandardError, 10, "residual standard deviation");
        AssertDigits(0.999993745883712, fit.RSquared, 12, "R²");
        AssertDigits(5436385.54079785, fit.FTest().Statistic, 9, "F");
    }

    [Fact]
    public void No_intercept()
    {
        var first = Regression.LeastSquares(Enumerable.Range(0, 11).Select(i => (Y: 130.0 + i, X: 60.0 + i)).ToArray(), p => p.Y, p => new { p.X }, intercept: false);
        Check(first, ("X", 2.07438016528926, 0.0165289256198347));
        AssertDigits(3.56753034006338, first.ResidualStandardError, 10, "residual standard deviation");
        AssertDigits(0.999365492298663, first.RSquared, 12, "R²");
        var second = Regression.LeastSquares(new (double Y, double X)[] { (3, 4), (4, 5), (4, 6) }, p => p.Y, p => new { p.X }, intercept: false);
        Check(second, ("X", 0.727272727272727, 0.0420827318078432));
        AssertDigits(0.369274472937998, second.ResidualStandardError, 10, "residual standard deviation");
        AssertDigits(0.993348115299335, second.RSquared, 12, "R²");
    }

    [Fact]
    public void Longley_nearly_dependent_columns()
    {
        var fit = Regression.LeastSquares(Longley, r => r[0], r => new { A = r[1], B = r[2], C = r[3], D = r[4], E = r[5], F = r[6] });
        Check(fit,
            ("intercept", -3482258.63459582, 890420.383607373), ("A", 15.0618722713733, 84.9149257747669), ("B", -0.0358191792925910, 0.0334910077722432), ("C", -2.02022980381683, 0.488399681651699),
            ("D", -1.03322686717359, 0.214274163161675), ("E", -0.0511041056535807, 0.226073200069370), ("F", 1829.15146461355, 455.478499142212));
        AssertDigits(304.854073561965, fit.ResidualStandardError, 9, "residual standard deviation");
        AssertDigits(0.995479004577296, fit.RSquared, 10, "R²");
        AssertDigits(330.285339234588, fit.FTest().Statistic, 9, "F");
    }

    [Fact]
    public void A_curve_gives_its_fitted_values()
    {
        var curve = CertifiedCurve.All[0];
        var fit = curve.Fit(0);
        AssertDigits(fit.Fitted[3], fit.Curve(new CertifiedCurve.Point(curve.X[3], curve.Y[3])), 14, "curve");
    }

    /// <summary>A curve from a start: the fewest digits of its estimates, errors and residual squares.</summary>
    private static double Digits(CertifiedCurve curve, int start)
    {
        var fit = curve.Fit(start);
        Assert.True(fit.Converged, $"{curve.Name} from start {start + 1}: {string.Join("; ", fit.Warnings)}");
        return fit.Terms.Select((t, i) => Math.Min(Digits(curve.Estimates[i], t.Estimate), Digits(curve.Errors[i], t.StandardError)))
            .Append(Digits(curve.Squares, fit.ResidualStandardError * fit.ResidualStandardError * fit.ResidualDegreesOfFreedom)).Min();
    }

    /// <summary>Agreeing digits; the certified values have eleven, or fifteen.</summary>
    private static double Digits(double certified, double actual) => certified == actual ? 15 : Math.Min(15, -Math.Log10(Math.Abs(actual - certified) / Math.Abs(certified)));

    /// <summary>Analyses of variance: nine groups whose values lie around 1.4 and at 0.1 from it, above a constant that leaves few digits for them.</summary>
    private static double AnovaDigits(int replicates, double above)
    {
        decimal[] centres = [1.4m, 1.3m, 1.5m, 1.3m, 1.5m, 1.3m, 1.5m, 1.3m, 1.5m];
        // A double is read from its decimal form, as from a file.
        double Value(decimal v) => double.Parse(((decimal)above + v).ToString(System.Globalization.CultureInfo.InvariantCulture), System.Globalization.CultureInfo.InvariantCulture);
        var groups = centres.Select(c => Enumerable.Range(0, replicates).Select(i => Value(i == 0 ? c : i % 2 == 1 ? c - 0.1m : c + 0.1m)).ToArray()).ToArray();
        return Digits(replicates, Comparisons.MeanTests.OneWay(groups).Statistic);
    }

    private static double UnivariateDigits(double[] values, double mean, double deviation)
    {
        var description = Summaries.Description.Of(values, v => v);
        return Math.Min(Digits(mean, description.Mean), Digits(deviation, description.StandardDeviation!.Value));
    }

    private static double LinearDigits(LinearFit fit, params (double Estimate, double Error)[] certified) =>
        fit.Terms.Select((t, i) => Math.Min(Digits(certified[i].Estimate, t.Estimate), certified[i].Error == 0 ? 15 : Digits(certified[i].Error, t.StandardError))).Min();

    private static double WamplerDigits(int number, double deviation)
    {
        var step = number == 2 ? 0.1 : 1;
        var rows = Enumerable.Range(0, 21).Select(x => (Y: Enumerable.Range(0, 6).Sum(p => Math.Pow(step * x, p)) + (deviation * WamplerDeviations[x]), X: (double)x)).ToArray();
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, X2 = r.X * r.X, X3 = r.X * r.X * r.X, X4 = r.X * r.X * r.X * r.X, X5 = r.X * r.X * r.X * r.X * r.X });
        return LinearDigits(fit, [.. Enumerable.Range(0, 6).Select(p => (Math.Pow(step, p), deviation * WamplerErrors[p]))]);
    }

    /// <summary>A polynomial of the tenth degree as ill-conditioned as the hardest of the linear sets, against rational arithmetic on the same columns.</summary>
    private static double PolynomialDigits()
    {
        var x = Enumerable.Range(0, 82).Select(i => Math.Round(-8.78 + (i * i % 83 * 0.0687), 9)).ToArray();
        double[][] columns = [.. Enumerable.Range(0, 11).Select(p => x.Select(v => Math.Pow(v, p)).ToArray())];
        double[] y = [.. x.Select((v, i) => Math.Round(0.85 + (0.05 * Math.Sin(2 * v)) + (0.003 * (i % 7)), 4))];
        var truth = Rational.LeastSquares(columns, y);
        var fit = Regression.LeastSquares(new Variables.DesignMatrix(columns, [.. columns.Select((_, p) => new Variables.Term($"x{p}", $"x{p}"))]), y);
        Assert.Empty(fit.Warnings);
        return LinearDigits(fit, truth);
    }

    private static IEnumerable<(string Set, string Kind, double Needed, double Digits)> Reached()
    {
        yield return ("Norris", "linear", 9, LinearDigits(Regression.LeastSquares(Norris, p => p.Y, p => new { p.X }), (-0.262323073774029, 0.232818234301152), (1.00211681802045, 0.000429796848199937)));
        yield return ("NoInt1", "linear", 9, LinearDigits(Regression.LeastSquares(Enumerable.Range(0, 11).Select(i => (Y: 130.0 + i, X: 60.0 + i)).ToArray(), p => p.Y, p => new { p.X }, intercept: false), (2.07438016528926, 0.0165289256198347)));
        yield return ("NoInt2", "linear", 9, LinearDigits(Regression.LeastSquares(new (double Y, double X)[] { (3, 4), (4, 5), (4, 6) }, p => p.Y, p => new { p.X }, intercept: false), (0.727272727272727, 0.0420827318078432)));
        yield return ("Longley", "linear", 9, LinearDigits(Regression.LeastSquares(Longley, r => r[0], r => new { A = r[1], B = r[2], C = r[3], D = r[4], E = r[5], F = r[6] }),
            (-3482258.63459582, 890420.383607373), (15.0618722713733, 84.9149257747669), (-0.0358191792925910, 0.0334910077722432), (-2.02022980381683, 0.488399681651699), (-1.03322686717359, 0.214274163161675), (-0.0511041056535807, 0.226073200069370), (1829.15146461355, 455.478499142212)));
        foreach (var (number, deviation) in new[] { (1, 0.0), (2, 0), (3, 1), (4, 100), (5, 10_000) }) yield return ($"Wampler{number}", "linear", 9, WamplerDigits(number, deviation));
        yield return ("polynomial of degree 10", "linear", 7, PolynomialDigits());
        yield return ("NumAcc1", "univariate", 14, UnivariateDigits([10000001, 10000003, 10000002], 10000002, 1));
        yield return ("NumAcc2", "univariate", 14, UnivariateDigits([1.2, .. Enumerable.Range(0, 1000).Select(i => i % 2 == 0 ? 1.1 : 1.3)], 1.2, 0.1));
        yield return ("NumAcc3", "univariate", 14, UnivariateDigits([1000000.2, .. Enumerable.Range(0, 1000).Select(i => i % 2 == 0 ? 1000000.1 : 1000000.3)], 1000000.2, 0.1));
        yield return ("NumAcc4", "univariate", 14, UnivariateDigits([10000000.2, .. Enumerable.Range(0, 1000).Select(i => i % 2 == 0 ? 10000000.1 : 10000000.3)], 10000000.2, 0.1));
        var analysis = 0;
        foreach (var above in new double[] { 0, 1e6, 1e12 })
            foreach (var replicates in new[] { 21, 201, 2001 }) yield return ($"SmLs0{++analysis}", "analysis of variance", 13, AnovaDigits(replicates, above));
        foreach (var curve in CertifiedCurve.All)
            for (var start = 0; start < 2; start++) yield return ($"{curve.Name}, start {start + 1}", "nonlinear", 7, Digits(curve, start));
    }

    [Fact]
    public void The_page_states_the_digits_that_are_reached()
    {
        var page = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "statistics.md"));
        var table = string.Concat(Reached().Select(r => $"| {r.Set} | {r.Kind} | {Math.Floor(r.Digits):0} |\n"));
        foreach (var (set, kind, needed, digits) in Reached())
        {
            Assert.True(digits >= needed, $"{set} reaches {digits:0.0} digits, not {needed}");
            var stated = System.Text.RegularExpressions.Regex.Match(page, $@"^\| {System.Text.RegularExpressions.Regex.Escape(set)} \| {kind} \| (\d+) \|$", System.Text.RegularExpressions.RegexOptions.Multiline);
            // Machines differ in the last digit.
            Assert.True(stated.Success && Math.Abs(int.Parse(stated.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture) - digits) <= 1.5, $"{set} reaches {digits:0.0} digits; the page's table should be\n{table}");
        }
    }

    private static void Check(LinearFit fit, params (string Name, double Estimate, double Error)[] certified)
    {
        foreach (var (name, estimate, error) in certified)
        {
            AssertDigits(estimate, fit[name].Estimate, 9, name);
            AssertDigits(error, fit[name].StandardError, 9, $"error of {name}");
        }
    }
}
