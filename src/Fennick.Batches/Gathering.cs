using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>What came of putting the parts of a batch together.</summary>
/// <param name="Folder">The full path of the folder that holds all of it.</param>
/// <param name="Made">How many units there are.</param>
/// <param name="Missing">The units that no part has made, with what was wrong if a part tried.</param>
/// <param name="Twice">The units that more than one part has made; the latest document counts.</param>
public sealed record Gathered(string Folder, int Made, ImmutableArray<(string Unit, string? Error)> Missing, ImmutableArray<string> Twice);

/// <summary>Puts the parts of a batch together that many machines have made.</summary>
public static class Gathering
{
    /// <summary>Merges the ledgers of all parts, and copies documents that lie in other folders to the first one.</summary>
    /// <param name="folders">The folders of the parts; one of them if all have written into the same.</param>
    /// <exception cref="ReportException">A folder has no ledger, a batch is writing into the first, or it cannot be written.</exception>
    public static Gathered Gather(IReadOnlyList<string> folders)
    {
        ArgumentNullException.ThrowIfNull(folders);
        var full = folders.Select(RunContext.FullPath).Distinct().ToArray();
        foreach (var folder in full.Where(f => !Ledger.PathsIn(f).Any()))
            throw new ReportException(Diagnostic.Error(new SourcePlace(folder, -1, 0), "there is no ledger of a batch in this folder", Directory.Exists(folder) ? "name the folder that was given to `--into`" : "there is no such folder"));
        var into = full[0];
        var parts = full.SelectMany(folder => Ledger.PathsIn(folder).Select(path => (Folder: folder, Path: path, History: LedgerHistory.Read([path])))).ToArray();
        var expected = parts.Select(p => p.History.Batches.LastOrDefault()?.Units ?? []).SelectMany(u => u).Distinct().ToArray();
        var missing = ImmutableArray.CreateBuilder<(string, string?)>();
        var twice = ImmutableArray.CreateBuilder<string>();
        using var ledger = Ledger.Open(into, new RosterPart(1, 1));
        foreach (var unit in expected)
        {
            var tried = parts.Select(p => (p.Folder, History: p.History.Of(unit))).Where(p => p.History.Last is not null).ToArray();
            var made = tried.Where(p => p.History.Done is not null && InsidePath.Find(p.Folder, unit) is { } document && File.Exists(document)).OrderBy(p => p.History.Done!.At).ToArray();
            if (made.Length == 0)
            {
                missing.Add((unit, tried.Select(t => t.History.Last!).MaxBy(l => l.At) is { } last ? last.Error ?? "it did not come to its end" : null));
                continue;
            }
            if (made.Length > 1) twice.Add(unit);
            if (made[^1].Folder == into) continue;
            var to = InsidePath.Find(into, unit) ?? throw new ReportException(Diagnostic.Error(new SourcePlace(Path.Combine(into, unit), -1, 0), "a link stands in the way of this document, and it would be written elsewhere", "remove the link"));
            Copy(InsidePath.Find(made[^1].Folder, unit)!, to);
            foreach (var beside in OtherForms.FilesOf(made[^1].History.Done!))
                if (InsidePath.Find(made[^1].Folder, beside) is { } form && File.Exists(form) && InsidePath.Find(into, beside) is { } place) Copy(form, place);
        }
        ledger.Replace(parts.SelectMany(p => p.History.Lines));
        BatchIndex.Write(into, default, expected, LedgerHistory.Read(Ledger.PathsIn(into)));
        return new Gathered(into, expected.Length - missing.Count, missing.ToImmutable(), twice.ToImmutable());
    }

    private static void Copy(string from, string to)
    {
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            WholeFile.Put(to, stream =>
            {
                using var source = File.OpenRead(from);
                source.CopyTo(stream);
            });
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            throw new ReportException([Diagnostic.Error(new SourcePlace(to, -1, 0), $"the document cannot be copied here: {FileProblem.Reason(problem)}")], problem);
        }
    }
}
