using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>What a fit says of one term.</summary>
/// <param name="Term">The term.</param>
/// <param name="Estimate">Its coefficient, in units of the response for each unit of the term (on the scale of the link, if there is one).</param>
/// <param name="StandardError">The coefficient's standard error.</param>
/// <param name="DegreesOfFreedom">Those of Student's t; infinite where the normal distribution is meant.</param>
public sealed record TermEstimate(Term Term, double Estimate, double StandardError, double DegreesOfFreedom)
{
    private readonly double? ownPValue;

    /// <summary>The name of the term.</summary>
    public string Name => Term.Name;

    /// <summary>The estimate over its standard error.</summary>
    public double Statistic => Estimate / StandardError;

    /// <summary>The two-sided p-value against zero: that of the statistic, unless another was given, such as one by permutation.</summary>
    public double PValue
    {
        get => ownPValue ?? Tails.StudentTwoSided(Statistic, DegreesOfFreedom);
        init => ownPValue = value;
    }

    /// <summary>Gives the interval for a level, if it is not the one around the estimate that the standard error gives, such as one by bootstrap.</summary>
    public Func<double, Interval>? OwnInterval { get; init; }

    /// <summary>The confidence interval.</summary>
    /// <param name="level">Its level, such as 0.95.</param>
    public Interval Interval(double level = 0.95) => OwnInterval is { } own ? own(level) : Fits.Interval.Around(Estimate, StandardError, DegreesOfFreedom, level);
}
