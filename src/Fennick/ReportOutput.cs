using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Outputs;

namespace Fennick;

/// <summary>Writes reports that are built, into files and streams.</summary>
public static class ReportOutput
{
    extension(ReportContent content)
    {
        /// <summary>Writes the report as a <c>.docx</c> file, or in the form of another ending, as <see cref="Report.Save(string, bool)"/> does.</summary>
        /// <param name="path">Where to; relative to the current folder.</param>
        /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The report has errors, it would be written over a file that it is made from, or the file cannot be written; an old file stays as it was.</exception>
        public IReadOnlyList<Diagnostic> Save(string path, bool force = false) => OutputFile.Save(content, path, force);

        /// <summary>Writes the report in a form of your own.</summary>
        /// <param name="path">Where to; relative to the current folder.</param>
        /// <param name="writer">What writes it.</param>
        /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The report has errors, it would be written over a file that it is made from, or the file cannot be written; an old file stays as it was.</exception>
        public IReadOnlyList<Diagnostic> Save(string path, IReportWriter writer, bool force = false) => OutputFile.Save(content, path, writer, [], force);

        /// <summary>Lays the report out and writes nothing.</summary>
        /// <returns>How it fills its pages.</returns>
        /// <exception cref="ReportException">The report has errors.</exception>
        public ReportPages LayOut()
        {
            var laid = ReportFile.LayOut(content, []);
            var shares = laid.Pages.Fill.Select(f => 1 - f.Share).ToArray();
            return new ReportPages(laid.Pages.Count, shares.Length == 0 ? 0 : shares.Average(), [.. laid.Document.Remedies.Select(r => r.ToString())]);
        }

        /// <summary>Writes the document into a stream, from where that stands.</summary>
        /// <param name="stream">A stream that can be written; it stays open, and need not seek.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The report has errors; nothing was written.</exception>
        public IReadOnlyList<Diagnostic> Write(Stream stream)
        {
            ArgumentNullException.ThrowIfNull(stream);
            var diagnostics = new List<Diagnostic>();
            using var package = ReportFile.Make(content, diagnostics);
            package.WriteTo(stream);
            return diagnostics;
        }

        /// <summary>Writes the document into a stream, from where that stands, without blocking a thread: for the answer of a web server.</summary>
        /// <param name="stream">A stream that can be written; it stays open, and need not seek.</param>
        /// <param name="stop">Ends the writing.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The report has errors; nothing was written.</exception>
        /// <exception cref="OperationCanceledException">The writing was ended; a part of the document may be written.</exception>
        public async Task<IReadOnlyList<Diagnostic>> WriteAsync(Stream stream, CancellationToken stop = default)
        {
            ArgumentNullException.ThrowIfNull(stream);
            stop.ThrowIfCancellationRequested();
            var diagnostics = new List<Diagnostic>();
            using var package = ReportFile.Make(content, diagnostics);
            await package.WriteToAsync(stream, stop).ConfigureAwait(false);
            return diagnostics;
        }
    }
}
