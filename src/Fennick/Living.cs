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

    /// <summary>Says of what is printed in a document where it comes from: the expression, its place in the manuscript, and the files that were read, with whether they have changed since.</summary>
    /// <param name="document">The document; relative to the current folder.</param>
    /// <param name="what">A number or words as they are printed, or a label; everything if null.</param>
    /// <param name="folder">The folder of the manuscript, from which the files are looked for; the document's own if null.</param>
    /// <exception cref="ReportException">The document cannot be read, or remembers nothing of how it was made.</exception>
    public static TraceResult Trace(string document, string? what = null, string? folder = null)
    {
        ArgumentNullException.ThrowIfNull(document);
        var full = RunContext.FullPath(document);
        return Tracer.Trace(RefreshedFile.Read(full), folder is null ? Path.GetDirectoryName(full)! : RunContext.FullPath(folder), what);
    }

    /// <summary>Says what a manuscript no longer gives of what a document was written with, and what has changed since: data, code, the program.</summary>
    /// <param name="document">The document.</param>
    /// <param name="report">What the report is now.</param>
    /// <exception cref="ReportException">The document cannot be read, or remembers nothing of how it was made.</exception>
    public static VerifyResult Verify(string document, ReportContent report)
    {
        ArgumentNullException.ThrowIfNull(document);
        var before = RefreshedFile.RecordOf(RefreshedFile.Read(RunContext.FullPath(document)));
        using var package = ReportFile.Make(report, []);
        return Verification.Compare(before, RefreshedFile.Read(package, document));
    }

    /// <summary>Says how two documents differ, whoever wrote them: numbers, with by how much, words, rows and cells of tables, data of charts, pictures, what was added, removed or moved. Formatting is not compared. Tracked changes in them are taken for accepted.</summary>
    /// <param name="old">The older document; relative to the current folder.</param>
    /// <param name="now">The newer document.</param>
    /// <param name="over">Only numbers are listed that differ by more than this share of the older one, such as 0.05 for 5 %; everything if null.</param>
    /// <param name="output">Where to write the newer document with all differences as tracked changes, whatever is listed; nowhere if null.</param>
    /// <exception cref="ReportException">A document cannot be read, or the one with tracked changes cannot be written.</exception>
    public static CompareResult Compare(string old, string now, double? over = null, string? output = null)
    {
        ArgumentNullException.ThrowIfNull(old);
        ArgumentNullException.ThrowIfNull(now);
        if (over is < 0 || over is { } share && !double.IsFinite(share)) throw new ArgumentOutOfRangeException(nameof(over), "the share must be zero or more");
        var (older, newer) = (RunContext.FullPath(old), RunContext.FullPath(now));
        if (output is not null)
        {
            ReportFile.CheckName(output);
            Destination.Check(RunContext.FullPath(output), [older, newer], force: false);
        }
        var read = InParallel.Select([older, newer], RefreshedFile.Read);
        var comparer = Comparer.Of(read[0], read[1]);
        var result = comparer.List(over);
        if (output is null) return result;
        comparer.New.Document.BecomeDocument();
        ComparedDocument.Mark(comparer);
        var diagnostics = new List<Diagnostic>();
        using var package = comparer.New.Document.Write(null, isSealed: true);
        ReportFile.Put(package, RunContext.FullPath(output), diagnostics);
        return result with { Remarks = [.. result.Remarks, .. diagnostics.Select(Told)] };
    }

    /// <summary>Makes one document of several finished ones, whoever wrote them: each begins on a page of its own, with its headers, styles, lists, notes, comments, charts and pictures. Captions, notes and pages are counted through unless they are to begin anew, and references follow.</summary>
    /// <param name="documents">The documents in their order, two at least; relative to the current folder.</param>
    /// <param name="output">The file to write.</param>
    /// <param name="options">How; each keeps its headers and all is counted through if null.</param>
    /// <returns>What deserves to be known, such as page numbers that a word processor has to renew.</returns>
    /// <exception cref="ReportException">A document cannot be read, or the joined one cannot be written.</exception>
    public static IReadOnlyList<string> Join(IEnumerable<string> documents, string output, JoinOptions? options = null)
    {
        ArgumentNullException.ThrowIfNull(documents);
        ArgumentNullException.ThrowIfNull(output);
        string[] paths = [.. documents.Select(RunContext.FullPath)];
        if (paths.Length < 2) throw new ArgumentException("two documents are needed at least", nameof(documents));
        options ??= new JoinOptions();
        if (options.HeadersOf is { } number && (number < 1 || number > paths.Length)) throw new ArgumentOutOfRangeException(nameof(options), $"there is no document {number}; there are {paths.Length}");
        ReportFile.CheckName(output);
        var full = RunContext.FullPath(output);
        Destination.Check(full, paths, force: false);
        var read = InParallel.Select(paths, RefreshedFile.Read);
        read[0].BecomeDocument();
        var remarks = JoinedDocument.Join(read, options);
        var diagnostics = new List<Diagnostic>();
        using var package = read[0].Write(null, isSealed: true);
        ReportFile.Put(package, full, diagnostics);
        return [.. remarks, .. diagnostics.Select(Told)];
    }

    private static string Told(Diagnostic diagnostic) => diagnostic.Message + (diagnostic.Suggestion is { } suggestion ? $"; {suggestion}" : "");

    /// <summary>Writes the manuscript out that a document holds, with what it includes and its scripts.</summary>
    /// <param name="document">The document.</param>
    /// <param name="folder">Where to; it is made if it is not there.</param>
    /// <returns>The full paths of the files, the manuscript first.</returns>
    /// <exception cref="ReportException">The document cannot be read or holds no manuscript, or a file of another content is there.</exception>
    public static IReadOnlyList<string> Unpack(string document, string folder)
    {
        ArgumentNullException.ThrowIfNull(document);
        ArgumentNullException.ThrowIfNull(folder);
        var made = RefreshedFile.RecordOf(RefreshedFile.Read(RunContext.FullPath(document))).Making;
        if (made.Sources.IsEmpty) throw new ReportException(Diagnostic.Error(new SourcePlace(document, 0, 0), "the document does not hold its manuscript", "write it with `source: embedded` in the settings"));
        return SourceFolder.Write(made.Sources, RunContext.FullPath(folder));
    }
}
