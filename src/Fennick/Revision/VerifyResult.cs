using System.Collections.Immutable;

namespace Fennick.Revision;

/// <summary>Whether a manuscript still gives what a document says.</summary>
/// <param name="Deviations">What it no longer gives.</param>
/// <param name="Reasons">What has changed since: data, code, the program.</param>
public sealed record VerifyResult(ImmutableArray<Deviation> Deviations, ImmutableArray<string> Reasons);
