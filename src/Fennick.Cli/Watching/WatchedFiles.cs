using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Cli.Watching;

/// <summary>The files that a report is made from: tells when one of them has changed.</summary>
/// <param name="changed">Is told that something has happened near them.</param>
internal sealed class WatchedFiles(Action changed) : IDisposable
{
    private readonly Dictionary<string, FileSystemWatcher> watchers = new(StringComparer.Ordinal);
    private Dictionary<string, FileStamp> stamps = new(StringComparer.Ordinal);

    /// <summary>Names the files.</summary>
    /// <param name="files">Their full paths.</param>
    /// <param name="since">When they began to be read: what was changed later counts as changed.</param>
    public void Follow(IEnumerable<string> files, DateTime since)
    {
        var now = new Dictionary<string, FileStamp>(StringComparer.Ordinal);
        foreach (var file in files.Distinct())
        {
            if (Stamp(file) is not { } stamp) continue;
            now[file] = stamps.TryGetValue(file, out var known) ? known : stamp.Changed > since ? stamp with { Length = -2 } : stamp;
        }
        stamps = now;
        var folders = stamps.Keys.Select(f => Path.GetDirectoryName(f)!).Where(Directory.Exists).ToHashSet(StringComparer.Ordinal);
        foreach (var folder in folders.Where(f => !watchers.ContainsKey(f))) Watch(folder);
        foreach (var gone in watchers.Keys.Where(f => !folders.Contains(f)).ToArray())
        {
            watchers.Remove(gone, out var watcher);
            watcher!.Dispose();
        }
    }

    /// <summary>Whether one is not as it was when this was asked before.</summary>
    public bool HaveChanged()
    {
        var any = false;
        foreach (var (file, before) in stamps.ToArray())
        {
            if (Stamp(file) is not { } stamp || stamp == before) continue;
            stamps[file] = stamp;
            any = true;
        }
        return any;
    }

    public void Dispose()
    {
        foreach (var watcher in watchers.Values) watcher.Dispose();
    }

    private void Watch(string folder)
    {
        try
        {
            var watcher = new FileSystemWatcher(folder) { NotifyFilter = NotifyFilters.FileName | NotifyFilters.LastWrite | NotifyFilters.Size };
            watcher.Changed += (_, _) => changed();
            watcher.Created += (_, _) => changed();
            watcher.Deleted += (_, _) => changed();
            watcher.Renamed += (_, _) => changed();
            watcher.EnableRaisingEvents = true;
            watchers[folder] = watcher;
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException or ArgumentException)
        {
            // The system watches no more folders, or this one not: the files are looked at from time to time anyway.
        }
    }

    private static FileStamp? Stamp(string file)
    {
        try
        {
            return FileStamp.Of(file);
        }
        catch (Exception problem) when (problem is ReportException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}
