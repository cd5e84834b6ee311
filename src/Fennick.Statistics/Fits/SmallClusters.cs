using Fennick.Statistics.Numerics;
using MathNet.Numerics.LinearAlgebra;

namespace Fennick.Statistics.Fits;

/// <summary>Clustered errors for few or unequal clusters, in the orthonormal coordinates of the design, where each cluster's leverage is a matrix of k × k.</summary>
internal sealed class SmallClusters
{
    private const double Full = 1e-10;
    private readonly Factorisation factorisation;

    // For each cluster Q'Q, and what its residuals are corrected by.
    private readonly Matrix<double>[] leverages;
    private readonly Matrix<double>[] corrections;

    public SmallClusters(Scores scores, Clusters clusters, bool isJackknife)
    {
        factorisation = scores.Factorisation;
        var k = factorisation.CoordinateCount;
        var rows = scores.Rows();
        leverages = [.. Enumerable.Range(0, clusters.Count).Select(_ => Matrix<double>.Build.Dense(k, k))];
        var sums = Enumerable.Range(0, clusters.Count).Select(_ => Vector<double>.Build.Dense(k)).ToArray();
        for (var i = 0; i < rows.Length; i++)
        {
            var (own, sum) = (leverages[clusters.Codes[i]], sums[clusters.Codes[i]]);
            for (var a = 0; a < k; a++)
            {
                sum[a] += rows[i][a] * scores.Residuals[i];
                for (var b = 0; b < k; b++) own[a, b] += rows[i][a] * rows[i][b];
            }
        }
        corrections = [.. leverages.Select(m => Correction(m, isJackknife))];
        var middle = new double[k, k];
        for (var g = 0; g < sums.Length; g++)
        {
            var corrected = corrections[g] * sums[g];
            for (var a = 0; a < k; a++)
                for (var b = 0; b < k; b++) middle[a, b] += corrected[a] * corrected[b];
        }
        Covariance = new MiddleCovariance(factorisation, middle, isJackknife ? (clusters.Count - 1.0) / clusters.Count : 1);
    }

    public CoefficientCovariance Covariance { get; }

    /// <summary>Whether a cluster decides some coefficient by itself.</summary>
    public bool HasFullClusters { get; private set; }

    /// <summary>The degrees of freedom of a combination: those of the χ² with the same mean and variance as its error has if the rows are alike and independent.</summary>
    public double DegreesOf(Combination combination)
    {
        var a = Vector<double>.Build.DenseOfArray(factorisation.AllCoordinates(combination));
        var (own, across) = (new double[leverages.Length], new Vector<double>[leverages.Length]);
        for (var g = 0; g < leverages.Length; g++)
        {
            var turned = corrections[g] * a;
            across[g] = leverages[g] * turned;
            own[g] = turned * across[g];
        }
        var (trace, squares) = (0.0, 0.0);
        for (var g = 0; g < leverages.Length; g++)
        {
            for (var h = 0; h < leverages.Length; h++)
            {
                var product = (g == h ? own[g] : 0) - (across[g] * across[h]);
                if (g == h) trace += product;
                squares += product * product;
            }
        }
        return trace * trace / squares;
    }

    /// <summary>(I − M) to the power −½, or −1 for the jackknife; nothing along what the cluster decides by itself.</summary>
    private Matrix<double> Correction(Matrix<double> leverage, bool isJackknife)
    {
        var split = leverage.Evd(Symmetricity.Symmetric);
        var powers = split.EigenValues.Select(v => 1 - v.Real).Select(rest =>
        {
            if (rest < Full) HasFullClusters = true;
            return rest < Full ? 0 : isJackknife ? 1 / rest : 1 / Math.Sqrt(rest);
        });
        return split.EigenVectors * Matrix<double>.Build.DenseOfDiagonalArray([.. powers]) * split.EigenVectors.Transpose();
    }
}
