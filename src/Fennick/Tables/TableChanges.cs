using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;

namespace Fennick.Tables;

/// <summary>What makes another table of a table. Columns are named by the words of their head, rows by those of their first cell.</summary>
public static class TableChanges
{
    extension(ITableSource source)
    {
        /// <summary>With one more row: text, numbers, dates, inlines or whole cells. A column of text aligns left from its first row on.</summary>
        /// <exception cref="ReportException">There are more cells than columns.</exception>
        public Table Row(params object?[] cells) => Append(source.ToTable(), cells, RowKind.Body);

        /// <summary>With one more row that stands under no heading.</summary>
        /// <exception cref="ReportException">There are more cells than columns.</exception>
        public Table TopRow(params object?[] cells)
        {
            var table = Append(source.ToTable(), cells, RowKind.Body);
            return table.WithRows(rows => rows.Select(r => ReferenceEquals(r, rows[^1]) ? r with { Level = 0 } : r));
        }

        /// <summary>With one more row that sums up those above it.</summary>
        /// <exception cref="ReportException">There are more cells than columns.</exception>
        public Table Total(params object?[] cells) => Append(source.ToTable(), cells, RowKind.Total);

        /// <summary>With a heading over all columns; the rows after it stand under it.</summary>
        public Table Heading(string words)
        {
            var table = source.ToTable();
            return table with { Rows = table.Rows.Add(TableRow.Heading(words, table.Columns.Length)) };
        }

        /// <summary>With a head over several columns that stand side by side.</summary>
        /// <param name="words">Its words.</param>
        /// <param name="first">The head of the first column.</param>
        /// <param name="last">The head of the last column.</param>
        /// <exception cref="ReportException">There is no such column, or a head over columns stands there already.</exception>
        public Table Span(string words, string first, string last)
        {
            var table = source.ToTable();
            var (from, to) = (IndexOf(table, first), IndexOf(table, last));
            return to < from ? throw Wrong($"the column `{last}` stands before `{first}`", "name the left one first") : table.SpanOver(words, from, to);
        }

        /// <summary>With cells of a column at another place.</summary>
        /// <exception cref="ReportException">There is no such column.</exception>
        public Table Align(string column, Alignment alignment) => source.ToTable().Change(column, c => c with { Alignment = alignment });

        /// <summary>With a column of a fixed width.</summary>
        /// <exception cref="ReportException">There is no such column.</exception>
        public Table Width(string column, Length width) => source.ToTable().Change(column, c => c with { Width = ColumnWidth.Fixed(width) });

        /// <summary>With a column that takes a share of what other columns leave.</summary>
        /// <exception cref="ReportException">There is no such column.</exception>
        public Table Share(string column, double weight = 1) => source.ToTable().Change(column, c => c with { Width = ColumnWidth.Share(weight) });

        /// <summary>With the numbers and dates of a column in another format.</summary>
        /// <exception cref="ReportException">There is no such column, or the format does not fit a value.</exception>
        public Table Format(string column, string format)
        {
            var table = source.ToTable();
            _ = IndexOf(table, column);
            var values = new List<object?>();
            var changed = table.ChangeCells(c => c.Column == column, cell => cell with { Content = Reformat(cell.Content) });
            try
            {
                ValueFormatter.Check(values, format);
            }
            catch (ValueFormatException problem)
            {
                throw Wrong($"column `{column}`: {problem.Message}", problem.Suggestion);
            }
            return changed;

            RichText Reformat(RichText content) => new([.. content.Inlines.Select(inline => inline switch
            {
                ValueInline { Value: not string } value => Reformatted(value),
                Stress emphasis => emphasis with { Content = Reformat(emphasis.Content) },
                _ => inline,
            })]);

            ValueInline Reformatted(ValueInline value)
            {
                values.Add(value.Value);
                return value with { Format = format };
            }
        }

        /// <summary>With strong type where a rule says so: <c>.Emphasise(c => c.Column == "p" &amp;&amp; c.Number &lt; 0.05)</c>.</summary>
        public Table Emphasise(Func<CellInTable, bool> where) =>
            source.ToTable().ChangeCells(where, cell => cell with { Content = new RichText([new Stress(true, cell.Content)]) });

        /// <summary>With a mark at some cells and a note that explains it: the first mark is a, the next b.</summary>
        /// <exception cref="ReportException">No cell meets the rule.</exception>
        public Table Mark(Func<CellInTable, bool> where, string note)
        {
            ArgumentException.ThrowIfNullOrWhiteSpace(note);
            var table = source.ToTable();
            var marks = table.Notes.Count(n => n.Inlines is [RaisedInline, ..]);
            if (marks == 26) throw Wrong("the table has 26 marks already", "say the rest in a note");
            var mark = new RaisedInline(((char)('a' + marks)).ToString());
            var found = false;
            var marked = table.ChangeCells(where, cell =>
            {
                found = true;
                RichText sign = cell.Sign is { } before ? new RichText([.. before.Inlines, new TextInline($" {mark.Text}")]) : mark.Text;
                return cell with { Sign = sign };
            });
            if (!found) throw Wrong($"no cell of the table meets the rule of the note `{note}`", "check the words of rows and columns that it names");
            return marked with { Notes = table.Notes.Add(new RichText([mark, new TextInline("\u00A0" + note)])) };
        }

        /// <summary>With one more sentence in the small print.</summary>
        public Table Note(string note)
        {
            var table = source.ToTable();
            return table with { Notes = table.Notes.Add(note) };
        }

        /// <summary>With every second row tinted.</summary>
        public Table Striped() => source.ToTable() with { IsStriped = true };

        /// <summary>With a thin rule above some rows.</summary>
        public Table RuleAbove(Func<TableRow, bool> where)
        {
            ArgumentNullException.ThrowIfNull(where);
            return source.ToTable().WithRows(rows => rows.Select(r => where(r) ? r with { RuleAbove = true } : r));
        }

        /// <summary>With the rows changed as a whole: <c>.WithRows(r => r.Drop("Heath").Order("Dusk", "Amber"))</c>.</summary>
        public Table WithRows(Func<TableRows, TableRows> change)
        {
            ArgumentNullException.ThrowIfNull(change);
            var table = source.ToTable();
            return table with { Rows = change(table.Rows) };
        }

        /// <summary>With some cells of the rows changed.</summary>
        public Table ChangeCells(Func<CellInTable, bool> where, Func<TableCell, TableCell> change)
        {
            ArgumentNullException.ThrowIfNull(where);
            ArgumentNullException.ThrowIfNull(change);
            var table = source.ToTable();
            var heads = Heads(table);
            var grid = TableGrid.Of(table);
            var changed = new List<TableRow>(table.Rows.Count);
            for (var r = 0; r < table.Rows.Count; r++)
            {
                var row = table.Rows[r];
                var cells = grid.Cells(table.HeaderRows.Length + r).Where(p => !p.Continues)
                    .Select(p => where(new CellInTable(p.Cell, row.Label, heads[p.Column])) ? change(p.Cell) : p.Cell);
                changed.Add(row with { Cells = [.. cells] });
            }
            return table with { Rows = [.. changed] };
        }

        /// <summary>Without some columns; heads and cells over them become narrower.</summary>
        /// <exception cref="ReportException">There is no such column, or none is left.</exception>
        public Table DropColumns(params string[] columns)
        {
            var table = source.ToTable();
            var dropped = columns.Select(c => IndexOf(table, c)).ToHashSet();
            return dropped.Count == table.Columns.Length ? throw Wrong("no column would be left", "drop fewer") : Without(table, dropped);
        }

        /// <summary>With some columns first, in this order after the stub; all others stay as they are, after them.</summary>
        /// <exception cref="ReportException">There is no such column, or a head or cell reaches over several columns and would be torn.</exception>
        public Table OrderColumns(params string[] columns)
        {
            var table = source.ToTable();
            var first = columns.Select(c => IndexOf(table, c)).ToList();
            var stub = Enumerable.Range(0, table.StubColumns).Where(c => !first.Contains(c));
            int[] order = [.. stub, .. first, .. Enumerable.Range(table.StubColumns, table.Columns.Length - table.StubColumns).Where(c => !first.Contains(c))];
            ImmutableArray<TableCell> Reorder(TableRow row)
            {
                if (row.Cells is [{ } only] && only.ColumnSpan == table.Columns.Length) return row.Cells;
                if (row.Cells.Length != order.Length || row.Cells.Any(c => c.RowSpan != 1)) throw Wrong($"the row `{row.Label}` has cells over several columns or rows, which another order would tear", "order the columns before such cells are made");
                return [.. order.Select(c => row.Cells[c])];
            }
            return table with
            {
                Columns = [.. order.Select(c => table.Columns[c])],
                HeaderRows = [.. table.HeaderRows.Select(r => r with { Cells = Reorder(r) })],
                Rows = table.Rows.Select(r => r with { Cells = Reorder(r) }),
            };
        }

        /// <summary>With other words in the head of a column.</summary>
        /// <exception cref="ReportException">There is no such column.</exception>
        public Table Rename(string column, string words)
        {
            var table = source.ToTable();
            var place = IndexOf(table, column);
            var last = table.HeaderRows.Length - 1;
            var cells = TableGrid.Of(table).Cells(last).Where(p => !p.Continues).Select(p => p.Column == place ? p.Cell with { Content = words } : p.Cell);
            return table with { HeaderRows = table.HeaderRows.SetItem(last, table.HeaderRows[last] with { Cells = [.. cells] }) };
        }

        /// <summary>Says whether the page may turn to landscape for the table if it does not fit otherwise.</summary>
        public Table Turn(bool allowed) => source.ToTable() with { MayTurn = allowed };

        /// <summary>As wide as the text, or as wide as what it holds, whatever the report says.</summary>
        public Table FillWidth(bool fills = true) => source.ToTable() with { FillsWidth = fills };
    }

    /// <summary>A head over columns; in the top header row where there is room, else in a new one.</summary>
    internal static Table SpanOver(this Table table, RichText words, int from, int to)
    {
        var columns = table.Columns.Length;
        var over = new TableCell(words) { ColumnSpan = to - from + 1, Alignment = Alignment.Centre, RuleBelow = true };
        var places = TableGrid.Of(table).Cells(0).Where(p => p.Column + p.Cell.ColumnSpan <= from || p.Column > to).ToArray();
        var before = places.Where(p => p.Column < from).ToArray();
        var after = places.Where(p => p.Column > to).ToArray();
        if (table.HeaderRows.Length > 1)
        {
            var covered = TableGrid.Of(table).Cells(0).Where(p => p.Column <= to && p.Column + p.Cell.ColumnSpan > from).ToArray();
            if (covered.All(p => p.Cell.Content.IsEmpty && p.Column >= from && p.Column + p.Cell.ColumnSpan - 1 <= to))
                return table with { HeaderRows = table.HeaderRows.SetItem(0, table.HeaderRows[0] with { Cells = [.. before.Select(p => p.Cell), over, .. after.Select(p => p.Cell)] }) };
            if (covered.Any(p => !p.Cell.Content.IsEmpty && (p.Column < from || p.Column + p.Cell.ColumnSpan - 1 > to)))
                throw Wrong($"the head `{words}` would stand over part of another head", "let it reach over the whole of it");
        }
        // Beside it the cells of the row below are repeated without words; where it cuts through one, single cells fill the gap.
        IEnumerable<TableCell> Fill(TableGrid.PlacedCell[] cells, int first, int end)
        {
            var width = cells.Sum(p => p.Cell.ColumnSpan);
            return width == end - first ? cells.Select(p => TableCell.Empty with { ColumnSpan = p.Cell.ColumnSpan }) : Enumerable.Repeat(TableCell.Empty, end - first);
        }
        return table with { HeaderRows = table.HeaderRows.Insert(0, new TableRow([.. Fill(before, 0, from), over, .. Fill(after, to + 1, columns)])) };
    }

    /// <summary>The words of each column's head: those of the last header row.</summary>
    internal static string[] Heads(Table table) => Heads(table, TableGrid.Of(table));

    /// <summary>The words of each column's head, if the places of cells are known already.</summary>
    internal static string[] Heads(Table table, TableGrid grid)
    {
        var heads = new string[table.Columns.Length];
        Array.Fill(heads, "");
        for (var r = 0; r < table.HeaderRows.Length; r++)
        {
            foreach (var (cell, column, continues) in grid.Cells(r))
                if (!continues) heads[column] = cell.Content.ToPlainText();
        }
        return heads;
    }

    /// <summary>A table without some columns, by their numbers; heads and cells over them become narrower.</summary>
    internal static Table Without(Table table, IReadOnlySet<int> dropped)
    {
        var grid = TableGrid.Of(table);
        TableRow WithoutThem(int index) => grid.Row(index) with
        {
            Cells = [.. grid.Cells(index).Where(p => !p.Continues)
                .Select(p => p.Cell with { ColumnSpan = Enumerable.Range(p.Column, p.Cell.ColumnSpan).Count(c => !dropped.Contains(c)) })
                .Where(c => c.ColumnSpan > 0)],
        };
        return table with
        {
            Columns = [.. table.Columns.Where((_, c) => !dropped.Contains(c))],
            HeaderRows = [.. Enumerable.Range(0, table.HeaderRows.Length).Select(WithoutThem)],
            Rows = [.. Enumerable.Range(table.HeaderRows.Length, table.Rows.Count).Select(WithoutThem)],
            StubColumns = Enumerable.Range(0, table.StubColumns).Count(c => !dropped.Contains(c)),
        };
    }

    private static int IndexOf(Table table, string column)
    {
        var heads = Heads(table);
        var index = Array.IndexOf(heads, column);
        return index >= 0 ? index : throw Wrong($"the table has no column `{column}`", Nearest.Suggest(column, heads) ?? $"its columns are {string.Join(", ", heads.Select(h => $"`{h}`"))}");
    }

    private static Table Change(this Table table, string column, Func<TableColumn, TableColumn> change)
    {
        var index = IndexOf(table, column);
        return table with { Columns = table.Columns.SetItem(index, change(table.Columns[index])) };
    }

    private static Table Append(Table table, object?[] values, RowKind kind)
    {
        var cells = values.Select(v => TableCell.Of(v)).ToList();
        var width = cells.Sum(c => c.ColumnSpan);
        if (width > table.Columns.Length) throw Wrong($"a row of {width} cells does not fit a table of {table.Columns.Length} columns", "drop cells, or add columns");
        cells.AddRange(Enumerable.Range(0, table.Columns.Length - width).Select(_ => TableCell.Empty));
        var columns = table.Columns;
        if (table.Rows.Count == 0 && width == values.Length)
            columns = [.. columns.Select((c, i) => i < values.Length && values[i] is string or RichText or Inline ? c with { Alignment = Alignment.Left } : c)];
        var underHeading = kind == RowKind.Body && table.Rows.Count > 0 && table.Rows[^1] is var above && (above.Kind == RowKind.Heading || above.Level > 0);
        return table with { Columns = columns, Rows = table.Rows.Add(new TableRow([.. cells]) { Kind = kind, Level = underHeading ? 1 : 0 }) };
    }

    private static ReportException Wrong(string message, string? suggestion) => new(Diagnostic.Error(null, message, suggestion));
}
