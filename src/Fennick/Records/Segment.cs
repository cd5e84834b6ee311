using Fennick.Documents;

namespace Fennick.Records;

/// <summary>A stretch of what was written into a paragraph.</summary>
/// <param name="Text">Its text as it stands in the document; <see cref="Object"/> for what is no text.</param>
internal abstract record Segment(string Text)
{
    /// <summary>What stands in texts for a thing that is none.</summary>
    public const string Object = "\uFFFC";

    /// <summary>The same as a letter.</summary>
    public const char ObjectLetter = '\uFFFC';
}

/// <summary>Words of the manuscript.</summary>
internal sealed record WordsSegment(string Text) : Segment(Text);

/// <summary>What a value has become.</summary>
/// <param name="Text">Its text.</param>
/// <param name="Mark">The number of the mark around it; 0 if it has none.</param>
/// <param name="Origin">Where it comes from.</param>
internal sealed record ValueSegment(string Text, int Mark, Origin Origin) : Segment(Text)
{
    /// <summary>What was proposed in its place when people had changed it; null if nothing was.</summary>
    public string? Proposed { get; init; }
}

/// <summary>What a field shows.</summary>
/// <param name="Text">Its result.</param>
/// <param name="Kind">The first word of its instruction.</param>
internal sealed record FieldSegment(string Text, string Kind) : Segment(Text);

/// <summary>What is no text.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Key">By what it is known whether it is another.</param>
internal sealed record ObjectSegment(ObjectKind Kind, string Key) : Segment(Object)
{
    /// <summary>The letters of a formula, by which it is known whether somebody has changed it.</summary>
    public string Letters { get; init; } = "";
}

/// <summary>What stands in a paragraph and is no text.</summary>
internal enum ObjectKind
{
    Chart,
    Picture,
    Drawing,
    Formula,
    Note,
}
