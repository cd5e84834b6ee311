using Fennick.Documents;

namespace Fennick.Layout;

/// <summary>On which page each block begins.</summary>
/// <param name="Pages">The page of each block, from 1.</param>
/// <param name="Count">How many pages there are.</param>
internal sealed record PageMap(IReadOnlyDictionary<BlockId, int> Pages, int Count);
