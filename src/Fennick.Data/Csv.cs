using CsvHelper;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Data;

/// <summary>Reads character-separated files into records.</summary>
public static class Csv
{
    /// <summary>
    /// Reads a file whose first line names its columns. A column belongs to the member of that name; case, <c>_</c>, <c>-</c> and spaces do not count,
    /// so <c>honey_kg</c> fills <c>HoneyKg</c>. Numbers and dates are written as in programs (<c>1.5</c>, <c>2025-11-03</c>), yes and no as
    /// <c>yes</c>/<c>no</c>, <c>true</c>/<c>false</c> or <c>1</c>/<c>0</c>; an empty cell or <c>NA</c> is a missing value and needs a member that may be null.
    /// Cells are separated by commas, semicolons, tabs or bars, whichever the first lines use; columns without a member are passed over.
    /// </summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file, relative to the current folder; in a manuscript that is the manuscript's own.</param>
    /// <param name="encoding">Its encoding, such as <c>windows-1252</c>; if null, that of the manuscript's setting <c>data.encoding</c>, or else UTF-8. A byte order mark in the file counts before both.</param>
    /// <returns>The records in the file's order.</returns>
    /// <exception cref="ReportException">There is no such file, it is in another encoding, a column is missing, a row has too few or too many cells, or a cell has the wrong form: file, line and column are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, string? encoding = null)
    {
        ArgumentNullException.ThrowIfNull(path);
        return Read(path, encoding, csv =>
        {
            var binder = RecordBinder<T>.Create(path, csv.Headers ?? []);
            var records = new List<T>();
            while (csv.Read()) records.Add(binder.Bind(csv));
            return records;
        });
    }

    /// <summary>The names of a file's columns, and the cells of each of its lines as text.</summary>
    /// <exception cref="ReportException">There is no such file, or it is damaged.</exception>
    internal static (IReadOnlyList<string> Heads, IReadOnlyList<(int Line, string[] Cells)> Rows) ReadCells(string path, string? encoding) => Read(path, encoding, csv =>
    {
        var rows = new List<(int, string[])>();
        while (csv.Read()) rows.Add(((int)csv.LineNumber, [.. Enumerable.Range(0, csv.FieldCount).Select(csv.GetString)]));
        return ((IReadOnlyList<string>)[.. csv.Headers ?? []], (IReadOnlyList<(int, string[])>)rows);
    });

    /// <summary>Whether a name is that of a column: case, <c>_</c>, <c>-</c> and spaces do not count.</summary>
    internal static bool AreAlike(string name, string column)
    {
        return Fold(name) == Fold(column);

        static string Fold(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();
    }

    private static T Read<T>(string path, string? encoding, Func<CsvReader, T> read)
    {
        if (!File.Exists(RunContext.FullPath(path))) throw NoFile(path);
        try
        {
            var full = FilesRead.Note(path);
            var options = new CsvReaderOptions { TrackLineNumbers = true, PoolStrings = true, MalformedData = CsvMalformedDataHandling.Throw, Encoding = TextEncoding.Of(full, encoding, path) };
            using var csv = CsvReader.FromFile(full, options, FileOptions.SequentialScan);
            csv.ReadHeader();
            return read(csv);
        }
        catch (CsvFormatException problem)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, (int)problem.LineNumber, 1), $"the file is damaged: {problem.Message}")], problem);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(path, 0, 0), $"the file cannot be read: {FileProblem.Reason(problem)}")], problem);
        }
    }

    private static ReportException NoFile(string path)
    {
        var full = RunContext.FullPath(path);
        var folder = Path.GetDirectoryName(full)!;
        var near = Directory.Exists(folder) ? Nearest.Find(Path.GetFileName(full), Directory.EnumerateFiles(folder).Select(f => Path.GetFileName(f))) : null;
        var suggestion = near is not null ? $"did you mean `{Path.Combine(Path.GetDirectoryName(path) ?? "", near)}`?"
            : Directory.Exists(folder) ? $"the folder {folder} has no such file" : $"there is no folder {folder}";
        return new ReportException(Diagnostic.Error(null, $"there is no data file `{path}`", suggestion));
    }
}
