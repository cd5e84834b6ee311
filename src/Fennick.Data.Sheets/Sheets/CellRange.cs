using System.Globalization;
using System.Text.RegularExpressions;

namespace Fennick.Data.Sheets;

/// <summary>The place of a cell, from 0.</summary>
internal readonly record struct CellAddress(int Row, int Column)
{
    /// <summary>As spreadsheets name it: <c>C7</c>.</summary>
    public override string ToString() => $"{Letters(Column)}{(Row + 1).ToString(CultureInfo.InvariantCulture)}";

    /// <summary>The letters of a column.</summary>
    public static string Letters(int column) => column < 26 ? $"{(char)('A' + column)}" : Letters((column / 26) - 1) + (char)('A' + (column % 26));
}

/// <summary>A rectangle of cells, from 0, its last ones with it; a side that is not given has no end.</summary>
internal readonly partial record struct CellRange(int FirstRow, int FirstColumn, int LastRow, int LastColumn)
{
    private const int NoEnd = int.MaxValue;

    /// <summary>All cells.</summary>
    public static CellRange All => new(0, 0, NoEnd, NoEnd);

    public bool Contains(int row, int column) => row >= FirstRow && row <= LastRow && column >= FirstColumn && column <= LastColumn;

    /// <summary>A range such as <c>B4:F200</c>, <c>B4</c>, <c>B:F</c> or <c>4:200</c>, with or without dollar signs; null if it is none.</summary>
    public static CellRange? Parse(string text)
    {
        if (Form().Match(text.Trim().Replace("$", "", StringComparison.Ordinal)) is not { Success: true } match) return null;
        var (column, row) = (Column(match.Groups[1].Value), Row(match.Groups[2].Value));
        if (match.Groups[3].Success is false) return column is null || row is null or < 0 ? null : new CellRange(row.Value, column.Value, NoEnd, NoEnd);
        var (lastColumn, lastRow) = (Column(match.Groups[4].Value), Row(match.Groups[5].Value));
        if ((column is null) != (lastColumn is null) || (row is null && column is null) || lastRow < 0 || row < 0) return null;
        var range = new CellRange(row ?? 0, column ?? 0, lastRow ?? NoEnd, lastColumn ?? NoEnd);
        return range.FirstRow <= range.LastRow && range.FirstColumn <= range.LastColumn ? range : null;
    }

    private static int? Column(string letters) => letters.Length == 0 ? null : letters.ToUpperInvariant().Aggregate(0, (sum, c) => (sum * 26) + (c - 'A' + 1)) - 1;

    private static int? Row(string digits) => digits.Length == 0 ? null : int.Parse(digits, CultureInfo.InvariantCulture) - 1;

    [GeneratedRegex(@"^([A-Za-z]{0,3})(\d{0,7})(:([A-Za-z]{0,3})(\d{0,7}))?$")]
    private static partial Regex Form();
}
