using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>A pair of braces in prose, before anything stands in it.</summary>
internal sealed class HoleInline : LeafInline
{
    /// <summary>What stands between the braces, as written.</summary>
    public required string Source { get; init; }

    /// <summary>False if the closing brace is missing.</summary>
    public required bool HasEnd { get; init; }
}
