using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Layout;
using Fennick.Wordprocessing;

namespace Fennick;

/// <summary>Takes a report through the whole pipeline into a file.</summary>
internal static class ReportFile
{
    /// <summary>Makes the package and puts it in place.</summary>
    /// <exception cref="ReportException">The report has errors, or the file cannot be written; an old file stays as it was.</exception>
    /// <param name="report">The report.</param>
    /// <param name="path">Its file.</param>
    /// <param name="placing">Is told of the package before it is put in place.</param>
    public static IReadOnlyList<Diagnostic> Save(ReportContent report, string path, Action<PackageBuilder>? placing = null)
    {
        var full = Path.GetFullPath(path);
        var diagnostics = new List<Diagnostic>();
        using var package = Make(report, diagnostics);
        placing?.Invoke(package);
        Put(package, full, diagnostics);
        if (LockFile(full) is { } lockFile)
            diagnostics.Add(Diagnostic.Warning(new SourcePlace(full, 0, 0), $"the document is open in a word processor ({Path.GetFileName(lockFile)})", "close it there without saving and open it again to see the new one"));
        return diagnostics;
    }

    /// <summary>Puts a package in place.</summary>
    internal static void Put(PackageBuilder package, string full, IEnumerable<Diagnostic>? diagnostics = null)
    {
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(full)!);
            package.WriteTo(full);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([.. diagnostics ?? [], Diagnostic.Error(new SourcePlace(full, 0, 0), $"the document cannot be written here: {Reason(problem)}", "choose another place with `--out`, or free this one")], problem);
        }
    }

    /// <summary>Numbers, lowers, fits, paginates and writes the report into a package.</summary>
    internal static PackageBuilder Make(ReportContent report, List<Diagnostic> diagnostics)
    {
        var house = report.House.Dress(report.Language);
        diagnostics.AddRange(house.Diagnostics);
        if (!report.Language.HasOwnWords)
            diagnostics.Add(Diagnostic.Warning(null, $"the words of captions are English, for `{report.Language.Tag}` has none yet"));
        var numbering = Numberer.Number(report);
        diagnostics.AddRange(numbering.Diagnostics);
        if (house.Design.HeadingLevels.IsEmpty && LayoutsOf(report.Blocks).Prepend(report.Page).Select(l => l.Numbers).FirstOrDefault(n => n?.ByChapter is not null) is { } numbers)
            diagnostics.Add(Diagnostic.Error(numbers.Place, "pages are numbered by chapter, but headings have no numbers", "write `headings.numbered: yes`, or `House = house with { NumbersHeadings = true }`"));
        ReportException.ThrowIfAny(diagnostics);
        diagnostics.AddRange(WarningsOf(report.Blocks));
        var fitted = Fitting.Fit(Lowering.Lower(report, numbering, house), house);
        diagnostics.AddRange(fitted.Diagnostics);
        if (fitted.Flow.LeftOut > 0) diagnostics.Add(Diagnostic.Warning(house.Place, $"the report has {fitted.Flow.LeftOut} blocks that the house has no slot for; they are left out", "add a slot `body` to the house, or label what is to be placed"));
        return PackageWriter.Write(fitted, Pagination.Paginate(fitted, house), house, diagnostics);
    }

    private static IEnumerable<PageLayout> LayoutsOf(IEnumerable<Block> blocks) => blocks.OfType<Pages>().SelectMany(p => LayoutsOf(p.Blocks).Prepend(p.Layout));

    /// <summary>What the makers of tables want to be known.</summary>
    private static IEnumerable<Diagnostic> WarningsOf(IEnumerable<Block> blocks) => blocks.SelectMany(block => block switch
    {
        TableBlock table => TableWarnings(table),
        Quotation quotation => WarningsOf(quotation.Blocks),
        Landscape landscape => WarningsOf(landscape.Blocks),
        InSlot slot => WarningsOf(slot.Blocks),
        Pages pages => WarningsOf(pages.Blocks),
        SideBySide columns => columns.Columns.SelectMany(c => WarningsOf(c)),
        ListBlock list => list.Items.SelectMany(i => WarningsOf(i)),
        _ => [],
    });

    private static IEnumerable<Diagnostic> TableWarnings(TableBlock block)
    {
        foreach (var warning in block.Table.Warnings) yield return Diagnostic.Warning(block.Place, warning);
        if (block.Table.Rows.Count == 0) yield return Diagnostic.Warning(block.Place, "the table has no rows", "check the records it is made from");
    }

    /// <summary>Why a file cannot be written, in the user's words.</summary>
    internal static string Reason(Exception problem) => problem switch
    {
        UnauthorizedAccessException => "permission denied",
        DirectoryNotFoundException => "there is no such folder",
        _ => problem.Message.TrimEnd('.'),
    };

    /// <summary>The lock that a word processor leaves beside an open document.</summary>
    private static string? LockFile(string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        var name = Path.GetFileName(path);
        // In a long name the first one or two characters give way to the mark.
        string[] candidates = [$"~${name}", $"~${name[Math.Min(1, name.Length)..]}", $"~${name[Math.Min(2, name.Length)..]}", $".~lock.{name}#"];
        return candidates.Select(c => Path.Combine(folder, c)).FirstOrDefault(File.Exists);
    }
}
