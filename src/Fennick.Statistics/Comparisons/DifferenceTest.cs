using Fennick.Statistics.Fits;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Comparisons;

/// <summary>A test of the difference of two means.</summary>
/// <param name="Name">What the test is called.</param>
/// <param name="FirstMean">The mean of the first sample.</param>
/// <param name="SecondMean">The mean of the second sample.</param>
/// <param name="StandardError">The standard error of their difference.</param>
/// <param name="DegreesOfFreedom">The degrees of freedom of t.</param>
public sealed record DifferenceTest(string Name, double FirstMean, double SecondMean, double StandardError, double DegreesOfFreedom)
{
    /// <summary>The first mean less the second, without what both lose where they are large and close together.</summary>
    public double Difference => Exact ?? FirstMean - SecondMean;

    internal double? Exact { get; init; }

    /// <summary>t.</summary>
    public double Statistic => Difference / StandardError;

    /// <summary>The two-sided p-value.</summary>
    public double PValue => Tails.StudentTwoSided(Statistic, DegreesOfFreedom);

    /// <summary>The confidence interval of the difference.</summary>
    /// <param name="level">Its level, such as 0.95.</param>
    public Interval Interval(double level = 0.95) => Fits.Interval.Around(Difference, StandardError, DegreesOfFreedom, level);
}
