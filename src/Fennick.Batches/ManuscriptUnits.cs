using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;

namespace Fennick.Batches;

/// <summary>The units of a manuscript.</summary>
/// <param name="manuscript">The manuscript.</param>
/// <param name="given">Values of parameters that hold for all units.</param>
internal sealed class ManuscriptUnits(Manuscript manuscript, IReadOnlyDictionary<string, string> given) : IUnitMaker
{
    private readonly HashSet<string> houses = new(StringComparer.Ordinal);
    private ReadyManuscript? ready;

    public string Name => manuscript.Tree.Sources.Main.DisplayPath;

    public ImmutableArray<Diagnostic> Undeclared => [.. manuscript.UndeclaredCalls(ready!).Select(c => UndeclaredAdvice.Of(c.Call, c.Kind, c.Place))];

    public Manuscript? Manuscript => manuscript;

    public ImmutableArray<IReportWriter> Forms => manuscript.Tree.Settings.Outputs;

    public IEnumerable<Diagnostic> FromProcessFolder => manuscript.FromProcessFolder(ready!);

    public IEnumerable<string> KnownInputs => manuscript.KnownInputs;

    public IEnumerable<string> InputsOf(BatchUnit unit) => ready!.HouseFor(unit.Parameters).Files.Select(f => f.Path);

    public string Fingerprint(FileHashes hashes) =>
        FileHashes.OfText(string.Join('\n', manuscript.Files.Select(hashes.Of).Concat((manuscript.Tree.Settings.Data ?? []).Select(hashes.Of)).Append(manuscript.Given).Append(typeof(Report).Assembly.ManifestModule.ModuleVersionId.ToString())));

    public ImmutableSortedDictionary<string, object> ReadParameters(RosterRow row, List<Diagnostic> diagnostics)
    {
        var values = manuscript.ReadParameters(
            p => given.TryGetValue(p.Name, out var text) ? (text, p.Place) : row.FindColumn(p.Name) is { } c && row.Cells[c] is { } cell ? (cell, row.PlaceOf(c)) : null,
            p => row.FindColumn(p.Name) is { } empty
                ? Diagnostic.Error(row.PlaceOf(empty), $"the parameter `{p.Name}` has no value in this row", $"fill the cell, or give the parameter a value in the manuscript ({p.Place})")
                : Diagnostic.Error(p.Place, $"the roster has no column for the parameter `{p.Name}`, which has no value of its own", Nearest.Suggest(p.Name, row.Columns) ?? $"its columns are {string.Join(", ", row.Columns.Select(c => $"`{c}`"))}"),
            diagnostics);
        CheckHouse(row, values, diagnostics);
        return values;
    }

    /// <summary>A house or an accent that a row gives is one, or that is told before anything runs.</summary>
    private void CheckHouse(RosterRow row, IReadOnlyDictionary<string, object> values, List<Diagnostic> diagnostics)
    {
        var settings = manuscript.Tree.Settings;
        var names = settings.HouseOfUnit.SelectMany(e => e.Parameters).ToArray();
        if (names.Length == 0 || !names.All(values.ContainsKey) || !houses.Add(settings.HouseKey(values))) return;
        try
        {
            settings.HouseFor(values, manuscript.Tree.Sources);
        }
        catch (ReportException problem)
        {
            var column = names.Select(row.FindColumn).FirstOrDefault(c => c is not null) ?? 0;
            diagnostics.AddRange(problem.Diagnostics.Select(d => d with { Place = row.PlaceOf(column) }));
        }
    }

    public IDisposable Begin(List<Diagnostic> diagnostics, out TimeSpan? compileTime)
    {
        var warnings = ImmutableArray.CreateBuilder<Diagnostic>();
        (ready, compileTime) = manuscript.Prepare(warnings);
        diagnostics.AddRange(warnings);
        return WorkingFolder.Enter(manuscript.Folder);
    }

    public MadeReport Make(BatchUnit unit, Sharing.Store store) => ready!.Make(unit.Parameters, store);
}
