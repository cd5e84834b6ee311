using System.Net;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;

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
        target.Write(Encoding.UTF8.GetBytes(Write(ReportFile.LayOut(report, diagnostics))));
        return diagnostics;
    }

    private static string Write(LaidReport laid)
    {
        var html = new StringBuilder();
        var (galley, language) = (laid.Galley, laid.House.Language);
        var properties = galley.Properties;
        html.Append("<!doctype html>\n<html lang=\"").Append(WebUtility.HtmlEncode(properties.Language)).Append('"').Append(language.IsRightToLeft ? " dir=\"rtl\"" : "").Append(">\n<head>\n<meta charset=\"utf-8\">\n<meta name=\"viewport\" content=\"width=device-width,initial-scale=1\">\n<title>")
            .Append(WebUtility.HtmlEncode(properties.Title.Length > 0 ? properties.Title : "Report")).Append("</title>\n");
        if (properties.Authors.Length > 0) html.Append("<meta name=\"author\" content=\"").Append(WebUtility.HtmlEncode(properties.JoinedAuthors)).Append("\">\n");
        html.Append("<style>\n").Append(PageLook.Of(laid.House)).Append("\n</style>\n</head>\n<body>\n<div class=\"sheet\">\n");
        var body = new PageBody(laid, galley, html, view: null);
        body.WriteHeader();
        html.Append("<main>\n");
        foreach (var (_, section) in galley.SlotBlocks) body.WriteAll(section.Blocks);
        foreach (var section in galley.Sections) body.WriteAll(section.Blocks);
        html.Append("</main>\n");
        body.WriteNotes();
        return html.Append("</div>\n</body>\n</html>\n").ToString();
    }
}
