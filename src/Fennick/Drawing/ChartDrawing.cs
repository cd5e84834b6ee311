using System.Collections.Immutable;
using Fennick.Formatting;

namespace Fennick.Drawing;

/// <summary>
/// A chart as it is drawn: every place, colour and word of it, in points from the left and the top. The word processor's own chart and the picture are both written from this, so that they cannot
/// disagree.
/// </summary>
internal sealed record ChartDrawing
{
    public required double Width { get; init; }

    public required double Height { get; init; }

    /// <summary>Where the data stand, within the labels of the axes.</summary>
    public required Area Plot { get; init; }

    /// <summary>The axis from left to right; null for slices.</summary>
    public DrawnAxis? Across { get; init; }

    /// <summary>The axis upward; null for slices.</summary>
    public DrawnAxis? Up { get; init; }

    /// <summary>The axis at the other side, along the values.</summary>
    public DrawnAxis? Second { get; init; }

    /// <summary>Whether the names stand down the side, the first at the top.</summary>
    public bool IsOnSide { get; init; }

    public required ImmutableArray<DrawnSeries> Series { get; init; }

    /// <summary>The line above all.</summary>
    public DrawnText? Subtitle { get; init; }

    /// <summary>The names of series and their keys, from left to right and top to bottom; none if they have none.</summary>
    public ImmutableArray<DrawnText> Legend { get; init; } = [];

    /// <summary>What the workbook holds.</summary>
    public required ImmutableArray<DataColumn> Data { get; init; }

    /// <summary>The size of its words in points.</summary>
    public required double TextSize { get; init; }

    /// <summary>The family of its words.</summary>
    public required string Family { get; init; }

    /// <summary>How wide columns are: the share of a place that is left free, in hundredths of a column.</summary>
    public int Gap { get; init; } = 50;

    /// <summary>How much columns of one place overlap, in hundredths of a column.</summary>
    public int Overlap { get; init; }

    /// <summary>The share of the radius that is left free in the middle of slices.</summary>
    public double Hole { get; init; }

    /// <summary>The language of its words and numbers.</summary>
    public required Language Language { get; init; }

    /// <summary>What it shows, for readers who cannot see it.</summary>
    public required string Description { get; init; }

    /// <summary>The colour of its words.</summary>
    public required DrawnColour Ink { get; init; }

    /// <summary>The grey of axes and of what does not stand out.</summary>
    public required DrawnColour Muted { get; init; }

    /// <summary>The grey of lines that help the eye.</summary>
    public required DrawnColour Faint { get; init; }

    /// <summary>The text of a value of a series.</summary>
    public string Text(DrawnSeries series, double value) => ValueFormatter.Format(value, series.Format, Language);
}

/// <summary>A rectangle, in points from the left and the top.</summary>
internal readonly record struct Area(double Left, double Top, double Width, double Height)
{
    public double Right => Left + Width;

    public double Bottom => Top + Height;
}

/// <summary>Words at a place.</summary>
/// <param name="Words">The words.</param>
/// <param name="Left">Their left edge.</param>
/// <param name="Top">The upper edge of their line.</param>
/// <param name="Width">Their width.</param>
internal sealed record DrawnText(string Words, double Left, double Top, double Width);
