namespace Fennick.Files;

/// <summary>A file as it was when it was read.</summary>
/// <param name="Path">Its full path.</param>
/// <param name="Length">Its length; -1 if it was not there.</param>
/// <param name="Changed">When it had been changed last.</param>
internal readonly record struct FileStamp(string Path, long Length, DateTime Changed)
{
    public static FileStamp Of(string path)
    {
        var file = new FileInfo(path);
        return file.Exists ? new FileStamp(file.FullName, file.Length, file.LastWriteTimeUtc) : new FileStamp(file.FullName, -1, default);
    }
}
