using System.Collections.Concurrent;
using System.Collections.Immutable;

namespace Fennick.Wordprocessing;

/// <summary>What a house gives to every document: parts that are always the same, compressed once, and parts that are written around what a report brings.</summary>
internal sealed record PackageTemplate
{
    /// <summary>Name in the package (without a leading slash) and bytes, in the order they are written.</summary>
    public required ImmutableArray<(string Name, Slab Slab)> Parts { get; init; }

    /// <summary>The number in the name of a part of data that the house has none of.</summary>
    public int FreeItem => freeItem > 0 ? freeItem : freeItem = Enumerable.Range(1, Parts.Length + 1).First(n => Parts.All(p => !p.Name.Equals($"customXml/item{n}.xml", StringComparison.OrdinalIgnoreCase)));

    private int freeItem;

    /// <summary><c>word/document.xml</c> around the body.</summary>
    public required TemplatePart Document { get; init; }

    /// <summary>Headers and footers with slots.</summary>
    public ImmutableArray<TemplatePart> Slotted { get; init; } = [];

    /// <summary>The headers and footers of turned pages; they are written if there are such pages.</summary>
    public ImmutableArray<TurnedStory> TurnedStories { get; init; } = [];

    /// <summary>The footnotes' part around those of a report.</summary>
    public required TemplatePart Notes { get; init; }

    /// <summary>The numbering's part around the lists of a report that count for themselves.</summary>
    public required TemplatePart Numbering { get; init; }

    /// <summary>The properties of a document's own around those that a report adds.</summary>
    public required TemplatePart OwnProperties { get; init; }

    /// <summary>The settings.</summary>
    public required SettingsTemplate Settings { get; init; }

    /// <summary>Whether the house has footnotes of its own, so that every document has their part.</summary>
    public bool HasNotes { get; init; }

    /// <summary>Whether the house has lists of its own, so that every document has their part.</summary>
    public bool HasNumbering { get; init; }

    /// <summary>Whether the house has properties of its own, so that every document has their part.</summary>
    public bool HasOwnProperties { get; init; }

    /// <summary>The section in which the body stands.</summary>
    public required SectionTemplate Section { get; init; }

    /// <summary>Whether the house has something behind the body.</summary>
    public bool BodyIsFollowed { get; init; }

    /// <summary>The entries of <c>[Content_Types].xml</c> for all parts that are in every document.</summary>
    public required ReadOnlyMemory<byte> Types { get; init; }

    /// <summary>The endings of names that <see cref="Types"/> gives a type.</summary>
    public required ImmutableHashSet<string> TypedEndings { get; init; }

    /// <summary>The relationships of the package that are in every document.</summary>
    public required ReadOnlyMemory<byte> Relationships { get; init; }

    /// <summary>The relationships of the document that are in every one.</summary>
    public required ReadOnlyMemory<byte> DocumentRelationships { get; init; }

    /// <summary>The relationships of the house's own footnotes.</summary>
    public ReadOnlyMemory<byte> NotesRelationships { get; init; }

    /// <summary>The house's own elements of <c>docProps/core.xml</c>.</summary>
    public ReadOnlyMemory<byte> CoreProperties { get; init; }

    /// <summary>The house's own elements of <c>docProps/app.xml</c>.</summary>
    public ReadOnlyMemory<byte> ExtendedProperties { get; init; }

    /// <summary>What the numbers of a report's own things start above.</summary>
    public HouseCounts Counts { get; init; }
}

/// <summary>A header or footer for pages that lie across.</summary>
/// <param name="Part">The part.</param>
/// <param name="Relationships">The name and bytes of its own relationships, if it has any.</param>
/// <param name="Relationship">The document's relationship to it.</param>
/// <param name="Type">Its entry in <c>[Content_Types].xml</c>.</param>
internal sealed record TurnedStory(TemplatePart Part, (string Name, Slab Slab)? Relationships, ReadOnlyMemory<byte> Relationship, ReadOnlyMemory<byte> Type);

/// <summary>The settings of a document, as they depend on what it has; each form is written when it is first asked for.</summary>
/// <param name="name">The name of their part.</param>
/// <param name="write">Writes those of a document that has footnotes, or other headers on even pages.</param>
internal sealed class SettingsTemplate(string name, Func<bool, bool, Slab> write)
{
    private readonly ConcurrentDictionary<(bool Notes, bool EvenPages), Slab> forms = new();

    public string Name { get; } = name;

    public Slab Of(bool hasNotes, bool hasEvenPages) => forms.GetOrAdd((hasNotes, hasEvenPages), form => write(form.Notes, form.EvenPages));
}

/// <summary>The highest numbers that a house uses itself.</summary>
/// <param name="Bookmark">Of a bookmark.</param>
/// <param name="Drawing">Of a drawing.</param>
/// <param name="Note">Of a footnote.</param>
/// <param name="Number">Of a list.</param>
/// <param name="Abstract">Of an abstract list, plus 1.</param>
/// <param name="Part">In the name of a part.</param>
/// <param name="Property">Of a property.</param>
internal readonly record struct HouseCounts(int Bookmark, int Drawing, int Note, int Number, int Abstract, int Part, int Property);
