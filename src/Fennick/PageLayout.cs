using System.Collections.Immutable;
using Fennick.Documents;

namespace Fennick;

/// <summary>What the pages of a report, or of a part of it, look like where that differs from the house.</summary>
/// <remarks>
/// Headers and footers are lines of words; <c> | </c> parts them: two parts stand left and right, three left, in the middle and right. <see cref="RichText.Empty"/> is a header without words.
/// </remarks>
public sealed record PageLayout
{
    /// <summary>The width of the paper, upright.</summary>
    public Length? Width { get; init; }

    /// <summary>The height of the paper, upright.</summary>
    public Length? Height { get; init; }

    /// <summary>Whether the paper lies across.</summary>
    public bool? IsLandscape { get; init; }

    /// <summary>The margin above the text.</summary>
    public Measure? Top { get; init; }

    /// <summary>The margin below the text.</summary>
    public Measure? Bottom { get; init; }

    /// <summary>The margin left of the text.</summary>
    public Measure? Left { get; init; }

    /// <summary>The margin right of the text.</summary>
    public Measure? Right { get; init; }

    /// <summary>The share of the text's width that each column has; they add up to 1. None for a single column.</summary>
    public ImmutableArray<double> Columns { get; init; } = [];

    /// <summary>How pages are numbered.</summary>
    public PageNumbers? Numbers { get; init; }

    /// <summary>Every how many lines one is numbered; 0 for none.</summary>
    public int? LineNumbers { get; init; }

    /// <summary>What stands above the text of every page.</summary>
    public RichText? Header { get; init; }

    /// <summary>What stands below it.</summary>
    public RichText? Footer { get; init; }

    /// <summary>What stands above the text of the first page.</summary>
    public RichText? FirstHeader { get; init; }

    /// <summary>What stands below it.</summary>
    public RichText? FirstFooter { get; init; }

    /// <summary>What stands above the text of even pages.</summary>
    public RichText? EvenHeader { get; init; }

    /// <summary>What stands below it.</summary>
    public RichText? EvenFooter { get; init; }

    /// <summary>The paper of a name: <c>A3</c>, <c>A4</c>, <c>A5</c>, <c>letter</c>, <c>legal</c>.</summary>
    /// <returns>Null if there is none of this name.</returns>
    public static (Length Width, Length Height)? Paper(string name) => name.ToUpperInvariant() switch
    {
        "A3" => (Length.Millimetres(297), Length.Millimetres(420)),
        "A4" => (Length.Millimetres(210), Length.Millimetres(297)),
        "A5" => (Length.Millimetres(148), Length.Millimetres(210)),
        "LETTER" => (Length.Inches(8.5), Length.Inches(11)),
        "LEGAL" => (Length.Inches(8.5), Length.Inches(14)),
        _ => null,
    };
}
