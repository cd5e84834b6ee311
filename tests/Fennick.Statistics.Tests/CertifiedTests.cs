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

    [Theory]
    [InlineData(1, 0)]
    [InlineData(2, 0)]
    [InlineData(3, 1)]
    [InlineData(4, 100)]
    [InlineData(5, 10_000)]
    public void Wampler_polynomials(int number, double deviation)
    {
        var step = number == 2 ? 0.1 : 1;
        var rows = Enumerable.Range(0, 21).Select(x => (Y: Enumerable.Range(0, 6).Sum(p => Math.Pow(step * x, p)) + (deviation * WamplerDeviations[x]), X: (double)x)).ToArray();
        var fit = Regression.LeastSquares(rows, r => r.Y, r => new { r.X, X2 = r.X * r.X, X3 = r.X * r.X * r.X, X4 = r.X * r.X * r.X * r.X, X5 = r.X * r.X * r.X * r.X * r.X });
        for (var p = 0; p < 6; p++)
        {
            AssertDigits(Math.Pow(step, p), fit.Terms[p].Estimate, 9, $"B{p}");
            if (deviation > 0) AssertDigits(deviation * WamplerErrors[p], fit.Terms[p].StandardError, 9, $"error of B{p}");
        }
        if (deviation > 0) AssertDigits(deviation * 2360.14502379268, fit.ResidualStandardError, 9, "residual standard deviation");
    }

    [Theory]
    [InlineData(500, 0.0001)]
    [InlineData(250, 0.0005)]
    public void Misra_curve(double first, double second)
    {
        double[] x = [77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0];
        double[] y = [10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78];
        var rows = x.Zip(y, (a, b) => (X: a, Y: b)).ToArray();
        var fit = Regression.Nonlinear(rows, r => r.Y, (p, r) => p[0] * (1 - Math.Exp(-p[1] * r.X)), ("b1", first), ("b2", second));
        Assert.True(fit.Converged);
        AssertDigits(238.94212918, fit["b1"].Estimate, 8, "b1");
        AssertDigits(5.5015643181e-4, fit["b2"].Estimate, 8, "b2");
        AssertDigits(2.7070075241, fit["b1"].StandardError, 7, "error of b1");
        AssertDigits(7.2668688436e-6, fit["b2"].StandardError, 7, "error of b2");
        AssertDigits(0.10187876330, fit.ResidualStandardError, 9, "residual standard deviation");
        AssertDigits(fit.Fitted[3], fit.Curve(rows[3]), 14, "curve");
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
