using System.Globalization;
using System.IO.Compression;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Running;

namespace Fennick.Data.Sheets;

/// <summary>The rows of a table in a spreadsheet.</summary>
internal sealed class SheetRows : RowSource
{
    private readonly string sheet;
    private readonly CellRange range;
    private readonly IEnumerator<(int Row, object?[] Cells)> rows;
    private readonly string[] heads;
    private readonly int headRow;

    private SheetRows(string path, ISheetBook book, string sheet, CellRange range)
        : base(path)
    {
        this.sheet = sheet;
        this.range = range;
        if (book.FormulaWithoutValue(sheet, range) is { } formula)
            throw Wrong($"cell {formula}", "the value of this formula was not saved with it", "open the file in a spreadsheet program and save it, so that the formulas are computed");
        var mergedCells = book.MergedIn(sheet);
        CheckStart(book);
        rows = Filled(book).GetEnumerator();
        if (!rows.MoveNext()) throw Wrong(null, range == CellRange.All ? "the sheet is empty" : "there is nothing in this range");
        headRow = rows.Current.Row;
        var cells = rows.Current.Cells;
        var last = Math.Min(range.LastColumn, cells.Length - 1);
        // Columns without a name at the sides are none.
        while (last > range.FirstColumn && IsEmpty(cells[last])) last--;
        First = range.FirstColumn;
        while (range == CellRange.All && First < last && IsEmpty(cells[First])) First++;
        var merged = mergedCells.Where(m => m.Contains(headRow, m.FirstColumn) && m.FirstColumn <= last && m.LastColumn >= First).ToArray();
        if (merged.Length > 0)
        {
            var at = new CellAddress(merged[0].FirstRow, merged[0].FirstColumn);
            throw Wrong($"cell {at}", $"the names of the columns are merged cells ({at}:{new CellAddress(merged[0].LastRow, merged[0].LastColumn)})",
                $"say where the row is that has one name a column: `range: \"{CellAddress.Letters(First)}{merged.Max(m => m.LastRow) + 2}\"`");
        }
        heads = [.. Enumerable.Range(First, last - First + 1).Select(c => Cell.Of(cells[c] is CellFailure failure ? failure.Code : cells[c]).ToText().ReplaceLineEndings(" ").Trim())];
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string> Heads => heads;

    /// <inheritdoc/>
    public override bool HasTypes => true;

    /// <inheritdoc/>
    public override SourcePlace HeadPlace => PlaceAt(headRow, First);

    /// <inheritdoc/>
    public override Cell this[int column]
    {
        get
        {
            var value = First + column < rows.Current.Cells.Length ? rows.Current.Cells[First + column] : null;
            return value switch
            {
                CellFailure { Code: "#N/A" } => Cell.Missing("#N/A"),
                CellFailure { Code: var code } => Cell.Text(code),
                "" or "NA" => Cell.Missing((string)value),
                string text => Cell.Text(text),
                _ => Cell.Of(value),
            };
        }
    }

    private int First { get; }

    /// <summary>Opens a spreadsheet.</summary>
    /// <exception cref="ReportException">There is none, or it is damaged or protected.</exception>
    public static T Open<T>(string path, Func<ISheetBook, T> read) => DataFiles.Read(path, full =>
    {
        using var book = Decode(path, () => OpenBook(full));
        return read(book);
    });

    /// <summary>Reads a table of a spreadsheet.</summary>
    public static T Read<T>(string path, string? sheet, string? range, string? table, Func<RowSource, T> read) => Open(path, book =>
    {
        var (name, cells) = Find(book, path, sheet, range, table);
        foreach (var what in book.PassedOver) FilesRead.Tell(new Diagnostic(Severity.Advice, new SourcePlace(path, 0, 0), $"{what} in this spreadsheet are passed over"));
        using var rows = Decode(path, () => new SheetRows(path, book, name, cells));
        return read(rows);
    });

    /// <inheritdoc/>
    public override int RowNumber => rows.Current.Row + 1;

    /// <inheritdoc/>
    public override string NameOfRow(int number) => $"{Name}, sheet {sheet}, row {number.ToString(CultureInfo.InvariantCulture)}";

    /// <inheritdoc/>
    public override bool Read() => Decode(Name, rows.MoveNext);

    /// <inheritdoc/>
    public override SourcePlace PlaceOf(int column) => PlaceAt(rows.Current.Row, First + column);

    /// <inheritdoc/>
    public override void Dispose()
    {
        rows.Dispose();
        base.Dispose();
    }

    private static T Decode<T>(string path, Func<T> call) => DataFiles.Decode(path, "spreadsheet", "open it in a spreadsheet program and save it as .xlsx or .ods", call);

    // By what is in the file, whatever its name ends in.
    private static ISheetBook OpenBook(string full)
    {
        Span<byte> start = stackalloc byte[2];
        using (var file = new FileStream(full, FileMode.Open, FileAccess.Read, FileShare.ReadWrite)) file.ReadAtLeast(start, 2, throwOnEndOfStream: false);
        if (!start.SequenceEqual("PK"u8)) return OldBook.Open(full);
        using var package = ZipFile.OpenRead(full);
        return package.GetEntry("content.xml") is not null ? OpenSheetBook.Open(full) : package.GetEntry("xl/workbook.bin") is not null ? OldBook.Open(full) : Workbook.Open(full);
    }

    private static bool IsEmpty(object? cell) => cell is null or "";

    private static (string Sheet, CellRange Range) Find(ISheetBook book, string path, string? sheet, string? range, string? table)
    {
        var place = new SourcePlace(path, 0, 0);
        if (table is not null)
        {
            if (sheet is not null || range is not null) throw new ReportException(Diagnostic.Error(place, "a table is named, and a sheet or a range as well", "name one of them: a table has its sheet and its range"));
            var found = book.Tables.FirstOrDefault(t => t.Name.Equals(table, StringComparison.OrdinalIgnoreCase));
            return found is not null ? (found.Sheet, found.Range)
                : throw new ReportException(Diagnostic.Error(place, $"there is no table or named range `{table}`", Nearest.Suggest(table, book.Tables.Select(t => t.Name)) ?? (book.Tables.Count == 0 ? "the file has none; name the sheet and the range" : $"there are {List(book.Tables.Select(t => t.Name))}")));
        }
        var name = sheet is null ? (book.Sheets is [var first, ..] ? first : null) : book.Sheets.FirstOrDefault(s => s == sheet) ?? book.Sheets.FirstOrDefault(s => s.Equals(sheet, StringComparison.OrdinalIgnoreCase));
        if (name is null) throw new ReportException(Diagnostic.Error(place, sheet is null ? "the file has no sheet" : $"there is no sheet `{sheet}`", sheet is null ? null : Nearest.Suggest(sheet, book.Sheets) ?? $"the sheets are {List(book.Sheets)}"));
        return range is null ? (name, CellRange.All) : (name, CellRange.Parse(range) ?? throw new ReportException(Diagnostic.Error(place, $"`{range}` is not a range", "write it as `B4:F200`, `B4` or `B:F`")));

        static string List(IEnumerable<string> names) => string.Join(", ", names.Select(n => $"`{n}`"));
    }

    // The rows of the range that hold anything.
    private IEnumerable<(int Row, object?[] Cells)> Filled(ISheetBook book)
    {
        foreach (var row in book.RowsOf(sheet))
        {
            if (row.Row > range.LastRow) yield break;
            if (row.Row >= range.FirstRow && CellsIn(row.Cells) > 0) yield return row;
        }
    }

    // How many cells of a row hold anything.
    private int CellsIn(object?[] cells)
    {
        var count = 0;
        for (var c = range.FirstColumn; c < cells.Length && c <= range.LastColumn; c++) if (!IsEmpty(cells[c])) count++;
        return count;
    }

    // A title above the table is not the names of its columns.
    private void CheckStart(ISheetBook book)
    {
        if (range != CellRange.All) return;
        var first = Filled(book).Take(20).ToList();
        if (first is not [var title, ..] || CellsIn(title.Cells) != 1 || first.FindIndex(r => CellsIn(r.Cells) > 1) is not (> 0 and var table)) return;
        var start = new CellAddress(first[table].Row, Array.FindIndex(first[table].Cells, c => !IsEmpty(c)));
        var at = new CellAddress(title.Row, Array.FindIndex(title.Cells, c => !IsEmpty(c)));
        throw Wrong($"cell {at}", $"`{title.Cells[at.Column]}` stands alone in the first row, where the names of the columns should be", $"say where the table starts: `range: \"{start}\"`");
    }

    private SourcePlace PlaceAt(int row, int column) => new($"{Name}, sheet {sheet}, cell {new CellAddress(row, column)}", -1, 0);

    private ReportException Wrong(string? cell, string message, string? advice = null) => new(Diagnostic.Error(new SourcePlace($"{Name}, sheet {sheet}{(cell is null ? "" : $", {cell}")}", -1, 0), message, advice));
}
