using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Outputs;

/// <summary>Puts reports into files, in the form that their names say.</summary>
internal static class OutputFile
{
    /// <summary>Saves a report in the form of its name's ending.</summary>
    public static IReadOnlyList<Diagnostic> Save(ReportContent report, string path, bool force)
    {
        ArgumentNullException.ThrowIfNull(path);
        return ReportWriters.All.FirstOrDefault(w => path.EndsWith(w.Extension, StringComparison.OrdinalIgnoreCase)) is { } writer ? Save(report, path, writer, [], force) : ReportFile.Save(report, path, force: force);
    }

    /// <summary>Saves a report in a form: beside its place first, then renamed.</summary>
    /// <param name="report">The report.</param>
    /// <param name="path">Its file.</param>
    /// <param name="writer">The form.</param>
    /// <param name="inputs">What it is made from, beside its house and what the current flow of execution has read.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    public static IReadOnlyList<Diagnostic> Save(ReportContent report, string path, IReportWriter writer, IEnumerable<string> inputs, bool force)
    {
        ArgumentNullException.ThrowIfNull(writer);
        var full = RunContext.FullPath(path);
        Destination.Check(full, [.. inputs, .. FilesRead.SoFar, .. ReportFile.HouseOf(report)], force);
        var diagnostics = new List<Diagnostic>();
        ReportFile.Writing(full, diagnostics, () =>
        {
            Directory.CreateDirectory(Path.GetDirectoryName(full)!);
            StagedFile.RemoveLeftOvers(Path.GetDirectoryName(full)!, name => name == Path.GetFileName(full));
            using var staged = StagedFile.Write(full, stream => diagnostics.AddRange(writer.Write(report, stream)));
            staged.Place();
        });
        WatchedProgram.Show(report, full, diagnostics);
        return diagnostics;
    }
}
