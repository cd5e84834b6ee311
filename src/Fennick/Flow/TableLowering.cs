using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Flow;

/// <summary>Lowers tables: every row becomes cells that fill all columns.</summary>
internal sealed class TableLowering
{
    // A cell with more characters would make a row that fills half a page and more.
    private const int LongCell = 1500;

    private readonly Table table;
    private readonly TableGrid grid;
    private static readonly Length SpaceBelowPair = Length.FromPoints(2);

    private readonly Func<RichText, ImmutableArray<GalleyInline>> inlines;

    private readonly TableHeadLook? head;

    // What shaded cells are shaded with, and the colour of the words on them.
    private readonly Colour accent;
    private readonly Colour text;

    private readonly int unbrokenRows;

    private TableLowering(Table table, int unbrokenRows, TableHeadLook? head, HouseDesign house, Func<RichText, ImmutableArray<GalleyInline>> inlines)
    {
        this.table = table;
        this.unbrokenRows = unbrokenRows;
        this.head = head;
        accent = Colour.Parse(house.Colours[ThemeColour.Accent1])!.Value;
        text = Colour.Parse(house.Colours[ThemeColour.Text])!.Value;
        this.inlines = inlines;
        grid = TableGrid.Of(table);
    }

    /// <summary>Lowers a table.</summary>
    /// <param name="block">The table in its place.</param>
    /// <param name="settings">Those of the report.</param>
    /// <param name="house">Whose rulings there are.</param>
    /// <param name="language">That of the report.</param>
    /// <param name="inlines">Lowers the content of a cell.</param>
    /// <exception cref="ReportException">Its spans overlap or overrun, or it has no columns.</exception>
    public static GalleyTable Lower(TableBlock block, ReportSettings settings, HouseDesign house, Language language, Func<RichText, ImmutableArray<GalleyInline>> inlines)
    {
        var table = block.Table.Rows.Count > 0 ? SmallChart.OnCommonScales(block.Table) : WithoutRows(block.Table);
        TableLowering lowering;
        var ruling = house.FindRuling((block.Ruling ?? settings.TableRuling).Name, block.Place);
        try
        {
            lowering = new TableLowering(table, settings.UnbrokenTableRows, house.Rulings.First(r => r.Ruling == ruling).Head, house, inlines);
        }
        catch (ReportException problem) when (block.Place is { } place)
        {
            throw new ReportException(problem.Diagnostics.Select(d => d with { Place = place }), problem);
        }
        var heads = TableChanges.Heads(table, lowering.grid);
        return new GalleyTable(table.Columns, new GalleyRows(lowering.grid.RowCount, lowering.LowerRow), ruling)
        {
            HeaderRows = table.HeaderRows.Length,
            StubColumns = Math.Clamp(table.StubColumns, 0, table.Columns.Length - 1),
            IsStriped = table.IsStriped,
            MayTurn = table.MayTurn ?? settings.TablesMayTurn,
            FillsWidth = table.FillsWidth ?? settings.TablesFillWidth,
            SmallestText = settings.SmallestTableText,
            Continued = new GalleyParagraph(StyleRole.Spacer, []),
            Place = block.Place,
            Heads = [.. heads],
        };
    }

    /// <summary>The same row, kept with what follows.</summary>
    public static GalleyRow Keep(GalleyRow row) => row with { Cells = [.. row.Cells.Select(c => c with { KeepWithNext = true })] };

    /// <summary>A table without rows says so.</summary>
    private static Table WithoutRows(Table table) => table with { Rows = [new TableRow([.. table.Columns.Select(_ => TableCell.Of(null))])] };

    private GalleyRow LowerRow(int index)
    {
        var row = grid.Row(index);
        var isHeader = index < table.HeaderRows.Length;
        var place = index - table.HeaderRows.Length;
        var fromEnd = table.Rows.Count - 1 - place;
        // A row and the one that it keeps with are one thing, such as an estimate over its error: no rule parts them, and some space sets them off from the next.
        var (goesOn, belongs) = (!isHeader && fromEnd > 0 && row.KeepsWithNext, !isHeader && place > 0 && table.Rows[place - 1].KeepsWithNext);
        var keeps = !isHeader && fromEnd > 0 && (table.Rows.Count <= unbrokenRows || place < 2 || fromEnd <= 2 || row.KeepsWithNext || row.Kind == RowKind.Heading);
        var cells = ImmutableArray.CreateBuilder<GalleyCell>(row.Cells.Length);
        var length = 0;
        if (grid.HasRowSpans)
        {
            foreach (var (cell, column, continues) in grid.Cells(index)) Add(cell, column, continues);
        }
        else
        {
            var column = 0;
            foreach (var cell in row.Cells)
            {
                Add(cell, column, continues: false);
                column += cell.ColumnSpan;
            }
        }
        return new GalleyRow(cells.DrainToImmutable(), isHeader) { MayBreak = length > LongCell };

        void Add(TableCell cell, int column, bool continues)
        {
            var lowered = LowerCell(index, row, cell, column, keeps, continues);
            if (goesOn && lowered.Below == CellRule.AsStyle) lowered = lowered with { Below = CellRule.Absent };
            if (belongs && lowered.Above == CellRule.AsStyle) lowered = lowered with { Above = CellRule.Absent };
            if (belongs && !goesOn && fromEnd > 0) lowered = lowered with { SpaceBelow = SpaceBelowPair };
            if (lowered.Inlines is [GalleyText only]) length = Math.Max(length, only.Text.Length);
            else length = Math.Max(length, lowered.Inlines.Sum(i => i is GalleyText t ? t.Text.Length : 0));
            cells.Add(lowered);
        }
    }

    /// <summary>
    /// A style's rule under the header is drawn under its first row by some word processors and under its last by others; in a header of several rows each cell says for itself.
    /// </summary>
    private CellRule HeaderRule(int index, TableCell cell) =>
        index + cell.RowSpan >= table.HeaderRows.Length ? table.HeaderRows.Length > 1 ? CellRule.Strong : CellRule.AsStyle
        : cell.RuleBelow ? CellRule.Thin : CellRule.None;

    private GalleyCell LowerCell(int index, TableRow row, TableCell cell, int column, bool keeps, bool continues)
    {
        var isHeader = index < table.HeaderRows.Length;
        var own = cell.Alignment ?? table.Columns[column].Alignment;
        var alignment = isHeader && own == Alignment.Decimal ? Alignment.Centre : own;
        var style = (isHeader, row.Kind, alignment) switch
        {
            (true, _, Alignment.Right) => StyleRole.TableHeadNumber,
            (true, _, _) => StyleRole.TableHead,
            // Only the words of a heading row head something; a number beside them is a number like any other.
            (_, RowKind.Heading, _) when column == 0 => StyleRole.TableGroup,
            (_, _, Alignment.Right or Alignment.Decimal) => StyleRole.TableNumber,
            _ => StyleRole.TableText,
        };
        var content = inlines(cell.Content);
        if (row.Kind == RowKind.Total) content = [.. content.Select(Bold)];
        // Where the table's style fills the header, its colour of the words there holds whatever colour the text of the house has. A style's first row is the first alone for some word
        // processors: further rows of a header say for themselves how they look.
        var isFurtherHead = isHeader && index > 0 && head is { Fill: not null };
        if (isFurtherHead && head!.Bold) content = [.. content.Select(Bold)];
        if (isHeader && head is { Fill: not null, Hex: { } hex } && content.Length > 0) content = [new GalleyColoured(hex, content)];
        // Words on a deep shade are light.
        var shade = cell.Shade is { } depth ? ShadeOf(depth) : (Colour?)null;
        if (shade is { } ground && Colour.Contrast(ground, Colour.White) >= Colour.Contrast(ground, text) && content.Length > 0) content = [new GalleyColoured(Colour.White.ToString(), content)];
        return new GalleyCell(style, content, alignment)
        {
            KeepWithNext = keeps,
            ColumnSpan = cell.ColumnSpan,
            Sign = cell.Sign is null ? [] : [.. inlines(cell.Sign).Select(Hung)],
            Merge = continues ? CellMerge.Continues : cell.RowSpan > 1 ? CellMerge.Starts : CellMerge.None,
            Below = isHeader ? HeaderRule(index, cell) : cell.RuleBelow ? CellRule.Thin : CellRule.AsStyle,
            Above = row.RuleAbove || row.Kind == RowKind.Total ? CellRule.Thin : CellRule.AsStyle,
            Fill = shade?.ToString() ?? (isFurtherHead ? head!.Fill : null),
            Level = column == 0 ? row.Level : 0,
            AtBottom = row.Kind == RowKind.Heading && column > 0,
        };
    }

    /// <summary>The paper, mixed with the accent.</summary>
    private Colour ShadeOf(double depth)
    {
        byte Mixed(byte paper, byte full) => (byte)Math.Round(paper + ((full - paper) * Math.Clamp(depth, 0, 1)));
        return new Colour(Mixed(255, accent.Red), Mixed(255, accent.Green), Mixed(255, accent.Blue));
    }

    private static GalleyInline Bold(GalleyInline inline) => inline is GalleyText text ? text with { Format = text.Format | CharacterFormat.Bold } : inline;

    /// <summary>A sign behind a number. Fonts raise a star by themselves: raised once more it would be too small to read.</summary>
    private static GalleyInline Hung(GalleyInline inline) =>
        inline is GalleyText text && text.Text.AsSpan().IndexOfAnyExcept('*') >= 0 ? text with { Format = text.Format | CharacterFormat.Raised } : inline;
}
