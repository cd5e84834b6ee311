using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>What a box is for.</summary>
public enum BoxKind
{
    /// <summary>The most important in few words: a filled box with a title.</summary>
    Summary,

    /// <summary>Something beside the main line of thought: a box with a line at its side.</summary>
    Note,
}

/// <summary>Blocks set off from the text in a box of the house's own look.</summary>
/// <param name="Kind">What the box is for.</param>
/// <param name="Title">Its title; null for "In brief" in the report's language in a summary, and for none in a note.</param>
/// <param name="Blocks">What stands in it; pages, columns and page breaks cannot.</param>
public sealed record Box(BoxKind Kind, RichText? Title, ImmutableArray<Block> Blocks) : Block
{
    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}

/// <summary>What stands beside the text rather than in it.</summary>
public enum AsideKind
{
    /// <summary>A sentence of the text, large, to catch the eye.</summary>
    PullQuote,

    /// <summary>A remark in the margin.</summary>
    MarginNote,
}

/// <summary>Paragraphs in a look of their own beside the text.</summary>
/// <param name="Kind">What they are.</param>
/// <param name="Blocks">The paragraphs.</param>
public sealed record Aside(AsideKind Kind, ImmutableArray<Block> Blocks) : Block;
