using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;

namespace Fennick.Manuscripts;

/// <summary>What a run of a manuscript gave.</summary>
/// <param name="Path">The full path of the report.</param>
/// <param name="Duration">How long all of it took.</param>
/// <param name="CompileTime">How long compiling took; null if the compiled form was kept from before.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
public sealed record WriteResult(string Path, TimeSpan Duration, TimeSpan? CompileTime, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs)
{
    /// <summary>The full paths of its other forms, by the setting <c>outputs</c>.</summary>
    public ImmutableArray<string> Also { get; init; } = [];
}
