using Fennick.Diagnostics;

namespace Fennick.Files;

/// <summary>Folders whose files may say what is done with a manuscript, since nobody but its user can have put them there.</summary>
internal static class OwnFolders
{
    /// <summary>A new folder among the temporary ones that only its user can look into.</summary>
    /// <param name="prefix">What its name begins with.</param>
    /// <exception cref="ReportException">There is no folder for temporary ones, or it cannot be written to.</exception>
    public static string CreateTemporary(string prefix)
    {
        try
        {
            return Directory.CreateTempSubdirectory(prefix).FullName;
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            var parent = Path.GetTempPath();
            throw new ReportException([Diagnostic.Error(new SourcePlace(parent, 0, 0), $"no temporary folder can be made here{(Directory.Exists(parent) ? "" : ": there is no such folder")}", "let the variable `TMPDIR` name a folder that you can write to")], problem);
        }
    }

    /// <summary>A folder and those above it, up to the repository that it is in or the user's home. Where one is somebody else's, or anybody may write into it, it is the last and is not trusted.</summary>
    public static IEnumerable<(string Folder, bool IsTrusted)> Above(string start)
    {
        var home = Environment.GetFolderPath(Environment.SpecialFolder.UserProfile);
        for (var folder = start; folder is not null; folder = Path.GetDirectoryName(folder))
        {
            var isOwn = IsOwn(folder);
            yield return (folder, isOwn);
            if (!isOwn || folder == home || Path.Exists(Path.Combine(folder, ".git"))) yield break;
        }
    }

    /// <summary>Whether a file or a folder is the user's own and not writable for everybody.</summary>
    public static bool IsOwn(string path) => UnixFile.Of(path) is { IsOwn: true } file && !file.Mode.HasFlag(UnixFileMode.OtherWrite);

    /// <summary>Removes the user's own folders of a kind among the temporary ones that are old.</summary>
    public static void RemoveOld(string prefix, TimeSpan age)
    {
        try
        {
            foreach (var folder in new DirectoryInfo(Path.GetTempPath()).EnumerateDirectories($"{prefix}*").Where(d => d.LinkTarget is null && IsOwn(d.FullName) && DateTime.UtcNow - d.LastWriteTimeUtc > age)) folder.Delete(recursive: true);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            // Another process is clearing them too.
        }
    }
}
