using Fennick.Documents;
using Fennick.Flow;

namespace Fennick.Layout;

/// <summary>On which page each block begins.</summary>
/// <param name="Pages">The page of each block, from 1.</param>
/// <param name="Count">How many pages there are.</param>
internal sealed record PageMap(IReadOnlyDictionary<BlockId, int> Pages, int Count)
{
    /// <summary>The page that a reference names.</summary>
    public int PageOf(FlowPageNumber reference) => Pages.GetValueOrDefault(reference.Block, 1);
}
