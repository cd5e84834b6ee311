using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;

namespace Fennick.Batches;

/// <summary>Units whose reports a function makes.</summary>
internal sealed class FunctionUnits(Func<Unit, Report> make) : IUnitMaker
{
    public string Name => make.Method.DeclaringType?.FullName ?? make.Method.Name;

    public string? UnknownSource => null;

    public IEnumerable<string> KnownInputs => [];

    public IEnumerable<string> InputsOf(Unit unit) => [];

    public string Fingerprint(FileHashes hashes) => FileHashes.OfText($"{make.Method.Module.ModuleVersionId} {typeof(Report).Assembly.ManifestModule.ModuleVersionId}");

    public ImmutableSortedDictionary<string, object> ReadParameters(RosterRow row, List<Diagnostic> diagnostics) =>
        row.Columns.Zip(row.Cells).Where(c => c.Second is not null).ToImmutableSortedDictionary(c => c.First, c => (object)c.Second!, StringComparer.Ordinal);

    public IDisposable Begin(List<Diagnostic> diagnostics, out TimeSpan? compileTime)
    {
        compileTime = null;
        return WorkingFolder.Enter(WorkingFolder.Current);
    }

    public MadeReport Make(Unit unit, Sharing.Store store)
    {
        using var read = FilesRead.Begin();
        store.Enter();
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
