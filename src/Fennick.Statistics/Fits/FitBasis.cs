using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Statistics.Estimators;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>What an estimator leaves behind, apart from the kind of errors.</summary>
internal sealed record FitBasis
{
    private readonly ConcurrentDictionary<StandardErrors, Clusters[]> clusterings = [];
    private Combination[]? combinations;

    public required string Estimator { get; init; }

    public required ModelData Data { get; init; }

    /// <summary>One for each column of the design.</summary>
    public required double[] Coefficients { get; init; }

    /// <summary>The coefficients without a finite value, by the sign of the infinity that they go to.</summary>
    public IReadOnlyDictionary<int, int> Infinite { get; init; } = ImmutableDictionary<int, int>.Empty;

    /// <summary>The fitted linear predictor at the mean of each group of the scores' design.</summary>
    public required double[] Centres { get; init; }

    /// <summary>The slopes of the columns of the scores' design that have values of their own.</summary>
    public required double[] Slopes { get; init; }

    public required Scores Scores { get; init; }

    /// <summary>The columns of the full design that were dropped.</summary>
    public IReadOnlySet<int> Dropped { get; init; } = new HashSet<int>();

    /// <summary>The effects that were absorbed, if there are any.</summary>
    public Absorption? Absorption { get; init; }

    public required double ResidualDegreesOfFreedom { get; init; }

    /// <summary>The residual variance, or 1 where the likelihood fixes it.</summary>
    public required double Dispersion { get; init; }

    /// <summary>Whether statistics are compared with Student's t; else with the normal distribution.</summary>
    public required bool UsesStudent { get; init; }

    public required double LogLikelihood { get; init; }

    /// <summary>The fitted means of an iterated fit; for other fits they are the response less the residuals of the scores.</summary>
    public double[]? Means { get; init; }

    /// <summary>The mean for a linear predictor, its slope and its curvature.</summary>
    public Func<double, (double Value, double Slope, double Curvature)> Mean { get; init; } = linear => (linear, 1, 0);

    /// <summary>Whether the mean is the linear predictor itself.</summary>
    public bool IsLinear { get; init; } = true;

    public ImmutableArray<AnalysisWarning> Warnings { get; init; } = [];

    public Factorisation Factorisation => Scores.Factorisation;

    public DesignMatrix Design => Factorisation.Design;

    /// <summary>The place of the constant among the coefficients; -1 if there is none.</summary>
    public int Intercept => Design.Intercept;

    /// <summary>The coefficients as combinations, the same for every kind of errors.</summary>
    public Combination[] Combinations => combinations ??= [.. Enumerable.Range(0, Design.ColumnCount).Select(Factorisation.Coefficient)];

    /// <summary>The covariance for a kind of errors.</summary>
    public ErrorsOfFit ErrorsOf(StandardErrors errors)
    {
        var student = UsesStudent ? ResidualDegreesOfFreedom : double.PositiveInfinity;
        switch (errors.Correction)
        {
            case < 0: return new(new ClassicalCovariance(Factorisation, Dispersion), student, [], []);
            case <= 3: return new(Scores.Robust(errors.Correction, ResidualDegreesOfFreedom), student, [], errors.Correction < 2 ? [] : FullLeverageWarnings());
            case StandardErrors.TimeCorrection: return new(InTime(errors), student, [], []);
            case StandardErrors.SquareRootCorrection or StandardErrors.JackknifeCorrection: return SmallClusters(errors);
        }
        var clusterings = ClusteringsOf(errors);
        var counts = clusterings.Take(errors.Groups.Count).Select(c => c.Count).ToImmutableArray();
        var degrees = UsesStudent ? counts.Min() - 1 : double.PositiveInfinity;
        var parts = clusterings.Select((c, i) => Scores.Clustered(c, i == 2 ? -ClusterFactor(c) : ClusterFactor(c))).ToArray();
        if (parts.Length == 1) return new(parts[0], degrees, counts, []);
        var covariance = new SumCovariance(parts);
        if (GivenCovariance.Mended(covariance, new ClassicalCovariance(Factorisation, Dispersion), Factorisation, Combinations) is not { } mended) return new(covariance, degrees, counts, []);
        return new(mended, degrees, counts, [new AnalysisWarning("the errors clustered by two groupings gave a negative variance, as they can with few clusters; its negative eigenvalues were set to zero (Cameron, Gelbach & Miller 2011)")]);
    }

    /// <summary>The variance of Σ cᵢ yᵢ for a kind of errors.</summary>
    public double VarianceOfRows(StandardErrors errors, double[] rowWeights)
    {
        if (errors.Correction > StandardErrors.ClusteredCorrection) throw new AnalysisException($"averages with {errors.Kind} errors are not known; use other errors for them");
        if (errors.Correction <= 3) return Scores.VarianceOfRows(errors.Correction, errors.Correction switch { < 0 => Dispersion, 1 => Data.Response.Length / ResidualDegreesOfFreedom, _ => 1 }, rowWeights);
        return ClusteringsOf(errors).Select((c, i) => (i == 2 ? -1 : 1) * ClusterFactor(c) * Scores.VarianceOfRows(c, rowWeights)).Sum();
    }

    private TimeCovariance InTime(StandardErrors errors)
    {
        var n = Data.Response.Length;
        int[] order = [.. Enumerable.Range(0, n)];
        if (errors.Groups is [var time])
        {
            var of = Data.Grouping(time);
            object[] times = [.. Data.Rows.Select(r => of(r) ?? throw new AnalysisException($"the time of row {r + 1} is missing"))];
            order = [.. order.OrderBy(i => times[i], Comparer<object>.Default)];
        }
        var lags = errors.Lags ?? (int)Math.Floor(4 * Math.Pow(n / 100.0, 2.0 / 9));
        if (lags >= n) throw new AnalysisException($"{lags} lags are too many for {ModelData.CountRows(n)}");
        return new TimeCovariance(Scores, order, lags, errors.IsAdjusted ? n / ResidualDegreesOfFreedom : 1);
    }

    private ErrorsOfFit SmallClusters(StandardErrors errors)
    {
        if (!IsLinear || Estimator != Regression.LeastSquaresName || Data.Weights is not null || Design.Partition.Count > 1)
            throw new AnalysisException($"{errors.Kind} errors are made for least squares without weights, absorbed effects or factors of very many levels; use `ClusteredBy`");
        var clusters = Data.ClustersOf(errors.Groups);
        if (clusters.Count < 2) throw new AnalysisException($"all {ModelData.CountRows(Data.Response.Length)} are in one cluster; at least two are needed");
        var small = new SmallClusters(Scores, clusters, errors.Correction == StandardErrors.JackknifeCorrection);
        return new(small.Covariance, clusters.Count - 1, [clusters.Count], small.HasFullClusters ? [new AnalysisWarning("a cluster decides a coefficient by itself, so that it says nothing of that coefficient's error, which is too small")] : []) { DegreesOf = small.DegreesOf };
    }

    /// <summary>Computes what several kinds of errors are made of in one pass over the rows.</summary>
    public void Prepare(IEnumerable<StandardErrors> errors)
    {
        StandardErrors[] kinds = [.. errors];
        if (kinds.Any(e => e.Correction is >= 0 and <= 3)) Scores.Prepare([.. kinds.Where(e => e.Correction > 3).SelectMany(ClusteringsOf)]);
    }

    /// <summary>The clusters of each grouping and, where there are two, of both together.</summary>
    private Clusters[] ClusteringsOf(StandardErrors errors)
    {
        if (clusterings.TryGetValue(errors, out var known)) return known;
        Clusters[] own = [.. errors.Groups.Select(g => Data.ClustersOf([g]))];
        if (own.Any(c => c.Count < 2)) throw new AnalysisException($"all {ModelData.CountRows(Data.Response.Length)} are in one cluster; at least two are needed");
        return clusterings[errors] = own.Length == 1 ? own : [.. own, Data.ClustersOf(errors.Groups)];
    }

    public static double[] Difference(double[] a, double[] b)
    {
        var difference = (double[])a.Clone();
        Vectors.AddScaled(difference, -1, b);
        return difference;
    }

    public static double SquareSum(double[] values, double[]? weights) => SquaresAround(values, 0, weights).Squares;

    /// <summary>The (weighted) squares around the mean, or around zero.</summary>
    public static double TotalSquares(double[] values, double[]? weights, bool centred)
    {
        if (!centred) return SquareSum(values, weights);
        var total = weights is null ? values.Length : Vectors.Sum(weights);
        var mean = values[0] + (SquaresAround(values, values[0], weights).Sum / total);
        // The second pass takes away what the first one rounded.
        var (sum, squares) = SquaresAround(values, mean, weights);
        return Math.Max(0, squares - (sum * sum / total));
    }

    private static (double Sum, double Squares) SquaresAround(double[] values, double centre, double[]? weights) =>
        weights is null ? Vectors.Around(values, centre) : Vectors.Around(values, centre, weights);

    /// <summary>G/(G−1), for least squares times (n−1)/(n−k); absorbed effects count unless each is within one cluster.</summary>
    private double ClusterFactor(Clusters clusters)
    {
        var n = (double)Data.Response.Length;
        var k = Coefficients.Length + (Absorption?.EffectsNotWithin(clusters.Codes) ?? 0);
        return clusters.Count / (clusters.Count - 1.0) * (UsesStudent ? (n - 1) / (n - k) : 1);
    }

    private ImmutableArray<AnalysisWarning> FullLeverageWarnings()
    {
        var rows = Scores.RowsOfFullLeverage();
        if (rows.Length == 0) return [];
        // A level of one row is the usual cause.
        string[] alone = [.. Data.Specification.Where(t => t.Factors.Count == 1).SelectMany(t => rows.Select(r => t.Factors[0] is FactorVariable f && IsAlone(f, Data.Rows[r]) ? $"`{t.Name}={f.Levels[f.Codes[Data.Rows[r]]]}`" : null)).OfType<string>().Distinct()];
        var which = alone.Length == 0 ? "" : $" (of {string.Join(", ", alone.Take(3))}{(alone.Length > 3 ? $" and {alone.Length - 3} more" : "")})";
        return [new AnalysisWarning($"{ModelData.CountRows(rows.Length)}{which} {(rows.Length == 1 ? "decides its" : "decide their")} own fitted value (leverage 1), so that HC2 and HC3 have no residual for {(rows.Length == 1 ? "it" : "them")}: {(rows.Length == 1 ? "it adds" : "they add")} nothing to the errors, which are too small for terms that rest on {(rows.Length == 1 ? "it" : "them")}")];

        bool IsAlone(FactorVariable factor, int row) => Data.Rows.Count(r => factor.Codes[r] == factor.Codes[row]) == 1;
    }
}

/// <summary>What a kind of errors makes of a fit.</summary>
/// <param name="Covariance">The covariance of the estimates.</param>
/// <param name="TestDegreesOfFreedom">The degrees of freedom of the tests; infinite where the normal distribution is meant.</param>
/// <param name="Clusters">The number of clusters of each grouping.</param>
/// <param name="Warnings">What a reader must know of them.</param>
internal sealed record ErrorsOfFit(CoefficientCovariance Covariance, double TestDegreesOfFreedom, ImmutableArray<int> Clusters, ImmutableArray<AnalysisWarning> Warnings)
{
    /// <summary>The degrees of freedom of one combination, where each has its own.</summary>
    public Func<Combination, double>? DegreesOf { get; init; }
}
