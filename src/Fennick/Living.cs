using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Revision;
using Fennick.Running;

namespace Fennick;

/// <summary>Documents that people have edited, and that live on: they are refreshed when the data change.</summary>
public static class Living
{
    /// <summary>Brings a document that people have edited up to date: values, tables, charts and words of the manuscript are new, what people did stays, and what both have changed is proposed beside theirs.</summary>
    /// <param name="edited">The document; a copy of it as it was is kept beside it.</param>
    /// <param name="report">What the report is now.</param>
    /// <param name="options">How; by comments if null.</param>
    /// <returns>What was done, and where the old document is kept.</returns>
    /// <exception cref="ReportException">The document cannot be read, remembers nothing of how it was made, or cannot be written; it is as it was.</exception>
    public static (RefreshResult Result, string Kept) Refresh(string edited, ReportContent report, RefreshOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(edited);
        var diagnostics = new List<Diagnostic>();
        using var package = ReportFile.Make(report, diagnostics);
        var full = RunContext.FullPath(edited);
        var (result, merged) = RefreshedFile.Merge(full, package, report.Date, options ?? new RefreshOptions());
        using (merged)
        {
            var kept = Destination.Keep(full);
            ReportFile.Writing(full, diagnostics, () =>
            {
                using var staged = ReportFile.Stage(merged, full);
                staged.Place();
            });
            return (result, kept);
        }
    }

    /// <summary>Tells what a refresh would do, and writes nothing.</summary>
    /// <param name="edited">The document.</param>
    /// <param name="report">What the report is now.</param>
    /// <param name="options">How; by comments if null.</param>
    /// <exception cref="ReportException">The document cannot be read, or remembers nothing of how it was made.</exception>
    public static RefreshResult Preview(string edited, ReportContent report, RefreshOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(edited);
        using var package = ReportFile.Make(report, []);
        var (result, merged) = RefreshedFile.Merge(RunContext.FullPath(edited), package, report.Date, options ?? new RefreshOptions());
        merged.Dispose();
        return result;
    }

    /// <summary>The manuscript that a document was made from: the file of its name in the document's folder.</summary>
    /// <param name="document">The document.</param>
    /// <exception cref="ReportException">The document cannot be read, remembers nothing of how it was made, or its manuscript is not there.</exception>
    public static string ManuscriptOf(string document)
    {
        ArgumentNullException.ThrowIfNull(document);
        var full = RunContext.FullPath(document);
        var made = RefreshedFile.RecordOf(RefreshedFile.Read(full)).Making;
        var place = new SourcePlace(document, 0, 0);
        if (made.Manuscript.Length == 0) throw new ReportException(Diagnostic.Error(place, "the document was made by a program, not from a manuscript", "let the program save it again: that refreshes it"));
        var manuscript = Path.Combine(Path.GetDirectoryName(document) ?? "", made.Manuscript);
        return File.Exists(manuscript) ? manuscript : throw new ReportException(Diagnostic.Error(place, $"its manuscript {made.Manuscript} is not in this folder", "name it: `--manuscript FILE`"));
    }

    /// <summary>The values of the parameters that a document was made with.</summary>
    internal static IEnumerable<KeyValuePair<string, string>> ParametersOf(string full) => RefreshedFile.RecordOf(RefreshedFile.Read(full)).Making.Parameters;
}
