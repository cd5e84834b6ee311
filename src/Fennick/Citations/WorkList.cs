using System.Collections.Immutable;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Citations;

/// <summary>The sources that a report can cite.</summary>
public sealed class WorkList
{
    private readonly ImmutableSortedDictionary<string, Work> byKey;

    private WorkList(IEnumerable<Work> works, string name)
    {
        byKey = works.ToImmutableSortedDictionary(w => w.Key, w => w, StringComparer.Ordinal);
        Name = name;
    }

    /// <summary>No sources.</summary>
    public static WorkList Empty { get; } = new([], "");

    /// <summary>All of them, by key.</summary>
    public IEnumerable<Work> Works => byKey.Values;

    /// <summary>The files that they come from.</summary>
    internal string Name { get; }

    /// <summary>Sources that are given one by one.</summary>
    /// <exception cref="ReportException">Two have one key.</exception>
    public static WorkList Of(params IEnumerable<Work> works)
    {
        var all = works.ToArray();
        return all.GroupBy(w => w.Key).FirstOrDefault(g => g.Count() > 1) is { } twice
            ? throw new ReportException(Diagnostic.Error(null, $"there are two sources `{twice.Key}`", "give one of them another key"))
            : new WorkList(all, "");
    }

    /// <summary>Reads sources from files: BibTeX (<c>.bib</c>) or CSL-JSON (<c>.json</c>).</summary>
    /// <param name="paths">The files.</param>
    /// <exception cref="ReportException">A file cannot be read, is neither, or holds a key twice.</exception>
    public static WorkList Read(params IEnumerable<string> paths)
    {
        var works = new Dictionary<string, Work>(StringComparer.Ordinal);
        var names = new List<string>();
        foreach (var path in paths)
        {
            names.Add(Path.GetFileName(path));
            foreach (var (work, place) in ReadFile(path))
                if (!works.TryAdd(work.Key, work)) throw new ReportException(Diagnostic.Error(place, $"there are two sources `{work.Key}`", "give one of them another key"));
        }
        return new WorkList(works.Values, string.Join(", ", names));
    }

    /// <summary>The source of a key; null if there is none.</summary>
    public Work? Find(string key) => byKey.GetValueOrDefault(key);

    /// <summary>The keys of all sources.</summary>
    internal IEnumerable<string> Keys => byKey.Keys;

    /// <summary>What is wrong with a key; null if it is known.</summary>
    internal Diagnostic? FindMistake(string key, SourcePlace? place) => byKey.ContainsKey(key) ? null : Diagnostic.Error(place, $"there is no source `{key}`",
        Nearest.Suggest(key, byKey.Keys) ?? (byKey.IsEmpty ? "name a file of sources in the settings: `bibliography: sources.bib`" : $"look for its key in {Name}"));

    private static IEnumerable<(Work, SourcePlace)> ReadFile(string path)
    {
        var place = new SourcePlace(path, 0, 0);
        try
        {
            var text = TextEncoding.ReadUtf8(FilesRead.Note(path), path);
            return Path.GetExtension(path).ToLowerInvariant() switch
            {
                ".bib" => BibTexReader.Read(text, path),
                ".json" => CslReader.Read(text, path),
                _ => throw new ReportException(Diagnostic.Error(place, "this is not a file of sources", "its name ends in `.bib` (BibTeX) or `.json` (CSL-JSON)")),
            };
        }
        catch (JsonException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, (int)(problem.LineNumber ?? 0) + 1, (int)(problem.BytePositionInLine ?? 0) + 1), "this is no JSON", problem.Message)], problem);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(place, $"the sources cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
    }
}
