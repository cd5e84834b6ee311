using Fennick.Diagnostics;

namespace Fennick.Files;

/// <summary>A file that is complete and on the disk, but not in its place yet.</summary>
internal sealed class StagedFile : IDisposable
{
    private const string Ending = ".part";
    private const UnixFileMode AccessBits = (UnixFileMode)0x1FF;
    private readonly FileStream stream;
    private readonly string place;
    private bool isPlaced;

    private StagedFile(string path, string place, FileMode mode)
    {
        Path = path;
        this.place = place;
        stream = new FileStream(path, new FileStreamOptions
        {
            Mode = mode,
            Access = FileAccess.ReadWrite,
            // Nobody else may open it until it has its name: whoever can knows that its process has died.
            Share = FileShare.None,
            BufferSize = 0,
            // What only few may read is not shown to others while it is written.
            UnixCreateMode = mode == FileMode.CreateNew && File.Exists(place) ? UnixFileMode.UserRead | UnixFileMode.UserWrite : null,
        });
    }

    /// <summary>Where it is for now: beside its place.</summary>
    public string Path { get; }

    /// <summary>Writes a file beside its place.</summary>
    /// <param name="path">Its full path; where that is a link, what it leads to is written.</param>
    /// <param name="write">Writes the content.</param>
    public static StagedFile Write(string path, Action<FileStream> write)
    {
        var place = PlaceOf(path);
        var folder = System.IO.Path.GetDirectoryName(place)!;
        var staged = new StagedFile(System.IO.Path.Combine(folder, $".{System.IO.Path.GetFileName(place)}.{Guid.NewGuid():N}{Ending}"), place, FileMode.CreateNew);
        try
        {
            write(staged.stream);
            staged.stream.Flush(flushToDisk: true);
            return staged;
        }
        catch
        {
            staged.Dispose();
            throw;
        }
    }

    /// <summary>Takes over a file that another process has written beside its place.</summary>
    public static StagedFile Adopt(string staged, string path) => new(staged, PlaceOf(path), FileMode.Open);

    /// <summary>What was written.</summary>
    public byte[] Read()
    {
        var bytes = new byte[RandomAccess.GetLength(stream.SafeFileHandle)];
        for (var at = 0; at < bytes.Length;)
        {
            var read = RandomAccess.Read(stream.SafeFileHandle, bytes.AsSpan(at), at);
            if (read == 0) throw new EndOfStreamException();
            at += read;
        }
        return bytes;
    }

    /// <summary>Gives it its name: the old file is there whole until the new one is. Who may do what with the old one stays as it was.</summary>
    public void Place()
    {
        if (UnixFile.Of(place) is { } old) KeepAccess(Path, old);
        // From the moment it has its name everybody may read it.
        UnixFile.ShareLock(stream.SafeFileHandle);
        File.Move(Path, place, overwrite: true);
        isPlaced = true;
        UnixFile.FlushFolder(System.IO.Path.GetDirectoryName(place)!);
    }

    /// <summary>Leaves it where it is, for somebody else to take over.</summary>
    /// <returns>Where that is.</returns>
    public string Leave()
    {
        isPlaced = true;
        return Path;
    }

    /// <summary>Removes it if it has not been placed.</summary>
    public void Dispose()
    {
        if (!isPlaced) File.Delete(Path);
        stream.Dispose();
    }

    /// <summary>Where a file really lies that is reached by links.</summary>
    /// <exception cref="ReportException">The links lead nowhere.</exception>
    public static string PlaceOf(string path)
    {
        try
        {
            return (File.Exists(path) ? File.ResolveLinkTarget(path, returnFinalTarget: true)?.FullName : null) ?? path;
        }
        catch (IOException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), "its link leads in a circle", "remove the link, or name another place")], problem);
        }
    }

    /// <summary>Removes what processes that were killed had not placed.</summary>
    /// <param name="folder">A folder.</param>
    /// <param name="isOwn">Whether a file of this name is one's own to write.</param>
    public static void RemoveLeftOvers(string folder, Func<string, bool> isOwn)
    {
        if (!Directory.Exists(folder)) return;
        foreach (var file in Directory.EnumerateFiles(folder, $".*{Ending}").Where(f => NameOf(f) is { } name && isOwn(name)).ToArray())
        {
            try
            {
                using var abandoned = new FileStream(file, FileMode.Open, FileAccess.ReadWrite, FileShare.None);
                File.Delete(file);
            }
            catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
            {
                // Somebody is writing it, or it is not ours to remove.
            }
        }
    }

    /// <summary>The name that a file was to get; null if it is none of these.</summary>
    private static string? NameOf(string file)
    {
        var name = System.IO.Path.GetFileName(file)[1..^Ending.Length];
        var dot = name.LastIndexOf('.');
        return dot > 0 && Guid.TryParseExact(name[(dot + 1)..], "N", out _) ? name[..dot] : null;
    }

    private static void KeepAccess(string path, UnixFile old)
    {
        // What belongs to another can only be given back by a user who may do everything; the group often.
        if (old.IsOwn || !UnixFile.TryGive(path, old.Owner, old.Group)) UnixFile.TryGive(path, uint.MaxValue, old.Group);
        File.SetUnixFileMode(path, old.Mode & AccessBits);
    }
}
