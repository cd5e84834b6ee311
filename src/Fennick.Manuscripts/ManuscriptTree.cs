using System.Collections.Immutable;
using Fennick.Diagnostics;
using Fennick.Manuscripts.Settings;
using Fennick.Manuscripts.Source;
using Fennick.Manuscripts.Steps;
using Fennick.Prose;
using Markdig.Syntax;

namespace Fennick.Manuscripts;

/// <summary>A parsed manuscript.</summary>
internal sealed class ManuscriptTree
{
    public required ManuscriptSource Source { get; init; }

    public required ManuscriptSettings Settings { get; init; }

    public ProseFragment? Title { get; init; }

    public ProseFragment? Subtitle { get; init; }

    /// <summary>The blocks in order, with the loops and conditions around them.</summary>
    public required ManuscriptBody Body { get; init; }

    /// <summary>All bodies by number: the whole, those of loops, those of branches.</summary>
    public required ImmutableArray<ManuscriptBody> Bodies { get; init; }

    /// <summary>All that is carried out, by ordinal.</summary>
    public required ImmutableArray<Executable> Executables { get; init; }

    /// <summary>The expressions in braces.</summary>
    public required IReadOnlyDictionary<HoleInline, ValueHole> Values { get; init; }

    /// <summary>The cross-references in braces.</summary>
    public required IReadOnlyDictionary<HoleInline, Reference> References { get; init; }

    /// <summary>The labels that headings name themselves by.</summary>
    public required IReadOnlyDictionary<HeadingBlock, LabelTemplate> HeadingLabels { get; init; }

    /// <summary>The fences that are steps.</summary>
    public required IReadOnlyDictionary<FencedCodeBlock, Step> Steps { get; init; }

    /// <summary>The settings' prose, which is evaluated after the last step.</summary>
    public IEnumerable<ProseFragment> LateProse => new[] { Title, Subtitle }.OfType<ProseFragment>();

    /// <summary>The place of a line and column (both from 0) of an executable's code.</summary>
    public SourcePlace PlaceOf(int ordinal, int line, int column) => Executables[ordinal] switch
    {
        Step step => Source.PlaceOf(step.Code.ToSource(line, column)),
        ValueHole hole when line == 0 => Source.PlaceOf(hole.Offset + column),
        ValueHole hole => Source.PlaceOf(hole.Offset),
        ControlHead head => Source.PlaceOf(head.Offset + (line == 0 ? column : 0)),
        _ => throw new InvalidOperationException($"No place for executable {ordinal}."),
    };

    /// <summary>Where an executable starts.</summary>
    public SourcePlace PlaceOf(int ordinal) => Source.PlaceOf(Executables[ordinal] switch
    {
        Step step => step.Offset,
        ValueHole hole => hole.Offset,
        ControlHead head => head.Offset,
        _ => 0,
    });
}
