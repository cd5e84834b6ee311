using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Markdig.Syntax;
using Block = Fennick.Documents.Block;

namespace Fennick.Prose;

/// <summary>What prose needs from the text it stands in: what fills its holes, and where its lines are.</summary>
internal interface IProseHost
{
    /// <summary>The inlines for a hole.</summary>
    ImmutableArray<Inline> Fill(HoleInline hole);

    /// <summary>The blocks for a fence, or null if it is a plain listing.</summary>
    ImmutableArray<Block>? Fill(FencedCodeBlock fence);

    /// <summary>The label that a heading names itself by, or null.</summary>
    Label? LabelOf(HeadingBlock heading);

    /// <summary>The blocks for a directive.</summary>
    ImmutableArray<Block> Fill(DirectiveBlock directive);

    /// <summary>The place of an offset in the parsed text.</summary>
    SourcePlace? PlaceOf(int offset);

    /// <summary>Takes a diagnostic.</summary>
    void Add(Diagnostic diagnostic);
}
