using System.Collections.Immutable;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>What an estimator by likelihood leaves behind, apart from the kind of errors.</summary>
internal sealed record EstimatedBasis
{
    public required string Estimator { get; init; }

    public required ModelData Data { get; init; }

    public required ImmutableArray<Term> Terms { get; init; }

    /// <summary>One for each term.</summary>
    public required double[] Coefficients { get; init; }

    /// <summary>Their covariance if the model holds, k × k.</summary>
    public required double[,] Covariance { get; init; }

    /// <summary>The coefficients without a finite value, by the sign of the infinity that they go to.</summary>
    public IReadOnlyDictionary<int, int> Infinite { get; init; } = ImmutableDictionary<int, int>.Empty;

    /// <summary>The derivatives of each row's log-likelihood with respect to the coefficients, n × k; null if other errors make no sense.</summary>
    public Func<double[][]>? Scores { get; init; }

    public required double LogLikelihood { get; init; }

    /// <summary>How many parameters were estimated.</summary>
    public required int ParameterCount { get; init; }

    public required int Iterations { get; init; }

    public required bool Converged { get; init; }

    public ImmutableArray<AnalysisWarning> Warnings { get; init; } = [];

    /// <summary>J b and J V J' of parameters of other columns.</summary>
    public static (double[] Coefficients, double[,] Covariance) Transform(double[,] matrix, double[] parameters, double[,] covariance)
    {
        var (rows, k) = (matrix.GetLength(0), parameters.Length);
        var coefficients = new double[rows];
        var half = new double[rows, k];
        var whole = new double[rows, rows];
        for (var i = 0; i < rows; i++)
        {
            for (var j = 0; j < k; j++)
            {
                if (matrix[i, j] == 0) continue;
                coefficients[i] += matrix[i, j] * parameters[j];
                for (var l = 0; l < k; l++) half[i, l] += matrix[i, j] * covariance[j, l];
            }
        }
        for (var i = 0; i < rows; i++)
        {
            for (var j = 0; j <= i; j++)
            {
                for (var l = 0; l < k; l++) whole[i, j] += half[i, l] * matrix[j, l];
                whole[j, i] = whole[i, j];
            }
        }
        return (coefficients, whole);
    }

    /// <summary>The covariance for a kind of errors: the inverse information, or a sandwich around the squares of the rows' or clusters' scores.</summary>
    /// <exception cref="AnalysisException">The kind makes no sense here, or there is one cluster.</exception>
    public (double[,] Covariance, ImmutableArray<int> Clusters) ErrorsOf(StandardErrors errors)
    {
        if (errors.Correction < 0) return (Covariance, []);
        if (Scores is null || errors.Correction is not (0 or StandardErrors.ClusteredCorrection) || errors.Groups.Count > 1)
            throw new AnalysisException($"{errors.Kind} errors are not defined for {Estimator}; {(Scores is null ? "its errors are those of the likelihood" : "use `StandardErrors.Classical`, `Hc0`, or `ClusteredBy` one grouping")}");
        var scores = Scores();
        var k = Coefficients.Length;
        var clusters = errors.Correction == 0 ? null : Data.ClustersOf(errors.Groups);
        if (clusters?.Count < 2) throw new AnalysisException($"all {ModelData.CountRows(scores.Length)} are in one cluster; at least two are needed");
        var sums = clusters is null ? scores : Sums(scores, clusters, k);
        var middle = new double[k, k];
        foreach (var score in sums)
            for (var i = 0; i < k; i++)
                for (var j = 0; j < k; j++) middle[i, j] += score[i] * score[j];
        var factor = clusters is null ? 1 : clusters.Count / (clusters.Count - 1.0);
        for (var i = 0; i < k; i++)
            for (var j = 0; j < k; j++) middle[i, j] *= factor;
        return (Transform(Covariance, new double[k], middle).Covariance, clusters is null ? [] : [clusters.Count]);
    }

    private static double[][] Sums(double[][] scores, Clusters clusters, int k)
    {
        double[][] sums = [.. Enumerable.Range(0, clusters.Count).Select(_ => new double[k])];
        for (var i = 0; i < scores.Length; i++)
            for (var j = 0; j < k; j++) sums[clusters.Codes[i]][j] += scores[i][j];
        return sums;
    }
}
