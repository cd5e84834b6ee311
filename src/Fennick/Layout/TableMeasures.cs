using Fennick.Flow;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Layout;

/// <summary>What the columns of a table need at the usual size of its text, in points without the margins of cells.</summary>
internal sealed class TableMeasures
{
    // Text that a column holds wraps anyway from here on; longer lines do not make it claim more.
    private const double WidestClaim = 2000;

    // Names up to here are kept on one line while a smaller size allows it.
    private const double ShortText = 80;

    private const double SlackShare = 0.08;
    private const double FewestDigits = 3;

    private readonly Column[] columns;
    private readonly double digit;
    private readonly IStyleBook house;
    private readonly GalleyTable table;
    private Dictionary<(int Column, int Span), double>? overColumns;
    private double overAll;

    private TableMeasures(GalleyTable table, IStyleBook house)
    {
        this.table = table;
        this.house = house;
        CellMargins = house.Ruling(table.Ruling).CellMargins;
        columns = [.. table.Columns.Select(_ => new Column())];
        digit = house.Face(StyleRole.TableNumber).Width("0", house.Style(StyleRole.TableNumber).Points);
    }

    public int Count => columns.Length;

    /// <summary>The left and right margins of a cell together.</summary>
    public double CellMargins { get; }

    public static TableMeasures Of(GalleyTable table, IStyleBook house)
    {
        var measures = new TableMeasures(table, house);
        foreach (var row in table.Rows) measures.Add(row);
        measures.Settle();
        return measures;
    }

    /// <summary>The width that a column's content takes on one line.</summary>
    public double Natural(int column) => columns[column].Natural;

    /// <summary>The width below which a column would break a number or a word.</summary>
    public double Least(int column) => columns[column].Least;

    /// <summary>Like the least, but with names of a few words on one line.</summary>
    public double Preferred(int column) => columns[column].HasText ? Math.Max(columns[column].Least, Math.Min(columns[column].Text, ShortText)) : columns[column].Least;

    /// <summary>What a column has beyond that where there is room: a digit and a part of its own width, and as much as three digits take in all.</summary>
    public double Slack(int column) => Math.Max(digit + (SlackShare * columns[column].Natural), (FewestDigits * digit) - columns[column].Natural);

    /// <summary>Where the numbers of a column of some width in points meet; null where they need no such place.</summary>
    public NumberMeeting? Meeting(int column, double width, double size)
    {
        var c = columns[column];
        if (!c.HasPoint) return null;
        var behind = (c.After + c.Sign) * size;
        var point = c.IsCentred ? ((width - (c.Before * size) - behind) / 2) + (c.Before * size) : width - behind;
        return new NumberMeeting((int)Math.Round(point * 20), (int)Math.Round((point + (c.Digits * size)) * 20));
    }

    /// <summary>Whether a line wraps in columns of these widths, in twips with their margins.</summary>
    public bool Wraps(int[] twips)
    {
        var width = 0;
        for (var c = 0; c < columns.Length; c++)
        {
            width += twips[c];
            if ((twips[c] / 20.0) - CellMargins < columns[c].Natural - 0.01) return true;
        }
        return (width / 20.0) - CellMargins < overAll;
    }

    private void Add(GalleyRow row)
    {
        var place = 0;
        foreach (var cell in row.Cells)
        {
            if (cell.ColumnSpan == 1 && cell.Merge != CellMerge.Continues) Add(columns[place], cell, row.IsHeader, cell.Alignment == Alignment.Right && table.Columns[place].Alignment == Alignment.Decimal);
            else if (cell.ColumnSpan > 1 && cell.ColumnSpan < columns.Length && cell.Merge != CellMerge.Continues) AddOver(place, cell);
            else if (cell.ColumnSpan > 1 && cell.ColumnSpan == columns.Length) overAll = Math.Max(overAll, CellText.Measure(cell, house).Width + CellText.SignWidth(cell, house));
            place += cell.ColumnSpan;
        }
    }

    /// <param name="column">Takes the measures.</param>
    /// <param name="cell">What is measured.</param>
    /// <param name="isHeader">Whether it stands in the header.</param>
    /// <param name="endsWithOthers">Whether it is a number that ends where the others of the column do, whatever its own point is.</param>
    private void Add(Column column, GalleyCell cell, bool isHeader, bool endsWithOthers)
    {
        var (width, longestWord) = CellText.Measure(cell, house);
        var sign = cell.Sign.IsEmpty ? 0 : CellText.SignWidth(cell, house);
        var indent = CellText.Indent(cell).Points;
        column.Natural = Math.Max(column.Natural, Math.Min(WidestClaim, width + sign + indent));
        if (!isHeader && CellText.WidthAfterPoint(cell, house) is { } after)
        {
            // A number is never broken.
            column.Least = Math.Max(column.Least, width + sign);
            if (endsWithOthers)
            {
                column.Whole = Math.Max(column.Whole, width);
                return;
            }
            column.Before = Math.Max(column.Before, width - after);
            column.After = Math.Max(column.After, after);
            column.Digits = Math.Max(column.Digits, after - CellText.WidthBehindDigits(cell, house));
            column.Sign = Math.Max(column.Sign, sign);
            column.IsCentred |= cell.Alignment == Alignment.Decimal;
            column.HasPoint |= cell.Alignment == Alignment.Decimal || sign > 0;
            return;
        }
        column.Least = Math.Max(column.Least, longestWord + sign + indent);
        if (isHeader) return;
        column.HasText = true;
        column.Text = Math.Max(column.Text, width + sign + indent);
    }

    private void AddOver(int place, GalleyCell cell)
    {
        var width = Math.Min(WidestClaim, CellText.Measure(cell, house).Width + CellText.SignWidth(cell, house));
        var key = (place, cell.ColumnSpan);
        overColumns ??= [];
        overColumns[key] = Math.Max(overColumns.GetValueOrDefault(key), width);
    }

    private void Settle()
    {
        foreach (var column in columns.Where(c => c.HasPoint))
        {
            column.Before = Math.Max(column.Before, column.Whole - column.Digits);
            column.Natural = Math.Max(column.Natural, column.Before + column.After + column.Sign);
            column.Least = Math.Max(column.Least, column.Before + column.After + column.Sign);
        }
        foreach (var ((place, span), width) in overColumns ?? [])
        {
            var missing = width - columns.AsSpan(place, span).ToArray().Sum(c => c.Natural) - ((span - 1) * CellMargins);
            for (var c = place; missing > 0 && c < place + span; c++) columns[c].Natural += missing / span;
        }
        for (var i = 0; i < columns.Length; i++)
        {
            var group = table.Columns[i].WidthGroup;
            for (var other = 0; group != 0 && other < columns.Length; other++)
                if (table.Columns[other].WidthGroup == group) columns[i].Natural = Math.Max(columns[i].Natural, columns[other].Natural);
        }
    }

    private sealed class Column
    {
        public double Natural { get; set; }

        public double Least { get; set; }

        /// <summary>The width of its text below the header, where that is not a number.</summary>
        public double Text { get; set; }

        public bool HasText { get; set; }

        public double Before { get; set; }

        public double After { get; set; }

        /// <summary>The same up to the last digit.</summary>
        public double Digits { get; set; }

        /// <summary>The widest of the numbers that only end where the others do.</summary>
        public double Whole { get; set; }

        public double Sign { get; set; }

        public bool HasPoint { get; set; }

        public bool IsCentred { get; set; }
    }
}
