using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Mathematics;
using Fennick.Styles;

namespace Fennick.Layout;

/// <summary>Estimates on which page each block begins: heights from text measures, blocks broken where the page is full.</summary>
internal static class Pagination
{
    // How much higher a line of a formula is than one of text.
    private const double FormulaLine = 1.25;

    public static PageMap Paginate(FittedDocument document, IStyleBook house)
    {
        var pages = new Dictionary<BlockId, PageLabel>();
        double[] notes = [.. document.Flow.Notes.Select(n => n.Sum(p => Height(p.Style, p.Inlines, house.Page.TextWidth.Points, house) + house.Style(p.Style).After.Points))];
        var lead = house.Lead;
        var page = lead.FirstPage - 1;
        var tableIndex = 0;
        var (format, shift) = (PageNumberFormat.Decimal, 0);
        double used = 0, gap = 0;
        foreach (var section in document.Flow.Sections)
        {
            if (!section.IsContinuous || page < lead.FirstPage)
            {
                page++;
                (used, gap) = (page == lead.FirstPage ? lead.Height : 0, 0);
            }
            if (section.Numbers is { } numbers) (format, shift) = (numbers.Format, numbers.Start is { } start ? start - page : shift);
            else format = PageNumberFormat.Decimal;
            var chapter = section is { Chapter: { } own, Numbers.ByChapter: { } sign } ? own + Counting.Sign(sign) : "";
            // What stands side by side takes about its share of the height.
            var beside = Math.Max(1, section.Columns.Length);
            var width = section.Columns.IsEmpty ? section.Page.TextWidth.Points : section.Columns[0].Points;
            var room = section.Page.TextHeight.Points;
            StyleRole? before = null;
            Flow(section.Blocks, width);

            void Flow(ImmutableArray<GalleyBlock> blocks, double width)
            {
                foreach (var block in blocks)
                {
                    if (block is GalleyTable table)
                    {
                        var geometry = document.Tables[tableIndex++];
                        var begins = block.Begins;
                        foreach (var height in geometry.RowHeights?.Select(h => (double)h) ?? table.Rows.Select(r => RowHeight(r, geometry, house)))
                        {
                            Place(height, 0, begins);
                            begins = null;
                        }
                        gap = 0;
                    }
                    else if (block is GalleyBox box)
                    {
                        var design = house.Design.Boxes[(int)box.Look];
                        var inside = GalleyBox.RoomIn(box.Width, box.Columns, design).Points;
                        used += design.CellPadding;
                        if (box.Columns == 1)
                            foreach (var row in box.Rows) Flow(row[0], inside);
                        else
                            foreach (var row in box.Rows) Place(row.Max(c => c.OfType<GalleyParagraph>().Sum(p => Height(p.Style, p.Inlines, inside, house) + house.Style(p.Style).Before.Points + house.Style(p.Style).After.Points)) + design.CellPadding + design.CellPaddingBelow, 0, null);
                        used += design.CellPaddingBelow;
                        gap = 0;
                    }
                    else if (block is GalleyEquation equation)
                    {
                        var style = house.Style(StyleRole.Equation);
                        Place(equation.Formula.Root.Extent().Lines * house.Face(StyleRole.Equation).LineHeight(style.Points) * FormulaLine, Math.Max(gap, style.Before.Points), block.Begins);
                        gap = style.After.Points;
                    }
                    else if (block is GalleyParagraph paragraph)
                    {
                        var style = house.Style(paragraph.Style);
                        if (paragraph.BreaksPage && used > 0)
                        {
                            page++;
                            used = 0;
                        }
                        // What stands in the margin takes no room from the text.
                        if (style.InMargin) continue;
                        var isClose = style.Contextual && before == paragraph.Style;
                        Place(Height(paragraph.Style, paragraph.Inlines, width, house) + Notes(paragraph.Inlines), isClose ? 0 : Math.Max(gap, style.Before.Points), block.Begins);
                        gap = style.After.Points;
                    }
                    before = (block as GalleyParagraph)?.Style;
                }
            }

            double Notes(ImmutableArray<GalleyInline> inlines) => inlines.Sum(i => i is GalleyNoteMark mark ? notes[mark.Number - 1] : i is GalleyContainer container ? Notes(container.Content) : 0);

            void Place(double height, double space, BlockId? begins)
            {
                height /= beside;
                if (used > 0 && used + space + height > room)
                {
                    page++;
                    used = 0;
                    space = 0;
                }
                if (begins is { } id) pages[id] = new PageLabel(page + shift, format, chapter);
                used += space + height;
                for (; used > room; used -= room) page++;
            }
        }
        return new PageMap(pages, Math.Max(1, page - lead.FirstPage + 1) + lead.PagesBeside);
    }

    /// <summary>The height of a row in its table; without a geometry, that at the usual size if its lines are only broken where they say so.</summary>
    public static double RowHeight(GalleyRow row, TableGeometry? geometry, IStyleBook house)
    {
        double tallest = 0;
        var place = 0;
        foreach (var cell in row.Cells)
        {
            var style = house.Style(cell.Style);
            var (width, ratio) = (double.PositiveInfinity, 1.0);
            if (geometry is not null)
            {
                // A smaller size is the same text on wider paper.
                ratio = house.Style(cell.Style.At(geometry.TextStep)).Points / style.Points;
                width = ((geometry.WidthOf(place, cell.ColumnSpan) / 20.0) - geometry.CellMargins) / ratio;
            }
            place += cell.ColumnSpan;
            tallest = Math.Max(tallest, (Height(cell.Style, cell.Inlines, width, house) * ratio) + style.Before.Points + style.After.Points + cell.SpaceBelow.Points);
        }
        return tallest;
    }

    private static double Height(StyleRole role, ImmutableArray<GalleyInline> inlines, double width, IStyleBook house)
    {
        var style = house.Style(role);
        var face = house.Face(role);
        var room = Math.Max(1, width - style.IndentLeft.Points - style.IndentRight.Points);
        double text = 0, drawings = 0;
        var lines = 1;
        foreach (var inline in inlines) Add(inline);
        lines += (int)(text / room);
        return (drawings > 0 && text == 0 ? 0 : lines * face.LineHeight(style.Points) * style.Lines) + drawings;

        void Add(GalleyInline inline)
        {
            switch (inline)
            {
                case GalleyText t:
                    text += face.Width(t.Text, style.Points);
                    lines += t.Text.AsSpan().Count('\n');
                    break;
                case GalleyField field: text += face.Width(field.Result, style.Points); break;
                case GalleyPageNumber or GalleyNoteMark: text += face.Width("00", style.Points); break;
                case GalleyFormula formula: text += formula.Formula.Letters * style.Points * Formula.Letter; break;
                case GalleyBreak: lines++; break;
                case GalleyChart chart: drawings = Math.Max(drawings, chart.Height.Points); break;
                case GalleySmallChart small: drawings = Math.Max(drawings, small.Height.Points); break;
                case GalleyPicture picture: drawings = Math.Max(drawings, picture.Height.Points); break;
                case GalleyContainer container:
                    foreach (var inner in container.Content) Add(inner);
                    break;
            }
        }
    }
}
