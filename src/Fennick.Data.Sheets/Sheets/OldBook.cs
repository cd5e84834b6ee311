using System.Globalization;
using System.Text;
using ExcelDataReader;

namespace Fennick.Data.Sheets;

/// <summary>A workbook in a binary format (<c>.xls</c>, <c>.xlsb</c>). A formula that could not be computed is an empty cell there.</summary>
internal sealed class OldBook : ISheetBook
{
    private readonly FileStream file;
    private readonly IExcelDataReader reader;
    private readonly List<string> sheets = [];

    private OldBook(FileStream file)
    {
        this.file = file;
        reader = ExcelReaderFactory.CreateReader(file);
        do sheets.Add(reader.Name ?? "");
        while (reader.NextResult());
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Sheets => sheets;

    /// <inheritdoc/>
    public IReadOnlyList<NamedRange> Tables => [];

    /// <inheritdoc/>
    public IReadOnlyList<string> PassedOver => [];

    /// <summary>Opens a workbook.</summary>
    public static OldBook Open(string path)
    {
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);
        var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
        try
        {
            return new OldBook(file);
        }
        catch
        {
            file.Dispose();
            throw;
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        reader.Dispose();
        file.Dispose();
    }

    /// <inheritdoc/>
    public IEnumerable<(int Row, object?[] Cells)> RowsOf(string sheet)
    {
        Select(sheet);
        for (var row = 0; reader.Read(); row++)
            yield return (row, [.. Enumerable.Range(0, reader.FieldCount).Select(c => reader.GetValue(c) is TimeSpan span ? span.ToString("c", CultureInfo.InvariantCulture) : reader.GetValue(c))]);
    }

    /// <inheritdoc/>
    public IReadOnlyList<CellRange> MergedIn(string sheet)
    {
        Select(sheet);
        return [.. (reader.MergeCells ?? []).Select(m => new CellRange(m.FromRow, m.FromColumn, m.ToRow, m.ToColumn))];
    }

    /// <inheritdoc/>
    public CellAddress? FormulaWithoutValue(string sheet, CellRange range) => null;

    private void Select(string sheet)
    {
        reader.Reset();
        while (reader.Name != sheet && reader.NextResult())
        {
        }
    }
}
