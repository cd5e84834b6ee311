using Fennick.Statistics.Numerics;
using Xunit;
using static Fennick.Statistics.Tests.Survey;

namespace Fennick.Statistics.Tests;

/// <summary>Tails against closed forms, from 1 down to 1e-300.</summary>
public sealed class TailTests
{
    public static TheoryData<double> Sizes => [0.01, 0.5, 1, 1.96, 3, 6, 12, 25, 37, 100, 1e4, 1e8, 1e20, 1e70];

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Student_with_few_degrees_of_freedom(double t)
    {
        AssertTail(t > 1 ? 2 / Math.PI * Math.Atan(1 / t) : 1 - (2 / Math.PI * Math.Atan(t)), Tails.StudentTwoSided(t, 1));
        var root = Math.Sqrt(2 + (t * t));
        AssertTail(2 / root / (root + t), Tails.StudentTwoSided(-t, 2));
        var root4 = Math.Sqrt(4 + (t * t));
        var rest = 4 / root4 / (root4 + t);
        AssertTail(rest * rest * (3 - rest) / 2, Tails.StudentTwoSided(t, 4));
    }

    [Theory]
    [InlineData(3)]
    [InlineData(10)]
    [InlineData(57)]
    [InlineData(234)]
    [InlineData(1e4)]
    [InlineData(1e6)]
    public void F_with_two_degrees_of_freedom_in_the_numerator(double denominator)
    {
        foreach (var f in (double[])[0.001, 0.3, 1, 4, 20, 100, 500])
            AssertTail(Math.Exp(-denominator / 2 * LogOnePlus(2 * f / denominator)), Tails.FUpper(f, 2, denominator));

        static double LogOnePlus(double x) => Math.Abs(x) < 1e-4 ? x - (x * x / 2) + (x * x * x / 3) : Math.Log(1 + x);
    }

    [Theory]
    [InlineData(0.01)]
    [InlineData(1)]
    [InlineData(10)]
    [InlineData(100)]
    [InlineData(700)]
    [InlineData(1380)]
    public void Chi_squared_with_even_degrees_of_freedom(double x)
    {
        AssertTail(Math.Exp(-x / 2), Tails.ChiSquaredUpper(x, 2));
        AssertTail(Math.Exp(-x / 2) * (1 + (x / 2)), Tails.ChiSquaredUpper(x, 4));
        AssertTail(Math.Exp(-x / 2) * (1 + (x / 2) + (x * x / 8) + (x * x * x / 48)), Tails.ChiSquaredUpper(x, 8));
        AssertTail(Tails.NormalTwoSided(Math.Sqrt(x)), Tails.ChiSquaredUpper(x, 1));
    }

    [Theory]
    [InlineData(1.959963984540054, 0.05)]
    [InlineData(5, 5.733031437583866e-7)]
    [InlineData(10, 1.523970604832105e-23)]
    [InlineData(37, 1.1451142445049152e-299)]
    public void Normal(double z, double p) => AssertDigits(p, Tails.NormalTwoSided(z), 9, $"z = {z}");

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    [InlineData(37.5)]
    [InlineData(1e5)]
    [InlineData(double.PositiveInfinity)]
    public void Quantiles_undo_tails(double degrees)
    {
        foreach (var p in (double[])[0.9, 0.5, 0.05, 0.001, 1e-9]) AssertDigits(p, Tails.StudentTwoSided(Tails.StudentQuantile(p, degrees), degrees), 11, $"p = {p}");
    }

    private static void AssertTail(double expected, double actual)
    {
        if (expected < 1e-300) Assert.InRange(actual, 0, 1e-299);
        else AssertDigits(expected, actual, 8, "tail");
    }
}
