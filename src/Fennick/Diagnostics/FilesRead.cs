using System.Collections.Concurrent;

namespace Fennick.Diagnostics;

/// <summary>Notes which files are read, for whoever keeps a record of what was made from what.</summary>
internal sealed class FilesRead : IDisposable
{
    private static readonly AsyncLocal<FilesRead?> Current = new();
    private readonly FilesRead? outer = Current.Value;
    private readonly ConcurrentDictionary<string, bool> paths = new(StringComparer.Ordinal);

    private FilesRead() => Current.Value = this;

    /// <summary>The files, in the order of their full paths.</summary>
    public IReadOnlyList<string> Paths => [.. paths.Keys.Order(StringComparer.Ordinal)];

    /// <summary>Notes what the current flow of execution reads, until it is disposed of.</summary>
    public static FilesRead Begin() => new();

    /// <summary>Notes that a file is read.</summary>
    public static void Note(string path) => Current.Value?.paths.TryAdd(Path.GetFullPath(path), true);

    public void Dispose() => Current.Value = outer;
}
