using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Revision;

/// <summary>A folder that the manuscript of a document is written into.</summary>
internal static class SourceFolder
{
    /// <summary>Writes the files; nothing outside of the folder, and over nothing that is another.</summary>
    /// <exception cref="ReportException">A name leads out of the folder, or a file of another content is there.</exception>
    public static IReadOnlyList<string> Write(ImmutableArray<KeyValuePair<string, string>> sources, string folder)
    {
        (string Path, string Text)[] files = [.. sources.Select(s => (Path.GetFullPath(Path.Combine(folder, s.Key.Replace("../", "", StringComparison.Ordinal))), s.Value))];
        foreach (var (path, text) in files)
        {
            if (!path.StartsWith(folder.TrimEnd('/') + "/", StringComparison.Ordinal)) throw new ReportException(Diagnostic.Error(null, $"the document names a file that leads out of the folder: {path}", "nothing was written"));
            if (File.Exists(path) && File.ReadAllText(path) != text) throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "another file of this name is there", "name another folder; nothing was written"));
        }
        foreach (var (path, text) in files)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.WriteAllText(path, text);
        }
        return [.. files.Select(f => f.Path)];
    }
}
