namespace Fennick.Revision;

/// <summary>Finds which things of two long sequences belong together: what stands in both just once holds them fast, and between two such things the most alike go together.</summary>
internal static class Pairing
{
    // A word in more things than this does not tell which belong together.
    private const int MostWithWord = 40;

    // What holds nothing goes together only where nothing else does.
    private const double Nothing = 0.05;

    /// <summary>The pairs, each sequence in its order.</summary>
    /// <param name="first">What each thing of the first sequence is known by as a whole.</param>
    /// <param name="second">The same of the second.</param>
    /// <param name="wordsOfFirst">The words of a thing of the first.</param>
    /// <param name="wordsOfSecond">The words of a thing of the second.</param>
    /// <param name="likeness">How alike two things that share a word are; 0 if they do not belong together.</param>
    /// <returns>For each of the first its place in the second; -1 if it has none.</returns>
    public static int[] Find(IReadOnlyList<string> first, IReadOnlyList<string> second, Func<int, IEnumerable<string>> wordsOfFirst, Func<int, IEnumerable<string>> wordsOfSecond, Func<int, int, double> likeness)
    {
        var pairs = new int[first.Count];
        Array.Fill(pairs, -1);
        var (last, before) = (0, 0);
        foreach (var (i, j) in Anchors(first, second).Append((first.Count, second.Count)))
        {
            Gap(first, second, (last, i), (before, j), wordsOfFirst, wordsOfSecond, likeness, pairs);
            if (i < first.Count) pairs[i] = j;
            (last, before) = (i + 1, j + 1);
        }
        return pairs;
    }

    /// <summary>What stands in both sequences just once, as far as it is in the same order.</summary>
    private static IEnumerable<(int First, int Second)> Anchors(IReadOnlyList<string> first, IReadOnlyList<string> second)
    {
        var (own, others) = (Single(first), Single(second));
        (int First, int Second)[] both = [.. own.Where(o => others.ContainsKey(o.Key)).Select(o => (o.Value, others[o.Key])).OrderBy(p => p.Value)];
        return Ascending([.. both.Select(p => p.Second)]).Select(k => both[k]);
    }

    private static Dictionary<string, int> Single(IReadOnlyList<string> things) =>
        things.Index().Where(t => t.Item.Length > 0).GroupBy(t => t.Item, t => t.Index, StringComparer.Ordinal).Where(g => g.Take(2).Count() == 1).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);

    /// <summary>The places of a longest ascending choice of numbers.</summary>
    public static IReadOnlyList<int> Ascending(IReadOnlyList<int> numbers)
    {
        var (ends, before) = (new List<int>(), new int[numbers.Count]);
        for (var k = 0; k < numbers.Count; k++)
        {
            var place = ends.BinarySearch(k, Comparer<int>.Create((a, b) => numbers[a].CompareTo(numbers[b])));
            if (place < 0) place = ~place;
            before[k] = place > 0 ? ends[place - 1] : -1;
            if (place == ends.Count) ends.Add(k);
            else ends[place] = k;
        }
        var chosen = new List<int>();
        for (var k = ends.Count > 0 ? ends[^1] : -1; k >= 0; k = before[k]) chosen.Add(k);
        chosen.Reverse();
        return chosen;
    }

    private static void Gap(IReadOnlyList<string> first, IReadOnlyList<string> second, (int Start, int End) own, (int Start, int End) other, Func<int, IEnumerable<string>> wordsOfFirst, Func<int, IEnumerable<string>> wordsOfSecond, Func<int, int, double> likeness, int[] pairs)
    {
        if (own.Start >= own.End || other.Start >= other.End) return;
        var alike = Alike(own, other, wordsOfFirst, wordsOfSecond, likeness);
        var found = Alignment.Best(own.End - own.Start, other.End - other.Start, (i, j) => first[own.Start + i] == second[other.Start + j] ? first[own.Start + i].Length > 0 ? 1 : Nothing : alike.GetValueOrDefault((own.Start + i, other.Start + j)));
        for (var i = 0; i < found.Length; i++)
            if (found[i] >= 0) pairs[own.Start + i] = other.Start + found[i];
    }

    /// <summary>The likenesses of those that share a word which few have.</summary>
    private static Dictionary<(int, int), double> Alike((int Start, int End) own, (int Start, int End) other, Func<int, IEnumerable<string>> wordsOfFirst, Func<int, IEnumerable<string>> wordsOfSecond, Func<int, int, double> likeness)
    {
        var places = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        for (var j = other.Start; j < other.End; j++)
        {
            foreach (var word in wordsOfSecond(j).Distinct(StringComparer.Ordinal))
            {
                if (!places.TryGetValue(word, out var list)) places[word] = list = [];
                list.Add(j);
            }
        }
        var few = Math.Max(MostWithWord, (int)Math.Sqrt(other.End - other.Start));
        var alike = new Dictionary<(int, int), double>();
        for (var i = own.Start; i < own.End; i++)
        {
            var seen = new HashSet<int>();
            foreach (var word in wordsOfFirst(i).Distinct(StringComparer.Ordinal))
            {
                if (!places.TryGetValue(word, out var list) || list.Count > few) continue;
                foreach (var j in list)
                    if (seen.Add(j) && likeness(i, j) is > 0 and var how) alike[(i, j)] = Math.Min(how, 0.99);
            }
        }
        return alike;
    }
}
