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
        var counts = values.OfType<object>().GroupBy(v => v).ToDictionary(g => g.Key, g => g.Count());
        var total = counts.Values.Sum();
        var result = new List<Frequency>();
        var cumulative = 0;
        foreach (var level in Variables.NaturalOrder.Of(counts.Keys))
        {
            cumulative += counts[level];
            result.Add(new Frequency(TextOf(level), counts[level], counts[level] / (double)total, cumulative / (double)total));
        }
        if (values.Length > total) result.Add(new Frequency(null, values.Length - total, null, null));
        return result;
    }

    /// <summary>A level as text.</summary>
    internal static string TextOf(object level) => level is bool flag ? flag ? "yes" : "no" : level.ToString() ?? "";
}
