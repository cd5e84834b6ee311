using System.Globalization;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Wordprocessing;

namespace Fennick.Outputs;

/// <summary>A report as somebody sees it who is writing it: its pages with their edges, where each block was written, and where its values come from.</summary>
/// <param name="Title">Its title.</param>
/// <param name="Language">The tag of its language.</param>
/// <param name="Style">The style sheet.</param>
/// <param name="Html">The sheets, one for each change of page layout.</param>
/// <param name="PageCount">How many pages it has.</param>
/// <param name="Origins">Where its values come from, by the numbers in the HTML.</param>
internal sealed record ReportView(string Title, string Language, string Style, string Html, int PageCount, IReadOnlyList<Origin> Origins)
{
    /// <summary>Lays a report out once, for the view and for the document.</summary>
    /// <exception cref="ReportException">The report has errors.</exception>
    public static (ReportView View, PackageBuilder Package) Make(ReportContent report, List<Diagnostic> diagnostics)
    {
        var laid = ReportFile.LayOut(report, diagnostics);
        return (Of(laid), PackageWriter.Write(laid.Document, laid.Pages, laid.House, diagnostics));
    }

    /// <summary>The view of a report that is laid out.</summary>
    public static ReportView Of(LaidReport laid)
    {
        var galley = laid.Document.Flow;
        var html = new StringBuilder();
        var view = new PageView(laid.Pages);
        var body = new PageBody(laid, galley, html, view);
        foreach (var (index, section) in galley.Sections.Index())
        {
            if (index == 0 || !section.IsContinuous)
            {
                if (index > 0) html.Append("</div>\n");
                var page = section.Page;
                html.Append(CultureInfo.InvariantCulture, $"<div class=\"sheet\" style=\"--width:{page.Width.Points:0.#}pt;--left:{page.Left.Points:0.#}pt;--right:{page.Right.Points:0.#}pt;--height:{page.Height.Points:0.#}pt\">\n");
                if (index == 0) body.WriteHeader();
                if (index == 0) foreach (var (_, slot) in galley.SlotBlocks) body.WriteAll(slot.Blocks);
            }
            if (section.Columns.Length > 1) html.Append(CultureInfo.InvariantCulture, $"<div style=\"column-count:{section.Columns.Length}\">");
            body.WriteAll(section.Blocks);
            if (section.Columns.Length > 1) html.Append("</div>\n");
        }
        body.WriteNotes();
        html.Append("</div>\n");
        var properties = galley.Properties;
        return new ReportView(properties.Title, properties.Language, PageLook.OfPages(laid.House), html.ToString(), laid.Pages.Count, view.Origins);
    }
}
