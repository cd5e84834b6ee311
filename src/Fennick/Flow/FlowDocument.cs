using System.Collections.Immutable;
using Fennick.Houses;

namespace Fennick.Flow;

/// <summary>A list that counts by itself.</summary>
internal sealed record FlowList(bool Ordered, int Start, int Level);

/// <summary>What stands between two changes of page layout.</summary>
internal sealed record FlowSection(PageGeometry Page, ImmutableArray<FlowBlock> Blocks, FlowParagraph Footer)
{
    /// <summary>The widths of its columns; empty for one as wide as the text.</summary>
    public ImmutableArray<Length> Columns { get; init; } = [];

    /// <summary>Whether it goes on where the section before it ends, and not on a new page.</summary>
    public bool IsContinuous { get; init; }

    /// <summary>The space between two columns.</summary>
    public static Length Gutter => Length.Millimetres(8);
}

/// <summary>What the document says about itself.</summary>
internal sealed record DocumentProperties(string Title, string Subject, ImmutableArray<string> Authors, DateOnly? Date, string Language, ImmutableArray<string> Libraries);

/// <summary>A report in terms of paragraphs and tables: all that the layout and the writer read.</summary>
/// <param name="Sections">The body.</param>
/// <param name="Notes">The paragraphs of each footnote, in the order of their numbers.</param>
/// <param name="Lists">The lists, of the body and of the notes.</param>
/// <param name="Properties">What the document says about itself.</param>
internal sealed record FlowDocument(ImmutableArray<FlowSection> Sections, ImmutableArray<ImmutableArray<FlowParagraph>> Notes, ImmutableArray<FlowList> Lists, DocumentProperties Properties);
