using System.Runtime.CompilerServices;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Layout;
using Fennick.Outputs;
using Fennick.Revision;
using Fennick.Running;
using Fennick.Wordprocessing;

namespace Fennick.Files;

/// <summary>Takes a report through the whole pipeline into a file.</summary>
internal static class ReportFile
{
    private static readonly ConditionalWeakTable<ReportContent, Laid> Known = [];

    /// <summary>Makes the package and puts it in place.</summary>
    /// <param name="report">The report.</param>
    /// <param name="path">Its file.</param>
    /// <param name="inputs">What it is made from, beside its house and what the current flow of execution has read.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    /// <param name="anew">Whether a document that people have edited is put aside and not refreshed.</param>
    /// <returns>What deserves attention.</returns>
    /// <exception cref="ReportException">The report has errors, it would be written over what it is made from, or the file cannot be written; an old file stays as it was.</exception>
    public static IReadOnlyList<Diagnostic> Save(ReportContent report, string path, IEnumerable<string>? inputs = null, bool force = false, bool anew = false)
    {
        CheckName(path);
        var full = RunContext.FullPath(path);
        Destination.Check(full, [.. inputs ?? [], .. FilesRead.SoFar, .. HouseOf(report)], force);
        var diagnostics = new List<Diagnostic>();
        using var package = Make(report, diagnostics);
        if (anew || !RefreshedFile.Put(package, full, report.Date, diagnostics)) Put(package, full, diagnostics);
        diagnostics.AddRange(FilesRead.TakeTold());
        WatchedProgram.Show(report, full, diagnostics);
        return diagnostics;
    }

    /// <summary>Refuses a name that is not that of a word-processor document.</summary>
    /// <exception cref="ReportException">It is not.</exception>
    internal static void CheckName(string path)
    {
        if (path.EndsWith(".docx", StringComparison.OrdinalIgnoreCase)) return;
        var ending = Path.GetExtension(path).ToLowerInvariant();
        var name = ending is ".pdf" or ".doc" or ".dotx" or ".docm" or ".odt" or ".rtf" or ".html" or ".htm" or ".md" or ".txt" ? Path.ChangeExtension(path, ".docx") : $"{path}.docx";
        var form = ending switch { ".pdf" => "pdf", ".html" or ".htm" => "page", ".txt" => "text", _ => null };
        throw new ReportException(Diagnostic.Error(new SourcePlace(path, 0, 0), "a report's name ends in `.docx`", $"write `{name}`{(form is null ? "" : $", and `outputs: {form}` in the settings, or `--also {form}`, for the other form beside it")}"));
    }

    /// <summary>Puts a package in place; a document that people have worked on is kept under another name.</summary>
    /// <param name="package">The package.</param>
    /// <param name="full">The full path of its file.</param>
    /// <param name="diagnostics">Takes what deserves attention; what is there is told if the file cannot be written.</param>
    /// <param name="isEdited">Whether somebody has worked on the one that is there; if null, that one is asked.</param>
    internal static void Put(PackageBuilder package, string full, List<Diagnostic> diagnostics, bool? isEdited = null) => Writing(full, diagnostics, () =>
    {
        StagedFile.RemoveLeftOvers(Path.GetDirectoryName(full)!, name => name == Path.GetFileName(full));
        using var staged = Stage(package, full);
        Place(staged, full, diagnostics, isEdited);
    });

    /// <summary>Writes a package beside its place.</summary>
    internal static StagedFile Stage(PackageBuilder package, string full)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(full)!);
        return StagedFile.Write(full, package.WriteTo);
    }

    /// <summary>Puts what was written beside it in place.</summary>
    /// <param name="staged">The document.</param>
    /// <param name="full">Its full path.</param>
    /// <param name="diagnostics">Takes what deserves attention.</param>
    /// <param name="isEdited">Whether somebody has worked on the one that is there; if null, that one is asked.</param>
    internal static void Place(StagedFile staged, string full, List<Diagnostic> diagnostics, bool? isEdited = null)
    {
        if (File.Exists(full) && (isEdited ?? !Seal.IsIntact(full)) && Destination.Keep(full) is var kept) diagnostics.Add(Destination.Tell(full, kept));
        staged.Place();
        if (LockFile(full) is { } lockFile)
            diagnostics.Add(Diagnostic.Warning(new SourcePlace(full, 0, 0), $"the document is open in a word processor ({Path.GetFileName(lockFile)})", "close it there without saving and open it again to see the new one"));
    }

    /// <summary>Does something that writes a document; what the system says against it is told in the user's words.</summary>
    internal static void Writing(string full, IEnumerable<Diagnostic> diagnostics, Action write)
    {
        try
        {
            write();
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([.. diagnostics, Diagnostic.Error(new SourcePlace(full, 0, 0), $"the document cannot be written here: {FileProblem.Reason(problem)}", "choose another place with `--out`, or free this one")], problem);
        }
    }

    /// <summary>The file of a report's house, if it is one.</summary>
    internal static IEnumerable<string> HouseOf(ReportContent report) => report.House.File is { Path: { } house } ? [house] : [];

    /// <summary>Numbers, lowers, fits, paginates and writes the report into a package.</summary>
    internal static PackageBuilder Make(ReportContent report, List<Diagnostic> diagnostics)
    {
        var laid = LayOut(report, diagnostics);
        return PackageWriter.Write(laid.Document, laid.Pages, laid.House, diagnostics);
    }

    /// <summary>All of that but the writing; of a report that is written in several forms once.</summary>
    internal static LaidReport LayOut(ReportContent report, List<Diagnostic> diagnostics)
    {
        if (Known.TryGetValue(report, out var known))
        {
            diagnostics.AddRange(known.Told);
            return known.Report;
        }
        var before = diagnostics.Count;
        var laid = LayOutAnew(report, diagnostics);
        Known.AddOrUpdate(report, new Laid(laid, [.. diagnostics.Skip(before)]));
        return laid;
    }

    private static LaidReport LayOutAnew(ReportContent report, List<Diagnostic> diagnostics)
    {
        var house = report.House.Dress(report.Language);
        diagnostics.AddRange(house.Diagnostics);
        if (!report.Language.HasOwnWords)
            diagnostics.Add(Diagnostic.Warning(null, $"the words of captions are English, for `{report.Language.Tag}` has none yet"));
        var numbering = Numberer.Number(report, hasContents: house.BlockSlots.ContainsKey("contents"));
        diagnostics.AddRange(numbering.Diagnostics);
        if (house.Design.HeadingLevels.IsEmpty && LayoutsOf(report.Blocks).Prepend(report.Page).Select(l => l.Numbers).FirstOrDefault(n => n?.ByChapter is not null) is { } numbers)
            diagnostics.Add(Diagnostic.Error(numbers.Place, "pages are numbered by chapter, but headings have no numbers", "write `headings.numbered: yes`, or `House = house with { NumbersHeadings = true }`"));
        if (LayoutsOf(report.Blocks).Prepend(report.Page).Any(l => house.Page.With(report.Page).With(l).IsNarrowed))
            diagnostics.Add(Diagnostic.Warning(null, "the margins leave no room for text, so they are narrower than was asked for", "make them smaller, or the paper larger"));
        // What strict reports must not lack is an error in them.
        diagnostics.AddRange(Accessibility.Find(report).Select(d => report.Settings.IsStrict ? d with { Severity = Severity.Error } : d));
        ReportException.ThrowIfAny(diagnostics);
        diagnostics.AddRange(Block.Within(report.Blocks).OfType<TableBlock>().SelectMany(TableWarnings));
        diagnostics.AddRange(Block.Within(report.Blocks).OfType<FigureBlock>().SelectMany(f => f.Charts.SelectMany(c => ChartCheck.Find(c, report.Language)).Distinct().Select(r => r with { Place = f.Place })));
        var galley = Lowering.Lower(report, numbering, house);
        var fitted = Fitting.Fit(galley, house);
        diagnostics.AddRange(fitted.Diagnostics);
        if (fitted.Flow.LeftOut > 0) diagnostics.Add(Diagnostic.Warning(house.Place, $"the report has {fitted.Flow.LeftOut} blocks that the house has no slot for; they are left out", "add a slot `body` to the house, or label what is to be placed"));
        var (pages, filled) = Pagination.Paginate(fitted, house);
        return new LaidReport(galley, pages, filled, house);
    }

    private static IEnumerable<PageLayout> LayoutsOf(IEnumerable<Block> blocks) => blocks.OfType<Pages>().SelectMany(p => LayoutsOf(p.Blocks).Prepend(p.Layout));

    /// <summary>What the makers of tables want to be known.</summary>
    private static IEnumerable<Diagnostic> TableWarnings(TableBlock block)
    {
        foreach (var warning in block.Table.Warnings) yield return Diagnostic.Warning(block.Place, warning);
        if (block.Table.Rows.Count == 0) yield return Diagnostic.Warning(block.Place, "the table has no rows", "check the records it is made from");
    }

    /// <summary>The lock that a word processor leaves beside an open document.</summary>
    private static string? LockFile(string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        var name = Path.GetFileName(path);
        // In a long name the first one or two characters give way to the mark.
        string[] candidates = [$"~${name}", $"~${name[Math.Min(1, name.Length)..]}", $"~${name[Math.Min(2, name.Length)..]}", $".~lock.{name}#"];
        return candidates.Select(c => Path.Combine(folder, c)).FirstOrDefault(File.Exists);
    }

    /// <summary>A report that was laid out, and what was told of it.</summary>
    private sealed record Laid(LaidReport Report, IReadOnlyList<Diagnostic> Told);
}
