using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Manuscripts.Running;

/// <summary>What a step gave when it was tried.</summary>
/// <param name="Name">Its label, or its line.</param>
/// <param name="Role">What becomes of its result in the report.</param>
/// <param name="Place">Where it stands.</param>
/// <param name="Time">How long it ran.</param>
/// <param name="Written">What it wrote to the console.</param>
/// <param name="Result">Its result as text: a table with aligned columns; empty if it gives none.</param>
/// <param name="File">The document that holds its figure; null for anything else.</param>
public sealed record TriedStep(string Name, string Role, SourcePlace Place, TimeSpan Time, string Written, string Result, string? File)
{
    /// <summary>The pictures of its figure, PNG or JPEG files, one for each panel; none for anything else.</summary>
    public ImmutableArray<string> Pictures { get; init; } = [];

    /// <summary>Whether it did not run, since nothing that it depends on has changed: what it gave is that of a run before.</summary>
    public bool IsReused { get; init; }
}
