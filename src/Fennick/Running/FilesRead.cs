using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Running;

/// <summary>Notes which files are read, for whoever keeps a record of what was made from what.</summary>
internal sealed class FilesRead : IDisposable
{
    // What scripts read that make their reports without a manuscript.
    private static readonly FilesRead Loose = new(isLoose: true);
    private readonly ConcurrentDictionary<string, FileStamp> files = new(StringComparer.Ordinal);
    private readonly RunContext.Scope? scope;
    private readonly ConcurrentDictionary<Diagnostic, bool> told = [];
    private ConcurrentQueue<FileStamp>? recent;

    private FilesRead(bool isLoose = false) => scope = isLoose ? null : ((RunContext.Current ?? new RunContext()) with { Files = this }).Enter();

    /// <summary>The files, in the order of their full paths.</summary>
    public IReadOnlyList<FileStamp> Files => [.. files.Values.OrderBy(f => f.Path, StringComparer.Ordinal)];

    /// <summary>Notes what the current flow of execution reads, until it is disposed of.</summary>
    public static FilesRead Begin() => new();

    /// <summary>What the current flow of execution has read so far; without a record, what was read outside of all.</summary>
    public static IEnumerable<string> SoFar => Current.files.Keys;

    private static FilesRead Current => RunContext.Current?.Files ?? Loose;

    /// <summary>Notes that a file is about to be read.</summary>
    /// <param name="path">The file as the user named it.</param>
    /// <returns>Its full path, by which it has to be read.</returns>
    public static string Note(string path)
    {
        var file = FileStamp.Of(path);
        Note(file);
        return file.Path;
    }

    /// <summary>Notes that what comes of a file is used again.</summary>
    public static void Note(FileStamp file)
    {
        var current = Current;
        current.files.TryAdd(file.Path, file);
        current.recent?.Enqueue(file);
    }

    /// <summary>From now on what is read is noted apart.</summary>
    public static void BeginRecent() => Current.recent = new ConcurrentQueue<FileStamp>();

    /// <summary>What was read since then.</summary>
    public static ImmutableArray<FileStamp> Recent => Current.recent is { } recent ? [.. recent.Distinct()] : [];

    /// <summary>Tells what deserves attention in what is read.</summary>
    public static void Tell(Diagnostic diagnostic) => Current.told.TryAdd(diagnostic, true);

    /// <summary>What was told and not yet taken.</summary>
    public static IReadOnlyList<Diagnostic> TakeTold()
    {
        var (current, taken) = (Current, new List<Diagnostic>());
        foreach (var diagnostic in current.told.Where(t => t.Value).Select(t => t.Key).OrderBy(d => d.ToString(), StringComparer.Ordinal))
            if (current.told.TryUpdate(diagnostic, false, true)) taken.Add(diagnostic);
        return taken;
    }

    public void Dispose() => scope?.Dispose();
}
