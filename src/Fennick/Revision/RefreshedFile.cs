using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Records;
using Fennick.Wordprocessing;

namespace Fennick.Revision;

/// <summary>A document of people's, brought up to date.</summary>
internal static class RefreshedFile
{
    /// <summary>Merges a document that people have edited with what the manuscript gives now.</summary>
    /// <param name="path">The full path of theirs.</param>
    /// <param name="fresh">What the manuscript gives now.</param>
    /// <param name="date">The date of comments and tracked changes.</param>
    /// <param name="options">How.</param>
    /// <exception cref="ReportException">The document cannot be read, or remembers nothing of how it was made.</exception>
    public static (RefreshResult Result, PackageBuilder Package) Merge(string path, PackageBuilder fresh, DateOnly? date, RefreshOptions options) => Merge(path, () => Read(fresh, path), date, options);

    private static (RefreshResult Result, PackageBuilder Package) Merge(string path, Func<WordDocument> fresh, DateOnly? date, RefreshOptions options)
    {
        var theirs = Read(path);
        _ = RecordOf(theirs);
        return (Refresher.Refresh(theirs, fresh(), options, date), theirs.Write(date));
    }

    /// <summary>What a document remembers.</summary>
    /// <exception cref="ReportException">It remembers nothing.</exception>
    public static DocumentRecord RecordOf(WordDocument document) => document.Record ?? throw (document.RecordProblem is { } problem ? document.Error($"what the document remembers of how it was made cannot be read: {problem}", "write it anew with `fennick write --anew`; the edited one is kept beside it")
        : document.Error("the document remembers nothing of how it was made: Fennick did not write it, or it was written with `living: no`, or another program has left that out", "write the report anew with `fennick write --anew`; the edited document is kept beside it"));

    /// <summary>Refreshes the document in a place if people have edited it since it was made.</summary>
    /// <param name="package">What the manuscript gives now.</param>
    /// <param name="full">The full path of the place.</param>
    /// <param name="date">The date of comments.</param>
    /// <param name="diagnostics">Takes what was done.</param>
    /// <returns>False if nothing is there to refresh, or what is there remembers nothing.</returns>
    public static bool Put(PackageBuilder package, string full, DateOnly? date, List<Diagnostic> diagnostics) => File.Exists(full) && !Seal.IsIntact(full) && Put(() => Read(package, full), full, date, diagnostics) is not null;

    /// <summary>Refreshes a document that people have edited with what has just been made, and keeps the old one under another name.</summary>
    /// <param name="fresh">Gives what has been made.</param>
    /// <param name="full">The full path of theirs.</param>
    /// <param name="date">The date of comments.</param>
    /// <param name="diagnostics">Takes what was done, or why it cannot be done.</param>
    /// <returns>What was done; null if it cannot be done.</returns>
    public static RefreshResult? Put(Func<WordDocument> fresh, string full, DateOnly? date, List<Diagnostic> diagnostics)
    {
        RefreshResult result;
        PackageBuilder merged;
        try
        {
            (result, merged) = Merge(full, fresh, date, new RefreshOptions());
        }
        catch (ReportException problem)
        {
            diagnostics.AddRange(problem.Diagnostics.Select(d => d with { Severity = Severity.Warning, Suggestion = "it is put aside, and the report is written anew" }));
            return null;
        }
        using (merged)
        {
            var kept = Destination.Keep(full);
            ReportFile.Put(merged, full, diagnostics, isEdited: false);
            diagnostics.AddRange(Tell(result, full, kept));
        }
        return result;
    }

    /// <summary>What is said of a document that was refreshed.</summary>
    public static IEnumerable<Diagnostic> Tell(RefreshResult result, string path, string kept)
    {
        var place = new SourcePlace(path, 0, 0);
        yield return Diagnostic.Warning(place, $"people have edited the document, so it was refreshed and not written anew: {result.Summary}", $"the old one is kept as {kept}; `--anew` writes the report from scratch");
        foreach (var remark in result.Remarks) yield return Diagnostic.Warning(place, remark);
        foreach (var change in result.Changes.Where(c => c.NeedsYou)) yield return Diagnostic.Warning(change.Place ?? place, change.ToString());
    }

    /// <summary>Reads a document that has just been made.</summary>
    /// <param name="package">The document.</param>
    /// <param name="path">The file that it is for.</param>
    /// <exception cref="ReportException">It remembers nothing of how it was made.</exception>
    public static WordDocument Read(PackageBuilder package, string path)
    {
        using var memory = new PooledBuffer();
        package.WriteTo(memory);
        var made = WordDocument.Read(memory.WrittenSpan.ToArray(), new SourcePlace(path, 0, 0));
        return made.Record is not null ? made : throw made.Error("the report is no living document any more, so that nothing tells what in it is what", "take `living: no` out of the settings");
    }

    /// <summary>Reads a document from its file.</summary>
    /// <exception cref="ReportException">It cannot be read.</exception>
    public static WordDocument Read(string path)
    {
        var place = new SourcePlace(path, 0, 0);
        try
        {
            return WordDocument.Read(File.ReadAllBytes(path), place);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(place, problem is FileNotFoundException or DirectoryNotFoundException ? "there is no such document" : $"the document cannot be read: {FileProblem.Reason(problem)}", "name a `.docx` file")], problem);
        }
    }
}
