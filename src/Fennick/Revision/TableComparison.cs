using System.Globalization;

namespace Fennick.Revision;

/// <summary>Which rows and columns of two tables belong together.</summary>
internal sealed class TableComparison
{
    private const double Alike = 0.4;

    // Farther off nobody counts.
    private const int MostLines = 100;

    private TableComparison(ReadTable old, ReadTable now)
    {
        (Old, New) = (Grid(old), Grid(now));
        Columns = PairColumns();
        Rows = PairRows();
        // Where rows are sorted by what has changed, they are known by their names.
        var free = Enumerable.Range(0, New.Count).Except(Rows).Where(j => StubOf(New[j]).Length > 0).GroupBy(j => StubOf(New[j])).ToDictionary(g => g.Key, g => g.ToArray(), StringComparer.Ordinal);
        foreach (var group in Enumerable.Range(0, Old.Count).Where(i => Rows[i] < 0 && StubOf(Old[i]).Length > 0).GroupBy(i => StubOf(Old[i])))
            if (group.ToArray() is [var i] && free.TryGetValue(group.Key, out var places) && places is [var j]) Elsewhere[i] = j;
    }

    /// <summary>The cells of the older table, row by row, each with the column at which it starts.</summary>
    public IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> Old { get; }

    /// <summary>Those of the newer.</summary>
    public IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> New { get; }

    /// <summary>For each row of the older table its place in the newer; -1 if it is gone.</summary>
    public int[] Rows { get; }

    /// <summary>The places of rows of the older table that stand elsewhere in the newer: among <see cref="Rows"/> they are gone.</summary>
    public Dictionary<int, int> Elsewhere { get; } = [];

    /// <summary>The same as <see cref="Rows"/> of columns.</summary>
    public int[] Columns { get; }

    public static TableComparison Of(ReadTable old, ReadTable now) => new(old, now);

    /// <summary>The name of a row: its first cell, and where several rows share that, which of them it is.</summary>
    public static string RowName(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows, int row)
    {
        var first = row;
        while (first > 0 && row - first < MostLines && StubOf(rows[first]).Length == 0) first--;
        if (StubOf(rows[first]).Length == 0) first = row;
        var line = row - first + 1;
        for (var r = first; r > 0 && line < MostLines && StubOf(rows[r - 1]) is var above && above == StubOf(rows[first]); r--) line++;
        var name = StubOf(rows[first]) is { Length: > 0 } stub ? $"“{Refresher.Short(stub)}”" : string.Create(CultureInfo.InvariantCulture, $"row {row + 1}");
        return line == 1 || name[0] != '“' ? name : string.Create(CultureInfo.InvariantCulture, $"{name} (line {line})");
    }

    private static string StubOf(IReadOnlyDictionary<int, ReadCell> row) => row.TryGetValue(0, out var cell) ? cell.Text.Trim().Replace('\n', ' ') : "";

    /// <summary>The name of a column: what stands in its first row.</summary>
    public static string ColumnName(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows, int column) => HeadOf(rows, column) is { Length: > 0 } head ? $"“{Refresher.Short(head)}”" : string.Create(CultureInfo.InvariantCulture, $"column {column + 1}");

    /// <summary>The text of a row.</summary>
    public static string TextOf(IReadOnlyDictionary<int, ReadCell> row) => string.Join(" · ", row.OrderBy(c => c.Key).Select(c => c.Value.Text.Replace('\n', ' ')));

    private static List<IReadOnlyDictionary<int, ReadCell>> Grid(ReadTable table)
    {
        var rows = new List<IReadOnlyDictionary<int, ReadCell>>();
        foreach (var row in table.Rows)
        {
            var (cells, at) = (new Dictionary<int, ReadCell>(), WordNames.NumberIn(row.Element.Element(WordNames.W + "trPr")?.Element(WordNames.W + "gridBefore")?.Attribute(WordNames.Val)) ?? 0);
            foreach (var cell in row.Cells)
            {
                cells[at] = cell;
                at += cell.Span;
            }
            rows.Add(cells);
        }
        return rows;
    }

    /// <summary>What stands above a column: the texts of the rows that are heads, or of the first.</summary>
    private static string HeadOf(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows, int column) =>
        string.Join(", ", rows.TakeWhile((r, i) => i == 0 || IsHead(r)).Select(r => Above(r, column)).Where(t => t.Length > 0).Distinct());

    private static string Above(IReadOnlyDictionary<int, ReadCell> row, int column)
    {
        for (var c = column; c >= 0; c--)
            if (row.TryGetValue(c, out var cell)) return c + cell.Span > column ? cell.Text.Trim().Replace('\n', ' ') : "";
        return "";
    }

    private static bool IsHead(IReadOnlyDictionary<int, ReadCell> row) => row.Values.FirstOrDefault()?.Element.Parent?.Element(WordNames.W + "trPr")?.Element(WordNames.W + "tblHeader") is not null;

    private int[] PairColumns()
    {
        var (width, other) = (WidthOf(Old), WidthOf(New));
        string[] heads = [.. Enumerable.Range(0, width).Select(c => HeadOf(Old, c))];
        string[] next = [.. Enumerable.Range(0, other).Select(c => HeadOf(New, c))];
        if (heads.SequenceEqual(next)) return [.. Enumerable.Range(0, width)];
        var contents = Enumerable.Range(0, width).Select(c => ContentOf(Old, c)).ToArray();
        var others = Enumerable.Range(0, other).Select(c => ContentOf(New, c)).ToArray();
        return Alignment.Best(width, other, (i, j) => (heads[i] == next[j] ? heads[i].Length > 0 ? 0.6 : 0.2 : 0) + (0.3 * contents[i].Likeness(others[j])) + (width == other && i == j ? 0.15 : 0) is > 0.14 and var likeness ? likeness : 0);
    }

    private static int WidthOf(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows) => rows.Count == 0 ? 0 : rows.Max(r => r.Count == 0 ? 0 : r.Keys.Max() + 1);

    private static WordBag ContentOf(IReadOnlyList<IReadOnlyDictionary<int, ReadCell>> rows, int column) => new(string.Join('\n', rows.Select(r => r.TryGetValue(column, out var cell) ? cell.Text : "")));

    private int[] PairRows()
    {
        string[] keys = [.. Old.Select(TextOf)];
        string[] others = [.. New.Select(TextOf)];
        var isOneLength = keys.Length == others.Length;
        return Pairing.Find(keys, others, i => WordsOf(Old[i], i), j => WordsOf(New[j], j), (i, j) => Likeness(Old[i], New[j], isOneLength && i == j));
    }

    /// <summary>By what a row may be found: the texts of its cells, its name, its place.</summary>
    private static IEnumerable<string> WordsOf(IReadOnlyDictionary<int, ReadCell> row, int place) => row.Values.Select(c => c.Text).Where(t => t.Length > 0).Append($"\u0002{StubOf(row)}").Append(string.Create(CultureInfo.InvariantCulture, $"\u0003{place}"));

    private double Likeness(IReadOnlyDictionary<int, ReadCell> row, IReadOnlyDictionary<int, ReadCell> other, bool isSamePlace)
    {
        var isNamed = StubOf(row).Length > 0 && StubOf(row) == StubOf(other);
        var (same, all) = (0, Math.Max(row.Count, other.Count));
        foreach (var (column, cell) in row)
            if (column < Columns.Length && Columns[column] >= 0 && other.TryGetValue(Columns[column], out var next) && next.Text == cell.Text) same++;
        var likeness = (isNamed ? 0.6 : 0) + (all == 0 ? 0 : 0.4 * same / all);
        return likeness >= Alike ? likeness : isSamePlace && likeness > 0 ? 0.1 + (likeness / 2) : 0;
    }
}
