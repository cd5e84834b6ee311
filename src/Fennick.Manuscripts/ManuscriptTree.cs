using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Mathematics;
using Fennick.Prose;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Fennick.Manuscripts;

/// <summary>A parsed manuscript.</summary>
internal sealed class ManuscriptTree
{
    public required SourceFiles Sources { get; init; }

    public required ManuscriptSettings Settings { get; init; }

    public ProseFragment? Title { get; init; }

    public ProseFragment? Subtitle { get; init; }

    /// <summary>The words of the report's headers and footers.</summary>
    public IReadOnlyDictionary<string, ProseFragment> PageWords { get; init; } = new Dictionary<string, ProseFragment>();

    /// <summary>The words of the headers and footers of some pages.</summary>
    public required IReadOnlyDictionary<ControlHead, Dictionary<string, ProseFragment>> Margins { get; init; }

    /// <summary>The labels and captions that stand around blocks.</summary>
    public required IReadOnlyDictionary<ControlHead, AroundCaption> Around { get; init; }

    /// <summary>The abbreviations that are explained where they stand.</summary>
    public required IReadOnlyDictionary<HoleInline, AbbreviatedWords> Abbreviations { get; init; }

    /// <summary>The expressions that are slots of the house, by the slots' names.</summary>
    public IReadOnlyDictionary<string, ProseFragment> SlotExpressions { get; init; } = new Dictionary<string, ProseFragment>();

    /// <summary>The blocks in order.</summary>
    public required ImmutableArray<ManuscriptUnit> Units { get; init; }

    /// <summary>All that is carried out, by ordinal.</summary>
    public required ImmutableArray<Executable> Executables { get; init; }

    /// <summary>The expressions in braces.</summary>
    public required IReadOnlyDictionary<HoleInline, ValueHole> Values { get; init; }

    /// <summary>The cross-references in braces.</summary>
    public required IReadOnlyDictionary<HoleInline, Reference> References { get; init; }

    /// <summary>The words in braces that wear a style or a colour.</summary>
    public required IReadOnlyDictionary<HoleInline, DressedWords> Dressed { get; init; }

    /// <summary>The loops and conditions, by what stands for them in the text.</summary>
    public required IReadOnlyDictionary<MarkdownObject, Control> Controls { get; init; }

    /// <summary>The blocks that directives stand for.</summary>
    public required IReadOnlyDictionary<DirectiveBlock, Documents.Block> Directives { get; init; }

    /// <summary>The pipe tables and pictures that have captions.</summary>
    public required IReadOnlyDictionary<MarkdownObject, Captioned> Captions { get; init; }

    /// <summary>The labels that headings name themselves by.</summary>
    public required IReadOnlyDictionary<HeadingBlock, LabelTemplate> HeadingLabels { get; init; }

    /// <summary>The headings that never have a number.</summary>
    public required IReadOnlySet<HeadingBlock> Unnumbered { get; init; }

    /// <summary>The citations in braces.</summary>
    public required IReadOnlyDictionary<HoleInline, Documents.Inline> Citations { get; init; }

    /// <summary>The places of the index.</summary>
    public required IReadOnlyDictionary<HoleInline, IndexedTerm> Indexed { get; init; }

    /// <summary>The targets of links and pictures that hold values.</summary>
    public required IReadOnlyDictionary<LinkInline, LabelTemplate> Targets { get; init; }

    /// <summary>The formulas.</summary>
    public required IReadOnlyDictionary<MarkdownObject, Formula> Formulas { get; init; }

    /// <summary>The values in formulas.</summary>
    public required IReadOnlyDictionary<FormulaNode.Live, ValueHole> Lives { get; init; }

    /// <summary>The labels of displayed formulas.</summary>
    public required IReadOnlyDictionary<FormulaBlock, LabelTemplate> FormulaLabels { get; init; }

    /// <summary>The fences that are steps.</summary>
    public required IReadOnlyDictionary<FencedCodeBlock, Step> Steps { get; init; }

    /// <summary>The directives of one word, each of which could also be the name of a variable.</summary>
    public required ImmutableArray<(string Word, SourcePlace Place)> LoneWords { get; init; }

    /// <summary>The settings' prose, which is evaluated after the last step.</summary>
    public IEnumerable<ProseFragment> LateProse => new[] { Title, Subtitle }.OfType<ProseFragment>().Concat(PageWords.Values).Concat(SlotExpressions.Values);

    /// <summary>The headings of the text.</summary>
    public IEnumerable<HeadingBlock> Headings => Units.SelectMany(u => u.Block is ContainerBlock container ? container.Descendants<HeadingBlock>() : u.Block is HeadingBlock heading ? [heading] : []);

    /// <summary>The labels that are given, with what they are given to; those of headings without a label of their own are their words.</summary>
    public IEnumerable<(LabelTemplate Label, string Kind)> GivenLabels =>
    [
        .. Executables.OfType<Step>().Where(s => s.Label is not null).Select(s => (s.Label!, s.Role.ToString().ToLowerInvariant())),
        .. Captions.Values.Where(c => c.Label is not null).Select(c => (c.Label!, c.Kind.ToString().ToLowerInvariant())),
        .. HeadingLabels.Values.Select(l => (l, "heading")),
        .. FormulaLabels.Values.Select(l => (l, "equation")),
        .. Around.Values.Where(a => a.Label is not null).Select(a => (a.Label!, "caption")),
    ];

    /// <summary>All labels whose words are known before a run.</summary>
    public IEnumerable<(string Text, SourcePlace Place, string Kind)> Labels =>
    [
        .. GivenLabels.Where(l => l.Label.Values.IsEmpty).Select(l => (l.Label.Text, l.Label.Place, l.Kind)),
        .. Headings.Where(h => !HeadingLabels.ContainsKey(h) && !ManuscriptCheck.HasHoles(h)).Select(h => (Documents.Label.FromWords(ManuscriptCheck.Words(h)), Sources.PlaceOf(h.Span.Start), "heading")),
    ];

    /// <summary>The pictures that the text names, unless by values.</summary>
    public IEnumerable<string> PictureFiles => Units.SelectMany(u => u.Block is LeafBlock leaf ? leaf.Inline?.Descendants<LinkInline>() ?? [] : u.Block.Descendants<LinkInline>()).Where(l => l.IsImage && l.Url is { Length: > 0 } && !Targets.ContainsKey(l))
        .Select(l => Path.Combine(Sources.FileOf(l.Span.Start).Folder, Uri.UnescapeDataString(l.Url!)));

    /// <summary>The place of a line and column (both from 0) of an executable's code.</summary>
    public SourcePlace PlaceOf(int ordinal, int line, int column) => Executables[ordinal] switch
    {
        Step step => Sources.PlaceOf(step.Code.ToSource(line, column)),
        ValueHole hole when line == 0 => Sources.PlaceOf(hole.Offset + column),
        ValueHole hole => Sources.PlaceOf(hole.Offset),
        ControlHead head => Sources.PlaceOf(head.Offset + (line == 0 ? column : 0)),
        _ => throw new InvalidOperationException($"No place for executable {ordinal}."),
    };

    /// <summary>Where an executable starts.</summary>
    public SourcePlace PlaceOf(int ordinal) => Sources.PlaceOf(Executables[ordinal] switch
    {
        Step step => step.Offset,
        ValueHole hole => hole.Offset,
        ControlHead head => head.Offset,
        Control control => control.Branches[0].Head.Offset,
        _ => 0,
    });
}

/// <summary>Words in a character style of the house, or in a colour.</summary>
internal sealed record DressedWords(string? Style, string? Colour, ProseFragment Words, SourcePlace Place);

/// <summary>An abbreviation and what it stands for.</summary>
internal sealed record AbbreviatedWords(string Short, ProseFragment Words, SourcePlace Place);
