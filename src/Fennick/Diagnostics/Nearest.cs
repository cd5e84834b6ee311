using Fennick.Running;
namespace Fennick.Diagnostics;

/// <summary>Finds the name that was probably meant.</summary>
internal static class Nearest
{
    /// <summary>The file that a path could mean, or that there is no such folder either; null if no name is near.</summary>
    public static string? SuggestFile(string path)
    {
        var folder = Path.GetDirectoryName(RunContext.FullPath(path))!;
        return Directory.Exists(folder) ? Suggest(Path.GetFileName(path), Directory.EnumerateFiles(folder).Select(f => Path.GetFileName(f))) : "there is no such folder either";
    }

    /// <summary>"did you mean `x`?", or null if no candidate is near.</summary>
    public static string? Suggest(string word, IEnumerable<string> candidates) =>
        Find(word, candidates) is { } name ? $"did you mean `{name}`?" : null;

    /// <summary>The candidate within a third of the word's length in edits, or the only one that starts with it; or null.</summary>
    public static string? Find(string word, IEnumerable<string> candidates)
    {
        const int ShortestStart = 3;
        string? best = null;
        var bestDistance = Math.Min(word.Length, 1 + Math.Max(1, word.Length / 3));
        foreach (var candidate in candidates)
        {
            var distance = Distance(Fold(word), Fold(candidate));
            if (distance >= bestDistance || candidate == word) continue;
            (best, bestDistance) = (candidate, distance);
        }
        // Half a name is near too, if only one goes on from it.
        if (best is null && word.Length >= ShortestStart)
            best = candidates.Where(c => Fold(c).StartsWith(Fold(word), StringComparison.Ordinal)).Take(2).ToArray() is [var only] ? only : null;
        return best;
    }

    private static string Fold(string name) => name.Replace('_', '-').ToLowerInvariant();

    /// <summary>Optimal string alignment distance: insert, delete, replace, swap neighbours.</summary>
    private static int Distance(string a, string b)
    {
        var before = new int[b.Length + 1];
        var previous = Enumerable.Range(0, b.Length + 1).ToArray();
        for (var i = 1; i <= a.Length; i++)
        {
            var current = new int[b.Length + 1];
            current[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                var cost = a[i - 1] == b[j - 1] ? 0 : 1;
                current[j] = Math.Min(Math.Min(current[j - 1] + 1, previous[j] + 1), previous[j - 1] + cost);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    current[j] = Math.Min(current[j], before[j - 2] + 1);
            }
            (before, previous) = (previous, current);
        }
        return previous[b.Length];
    }
}
