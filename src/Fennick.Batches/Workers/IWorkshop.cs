using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches.Workers;

/// <summary>A unit's document that is complete but not in its place.</summary>
/// <param name="Staged">The document.</param>
/// <param name="Output">Its hash.</param>
/// <param name="House">The hash of its house.</param>
/// <param name="Files">The files that it was made from.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
internal sealed record PreparedUnit(StagedFile Staged, string Output, string House, IReadOnlyList<FileStamp> Files, List<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs)
{
    /// <summary>Writes a report beside its place.</summary>
    /// <param name="made">The report.</param>
    /// <param name="path">The full path that its document will have.</param>
    /// <param name="root">The folder of the batch, which has to be there.</param>
    /// <param name="hashes">The hashes of the files that are known.</param>
    public static PreparedUnit Of(MadeReport made, string path, string root, FileHashes hashes)
    {
        var diagnostics = new List<Diagnostic>(made.Diagnostics);
        using var package = ReportFile.Make(made.Content, diagnostics);
        BatchRun.CheckFolder(root);
        StagedFile? staged = null;
        ReportFile.Writing(path, [], () => staged = ReportFile.Stage(package, path));
        FileStamp[] files = [.. made.Files, .. ReportFile.HouseOf(made.Content).Select(FileStamp.Of).Where(h => made.Files.All(f => f.Path != h.Path))];
        return new PreparedUnit(staged!, package.Hash(), HouseHash.Of(made.Content.House, hashes), files, diagnostics, made.Outputs);
    }
}

/// <summary>Where units are made.</summary>
internal interface IWorkshop : IDisposable
{
    /// <summary>Makes the document of a unit.</summary>
    /// <exception cref="ReportException">It cannot be made.</exception>
    PreparedUnit Prepare(BatchUnit unit, string path);
}

/// <summary>Makes units in this process.</summary>
internal sealed class OwnWorkshop(UnitRunner runner, FileHashes hashes, string root) : IWorkshop
{
    public PreparedUnit Prepare(BatchUnit unit, string path) => PreparedUnit.Of(runner.Make(unit), path, root, hashes);

    public void Dispose()
    {
    }
}

/// <summary>Makes units in processes of their own, one for each thread that asks.</summary>
internal sealed class ProcessWorkshop(Func<WorkerProcess> start, string root) : IWorkshop
{
    private readonly ConcurrentDictionary<Thread, WorkerProcess> workers = [];

    public PreparedUnit Prepare(BatchUnit unit, string path)
    {
        var reply = workers.GetOrAdd(Thread.CurrentThread, _ => start()).Make(new WorkerRequest(BatchRun.Describe(unit), path, root));
        StagedFile? staged = null;
        ReportFile.Writing(path, reply.Diagnostics, () => staged = StagedFile.Adopt(reply.Staged!, path));
        return new PreparedUnit(staged!, reply.Output, reply.House, reply.Files, [.. reply.Diagnostics], [.. reply.Outputs]);
    }

    public void Dispose()
    {
        foreach (var worker in workers.Values) worker.Dispose();
    }
}
