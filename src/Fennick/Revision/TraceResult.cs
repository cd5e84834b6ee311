using System.Collections.Immutable;

namespace Fennick.Revision;

/// <summary>Where a document comes from.</summary>
/// <param name="Manuscript">The name of its manuscript; empty if a program made it.</param>
/// <param name="Program">The version of Fennick that wrote it.</param>
/// <param name="Parameters">The values of its parameters.</param>
/// <param name="Inputs">What it was made from.</param>
/// <param name="Items">What was asked for.</param>
public sealed record TraceResult(string Manuscript, string Program, ImmutableArray<KeyValuePair<string, string>> Parameters, ImmutableArray<TracedInput> Inputs, ImmutableArray<TracedItem> Items)
{
    /// <summary>Whether what the document remembers is as it was written.</summary>
    public bool IsIntact { get; init; } = true;
}
