using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Batches;

/// <summary>What became of a unit.</summary>
public enum UnitState
{
    /// <summary>Its document was made.</summary>
    Made,

    /// <summary>People had edited its document, and it was refreshed around what they did.</summary>
    Merged,

    /// <summary>Nothing that it is made from has changed, so it was left as it is.</summary>
    Unchanged,

    /// <summary>It was left out; an old document stays as it was.</summary>
    Failed,
}

/// <summary>What became of a unit, and why.</summary>
/// <param name="Unit">The unit.</param>
/// <param name="State">What became of it.</param>
/// <param name="Duration">How long it took.</param>
/// <param name="Diagnostics">What deserves attention, and what was wrong.</param>
public sealed record UnitOutcome(BatchUnit Unit, UnitState State, TimeSpan Duration, ImmutableArray<Diagnostic> Diagnostics)
{
    /// <summary>What was wrong first; null if nothing was.</summary>
    public Diagnostic? Error => Diagnostics.FirstOrDefault(d => d.Severity == Severity.Error);
}
