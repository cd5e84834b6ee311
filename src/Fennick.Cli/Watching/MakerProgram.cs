using System.Diagnostics;
using System.Runtime.InteropServices;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Reuse;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Cli.Watching;

/// <summary>The process that makes the report of a manuscript that is being watched, again and again.</summary>
internal sealed class MakerProgram
{
    private const string Variable = "FENNICK_MAKES_IN";
    private const int StackSize = 16 * 1024 * 1024;

    private readonly FileStream replies;
    private readonly object guard = new();
    private int wanted;
    private int running;
    private bool runsAll;
    private Action? stop;
    private readonly StepMemory memory = new();

    private MakerProgram(FileStream replies) => this.replies = replies;

    /// <summary>Makes a process a maker.</summary>
    public static void Mark(ProcessStartInfo start, string folder) => start.Environment[Variable] = folder;

    /// <summary>Does the work if this process is a maker.</summary>
    /// <returns>Whether it is.</returns>
    public static bool Run()
    {
        if (Environment.GetEnvironmentVariable(Variable) is not { Length: > 0 } folder || !Directory.Exists(folder)) return false;
        Environment.SetEnvironmentVariable(Variable, null);
        ProcessWatch.Enter(folder);
        var maker = new MakerProgram(UnixStreams.TakeOutput(ProcessWatch.LogIn(folder)));
        // Ctrl-C reaches all processes of a terminal; the one that watches ends this one.
        using var interrupt = PosixSignalRegistration.Create(PosixSignal.SIGINT, context => context.Cancel = true);
        var requests = new StreamReader(UnixStreams.TakeInput());
        var opening = MakerEvent.Read<MakerOpening>(requests.ReadLine() ?? throw new EndOfStreamException());
        new Thread(() => maker.Work(opening), StackSize) { IsBackground = true }.Start();
        while (requests.ReadLine() is { } line) maker.Take(MakerEvent.Read<MakerRequest>(line));
        // When nobody can ask any more, the process ends, whatever it is at.
        Environment.Exit(0);
        return true;
    }

    private void Take(MakerRequest request)
    {
        lock (guard)
        {
            if (!request.IsStopped)
            {
                wanted = request.Run;
                runsAll |= request.RunsAll;
                Monitor.Pulse(guard);
                return;
            }
            if (wanted != request.Run)
            {
                if (running == request.Run) stop?.Invoke();
                return;
            }
            wanted = 0;
        }
        Say(new MakerEvent(request.Run) { IsStopped = true });
    }

    private void Work(MakerOpening opening)
    {
        WorkingFolder.Follows = true;
        var start = WorkingFolder.Current;
        while (true)
        {
            using var source = new CancellationTokenSource();
            int run;
            lock (guard)
            {
                while (wanted == 0) Monitor.Wait(guard);
                (run, running, wanted) = (wanted, wanted, 0);
                if (runsAll) memory.Forget();
                runsAll = false;
                stop = source.Cancel;
            }
            WorkingFolder.Change(start);
            Make(opening, run, source.Token);
            lock (guard) (running, stop) = (0, null);
        }
    }

    private void Make(MakerOpening opening, int run, CancellationToken token)
    {
        if (WatchedScript.Is(opening.Manuscript))
        {
            RunScript(opening, run, token);
            return;
        }
        var watch = Stopwatch.StartNew();
        var steps = new List<LiveStep>();
        var diagnostics = new List<Diagnostic>();
        var files = new HashSet<string>(StringComparer.Ordinal) { Path.GetFullPath(opening.Manuscript) };
        try
        {
            var manuscript = Manuscript.Open(opening.Manuscript, opening.With);
            files.UnionWith(manuscript.KnownInputs);
            var (made, compileTime) = manuscript.RunToLookAt(ParametersFor(manuscript, opening, files), memory,
                (name, place) => Say(new MakerEvent(run) { Begun = new StepBegun(name, place.File, place.Line) }),
                step => steps.Add(new LiveStep(step.Name, step.Role, step.Place.File, step.Place.Line, Math.Round(step.Time.TotalMilliseconds, 1), step.Written, Shortened(step.Result), step.IsReused)), token);
            files.UnionWith(made.Files.Select(f => f.Path));
            files.UnionWith(ReportFile.HouseOf(made.Content));
            diagnostics.AddRange(made.Diagnostics);
            var (view, package) = ReportView.Make(made.Content, diagnostics);
            using (package)
            {
                Say(new MakerEvent(run)
                {
                    Made = new MadeView
                    {
                        Report = new LiveReport(view.Title, view.Language, view.Style, view.Html, view.PageCount, [.. view.Origins.Select(o => new LiveOrigin(o.Expression, o.Format, o.Value, o.Place.File, o.Place.Line, o.Place.Column))]),
                        Problems = [.. diagnostics.Select(LiveProblem.Of)],
                        Steps = steps,
                        Files = [.. files],
                        Milliseconds = Math.Round(watch.Elapsed.TotalMilliseconds, 1),
                        CompileMilliseconds = compileTime?.TotalMilliseconds,
                        IsSpent = memory.ProgramCount > MostPrograms,
                    },
                });
                if (opening.Document is { } path) Say(new MakerEvent(run) { Saved = new SavedDocument(path, Save(package, path, files)) });
            }
        }
        catch (OperationCanceledException) when (token.IsCancellationRequested)
        {
            Say(new MakerEvent(run) { IsStopped = true });
        }
        catch (Exception problem)
        {
            var found = problem is ReportException report ? report.Diagnostics : [Fault.Describe(problem)];
            var written = ((problem.InnerException as RunFault)?.Outputs ?? []).Where(o => steps.All(s => s.Name != o.Step)).Select(o => new LiveStep(o.Step, "", "", 0, 0, o.Text, "", IsReused: false));
            Say(new MakerEvent(run) { Made = new MadeView { Problems = [.. diagnostics.Concat(found).Distinct().Select(LiveProblem.Of)], Steps = [.. steps, .. written], Files = [.. files], Milliseconds = Math.Round(watch.Elapsed.TotalMilliseconds, 1) } });
        }
    }

    private void RunScript(MakerOpening opening, int run, CancellationToken token)
    {
        try
        {
            Say(new MakerEvent(run) { Begun = new StepBegun(Path.GetFileName(opening.Manuscript), opening.Manuscript, 1) });
            var (view, saved) = WatchedScript.Run(opening.Manuscript, token);
            Say(new MakerEvent(run) { Made = view });
            foreach (var document in saved) Say(new MakerEvent(run) { Saved = new SavedDocument(document, []) });
        }
        catch (OperationCanceledException) when (token.IsCancellationRequested)
        {
            Say(new MakerEvent(run) { IsStopped = true });
        }
        catch (Exception problem) when (problem is IOException or System.ComponentModel.Win32Exception or InvalidOperationException)
        {
            Say(new MakerEvent(run) { Made = new MadeView { Problems = [LiveProblem.Of(Fault.Describe(problem))], Files = [Path.GetFullPath(opening.Manuscript)] } });
        }
    }

    /// <summary>The values of parameters: those that were given, and those of the unit.</summary>
    private static Dictionary<string, string> ParametersFor(Manuscript manuscript, MakerOpening opening, HashSet<string> files)
    {
        var values = new Dictionary<string, string>(opening.Parameters, StringComparer.Ordinal);
        if (opening.Unit is not { } unit) return values;
        files.Add(unit.Roster);
        foreach (var (name, value) in unit.ValuesFor(manuscript)) values.TryAdd(name, value);
        return values;
    }

    /// <summary>Writes the document; it is no reason to show no page if that fails.</summary>
    private static LiveProblem[] Save(Wordprocessing.PackageBuilder package, string path, IReadOnlySet<string> inputs)
    {
        var diagnostics = new List<Diagnostic>();
        try
        {
            Destination.Check(path, inputs, force: false);
            ReportFile.Put(package, path, diagnostics);
        }
        catch (ReportException problem)
        {
            diagnostics.AddRange(problem.Diagnostics);
        }
        return [.. diagnostics.Select(LiveProblem.Of)];
    }

    private static string Shortened(string text) => text.Length > LongestResult ? $"{text[..LongestResult]}\n…" : text;

    private const int LongestResult = 20_000;

    // Each takes a quarter of a megabyte.
    private const int MostPrograms = 400;

    private void Say(MakerEvent message)
    {
        var line = System.Text.Encoding.UTF8.GetBytes(MakerEvent.Line(message) + "\n");
        lock (guard)
        {
            replies.Write(line);
            replies.Flush();
        }
    }
}
