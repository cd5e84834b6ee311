using Fennick.Diagnostics;
using Fennick.Running;

namespace Fennick.Files;

/// <summary>A file as it was when it was read.</summary>
/// <param name="Path">Its full path.</param>
/// <param name="Length">Its length; -1 if it was not there.</param>
/// <param name="Changed">When it had been changed last.</param>
internal readonly record struct FileStamp(string Path, long Length, DateTime Changed)
{
    /// <summary>A file as it is now.</summary>
    /// <exception cref="ReportException">This is not a path, or leads to what can be read only once, or without end.</exception>
    public static FileStamp Of(string path)
    {
        var file = new FileInfo(RunContext.FullPath(path));
        if (UnixFile.Of(file.FullName) is { IsOrdinary: false })
            throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "this is a pipe or a device, not a file", "save what it gives in a file, and name that"));
        return file.Exists ? new FileStamp(file.FullName, file.Length, file.LastWriteTimeUtc) : new FileStamp(file.FullName, -1, default);
    }
}
