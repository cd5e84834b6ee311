using Markdig.Syntax.Inlines;

namespace Fennick.Prose;

/// <summary>A pair of braces in prose, before anything stands in it.</summary>
internal sealed class HoleInline : LeafInline
{
    /// <summary>What stands between the braces, as written.</summary>
    public required string Source { get; init; }

    /// <summary>Whether its format writes an equals sign, or less or greater than, before the number.</summary>
    public bool GivesSign => Source.LastIndexOf(":p-value", StringComparison.Ordinal) is >= 0 and var format && !Source.AsSpan(format).Contains("bare", StringComparison.Ordinal);

    /// <summary>False if the closing brace is missing.</summary>
    public required bool HasEnd { get; init; }
}
