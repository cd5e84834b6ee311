using Fennick.Data.Reading;
using Fennick.Data.Sheets;
using Fennick.Diagnostics;

namespace Fennick.Data;

/// <summary>Reads spreadsheets: <c>.xlsx</c>, <c>.xlsm</c>, <c>.xlsb</c>, <c>.xls</c> and <c>.ods</c>.</summary>
public static class Spreadsheet
{
    /// <summary>
    /// Reads a table of a spreadsheet into records, by the names in its first row as <see cref="Csv.Read{T}(string, string?)"/> does. Numbers, dates and yes/no are those of the cells, whatever
    /// they look like; an empty cell, <c>#N/A</c> or <c>NA</c> is a missing value and needs a member that may be null. Formulas count by the values that were saved with them.
    /// </summary>
    /// <typeparam name="T">A record, or a class with settable properties.</typeparam>
    /// <param name="path">The file.</param>
    /// <param name="sheet">The name of the sheet; the first if null.</param>
    /// <param name="range">Where the table is, such as <c>B4:F200</c>, <c>B4</c> (from there on) or <c>B:F</c>; all of the sheet if null.</param>
    /// <param name="table">The name of a table or of a named range, in place of sheet and range.</param>
    /// <exception cref="ReportException">There is no such file, sheet, range or table; it is damaged or protected by a password; its heads are merged cells; a column is missing, or cells have the wrong form: sheet and cell are named.</exception>
    public static IReadOnlyList<T> Read<T>(string path, string? sheet = null, string? range = null, string? table = null) => SheetRows.Read(path, sheet, range, table, rows => rows.Records<T>());

    /// <summary>Reads a table of a spreadsheet as columns for statistics and overviews: numbers as they are, texts, dates and yes/no as factors.</summary>
    /// <param name="path">The file.</param>
    /// <param name="sheet">The name of the sheet; the first if null.</param>
    /// <param name="range">Where the table is; all of the sheet if null.</param>
    /// <param name="table">The name of a table or of a named range, in place of sheet and range.</param>
    /// <exception cref="ReportException">As for records; or two columns have one name, or a column holds numbers and texts.</exception>
    public static Columns Columns(string path, string? sheet = null, string? range = null, string? table = null) => ColumnReader.Read(pick => SheetRows.Read(path, sheet, range, table, pick), []);

    /// <summary>The names of the columns of the first sheet, and the cells of each of its rows as text; null for a missing value.</summary>
    internal static (IReadOnlyList<string> Heads, IReadOnlyList<(int Row, string?[] Cells)> Rows) ReadCells(string path) => SheetRows.Read(path, null, null, null, rows =>
    {
        var all = new List<(int, string?[])>();
        while (rows.Read())
        {
            var cells = new string?[rows.Heads.Count];
            for (var c = 0; c < cells.Length; c++) cells[c] = rows[c] is { Kind: not CellKind.Missing } cell ? cell.ToText() : null;
            all.Add((rows.RowNumber, cells));
        }
        return (rows.Heads, (IReadOnlyList<(int, string?[])>)all);
    });

    /// <summary>The names of the sheets, in their order.</summary>
    /// <exception cref="ReportException">There is no such file, or it is no spreadsheet.</exception>
    public static IReadOnlyList<string> Sheets(string path) => SheetRows.Open(path, book => book.Sheets);
}
