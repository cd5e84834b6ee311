using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Estimators;

/// <summary>
/// The effects of one or two groupings, without columns of their own. The first grouping's means are taken out directly; what the second leaves is a sparse least-squares problem,
/// solved by LSMR.
/// </summary>
/// <remarks>Fong &amp; Saunders (2011), SIAM Journal on Scientific Computing 33; leverage by the Schur complement of the first grouping.</remarks>
internal sealed class Absorption
{
    // Exact leverage needs a dense matrix of this many levels at most.
    private const int MostLevelsForLeverage = 5000;

    // What may be left of the second grouping's means, as a share of the largest value.
    private const double Separated = 1e-9;

    // The grouping with more levels first.
    private readonly IReadOnlyList<Partition> groupings;
    private readonly bool isTurned;
    private readonly double[]? weights;
    private readonly double[][] totals;
    private readonly int[] parts;
    private double[]? leverage;

    /// <summary>Effects of groupings.</summary>
    /// <param name="groupings">One or two groupings of n rows.</param>
    /// <param name="weights">n weights, or null.</param>
    public Absorption(IReadOnlyList<Partition> groupings, double[]? weights)
    {
        isTurned = groupings.Count == 2 && groupings[1].Count > groupings[0].Count;
        this.groupings = isTurned ? [groupings[1], groupings[0]] : groupings;
        this.weights = weights;
        totals = [.. this.groupings.Select(g => SumsOf(g, i => weights is null ? 1 : weights[i]))];
        parts = groupings.Count == 1 ? [] : FindParts();
    }

    /// <summary>The only grouping, if there is one only.</summary>
    public Partition? Single => groupings.Count == 1 ? groupings[0] : null;

    /// <summary>How many levels each grouping has.</summary>
    public int[] LevelCounts => isTurned ? [groupings[1].Count, groupings[0].Count] : [.. groupings.Select(g => g.Count)];

    /// <summary>How many effects there are: levels, less one of the second grouping for each connected part.</summary>
    public int EffectCount => groupings.Sum(g => g.Count) - (groupings.Count == 1 ? 0 : parts.Distinct().Count());

    private int RowCount => groupings[0].Codes!.Length;

    /// <summary>What is left of a column when the effects are taken out of it.</summary>
    /// <exception cref="AnalysisException">The effects cannot be told apart in double precision.</exception>
    public double[] TakeOut(double[] column)
    {
        var rest = (double[])column.Clone();
        // A second round takes away what the first one rounded.
        for (var round = 0; round < 2; round++) TakeOutOnce(rest);
        if (groupings.Count == 2 && MeansOf(rest, 1).Max(Math.Abs) > Separated * column.Max(Math.Abs)) throw new AnalysisException("the absorbed effects could not be separated from each other; absorb one of them only");
        return rest;
    }

    /// <summary>The effect of each level of each grouping in values that hold nothing else; where two groupings fall into several parts, those of the second have mean zero in each.</summary>
    public double[][] EffectsIn(double[] values)
    {
        var rest = (double[])values.Clone();
        double[][] effects = [.. groupings.Select(g => new double[g.Count])];
        for (var round = 0; round < 2; round++)
        {
            if (groupings.Count == 2)
            {
                var own = (double[])rest.Clone();
                TakeOutMeans(own, 0);
                Vectors.AddScaled(effects[1], 1, SolveSecond(own));
                for (var i = 0; i < rest.Length; i++) rest[i] = values[i] - effects[1][groupings[1][i]];
            }
            effects[0] = MeansOf(rest, 0);
            for (var i = 0; i < rest.Length; i++) rest[i] = values[i] - effects[0][groupings[0][i]] - (groupings.Count == 2 ? effects[1][groupings[1][i]] : 0);
        }
        return Turned(effects);
    }

    /// <summary>The row weights h for which the effects of the given levels, each times its factor, are Σ hᵢ yᵢ.</summary>
    /// <param name="factors">A factor for each level of each grouping.</param>
    public double[] RowWeights(double[][] factors)
    {
        factors = Turned(factors);
        var result = new double[RowCount];
        if (groupings.Count == 1)
        {
            for (var i = 0; i < result.Length; i++) result[i] = Weight(i) * factors[0][groupings[0][i]] / totals[0][groupings[0][i]];
            return result;
        }
        // D (D'WD)⁻¹ f: the first grouping is eliminated, the Schur complement of the second solved.
        var first = factors[0].Select((f, g) => f / totals[0][g]).ToArray();
        var right = (double[])factors[1].Clone();
        for (var i = 0; i < result.Length; i++) right[groupings[1][i]] -= Weight(i) * first[groupings[0][i]];
        var second = SolveSchur(right);
        var correction = SumsOf(groupings[0], i => Weight(i) * second[groupings[1][i]]);
        for (var i = 0; i < result.Length; i++)
        {
            var g = groupings[0][i];
            result[i] = Weight(i) * (first[g] - (correction[g] / totals[0][g]) + second[groupings[1][i]]);
        }
        return result;
    }

    /// <summary>Whether rows link a level of the first grouping with one of the second, so that the sum of their effects is known.</summary>
    public bool AreLinked(int first, int second)
    {
        if (isTurned) (first, second) = (second, first);
        return parts[first] == parts[groupings[0].Count + second];
    }

    /// <summary>How many effects there are of groupings whose levels are not each within one cluster.</summary>
    public int EffectsNotWithin(int[] clusters)
    {
        bool IsWithin(Partition grouping)
        {
            var clusterOf = new int[grouping.Count];
            Array.Fill(clusterOf, -1);
            for (var i = 0; i < clusters.Length; i++)
            {
                ref var own = ref clusterOf[grouping[i]];
                if (own < 0) own = clusters[i];
                else if (own != clusters[i]) return false;
            }
            return true;
        }
        var within = groupings.Where(IsWithin).ToArray();
        return within.Length == 0 ? EffectCount : within.Length == groupings.Count ? 0 : EffectCount - within[0].Count;
    }

    /// <summary>The leverage of the effects in each row.</summary>
    /// <exception cref="AnalysisException">Both groupings have too many levels.</exception>
    public double[] Leverage()
    {
        if (leverage is not null) return leverage;
        var result = new double[RowCount];
        for (var i = 0; i < result.Length; i++) result[i] = Weight(i) / totals[0][groupings[0][i]];
        if (groupings.Count == 2) AddLeverageOfSecond(result);
        return leverage = result;
    }

    private double[][] Turned(double[][] ofGroupings) => isTurned ? [ofGroupings[1], ofGroupings[0]] : ofGroupings;

    private double Weight(int row) => weights is null ? 1 : weights[row];

    private static double[] SumsOf(Partition grouping, Func<int, double> value)
    {
        var sums = new double[grouping.Count];
        for (var i = 0; i < grouping.Codes!.Length; i++) sums[grouping.Codes[i]] += value(i);
        return sums;
    }

    private double[] MeansOf(double[] values, int grouping)
    {
        var means = SumsOf(groupings[grouping], i => Weight(i) * values[i]);
        for (var g = 0; g < means.Length; g++) means[g] /= totals[grouping][g];
        return means;
    }

    private void TakeOutMeans(double[] values, int grouping)
    {
        var means = MeansOf(values, grouping);
        var codes = groupings[grouping].Codes!;
        for (var i = 0; i < values.Length; i++) values[i] -= means[codes[i]];
    }

    private void TakeOutOnce(double[] rest)
    {
        TakeOutMeans(rest, 0);
        if (groupings.Count == 1) return;
        var effects = SolveSecond(rest);
        for (var i = 0; i < rest.Length; i++) rest[i] -= effects[groupings[1][i]];
        TakeOutMeans(rest, 0);
    }

    /// <summary>The effects of the second grouping in a column that the first is taken out of: LSMR on √w (I − P₁) D₂ / √(totals of the second).</summary>
    private double[] SolveSecond(double[] column)
    {
        var (codes, count) = (groupings[1].Codes!, groupings[1].Count);
        var scale = totals[1].Select(t => 1 / Math.Sqrt(t)).ToArray();
        var roots = weights?.Select(Math.Sqrt).ToArray();
        double[] Forward(double[] effects)
        {
            var rows = new double[RowCount];
            for (var i = 0; i < rows.Length; i++) rows[i] = effects[codes[i]] * scale[codes[i]];
            TakeOutMeans(rows, 0);
            if (roots is not null) Vectors.Multiply(rows, rows, roots);
            return rows;
        }
        double[] Back(double[] rows)
        {
            var own = new double[RowCount];
            for (var i = 0; i < own.Length; i++) own[i] = roots is null ? rows[i] : rows[i] / roots[i];
            TakeOutMeans(own, 0);
            var sums = new double[count];
            for (var i = 0; i < own.Length; i++) sums[codes[i]] += own[i] * Weight(i) * scale[codes[i]];
            return sums;
        }
        var right = (double[])column.Clone();
        if (roots is not null) Vectors.Multiply(right, right, roots);
        var solution = Lsmr.Solve(Forward, Back, right, count);
        Vectors.Multiply(solution, solution, scale);
        return solution;
    }

    /// <summary>Solves the Schur complement of the second grouping by conjugate gradients; the right side must be orthogonal to a constant in each part.</summary>
    private double[] SolveSchur(double[] right)
    {
        var second = groupings[1];
        double[] Apply(double[] effects)
        {
            var means = SumsOf(groupings[0], i => Weight(i) * effects[second[i]]);
            for (var g = 0; g < means.Length; g++) means[g] /= totals[0][g];
            return SumsOf(second, i => Weight(i) * (effects[second[i]] - means[groupings[0][i]]));
        }
        var solution = new double[second.Count];
        var residual = (double[])right.Clone();
        var size = Math.Sqrt(Vectors.Dot(right, right));
        var direction = residual.Select((r, h) => r / totals[1][h]).ToArray();
        var product = residual.Select((r, h) => r * r / totals[1][h]).Sum();
        for (var step = 0; step < (20 * second.Count) + 100 && Math.Sqrt(Vectors.Dot(residual, residual)) > 1e-14 * size; step++)
        {
            var image = Apply(direction);
            var length = product / Vectors.Dot(direction, image);
            if (!double.IsFinite(length)) break;
            Vectors.AddScaled(solution, length, direction);
            Vectors.AddScaled(residual, -length, image);
            var next = residual.Select((r, h) => r * r / totals[1][h]).Sum();
            for (var h = 0; h < direction.Length; h++) direction[h] = (residual[h] / totals[1][h]) + (next / product * direction[h]);
            product = next;
        }
        return solution;
    }

    /// <summary>The connected part of each level of the first grouping, then of the second.</summary>
    private int[] FindParts()
    {
        var (first, second) = (groupings[0], groupings[1]);
        var parents = Enumerable.Range(0, first.Count + second.Count).ToArray();
        for (var i = 0; i < RowCount; i++)
        {
            var (a, b) = (Find(first[i]), Find(first.Count + second[i]));
            if (a != b) parents[a] = b;
        }
        return [.. parents.Select((_, node) => Find(node))];

        int Find(int node)
        {
            while (parents[node] != node) node = parents[node] = parents[parents[node]];
            return node;
        }
    }

    private void AddLeverageOfSecond(double[] result)
    {
        var (first, second) = (groupings[0], groupings[1]);
        if (second.Count > MostLevelsForLeverage)
            throw new AnalysisException($"HC2, HC3 and leverage with two absorbed groupings need one of at most {MostLevelsForLeverage} levels, and the smaller has {second.Count}; use HC1 or clustered errors");
        // The last level of each part is known from the others: without them the complement is positive definite.
        var place = new int[second.Count];
        var seen = new HashSet<int>();
        for (var h = second.Count - 1; h >= 0; h--) place[h] = seen.Add(parts[first.Count + h]) ? -1 : 0;
        var size = 0;
        for (var h = 0; h < place.Length; h++) if (place[h] == 0) place[h] = size++;
        // The share of each level of the second grouping in each of the first.
        var shares = Enumerable.Range(0, first.Count).Select(_ => new Dictionary<int, double>()).ToArray();
        for (var i = 0; i < RowCount; i++) shares[first[i]][second[i]] = shares[first[i]].GetValueOrDefault(second[i]) + (Weight(i) / totals[0][first[i]]);
        var schur = new double[size, size];
        for (var h = 0; h < place.Length; h++) if (place[h] >= 0) schur[place[h], place[h]] = totals[1][h];
        for (var g = 0; g < first.Count; g++)
            foreach (var (a, shareA) in shares[g])
                foreach (var (b, shareB) in shares[g])
                    if (place[a] >= 0 && place[b] >= 0) schur[place[a], place[b]] -= totals[0][g] * shareA * shareB;
        var inverse = Cholesky.Inverse(schur);
        double Element(int a, int b) => place[a] < 0 || place[b] < 0 ? 0 : inverse[place[a], place[b]];
        // For each level of the first grouping the inverse times its shares, and its own square.
        var products = new Dictionary<int, double>[first.Count];
        var own = new double[first.Count];
        for (var g = 0; g < first.Count; g++)
        {
            products[g] = shares[g].Keys.ToDictionary(h => h, h => shares[g].Sum(s => Element(h, s.Key) * s.Value));
            own[g] = shares[g].Sum(s => s.Value * products[g][s.Key]);
        }
        for (var i = 0; i < RowCount; i++) result[i] += Weight(i) * (Element(second[i], second[i]) - (2 * products[first[i]][second[i]]) + own[first[i]]);
    }
}
