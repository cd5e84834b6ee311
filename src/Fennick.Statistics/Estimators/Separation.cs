using System.Collections.Immutable;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>Finds coefficients that the likelihood lets grow without end.</summary>
/// <remarks>Albert &amp; Anderson (1984), Biometrika 71.</remarks>
internal static class Separation
{
    // On columns scaled to a deviation of 1: no finite estimate comes with an error as large as this.
    private const double LargestError = 300;
    private const double LeastCoefficient = 5;

    /// <summary>The places of such coefficients with the sign of the infinity that they go to, and what is said of them.</summary>
    /// <param name="best">Where the likelihood was left.</param>
    /// <param name="first">The place of the first slope.</param>
    /// <param name="terms">The terms of the slopes.</param>
    /// <param name="what">What they act upon.</param>
    /// <param name="cause">Why that happens.</param>
    public static (ImmutableDictionary<int, int> Infinite, IEnumerable<AnalysisWarning> Warnings) Find(NewtonMaximum best, int first, IReadOnlyList<Term> terms, string what, string cause)
    {
        var infinite = Enumerable.Range(first, terms.Count).Where(i => Math.Sqrt(best.Covariance[i, i]) > LargestError && Math.Abs(best.Parameters[i]) > LeastCoefficient).ToImmutableDictionary(i => i, i => Math.Sign(best.Parameters[i]));
        return (infinite, infinite.OrderBy(i => i.Key).Select(i => new AnalysisWarning($"`{terms[i.Key - first].Name}` has no finite coefficient: {what} goes to {(i.Value < 0 ? "zero" : "infinity")} with it, because {cause}; gather the category with another, or leave the term out")));
    }
}
