using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Manuscripts.Running;

namespace Fennick.Manuscripts;

/// <summary>What a run of a manuscript gave, before it is written.</summary>
/// <param name="Content">The report: to be inspected, saved, or written into a stream.</param>
/// <param name="Diagnostics">What deserves attention.</param>
/// <param name="Outputs">What the steps wrote to the console.</param>
public sealed record RunResult(ReportContent Content, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs);
