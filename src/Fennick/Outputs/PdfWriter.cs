using System.Text;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Wordprocessing;

namespace Fennick.Outputs;

/// <summary>Makes a PDF of the document, by the word processor that is installed.</summary>
internal sealed partial class PdfWriter : IReportWriter
{
    public string Name => "pdf";

    public string Extension => ".pdf";

    public IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(target);
        var diagnostics = new List<Diagnostic>();
        using var folder = new WorkFolder();
        var document = Path.Combine(folder.Path, "report.docx");
        var laid = ReportFile.LayOut(report, diagnostics);
        using (var package = PackageWriter.Write(laid.Document, laid.Pages, laid.House, diagnostics))
        using (var file = File.Create(document)) package.WriteTo(file);
        ReportException.ThrowIfAny(PdfConverter.Convert([document], folder.Path).Values);
        var made = File.ReadAllBytes(PdfConverter.PathOf(document, folder.Path));
        diagnostics.AddRange(CheckPages(made, laid.Pages.Count));
        target.Write(made);
        return diagnostics;
    }

    /// <summary>Tells if a PDF has other pages than its document.</summary>
    /// <param name="pdf">The PDF.</param>
    /// <param name="expected">How many pages the document has.</param>
    public static IEnumerable<Diagnostic> CheckPages(byte[] pdf, int expected)
    {
        if (PagesOf(pdf) is var pages && pages > 0 && pages != expected)
            yield return Diagnostic.Warning(null, $"the PDF has {pages} pages, and the document's page numbers are those of {expected}", "look at the numbers of pages in it, or have the word processor renew the contents");
    }

    /// <summary>How many pages a PDF has (ISO 32000-1, 7.7.3).</summary>
    private static int PagesOf(byte[] pdf) => Page().Count(Encoding.Latin1.GetString(pdf));

    [GeneratedRegex(@"/Type\s*/Page\b(?!s)")]
    private static partial Regex Page();
}
