using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Manuscripts.Compilation;

namespace Fennick.Manuscripts.Running;

/// <summary>What a run gave before it is written.</summary>
/// <param name="Content">The report.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
/// <param name="Files">The files that it was made from, beside those of the manuscript itself.</param>
internal sealed record MadeReport(ReportContent Content, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs, IReadOnlyList<FileStamp> Files);

/// <summary>A manuscript that is compiled; it runs any number of times, also at once.</summary>
internal sealed class ReadyManuscript(ManuscriptTree tree, CompiledManuscript compiled, LibrarySet libraries)
{
    private const int MostHouses = 64;
    private readonly ConcurrentDictionary<string, (House House, IReadOnlyList<FileStamp> Files)> houses = new(StringComparer.Ordinal);

    /// <summary>The calls of its code that may bring something into a report that nobody declares.</summary>
    public IReadOnlyList<CompiledCall> Undeclared => compiled.Undeclared;

    /// <summary>Runs the manuscript. The current folder has to be its own; the culture is, and what the steps write to the console is caught.</summary>
    /// <param name="values">The values of all parameters.</param>
    /// <param name="store">What the run shares with others.</param>
    /// <exception cref="ReportException">A step fails, or what it gave cannot be placed.</exception>
    public MadeReport Make(IReadOnlyDictionary<string, object> values, Sharing.Store store)
    {
        using var read = FilesRead.Begin();
        var (house, files) = HouseFor(values);
        foreach (var file in files) FilesRead.Note(file);
        var run = new ManuscriptRun(tree, values) { House = house };
        var outputs = Run(run, store);
        var report = run.Finish() with { Libraries = libraries.Versions };
        ReportException.ThrowIfAny(run.Diagnostics);
        return new MadeReport(report, [.. run.Diagnostics], outputs, read.Files);
    }

    /// <summary>Carries out the steps.</summary>
    /// <returns>What they wrote to the console.</returns>
    /// <exception cref="ReportException">A step fails.</exception>
    public ImmutableArray<StepOutput> Run(ManuscriptRun run, Sharing.Store store)
    {
        var culture = CultureInfo.CurrentCulture;
        using var console = StepConsole.Begin();
        store.Enter();
        try
        {
            CultureInfo.CurrentCulture = tree.Settings.Language.Culture;
            TextEncoding.Current = tree.Settings.DataEncoding;
            StepMark.Begin("", tree.Settings.Place);
            compiled.CreateProgram(libraries).RunAsync(run).GetAwaiter().GetResult();
            run.Trial?.End();
        }
        catch (Trial.Ended)
        {
            // All that was wanted has run.
        }
        catch (Exception problem)
        {
            throw new ReportException([.. run.Diagnostics, .. RunFault.Describe(problem, tree)], new RunFault(problem, [.. console.Outputs]));
        }
        finally
        {
            StepMark.End();
            CultureInfo.CurrentCulture = culture;
            TextEncoding.Current = null;
        }
        return [.. console.Outputs];
    }

    /// <summary>Units of one livery wear the same house, which is dressed once.</summary>
    public (House House, IReadOnlyList<FileStamp> Files) HouseFor(IReadOnlyDictionary<string, object> values)
    {
        if (tree.Settings.HouseOfUnit.IsEmpty) return (tree.Settings.House, []);
        var key = tree.Settings.HouseKey(values);
        if (!houses.TryGetValue(key, out var known))
        {
            using (var read = FilesRead.Begin()) known = (tree.Settings.HouseFor(values, tree.Sources), read.Files);
            if (houses.Count < MostHouses) known = houses.GetOrAdd(key, known);
        }
        return known;
    }
}
