using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Pictures;

namespace Fennick.Wordprocessing;

/// <summary>What the writers of one document share: the writer itself, ids that are unique across all its stories, and its relationships.</summary>
internal sealed class DocumentContext(Utf8XmlWriter xml, DressedHouse house, ImmutableArray<GalleyList> lists, PageMap pages)
{
    private readonly int[] numberIds = NumberingPart.NumberIds(lists, house.Template.Counts.Number);
    private readonly Dictionary<GalleyStory, int> stories = [];
    private int nextBookmark = house.Template.Counts.Bookmark;
    private int nextControl;
    private int nextDrawing = house.Template.Counts.Drawing;

    public Utf8XmlWriter Xml { get; } = xml;

    public DressedHouse House { get; } = house;

    /// <summary>The charts in the order of their parts.</summary>
    public List<GalleyChart> Charts { get; } = [];

    /// <summary>The pictures in the order of their parts; one that is placed twice has one part.</summary>
    public List<Picture> Pictures { get; } = [];

    /// <summary>The headers and footers of the report in the order of their parts; those that are alike have one part.</summary>
    public List<GalleyStory> Stories { get; } = [];

    /// <summary>The house's headers and footers for turned pages, if there are such pages.</summary>
    public ImmutableArray<TurnedStory> TurnedStories { get; init; } = [];

    /// <summary>The section of the report that is not ended yet.</summary>
    public GalleySection? OpenSection { get; set; }

    /// <summary>How many sections have been ended inside that of the house in which the body stands.</summary>
    public int SectionsWritten { get; set; }

    /// <summary>What named the headers and footers of the last section that was written; null before the first.</summary>
    public string? SectionBefore { get; set; }

    /// <summary>Takes away what has been written so far if it is much; called where no element is half written.</summary>
    public Action Drain { get; init; } = () => { };

    /// <summary>The relationships of the story that is being written.</summary>
    public StoryRelationships Story { get; set; } = new();

    /// <summary>The page that a reference names.</summary>
    public string PageOf(GalleyPageNumber reference) => pages.PageOf(reference);

    /// <summary>The pages of an entry of the index.</summary>
    public string PagesOf(GalleyIndexPages entry) => pages.PagesOf(entry);

    /// <summary>The words for where something is from a reference; null if they are those of its page.</summary>
    public string? NearbyWords(GalleyWhere reference) => pages.NearbyWords(reference);

    /// <summary>The list of the headings of appendices.</summary>
    public int AppendixNumber => NumberingPart.AppendixNumber(lists, House.Template.Counts.Number);

    /// <summary>How many pages there are.</summary>
    public int PageCount => pages.Count;

    public int NextControl() => ++nextControl;

    public int NextBookmark() => ++nextBookmark;

    public int NextDrawing() => ++nextDrawing;

    /// <summary>The number of a footnote in the document.</summary>
    public int NoteId(int number) => House.Template.Counts.Note + number;

    /// <summary>The number in the name of a part, of a kind's first, second and so on.</summary>
    public int PartNumber(int index) => House.Template.Counts.Part + index + 1;

    /// <summary>Gives a header or footer its part; the result is the number of the part.</summary>
    public int PartOf(GalleyStory story)
    {
        if (!stories.TryGetValue(story, out var index))
        {
            stories[story] = index = Stories.Count;
            Stories.Add(story);
        }
        return PartNumber(index);
    }

    public int NumberId(ListPlace place) => numberIds[place.List];

    /// <summary>Gives a chart its part; the result is the number of the part.</summary>
    public int AddChart(GalleyChart chart)
    {
        Charts.Add(chart);
        Story.Charts.Add(Charts.Count - 1);
        return PartNumber(Charts.Count - 1);
    }

    /// <summary>Gives a picture its part; the result is the number of the part.</summary>
    public int AddPicture(Picture picture)
    {
        // The same file may have been read twice.
        var index = Pictures.FindIndex(p => p == picture || p.Bytes.AsSpan().SequenceEqual(picture.Bytes.AsSpan()));
        if (index < 0)
        {
            index = Pictures.Count;
            Pictures.Add(picture);
        }
        Story.Pictures.Add(index);
        return PartNumber(index);
    }
}
