using System.Collections.Immutable;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>A last page in the look of the cover: who stands behind the report, how to reach them, under which terms it may be used.</summary>
/// <param name="Blocks">Its paragraphs; nothing else can stand there.</param>
public sealed record LastPage(ImmutableArray<Block> Blocks) : Block
{
    /// <summary>Where it was placed.</summary>
    public SourcePlace? Place { get; init; }
}
