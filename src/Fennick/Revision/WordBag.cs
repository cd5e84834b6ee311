namespace Fennick.Revision;

/// <summary>The words of a text without their order.</summary>
internal sealed class WordBag
{
    private readonly Dictionary<string, int> counts = new(StringComparer.Ordinal);
    private readonly int count;

    public WordBag(string text)
    {
        foreach (var (start, length) in Revision.Words.Of(text))
        {
            var word = Revision.Words.Alike(text.Substring(start, length));
            if (string.IsNullOrWhiteSpace(word)) continue;
            counts[word] = counts.GetValueOrDefault(word) + 1;
            count++;
        }
    }

    /// <summary>The words, each once.</summary>
    public IEnumerable<string> Words => counts.Keys;

    /// <summary>How much of two texts is the same: 1 for all, 0 for nothing.</summary>
    public double Likeness(WordBag other)
    {
        if (count == 0 || other.count == 0) return 0;
        var both = 0;
        foreach (var (word, times) in counts)
            if (other.counts.TryGetValue(word, out var there)) both += Math.Min(times, there);
        return 2.0 * both / (count + other.count);
    }

    /// <summary>The most that the likeness can be, by their lengths alone.</summary>
    public double MostLikeness(WordBag other) => count + other.count == 0 ? 0 : 2.0 * Math.Min(count, other.count) / (count + other.count);
}
