using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Manuscripts;
using Fennick.Outputs;
using Fennick.Running;

namespace Fennick.Batches;

/// <summary>One report for every unit of a roster.</summary>
/// <example>
/// <code>
/// var batch = Batch.Of(Manuscript.Open("apiary.ms.md"), Roster.Read("data/apiaries.csv")) with { Name = "{valley}/{apiary}.docx" };
/// var result = batch.Run("reports");
/// </code>
/// </example>
public sealed record Batch
{
    private readonly Func<IReadOnlyDictionary<string, string>, IUnitMaker> maker;

    private Batch(Func<IReadOnlyDictionary<string, string>, IUnitMaker> maker, Roster roster)
    {
        this.maker = maker;
        Roster = roster;
    }

    /// <summary>The units.</summary>
    public Roster Roster { get; }

    /// <summary>How the documents are called: columns of the roster, or <c>row</c>, in braces; a slash parts folders. The first column that is a parameter if null.</summary>
    public string? Name { get; init; }

    /// <summary>How many units are made at once.</summary>
    public int Jobs { get; init; } = Environment.ProcessorCount;

    /// <summary>Which units are made.</summary>
    public BatchSelection Only { get; init; } = BatchSelection.Changed;

    /// <summary>How many units are made at most, from the first of the roster; all if null.</summary>
    public int? First { get; init; }

    /// <summary>What columns of the roster have to hold for a unit to be made, by their names.</summary>
    public IReadOnlyDictionary<string, string> Where { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The share of the roster that this machine makes.</summary>
    public RosterPart Part { get; init; }

    /// <summary>How long a unit may take; as long as it wants if null. One that takes longer is ended and has failed.</summary>
    public TimeSpan? TimeLimit { get; init; }

    /// <summary>How many bytes of memory a unit may take; as many as there are if null. Only for units that are made in processes of their own.</summary>
    public long? MemoryLimit { get; init; }

    /// <summary>
    /// Whether the units of a manuscript are made in this process. If not, as by the command, each job has a process of its own, which is replaced when a step has ended it, and
    /// only its unit fails. What a function makes, and the units of one document, are always made in this process.
    /// </summary>
    public bool InProcess { get; init; } = true;

    /// <summary>Whether documents that are protected against writing are replaced too.</summary>
    public bool Force { get; init; }

    /// <summary>Whether a document that people have edited is refreshed around what they did. If not, it is kept under another name, and the report is made anew.</summary>
    public bool Living { get; init; }

    /// <summary>In what forms the reports are written beside their documents, with those that the manuscript's settings name. Forms of your own are written in this process only.</summary>
    public ImmutableArray<IReportWriter> Also { get; init; } = [];

    /// <summary>Values of parameters for all units, whatever the roster says.</summary>
    public IReadOnlyDictionary<string, string> Parameters { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>A batch of a manuscript: columns of the roster give the parameters of their names.</summary>
    public static Batch Of(Manuscript manuscript, Roster roster)
    {
        ArgumentNullException.ThrowIfNull(manuscript);
        ArgumentNullException.ThrowIfNull(roster);
        return new Batch(given => new ManuscriptUnits(manuscript, manuscript.CheckNames(given)), roster);
    }

    /// <summary>A batch of reports that a function makes; it is called for several units at once.</summary>
    public static Batch Of(Roster roster, Func<BatchUnit, Report> make)
    {
        ArgumentNullException.ThrowIfNull(roster);
        ArgumentNullException.ThrowIfNull(make);
        return new Batch(_ => new FunctionUnits(make), roster);
    }

    /// <summary>Makes the documents. A unit that fails is left out, and the others go on; what becomes of each is written into the folder's ledger and index.</summary>
    /// <param name="into">The folder for them.</param>
    /// <param name="progress">Is told of each unit when it is finished; never from two units at once.</param>
    /// <param name="stop">Ends the batch after the units that are running.</param>
    /// <exception cref="ReportException">Something is wrong that concerns all units: nothing is run then.</exception>
    public BatchResult Run(string into, Action<BatchProgress>? progress = null, CancellationToken stop = default)
    {
        ArgumentNullException.ThrowIfNull(into);
        var units = maker(Parameters);
        if (MemoryLimit is not null && (InProcess || units.Manuscript is null))
            throw new ReportException(Diagnostic.Error(null, "the memory of a unit can be limited only where it is made in a process of its own", "set `InProcess = false`, or leave `MemoryLimit` out"));
        if (!InProcess && units.Manuscript is not null && Also.FirstOrDefault(w => !ReportWriters.All.Contains(w)) is { } own)
            throw new ReportException(Diagnostic.Error(null, $"`{own.Name}` is a form of your own, which only this process can write", "set `InProcess = true`, or leave it out"));
        var (all, selected) = UnitsOf(units);
        using var run = new BatchRun(this, units, all, selected, RunContext.FullPath(into), progress, stop);
        return run.Run();
    }

    /// <summary>Makes all units and puts them into one document, each as a chapter that starts on a page of its own.</summary>
    /// <param name="file">The document.</param>
    /// <param name="group">A column whose values head the chapters of the units that have them, in the order of the roster; none if null.</param>
    /// <param name="progress">Is told of each unit when it is finished; never from two units at once.</param>
    /// <param name="stop">Ends the batch after the units that are running; the document is not made then.</param>
    /// <exception cref="ReportException">Something is wrong that concerns all units, or the document cannot be made.</exception>
    public BatchResult Bind(string file, string? group = null, Action<BatchProgress>? progress = null, CancellationToken stop = default)
    {
        ArgumentNullException.ThrowIfNull(file);
        var column = group is null ? null : (int?)Roster.FindColumn(group, null);
        var units = maker(Parameters);
        return new BoundRun(this, units, UnitsOf(units).Selected, RunContext.FullPath(file), column, progress, stop).Run();
    }

    /// <summary>The forms that are written beside the documents: those that the manuscript asks for, and those of the batch.</summary>
    internal ImmutableArray<IReportWriter> FormsOf(IUnitMaker maker) => [.. maker.Forms.Concat(Also).Distinct()];

    /// <summary>The units of the roster, with their names and parameters, and those of them that are to be made.</summary>
    /// <exception cref="ReportException">The roster is empty, a value does not fit its parameter, or two units have one name: all mistakes at once.</exception>
    private (ImmutableArray<BatchUnit> All, ImmutableArray<BatchUnit> Selected) UnitsOf(IUnitMaker maker)
    {
        if (Roster.Count == 0) throw new ReportException(Diagnostic.Error(new SourcePlace(Roster.Name, 1, 1), "the roster has no rows", "it needs one for each unit"));
        var wanted = Where.Select(w => (Column: Roster.FindColumn(w.Key, new SourcePlace("--where", -1, 0)), w.Value)).ToArray();
        var diagnostics = new List<Diagnostic>();
        var parameters = Roster.Select(r => maker.ReadParameters(r, diagnostics)).ToArray();
        ThrowIfAny(diagnostics);
        var pattern = new NamePattern(Name ?? $"{{{Roster.Columns[parameters[0].Keys.Min(Roster.TryFindColumn) ?? 0]}}}", Roster);
        var units = Roster.Select((row, i) => new BatchUnit(pattern.NameOf(row), row) { Parameters = parameters[i] }).ToArray();
        // Not every file system tells capitals apart.
        foreach (var alike in units.GroupBy(u => u.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
        {
            var (first, second) = (alike.First(), alike.Skip(1).First());
            diagnostics.Add(Diagnostic.Error(second.Row.PlaceOf(0), $"this unit would be written to `{second.File}`, as that of row {first.Row.Number} is{(first.Name == second.Name ? "" : $", which differs from it in nothing but capitals: `{first.File}`")}",
                Name is null ? "name the documents with `--name`, such as `--name {valley}/{apiary}.docx`" : "put another column into `--name` that tells them apart"));
        }
        // A document cannot stand where a folder stands.
        var folders = units.SelectMany(u => Parents(u.Name)).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var unit in units.Where(u => folders.Contains(u.File))) diagnostics.Add(Diagnostic.Error(unit.Row.PlaceOf(0), $"`{unit.File}` is the folder of other units"));
        ThrowIfAny(diagnostics);
        var selected = units.Where(u => wanted.All(w => u.Row.Cells[w.Column] == w.Value)).ToArray();
        if (selected.Length == 0) throw new ReportException(Diagnostic.Error(new SourcePlace(Roster.Name, -1, 0), $"no unit has {string.Join(" and ", Where.Select(w => $"`{w.Value}` in `{w.Key}`"))}", Nearest.Suggest(Where.First().Value, Roster.Select(r => r.Cells[wanted[0].Column] ?? "").Distinct())));
        return ([.. units], [.. First is { } most ? selected.Take(most) : selected]);
    }

    private static IEnumerable<string> Parents(string name)
    {
        for (var at = name.IndexOf('/'); at >= 0; at = name.IndexOf('/', at + 1)) yield return name[..at];
    }

    private static void ThrowIfAny(List<Diagnostic> diagnostics)
    {
        const int Shown = 20;
        if (diagnostics.Count == 0) return;
        // What is wrong with the whole roster is wrong in every row.
        var distinct = diagnostics.Distinct().ToArray();
        throw new ReportException(distinct.Length <= Shown ? distinct : [.. distinct.Take(Shown), Diagnostic.Error(null, $"{distinct.Length - Shown} more of this kind")]);
    }
}
