using System.Collections.Concurrent;
using Fennick.Statistics.Numerics;

namespace Fennick.Statistics.Fits;

/// <summary>What covariances are made of: the split design with its weights, and a residual for each row.</summary>
internal sealed class Scores
{
    private const int BlockRows = 128;

    // A row of this leverage or more decides its own fitted value.
    private const double FullLeverage = 1 - 1e-10;

    // Residuals that have not been needed yet: the response that they are of.
    private readonly double[]? response;
    private double[]? residuals;

    // The middles of HC0, HC2 and HC3 take one pass over the rows: the coordinates cost as much as any of them.
    private RobustSums[]? middles;
    private readonly ConcurrentDictionary<Clusters, double[]> sumsOfClusters = [];
    private double[]? leverage;
    private bool hasFullLeverage;

    /// <summary>Scores of given residuals.</summary>
    /// <param name="factorisation">The split design, without dropped columns.</param>
    /// <param name="weights">Its weights, or null.</param>
    /// <param name="residuals">The residuals whose products with weights and rows are the scores.</param>
    public Scores(Factorisation factorisation, double[]? weights, double[] residuals)
    {
        Factorisation = factorisation;
        Weights = weights;
        this.residuals = residuals;
    }

    private Scores(double[] response, Factorisation factorisation, double[]? weights)
    {
        Factorisation = factorisation;
        Weights = weights;
        this.response = response;
    }

    /// <summary>Scores of least squares whose residuals are computed when they are needed.</summary>
    /// <param name="factorisation">The split design, made with this response.</param>
    /// <param name="weights">Its weights, or null.</param>
    /// <param name="response">The response.</param>
    public static Scores OfResponse(Factorisation factorisation, double[]? weights, double[] response) => new(response, factorisation, weights);

    public Factorisation Factorisation { get; }

    public double[]? Weights { get; }

    /// <summary>The residuals whose products with weights and rows are the scores.</summary>
    public double[] Residuals => residuals ??= FitBasis.Difference(response!, Factorisation.Fitted(Factorisation.ResponseMeans, Factorisation.Solve()));

    /// <summary>The leverage of effects that were absorbed before the design was split; null if there are none.</summary>
    public Func<double[]>? AbsorbedLeverage { get; set; }

    private int RowCount => Factorisation.Design.RowCount;

    private bool HasGroups => Factorisation.Design.Partition.Count > 1;

    /// <summary>The leverage of each row.</summary>
    public double[] Leverage()
    {
        if (leverage is not null) return leverage;
        var sums = new double[RowCount];
        ForBlocks(Factorisation.Coordinates, (_, start, count, coordinates) => AddLeverage(coordinates, start, count, sums.AsSpan(start, count)));
        return leverage = sums;
    }

    /// <summary>The rows that decide their own fitted value, so that their residuals say nothing; known once robust errors are.</summary>
    public int[] RowsOfFullLeverage() => !hasFullLeverage ? [] : [.. Leverage().Select((h, row) => (h, row)).Where(l => l.h >= FullLeverage).Select(l => l.row)];

    /// <summary>The covariance of the coefficients for a heteroscedasticity-consistent kind, 0 to 3.</summary>
    public CoefficientCovariance Robust(int correction, double residualDegreesOfFreedom)
    {
        var sums = (middles ??= ComputeMiddles([]))[correction switch { 2 => 1, 3 => 2, _ => 0 }];
        var factor = correction == 1 ? RowCount / residualDegreesOfFreedom : 1;
        return sums.Groups is null ? new MiddleCovariance(Factorisation, sums.Middle, factor) : new GroupedRobustCovariance(Factorisation, sums, factor);
    }

    /// <summary>The covariance of the coefficients when rows of one cluster may be correlated.</summary>
    /// <param name="clusters">The clusters.</param>
    /// <param name="factor">The small-sample factor, negative for a covariance that is taken away.</param>
    public CoefficientCovariance Clustered(Clusters clusters, double factor)
    {
        var k = Factorisation.CoordinateCount;
        var stride = Vectors.Padded(k);
        if (!sumsOfClusters.TryGetValue(clusters, out var sums))
        {
            sums = SumClusters(clusters);
            for (var c = 0; c < clusters.Count; c++) Factorisation.ToCoordinates(sums.AsSpan(c * stride, k));
        }
        if (HasGroups) return new GroupedClusterCovariance(Factorisation, sums, clusters.Count, SumsOfGroups(clusters.Codes), factor);
        var middle = new double[k, k];
        for (var c = 0; c < clusters.Count; c++)
            for (var a = 0; a < k; a++)
                for (var b = 0; b <= a; b++) middle[a, b] += sums[(c * stride) + a] * sums[(c * stride) + b];
        Mirror(middle);
        return new MiddleCovariance(Factorisation, middle, factor);
    }

    /// <summary>Computes what heteroscedasticity-consistent errors and errors of some clusterings are made of in one pass over the rows.</summary>
    public void Prepare(IReadOnlyList<Clusters> clusterings)
    {
        middles ??= ComputeMiddles(clusterings);
    }

    private double[] SumClusters(Clusters clusters)
    {
        var k = Factorisation.CoordinateCount;
        var stride = Vectors.Padded(k);
        var parts = Enumerable.Range(0, Threads.Parts(RowCount)).Select(_ => new double[clusters.Count * stride]).ToArray();
        var own = Residuals;
        ForBlocks(Factorisation.Standardise, (part, start, count, values) =>
        {
            var rows = values[(k * count)..];
            Vectors.Transpose(values, rows, count, k, stride);
            AddClusters(clusters.Codes, parts[part], own, start, count, rows);
        });
        foreach (var part in parts.Skip(1)) Vectors.AddScaled(parts[0], 1, part);
        return parts[0];
    }

    /// <summary>Adds rows, each times its residual, to the sums of their clusters.</summary>
    private void AddClusters(int[] codes, double[] sums, double[] own, int start, int count, ReadOnlySpan<double> rows)
    {
        Span<double> factors = stackalloc double[count];
        own.AsSpan(start, count).CopyTo(factors);
        if (Weights is not null) for (var i = 0; i < count; i++) factors[i] *= Math.Sqrt(Weights[start + i]);
        Vectors.AddToGroups(rows, Vectors.Padded(Factorisation.CoordinateCount), codes.AsSpan(start, count), factors, sums);
    }

    /// <summary>The variance of Σ cᵢ yᵢ for given errors of the rows.</summary>
    /// <param name="correction">0 to 3 for a heteroscedasticity-consistent kind, less for equal variances.</param>
    /// <param name="dispersion">The residual variance for equal variances; the small-sample factor for the other kinds.</param>
    /// <param name="rowWeights">c.</param>
    public double VarianceOfRows(int correction, double dispersion, double[] rowWeights)
    {
        var sum = 0.0;
        for (var i = 0; i < RowCount; i++)
        {
            var c = rowWeights[i];
            if (correction < 0)
            {
                sum += c * c * dispersion / (Weights is null ? 1 : Weights[i]);
                continue;
            }
            var rest = correction < 2 ? 1 : Rest(Leverage()[i]);
            sum += c * c * Residuals[i] * Residuals[i] * rest * (correction == 3 ? rest : 1) * dispersion;
        }
        return sum;
    }

    /// <summary>The variance of Σ cᵢ yᵢ when rows of one cluster may be correlated, without a small-sample factor.</summary>
    public double VarianceOfRows(Clusters clusters, double[] rowWeights)
    {
        var sums = new double[clusters.Count];
        for (var i = 0; i < RowCount; i++) sums[clusters.Codes[i]] += rowWeights[i] * Residuals[i];
        return Vectors.Dot(sums, sums);
    }

    /// <summary>The row weights of a combination of the triangle's columns: the c for which it is Σ cᵢ yᵢ.</summary>
    public double[] RowWeights(Combination combination)
    {
        var result = new double[RowCount];
        var first = Factorisation.First;
        ForBlocks(Factorisation.Coordinates, (_, start, count, coordinates) =>
        {
            var target = result.AsSpan(start, count);
            for (var j = 0; j < combination.Coordinates.Length; j++) Vectors.AddScaled(target, combination.Coordinates[j], coordinates.Slice((j + first) * count, count));
            if (Weights is null) return;
            for (var i = 0; i < count; i++) target[i] *= Math.Sqrt(Weights[start + i]);
        });
        return result;
    }

    /// <summary>What each row adds to a combination of the estimates: its weight in it times its residual.</summary>
    public double[] Influence(Combination combination)
    {
        var influence = RowWeights(combination);
        var factors = combination.Groups.ToDictionary(g => g.Group, g => g.Factor);
        for (var i = 0; i < influence.Length; i++)
        {
            if (factors.Count > 0) influence[i] += factors.GetValueOrDefault(Factorisation.Design.Partition[i]) * Factorisation.GroupShare(i);
            influence[i] *= Residuals[i];
        }
        return influence;
    }

    /// <summary>The orthonormal coordinates of each row, n × k.</summary>
    public double[][] Rows()
    {
        var rows = new double[RowCount][];
        var k = Factorisation.CoordinateCount;
        ForBlocks(Factorisation.Coordinates, (_, start, count, coordinates) =>
        {
            for (var i = 0; i < count; i++)
            {
                var row = new double[k];
                for (var c = 0; c < k; c++) row[c] = coordinates[(c * count) + i];
                rows[start + i] = row;
            }
        });
        return rows;
    }

    /// <summary>1 / (1 − leverage); nothing where the leverage is full, since the residual says nothing there.</summary>
    private static double Rest(double leverage) => leverage >= FullLeverage ? 0 : 1 / (1 - leverage);

    /// <summary>For each group of the design the clusters that it has rows in, each with the sum of the shares times residuals.</summary>
    private List<(int Cluster, double Sum)>[] SumsOfGroups(int[] clusters)
    {
        var sums = new Dictionary<(int Group, int Cluster), double>();
        for (var i = 0; i < RowCount; i++)
        {
            var key = (Factorisation.Design.Partition[i], clusters[i]);
            sums[key] = sums.GetValueOrDefault(key) + (Factorisation.GroupShare(i) * Residuals[i]);
        }
        var lists = Enumerable.Range(0, Factorisation.Design.Partition.Count).Select(_ => new List<(int, double)>()).ToArray();
        foreach (var ((group, cluster), sum) in sums) lists[group].Add((cluster, sum));
        return lists;
    }

    /// <summary>Residuals as the response less its part along each coordinate.</summary>
    private static void Subtract(Span<double> target, ReadOnlySpan<double> response, ReadOnlySpan<double> coordinates, double[] effects)
    {
        response.CopyTo(target);
        for (var c = 0; c < effects.Length; c++) Vectors.AddScaled(target, -effects[c], coordinates.Slice(c * target.Length, target.Length));
    }

    private RobustSums[] ComputeMiddles(IReadOnlyList<Clusters> clusterings)
    {
        var k = Factorisation.CoordinateCount;
        var groups = HasGroups ? Factorisation.Design.Partition.Count : 0;
        var stride = Vectors.Padded(k);
        var parts = Enumerable.Range(0, Threads.Parts(RowCount)).Select(_ => (Middles: new double[3 * stride * stride], Groups: new double[3 * groups * (1 + k)], Clusters: clusterings.Select(c => new double[c.Count * stride]).ToArray())).ToArray();
        var absorbed = AbsorbedLeverage is null ? null : Leverage();
        // Residuals come with the coordinates, if nobody has needed them before.
        var isFirst = residuals is null && Weights is null && !HasGroups;
        var own = isFirst ? new double[RowCount] : Residuals;
        var effects = Factorisation.Effects();
        ForBlocks(Factorisation.Coordinates, (part, start, count, coordinates) =>
        {
            if (isFirst) Subtract(own.AsSpan(start, count), response.AsSpan(start, count), coordinates, effects);
            var rows = coordinates[(k * count)..];
            Vectors.Transpose(coordinates, rows, count, k, stride);
            AddMiddles(parts[part].Middles, parts[part].Groups, own, start, count, coordinates, rows, absorbed);
            for (var c = 0; c < clusterings.Count; c++) AddClusters(clusterings[c].Codes, parts[part].Clusters[c], own, start, count, rows);
        });
        residuals = own;
        foreach (var part in parts.Skip(1))
        {
            Vectors.AddScaled(parts[0].Middles, 1, part.Middles);
            Vectors.AddScaled(parts[0].Groups, 1, part.Groups);
            for (var c = 0; c < clusterings.Count; c++) Vectors.AddScaled(parts[0].Clusters[c], 1, part.Clusters[c]);
        }
        for (var c = 0; c < clusterings.Count; c++) sumsOfClusters[clusterings[c]] = parts[0].Clusters[c];
        return [Take(0), Take(1), Take(2)];

        RobustSums Take(int kind)
        {
            var middle = new double[k, k];
            for (var a = 0; a < k; a++)
                for (var b = 0; b <= a; b++) middle[a, b] = parts[0].Middles[(((kind * stride) + a) * stride) + b];
            Mirror(middle);
            return new RobustSums(middle, groups == 0 ? null : parts[0].Groups.AsSpan(kind * groups * (1 + k), groups * (1 + k)).ToArray());
        }
    }

    private void AddMiddles(double[] sums, double[] groupSums, double[] own, int start, int count, ReadOnlySpan<double> coordinates, ReadOnlySpan<double> rows, double[]? known)
    {
        Span<double> squares = stackalloc double[count];
        Span<double> once = stackalloc double[count];
        Span<double> twice = stackalloc double[count];
        once.Clear();
        if (known is null) AddLeverage(coordinates, start, count, once);
        else known.AsSpan(start, count).CopyTo(once);
        for (var i = 0; i < count; i++)
        {
            squares[i] = own[start + i] * own[start + i] * (Weights is null ? 1 : Weights[start + i]);
            var rest = Rest(once[i]);
            // Written only where it is true, since several threads do.
            if (rest == 0) hasFullLeverage = true;
            once[i] = squares[i] * rest;
            twice[i] = once[i] * rest;
        }
        if (groupSums.Length > 0) AddGroups(groupSums, start, count, coordinates, squares, once, twice);
        var stride = Vectors.Padded(Factorisation.CoordinateCount);
        var size = stride * stride;
        Vectors.AddCrossProduct(rows, Factorisation.CoordinateCount, stride, squares, sums.AsSpan(0, size));
        Vectors.AddCrossProduct(rows, Factorisation.CoordinateCount, stride, once, sums.AsSpan(size, size));
        Vectors.AddCrossProduct(rows, Factorisation.CoordinateCount, stride, twice, sums.AsSpan(2 * size, size));
    }

    /// <summary>For each kind and group: its own squares, then its products with the coordinates.</summary>
    private void AddGroups(double[] sums, int start, int count, ReadOnlySpan<double> coordinates, ReadOnlySpan<double> squares, ReadOnlySpan<double> once, ReadOnlySpan<double> twice)
    {
        var k = Factorisation.CoordinateCount;
        var size = Factorisation.Design.Partition.Count * (1 + k);
        for (var i = 0; i < count; i++)
        {
            // The share over the root of the weight: the squares hold the weight already.
            var share = Factorisation.GroupShare(start + i) / (Weights is null ? 1 : Math.Sqrt(Weights[start + i]));
            var place = Factorisation.Design.Partition[start + i] * (1 + k);
            for (var kind = 0; kind < 3; kind++)
            {
                var own = share * (kind switch { 0 => squares[i], 1 => once[i], _ => twice[i] });
                var target = sums.AsSpan((kind * size) + place, 1 + k);
                target[0] += share * own;
                for (var j = 0; j < k; j++) target[1 + j] += own * coordinates[(j * count) + i];
            }
        }
    }

    private void AddLeverage(ReadOnlySpan<double> coordinates, int start, int count, Span<double> target)
    {
        for (var c = 0; c < Factorisation.CoordinateCount; c++) Vectors.AddSquares(target, coordinates.Slice(c * count, count));
        if (HasGroups) for (var i = 0; i < count; i++) target[i] += Factorisation.GroupShare(start + i);
        if (AbsorbedLeverage is { } absorbed) Vectors.AddScaled(target, 1, absorbed().AsSpan(start, count));
    }

    private static void Mirror(double[,] matrix)
    {
        for (var a = 0; a < matrix.GetLength(0); a++)
            for (var b = 0; b < a; b++) matrix[b, a] = matrix[a, b];
    }

    private delegate void BlockFiller(int start, int count, Span<double> values);

    private delegate void BlockVisitor(int part, int start, int count, Span<double> values);

    private void ForBlocks(BlockFiller fill, BlockVisitor visit) => Threads.ForRows(RowCount, Threads.Parts(RowCount), (part, from, to) =>
    {
        var values = Workspace.Create(Math.Min(BlockRows, to - from) * (Factorisation.CoordinateCount + Vectors.Padded(Factorisation.CoordinateCount))).Span;
        for (var start = from; start < to; start += BlockRows)
        {
            var count = Math.Min(BlockRows, to - start);
            fill(start, count, values);
            visit(part, start, count, values);
        }
    });
}

/// <summary>The sums of squared scores: over the coordinates, and for each group of many its own square and its products with the coordinates.</summary>
internal sealed record RobustSums(double[,] Middle, double[]? Groups);

/// <summary>The clusters of the rows; two are the same only if they are the same object.</summary>
/// <param name="codes">The cluster of each row.</param>
/// <param name="count">How many there are.</param>
internal sealed class Clusters(int[] codes, int count)
{
    public int[] Codes => codes;

    public int Count => count;
}
