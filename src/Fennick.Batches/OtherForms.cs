using System.Collections.Immutable;
using System.IO.Compression;
using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Outputs;

namespace Fennick.Batches;

/// <summary>A form of a unit's report that is complete but not in its place.</summary>
/// <param name="Extension">The ending of its file.</param>
/// <param name="Staged">The file.</param>
/// <param name="Hash">Its hash.</param>
internal sealed record PreparedForm(string Extension, StagedFile Staged, string Hash);

/// <summary>The forms of units' reports beside their documents: most are written with each document, PDFs by the word processor when all documents are there.</summary>
/// <param name="writers">The forms.</param>
/// <param name="folder">The folder of the batch.</param>
internal sealed class OtherForms(ImmutableArray<IReportWriter> writers, string folder)
{
    private static readonly string Pdf = ReportWriters.Pdf.Extension;

    /// <summary>Those that are written with each document.</summary>
    public ImmutableArray<IReportWriter> Written { get; } = [.. writers.Where(w => w != ReportWriters.Pdf)];

    /// <summary>Whether PDFs are made of the documents.</summary>
    public bool HasPdf { get; } = writers.Contains(ReportWriters.Pdf);

    /// <summary>All files of a unit beside its document.</summary>
    public IEnumerable<string> PathsOf(BatchUnit unit) => writers.Select(w => Path.Combine(folder, Path.ChangeExtension(unit.File, w.Extension)));

    /// <summary>The files beside a unit's document that its ledger tells of, relative to the folder.</summary>
    public static IEnumerable<string> FilesOf(LedgerLine done) => (done.Also ?? ImmutableSortedDictionary<string, string>.Empty).Keys.Select(ending => Path.ChangeExtension(done.Unit!, ending));

    /// <summary>Whether all forms are there that are written with a document.</summary>
    public bool AreWritten(BatchUnit unit, LedgerLine done) => Written.All(w => IsThere(unit, done, w.Extension));

    /// <summary>Whether a PDF is wanted that is not there.</summary>
    public bool LacksPdf(BatchUnit unit, LedgerLine done) => HasPdf && !IsThere(unit, done, Pdf);

    /// <summary>What is told of files beside a document that are of an older one, as nobody asked for them this time.</summary>
    public IEnumerable<Diagnostic> Stale(BatchUnit unit, LedgerLine? before) =>
        before is null ? [] : FilesOf(before).Select(f => Path.Combine(folder, f)).Except(PathsOf(unit)).Where(File.Exists)
            .Select(f => new Diagnostic(Severity.Advice, new SourcePlace(f, 0, 0), "this file is of an older document than the one beside it", "ask for it again with `--also`, or remove it"));

    /// <summary>Makes PDFs of documents.</summary>
    /// <param name="documents">The documents.</param>
    /// <param name="made">Is told of how many are there.</param>
    /// <param name="take">Takes each PDF, with what deserves attention.</param>
    /// <param name="stop">Ends it; those that are there are taken.</param>
    /// <returns>The documents that there is no PDF of, and why.</returns>
    public static IReadOnlyDictionary<string, Diagnostic> MakePdfs(IReadOnlyList<string> documents, Action<int> made, Action<string, byte[], IEnumerable<Diagnostic>> take, CancellationToken stop)
    {
        // Documents of several folders may have one name.
        using var work = new WorkFolder();
        var sources = documents.Select((d, i) => (Document: d, Source: Path.Combine(work.Path, $"{i}.docx"))).ToDictionary(p => p.Source, p => p.Document);
        foreach (var (source, document) in sources) File.Copy(document, source);
        var faults = PdfConverter.Convert([.. sources.Keys], work.Path, made, stop);
        foreach (var (source, document) in sources.Where(s => File.Exists(PdfConverter.PathOf(s.Key, work.Path))))
        {
            var pdf = File.ReadAllBytes(PdfConverter.PathOf(source, work.Path));
            take(document, pdf, Seal.IsIntact(source) && PagesOf(source) is { } pages ? PdfWriter.CheckPages(pdf, pages) : []);
        }
        return faults.ToDictionary(f => sources[f.Key], f => f.Value);
    }

    /// <summary>How many pages a document says that it has.</summary>
    private static int? PagesOf(string document)
    {
        using var package = ZipFile.OpenRead(document);
        if (package.GetEntry("docProps/app.xml") is not { } entry) return null;
        using var stream = entry.Open();
        return (int?)XDocument.Load(stream).Root!.Elements().FirstOrDefault(e => e.Name.LocalName == "Pages");
    }

    private bool IsThere(BatchUnit unit, LedgerLine done, string ending) => (done.Also?.ContainsKey(ending) ?? false) && File.Exists(Path.Combine(folder, Path.ChangeExtension(unit.File, ending)));
}
