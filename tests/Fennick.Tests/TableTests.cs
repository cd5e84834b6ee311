using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Tables;
using FsCheck;
using FsCheck.Fluent;
using Xunit;

namespace Fennick.Tests;

/// <summary>The table model as plain text shows it.</summary>
public sealed class TableTests
{
    private static Table Hives() => Table.WithHeads("Strain", "Hives", "Honey").Row("Amber", 12, 24.5).Row("Dusk", 9, 26.25).Row("Heath", 7, null);

    private static string[] Lines(Table table) => table.ToString().Split('\n').Select(l => l.TrimEnd('\r')).ToArray();

    private static string Message(Action action) => Assert.Throws<ReportException>(action).Diagnostics[0].ToString();

    [Fact]
    public void Plain_text_aligns_by_column()
    {
        Assert.Equal(
            [
                "────────────────────",
                "Strain  Hives  Honey",
                "────────────────────",
                "Amber      12   24.5",
                "Dusk        9  26.25",
                "Heath       7      —",
                "────────────────────",
            ], Lines(Hives()));
    }

    [Fact]
    public void Decimal_signs_stand_under_each_other_and_signs_move_nothing()
    {
        var table = Hives().Align("Honey", Alignment.Decimal).Mark(c => c.Number > 25, "More than a full box.");
        var lines = Lines(table);
        Assert.Equal(lines[3].IndexOf('.'), lines[4].IndexOf('.'));
        Assert.EndsWith("26.25a", lines[4], StringComparison.Ordinal);
        Assert.Equal("a\u00A0More than a full box.", lines[^1]);
    }

    [Fact]
    public void Headings_totals_spans_and_marks_show()
    {
        var table = Table.WithHeads("Hive", "2024", "2025").Heading("Coldbrook").Row("A", 1, 2).Row("B", 3, 4).TopRow("Elsewhere", 5, 6).Total("All", 9, 12).Span("Honey", "2024", "2025")
            .Mark(c => c.Row == "B" && c.Column == "2025", "Weighed twice.").Mark(c => c.Row == "B", "Moved.");
        Assert.Equal(
            [
                "──────────────────────",
                "              Honey",
                "           ───────────",
                "Hive       2024   2025",
                "──────────────────────",
                "Coldbrook",
                "  A          1    2",
                "  Bb         3b   4a b",
                "Elsewhere    5    6",
                "╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌╌",
                "All          9   12",
                "──────────────────────",
                "a\u00A0Weighed twice. b\u00A0Moved.",
            ], Lines(table));
    }

    [Fact]
    public void Rows_are_dropped_ordered_and_renamed_with_what_belongs_to_them()
    {
        var table = Table.WithHeads("Term", "Model").Row("Forage", 1).Heading("Strain").Row("Dusk", 2).Row("", "(0.2)").Row("Heath", 3).TopRow("Constant", 4);
        string[] Labels(Func<TableRows, TableRows> change) => [.. table.WithRows(change).Rows.Select(r => r.Label)];
        Assert.Equal(["Forage", "Constant"], Labels(r => r.Drop("Strain")));
        Assert.Equal(["Forage", "Strain", "Heath", "Constant"], Labels(r => r.Drop("Dusk")));
        Assert.Equal(["Constant", "Strain", "Dusk", "", "Heath", "Forage"], Labels(r => r.Order("Constant", "Strain")));
        Assert.Equal(["Forage", "Strain", "Dark bees", "", "Heath", "Constant"], Labels(r => r.Relabel("Dusk", "Dark bees")));
        Assert.Equal(["Strain", "Heath"], Labels(r => r.Drop(row => row.Label is not ("Strain" or "Heath"))));
        Assert.Equal("error: the table has no row `Forrage`; did you mean `Forage`?", Message(() => Labels(r => r.Drop("Forrage"))));
    }

    [Fact]
    public void Columns_are_dropped_ordered_renamed_and_formatted()
    {
        var table = Hives().Span("Counts", "Hives", "Honey");
        Assert.Equal(["Strain", "Honey"], table.DropColumns("Hives").HeaderRows[^1].Cells.Select(c => c.Content.ToPlainText()));
        Assert.Equal([1, 1], table.DropColumns("Hives").HeaderRows[0].Cells.Select(c => c.ColumnSpan));
        Assert.Equal(["Strain", "Honey", "Hives"], Hives().OrderColumns("Honey").HeaderRows[0].Cells.Select(c => c.Content.ToPlainText()));
        Assert.Equal("Honey (kg)", Hives().Rename("Honey", "Honey (kg)").HeaderRows[0].Cells[2].Content.ToPlainText());
        Assert.Contains("26.3", Hives().Format("Honey", "0.0").ToString(), StringComparison.Ordinal);
        Assert.Contains("which another order would tear", Message(() => table.OrderColumns("Honey")), StringComparison.Ordinal);
        Assert.StartsWith("error: column `Honey`: `perecent` is not a format", Message(() => Hives().Format("Honey", "perecent")), StringComparison.Ordinal);
        Assert.Equal("error: the table has no column `Hony`; did you mean `Honey`?", Message(() => Hives().Align("Hony", Alignment.Left)));
        Assert.Equal("error: no column would be left; drop fewer", Message(() => Hives().DropColumns("Strain", "Hives", "Honey")));
    }

    [Fact]
    public void Records_make_groups_totals_and_any_content()
    {
        (string Valley, string Name, double Kg)[] records = [("North", "A", 1.5), ("South", "B", 2.25), ("North", "C", 3)];
        var table = Table.Of(records).GroupBy(r => r.Valley).Column("Hive", r => r.Name).Column("kg", r => r.Kg, total: all => all.Sum(r => r.Kg)).Column("Seen", r => r.Kg > 2 ? new RaisedInline("x") : null).Total("All");
        Assert.Equal(["North", "A", "C", "South", "B", "All"], table.ToTable().Rows.Select(r => r.Label));
        Assert.Equal([RowKind.Heading, RowKind.Body, RowKind.Body, RowKind.Heading, RowKind.Body, RowKind.Total], table.ToTable().Rows.Select(r => r.Kind));
        Assert.Equal("6.75", table.ToTable().Rows[5].Cells[1].Content.ToPlainText());
    }

    [Theory]
    [InlineData("overrun", "row 1 of the table (`a`): the cell `a` spans 4 columns, but only 3 are left; make its span smaller")]
    [InlineData("overlap", "row 2 of the table (`c`): the cell `c` overlaps a cell that reaches in from above; make one of the spans smaller")]
    [InlineData("short", "row 1 of the table (`a`): its cells fill 1 columns, but the table has 3; add cells; an empty one is \"\"")]
    [InlineData("long", "row 1 of the table (`a`): its cells fill 4 columns, but the table has 3; drop cells or make a span smaller")]
    [InlineData("deep", "row 1 of the table (`a`): the cell `a` spans 3 rows, but only 2 are left; make its span smaller")]
    [InlineData("zero", "row 1 of the table (`a`): the cell `a` spans 0 columns; a span is at least 1")]
    public void Spans_that_do_not_fit_are_told_by_row_and_cell(string problem, string message)
    {
        static TableCell Cell(string words, int columns = 1, int rows = 1) => new((RichText)words) { ColumnSpan = columns, RowSpan = rows };
        TableRow[] rows = problem switch
        {
            "overrun" => [new([Cell("a", 4, 2)]), new(["b", "", ""])],
            "overlap" => [new(["a", Cell("b", 1, 2), ""]), new([Cell("c", 2), ""])],
            "short" => [new(["a"])],
            "long" => [new(["a", "b", "c", "d"])],
            "deep" => [new([Cell("a", 1, 3), "", ""]), new(["", ""])],
            _ => [new([Cell("a", 0), "", "", ""])],
        };
        var table = new Table { Columns = [new(Alignment.Left), new(Alignment.Left), new(Alignment.Left)], Rows = [.. rows] };
        Assert.Equal("error: " + message, Message(() => table.ToString()));
    }

    [Fact]
    public void A_mark_that_finds_no_cell_and_a_row_too_wide_are_told()
    {
        Assert.Equal("error: no cell of the table meets the rule of the note `Gone.`; check the words of rows and columns that it names", Message(() => Hives().Mark(c => c.Row == "Amberr", "Gone.")));
        Assert.Equal("error: a row of 4 cells does not fit a table of 3 columns; drop cells, or add columns", Message(() => Hives().Row(1, 2, 3, 4)));
    }

    [Fact]
    public void Every_cell_of_any_table_stands_once_on_the_grid()
    {
        var rows = Gen.Choose(1, 3).Select(span => span).ArrayOf(4).ArrayOf(5);
        Prop.ForAll(rows.ToArbitrary(), spans =>
        {
            // Rows of spans that fill four columns.
            var table = new Table
            {
                Columns = [.. Enumerable.Repeat(new TableColumn(Alignment.Left), 4)],
                Rows = [.. spans.Select(s => new TableRow([.. Fill(s).Select(n => new TableCell((RichText)"x") { ColumnSpan = n })]))],
            };
            Assert.All(table.Rows, r => Assert.Equal(4, r.Cells.Sum(c => c.ColumnSpan)));
            Assert.Equal(spans.Sum(s => Fill(s).Count()), table.ToString().Count(c => c == 'x'));
        }).Check(Config.QuickThrowOnFailure);

        static IEnumerable<int> Fill(int[] spans)
        {
            var left = 4;
            for (var i = 0; left > 0; i++)
            {
                var span = Math.Min(left, spans[i % spans.Length]);
                yield return span;
                left -= span;
            }
        }
    }

    [Theory]
    [InlineData(0.0004, "p-value", "<\u00A00.001")]
    [InlineData(0.032, "p-value", "=\u00A00.032")]
    [InlineData(0.99, "p-value", "=\u00A00.990")]
    [InlineData(0.9999, "p-value", ">\u00A00.99")]
    [InlineData(1.0, "p-value", ">\u00A00.99")]
    [InlineData(0.0, "p-value", "<\u00A00.001")]
    [InlineData(0.0004, "p-value bare", "<\u00A00.001")]
    [InlineData(0.032, "p-value bare", "0.032")]
    [InlineData(0.0512, "p-value bare 2", "0.05")]
    [InlineData(0.0512, "p-value 2 bare", "0.05")]
    [InlineData(0.0512, "p-value 2", "=\u00A00.05")]
    [InlineData(0.97, "p-value bare 1", ">\u00A00.9")]
    [InlineData(0.0005, "p-value bare", "<\u00A00.001")]
    [InlineData(0.0045, "p-value bare 3", "0.005")]
    [InlineData(double.NaN, "p-value", "—")]
    public void P_values_never_print_as_zero(double value, string format, string text) => Assert.Equal(text, ValueFormatter.Format(value, format, Language.Default));
}
