using System.Diagnostics;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;

namespace Fennick.Cli.Watching;

/// <summary>The handle of a maker: what a step does to its process does nothing to the one that watches.</summary>
internal sealed class MakerProcess : IDisposable
{
    private readonly ProcessWatch watch = new("fennick-watch-");
    private readonly Process process;
    private readonly StreamWriter requests;
    private volatile bool isEnded;

    /// <summary>Starts a maker.</summary>
    /// <param name="opening">What it makes.</param>
    /// <param name="tell">Takes what it says, on a thread of its own.</param>
    /// <param name="died">Is told how it ended, unless it was ended from here.</param>
    public MakerProcess(MakerOpening opening, Action<MakerEvent> tell, Action<MakerProcess, Diagnostic> died)
    {
        watch.Reset();
        var start = OwnProcess.Again();
        start.RedirectStandardInput = start.RedirectStandardOutput = true;
        MakerProgram.Mark(start, watch.Folder);
        process = Process.Start(start)!;
        requests = new StreamWriter(process.StandardInput.BaseStream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false)) { AutoFlush = true };
        Send(opening);
        new Thread(() => Listen(tell, died)) { IsBackground = true }.Start();
    }

    /// <summary>Has the report made.</summary>
    public void Make(int run, bool runsAll) => Send(new MakerRequest(run, RunsAll: runsAll));

    /// <summary>Tells that it is wanted no longer.</summary>
    public void Stop(int run) => Send(new MakerRequest(run, IsStopped: true));

    public void Dispose()
    {
        if (isEnded) return;
        isEnded = true;
        try
        {
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
        }
        catch (InvalidOperationException)
        {
            // It has ended by itself.
        }
        Clean();
    }

    private void Send<T>(T message)
    {
        try
        {
            requests.WriteLine(MakerEvent.Line(message));
        }
        catch (IOException)
        {
            // It has ended; whoever listens says so.
        }
    }

    private void Listen(Action<MakerEvent> tell, Action<MakerProcess, Diagnostic> died)
    {
        using var replies = new StreamReader(process.StandardOutput.BaseStream, Encoding.UTF8);
        try
        {
            while (replies.ReadLine() is { } line)
                if (!isEnded) tell(MakerEvent.Read<MakerEvent>(line));
        }
        catch (IOException)
        {
            // It was ended.
        }
        if (isEnded) return;
        process.WaitForExit();
        var end = watch.Describe(process);
        isEnded = true;
        Clean();
        died(this, end);
    }

    private void Clean()
    {
        process.Dispose();
        watch.Dispose();
    }
}
