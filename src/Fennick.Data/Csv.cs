using Fennick.Data.Reading;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Reads character-separated files.</summary>
public static class Csv
{
    /// <summary>
    /// Reads a file whose first line names its columns. A column belongs to the member of that name; case, <c>_</c>, <c>-</c> and spaces do not count,
    /// so <c>honey_kg</c> fills <c>HoneyKg</c>. Numbers and dates are written as in programs (<c>1.5</c>, <c>2025-11-03</c>), yes and no as
    /// <c>yes</c>/<c>no</c>, <c>true</c>/<c>false</c> or <c>1</c>/<c>0</c>; an empty cell or <c>NA</c> is a missing value and needs a member that may be null.
    /// Cells are separated by commas, semicolons, tabs or bars, whichever the first lines use; where they are not commas, numbers with decimal commas are understood.
    /// Columns without a member are passed over.
    /// </summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file, relative to the current folder; in a manuscript that is the manuscript's own.</param>
    /// <param name="encoding">Its encoding, such as <c>windows-1252</c>; if null, that of the manuscript's setting <c>data.encoding</c>, or else UTF-8. A byte order mark in the file counts before both.</param>
    /// <returns>The records in the file's order.</returns>
    /// <exception cref="ReportException">There is no such file, it is in another encoding, a column is missing, a row has too few or too many cells, or cells have the wrong form: file, line and column are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, string? encoding = null) => Read<T>(path, new CsvDialect { Encoding = encoding });

    /// <summary>Reads a file of another dialect.</summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file.</param>
    /// <param name="dialect">How it is written.</param>
    /// <exception cref="ReportException">As for the usual dialect.</exception>
    public static IReadOnlyList<T> Read<T>(string path, CsvDialect dialect)
    {
        ArgumentNullException.ThrowIfNull(dialect);
        return CsvRows.Read(path, dialect, rows => rows.Records<T>());
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
        return CsvRows.Read(stream, name, new CsvDialect { Encoding = encoding }, rows => rows.Records<T>());
    }

    /// <summary>
    /// Reads a file as columns for statistics and overviews. A column of numbers is one, whatever its name; any other is a factor of its texts. A column whose numbers have
    /// zeros before them (<c>00417</c>) holds codes, not numbers. One that is mostly numbers, but not throughout, is refused with its first three other cells.
    /// </summary>
    /// <param name="path">The file.</param>
    /// <param name="dialect">How it is written; what is left out is found.</param>
    /// <exception cref="ReportException">There is no such file, it is damaged, two columns have one name, or a column is mixed.</exception>
    public static Columns Columns(string path, CsvDialect? dialect = null)
    {
        var asked = dialect ?? new CsvDialect();
        return ColumnReader.Read(pick => CsvRows.Read(path, asked, rows => pick(rows)), asked.TextColumns);
    }

    /// <summary>How a file is written, as far as it can be found from all of its rows: separator, and the signs in its numbers.</summary>
    /// <exception cref="ReportException">There is no such file, or it is damaged.</exception>
    public static CsvDialect FindDialect(string path) => CsvRows.Read(path, new CsvDialect(), rows =>
    {
        while (rows.Read())
            for (var c = 0; c < rows.Heads.Count; c++) rows.Cells.TryNumber(rows[c], rows, c, out _);
        return rows.Found;
    });

    /// <summary>The names of a file's columns, and the cells of each of its lines as text.</summary>
    /// <exception cref="ReportException">There is no such file, or it is damaged.</exception>
    internal static (IReadOnlyList<string> Heads, IReadOnlyList<(int Line, string[] Cells)> Rows) ReadCells(string path, string? encoding) => CsvRows.Read(path, new CsvDialect { Encoding = encoding }, csv =>
    {
        var rows = new List<(int, string[])>();
        while (csv.ReadAny()) rows.Add((csv.RowNumber, csv.Texts()));
        return (csv.Heads, (IReadOnlyList<(int, string[])>)rows);
    });
}
