using System.Collections.Immutable;
using System.Diagnostics;
using System.Runtime;
using System.Runtime.ExceptionServices;
using Fennick.Batches.Workers;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches;

/// <summary>Runs units side by side, each within its time, and keeps them from disturbing each other.</summary>
internal sealed class UnitRunner(Batch batch, IUnitMaker maker, Action<BatchProgress>? progress, CancellationToken stop)
{
    // As much as the main thread of a process has, and again: long documents nest deeply.
    private const int StackSize = 16 * 1024 * 1024;
    private static readonly TimeSpan Grace = TimeSpan.FromSeconds(2);

    private readonly Sharing.Store store = new();
    private readonly Lock reporting = new();
    private readonly string folder = WorkingFolder.Current;
    private readonly Stopwatch watch = Stopwatch.StartNew();
    private int moves;
    private int finished;
    private int failed;

    /// <summary>What is said of a unit in whose time the current folder was changed.</summary>
    public static Diagnostic Moved { get; } = Diagnostic.Error(null, "the current folder was changed while this unit was made, so that it may have read what is not its own", "let no step change it: it is the same for all units");

    /// <summary>Does something with each unit; what it throws makes the unit fail.</summary>
    /// <param name="units">The units.</param>
    /// <param name="run">Makes a unit and says what deserves attention.</param>
    /// <param name="conclude">Is told of each outcome before it counts.</param>
    /// <returns>The outcomes of those that were reached, in the order of the units.</returns>
    /// <exception cref="ReportException">The ledger cannot be written.</exception>
    public ImmutableArray<UnitOutcome> Run(IReadOnlyList<BatchUnit> units, Func<BatchUnit, (ImmutableArray<Diagnostic> Diagnostics, UnitState State)> run, Action<UnitOutcome, Exception?> conclude)
    {
        var outcomes = new UnitOutcome?[units.Count];
        var next = -1;
        Exception? fault = null;
        var workers = Enumerable.Range(0, Math.Clamp(batch.Jobs, 1, Math.Max(1, units.Count))).Select(_ => new Thread(() =>
        {
            while (fault is null && !stop.IsCancellationRequested && Interlocked.Increment(ref next) is var i && i < units.Count)
            {
                try
                {
                    outcomes[i] = Finish(units[i], run, conclude, units.Count);
                }
                catch (Exception problem)
                {
                    // The ledger cannot be written, or whoever watches has thrown.
                    fault = problem;
                }
            }
        }, StackSize)).ToArray();
        foreach (var worker in workers) worker.Start();
        foreach (var worker in workers) worker.Join();
        if (fault is LedgerFault ledger) throw ledger.ToReport();
        if (fault is not null) ExceptionDispatchInfo.Throw(fault);
        return [.. outcomes.OfType<UnitOutcome>()];
    }

    /// <summary>Makes the report of a unit, as nothing else has changed what it reads.</summary>
    /// <exception cref="ReportException">It cannot be made.</exception>
    public MadeReport Make(BatchUnit unit)
    {
        var before = Volatile.Read(ref moves);
        MadeReport? made = null;
        ReportException? problem = null;
        try
        {
            made = batch.TimeLimit is { } limit ? Within(limit, () => maker.Make(unit, store)) : maker.Make(unit, store);
        }
        catch (ReportException caught)
        {
            problem = caught;
        }
        if (WorkingFolder.Current != folder)
        {
            Interlocked.Increment(ref moves);
            WorkingFolder.Change(folder);
        }
        if (Volatile.Read(ref moves) != before)
            throw new ReportException([Moved], problem);
        return problem is null ? made! : throw problem;
    }

    private UnitOutcome Finish(BatchUnit unit, Func<BatchUnit, (ImmutableArray<Diagnostic> Diagnostics, UnitState State)> run, Action<UnitOutcome, Exception?> conclude, int total)
    {
        var start = Stopwatch.GetTimestamp();
        ImmutableArray<Diagnostic> diagnostics;
        var state = UnitState.Failed;
        Exception? problem = null;
        try
        {
            (diagnostics, state) = run(unit);
        }
        catch (Exception caught) when (caught is not LedgerFault)
        {
            problem = caught;
            diagnostics = caught is ReportException report ? report.Diagnostics : [Fault.Describe(caught)];
        }
        var outcome = new UnitOutcome(unit, state, Stopwatch.GetElapsedTime(start), diagnostics);
        conclude(outcome, problem);
        lock (reporting)
        {
            finished++;
            if (problem is not null) failed++;
            progress?.Invoke(new BatchProgress(outcome, finished, failed, total, watch.Elapsed));
        }
        return outcome;
    }

    /// <summary>Makes a report that may take so long; if it is not there then, its steps are ended, and if that cannot be done, they are left behind. It is written outside, so that nothing is left half done.</summary>
    private static MadeReport Within(TimeSpan limit, Func<MadeReport> make)
    {
        using var end = new CancellationTokenSource(limit);
        MadeReport? made = null;
        Exception? problem = null;
        void Run()
        {
            try
            {
#pragma warning disable SYSLIB0046 // Nothing else ends a step that does not look at anything.
                ControlledExecution.Run(() => made = make(), end.Token);
#pragma warning restore SYSLIB0046
            }
            catch (Exception caught)
            {
                problem = caught;
            }
        }
        var thread = new Thread(Run, StackSize) { IsBackground = true };
        thread.Start();
        if (!thread.Join(limit + Grace) || (problem is not null && end.IsCancellationRequested))
            throw new ReportException(WorkerProcess.TooLong(limit));
        return problem is null ? made! : throw problem;
    }
}
