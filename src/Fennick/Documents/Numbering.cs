using System.Collections.Immutable;
using Fennick.Citations;
using Fennick.Diagnostics;

namespace Fennick.Documents;

/// <summary>What a number counts.</summary>
internal enum NumberedKind
{
    Section,
    Table,
    Figure,
    Equation,

    /// <summary>Something of a series of the report's own.</summary>
    Item,
}

/// <summary>One thing that the text can refer to.</summary>
/// <param name="Block">Where it stands.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Number">Its number; null for a section without one.</param>
/// <param name="Title">Its caption or heading.</param>
/// <param name="Bookmark">The bookmark that stands around word and number, or around a section's title.</param>
internal sealed record Numbered(BlockId Block, NumberedKind Kind, int? Number, RichText Title, string Bookmark)
{
    /// <summary>The series that it belongs to, if that is one of the report's own.</summary>
    public CaptionSeries? Series { get; init; }

    /// <summary>The heading whose number stands before its own; null where numbers go through the whole report.</summary>
    public BlockId? Chapter { get; init; }

    /// <summary>The equations that it is one of, which have one number together.</summary>
    public Numbered? Group { get; init; }

    /// <summary>Its place among them, from 1.</summary>
    public int Letter { get; init; }

    /// <summary>Whether the text refers to it.</summary>
    public bool IsReferred { get; set; }

    /// <summary>The block by which its page is known.</summary>
    public BlockId Begins { get; set; } = Block;

    /// <summary>Whether it is such a group of equations, whose bookmark stands around the number alone.</summary>
    public bool IsGroup { get; init; }

    /// <summary>Whether it is the heading of an appendix, or one in it.</summary>
    public bool IsAppendix { get; init; }

    /// <summary>The bookmarks around the letters of the panels that something refers to, by letter.</summary>
    public Dictionary<char, string> PanelBookmarks { get; } = [];

    /// <summary>How many panels with letters it has.</summary>
    public int Panels { get; init; }

    /// <summary>The bookmark around the number alone; null while nothing refers to just that.</summary>
    public string? NumberBookmark { get; set; }

    /// <summary>The bookmark around the caption's words; null while nothing refers to them.</summary>
    public string? TitleBookmark { get; set; }

    /// <summary>The bookmark that a list of contents leads to; null if there is none.</summary>
    public string? ContentsBookmark { get; set; }
}

/// <summary>A line of a list of contents.</summary>
/// <param name="Target">What it leads to.</param>
/// <param name="Level">The level of a heading; 1 for all else.</param>
/// <param name="IsCounted">Whether it has a number where headings have numbers.</param>
internal sealed record ContentsEntry(Numbered Target, int Level, bool IsCounted = true);

/// <summary>A footnote.</summary>
/// <param name="Number">Its number, from 1.</param>
/// <param name="Blocks">Its text.</param>
internal sealed record NumberedNote(int Number, ImmutableArray<Block> Blocks)
{
    /// <summary>The bookmark around its mark; null while no other mark leads to it.</summary>
    public string? Bookmark { get; set; }
}

/// <summary>A source that is cited.</summary>
/// <param name="Work">The source.</param>
/// <param name="Number">Its number in the order of the text, from 1.</param>
internal sealed record NumberedSource(Work Work, int Number)
{
    /// <summary>What parts it from others of the same names and year: "a", "b".</summary>
    public string Suffix { get; set; } = "";

    /// <summary>The bookmark around it in the list of sources; null if there is no list.</summary>
    public string? Bookmark { get; set; }
}

/// <summary>The numbers of a report: by occurrence, and by label.</summary>
internal sealed record Numbering(
    IReadOnlyDictionary<BlockId, Numbered> ByBlock,
    IReadOnlyDictionary<string, Numbered> ByLabel,
    IReadOnlyDictionary<FootnoteInline, NumberedNote> Notes,
    ImmutableArray<ContentsEntry> Entries,
    IReadOnlyDictionary<string, NumberedSource> Sources,
    ImmutableArray<Diagnostic> Diagnostics)
{
    /// <summary>The places of the terms of the index, in their order.</summary>
    public ImmutableArray<IndexInline> Terms { get; init; } = [];

    /// <summary>What each abbreviation stands for.</summary>
    public IReadOnlyDictionary<string, RichText> Abbreviations { get; init; } = new Dictionary<string, RichText>();

    /// <summary>Where abbreviations stand first, with what they stand for.</summary>
    public IReadOnlySet<AbbreviationInline> FirstUses { get; init; } = new HashSet<AbbreviationInline>();
}
