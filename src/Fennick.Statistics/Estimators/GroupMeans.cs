namespace Fennick.Statistics.Estimators;

/// <summary>Takes the means of one or two groupings out of columns.</summary>
internal static class GroupMeans
{
    private const int MostRounds = 20_000;
    private const double Done = 1e-14;

    /// <summary>The column without the means of its groups; for two groupings the means are taken out in turn until nothing changes.</summary>
    public static double[] TakeOut(double[] column, IReadOnlyList<(int[] Codes, int Count)> groupings, double[]? weights)
    {
        var rest = (double[])column.Clone();
        var size = Math.Sqrt(column.Sum(v => v * v) / Math.Max(1, column.Length));
        for (var round = 0; round < MostRounds; round++)
        {
            var change = 0.0;
            foreach (var (codes, count) in groupings) change = Math.Max(change, TakeOut(rest, codes, count, weights));
            // A second round takes away what the first one rounded.
            if ((groupings.Count == 1 && round == 1) || change <= Done * size) return rest;
        }
        throw new AnalysisException("the absorbed effects could not be separated from each other; absorb one of them only");
    }

    /// <summary>How many effects groupings have: levels, less one for each connected part of a second grouping.</summary>
    public static int CountEffects(IReadOnlyList<(int[] Codes, int Count)> groupings)
    {
        if (groupings.Count == 1) return groupings[0].Count;
        var (first, second) = (groupings[0], groupings[1]);
        var parents = Enumerable.Range(0, first.Count + second.Count).ToArray();
        var parts = parents.Length;
        for (var i = 0; i < first.Codes.Length; i++)
        {
            var (a, b) = (Find(first.Codes[i]), Find(first.Count + second.Codes[i]));
            if (a == b) continue;
            parents[a] = b;
            parts--;
        }
        return first.Count + second.Count - parts;

        int Find(int node)
        {
            while (parents[node] != node) node = parents[node] = parents[parents[node]];
            return node;
        }
    }

    private static double TakeOut(double[] values, int[] codes, int count, double[]? weights)
    {
        var sums = new double[count];
        var totals = new double[count];
        for (var i = 0; i < values.Length; i++)
        {
            var weight = weights?[i] ?? 1;
            sums[codes[i]] += weight * values[i];
            totals[codes[i]] += weight;
        }
        var largest = 0.0;
        for (var g = 0; g < count; g++)
        {
            sums[g] /= totals[g];
            largest = Math.Max(largest, Math.Abs(sums[g]));
        }
        for (var i = 0; i < values.Length; i++) values[i] -= sums[codes[i]];
        return largest;
    }
}
