using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Fennick.Diagnostics;

namespace Fennick.Cli.Watching;

/// <summary>Watches a manuscript: has its report made again whenever a file changes that it is made from, and shows it. All that happens is taken one after the other on one thread.</summary>
internal sealed class WatchSession : IDisposable
{
    // Editors write in several steps.
    private static readonly TimeSpan Quiet = TimeSpan.FromMilliseconds(15);

    // A step that does not end by then is ended with its process.
    private static readonly TimeSpan Grace = TimeSpan.FromMilliseconds(300);

    // Where the system does not tell of changes, and after a machine has slept.
    private static readonly TimeSpan LookEvery = TimeSpan.FromSeconds(1);

    private readonly BlockingCollection<Action> happened = [];
    private readonly MakerOpening opening;
    private readonly EditorCall? editor;
    private readonly WatchedFiles files;
    private readonly LiveServer server;
    private MakerProcess maker;
    private ImmutableHashSet<string> sources = [];
    private int run;
    private bool isMaking;
    private bool isOvertaken;
    private bool isEnded;
    private bool runsAll;
    private bool isSpent;
    private long? changedAt;
    private long overtakenAt;
    private long looked = Stopwatch.GetTimestamp();
    private DateTime begun;
    private bool hasFailed;

    /// <summary>Begins to watch.</summary>
    /// <exception cref="ReportException">The page cannot be served.</exception>
    public WatchSession(MakerOpening opening, ushort? port, EditorCall? editor)
    {
        this.opening = opening;
        this.editor = editor;
        server = new LiveServer(port, question => happened.Add(() => Answer(question)), () => happened.Add(() => isEnded = true));
        files = new WatchedFiles(() => happened.Add(() => changedAt = Stopwatch.GetTimestamp()));
        files.Follow([Path.GetFullPath(opening.Manuscript)], DateTime.MaxValue);
        maker = Start();
        server.Show("setup", new { manuscript = opening.Manuscript, hasEditor = editor is not null, opening.Document });
    }

    /// <summary>Where the page is.</summary>
    public string Address => server.Address;

    /// <summary>Watches until it is told to end.</summary>
    public void Run(CancellationToken stop)
    {
        Begin();
        while (!isEnded && !stop.IsCancellationRequested)
        {
            try
            {
                if (happened.TryTake(out var next, changedAt is null && !isOvertaken ? 200 : 5, stop)) next();
            }
            catch (OperationCanceledException)
            {
                return;
            }
            if (changedAt is { } at && Stopwatch.GetElapsedTime(at) >= Quiet)
            {
                changedAt = null;
                if (files.HaveChanged() || (hasFailed && !isMaking)) Change();
            }
            if (Stopwatch.GetElapsedTime(looked) >= LookEvery)
            {
                looked = Stopwatch.GetTimestamp();
                if (files.HaveChanged()) Change();
            }
            if (isOvertaken && Stopwatch.GetElapsedTime(overtakenAt) >= Grace)
            {
                maker.Dispose();
                maker = Start();
                Begin();
            }
        }
        if (isEnded) throw new ReportException(Diagnostic.Error(null, "the live page has ended", "call the command again"));
    }

    public void Dispose()
    {
        files.Dispose();
        maker.Dispose();
        server.Dispose();
    }

    private MakerProcess Start() => new(opening, e => happened.Add(() => Take(e)), (ended, how) => happened.Add(() => Replace(ended, how)));

    private void Begin()
    {
        run++;
        (isMaking, isOvertaken, begun) = (true, false, DateTime.UtcNow);
        maker.Make(run, runsAll);
        runsAll = false;
        server.Show("state", new { run, isMaking });
    }

    /// <summary>A file has changed: what is being made is wanted no longer.</summary>
    private void Change()
    {
        if (!isMaking)
        {
            Begin();
            return;
        }
        if (isOvertaken) return;
        (isOvertaken, overtakenAt) = (true, Stopwatch.GetTimestamp());
        maker.Stop(run);
    }

    private void Take(MakerEvent message)
    {
        if (message.Run != run) return;
        if (message.Begun is { } step) server.Show("state", new { run, isMaking, step });
        if (message.Made is { } made) Show(made);
        if (message.Saved is { } saved)
        {
            server.Show("document", saved);
            Say(saved.Problems);
        }
        isSpent |= message.Made is { IsSpent: true };
        if (message.IsStopped || message.Made is not null)
        {
            isMaking = false;
            if (isOvertaken)
            {
                Begin();
                return;
            }
        }
        // The document is written behind the page; then another maker is in nobody's way.
        if (!isSpent || isMaking || (message.Saved is null && opening.Document is not null)) return;
        maker.Dispose();
        (maker, isSpent) = (Start(), false);
        Begin();
    }

    private void Show(MadeView made)
    {
        sources = [.. sources, .. made.Files];
        // What a run that failed has not come to is still waited for.
        files.Follow(made.Report is null ? sources : made.Files, begun);
        hasFailed = made.Report is null;
        if (!hasFailed) sources = [.. made.Files];
        if (made.Report is { } report) server.Show("report", new { run, report });
        server.Show("state", new { run, isMaking = false, hasFailed, made.Problems, made.Steps, made.Milliseconds, made.CompileMilliseconds, made.Report?.Pages });
        Say(made.Problems);
        if (made.Report is { Pages: var pages })
            Terminal.Say(string.Create(CultureInfo.InvariantCulture, $"{DateTime.Now:HH:mm:ss}  {pages} page{(pages == 1 ? "" : "s")} in {Terminal.Describe(TimeSpan.FromMilliseconds(made.Milliseconds))}"));
    }

    private static void Say(IEnumerable<LiveProblem> problems)
    {
        foreach (var problem in problems)
            Terminal.Say(new Diagnostic(Enum.Parse<Severity>(problem.Severity, ignoreCase: true), problem.File is null ? null : new SourcePlace(problem.File, problem.Line, problem.Column), problem.Message, problem.Suggestion));
    }

    /// <summary>A step has ended the process of the maker.</summary>
    private void Replace(MakerProcess ended, Diagnostic how)
    {
        if (ended != maker) return;
        maker = Start();
        isMaking = false;
        if (isOvertaken) Begin();
        else Show(new MadeView { Problems = [LiveProblem.Of(how)] });
    }

    private void Answer(PageQuestion question)
    {
        if (question.Again)
        {
            runsAll = true;
            Change();
        }

        // A page opens what its report is made from, and nothing else.
        if (question.Open is { } file && editor is not null && sources.Contains(Path.GetFullPath(file))) editor.Open(Path.GetFullPath(file), question.Line, question.Column);
    }
}
