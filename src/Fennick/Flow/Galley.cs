using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Styles;

namespace Fennick.Flow;

/// <summary>A list that counts by itself.</summary>
internal sealed record GalleyList(bool Ordered, int Start, int Level, int Count, string? Mark);

/// <summary>The pages of a section on which a header or footer stands.</summary>
internal enum StoryPages
{
    All,
    First,
    Even,
}

/// <summary>Where a header or footer stands.</summary>
internal readonly record struct StoryKind(bool IsFooter, StoryPages Pages = StoryPages.All)
{
    public override string ToString() => (IsFooter ? "footer" : "header") + Pages switch { StoryPages.First => " of the first page", StoryPages.Even => " of even pages", _ => "" };
}

/// <summary>A header or footer.</summary>
internal sealed record GalleyStory(StoryKind Kind, ImmutableArray<GalleyParagraph> Paragraphs)
{
    /// <summary>The same with its right tabs at the edge of another text.</summary>
    public GalleyStory At(Length textWidth) => this with { Paragraphs = [.. Paragraphs.Select(p => p with { RightTab = textWidth })] };

    public bool Equals(GalleyStory? other) => other is not null && Kind == other.Kind && Paragraphs.SequenceEqual(other.Paragraphs);

    public override int GetHashCode() => HashCode.Combine(Kind, Paragraphs.Length);
}

/// <summary>What stands between two changes of page layout.</summary>
internal sealed record GalleySection(PageGeometry Page, ImmutableArray<GalleyBlock> Blocks)
{
    /// <summary>Its headers and footers, instead of the house's own.</summary>
    public ImmutableArray<GalleyStory> Stories { get; init; } = [];

    /// <summary>How its pages are numbered, if not as those before.</summary>
    public PageNumbers? Numbers { get; init; }

    /// <summary>The number of the chapter that stands before those of its pages.</summary>
    public string? Chapter { get; init; }

    /// <summary>Every how many lines one is numbered; 0 for none.</summary>
    public int LineNumbers { get; init; }

    /// <summary>The widths of its columns; empty for one as wide as the text.</summary>
    public ImmutableArray<Length> Columns { get; init; } = [];

    /// <summary>Whether it goes on where the section before it ends, and not on a new page.</summary>
    public bool IsContinuous { get; init; }

    /// <summary>The space between two columns.</summary>
    public static Length Gutter => Length.Millimetres(8);
}

/// <summary>What the document says about itself.</summary>
internal sealed record DocumentProperties(string Title, string Subject, ImmutableArray<string> Authors, DateOnly? Date, string Language, ImmutableArray<string> Libraries)
{
    /// <summary>The name under which fields of a house ask for the title.</summary>
    public const string TitleName = "dc:title";

    /// <summary>The same for the subtitle.</summary>
    public const string SubjectName = "dc:subject";

    /// <summary>The same for the authors.</summary>
    public const string AuthorsName = "dc:creator";

    /// <summary>The authors in one text, as word processors part them.</summary>
    public string JoinedAuthors => string.Join("; ", Authors);
}

/// <summary>A report in terms of paragraphs and tables: all that the layout and the writer read.</summary>
/// <param name="Sections">The body.</param>
/// <param name="Notes">The paragraphs of each footnote, in the order of their numbers.</param>
/// <param name="Lists">The lists, of the body and of the notes.</param>
/// <param name="Properties">What the document says about itself.</param>
internal sealed record Galley(ImmutableArray<GalleySection> Sections, ImmutableArray<ImmutableArray<GalleyParagraph>> Notes, ImmutableArray<GalleyList> Lists, DocumentProperties Properties)
{
    /// <summary>What it was made from, for the document's record; null if it is to have none.</summary>
    public Making? Making { get; init; }

    /// <summary>The words that fill slots, by their names.</summary>
    public ImmutableDictionary<string, string> SlotWords { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The word across every page.</summary>
    public GalleyWatermark? Watermark { get; init; }

    /// <summary>Whether it has headings of appendices.</summary>
    public bool HasAppendices { get; init; }

    /// <summary>How many blocks the house has no place for.</summary>
    public int LeftOut { get; init; }

    /// <summary>The blocks that fill slots; each stands in a section of the slot's width.</summary>
    public ImmutableArray<(string Slot, GalleySection Section)> SlotBlocks { get; init; } = [];
}
