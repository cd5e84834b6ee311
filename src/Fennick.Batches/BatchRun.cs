using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Fennick.Batches.Workers;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;
using Fennick.Revision;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>One run of a batch into a folder.</summary>
internal sealed class BatchRun : IDisposable
{
    private const int MostAdvice = 10;
    private readonly Stopwatch watch = Stopwatch.StartNew();
    private readonly Batch batch;
    private readonly IUnitMaker maker;
    private readonly ImmutableArray<BatchUnit> all;
    private readonly ImmutableArray<BatchUnit> selected;
    private readonly string folder;
    private readonly Action<BatchProgress>? progress;
    private readonly CancellationToken stop;
    private readonly FileHashes hashes = new();
    private readonly Ledger ledger;
    private readonly string fingerprint;
    private readonly OtherForms forms;
    private readonly List<Diagnostic> diagnostics = [];

    public BatchRun(Batch batch, IUnitMaker maker, ImmutableArray<BatchUnit> all, ImmutableArray<BatchUnit> selected, string folder, Action<BatchProgress>? progress, CancellationToken stop)
    {
        this.batch = batch;
        this.maker = maker;
        this.all = all;
        this.selected = selected;
        this.folder = folder;
        this.progress = progress;
        this.stop = stop;
        forms = new OtherForms(batch.FormsOf(maker), folder);
        ledger = Ledger.Open(folder, batch.Part);
        try
        {
            diagnostics.AddRange(ledger.History.Diagnostics);
            fingerprint = maker.Fingerprint(hashes);
        }
        catch
        {
            ledger.Dispose();
            throw;
        }
    }

    public BatchResult Run()
    {
        BatchUnit[] own = [.. batch.Part.Of([.. selected], u => u.Name)];
        RemoveLeftOvers(own);
        var warnings = new List<Diagnostic>();
        using var begun = maker.Begin(warnings, out var compileTime);
        var isUnknown = batch.Only == BatchSelection.Changed && !ledger.History.IsEmpty && !maker.Undeclared.IsEmpty;
        var states = own.ToDictionary(u => u, u => StateOf(u, isUnknown));
        var unchanged = own.Where(u => states[u] is UnitNeed.None).ToArray();
        // What did not come to its end may have taken the whole process with it: it comes last.
        var waiting = own.Where(u => states[u] is UnitNeed.Make or UnitNeed.Retry).OrderBy(u => states[u]).ToArray();
        ImmutableArray<UnitOutcome> made = [];
        CheckDestinations(waiting);
        Add(Ledger.Head(maker.Name, batch.Roster.Name, batch.Part, all.Select(u => u.File)));
        if (waiting.Length > 0)
        {
            if (forms.HasPdf) PdfConverter.CheckInstalled();
            diagnostics.AddRange(warnings);
            if (isUnknown) diagnostics.AddRange(maker.Undeclared.Take(MostAdvice));
            if (batch.InProcess) diagnostics.AddRange(maker.FromProcessFolder.Take(MostAdvice));
            var runner = new UnitRunner(batch, maker, progress, stop);
            using IWorkshop workshop = maker.Manuscript is { } manuscript && !batch.InProcess ? new ProcessWorkshop(() => new WorkerProcess(manuscript, batch.TimeLimit, batch.MemoryLimit), folder, forms.Written) : new OwnWorkshop(runner, hashes, folder, forms.Written);
            made = runner.Run(waiting, unit => Make(workshop, unit), Conclude);
        }
        made = [.. made.Select(Confirm)];
        var outcomes = made.Concat(unchanged.Select(u => new UnitOutcome(u, UnitState.Unchanged, TimeSpan.Zero, EditedSince(u)))).OrderBy(o => o.Unit.Row.Number).ToImmutableArray();
        (outcomes, var pdfs, var lacking) = AddPdfs(outcomes);
        WriteIndex();
        return new BatchResult(folder, outcomes, waiting.Length - made.Length + lacking, watch.Elapsed, compileTime, [.. diagnostics]) { Pdfs = pdfs };
    }

    public void Dispose() => ledger.Dispose();

    /// <summary>A document counts as made only if it is there at the end.</summary>
    private UnitOutcome Confirm(UnitOutcome outcome) => outcome.State is not (UnitState.Made or UnitState.Merged) || File.Exists(PathOf(outcome.Unit)) ? outcome
        : outcome with { State = UnitState.Failed, Diagnostics = [Gone(PathOf(outcome.Unit), "the document was made, but is no longer there: somebody has removed it, or its folder, while the batch ran")] };

    /// <summary>Refuses to make the folder of a batch anew that somebody has removed.</summary>
    internal static void CheckFolder(string folder)
    {
        if (!Directory.Exists(folder)) throw new ReportException(Gone(folder, "the folder of the batch is no longer there: somebody has removed it while the batch ran"));
    }

    private static Diagnostic Gone(string path, string message) => Diagnostic.Error(new SourcePlace(path, 0, 0), message, "run the batch again, and let nobody clear the folder meanwhile");

    /// <summary>Without an index the documents are there all the same.</summary>
    private void WriteIndex()
    {
        try
        {
            BatchIndex.Write(folder, batch.Part, (batch.Part.IsWhole ? all : batch.Part.Of([.. selected], u => u.Name)).Select(u => u.File), LedgerHistory.Read(Ledger.PathsIn(folder)));
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            diagnostics.Add(Diagnostic.Warning(new SourcePlace(folder, -1, 0), $"the index cannot be written: {FileProblem.Reason(problem)}"));
        }
    }

    /// <summary>Checks that no document, and nothing else that the batch writes, lands on what the reports are made from.</summary>
    private void CheckDestinations(IEnumerable<BatchUnit> waiting)
    {
        string[] known = [.. FilesRead.SoFar, .. File.Exists(batch.Roster.Name) ? [Path.GetFullPath(batch.Roster.Name)] : Array.Empty<string>(), .. maker.KnownInputs];
        if (Destination.FindInput(BatchIndex.PathIn(folder, batch.Part), known) is { } input)
            throw new ReportException(Diagnostic.Error(new SourcePlace(input, 0, 0), "the batch would write its list of documents over this file, from which they are made", "choose another folder with `--into`"));
        foreach (var unit in waiting)
            foreach (var path in forms.PathsOf(unit).Prepend(PathOf(unit))) Destination.Check(path, [.. known, .. maker.InputsOf(unit)], batch.Force);
    }

    private string PathOf(BatchUnit unit) => Path.Combine(folder, unit.File);

    /// <summary>What has to be done for a unit.</summary>
    private UnitNeed StateOf(BatchUnit unit, bool isUnknown)
    {
        var history = ledger.History.Of(unit.File);
        var hasEnded = history.Last is null or { Event: LedgerEvent.Done or LedgerEvent.Failed };
        return batch.Only switch
        {
            BatchSelection.All => UnitNeed.Make,
            BatchSelection.Failed => history.Last is null or { Event: LedgerEvent.Done } ? UnitNeed.Leave : hasEnded ? UnitNeed.Make : UnitNeed.Retry,
            _ when !isUnknown && IsAsMade(unit, history) => UnitNeed.None,
            _ => hasEnded ? UnitNeed.Make : UnitNeed.Retry,
        };
    }

    /// <summary>Whether a unit's document is what its inputs ask for, or was until somebody worked on it.</summary>
    private bool IsAsMade(BatchUnit unit, LedgerHistory.UnitHistory history) =>
        history.Done is { } done && File.Exists(PathOf(unit)) && hashes.Of(PathOf(unit)) is var output && (output == done.Output || !history.Outputs.Contains(output))
        && done.Manuscript == fingerprint && forms.AreWritten(unit, done) && Describe(unit).SequenceEqual(done.Parameters ?? ImmutableSortedDictionary<string, string>.Empty)
        && (done.Data ?? ImmutableSortedDictionary<string, string>.Empty).All(d => hashes.Of(Path.GetFullPath(d.Key, folder)) == d.Value);

    private (ImmutableArray<Diagnostic> Diagnostics, UnitState State) Make(IWorkshop workshop, BatchUnit unit)
    {
        var start = Stopwatch.GetTimestamp();
        Add(LineOf(LedgerEvent.Begun, unit));
        var path = PathOf(unit);
        using var made = workshop.Prepare(unit, path);
        var (told, output) = (made.Diagnostics, made.Output);
        var also = made.Forms.ToImmutableSortedDictionary(f => f.Extension, f => f.Hash, StringComparer.Ordinal);
        foreach (var place in made.Forms.Select(f => Path.ChangeExtension(path, f.Extension)).Prepend(path)) Destination.Check(place, made.Files.Select(f => f.Path), batch.Force);
        var history = ledger.History.Of(unit.File);
        string? merged = null;
        ReportFile.Writing(path, [], () =>
        {
            Add(LineOf(LedgerEvent.Placing, unit) with { Output = output, Also = also });
            bool? isEdited = history.Outputs is { Count: > 0 } outputs && File.Exists(path) ? !outputs.Contains(hashes.Of(path)) : null;
            if (batch.Living && File.Exists(path) && (isEdited ?? !Seal.IsIntact(path))) merged = RefreshedFile.Put(() => WordDocument.Read(made.Staged.Read(), new SourcePlace(path, 0, 0)), path, null, told)?.Summary;
            if (merged is null) ReportFile.Place(made.Staged, path, told, isEdited);
            foreach (var form in made.Forms) Place(unit, form.Staged, Path.ChangeExtension(path, form.Extension), told);
        });
        told.AddRange(forms.Stale(unit, history.Done));
        Add(LineOf(LedgerEvent.Done, unit) with
        {
            Manuscript = fingerprint,
            House = made.House,
            Data = hashes.Of(made.Files, folder),
            Output = output,
            Merged = merged,
            Also = also.IsEmpty ? null : also,
            Seconds = Math.Round(Stopwatch.GetElapsedTime(start).TotalSeconds, 3),
            Warnings = told.Count == 0 ? null : [.. told.Select(d => d.ToString())],
            Wrote = Keep(unit, Written(made.Outputs)),
        });
        return ([.. told], merged is null ? UnitState.Made : UnitState.Merged);
    }

    /// <summary>Puts a form of a unit's report beside its document. One that somebody has worked on, as by writing remarks into a PDF, is kept under another name.</summary>
    private void Place(BatchUnit unit, StagedFile staged, string path, List<Diagnostic> told)
    {
        if (File.Exists(path) && !ledger.History.Of(unit.File).Outputs.Contains(hashes.Of(path))) told.Add(Destination.Tell(path, Destination.Keep(path)));
        staged.Place();
    }

    /// <summary>Makes the PDFs that are wanted and not there, in one go.</summary>
    /// <returns>The outcomes, where one without its PDF has failed; how many PDFs were made; and how many were not, because the batch was stopped.</returns>
    private (ImmutableArray<UnitOutcome> Outcomes, int Made, int Left) AddPdfs(ImmutableArray<UnitOutcome> outcomes)
    {
        if (!forms.HasPdf) return (outcomes, 0, 0);
        var history = LedgerHistory.Read(Ledger.PathsIn(folder));
        var lacking = outcomes.Where(o => o.State != UnitState.Failed && history.Of(o.Unit.File).Done is { } done && forms.LacksPdf(o.Unit, done)).ToDictionary(o => PathOf(o.Unit));
        if (lacking.Count == 0 || stop.IsCancellationRequested) return (outcomes, 0, lacking.Count);
        var (begun, seen, count) = (Stopwatch.StartNew(), 0, 0);
        var changed = new Dictionary<BatchUnit, UnitOutcome>();
        var faults = OtherForms.MakePdfs([.. lacking.Keys], there =>
        {
            if (there > seen) progress?.Invoke(new BatchProgress(lacking.Values.ElementAt(there - 1), seen = there, 0, lacking.Count, begun.Elapsed) { Form = ReportWriters.Pdf.Name });
        }, (document, pdf, warnings) =>
        {
            var (outcome, path) = (lacking[document], Path.ChangeExtension(document, ReportWriters.Pdf.Extension));
            var done = history.Of(outcome.Unit.File).Done!;
            var told = warnings.ToList();
            try
            {
                Destination.Check(path, maker.KnownInputs, batch.Force);
                var also = (done.Also ?? ImmutableSortedDictionary<string, string>.Empty).SetItem(ReportWriters.Pdf.Extension, FileHashes.OfBytes(pdf));
                ReportFile.Writing(path, [], () =>
                {
                    using var staged = StagedFile.Write(path, stream => stream.Write(pdf));
                    Add(LineOf(LedgerEvent.Placing, outcome.Unit) with { Also = also });
                    Place(outcome.Unit, staged, path, told);
                });
                Add(done with { At = DateTimeOffset.Now, Also = also, Warnings = told.Count == 0 ? done.Warnings : [.. done.Warnings ?? [], .. told.Select(d => d.ToString())] });
                count++;
                if (told.Count > 0) changed[outcome.Unit] = outcome with { Diagnostics = [.. outcome.Diagnostics, .. told] };
            }
            catch (ReportException problem)
            {
                changed[outcome.Unit] = outcome with { State = UnitState.Failed, Diagnostics = [.. outcome.Diagnostics, .. problem.Diagnostics] };
            }
        }, stop);
        foreach (var (document, fault) in faults)
        {
            var (outcome, place) = (lacking[document], new SourcePlace(Path.ChangeExtension(document, ReportWriters.Pdf.Extension), 0, 0));
            changed[outcome.Unit] = outcome with { State = UnitState.Failed, Diagnostics = [.. outcome.Diagnostics, fault with { Place = place }] };
            if (history.Of(outcome.Unit.File).Done is { } done) Add(done with { At = DateTimeOffset.Now, Warnings = [.. done.Warnings ?? [], fault.ToString()] });
        }
        return ([.. outcomes.Select(o => changed.GetValueOrDefault(o.Unit, o))], count, stop.IsCancellationRequested ? lacking.Count - count - faults.Count : 0);
    }

    private void Conclude(UnitOutcome outcome, Exception? problem)
    {
        if (problem is null) return;
        Add(LineOf(LedgerEvent.Failed, outcome.Unit) with
        {
            Manuscript = fingerprint,
            Seconds = Math.Round(outcome.Duration.TotalSeconds, 3),
            Error = outcome.Error is { Suggestion: { } suggestion } error ? $"{error.Message}; {suggestion}" : outcome.Error?.Message ?? problem.Message,
            Place = outcome.Error?.Place?.ToString(),
            Wrote = Keep(outcome.Unit, Written((problem.InnerException as RunFault)?.Outputs ?? [])),
        });
    }

    private static LedgerLine LineOf(LedgerEvent what, BatchUnit unit) => new() { Event = what, At = DateTimeOffset.Now, Unit = unit.File, Parameters = what == LedgerEvent.Placing ? null : Describe(unit) };

    private void Add(LedgerLine line) => ledger.Add(line);

    internal static ImmutableSortedDictionary<string, string> Describe(BatchUnit unit) => unit.Parameters.ToImmutableSortedDictionary(p => p.Key, p => p.Value switch
    {
        bool yes => yes ? "yes" : "no",
        IFormattable value => value.ToString(p.Value is DateOnly ? "yyyy-MM-dd" : null, CultureInfo.InvariantCulture),
        _ => p.Value.ToString() ?? "",
    }, StringComparer.Ordinal);

    /// <summary>What a unit wrote; if that is much, all of it is kept in a file of its own.</summary>
    private string? Keep(BatchUnit unit, string? written)
    {
        if (written is not { Length: > LedgerLine.LongestText } || InsidePath.Find(folder, $"printed/{unit.Name}.txt") is not { } path) return written;
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            WholeFile.Put(path, written);
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            return $"(the whole of it cannot be kept: {FileProblem.Reason(problem)}) {written}";
        }
        return $"(all of it: {Path.GetRelativePath(folder, path)}) {written}";
    }

    private static string? Written(ImmutableArray<StepOutput> outputs) => outputs.IsEmpty ? null : string.Join('\n', outputs.Select(o => $"{o.Step}: {o.Text.TrimEnd()}"));

    private ImmutableArray<Diagnostic> EditedSince(BatchUnit unit) => ledger.History.Of(unit.File).Outputs.Contains(hashes.Of(PathOf(unit))) ? []
        : [new Diagnostic(Severity.Advice, new SourcePlace(PathOf(unit), 0, 0), "somebody has changed this document since it was made; it is left as it is")];

    /// <summary>Removes what a process that was killed had not renamed yet: documents, the index, the ledger.</summary>
    private void RemoveLeftOvers(IEnumerable<BatchUnit> own)
    {
        foreach (var inside in own.GroupBy(u => Path.GetDirectoryName(PathOf(u))!))
        {
            var names = inside.SelectMany(u => forms.PathsOf(u).Append(u.File)).Select(f => Path.GetFileName(f)).ToHashSet(StringComparer.Ordinal);
            StagedFile.RemoveLeftOvers(inside.Key, names.Contains);
        }
        StagedFile.RemoveLeftOvers(folder, name => name == Path.GetFileName(BatchIndex.PathIn(folder, batch.Part)));
    }

    /// <summary>What a unit needs, in the order of the work.</summary>
    private enum UnitNeed
    {
        None,
        Leave,
        Make,
        Retry,
    }
}
