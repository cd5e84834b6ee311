namespace Fennick.Statistics.Numerics;

/// <summary>
/// A linear combination of what a fit estimates, free of cancellation: Σ aᵍ times the fitted mean of group g, plus Σ vʲ times the slope of column j, where v counts from the
/// groups' means. A prediction has a = 1 for its group and v = its distance from the group's means.
/// </summary>
/// <param name="Groups">The groups with a factor, in order of the groups.</param>
/// <param name="Centred">v, one for each column of the triangle.</param>
/// <param name="Coordinates">v in the orthonormal coordinates of the triangle.</param>
internal sealed record Combination((int Group, double Factor)[] Groups, double[] Centred, double[] Coordinates);
