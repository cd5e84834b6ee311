namespace Fennick.Statistics.Summaries;

/// <summary>How often a level occurs.</summary>
/// <param name="Level">The level; null for missing.</param>
/// <param name="Count">How often.</param>
/// <param name="Share">Its share of the rows that are not missing; null for the missing ones.</param>
/// <param name="Cumulative">The share of it and the levels before it; null for the missing ones.</param>
public sealed record Frequency(string? Level, int Count, double? Share, double? Cumulative)
{
    /// <summary>The frequencies of a variable, in the order of its levels; missing ones last, if there are any.</summary>
    public static IReadOnlyList<Frequency> Of<T>(IEnumerable<T> records, Func<T, object?> variable)
    {
        var values = records.Select(variable).ToArray();
        var present = values.Where(v => v is not null).GroupBy(v => v!).OrderBy(g => g.Key is string ? null : g.Key).ThenBy(g => g.Key.ToString(), StringComparer.Ordinal).ToArray();
        var total = present.Sum(g => g.Count());
        var result = new List<Frequency>();
        var cumulative = 0;
        foreach (var group in present)
        {
            cumulative += group.Count();
            result.Add(new Frequency(group.Key.ToString(), group.Count(), group.Count() / (double)total, cumulative / (double)total));
        }
        if (values.Length > total) result.Add(new Frequency(null, values.Length - total, null, null));
        return result;
    }
}
