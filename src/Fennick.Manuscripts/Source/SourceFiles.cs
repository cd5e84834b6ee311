using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Manuscripts.Source;

/// <summary>All files that a manuscript is made of: itself, what it includes, the scripts that steps come from. An offset names a place in one of them.</summary>
internal sealed class SourceFiles
{
    private readonly List<ManuscriptSource> files = [];

    /// <summary>The text of a file that is open in an editor, by its full path, instead of that on the disk; null for others.</summary>
    public Func<string, string?>? TextOf { get; init; }

    /// <summary>All of them.</summary>
    public IReadOnlyList<ManuscriptSource> All => files;

    /// <summary>The manuscript itself.</summary>
    public ManuscriptSource Main => files[0];

    /// <summary>Adds a text.</summary>
    public ManuscriptSource Add(string displayPath, string folder, string text, bool hasLines = true)
    {
        var start = files.Count == 0 ? 0 : files[^1].Start + files[^1].Text.Length + 1;
        var file = new ManuscriptSource(displayPath, folder, text, start) { HasLines = hasLines };
        files.Add(file);
        return file;
    }

    /// <summary>Reads a file and adds it.</summary>
    /// <param name="displayPath">The file as diagnostics name it.</param>
    /// <param name="path">Where it is.</param>
    /// <param name="place">Where it is asked for.</param>
    /// <exception cref="ReportException">It cannot be read, or is not in UTF-8.</exception>
    public ManuscriptSource Read(string displayPath, string path, SourcePlace place)
    {
        try
        {
            var full = FilesRead.Note(path);
            return Add(displayPath, Path.GetDirectoryName(full)!, TextOf?.Invoke(full) ?? TextEncoding.ReadUtf8(full, displayPath));
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(place, $"{displayPath} cannot be read: {(problem is DirectoryNotFoundException ? "there is no such file" : FileProblem.Reason(problem))}", Near(path))], problem);
        }
    }

    public bool Has(string displayPath) => files.Any(f => f.DisplayPath == displayPath);

    /// <summary>The file that an offset lies in.</summary>
    public ManuscriptSource FileOf(int offset) => files.FindLast(f => f.Start <= offset) ?? Main;

    /// <summary>The place of an offset.</summary>
    public SourcePlace PlaceOf(int offset) => FileOf(offset).PlaceOf(offset);

    private static string? Near(string path)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        return !Directory.Exists(folder) ? $"there is no folder {folder}" : Nearest.Suggest(Path.GetFileName(path), Directory.EnumerateFiles(folder).Select(f => Path.GetFileName(f)));
    }
}
