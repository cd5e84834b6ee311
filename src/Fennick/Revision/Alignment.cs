namespace Fennick.Revision;

/// <summary>Finds which things of two sequences belong together, each in its order.</summary>
internal static class Alignment
{
    // What is compared with what, at most.
    private const long MostPairs = 4_000_000;

    /// <summary>The longest sequence of equal things.</summary>
    /// <returns>For each of the first its place in the second; -1 if it has none.</returns>
    public static int[] Equal(IReadOnlyList<string> first, IReadOnlyList<string> second) => Best(first.Count, second.Count, (i, j) => first[i] == second[j] ? 1 + (0.001 * Math.Min(first[i].Length, 40)) : 0);

    /// <summary>The pairs whose likenesses together are most.</summary>
    /// <param name="first">How many there are in the first sequence.</param>
    /// <param name="second">How many in the second.</param>
    /// <param name="likeness">How alike two of them are; 0 if they do not belong together.</param>
    /// <returns>For each of the first its place in the second; -1 if it has none.</returns>
    public static int[] Best(int first, int second, Func<int, int, double> likeness)
    {
        var found = new int[first];
        Array.Fill(found, -1);
        var start = 0;
        // What is surely the same at both ends need not be compared with all else.
        while (start < first && start < second && likeness(start, start) >= 1) found[start] = start++;
        var (end, otherEnd) = (first, second);
        while (end > start && otherEnd > start && likeness(end - 1, otherEnd - 1) >= 1) found[--end] = --otherEnd;
        var (rows, columns) = (end - start, otherEnd - start);
        if (rows == 0 || columns == 0) return found;
        if ((long)rows * columns > MostPairs)
        {
            InOrder(start, end, otherEnd, likeness, found);
            return found;
        }
        var best = new double[rows + 1, columns + 1];
        for (var i = rows - 1; i >= 0; i--)
        {
            for (var j = columns - 1; j >= 0; j--)
            {
                var both = likeness(start + i, start + j);
                best[i, j] = Math.Max(both > 0 ? both + best[i + 1, j + 1] : 0, Math.Max(best[i + 1, j], best[i, j + 1]));
            }
        }
        for (int i = 0, j = 0; i < rows && j < columns;)
        {
            var both = likeness(start + i, start + j);
            if (both > 0 && best[i, j] == both + best[i + 1, j + 1]) found[start + i++] = start + j++;
            else if (best[i, j] == best[i + 1, j]) i++;
            else j++;
        }
        return found;
    }

    /// <summary>Of very many things each goes with the next that is surely the same.</summary>
    private static void InOrder(int start, int end, int otherEnd, Func<int, int, double> likeness, int[] found)
    {
        const int Farthest = 400;
        var next = start;
        for (var i = start; i < end && next < otherEnd; i++)
        {
            for (var j = next; j < Math.Min(otherEnd, next + Farthest); j++)
            {
                if (likeness(i, j) < 1) continue;
                found[i] = j;
                next = j + 1;
                break;
            }
        }
    }

    /// <summary>How much of two texts is the same: 1 for all, 0 for nothing.</summary>
    public static double Likeness(string first, string second) => first == second ? 1 : new WordBag(first).Likeness(new WordBag(second));
}
