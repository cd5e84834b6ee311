using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Data;

/// <summary>Reads the files of a folder as one table.</summary>
public static class DataFolder
{
    /// <summary>Reads all files whose names are like a pattern, in the order of their names. A file more or less makes a report out of date, as a changed one does.</summary>
    /// <typeparam name="T">A record.</typeparam>
    /// <param name="pattern">The folder and the names, such as <c>data/hives-*.csv</c>; <c>*</c> stands for any characters, <c>?</c> for one. Hidden files are passed over.</param>
    /// <param name="read">Reads one file.</param>
    /// <returns>The records of all files.</returns>
    /// <exception cref="ReportException">No file is like it, or one of them cannot be read.</exception>
    /// <example><code>var hives = DataFolder.Read("data/hives-*.csv", file => Csv.Read&lt;Hive&gt;(file));</code></example>
    public static IReadOnlyList<T> Read<T>(string pattern, Func<string, IEnumerable<T>> read)
    {
        ArgumentNullException.ThrowIfNull(read);
        return [.. Files(pattern).SelectMany(read)];
    }

    /// <summary>The files whose names are like a pattern, in the order of their names ("2" before "10"), as paths from where the pattern starts.</summary>
    /// <exception cref="ReportException">No file is like it.</exception>
    public static IReadOnlyList<string> Files(string pattern)
    {
        ArgumentNullException.ThrowIfNull(pattern);
        var full = RunContext.FullPath(pattern);
        if (!FileStamp.IsPattern(full) && !File.Exists(full))
            throw new ReportException(Diagnostic.Error(null, $"`{pattern}` is not a pattern", "write the folder and the names of its files, such as `data/*.csv`"));
        if (File.Exists(full)) return [pattern];
        FilesRead.Note(pattern);
        var folder = Path.GetDirectoryName(pattern) ?? "";
        string[] files = [.. FileStamp.Matches(full).Select(f => Path.Combine(folder, Path.GetFileName(f)))];
        return files.Length > 0 ? files : throw new ReportException(Diagnostic.Error(null, $"no file is like `{pattern}`", Directory.Exists(Path.GetDirectoryName(full)) ? $"the folder {Path.GetDirectoryName(full)} has none" : $"there is no folder {Path.GetDirectoryName(full)}"));
    }
}
