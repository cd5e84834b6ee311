using System.Globalization;
using System.Text;
using Fennick.Charts;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>Writes a table as aligned plain text.</summary>
internal sealed class PlainTable
{
    private const int Gap = 2;
    private static readonly char[] Digits = [.. "0123456789"];
    private readonly Table table;
    private readonly Language language;
    private readonly TableGrid grid;
    private readonly List<Line> lines = [];
    private readonly Column[] columns;

    private PlainTable(Table table, Language language)
    {
        this.table = table = SmallChart.OnCommonScales(table);
        this.language = language;
        grid = TableGrid.Of(table);
        columns = [.. table.Columns.Select(c => new Column(c.Alignment))];
        for (var r = 0; r < grid.RowCount; r++) lines.Add(Read(r));
        foreach (var piece in lines.SelectMany(l => l.Pieces).Where(p => p.Span == 1)) columns[piece.Column].MakeRoom(piece);
        foreach (var piece in lines.SelectMany(l => l.Pieces).Where(p => p.Span > 1 && p.Span < columns.Length)) Widen(piece);
    }

    public static string Write(Table table, Language language) => new PlainTable(table, language).Write();

    /// <summary>Writes a table that goes on below itself, with its first columns again, where it is wider than there is room; of many rows, the first.</summary>
    /// <param name="table">The table.</param>
    /// <param name="language">The language of its numbers.</param>
    /// <param name="room">How many letters a line has.</param>
    /// <param name="most">How many rows are shown at most.</param>
    public static string WriteWithin(Table table, Language language, int room, int most)
    {
        var more = table.Rows.Count - most;
        if (more > 1) table = table with { Rows = [.. table.Rows.Take(most)], Notes = [$"The first {most} of {most + more} rows.", .. table.Notes] };
        var whole = new PlainTable(table, language);
        var stub = Math.Clamp(table.StubColumns, 0, table.Columns.Length - 1);
        if (whole.WholeWidth <= room || table.Columns.Length <= stub + 1) return whole.Write();
        var parts = new List<HashSet<int>>();
        var stubWidth = Enumerable.Range(0, stub).Sum(c => whole.columns[c].Width + Gap);
        var used = room;
        for (var c = stub; c < table.Columns.Length; c++)
        {
            var width = whole.columns[c].Width + (used > stubWidth ? Gap : 0);
            if (used + width > room && (parts.Count == 0 || used > stubWidth))
            {
                parts.Add([.. Enumerable.Range(0, stub)]);
                (used, width) = (stubWidth, whole.columns[c].Width);
            }
            parts[^1].Add(c);
            used += width;
        }
        var all = Enumerable.Range(0, table.Columns.Length).ToArray();
        return string.Join(Environment.NewLine, parts.Select((part, i) => Write(TableChanges.Without(i == parts.Count - 1 ? table : table with { Notes = [] }, all.Except(part).ToHashSet()), language)));
    }

    private int WholeWidth => Math.Max(columns.Sum(c => c.Width) + (Gap * (columns.Length - 1)), lines.Where(l => l.Pieces is [{ }]).Select(l => Width(l.Pieces[0].Text + l.Pieces[0].Sign)).DefaultIfEmpty(0).Max());

    private string Write()
    {
        var width = WholeWidth;
        var rule = new string('─', width);
        var text = new StringBuilder();
        text.AppendLine(rule);
        for (var r = 0; r < lines.Count; r++)
        {
            if (r == table.HeaderRows.Length && r > 0) text.AppendLine(rule);
            else if (r > table.HeaderRows.Length && (grid.Row(r).RuleAbove || grid.Row(r).Kind == RowKind.Total)) text.AppendLine(new string('╌', width));
            text.AppendLine(Compose(lines[r], p => Place(p)));
            if (r < table.HeaderRows.Length && lines[r].Pieces.Any(p => p.HasRuleBelow))
                text.AppendLine(Compose(lines[r], p => new string(p.HasRuleBelow ? '─' : ' ', SpanWidth(p))));
        }
        if (table.HeaderRows.Length == lines.Count) text.AppendLine(rule);
        text.Append(rule);
        if (table.Notes.Length > 0)
        {
            var notes = string.Join(" ", table.Notes.Select(n => n.ToPlainText(language)));
            foreach (var line in Wrap(notes, Math.Max(width, 60))) text.AppendLine().Append(line);
        }
        return text.ToString();
    }

    private Line Read(int index)
    {
        var row = grid.Row(index);
        var isHeader = index < table.HeaderRows.Length;
        var pieces = new List<Piece>();
        foreach (var (cell, column, continues) in grid.Cells(index))
        {
            var content = continues ? "" : cell.Content.ToPlainText(language).ReplaceLineEndings(" ");
            var own = cell.Alignment ?? (isHeader && table.Columns[column].Alignment == Alignment.Decimal ? Alignment.Centre : table.Columns[column].Alignment);
            if (column == 0 && row.Level > 0 && row.Kind != RowKind.Total) content = new string(' ', 2 * row.Level) + content;
            pieces.Add(new Piece(content, cell.Sign?.ToPlainText(language) ?? "", column, cell.ColumnSpan, own, isHeader && cell.RuleBelow, isHeader, language));
        }
        return new Line(pieces);
    }

    private static string Compose(Line line, Func<Piece, string> place) => string.Join(new string(' ', Gap), line.Pieces.Select(place)).TrimEnd();

    private string Place(Piece piece)
    {
        var width = SpanWidth(piece);
        var text = piece.Text + piece.Sign;
        if (piece.Span == 1 && columns[piece.Column].HasPoint && piece.IsNumber)
        {
            var column = columns[piece.Column];
            var start = column.Left + column.Before + (column.EndsWithOthers(piece) ? column.Behind - Width(piece.Text) : -Width(piece.Before));
            return (new string(' ', Math.Max(0, start)) + text).PadRight(width + text.Length - Width(text));
        }
        var missing = Math.Max(0, width - Width(text));
        var left = piece.Alignment switch { Alignment.Left => 0, Alignment.Right => missing, _ => missing / 2 };
        return new string(' ', left) + text + new string(' ', missing - left);
    }

    private int SpanWidth(Piece piece) => Enumerable.Range(piece.Column, piece.Span).Sum(c => columns[c].Width) + (Gap * (piece.Span - 1));

    private void Widen(Piece piece)
    {
        for (var c = piece.Column; SpanWidth(piece) < Width(piece.Text + piece.Sign); c = piece.Column + ((c - piece.Column + 1) % piece.Span)) columns[c].Extra++;
    }

    private static IEnumerable<string> Wrap(string text, int width)
    {
        var line = new StringBuilder();
        foreach (var word in text.Split(' '))
        {
            if (line.Length > 0 && line.Length + 1 + word.Length > width)
            {
                yield return line.ToString();
                line.Clear();
            }
            if (line.Length > 0) line.Append(' ');
            line.Append(word);
        }
        yield return line.ToString();
    }

    private static int Width(string text) => new StringInfo(text).LengthInTextElements;

    private sealed record Line(List<Piece> Pieces);

    private sealed class Piece
    {
        public Piece(string text, string sign, int column, int span, Alignment alignment, bool hasRuleBelow, bool isHead, Language language)
        {
            (Text, Sign, Column, Span, Alignment, HasRuleBelow) = (text, sign, column, span, alignment, hasRuleBelow);
            IsNumber = !isHead && alignment is Alignment.Decimal or Alignment.Right && text.Any(char.IsDigit);
            Before = alignment == Alignment.Decimal ? text[..DecimalPlace.Find(text, language)] : text;
        }

        public string Text { get; }

        public string Sign { get; }

        public int Column { get; }

        public int Span { get; }

        public Alignment Alignment { get; }

        public bool HasRuleBelow { get; }

        /// <summary>Whether it stands by its decimal sign or its end.</summary>
        public bool IsNumber { get; }

        /// <summary>What stands before that point.</summary>
        public string Before { get; }
    }

    /// <summary>The room that a column needs: on both sides of the point where its numbers meet, or in all.</summary>
    private sealed class Column(Alignment alignment)
    {
        private int before;
        private int after;
        private int whole;
        private int ending;

        public int Before => Math.Max(before, ending - Behind);

        /// <summary>What numbers have behind the point up to their last digit.</summary>
        public int Behind { get; private set; }

        /// <summary>Whether a number ends where the others of the column do, whatever its own point is.</summary>
        public bool EndsWithOthers(Piece piece) => alignment == Alignment.Decimal && piece.Alignment == Alignment.Right;

        /// <summary>Whether numbers meet at a point: decimals, or whole numbers with signs behind them.</summary>
        public bool HasPoint => alignment == Alignment.Decimal || (alignment == Alignment.Right && after > 0);

        public int Extra { get; set; }

        public int Width => Math.Max(whole, Before + after) + Extra;

        /// <summary>What is left free before the numbers.</summary>
        public int Left => alignment == Alignment.Decimal ? (Width - Before - after) / 2 : Width - Before - after;

        public void MakeRoom(Piece piece)
        {
            if (!piece.IsNumber)
            {
                whole = Math.Max(whole, PlainTable.Width(piece.Text + piece.Sign));
                return;
            }
            if (EndsWithOthers(piece))
            {
                ending = Math.Max(ending, PlainTable.Width(piece.Text));
                return;
            }
            before = Math.Max(before, PlainTable.Width(piece.Before));
            Behind = Math.Max(Behind, PlainTable.Width(piece.Text[..(piece.Text.LastIndexOfAny(Digits) + 1)]) - PlainTable.Width(piece.Before));
            after = Math.Max(after, PlainTable.Width(piece.Text) - PlainTable.Width(piece.Before) + PlainTable.Width(piece.Sign));
        }
    }
}
