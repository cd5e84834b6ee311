using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Batches.Workers;

/// <summary>A unit's document that is complete but not in its place.</summary>
/// <param name="Staged">The document.</param>
/// <param name="Output">Its hash.</param>
/// <param name="House">The hash of its house.</param>
/// <param name="Files">The files that it was made from.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
/// <param name="Forms">Its other forms.</param>
internal sealed record PreparedUnit(StagedFile Staged, string Output, string House, IReadOnlyList<FileStamp> Files, List<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs, ImmutableArray<PreparedForm> Forms) : IDisposable
{
    /// <summary>Writes a report beside its place.</summary>
    /// <param name="made">The report.</param>
    /// <param name="path">The full path that its document will have.</param>
    /// <param name="root">The folder of the batch, which has to be there.</param>
    /// <param name="hashes">The hashes of the files that are known.</param>
    /// <param name="writers">The forms that it is written in too.</param>
    public static PreparedUnit Of(MadeReport made, string path, string root, FileHashes hashes, ImmutableArray<IReportWriter> writers)
    {
        var diagnostics = new List<Diagnostic>(made.Diagnostics);
        using var package = ReportFile.Make(made.Content, diagnostics);
        var forms = writers.Select(w => (w.Extension, Bytes: BytesOf(made, w, diagnostics))).ToArray();
        BatchRun.CheckFolder(root);
        var staged = new List<StagedFile>();
        try
        {
            ReportFile.Writing(path, [], () =>
            {
                staged.Add(ReportFile.Stage(package, path));
                foreach (var (extension, bytes) in forms) staged.Add(StagedFile.Write(Path.ChangeExtension(path, extension), stream => stream.Write(bytes)));
            });
        }
        catch
        {
            foreach (var file in staged) file.Dispose();
            throw;
        }
        FileStamp[] files = [.. made.Files, .. ReportFile.HouseOf(made.Content).Select(FileStamp.Of).Where(h => made.Files.All(f => f.Path != h.Path))];
        return new PreparedUnit(staged[0], package.Hash(), HouseHash.Of(made.Content.House, hashes), files, diagnostics, made.Outputs,
            [.. forms.Select((f, i) => new PreparedForm(f.Extension, staged[i + 1], FileHashes.OfBytes(f.Bytes)))]);
    }

    public void Dispose()
    {
        Staged.Dispose();
        foreach (var form in Forms) form.Staged.Dispose();
    }

    private static byte[] BytesOf(MadeReport made, IReportWriter writer, List<Diagnostic> diagnostics)
    {
        using var target = new MemoryStream();
        // What the document has told already is not told again.
        diagnostics.AddRange(writer.Write(made.Content, target).Except(diagnostics).ToArray());
        return target.ToArray();
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
internal sealed class OwnWorkshop(UnitRunner runner, FileHashes hashes, string root, ImmutableArray<IReportWriter> writers) : IWorkshop
{
    public PreparedUnit Prepare(BatchUnit unit, string path) => PreparedUnit.Of(runner.Make(unit), path, root, hashes, writers);

    public void Dispose()
    {
    }
}

/// <summary>Makes units in processes of their own, one for each thread that asks.</summary>
internal sealed class ProcessWorkshop(Func<WorkerProcess> start, string root, ImmutableArray<IReportWriter> writers) : IWorkshop
{
    private readonly ConcurrentDictionary<Thread, WorkerProcess> workers = [];

    public PreparedUnit Prepare(BatchUnit unit, string path)
    {
        var reply = workers.GetOrAdd(Thread.CurrentThread, _ => start()).Make(new WorkerRequest(BatchRun.Describe(unit), path, root, [.. writers.Select(w => w.Name)]));
        PreparedUnit? prepared = null;
        ReportFile.Writing(path, reply.Diagnostics, () => prepared = new PreparedUnit(StagedFile.Adopt(reply.Staged!, path), reply.Output, reply.House, reply.Files, [.. reply.Diagnostics], [.. reply.Outputs],
            [.. reply.Forms.Select(f => new PreparedForm(f.Extension, StagedFile.Adopt(f.Staged, Path.ChangeExtension(path, f.Extension)), f.Hash))]));
        return prepared!;
    }

    public void Dispose()
    {
        foreach (var worker in workers.Values) worker.Dispose();
    }
}
