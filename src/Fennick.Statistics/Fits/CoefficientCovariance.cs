using Fennick.Statistics.Numerics;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Fits;

/// <summary>The covariance of what a fit estimates, kept in the coordinates of the split design, where nothing cancels.</summary>
internal abstract class CoefficientCovariance
{
    /// <summary>The covariance of two combinations.</summary>
    public abstract double Of(Combination a, Combination b);

    /// <summary>The covariances of combinations with each other.</summary>
    public double[,] Of(IReadOnlyList<Combination> combinations)
    {
        var matrix = new double[combinations.Count, combinations.Count];
        for (var i = 0; i < combinations.Count; i++)
            for (var j = 0; j <= i; j++) matrix[i, j] = matrix[j, i] = Of(combinations[i], combinations[j]);
        return matrix;
    }

    /// <summary>The sum over the groups that both combinations have, of the product of their factors and something of the group.</summary>
    private protected static double OverGroups(Combination a, Combination b, Func<int, double> of)
    {
        var sum = 0.0;
        for (int i = 0, j = 0; i < a.Groups.Length && j < b.Groups.Length;)
        {
            var order = a.Groups[i].Group.CompareTo(b.Groups[j].Group);
            if (order == 0) sum += a.Groups[i].Factor * b.Groups[j].Factor * of(a.Groups[i].Group);
            if (order <= 0) i++;
            if (order >= 0) j++;
        }
        return sum;
    }
}

/// <summary>Equal variances.</summary>
internal sealed class ClassicalCovariance(Factorisation factorisation, double dispersion) : CoefficientCovariance
{
    public override double Of(Combination a, Combination b) =>
        dispersion * (Vectors.Dot(a.Coordinates, b.Coordinates) + OverGroups(a, b, g => 1 / factorisation.GroupTotals[g]));
}

/// <summary>A matrix in the coordinates of a design with at most one group.</summary>
internal sealed class MiddleCovariance(Factorisation factorisation, double[,] middle, double factor) : CoefficientCovariance
{
    public override double Of(Combination a, Combination b) => factor * Factorisation.Quadratic(factorisation.AllCoordinates(a), middle, factorisation.AllCoordinates(b));
}

/// <summary>Heteroscedasticity-consistent errors of a design with many groups.</summary>
internal sealed class GroupedRobustCovariance(Factorisation factorisation, RobustSums sums, double factor) : CoefficientCovariance
{
    private readonly int stride = 1 + factorisation.Size;

    public override double Of(Combination a, Combination b) => factor
        * (Factorisation.Quadratic(a.Coordinates, sums.Middle, b.Coordinates) + OverGroups(a, b, g => sums.Groups![g * stride]) + Across(a, b) + Across(b, a));

    private double Across(Combination groups, Combination coordinates)
    {
        var sum = 0.0;
        foreach (var (group, own) in groups.Groups) sum += own * Vectors.Dot(sums.Groups.AsSpan((group * stride) + 1, factorisation.Size), coordinates.Coordinates);
        return sum;
    }
}

/// <summary>Clustered errors of a design with many groups.</summary>
internal sealed class GroupedClusterCovariance(Factorisation factorisation, double[] sums, int clusterCount, List<(int Cluster, double Sum)>[] groupSums, double factor) : CoefficientCovariance
{
    public override double Of(Combination a, Combination b)
    {
        var scores = ScoresOf(a);
        return factor * Vectors.Dot(scores, ReferenceEquals(a, b) ? scores : ScoresOf(b));
    }

    /// <summary>The score of each cluster.</summary>
    private double[] ScoresOf(Combination combination)
    {
        var scores = new double[clusterCount];
        for (var c = 0; c < clusterCount; c++) scores[c] = Vectors.Dot(sums.AsSpan(c * Vectors.Padded(factorisation.Size), factorisation.Size), combination.Coordinates);
        foreach (var (group, own) in combination.Groups)
            foreach (var (cluster, sum) in groupSums[group]) scores[cluster] += own * sum;
        return scores;
    }
}

/// <summary>The sum of covariances: two ways of clustering less what both count.</summary>
internal sealed class SumCovariance(params CoefficientCovariance[] parts) : CoefficientCovariance
{
    public override double Of(Combination a, Combination b) => parts.Sum(p => p.Of(a, b));
}

/// <summary>A given covariance matrix of the coefficients.</summary>
internal sealed class GivenCovariance(Factorisation factorisation, double[,] matrix) : CoefficientCovariance
{
    public override double Of(Combination a, Combination b) => Factorisation.Quadratic(factorisation.Weights(a), matrix, factorisation.Weights(b));

    /// <summary>The covariance of coefficients with its negative eigenvalues set to zero; null if it has none.</summary>
    /// <param name="covariance">The covariance.</param>
    /// <param name="classical">The classical one, which says how large a variance is.</param>
    /// <param name="factorisation">The design.</param>
    /// <param name="coefficients">The coefficients as combinations.</param>
    /// <remarks>Cameron, Gelbach &amp; Miller (2011), Journal of Business &amp; Economic Statistics 29, p. 241.</remarks>
    public static GivenCovariance? Mended(CoefficientCovariance covariance, CoefficientCovariance classical, Factorisation factorisation, IReadOnlyList<Combination> coefficients)
    {
        var matrix = covariance.Of(coefficients);
        var sizes = coefficients.Select(c => Math.Sqrt(classical.Of(c, c))).ToArray();
        var scaled = Matrix<double>.Build.Dense(sizes.Length, sizes.Length, (i, j) => matrix[i, j] / (sizes[i] * sizes[j]));
        var values = scaled.Evd(Symmetricity.Symmetric).EigenValues.Select(v => v.Real).ToArray();
        if (values.Length == 0 || values.Min() >= -1e-9 * values.Max()) return null;
        var own = Matrix<double>.Build.DenseOfArray(matrix).Evd(Symmetricity.Symmetric);
        for (var e = 0; e < sizes.Length; e++)
        {
            if (own.EigenValues[e].Real >= 0) continue;
            for (var i = 0; i < sizes.Length; i++)
                for (var j = 0; j < sizes.Length; j++) matrix[i, j] -= own.EigenValues[e].Real * own.EigenVectors[i, e] * own.EigenVectors[j, e];
        }
        return new GivenCovariance(factorisation, matrix);
    }
}
