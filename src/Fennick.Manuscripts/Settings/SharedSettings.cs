using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Manuscripts.Settings;

/// <summary>Finds the file of settings that manuscripts below it share.</summary>
internal static class SharedSettings
{
    /// <summary>The name of such a file.</summary>
    public const string Name = "fennick.settings";

    /// <summary>
    /// The nearest file above a manuscript, up to its repository or the user's home. Only what is the user's own is looked at: where a folder is
    /// somebody else's, or anybody may write into it, the search ends.
    /// </summary>
    /// <param name="start">The manuscript's folder.</param>
    /// <param name="diagnostics">Is told of a file that is not read.</param>
    public static string? Find(string start, List<Diagnostic> diagnostics)
    {
        var home = Environment.GetFolderPath(Environment.SpecialFolder.UserProfile);
        for (var folder = start; folder is not null; folder = Path.GetDirectoryName(folder))
        {
            var path = Path.Combine(folder, Name);
            var isOwn = IsOwn(folder);
            if (File.Exists(path))
            {
                if (isOwn && IsOwn(path)) return path;
                diagnostics.Add(Diagnostic.Warning(new SourcePlace(path, 0, 0), "these settings are not read: the file or its folder belongs to somebody else, or anybody may write there", "make both yours, and writable for nobody else, or put the settings into the manuscript"));
                return null;
            }
            if (!isOwn || folder == home || Path.Exists(Path.Combine(folder, ".git"))) return null;
        }
        return null;
    }

    private static bool IsOwn(string path) => UnixFile.Of(path) is { } file && file.Owner == UnixFile.CurrentUser && !file.Mode.HasFlag(UnixFileMode.OtherWrite);
}
