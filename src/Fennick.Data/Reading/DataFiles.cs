using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Data.Reading;

/// <summary>Opens files of data, and tells why one cannot be read.</summary>
internal static class DataFiles
{
    /// <summary>Reads a file, which counts as an input of the report.</summary>
    /// <param name="path">The file as the user named it.</param>
    /// <param name="read">Reads it by its full path.</param>
    /// <exception cref="ReportException">There is none, or it cannot be read.</exception>
    public static T Read<T>(string path, Func<string, T> read)
    {
        ArgumentNullException.ThrowIfNull(path);
        var full = RunContext.FullPath(path);
        if (Directory.Exists(full)) throw new ReportException(Diagnostic.Error(null, $"`{path}` is a folder", "name a file in it, or read all of them by a pattern such as `data/*.csv` and `DataFolder.Read`"));
        if (!File.Exists(full)) throw NoFile(path, full);
        try
        {
            return read(FilesRead.Note(path));
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the file cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
    }

    /// <summary>Calls what reads the bytes of a format: whatever it throws means that the file is damaged.</summary>
    /// <param name="path">The file as the user named it.</param>
    /// <param name="kind">What it should be.</param>
    /// <param name="advice">What to do.</param>
    /// <param name="call">Reads.</param>
    /// <exception cref="ReportException">It is damaged.</exception>
    public static T Decode<T>(string path, string kind, string? advice, Func<T> call)
    {
        try
        {
            return call();
        }
        catch (Exception problem) when (problem is not (ReportException or UnauthorizedAccessException or OperationCanceledException))
        {
            var isLocked = problem.Message.Contains("password", StringComparison.OrdinalIgnoreCase);
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), isLocked ? $"the file is protected by a password" : $"this is no {kind}, or a damaged one: {problem.Message.Split('\n')[0].TrimEnd('.')}", isLocked ? "save it without one" : advice)], problem);
        }
    }

    private static ReportException NoFile(string path, string full)
    {
        var folder = Path.GetDirectoryName(full)!;
        var near = Directory.Exists(folder) ? Nearest.Find(Path.GetFileName(full), Directory.EnumerateFiles(folder).Select(f => Path.GetFileName(f))) : null;
        var suggestion = near is not null ? $"did you mean `{Path.Combine(Path.GetDirectoryName(path) ?? "", near)}`?"
            : Directory.Exists(folder) ? $"the folder {folder} has no such file" : $"there is no folder {folder}";
        return new ReportException(Diagnostic.Error(null, $"there is no data file `{path}`", suggestion));
    }
}
