using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;

namespace Fennick;

/// <summary>Writes reports that are built, into files and streams.</summary>
public static class ReportOutput
{
    extension(ReportContent content)
    {
        /// <summary>Writes the report as a <c>.docx</c> file, as <see cref="Report.Save"/> does.</summary>
        /// <param name="path">Where to; relative to the current folder.</param>
        /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
        /// <returns>What deserves attention.</returns>
        /// <exception cref="ReportException">The report has errors, it would be written over a file that it is made from, or the file cannot be written; an old file stays as it was.</exception>
        public IReadOnlyList<Diagnostic> Save(string path, bool force = false) => ReportFile.Save(content, path, force: force);

        /// <summary>Lays the report out and writes nothing.</summary>
        /// <returns>How it fills its pages.</returns>
        /// <exception cref="ReportException">The report has errors.</exception>
        public ReportPages LayOut()
        {
            var (pages, document, _) = ReportFile.LayOut(content, []);
            var shares = pages.Fill.Select(f => 1 - f.Share).ToArray();
            return new ReportPages(pages.Count, shares.Length == 0 ? 0 : shares.Average(), [.. document.Remedies.Select(r => r.ToString())]);
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
