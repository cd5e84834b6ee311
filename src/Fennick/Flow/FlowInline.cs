using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Pictures;

namespace Fennick.Flow;

/// <summary>How a piece of text is set, beside its paragraph's style.</summary>
[Flags]
internal enum CharacterFormat
{
    Plain = 0,
    Bold = 1,
    Italic = 2,
    Code = 4,
    Link = 8,
    Raised = 16,
    Struck = 32,
}

/// <summary>What stands in a line of the lowered form.</summary>
internal abstract record FlowInline;

internal sealed record FlowText(string Text, CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

internal sealed record FlowBreak : FlowInline;

internal sealed record FlowTab : FlowInline;

/// <summary>A field of the word processor: its instruction, and the result that stands until it is renewed.</summary>
internal sealed record FlowField(string Instruction, string Result, CharacterFormat Format = CharacterFormat.Plain) : FlowInline;

internal sealed record FlowBookmark(string Name, ImmutableArray<FlowInline> Content) : FlowInline;

/// <summary>A link to a place outside the document.</summary>
internal sealed record FlowLink(string Target, ImmutableArray<FlowInline> Content) : FlowInline;

internal sealed record FlowPicture(Picture Picture, Length Width, Length Height, string Name, string Description) : FlowInline;

internal sealed record FlowChart(Chart Chart, Length Width, Length Height, string Name, string Description) : FlowInline;
