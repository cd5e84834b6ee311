using System.Text;
using CsvHelper;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Data;

/// <summary>Reads character-separated files into records.</summary>
public static class Csv
{
    private const long LargestStream = 1L << 30;

    private static CsvReaderOptions Options(Encoding encoding) => new() { TrackLineNumbers = true, PoolStrings = true, MalformedData = CsvMalformedDataHandling.Throw, Encoding = encoding };

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
        return Read(path, encoding, csv => Bind<T>(path, csv));
    }

    /// <summary>Reads the records of a stream, such as one of an upload, a resource or a service, as those of a file. What the stream gives is not known as an input of the report; a batch takes it for changed.</summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="stream">The data, from where the stream stands to its end.</param>
    /// <param name="name">What messages call it.</param>
    /// <param name="encoding">Its encoding; as for a file if null.</param>
    /// <exception cref="ReportException">As for a file.</exception>
    public static IReadOnlyList<T> Read<T>(Stream stream, string name = "data", string? encoding = null)
    {
        ArgumentNullException.ThrowIfNull(name);
        using var content = new MemoryStream(StreamBytes.Read(stream, LargestStream, name), writable: false);
        var text = TextEncoding.Of(content, encoding, name).GetString(content.ToArray()).TrimStart('\uFEFF');
        return Read(name, () => CsvReader.FromText(text, Options(Encoding.UTF8)), csv => Bind<T>(name, csv));
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
        return Read(path, () =>
        {
            var full = FilesRead.Note(path);
            return CsvReader.FromFile(full, Options(TextEncoding.Of(full, encoding, path)), FileOptions.SequentialScan);
        }, read);
    }

    private static List<T> Bind<T>(string path, CsvReader csv)
    {
        var binder = RecordBinder<T>.Create(path, csv.Headers ?? []);
        var records = new List<T>();
        while (csv.Read()) records.Add(binder.Bind(csv));
        return records;
    }

    private static T Read<T>(string path, Func<CsvReader> open, Func<CsvReader, T> read)
    {
        try
        {
            using var csv = open();
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
