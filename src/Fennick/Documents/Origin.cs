using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>Where a value comes from.</summary>
/// <param name="Expression">What gave it.</param>
/// <param name="Format">How it was to be written; null if nothing was said.</param>
/// <param name="Value">The value as it was before it became text, in full.</param>
/// <param name="Place">Where the expression stands.</param>
internal sealed record Origin(string Expression, string? Format, string Value, SourcePlace Place);

/// <summary>A stretch of a text that a value has become.</summary>
/// <param name="Start">Where it starts.</param>
/// <param name="Length">How long it is.</param>
/// <param name="Origin">Where it comes from.</param>
internal readonly record struct OriginRange(int Start, int Length, Origin Origin);
