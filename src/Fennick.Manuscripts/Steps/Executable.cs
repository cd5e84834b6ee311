using System.Collections.Immutable;
using Fennick.Charts;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Formatting;
using Fennick.Manuscripts.Source;
using Fennick.Tables;
using Markdig.Syntax;

namespace Fennick.Manuscripts.Steps;

/// <summary>What the program of a manuscript carries out: a step, an expression in braces, a loop or a condition.</summary>
/// <param name="Ordinal">Its number in the manuscript; the compiled program refers to it.</param>
internal abstract record Executable(int Ordinal);

/// <summary>An expression in braces.</summary>
/// <param name="Ordinal">Its number.</param>
/// <param name="Expression">The C# expression, without space around it.</param>
/// <param name="Format">What stands after the colon, if there is one.</param>
/// <param name="Offset">Where the expression starts in the manuscript.</param>
internal sealed record ValueHole(int Ordinal, string Expression, string? Format, int Offset) : Executable(Ordinal);

/// <summary>A step.</summary>
/// <param name="Ordinal">Its number.</param>
/// <param name="Role">What becomes of its result.</param>
/// <param name="Label">The name under which the text refers to its result; it may hold values.</param>
/// <param name="Head">The settings before <c>=></c>.</param>
/// <param name="Code">Its C# code.</param>
/// <param name="Offset">Where its fence starts in the manuscript.</param>
internal sealed record Step(int Ordinal, StepRole Role, LabelTemplate? Label, StepHead Head, SourceFragment Code, int Offset) : Executable(Ordinal)
{
    /// <summary>The program that it runs in place of C# code; its code is what that reads from its standard input.</summary>
    public Script? Script { get; init; }
}

/// <summary>A program that a step runs. Its words may hold values.</summary>
/// <param name="Command">The program and its arguments.</param>
/// <param name="Reads">The files that it reads beside those that the command names, with commas; null if the step does not say.</param>
/// <param name="Writes">The files that it writes, with commas; its result is the first, or its standard output if null.</param>
/// <param name="Limit">How long it may take.</param>
internal sealed record Script(LabelTemplate Command, LabelTemplate? Reads, LabelTemplate? Writes, TimeSpan Limit)
{
    /// <summary>How long a program may take where its step does not say.</summary>
    public static readonly TimeSpan UsualLimit = TimeSpan.FromMinutes(10);

    /// <summary>The values in its words, in order.</summary>
    public IEnumerable<ValueHole> Values => [.. Command.Values, .. Reads?.Values ?? [], .. Writes?.Values ?? []];
}

/// <summary>The head of a step.</summary>
internal sealed record StepHead
{
    public ProseFragment? Caption { get; init; }

    public ProseFragment? Note { get; init; }

    public ProseFragment? Source { get; init; }

    public ProseFragment? AlternativeText { get; init; }

    public Measure? Width { get; init; }

    public Measure? Height { get; init; }

    /// <summary>Where a figure stands, if not as the report says.</summary>
    public Alignment? Alignment { get; init; }

    /// <summary>Whether a chart is the word processor's own, if not as the report says.</summary>
    public bool? IsNative { get; init; }

    /// <summary>The resolution of the picture of a chart, if not the report's.</summary>
    public int? DotsPerInch { get; init; }

    /// <summary>The colours of a chart, if not the report's.</summary>
    public ImmutableArray<string> Palette { get; init; } = [];

    /// <summary>Where the names of a chart's series stand, if not as the report says.</summary>
    public SeriesLabels? Labels { get; init; }

    /// <summary>The series of the report's own that it is counted in.</summary>
    public string? Series { get; init; }

    /// <summary>Whether the panels of a figure have letters.</summary>
    public bool? HasLetters { get; init; }

    /// <summary>The rules of a table, if not the report's.</summary>
    public Ruling? Ruling { get; init; }

    /// <summary>Whether a table is as wide as the text, if not as the report says.</summary>
    public bool? FillsWidth { get; init; }

    /// <summary>Whether the page may turn for a table, if not as the report says.</summary>
    public bool? Turning { get; init; }

    /// <summary>Whether the code stands above the result, if not as the report says.</summary>
    public bool? Listing { get; init; }

    /// <summary>The prose of the head, in order.</summary>
    public IEnumerable<ProseFragment> Prose => new[] { Caption, Note, Source, AlternativeText }.OfType<ProseFragment>();
}

/// <summary>Prose outside the body: one paragraph that may hold braces.</summary>
/// <param name="Document">Its parsed Markdown.</param>
/// <param name="Executables">What is in its braces, in order.</param>
internal sealed record ProseFragment(MarkdownDocument Document, ImmutableArray<Executable> Executables);

/// <summary>What a directive says of the blocks that it stands around: a label and a caption.</summary>
internal record AroundCaption(LabelTemplate? Label, ProseFragment? Caption)
{
    /// <summary>What is in its braces, in order.</summary>
    public IEnumerable<Executable> Executables => [.. Label?.Values ?? [], .. Caption?.Executables ?? []];
}

/// <summary>What a directive above a pipe table or a picture says of it.</summary>
internal sealed record Captioned(NumberedKind Kind, LabelTemplate? Label, ProseFragment? Caption, SourcePlace Place) : AroundCaption(Label, Caption)
{
    public Measure? Width { get; init; }

    public Measure? Height { get; init; }
}

/// <summary>A label that may hold values.</summary>
/// <param name="Parts">Its words and values in order.</param>
/// <param name="Place">Where it stands.</param>
internal sealed record LabelTemplate(ImmutableArray<(string Text, ValueHole? Value)> Parts, SourcePlace Place)
{
    /// <summary>Its text as written.</summary>
    public string Text => string.Concat(Parts.Select(p => p.Value is { } value ? $"{{{value.Expression}}}" : p.Text));

    public ImmutableArray<ValueHole> Values => [.. Parts.Select(p => p.Value).OfType<ValueHole>()];
}

/// <summary>A place that the index leads to: a term, or a detail under one. Both may hold values.</summary>
internal sealed record IndexedTerm(LabelTemplate Term, LabelTemplate? Detail);

/// <summary>A reference to one thing or to several.</summary>
/// <param name="Labels">Their labels.</param>
/// <param name="Form">How they are shown.</param>
internal sealed record Reference(ImmutableArray<LabelTemplate> Labels, SeeForm Form);

/// <summary>How a reference shows what it refers to.</summary>
/// <param name="Part">What of it is shown.</param>
internal sealed record SeeForm(SeePart Part)
{
    /// <summary>The letter of a panel.</summary>
    public char? Panel { get; init; }

    /// <summary>The case of the word before the number.</summary>
    public WordCase Case { get; init; }

    /// <summary>The word before the number, instead of the language's own.</summary>
    public string? Word { get; init; }
}

/// <summary>What a directive does with the blocks after it.</summary>
internal enum ControlKind
{
    ForEach,
    If,
    ElseIf,
    Else,

    /// <summary>Turns the page; not a part of the program.</summary>
    Landscape,

    /// <summary>Puts blocks side by side.</summary>
    Columns,

    /// <summary>Puts blocks on pages of another look.</summary>
    Pages,

    /// <summary>Sets blocks off from the text.</summary>
    Box,

    /// <summary>Gives blocks a caption of a series of the report's own.</summary>
    Series,

    /// <summary>Gives equations one number with letters.</summary>
    Equations,
}

/// <summary>The head of a loop or of a branch.</summary>
/// <param name="Ordinal">Its number.</param>
/// <param name="Kind">What it does.</param>
/// <param name="Variable">What a loop calls each item, or the names of its parts in parentheses; empty for a branch.</param>
/// <param name="Expression">What a loop runs over, or the condition of a branch; empty for the last branch.</param>
/// <param name="Text">All that stands between the braces.</param>
/// <param name="Offset">Where that starts in the manuscript.</param>
internal sealed record ControlHead(int Ordinal, ControlKind Kind, string Variable, string Expression, string Text, int Offset) : Executable(Ordinal);

/// <summary>A loop, or a condition with its branches.</summary>
/// <param name="Ordinal">Its number.</param>
/// <param name="Branches">The head of each branch, and what is carried out in it.</param>
internal sealed record Control(int Ordinal, ImmutableArray<(ControlHead Head, ImmutableArray<Executable> Body)> Branches) : Executable(Ordinal);

/// <summary>A block of the manuscript with what is to be carried out before it can be placed, in order.</summary>
internal sealed record ManuscriptUnit(Markdig.Syntax.Block Block, ImmutableArray<Executable> Executables);
