using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Pictures;

namespace Fennick.Wordprocessing;

/// <summary>What the writers of one document share: the writer itself, ids that are unique across all its stories, and its relationships.</summary>
internal sealed class DocumentContext(Utf8XmlWriter xml, DressedHouse house, ImmutableArray<FlowList> lists, PageMap pages)
{
    private readonly int[] numberIds = NumberingPart.NumberIds(lists);
    private int nextBookmark;
    private int nextDrawing;

    public Utf8XmlWriter Xml { get; } = xml;

    public DressedHouse House { get; } = house;

    /// <summary>The charts in the order of their parts.</summary>
    public List<FlowChart> Charts { get; } = [];

    /// <summary>The pictures in the order of their parts; one that is placed twice has one part.</summary>
    public List<Picture> Pictures { get; } = [];

    /// <summary>Takes away what has been written so far if it is much; called where no element is half written.</summary>
    public Action Drain { get; init; } = () => { };

    /// <summary>The relationships of the story that is being written.</summary>
    public StoryRelationships Story { get; set; } = new();

    /// <summary>The page that a reference names.</summary>
    public int PageOf(FlowPageNumber reference) => pages.PageOf(reference);

    public int NextBookmark() => ++nextBookmark;

    public int NextDrawing() => ++nextDrawing;

    public int NumberId(ListPlace place) => numberIds[place.List];

    /// <summary>Gives a chart its part; the result is the number of the part, from 1.</summary>
    public int AddChart(FlowChart chart)
    {
        Charts.Add(chart);
        Story.Charts.Add(Charts.Count);
        return Charts.Count;
    }

    /// <summary>Gives a picture its part; the result is the number of the part, from 1.</summary>
    public int AddPicture(Picture picture)
    {
        // The same file may have been read twice.
        var index = Pictures.FindIndex(p => p == picture || p.Bytes.AsSpan().SequenceEqual(picture.Bytes.AsSpan()));
        if (index < 0)
        {
            index = Pictures.Count;
            Pictures.Add(picture);
        }
        Story.Pictures.Add(index + 1);
        return index + 1;
    }
}
