using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>An average prediction or an average marginal effect.</summary>
/// <param name="Name">The level or the variable.</param>
/// <param name="Estimate">The average, on the response's own scale.</param>
/// <param name="StandardError">Its standard error, by the delta method.</param>
/// <param name="DegreesOfFreedom">Those of Student's t; infinite where the normal distribution is meant.</param>
public sealed record AverageEffect(string Name, double Estimate, double StandardError, double DegreesOfFreedom)
{
    /// <summary>The two-sided p-value against zero.</summary>
    public double PValue => Tails.StudentTwoSided(Estimate / StandardError, DegreesOfFreedom);

    /// <summary>The confidence interval.</summary>
    /// <param name="level">Its level, such as 0.95.</param>
    public Interval Interval(double level = 0.95) => Fits.Interval.Around(Estimate, StandardError, DegreesOfFreedom, level);
}
