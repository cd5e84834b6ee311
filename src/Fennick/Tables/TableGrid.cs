using Fennick.Diagnostics;

namespace Fennick.Tables;

/// <summary>The places of a table's cells: which cell stands where, once spans are laid out.</summary>
internal sealed class TableGrid
{
    private readonly Table table;

    // For tables in which cells reach over rows: for each row, how many columns from each place are taken from above, or 0.
    private readonly int[][]? takenFromAbove;

    private TableGrid(Table table, int[][]? takenFromAbove)
    {
        this.table = table;
        this.takenFromAbove = takenFromAbove;
    }

    /// <summary>A cell in its place.</summary>
    /// <param name="Cell">The cell; for a place that a cell from above takes, that cell.</param>
    /// <param name="Column">The first column it takes.</param>
    /// <param name="Continues">Whether it began in a row above.</param>
    public readonly record struct PlacedCell(TableCell Cell, int Column, bool Continues);

    /// <summary>Lays out the spans.</summary>
    /// <exception cref="ReportException">A table has no columns; a span overlaps another cell, leaves the table, or leaves a gap.</exception>
    public static TableGrid Of(Table table)
    {
        if (table.Columns.IsDefaultOrEmpty) throw new ReportException(Diagnostic.Error(null, "the table has no columns", "name them with `.Column(\"head\", record => value)` or `Table.WithHeads(…)`"));
        var grid = new TableGrid(table, null);
        var hasRowSpans = false;
        for (var r = 0; r < grid.RowCount && !hasRowSpans; r++)
            foreach (var cell in grid.Row(r).Cells) hasRowSpans |= cell.RowSpan != 1;
        if (hasRowSpans) return new TableGrid(table, LayOut(table));
        for (var r = 0; r < grid.RowCount; r++) CheckPlain(table, grid.Row(r), r);
        return grid;
    }

    /// <summary>Whether a cell reaches over rows.</summary>
    public bool HasRowSpans => takenFromAbove is not null;

    /// <summary>Header rows and rows together.</summary>
    public int RowCount => table.HeaderRows.Length + table.Rows.Count;

    /// <summary>A row, header rows first.</summary>
    public TableRow Row(int index) => index < table.HeaderRows.Length ? table.HeaderRows[index] : table.Rows[index - table.HeaderRows.Length];

    /// <summary>The cells of a row from the left, those that reach in from above among them.</summary>
    public IEnumerable<PlacedCell> Cells(int index)
    {
        var row = Row(index);
        var next = 0;
        for (var column = 0; column < table.Columns.Length;)
        {
            if (takenFromAbove is not null && takenFromAbove[index][column] is > 0 and var taken)
            {
                yield return new PlacedCell(TableCell.Empty with { ColumnSpan = taken }, column, Continues: true);
                column += taken;
                continue;
            }
            var cell = row.Cells[next++];
            yield return new PlacedCell(cell, column, Continues: false);
            column += cell.ColumnSpan;
        }
    }

    private static void CheckPlain(Table table, TableRow row, int index)
    {
        var width = 0;
        foreach (var cell in row.Cells)
        {
            if (cell.ColumnSpan < 1) throw Wrong(table, row, index, $"the cell `{Words(cell)}` spans {cell.ColumnSpan} columns", "a span is at least 1");
            width += cell.ColumnSpan;
        }
        if (width != table.Columns.Length)
            throw Wrong(table, row, index, $"its cells fill {width} columns, but the table has {table.Columns.Length}", width > table.Columns.Length ? "drop cells or make a span smaller" : "add cells; an empty one is \"\"");
    }

    private static int[][] LayOut(Table table)
    {
        var rows = table.HeaderRows.Concat(table.Rows).ToArray();
        var taken = rows.Select(_ => new int[table.Columns.Length]).ToArray();
        var open = new (int Rows, int Columns)[table.Columns.Length];
        for (var r = 0; r < rows.Length; r++)
        {
            var next = 0;
            for (var column = 0; column < table.Columns.Length;)
            {
                if (open[column].Rows > 0)
                {
                    taken[r][column] = open[column].Columns;
                    open[column].Rows--;
                    column += open[column].Columns;
                    continue;
                }
                if (next == rows[r].Cells.Length) throw Wrong(table, rows[r], r, $"its cells end at column {column}, but the table has {table.Columns.Length}", "add cells; an empty one is \"\"");
                var cell = rows[r].Cells[next++];
                if (cell.ColumnSpan < 1 || cell.RowSpan < 1) throw Wrong(table, rows[r], r, $"the cell `{Words(cell)}` spans {cell.ColumnSpan} columns and {cell.RowSpan} rows", "a span is at least 1");
                if (column + cell.ColumnSpan > table.Columns.Length)
                    throw Wrong(table, rows[r], r, $"the cell `{Words(cell)}` spans {cell.ColumnSpan} columns, but only {table.Columns.Length - column} are left", "make its span smaller");
                if (Enumerable.Range(column, cell.ColumnSpan).Any(c => open[c].Rows > 0))
                    throw Wrong(table, rows[r], r, $"the cell `{Words(cell)}` overlaps a cell that reaches in from above", "make one of the spans smaller");
                var left = (r < table.HeaderRows.Length ? table.HeaderRows.Length : rows.Length) - r;
                if (cell.RowSpan > left) throw Wrong(table, rows[r], r, $"the cell `{Words(cell)}` spans {cell.RowSpan} rows, but only {left} are left{(r < table.HeaderRows.Length ? " in the header" : "")}", "make its span smaller");
                if (cell.RowSpan > 1) open[column] = (cell.RowSpan - 1, cell.ColumnSpan);
                column += cell.ColumnSpan;
            }
            if (next < rows[r].Cells.Length) throw Wrong(table, rows[r], r, $"{rows[r].Cells.Length - next} of its cells find no place in the {table.Columns.Length} columns", "drop cells or make a span smaller");
        }
        return taken;
    }

    private static string Words(TableCell cell) => cell.Content.ToPlainText() is { Length: > 30 } text ? text[..30] + "…" : cell.Content.ToPlainText();

    private static ReportException Wrong(Table table, TableRow row, int index, string problem, string suggestion)
    {
        var name = index < table.HeaderRows.Length ? $"header row {index + 1}" : $"row {index - table.HeaderRows.Length + 1}";
        return new(Diagnostic.Error(null, $"{name} of the table{(row.Label.Length > 0 ? $" (`{row.Label}`)" : "")}: {problem}", suggestion));
    }
}
