using System.Collections.Immutable;
using Fennick.Documents;
using Fennick.Houses;
using Fennick.Tables;

namespace Fennick.Flow;

/// <summary>A paragraph or a table of the lowered form.</summary>
internal abstract record FlowBlock
{
    /// <summary>The block of the report that begins here, if one does.</summary>
    public BlockId? Begins { get; init; }
}

/// <summary>A place in a list.</summary>
/// <param name="List">Index into <see cref="FlowDocument.Lists"/>.</param>
/// <param name="Level">0 for the outermost.</param>
internal readonly record struct ListPlace(int List, int Level);

internal sealed record FlowParagraph(StyleRole Style, ImmutableArray<FlowInline> Inlines) : FlowBlock
{
    /// <summary>Keeps with what follows although its style does not say so.</summary>
    public bool KeepWithNext { get; init; }

    public ListPlace? List { get; init; }

    /// <summary>How deep it stands in lists or quotations without a bullet of its own.</summary>
    public int Indents { get; init; }

    public bool Centred { get; init; }
}

internal sealed record FlowCell(FlowParagraph Content);

internal sealed record FlowRow(ImmutableArray<FlowCell> Cells, bool IsHeader);

internal sealed record FlowTable(ImmutableArray<TableColumn> Columns, ImmutableArray<FlowRow> Rows, Ruling Ruling, string Title, string Description) : FlowBlock
{
    /// <summary>How deep it stands in lists.</summary>
    public int Indents { get; init; }
}
