using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Drawing;
using Fennick.Files;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Styles;
using Fennick.Tables;

namespace Fennick.Outputs;

/// <summary>Writes a report as one HTML file that needs nothing else: headings, tables, notes and links as browsers and screen readers know them, formulas as MathML, charts as SVG with their data.</summary>
internal sealed class PageWriter : IReportWriter
{
    public string Name => "page";

    public string Extension => ".html";

    public IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(target);
        var diagnostics = new List<Diagnostic>();
        var laid = ReportFile.LayOut(report, diagnostics);
        target.Write(Encoding.UTF8.GetBytes(new Page(laid).Write()));
        return diagnostics;
    }

    /// <summary>What is open around the next block.</summary>
    private enum Around
    {
        Nothing,
        Quotation,
        Definitions,
        Contents,
    }

    private sealed class Page(LaidReport laid)
    {
        private const int MostRowsOfData = 2000;

        private readonly StringBuilder html = new();
        private readonly Galley galley = laid.Galley;
        private readonly Language language = laid.House.Language;
        private readonly Stack<ListPlace> lists = new();
        private readonly Dictionary<Documents.IndexInline, string> marks = new(ReferenceEqualityComparer.Instance);
        private readonly HashSet<string> ids = new(StringComparer.Ordinal);
        private Around around;
        private bool hasTitle;

        public string Write()
        {
            var properties = galley.Properties;
            hasTitle = properties.Title.Length > 0;
            html.Append("<!doctype html>\n<html lang=\"").Append(Text(properties.Language)).Append('"').Append(language.IsRightToLeft ? " dir=\"rtl\"" : "").Append(">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" content=\"width=device-width,initial-scale=1\">\n<title>")
                .Append(Text(hasTitle ? properties.Title : "Report")).Append("</title>\n");
            if (properties.Authors.Length > 0) html.Append("<meta name=\"author\" content=\"").Append(Text(properties.JoinedAuthors)).Append("\">\n");
            html.Append("<style>\n").Append(PageLook.Of(laid.House)).Append("\n</style>\n</head>\n<body>\n<div class=\"sheet\">\n");
            WriteHeader(properties);
            html.Append("<main>\n");
            foreach (var (_, section) in galley.SlotBlocks) WriteAll(section.Blocks);
            foreach (var section in galley.Sections) WriteAll(section.Blocks);
            html.Append("</main>\n");
            WriteNotes();
            return html.Append("</div>\n</body>\n</html>\n").ToString();
        }

        private void WriteHeader(DocumentProperties properties)
        {
            if (!hasTitle && properties.Authors.IsEmpty && properties.Date is null) return;
            html.Append("<header>\n");
            if (hasTitle) html.Append("<h1>").Append(Text(properties.Title)).Append("</h1>\n");
            if (properties.Subject.Length > 0) html.Append("<p class=\"subtitle\">").Append(Text(properties.Subject)).Append("</p>\n");
            if (properties.Authors.Length > 0) html.Append("<p>").Append(Text(string.Join(", ", properties.Authors))).Append("</p>\n");
            if (properties.Date is { } date) html.Append("<p><time datetime=\"").Append(date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)).Append("\">").Append(Text(ValueFormatter.Format(date, null, language))).Append("</time></p>\n");
            html.Append("</header>\n");
        }

        private void WriteNotes()
        {
            if (galley.Notes.IsEmpty) return;
            html.Append("<section class=\"notes\" role=\"doc-endnotes\">\n<ol>\n");
            for (var n = 1; n <= galley.Notes.Length; n++)
            {
                html.Append("<li id=\"note-").Append(n).Append("\">");
                for (var p = 0; p < galley.Notes[n - 1].Length; p++)
                {
                    html.Append("<p>");
                    Inlines(galley.Notes[n - 1][p].Inlines);
                    if (p == galley.Notes[n - 1].Length - 1) html.Append(" <a href=\"#note-").Append(n).Append("-mark\" role=\"doc-backlink\" aria-label=\"").Append(n).Append("\">\u21A9</a>");
                    html.Append("</p>");
                }
                html.Append("</li>\n");
            }
            html.Append("</ol>\n</section>\n");
        }

        /// <summary>Blocks one after the other; what has a caption is a figure.</summary>
        private void WriteAll(ImmutableArray<GalleyBlock> blocks)
        {
            var (outerLists, outerAround) = (lists.ToArray(), around);
            lists.Clear();
            around = Around.Nothing;
            for (var i = 0; i < blocks.Length; i++)
            {
                if (blocks[i].Float is not { } floating)
                {
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
            html.Append("<figure>\n");
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
                    html.Append("<div class=\"equation\">").Append(MathMarkup.Of(equation.Formula, isDisplayed: true)).Append("<span>");
                    Inlines(equation.Number);
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
                    html.Append("<h").Append(level).Append('>');
                    if (paragraph.Number is { Length: > 0 } number) html.Append(Text(number)).Append('\u2002');
                    Inlines(paragraph.Inlines);
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
                    html.Append("<pre><code>");
                    Inlines(paragraph.Inlines);
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
            html.Append('<').Append(element);
            if (className is not null) html.Append(" class=\"").Append(className).Append('"');
            html.Append('>');
            Inlines(paragraph.Inlines);
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
            html.Append("<li>");
            if (galley.Lists[place.List].Mark is { } mark) html.Append(Text(mark)).Append(' ');
            Inlines(paragraph.Inlines);
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
                    Inlines(cell.Inlines);
                    Inlines(cell.Sign);
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
            html.Append("<div>");
            Inlines(paragraph.Inlines);
            html.Append("</div>\n");
        }

        private void Write(GalleyChart chart)
        {
            var isDecorative = chart.Description == Accessibility.Decorative;
            html.Append("</div><div class=\"chart\"").Append(isDecorative ? " aria-hidden=\"true\">" : $" role=\"img\" aria-label=\"{Text(chart.Description)}\">").Append(ChartSvg.Write(chart.Drawing, isDecorative ? "" : chart.Description)).Append("</div>\n");
            WriteData(chart.Drawing.Data);
            html.Append("<div>");
        }

        private void WriteData(ImmutableArray<DataColumn> columns)
        {
            var rows = columns.IsEmpty ? 0 : columns.Max(c => c.Cells.Length);
            if (rows is 0 or > MostRowsOfData) return;
            html.Append("<details><summary>").Append(Text(Phrases.Find("The data of this chart", language))).Append("</summary><div class=\"scroll\"><table><thead><tr>");
            foreach (var column in columns) html.Append("<th scope=\"col\">").Append(Text(column.Head)).Append("</th>");
            html.Append("</tr></thead><tbody>");
            for (var r = 0; r < rows; r++)
            {
                html.Append("<tr>");
                foreach (var column in columns)
                {
                    var cell = r < column.Cells.Length ? column.Cells[r] : null;
                    html.Append(cell is double ? "<td class=\"number\">" : "<td>").Append(cell switch { double number => Text(number.ToString("G12", language.Culture)), string words => Text(words), _ => "" }).Append("</td>");
                }
                html.Append("</tr>");
            }
            html.Append("</tbody></table></div></details>\n");
        }

        private void Inlines(ImmutableArray<GalleyInline> inlines)
        {
            foreach (var inline in inlines) Write(inline);
        }

        private void Write(GalleyInline inline)
        {
            switch (inline)
            {
                case GalleyText text: Formatted(text.Text, text.Format); break;
                case GalleyBreak: html.Append("<br>"); break;
                // Lists of contents lead by links, not by pages.
                case GalleyTab: html.Append(around == Around.Contents ? " " : "\u2003"); break;
                case GalleyReference reference: Link(reference.Bookmark, () => Formatted(reference.Result, reference.Format)); break;
                case GalleyField field: Formatted(field.Result, field.Format); break;
                case GalleyPageNumber when around == Around.Contents: break;
                case GalleyPageNumber number: Link(number.Bookmark, () => Formatted(laid.Pages.PageOf(number), number.Format)); break;
                case GalleyPageCount count: Formatted(laid.Pages.Count.ToString(CultureInfo.InvariantCulture), count.Format); break;
                case GalleyWhere where: Link(where.Bookmark, () => Formatted(where.Words.SamePage, where.Format)); break;
                case GalleyNoteMark note: html.Append("<sup><a id=\"note-").Append(note.Number).Append("-mark\" href=\"#note-").Append(note.Number).Append("\" role=\"doc-noteref\">").Append(note.Number).Append("</a></sup>"); break;
                case GalleyBookmark bookmark:
                    html.Append(ids.Add(bookmark.Name) ? $"<span id=\"{Text(bookmark.Name)}\">" : "<span>");
                    Inlines(bookmark.Content);
                    html.Append("</span>");
                    break;
                case GalleyLink link when !LeadsSomewhere(link.Target): Inlines(link.Content); break;
                case GalleyLink link:
                    html.Append("<a href=\"").Append(Text(link.Target)).Append("\">");
                    Inlines(link.Content);
                    html.Append("</a>");
                    break;
                case GalleyAnchor anchor: Link(anchor.Bookmark, () => Inlines(anchor.Content)); break;
                case GalleyColoured coloured:
                    html.Append("<span style=\"color:#").Append(coloured.Colour).Append("\">");
                    Inlines(coloured.Content);
                    html.Append("</span>");
                    break;
                case GalleyStyled styled: Write(styled); break;
                case GalleyContainer container: Inlines(container.Content); break;
                case GalleyFormula formula: html.Append(MathMarkup.Of(formula.Formula, isDisplayed: false)); break;
                case GalleyChart chart: Write(chart); break;
                case GalleySmallChart small: html.Append("<span role=\"img\" aria-label=\"").Append(Text(small.Description)).Append("\">").Append(Text(small.Text)).Append("</span>"); break;
                case GalleyPicture { IsBehind: false } picture: Write(picture); break;
                case GalleyIndexMark mark:
                    marks[mark.Source] = $"index-{marks.Count + 1}";
                    html.Append("<span id=\"").Append(marks[mark.Source]).Append("\"></span>");
                    break;
                case GalleyIndexPages pages: html.AppendJoin(", ", pages.Sources.Select((s, n) => marks.TryGetValue(s, out var id) ? $"<a href=\"#{id}\">{n + 1}</a>" : "").Where(a => a.Length > 0)); break;
            }
        }

        private void Write(GalleyStyled styled)
        {
            var style = styled.Style;
            var look = string.Concat(style.Bold ? "font-weight:bold;" : "", style.Italic ? "font-style:italic;" : "", style.SmallCapitals ? "font-variant:small-caps;" : "", style.Underlined ? "text-decoration:underline;" : "", style.Colour is { } colour ? $"color:{VariableOf(colour)};" : "", style.Shaded ? "background:var(--tint);" : "");
            html.Append(look.Length > 0 ? $"<span style=\"{look}\">" : "<span>");
            Inlines(styled.Content);
            html.Append("</span>");
        }

        private static string VariableOf(ThemeColour colour) => colour switch
        {
            ThemeColour.Text => "var(--text)",
            ThemeColour.StrongText => "var(--strong)",
            ThemeColour.Accent2 => "var(--second)",
            ThemeColour.Link => "var(--link)",
            _ => "var(--accent)",
        };

        private void Write(Flow.GalleyPicture picture)
        {
            var isDecorative = picture.Description == Accessibility.Decorative;
            var (type, bytes) = picture.Picture.Svg is { } svg ? ("svg+xml", svg) : (picture.Picture.Extension, picture.Picture.Bytes);
            html.Append(CultureInfo.InvariantCulture, $"<img alt=\"{(isDecorative ? "" : Text(picture.Description))}\" width=\"{picture.Width.Points / 0.75:0}\" height=\"{picture.Height.Points / 0.75:0}\" src=\"data:image/{type};base64,{Convert.ToBase64String(bytes.AsSpan())}\">");
        }

        /// <summary>Whether a target is a place, and not something that a browser would run.</summary>
        private static bool LeadsSomewhere(string target) => !Uri.TryCreate(target, UriKind.Absolute, out var uri) || uri.Scheme is "http" or "https" or "mailto" or "tel" or "ftp" or "file";

        private void Link(string bookmark, Action content)
        {
            html.Append("<a href=\"#").Append(Text(bookmark)).Append("\">");
            content();
            html.Append("</a>");
        }

        private void Formatted(string text, CharacterFormat format)
        {
            (CharacterFormat Format, string Element)[] elements = [(CharacterFormat.Bold, "strong"), (CharacterFormat.Italic, "em"), (CharacterFormat.Code, "code"), (CharacterFormat.Raised | CharacterFormat.NoteMark, "sup"), (CharacterFormat.Struck, "s")];
            foreach (var (flag, element) in elements)
                if ((format & flag) != 0) html.Append('<').Append(element).Append('>');
            html.Append(Text(text));
            foreach (var (flag, element) in elements.Reverse())
                if ((format & flag) != 0) html.Append("</").Append(element).Append('>');
        }

        private static string Text(string text) => WebUtility.HtmlEncode(text);
    }
}
