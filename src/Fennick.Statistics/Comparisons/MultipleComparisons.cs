namespace Fennick.Statistics.Comparisons;

/// <summary>p-values adjusted for being many.</summary>
public static class MultipleComparisons
{
    /// <summary>Holm's adjustment: keeps the probability of any false finding.</summary>
    /// <param name="pValues">The p-values; the result has their order.</param>
    /// <exception cref="AnalysisException">A p-value is not between 0 and 1.</exception>
    /// <remarks>Holm (1979), Scandinavian Journal of Statistics 6.</remarks>
    public static IReadOnlyList<double> Holm(IReadOnlyList<double> pValues)
    {
        var order = Order(pValues);
        var adjusted = new double[order.Length];
        var most = 0.0;
        for (var i = 0; i < order.Length; i++)
        {
            most = Math.Max(most, Math.Min(1, (order.Length - i) * pValues[order[i]]));
            adjusted[order[i]] = most;
        }
        return adjusted;
    }

    /// <summary>Benjamini and Hochberg's adjustment: keeps the share of false findings.</summary>
    /// <param name="pValues">The p-values; the result has their order.</param>
    /// <exception cref="AnalysisException">A p-value is not between 0 and 1.</exception>
    /// <remarks>Benjamini &amp; Hochberg (1995), Journal of the Royal Statistical Society B 57.</remarks>
    public static IReadOnlyList<double> BenjaminiHochberg(IReadOnlyList<double> pValues)
    {
        var order = Order(pValues);
        var adjusted = new double[order.Length];
        var least = 1.0;
        for (var i = order.Length - 1; i >= 0; i--)
        {
            least = Math.Min(least, pValues[order[i]] * order.Length / (i + 1));
            adjusted[order[i]] = least;
        }
        return adjusted;
    }

    private static int[] Order(IReadOnlyList<double> pValues)
    {
        ArgumentNullException.ThrowIfNull(pValues);
        if (pValues.Any(p => p is not (>= 0 and <= 1))) throw new AnalysisException($"{pValues.First(p => p is not (>= 0 and <= 1)).ToString(System.Globalization.CultureInfo.InvariantCulture)} is not a p-value");
        return [.. Enumerable.Range(0, pValues.Count).OrderBy(i => pValues[i])];
    }
}
