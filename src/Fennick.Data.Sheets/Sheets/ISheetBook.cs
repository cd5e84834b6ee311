namespace Fennick.Data.Sheets;

/// <summary>A spreadsheet file.</summary>
internal interface ISheetBook : IDisposable
{
    /// <summary>The names of its sheets.</summary>
    IReadOnlyList<string> Sheets { get; }

    /// <summary>The tables and named ranges that it has.</summary>
    IReadOnlyList<NamedRange> Tables { get; }

    /// <summary>What is in the file and is passed over.</summary>
    IReadOnlyList<string> PassedOver { get; }

    /// <summary>The rows of a sheet that hold anything, from the first, by their numbers from 0; the cells from the first column.</summary>
    IEnumerable<(int Row, object?[] Cells)> RowsOf(string sheet);

    /// <summary>The cells of a sheet that are one of several cells.</summary>
    IReadOnlyList<CellRange> MergedIn(string sheet);

    /// <summary>The first formula of a range whose value was not saved with it.</summary>
    CellAddress? FormulaWithoutValue(string sheet, CellRange range);
}

/// <summary>A table or a named range.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Sheet">The sheet that it is in.</param>
/// <param name="Range">Its cells.</param>
internal sealed record NamedRange(string Name, string Sheet, CellRange Range);

/// <summary>What stands in a cell whose formula could not be computed.</summary>
/// <param name="Code">As it is shown, such as <c>#DIV/0!</c>.</param>
internal sealed record CellFailure(string Code);
