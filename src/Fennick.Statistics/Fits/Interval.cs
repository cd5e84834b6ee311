using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>An interval.</summary>
/// <param name="Low">Its lower end.</param>
/// <param name="High">Its upper end.</param>
public readonly record struct Interval(double Low, double High)
{
    /// <summary>The confidence interval of an estimate by Student's t.</summary>
    internal static Interval Around(double estimate, double standardError, double degreesOfFreedom, double level)
    {
        if (level is not (> 0 and < 1)) throw new ArgumentOutOfRangeException(nameof(level), level, "A level lies between 0 and 1.");
        var half = Tails.StudentQuantile(1 - level, degreesOfFreedom) * standardError;
        return new Interval(estimate - half, estimate + half);
    }
}
