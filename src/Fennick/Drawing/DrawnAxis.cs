using System.Collections.Immutable;

namespace Fennick.Drawing;

/// <summary>What stands along an axis.</summary>
internal enum AxisKind
{
    /// <summary>Names, each with a place of its own.</summary>
    Names,

    /// <summary>Numbers.</summary>
    Numbers,

    /// <summary>Dates, as days since 30 December 1899.</summary>
    Dates,
}

/// <summary>The unit in which dates are counted.</summary>
internal enum DateUnit
{
    Days,
    Months,
    Years,
}

/// <summary>An axis of a drawn chart.</summary>
internal sealed record DrawnAxis(AxisKind Kind, double Minimum, double Maximum, double Step)
{
    /// <summary>Where it has words, and which.</summary>
    public ImmutableArray<(double At, string Words)> Ticks { get; init; } = [];

    /// <summary>Whether words stand along it.</summary>
    public bool HasLabels { get; init; } = true;

    /// <summary>Whether light lines run from its ticks across the data.</summary>
    public bool HasLines { get; init; }

    /// <summary>Whether a line runs along it.</summary>
    public bool HasLine { get; init; }

    /// <summary>The base of its logarithm; null if it is linear.</summary>
    public int? LogBase { get; init; }

    /// <summary>Where the other axis crosses it.</summary>
    public double Crossing { get; init; }

    /// <summary>The number code of its words.</summary>
    public string Code { get; init; } = "General";

    /// <summary>The unit of its dates.</summary>
    public DateUnit BaseUnit { get; init; }

    /// <summary>The unit and number between its ticks, where it is of dates.</summary>
    public (int Count, DateUnit Unit) Each { get; init; } = (1, DateUnit.Days);

    /// <summary>Whether the first and the last place are at the edges of the plot, rather than half a place within.</summary>
    public bool IsMidway { get; init; }

    /// <summary>Every how many names a word stands.</summary>
    public int LabelEach { get; init; } = 1;

    /// <summary>What it shows; null for no words.</summary>
    public DrawnText? Title { get; init; }

    /// <summary>The share of the way along the axis at which a value stands.</summary>
    public double Share(double value) => LogBase is null ? (value - Minimum) / (Maximum - Minimum) : Math.Log(value / Minimum) / Math.Log(Maximum / Minimum);
}
