using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Pictures;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Block = Fennick.Documents.Block;
using Inline = Fennick.Documents.Inline;

namespace Fennick.Prose;

/// <summary>What prose needs from the text it stands in: what fills its holes, and where its lines are. Prose without directives needs the first and the last alone.</summary>
internal interface IProseHost
{
    /// <summary>The inlines for a hole.</summary>
    ImmutableArray<Inline> Fill(HoleInline hole);

    /// <summary>The blocks for a fence, or null if it is a plain listing.</summary>
    ImmutableArray<Block>? Fill(FencedCodeBlock fence) => null;

    /// <summary>What is coloured in a listing of a language.</summary>
    ImmutableArray<ListingSpan> ColoursOf(string code, string language) => [];

    /// <summary>The label that a heading names itself by, or null.</summary>
    Label? LabelOf(HeadingBlock heading) => null;

    /// <summary>Whether a heading has a number where headings have numbers.</summary>
    bool IsNumbered(HeadingBlock heading) => true;

    /// <summary>The blocks for a directive.</summary>
    ImmutableArray<Block> Fill(DirectiveBlock directive) => [];

    /// <summary>The table or figure that a pipe table or a picture becomes when a directive above it says so.</summary>
    Block WithCaption(MarkdownObject captioned, Block block) => block;

    /// <summary>The branch of each pass of a loop, or of a condition; what fills holes is that pass's own until the next is asked for.</summary>
    IEnumerable<BranchBlock> Passes(ControlBlock control) => [];

    /// <summary>What a value in a formula reads.</summary>
    string Fill(FormulaNode.Live live) => "";

    /// <summary>The formula of a text, as it was read before.</summary>
    Formula? FormulaOf(MarkdownObject formula) => null;

    /// <summary>The label that stands after a displayed formula, or null.</summary>
    Label? LabelOf(FormulaBlock formula) => null;

    /// <summary>The same in a line.</summary>
    IEnumerable<BranchInline> Passes(ControlInline control) => [];

    /// <summary>Whether the pass was left early in this block; nothing after it stands.</summary>
    bool IsLeftIn(Markdig.Syntax.Block block) => false;

    /// <summary>The target of a link or a picture, with the values that its braces hold.</summary>
    string TargetOf(LinkInline link) => HoleMarks.Restore(link.Url ?? "");

    /// <summary>The file that a picture names, as the file system knows it.</summary>
    string PathOf(string target, int offset) => target;

    /// <summary>The layout of a control with the words of its headers and footers.</summary>
    Block WithWords(ControlBlock control, Block block) => block;

    /// <summary>What draws pictures in SVG; null if nothing can.</summary>
    IPictureTools? PictureTools => null;

    /// <summary>Whether blocks know where they were written.</summary>
    bool KeepsPlaces => false;

    /// <summary>The place of an offset in the parsed text.</summary>
    SourcePlace? PlaceOf(int offset);

    /// <summary>Takes a diagnostic.</summary>
    void Add(Diagnostic diagnostic);
}
