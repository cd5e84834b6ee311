using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using System.Text.Json;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Batches.Workers;

/// <summary>The process of a worker: makes the reports of units, one after another, as it is asked to.</summary>
internal static class WorkerProgram
{
    private const int StackSize = 16 * 1024 * 1024;
    private const int WrongCall = 2;

    public static int Main(string[] arguments)
    {
        // It is started by batches, and does nothing by itself.
        if (arguments is not ["worker", var folder]) return WrongCall;
        ProcessWatch.Enter(folder);
        var replies = UnixStreams.TakeOutput(ProcessWatch.LogIn(folder));
        var requests = new BlockingCollection<string>();
        // Ctrl-C reaches all processes of a terminal; whoever asked for the reports decides what comes of it.
        using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, context => context.Cancel = true);
        new Thread(() => Listen(requests)) { IsBackground = true }.Start();
        var work = new Thread(() => Work(requests, replies), StackSize);
        work.Start();
        work.Join();
        return 0;
    }

    /// <summary>Takes requests. When nobody can ask any more, the process ends, whatever it is at.</summary>
    private static void Listen(BlockingCollection<string> requests)
    {
        using var lines = new StreamReader(UnixStreams.TakeInput());
        while (lines.ReadLine() is { } line) requests.Add(line);
        Environment.Exit(0);
    }

    private static void Work(BlockingCollection<string> requests, FileStream replies)
    {
        var hashes = new FileHashes();
        var store = new Sharing.Store();
        Manuscript? manuscript = null;
        ReadyManuscript? ready = null;
        try
        {
            var opening = JsonSerializer.Deserialize(requests.Take(), WorkerJson.Default.WorkerOpening)!;
            manuscript = Manuscript.Open(opening.Manuscript, opening.With);
            ready = manuscript.Prepare(System.Collections.Immutable.ImmutableArray.CreateBuilder<Diagnostic>()).Ready;
            WorkingFolder.Follows = true;
            _ = WorkingFolder.Enter(manuscript.Folder);
            // From now on the time of units counts.
            Reply(new WorkerReply());
        }
        catch (ReportException problem)
        {
            Reply(new WorkerReply { Diagnostics = problem.Diagnostics, IsSpent = true });
            return;
        }
        foreach (var line in requests.GetConsumingEnumerable())
        {
            var request = JsonSerializer.Deserialize(line, WorkerJson.Default.WorkerRequest)!;
            try
            {
                Reply(Make(manuscript, ready, store, hashes, request));
            }
            catch (ReportException problem)
            {
                var fault = problem.InnerException as RunFault;
                Reply(new WorkerReply { Diagnostics = problem.Diagnostics, Outputs = fault?.Outputs ?? [], IsSpent = fault?.InnerException is OutOfMemoryException });
            }
            catch (Exception problem)
            {
                Reply(new WorkerReply { Diagnostics = [Fault.Describe(problem)], IsSpent = true });
            }
        }

        void Reply(WorkerReply reply) => replies.Write(WorkerJson.Line(reply, WorkerJson.Default.WorkerReply));
    }

    private static WorkerReply Make(Manuscript manuscript, ReadyManuscript ready, Sharing.Store store, FileHashes hashes, WorkerRequest request)
    {
        var made = ready.Make(manuscript.ReadParameters(request.Parameters), store);
        if (WorkingFolder.Current != manuscript.Folder)
        {
            WorkingFolder.Change(manuscript.Folder);
            throw new ReportException(UnitRunner.Moved);
        }
        using var prepared = PreparedUnit.Of(made, request.Path, request.Root, hashes, [.. request.Forms.Select(name => ReportWriters.All.First(w => w.Name == name))]);
        return new WorkerReply
        {
            Staged = prepared.Staged.Leave(),
            Forms = [.. prepared.Forms.Select(f => new WorkerForm(f.Extension, f.Staged.Leave(), f.Hash))],
            Output = prepared.Output,
            House = prepared.House,
            Files = prepared.Files,
            Diagnostics = prepared.Diagnostics,
            Outputs = prepared.Outputs,
        };
    }
}
