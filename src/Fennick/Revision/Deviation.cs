using Fennick.Diagnostics;

namespace Fennick.Revision;

/// <summary>Something that a manuscript no longer gives.</summary>
/// <param name="What">What it is.</param>
/// <param name="Where">Where in the document.</param>
/// <param name="Written">What was written.</param>
/// <param name="Now">What it would be now; null if it is gone.</param>
/// <param name="Place">Where in the manuscript it comes from.</param>
public sealed record Deviation(string What, string Where, string Written, string? Now, SourcePlace? Place);
