using System.Collections.Immutable;
using Markdig.Syntax;

namespace Fennick.Prose;

/// <summary>A loop or a condition around blocks: what stood between directives; its blocks are its branches.</summary>
internal sealed class ControlBlock() : ContainerBlock(null)
{
    /// <summary>What is made of all blocks inside; null if they stand as they are.</summary>
    public Func<ImmutableArray<Documents.Block>, Documents.Block>? Layout { get; init; }
}

/// <summary>The blocks of a loop, or of one branch of a condition.</summary>
internal sealed class BranchBlock() : ContainerBlock(null);
