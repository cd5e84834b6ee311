using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Running;
using Fennick.Revision;

namespace Fennick.Manuscripts;

/// <summary>What a refresh of a manuscript's document gave.</summary>
/// <param name="Path">The full path of the document.</param>
/// <param name="Kept">Where the document is kept as it was; null if nothing was written.</param>
/// <param name="Result">What was done.</param>
/// <param name="CompileTime">How long compiling took; null if the compiled form was kept from before.</param>
/// <param name="Diagnostics">What deserves attention in the manuscript and its run.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
public sealed record RefreshedReport(string Path, string? Kept, RefreshResult Result, TimeSpan? CompileTime, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs);
