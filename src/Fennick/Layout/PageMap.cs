using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Formatting;

namespace Fennick.Layout;

/// <summary>The number of a page as it stands on it.</summary>
/// <param name="Sheet">Which page of the document it is, from its first.</param>
/// <param name="Number">Its number.</param>
/// <param name="Format">How that is written.</param>
/// <param name="Chapter">What stands before it: the number of the chapter and a sign.</param>
internal readonly record struct PageLabel(int Sheet, int Number, PageNumberFormat Format, string Chapter = "")
{
    public override string ToString() => Chapter + Counting.Write(Number, Format);
}

/// <summary>Where a page begins.</summary>
/// <param name="Block">The lowered block that it begins with, or in.</param>
/// <param name="At">Where in that: after how many letters of its text, or rows.</param>
/// <param name="Page">The page.</param>
internal sealed record PageStart(GalleyBlock Block, int At, PageLabel Page);

/// <summary>On which page each block begins.</summary>
/// <param name="Pages">The page of each block.</param>
/// <param name="Inlines">The pages of what in a line has to be known by its page.</param>
/// <param name="Count">How many pages there are.</param>
internal sealed record PageMap(IReadOnlyDictionary<BlockId, PageLabel> Pages, IReadOnlyDictionary<Inline, PageLabel> Inlines, int Count)
{
    /// <summary>Where each page begins.</summary>
    public ImmutableArray<PageStart> Starts { get; init; } = [];

    /// <summary>What share of each page is filled that ended because what came next had no room.</summary>
    public ImmutableArray<(int Page, double Share)> Fill { get; init; } = [];

    /// <summary>The page that a reference names.</summary>
    public string PageOf(GalleyPageNumber reference) => Pages.TryGetValue(reference.Block, out var page) ? page.ToString() : "1";

    /// <summary>The pages of an entry of the index, each once.</summary>
    public string PagesOf(GalleyIndexPages entry) => string.Join(", ", entry.Sources.Select(s => Inlines.TryGetValue(s, out var page) ? page.ToString() : null).OfType<string>().Distinct());

    /// <summary>The words for where something is that stands near a reference; null if it is further away than the next page.</summary>
    public string? NearbyWords(GalleyWhere reference)
    {
        if (!Pages.TryGetValue(reference.Block, out var target) || !Inlines.TryGetValue(reference.Source, out var own)) return null;
        var words = reference.Words;
        return (target.Sheet - own.Sheet) switch
        {
            0 => words.SamePage,
            // An even page lies on the left, and the next one beside it.
            1 => int.IsEvenInteger(own.Number) && words.FacingPage is { } right ? right : words.NextPage,
            -1 => int.IsOddInteger(own.Number) && words.FacingPage is { } left ? left : words.PageBefore,
            _ => null,
        };
    }
}
