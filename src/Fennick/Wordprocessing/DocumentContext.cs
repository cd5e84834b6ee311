using System.Buffers;
using System.Buffers.Text;
using System.Collections.Immutable;
using Fennick.Flow;
using Fennick.Houses;
using Fennick.Layout;
using Fennick.Pictures;
using Fennick.Records;

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

    /// <summary>Takes what is written, for the document's record; null if it is to have none.</summary>
    public RecordWriter? Record { get; init; }

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

    /// <summary>Gives the paragraph that has just started its mark.</summary>
    /// <param name="number">The number of the block in the document's record.</param>
    public void WriteMark(int number)
    {
        if (number > DocumentRecord.MostMarks) return;
        Span<byte> digits = stackalloc byte[4];
        Utf8Formatter.TryFormat(number, digits, out _, new StandardFormat('X', 4));
        Span<byte> id = stackalloc byte[8];
        DocumentRecord.ParagraphMark.CopyTo(id);
        digits.CopyTo(id[4..]);
        Xml.Attribute("w14:paraId"u8, id);
    }

    /// <summary>The number of a table that has begun; the first of its cells that is written bears its mark.</summary>
    public int TableMark { get; set; }

    /// <summary>Gives the paragraph that has just started the mark of its table, if it is the first.</summary>
    public void WriteTableMark()
    {
        if (TableMark == 0) return;
        WriteMark(TableMark);
        TableMark = 0;
    }

    /// <summary>Starts the mark of a value.</summary>
    /// <param name="number">The number of the value in the document's record.</param>
    /// <returns>The id that ends it.</returns>
    public int BeginValue(int number)
    {
        var id = NextBookmark();
        Xml.Raw("<w:bookmarkStart w:id=\""u8);
        Xml.Text(id);
        Xml.Raw("\" w:name=\""u8);
        Xml.Raw(DocumentRecord.ValueMark);
        Xml.Text(number);
        Xml.Raw("\"/>"u8);
        return id;
    }

    public void EndValue(int id)
    {
        Xml.Raw("<w:bookmarkEnd w:id=\""u8);
        Xml.Text(id);
        Xml.Raw("\"/>"u8);
    }

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
