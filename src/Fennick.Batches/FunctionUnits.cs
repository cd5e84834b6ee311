using System.Collections.Immutable;
using System.Reflection;
using System.Reflection.Metadata.Ecma335;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Provenance;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>Units whose reports a function makes.</summary>
internal sealed class FunctionUnits(Func<BatchUnit, Report> make) : IUnitMaker
{
    private ImmutableArray<Diagnostic>? undeclared;

    public string Name => make.Method.DeclaringType?.FullName ?? make.Method.Name;

    public ImmutableArray<Diagnostic> Undeclared => undeclared ??= FindUndeclared();

    public Manuscript? Manuscript => null;

    public ImmutableArray<IReportWriter> Forms => [];

    public IEnumerable<Diagnostic> FromProcessFolder => [];

    public IEnumerable<string> KnownInputs => [];

    public IEnumerable<string> InputsOf(BatchUnit unit) => [];

    public string Fingerprint(FileHashes hashes) => FileHashes.OfText($"{make.Method.Module.ModuleVersionId} {typeof(Report).Assembly.ManifestModule.ModuleVersionId}");

    public ImmutableSortedDictionary<string, object> ReadParameters(RosterRow row, List<Diagnostic> diagnostics) =>
        row.Columns.Zip(row.Cells).Where(c => c.Second is not null).ToImmutableSortedDictionary(c => c.First, c => (object)c.Second!, StringComparer.Ordinal);

    public IDisposable Begin(List<Diagnostic> diagnostics, out TimeSpan? compileTime)
    {
        compileTime = null;
        return WorkingFolder.Enter(WorkingFolder.Current);
    }

    /// <summary>What the function uses from around it, and the calls that it may come to of which nobody knows what they bring.</summary>
    private ImmutableArray<Diagnostic> FindUndeclared()
    {
        var method = make.Method;
        if (method.IsDefined(typeof(DeclaresInputsAttribute), inherit: false)) return [];
        var around = make.Target?.GetType().GetFields(BindingFlags.Instance | BindingFlags.Public | BindingFlags.NonPublic).FirstOrDefault();
        if (around is not null) return [UndeclaredAdvice.OfVariable(around.Name)];
        var path = method.Module.FullyQualifiedName;
        // A program that is one file has no code to look into.
        if (!File.Exists(path)) return [UndeclaredAdvice.OfUnreadable(Name)];
        using var assembly = File.OpenRead(path);
        using var symbols = File.Exists(Path.ChangeExtension(path, ".pdb")) ? File.OpenRead(Path.ChangeExtension(path, ".pdb")) : null;
        return [.. UndeclaredCalls.Find(assembly, symbols, (_, handle) => MetadataTokens.GetToken(handle) == method.MetadataToken, name => PathOf(name) is { } path ? File.OpenRead(path) : null)
            .Select(c => UndeclaredAdvice.Of(c.Call, c.Kind, c.Line > 0 ? new SourcePlace(Path.GetFileName(c.Document), c.Line, c.Column) : null))];

        static string? PathOf(string library) => AppDomain.CurrentDomain.GetAssemblies().FirstOrDefault(a => !a.IsDynamic && a.GetName().Name == library)?.Location is { Length: > 0 } location ? location : null;
    }

    public MadeReport Make(BatchUnit unit, Sharing.Store store)
    {
        using var scope = new StepContext(store).Enter();
        using var read = FilesRead.Begin();
        try
        {
            return new MadeReport(make(unit).Build(), [], [], read.Files);
        }
        catch (Exception problem) when (problem is not ReportException)
        {
            throw new ReportException([Diagnostic.Error(null, $"{problem.Message.ReplaceLineEndings(" ")} ({problem.GetType().Name})")], problem);
        }
    }
}
