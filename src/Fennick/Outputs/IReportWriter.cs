using Fennick.Diagnostics;
using Fennick.Documents;

namespace Fennick.Outputs;

/// <summary>Writes reports in a form of its own: a page for the browser, plain text, or a form of yours.</summary>
public interface IReportWriter
{
    /// <summary>What it is called in settings and on the command line, such as <c>page</c>.</summary>
    string Name { get; }

    /// <summary>The ending of its files, such as <c>.html</c>.</summary>
    string Extension { get; }

    /// <summary>Writes a report.</summary>
    /// <param name="report">What it says.</param>
    /// <param name="target">Where to; it stays open.</param>
    /// <returns>What deserves attention.</returns>
    /// <exception cref="ReportException">The report has errors, or what this form needs is not there.</exception>
    IReadOnlyList<Diagnostic> Write(ReportContent report, Stream target);
}
