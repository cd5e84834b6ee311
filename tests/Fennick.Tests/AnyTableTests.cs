using System.Globalization;
using Fennick.Documents;
using Fennick.Tables;
using Fennick.Testing;
using FsCheck;
using FsCheck.Fluent;
using Xunit;
using static Fennick.Testing.Docx;

namespace Fennick.Tests;

/// <summary>Whatever a table holds: its document is clean, it stays within the text, and all that it holds is there.</summary>
public sealed class AnyTableTests
{
    private static readonly string?[] Words = ["", "Amber", "two words", "a rather long piece of text that has to wrap in a narrow column", "Donaudampfschifffahrtsgesellschaft", "—", null];
    private static readonly double[] Numbers = [0, 1, -1, 0.5, -12.345, 1234.5, 1e6, -0.0004, 1e-9, 3e12, double.NaN, double.PositiveInfinity];

    private static readonly Gen<TableCell> AnyCell = Gen.OneOf(
        Gen.Elements(Words).Select(w => TableCell.Of(w)),
        Gen.Elements(Numbers).Select(n => TableCell.Of(n)),
        Gen.Elements(Numbers).SelectMany(n => Gen.Elements("*", "**", "***", "a").Select(s => TableCell.Of(n, "0.00") with { Sign = s })),
        Gen.Elements(Numbers).Select(n => new TableCell(new RichText([new TextInline("("), new ValueInline(n, "0.000"), new TextInline(")")]))));

    private static readonly Gen<Table> AnyTable =
        from columns in Gen.Choose(1, 14)
        from alignments in Gen.Elements(Alignment.Left, Alignment.Right, Alignment.Centre, Alignment.Decimal).ArrayOf(columns)
        from groups in Gen.Choose(0, 2).ArrayOf(columns)
        from headers in AnyRow(columns).ArrayOf(Enumerable.Range(0, 3).ElementAt(columns % 3))
        from count in Gen.Choose(0, 9)
        from rows in AnyRow(columns).ArrayOf(count)
        from kinds in Gen.Elements(RowKind.Body, RowKind.Body, RowKind.Total).ArrayOf(count)
        from levels in Gen.Choose(0, 2).ArrayOf(count)
        from striped in Gen.Elements(true, false)
        select new Table
        {
            Columns = [.. alignments.Select((a, i) => new TableColumn(a) { WidthGroup = groups[i] })],
            HeaderRows = [.. headers],
            Rows = [.. rows.Select((r, i) => r with { Kind = kinds[i], Level = levels[i], RuleAbove = i % 4 == 3 })],
            IsStriped = striped,
        };

    /// <summary>A row whose spans fill the columns.</summary>
    private static Gen<TableRow> AnyRow(int columns) =>
        from cells in AnyCell.ArrayOf(columns)
        from spans in Gen.Frequency((5, Gen.Constant(1)), (1, Gen.Choose(2, 4))).ArrayOf(columns)
        select new TableRow([.. Fill(cells, spans, columns)]);

    private static IEnumerable<TableCell> Fill(TableCell[] cells, int[] spans, int columns)
    {
        for (var (column, i) = (0, 0); column < columns; i++)
        {
            var span = Math.Min(spans[i], columns - column);
            yield return cells[i] with { ColumnSpan = span };
            column += span;
        }
    }

    [Fact]
    public void A_document_of_any_table_is_clean_and_holds_all_of_it()
    {
        using var folder = new TestFolder();
        var path = folder.File("any.docx");
        Prop.ForAll(AnyTable.ToArbitrary(), table =>
        {
            new Report().Add(table, caption: "Any", ruling: table.IsStriped ? Ruling.Boxed : Ruling.Open).Save(path);
            var docx = WordClean.Check(path);
            Assert.All(docx.Body.Descendants(W + "tblW"), w => Assert.InRange((int)w.Attribute(W + "w")!, 1, docx.Body.Descendants(W + "pgSz").Any(p => p.Attribute(W + "orient") is not null) ? 14_146 : docx.TextWidth));
            Assert.All(docx.Body.Descendants(W + "gridCol"), c => Assert.True((int)c.Attribute(W + "w")! > 0));
            // Wide tables go on below themselves: then their stub is there more than once.
            var written = docx.Body.Descendants(W + "tc").Select(c => Text(c).Trim('\t').Replace("\t", "", StringComparison.Ordinal)).ToHashSet();
            Assert.All(table.HeaderRows.Concat(table.Rows).SelectMany(r => r.Cells), c => Assert.Contains(c.Content.ToPlainText() + c.Sign?.ToPlainText(), written));
            Assert.Equal(docx.Body.Elements(W + "tbl").Count() * table.HeaderRows.Length, docx.Body.Descendants(W + "tblHeader").Count());
        }).Check(Config.QuickThrowOnFailure.WithMaxTest(60));
    }

    [Fact]
    public void Any_table_prints_lines_that_end_where_its_rules_end()
    {
        Prop.ForAll(AnyTable.ToArbitrary(), table =>
        {
            var lines = table.ToString().ReplaceLineEndings("\n").Split('\n');
            var width = new StringInfo(lines[0]).LengthInTextElements;
            Assert.All(lines, l => Assert.InRange(new StringInfo(l).LengthInTextElements, 0, width));
            Assert.All(lines, l => Assert.Equal(l.TrimEnd(), l));
            Assert.Equal(lines[0], lines[^1]);
        }).Check(Config.QuickThrowOnFailure);
    }

    [Fact]
    public void Decimal_points_of_any_numbers_meet_in_the_document()
    {
        using var folder = new TestFolder();
        var path = folder.File("decimals.docx");
        var numbers = Gen.Choose(-99999, 99999).Select(n => n / 100.0).ArrayOf(12).SelectMany(n => Gen.Elements("", "*", "**", "***").ArrayOf(12).Select(s => (n, s)));
        Prop.ForAll(numbers.ToArbitrary(), generated =>
        {
            var (values, signs) = generated;
            var table = values.Zip(signs).Aggregate(Table.WithHeads("Term", "Value").Align("Value", Alignment.Decimal), (t, v) => t.Row("x", TableCell.Of(v.First, "0.00") with { Sign = v.Second.Length == 0 ? null : v.Second }));
            new Report().Add(table).Save(path);
            var docx = WordClean.Check(path);
            var room = (int)docx.Body.Descendants(W + "gridCol").ElementAt(1).Attribute(W + "w")! - 220;
            // All have two decimals: they end at the same place, by a tab stop or by an indent.
            var ends = docx.Body.Descendants(W + "tr").Skip(1).Select(r => r.Elements(W + "tc").Last().Element(W + "p")!.Element(W + "pPr")!)
                .Select(p => p.Element(W + "tabs") is { } tabs ? (int)tabs.Elements().First().Attribute(W + "pos")! : room - ((int?)p.Element(W + "ind")?.Attribute(W + "right") ?? 0));
            Assert.Single(ends.Distinct());
        }).Check(Config.QuickThrowOnFailure.WithMaxTest(30));
    }
}
