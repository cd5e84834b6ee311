using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using Fennick.Documents;
using Fennick.Drawing;
using Fennick.Flow;
using Fennick.Formatting;
using Fennick.Layout;
using Fennick.Styles;

namespace Fennick.Outputs;

/// <summary>Writes what stands in lines as HTML.</summary>
/// <param name="laid">The report.</param>
/// <param name="html">Takes the HTML.</param>
/// <param name="view">What a view of a report that is being written shows more; null for a page that is handed out.</param>
internal sealed class PageInlines(LaidReport laid, StringBuilder html, PageView? view)
{
    private const int MostRowsOfData = 2000;

    private readonly Language language = laid.House.Language;
    private readonly Dictionary<IndexInline, string> marks = new(ReferenceEqualityComparer.Instance);
    private readonly HashSet<string> ids = new(StringComparer.Ordinal);
    private readonly Queue<PageStart> edges = new();
    private int written;

    /// <summary>Whether the lines are those of a list of contents, which leads by links.</summary>
    public bool IsInContents { get; set; }

    private void Write(GalleyChart chart)
    {
        var isDecorative = chart.Description == Accessibility.Decorative;
        html.Append("</div><div class=\"chart\"").Append(isDecorative ? " aria-hidden=\"true\">" : $" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(chart.Description)}\">").Append(ChartSvg.Write(chart.Drawing, isDecorative ? "" : chart.Description)).Append("</div>\n");
        WriteData(chart.Drawing.Data);
        html.Append("<div>");
    }

    private void WriteData(ImmutableArray<DataColumn> columns)
    {
        var rows = columns.IsEmpty ? 0 : columns.Max(c => c.Cells.Length);
        if (rows is 0 or > MostRowsOfData) return;
        html.Append("<details><summary>").Append(WebUtility.HtmlEncode(Phrases.Find("The data of this chart", language))).Append("</summary><div class=\"scroll\"><table><thead><tr>");
        foreach (var column in columns) html.Append("<th scope=\"col\">").Append(WebUtility.HtmlEncode(column.Head)).Append("</th>");
        html.Append("</tr></thead><tbody>");
        for (var r = 0; r < rows; r++)
        {
            html.Append("<tr>");
            foreach (var column in columns)
            {
                var cell = r < column.Cells.Length ? column.Cells[r] : null;
                html.Append(cell is double ? "<td class=\"number\">" : "<td>").Append(cell switch { double number => WebUtility.HtmlEncode(number.ToString("G12", language.Culture)), string words => WebUtility.HtmlEncode(words), _ => "" }).Append("</td>");
            }
            html.Append("</tr>");
        }
        html.Append("</tbody></table></div></details>\n");
    }

    public void Write(ImmutableArray<GalleyInline> inlines)
    {
        foreach (var inline in inlines) Write(inline);
    }

    /// <summary>Writes what stands in a paragraph, with the edge of a page where one runs through it.</summary>
    public void Write(GalleyParagraph paragraph)
    {
        written = 0;
        edges.Clear();
        foreach (var start in view?.StartsIn(paragraph) ?? []) if (start.At > 0) edges.Enqueue(start);
        Write(paragraph.Inlines);
        edges.Clear();
    }

    /// <summary>Text, counted as the layout counts it.</summary>
    private void Write(GalleyText text)
    {
        var begin = 0;
        foreach (var range in view is null ? [] : text.Origins)
        {
            var end = Math.Min(range.Start + range.Length, text.Text.Length);
            if (range.Start < begin || end <= range.Start) continue;
            Stretch(text, begin, range.Start);
            html.Append(CultureInfo.InvariantCulture, $"<span class=\"value\" data-origin=\"{view!.Number(range.Origin)}\">");
            Stretch(text, range.Start, end);
            html.Append("</span>");
            begin = end;
        }
        Stretch(text, begin, text.Text.Length);
        written += text.Text.Length;
    }

    /// <summary>A stretch of a text, with the edge of a page where one runs through it.</summary>
    private void Stretch(GalleyText text, int begin, int end)
    {
        while (edges.TryPeek(out var edge) && edge.At < written + end)
        {
            edges.Dequeue();
            var at = Math.Max(begin, edge.At - written);
            if (at > begin) Formatted(text.Text[begin..at], text.Format);
            html.Append(PageView.Edge("span", edge));
            begin = at;
        }
        if (end > begin) Formatted(text.Text[begin..end], text.Format);
    }

    private void Write(GalleyInline inline)
    {
        switch (inline)
        {
            case GalleyText text: Write(text); break;
            case GalleyBreak: html.Append("<br>"); break;
            // Lists of contents lead by links, not by pages.
            case GalleyTab: html.Append(!IsInContents ? "\u2003" : view is null ? " " : "<span class=\"lead\"></span>"); break;
            case GalleyReference reference: Link(reference.Bookmark, () => Formatted(reference.Result, reference.Format)); break;
            case GalleyField field: Formatted(field.Result, field.Format); break;
            case GalleyPageNumber when IsInContents && view is null: break;
            case GalleyPageNumber number: Link(number.Bookmark, () => Formatted(laid.Pages.PageOf(number), number.Format)); break;
            case GalleyPageCount count: Formatted(laid.Pages.Count.ToString(CultureInfo.InvariantCulture), count.Format); break;
            case GalleyWhere where: Link(where.Bookmark, () => Formatted(where.Words.SamePage, where.Format)); break;
            case GalleyNoteMark note: html.Append("<sup><a id=\"note-").Append(note.Number).Append("-mark\" href=\"#note-").Append(note.Number).Append("\" role=\"doc-noteref\">").Append(note.Number).Append("</a></sup>"); break;
            case GalleyBookmark bookmark:
                html.Append(ids.Add(bookmark.Name) ? $"<span id=\"{WebUtility.HtmlEncode(bookmark.Name)}\">" : "<span>");
                Write(bookmark.Content);
                html.Append("</span>");
                break;
            case GalleyLink link when !LeadsSomewhere(link.Target): Write(link.Content); break;
            case GalleyLink link:
                html.Append("<a href=\"").Append(WebUtility.HtmlEncode(link.Target)).Append("\">");
                Write(link.Content);
                html.Append("</a>");
                break;
            case GalleyAnchor anchor: Link(anchor.Bookmark, () => Write(anchor.Content)); break;
            case GalleyColoured coloured:
                html.Append("<span style=\"color:#").Append(coloured.Colour).Append("\">");
                Write(coloured.Content);
                html.Append("</span>");
                break;
            case GalleyStyled styled: Write(styled); break;
            case GalleyContainer container: Write(container.Content); break;
            case GalleyFormula formula: html.Append(MathMarkup.Of(formula.Formula, isDisplayed: false)); break;
            case GalleyChart chart: Write(chart); break;
            case GalleySmallChart small: html.Append("<span role=\"img\" aria-label=\"").Append(WebUtility.HtmlEncode(small.Description)).Append("\">").Append(WebUtility.HtmlEncode(small.Text)).Append("</span>"); break;
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
        Write(styled.Content);
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
        html.Append(CultureInfo.InvariantCulture, $"<img alt=\"{(isDecorative ? "" : WebUtility.HtmlEncode(picture.Description))}\" width=\"{picture.Width.Points / 0.75:0}\" height=\"{picture.Height.Points / 0.75:0}\" src=\"data:image/{type};base64,{Convert.ToBase64String(bytes.AsSpan())}\">");
    }

    /// <summary>Whether a target is a place, and not something that a browser would run.</summary>
    private static bool LeadsSomewhere(string target) => !Uri.TryCreate(target, UriKind.Absolute, out var uri) || uri.Scheme is "http" or "https" or "mailto" or "tel" or "ftp" or "file";

    private void Link(string bookmark, Action content)
    {
        html.Append("<a href=\"#").Append(WebUtility.HtmlEncode(bookmark)).Append("\">");
        content();
        html.Append("</a>");
    }

    private void Formatted(string text, CharacterFormat format)
    {
        (CharacterFormat Format, string Element)[] elements = [(CharacterFormat.Bold, "strong"), (CharacterFormat.Italic, "em"), (CharacterFormat.Code, "code"), (CharacterFormat.Raised | CharacterFormat.NoteMark, "sup"), (CharacterFormat.Struck, "s")];
        foreach (var (flag, element) in elements)
            if ((format & flag) != 0) html.Append('<').Append(element).Append('>');
        html.Append(WebUtility.HtmlEncode(text));
        foreach (var (flag, element) in elements.Reverse())
            if ((format & flag) != 0) html.Append("</").Append(element).Append('>');
    }
}
