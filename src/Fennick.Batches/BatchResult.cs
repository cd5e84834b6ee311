using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Batches;

/// <summary>What became of a batch.</summary>
/// <param name="Folder">The full path of its folder, or of the document that all units are bound into.</param>
/// <param name="Outcomes">What became of each unit, in the order of the roster; units that were not reached are not among them.</param>
/// <param name="Left">How many units were not reached because the batch was stopped.</param>
/// <param name="Duration">How long all of it took.</param>
/// <param name="CompileTime">What compiling took of that; null if the code was compiled before, or nothing was made.</param>
/// <param name="Diagnostics">What deserves attention beside the units' own.</param>
public sealed record BatchResult(string Folder, ImmutableArray<UnitOutcome> Outcomes, int Left, TimeSpan Duration, TimeSpan? CompileTime, ImmutableArray<Diagnostic> Diagnostics)
{
    /// <summary>How many PDFs were made of the documents.</summary>
    public int Pdfs { get; init; }

    /// <summary>How many units are in a state.</summary>
    public int Count(UnitState state) => Outcomes.Count(o => o.State == state);

    /// <summary>The units that failed, grouped by what was wrong: the same place of the manuscript, or else the same words.</summary>
    public IEnumerable<IGrouping<string, UnitOutcome>> Causes =>
        Outcomes.Where(o => o.State == UnitState.Failed).GroupBy(o => o.Error?.Place?.ToString() ?? o.Error?.Message ?? "").OrderByDescending(g => g.Count());
}
