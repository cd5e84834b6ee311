using Fennick.Diagnostics;
using Fennick.Files;

namespace Fennick.Manuscripts.Settings;

/// <summary>Finds the file of settings that manuscripts below it share.</summary>
internal static class SharedSettings
{
    /// <summary>The name of such a file.</summary>
    public const string Name = "fennick.settings";

    /// <summary>The nearest file above a manuscript, up to its repository or the user's home, as far as all is the user's own.</summary>
    /// <param name="start">The manuscript's folder.</param>
    /// <param name="diagnostics">Is told of a file that is not read.</param>
    public static string? Find(string start, List<Diagnostic> diagnostics)
    {
        var (folder, isTrusted) = OwnFolders.Above(start).FirstOrDefault(f => File.Exists(Path.Combine(f.Folder, Name)));
        if (folder is null) return null;
        var path = Path.Combine(folder, Name);
        if (isTrusted && OwnFolders.IsOwn(path)) return path;
        diagnostics.Add(Diagnostic.Warning(new SourcePlace(path, 0, 0), "these settings are not read: the file or its folder belongs to somebody else, or anybody may write there", "make both yours, and writable for nobody else, or put the settings into the manuscript"));
        return null;
    }
}
