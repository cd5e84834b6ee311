using System.Collections.Immutable;
using Fennick.Styles;

namespace Fennick.Drawing;

/// <summary>How a series is drawn.</summary>
internal enum DrawnMark
{
    /// <summary>Areas below a line, on top of those before them.</summary>
    Area,

    /// <summary>Columns or bars.</summary>
    Bar,

    /// <summary>A line or marks over the places of names or dates.</summary>
    Line,

    /// <summary>A line or marks at pairs of numbers.</summary>
    Point,

    /// <summary>Slices of a whole.</summary>
    Slice,
}

/// <summary>The shape at a value.</summary>
internal enum MarkShape
{
    None,
    Circle,
    Square,
    Diamond,
    Triangle,
    Dash,
}

/// <summary>Where the words of a value stand.</summary>
internal enum LabelPlace
{
    Right,
    Left,
    Above,
    Below,
    Centre,
    OutsideEnd,
    InsideEnd,
}

/// <summary>A colour of a chart: one of the theme's, made lighter or darker, or one of its own.</summary>
/// <param name="Rgb">As it is seen.</param>
/// <param name="Theme">The colour of the theme that it derives from; null if it is one of its own.</param>
/// <param name="Modulation">Its lightness as a share of the theme's, in thousandths of a hundredth.</param>
/// <param name="Offset">What is added to its lightness, in the same unit.</param>
/// <param name="Opacity">How opaque it is, from 0 to 1.</param>
internal readonly record struct DrawnColour(Colour Rgb, ThemeColour? Theme = null, int Modulation = 100_000, int Offset = 0, double Opacity = 1);

/// <summary>Words at a value of a series.</summary>
/// <param name="Index">Which value.</param>
/// <param name="Words">The words; null for the value by its number code.</param>
/// <param name="Place">On which side of the value they stand.</param>
internal sealed record DrawnLabel(int Index, string? Words, LabelPlace Place)
{
    public DrawnColour? Colour { get; init; }

    public bool Bold { get; init; }

    /// <summary>How far they are moved to the right, as a share of the plot.</summary>
    public double Aside { get; init; }

    /// <summary>How far they are moved down from there, in points.</summary>
    public double Down { get; init; }
}

/// <summary>Lines from the values of a series to their limits.</summary>
/// <param name="Minus">How far down or left, for each value.</param>
/// <param name="Plus">How far up or right.</param>
/// <param name="Points">Their thickness.</param>
/// <param name="Colour">Their colour.</param>
internal sealed record DrawnLimits(ImmutableArray<double?> Minus, ImmutableArray<double?> Plus, double Points, DrawnColour Colour)
{
    /// <summary>The columns of the workbook that hold them.</summary>
    public (int Minus, int Plus) Columns { get; init; }
}

/// <summary>A series of a drawn chart.</summary>
internal sealed record DrawnSeries(DrawnMark Mark, string Name, ImmutableArray<double?> Values, int Column)
{
    /// <summary>The places of points; null where a line is broken. Other marks stand by their number.</summary>
    public ImmutableArray<double?> Places { get; init; } = [];

    /// <summary>The column of the workbook with the places.</summary>
    public int PlaceColumn { get; init; }

    /// <summary>The colour of its fill or its marks; null for none.</summary>
    public DrawnColour? Fill { get; init; }

    /// <summary>The colour of its line; null for none.</summary>
    public DrawnColour? Line { get; init; }

    public double LinePoints { get; init; } = 2;

    /// <summary>Whether its line ends where its values do, rather than round.</summary>
    public bool HasFlatEnds { get; init; }

    /// <summary>The lengths of dashes: 0 for a full line, then the kinds of dashes.</summary>
    public int Dash { get; init; }

    public MarkShape Shape { get; init; }

    public int ShapePoints { get; init; } = 6;

    /// <summary>The sizes of its points, as shares of the largest area; none for one size.</summary>
    public ImmutableArray<double> Sizes { get; init; } = [];

    /// <summary>The column of the workbook with the sizes.</summary>
    public int SizeColumn { get; init; }

    /// <summary>The colours of single values that have another one.</summary>
    public ImmutableDictionary<int, DrawnColour> Own { get; init; } = ImmutableDictionary<int, DrawnColour>.Empty;

    public ImmutableArray<DrawnLabel> Labels { get; init; } = [];

    /// <summary>Where the value of each mark is written; null for nowhere.</summary>
    public LabelPlace? ValuesAt { get; init; }

    /// <summary>The colour of the values written at the marks; that of the text if null.</summary>
    public DrawnColour? ValueColour { get; init; }

    /// <summary>The number code of its values.</summary>
    public string Code { get; init; } = "General";

    /// <summary>The format of its values where they are written as words.</summary>
    public string? Format { get; init; }

    public DrawnLimits? Limits { get; init; }

    public bool IsOnSecond { get; init; }

    /// <summary>Whether it stands on the series before it.</summary>
    public bool IsStacked { get; init; }

    /// <summary>Whether it is a share of the whole stack.</summary>
    public bool IsShare { get; init; }

    /// <summary>Whether its line goes on for half a place on both sides, to the edges of the plot.</summary>
    public bool ReachesEdges { get; init; }

    /// <summary>Whether its line encloses what is filled; in pictures only.</summary>
    public bool IsOutline { get; init; }

    /// <summary>The series from which a picture fills the room up to this one; the word processor cannot; null for none.</summary>
    public int? FilledFrom { get; init; }

    /// <summary>Whether it draws a reference line or names, rather than data.</summary>
    public bool IsHelper { get; init; }

    /// <summary>Whether the legend names it.</summary>
    public bool IsInLegend { get; init; }
}
