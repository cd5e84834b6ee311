using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Pictures;

namespace Fennick.Wordprocessing;

/// <summary>What the writers of one document share: the writer itself, ids that are unique across all its stories, and its relationships.</summary>
internal sealed class DocumentContext(Utf8XmlWriter xml, DressedHouse house, ImmutableArray<FlowList> lists)
{
    private readonly int[] numberIds = NumberingPart.NumberIds(lists);
    private readonly List<string> links = [];
    private readonly Dictionary<string, int> linkPlaces = new(StringComparer.Ordinal);
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

    /// <summary>The outside targets in the order of their relationships.</summary>
    public IReadOnlyList<string> Links => links;

    public int NextBookmark() => ++nextBookmark;

    public int NextDrawing() => ++nextDrawing;

    public int NumberId(ListPlace place) => numberIds[place.List];

    /// <summary>Gives a chart its part; the result is the number of the part, from 1.</summary>
    public int AddChart(FlowChart chart)
    {
        Charts.Add(chart);
        return Charts.Count;
    }

    /// <summary>Gives a picture its part; the result is the number of the part, from 1.</summary>
    public int AddPicture(Picture picture)
    {
        // The same file may have been read twice.
        var index = Pictures.FindIndex(p => p == picture || p.Bytes.AsSpan().SequenceEqual(picture.Bytes.AsSpan()));
        if (index >= 0) return index + 1;
        Pictures.Add(picture);
        return Pictures.Count;
    }

    /// <summary>Gives an outside target its relationship; the result is the relationship's id.</summary>
    public string AddLink(string target)
    {
        if (!linkPlaces.TryGetValue(target, out var index))
        {
            linkPlaces[target] = index = links.Count;
            links.Add(target);
        }
        return RelationshipsPart.LinkId(index);
    }
}
