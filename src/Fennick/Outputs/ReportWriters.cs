using System.Collections.Immutable;

namespace Fennick.Outputs;

/// <summary>The forms in which a report can be written beside its document.</summary>
public static class ReportWriters
{
    /// <summary>A page for the browser, in one HTML file that needs nothing else.</summary>
    public static IReportWriter Page { get; } = new PageWriter();

    /// <summary>Plain text, for mail and terminals.</summary>
    public static IReportWriter Text { get; } = new TextWriter();

    /// <summary>A PDF, made of the document by the word processor that is installed.</summary>
    public static IReportWriter Pdf { get; } = new PdfWriter();

    /// <summary>All of them.</summary>
    public static ImmutableArray<IReportWriter> All { get; } = [Page, Pdf, Text];
}
