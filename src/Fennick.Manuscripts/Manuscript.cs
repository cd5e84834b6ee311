using System.Collections.Immutable;
using System.Diagnostics;
using System.Runtime.CompilerServices;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Compilation;
using Fennick.Manuscripts.Parsing;
using Fennick.Manuscripts.Provenance;
using Fennick.Manuscripts.Reuse;
using Fennick.Manuscripts.Running;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Outputs;
using Fennick.Revision;
using Fennick.Running;

namespace Fennick.Manuscripts;

/// <summary>A manuscript: Markdown prose and C# steps that become a report.</summary>
public sealed class Manuscript
{
    /// <summary>The ending of manuscript files.</summary>
    public const string Extension = ".ms.md";

    private const string TrialFolder = "fennick-try-";

    // What may bring files in without naming them.
    private static readonly string[] PathlessCalls = ["Type.", "Activator.", "Binder.", "Expression", "LambdaExpression.", "Db"];

    private readonly ManuscriptTree tree;
    private readonly string folder;
    private readonly ImmutableArray<Diagnostic> warnings;
    private LibrarySet? libraries;

    private Manuscript(ManuscriptTree tree, string folder, ImmutableArray<Diagnostic> warnings)
    {
        this.tree = tree;
        this.folder = folder;
        this.warnings = warnings;
    }

    /// <summary>Reads and parses a manuscript.</summary>
    /// <param name="path">The file, which ends in <c>.ms.md</c>; diagnostics name it as it is written here.</param>
    /// <param name="with">Settings that count instead of the manuscript's own, by key, such as <c>listing</c>.</param>
    /// <exception cref="ReportException">There is no such file, it is not UTF-8, or its text has errors.</exception>
    public static Manuscript Open(string path, IReadOnlyDictionary<string, string>? with = null) => Open(path, with, null);

    /// <summary>The same, where files may be open in an editor.</summary>
    internal static Manuscript Open(string path, IReadOnlyDictionary<string, string>? with, Func<string, string?>? textOf)
    {
        using var read = FilesRead.Begin();
        var diagnostics = new List<Diagnostic>();
        var tree = Parse(path, with, textOf, diagnostics);
        diagnostics = [.. InOrder(diagnostics)];
        ReportException.ThrowIfAny(diagnostics);
        return new Manuscript(tree, Path.GetDirectoryName(Path.GetFullPath(path))!, [.. diagnostics])
        {
            Files = read.Files,
            With = with ?? ImmutableDictionary<string, string>.Empty,
            OpenedIn = WorkingFolder.Current,
            Given = string.Join('\n', (with ?? ImmutableDictionary<string, string>.Empty).Where(w => w.Key != "outputs").OrderBy(w => w.Key, StringComparer.Ordinal).Select(w => $"{w.Key}={w.Value}")),
        };
    }

    /// <summary>The tree of a manuscript, also of one that has errors.</summary>
    /// <exception cref="ReportException">There is no such file, it is not UTF-8, or it has errors that leave no tree.</exception>
    internal static ManuscriptTree Parse(string path, IReadOnlyDictionary<string, string>? with, Func<string, string?>? textOf, List<Diagnostic> diagnostics)
    {
        ArgumentNullException.ThrowIfNull(path);
        var place = new SourcePlace(path, 0, 0);
        if (!path.EndsWith(Extension, StringComparison.Ordinal))
            throw new ReportException(Diagnostic.Error(place, $"a manuscript's name ends in `{Extension}`", Directory.Exists(path) ? "this is a folder; name the file" : "rename the file, or name another"));
        if (!File.Exists(path)) throw new ReportException(Diagnostic.Error(place, "there is no such manuscript", NearFile(path)));
        var sources = new SourceFiles { TextOf = textOf };
        sources.Read(path, path, place);
        return ManuscriptParser.Parse(sources, with ?? ImmutableDictionary<string, string>.Empty, diagnostics);
    }

    /// <summary>What is wrong in the order in which a reader meets it: file by file, line by line.</summary>
    private static IEnumerable<Diagnostic> InOrder(IReadOnlyCollection<Diagnostic> diagnostics)
    {
        var files = diagnostics.Select(d => d.Place?.File).Distinct().ToList();
        return diagnostics.OrderBy(d => files.IndexOf(d.Place?.File)).ThenBy(d => d.Place?.Line ?? 0).ThenBy(d => d.Place?.Column ?? 0);
    }

    /// <summary>The files that it was read from.</summary>
    internal IReadOnlyList<FileStamp> Files { get; private init; } = [];

    /// <summary>The settings that count instead of its own.</summary>
    internal IReadOnlyDictionary<string, string> With { get; private init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The folder that its path is relative to.</summary>
    internal string OpenedIn { get; private init; } = "";

    /// <summary>The same settings as a text, but for those that change nothing in the document.</summary>
    internal string Given { get; private init; } = "";

    internal string Folder => folder;

    internal ManuscriptTree Tree => tree;

    /// <summary>How many steps it has.</summary>
    internal int StepCount => tree.Executables.OfType<Step>().Count();

    /// <summary>The labels of its steps.</summary>
    internal ImmutableArray<string> StepLabels => [.. tree.Executables.OfType<Step>().Select(s => s.Label?.Text).OfType<string>()];

    /// <summary>The names of its parameters.</summary>
    internal ImmutableArray<string> ParameterNames => [.. tree.Settings.Parameters.Select(p => p.Name)];

    private LibrarySet Libraries => libraries ??= LibrarySet.Load(tree.Settings.Libraries, folder, CompiledCache.LibraryFolder);

    /// <summary>The encoding of its data files, by the setting <c>data.encoding</c>; null for UTF-8.</summary>
    public string? DataEncoding => tree.Settings.DataEncoding;

    /// <summary>Where the report goes unless told otherwise: beside the manuscript, under its name.</summary>
    public string DefaultOutput => Path.Combine(folder, Path.GetFileName(tree.Sources.Main.DisplayPath)[..^Extension.Length] + ".docx");

    /// <summary>
    /// Runs the manuscript and writes its report. While it runs, relative paths start from the manuscript's folder for all of Fennick's own readers and for <see cref="Inputs.Declare"/>, the current culture
    /// is that of its language, and what the steps write to the console is caught. Any number of manuscripts may run at once.
    /// </summary>
    /// <param name="output">The report's file; <see cref="DefaultOutput"/> if null.</param>
    /// <param name="parameters">Values of parameters, by name, as written on the command line.</param>
    /// <param name="force">Whether a file that is protected against writing is replaced too.</param>
    /// <param name="anew">Whether a document that people have edited is put aside, and not refreshed.</param>
    /// <param name="stop">Ends the run before its next step.</param>
    /// <exception cref="ReportException">The code does not compile, a step fails, the report has errors, or it would be written over a file that it is made from; an old file stays as it was.</exception>
    /// <exception cref="OperationCanceledException">The run was ended; an old file stays as it was.</exception>
    public WriteResult Write(string? output = null, IReadOnlyDictionary<string, string>? parameters = null, bool force = false, bool anew = false, CancellationToken stop = default)
    {
        var total = Stopwatch.StartNew();
        var path = RunContext.FullPath(output ?? DefaultOutput);
        ReportFile.CheckName(output ?? path);
        if (Directory.Exists(path)) throw new ReportException(Diagnostic.Error(new SourcePlace(output ?? path, 0, 0), "this is a folder", "name a file in it"));
        var values = ReadParameters(parameters ?? ImmutableDictionary<string, string>.Empty);
        var diagnostics = warnings.ToBuilder();
        var (ready, compileTime) = Prepare(diagnostics);
        Destination.Check(path, [.. KnownInputs, .. ready.HouseFor(values).Files.Select(f => f.Path)], force);
        MadeReport made;
        using (WorkingFolder.Enter(folder)) made = ready.MakeForWriter(values, stop);
        var saved = ReportFile.Save(made.Content, path, [.. Files.Concat(made.Files).Select(f => f.Path)], force, anew);
        var also = ImmutableArray.CreateBuilder<string>();
        foreach (var writer in tree.Settings.Outputs)
        {
            var beside = Path.ChangeExtension(path, writer.Extension);
            // What the document has told already is not told again.
            saved = [.. saved, .. OutputFile.Save(made.Content, beside, writer, [.. Files.Concat(made.Files).Select(f => f.Path)], force).Except(saved)];
            also.Add(beside);
        }
        return new WriteResult(path, total.Elapsed, compileTime, [.. diagnostics, .. FromProcessFolder(ready), .. made.Diagnostics, .. saved], made.Outputs) { Also = also.ToImmutable() };
    }

    /// <summary>Runs the manuscript without writing anything: the report can be inspected, saved, or written into a stream such as a web server's answer.</summary>
    /// <param name="parameters">Values of parameters, by name, as written on the command line.</param>
    /// <param name="stop">Ends the run before its next step.</param>
    /// <exception cref="ReportException">The code does not compile, or a step fails.</exception>
    /// <exception cref="OperationCanceledException">The run was ended.</exception>
    /// <example><code>await manuscript.Run(values, stop).Content.WriteAsync(response.Body, stop);</code></example>
    public RunResult Run(IReadOnlyDictionary<string, string>? parameters = null, CancellationToken stop = default)
    {
        var values = ReadParameters(parameters ?? ImmutableDictionary<string, string>.Empty);
        var diagnostics = warnings.ToBuilder();
        var (ready, _) = Prepare(diagnostics);
        MadeReport made;
        using (WorkingFolder.Enter(folder)) made = ready.Make(values, new Sharing.Store(), stop);
        return new RunResult(made.Content, [.. diagnostics, .. FromProcessFolder(ready), .. made.Diagnostics], made.Outputs);
    }

    /// <summary>Runs the manuscript and brings a document of it up to date that people have edited: what they did stays.</summary>
    /// <param name="edited">The document; a copy of it as it was is kept beside it.</param>
    /// <param name="parameters">Values of parameters, by name, as written on the command line; those that the document was made with for the others.</param>
    /// <param name="options">How; by comments if null.</param>
    /// <param name="dry">Whether nothing is written.</param>
    /// <param name="stop">Ends the run before its next step.</param>
    /// <exception cref="ReportException">The document cannot be read, remembers nothing of how it was made, or a step fails; it is as it was.</exception>
    /// <exception cref="OperationCanceledException">The run was ended; the document is as it was.</exception>
    public RefreshedReport Refresh(string edited, IReadOnlyDictionary<string, string>? parameters = null, RefreshOptions? options = null, bool dry = false, CancellationToken stop = default)
    {
        ArgumentNullException.ThrowIfNull(edited);
        var path = RunContext.FullPath(edited);
        var known = KnownParameters(path);
        foreach (var (name, value) in parameters ?? ImmutableDictionary<string, string>.Empty) known[name] = value;
        var values = ReadParameters(known);
        var diagnostics = warnings.ToBuilder();
        var (ready, compileTime) = Prepare(diagnostics);
        MadeReport made;
        using (WorkingFolder.Enter(folder)) made = ready.MakeForWriter(values, stop);
        string? kept = null;
        RefreshResult result;
        if (dry) result = Living.Preview(path, made.Content, options);
        else (result, kept) = Living.Refresh(path, made.Content, options);
        return new RefreshedReport(path, kept, result, compileTime, [.. diagnostics, .. made.Diagnostics], made.Outputs);
    }

    /// <summary>Runs the manuscript again with the parameters that a document was made with, and says what it no longer gives, and why.</summary>
    /// <param name="document">The document.</param>
    /// <param name="stop">Ends the run before its next step.</param>
    /// <exception cref="ReportException">The document cannot be read, remembers nothing of how it was made, or a step fails.</exception>
    /// <exception cref="OperationCanceledException">The run was ended.</exception>
    public VerifyResult Verify(string document, CancellationToken stop = default)
    {
        ArgumentNullException.ThrowIfNull(document);
        var path = RunContext.FullPath(document);
        return Living.Verify(path, Run(KnownParameters(path), stop).Content);
    }

    /// <summary>The values of parameters that a document was made with.</summary>
    private Dictionary<string, string> KnownParameters(string document) => Living.ParametersOf(document).Where(p => ParameterNames.Contains(p.Key)).ToDictionary(p => p.Key, p => p.Value, StringComparer.Ordinal);

    /// <summary>Runs the manuscript for somebody who looks at what comes of it while writing.</summary>
    /// <param name="parameters">Values of parameters, by name, as written on the command line.</param>
    /// <param name="memory">What came of its steps in runs before.</param>
    /// <param name="began">Is told of each step when it begins.</param>
    /// <param name="show">Takes each step when it has run, or need not run.</param>
    /// <param name="stop">Ends the run before its next step.</param>
    /// <exception cref="ReportException">The code does not compile, or a step fails.</exception>
    /// <exception cref="OperationCanceledException">The run was ended.</exception>
    internal (MadeReport Made, TimeSpan? CompileTime) RunToLookAt(IReadOnlyDictionary<string, string> parameters, StepMemory memory, Action<string, SourcePlace> began, Action<TriedStep> show, CancellationToken stop)
    {
        var values = ReadParameters(parameters);
        var diagnostics = warnings.ToBuilder();
        var watch = Stopwatch.StartNew();
        var (compiled, isNew) = memory.Compile(tree, Libraries);
        TimeSpan? compileTime = isNew ? watch.Elapsed : null;
        var ready = Ready(compiled, diagnostics);
        using (WorkingFolder.Enter(folder))
        {
            var made = ready.MakeToLookAt(values, new Trial(tree, null, null, show) { Began = began }, memory, stop);
            return (made with { Diagnostics = [.. diagnostics, .. FromProcessFolder(ready), .. made.Diagnostics] }, compileTime);
        }
    }

    /// <summary>The files that a report is made from, as far as they are known before a step has run.</summary>
    internal IEnumerable<string> KnownInputs =>
        [.. Files.Select(f => f.Path), .. tree.Settings.Data ?? [], .. tree.Settings.Libraries.Where(l => l.Version is null).Select(l => l.Name), .. tree.PictureFiles];

    /// <summary>The calls that may bring something into a report that nobody declares, unless the setting <c>data</c> speaks for them.</summary>
    internal IEnumerable<(string Call, CallKind Kind, SourcePlace Place)> UndeclaredCalls(ReadyManuscript ready) => ready.Undeclared
        .Where(c => c.Kind == CallKind.Changing || tree.Settings.Data is null)
        .Select(c => (c.Call, c.Kind, c.Ordinal is { } ordinal ? tree.PlaceOf(ordinal, c.Line, c.Column) : tree.Settings.Place));

    /// <summary>Tells of calls that start relative paths from the folder of a process that is not the manuscript's.</summary>
    internal IEnumerable<Diagnostic> FromProcessFolder(ReadyManuscript ready) => WorkingFolder.Follows || WorkingFolder.Current == folder ? []
        : ready.Undeclared.Where(c => c is { Kind: CallKind.Files, Ordinal: not null } && !PathlessCalls.Any(p => c.Call.StartsWith(p, StringComparison.Ordinal))).Select(c => new Diagnostic(Severity.Advice, tree.PlaceOf(c.Ordinal!.Value, c.Line, c.Column),
            $"`{c.Call}` starts relative paths from the folder of the process, {WorkingFolder.Current}, not from the manuscript's", "give it the full path, such as `Inputs.Declare(\"data/notes.txt\")` returns it"));

    /// <summary>Makes the manuscript ready to run.</summary>
    /// <param name="diagnostics">Takes what the compiler warns of.</param>
    /// <returns>With what compiling took; null if the code was compiled before.</returns>
    internal (ReadyManuscript Ready, TimeSpan? CompileTime) Prepare(ImmutableArray<Diagnostic>.Builder diagnostics)
    {
        var (compiled, compileTime) = Compile(diagnostics);
        return (Ready(compiled, diagnostics), compileTime);
    }

    private ReadyManuscript Ready(CompiledManuscript compiled, ImmutableArray<Diagnostic>.Builder diagnostics)
    {
        diagnostics.AddRange(compiled.Warnings.Select(w => w.Tell(tree)));
        return new ReadyManuscript(tree, folder, compiled, Libraries);
    }

    /// <summary>Finds all that can be known to be wrong without running a step: the text, formats, references, and the C# code.</summary>
    /// <returns>What deserves attention, and what compiling took; null if the code was compiled before.</returns>
    /// <exception cref="ReportException">Something is wrong.</exception>
    public (ImmutableArray<Diagnostic> Diagnostics, TimeSpan? CompileTime) Check()
    {
        var diagnostics = warnings.ToBuilder();
        diagnostics.AddRange(ManuscriptCheck.Find(tree));
        try
        {
            var (_, compileTime) = Prepare(diagnostics);
            diagnostics = InOrder(diagnostics).ToImmutableArray().ToBuilder();
            ReportException.ThrowIfAny(diagnostics);
            return (diagnostics.ToImmutable(), compileTime);
        }
        catch (ReportException problem) when (diagnostics.Any(d => d.Severity == Severity.Error) && !problem.Diagnostics.Any(diagnostics.Contains))
        {
            throw new ReportException(InOrder([.. diagnostics, .. problem.Diagnostics]), problem);
        }
    }

    /// <summary>The same while it is being written: nothing is compiled that could run, and nothing is kept.</summary>
    internal ImmutableArray<Diagnostic> CheckText() => [.. InOrder([.. warnings, .. ManuscriptCheck.Find(tree), .. ManuscriptCompiler.Check(tree, Libraries)])];

    /// <summary>Runs the steps up to one of them and shows what each gives, without making the report.</summary>
    /// <param name="label">The label of the last step; null for all.</param>
    /// <param name="show">Takes each step when it has run.</param>
    /// <param name="parameters">Values of parameters, by name, as written on the command line.</param>
    /// <param name="room">How many letters a line has that shows a table: a wider one goes on below itself, and of many rows the first are shown; any number if null.</param>
    /// <returns>What compiling took, and what deserves attention.</returns>
    /// <exception cref="ReportException">There is no such step, the code does not compile, or a step fails.</exception>
    public (TimeSpan? CompileTime, ImmutableArray<Diagnostic> Diagnostics) Try(string? label, Action<TriedStep> show, IReadOnlyDictionary<string, string>? parameters = null, int? room = null)
    {
        ArgumentNullException.ThrowIfNull(show);
        var labels = StepLabels;
        if (label is not null && !labels.Contains(label))
        {
            throw new ReportException(Diagnostic.Error(new SourcePlace(tree.Sources.Main.DisplayPath, 0, 0), $"no step is labelled `{label}`",
                Nearest.Suggest(label, labels) ?? (labels.IsEmpty ? "no step has a label: write one after its role" : $"the labels are {string.Join(", ", labels.Select(l => $"`{l}`"))}")));
        }
        var values = ReadParameters(parameters ?? ImmutableDictionary<string, string>.Empty);
        var diagnostics = warnings.ToBuilder();
        var (ready, compileTime) = Prepare(diagnostics);
        // A folder that only this user can look into, under a name that nobody can know before.
        OwnFolders.RemoveOld(TrialFolder, TimeSpan.FromDays(1));
        var figures = new Lazy<string>(() => OwnFolders.CreateTemporary(TrialFolder));
        var run = new ManuscriptRun(tree, values) { Trial = new Trial(tree, label, figures, show) { Room = room } };
        using (WorkingFolder.Enter(folder)) ready.Try(run);
        ReportException.ThrowIfAny(run.Diagnostics);
        return (compileTime, [.. diagnostics, .. FromProcessFolder(ready), .. run.Diagnostics]);
    }

    /// <summary>The same values, all of which are for parameters of the manuscript.</summary>
    /// <exception cref="ReportException">There is no such parameter.</exception>
    internal IReadOnlyDictionary<string, string> CheckNames(IReadOnlyDictionary<string, string> given)
    {
        ReportException.ThrowIfAny(MistakenNames(given));
        return given;
    }

    private IEnumerable<Diagnostic> MistakenNames(IReadOnlyDictionary<string, string> given)
    {
        var declared = tree.Settings.Parameters;
        return given.Keys.Where(name => declared.All(p => p.Name != name)).Select(name => Diagnostic.Error(tree.Settings.Place, $"the manuscript has no parameter `{name}`",
            Nearest.Suggest(name, declared.Select(p => p.Name)) ?? (declared.IsEmpty ? $"declare it in the settings: `parameter {name}: value`" : $"its parameters are {string.Join(", ", declared.Select(p => $"`{p.Name}`"))}")));
    }

    /// <summary>The values of all parameters: those given, or else their own.</summary>
    /// <exception cref="ReportException">There is no such parameter, one has no value, or a value does not fit its type.</exception>
    internal IReadOnlyDictionary<string, object> ReadParameters(IReadOnlyDictionary<string, string> given)
    {
        var diagnostics = MistakenNames(given).ToList();
        var values = ReadParameters(p => given.TryGetValue(p.Name, out var text) ? (text, p.Place) : null,
            p => Diagnostic.Error(p.Place, $"the parameter `{p.Name}` has no value", $"give one with `--set {p.Name}=VALUE`"), diagnostics);
        ReportException.ThrowIfAny(diagnostics);
        return values;
    }

    /// <summary>The values of all parameters that have one.</summary>
    /// <param name="given">What is given for a parameter, and where; null for its own value.</param>
    /// <param name="missing">What is wrong where nothing is given and it has no value of its own.</param>
    /// <param name="diagnostics">Takes that, and values that do not fit.</param>
    internal ImmutableSortedDictionary<string, object> ReadParameters(Func<Parameter, (string Text, SourcePlace Place)?> given, Func<Parameter, Diagnostic> missing, List<Diagnostic> diagnostics)
    {
        var values = ImmutableSortedDictionary.CreateBuilder<string, object>(StringComparer.Ordinal);
        foreach (var parameter in tree.Settings.Parameters)
        {
            try
            {
                if (given(parameter) is var (text, place)) values[parameter.Name] = parameter.Read(text, place);
                else if (parameter.Default is { } value) values[parameter.Name] = value;
                else diagnostics.Add(missing(parameter));
            }
            catch (ReportException problem)
            {
                diagnostics.AddRange(problem.Diagnostics);
            }
        }
        return values.ToImmutable();
    }

    private (CompiledManuscript Compiled, TimeSpan? Time) Compile(ImmutableArray<Diagnostic>.Builder diagnostics)
    {
        var cache = new CompiledCache();
        var key = ProgramKey.Of(tree, Libraries);
        if (cache.Find(key) is { } known) return (known, null);
        var watch = Stopwatch.StartNew();
        var compiled = CompileNew(key);
        if (!cache.Store(key, compiled))
            diagnostics.Add(Diagnostic.Warning(null, $"the compiled form could not be kept in {cache.Folder}, so every run compiles anew", "make this folder yours and writable, or name another in the variable FENNICK_CACHE"));
        return (compiled, watch.Elapsed);
    }

    // In a method of its own: a run with a cached program must not even look for the compiler.
    [MethodImpl(MethodImplOptions.NoInlining)]
    private CompiledManuscript CompileNew(string key) => ManuscriptCompiler.Compile(tree, key, Libraries);

    private static string NearFile(string path)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        if (!Directory.Exists(folder)) return $"there is no folder {folder}";
        var manuscripts = Directory.EnumerateFiles(folder, $"*{Extension}").Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal).ToArray();
        return Nearest.Suggest(Path.GetFileName(path), manuscripts)
            ?? (manuscripts.Length == 0 ? $"the folder {folder} has no manuscripts" : $"the folder has {string.Join(", ", manuscripts.Select(m => $"`{m}`"))}");
    }
}
