using Fennick.Documents;
using Fennick.Flow;
using Fennick.Formatting;

namespace Fennick.Layout;

/// <summary>The number of a page as it stands on it.</summary>
/// <param name="Number">Its number.</param>
/// <param name="Format">How that is written.</param>
/// <param name="Chapter">What stands before it: the number of the chapter and a sign.</param>
internal readonly record struct PageLabel(int Number, PageNumberFormat Format, string Chapter = "")
{
    public override string ToString() => Chapter + Counting.Write(Number, Format);
}

/// <summary>On which page each block begins.</summary>
/// <param name="Pages">The page of each block.</param>
/// <param name="Count">How many pages there are.</param>
internal sealed record PageMap(IReadOnlyDictionary<BlockId, PageLabel> Pages, int Count)
{
    /// <summary>The page that a reference names.</summary>
    public string PageOf(GalleyPageNumber reference) => Pages.TryGetValue(reference.Block, out var page) ? page.ToString() : "1";
}
