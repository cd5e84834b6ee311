using System.Globalization;
using System.Net;
using Fennick.Documents;
using Fennick.Flow;
using Fennick.Layout;

namespace Fennick.Outputs;

/// <summary>What a view of a report that is being written shows beyond the report: where its pages begin, and where its values come from.</summary>
internal sealed class PageView
{
    private readonly ILookup<GalleyBlock, PageStart> starts;
    private readonly List<Origin> origins = [];
    private readonly PageStart? first;

    public PageView(PageMap pages)
    {
        starts = pages.Starts.ToLookup(s => s.Block, (IEqualityComparer<GalleyBlock>)ReferenceEqualityComparer.Instance);
        first = pages.Starts.FirstOrDefault();
    }

    /// <summary>Where the values come from, by their numbers.</summary>
    public IReadOnlyList<Origin> Origins => origins;

    /// <summary>The pages that begin in a block.</summary>
    public IEnumerable<PageStart> StartsIn(GalleyBlock block) => starts[block];

    /// <summary>Whether a page has one before it.</summary>
    public bool HasEdge(PageStart start) => !ReferenceEquals(start, first);

    /// <summary>Takes note of where a value comes from.</summary>
    /// <returns>The number by which it is known.</returns>
    public int Number(Origin origin)
    {
        origins.Add(origin);
        return origins.Count - 1;
    }

    /// <summary>The edge between two pages.</summary>
    public static string Edge(string element, PageStart start) => string.Create(CultureInfo.InvariantCulture, $"<{element} class=\"page-edge\" data-page=\"{WebUtility.HtmlEncode(start.Page.ToString())}\"></{element}>");
}
