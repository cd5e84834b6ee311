using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Files;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Editing;
using Fennick.Manuscripts.Provenance;
using Fennick.Manuscripts.Reuse;
using Fennick.Running;

namespace Fennick.Manuscripts.Running;

/// <summary>What a run gave before it is written.</summary>
/// <param name="Content">The report.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
/// <param name="Files">The files that it was made from, beside those of the manuscript itself.</param>
internal sealed record MadeReport(ReportContent Content, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs, IReadOnlyList<FileStamp> Files);

/// <summary>A manuscript that is compiled; it runs any number of times, also at once.</summary>
internal sealed class ReadyManuscript(ManuscriptTree tree, string folder, CompiledManuscript compiled, LibrarySet libraries)
{
    private const int MostHouses = 64;
    private readonly ConcurrentDictionary<string, (House House, IReadOnlyList<FileStamp> Files)> houses = new(StringComparer.Ordinal);

    /// <summary>The calls of its code that may bring something into a report that nobody declares.</summary>
    public IReadOnlyList<CompiledCall> Undeclared => compiled.Undeclared;

    /// <summary>Runs the manuscript: paths start from its folder, the culture is that of its language, and what the steps write to the console is caught.</summary>
    /// <param name="values">The values of all parameters.</param>
    /// <param name="store">What the run shares with others.</param>
    /// <param name="stop">Tells that the report is wanted no longer.</param>
    /// <exception cref="ReportException">A step fails, or what it gave cannot be placed.</exception>
    /// <exception cref="OperationCanceledException">It is wanted no longer.</exception>
    public MadeReport Make(IReadOnlyDictionary<string, object> values, Sharing.Store store, CancellationToken stop = default) => Make(values, store, null, null, null, stop);

    /// <summary>Runs it for somebody who writes it: the values in braces are kept.</summary>
    public MadeReport MakeForWriter(IReadOnlyDictionary<string, object> values, CancellationToken stop)
    {
        var last = new List<LastValue>();
        var made = Make(values, new Sharing.Store(), null, null, last, stop);
        LastValues.Keep(tree.Sources.Main.FullPath, last);
        return made;
    }

    /// <summary>Runs it for somebody who looks at what comes of it: values and blocks know where they come from, and steps are shown as they run.</summary>
    public MadeReport MakeToLookAt(IReadOnlyDictionary<string, object> values, Trial trial, StepMemory memory, CancellationToken stop)
    {
        memory.Begin(tree, values);
        var last = new List<LastValue>();
        var made = Make(values, new Sharing.Store(), trial, memory, last, stop);
        LastValues.Keep(tree.Sources.Main.FullPath, last);
        return made;
    }

    private MadeReport Make(IReadOnlyDictionary<string, object> values, Sharing.Store store, Trial? trial, StepMemory? memory, List<LastValue>? last, CancellationToken stop)
    {
        using var scope = new StepContext(store) { Folder = folder, Stop = stop }.Enter();
        using var read = FilesRead.Begin();
        var (house, files) = HouseFor(values);
        foreach (var file in files) FilesRead.Note(file);
        var run = new ManuscriptRun(tree, values) { House = house, Trial = trial, Memory = memory, KeepsOrigins = trial is not null || tree.Settings.Report.IsLiving, LastValues = last };
        var outputs = Run(run);
        var report = run.Finish() with { Libraries = libraries.Versions };
        if (report.Settings.IsLiving) report = report with { Making = MadeOf.Of(tree, folder, values, read.Files) };
        ReportException.ThrowIfAny(run.Diagnostics);
        return new MadeReport(report, [.. run.Diagnostics], outputs, read.Files);
    }

    /// <summary>Carries out the steps up to one that is tried.</summary>
    /// <exception cref="ReportException">A step fails.</exception>
    public void Try(ManuscriptRun run)
    {
        using var scope = new StepContext(new Sharing.Store()) { Folder = folder }.Enter();
        Run(run);
    }

    /// <summary>Carries out the steps.</summary>
    /// <returns>What they wrote to the console.</returns>
    /// <exception cref="ReportException">A step fails.</exception>
    private ImmutableArray<StepOutput> Run(ManuscriptRun run)
    {
        StepConsole.Install();
        var console = new StepConsole.Capture();
        var context = (StepContext)RunContext.Current! with { Console = console, Culture = tree.Settings.Language.Culture, Language = tree.Settings.Language, Encoding = tree.Settings.DataEncoding };
        using var scope = context.Enter();
        try
        {
            StepMark.Begin("", tree.Settings.Place);
            compiled.CreateProgram(libraries).RunAsync(run).GetAwaiter().GetResult();
            run.Trial?.End();
        }
        catch (Trial.Ended)
        {
            // All that was wanted has run.
        }
        catch (OperationCanceledException) when (context.Stop.IsCancellationRequested)
        {
            throw;
        }
        catch (Exception problem)
        {
            throw new ReportException([.. run.Diagnostics, .. RunFault.Describe(problem, tree)], new RunFault(problem, [.. console.Outputs]));
        }
        finally
        {
            StepMark.End();
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
