using System.Collections.Concurrent;

namespace Fennick.Files;

/// <summary>Notes which files are read, for whoever keeps a record of what was made from what.</summary>
internal sealed class FilesRead : IDisposable
{
    private static readonly AsyncLocal<FilesRead?> Current = new();
    // What scripts read that make their reports without a manuscript.
    private static readonly ConcurrentDictionary<string, FileStamp> Loose = new(StringComparer.Ordinal);
    private readonly FilesRead? outer = Current.Value;
    private readonly ConcurrentDictionary<string, FileStamp> files = new(StringComparer.Ordinal);

    private FilesRead() => Current.Value = this;

    /// <summary>The files, in the order of their full paths.</summary>
    public IReadOnlyList<FileStamp> Files => [.. files.Values.OrderBy(f => f.Path, StringComparer.Ordinal)];

    /// <summary>Notes what the current flow of execution reads, until it is disposed of.</summary>
    public static FilesRead Begin() => new();

    /// <summary>What the current flow of execution has read so far; without a record, what was read outside of all.</summary>
    public static IEnumerable<string> SoFar => Current.Value is { } current ? current.files.Keys : Loose.Keys;

    /// <summary>Notes that a file is about to be read.</summary>
    public static void Note(string path) => Note(FileStamp.Of(path));

    /// <summary>Notes that what comes of a file is used again.</summary>
    public static void Note(FileStamp file)
    {
        if (Current.Value is { } current) current.files.TryAdd(file.Path, file);
        else Loose.TryAdd(file.Path, file);
    }

    public void Dispose() => Current.Value = outer;
}
