namespace Fennick.Statistics.Comparisons;

/// <summary>Two samples row by row.</summary>
internal static class Pairs
{
    /// <summary>The rows where both values are there.</summary>
    /// <exception cref="AnalysisException">The samples differ in length, or too few pairs are complete.</exception>
    public static (double[] First, double[] Second) Of(IReadOnlyList<double> first, IReadOnlyList<double> second, int atLeast)
    {
        ArgumentNullException.ThrowIfNull(first);
        ArgumentNullException.ThrowIfNull(second);
        if (first.Count != second.Count) throw new AnalysisException($"the samples have {first.Count} and {second.Count} values; pairs need the same number");
        var rows = Enumerable.Range(0, first.Count).Where(i => !double.IsNaN(first[i]) && !double.IsNaN(second[i])).ToArray();
        if (rows.Length < atLeast) throw new AnalysisException($"{rows.Length} pairs are complete; at least {atLeast} are needed");
        return ([.. rows.Select(r => first[r])], [.. rows.Select(r => second[r])]);
    }
}
