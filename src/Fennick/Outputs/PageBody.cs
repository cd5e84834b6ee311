using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Outputs;

/// <summary>Writes blocks as HTML: headings, lists, tables and figures as browsers and screen readers know them.</summary>
/// <param name="laid">The report.</param>
/// <param name="galley">What of it is written: as it was made, or as it fills the pages.</param>
/// <param name="html">Takes the HTML.</param>
/// <param name="view">What a view of a report that is being written shows more; null for a page that is handed out.</param>
internal sealed class PageBody(LaidReport laid, Galley galley, StringBuilder html, PageView? view)
{
    private readonly PageInlines inlines = new(laid, html, view);
    private readonly Stack<ListPlace> lists = new();
    private readonly bool hasTitle = galley.Properties.Title.Length > 0;
    private Around around;

    /// <summary>What is open around the next block.</summary>
    private enum Around
    {
        Nothing,
        Quotation,
        Definitions,
        Contents,
    }

    /// <summary>The title of the report, its authors and its date.</summary>
    public void WriteHeader()
    {
        var properties = galley.Properties;
        var language = laid.House.Language;
        if (!hasTitle && properties.Authors.IsEmpty && properties.Date is null) return;
        html.Append("<header>\n");
        if (hasTitle) html.Append("<h1>").Append(WebUtility.HtmlEncode(properties.Title)).Append("</h1>\n");
        if (properties.Subject.Length > 0) html.Append("<p class=\"subtitle\">").Append(WebUtility.HtmlEncode(properties.Subject)).Append("</p>\n");
        if (properties.Authors.Length > 0) html.Append("<p>").Append(WebUtility.HtmlEncode(string.Join(", ", properties.Authors))).Append("</p>\n");
        if (properties.Date is { } date) html.Append("<p><time datetime=\"").Append(date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)).Append("\">").Append(WebUtility.HtmlEncode(ValueFormatter.Format(date, null, language))).Append("</time></p>\n");
        html.Append("</header>\n");
    }

    /// <summary>The footnotes, at the end.</summary>
    public void WriteNotes()
    {
        if (galley.Notes.IsEmpty) return;
        html.Append("<section class=\"notes\" role=\"doc-endnotes\">\n<ol>\n");
        for (var n = 1; n <= galley.Notes.Length; n++)
        {
            html.Append("<li id=\"note-").Append(n).Append("\">");
            for (var p = 0; p < galley.Notes[n - 1].Length; p++)
            {
                html.Append("<p>");
                inlines.Write(galley.Notes[n - 1][p]);
                if (p == galley.Notes[n - 1].Length - 1) html.Append(" <a href=\"#note-").Append(n).Append("-mark\" role=\"doc-backlink\" aria-label=\"").Append(n).Append("\">\u21A9</a>");
                html.Append("</p>");
            }
            html.Append("</li>\n");
        }
        html.Append("</ol>\n</section>\n");
    }

    /// <summary>Blocks one after the other; what has a caption is a figure.</summary>
    public void WriteAll(ImmutableArray<GalleyBlock> blocks)
    {
        var (outerLists, outerAround) = (lists.ToArray(), around);
        lists.Clear();
        around = Around.Nothing;
        for (var i = 0; i < blocks.Length; i++)
        {
            if (blocks[i].Float is not { } floating)
            {
                WriteEdge(blocks[i]);
                Write(blocks[i]);
                continue;
            }
            var end = i;
            while (end + 1 < blocks.Length && blocks[end + 1].Float == floating) end++;
            WriteFigure(blocks[i..(end + 1)]);
            i = end;
        }
        Close();
        around = outerAround;
        foreach (var list in outerLists.Reverse()) lists.Push(list);
    }

    private void WriteFigure(ImmutableArray<GalleyBlock> blocks)
    {
        CloseTo(blocks.OfType<GalleyTable>().FirstOrDefault()?.Indents ?? 0);
        Enter(Around.Nothing);
        WriteEdge(blocks[0]);
        html.Append("<figure").Append(At(blocks[0])).Append(">\n");
        var table = blocks.OfType<GalleyTable>().FirstOrDefault();
        var caption = blocks.OfType<GalleyParagraph>().FirstOrDefault(p => p.Style is StyleRole.Caption or StyleRole.FigureCaption);
        foreach (var block in blocks)
        {
            if (block == table) Write(table!, caption);
            else if (block == caption)
            {
                if (table is null) Paragraph("figcaption", caption, null);
            }
            else if (block is GalleyParagraph { Style: StyleRole.Figure } picture) Drawings(picture);
            else Write(block);
        }
        Close();
        html.Append("</figure>\n");
    }

    private void Write(GalleyBlock block)
    {
        switch (block)
        {
            case GalleyParagraph paragraph: Write(paragraph); break;
            case GalleyTable table:
                CloseTo(table.Indents);
                Enter(Around.Nothing);
                Write(table, null);
                break;
            case GalleyBox box:
                CloseTo(box.Indents);
                Enter(Around.Nothing);
                Write(box);
                break;
            case GalleyEquation equation:
                CloseTo(equation.Indents);
                Enter(Around.Nothing);
                html.Append("<div class=\"equation\"").Append(At(equation)).Append('>').Append(MathMarkup.Of(equation.Formula, isDisplayed: true)).Append("<span>");
                inlines.Write(equation.Number);
                html.Append("</span></div>\n");
                break;
            case GalleyCover { IsLast: true } cover:
                Close();
                html.Append("<footer>\n");
                foreach (var paragraph in cover.Panel) Paragraph("p", paragraph, null);
                html.Append("</footer>\n");
                break;
            // The title stands at the head of the page.
            case GalleyCover: break;
            default: throw new InvalidOperationException($"No markup for {block.GetType().Name}.");
        }
    }

    private void Write(GalleyParagraph paragraph)
    {
        var style = paragraph.Style;
        if (style is StyleRole.Title or StyleRole.Subtitle or StyleRole.Author or StyleRole.Date) return;
        if (IsEmpty(paragraph)) return;
        if (paragraph.List is { } place)
        {
            WriteItem(paragraph, place);
            return;
        }
        CloseTo(paragraph.Indents);
        switch (style)
        {
            case >= StyleRole.Heading1 and <= StyleRole.Heading6:
                Enter(Around.Nothing);
                var level = Math.Min(6, style - StyleRole.Heading1 + (hasTitle ? 2 : 1));
                html.Append("<h").Append(level).Append(At(paragraph)).Append('>');
                if (paragraph.Number is { Length: > 0 } number) html.Append(WebUtility.HtmlEncode(number)).Append('\u2002');
                inlines.Write(paragraph);
                html.Append("</h").Append(level).Append(">\n");
                break;
            case StyleRole.ContentsHeading:
                Enter(Around.Contents);
                Paragraph(hasTitle ? "h2" : "h1", paragraph, null);
                html.Append("<ol>\n");
                break;
            case >= StyleRole.Contents1 and <= StyleRole.ContentsOfKind or StyleRole.Index1 or StyleRole.Index2 or StyleRole.Abbreviation when around == Around.Contents:
                Paragraph("li", paragraph, style is StyleRole.Index2 ? "of-2" : style is >= StyleRole.Contents2 and <= StyleRole.Contents6 ? $"of-{style - StyleRole.Contents1 + 1}" : null);
                break;
            case StyleRole.Quotation:
                Enter(Around.Quotation);
                Paragraph("p", paragraph, null);
                break;
            case StyleRole.Term:
                Enter(Around.Definitions);
                Paragraph("dt", paragraph, null);
                break;
            case StyleRole.Definition:
                Enter(Around.Definitions);
                Paragraph("dd", paragraph, null);
                break;
            case StyleRole.Listing:
                Enter(Around.Nothing);
                html.Append("<pre").Append(At(paragraph)).Append("><code>");
                inlines.Write(paragraph);
                html.Append("</code></pre>\n");
                break;
            case StyleRole.ThoughtBreak:
                Enter(Around.Nothing);
                html.Append("<hr>\n");
                break;
            case StyleRole.Figure:
                Enter(Around.Nothing);
                Drawings(paragraph);
                break;
            default:
                Enter(Around.Nothing);
                Paragraph("p", paragraph, ClassOf(style));
                break;
        }
    }

    private static string? ClassOf(StyleRole style) => style switch
    {
        StyleRole.Caption or StyleRole.FigureCaption => "caption",
        StyleRole.Note => "note",
        StyleRole.Source => "source",
        StyleRole.BoxTitle => "box-title",
        StyleRole.KeyFigureLabel => "key-label",
        StyleRole.KeyFigure => "key",
        StyleRole.KeyFigureChange => "key-change",
        StyleRole.KeyFigureNote => "key-note",
        StyleRole.PullQuote => "pull",
        StyleRole.MarginNote => "margin",
        _ => null,
    };

    private static bool IsEmpty(GalleyParagraph paragraph) => paragraph.Style == StyleRole.Spacer || (paragraph.Style != StyleRole.ThoughtBreak && paragraph.Inlines.All(i => i is GalleyContentsBegin or GalleyContentsEnd or GalleyIndexBegin));

    private void Paragraph(string element, GalleyParagraph paragraph, string? className)
    {
        html.Append('<').Append(element).Append(At(paragraph));
        if (className is not null) html.Append(" class=\"").Append(className).Append('"');
        html.Append('>');
        inlines.Write(paragraph);
        html.Append("</").Append(element).Append(">\n");
    }

    private void WriteItem(GalleyParagraph paragraph, ListPlace place)
    {
        Enter(Around.Nothing);
        while (lists.Count > place.Level + 1 || (lists.Count == place.Level + 1 && lists.Peek().List != place.List)) CloseList();
        if (lists.Count == place.Level + 1) html.Append("</li>\n");
        while (lists.Count < place.Level + 1)
        {
            var list = galley.Lists[place.List];
            html.Append(list.Ordered ? list.Start != 1 ? $"<ol start=\"{list.Start}\">" : "<ol>" : list.Mark is null ? "<ul>" : "<ul style=\"list-style:none\">").Append('\n');
            lists.Push(place);
        }
        html.Append("<li").Append(At(paragraph)).Append('>');
        if (galley.Lists[place.List].Mark is { } mark) html.Append(WebUtility.HtmlEncode(mark)).Append(' ');
        inlines.Write(paragraph);
    }

    private void CloseList() => html.Append("</li>\n").Append(galley.Lists[lists.Pop().List].Ordered ? "</ol>\n" : "</ul>\n");

    /// <summary>Closes lists, but for those that a block stands in.</summary>
    private void CloseTo(int depth)
    {
        while (lists.Count > depth) CloseList();
    }

    private void Close()
    {
        CloseTo(0);
        Enter(Around.Nothing);
    }

    private void Enter(Around next)
    {
        inlines.IsInContents = next == Around.Contents;
        if (around == next && next != Around.Contents) return;
        html.Append(around switch { Around.Quotation => "</blockquote>\n", Around.Definitions => "</dl>\n", Around.Contents => "</ol></nav>\n", _ => "" });
        html.Append(next switch { Around.Quotation => "<blockquote>\n", Around.Definitions => "<dl>\n", Around.Contents => "<nav>\n", _ => "" });
        around = next;
    }

    private void Write(GalleyBox box)
    {
        var isGrid = box.Look is BoxLook.SideBySide or BoxLook.Panels;
        var className = box.Look switch { BoxLook.Note => "box quiet", BoxLook.Summary => "box", BoxLook.KeyFigures => "tiles", _ => "beside" };
        html.Append(box.Look is BoxLook.Note or BoxLook.Summary ? "<aside class=\"" : "<div class=\"").Append(className).Append('"');
        if (isGrid) html.Append(" style=\"grid-template-columns:").AppendJoin(' ', Enumerable.Range(0, box.Rows[0].Length).Select(c => string.Create(CultureInfo.InvariantCulture, $"{box.WidthOf(c).Points:0}fr"))).Append('"');
        html.Append(">\n");
        foreach (var cell in box.Rows.SelectMany(r => r).Where(c => !c.All(b => b is GalleyParagraph p && IsEmpty(p))))
        {
            if (box.Look is not (BoxLook.Note or BoxLook.Summary)) html.Append("<div>\n");
            WriteAll(cell);
            if (box.Look is not (BoxLook.Note or BoxLook.Summary)) html.Append("</div>\n");
        }
        html.Append(box.Look is BoxLook.Note or BoxLook.Summary ? "</aside>\n" : "</div>\n");
    }

    private void Write(GalleyTable table, GalleyParagraph? caption)
    {
        html.Append("<div class=\"scroll\"><table>\n");
        if (caption is not null) Paragraph("caption", caption, null);
        var spans = RowSpans(table);
        var headFill = laid.House.Ruling(table.Ruling).Head?.Fill;
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var isHeader = r < table.HeaderRows;
            if (r == 0) html.Append(isHeader ? "<thead>\n" : "<tbody>\n");
            else if (r == table.HeaderRows) html.Append("</thead>\n<tbody>\n");
            WriteEdge(table, r);
            html.Append("<tr>");
            var column = 0;
            foreach (var cell in table.Rows[r].Cells)
            {
                var at = column;
                column += cell.ColumnSpan;
                if (cell.Merge == CellMerge.Continues) continue;
                var isHead = isHeader || at < table.StubColumns;
                html.Append(isHead ? "<th" : "<td");
                if (isHead) html.Append(isHeader ? cell.ColumnSpan > 1 ? " scope=\"colgroup\"" : " scope=\"col\"" : cell.ColumnSpan == table.Columns.Length ? " scope=\"rowgroup\"" : " scope=\"row\"");
                if (cell.ColumnSpan > 1) html.Append(" colspan=\"").Append(cell.ColumnSpan).Append('"');
                if (spans.TryGetValue((r, at), out var span)) html.Append(" rowspan=\"").Append(span).Append('"');
                string[] classes =
                [
                    .. cell.Alignment is Alignment.Right or Alignment.Decimal ? ["number"] : Array.Empty<string>(),
                    .. cell.Alignment is Alignment.Centre ? ["middle"] : Array.Empty<string>(),
                    .. cell.Style is StyleRole.TableGroup ? ["group"] : Array.Empty<string>(),
                    .. cell.Level > 0 ? [$"in-{Math.Min(2, cell.Level)}"] : Array.Empty<string>(),
                ];
                if (classes.Length > 0) html.Append(" class=\"").AppendJoin(' ', classes).Append('"');
                if ((cell.Fill ?? (isHeader ? headFill : null)) is { } fill) html.Append(" style=\"background:#").Append(fill).Append('"');
                html.Append('>');
                inlines.Write(cell.Inlines);
                inlines.Write(cell.Sign);
                html.Append(isHead ? "</th>" : "</td>");
            }
            html.Append("</tr>\n");
        }
        html.Append(table.Rows.Count == 0 ? "" : table.HeaderRows >= table.Rows.Count ? "</thead>\n" : "</tbody>\n").Append("</table></div>\n");
    }

    /// <summary>How many rows the cells that reach over some take.</summary>
    private static Dictionary<(int Row, int Column), int> RowSpans(GalleyTable table)
    {
        var spans = new Dictionary<(int, int), int>();
        var starts = new Dictionary<int, int>();
        for (var r = 0; r < table.Rows.Count; r++)
        {
            var column = 0;
            foreach (var cell in table.Rows[r].Cells)
            {
                if (cell.Merge == CellMerge.Starts) starts[column] = r;
                else if (cell.Merge == CellMerge.Continues && starts.TryGetValue(column, out var start)) spans[(start, column)] = r - start + 1;
                column += cell.ColumnSpan;
            }
        }
        return spans;
    }

    /// <summary>A paragraph of charts or pictures.</summary>
    private void Drawings(GalleyParagraph paragraph)
    {
        html.Append("<div").Append(At(paragraph)).Append('>');
        inlines.Write(paragraph);
        html.Append("</div>\n");
    }

    /// <summary>Where a block was written, for a view of a report that is being written.</summary>
    private string At(GalleyBlock block) => view is not null && block.WrittenAt is { } place ? $" data-at=\"{WebUtility.HtmlEncode($"{place.File}:{place.Line.ToString(CultureInfo.InvariantCulture)}")}\"" : "";

    /// <summary>The edge of the page that begins with a block.</summary>
    private void WriteEdge(GalleyBlock block)
    {
        if (view is null) return;
        foreach (var start in view.StartsIn(block))
        {
            if (start.At > 0 || !view.HasEdge(start)) continue;
            if (block is GalleyParagraph { List: not null } && lists.Count > 0) html.Append("</li>\n").Append(PageView.Edge("li", start)).Append("<li hidden>");
            else
            {
                if (block is GalleyParagraph { List: null } paragraph) CloseTo(paragraph.Indents);
                html.Append(PageView.Edge(around == Around.Contents ? "li" : "div", start));
            }
        }
    }

    /// <summary>The edge of the page that begins with a row.</summary>
    private void WriteEdge(GalleyTable table, int row)
    {
        foreach (var start in view?.StartsIn(table) ?? [])
            if (start.At == row && row > 0) html.Append("<tr class=\"page-edge-row\"><td colspan=\"").Append(table.Columns.Length).Append("\">").Append(PageView.Edge("span", start)).Append("</td></tr>\n");
    }
}
